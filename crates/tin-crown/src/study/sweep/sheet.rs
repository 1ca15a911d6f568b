//! The head of a sweep's rows in a file: which study they are of, and which share of it.

use std::ops::Range;
use std::str::FromStr;

use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use super::columns::Column;
use super::design::{Samples, Spread};
use crate::encounter::{Encounter, Measure};
use crate::plan::Plan;
use crate::study::vary::Axis;
use crate::syntax::Table;
use crate::text::write_toml;

/// The edition of the format.
const EDITION: u32 = 1;

/// The head of a sweep's rows: the first line of their file. Rows of one digest are of one study.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Sheet {
    /// What is studied: `sweep`.
    pub study: String,
    /// The edition of the format.
    pub edition: u32,
    /// The version of Tin Crown that plays it.
    pub version: String,
    /// What the encounter is called.
    pub title: String,
    /// A digest of the encounter, its recordings, and all that is varied, played and measured.
    pub digest: String,
    /// The drills, in the order of a cell's rows.
    pub drills: Vec<String>,
    /// The players.
    pub players: Vec<String>,
    /// What is varied.
    pub axes: Vec<AxisHead>,
    /// How many cells there are in all.
    pub cells: u64,
    /// Which share of the cells the file has; all when absent.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shard: Option<Shard>,
    /// The columns of the rows.
    pub columns: Vec<Column>,
}

/// What is varied, as a chart has it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct AxisHead {
    /// The path.
    pub path: String,
    /// The values as they were given.
    pub values: String,
    /// What the encounter has there, if it is written.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub present: Option<String>,
}

/// A share of the cells: the `part`-th of `of` equal ones, counted from 1.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Shard {
    /// Which.
    pub part: u64,
    /// Of how many.
    pub of: u64,
}

/// A text that is no shard.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
#[error("a shard is the number of a part and how many there are: 1/8 to 8/8")]
pub struct ShardError;

impl FromStr for Shard {
    type Err = ShardError;

    fn from_str(text: &str) -> Result<Shard, ShardError> {
        let (part, of) = text.split_once('/').ok_or(ShardError)?;
        let number = |text: &str| text.trim().parse::<u64>().map_err(|_| ShardError);
        Shard::new(number(part)?, number(of)?)
    }
}

impl std::fmt::Display for Shard {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{}/{}", self.part, self.of)
    }
}

impl Shard {
    /// A part, counted from 1.
    ///
    /// # Errors
    ///
    /// When there is no such part.
    pub fn new(part: u64, of: u64) -> Result<Shard, ShardError> {
        match part >= 1 && part <= of {
            true => Ok(Shard { part, of }),
            false => Err(ShardError),
        }
    }

    /// The cells of this share of them all: as even as can be, each cell in one.
    pub fn range(self, cells: u64) -> Range<u64> {
        let from = |part: u64| (u128::from(cells) * u128::from(part) / u128::from(self.of)) as u64;
        from(self.part - 1)..from(self.part)
    }
}

/// Why a text is no head of rows.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum SheetError {
    /// It is something else.
    #[error("it is no study: its first line is no head of one")]
    NotOne,
    /// It is of another edition.
    #[error("it is of edition {0} of the format, and this version reads edition {EDITION}")]
    Edition(u32),
}

/// Why two files are not put together.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum MergeError {
    /// They are of different versions.
    #[error("it was played by version {other} of Tin Crown, and the first by {first}")]
    Version {
        /// That of the first.
        first: String,
        /// That of the other.
        other: String,
    },
    /// They vary other things.
    #[error("it varies {other}, and the first {first}")]
    Axes {
        /// What the first varies.
        first: String,
        /// What the other does.
        other: String,
    },
    /// They are of different encounters, drills or measures.
    #[error("it is of another study: of another encounter, or with other drills or measures")]
    Other,
    /// The cells are shared out otherwise.
    #[error("it is one of {other} shards, and the first one of {first}")]
    Shards {
        /// How many shards the first is one of.
        first: u64,
        /// How many the other is.
        other: u64,
    },
}

/// What a sheet is made from.
pub(super) struct Making<'a> {
    pub encounter: &'a Encounter,
    pub plan: &'a Plan,
    pub drills: &'a [String],
    pub axes: &'a [Axis],
    pub measures: &'a [(String, Measure)],
    pub samples: Option<Samples>,
    pub cells: u64,
    pub columns: &'a [Column],
}

