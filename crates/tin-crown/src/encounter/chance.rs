//! Values that may be drawn by chance.

use serde::Serialize;

use crate::finding::Step;
use crate::syntax::set::{self, Missed};
use crate::syntax::{At, Key, Shape, Syntax, TableShape, Together};
use crate::text::{Entry, Value};

/// A value, or several of which one is drawn. What is drawn depends only on the drill's seed, the
/// actor's id and the purpose.
///
/// ```
/// use tin_crown::encounter::Chance;
///
/// let always: Chance<f64> = 240.0.into();
/// assert_eq!(always.all().count(), 1);
/// assert_eq!(Chance::Range([200.0, 260.0]).all().count(), 2);
/// assert_eq!(Chance::Range([200.0, 260.0]).mean(), 230.0);
/// ```
#[derive(Clone, Debug, PartialEq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Chance<T> {
    /// Always this one.
    Fixed(T),
    /// One of these, each as likely as the others.
    Choice(Vec<T>),
    /// Anything from the first to the second. Of points: in the rectangle between them.
    Range([T; 2]),
}

impl<T> Chance<T> {
    /// Every value that is written: for a range its two ends.
    pub fn all(&self) -> impl Iterator<Item = &T> {
        match self {
            Chance::Fixed(value) => std::slice::from_ref(value),
            Chance::Choice(values) => values.as_slice(),
            Chance::Range(ends) => ends.as_slice(),
        }
        .iter()
    }

    /// The same with every value changed.
    pub fn map<U>(&self, mut change: impl FnMut(&T) -> U) -> Chance<U> {
        self.map_placed(|_, value| change(value))
    }

    /// The same with every value changed by `change`, which is told where it is written: `None` for
    /// one that is always the same.
    pub(crate) fn map_placed<U>(
        &self,
        mut change: impl FnMut(Option<(&'static str, usize)>, &T) -> U,
    ) -> Chance<U> {
        match self {
            Chance::Fixed(value) => Chance::Fixed(change(None, value)),
            Chance::Choice(values) => {
                let values = values.iter().enumerate();
                Chance::Choice(
                    values
                        .map(|(nth, value)| change(Some(("choice", nth)), value))
                        .collect(),
                )
            }
            Chance::Range([from, to]) => Chance::Range([
                change(Some(("range", 0)), from),
                change(Some(("range", 1)), to),
            ]),
        }
    }
}

impl Chance<f64> {
    /// Its average.
    pub fn mean(&self) -> f64 {
        self.all().sum::<f64>() / self.all().count().max(1) as f64
    }
}

impl<T> From<T> for Chance<T> {
    fn from(value: T) -> Chance<T> {
        Chance::Fixed(value)
    }
}

impl<T: Default> Default for Chance<T> {
    fn default() -> Chance<T> {
        Chance::Fixed(T::default())
    }
}

/// `240`, `{ choice = [200, 240] }` or `{ range = [200, 260] }`; the same of points.
impl<T: Syntax> Syntax for Chance<T>
where
    [T; 2]: Syntax,
{
    fn read(at: At<'_>) -> Option<Chance<T>> {
        if !at.is_table() {
            return T::read(at).map(Chance::Fixed);
        }
        at.table(|fields| {
            let choice: Option<Vec<T>> = fields.get("choice");
            let range: Option<[T; 2]> = fields.get("range");
            fields.one_of(&["choice", "range"]);
            choice.map(Chance::Choice).or(range.map(Chance::Range))
        })
    }

    fn write(&self) -> Value {
        let (key, value) = match self {
            Chance::Fixed(value) => return value.write(),
            Chance::Choice(values) => ("choice", values.write()),
            Chance::Range(ends) => ("range", ends.write()),
        };
        Value::Table(vec![Entry::new(key, value)])
    }

    fn shape() -> Shape {
        let key = |name, about, shape| Key {
            name,
            about,
            required: false,
            due: false,
            default: None,
            absent: None,
            shape,
        };
        let drawn = TableShape {
            name: "Chance",
            about: "A value drawn by chance.",
            keys: vec![
                key("choice", "One of these, each as likely.", <Vec<T>>::shape()),
                key(
                    "range",
                    "Anything between; of points, in the rectangle between.",
                    <[T; 2]>::shape(),
                ),
            ],
            together: vec![Together::OneOf(&["choice", "range"])],
        };
        Shape::Any(vec![T::shape(), Shape::Table(drawn)])
    }

    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
        let Some((first, rest)) = steps.split_first() else {
            return set::whole(self, steps, at);
        };
        match (self, first) {
            (Chance::Choice(values), Step::Key(key)) if key == "choice" => {
                values.set(rest, at).map_err(Missed::further)
            }
            (Chance::Range(ends), Step::Key(key)) if key == "range" => {
                ends.set(rest, at).map_err(Missed::further)
            }
            (Chance::Fixed(value), Step::Index(_)) => value.set(steps, at),
            _ => Err(Missed::here([""; 0])),
        }
    }
}
