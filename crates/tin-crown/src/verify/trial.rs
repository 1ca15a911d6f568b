//! A drill held against all that is expected of it: by its encounter, by a file beside that, and by its
//! golden record.

use std::fmt;

use crate::ledger::{Event, Record, Replay};
use crate::plan::{ExpectPlan, Expectations, Place, Plan};
use crate::study;
use crate::time::Ticks;
use crate::verify::{Miss, Tested};

/// How many changes from a golden record are told.
const CHANGES: usize = 12;

/// What there is to hold drills against, besides the encounter itself.
#[derive(Debug, Default)]
pub struct Measure<'s> {
    own: Source<'s>,
    beside: Option<(Source<'s>, Expectations)>,
    golden: Option<(&'s str, Vec<Record<'static>>)>,
}

/// A file of expectations: its name and its text.
#[derive(Clone, Copy, Debug, Default)]
pub struct Source<'s> {
    /// Its name, for messages.
    pub name: &'s str,
    /// Its text, in which lines are counted.
    pub text: &'s str,
}

/// A drill and the results of its expectations.
#[derive(Clone, Debug, PartialEq)]
pub struct Trial {
    /// `None` for golden records of drills that are no more.
    pub drill: Option<String>,
    /// Each expectation, in the order of the files.
    pub tests: Vec<Test>,
}

/// An expectation and its result.
#[derive(Clone, Debug, PartialEq)]
pub struct Test {
    /// What was expected, in words.
    pub said: String,
    /// Where it is written.
    pub place: String,
    /// What went wrong, line by line, if it did.
    pub failed: Option<Vec<String>>,
}

impl<'s> Measure<'s> {
    /// What an encounter file itself expects.
    pub fn new(own: Source<'s>) -> Measure<'s> {
        Measure {
            own,
            ..Measure::default()
        }
    }

    /// Also what a file beside it expects.
    #[must_use]
    pub fn beside(mut self, file: Source<'s>, expectations: Expectations) -> Measure<'s> {
        self.beside = Some((file, expectations));
        self
    }

    /// Also the golden records of a file of that name.
    #[must_use]
    pub fn golden(mut self, name: &'s str, records: Vec<Record<'static>>) -> Measure<'s> {
        self.golden = Some((name, records));
        self
    }

    /// Holds a drill against all there is.
    pub fn trial(&self, replay: &Replay) -> Trial {
        let drill = replay.plan().drills[replay.drill().index()].name.clone();
        let own = replay.plan().expectations.of(replay.drill());
        let mut tests = tested(replay, own, self.own);
        if let Some((file, expectations)) = &self.beside {
            tests.extend(tested(replay, expectations.of(replay.drill()), *file));
        }
        tests.extend(self.as_recorded(replay, &drill));
        Trial {
            drill: Some(drill),
            tests,
        }
    }

    /// Whether a drill goes as its golden record says.
    fn as_recorded(&self, replay: &Replay, drill: &str) -> Option<Test> {
        let (name, records) = self.golden.as_ref()?;
        let mut line = 1;
        for record in records {
            if record.header.drill != drill {
                // A header, and a line for each event.
                line += record.lines.len() + 1;
                continue;
            }
            let comparison = study::compare(record, replay, Ticks(0));
            return Some(Test {
                said: format!("as in the golden record ({} lines)", record.lines.len()),
                place: format!("{name}:{line}"),
                failed: (!comparison.is_empty()).then(|| {
                    let mut lines = comparison.brief(CHANGES);
                    lines.push(self.accept());
                    lines
                }),
            });
        }
        None
    }

    fn accept(&self) -> String {
        let name = self.own.name;
        format!("if this is intended: tin-crown replay {name} --accept")
    }

    /// Golden records of drills that are no more.
    pub fn orphans(&self, plan: &Plan) -> Option<Trial> {
        let (name, records) = self.golden.as_ref()?;
        let gone = records
            .iter()
            .map(|record| &*record.header.drill)
            .filter(|drill| plan.drill(drill).is_err());
        let tests: Vec<Test> = gone
            .map(|drill| Test {
                said: format!("drill `{drill}` of the golden record exists"),
                place: (*name).to_owned(),
                failed: Some(vec!["there is no such drill".to_owned(), self.accept()]),
            })
            .collect();
        (!tests.is_empty()).then_some(Trial { drill: None, tests })
    }
}

fn tested<'p>(
    replay: &Replay,
    expected: impl IntoIterator<Item = &'p ExpectPlan>,
    file: Source<'_>,
) -> Vec<Test> {
    let tested = replay.test_all(expected).into_iter();
    let test = |tested: Tested<'_>| Test {
        said: tested.said,
        place: place(file, tested.expectation.place.as_ref()),
        failed: tested.miss.map(|miss| replay.explained(&miss)),
    };
    tested.map(test).collect()
}

/// `file:line`.
fn place(file: Source<'_>, place: Option<&Place>) -> String {
    match place {
        Some(Place::Beside(file, line)) => format!("{file}:{line}"),
        Some(Place::Here(span)) => {
            let before = file.text.get(..span.start).unwrap_or_default();
            format!("{}:{}", file.name, before.matches('\n').count() + 1)
        }
        None => file.name.to_owned(),
    }
}

impl Replay {
    /// An expectation that was not met, line by line: why, what came nearest, and the lines of the ledger
    /// around it.
    pub fn explained(&self, miss: &Miss) -> Vec<String> {
        let mut lines = vec![miss.because.clone()];
        if let (Some(line), Some(differs)) = (miss.line, &miss.differs) {
            lines.push(format!("nearest is line {}: {differs}", line.0));
        }
        let ledger = self.ledger();
        let events: Vec<&Event> = miss
            .around
            .iter()
            .filter_map(|line| ledger.get(*line))
            .collect();
        // What a meter loses to a hit is told in the hit's row.
        let own = miss.line.and_then(|line| ledger.get(line));
        let rows = self.rows(events);
        let listed = |line| rows.iter().any(|row| Some(row.id) == line);
        let marked = match own {
            Some(event) if !listed(Some(event.id)) => event.cause,
            own => own.map(|event| event.id),
        };
        for row in &rows {
            let mark = if Some(row.id) == marked { ">" } else { " " };
            let words = [row.who, &row.what, row.whom, row.rule, &row.outcome];
            let words: Vec<&str> = words.into_iter().filter(|word| !word.is_empty()).collect();
            lines.push(format!(
                "{mark} {:>4}  {:.3} s  {}",
                row.id.0,
                row.seconds,
                words.join("  ")
            ));
        }
        lines
    }
}

impl Trial {
    /// The name of the drill, for people.
    pub fn name(&self) -> &str {
        self.drill.as_deref().unwrap_or("(golden record)")
    }

    /// How many expectations were not met.
    pub fn failed(&self) -> usize {
        let failed = self.tests.iter().filter(|test| test.failed.is_some());
        failed.count()
    }
}

/// What was not met, as `tin-crown replay` tells it.
impl fmt::Display for Trial {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for test in &self.tests {
            let Some(lines) = &test.failed else { continue };
            let (name, said, place) = (self.name(), &test.said, &test.place);
            writeln!(f, "not met in {name}: {said} ({place})")?;
            for line in lines {
                writeln!(f, "    {line}")?;
            }
        }
        Ok(())
    }
}

/// Why, and what came nearest.
impl fmt::Display for Miss {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.because)?;
        match (self.line, &self.differs) {
            (Some(line), Some(differs)) => write!(f, "; nearest is line {}: {differs}", line.0),
            _ => Ok(()),
        }
    }
}
