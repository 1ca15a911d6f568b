//! What an expectation says of when and how often.

use super::checker::Checker;
use crate::encounter::{Expectation, Expected};
use crate::finding::{Code, Finding, Path};
use crate::time::Tick;

/// Whether what is said of when and how often belongs together.
pub(super) fn check(check: &mut Checker, path: &Path, last: Option<Tick>, written: &Expectation) {
    let happens = matches!(written.what, Expected::Happens(_));
    let never = matches!(written.what, Expected::Never(_));
    let standing = matches!(&written.what, Expected::Meter(stand) if stand.is.is_some());
    let ends = matches!(written.what, Expected::Ends(_));
    let span = written.from.is_some() || written.to.is_some();
    for (key, there, fits, why) in [
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
            span && written.from.is_some(),
            written.when.is_none(),
            "`when` gives the time already",
        ),
        (
            "to",
            span && written.to.is_some(),
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
    ] {
        if there && !fits {
            let path = path.key(key);
            check.report(Finding::new(Code::NoEffect, path, why));
            return;
        }
    }
    let late = written.when.or(written.from);
    let rate = check.rate;
    if let (Some(when), Some(last)) = (late, last)
        && when.ticks(rate).0 > last.0
    {
        let key = if written.when.is_some() {
            "when"
        } else {
            "from"
        };
        let message = format!(
            "this is tick {}, after the end of the drill on {last}",
            when.ticks(rate).0
        );
        let path = path.key(key);
        check.report(
            Finding::new(Code::NoEffect, path, message)
                .help("make the drill longer, or expect it earlier"),
        );
    }
    if let (Some(from), Some(to)) = (written.from, written.to)
        && from.ticks(rate) > to.ticks(rate)
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
