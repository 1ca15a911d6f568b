//! Resolved drills: when each button goes down and up.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use tin_crown_derive::Getters;

use super::attacks::Start;
use super::cast::Actor;
use super::checker::Checker;
use super::drives::Drive;
use super::index::{ActorIx, ButtonIx};
use super::spec::Spec;
use crate::encounter::{Action, Afterwards, Drill, Kind};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::Tick;

/// A resolved drill.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct DrillPlan {
    /// Its name.
    #[serde(skip)]
    pub(crate) name: String,
    /// The tick after which it ends.
    pub(crate) last: Tick,
    /// From which its chance is drawn.
    pub(crate) seed: u32,
    /// Whether it goes on after it is won or lost.
    pub(crate) goes_on: bool,
    /// When buttons go down and up, in the order of ticks, actors and buttons, of which `left` and
    /// `right` count as one; what goes up comes first.
    pub(crate) edges: Vec<Edge>,
}

/// A button that goes down or up.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct Edge {
    /// The first tick on which it is so.
    pub(crate) tick: Tick,
    /// Whose button.
    pub(crate) who: ActorIx,
    /// Which button.
    pub(crate) button: ButtonIx,
    /// Whether it is down from here on.
    pub(crate) down: bool,
    /// Whether it was down already, so that the press has no effect.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub(crate) ignored: bool,
}

impl Edge {
    /// Its place in the order of a drill. Left and right are one there, so that the mirror image of a
    /// drill has the mirrored order.
    fn place(&self) -> impl Ord + use<> {
        let button = if self.button == RIGHT {
            LEFT
        } else {
            self.button
        };
        (
            self.tick,
            self.who,
            button,
            self.ignored,
            self.down,
            self.button,
        )
    }

    /// Whether two are of left and right, and the same otherwise.
    pub(crate) fn is_twin(&self, other: &Edge) -> bool {
        let mirrored = match self.button {
            LEFT => RIGHT,
            RIGHT => LEFT,
            _ => return false,
        };
        let image = Edge {
            button: mirrored,
            ..*self
        };
        image == *other
    }
}

/// The buttons of a walk, in the order of their indices.
pub(crate) const BUTTONS: [&str; 5] = ["left", "right", "up", "down", "jump"];
pub(crate) const LEFT: ButtonIx = ButtonIx(0);
pub(crate) const RIGHT: ButtonIx = ButtonIx(1);
pub(crate) const UP: ButtonIx = ButtonIx(2);
pub(crate) const DOWN: ButtonIx = ButtonIx(3);
pub(crate) const JUMP: ButtonIx = ButtonIx(4);

/// Whether a button does something for an actor.
fn answers(spec: &Spec, button: ButtonIx) -> bool {
    let walks = match spec.drive {
        Drive::Walk { jump: None, .. } => button < JUMP,
        Drive::Walk { .. } => button <= JUMP,
        _ => false,
    };
    let attacks = spec.attacks.iter().map(|attack| attack.starts);
    let launchers = spec.launchers.iter().map(|launcher| launcher.starts);
    let mut starts = attacks.chain(launchers);
    let mut reloads = spec.meters.iter().filter_map(|meter| meter.reload);
    let guard = spec.guard.as_ref().and_then(|guard| guard.button);
    walks
        || starts
            .any(|start| matches!(start, Start::Press(own) | Start::Hold(own) if own == button))
        || reloads.any(|reload| reload.button == Some(button))
        || guard == Some(button)
}

/// All buttons: those of a walk, then others by name.
pub(super) fn buttons<'k>(
    check: &mut Checker,
    kinds: impl Iterator<Item = &'k Kind>,
) -> Vec<String> {
    let mut others = BTreeSet::new();
    for kind in kinds {
        let attacks = kind
            .attacks
            .values()
            .filter_map(|attack| attack.button.as_ref());
        let launchers = kind
            .launchers
            .values()
            .filter_map(|launcher| launcher.button.as_ref());
        let reloads = kind
            .meters
            .values()
            .filter_map(|meter| meter.reload.as_ref());
        let reloads = reloads.filter_map(|reload| reload.button.as_ref());
        let guard = kind.guard.iter().filter_map(|guard| guard.button.as_ref());
        others.extend(
            attacks
                .chain(launchers)
                .chain(reloads)
                .chain(guard)
                .filter(|name| !BUTTONS.contains(&name.as_str())),
        );
    }
    let all: Vec<String> = BUTTONS
        .into_iter()
        .chain(others.into_iter().map(String::as_str))
        .map(str::to_owned)
        .collect();
    check.at_most(
        Path::root().key("kind"),
        all.len(),
        limits::BUTTONS,
        "buttons",
    );
    all.into_iter().take(limits::BUTTONS).collect()
}

pub(super) fn resolve(
    check: &mut Checker,
    drills: &BTreeMap<String, Drill>,
    actors: &[Actor],
    specs: &[Spec],
    buttons: &[String],
) -> Vec<DrillPlan> {
    let base = Path::root().key("drill");
    drills
        .iter()
        .map(|(name, drill)| {
            let path = base.key(name);
            check.name(path.clone(), name, "a drill");
            let last = Tick(check.duration(path.key("length"), drill.length).0);
            if last > Tick(limits::DRILL_TICKS) {
                let message = format!(
                    "a drill of {last} ticks; at most {} are allowed",
                    limits::DRILL_TICKS
                );
                check.report(Finding::new(Code::TooMany, path.key("length"), message));
            }
            let inputs = path.key("input");
            let stage = Stage {
                actors,
                specs,
                buttons,
            };
            DrillPlan {
                name: name.clone(),
                last,
                seed: drill.seed,
                goes_on: drill.afterwards == Afterwards::GoesOn,
                edges: edges(check, &inputs, drill, last, &stage),
            }
        })
        .collect()
}

