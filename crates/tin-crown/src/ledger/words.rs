//! What the lines of the ledger say, in words.

use super::Reading;
use super::{Bearing, Despite, DryReason, Event, GuardSaid, Hit, Unheeded, What, gates};
use crate::amount::Amount;
use crate::encounter::Ending;
use crate::printable::hundredths;
use crate::time::Tick;
use crate::verdict::Verdict;

impl Reading<'_> {
    /// What who does, or what befalls it.
    pub(super) fn does(self, event: &Event) -> String {
        let plan = self.plan();
        match &event.what {
            What::Appear if self.is_put_back(event) => "appears again".to_owned(),
            What::Appear => "appears".to_owned(),
            What::Vanish { .. } => "vanishes".to_owned(),
            What::Shot { launcher, .. } => {
                format!(
                    "launches {}",
                    self.cast().launcher(event, *launcher).unwrap_or_default()
                )
            }
            What::DryFire { launcher, .. } => {
                let launcher = self.cast().launcher(event, *launcher).unwrap_or_default();
                format!("cannot launch {launcher}")
            }
            What::Enter { state, .. } => {
                format!(
                    "is {}",
                    self.cast().state(event, *state).unwrap_or_default()
                )
            }
            What::Sense {
                distance: Some(_), ..
            } => "notices".to_owned(),
            What::Sense { .. } => "loses".to_owned(),
            What::Pickup => "takes".to_owned(),
            What::Life { before, after } if after < before => "loses a life".to_owned(),
            What::Life { .. } => "gains a life".to_owned(),
            What::Respawn { .. } => "comes back".to_owned(),
            What::Checkpoint { checkpoint } => {
                format!("reaches {}", self.cast().checkpoint(*checkpoint))
            }
            What::Exit { exit } => format!("reaches {}", self.cast().exit(*exit)),
            What::Reset => "resets everything".to_owned(),
            What::Cue { cue } => format!("cue {}", plan.names.cues[*cue]),
            What::Input { down: true, button } => format!("presses {}", plan.button_name(*button)),
            What::Input { button, .. } => format!("releases {}", plan.button_name(*button)),
            What::Face { .. } => "is told to face".to_owned(),
            What::Ignored(unheeded) => self.asked(event, *unheeded),
            What::Apply { .. } => "acts from outside on".to_owned(),
            What::Attack { attack, over, .. } => {
                let name = self.cast().attack(event, *attack).unwrap_or_default();
                match over {
                    None => format!("begins {name}"),
                    Some(false) => format!("ends {name}"),
                    Some(true) => format!("cancels {name}"),
                }
            }
            What::State { bearing, .. } => self.bearing(*bearing),
            What::Hit(hit) if hit.verdict.took_effect() => "hits".to_owned(),
            What::Hit(_) => "touches".to_owned(),
            What::Meter {
                meter,
                before,
                after,
                ..
            } if event.whom.is_some() => {
                let way = if after < before { "lowers" } else { "raises" };
                format!("{way} {} of", plan.names.meters[*meter])
            }
            What::Meter { meter, .. } => plan.names.meters[*meter].to_owned(),
            What::Death { .. } => "dies".to_owned(),
            What::Gone => "is gone".to_owned(),
            What::Outcome(outcome) => format!("drill {}", outcome.as_str()),
        }
    }

    /// Whether an appearance puts back an actor that was there all along, or would have stayed away.
    fn is_put_back(&self, appear: &Event) -> bool {
        let cause = appear.cause.and_then(|cause| self.ledger().get(cause));
        cause.is_some_and(|cause| {
            matches!(cause.what, What::Reset | What::Respawn { .. }) && cause.who != appear.who
        })
    }

    /// What was asked of an actor to no effect.
    fn asked(self, event: &Event, unheeded: Unheeded) -> String {
        match unheeded {
            Unheeded::Press(button) => format!("presses {}", self.plan().button_name(button)),
            Unheeded::Attack(attack) => {
                let name = self.cast().attack(event, attack).unwrap_or_default();
                format!("is told to be in {name}")
            }
            Unheeded::Pose => "is told where to stand".to_owned(),
            Unheeded::Effect => "is acted on from outside".to_owned(),
        }
    }

    /// The outcome of an event, in words.
    pub fn told(self, event: &Event) -> String {
        let plan = self.plan();
        match &event.what {
            What::Appear => {
                let at = event.at.unwrap_or_default();
                let place = format!("at {}, {}", hundredths(at.x), hundredths(at.y));
                match plan.arena.height {
                    Some(_) => format!("{place}, {} high", hundredths(event.height)),
                    None => place,
                }
            }
            What::Hit(hit) => self.hit_told(event, hit),
            What::State { until, .. } => until.map_or_else(String::new, |tick| {
                format!("until {:.3} s", tick.seconds(plan.rate))
            }),
            What::Meter {
                meter,
                before,
                after,
                ..
            } => {
                format!("{} {before} → {after}", plan.names.meters[*meter])
            }
            What::Death { by, of } => {
                let of = match of {
                    super::DeathCause::Health => "health is empty",
                    super::DeathCause::Outside => "left the arena",
                    super::DeathCause::Squeezed => "squeezed by a solid",
                    super::DeathCause::Kill => "killed outright",
                };
                match by {
                    Some(by) => format!("{of}, by {}", self.id(*by)),
                    None => of.to_owned(),
                }
            }
            What::Vanish { of } => vanished(*of).to_owned(),
            What::Shot { count: 1, .. } => String::new(),
            What::Shot { count, .. } => format!("{count} at once"),
            What::DryFire { reason, .. } => dry(*reason).to_owned(),
            What::Life { before, after } => format!("lives {before} → {after}"),
            What::Respawn {
                checkpoint: Some(checkpoint),
            } => format!("at {}", self.cast().checkpoint(*checkpoint)),
            What::Enter { from, .. } => {
                format!(
                    "was {}",
                    self.cast().state(event, *from).unwrap_or_default()
                )
            }
            What::Sense { sensor, distance } => {
                let name = self.cast().sensor(event, *sensor).unwrap_or_default();
                match distance {
                    Some(distance) => format!("{name}, {} off", hundredths(*distance)),
                    None => name.to_owned(),
                }
            }
            What::Face { to } => format!("{}°", self.cast().upward(*to).degrees()),
            What::Ignored(Unheeded::Press(_)) => "nothing: already held".to_owned(),
            What::Ignored(Unheeded::Attack(_)) => "nothing: it cannot act".to_owned(),
            What::Ignored(_) => "nothing: it is dying or not there".to_owned(),
            What::Apply {
                amount,
                overkill,
                kills,
            } => applied(*amount, *overkill, *kills),
            What::Attack {
                despite: Some(despite),
                ..
            } => in_spite(*despite).to_owned(),
            What::Input { .. }
            | What::Attack { .. }
            | What::Pickup
            | What::Respawn { .. }
            | What::Checkpoint { .. }
            | What::Exit { .. }
            | What::Reset
            | What::Cue { .. }
            | What::Gone
            | What::Outcome(_) => String::new(),
        }
    }

    fn bearing(self, bearing: Bearing) -> String {
        match bearing {
            Bearing::GuardUp => "raises guard".to_owned(),
            Bearing::GuardDown => "lowers guard".to_owned(),
            Bearing::GuardBroken => "loses guard".to_owned(),
            Bearing::Stunned => "is stunned".to_owned(),
            Bearing::Reloading => "reloads".to_owned(),
            Bearing::Reloaded => "has reloaded".to_owned(),
            Bearing::ReloadBroken => "stops reloading".to_owned(),
            Bearing::Frozen(meter) => format!("has {} frozen", self.plan().names.meters[meter]),
        }
    }

    fn hit_told(self, event: &Event, hit: &Hit) -> String {
        let until =
            |tick: Tick| format!("invincible until {:.3} s", tick.seconds(self.plan().rate));
        match hit.verdict {
            Verdict::Landed | Verdict::Guarded => {
                let mut parts = Vec::new();
                match hit.guard {
                    Some(GuardSaid::Held) if hit.blocked.is_positive() => {
                        parts.push(format!("guard took {}", hit.blocked));
                    }
                    Some(GuardSaid::Held) => parts.push("guard held".to_owned()),
                    Some(GuardSaid::Parried) => parts.push("parried".to_owned()),
                    Some(GuardSaid::WrongSide) => parts.push("outside the guard's arc".to_owned()),
                    Some(GuardSaid::TooLate) => parts.push("guard was not up yet".to_owned()),
                    Some(GuardSaid::Spent) => parts.push("guard was spent".to_owned()),
                    Some(GuardSaid::Pierced) => parts.push("guard pierced".to_owned()),
                    None => {}
                }
                let rule = event.rule.map(|rule| &self.plan().rules[rule.index()]);
                if hit.kills {
                    parts.push("killed".to_owned());
                } else if hit.verdict == Verdict::Landed && rule.is_some_and(|rule| rule.does.kill)
                {
                    parts.push("dead already".to_owned());
                }
                if hit.overkill.is_positive() {
                    parts.push(format!("overkill {}", hit.overkill));
                }
                parts.extend(
                    hit.chain
                        .filter(|&n| n > 1)
                        .map(|n| format!("chain of {n}")),
                );
                parts.extend(
                    hit.until
                        .filter(|_| hit.verdict == Verdict::Landed)
                        .map(until),
                );
                parts.join(", ")
            }
            Verdict::Down => "nothing: already dying".to_owned(),
            Verdict::Ally => "nothing: same side".to_owned(),
            Verdict::Gate => format!("nothing: {}", self.gate_told(event, hit)),
            Verdict::Repeat => "nothing: not again yet".to_owned(),
            Verdict::Beaten => {
                let winner = event.because.and_then(|line| self.ledger().get(line));
                match winner.and_then(|winner| winner.rule) {
                    Some(rule) => format!(
                        "nothing: beaten by {}",
                        self.plan().rules[rule.index()].name
                    ),
                    None => "nothing: beaten".to_owned(),
                }
            }
            Verdict::UsedUp => "nothing: the attack has used its targets".to_owned(),
            Verdict::Invincible => match hit.until {
                Some(tick) => format!("nothing: {}", until(tick)),
                None => "nothing: invincible".to_owned(),
            },
        }
    }

    /// Why a gate failed, with its numbers.
    fn gate_told(self, event: &Event, hit: &Hit) -> String {
        let (Some(no), Some(rule)) = (hit.gate, event.rule) else {
            return "a gate failed".to_owned();
        };
        let gate = &self.plan().rules[rule.index()].gates[usize::from(no.index)];
        let name = |party: Option<crate::plan::ActorIx>| party.map_or("", |party| self.id(party));
        let parties = [name(event.who), name(event.whom)];
        gates::said(self.plan(), gate, false, no.numbers, parties)
    }
}

