//! Setting a value by its path in an encounter that is read already.

use super::{At, Syntax};
use crate::finding::Step;

/// Why a path leads nowhere.
#[derive(Debug, PartialEq)]
pub(crate) struct Missed {
    /// How many of its steps lead somewhere.
    pub depth: usize,
    /// What could come after them.
    pub known: Vec<String>,
}

impl Missed {
    /// Nothing of the path leads anywhere.
    pub fn here(known: impl IntoIterator<Item = impl Into<String>>) -> Missed {
        Missed {
            depth: 0,
            known: known.into_iter().map(Into::into).collect(),
        }
    }

    /// The same, seen from a step further out.
    pub fn further(self) -> Missed {
        Missed {
            depth: self.depth + 1,
            ..self
        }
    }
}

/// Sets what the path ends at; when it cannot be read, that is a finding.
pub(crate) fn whole<T: Syntax>(value: &mut T, steps: &[Step], at: At<'_>) -> Result<(), Missed> {
    if !steps.is_empty() {
        return Err(Missed::here([""; 0]));
    }
    if let Some(read) = T::read(at) {
        *value = read;
    }
    Ok(())
}

/// Sets something within a part that may be absent; a table that is absent begins blank.
pub(crate) fn part<T: Syntax>(
    part: &mut Option<T>,
    steps: &[Step],
    at: At<'_>,
) -> Result<(), Missed> {
    if steps.is_empty() {
        if let Some(read) = T::read(at) {
            *part = Some(read);
        }
        return Ok(());
    }
    let Some(mut own) = part.clone().or_else(T::blank) else {
        return Err(Missed::here([""; 0]));
    };
    own.set(steps, at)?;
    *part = Some(own);
    Ok(())
}

/// Sets something within an element of a list: by its place, or by its name where it has one.
pub(crate) fn element<T: Syntax>(list: &mut [T], steps: &[Step], at: At<'_>) -> Result<(), Missed> {
    let Some((first, rest)) = steps.split_first() else {
        return Err(Missed::here([""; 0]));
    };
    let place = match first {
        Step::Index(index) => (*index < list.len()).then_some(*index),
        Step::Key(name) => list
            .iter()
            .position(|element| element.label() == Some(name)),
    };
    match place {
        Some(place) => list[place].set(rest, at).map_err(Missed::further),
        None => Err(Missed::here(list.iter().filter_map(T::label))),
    }
}
