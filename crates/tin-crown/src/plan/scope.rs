//! What resolving a part of an encounter has to know of the rest.

use super::checker::Checker;
use super::drives::Target;
use super::index::{ButtonIx, CueIx, Ix, KindIx, MeterIx};
use super::names::{List, Names};
use super::pairing::selector;
use super::present::Present;
use super::select::Group;
use crate::encounter::{Kind, Up, Who};
use crate::finding::{Code, Finding, Path};
use crate::nearest::nearest;

/// The word for whom its owner noticed.
const NOTICED: &str = "noticed";

/// The names of the encounter, and who is there.
pub(super) struct Scope<'a> {
    pub names: &'a Names,
    /// The kinds with placed or launched actors.
    pub present: &'a Present,
    pub up: Up,
    /// Whether the arena has heights.
    pub height: bool,
    /// Whether a drill has poses or recordings, which may tell attacks.
    pub told: bool,
}

impl Scope<'_> {
    /// The index of a name; one that means nothing is reported.
    pub fn find<I: Ix>(
        &self,
        check: &mut Checker,
        path: Path,
        what: &str,
        name: &str,
        list: &List<I>,
    ) -> Option<I> {
        check.find(path, what, name, list)
    }

    /// The actors of that name.
    pub fn look_up(&self, check: &mut Checker, path: &Path, who: &Who) -> Option<Group> {
        match self.names.look_up(who) {
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

    /// The actors that a selector without a box names.
    pub fn group(&self, check: &mut Checker, path: &Path, text: &str) -> Option<Group> {
        let selector = selector(check, path, text)?;
        if selector.part.is_some() {
            let message = format!("`{text}` names a box; expected actors");
            check.report(
                Finding::new(Code::UnknownName, path.clone(), message)
                    .help(format!("write \"{}\"", selector.who)),
            );
            return None;
        }
        let group = self.look_up(check, path, &selector.who)?;
        self.present.check(check, path, &selector.who, group);
        Some(group)
    }

    /// At whom something is aimed: `noticed`, or the nearest of those a selector names.
    pub fn target(&self, check: &mut Checker, path: &Path, text: &str) -> Option<Target> {
        if text == NOTICED {
            return Some(Target::Noticed);
        }
        self.group(check, path, text).map(Target::Nearest)
    }

    /// A cue by its name.
    pub fn cue(&self, check: &mut Checker, path: Path, name: Option<&str>) -> Option<CueIx> {
        let name = name?;
        check.name(path, name, "a cue");
        self.names.cues.find(name)
    }

    /// A button, which is known because a kind names it.
    pub fn button(&self, check: &mut Checker, path: Path, name: &str) -> ButtonIx {
        check.name(path, name, "a button");
        self.names.buttons.find(name).unwrap_or(ButtonIx(0))
    }

    /// A kind by its name.
    pub fn kind(&self, check: &mut Checker, path: Path, name: &str) -> Option<KindIx> {
        let kinds = &self.names.kinds;
        // The kind that was probably meant keeps others from missing it.
        self.find(check, path, "kind", name, kinds)
            .or_else(|| kinds.find(nearest(name, kinds.iter())?))
    }

    /// A meter of a kind itself.
    pub fn own_meter(
        &self,
        check: &mut Checker,
        path: Path,
        name: &str,
        kind: &Kind,
    ) -> Option<MeterIx> {
        if !kind.meters.contains_key(name) {
            let known = kind.meters.keys().map(String::as_str);
            check.unknown(path, "meter of this kind", name, known);
            return None;
        }
        self.names.meters.find(name)
    }
}
