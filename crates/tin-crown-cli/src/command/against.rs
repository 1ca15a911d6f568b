//! `tin-crown compare --log`: a drill against the game's own hit log.

use std::collections::BTreeMap;
use std::io::Write;
use std::path::Path;
use std::sync::Arc;

use anstyle::Style;
use quick_xml::Writer;
use quick_xml::events::{BytesDecl, BytesText, Event};
use serde_json::{Value, json};
use tin_crown::plan::DrillIx;
use tin_crown::study::{self, Against, LogDifference, LogMark, Question, Unlike, Why};
use tin_crown::track::{Files, Folder, GameLog};
use tin_crown::{Plan, Replay, Tick, Ticks, limits};

use crate::args::{Compare, CompareFormat, Resync};
use crate::failure::{Done, Failure};
use crate::findings::{self, plural};
use crate::source::{self, Source};
use crate::terminal::shown;
use crate::{drills, progress, table, terminal};

const BOLD: Style = Style::new().bold();
const DIM: Style = Style::new().dimmed();
/// How many findings are explained.
const EXPLAINED: usize = 50;

/// A drill and the log that it is held against.
struct Held {
    plan: Arc<Plan>,
    drill: DrillIx,
    log: GameLog,
    against: Against,
}

pub fn run(args: &Compare, file: Option<&Path>) -> Result<Done, Failure> {
    let source = source::read(&args.old)?;
    let plan = source.plan()?;
    let drill = drills::one(&plan, args.drill.as_deref(), &source.name)?;
    let plan = source.record(&plan, &[drill])?;
    let log = read(&source, &plan, drill, file)?;
    let within = args.within.ticks(plan.rate());
    let fail = |error: tin_crown::ReplayError| Failure::replaying(&source.name, &error);
    let plan = match args.resync {
        Some(Resync::Health) => study::resync(&plan, drill, &log, within).map_err(fail)?,
        None => plan,
    };
    let replay = progress::replay(&plan, drill).map_err(fail)?;
    let mut against = study::against(&replay, &log, within);
    if against.both == 0 && against.differences.is_empty() {
        let (name, file) = (plan.drills()[drill.index()].name(), &log.file);
        let what = format!("nothing was compared: neither `{file}` nor drill `{name}` has a hit");
        return Err(Failure::new(what).help("compare a run in which somebody is hit"));
    }
    narrow(&mut against, args);
    let held = Held {
        plan,
        drill,
        log,
        against,
    };
    let mut out = terminal::out();
    match args.format {
        CompareFormat::Text => held.text(&mut out, args)?,
        CompareFormat::Json => {
            let lines: Vec<Value> = held.lines()?;
            writeln!(
                out,
                "{}",
                terminal::json(
                    &json!({ "differs": !lines.is_empty(), "both": held.against.both, "differences": lines })
                )
            )?;
        }
        CompareFormat::Jsonl => {
            for line in held.lines()? {
                writeln!(out, "{}", terminal::json_line(&line))?;
            }
        }
        CompareFormat::Junit => held.junit(&mut out)?,
    }
    out.flush()?;
    Ok(match held.against.differences.is_empty() {
        true => Done::Well,
        false => Done::Failed,
    })
}

/// The hit log of a drill: a file that is named, or the one that the encounter names.
pub fn read(
    source: &Source,
    plan: &Plan,
    drill: DrillIx,
    file: Option<&Path>,
) -> Result<GameLog, Failure> {
    let own = &plan.drills()[drill.index()];
    let mut read = match file {
        // It is found from here, and not from the encounter.
        Some(file) => {
            let (name, files) = named(file)?;
            plan.read_log(drill, Some(&name), &*files)
        }
        None if own.hit_log().is_some() => plan.read_log(drill, None, &*source.files),
        None => {
            let what = format!("drill `{}` names no hit log", own.name());
            return Err(
                Failure::new(what).help("name one with --log FILE, or by `log` in the drill")
            );
        }
    };
    read.findings.locate_in(source.text.as_bytes());
    findings::say_all(&source.name, &source.text, &read.findings);
    read.log.ok_or(Failure::Found)
}

