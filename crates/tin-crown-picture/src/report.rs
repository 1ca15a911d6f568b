//! The report: one page that needs nothing else, on which drills are played and read.

mod data;
mod take;

pub use take::Take;

use std::sync::Arc;

use minijinja::{Value, context};
use tin_crown::sprite::Sheets;
use tin_crown::study::LogMark;
use tin_crown::{Plan, Severity};

use crate::look::Look;
use crate::matrix::Matrix;
use crate::page;
use crate::timeline::{self, Timeline};
use data::PageData;

/// A page about an encounter and some of its drills, which needs no network and no server.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::{Report, Take};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let mut report = Report::new(&plan);
/// report.drill(Take::shoot(&plan, plan.drill("careless")?)?, Vec::new());
/// let page = report.html();
/// assert!(page.starts_with("<!doctype html>"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Report<'r> {
    plan: &'r Arc<Plan>,
    data: PageData,
    drills: Vec<Chapter>,
    notes: Vec<Note>,
}

/// What a drill is expected to do, and the results.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Expected {
    /// What was expected, in words.
    pub said: String,
    /// Where it is written.
    pub place: String,
    /// What went wrong, line by line, if it did.
    pub failed: Option<Vec<String>>,
}

/// Something that was found about the encounter.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Note {
    /// How grave it is.
    pub severity: Severity,
    /// Its code.
    pub code: String,
    /// What is wrong.
    pub message: String,
    /// What to do.
    pub help: String,
    /// Where it is.
    pub place: String,
}

/// A drill on the page.
#[derive(Clone, Debug)]
struct Chapter {
    name: String,
    timeline: String,
    /// The timeline can be read down to this width, in pixels.
    least: f64,
    matrix: String,
    expected: Vec<Expected>,
    /// How the game's own hit log differs, where there is one.
    against: Option<Vec<String>>,
}

impl<'r> Report<'r> {
    /// A page without drills.
    pub fn new(plan: &'r Arc<Plan>) -> Report<'r> {
        Report {
            plan,
            data: PageData::new(plan, &Sheets::default()),
            drills: Vec::new(),
            notes: Vec::new(),
        }
    }

    /// Draws boxes over sprites; before drills are added.
    #[must_use]
    pub fn over(mut self, sheets: &Sheets) -> Report<'r> {
        self.data = PageData::new(self.plan, sheets);
        self
    }

    /// Adds a drill, with the results of its expectations.
    pub fn drill(&mut self, take: Take, expected: Vec<Expected>) {
        self.add(take, expected, None);
    }

    /// The same, held against the game's own hit log: its marks, and in what it differs, line by line.
    pub fn drill_against(
        &mut self,
        take: Take,
        expected: Vec<Expected>,
        (marks, lines): (&[LogMark], Vec<String>),
    ) {
        self.add(take, expected, Some((marks, lines)));
    }

    fn add(
        &mut self,
        take: Take,
        expected: Vec<Expected>,
        against: Option<(&[LogMark], Vec<String>)>,
    ) {
        let Take {
            film,
            poses,
            explained,
        } = take;
        self.data.drill(&film, &explained, poses);
        let look = Look::page();
        let (marks, lines) = against.map_or((&[][..], None), |(marks, lines)| (marks, Some(lines)));
        self.drills.push(Chapter {
            name: self.plan.drills()[film.replay().drill().index()]
                .name()
                .to_owned(),
            timeline: Timeline::new(&film).logged(marks).bare(&look),
            least: timeline::least_width(film.last().seconds(self.plan.rate())),
            matrix: Matrix::new(&film).svg(&look),
            expected,
            against: lines,
        });
    }

    /// Adds something that was found.
    pub fn note(&mut self, note: Note) {
        self.notes.push(note);
    }

    /// The page.
    pub fn html(&self) -> String {
        let drills: Vec<Value> = self
            .drills
            .iter()
            .map(|chapter| self.chapter(chapter))
            .collect();
        let notes: Vec<Value> = self.notes.iter().map(note).collect();
        let [left, right, width] = timeline::EDGES;
        page::render(
            include_str!("../page/report.html"),
            context! {
                title => self.plan.title(),
                style => page::style(""),
                script => page::script(include_str!("../page/report.js")),
                edges => format!("{left},{right},{width}"),
                data => page::data(&self.data),
                drills,
                notes,
            },
        )
    }

    fn chapter(&self, chapter: &Chapter) -> Value {
        let expected: Vec<Value> = chapter
            .expected
            .iter()
            .map(|expected| {
                context! {
                    said => &expected.said,
                    place => &expected.place,
                    met => expected.failed.is_none(),
                    lines => expected.failed.clone().unwrap_or_default(),
                }
            })
            .collect();
        let missed = chapter.expected.iter().filter(|own| own.failed.is_some());
        let (missed, all) = (missed.count(), expected.len());
        let outcome = match (missed, all) {
            (_, 0) => "nothing expected".to_owned(),
            (0, 1) => "the expectation is met".to_owned(),
            (0, _) => format!("all {all} expectations met"),
            (_, 1) => "the expectation is not met".to_owned(),
            (_, _) => format!("{missed} of {all} expectations not met"),
        };
        context! {
            name => &chapter.name,
            least => chapter.least.ceil(),
            outcome,
            timeline => Value::from_safe_string(chapter.timeline.clone()),
            matrix => Value::from_safe_string(chapter.matrix.clone()),
            missed,
            expected,
            against => chapter.against.as_ref(),
        }
    }
}

fn note(note: &Note) -> Value {
    let severity = match note.severity {
        Severity::Error => "error",
        Severity::Warning => "warning",
        Severity::Note => "note",
    };
    context! {
        severity,
        code => &note.code,
        message => &note.message,
        help => &note.help,
        place => &note.place,
    }
}
