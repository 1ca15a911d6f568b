//! The hit log of the game that ships: whom it hit, row by row of a file.

use super::track::Rows;
use crate::map::Map;
use crate::syntax::Table;

/// The game's own hit log of a run, against which the rules are held.
///
/// ```
/// use tin_crown::encounter::HitLog;
///
/// assert_eq!(HitLog::new("hits.csv").rows.file, "hits.csv");
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct HitLog {
    /// The file, and how its rows are read.
    #[key(flatten)]
    pub rows: Rows,
    /// Which columns hold what.
    #[key(absent = "`time`, `who` and `whom`")]
    pub columns: LogColumns,
    /// The rules that its names mean; what stands for `""` is not told.
    #[key(text = "rule", absent = "names are those of rules")]
    pub rules: Map<String, String>,
}

/// Which columns hold what; what has no column is not told, and not held against the rules.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(no_builder)]
pub struct LogColumns {
    /// When.
    #[key(text = "column", default = "\"time\"")]
    pub time: Option<String>,
    /// Who hit: the actor, or what it launched. An empty cell does not tell.
    #[key(text = "column", default = "\"who\"")]
    pub who: Option<String>,
    /// Who was hit.
    #[key(text = "column", default = "\"whom\"")]
    pub whom: Option<String>,
    /// By which rule.
    #[key(text = "column")]
    pub rule: Option<String>,
    /// How much damage it did.
    #[key(text = "column")]
    pub amount: Option<String>,
    /// How much health whom had left.
    #[key(text = "column")]
    pub health: Option<String>,
}

impl HitLog {
    /// A log with columns `time` (in ticks), `who` and `whom`.
    pub fn new(file: impl Into<String>) -> HitLog {
        HitLog {
            rows: Rows::new(file),
            ..HitLog::default()
        }
    }
}
