//! What would make a hit land: one change, tried before it is told.

use std::cell::Cell;
use std::sync::Arc;

use serde::Serialize;

use crate::amount::Amount;
use crate::encounter::Party;
use crate::ledger::{Replay, What};
use crate::plan::{Ask, GatePlan, Plan, PortionPlan, RuleIx};
use crate::sim::{Inquest, Judged};
use crate::time::Tick;
use crate::verdict::Verdict;

/// A value of the file that was tried: with it the hit lands.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Remedy {
    /// Where it stands, as [`Encounter::set`](crate::Encounter::set) takes it.
    pub path: String,
    /// The value, as it is written.
    pub value: String,
}

/// A change that is to be tried.
struct Idea {
    /// The change, in words that can begin a sentence.
    says: String,
    edit: Edit,
    /// The key of the rule and its value, where it is one.
    key: Option<(String, String)>,
}

/// A change of a plan.
enum Edit {
    /// A gate of the rule becomes another.
    Gate(usize, GatePlan),
    /// A gate of the rule goes.
    NoGate(usize),
    /// The rule hits its own side.
    Friendly,
    /// Another rule does not beat this one.
    NotBeatenBy(RuleIx),
    /// The rule ignores invincibility.
    PiercesInvincible,
    /// The rule ignores guards.
    PiercesGuard,
    /// Attacks and shots of who have any number of targets.
    Targets,
}

/// What came of trying.
pub(super) struct Tried {
    pub says: String,
    pub remedy: Option<Remedy>,
}

/// Tries changes, as long as that does not take too long.
pub(super) struct Trials<'r> {
    replay: &'r Replay,
    /// How many actor-ticks may still be played.
    left: Cell<u64>,
}

