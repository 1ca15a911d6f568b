//! Looking up the selectors of rules: whom they name, and whether they name a box at all.

use super::boxes::BoxPlan;
use super::cast::Actor;
use super::checker::Checker;
use super::index::{ActorIx, KindIx, MeterIx, TagIx};
use super::scope::Scope;
use super::select::{Group, Subject};
use super::spec::Spec;
use crate::encounter::Selector;
use crate::finding::{Code, Finding, Path};
use crate::map::Set;

/// The names and actors that rules speak of.
pub(super) struct World<'a> {
    pub scope: &'a Scope<'a>,
    pub kind_tags: &'a [Vec<TagIx>],
    pub specs: &'a [Spec],
    pub actors: &'a [Actor],
}

/// The actors, and perhaps the box, that one side of a rule names.
pub(super) struct Side {
    pub group: Group,
    /// The name of the box; any when absent.
    pub part: Option<String>,
}

/// One of the two sides of a rule.
#[derive(Clone, Copy, PartialEq)]
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

/// A text that is a selector.
pub(super) fn selector(check: &mut Checker, path: &Path, text: &str) -> Option<Selector> {
    match text.parse() {
        Ok(selector) => Some(selector),
        Err(error) => {
            let message = format!("`{text}` is not a selector: {error}");
            let finding = Finding::new(Code::UnknownName, path.clone(), message);
            check.report(finding.missing(text));
            None
        }
    }
}

impl World<'_> {
    /// The meter of that name.
    pub fn meter(&self, check: &mut Checker, path: Path, name: &str) -> Option<MeterIx> {
        let meters = &self.scope.names.meters;
        self.scope.find(check, path, "meter", name, meters)
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
        let actors = self.actors.iter().enumerate().map(|(index, actor)| {
            let spec = &self.specs[actor.spec.index()];
            let subject = Subject {
                actor: Some(ActorIx::new(index)),
                kind: spec.kind,
                tags: &actor.tags,
            };
            (subject, spec)
        });
        kinds.chain(actors)
    }

    /// Whether one of a group, or of what can be launched, is of such a kind.
    pub fn any(&self, group: Group, such: impl Fn(&Spec) -> bool) -> bool {
        let mut subjects = self.subjects();
        subjects.any(|(subject, spec)| group.matches(&subject) && such(spec))
    }

    /// Those whom a group means: on the side that gives also what they bring forth, and so on.
    fn meant(&self, group: Group, role: Role) -> Vec<&Spec> {
        let chosen = self
            .subjects()
            .filter(|(subject, _)| group.matches(subject));
        let mut specs: Vec<&Spec> = chosen.map(|(_, spec)| spec).collect();
        if role == Role::Takes {
            return specs;
        }
        let mut next = 0;
        let mut seen = vec![false; self.kind_tags.len()];
        while next < specs.len() {
            let spec = specs[next];
            for kind in spec.offspring() {
                if !std::mem::replace(&mut seen[kind.index()], true) {
                    specs.push(&self.specs[kind.index()]);
                }
            }
            next += 1;
        }
        specs
    }

    /// A selector that names at least one box of an actor.
    pub fn select(&self, check: &mut Checker, path: &Path, text: &str, role: Role) -> Option<Side> {
        let selector = selector(check, path, text)?;
        let group = self.scope.look_up(check, path, &selector.who)?;
        let chosen = self.meant(group, role);
        let mut boxes = chosen.iter().flat_map(|spec| role.boxes(spec));
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
            let mut others = chosen.iter().flat_map(|spec| role.other().boxes(spec));
            let other = others.any(|plan| plan.name == *part);
            let message = format!("`{who}` has no {} `{part}`", role.key());
            let finding = Finding::new(Code::UnknownName, path.clone(), message).missing(part);
            let known: Set<&str> = chosen
                .iter()
                .flat_map(|spec| role.boxes(spec))
                .map(|plan| plan.name.as_str())
                .collect();
            check.report(if other {
                finding.help(format!("`{part}` is a {}", role.other().key()))
            } else {
                finding.suggest(part, known)
            });
            return None;
        }
        self.scope.present.check(check, path, &selector.who, group);
        Some(Side {
            group,
            part: selector.part,
        })
    }
}
