//! Sweeps: drills replayed under every value of some numbers.

mod columns;
mod design;
mod play;
mod sheet;
mod sobol;

pub use columns::{Column, Datum, Holds, Row};
pub use design::{Samples, Spread};
pub use sheet::{AxisHead, MergeError, Shard, ShardError, Sheet, SheetError};

use std::ops::Range;
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use super::parallel::{self, Pace};
use super::vary::{Axis, VaryError};
use super::workbench::Workbench;
use crate::encounter::{Encounter, Measure};
use crate::finding::Findings;
use crate::limits;
use crate::map::Set;
use crate::plan::{MeasurePlan, Plan, Unknown};
use design::Design;

/// What a sweep varies, plays and measures.
#[derive(Clone, Debug, Default)]
pub struct Setup {
    /// What is varied: at least one.
    pub axes: Vec<Axis>,
    /// The drills by name; all of the encounter when there are none.
    pub drills: Vec<String>,
    /// What is measured, each with the name of its column.
    pub measures: Vec<(String, Measure)>,
    /// Samples instead of every combination.
    pub samples: Option<Samples>,
}

/// Drills replayed under every value of some numbers: each combination is a cell, and each cell has a row for each
/// drill.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::study::{Setup, Sweep};
///
/// let checked = tin_crown::check(file);
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let setup = Setup {
///     axes: vec!["kind.tin-porter.invincible.after_hit=0.1s..0.5s/0.2s".parse()?],
///     drills: vec!["careless".to_owned()],
///     ..Setup::default()
/// };
/// let sweep = Sweep::new(&encounter, &plan, setup)?;
/// let rows = sweep.rows(0..sweep.cells());
/// assert_eq!(rows.len(), 3);
/// assert!(rows[0].to_json(sweep.columns()).contains("\"taken.porter\""));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Sweep {
    bench: Workbench,
    drills: Vec<String>,
    axes: Vec<Axis>,
    design: Design,
    measures: Vec<(String, Measure)>,
    /// The measures for the plan of the encounter as it is.
    measured: Vec<MeasurePlan>,
    plan: Arc<Plan>,
    /// The ids of those whose damage and deaths have columns.
    dealers: Vec<String>,
    takers: Vec<String>,
    columns: Vec<Column>,
    sheet: Sheet,
}