/// A log that is named by an option, or standard input for `-`.
fn named(file: &Path) -> Result<(String, Box<dyn Files>), Failure> {
    if source::is_dash(file) {
        let (name, bytes) = source::bytes(file, limits::RECORD_BYTES)?;
        if bytes.len() as u64 > limits::RECORD_BYTES {
            return Err(
                Failure::new("a hit log on standard input has at most 256 MiB")
                    .help("give it as a file"),
            );
        }
        let files = BTreeMap::from([(name.clone(), bytes)]);
        return Ok((name, Box::new(files)));
    }
    let (name, files) = (file.to_string_lossy(), Folder::default());
    if let Err(error) = files.open(&name) {
        let what = format!("cannot read {}: {}", shown(file), source::plainly(&error));
        return Err(Failure::new(what).help("give the path of a hit log, or - for standard input"));
    }
    Ok((name.into_owned(), Box::new(files)))
}

/// The marks of a log on the timeline of a drill.
pub fn marks(
    source: &Source,
    replay: &Replay,
    file: Option<&Path>,
) -> Result<Vec<LogMark>, Failure> {
    let plan = replay.plan();
    let log = read(source, plan, replay.drill(), file)?;
    let against = study::against(replay, &log, Ticks(0));
    Ok(against.marks(plan, &log))
}

/// How a drill differs from a log, line by line.
pub fn lines(against: &Against, plan: &Plan, log: &GameLog) -> Vec<String> {
    let all = against.differences.iter();
    all.map(|one| line(plan, log, one)).collect()
}

/// Leaves out what the options do not ask for.
fn narrow(against: &mut Against, args: &Compare) {
    let is = |wanted: &Option<String>, actor: Option<&str>| {
        wanted.as_deref().is_none_or(|wanted| actor == Some(wanted))
    };
    let kept: Vec<bool> = against
        .differences
        .iter()
        .map(|one| is(&args.who, one.who.as_deref()) && is(&args.whom, Some(&one.whom)))
        .collect();
    let places: Vec<Option<usize>> = kept
        .iter()
        .scan(0, |next, kept| {
            let place = kept.then_some(*next);
            *next += usize::from(*kept);
            Some(place)
        })
        .collect();
    let mut nth = 0;
    against.differences.retain_mut(|one| {
        one.follows = one.follows.and_then(|first| places[first]);
        nth += 1;
        kept[nth - 1]
    });
}

impl Held {
    /// What `why` says of a difference.
    fn why(&self, one: &LogDifference) -> Result<Option<Why>, Failure> {
        let who = one.who.as_deref().unwrap_or("*");
        let (Ok(who), Ok(whom)) = (self.plan.choose(who), self.plan.choose(&one.whom)) else {
            return Ok(None);
        };
        let question = Question {
            who: &who,
            whom: &whom,
            rule: None,
            when: Some(Tick(one.tick)),
        };
        let why = study::why(&self.plan, self.drill, &question);
        why.map(Some)
            .map_err(|error| Failure::replaying(self.plan.title(), &error))
    }

    /// The same in lines, the most telling first.
    fn says(&self, one: &LogDifference) -> Result<Vec<String>, Failure> {
        let Some(why) = self.why(one)? else {
            return Ok(Vec::new());
        };
        let mut lines = Vec::new();
        for came in &why.came {
            lines.push(came.says.clone());
            let failed = came.checks.iter().filter(|check| !check.passed);
            lines.extend(failed.map(|check| format!("  ✗ {}: {}", check.check, check.says)));
        }
        lines.extend(
            why.apart
                .iter()
                .flat_map(|apart| apart.says.iter().cloned()),
        );
        Ok(lines)
    }

    fn title(&self) -> String {
        let drill = self.plan.drills()[self.drill.index()].name();
        format!("drill {drill} against {}", self.log.file)
    }

