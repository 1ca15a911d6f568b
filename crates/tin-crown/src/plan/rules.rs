//! Resolved rules, and which boxes they pair.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;

use super::cast::Actor;
use super::checker::Checker;
use super::index::{ActorIx, KindIx, MeterIx, ProfileIx, RuleIx, SpecIx, TagIx};
use super::select::{Directory, Names, Subject};
use super::spec::{BoxPlan, Spec};
use crate::amount::Amount;
use crate::encounter::{Push, Repeat, Rule, Selector};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::{Duration, Ticks};

/// A resolved rule.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct RulePlan {
    /// Its name.
    pub name: String,
    /// The selector of what gives, as written.
    pub hitbox: String,
    /// The selector of what takes, as written.
    pub hurtbox: String,
    /// What it takes from meters.
    pub damage: Option<DamagePlan>,
    /// How it throws whom it hits.
    pub knockback: Option<PushPlan>,
    /// When it may land again.
    pub repeat: Repeat,
    /// The least time between two hits on one target.
    pub every: Ticks,
    /// Whether it also hits its own side.
    pub friendly: bool,
}

/// What a hit takes.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct DamagePlan {
    /// How much.
    pub amount: Amount,
    /// From which meters, one after the other.
    pub meters: Vec<MeterIx>,
}

/// Velocity components that a hit sets, in units a second.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct PushPlan {
    /// Away from the other party.
    pub away: Option<f64>,
    /// Upward.
    pub up: Option<f64>,
    /// The way the pushed one faces.
    pub forward: Option<f64>,
    /// On the line from the other's centre.
    pub along: Option<f64>,
    /// How long the pushed one's own motion does not drive it.
    pub length: Ticks,
}

/// Knockback takes the reins for so long unless it says otherwise.
const KNOCKED: Duration = Duration::millis(200);

/// The names and actors that rules speak of.
pub(super) struct World<'a> {
    pub kinds: &'a [String],
    pub kind_tags: &'a [Vec<TagIx>],
    pub tags: &'a [String],
    pub meters: &'a [String],
    pub specs: &'a [Spec],
    pub actors: &'a [Actor],
}

/// One of the two sides of a rule.
#[derive(Clone, Copy)]
enum Role {
    Gives,
    Takes,
}

impl Role {
    fn key(self) -> &'static str {
        match self {
            Role::Gives => "hitbox",
            Role::Takes => "hurtbox",
        }
    }

    fn boxes(self, spec: &Spec) -> &[BoxPlan] {
        match self {
            Role::Gives => &spec.hitboxes,
            Role::Takes => &spec.hurtboxes,
        }
    }

    fn other(self) -> Role {
        match self {
            Role::Gives => Role::Takes,
            Role::Takes => Role::Gives,
        }
    }
}

