//! What a replay may go beyond.

use crate::limits;
use crate::plan::Unknown;
use crate::time::Tick;

/// A replay that cannot be.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum ReplayError {
    /// There is no such drill.
    #[error(transparent)]
    Drill(#[from] Unknown),
    /// The ledger would grow beyond its limit.
    #[error(
        "the ledger of drill `{drill}` is full on tick {tick}: at most {} lines are allowed; \
         shorten the drill, or space the hits",
        limits::LEDGER_LINES
    )]
    LedgerFull {
        /// The drill.
        drill: String,
        /// The tick on which it was full.
        tick: Tick,
    },
    /// An open run keeps more lines than it may.
    #[error(
        "this run keeps more than {} lines on tick {tick}, the limit; drain its ledger as it goes",
        limits::LEDGER_LINES
    )]
    Undrained {
        /// The tick.
        tick: Tick,
    },
    /// More actors, launches or changes of state than there may be.
    #[error(
        "on tick {tick} of drill `{drill}` there are more than {most} {of}, the limit; the last \
         came from {last_straw}: {help}"
    )]
    TooMany {
        /// The drill.
        drill: String,
        /// The tick.
        tick: Tick,
        /// Of what.
        of: &'static str,
        /// How many there may be.
        most: usize,
        /// The launcher or state that went beyond.
        last_straw: String,
        /// What to do.
        help: &'static str,
    },
    /// A drill that recordings drive, whose recordings were not read.
    #[error(
        "drill `{drill}` is driven by recordings that were not read; read them with `Plan::record`"
    )]
    Unrecorded {
        /// The drill.
        drill: String,
    },
    /// A recording cannot be read any more, or is another than when it was checked.
    #[error("on tick {tick} of drill `{drill}` its recording cannot be read any further: {why}")]
    Recording {
        /// The drill.
        drill: String,
        /// The tick.
        tick: Tick,
        /// Why.
        why: String,
    },
    /// An open run is no drill, and cannot be given out as the replay of one.
    #[error("this run is open, and no drill; `Live::into_drill` makes one of it")]
    NoDrill,
    /// More boxes touch each other on one tick than may.
    #[error(
        "on tick {tick} of drill `{drill}` more than {} pairs of boxes touch, the limit; \
         place fewer actors in one spot, or let rules pair fewer boxes",
        limits::TOUCHES
    )]
    TooManyTouches {
        /// The drill.
        drill: String,
        /// The tick.
        tick: Tick,
    },
}