impl Sheet {
    pub(super) fn new(making: &Making<'_>) -> Sheet {
        let axes = making.axes.iter().map(|axis| {
            let written = axis.to_string();
            AxisHead {
                path: axis.path(),
                values: written
                    .split_once('=')
                    .map_or("", |(_, values)| values)
                    .to_owned(),
                present: axis.present(making.encounter),
            }
        });
        let actors = making.plan.actors.iter();
        let players = actors.filter(|own| making.plan.spec_of(own.spec).player);
        Sheet {
            study: "sweep".to_owned(),
            edition: EDITION,
            version: env!("CARGO_PKG_VERSION").to_owned(),
            title: making.plan.title().to_owned(),
            digest: digest(making),
            drills: making.drills.to_vec(),
            players: players.map(|own| own.id.clone()).collect(),
            axes: axes.collect(),
            cells: making.cells,
            shard: None,
            columns: making.columns.to_vec(),
        }
    }

    /// The same for a share of the cells.
    #[must_use]
    pub fn of_shard(&self, shard: Option<Shard>) -> Sheet {
        Sheet {
            shard,
            ..self.clone()
        }
    }

    /// The cells that its file has.
    pub fn range(&self) -> Range<u64> {
        self.shard
            .map_or(0..self.cells, |shard| shard.range(self.cells))
    }

    /// How many rows its file has.
    pub fn rows(&self) -> u64 {
        let cells = self.range();
        (cells.end - cells.start) * self.drills.len() as u64
    }

    /// The first line of its file, its line end included.
    pub fn to_json(&self) -> String {
        let text = serde_json::to_string(self)
            .unwrap_or_else(|error| unreachable!("a head is plain data: {error}"));
        text + "\n"
    }

    /// Reads the first line of a file.
    ///
    /// # Errors
    ///
    /// When it is none.
    pub fn from_json(line: &str) -> Result<Sheet, SheetError> {
        #[derive(Deserialize)]
        struct Edition {
            study: String,
            edition: u32,
        }
        let Edition { study, edition } =
            serde_json::from_str(line).map_err(|_| SheetError::NotOne)?;
        if study != "sweep" {
            return Err(SheetError::NotOne);
        }
        if edition != EDITION {
            return Err(SheetError::Edition(edition));
        }
        serde_json::from_str(line).map_err(|_| SheetError::NotOne)
    }

    /// Whether the rows of another file belong to the same study.
    ///
    /// # Errors
    ///
    /// Why they do not.
    pub fn belongs(&self, other: &Sheet) -> Result<(), MergeError> {
        if self.version != other.version {
            return Err(MergeError::Version {
                first: self.version.clone(),
                other: other.version.clone(),
            });
        }
        if self.axes != other.axes {
            let axes = |sheet: &Sheet| {
                let axes = sheet.axes.iter();
                let axes: Vec<String> = axes
                    .map(|axis| format!("{}={}", axis.path, axis.values))
                    .collect();
                axes.join(" ")
            };
            return Err(MergeError::Axes {
                first: axes(self),
                other: axes(other),
            });
        }
        if self.of_shard(None) != other.of_shard(None) {
            return Err(MergeError::Other);
        }
        let of = |sheet: &Sheet| sheet.shard.map_or(1, |shard| shard.of);
        if of(self) != of(other) {
            return Err(MergeError::Shards {
                first: of(self),
                other: of(other),
            });
        }
        Ok(())
    }
}

/// The first half of a SHA-256 of all that decides the rows, in hexadecimal digits.
fn digest(making: &Making<'_>) -> String {
    let mut hash = Sha256::new();
    let mut add = |text: &str| {
        hash.update((text.len() as u64).to_le_bytes());
        hash.update(text.as_bytes());
    };
    add(env!("CARGO_PKG_VERSION"));
    add(&making.encounter.to_toml());
    for drill in making.drills {
        add(drill);
        if let Ok(drill) = making.plan.drill(drill) {
            // Recordings count with what they tell.
            add(&making.plan.digest(drill));
        }
    }
    for axis in making.axes {
        add(&axis.to_string());
    }
    for (name, measure) in making.measures {
        add(name);
        let mut keys = Vec::new();
        measure.write_keys(&mut keys);
        add(&write_toml(&keys));
    }
    if let Some(Samples {
        count,
        spread,
        seed,
    }) = making.samples
    {
        let spread = match spread {
            Spread::Latin => "latin",
            Spread::Sobol => "sobol",
        };
        add(&format!("{count} {spread} {seed}"));
    }
    let all = hash.finalize();
    all[..16].iter().map(|byte| format!("{byte:02x}")).collect()
}
