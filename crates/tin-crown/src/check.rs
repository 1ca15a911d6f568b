//! From a text to findings and a plan: it is read, resolved, and the plan is audited.

mod aside;

use std::sync::Arc;

use crate::encounter::{self, Encounter};
use crate::finding::{Findings, Part, Path};
use crate::lint;
use crate::map::Set;
use crate::nearest::nearest;
use crate::plan::{self, Expectations, Place, Plan, Resolution};
use crate::sprite::Sheets;
use crate::text::Document;
use crate::track::Files;
use aside::Aside;

/// The result of reading an encounter file.
#[derive(Clone, Debug)]
pub struct Checked {
    /// The encounter as written, as far as it can be read: what is missing or of the wrong sort is at
    /// its default there. `None` when nothing of it can be read.
    pub encounter: Option<Encounter>,
    /// The plan, unless a finding is an error.
    pub plan: Option<Arc<Plan>>,
    /// The drawings that its kinds have, as far as files could be opened.
    pub sheets: Sheets,
    /// All that was found, with its place in the text, in the order of the text.
    pub findings: Findings,
}

/// Reads, checks and resolves an encounter from the bytes of a TOML or JSON file.
///
/// Never fails: what is wrong is in the findings, and there is a plan when none is an error.
///
/// ```
/// let checked = tin_crown::check(b"edition = 1\ntitel = \"Attic\"\n");
/// let finding = checked.findings.iter().next().unwrap();
/// assert_eq!(finding.help.as_deref(), Some("did you mean `title`?"));
/// assert!(checked.plan.is_none());
/// ```
pub fn check(bytes: &[u8]) -> Checked {
    read(bytes, None)
}

/// The same for an encounter that names other files: one with more drills (`drill_file`), one with sprites
/// (`sprite_file`), and the drawings themselves. They are opened, and the encounter has what is in them as its own. What
/// is wrong with them is told with their file.
///
/// ```
/// use std::collections::BTreeMap;
///
/// let files = BTreeMap::from([(
///     "played.toml".to_owned(),
///     b"edition = 1\n[drill.look]\nlength = \"1s\"\n".to_vec(),
/// )]);
/// let text = "edition = 1\ntitle = \"Empty\"\ndrill_file = \"played.toml\"\n\
///             arena = { bounds = { min = [0, 0], max = [9, 9] } }\n";
/// let plan = tin_crown::check_with(text.as_bytes(), &files).plan.unwrap();
/// assert!(plan.drill("look").is_ok());
/// ```
pub fn check_with(bytes: &[u8], files: &dyn Files) -> Checked {
    read(bytes, Some(files))
}

fn read(bytes: &[u8], files: Option<&dyn Files>) -> Checked {
    let document = match Document::parse(bytes) {
        Ok(document) => document,
        Err(mut findings) => {
            findings.count_lines(bytes);
            return Checked {
                encounter: None,
                plan: None,
                sheets: Sheets::default(),
                findings,
            };
        }
    };
    let (mut encounter, mut findings) = encounter::read_document(&document);
    let beside = encounter.as_mut().zip(files);
    let asides = beside.map(|(encounter, files)| Aside::take(encounter, &mut findings, files));
    let asides = asides.unwrap_or_default();
    let mut plan = None;
    let mut sheets = Sheets::default();
    if let Some(encounter) = &encounter {
        let (resolved, read, later) = judged(encounter, files);
        sheets = read;
        let errors = findings.errors();
        let lost: Set<&str> = errors
            .flat_map(|finding| document.words(&finding.path))
            .collect();
        findings.follow(later, |finding| match finding.missed.as_deref() {
            // A name that is missing is told as such, not as an unknown one.
            Some("") => {
                let beside = asides.iter().any(|own| own.has(&finding.path));
                !document.has(&finding.path) && !beside
            }
            missed => missed.is_some_and(|name| lost.contains(name)),
        });
        findings.withhold_guesses();
        plan = resolved.filter(|_| !findings.has_errors());
    }
    for aside in &asides {
        findings.each(|finding| aside.place(finding));
    }
    findings.locate(|path, part| document.locate(path, part));
    findings.count_lines(bytes);
    if let Some(plan) = plan.as_mut().and_then(Arc::get_mut) {
        plan.expectations.locate(|path| {
            let beside = asides.iter().find_map(|own| own.line(path));
            let here = || document.locate(path, Part::Value).map(Place::Here);
            beside
                .map(|(file, line)| Place::Beside(file, line))
                .or_else(here)
        });
        let base = Path::root().key("drill");
        // Those of another file come after.
        let after = document.text.len();
        plan.order_drills(|name| {
            let path = base.named(name);
            let mut asides = asides.iter();
            match asides.find(|own| own.within(&path).is_some()) {
                Some(own) => Some(after + own.locate(&path, Part::Key)?.start),
                None => Some(document.locate(&path, Part::Key)?.start),
            }
        });
    }
    Checked {
        encounter,
        plan,
        sheets,
        findings,
    }
}

