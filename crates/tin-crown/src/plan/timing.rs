//! What an expectation says of when and how often.

use super::checker::Checker;
use crate::encounter::{Expectation, Expected};
use crate::finding::{Code, Finding, Path};
use crate::time::Tick;

/// Whether what is said of when and how often belongs together.
pub(super) fn check(check: &mut Checker, path: &Path, last: Option<Tick>, written: &Expectation) {
    if let Some((key, why)) = without_effect(written) {
        check.report(Finding::new(Code::NoEffect, path.key(key), why));
        return;
    }
    late(check, path, last, written);
    if let (Some(from), Some(to)) = (written.from, written.to)
        && from.ticks(check.rate) > to.ticks(check.rate)
    {
        let message = format!("from {from} to {to} there is no time");
        let path = path.key("to");
        check.report(Finding::new(Code::Contradiction, path, message).help("swap them"));
    }
    if written.times.is_some_and(|times| times.least > times.most) {
        let path = path.key("times");
        let message = "no number is at least the first and at most the second";
        check.report(Finding::new(Code::Contradiction, path, message).help("swap them"));
    }
}

/// The first key that has no effect beside the others, and why.
fn without_effect(written: &Expectation) -> Option<(&'static str, &'static str)> {
    let happens = matches!(written.what, Expected::Happens(_));
    let never = matches!(written.what, Expected::Never(_));
    let standing = matches!(&written.what, Expected::Meter(stand) if stand.is.is_some());
    let ends = matches!(written.what, Expected::Ends(_));
    let rows = [
        (
            "when",
            written.when.is_some(),
            happens || standing || ends,
            "`when` needs something that happens; use `from` and `to` here",
        ),
        (
            "within",
            written.within.is_some(),
            written.when.is_some() || written.by.is_some(),
            "`within` needs `when` or `by`",
        ),
        (
            "from",
            written.from.is_some(),
            !(standing || ends),
            "`from` has no effect here",
        ),
        (
            "to",
            written.to.is_some(),
            !(standing || ends),
            "`to` has no effect here",
        ),
        (
            "from",
            written.from.is_some(),
            written.when.is_none(),
            "`when` gives the time already",
        ),
        (
            "to",
            written.to.is_some(),
            written.when.is_none(),
            "`when` gives the time already",
        ),
        (
            "times",
            written.times.is_some(),
            happens && written.by.is_none(),
            "`times` needs something that happens",
        ),
        (
            "apart",
            written.apart.is_some(),
            happens && written.by.is_none(),
            "`apart` needs something that happens",
        ),
        (
            "before",
            written.before.is_some(),
            happens || never,
            "`before` needs something that happens",
        ),
        (
            "after",
            written.after.is_some(),
            happens || never,
            "`after` needs something that happens",
        ),
        (
            "by",
            written.by.is_some(),
            happens && written.after.is_some(),
            "`by` needs `after`",
        ),
        (
            "by",
            written.by.is_some(),
            written.when.is_none(),
            "`when` gives the time already",
        ),
        (
            "while",
            written.during.is_some(),
            happens || never,
            "`while` needs something that happens",
        ),
    ];
    let mut rows = rows.into_iter();
    let found = rows.find(|(_, there, fits, _)| *there && !*fits);
    found.map(|(key, _, _, why)| (key, why))
}

/// Reports a time after the end of the drill.
fn late(check: &mut Checker, path: &Path, last: Option<Tick>, written: &Expectation) {
    let (key, time) = match (written.when, written.from) {
        (Some(when), _) => ("when", when),
        (None, Some(from)) => ("from", from),
        (None, None) => return,
    };
    let tick = time.ticks(check.rate).0;
    if let Some(last) = last.filter(|last| tick > last.0) {
        let message = format!("this is tick {tick}, after the end of the drill on {last}");
        let finding = Finding::new(Code::NoEffect, path.key(key), message);
        check.report(finding.help("make the drill longer, or expect it earlier"));
    }
}
