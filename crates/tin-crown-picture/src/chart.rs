//! Charts of a sweep: a line for one value that is varied, a heat map for two, several of them for more.

mod axis;
mod heat;
mod lines;

use std::collections::{BTreeMap, BTreeSet};

use tin_crown::study::{Datum, Holds, Row, Sheet};

use crate::canvas::Canvas;
use crate::look::Look;
use crate::scene::heading;
use crate::text::{Weight, fitted};
use axis::Axis;

/// How wide a chart is.
const WIDTH: f64 = 1280.0;

/// What a sweep came to, gathered row by row: however many there are, it keeps a few thousand numbers.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::study::{Setup, Sweep};
/// use tin_crown_picture::{Chart, Look};
///
/// let checked = tin_crown::check(file);
/// let setup = Setup {
///     axes: vec!["kind.tin-porter.invincible.after_hit=0.1s..0.5s/0.2s".parse()?],
///     drills: vec!["careless".to_owned()],
///     ..Setup::default()
/// };
/// let sweep = Sweep::new(&checked.encounter.unwrap(), &checked.plan.unwrap(), setup)?;
/// let mut chart = Chart::new(sweep.sheet(), Some("taken.porter"))?;
/// for row in sweep.rows(0..sweep.cells()) {
///     chart.add(&row);
/// }
/// assert!(chart.svg(&Look::paper()).contains("Damage that porter took"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Chart {
    sheet: Sheet,
    column: usize,
    axes: Vec<Axis>,
    /// By drill and place on each axis.
    spots: BTreeMap<(usize, Vec<usize>), Spot>,
    /// The numbers of the expectations that are missed somewhere, by drill.
    missed: BTreeSet<(usize, u32)>,
}

/// A column that no chart can show.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("there is no column of numbers `{name}`; there are: {}", .known.join(", "))]
pub struct NoColumn {
    /// The column that was asked for.
    pub name: String,
    /// Those that there are.
    pub known: Vec<String>,
}

/// What the rows of one place came to.
#[derive(Clone, Debug, Default)]
struct Spot {
    sum: f64,
    least: f64,
    most: f64,
    count: u32,
    /// How many rows miss an expectation, by its number.
    missed: BTreeMap<u32, u32>,
    rows: u32,
}

impl Spot {
    fn mean(&self) -> Option<f64> {
        (self.count > 0).then(|| self.sum / f64::from(self.count))
    }
}

impl Chart {
    /// One of a column of the rows; without a name, of what was measured first, else of the damage that the first
    /// player took, else of how many expectations are met.
    ///
    /// # Errors
    ///
    /// When there is no such column of numbers.
    pub fn new(sheet: &Sheet, column: Option<&str>) -> Result<Chart, NoColumn> {
        let drawn = |holds: Holds| !holds.is_text() && !matches!(holds, Holds::Cell);
        let columns = sheet.columns.iter();
        let found = match column {
            Some(name) => columns
                .clone()
                .position(|column| column.name == name && drawn(column.holds)),
            None => {
                let taken = sheet
                    .players
                    .first()
                    .map(|player| format!("taken.{player}"));
                let place = |is: &dyn Fn(&tin_crown::study::Column) -> bool| {
                    sheet.columns.iter().position(is)
                };
                place(&|column| column.holds == Holds::Measure)
                    .or_else(|| place(&|column| taken.as_deref() == Some(&column.name)))
                    .or_else(|| place(&|column| column.holds == Holds::Met))
            }
        };
        let Some(column) = found else {
            let known = columns.filter(|column| drawn(column.holds));
            return Err(NoColumn {
                name: column.unwrap_or_default().to_owned(),
                known: known.map(|column| column.name.clone()).collect(),
            });
        };
        Ok(Chart {
            axes: sheet.axes.iter().map(Axis::new).collect(),
            sheet: sheet.clone(),
            column,
            spots: BTreeMap::new(),
            missed: BTreeSet::new(),
        })
    }

