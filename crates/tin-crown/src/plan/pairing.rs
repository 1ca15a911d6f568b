//! Which boxes rules pair: selectors looked up, and the rules that concern each box.

use std::collections::{BTreeMap, BTreeSet};

use super::boxes::BoxPlan;
use super::cast::Actor;
use super::checker::Checker;
use super::index::{ActorIx, KindIx, MeterIx, ProfileIx, RuleIx, SpecIx, TagIx};
use super::select::{Directory, Names, Subject};
use super::spec::Spec;
use crate::encounter::Selector;
use crate::finding::{Code, Finding, Path};

/// The names and actors that rules speak of.
pub(super) struct World<'a> {
    pub kinds: &'a [String],
    pub kind_tags: &'a [Vec<TagIx>],
    pub tags: &'a [String],
    pub meters: &'a [String],
    pub attacks: &'a [String],
    pub sorts: &'a [String],
    pub specs: &'a [Spec],
    pub actors: &'a [Actor],
}

/// One of the two sides of a rule.
#[derive(Clone, Copy)]
pub(super) enum Role {
    Gives,
    Takes,
}

impl Role {
    pub fn key(self) -> &'static str {
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
    /// The meter of that name.
    pub fn meter(&self, check: &mut Checker, path: Path, name: &str) -> Option<MeterIx> {
        let found = self
            .meters
            .binary_search_by(|known| known.as_str().cmp(name));
        if found.is_err() {
            let known = self.meters.iter().map(String::as_str);
            check.unknown(path, "meter", name, known);
        }
        found.ok().map(MeterIx::new)
    }

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
    pub fn select(
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

/// For every box of every actor the rules that concern it, each set of rules kept once.
pub(super) struct Profiles {
    gives: Vec<Vec<Vec<RuleIx>>>,
    takes: Vec<Vec<Vec<RuleIx>>>,
}

impl Profiles {
    pub fn new(actors: &[Actor]) -> Profiles {
        Profiles {
            gives: vec![Vec::new(); actors.len()],
            takes: vec![Vec::new(); actors.len()],
        }
    }

    pub fn add(
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
