//! Looking up the selectors of rules: whom they name, and whether they name a box at all.

use std::collections::{BTreeMap, BTreeSet};

use super::HEALTH;
use super::boxes::BoxPlan;
use super::cast::{Actor, Entrant};
use super::checker::Checker;
use super::index::{ActorIx, KindIx, MeterIx, TagIx};
use super::select::{Directory, Group, Subject};
use super::spec::{Names, Spec};
use crate::encounter::{Kind, Selector, Who};
use crate::finding::{Code, Finding, Path};

/// The names and actors that rules speak of.
pub(super) struct World<'a> {
    pub names: &'a Names<'a>,
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

/// Of whom there can be one: the placed ones, and what they launch or leave behind, and so on.
pub(super) struct Present {
    /// For each kind whether there can be one that is not placed.
    launched: Vec<bool>,
    /// For each kind whether one is placed.
    placed: Vec<bool>,
    kind_tags: Vec<Vec<TagIx>>,
    /// The tags that placements add.
    placed_tags: BTreeSet<TagIx>,
}

impl Present {
    pub fn new(
        kinds: &[String],
        kind_tags: &[Vec<TagIx>],
        laid: &BTreeMap<String, Kind>,
        entrants: &[Entrant<'_>],
        tags: &[String],
    ) -> Present {
        let index = |name: &str| {
            kinds
                .binary_search_by(|known| known.as_str().cmp(name))
                .ok()
        };
        let brings = |kind: &Kind| -> Vec<usize> {
            let launched = kind
                .launchers
                .values()
                .filter_map(|launcher| launcher.launches.as_deref());
            let left = kind
                .leaves
                .iter()
                .flatten()
                .map(|leave| leave.kind.as_str());
            let steps = || kind.death.iter().flatten();
            let dying = steps().flat_map(|step| step.leaves.iter().map(|left| left.kind.as_str()));
            let dropped = steps().flat_map(|step| &step.drops);
            let dropped = dropped.filter_map(|drop| drop.kind.as_deref());
            let all = launched.chain(left).chain(dying).chain(dropped);
            all.filter_map(index).collect()
        };
        let mut placed = vec![false; kinds.len()];
        let mut launched = vec![false; kinds.len()];
        let mut open: Vec<usize> = Vec::new();
        let mut placed_tags = BTreeSet::new();
        for entrant in entrants {
            if let Some(kind) = index(entrant.kind)
                && !std::mem::replace(&mut placed[kind], true)
            {
                open.extend(brings(&laid[entrant.kind]));
            }
            open.extend(brings(entrant.with));
            let more = entrant.with.tags.iter().flatten();
            placed_tags.extend(
                more.filter_map(|tag| tags.binary_search(tag).ok())
                    .map(TagIx::new),
            );
        }
        while let Some(kind) = open.pop() {
            if !std::mem::replace(&mut launched[kind], true) {
                open.extend(brings(&laid[&kinds[kind]]));
            }
        }
        Present {
            launched,
            placed,
            kind_tags: kind_tags.to_vec(),
            placed_tags,
        }
    }

    /// Whether there can be somebody of a group.
    fn has(&self, group: Group) -> bool {
        let kind = |kind: usize| self.placed[kind] || self.launched[kind];
        match group {
            Group::Actor(_) | Group::Anyone => true,
            Group::Kind(index) => kind(index.index()),
            Group::Tag(tag) => {
                let mut kinds = (0..self.placed.len()).filter(|&index| kind(index));
                self.placed_tags.contains(&tag)
                    || kinds.any(|index| self.kind_tags[index].contains(&tag))
            }
        }
    }

    /// Reports a group of which there is never anybody.
    pub fn check(&self, check: &mut Checker, path: &Path, who: &Who, group: Group) {
        if !self.has(group) {
            let message = format!("no placed actor matches `{who}`");
            check.report(
                Finding::new(Code::NobodyPlaced, path.clone(), message)
                    .help("place one, let somebody launch one, or remove this"),
            );
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

/// The actors that are called so.
pub(super) fn look_up(
    check: &mut Checker,
    path: &Path,
    directory: &Directory<'_>,
    who: &Who,
) -> Option<Group> {
    match directory.look_up(who) {
        Ok(group) => Some(group),
        Err(unknown) => {
            check.report(
                Finding::new(Code::UnknownName, path.clone(), unknown.to_string())
                    .missing(&unknown.name)
                    .help(unknown.help),
            );
            None
        }
    }
}

impl World<'_> {
    /// The meter of that name.
    pub fn meter(&self, check: &mut Checker, path: Path, name: &str) -> Option<MeterIx> {
        let meters = self.names.meters;
        let found = meters.binary_search_by(|known| known.as_str().cmp(name));
        if found.is_err() {
            check.unknown(path, "meter", name, meters.iter().map(String::as_str));
        }
        found.ok().map(MeterIx::new)
    }

    /// Reports, once, that rules speak of health and nobody has any.
    pub fn no_health(&self, check: &mut Checker, path: Path) {
        let message =
            "no kind has a meter `health`: damage goes there by default, and only `health` kills";
        let mut known = check.findings.iter();
        if known.any(|finding| finding.message == message) {
            return;
        }
        let finding = Finding::new(Code::UnknownName, path, message).missing(HEALTH);
        check.report(match self.names.meters {
            [] => finding.help("give an actor one: meter.health = { max = 3 }"),
            [name, ..] => finding.help(format!(
                "rename `{name}`, or name the meter: damage = {{ amount = 1, meters = [\"{name}\"] }}"
            )),
        });
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

    /// A selector that names at least one box of somebody.
    pub fn select(&self, check: &mut Checker, path: &Path, text: &str, role: Role) -> Option<Side> {
        let selector = selector(check, path, text)?;
        let group = look_up(check, path, &self.names.directory, &selector.who)?;
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
            let known: BTreeSet<&str> = chosen
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
        self.names.present.check(check, path, &selector.who, group);
        Some(Side {
            group,
            part: selector.part,
        })
    }
}