impl Encounter {
    /// Checks the encounter: all findings, and a plan when none is an error. An encounter built in code
    /// has no text, so the findings name places by their path alone.
    ///
    /// ```
    /// use tin_crown::{Encounter, Kind, Placement};
    ///
    /// let checked = Encounter::new("Nobody to hit")
    ///     .kind("post", Kind::new())
    ///     .place(Placement::new("post", [10.0, 10.0]))
    ///     .check();
    /// assert!(checked.plan.is_some());
    /// assert!(checked.findings.iter().all(|finding| finding.span.is_none()));
    /// ```
    pub fn check(&self) -> Checked {
        let (plan, sheets, findings) = judged(self, None);
        Checked {
            encounter: Some(self.clone()),
            plan,
            sheets,
            findings,
        }
    }

    /// Resolves the encounter's names and checks its numbers, without the audits of [`check`](Self::check):
    /// what is needed to replay it, and again after [`set`](Self::set).
    ///
    /// # Errors
    ///
    /// What was found, when some of it is an error.
    pub fn resolve(&self) -> Result<Arc<Plan>, Findings> {
        let Resolution { plan, findings, .. } = plan::resolve(self);
        plan.ok_or(findings)
    }

    /// The same for an encounter that is another but for some numbers, and was resolved before: the recordings
    /// of its drills are taken over, where they would be read the same again. A drill whose recordings are not
    /// is without them, until they are [read](Plan::record).
    ///
    /// # Errors
    ///
    /// What was found, when some of it is an error.
    pub fn resolve_again(&self, before: &Plan) -> Result<Arc<Plan>, Findings> {
        let mut plan = self.resolve()?;
        if let Some(plan) = Arc::get_mut(&mut plan) {
            plan.take_recordings(before);
        }
        Ok(plan)
    }

    /// Expects what a file of expectations beside it says, too, after what it expects itself. Of a text that
    /// cannot be read nothing is added: [`check_expectations`] says what is wrong with it.
    pub fn expect_beside(&mut self, bytes: &[u8]) {
        let document = Document::parse(bytes).ok();
        let beside =
            document.and_then(|document| encounter::read_beside::<encounter::Beside>(&document).0);
        let Some(beside) = beside else { return };
        self.expect.extend_from_slice(beside.all());
        for (name, expected) in beside.drills() {
            if let Some(drill) = self.drills.get_mut(name) {
                drill.expect.extend_from_slice(expected);
            }
        }
    }

    /// Checks the encounter and resolves its names; findings that are no errors are dropped.
    ///
    /// # Errors
    ///
    /// All findings, when one of them is an error.
    pub fn plan(&self) -> Result<Arc<Plan>, Findings> {
        let (plan, _, findings) = judged(self, None);
        plan.ok_or(findings)
    }
}

