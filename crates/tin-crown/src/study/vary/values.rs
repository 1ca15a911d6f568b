//! The values of an axis: a list, steps, or a range.

use std::fmt;

use super::decimal::{Decimal, FINE};
use crate::encounter::Setting;

/// One of the values.
#[derive(Clone, Debug, PartialEq)]
pub enum Value {
    /// A number.
    Number(f64, String),
    /// A duration, or a word.
    Text(String),
    /// True or false.
    Flag(bool),
}

/// The values of an axis.
#[derive(Clone, Debug, PartialEq)]
pub struct Values(Sort);

#[derive(Clone, Debug, PartialEq)]
enum Sort {
    Listed(Vec<Value>),
    Steps {
        from: Decimal,
        step: Decimal,
        count: u64,
        unit: &'static str,
    },
    Between {
        from: Decimal,
        to: Decimal,
        unit: &'static str,
        /// How many decimals are drawn at most.
        places: u32,
    },
}

/// The units of a duration; a plain number has none.
const UNITS: [&str; 3] = ["ms", "s", "t"];
/// How many values a list, or steps by factor, may have.
const MOST_LISTED: usize = 10_000;
/// Significant digits of what is spaced by a factor.
const DIGITS: i32 = 4;

impl Value {
    fn read(text: &str) -> Value {
        match (Decimal::read(text), text) {
            (Some(number), _) => Value::Number(number.as_f64(), number.to_string()),
            (None, "true") => Value::Flag(true),
            (None, "false") => Value::Flag(false),
            (None, text) => Value::Text(text.to_owned()),
        }
    }

    fn of(number: Decimal, unit: &str) -> Value {
        match unit {
            "" => Value::Number(number.as_f64(), number.to_string()),
            unit => Value::Text(format!("{number}{unit}")),
        }
    }

    pub(super) fn setting(&self) -> Setting {
        match self {
            Value::Number(number, _) => Setting::from(*number),
            Value::Text(text) => Setting::from(text.as_str()),
            Value::Flag(flag) => Setting::from(*flag),
        }
    }

    pub(super) fn is_number(&self) -> bool {
        matches!(self, Value::Number(..))
    }

    pub(super) fn as_text(&self) -> Option<&str> {
        match self {
            Value::Number(_, text) | Value::Text(text) => Some(text),
            Value::Flag(_) => None,
        }
    }

    /// Its place on an axis of numbers: of a duration the number before its unit.
    pub fn place(&self) -> Option<f64> {
        match self {
            Value::Number(number, _) => Some(*number),
            Value::Text(text) => Some(split(text).0?.as_f64()),
            Value::Flag(_) => None,
        }
    }

    /// A value as it is written.
    pub fn parse(text: &str) -> Value {
        Value::read(text)
    }
}

impl fmt::Display for Value {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Value::Number(_, text) | Value::Text(text) => f.write_str(text),
            Value::Flag(flag) => flag.fmt(f),
        }
    }
}

/// A number, if it is one, and its unit.
fn split(text: &str) -> (Option<Decimal>, &'static str) {
    for unit in UNITS {
        if let Some(number) = text.strip_suffix(unit).and_then(Decimal::read) {
            return (Some(number), unit);
        }
    }
    (Decimal::read(text), "")
}

