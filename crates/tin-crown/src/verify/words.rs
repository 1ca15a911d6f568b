//! Expectations in words.

use crate::encounter::Holding;
use crate::outcome::Outcome;
use crate::plan::{
    Counted, DuringPlan, ExpectPlan, ExpectedPlan, Holds, Plan, StandPlan, StayPlan,
};
use crate::time::Tick;

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
            ExpectedPlan::Stand(stand) => stand.said(plan, self.when.is_some()),
            ExpectedPlan::Place(stay) => stay.said(self.when.is_some()),
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
            add(format!("at least {} apart", apart.in_words()));
        }
        if let Some(pattern) = &self.before {
            add(format!("before {}", pattern.said(plan)));
        }
        if let Some(pattern) = &self.after {
            add(match self.by {
                Some(by) => {
                    let each = pattern.said(plan);
                    format!("{} after each {}", by.in_words(), bare(&each))
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
            add(format!("within {}", self.within.in_words()));
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

impl StandPlan {
    fn said(&self, plan: &Plan, timed: bool) -> String {
        let whose = format!("{} of {}", self.of.said(plan), self.who);
        match self.holds {
            Holds::Just(amount) if timed => format!("{whose} is {amount}"),
            Holds::Just(amount) => format!("{whose} is {amount} at the end"),
            Holds::Between(Some(least), None) => format!("{whose} is always at least {least}"),
            Holds::Between(None, Some(most)) => format!("{whose} is always at most {most}"),
            Holds::Between(least, most) => {
                let [least, most] = [least, most]
                    .map(|level| level.map(|level| level.to_string()).unwrap_or_default());
                format!("{whose} is always between {least} and {most}")
            }
        }
    }
}

impl Counted {
    pub(crate) fn said(self, plan: &Plan) -> &str {
        match self {
            Counted::Meter(meter) => &plan.names.meters[meter],
            Counted::Lives => "lives",
        }
    }
}

impl StayPlan {
    fn said(&self, timed: bool) -> String {
        let area = self.area.as_ref().map(|area| {
            let side = if area.inside { "inside" } else { "outside" };
            format!("{side} {}", area.name)
        });
        let facing = self.facing.map(|facing| format!("facing {facing}"));
        let so: Vec<String> = area.into_iter().chain(facing).collect();
        let how = match self.holds {
            Some(Holding::Always) => "always ",
            Some(Holding::Ever) => "at some time ",
            None => "",
        };
        let end = match self.holds {
            None if !timed => " at the end",
            _ => "",
        };
        format!("{} is {how}{}{end}", self.who, so.join(", "))
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

pub(super) fn times(count: usize) -> String {
    match count {
        1 => "once".to_owned(),
        2 => "twice".to_owned(),
        count => format!("{count} times"),
    }
}
