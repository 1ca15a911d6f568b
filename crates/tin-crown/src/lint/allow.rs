//! Findings that the encounter allows.

use crate::encounter::Allow;
use crate::finding::{Code, Finding, Findings, Path, Severity, Step};

/// Sets findings aside that are allowed; what allows nothing is a finding itself.
/// `unseen`: drawings were not
/// read, so nothing is found about them.
pub(crate) fn apply(findings: &mut Findings, allows: &[Allow], unseen: bool) {
    for (nth, allow) in allows.iter().enumerate() {
        let path = Path::root().key("allow").index(nth);
        let Some(code) = code(findings, &path, allow) else {
            continue;
        };
        if allow.reason.trim().is_empty() {
            let message = "`allow` needs a `reason`";
            findings.push(
                Finding::new(Code::MissingKey, path.key("reason"), message)
                    .help("say why it is meant")
                    .missing(&allow.reason),
            );
        }
        let meant = |finding: &Finding| {
            let about = allow.about.as_deref();
            finding.code == code && about.is_none_or(|about| is_about(finding, about))
        };
        // While there are errors not everything is looked for.
        let looked = !(unseen && code.is_about_drawings());
        if findings.allow(&allow.reason, meant) == 0 && looked && !findings.has_errors() {
            let of = allow.about.as_ref();
            let of = of.map_or(String::new(), |about| format!(" about `{about}`"));
            let message = format!("there is no `{code}`{of} to allow");
            findings.push(Finding::new(Code::NoEffect, path, message).help("remove it"));
        }
    }
}

/// The code that an allowance names, if one can be allowed.
fn code(findings: &mut Findings, path: &Path, allow: &Allow) -> Option<Code> {
    let path = path.key("finding");
    let soft = |code: &&Code| code.severity() != Severity::Error;
    let found = Code::ALL.iter().find(|code| code.as_str() == allow.finding);
    match found {
        None => {
            let known = Code::ALL.iter().filter(soft).map(|code| code.as_str());
            findings.push(Finding::unknown(path, "finding", &allow.finding, known));
            None
        }
        Some(code) if !soft(&code) => {
            let message = format!("`{code}` is an error, which cannot be allowed");
            findings.push(Finding::new(Code::Contradiction, path, message).help("mend it"));
            None
        }
        Some(code) => Some(*code),
    }
}

/// Whether a finding is in that place, or names that thing.
fn is_about(finding: &Finding, about: &str) -> bool {
    let place = finding.path.to_string();
    let within = place.strip_prefix(about);
    let within = within.is_some_and(|rest| rest.is_empty() || rest.starts_with(['.', '[']));
    let step = |step: &Step| matches!(step, Step::Key(key) if key == about);
    within
        || finding.path.steps().iter().any(step)
        || finding.message.contains(&format!("`{about}`"))
}