/// The tag of a kind or placement that is nearest to another, and where it is given first.
fn nearest_tag(encounter: &Encounter, tag: &str) -> Option<(String, Path)> {
    let kinds = encounter.kinds.iter().flat_map(|(name, kind)| {
        let path = Path::root().key("kind").named(name).key("tags");
        let tags = kind.tags.iter().flatten().enumerate();
        tags.map(move |(nth, tag)| (tag, path.index(nth)))
    });
    let placements = encounter.placements.iter().enumerate();
    let placed = placements.flat_map(|(nth, placement)| {
        let path = Path::root().key("place").index(nth).key("tags");
        let tags = placement.with.tags.iter().flatten().enumerate();
        tags.map(move |(nth, tag)| (tag, path.index(nth)))
    });
    let all: Vec<(&String, Path)> = kinds.chain(placed).collect();
    let near = nearest(tag, all.iter().map(|(tag, _)| tag.as_str()))?;
    let found = all.iter().find(|(tag, _)| *tag == near);
    found.map(|(tag, path)| ((*tag).clone(), path.clone()))
}

/// Resolves an encounter, audits the plan and its drawings, and sets aside what is allowed.
fn judged(
    encounter: &Encounter,
    files: Option<&dyn Files>,
) -> (Option<Arc<Plan>>, Sheets, Findings) {
    let Resolution {
        plan,
        mut findings,
        paths,
        laid,
    } = plan::resolve(encounter);
    if let Some(laid) = &laid {
        lint::spelling(&mut findings, encounter, laid);
    }
    if let Some(plan) = &plan {
        lint::check(&mut findings, plan, &paths);
    }
    let mut sheets = Sheets::default();
    if let Some((plan, files)) = plan.as_ref().zip(files) {
        sheets = Sheets::read(plan, files);
        lint::drawings(&mut findings, plan, &paths, &sheets);
    }
    findings.withhold_guesses();
    findings.gather_unknown_tags(|tag| nearest_tag(encounter, tag));
    let unseen = files.is_none();
    lint::allow(&mut findings, &encounter.allow, unseen);
    (plan.filter(|_| !findings.has_errors()), sheets, findings)
}

impl Findings {
    /// Fills in the places of what is about an encounter's text and not about a row, from that text.
    pub fn locate_in(&mut self, text: &[u8]) {
        if let Ok(document) = Document::parse(text) {
            self.locate(|path, part| document.locate(path, part));
            self.count_lines(text);
        }
    }
}

/// The result of reading expectations for a plan.
#[derive(Clone, Debug)]
pub struct CheckedExpectations {
    /// The expectations, unless a finding is an error.
    pub expectations: Option<Expectations>,
    /// All that was found, with its place in the text.
    pub findings: Findings,
}

/// Reads what drills have to come to from the bytes of a TOML or JSON file of its own: `edition`,
/// `[[expect]]` for every drill, and `drill.NAME.expect` for one.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let plan = tin_crown::check(file).plan.unwrap();
/// let beside = tin_crown::check_expectations(&plan, br#"
///     edition = 1
///     [[expect]]
///     never = { hit = { who = "porter", whom = "pincushion" } }
/// "#);
/// let replay = plan.replay("careful")?;
/// let expectations = beside.expectations.unwrap();
/// let mut tested = replay.test_all(expectations.of(replay.drill())).into_iter();
/// assert!(tested.all(|tested| tested.miss.is_none()));
/// # Ok::<(), tin_crown::ReplayError>(())
/// ```
pub fn check_expectations(plan: &Plan, bytes: &[u8]) -> CheckedExpectations {
    let document = match Document::parse(bytes) {
        Ok(document) => document,
        Err(mut findings) => {
            findings.count_lines(bytes);
            return CheckedExpectations {
                expectations: None,
                findings,
            };
        }
    };
    let (beside, mut findings) = encounter::read_beside::<encounter::Beside>(&document);
    let mut expectations = None;
    if let Some(beside) = beside {
        let (resolved, later) = plan::expectations_beside(plan, beside.all(), beside.drills());
        findings.follow(later, |finding| {
            finding.missed.as_deref() == Some("") && !document.has(&finding.path)
        });
        findings.withhold_guesses();
        expectations = Some(resolved);
    }
    findings.locate(|path, part| document.locate(path, part));
    findings.count_lines(bytes);
    if let Some(expectations) = &mut expectations {
        expectations.locate(|path| document.locate(path, Part::Value).map(Place::Here));
    }
    CheckedExpectations {
        expectations: expectations.filter(|_| !findings.has_errors()),
        findings,
    }
}
