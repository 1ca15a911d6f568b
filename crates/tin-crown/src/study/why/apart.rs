//! Two who never touch: how near they come, and what stands in the way.

use serde::Serialize;

use super::Question;
use super::miss::{Course, Miss, miss};
use crate::encounter::Contact;
use crate::geometry::Vec2;
use crate::ledger::Replay;
use crate::map::Set;
use crate::plan::{ActorIx, BoxIx, BoxPlan, RuleIx, Spec};
use crate::printable::hundredths;
use crate::sim::{ActorView, Sim};
use crate::time::Tick;

/// How far apart two stayed, and why.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Apart {
    /// In a few sentences.
    pub says: Vec<String>,
    /// The rules that pair boxes of the two.
    pub rules: Vec<String>,
    /// The closest that boxes came which were both live.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub nearest: Option<Near>,
    /// The closest that boxes came of which one was off, when that is closer.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub off: Option<Near>,
    /// The first tick on which swept contact would have met, where contact is sampled.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub swept: Option<u32>,
    /// The tick nearest to the moment asked about on which the two did touch.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub touched: Option<u32>,
}

/// How near two boxes came.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Near {
    /// When.
    pub tick: u32,
    /// The same in seconds.
    pub seconds: f64,
    /// Who.
    pub who: String,
    /// Its box.
    pub hitbox: String,
    /// Whom.
    pub whom: String,
    /// Its box.
    pub hurtbox: String,
    /// The rule that pairs them, the first of several.
    pub rule: String,
    /// How far apart, in units; 0 when one lay over the other.
    pub distance: f64,
    /// Where the hurtbox was, seen from the hitbox: to the right, and up.
    pub toward: [f64; 2],
    /// How far above the hitbox it was, where the arena has heights; negative below.
    #[serde(skip_serializing_if = "is_level")]
    pub above: f64,
    /// Why a box was off, when one was.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub off: Option<String>,
}

/// Looks for the closest that two come.
pub(super) struct Search<'a> {
    replay: &'a Replay,
    question: &'a Question<'a>,
    rules: Set<RuleIx>,
    /// Rules by which one of who gives, and one of whom takes, whomever else.
    gives: Set<RuleIx>,
    takes: Set<RuleIx>,
    /// Whether two of them were ever there at once.
    met: bool,
    nearest: Option<Near>,
    off: Option<Near>,
    swept: Option<Tick>,
}

/// Two boxes on a tick.
struct Boxes<'s> {
    sim: &'s Sim,
    who: ActorIx,
    whom: ActorIx,
    hitbox: BoxIx,
    hurtbox: BoxIx,
    views: [ActorView<'s>; 2],
}

