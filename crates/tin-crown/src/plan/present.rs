//! Of which kinds there can be an actor.

use super::cast::Entrant;
use super::checker::Checker;
use super::index::{KindIx, TagIx};
use super::kinds::Laid;
use super::names::Names;
use super::select::Group;
use crate::encounter::{Kind, Who};
use crate::finding::{Code, Finding, Path};
use crate::map::Set;

/// Of whom there can be one: the placed ones, and what they launch or leave behind, and so on.
pub(super) struct Present {
    /// For each kind whether there can be one that is not placed.
    launched: Vec<bool>,
    /// For each kind whether one is placed.
    placed: Vec<bool>,
    kind_tags: Vec<Vec<TagIx>>,
    /// The tags that placements add.
    placed_tags: Set<TagIx>,
}

impl Present {
    pub fn new(
        names: &Names,
        kind_tags: &[Vec<TagIx>],
        laid: &Laid<'_>,
        entrants: &[Entrant<'_>],
        introduced: &[KindIx],
    ) -> Present {
        let kinds = &names.kinds;
        let index = |name: &str| kinds.find(name).map(KindIx::index);
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
        let mut open: Vec<usize> = introduced.iter().map(|kind| kind.index()).collect();
        let mut placed_tags = Set::new();
        for entrant in entrants {
            if let Some(kind) = index(entrant.kind)
                && !std::mem::replace(&mut placed[kind], true)
            {
                open.extend(brings(&laid[entrant.kind]));
            }
            open.extend(brings(entrant.with));
            let more = entrant.with.tags.iter().flatten();
            placed_tags.extend(more.filter_map(|tag| names.tags.find(tag)));
        }
        while let Some(kind) = open.pop() {
            if !std::mem::replace(&mut launched[kind], true) {
                open.extend(brings(&laid[kinds[KindIx::new(kind)].as_str()]));
            }
        }
        Present {
            launched,
            placed,
            kind_tags: kind_tags.to_vec(),
            placed_tags,
        }
    }

    /// Whether a group can have members.
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
                    .help("place one, let an actor launch one, or remove this"),
            );
        }
    }
}
