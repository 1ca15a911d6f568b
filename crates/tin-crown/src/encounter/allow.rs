//! Findings that are known and allowed.

use super::read::{At, Read};

/// A finding that is known and meant, as written.
///
/// ```
/// use tin_crown::Allow;
///
/// let allow = Allow::new("drains-in-a-blink", "the acid is meant to kill at once").about("acid");
/// assert_eq!(allow.about.as_deref(), Some("acid"));
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Allow {
    /// The code of the finding.
    pub finding: String,
    /// A name that it is about, or the place where it is found; any when absent.
    pub about: Option<String>,
    /// Why it is meant.
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

    /// Only those about that name, or in that place.
    #[must_use]
    pub fn about(mut self, about: impl Into<String>) -> Allow {
        self.about = Some(about.into());
        self
    }
}

impl Read for Allow {
    fn read(at: At<'_>) -> Option<Allow> {
        at.table(|fields| {
            Some(Allow {
                finding: fields.need("finding").unwrap_or_default(),
                about: fields.get("about"),
                reason: fields.need("reason").unwrap_or_default(),
            })
        })
    }
}
