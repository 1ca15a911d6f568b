//! Studies of replays: what changed, what was exercised, why something happened or did not, and what thousands of
//! replays come to under other numbers and inputs.

mod account;
mod changes;
mod compare;
mod coverage;
mod divergence;
mod game_log;
mod parallel;
mod passage;
mod search;
mod slack;
mod sweep;
mod tally;
mod vary;
mod why;
mod workbench;

pub use crate::reach::Reach;
pub use account::{Account, Tell, Topic, account};
pub use compare::{Change, Comparison, FieldChange, PairSum, compare};
pub use coverage::{Coverage, Item, PairCover, RuleVerdicts, Sort, coverage};
pub use divergence::Divergence;
pub use game_log::{Against, GameSide, LogDifference, LogMark, RulesSide, Unlike, against, resync};
pub use parallel::Watch;
pub use passage::{Attempt, Cycle, Passage, PassageError, PassageSetup, passage};
pub use search::{Aim, Found, Search, SearchError, SearchSetup, search};
pub use slack::{InputSlack, Slack, SlackError, SlackSetup, Wander, Window, slack};
pub use sweep::{
    AxisHead, Column, Datum, Holds, MergeError, Row, Samples, Setup, Shard, ShardError, Sheet,
    SheetError, Spread, Sweep, SweepError,
};
pub use tally::{AmmoSum, GuardSum, Means, Replayed, Sum, Tally, tally};
pub(crate) use vary::written;
pub use vary::{Axis, Number, Value, Values, VaryError, numbers, paths};
pub use why::{Apart, Asked, Came, Near, Question, Remedy, Step, ToldHits, Why, explain, why};
