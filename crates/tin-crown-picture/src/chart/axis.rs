//! An axis of a chart: a place for each value, or for each stretch of values where there are many.

use tin_crown::study::{self, AxisHead, Value};

/// So many values have a place each.
const MOST: usize = 64;

/// The places of the values of an axis.
#[derive(Clone, Debug)]
pub(super) struct Axis {
    pub path: String,
    sort: Sort,
    /// What the encounter has now.
    pub present: Option<String>,
}

#[derive(Clone, Debug)]
enum Sort {
    /// A place for each, in order.
    Each(Vec<String>),
    /// Equal stretches from the first number to the last, whose unit it is.
    Stretches([f64; 2], String),
}

impl Axis {
    pub fn new(head: &AxisHead) -> Axis {
        // The values alone are asked for: a path may have names in it of whatever letters.
        let axis = format!("path={}", head.values).parse::<study::Axis>();
        let sort = axis.ok().map(|axis| match axis.len() {
            Some(count) if count <= MOST as u64 => {
                Sort::Each((0..count).map(|nth| axis.value(nth).to_string()).collect())
            }
            Some(count) => ends(&axis.value(0), &axis.value(count - 1)),
            None => ends(&axis.drawn(0.0), &axis.drawn(1.0)),
        });
        Axis {
            path: head.path.clone(),
            sort: sort.unwrap_or(Sort::Each(Vec::new())),
            present: head.present.clone(),
        }
    }

    /// How many places there are.
    pub fn len(&self) -> usize {
        match &self.sort {
            Sort::Each(values) => values.len(),
            Sort::Stretches(..) => MOST,
        }
    }

    /// The place of a value.
    pub fn place(&mut self, value: &str) -> usize {
        match &mut self.sort {
            Sort::Each(values) => match values.iter().position(|known| known == value) {
                Some(place) => place,
                None => {
                    values.push(value.to_owned());
                    values.len() - 1
                }
            },
            Sort::Stretches([from, to], _) => {
                let at = Value::parse(value).place().unwrap_or(*from);
                let share = (at - *from) / (*to - *from).max(1e-12);
                ((share * MOST as f64) as usize).min(MOST - 1)
            }
        }
    }

    /// What stands at a place.
    pub fn label(&self, place: usize) -> String {
        match &self.sort {
            Sort::Each(values) => values.get(place).cloned().unwrap_or_default(),
            Sort::Stretches([from, to], unit) => {
                let at = from + (to - from) * (place as f64 + 0.5) / MOST as f64;
                format!("{}{unit}", super::Chart::shown(at))
            }
        }
    }

    /// Where a place is on a line of numbers, if all are numbers.
    pub fn number(&self, place: usize) -> Option<f64> {
        match &self.sort {
            Sort::Each(values) => {
                let numbers: Option<Vec<f64>> = values
                    .iter()
                    .map(|value| Value::parse(value).place())
                    .collect();
                numbers?.get(place).copied()
            }
            Sort::Stretches([from, to], _) => {
                Some(from + (to - from) * (place as f64 + 0.5) / MOST as f64)
            }
        }
    }

    /// Where the present value is: on the line of numbers, or at which place.
    pub fn now(&self) -> Option<(Option<f64>, Option<usize>)> {
        let present = self.present.as_deref()?;
        let number = Value::parse(present).place();
        let place = match &self.sort {
            Sort::Each(values) => values.iter().position(|value| {
                value == present
                    || (number.is_some()
                        && same_unit(value, present)
                        && Value::parse(value).place() == number)
            }),
            Sort::Stretches([from, to], _) => {
                number.filter(|at| at >= from && at <= to).map(|at| {
                    (((at - from) / (to - from).max(1e-12) * MOST as f64) as usize).min(MOST - 1)
                })
            }
        };
        let unit = same_unit(&self.label(0), present);
        Some((
            number.filter(|_| unit),
            place.filter(|_| unit || number.is_none()),
        ))
    }
}

/// Whether two have the same letters after their numbers.
fn same_unit(one: &str, other: &str) -> bool {
    unit(one) == unit(other)
}

fn unit(value: &str) -> &str {
    value.trim_start_matches(|c: char| c.is_ascii_digit() || c == '.' || c == '-')
}

fn ends(first: &Value, last: &Value) -> Sort {
    let ends = [first, last].map(|value| value.place().unwrap_or_default());
    Sort::Stretches(ends, unit(&first.to_string()).to_owned())
}
