//! `tin-crown watch`.

use std::io::Write;
use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::time::Duration;

use anstyle::Style;
use tin_crown::verify::Trial;
use tin_crown::{Plan, Replay, Ticks, limits, study};

use crate::args::Watch as Arguments;
use crate::failure::{Done, Failure};
use crate::source::{Source, Stamp, stamp};
use crate::trial::{self, Beside, Golden};
use crate::{output, progress, report, source, terminal};

const BOLD: Style = Style::new().bold();
/// How long between two looks at the file.
const PAUSE: Duration = Duration::from_millis(150);
/// So many changes of a drill are told.
const TOLD: usize = 20;

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    if source::is_dash(&args.file) {
        return Err(Failure::new("standard input cannot be watched").help("give a file"));
    }
    if let Some(path) = &args.report {
        let beside = trial::expectations_beside(&args.file);
        let golden = Golden::path(&args.file);
        let inputs = [Some(&args.file), beside.as_ref(), Some(&golden)];
        let inputs: Vec<&Path> = inputs.into_iter().flatten().map(|path| &**path).collect();
        output::spares(path, &inputs)?;
    }
    let mut watch = Watch {
        args,
        last: Vec::new(),
        beside: Vec::new(),
        begun: false,
    };
    let (mut seen, mut told) = (Seen::look(&args.file, &[]), None);
    // A file that is not there, or no encounter, is one to be waited for; but not at first.
    let _ = source::read(&args.file)?;
    loop {
        let now = Seen::look(&args.file, &watch.beside);
        // Half a save is none: it has to be the same twice.
        if now == seen && told.as_ref() != Some(&now) && now.encounter.is_some() {
            if !watch.saved()? {
                return Ok(Done::Well);
            }
            // Which files it names may have changed as well.
            told = Some(Seen {
                beside: Seen::look(&args.file, &watch.beside).beside,
                ..now.clone()
            });
        }
        seen = now;
        std::thread::sleep(PAUSE);
    }
}

/// All that a replay reads, as it stands.
#[derive(Clone, PartialEq)]
struct Seen {
    encounter: Option<Vec<u8>>,
    expectations: Option<Stamp>,
    golden: Option<Stamp>,
    /// The files that it names, as far as they are known.
    beside: Vec<Option<Stamp>>,
}

impl Seen {
    fn look(file: &Path, beside: &[PathBuf]) -> Seen {
        Seen {
            encounter: encounter(file),
            expectations: stamp(&file.with_extension("expect.toml")),
            golden: stamp(&Golden::path(file)),
            beside: beside.iter().map(|file| stamp(file)).collect(),
        }
    }
}

/// The bytes of a file, as far as an encounter may go. What is none, such as a pipe, is not waited for.
fn encounter(file: &Path) -> Option<Vec<u8>> {
    stamp(file)?;
    let (_, bytes) = source::bytes(file, limits::FILE_BYTES).ok()?;
    Some(bytes)
}

struct Watch<'a> {
    args: &'a Arguments,
    /// The ledgers at the last save without errors.
    last: Vec<Replay>,
    /// The files that it names.
    beside: Vec<PathBuf>,
    begun: bool,
}

impl Watch<'_> {
    /// Tells what a save changed, and whether anybody reads it. What is wrong with the file ends nothing.
    fn saved(&mut self) -> Result<bool, Failure> {
        let mut out = terminal::out();
        match self.replayed() {
            Ok((source, plan, replays)) => {
                let told = self.told(&mut out, &source, &plan, replays);
                if let Err(failure) = told {
                    failure.print();
                }
            }
            Err(failure) => failure.print(),
        }
        out.flush()?;
        Ok(!out.is_closed())
    }

    fn replayed(&mut self) -> Result<(Source, Arc<Plan>, Vec<Replay>), Failure> {
        let source = source::read(&self.args.file)?;
        self.beside = source.beside();
        let plan = source.plan()?;
        let drills: Vec<_> = plan.all_drills().collect();
        let recorded = source.record(&plan, &drills);
        self.beside = source.beside();
        let plan = recorded?;
        let replays = plan
            .all_drills()
            .map(|drill| progress::replay(&plan, drill))
            .collect::<Result<Vec<_>, _>>()
            .map_err(|error| Failure::replaying(&source.name, &error))?;
        Ok((source, plan, replays))
    }

    fn told(
        &mut self,
        out: &mut impl Write,
        source: &Source,
        plan: &Arc<Plan>,
        replays: Vec<Replay>,
    ) -> Result<(), Failure> {
        let beside = Beside::read(source, plan, None)?;
        let measure = beside.measure(source);
        if self.begun {
            writeln!(out, "\n{BOLD}saved{BOLD:#}")?;
            self.changes(out, &replays)?;
        } else {
            writeln!(
                out,
                "{BOLD}{}{BOLD:#}: save it to see what changes; Ctrl-C ends",
                source.name
            )?;
        }
        let trials: Vec<Trial> = replays.iter().map(|replay| measure.trial(replay)).collect();
        for trial in &trials {
            report::text(out, trial)?;
        }
        report::counts(out, &trials)?;
        self.begun = true;
        self.last = replays;
        if let Some(path) = &self.args.report {
            let drills: Vec<_> = plan.all_drills().collect();
            let page = super::report::page(source, plan, &drills, &measure, None)?;
            output::write(path, page.html.as_bytes())?;
            writeln!(out, "wrote {}", terminal::shown(path))?;
        }
        Ok(())
    }

    /// What differs from the last save, drill by drill.
    fn changes(&self, out: &mut impl Write, replays: &[Replay]) -> Result<(), Failure> {
        let mut all_same = true;
        for now in replays {
            let name = name(now);
            let Some(last) = self.last.iter().find(|last| self::name(last) == name) else {
                writeln!(out, "drill {name}: new")?;
                all_same = false;
                continue;
            };
            let comparison = study::compare(last, now, Ticks(0));
            if comparison.is_empty() {
                continue;
            }
            all_same = false;
            writeln!(out, "drill {name}:")?;
            for line in comparison.brief(TOLD) {
                writeln!(out, "  {line}")?;
            }
        }
        for last in &self.last {
            if !replays.iter().any(|now| name(now) == name(last)) {
                writeln!(out, "drill {}: gone", name(last))?;
                all_same = false;
            }
        }
        if all_same {
            writeln!(out, "no changes")?;
        }
        Ok(())
    }
}

fn name(replay: &Replay) -> &str {
    replay.plan().drills()[replay.drill().index()].name()
}