/// Who can be steered, and by which buttons.
struct Stage<'a> {
    actors: &'a [Actor],
    specs: &'a [Spec],
    buttons: &'a [String],
}

/// Half-open stretches of ticks during which a button is held.
type Holds = Vec<(u32, u32)>;

/// What a drill does with a button of an actor.
#[derive(Default)]
struct Use {
    held: Holds,
    released: Vec<u32>,
    /// The ticks of its presses, and the inputs that say so.
    presses: Vec<(u32, usize)>,
}

fn edges(
    check: &mut Checker,
    base: &Path,
    drill: &Drill,
    last: Tick,
    stage: &Stage<'_>,
) -> Vec<Edge> {
    let Stage {
        actors,
        specs,
        buttons,
    } = *stage;
    let mut uses: BTreeMap<(ActorIx, ButtonIx), Use> = BTreeMap::new();
    for (index, input) in drill.input.iter().enumerate() {
        let path = base.index(index);
        // What is timed on tick 0 arrives on tick 1.
        let when = check.duration(path.key("when"), input.when).0.max(1);
        if when > last.0 {
            let message =
                format!("this input is on tick {when}, after the end of the drill on {last}");
            check.report(
                Finding::new(Code::NoEffect, path.key("when"), message)
                    .help("make the drill longer, or the input earlier"),
            );
        }
        let who = actors.binary_search_by(|actor| actor.id.as_str().cmp(&input.who));
        let Ok(who) = who else {
            let known = actors.iter().map(|actor| actor.id.as_str());
            check.unknown(path.key("who"), "actor", &input.who, known);
            continue;
        };
        let spec = &specs[actors[who].spec.index()];
        let known: Vec<&str> = (0..buttons.len())
            .filter(|&button| answers(spec, ButtonIx::new(button)))
            .map(|button| buttons[button].as_str())
            .collect();
        let Some(button) = buttons
            .iter()
            .position(|button| *button == input.button && known.contains(&button.as_str()))
        else {
            let (key, length) = match input.action {
                Action::Press => ("press", None),
                Action::Hold(length) => ("hold", length),
                Action::Release => ("release", None),
            };
            if let Some(length) = length {
                check.duration(path.key("for"), length);
            }
            let message = format!("`{}` has no button `{}`", input.who, input.button);
            let finding =
                Finding::new(Code::UnknownName, path.key(key), message).missing(&input.button);
            check.report(if known.is_empty() {
                finding.help(format!(
                    "`{}` has no `walk`, so buttons do not move it",
                    input.who
                ))
            } else {
                finding.suggest(&input.button, known)
            });
            continue;
        };
        let Use {
            held,
            released,
            presses,
        } = uses
            .entry((ActorIx::new(who), ButtonIx::new(button)))
            .or_default();
        match input.action {
            Action::Press => {
                held.push((when, when + 1));
                presses.push((when, index));
            }
            Action::Hold(None) => held.push((when, u32::MAX)),
            Action::Hold(Some(length)) => {
                let length = check.duration(path.key("for"), length).0;
                held.push((when, when.saturating_add(length)));
            }
            Action::Release => released.push(when),
        }
    }
    let mut edges: Vec<Edge> = Vec::new();
    for ((who, button), used) in uses {
        let mut edge = |tick, down, ignored| {
            edges.push(Edge {
                tick: Tick(tick),
                who,
                button,
                down,
                ignored,
            });
        };
        let down = joined(used.held, used.released);
        for &(from, to) in &down {
            edge(from, true, false);
            if to < u32::MAX {
                edge(to, false, false);
            }
        }
        for (tick, input) in used.presses {
            // Two presses on one tick are one.
            let meanwhile = |(from, to): &&(u32, u32)| *from < tick && tick < *to;
            let Some((since, _)) = down.iter().find(meanwhile) else {
                continue;
            };
            edge(tick, true, true);
            let since = f64::from(*since) / f64::from(check.rate);
            let (who, button) = (&actors[who.index()].id, &buttons[button.index()]);
            let message = format!(
                "this press has no effect: `{button}` of `{who}` is already held since {since:.3} s"
            );
            check.report(
                Finding::new(Code::NoEffect, base.index(input).key("press"), message)
                    .help("end the hold at least one tick before the press"),
            );
        }
    }
    edges.sort_unstable_by_key(Edge::place);
    edges.dedup();
    edges
}

/// The union of the holds, each cut short by the first release within it.
fn joined(mut held: Holds, mut released: Vec<u32>) -> Holds {
    released.sort_unstable();
    for (from, to) in &mut held {
        let cut = released.partition_point(|tick| tick <= from);
        if let Some(&tick) = released.get(cut) {
            *to = tick.min(*to);
        }
    }
    held.retain(|(from, to)| from < to);
    held.sort_unstable();
    held.dedup_by(|next, last| {
        let meets = next.0 <= last.1;
        if meets {
            last.1 = last.1.max(next.1);
        }
        meets
    });
    held
}

#[cfg(test)]
mod tests {
    use super::joined;

    #[test]
    fn a_button_is_down_in_the_union_of_its_holds() {
        for (held, released, down) in [
            (vec![(5, 10), (8, 12)], vec![], vec![(5, 12)]),
            (vec![(5, 6), (6, 9)], vec![], vec![(5, 9)]),
            (vec![(5, u32::MAX)], vec![9], vec![(5, 9)]),
            (vec![(5, 20)], vec![5, 30], vec![(5, 20)]),
            (vec![(9, 12), (1, 3)], vec![], vec![(1, 3), (9, 12)]),
            (vec![(4, 4)], vec![], vec![]),
        ] {
            assert_eq!(joined(held, released), down);
        }
    }
}
