//! Gates, asked in phase 5 of every two boxes that touch.

use super::actor::Actor;
use super::guards::{self, seen_from};
use super::{attacks, solids};
use crate::amount::Amount;
use crate::encounter::{Facing, Looking, Party};
use crate::geometry::{Bounds, HeightSpan, TOUCH, Vec2};
use crate::ledger::GateNo;
use crate::plan::{Ask, BoxPlan, GatePlan, MeterIx, Plan, PortionPlan, SideOf, Spec};
use crate::sim::inquest::Answer;
use crate::sim::phases::touch::{PARTS, Touch};
use crate::sim::state::State;

/// What the gates of a rule are asked about.
pub(crate) struct Asked<'s> {
    pub plan: &'s Plan,
    pub state: &'s State,
    pub touch: &'s Touch,
}

impl Answer {
    fn plain(passes: bool) -> Answer {
        Answer {
            passes,
            numbers: None,
        }
    }

    /// At or above, with the tolerance of all gates.
    fn at_least(have: f64, need: f64) -> Answer {
        Answer {
            passes: have >= need - TOUCH,
            numbers: Some([have, need]),
        }
    }
}

impl<'s> Asked<'s> {
    pub fn new(plan: &'s Plan, state: &'s State, touch: &'s Touch) -> Asked<'s> {
        Asked { plan, state, touch }
    }

    /// The first gate that says no.
    pub fn refuses(&self, gates: &[GatePlan]) -> Option<GateNo> {
        gates.iter().enumerate().find_map(|(index, gate)| {
            let answer = self.ask(gate);
            (!answer.passes).then_some(GateNo {
                index: u8::try_from(index).unwrap_or_else(|_| unreachable!("a rule has few gates")),
                numbers: answer.numbers,
            })
        })
    }

    fn party(&self, party: Party) -> &'s Actor {
        let [who, whom] = self.touch.slots;
        let slot = match party {
            Party::Who => who,
            Party::Whom => whom,
        };
        &self.state.actors[slot]
    }

    /// The touching boxes where they were when the tick began, with y upward.
    fn at_start(&self) -> [(f64, f64); 2] {
        let pair = &self.touch.pair;
        let (mine, theirs) = (self.party(Party::Who), self.party(Party::Whom));
        let hitbox = &self.plan.spec_of(mine.spec).hitboxes[pair.hitbox.index()];
        let hurtbox = &self.plan.spec_of(theirs.spec).hurtboxes[pair.hurtbox.index()];
        let up = self.plan.arena.up.sign();
        let heights = |bounds: Bounds| {
            let (a, b) = (bounds.min.y * up, bounds.max.y * up);
            (a.min(b), a.max(b))
        };
        let at_start = |plan: &BoxPlan, actor: &Actor| {
            if self.plan.arena.height.is_some() {
                // One without a height is above or below nothing.
                let span = plan.span_at(actor.age(self.state.tick));
                let all = HeightSpan::new(f64::NEG_INFINITY, f64::INFINITY);
                let span = span.unwrap_or(all).moved(actor.life.rise.start);
                return (span.low, span.high);
            }
            let shape = plan.shape_at(actor.facing, actor.age(self.state.tick));
            heights(shape.bounds().moved(actor.start))
        };
        [at_start(hitbox, mine), at_start(hurtbox, theirs)]
    }

    /// The height from which who sees whom at a moment, and how far the line rises.
    fn sight(&self, moment: u16) -> Option<[f64; 2]> {
        self.plan.arena.height?;
        let part = f64::from(moment) / PARTS;
        let eye = |actor: &Actor| {
            let at = actor.height_at(part) - actor.life.rise.at;
            actor.eye(self.plan.spec_of(actor.spec)) + at
        };
        let (from, to) = (eye(self.party(Party::Who)), eye(self.party(Party::Whom)));
        Some([from, to - from])
    }

    /// How fast who goes down, and how fast relative to whom.
    fn downward(&self) -> (f64, f64) {
        let up = self.plan.arena.up.sign();
        let who = self.party(Party::Who);
        let whom = self.party(Party::Whom);
        if self.plan.arena.height.is_some() {
            let (mine, theirs) = (-who.life.rise.set_out, -whom.life.rise.set_out);
            return (mine, mine - theirs);
        }
        let (mine, theirs) = (who.set_out.y * -up, whom.set_out.y * -up);
        (mine, mine - theirs)
    }