    fn counts(&self) -> String {
        let all = &self.against.differences;
        let count = |unlike| all.iter().filter(|one| one.unlike == unlike).count();
        format!(
            "{} alike, {} only in the game, {} only by the rules, {} moved, {} changed",
            plural(self.against.both, "hit"),
            count(Unlike::OnlyGame),
            count(Unlike::OnlyRules),
            count(Unlike::Moved),
            count(Unlike::Changed)
        )
    }

    fn text(&self, out: &mut impl Write, args: &Compare) -> Result<(), Failure> {
        writeln!(out, "{BOLD}{}{BOLD:#}: {}", self.title(), self.counts())?;
        let most = super::compare::most(args);
        for (nth, finding) in self.against.findings() {
            let line = self.line(finding);
            writeln!(out, "\n{BOLD}{line}{BOLD:#}")?;
            for said in self.says(finding)? {
                writeln!(out, "  {said}")?;
            }
            let follows = self.against.differences.iter();
            let follows: Vec<_> = follows.filter(|one| one.follows == Some(nth)).collect();
            if follows.is_empty() {
                continue;
            }
            let follow = match follows.len() {
                1 => "1 difference follows".to_owned(),
                many => format!("{many} differences follow"),
            };
            writeln!(
                out,
                "  {follow} from it{}",
                if most == 0 { "" } else { ":" }
            )?;
            for one in follows.iter().take(most) {
                writeln!(out, "    {DIM}{}{DIM:#}", self.line(one))?;
            }
            if let Some(more) = follows
                .len()
                .checked_sub(most)
                .filter(|more| *more > 0 && most > 0)
            {
                writeln!(out, "    {DIM}and {more} more (--all){DIM:#}")?;
            }
        }
        if let Some(sums) = self.sums() {
            writeln!(out, "\n{BOLD}By pair{BOLD:#}\n{sums}")?;
        }
        Ok(())
    }

    /// How many hits each pair has in the game and by the rules, where those are not as many.
    fn sums(&self) -> Option<String> {
        let mut pairs: BTreeMap<(&str, &str), [usize; 4]> = BTreeMap::new();
        for one in &self.against.differences {
            let who = one.who.as_deref().unwrap_or("?");
            let place = match one.unlike {
                Unlike::OnlyGame => 0,
                Unlike::OnlyRules => 1,
                Unlike::Moved => 2,
                Unlike::Changed => 3,
            };
            pairs.entry((who, &one.whom)).or_default()[place] += 1;
        }
        if pairs.is_empty() {
            return None;
        }
        let heads = ["who", "whom", "only game", "only rules", "moved", "changed"];
        let mut table = table::plain(&heads, &[2, 3, 4, 5]);
        for ((who, whom), counts) in pairs {
            let counts = counts.map(|count| count.to_string());
            table.add_row([vec![who.to_owned(), whom.to_owned()], counts.to_vec()].concat());
        }
        Some(table::lines(&table))
    }

    fn line(&self, one: &LogDifference) -> String {
        line(&self.plan, &self.log, one)
    }

    /// Each difference as JSON, with what `why` says of those that follow from none.
    fn lines(&self) -> Result<Vec<Value>, Failure> {
        let mut explained = 0;
        let all = self.against.differences.iter().map(|one| {
            let mut line = serde_json::to_value(one).map_err(std::io::Error::from)?;
            line["says"] = json!(self.line(one));
            if one.follows.is_none() && explained < EXPLAINED {
                explained += 1;
                line["why"] = serde_json::to_value(self.why(one)?).map_err(std::io::Error::from)?;
            }
            Ok(line)
        });
        all.collect()
    }