impl Values {
    pub(super) fn read(text: &str) -> Result<Values, &'static str> {
        let Some((from, rest)) = text.split_once("..") else {
            let values: Vec<Value> = text.split(',').map(str::trim).map(Value::read).collect();
            if values.iter().any(|value| value.as_text() == Some("")) {
                return Err("one of them is empty");
            }
            if values.len() > MOST_LISTED {
                return Err("a list may have 10000");
            }
            return Ok(Values(Sort::Listed(values)));
        };
        let (to, how) = match rest.find(['/', ':']) {
            Some(at) => (&rest[..at], Some((&rest[at..=at], rest[at + 1..].trim()))),
            None => (rest, None),
        };
        let ((from, one), (to, other)) = (split(from.trim()), split(to.trim()));
        let (Some(from), Some(to)) = (from, to) else {
            return Err("a range goes from a number to a number");
        };
        let unit = match (one, other) {
            (one, other) if one == other => one,
            ("", unit) => unit,
            _ => return Err("both ends need the same unit"),
        };
        if from > to {
            return Err("the range is empty: its end is less than its beginning");
        }
        match how {
            // Ticks are whole.
            None => Ok(Values(Sort::Between {
                from,
                to,
                unit,
                places: if unit == "t" { 0 } else { FINE },
            })),
            Some(("/", how)) => match how.strip_prefix('x') {
                Some(factor) => by_factor(from, to, factor, unit),
                None => by_step(from, to, how, unit),
            },
            Some((_, count)) => spaced(from, to, count, unit),
        }
    }

    pub(super) fn len(&self) -> Option<u64> {
        match &self.0 {
            Sort::Listed(values) => Some(values.len() as u64),
            Sort::Steps { count, .. } => Some(*count),
            Sort::Between { .. } => None,
        }
    }

    pub(super) fn value(&self, nth: u64) -> Value {
        match &self.0 {
            Sort::Listed(values) => values[nth as usize].clone(),
            Sort::Steps {
                from, step, unit, ..
            } => Value::of(from.stepped(*step, nth), unit),
            Sort::Between { .. } => unreachable!("a range without steps is only drawn from"),
        }
    }

    /// Draws numbers of at most so many decimals.
    pub(super) fn round(&mut self, most: u32) {
        if let Sort::Between { places, .. } = &mut self.0 {
            *places = most;
        }
    }

    pub(super) fn drawn(&self, share: f64) -> Value {
        match (&self.0, self.len()) {
            (
                Sort::Between {
                    from,
                    to,
                    unit,
                    places,
                },
                _,
            ) => Value::of(from.toward(*to, share).rounded_to(*places), unit),
            (_, count) => {
                let count = count.unwrap_or_default();
                self.value(((share * count as f64) as u64).min(count - 1))
            }
        }
    }
}

fn by_step(
    from: Decimal,
    to: Decimal,
    step: &str,
    unit: &'static str,
) -> Result<Values, &'static str> {
    let (step, own) = split(step);
    let Some(step) = step.filter(|_| own.is_empty() || own == unit) else {
        return Err("the step is a number, with the unit of the range");
    };
    if !step.is_positive() {
        return Err("a step of nothing, or backward, never gets there");
    }
    let count = from.steps_to(to, step);
    Ok(Values(Sort::Steps {
        from,
        step,
        count,
        unit,
    }))
}

fn by_factor(from: Decimal, to: Decimal, factor: &str, unit: &str) -> Result<Values, &'static str> {
    let factor = Decimal::read(factor).map_or(0.0, Decimal::as_f64);
    if factor <= 1.0 {
        return Err("the factor after `/x` is a number above 1");
    }
    if !from.is_positive() {
        return Err("a range by factor begins above 0");
    }
    let (mut values, mut at) = (Vec::new(), from.as_f64());
    while Decimal::near(at, DIGITS) <= to {
        values.push(Value::of(Decimal::near(at, DIGITS), unit));
        if values.len() > MOST_LISTED {
            return Err("a range by factor may have 10000 values");
        }
        at *= factor;
    }
    values.dedup();
    Ok(Values(Sort::Listed(values)))
}

fn spaced(from: Decimal, to: Decimal, count: &str, unit: &str) -> Result<Values, &'static str> {
    let (count, even) = match count.strip_suffix('x') {
        Some(count) => (count, false),
        None => (count, true),
    };
    let count: usize = match count.parse() {
        Ok(count) if (2..=MOST_LISTED).contains(&count) => count,
        _ => return Err("after `:` stands how many values, from 2 to 10000"),
    };
    if !even && !from.is_positive() {
        return Err("a range by factor begins above 0");
    }
    let ratio = to.as_f64() / from.as_f64();
    let values = (0..count).map(|nth| {
        let share = nth as f64 / (count - 1) as f64;
        let number = match even {
            true => from.toward(to, share),
            false => Decimal::near(from.as_f64() * libm::pow(ratio, share), DIGITS),
        };
        // Ticks are whole.
        Value::of(
            if unit == "t" {
                number.rounded_to(0)
            } else {
                number
            },
            unit,
        )
    });
    let mut values: Vec<Value> = values.collect();
    values.dedup();
    Ok(Values(Sort::Listed(values)))
}