    /// Takes in a row.
    pub fn add(&mut self, row: &Row) {
        let columns = &self.sheet.columns;
        let drill = row.first(columns, Holds::Drill).and_then(Datum::text);
        let drill = self
            .sheet
            .drills
            .iter()
            .position(|own| Some(own.as_str()) == drill);
        let values = columns
            .iter()
            .zip(&row.0)
            .filter(|(column, _)| column.holds == Holds::Value);
        let values = values.filter_map(|(_, value)| value.as_ref().and_then(Datum::text));
        let places: Vec<usize> = self
            .axes
            .iter_mut()
            .zip(values)
            .map(|(axis, value)| axis.place(value))
            .collect();
        let Some(drill) = drill.filter(|_| row.first(columns, Holds::Error).is_none()) else {
            return;
        };
        let spot = self.spots.entry((drill, places)).or_default();
        spot.rows += 1;
        let sums = columns[self.column].holds.is_sum();
        let number = row.0[self.column].as_ref().and_then(Datum::number);
        if let Some(number) = number.or(sums.then_some(0.0)) {
            spot.least = if spot.count == 0 {
                number
            } else {
                spot.least.min(number)
            };
            spot.most = if spot.count == 0 {
                number
            } else {
                spot.most.max(number)
            };
            spot.sum += number;
            spot.count += 1;
        }
        let missed = row
            .first(columns, Holds::Missed)
            .and_then(Datum::text)
            .unwrap_or_default();
        for number in missed
            .split_whitespace()
            .filter_map(|number| number.parse().ok())
        {
            *spot.missed.entry(number).or_default() += 1;
            self.missed.insert((drill, number));
        }
    }

    /// The picture, as an SVG document.
    pub fn svg(&self, look: &Look) -> String {
        match self.axes.as_slice() {
            [axis] => lines::svg(self, axis, look),
            _ => heat::svg(self, look),
        }
    }

    /// What is drawn, in words.
    fn said(&self) -> String {
        let column = &self.sheet.columns[self.column];
        let id = column.name.split_once('.').map_or("", |(_, id)| id);
        match column.holds {
            Holds::Taken => format!("damage that {id} took"),
            Holds::Dealt => format!("damage that {id} dealt"),
            Holds::Deaths => format!("deaths of {id}"),
            Holds::Met => "expectations met".to_owned(),
            Holds::Expected => "expectations".to_owned(),
            Holds::Tick => "tick on which the drill ended".to_owned(),
            Holds::Seconds => "seconds until the drill ended".to_owned(),
            _ => column.name.clone(),
        }
    }

    /// The least and the greatest mean, drawn from nothing on where that is near.
    fn span(&self) -> (f64, f64) {
        let means = || self.spots.values().filter_map(Spot::mean);
        let least = means().fold(f64::INFINITY, f64::min);
        let most = means().fold(f64::NEG_INFINITY, f64::max);
        if least > most {
            return (0.0, 1.0);
        }
        let least = if least > 0.0 && least < most * 0.6 {
            0.0
        } else {
            least
        };
        if most - least < 1e-9 {
            return ((least - 1.0).min(0.0).max(least - 1.0), most + 1.0);
        }
        (least, most)
    }

    /// The ground with its title.
    fn page(&self, look: &Look, high: f64, caption: &str) -> Canvas {
        let said = self.said();
        let mut said: String = said
            .chars()
            .take(1)
            .flat_map(char::to_uppercase)
            .chain(said.chars().skip(1))
            .collect();
        let axes = self.sheet.axes.iter().take(2);
        let paths: Vec<&str> = axes.map(|axis| axis.path.as_str()).collect();
        said += &format!(", by {}", paths.join(" and "));
        let title = fitted(&said, 22.0, Weight::SemiBold, WIDTH - 128.0);
        let caption = format!("{}: {caption}", self.sheet.title);
        let mut canvas = Canvas::new(WIDTH, high, &format!("{title}, {caption}"));
        canvas.rect([0.0, 0.0, WIDTH, high], &[("fill", look.ground)]);
        heading(&mut canvas, look, &title, &caption);
        crate::legend::hatch(&mut canvas, look);
        canvas
    }

    /// A number as it is shown.
    fn shown(number: f64) -> String {
        let rounded = match number.abs() {
            size if size >= 100.0 => number.round(),
            size if size >= 10.0 => (number * 10.0).round() / 10.0,
            _ => (number * 100.0).round() / 100.0,
        };
        (rounded + 0.0).to_string()
    }
}
