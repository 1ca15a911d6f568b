//! An inquest: a drill played with every touch of some actors put on record, told or not, and all
//! that was asked of it.

use std::sync::Arc;

use crate::encounter::Repeat;
use crate::ledger::{GuardSaid, LineId, Replay};
use crate::plan::{ActorIx, BoxIx, DrillIx, Plan, RuleIx};
use crate::sim::ReplayError;
use crate::sim::observer::Observer;
use crate::sim::parts::gates::Asked;
use crate::sim::parts::guards;
use crate::sim::parts::windows::Because;
use crate::sim::phases::effects;
use crate::sim::phases::verdict::{self, Candidate, repeat};
use crate::sim::state::State;
use crate::sim::{Run, Sim};
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;

/// A drill played tick by tick, with the touches of those that `wanted` says yes to, who and whom.
pub struct Inquest<W> {
    run: Run,
    wanted: W,
}

/// A touch by a rule, and its verdict.
#[derive(Clone, Debug, PartialEq)]
pub struct Judged {
    /// When.
    pub tick: Tick,
    /// Who gives.
    pub who: ActorIx,
    /// Who takes.
    pub whom: ActorIx,
    /// By which rule.
    pub rule: RuleIx,
    /// The box of who.
    pub hitbox: BoxIx,
    /// The box of whom.
    pub hurtbox: BoxIx,
    /// When within the tick, in 4096ths of it from its beginning.
    pub moment: u16,
    /// What the gates of the rule answered, in their order.
    pub gates: Vec<Answer>,
    /// When the rule may land again.
    pub repeat: Repeat,
    /// Whether an attack makes the hitbox live, or who is a shot.
    pub by_attack: bool,
    /// The first tick on which it may land again, when that is not yet.
    pub again: Option<Tick>,
    /// Its outcome.
    pub verdict: Verdict,
    /// Why nothing at all was made of it, if so.
    pub withheld: Option<Withheld>,
    /// What whom's guard said.
    pub guard: Option<GuardSaid>,
    /// For how long that guard has been up.
    pub guard_up: Option<Ticks>,
    /// At which angle who is from where whom faces, in degrees, positive toward up.
    pub angle: f64,
    /// Until when whom is invincible, because of this or in spite of it.
    pub until: Option<Tick>,
    /// The line that decided the verdict.
    pub because: Option<LineId>,
    /// The line that tells of it: on this tick, or before when nothing has changed since. None when
    /// it is never told.
    pub line: Option<LineId>,
}

/// What a gate answered.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Answer {
    /// Whether it lets pass.
    pub passes: bool,
    /// What there was and what the rule asks, when those are numbers.
    pub numbers: Option<[f64; 2]>,
}

/// Why a touch is not judged.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Withheld {
    /// Who rests after a hit that says so.
    Rests,
    /// The flight of one of them was over by then.
    Over,
}

impl<W: Fn(ActorIx, ActorIx) -> bool> Inquest<W> {
    /// A drill that has not begun.
    pub fn new(plan: &Arc<Plan>, drill: DrillIx, wanted: W) -> Inquest<W> {
        Inquest {
            run: Run::new(plan, drill),
            wanted,
        }
    }

    /// Plays a tick, from tick 0 on, and gives its touches in candidate order; nothing when the drill
    /// is over.
    ///
    /// # Errors
    ///
    /// As [`Sim::step`].
    pub fn play(&mut self) -> Result<Option<(&Sim, Vec<Judged>)>, ReplayError> {
        let mut notes = Notes {
            wanted: &self.wanted,
            all: Vec::new(),
        };
        let Some(sim) = self.run.play(&mut notes)? else {
            return Ok(None);
        };
        let all = notes.all.into_iter().map(|(_, judged)| judged).collect();
        Ok(Some((sim, all)))
    }
}

impl<W> Inquest<W> {
    /// What has happened, as a replay.
    ///
    /// # Errors
    ///
    /// As [`Sim::into_replay`].
    pub fn into_replay(self) -> Result<Replay, ReplayError> {
        self.run.into_replay()
    }
}

/// The touches of a tick, each with its candidate.
struct Notes<'w, W> {
    wanted: &'w W,
    all: Vec<(u32, Judged)>,
}

impl<W: Fn(ActorIx, ActorIx) -> bool> Observer for Notes<'_, W> {
    fn judged(&mut self, plan: &Plan, state: &State) {
        for &index in &state.contacts.judgement.order {
            let candidate = &state.contacts.judgement.candidates[index as usize];
            if (self.wanted)(candidate.key.who, candidate.key.whom) {
                self.all.push((index, ask(plan, state, candidate)));
            }
        }
    }

    fn told(&mut self, state: &State) {
        for (index, judged) in &mut self.all {
            let candidate = &state.contacts.judgement.candidates[*index as usize];
            judged.because = match candidate.because {
                Some(Because::Line(line)) => Some(line),
                Some(Because::Candidate(winner)) => effects::written(state, winner),
                None => None,
            };
            judged.line = effects::written(state, *index);
        }
    }
}

fn ask(plan: &Plan, state: &State, candidate: &Candidate) -> Judged {
    let rule = &plan.rules[candidate.rule.index()];
    let parties = [candidate.who, candidate.whom].map(|slot| &state.actors[slot]);
    let ahead = guards::ahead(plan, parties, candidate.moment);
    let touches = state.contacts.touching.now.iter();
    let touch = touches.into_iter().find(|touch| {
        let pair = &touch.pair;
        (pair.who, pair.whom) == (candidate.key.who, candidate.key.whom)
            && (pair.hitbox, pair.hurtbox) == (candidate.hitbox, candidate.hurtbox)
    });
    let gates = touch.map_or_else(Vec::new, |touch| {
        let asked = Asked::new(plan, state, touch);
        rule.gates.iter().map(|gate| asked.ask(gate)).collect()
    });
    Judged {
        tick: state.tick,
        who: candidate.key.who,
        whom: candidate.key.whom,
        rule: candidate.rule,
        hitbox: candidate.hitbox,
        hurtbox: candidate.hurtbox,
        moment: candidate.moment,
        gates,
        repeat: repeat(rule.repeat, candidate.swing),
        by_attack: candidate.swing != 0,
        again: (candidate.verdict == Verdict::Repeat)
            .then(|| verdict::again(plan, state, candidate))
            .flatten(),
        verdict: candidate.verdict,
        withheld: candidate
            .withheld
            .then(|| match state.actors[candidate.who].rests(state.tick) {
                true => Withheld::Rests,
                false => Withheld::Over,
            }),
        guard: candidate.guard,
        guard_up: state
            .spec(plan, candidate.whom)
            .guard
            .as_ref()
            .and_then(|guard| guards::up_for(guard, parties[1].life.guard, state.tick)),
        angle: libm::atan2(ahead.y, ahead.x).to_degrees(),
        until: candidate
            .until
            .map(|until| parties[1].rested(until, state.tick)),
        because: None,
        line: None,
    }
}
