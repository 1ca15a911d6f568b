//! Expectations in a file of their own, beside that of the encounter.

use std::cell::RefCell;
use std::collections::BTreeMap;

use super::edition;
use super::expect::Expectation;
use super::read::{At, Read};
use crate::finding::{Findings, Part, Path};
use crate::plan::{self, Expectations, Plan};
use crate::text::Document;

/// What came of reading expectations for a plan.
#[derive(Clone, Debug)]
pub struct CheckedExpectations {
    /// The expectations, unless a finding is an error.
    pub expectations: Option<Expectations>,
    /// All that was found, with its place in the text.
    pub findings: Findings,
}

/// The expectations of one drill.
#[derive(Default)]
struct OfDrill(Vec<Expectation>);

impl Read for OfDrill {
    fn read(at: At<'_>) -> Option<OfDrill> {
        at.table(|fields| fields.need("expect").map(OfDrill))
    }
}

/// Reads what drills have to come to from the bytes of a TOML or JSON file of its own: `edition`,
/// `[[expect]]` for every drill, and `drill.NAME.expect` for one.
///
/// ```
/// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
/// let plan = tin_crown::check(file).plan.unwrap();
/// let beside = tin_crown::check_expectations(&plan, br#"
///     edition = 1
///     [[expect]]
///     never = { hit = { who = "porter", whom = "pincushion" } }
/// "#);
/// let replay = plan.replay("careful")?;
/// let expectations = beside.expectations.unwrap();
/// let mut tested = expectations.of(replay.drill()).map(|one| replay.test(one));
/// assert!(tested.all(|tested| tested.miss.is_none()));
/// # Ok::<(), tin_crown::ReplayError>(())
/// ```
pub fn check_expectations(plan: &Plan, bytes: &[u8]) -> CheckedExpectations {
    let document = match Document::parse(bytes) {
        Ok(document) => document,
        Err(findings) => {
            return CheckedExpectations {
                expectations: None,
                findings,
            };
        }
    };
    let findings = RefCell::new(Findings::new());
    let root = Path::root();
    let read = At::new(&document, &root, &findings).table(|fields| {
        edition(fields).then(|| {
            let all: Vec<Expectation> = fields.get("expect").unwrap_or_default();
            let drills: BTreeMap<String, OfDrill> = fields.get("drill").unwrap_or_default();
            (all, drills)
        })
    });
    let mut findings = findings.into_inner();
    let mut expectations = None;
    if let Some((all, drills)) = read {
        let drills = drills.into_iter().map(|(name, OfDrill(own))| (name, own));
        let (resolved, later) = plan::expectations_beside(plan, &all, &drills.collect());
        findings.follow(later, |finding| {
            finding.missed.as_deref() == Some("") && !document.has(&finding.path)
        });
        findings.withhold_guesses();
        expectations = Some(resolved);
    }
    findings.locate(|path, part| document.locate(path, part));
    if let Some(expectations) = &mut expectations {
        expectations.locate(|path| document.locate(path, Part::Value));
    }
    CheckedExpectations {
        expectations: expectations.filter(|_| !findings.has_errors()),
        findings,
    }
}