impl<'r> Trials<'r> {
    pub fn new(replay: &'r Replay) -> Trials<'r> {
        /// Some seconds in a debug build, less than one otherwise.
        const ACTOR_TICKS: u64 = 2_000_000;
        Trials {
            replay,
            left: Cell::new(ACTOR_TICKS),
        }
    }

    /// What would make a touch land, if one change is known that might.
    pub fn of(&self, judged: &Judged) -> Option<Tried> {
        let idea = idea(self.replay, judged)?;
        let Some(outcome) = self.outcome(judged, &idea.edit) else {
            return Some(Tried {
                says: format!("{} would pass this check", idea.says),
                remedy: None,
            });
        };
        Some(match outcome {
            Outcome::Lands => Tried {
                says: format!("{} makes it land", idea.says),
                remedy: idea.key.map(|(key, value)| Remedy {
                    path: format!("rule[{}].{key}", judged.rule.index() + 1),
                    value,
                }),
            },
            Outcome::Fails(why) => Tried {
                says: format!("{} passes this check, but then {why}", idea.says),
                remedy: None,
            },
        })
    }

    /// Plays the drill with a change up to the tick of the touch; nothing when that would take too long,
    /// or goes beyond a limit.
    fn outcome(&self, judged: &Judged, edit: &Edit) -> Option<Outcome> {
        let plan = self.replay.plan();
        let ticks = u64::from(judged.tick.0) + 1;
        let cost = ticks * (plan.actors.len() as u64 + 1);
        self.left.set(self.left.get().checked_sub(cost)?);
        let mut changed = Plan::clone(plan);
        apply(&mut changed, judged, edit);
        let (who, whom) = (judged.who, judged.whom);
        let mut inquest =
            Inquest::new(&Arc::new(changed), self.replay.drill(), |other, another| {
                other == who && another == whom
            });
        let mut landed = 0;
        let mut last: Option<Judged> = None;
        while let Some((sim, all)) = inquest.play().ok()? {
            let own = all.into_iter().filter(|own| own.rule == judged.rule);
            for own in own {
                landed += u32::from(lands(&own));
                last = Some(own);
            }
            if sim.tick() >= judged.tick {
                break;
            }
        }
        if landed > self.landed(judged) {
            return Some(Outcome::Lands);
        }
        let then = last.filter(|own| own.tick == judged.tick);
        Some(Outcome::Fails(match then {
            Some(own) => next(self.replay, &own),
            None => "the two do not touch on this tick".to_owned(),
        }))
    }

    /// How often the rule landed between the two up to the touch, as it is.
    fn landed(&self, judged: &Judged) -> u32 {
        let events = self.replay.ledger().events().iter();
        let up_to = events.take_while(|event| event.tick <= judged.tick);
        let hits = up_to.filter(|event| {
            let verdict = match &event.what {
                What::Hit(hit) => hit.verdict,
                _ => return false,
            };
            verdict == Verdict::Landed
                && event.rule == Some(judged.rule)
                && event.who == Some(judged.who)
                && event.whom == Some(judged.whom)
        });
        hits.count() as u32
    }
}

enum Outcome {
    Lands,
    /// Why it does not land then.
    Fails(String),
}

fn lands(judged: &Judged) -> bool {
    judged.withheld.is_none() && judged.verdict == Verdict::Landed
}

/// Why a touch does not land, in a few words.
fn next(replay: &Replay, judged: &Judged) -> String {
    let whom = replay.id(judged.whom);
    if judged.withheld.is_some() {
        return "it is withheld".to_owned();
    }
    match judged.verdict {
        Verdict::Landed => "it landed before, and not once more".to_owned(),
        Verdict::Down => format!("{whom} is dying"),
        Verdict::Ally => "the two are of one side".to_owned(),
        Verdict::Gate => {
            let rule = &replay.plan().rules[judged.rule.index()];
            let failed = judged.gates.iter().position(|answer| !answer.passes);
            let gate = failed.and_then(|nth| rule.gates.get(nth));
            match gate {
                Some(gate) => format!("its gate `{}` says no", gate.name()),
                None => "another gate says no".to_owned(),
            }
        }
        Verdict::Repeat => "it may not land again yet".to_owned(),
        Verdict::Beaten => "another rule beats it".to_owned(),
        Verdict::UsedUp => "its `targets` are used up".to_owned(),
        Verdict::Invincible => format!("{whom} is invincible"),
        Verdict::Guarded => format!("{whom} guards it"),
    }
}

fn apply(plan: &mut Plan, judged: &Judged, edit: &Edit) {
    let spec = plan.actors.get(judged.who.index()).map(|actor| actor.spec);
    if let Edit::Targets = edit {
        for (nth, own) in plan.specs.iter_mut().enumerate() {
            if spec.is_none_or(|spec| spec.index() == nth) {
                own.flight.targets = Some(u32::MAX);
                own.attacks
                    .iter_mut()
                    .for_each(|attack| attack.targets = None);
            }
        }
        return;
    }
    if let Edit::NotBeatenBy(winner) = edit {
        plan.rules[winner.index()]
            .beats
            .retain(|rule| *rule != judged.rule);
        return;
    }
    let rule = &mut plan.rules[judged.rule.index()];
    match edit {
        Edit::Gate(nth, gate) => rule.gates[*nth] = gate.clone(),
        Edit::NoGate(nth) => {
            rule.gates.remove(*nth);
        }
        Edit::Friendly => rule.friendly = true,
        Edit::PiercesInvincible => rule.pierces_invincible = true,
        Edit::PiercesGuard => rule.pierces_guard = true,
        Edit::Targets | Edit::NotBeatenBy(_) => {}
    }
}

/// The change to try for a touch that did not land.
fn idea(replay: &Replay, judged: &Judged) -> Option<Idea> {
    if judged.withheld.is_some() {
        return None;
    }
    let plain = |says: &str, edit| Idea {
        says: says.to_owned(),
        edit,
        key: None,
    };
    Some(match judged.verdict {
        Verdict::Landed | Verdict::Down | Verdict::Repeat => return None,
        Verdict::Gate => {
            let nth = judged.gates.iter().position(|answer| !answer.passes)?;
            let gate = &replay.plan().rules[judged.rule.index()].gates[nth];
            gate_idea(replay.plan(), nth, gate, judged.gates[nth].numbers)
        }
        Verdict::Ally => Idea {
            says: "`friendly = true` in the rule".to_owned(),
            edit: Edit::Friendly,
            key: Some(("friendly".to_owned(), "true".to_owned())),
        },
        Verdict::Beaten => {
            let winner = replay.ledger().get(judged.because?)?.rule?;
            let name = &replay.plan().rules[winner.index()].name;
            let own = &replay.plan().rules[judged.rule.index()].name;
            plain(
                &format!("`{name}` without `{own}` in its `beats`"),
                Edit::NotBeatenBy(winner),
            )
        }
        Verdict::UsedUp => plain("any number of `targets`", Edit::Targets),
        Verdict::Invincible => plain(
            "`pierces = [\"invincible\"]` in the rule",
            Edit::PiercesInvincible,
        ),
        Verdict::Guarded => plain("`pierces = [\"guard\"]` in the rule", Edit::PiercesGuard),
    })
}

/// The change to try for a gate that said no: a number that it would take, else none of it.
fn gate_idea(plan: &Plan, nth: usize, gate: &GatePlan, numbers: Option<[f64; 2]>) -> Idea {
    let number = |key: &str, value: f64, gate: GatePlan| Idea {
        says: format!("`{key} = {value}` in its gate"),
        edit: Edit::Gate(nth, gate),
        key: Some((format!("gate.{key}"), value.to_string())),
    };
    match (gate, numbers) {
        (GatePlan::Above { margin }, Some([have, need])) => {
            let margin = up(margin + (need - have).abs());
            number("margin", margin, GatePlan::Above { margin })
        }
        (GatePlan::Below { margin }, Some([have, need])) => {
            let margin = up(margin + (need - have).abs());
            number("margin", margin, GatePlan::Below { margin })
        }
        // A speed the other way is no speed that could be asked for.
        (GatePlan::Falling(_), Some([have, _])) if have >= 0.0 => {
            let least = down(have);
            number("falling_at_least", least, GatePlan::Falling(least))
        }
        (GatePlan::Closing { upward, .. }, Some([have, _])) if have >= 0.0 => {
            let (speed, upward) = (down(have), *upward);
            number(
                "closing_at_least",
                speed,
                GatePlan::Closing { speed, upward },
            )
        }
        (
            GatePlan::Party(party, ask @ (Ask::AtLeast(meter, _) | Ask::AtMost(meter, _))),
            Some([have, _]),
        ) => {
            let held = PortionPlan::Amount(Amount::try_from(have).unwrap_or_default());
            let (key, ask) = match ask {
                Ask::AtLeast(..) => ("at_least", Ask::AtLeast(*meter, held)),
                _ => ("at_most", Ask::AtMost(*meter, held)),
            };
            let who = match party {
                Party::Who => "who",
                Party::Whom => "whom",
            };
            let key = format!("{who}.meter.{}.{key}", plan.names.meters[*meter]);
            number(&key, have, GatePlan::Party(*party, ask))
        }
        _ => Idea {
            says: format!("the rule without its gate `{}`", gate.name()),
            edit: Edit::NoGate(nth),
            key: None,
        },
    }
}

/// To a tenth, not below.
fn up(number: f64) -> f64 {
    (number * 10.0 - 1e-6).ceil() / 10.0
}

/// To a tenth, not above.
fn down(number: f64) -> f64 {
    (number * 10.0 + 1e-6).floor() / 10.0
}

/// When a touch may land by itself, as far as that is known.
pub(super) fn wait(judged: &Judged, seconds: impl Fn(Tick) -> String) -> Option<String> {
    match judged.verdict {
        Verdict::Repeat => judged
            .again
            .map(|again| format!("it may land again from {} on", seconds(again))),
        Verdict::Invincible => judged
            .until
            .map(|until| format!("the window is over at {}", seconds(until))),
        _ => None,
    }
}
