//! Which events of a ledger are alike.

use crate::encounter::Happening;
use crate::ledger::Replay;
use crate::ledger::{Event, What};
use crate::plan::{About, ActorIx, Chosen, PatternPlan};

/// Events of a replay that are as a pattern asks.
pub(super) struct Alike<'a> {
    replay: &'a Replay,
    pattern: &'a PatternPlan,
}

impl<'a> Alike<'a> {
    pub fn new(replay: &'a Replay, pattern: &'a PatternPlan) -> Alike<'a> {
        Alike { replay, pattern }
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
    }

    /// In what an event of the same sort differs; none when it is of another.
    pub fn differences(&self, event: &Event) -> Option<Vec<String>> {
        if !self.is_of_its_sort(event) {
            return None;
        }
        let name = |actor: Option<ActorIx>| {
            actor.map_or("nobody".to_owned(), |actor| {
                self.replay.id(actor).to_owned()
            })
        };
        let line = self.replay.line(event);
        let mut differs = Vec::new();
        if !self.who(event) {
            differs.push(format!(
                "it is {}, not {}",
                name(self.actor(event)),
                text(&self.pattern.who)
            ));
        }
        if !self.whom(event) {
            differs.push(format!(
                "it is on {}, not on {}",
                name(event.whom),
                text(&self.pattern.whom)
            ));
        }
        if !self.rule(event) {
            differs.push(format!("it is by `{}`", line.rule.unwrap_or_default()));
        }
        if !self.verdict(event) {
            let verdict = line.verdict.unwrap_or_default();
            let told = self.replay.told(event);
            let told = told.strip_prefix("nothing: ").unwrap_or(&told);
            differs.push(match told {
                "" => format!("its verdict is `{verdict}`"),
                told => format!("its verdict is `{verdict}`: {told}"),
            });
        }
        if !self.amount(event) {
            let amount = line.amount.unwrap_or_default();
            differs.push(format!("its amount is {amount}"));
        }
        if !self.about(event) {
            let about = [
                line.cue,
                line.checkpoint,
                line.exit,
                line.launcher,
                line.attack,
                line.state,
                line.sensor,
                line.meter,
            ];
            let about = about.into_iter().flatten().next().unwrap_or_default();
            differs.push(format!("it is `{about}`"));
        } else if !self.passes(event) {
            let (before, after) = (
                line.before.unwrap_or_default(),
                line.after.unwrap_or_default(),
            );
            differs.push(format!("it goes from {before} to {after}"));
        }
        Some(differs)
    }

    /// Of whom a pattern's `who` speaks.
    fn actor(&self, event: &Event) -> Option<ActorIx> {
        match event.what {
            What::Meter { .. } => event.whom.or(event.who),
            _ => event.who,
        }
    }

    fn is_of_its_sort(&self, event: &Event) -> bool {
        match self.pattern.happening {
            Happening::Hit => matches!(event.what, What::Hit(_)),
            Happening::Death => matches!(event.what, What::Death { .. }),
            Happening::Gone => matches!(event.what, What::Gone | What::Vanish { .. }),
            Happening::Respawn => matches!(event.what, What::Respawn { .. }),
            Happening::Reach => matches!(event.what, What::Checkpoint { .. } | What::Exit { .. }),
            Happening::Cue => matches!(event.what, What::Cue { .. }),
            Happening::Shot => matches!(event.what, What::Shot { .. }),
            Happening::DryFire => matches!(event.what, What::DryFire { .. }),
            Happening::Attack => matches!(event.what, What::Attack { over: None, .. }),
            Happening::State => matches!(event.what, What::Enter { .. }),
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

    fn who(&self, event: &Event) -> bool {
        let hits = matches!(self.pattern.happening, Happening::Hit | Happening::Cue);
        among(&self.pattern.who, self.actor(event), |chosen, actor| {
            // What somebody launched hits for them.
            if hits {
                self.replay.acts_for(chosen, actor)
            } else {
                self.replay.is_chosen(chosen, actor)
            }
        })
    }

    fn whom(&self, event: &Event) -> bool {
        among(&self.pattern.whom, event.whom, |chosen, actor| {
            self.replay.is_chosen(chosen, actor)
        })
    }

    fn rule(&self, event: &Event) -> bool {
        self.pattern.rule.is_none() || self.pattern.rule == event.rule
    }

    fn verdict(&self, event: &Event) -> bool {
        let What::Hit(hit) = &event.what else {
            return true;
        };
        match self.pattern.verdict {
            Some(verdict) => hit.verdict == verdict,
            None => hit.verdict.took_effect(),
        }
    }

    fn amount(&self, event: &Event) -> bool {
        let Some(wanted) = self.pattern.amount else {
            return true;
        };
        matches!(&event.what, What::Hit(hit) if hit.amount == Some(wanted))
    }

    fn passes(&self, event: &Event) -> bool {
        let (Some(level), What::Meter { before, after, .. }) = (self.pattern.passes, &event.what)
        else {
            return true;
        };
        (*before > level && *after <= level) || (*before < level && *after >= level)
    }

    fn about(&self, event: &Event) -> bool {
        let Some(about) = &self.pattern.about else {
            return true;
        };
        let spec = event.who.map(|who| self.replay.spec(who));
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
            _ => false,
        }
    }
}

fn text(chosen: &Option<Chosen>) -> String {
    chosen.as_ref().map_or_else(String::new, Chosen::to_string)
}

fn among(
    chosen: &Option<Chosen>,
    actor: Option<ActorIx>,
    is: impl Fn(&Chosen, ActorIx) -> bool,
) -> bool {
    let chosen = chosen.as_ref();
    chosen.is_none_or(|chosen| actor.is_some_and(|actor| is(chosen, actor)))
}