fn vanished(of: Ending) -> &'static str {
    match of {
        Ending::Hit => "it hit",
        Ending::Solid => "met a solid",
        Ending::Edge => "left the arena",
        Ending::Lifetime => "its lifetime is over",
        Ending::State => "as its state says",
        Ending::Death => "died",
        Ending::Taken => "taken",
        Ending::Reset => "put back",
        Ending::Absent => "no longer in its recording",
    }
}

fn dry(reason: DryReason) -> &'static str {
    match reason {
        DryReason::Ammo => "nothing: not enough to pay",
        DryReason::Reloading => "nothing: it reloads",
        DryReason::Cooldown => "nothing: too soon after the last",
        DryReason::InFlight => "nothing: too many in flight",
    }
}

fn in_spite(despite: Despite) -> &'static str {
    match despite {
        Despite::Cooldown => "in spite of its cooldown",
        Despite::Attack => "in spite of the attack it was in",
        Despite::State => "in spite of its state",
    }
}

fn applied(amount: Option<Amount>, overkill: Amount, kills: bool) -> String {
    let mut parts = Vec::new();
    parts.extend(amount.map(|amount| format!("{amount} damage")));
    if overkill.is_positive() {
        parts.push(format!("overkill {overkill}"));
    }
    if kills {
        parts.push("killed".to_owned());
    }
    parts.join(", ")
}