impl<'a> Search<'a> {
    pub fn new(replay: &'a Replay, question: &'a Question<'a>) -> Search<'a> {
        Search {
            replay,
            question,
            rules: Set::new(),
            gives: Set::new(),
            takes: Set::new(),
            met: false,
            nearest: None,
            off: None,
            swept: None,
        }
    }

    /// Looks at everyone as they stand.
    pub fn look(&mut self, sim: &Sim) {
        let (replay, question) = (self.replay, self.question);
        let asked = |whom: &ActorIx| replay.is_chosen(question.whom, *whom);
        let others: Vec<ActorIx> = sim.cast().filter(asked).collect();
        for who in sim.cast().filter(|who| replay.acts_for(question.who, *who)) {
            for &whom in others.iter().filter(|whom| **whom != who) {
                self.met = true;
                self.compare(sim, who, whom);
            }
        }
    }

    fn compare(&mut self, sim: &Sim, who: ActorIx, whom: ActorIx) {
        let views = [sim.actor(who), sim.actor(whom)];
        for hit in 0..sim.spec(who).hitboxes.len() {
            for hurt in 0..sim.spec(whom).hurtboxes.len() {
                let (hitbox, hurtbox) = (BoxIx::new(hit), BoxIx::new(hurt));
                self.gives.extend(sim.gives(who, hitbox).iter().copied());
                self.takes.extend(sim.takes(whom, hurtbox).iter().copied());
                let mut rules = sim.rules_between((who, hitbox), (whom, hurtbox));
                let asked = |rule: &RuleIx| self.question.rule.is_none_or(|own| own == *rule);
                let Some(rule) = rules.find(asked) else {
                    continue;
                };
                self.rules.insert(rule);
                let boxes = Boxes {
                    sim,
                    who,
                    whom,
                    hitbox,
                    hurtbox,
                    views,
                };
                self.measure(&boxes, rule);
            }
        }
    }

    fn measure(&mut self, boxes: &Boxes<'_>, rule: RuleIx) {
        let plan = self.replay.plan();
        let sampled = plan.arena.contact == Contact::Sampled;
        let off = boxes.off();
        let found = boxes.gap(!sampled);
        if sampled && off.is_none() && self.swept.is_none() && boxes.gap(true).distance == 0.0 {
            self.swept = Some(boxes.sim.tick());
        }
        let best = if off.is_some() {
            &mut self.off
        } else {
            &mut self.nearest
        };
        if best
            .as_ref()
            .is_some_and(|best| best.distance <= found.distance)
        {
            return;
        }
        let tick = boxes.sim.tick();
        let up = plan.arena.up.sign();
        let (gives, takes) = boxes.plans();
        *best = Some(Near {
            tick: tick.0,
            seconds: tick.seconds(plan.rate),
            who: boxes.sim.id(boxes.who).to_owned(),
            hitbox: gives.name.clone(),
            whom: boxes.sim.id(boxes.whom).to_owned(),
            hurtbox: takes.name.clone(),
            rule: plan.rules[rule.index()].name.clone(),
            distance: found.distance,
            toward: [found.toward.x, found.toward.y * up],
            above: found.above,
            off,
        });
    }

    /// What was found. `touched` are the ticks on which they did touch at other times.
    pub fn found(self, touched: &[Tick]) -> Apart {
        let plan = self.replay.plan();
        let names = |rules: &Set<RuleIx>| -> Vec<String> {
            let names = rules.iter().map(|rule| &plan.rules[rule.index()].name);
            names.cloned().collect()
        };
        let closer = |off: &Near| {
            let nearest = self.nearest.as_ref();
            nearest.is_none_or(|nearest| off.distance < nearest.distance)
        };
        let when = self.question.when.unwrap_or_default();
        let apart = Apart {
            says: Vec::new(),
            rules: names(&self.rules),
            touched: touched
                .iter()
                .min_by_key(|tick| tick.0.abs_diff(when.0))
                .map(|tick| tick.0),
            off: self.off.clone().filter(closer),
            nearest: self.nearest.clone(),
            swept: self.swept.map(|tick| tick.0),
        };
        Apart {
            says: self.says(&apart),
            ..apart
        }
    }

    /// What who may launch or leave behind that can hit whom, in words.
    fn launched(&self) -> String {
        let plan = self.replay.plan();
        let cast = || plan.cast();
        let whos = cast().filter(|who| self.replay.acts_for(self.question.who, *who));
        let mut found = Set::new();
        for who in whos {
            for whom in cast().filter(|whom| self.replay.is_chosen(self.question.whom, *whom)) {
                found.extend(plan.launches_against(who, whom));
            }
        }
        let asked = |rule: RuleIx| self.question.rule.is_none_or(|own| own == rule);
        let found = found.into_iter().filter(|(_, rule)| asked(*rule)).take(5);
        let words = found.map(|(kind, rule)| {
            let rule = &plan.rules[rule.index()].name;
            format!("a {} by `{rule}`", plan.names.kinds[kind])
        });
        words.collect::<Vec<_>>().join(", ")
    }

    /// That no rule pairs their boxes, and what is nearest to it.
    fn unpaired(&self) -> Vec<String> {
        let plan = self.replay.plan();
        let (who, whom) = (self.question.who, self.question.whom);
        let mut says = Vec::new();
        let launched = self.launched();
        match self.question.rule {
            _ if !launched.is_empty() => says.push(format!(
                "{who} hits {whom} only with what it launches: {launched}; there {}",
                match self.question.when {
                    Some(_) => "was none then",
                    None => "never was one",
                }
            )),
            Some(rule) => says.push(format!(
                "rule `{}` pairs no box of {who} with one of {whom}",
                plan.rules[rule.index()].name
            )),
            None => says.push(format!("no rule pairs a box of {who} with one of {whom}")),
        }
        says.extend(self.gives.iter().take(5).map(|rule| {
            let rule = &plan.rules[rule.index()];
            format!("by `{}` {who} hits {}, not {whom}", rule.name, rule.hurtbox)
        }));
        says.extend(self.takes.iter().take(5).map(|rule| {
            let rule = &plan.rules[rule.index()];
            format!(
                "by `{}` {whom} is hit by {}, not by {who}",
                rule.name, rule.hitbox
            )
        }));
        says
    }

    fn says(&self, apart: &Apart) -> Vec<String> {
        let plan = self.replay.plan();
        let (who, whom) = (self.question.who, self.question.whom);
        let seconds = |tick: u32| format!("{:.3} s", Tick(tick).seconds(plan.rate));
        let mut says = Vec::new();
        if !self.met {
            let then = if self.question.when.is_some() {
                " then"
            } else {
                ""
            };
            says.push(format!(
                "{who} and {whom} never exist at the same time{then}"
            ));
        } else if apart.rules.is_empty() {
            says.extend(self.unpaired());
        }
        if let Some(near) = &apart.nearest {
            let [gives, takes] = [
                format!("{}.{}", near.who, near.hitbox),
                format!("{}.{}", near.whom, near.hurtbox),
            ];
            let when = format!("{} (tick {})", seconds(near.tick), near.tick);
            says.push(match (near.above, near.toward) {
                (above, [0.0, 0.0]) if above != 0.0 => {
                    let side = if above > 0.0 { "below" } else { "above" };
                    let far = hundredths(above.abs());
                    format!("they did not touch: {gives} passed {far} {side} {takes} at {when}")
                }
                _ => format!(
                    "they did not touch: {gives} and {takes} came nearest at {when}, {} apart{}",
                    units(near.distance),
                    direction(near)
                ),
            });
        } else if !apart.rules.is_empty() {
            says.push(match self.question.when {
                Some(_) => "no two boxes that a rule pairs were both live then".to_owned(),
                None => "no two boxes that a rule pairs were ever both live".to_owned(),
            });
        }
        if let Some(near) = &apart.off {
            let off = near.off.as_deref().unwrap_or_default();
            let how = match near.distance {
                0.0 => format!("lay over {}.{}", near.whom, near.hurtbox),
                distance => format!(
                    "came within {} of {}.{}",
                    units(distance),
                    near.whom,
                    near.hurtbox
                ),
            };
            says.push(format!(
                "{}.{} {how} at {} (tick {}), but {off}",
                near.who,
                near.hitbox,
                seconds(near.tick),
                near.tick
            ));
        }
        if let Some(tick) = apart.swept {
            says.push(format!(
                "between two ticks one went through the other, at {} (tick {tick}): \
                 `contact = \"swept\"` would have caught it",
                seconds(tick)
            ));
        } else if apart.nearest.is_some() && plan.arena.contact == Contact::Sampled {
            says.push("swept contact would not have met either".to_owned());
        }
        if let (Some(tick), Some(_)) = (apart.touched, self.question.when) {
            says.push(format!("they do touch at {} (tick {tick})", seconds(tick)));
        }
        says
    }
}

impl<'s> Boxes<'s> {
    fn plans(&self) -> (&'s BoxPlan, &'s BoxPlan) {
        let gives = &self.sim.spec(self.who).hitboxes[self.hitbox.index()];
        let takes = &self.sim.spec(self.whom).hurtboxes[self.hurtbox.index()];
        (gives, takes)
    }