impl World<'_> {
    fn directory(&self) -> Directory<'_> {
        Directory {
            kinds: self.kinds,
            tags: self.tags,
            actors: self.actors,
        }
    }

    /// Every placed actor, and every kind for itself, with what it is made of.
    fn subjects(&self) -> impl Iterator<Item = (Subject<'_>, &Spec)> + Clone {
        let kinds = self.kind_tags.iter().enumerate().map(|(kind, tags)| {
            let subject = Subject {
                actor: None,
                kind: KindIx::new(kind),
                tags,
            };
            (subject, &self.specs[kind])
        });
        let actors = (0..self.actors.len()).map(|index| self.placed(index));
        kinds.chain(actors)
    }

    fn placed(&self, index: usize) -> (Subject<'_>, &Spec) {
        let actor = &self.actors[index];
        let spec = &self.specs[actor.spec.index()];
        let subject = Subject {
            actor: Some(ActorIx::new(index)),
            kind: spec.kind,
            tags: &actor.tags,
        };
        (subject, spec)
    }

    /// A selector that names at least one box of somebody.
    fn select(
        &self,
        check: &mut Checker,
        path: &Path,
        text: &str,
        role: Role,
    ) -> Option<(Names, Option<String>)> {
        let selector: Selector = match text.parse() {
            Ok(selector) => selector,
            Err(error) => {
                let message = format!("`{text}` is not a selector: {error}");
                check.report(Finding::new(Code::UnknownName, path.clone(), message));
                return None;
            }
        };
        let names = match self.directory().look_up(&selector.who) {
            Ok(names) => names,
            Err(unknown) => {
                check.report(
                    Finding::new(Code::UnknownName, path.clone(), unknown.to_string())
                        .missing(&unknown.name)
                        .help(unknown.help),
                );
                return None;
            }
        };
        let chosen = self
            .subjects()
            .filter(|(subject, _)| names.matches(subject));
        let mut boxes = chosen.clone().flat_map(|(_, spec)| role.boxes(spec));
        let found = match &selector.part {
            Some(part) => boxes.any(|plan| plan.name == *part),
            None => boxes.next().is_some(),
        };
        if !found {
            let who = &selector.who;
            let Some(part) = &selector.part else {
                let message = format!("`{who}` has no {} at all", role.key());
                check.report(Finding::new(Code::UnknownName, path.clone(), message));
                return None;
            };
            let other = chosen
                .clone()
                .flat_map(|(_, spec)| role.other().boxes(spec))
                .any(|plan| plan.name == *part);
            let message = format!("`{who}` has no {} `{part}`", role.key());
            let finding = Finding::new(Code::UnknownName, path.clone(), message).missing(part);
            let known: BTreeSet<&str> = chosen
                .clone()
                .flat_map(|(_, spec)| role.boxes(spec))
                .map(|plan| plan.name.as_str())
                .collect();
            check.report(if other {
                finding.help(format!("`{part}` is a {}", role.other().key()))
            } else {
                finding.suggest(part, known)
            });
            return None;
        }
        if chosen.clone().all(|(subject, _)| subject.actor.is_none()) {
            let message = format!("nobody who is placed answers to `{}`", selector.who);
            check.report(
                Finding::new(Code::NobodyPlaced, path.clone(), message)
                    .help("place one, or take the rule away"),
            );
        }
        Some((names, selector.part))
    }
}

/// Resolves the rules, and gives every actor's boxes the profile of those that concern them.
pub(super) fn resolve(
    check: &mut Checker,
    rules: &[Rule],
    world: &World<'_>,
) -> (Vec<RulePlan>, Profiles) {
    let base = Path::root().key("rule");
    check.at_most(base.clone(), rules.len(), limits::RULES, "rules");
    let mut profiles = Profiles::new(world.actors);
    let mut named: BTreeMap<&str, usize> = BTreeMap::new();
    let mut plans = Vec::new();
    for (index, rule) in rules.iter().take(limits::RULES).enumerate() {
        let path = base.index(index);
        let name = &rule.name;
        if name.trim().is_empty() || name.len() > limits::NAME_BYTES {
            let message = format!("a rule's name has 1 to {} bytes", limits::NAME_BYTES);
            check.report(Finding::new(Code::BadName, path.key("name"), message));
        }
        if let Some(first) = named.insert(name, index) {
            let message = format!("two rules are called `{name}`");
            check.report(
                Finding::new(Code::Duplicate, path.key("name"), message)
                    .related(base.index(first).key("name"), "the other is here"),
            );
        }
        for (role, text) in [(Role::Gives, &rule.hitbox), (Role::Takes, &rule.hurtbox)] {
            if let Some((names, part)) = world.select(check, &path.key(role.key()), text, role) {
                let part = part.as_deref();
                profiles.add(RuleIx::new(index), role, world, names, part);
            }
        }
        plans.push(plan(check, &path, rule, world));
    }
    (plans, profiles)
}

