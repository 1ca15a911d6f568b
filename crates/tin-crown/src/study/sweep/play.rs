//! A cell of a sweep: its values are set, its drills are played, and its rows are filled in.

use std::sync::Arc;

use super::columns::{Column, Datum, Holds, Row};
use super::{Sweep, SweepError};
use crate::amount::Amount;
use crate::encounter::Measure;
use crate::ledger::{Replay, What};
use crate::map::{Map, Set};
use crate::plan::{ActorIx, Plan};
use crate::study::vary::{Axis, Value};
use crate::study::workbench::Workbench;
use crate::verify::taken;

/// How many values of an axis that decides who is there are looked at.
const CASTS: u64 = 10_000;
/// Into so many parts a range without steps is divided for that.
const PARTS: u32 = 64;

/// The ids of those who can deal damage and of those who can take it, under whatever value.
pub(super) fn cast(bench: &Workbench, plan: &Plan, axes: &[Axis]) -> (Vec<String>, Vec<String>) {
    let (mut dealers, mut takers) = (Set::new(), Set::new());
    let mut add = |plan: &Plan| {
        for actor in plan.cast() {
            let (id, spec) = (&plan.actors[actor.index()].id, plan.spec(actor));
            if !spec.hitboxes.is_empty() || !spec.launchers.is_empty() || !spec.leaves.is_empty() {
                dealers.insert(id.clone());
            }
            if !spec.hurtboxes.is_empty() {
                takers.insert(id.clone());
            }
        }
    };
    add(plan);
    for axis in axes.iter().filter(|axis| axis.changes_cast()) {
        let values: Vec<Value> = match axis.len() {
            Some(count) => (0..count.min(CASTS)).map(|nth| axis.value(nth)).collect(),
            // Of a range the end has everybody, and the parts of the way the others.
            None => (0..=PARTS)
                .map(|nth| axis.drawn(f64::from(nth) / f64::from(PARTS)))
                .collect(),
        };
        for value in values {
            let mut bench = bench.clone();
            if axis.set(&mut bench.encounter, &value).is_ok()
                && let Ok(plan) = bench.plan()
            {
                add(&plan);
            }
        }
    }
    (dealers.into_iter().collect(), takers.into_iter().collect())
}

/// The columns of the rows; no two have one name.
pub(super) fn columns(
    axes: &[Axis],
    measures: &[(String, Measure)],
    dealers: &[String],
    takers: &[String],
) -> Result<Vec<Column>, SweepError> {
    let mut all: Vec<Column> = Vec::new();
    let mut names: Set<String> = Set::new();
    let mut add = |name: String, holds: Holds| {
        if !names.insert(name.clone()) {
            return Err(SweepError::TwoColumns(name));
        }
        all.push(Column { name, holds });
        Ok(())
    };
    add("cell".to_owned(), Holds::Cell)?;
    add("drill".to_owned(), Holds::Drill)?;
    for axis in axes {
        add(axis.path(), Holds::Value)?;
    }
    add("met".to_owned(), Holds::Met)?;
    add("expected".to_owned(), Holds::Expected)?;
    add("missed".to_owned(), Holds::Missed)?;
    add("outcome".to_owned(), Holds::Outcome)?;
    add("tick".to_owned(), Holds::Tick)?;
    add("t".to_owned(), Holds::Seconds)?;
    for (name, _) in measures {
        add(name.clone(), Holds::Measure)?;
    }
    for id in dealers {
        add(format!("dealt.{id}"), Holds::Dealt)?;
    }
    for id in takers {
        add(format!("taken.{id}"), Holds::Taken)?;
    }
    for id in takers {
        add(format!("deaths.{id}"), Holds::Deaths)?;
    }
    add("error".to_owned(), Holds::Error)?;
    Ok(all)
}

impl Sweep {
    /// The rows of a cell.
    pub(super) fn play(&self, bench: &mut Workbench, cell: u64) -> Vec<Row> {
        let values = self.design.values(&self.axes, cell);
        let mut failed = None;
        for (axis, value) in self.axes.iter().zip(&values) {
            if let Err(error) = axis.set(&mut bench.encounter, value) {
                failed = Some(error.to_string());
            }
        }
        let plan = match failed {
            Some(error) => Err(error),
            None => bench.plan().map_err(|findings| findings.first_error()),
        };
        let row = |drill: &String| {
            let replay = plan.as_ref().map_err(Clone::clone);
            let replay =
                replay.and_then(|plan| plan.replay(drill).map_err(|error| error.to_string()));
            let mut row = Row(vec![None; self.columns.len()]);
            self.begin(&mut row, cell, drill, &values);
            match replay {
                Ok(replay) => self.fill(&mut row, &replay),
                Err(error) => *last(&mut row) = Some(Datum::Text(error)),
            }
            row
        };
        self.drills.iter().map(row).collect()
    }

