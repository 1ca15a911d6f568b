//! Which events of a ledger are alike.

use super::{Bearing, Cast, Event, Unheeded, What};
use crate::amount::Amount;
use crate::encounter::Happening;
use crate::plan::{About, ActorIx, Chosen, PatternPlan};
use crate::reason::{GuardSaid, Over};

/// Events that are as a pattern asks.
pub(crate) struct Alike<'a> {
    cast: Cast<'a>,
    pub pattern: &'a PatternPlan,
}

impl<'a> Alike<'a> {
    pub fn new(cast: Cast<'a>, pattern: &'a PatternPlan) -> Alike<'a> {
        Alike { cast, pattern }
    }

    pub fn is(&self, event: &Event) -> bool {
        self.is_of_its_sort(event)
            && self.who(event)
            && self.whom(event)
            && self.rule(event)
            && self.verdict(event)
            && self.amount(event)
            && self.about(event)
            && self.passes(event)
            && self.reason(event)
            && self.by(event)
            && self.down(event)
    }

    /// Of whom a pattern's `who` speaks.
    pub fn actor(&self, event: &Event) -> Option<ActorIx> {
        match event.what {
            What::Meter { .. } => event.whom.or(event.who),
            _ => event.who,
        }
    }

    pub fn is_of_its_sort(&self, event: &Event) -> bool {
        match self.pattern.happening {
            Happening::Hit => matches!(event.what, What::Hit(_)),
            Happening::Parry => match &event.what {
                What::Hit(hit) => hit.guard == Some(GuardSaid::Parried),
                _ => false,
            },
            Happening::Death => matches!(event.what, What::Death { .. }),
            Happening::Gone => matches!(event.what, What::Gone | What::Vanish { .. }),
            Happening::Respawn => matches!(event.what, What::Respawn { .. }),
            Happening::Reach => matches!(event.what, What::Checkpoint { .. } | What::Exit { .. }),
            Happening::Cue => matches!(event.what, What::Cue { .. }),
            Happening::Shot => matches!(event.what, What::Shot { .. }),
            Happening::DryFire => matches!(event.what, What::DryFire { .. }),
            Happening::Attack => match event.what {
                What::Attack { over, .. } => over.is_some() == self.pattern.over.is_some(),
                _ => false,
            },
            Happening::State => match &self.pattern.about {
                Some(About::Bearing(_)) => matches!(event.what, What::State { .. }),
                _ => matches!(event.what, What::Enter { .. }),
            },
            Happening::Stun => is_bearing(event, Bearing::Stunned),
            Happening::GuardBreak => is_bearing(event, Bearing::GuardBroken),
            Happening::Lose => matches!(event.what, What::Sense { distance: None, .. }),
            Happening::Appear => matches!(event.what, What::Appear),
            Happening::Vanish => matches!(event.what, What::Vanish { .. }),
            Happening::Lives => matches!(event.what, What::Life { .. }),
            Happening::Input => {
                matches!(event.what, What::Input { .. } | What::Face { .. })
            }
            Happening::Ignored => matches!(event.what, What::Ignored(_)),
            Happening::Apply => matches!(event.what, What::Apply { .. }),
            // No line tells of these.
            Happening::Push | Happening::Landing => false,
            Happening::Sense => matches!(
                event.what,
                What::Sense {
                    distance: Some(_),
                    ..
                }
            ),
            Happening::Pickup => matches!(event.what, What::Pickup),
            Happening::Reset => matches!(event.what, What::Reset),
            Happening::Passes => matches!(event.what, What::Meter { .. }),
        }
    }

    pub fn who(&self, event: &Event) -> bool {
        use Happening::{Apply, Cue, Hit, Parry, Push};
        let hits = matches!(self.pattern.happening, Hit | Cue | Parry | Push | Apply);
        among(&self.pattern.who, self.actor(event), |chosen, actor| {
            // What somebody launched hits for them.
            if hits {
                self.cast.acts_for(chosen, actor)
            } else {
                self.cast.is_chosen(chosen, actor)
            }
        })
    }

    pub fn whom(&self, event: &Event) -> bool {
        among(&self.pattern.whom, event.whom, |chosen, actor| {
            self.cast.is_chosen(chosen, actor)
        })
    }

    pub fn rule(&self, event: &Event) -> bool {
        self.pattern.rule.is_none() || self.pattern.rule == event.rule
    }

    pub fn verdict(&self, event: &Event) -> bool {
        let What::Hit(hit) = &event.what else {
            return true;
        };
        match self.pattern.verdict {
            Some(verdict) => hit.verdict == verdict,
            // What the guard did says what is asked.
            None => hit.verdict.took_effect() || self.pattern.guard.is_some(),
        }
    }

    pub fn amount(&self, event: &Event) -> bool {
        let Some(wanted) = self.pattern.amount else {
            return true;
        };
        match &event.what {
            What::Hit(hit) => hit.amount == Some(wanted),
            What::Apply { amount, .. } => *amount == Some(wanted),
            _ => false,
        }
    }

    pub fn passes(&self, event: &Event) -> bool {
        let Some(level) = self.pattern.passes else {
            return true;
        };
        match event.what {
            What::Meter {
                meter,
                before,
                after,
                ..
            } => {
                let spec = self.actor(event).map(|owner| self.cast.spec(owner));
                let own = spec.and_then(|spec| Some(&spec.meters[spec.meter(meter)?]));
                own.is_some_and(|own| passes(before, after, level.of(own.max)))
            }
            What::Life { before, after } => {
                passes(lives_of(before), lives_of(after), level.of(Amount::ZERO))
            }
            _ => true,
        }
    }

    /// What a guard did, what something died or vanished of, why nothing was launched, how an attack
    /// ended.
    pub fn reason(&self, event: &Event) -> bool {
        let pattern = self.pattern;
        match &event.what {
            What::Hit(hit) => pattern.guard.is_none() || pattern.guard == hit.guard,
            What::Death { of, .. } => pattern.cause.is_none_or(|cause| cause == *of),
            What::Vanish { of } => pattern.ending.is_none_or(|ending| ending == *of),
            What::DryFire { reason, .. } => pattern.dry.is_none_or(|dry| dry == *reason),
            What::Attack { over, despite, .. } => {
                let over = over.map(|cut| if cut { Over::CutShort } else { Over::Done });
                pattern.over == over && (pattern.despite.is_none() || pattern.despite == *despite)
            }
            What::Ignored(unheeded) => {
                let asked = pattern.asked;
                asked.is_none_or(|asked| asked == unheeded.asked())
            }
            What::Apply { kills, .. } => pattern.kills.is_none_or(|wanted| wanted == *kills),
            _ => true,
        }
    }

    pub fn by(&self, event: &Event) -> bool {
        let What::Death { by, .. } = event.what else {
            return true;
        };
        among(&self.pattern.by, by, |chosen, actor| {
            self.cast.acts_for(chosen, actor)
        })
    }

    pub fn down(&self, event: &Event) -> bool {
        match event.what {
            What::Input { down, .. } => self.pattern.down.is_none_or(|wanted| wanted == down),
            What::Face { .. } => self.pattern.down.is_none(),
            _ => true,
        }
    }

    /// Whether a hit pushed an actor as the pattern asks.
    pub fn is_push(&self, hit: &Event, pushed: ActorIx) -> bool {
        let other = if hit.whom == Some(pushed) {
            hit.who
        } else {
            hit.whom
        };
        let acts = |chosen: &Chosen, actor| self.cast.acts_for(chosen, actor);
        let is = |chosen: &Chosen, actor| self.cast.is_chosen(chosen, actor);
        among(&self.pattern.who, other, acts)
            && among(&self.pattern.whom, Some(pushed), is)
            && self.rule(hit)
    }

    /// Whether it is one of those that the pattern asks for.
    pub fn is_who(&self, actor: ActorIx) -> bool {
        let is = |chosen: &Chosen, actor| self.cast.is_chosen(chosen, actor);
        among(&self.pattern.who, Some(actor), is)
    }

    pub fn about(&self, event: &Event) -> bool {
        let Some(about) = &self.pattern.about else {
            return true;
        };
        let spec = event.who.map(|who| self.cast.spec(who));
        match (about, &event.what) {
            (About::Place(point, _), What::Respawn { checkpoint }) => checkpoint == point,
            (About::Place(point, _), What::Checkpoint { checkpoint }) => {
                Some(*checkpoint) == *point
            }
            (About::Place(_, wanted), What::Exit { exit }) => Some(*exit) == *wanted,
            (About::Cue(wanted), What::Cue { cue }) => cue == wanted,
            (
                About::Launcher(name),
                What::Shot { launcher, .. } | What::DryFire { launcher, .. },
            ) => spec.is_some_and(|spec| spec.launchers[launcher.index()].name == *name),
            (About::Attack(name), What::Attack { attack, .. }) => {
                spec.is_some_and(|spec| spec.attacks[attack.index()].name == *name)
            }
            (About::State(name), What::Enter { state, .. }) => {
                spec.is_some_and(|spec| spec.states[state.index()].name == *name)
            }
            (About::Sensor(name), What::Sense { sensor, .. }) => {
                spec.is_some_and(|spec| spec.sensors[sensor.index()].name == *name)
            }
            (About::Meter(wanted), What::Meter { meter, .. }) => meter == wanted,
            (About::Bearing(wanted), What::State { bearing, .. }) => bearing.as_str() == *wanted,
            (
                About::Button(wanted),
                What::Input { button, .. } | What::Ignored(Unheeded::Press(button)),
            ) => button == wanted,
            _ => false,
        }
    }
}

fn is_bearing(event: &Event, wanted: Bearing) -> bool {
    matches!(event.what, What::State { bearing, .. } if bearing == wanted)
}

fn passes(before: Amount, after: Amount, level: Amount) -> bool {
    (before > level && after <= level) || (before < level && after >= level)
}

fn lives_of(count: u32) -> Amount {
    Amount::thousandths(1000 * i64::from(count))
}

fn among(
    chosen: &Option<Chosen>,
    actor: Option<ActorIx>,
    is: impl Fn(&Chosen, ActorIx) -> bool,
) -> bool {
    let chosen = chosen.as_ref();
    chosen.is_none_or(|chosen| actor.is_some_and(|actor| is(chosen, actor)))
}
