//! How a drill ended.

/// How a drill ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Outcome {
    /// An exit was reached, or a clear condition met.
    Won,
    /// The last player is gone for good.
    Lost,
    /// The length is used up.
    Ended,
}

impl Outcome {
    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Outcome::Won => "won",
            Outcome::Lost => "lost",
            Outcome::Ended => "ended",
        }
    }
}
