//! States: which transitions were taken, and what the others lacked.

use super::{Scope, Tell, Topic, conditions};
use crate::ledger::What;
use crate::map::Map;
use crate::plan::{ActorIx, StateIx};
use crate::sim::{Considered, Part, Weight};
use crate::time::Tick;

/// What became of the transitions of an actor's states.
#[derive(Default)]
pub(super) struct Minds {
    /// By state, and the place among its transitions.
    turns: Map<(StateIx, usize), Turn>,
}

/// What became of a transition.
struct Turn {
    /// How often it was taken, and when first.
    taken: u32,
    first: Tick,
    /// The tick on which it lacked least, and what it asked then.
    nearest: Tick,
    weights: Vec<Weight>,
    /// On how many ticks it was asked.
    asked: u32,
}

impl Minds {
    pub fn look(&mut self, tick: Tick, considered: &Considered) {
        let Some(state) = considered.state else {
            return;
        };
        let holds = |weights: &Vec<Weight>| weights.iter().all(|weight| weight.holds);
        let taken = considered.turns.iter().position(holds);
        for (nth, weights) in considered.turns.iter().enumerate() {
            let turn = self.turns.or_insert_with((state, nth), || Turn {
                taken: 0,
                first: tick,
                nearest: tick,
                weights: weights.clone(),
                asked: 0,
            });
            turn.asked += 1;
            if taken == Some(nth) {
                turn.taken += 1;
                if turn.taken == 1 {
                    turn.first = tick;
                }
            }
            // Later ones of an actor that waits are as near: what counts is the last of them.
            if lacks(weights) <= lacks(&turn.weights) {
                turn.nearest = tick;
                turn.weights.clone_from(weights);
            }
        }
    }

    pub fn tells(&self, scope: &Scope<'_>, actor: ActorIx) -> Vec<Tell> {
        let spec = scope.replay.spec(actor);
        let name = |state: StateIx| {
            let name = spec.states[state.index()].name;
            &scope.replay.plan().names.states[name]
        };
        let mut tells = Vec::new();
        if let (Some(when), Some(((state, _), _))) = (scope.when, self.turns.iter().next()) {
            tells.push(entered(scope, actor, *state, name(*state), when));
        }
        for (&(from, nth), turn) in &self.turns {
            let to = spec.states[from.index()].go[nth].to;
            let way = format!("{} → {}", name(from), name(to));
            let checks = turn.weights.iter();
            let checks = checks.map(|weight| conditions::asked(scope, actor, weight));
            let checks: Vec<_> = checks.collect();
            let tell = match (turn.taken, scope.when) {
                (0, Some(when)) => Tell {
                    checks,
                    ..scope.tell(Topic::State, when, format!("{way}: not taken"))
                },
                (0, None) => {
                    let says = format!("{way}: never taken; nearest {}", scope.at(turn.nearest));
                    Tell {
                        checks,
                        ..scope.tell(Topic::State, turn.nearest, says)
                    }
                }
                (_, Some(when)) => Tell {
                    checks,
                    ..scope.tell(Topic::State, when, format!("{way}: taken now"))
                },
                (taken, None) => {
                    let often = match taken {
                        1 => "once".to_owned(),
                        taken => format!("{taken} times, first"),
                    };
                    let says = format!("{way}: taken {often} {}", scope.at(turn.first));
                    Tell {
                        ticks: taken,
                        ..scope.tell(Topic::State, turn.first, says)
                    }
                }
            };
            tells.push(Tell {
                ticks: if turn.taken == 0 {
                    turn.asked
                } else {
                    tell.ticks
                },
                ..tell
            });
        }
        tells
    }
}

/// In which state an actor decides on a tick, and since when.
fn entered(scope: &Scope<'_>, actor: ActorIx, state: StateIx, name: &str, when: Tick) -> Tell {
    let mut events = scope.lines.of(actor).iter().rev();
    let into = |what: &What| matches!(what, What::Enter { state: own, .. } if *own == state);
    // What changes on this tick is decided in the state before.
    let line = events.find(|event| {
        event.tick < when && (into(&event.what) || matches!(event.what, What::Appear))
    });
    match line {
        Some(event) if into(&event.what) => {
            let says = format!("{name} since {}", scope.seconds(event.tick));
            scope.line(Topic::State, actor, event, says)
        }
        _ => scope.tell(Topic::State, when, format!("{name} since it appeared")),
    }
}

/// How many parts are missing, then by how much: of numbers a share below 1 of each.
fn lacks(weights: &[Weight]) -> (usize, f64) {
    let missing = weights.iter().filter(|weight| !weight.holds);
    let share = |have: f64, need: f64| {
        let short = (need - have).abs();
        short / (short + need.max(1.0))
    };
    let by = missing.clone().map(|weight| match weight.part {
        Part::After { have, need } => share(f64::from(have.0), f64::from(need.0)),
        Part::Loses { have, lasting, .. } => share(f64::from(have.0), f64::from(lasting.0)),
        Part::Sees {
            nearest: Some((_, have, distance)),
            lasting,
            within,
            ..
        } => match within {
            Some(within) if have >= lasting => share(distance, within),
            _ => share(f64::from(have.0), f64::from(lasting.0)),
        },
        _ => 1.0,
    });
    (missing.count(), by.sum())
}