fn plan(check: &mut Checker, path: &Path, rule: &Rule, world: &World<'_>) -> RulePlan {
    let damage = rule.damage.as_ref().map(|damage| {
        let base = path.key("damage");
        let meters_path = base.key("meters");
        let mut meters = Vec::new();
        for name in &damage.meters {
            match world.meters.binary_search(name) {
                Ok(index) if meters.contains(&MeterIx::new(index)) => {
                    let message = format!("`{name}` is named twice");
                    check.report(Finding::new(Code::Duplicate, meters_path.clone(), message));
                }
                Ok(index) => meters.push(MeterIx::new(index)),
                Err(_) => {
                    let known = world.meters.iter().map(String::as_str);
                    check.unknown(meters_path.clone(), "meter", name, known);
                }
            }
        }
        DamagePlan {
            amount: check.amount(base, damage.amount),
            meters,
        }
    });
    if rule.damage.is_none() && rule.knockback.is_none() {
        let message = format!("`{}` does nothing to whom it hits", rule.name);
        check.report(
            Finding::new(Code::NoEffect, path.clone(), message)
                .help("give it `damage` or `knockback`"),
        );
    }
    RulePlan {
        name: rule.name.clone(),
        hitbox: rule.hitbox.clone(),
        hurtbox: rule.hurtbox.clone(),
        damage,
        knockback: rule
            .knockback
            .map(|push| pushed(check, &path.key("knockback"), &push, KNOCKED)),
        repeat: rule.repeat.unwrap_or(Repeat::WhileTouching),
        every: rule
            .every
            .map_or(Ticks(0), |every| check.duration(path.key("every"), every)),
        friendly: rule.friendly,
    }
}

fn pushed(check: &mut Checker, path: &Path, push: &Push, length: Duration) -> PushPlan {
    let mut number = |key: &str, value: Option<f64>| {
        value.map(|value| check.number(path.key(key), value, &limits::VELOCITY))
    };
    let (away, up) = (number("away", push.away), number("up", push.up));
    let (forward, along) = (number("forward", push.forward), number("along", push.along));
    if away.is_some() && (forward.is_some() || along.is_some())
        || forward.is_some() && along.is_some()
    {
        check.report(Finding::new(
            Code::Contradiction,
            path.clone(),
            "`away`, `forward` and `along` all set the sideways velocity: name one",
        ));
    }
    PushPlan {
        away,
        up,
        forward,
        along,
        length: match push.length {
            Some(length) => check.duration(path.key("for"), length),
            None => length.ticks(check.rate),
        },
    }
}

/// For every box of every actor the rules that concern it, each set of rules kept once.
pub(super) struct Profiles {
    gives: Vec<Vec<Vec<RuleIx>>>,
    takes: Vec<Vec<Vec<RuleIx>>>,
}

impl Profiles {
    fn new(actors: &[Actor]) -> Profiles {
        Profiles {
            gives: vec![Vec::new(); actors.len()],
            takes: vec![Vec::new(); actors.len()],
        }
    }

    fn add(
        &mut self,
        rule: RuleIx,
        role: Role,
        world: &World<'_>,
        names: Names,
        part: Option<&str>,
    ) {
        let lists = match role {
            Role::Gives => &mut self.gives,
            Role::Takes => &mut self.takes,
        };
        for (index, list) in lists.iter_mut().enumerate() {
            let (subject, spec) = world.placed(index);
            if !names.matches(&subject) {
                continue;
            }
            let boxes = role.boxes(spec);
            list.resize_with(boxes.len(), Vec::new);
            for (list, plan) in list.iter_mut().zip(boxes) {
                if part.is_none_or(|part| part == plan.name) {
                    list.push(rule);
                }
            }
        }
    }

    /// Writes the profiles into the actors, and returns the sets they refer to. The first is empty.
    pub fn intern(self, specs: &[Spec], actors: &mut [Actor]) -> Vec<Vec<RuleIx>> {
        let mut known: BTreeMap<Vec<RuleIx>, ProfileIx> = BTreeMap::new();
        let mut sets = vec![Vec::new()];
        known.insert(Vec::new(), ProfileIx(0));
        let mut intern = |mut lists: Vec<Vec<RuleIx>>, boxes: usize| -> Vec<ProfileIx> {
            lists.resize_with(boxes, Vec::new);
            let profile = |set: Vec<RuleIx>| {
                *known.entry(set).or_insert_with_key(|set| {
                    sets.push(set.clone());
                    ProfileIx::new(sets.len() - 1)
                })
            };
            lists.into_iter().map(profile).collect()
        };
        let lists = self.gives.into_iter().zip(self.takes);
        for (actor, (gives, takes)) in actors.iter_mut().zip(lists) {
            let SpecIx(spec) = actor.spec;
            let spec = &specs[spec as usize];
            actor.gives = intern(gives, spec.hitboxes.len());
            actor.takes = intern(takes, spec.hurtboxes.len());
        }
        sets
    }
}