    /// How near they come over the tick, or at its end.
    fn gap(&self, swept: bool) -> Miss {
        let [who, whom] = &self.views;
        let (gives, takes) = self.plans();
        let course = |part: &BoxPlan, view: &ActorView<'_>| {
            let (from, way) = match swept {
                true => (
                    (view.start, view.height_before),
                    (view.at - view.start, view.height - view.height_before),
                ),
                false => ((view.at, view.height), (Vec2::ZERO, 0.0)),
            };
            Course {
                shape: part.shape_at(view.facing, view.age),
                span: part.span_at(view.age),
                from,
                way,
            }
        };
        miss(&course(gives, who), &course(takes, whom))
    }

    /// Why one of them is off, if one is.
    fn off(&self) -> Option<String> {
        let [who, whom] = &self.views;
        let (gives, takes) = self.plans();
        if who.live.hit & (1 << self.hitbox.0) == 0 {
            let spec = self.sim.spec(self.who);
            let bit = 1u64 << self.hitbox.0;
            let sorts = [spec.by_attack.hit & bit != 0, spec.by_state.hit & bit != 0];
            return Some(self.reason(self.who, gives, who, sorts));
        }
        if whom.live.hurt & (1 << self.hurtbox.0) == 0 {
            let spec = self.sim.spec(self.whom);
            let bit = 1u64 << self.hurtbox.0;
            let sorts = [
                spec.by_attack.hurt & bit != 0,
                spec.by_state.hurt & bit != 0,
            ];
            return Some(self.reason(self.whom, takes, whom, sorts));
        }
        None
    }