    pub fn ask(&self, gate: &GatePlan) -> Answer {
        let moment = self.touch.moment;
        let who = self.party(Party::Who);
        let whom = self.party(Party::Whom);
        match gate {
            GatePlan::Above { margin } => {
                let [(lowest, _), (_, top)] = self.at_start();
                Answer::at_least(lowest, top - margin)
            }
            GatePlan::Below { margin } => {
                let [(_, highest), (bottom, _)] = self.at_start();
                // Seen from below, at or above is at or below.
                let answer = Answer::at_least(-highest, -(bottom + margin));
                Answer {
                    numbers: Some([highest, bottom + margin]),
                    ..answer
                }
            }
            GatePlan::ComingDown => {
                let (_, closing) = self.downward();
                Answer {
                    passes: closing > TOUCH,
                    numbers: Some([closing, 0.0]),
                }
            }
            GatePlan::ComingUp => {
                let (_, closing) = self.downward();
                Answer {
                    passes: -closing > TOUCH,
                    numbers: Some([-closing, 0.0]),
                }
            }
            GatePlan::Side(side) => {
                let x = self.sideways();
                let ahead = match whom.facing {
                    Facing::Angle(_) => {
                        is_ahead(whom, who.at_moment(moment) - whom.at_moment(moment))
                    }
                    _ => x * whom.facing.sign() > 0.0,
                };
                Answer::plain(match side {
                    SideOf::Front => ahead,
                    SideOf::Behind => !ahead,
                    SideOf::Left => x < 0.0,
                    SideOf::Right => x > 0.0,
                })
            }
            GatePlan::Angle { degrees, arc } => {
                let mut toward = seen_from(who, whom, moment);
                if let Facing::Angle(_) = whom.facing {
                    toward = whom.facing.seen(toward);
                }
                toward.y *= self.plan.arena.up.sign();
                let have = libm::atan2(toward.y, toward.x).to_degrees();
                Answer {
                    passes: arc.contains(toward),
                    numbers: Some([have, degrees[0]]),
                }
            }
            GatePlan::Falling(speed) => Answer::at_least(self.downward().0, *speed),
            GatePlan::Closing { speed, upward } => {
                let (_, closing) = self.downward();
                Answer::at_least(if *upward { -closing } else { closing }, *speed)
            }
            GatePlan::LineOfSight => {
                let parties = self.touch.slots;
                let from = who.at_moment(moment);
                let way = whom.at_moment(moment) - from;
                Answer::plain({
                    let heights = self.sight(moment);
                    solids::on_line(self.plan, self.state, parties, from, way, heights).is_none()
                })
            }
            GatePlan::Party(party, ask) => self.ask_party(*party, ask),
        }
    }

    /// Which side of whom who is on: negative for left. At equal x who came from behind itself.
    fn sideways(&self) -> f64 {
        let who = self.party(Party::Who);
        let whom = self.party(Party::Whom);
        let moment = self.touch.moment;
        let x = who.at_moment(moment).x - whom.at_moment(moment).x;
        if x == 0.0 { -who.facing.sign() } else { x }
    }

    /// Whether a meter holds as much as asked. One that an actor has not never does.
    fn level(
        &self,
        actor: &Actor,
        spec: &Spec,
        meter: MeterIx,
        asked: PortionPlan,
        fits: impl Fn(&Amount, &Amount) -> bool,
    ) -> Answer {
        let Some(place) = spec.meter(meter) else {
            return Answer {
                passes: false,
                numbers: None,
            };
        };
        let held = self.state.stock.meters[actor.life.own.meters.start + place];
        let need = asked.of(spec.meters[place].max);
        Answer {
            passes: fits(&held, &need),
            numbers: Some([held.as_f64(), need.as_f64()]),
        }
    }

    fn ask_party(&self, party: Party, ask: &Ask) -> Answer {
        let actor = self.party(party);
        let spec = self.plan.spec_of(actor.spec);
        let under_way = || attacks::under_way(self.plan, actor, self.state.tick);
        match *ask {
            Ask::Facing(looking) => {
                // The other is to the right of whom when who is, and to the left of who.
                let other = match party {
                    Party::Who => -self.sideways(),
                    Party::Whom => self.sideways(),
                };
                let moment = self.touch.moment;
                let toward = match (actor.facing, party) {
                    (Facing::Angle(_), Party::Who) => {
                        let whom = self.party(Party::Whom);
                        is_ahead(actor, whom.at_moment(moment) - actor.at_moment(moment))
                    }
                    (Facing::Angle(_), Party::Whom) => {
                        let who = self.party(Party::Who);
                        is_ahead(actor, who.at_moment(moment) - actor.at_moment(moment))
                    }
                    _ => other * actor.facing.sign() > 0.0,
                };
                let x = actor.facing.ahead().x;
                Answer::plain(match looking {
                    Looking::Toward => toward,
                    Looking::Away => !toward,
                    Looking::Left => x < 0.0,
                    Looking::Right => x > 0.0,
                })
            }
            Ask::Grounded(yes) => Answer::plain(actor.ground.is_some() == yes),
            Ask::Attack(name) => Answer::plain(
                under_way().is_some_and(|(attack, _)| spec.attacks[attack.index()].name == name),
            ),
            Ask::Phase(asked) => {
                Answer::plain(under_way().is_some_and(|(_, phase)| phase == asked))
            }
            Ask::State(name) => Answer::plain(
                actor
                    .life
                    .mind
                    .state
                    .is_some_and(|state| spec.states[state.index()].name == name),
            ),
            Ask::Guarding(yes) => {
                let guard = spec.guard.as_ref();
                let up = guard
                    .is_some_and(|plan| guards::is_up(plan, actor.life.guard, self.state.tick));
                Answer::plain(up == yes)
            }
            Ask::Stunned(yes) => Answer::plain(actor.is_stunned(self.state.tick) == yes),
            Ask::AtLeast(meter, least) => self.level(actor, spec, meter, least, Amount::ge),
            Ask::AtMost(meter, most) => self.level(actor, spec, meter, most, Amount::le),
            Ask::Tag(tag, yes) => {
                let carries = self.plan.breed(actor.breed).tags.contains(&tag);
                Answer::plain(carries == yes)
            }
        }
    }
}

/// Whether a way leads within 90 degrees of where an actor that rotates faces.
fn is_ahead(actor: &Actor, way: Vec2) -> bool {
    way != Vec2::ZERO && way.unit().dot(actor.facing.ahead()) >= -TOUCH
}
