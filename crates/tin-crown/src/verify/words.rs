//! Expectations in words.

use crate::encounter::Happening;
use crate::outcome::Outcome;
use crate::plan::{About, Chosen, DuringPlan, ExpectPlan, ExpectedPlan, Holds, PatternPlan, Plan};
use crate::time::Tick;
use crate::verdict::Verdict;

impl ExpectPlan {
    /// What is expected, in words.
    pub fn said(&self, plan: &Plan) -> String {
        let mut said = match &self.what {
            ExpectedPlan::Never(pattern) => format!("never {}", pattern.said(plan)),
            ExpectedPlan::Happens(pattern) => pattern.said(plan),
            ExpectedPlan::Ends(outcome) => match outcome {
                Outcome::Won => "the drill is won".to_owned(),
                Outcome::Lost => "the drill is lost".to_owned(),
                Outcome::Ended => "the drill ends when time runs out".to_owned(),
            },
            ExpectedPlan::Meter(stand) => {
                let name = &plan.names.meters[stand.meter];
                let whose = format!("{name} of {}", stand.who);
                match stand.holds {
                    Holds::Just(amount) => match self.when {
                        Some(_) => format!("{whose} is {amount}"),
                        None => format!("{whose} is {amount} at the end"),
                    },
                    Holds::Between(Some(least), None) => {
                        format!("{whose} is always at least {least}")
                    }
                    Holds::Between(None, Some(most)) => format!("{whose} is always at most {most}"),
                    Holds::Between(least, most) => format!(
                        "{whose} is always between {} and {}",
                        least.unwrap_or_default(),
                        most.unwrap_or_default()
                    ),
                }
            }
        };
        let mut add = |words: String| {
            said.push_str(", ");
            said.push_str(&words);
        };
        if let Some(times) = self.times {
            add(match (times.least, times.most) {
                (least, most) if least == most => self::times(least as usize),
                (0, most) => format!("at most {}", self::times(most as usize)),
                (least, u32::MAX) => format!("at least {}", self::times(least as usize)),
                (least, most) => format!("{least} to {most} times"),
            });
        }
        if let Some(apart) = self.apart {
            add(format!("at least {} apart", ticks(apart.0)));
        }
        if let Some(pattern) = &self.before {
            add(format!("before {}", pattern.said(plan)));
        }
        if let Some(pattern) = &self.after {
            add(match self.by {
                Some(by) => {
                    let each = pattern.said(plan);
                    format!("{} after each {}", ticks(by.0), bare(&each))
                }
                None => format!("after {}", pattern.said(plan)),
            });
        }
        if let Some(during) = &self.during {
            add(format!("while {}", during.said(plan)));
        }
        if let Some(when) = self.when {
            add(time(when, plan.rate));
        }
        if self.within.0 > 0 {
            add(format!("within {}", ticks(self.within.0)));
        }
        if self.from.0 > 0 {
            add(format!("from {:.3} s on", self.from.seconds(plan.rate)));
        }
        if let Some(to) = self.to {
            add(format!("up to {:.3} s", to.seconds(plan.rate)));
        }
        said
    }
}

impl PatternPlan {
    /// What happens, in words.
    pub(super) fn said(&self, plan: &Plan) -> String {
        let about = self.about.as_ref().map(|about| about.said(plan));
        let named = |what: &str| match &about {
            Some(name) => format!("{what} `{name}`"),
            None => format!("a {what}"),
        };
        let of = |what: String, word: &str, chosen: &Option<Chosen>| match chosen {
            Some(chosen) => format!("{what} {word} {chosen}"),
            None => what,
        };
        match self.happening {
            Happening::Hit => {
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
                let what = of(of(what, "by", &self.who), "on", &self.whom);
                match self.rule {
                    Some(rule) => format!("{what} by rule `{}`", plan.rules[rule.index()].name),
                    None => what,
                }
            }
            Happening::Death => of("a death".to_owned(), "of", &self.who),
            Happening::Gone => of("an end".to_owned(), "of", &self.who),
            Happening::Respawn => {
                let what = of("a return".to_owned(), "of", &self.who);
                match &about {
                    Some(name) => format!("{what} at `{name}`"),
                    None => what,
                }
            }
            Happening::Reach => {
                let place = about
                    .as_ref()
                    .map_or("any checkpoint or exit".to_owned(), |name| {
                        format!("`{name}`")
                    });
                of(format!("{place} reached"), "by", &self.who)
            }
            Happening::Cue => of(named("cue"), "of", &self.who),
            Happening::Shot => of(named("shot"), "by", &self.who),
            Happening::DryFire => of(named("dry fire"), "by", &self.who),
            Happening::Attack => of(named("attack"), "by", &self.who),
            Happening::State => of(named("state"), "of", &self.who),
            Happening::Sense => {
                let what = of(named("sensor"), "of", &self.who);
                of(format!("{what} noticing"), "", &self.whom).replace("  ", " ")
            }
            Happening::Pickup => of(of("a pickup".to_owned(), "by", &self.who), "of", &self.whom),
            Happening::Reset => "everything reset".to_owned(),
            Happening::Passes => {
                let meter = about.unwrap_or_default();
                let what = of(meter.to_owned(), "of", &self.who);
                format!("{what} passing {}", self.passes.unwrap_or_default())
            }
        }
    }
}

impl About {
    fn said<'p>(&'p self, plan: &'p Plan) -> &'p str {
        match self {
            About::Place(Some(point), _) => &plan.checkpoints[point.index()].name,
            About::Place(None, Some(exit)) => &plan.exits[exit.index()].name,
            About::Place(None, None) => "",
            About::Cue(cue) => &plan.names.cues[*cue],
            About::Launcher(name) => name,
            About::Attack(name) => &plan.names.attacks[*name],
            About::State(name) => &plan.names.states[*name],
            About::Sensor(name) => &plan.names.sensors[*name],
            About::Meter(meter) => &plan.names.meters[*meter],
        }
    }
}

impl DuringPlan {
    fn said(&self, plan: &Plan) -> String {
        let mut so = Vec::new();
        let not = |yes: bool| if yes { "" } else { "not " };
        so.extend(
            self.state
                .map(|name| format!("is {}", plan.names.states[name])),
        );
        so.extend(
            self.attack
                .map(|name| format!("is in {}", plan.names.attacks[name])),
        );
        so.extend(self.guarding.map(|yes| format!("is {}guarding", not(yes))));
        so.extend(self.stunned.map(|yes| format!("is {}stunned", not(yes))));
        so.extend(self.dying.map(|yes| format!("is {}dying", not(yes))));
        for (meter, least, most) in &self.meters {
            let name = &plan.names.meters[*meter];
            so.extend(least.map(|least| format!("has at least {least} {name}")));
            so.extend(most.map(|most| format!("has at most {most} {name}")));
        }
        format!("{} {}", self.who, so.join(" and "))
    }
}

/// Without its article.
pub(super) fn bare(said: &str) -> &str {
    let rest = said.strip_prefix("a ").or_else(|| said.strip_prefix("an "));
    rest.unwrap_or(said)
}

/// "at 1.617 s, tick 97".
pub(super) fn time(tick: Tick, rate: u32) -> String {
    format!("at {:.3} s, tick {tick}", tick.seconds(rate))
}

pub(super) fn ticks(count: u32) -> String {
    match count {
        1 => "1 tick".to_owned(),
        count => format!("{count} ticks"),
    }
}

pub(super) fn times(count: usize) -> String {
    match count {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        count => format!("{count} times"),
    }
}