    fn reason(
        &self,
        owner: ActorIx,
        part: &BoxPlan,
        view: &ActorView<'_>,
        [by_attack, by_state]: [bool; 2],
    ) -> String {
        let name = &part.name;
        let id = self.sim.id(owner);
        let plan = self.sim.plan();
        let spec: &Spec = self.sim.spec(owner);
        if view.dying {
            return format!("{name} was off: {id} was dying");
        }
        if part.pulse.is_some_and(|pulse| !pulse.is_on(view.age)) {
            return format!("{name} was off: its pulse was");
        }
        if by_attack {
            return match view.attack {
                Some((attack, phase)) => {
                    let attack = spec.attacks[attack.index()].name;
                    format!(
                        "{name} was off: {id} was in the {} of {}",
                        phase.as_str(),
                        plan.names.attacks[attack]
                    )
                }
                None => format!("{name} was off: {id} was in no attack that makes it live"),
            };
        }
        if by_state {
            let state = view.state.map(|state| spec.states[state.index()].name);
            let state = state.map_or("no state", |state| plan.names.states[state].as_str());
            return format!("{name} was off: {id} was {state}");
        }
        format!("{name} was off")
    }
}

fn units(distance: f64) -> String {
    match hundredths(distance) {
        0.0 => "less than 0.01 units".to_owned(),
        1.0 => "1 unit".to_owned(),
        distance => format!("{distance} units"),
    }
}

/// ", torso being 3 to the right and 2 above".
fn direction(near: &Near) -> String {
    let higher = (hundredths(near.above) != 0.0).then(|| {
        let side = if near.above > 0.0 { "higher" } else { "lower" };
        format!("{} {side}", hundredths(near.above.abs()))
    });
    let parts: Vec<String> = aside(near.toward).into_iter().chain(higher).collect();
    match parts.is_empty() {
        true => String::new(),
        false => format!(", {} being {}", near.hurtbox, parts.join(", and ")),
    }
}

/// Whether two are at one height.
fn is_level(above: &f64) -> bool {
    *above == 0.0
}

/// "3 to the right and 2 above"; nothing when it is neither.
pub(in crate::study) fn aside(toward: [f64; 2]) -> Option<String> {
    let [right, up] = toward.map(hundredths);
    let mut parts = Vec::new();
    if right != 0.0 {
        let side = if right > 0.0 { "right" } else { "left" };
        parts.push(format!("{} to the {side}", right.abs()));
    }
    if up != 0.0 {
        let side = if up > 0.0 { "above" } else { "below" };
        parts.push(format!("{} {side}", up.abs()));
    }
    (!parts.is_empty()).then(|| parts.join(" and "))
}
