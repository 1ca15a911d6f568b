//! A run of a search: a script is played, and what is seen of it is kept.

use std::collections::BTreeSet;

use super::script::{Press, Script, Words};
use crate::encounter::{Action, Input};
use crate::ledger::{Replay, What};
use crate::order;
use crate::plan::{ActorIx, Plan};
use crate::random::mix;
use crate::sim::{ReplayError, Sim};
use crate::study::workbench::Workbench;
use crate::time::{Duration, Tick};

/// The drill on which scripts are played.
pub(super) struct Stage<'a> {
    pub name: &'a str,
    /// Whether its expectation is to be missed, and not met.
    pub breaks: bool,
    pub last: Tick,
    pub words: &'a Words,
    /// The inputs that stay as they are.
    pub rest: Vec<Input>,
}

/// What was seen of a run.
pub(super) struct Seen {
    /// Whether it did what it is to do.
    pub reached: bool,
    /// Numbers of all that happened: places, hits, levels of meters.
    pub novelties: Vec<u64>,
}

impl Stage<'_> {
    /// The inputs of a script, as they are written.
    pub fn inputs(&self, script: &Script, rate: u32) -> Vec<Input> {
        let mut presses = script.presses.clone();
        order::sort(&mut presses);
        let written = presses.iter().map(|Press { from, word, length }| {
            let (who, button) = self.words.all[*word].clone();
            Input {
                when: plain(*from, rate),
                who,
                button,
                action: match length {
                    1 => Action::Press,
                    length => Action::Hold(Some(plain(*length, rate))),
                },
                anew: false,
            }
        });
        let mut all: Vec<Input> = written.chain(self.rest.iter().cloned()).collect();
        order::sort_by_key(&mut all, |input| input.when.ticks(rate));
        all
    }

    /// Plays a script.
    pub fn play(&self, bench: &mut Workbench, script: &Script) -> Seen {
        let nothing = Seen {
            reached: false,
            novelties: Vec::new(),
        };
        let Some(drill) = bench.encounter.drills.get_mut(self.name) else {
            return nothing;
        };
        drill.seed = script.seed;
        drill.input = self.inputs(script, bench.encounter.tick_rate);
        let Ok(plan) = bench.plan() else {
            return nothing;
        };
        let mut novelties = BTreeSet::new();
        let Ok(replay) = self.watched(&plan, &mut novelties) else {
            return nothing;
        };
        let missed = replay.missed();
        let goals = plan.expectations.of(replay.drill()).count();
        look(&replay, &mut novelties);
        for met in (0..goals).filter(|nth| !missed.contains(nth)) {
            novelties.insert(print(&[5, met as u64]));
        }
        Seen {
            reached: self.breaks != missed.is_empty(),
            novelties: novelties.into_iter().collect(),
        }
    }

    /// Plays the drill, and notes where the players come to.
    fn watched(
        &self,
        plan: &std::sync::Arc<Plan>,
        novelties: &mut BTreeSet<u64>,
    ) -> Result<Replay, ReplayError> {
        /// Ticks between two looks, and how large places are.
        const EVERY: u32 = 4;
        const PLACE: f64 = 24.0;
        let players: Vec<ActorIx> = plan
            .cast()
            .filter(|actor| plan.spec(*actor).player)
            .collect();
        let mut sim = Sim::new(plan, plan.drill(self.name)?);
        loop {
            if sim.tick().0.is_multiple_of(EVERY) {
                for (nth, player) in players.iter().enumerate() {
                    let view = sim.actor(*player);
                    let place = |number: f64| libm::floor(number / PLACE) as i64 as u64;
                    if view.alive {
                        let at = [view.at.x, view.at.y, view.height].map(place);
                        novelties.insert(print(&[1, nth as u64, at[0], at[1], at[2]]));
                    }
                }
            }
            if !sim.step()? {
                return sim.into_replay();
            }
        }
    }
}

/// What happened, to whom, and how often: once, twice, four times…
fn look(replay: &Replay, novelties: &mut BTreeSet<u64>) {
    let mut times = std::collections::BTreeMap::new();
    for event in replay.ledger().events() {
        let root =
            |actor: Option<ActorIx>| actor.map_or(0, |actor| 1 + replay.root(actor).index() as u64);
        let (who, whom) = (root(event.who), root(event.whom));
        let what = match &event.what {
            What::Hit(hit) => {
                let rule = event.rule.map_or(0, |rule| 1 + rule.index() as u64);
                print(&[2, who, whom, rule, hit.verdict as u64])
            }
            What::Meter { meter, after, .. } => print(&[
                3,
                whom.max(who),
                meter.index() as u64,
                after.in_thousandths() as u64,
            ]),
            What::Enter { state, .. } => print(&[4, who, state.index() as u64]),
            What::Death { .. } => print(&[6, who]),
            What::Checkpoint { checkpoint } => print(&[7, checkpoint.index() as u64]),
            What::Exit { exit } => print(&[8, exit.index() as u64]),
            _ => continue,
        };
        *times.entry(what).or_insert(0_u32) += 1;
    }
    for (what, times) in times {
        novelties.insert(print(&[9, what, u64::from(times.ilog2())]));
    }
}

fn print(parts: &[u64]) -> u64 {
    parts.iter().fold(0, |print, part| mix(print ^ mix(*part)))
}

/// Ticks as a person writes them: in seconds where these are short.
pub(super) fn plain(ticks: u32, rate: u32) -> Duration {
    let millis = u64::from(ticks) * 1000;
    if ticks > 0 && millis.is_multiple_of(u64::from(rate)) {
        let millis = millis / u64::from(rate);
        return std::time::Duration::from_millis(millis).into();
    }
    Duration::ticked(ticks)
}
