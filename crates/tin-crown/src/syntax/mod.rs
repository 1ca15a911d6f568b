//! How values stand in a file. Each key is declared once, on a field of a type of `encounter`; from
//! that come reading, writing, laying over, the JSON Schema and the reference.

mod at;
mod fields;
pub(crate) mod set;
mod shape;
mod values;

pub(crate) use at::At;
pub(crate) use fields::Fields;
pub(crate) use shape::{Key, Shape, TableShape, Together, Word};
pub(crate) use tin_crown_derive::{Choice, Table, Words};

use crate::finding::Step;
use crate::limits;
use crate::text::{Entry, Value};

/// What can stand in a file.
pub(crate) trait Syntax: Clone {
    /// How many of them a list may have.
    const MOST: usize = limits::LIST;

    /// Reads it. `None`, with a finding, when the value is of the wrong sort.
    fn read(at: At<'_>) -> Option<Self>;

    /// Writes it, so that reading gives the same again.
    fn write(&self) -> Value;

    /// Describes what is read.
    fn shape() -> Shape;

    /// This laid over that of `base`.
    #[must_use]
    fn over(&self, _base: &Self) -> Self {
        self.clone()
    }

    /// Sets what a path within it leads to.
    fn set(&mut self, steps: &[Step], at: At<'_>) -> Result<(), set::Missed> {
        set::whole(self, steps, at)
    }

    /// One of which nothing is said yet, where that makes sense.
    fn blank() -> Option<Self> {
        None
    }

    /// The name by which a path finds it in a list.
    fn label(&self) -> Option<&str> {
        None
    }
}

/// A table whose keys are declared one by one; others may take them in among their own.
pub(crate) trait Table: Sized {
    /// Reads its keys.
    fn read_keys(fields: &mut Fields<'_>) -> Option<Self>;

    /// Writes its keys, but for those that hold their default.
    fn write_keys(&self, entries: &mut Vec<Entry>);

    /// Its keys, in the order in which they are written.
    fn keys() -> Vec<Key>;

    /// All that is declared of it.
    fn table() -> TableShape;
}

/// A table that may be written as a single value of type `S`.
pub(crate) trait Short<S: Syntax>: Sized {
    /// What the single value stands for.
    fn from_short(short: S) -> Self;

    /// The single value, when it says all there is.
    fn to_short(&self) -> Option<S>;

    /// Describes the single value.
    fn short_shape() -> Shape {
        S::shape()
    }
}

/// A part laid over that of a base, when both have it.
pub(crate) fn part_over<T: Syntax>(own: &Option<T>, base: &Option<T>) -> Option<T> {
    match (own, base) {
        (Some(own), Some(base)) => Some(own.over(base)),
        (own, base) => own.as_ref().or(base.as_ref()).cloned(),
    }
}

/// Reads and writes one type as another does.
macro_rules! written_as {
    ($public:ty, $written:ty $(, most = $most:expr)?) => {
        impl $crate::syntax::Syntax for $public {
            $(const MOST: usize = $most;)?

            fn read(at: $crate::syntax::At<'_>) -> Option<Self> {
                <$written as $crate::syntax::Syntax>::read(at).map(<$public>::from)
            }

            fn write(&self) -> $crate::text::Value {
                $crate::syntax::Syntax::write(&<$written>::from(self.clone()))
            }

            fn shape() -> $crate::syntax::Shape {
                <$written as $crate::syntax::Syntax>::shape()
            }

            fn set(
                &mut self,
                steps: &[$crate::finding::Step],
                at: $crate::syntax::At<'_>,
            ) -> Result<(), $crate::syntax::set::Missed> {
                let mut written = <$written>::from(self.clone());
                $crate::syntax::Syntax::set(&mut written, steps, at)?;
                *self = <$public>::from(written);
                Ok(())
            }
        }
    };
}
pub(crate) use written_as;
