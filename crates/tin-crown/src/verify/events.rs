//! What happens, in words.

use crate::encounter::Happening;
use crate::plan::{About, Chosen, PatternPlan, Plan};
use crate::reason::{Asked, Over};
use crate::verdict::Verdict;

/// "a death of porter".
fn of(what: impl Into<String>, word: &str, chosen: &Option<Chosen>) -> String {
    let what = what.into();
    match chosen {
        Some(chosen) => format!("{what} {word} {chosen}"),
        None => what,
    }
}

/// "a death of porter (`kill`)".
fn because(what: String, reason: Option<&str>) -> String {
    match reason {
        Some(reason) => format!("{what} (`{reason}`)"),
        None => what,
    }
}

impl PatternPlan {
    /// What happens, in words.
    pub(super) fn said(&self, plan: &Plan) -> String {
        let about = self.about.as_ref().map(|about| about.said(plan));
        let named = |what: &str| match about {
            Some(name) => format!("{what} `{name}`"),
            None if what.starts_with(['a', 'e', 'i', 'o', 'u']) => format!("an {what}"),
            None => format!("a {what}"),
        };
        let who = &self.who;
        match self.happening {
            Happening::Hit => self.hit_said(plan),
            Happening::Parry => {
                let what = of(of("a parry", "by", &self.whom), "against", who);
                self.by_rule(plan, what)
            }
            Happening::Push => {
                let what = of(of("a push", "of", &self.whom), "by", who);
                self.by_rule(plan, what)
            }
            Happening::Death => {
                let what = of(of("a death", "of", who), "by", &self.by);
                because(what, self.cause.map(|cause| cause.as_str()))
            }
            Happening::Gone => of("an end", "of", who),
            Happening::Appear => of("an appearance", "of", who),
            Happening::Vanish => {
                let what = of("a vanishing", "of", who);
                because(what, self.ending.map(|ending| ending.as_str()))
            }
            Happening::Respawn => match about {
                Some(name) => format!("{} at `{name}`", of("a return", "of", who)),
                None => of("a return", "of", who),
            },
            Happening::Reach => {
                let place = about.map_or("any checkpoint or exit".to_owned(), |name| {
                    format!("`{name}`")
                });
                of(format!("{place} reached"), "by", who)
            }
            Happening::Cue => of(named("cue"), "of", who),
            Happening::Shot => of(named("shot"), "by", who),
            Happening::DryFire => {
                let what = of(named("dry fire"), "by", who);
                because(what, self.dry.map(|dry| dry.as_str()))
            }
            Happening::Attack => {
                let what = of(named("attack"), "by", who);
                let what = because(what, self.despite.map(|despite| despite.as_str()));
                match self.over {
                    Some(Over::Done) => format!("{what}, at its end"),
                    Some(Over::CutShort) => format!("{what}, cut short"),
                    None => what,
                }
            }
            Happening::State => of(named("state"), "of", who),
            Happening::Stun => of("a stun", "of", who),
            Happening::GuardBreak => of("a broken guard", "of", who),
            Happening::Landing => of("a landing", "of", who),
            Happening::Sense | Happening::Lose => {
                let what = of(named("sensor"), "of", who);
                match (self.happening, &self.whom) {
                    (Happening::Sense, None) => format!("{what} noticing"),
                    (Happening::Sense, Some(whom)) => format!("{what} noticing {whom}"),
                    (_, None) => format!("{what} losing"),
                    (_, Some(whom)) => format!("{what} losing {whom}"),
                }
            }
            Happening::Pickup => of(of("a pickup", "by", who), "of", &self.whom),
            Happening::Reset => "everything reset".to_owned(),
            Happening::Input => {
                let way = match self.down {
                    Some(true) => "press",
                    Some(false) => "release",
                    None => "press or release",
                };
                of(
                    format!("a {way} of {}", about.unwrap_or("a button")),
                    "by",
                    who,
                )
            }
            Happening::Ignored => self.ignored_said(about),
            Happening::Apply => self.apply_said(),
            Happening::Passes => self.passing(of(about.unwrap_or_default(), "of", who)),
            Happening::Lives => self.passing(of("lives", "of", who)),
        }
    }

    fn ignored_said(&self, about: Option<&str>) -> String {
        match self.asked {
            Some(Asked::Attack) => of("an ignored attack", "of", &self.who),
            Some(Asked::Pose) => of("an ignored pose", "of", &self.who),
            Some(Asked::Effect) => of("an ignored effect", "on", &self.who),
            Some(Asked::Press) | None => {
                let what = format!("an ignored press of {}", about.unwrap_or("a button"));
                of(what, "by", &self.who)
            }
        }
    }

    fn apply_said(&self) -> String {
        let what = match self.amount {
            Some(amount) => format!("an effect from outside for {amount}"),
            None => "an effect from outside".to_owned(),
        };
        let what = of(of(what, "by", &self.who), "on", &self.whom);
        because(what, self.kills.filter(|kills| *kills).map(|_| "kill"))
    }

    fn hit_said(&self, plan: &Plan) -> String {
        let what = match self.verdict {
            None => "a hit".to_owned(),
            Some(Verdict::Landed) => "a hit that lands".to_owned(),
            Some(Verdict::Guarded) => "a guarded hit".to_owned(),
            Some(verdict) => format!("a touch that is `{}`", verdict.as_str()),
        };
        let what = match self.amount {
            Some(amount) => format!("{what} for {amount}"),
            None => what,
        };
        let what = match self.guard {
            Some(guard) => format!("{what} with a guard that is `{}`", guard.as_str()),
            None => what,
        };
        self.by_rule(plan, of(of(what, "by", &self.who), "on", &self.whom))
    }

    fn by_rule(&self, plan: &Plan, what: String) -> String {
        match self.rule {
            Some(rule) => format!("{what} by rule `{}`", plan.rules[rule.index()].name),
            None => what,
        }
    }

    fn passing(&self, what: String) -> String {
        match self.passes {
            Some(level) => format!("{what} passing {level}"),
            None => format!("{what} changing"),
        }
    }
}

impl About {
    fn said<'p>(&'p self, plan: &'p Plan) -> &'p str {
        match self {
            About::Place(Some(point), _) => &plan.checkpoints[point.index()].name,
            About::Place(None, Some(exit)) => &plan.exits[exit.index()].name,
            About::Place(None, None) => "start",
            About::Cue(cue) => &plan.names.cues[*cue],
            About::Launcher(name) => name,
            About::Attack(name) => &plan.names.attacks[*name],
            About::State(name) => &plan.names.states[*name],
            About::Sensor(name) => &plan.names.sensors[*name],
            About::Meter(meter) => &plan.names.meters[*meter],
            About::Button(button) => &plan.names.buttons[*button],
            About::Bearing(word) => word,
        }
    }
}
