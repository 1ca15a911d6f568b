//! Values that are no tables of their own: texts, numbers, points, durations, lists, names.

use super::set::{self, Missed};
use super::{At, Shape, Syntax};
use crate::finding::{Code, Finding, Step};
use crate::map::Map;
use crate::text::{Entry, Node, Value};
use crate::time::Duration;

impl Syntax for String {
    fn read(at: At<'_>) -> Option<String> {
        at.text()
            .map_or_else(|| at.wrong("a string"), |text| Some(text.to_owned()))
    }

    fn write(&self) -> Value {
        Value::Text(self.clone())
    }

    fn shape() -> Shape {
        Shape::Text("string")
    }
}

impl Syntax for f64 {
    fn read(at: At<'_>) -> Option<f64> {
        match at.node.value {
            Value::Number(number) => Some(number),
            _ => at.wrong("a number"),
        }
    }

    fn write(&self) -> Value {
        Value::Number(*self)
    }

    fn shape() -> Shape {
        Shape::Number(None)
    }
}

/// A whole number, not negative.
impl Syntax for u32 {
    fn read(at: At<'_>) -> Option<u32> {
        let number = f64::read(at)?;
        if number >= 0.0 && number <= f64::from(u32::MAX) && number == number.trunc() {
            return Some(number as u32);
        }
        let message = format!(
            "expected a whole number from 0 to {}, found {}",
            u32::MAX,
            at.written()
        );
        at.report(Finding::new(Code::OutOfRange, at.path.clone(), message));
        None
    }

    fn write(&self) -> Value {
        Value::Number(f64::from(*self))
    }

    fn shape() -> Shape {
        Shape::Whole(None)
    }
}

impl Syntax for bool {
    fn read(at: At<'_>) -> Option<bool> {
        match at.node.value {
            Value::Flag(flag) => Some(flag),
            _ => at.wrong("true or false"),
        }
    }

    fn write(&self) -> Value {
        Value::Flag(*self)
    }

    fn shape() -> Shape {
        Shape::Flag
    }
}

impl Syntax for [f64; 2] {
    fn read(at: At<'_>) -> Option<[f64; 2]> {
        if let Value::Array(nodes) = &at.node.value
            && let [
                Node {
                    value: Value::Number(x),
                    ..
                },
                Node {
                    value: Value::Number(y),
                    ..
                },
            ] = nodes[..]
        {
            return Some([x, y]);
        }
        at.wrong("a pair of numbers, such as [12, 20]")
    }

    fn write(&self) -> Value {
        Value::array(self.iter().map(f64::write))
    }

    fn shape() -> Shape {
        Shape::Pair(Box::new(f64::shape()))
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        if steps.is_empty() {
            set::whole(self, steps, at)
        } else {
            set::element(self, steps, at)
        }
    }
}

impl Syntax for [[f64; 2]; 2] {
    fn read(at: At<'_>) -> Option<Self> {
        let points: Vec<[f64; 2]> = Syntax::read(at)?;
        points
            .try_into()
            .ok()
            .or_else(|| at.wrong("a pair of points, such as [[0, 0], [10, 0]]"))
    }

    fn write(&self) -> Value {
        Value::array(self.iter().map(Syntax::write))
    }

    fn shape() -> Shape {
        Shape::Pair(Box::new(<[f64; 2]>::shape()))
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        if steps.is_empty() {
            set::whole(self, steps, at)
        } else {
            set::element(self, steps, at)
        }
    }
}

impl Syntax for Duration {
    fn read(at: At<'_>) -> Option<Duration> {
        match &at.node.value {
            Value::Text(text) => match text.parse() {
                Ok(duration) => Some(duration),
                Err(error) => {
                    let message = format!("`{text}` is not a duration");
                    at.report(
                        Finding::new(Code::BadDuration, at.path.clone(), message)
                            .help(error.to_string()),
                    );
                    None
                }
            },
            Value::Number(number) => {
                let message = format!("expected a duration, found {number} without a unit");
                let ticks = match *number >= 0.0 && *number == number.trunc() {
                    true => format!("\"{number}t\" for ticks, "),
                    false => String::new(),
                };
                let help = format!("write {ticks}\"{number}s\" for seconds, or \"{number}ms\"");
                at.refuse(Code::BadDuration, message, help)
            }
            _ => at.wrong("a duration, such as \"0.5s\""),
        }
    }

    fn write(&self) -> Value {
        Value::Text(self.to_string())
    }

    fn shape() -> Shape {
        Shape::Duration
    }
}

impl<T: Syntax> Syntax for Vec<T> {
    fn read(at: At<'_>) -> Option<Vec<T>> {
        at.list(T::MOST, T::read)
    }

    fn write(&self) -> Value {
        Value::array(self.iter().map(T::write))
    }

    fn shape() -> Shape {
        Shape::List(Box::new(T::shape()), T::MOST)
    }

    fn over(&self, base: &Vec<T>) -> Vec<T> {
        if self.is_empty() { base } else { self }.clone()
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        if steps.is_empty() {
            set::whole(self, steps, at)
        } else {
            set::element(self, steps, at)
        }
    }
}

/// A table whose keys are names of the author's.
impl<T: Syntax + Default> Syntax for Map<String, T> {
    fn read(at: At<'_>) -> Option<Map<String, T>> {
        let Value::Table(entries) = &at.node.value else {
            return at.wrong("a table");
        };
        let read = |entry: &Entry| {
            let path = at.path.named(&entry.key);
            // What fails keeps its name, so that others who name it are not blamed.
            let value = T::read(at.within(&entry.node, &path)).unwrap_or_default();
            (entry.key.clone(), value)
        };
        Some(entries.iter().map(read).collect())
    }

    fn write(&self) -> Value {
        let entry = |(name, value): (&String, &T)| Entry::new(name.as_str(), value.write());
        Value::Table(self.iter().map(entry).collect())
    }

    fn shape() -> Shape {
        Shape::Map(Box::new(T::shape()))
    }

    fn over(&self, base: &Map<String, T>) -> Map<String, T> {
        let mut all = base.clone();
        for (name, own) in self {
            let laid = base
                .get(name)
                .map_or_else(|| own.clone(), |base| own.over(base));
            all.insert(name.clone(), laid);
        }
        all
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        let Some((first, rest)) = steps.split_first() else {
            return set::whole(self, steps, at);
        };
        if let Step::Key(name) = first
            && let Some(own) = self.get_mut(&**name)
        {
            return own.set(rest, at).map_err(Missed::further);
        }
        Err(Missed::here(self.keys()))
    }
}