    fn begin(&self, row: &mut Row, cell: u64, drill: &str, values: &[Value]) {
        let texts = values.iter().map(|value| Datum::Text(value.to_string()));
        let begin = [Datum::Number(cell as f64), Datum::Text(drill.to_owned())];
        for (place, datum) in begin.into_iter().chain(texts).enumerate() {
            row.0[place] = Some(datum);
        }
    }

    fn fill(&self, row: &mut Row, replay: &Replay) {
        let number = |number: f64| Some(Datum::Number(number));
        let missed = replay.missed();
        let expected = replay.plan().expectations.of(replay.drill()).count();
        // A drill may go on after it is decided.
        let decided = replay
            .ledger()
            .events()
            .iter()
            .find_map(|event| match event.what {
                What::Outcome(outcome) => Some((outcome, event.tick)),
                _ => None,
            });
        let numbers: Vec<String> = missed.iter().map(|nth| (nth + 1).to_string()).collect();
        let outcome = decided.map(|(outcome, _)| Datum::Text(outcome.as_str().to_owned()));
        let tick = decided.map(|(_, tick)| tick).unwrap_or_default();
        let mut data = vec![
            number((expected - missed.len()) as f64),
            number(expected as f64),
            (!missed.is_empty()).then(|| Datum::Text(numbers.join(" "))),
            outcome,
            number(f64::from(tick.0)),
            number(tick.seconds(replay.plan().rate)),
        ];
        data.extend(
            self.measured(replay)
                .into_iter()
                .map(|read| read.map(Datum::Number)),
        );
        let mut sums = self.sums(replay);
        let columns = [
            (Holds::Dealt, &self.dealers),
            (Holds::Taken, &self.takers),
            (Holds::Deaths, &self.takers),
        ];
        for (holds, ids) in columns {
            data.extend(ids.iter().map(|id| {
                let sum = sums.remove(&(holds as u8, id.as_str()))?;
                (sum != Amount::ZERO).then(|| Datum::Number(sum.as_f64()))
            }));
        }
        let from = 2 + self.axes.len();
        for (place, datum) in data.into_iter().enumerate() {
            row.0[from + place] = datum;
        }
    }

    /// What is measured; nothing where the encounter has no such thing any more.
    fn measured(&self, replay: &Replay) -> Vec<Option<f64>> {
        let plan = replay.plan();
        let same = plan.names == self.plan.names && plan.rules.len() == self.plan.rules.len();
        let all = self.measures.iter().zip(&self.measured);
        all.map(|((_, measure), resolved)| match same {
            true => replay.measure(resolved),
            false => replay.measure(&plan.measure(measure).ok()?),
        })
        .collect()
    }

    /// Damage dealt and taken, and deaths, of each.
    fn sums<'r>(&self, replay: &'r Replay) -> Map<(u8, &'r str), Amount> {
        let mut sums: Map<(u8, &str), Amount> = Map::new();
        let placed = replay.plan().actors.len();
        let mut add = |holds: Holds, actor: Option<ActorIx>, amount: Amount| {
            let placed = actor.filter(|actor| actor.index() < placed);
            if let Some(actor) = placed {
                *sums.or_default((holds as u8, replay.id(actor))) += amount;
            }
        };
        for event in replay.ledger().events() {
            match &event.what {
                What::Hit(_) | What::Apply { .. } => {
                    let amount = taken(&event.what);
                    if amount != Amount::ZERO {
                        add(Holds::Dealt, event.who.map(|who| replay.root(who)), amount);
                        add(Holds::Taken, event.whom, amount);
                    }
                }
                What::Death { .. } => add(Holds::Deaths, event.who, Amount::whole(1)),
                _ => {}
            }
        }
        sums
    }
}

fn last(row: &mut Row) -> &mut Option<Datum> {
    let place = row.0.len() - 1;
    &mut row.0[place]
}

/// The plan is shared between the rows of a cell.
const _: fn() = || {
    fn is_shared<T: Send + Sync>() {}
    is_shared::<Arc<Plan>>();
};