/// Why a sweep is impossible.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum SweepError {
    /// Nothing is varied.
    #[error("nothing is varied")]
    NoAxis,
    /// Something cannot be varied so.
    #[error(transparent)]
    Vary(#[from] VaryError),
    /// The encounter has no drill.
    #[error("there is no drill to replay")]
    NoDrill,
    /// There is no drill of that name.
    #[error(transparent)]
    Unknown(#[from] Unknown),
    /// There are more cells than one study may have.
    #[error("{} cells, and a study may have {}", .0.map_or("more than 2^64".to_owned(), |cells| cells.to_string()), limits::CELLS)]
    TooMany(Option<u64>),
    /// No samples are drawn.
    #[error("no samples are drawn")]
    NoSamples,
    /// A Sobol sequence has not so many axes.
    #[error("a Sobol sequence has at most {most} axes, and {axes} are varied")]
    TooManyAxes {
        /// How many are varied.
        axes: usize,
        /// How many there may be.
        most: usize,
    },
    /// Two columns have one name.
    #[error("there is a column `{0}` already")]
    TwoColumns(String),
    /// A measure names what is not there.
    #[error("measure `{name}`: {}", .findings.first_error())]
    Measure {
        /// The name of its column.
        name: String,
        /// What was found.
        findings: Findings,
    },
}

impl SweepError {
    /// What to do about it.
    pub fn help(&self) -> Option<String> {
        match self {
            SweepError::NoAxis => {
                Some("name at least one value: kind.hero.walk.speed=60..120/10".to_owned())
            }
            SweepError::Vary(error) => error.help().map(str::to_owned),
            SweepError::NoDrill => Some("add a drill to the encounter".to_owned()),
            SweepError::TooMany(_) => Some(
                "take larger steps, fewer axes, or draw some of the cells with --samples"
                    .to_owned(),
            ),
            SweepError::NoSamples => Some("draw at least one".to_owned()),
            SweepError::TooManyAxes { .. } => {
                Some("draw a Latin hypercube, or vary fewer".to_owned())
            }
            SweepError::TwoColumns(_) => Some("give the measure another name".to_owned()),
            SweepError::Unknown(_) | SweepError::Measure { .. } => None,
        }
    }
}

/// How many values of an axis are tried before anything is played; of a longer one its ends are.
const TRIED: u64 = 64;

impl Sweep {
    /// Checks all that can be checked before anything is played. `plan` is that of the encounter, with the
    /// recordings of the drills.
    ///
    /// # Errors
    ///
    /// When something cannot be varied, drawn or measured so.
    pub fn new(encounter: &Encounter, plan: &Arc<Plan>, setup: Setup) -> Result<Sweep, SweepError> {
        let Setup {
            mut axes,
            drills,
            measures,
            samples,
        } = setup;
        let drills = named(plan, drills)?;
        let bench = Workbench::new(encounter, plan, &drills);
        for axis in &mut axes {
            axis.suits(&bench);
        }
        varies(&bench, encounter, &axes, samples.is_some())?;
        if samples.is_some_and(|samples| samples.count == 0) {
            return Err(SweepError::NoSamples);
        }
        let is_sobol = samples.is_some_and(|samples| samples.spread == Spread::Sobol);
        if is_sobol && axes.len() > sobol::AXES {
            return Err(SweepError::TooManyAxes {
                axes: axes.len(),
                most: sobol::AXES,
            });
        }
        let design = Design::new(&axes, samples).ok_or(SweepError::TooMany(None))?;
        let cells = design.cells();
        if cells > limits::CELLS {
            return Err(SweepError::TooMany(Some(cells)));
        }
        for axis in &axes {
            possible(&bench, axis)?;
        }
        let measured = measures.iter().map(|(name, measure)| {
            plan.measure(measure)
                .map_err(|findings| SweepError::Measure {
                    name: name.clone(),
                    findings,
                })
        });
        let measured = measured.collect::<Result<_, _>>()?;
        let (dealers, takers) = play::cast(&bench, plan, &axes);
        let columns = play::columns(&axes, &measures, &dealers, &takers)?;
        let sheet = Sheet::new(&sheet::Making {
            encounter,
            plan,
            drills: &drills,
            axes: &axes,
            measures: &measures,
            samples,
            cells,
            columns: &columns,
        });
        Ok(Sweep {
            bench,
            drills,
            axes,
            design,
            measures,
            measured,
            plan: Arc::clone(plan),
            dealers,
            takers,
            columns,
            sheet,
        })
    }

    /// How many cells there are; each has a row for each drill.
    pub fn cells(&self) -> u64 {
        self.design.cells()
    }

    /// The drills, in the order of a cell's rows.
    pub fn drills(&self) -> &[String] {
        &self.drills
    }

    /// The columns of the rows.
    pub fn columns(&self) -> &[Column] {
        &self.columns
    }

    /// What stands at the head of its rows when they are written.
    pub fn sheet(&self) -> &Sheet {
        &self.sheet
    }

    /// The rows of some cells, in order, played on all cores.
    ///
    /// # Panics
    ///
    /// When there are no such cells.
    pub fn rows(&self, cells: Range<u64>) -> Vec<Row> {
        assert!(cells.end <= self.cells(), "a cell of the sweep");
        let drills = self.drills.len() as u64;
        // The rows of one cell share its plan: it is resolved once.
        let all = parallel::map(
            &cells,
            || self.bench.clone(),
            |bench, cell| self.play(bench, cell),
        );
        let mut rows = Vec::with_capacity(all.len() * drills as usize);
        rows.extend(all.into_iter().flatten());
        rows
    }

    /// The rows of some cells, a few at a time, until `stop` says so: after each few `take` gets them. Returns the
    /// first cell that was not played.
    ///
    /// # Errors
    ///
    /// What `take` returns.
    pub fn run<E>(
        &self,
        cells: Range<u64>,
        stop: &AtomicBool,
        mut take: impl FnMut(u64, Vec<Row>) -> Result<(), E>,
    ) -> Result<u64, E> {
        let (mut next, mut pace) = (cells.start, Pace::new());
        while next < cells.end && !stop.load(Ordering::Relaxed) {
            let (end, rows) = pace.few(next..cells.end, |few| self.rows(few));
            next = end;
            take(next, rows)?;
        }
        Ok(next)
    }
}

/// The drills that are named, or all, which have to be there.
fn named(plan: &Plan, drills: Vec<String>) -> Result<Vec<String>, SweepError> {
    if drills.is_empty() {
        let all = plan.all_drills().map(|drill| &plan.drills()[drill.index()]);
        let all: Vec<String> = all.map(|drill| drill.name().to_owned()).collect();
        return if all.is_empty() {
            Err(SweepError::NoDrill)
        } else {
            Ok(all)
        };
    }
    for drill in &drills {
        plan.drill(drill)?;
    }
    let mut once = drills;
    let mut seen = Set::new();
    once.retain(|drill| seen.insert(drill.clone()));
    Ok(once)
}

/// Whether there is something to vary, and each is a thing of its own.
fn varies(
    bench: &Workbench,
    encounter: &Encounter,
    axes: &[Axis],
    drawn: bool,
) -> Result<(), SweepError> {
    if axes.is_empty() {
        return Err(SweepError::NoAxis);
    }
    for (nth, axis) in axes.iter().enumerate() {
        if !drawn && axis.len().is_none() {
            return Err(VaryError::NoSteps(axis.to_string()).into());
        }
        if let Some(drill) = axis.drill()
            && encounter.drills.contains_key(&drill)
            && !bench.encounter.drills.contains_key(&drill)
        {
            return Err(VaryError::OtherDrill(axis.path()).into());
        }
        if let Some(other) = axes[..nth].iter().find(|other| other.meets(axis)) {
            return Err(VaryError::Twice(other.path(), axis.path()).into());
        }
    }
    Ok(())
}

/// Whether the encounter can have the values of an axis, one by one.
fn possible(bench: &Workbench, axis: &Axis) -> Result<(), VaryError> {
    let values: Vec<_> = match axis.len() {
        Some(count) if count <= TRIED => (0..count).map(|nth| axis.value(nth)).collect(),
        Some(count) => [0, count - 1].map(|nth| axis.value(nth)).to_vec(),
        None => [0.0, 1.0].map(|share| axis.drawn(share)).to_vec(),
    };
    for value in values {
        let mut bench = bench.clone();
        axis.set(&mut bench.encounter, &value)?;
        bench.plan().map_err(|findings| VaryError::Impossible {
            path: axis.path(),
            value: value.to_string(),
            why: findings.first_error(),
        })?;
    }
    Ok(())
}