    /// JUnit XML: a case for each difference that follows from none, or one for all that is alike.
    fn junit(&self, out: &mut impl Write) -> Result<(), Failure> {
        let title = self.title();
        let findings: Vec<(usize, &LogDifference)> = self.against.findings().collect();
        let mut cases = Vec::new();
        for (nth, one) in &findings {
            let follow = self.against.differences.iter();
            let follow = follow.filter(|other| other.follows == Some(*nth)).count();
            let mut lines = vec![self.line(one)];
            lines.extend(self.says(one)?);
            if follow > 0 {
                lines.push(format!("{} follow from it", plural(follow, "difference")));
            }
            cases.push(lines);
        }
        let mut writer = Writer::new_with_indent(&mut *out, b' ', 2);
        writer.write_event(Event::Decl(BytesDecl::new("1.0", Some("UTF-8"), None)))?;
        let tests = (cases.len() + 1).to_string();
        let failures = cases.len().to_string();
        let of = [
            ("name", title.as_str()),
            ("tests", &tests),
            ("failures", &failures),
        ];
        writer
            .create_element("testsuites")
            .with_attributes(of)
            .write_inner_content(|writer| {
                writer
                    .create_element("testsuite")
                    .with_attributes(of)
                    .write_inner_content(|writer| {
                        let alike = plural(self.against.both, "hit");
                        writer
                            .create_element("testcase")
                            .with_attributes([
                                ("classname", title.as_str()),
                                ("name", &format!("{alike} alike")),
                            ])
                            .write_empty()?;
                        for lines in &cases {
                            let text = lines.join("\n");
                            writer
                                .create_element("testcase")
                                .with_attributes([
                                    ("classname", title.as_str()),
                                    ("name", lines[0].as_str()),
                                    ("file", self.log.file.as_str()),
                                ])
                                .write_inner_content(|writer| {
                                    writer
                                        .create_element("failure")
                                        .with_attribute(("message", lines[0].as_str()))
                                        .write_text_content(BytesText::new(&text))?;
                                    Ok(())
                                })?;
                        }
                        Ok(())
                    })?;
                Ok(())
            })?;
        writeln!(out)?;
        Ok(())
    }
}

/// A difference in a line.
fn line(plan: &Plan, log: &GameLog, one: &LogDifference) -> String {
    let who = one.who.as_deref().unwrap_or("somebody");
    let hit = format!("{who} hits {}", one.whom);
    let at = |tick: u32| {
        let seconds = Tick(tick).seconds(plan.rate());
        format!("{seconds:.3} s (tick {tick})")
    };
    let place = |line: u64| format!("{}:{line}", log.file);
    let fields: Vec<String> = one
        .fields
        .iter()
        .map(|field| {
            let side = |side: &Option<String>| side.clone().unwrap_or_default();
            let (game, rules) = (side(&field.old), side(&field.new));
            format!("{} {game} in the game, {rules} by the rules", field.key)
        })
        .collect();
    match (&one.game, &one.rules) {
        (Some(game), None) => {
            let amount = game
                .amount
                .map_or(String::new(), |amount| format!(" for {amount}"));
            let rule = game
                .rule
                .as_ref()
                .map_or(String::new(), |rule| format!(" by {rule}"));
            let (at, place) = (at(game.tick), place(game.line));
            format!("{at}, only in the game: {hit}{amount}{rule} ({place})")
        }
        (None, Some(rules)) => {
            let amount = rules
                .amount
                .map_or(String::new(), |amount| format!(" for {amount}"));
            let (at, rule, line) = (at(rules.tick), &rules.rule, rules.line);
            format!("{at}, only by the rules: {hit}{amount} by {rule} (line {line} of the ledger)")
        }
        (Some(game), Some(_)) => {
            let moved = one.moved.map(|by| {
                let sense = if by < 0 { "earlier" } else { "later" };
                let by = usize::try_from(by.unsigned_abs()).unwrap_or(usize::MAX);
                format!("{} {sense} by the rules", plural(by, "tick"))
            });
            let unlike: Vec<String> = moved.into_iter().chain(fields).collect();
            let (at, place) = (at(game.tick), place(game.line));
            format!("{at}, {hit}: {} ({place})", unlike.join("; "))
        }
        (None, None) => hit,
    }
}
