//! Sensors: whom they notice, and why not the others.

use super::{Scope, Tell, Topic};
use crate::map::Map;
use crate::plan::{ActorIx, SensorIx};
use crate::printable::hundredths;
use crate::sim::{Considered, Unseen};
use crate::study::why::aside;
use crate::time::Tick;

/// What an actor's sensors made of others.
#[derive(Default)]
pub(super) struct Sights {
    all: Map<(SensorIx, ActorIx), Sight>,
}

struct Sight {
    /// On how many ticks it was noticed, when first, and how far off then.
    noticed: u32,
    first: (Tick, f64),
    /// When it came nearest to being noticed, and what was missing.
    nearest: Option<(Tick, Unseen)>,
}

impl Sights {
    pub fn look(&mut self, tick: Tick, considered: &Considered) {
        for &(sensor, whom, view) in &considered.sights {
            let sight = self.all.or_insert_with((sensor, whom), || Sight {
                noticed: 0,
                first: (tick, 0.0),
                nearest: None,
            });
            match view {
                Ok(distance) => {
                    sight.noticed += 1;
                    if sight.noticed == 1 {
                        sight.first = (tick, distance);
                    }
                }
                Err(unseen) => {
                    let nearer = |(_, best): (Tick, Unseen)| lacks(&unseen) < lacks(&best);
                    if sight.nearest.is_none_or(nearer) {
                        sight.nearest = Some((tick, unseen));
                    }
                }
            }
        }
    }

    pub fn tells(&self, scope: &Scope<'_>, actor: ActorIx) -> Vec<Tell> {
        let replay = scope.replay;
        let up = replay.plan().arena.up.sign();
        let all = self.all.iter().filter_map(|(&(sensor, whom), sight)| {
            let name = replay.spec(actor).sensors[sensor.index()].name;
            let name = &replay.plan().names.sensors[name];
            let whom = replay.id(whom);
            if sight.noticed > 0 {
                let (first, distance) = sight.first;
                let mut says = format!("`{name}` notices {whom}, {} off", hundredths(distance));
                if scope.when.is_none() {
                    says = format!("{says}, first {}", scope.at(first));
                }
                return Some(Tell {
                    ticks: sight.noticed,
                    ..scope.tell(Topic::Sensor, first, says)
                });
            }
            let (tick, unseen) = sight.nearest?;
            let why = match unseen {
                Unseen::Absent => "not there, or dying".to_owned(),
                Unseen::Away { by, toward, above } => {
                    let higher = (hundredths(above) != 0.0).then(|| {
                        let side = if above > 0.0 { "higher" } else { "lower" };
                        format!("{} {side}", hundredths(above.abs()))
                    });
                    let aside = aside([toward.x, toward.y * up]);
                    let parts: Vec<String> = aside.into_iter().chain(higher).collect();
                    let parts = match parts.is_empty() {
                        true => String::new(),
                        false => format!(" ({})", parts.join(", ")),
                    };
                    format!("out of reach by {}{parts}", hundredths(by))
                }
                Unseen::Behind { what, at } => {
                    let what = what.map_or("a solid", |what| replay.id(what));
                    let (x, y) = (hundredths(at.x), hundredths(at.y));
                    format!("{what} is in the way at {x}, {y}")
                }
            };
            let says = match scope.when {
                Some(_) => format!("`{name}` does not notice {whom}: {why}"),
                None => format!(
                    "`{name}` never notices {whom}; nearest {}: {why}",
                    scope.at(tick)
                ),
            };
            Some(scope.tell(Topic::Sensor, tick, says))
        });
        all.collect()
    }
}

/// How much there is missing: who is hidden is nearer than who is out of reach.
fn lacks(unseen: &Unseen) -> f64 {
    match unseen {
        Unseen::Behind { .. } => -1.0,
        Unseen::Away { by, .. } => *by,
        Unseen::Absent => f64::INFINITY,
    }
}
