//! How a drill ended.

use serde::{Deserialize, Serialize};

use crate::syntax::Words;

/// How a drill ended.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Words, Serialize, Deserialize)]
pub enum Outcome {
    /// An exit was reached, or a clear condition met.
    Won,
    /// The last player is gone for good.
    Lost,
    /// The length is used up.
    Ended,
}
