//! Findings that are known and allowed.

use crate::syntax::Table;

/// A finding that is known and meant.
///
/// ```
/// use tin_crown::encounter::Allow;
///
/// let allow = Allow::new("drains-in-a-blink", "the acid is meant to kill at once").about("acid");
/// assert_eq!(allow.about.as_deref(), Some("acid"));
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Table)]
pub struct Allow {
    /// The code of the finding.
    #[key(required, text = "finding", set = "")]
    pub finding: String,
    /// A name that it is about, or the place where it is found.
    #[key(absent = "any")]
    pub about: Option<String>,
    /// Why it is meant.
    #[key(required, set = "")]
    pub reason: String,
}

impl Allow {
    /// Allows findings of that code, for a reason.
    pub fn new(finding: impl Into<String>, reason: impl Into<String>) -> Allow {
        Allow {
            finding: finding.into(),
            about: None,
            reason: reason.into(),
        }
    }
}
