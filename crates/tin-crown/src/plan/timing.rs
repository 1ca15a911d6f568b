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
    const HAPPENS: &str = "this key needs something that happens";
    const TIMED: &str = "`when` gives the time already";
    const EACH: &str = "`by` expects one after each `after`: remove this key, or `by`";
    let happens = matches!(written.what, Expected::Happens(_));
    let event = happens || matches!(written.what, Expected::Never(_));
    let standing = match &written.what {
        Expected::Meter(stand) => stand.is.is_some(),
        Expected::Lives(stand) => stand.is.is_some(),
        Expected::Place(stay) => stay.holds.is_none(),
        _ => false,
    };
    let ends = matches!(written.what, Expected::Ends(_));
    let [when, by] = [written.when, written.by].map(|length| length.is_some());
    let [from, to] = [written.from, written.to].map(|length| length.is_some());
    let (times, apart) = (written.times.is_some(), written.apart.is_some());
    let [before, after] = [&written.before, &written.after].map(|other| other.is_some());
    let within = written.within.is_some();
    let spans = !(standing || ends);
    let use_from = "`when` needs something that happens; use `from` and `to` here";
    let rows = [
        ("when", when, happens || standing || ends, use_from),
        (
            "within",
            within,
            when || by,
            "`within` needs `when` or `by`",
        ),
        ("from", from, spans, "`from` has no effect here"),
        ("to", to, spans, "`to` has no effect here"),
        ("from", from, !when, TIMED),
        ("to", to, !when, TIMED),
        ("times", times, happens, HAPPENS),
        ("times", times, !by, EACH),
        ("apart", apart, happens, HAPPENS),
        ("apart", apart, !by, EACH),
        ("before", before, event, HAPPENS),
        ("after", after, event, HAPPENS),
        ("by", by, happens && after, "`by` needs `after`"),
        ("by", by, !when, TIMED),
        ("while", written.during.is_some(), event, HAPPENS),
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
