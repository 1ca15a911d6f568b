//! What began to differ, and what follows from it.

use serde::Serialize;

use super::{Change, Comparison};
use crate::ledger::Line;
use crate::map::Map;

/// A difference that follows from no earlier one, and those that follow from it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Divergence {
    /// Its place among the changes.
    pub first: usize,
    /// The places of those that follow from it, in the order of ticks: what it caused, and whatever
    /// differs later of the actors that it concerns.
    pub follows: Vec<usize>,
}

impl<'r> Comparison<'r> {
    /// The changes by what they follow from, the earliest first. A change follows from an earlier one
    /// that caused it or decided its verdict, in either ledger; else from the first that concerns one of
    /// its actors; the outcome from the first of all.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// use tin_crown::{Record, Ticks, study};
    ///
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let (careful, careless) = (plan.replay("careful")?, plan.replay("careless")?);
    /// let (old, new) = (Record::of(&careful), Record::of(&careless));
    /// let comparison = study::compare(&old, &new, Ticks(0));
    /// let first = &comparison.divergences()[0];
    /// // From where the porter first does something else, most of the rest follows.
    /// assert!(first.follows.len() > comparison.changes.len() / 2);
    /// # Ok::<(), tin_crown::ReplayError>(())
    /// ```
    pub fn divergences(&self) -> Vec<Divergence> {
        let sides = Change::sides;
        // Where the lines of either ledger are among the changes; golden records have no numbers.
        let mut places: [Map<u32, usize>; 2] = Default::default();
        for (nth, change) in self.changes.iter().enumerate() {
            for (places, line) in places.iter_mut().zip(sides(change)) {
                places.extend(line.and_then(|line| line.id).map(|id| (id, nth)));
            }
        }
        let mut all: Vec<Divergence> = Vec::new();
        // The divergence of each change, and the first that concerns each actor.
        let mut of: Vec<usize> = Vec::new();
        let mut concerns: Map<&str, usize> = Map::new();
        for (nth, change) in self.changes.iter().enumerate() {
            let caused = places
                .iter()
                .zip(sides(change))
                .filter_map(|(places, line)| {
                    let line = line?;
                    let causes = [line.cause, line.because].into_iter().flatten();
                    causes.filter_map(|id| places.get(&id).copied()).min()
                });
            let caused = caused.filter(|cause| *cause < nth).min();
            let actors = || sides(change).into_iter().flatten().flat_map(actors);
            let known = actors()
                .filter_map(|actor| concerns.get(actor).copied())
                .min();
            // Nobody's: how a drill ends follows from whatever went before.
            let known = known.or_else(|| (nth > 0 && actors().next().is_none()).then_some(0));
            let own = match caused.map(|cause| of[cause]).or(known) {
                Some(own) => {
                    all[own].follows.push(nth);
                    own
                }
                None => {
                    all.push(Divergence {
                        first: nth,
                        follows: Vec::new(),
                    });
                    all.len() - 1
                }
            };
            of.push(own);
            for actor in actors() {
                concerns.or_insert_with(actor, || own);
            }
        }
        all
    }

    /// Only the changes of which a line is as asked; damage by pair stays.
    pub fn retain(&mut self, is: impl Fn(&Line<'_>) -> bool) {
        let asked = |line: &&Line<'_>| is(line);
        self.changes
            .retain(|change| change.sides().iter().flatten().any(asked));
    }
}

/// The actors that a line concerns: who, its maker, and whom.
fn actors<'r>(line: &'r Line<'r>) -> impl Iterator<Item = &'r str> {
    let all = [&line.who, &line.root, &line.whom];
    all.into_iter().filter_map(|actor| actor.as_deref())
}
