//! The inputs of a drill: when each button goes down and up.

use super::Plan;
use super::attacks::Start;
use super::checker::Checker;
use super::drills::{Edge, JUMP, Told};
use super::drives::Drive;
use super::faces;
use super::index::{ActorIx, ButtonIx};
use super::outside::{self, ApplyPlan, PosePlan};
use super::pairing::World;
use super::spec::Spec;
use crate::encounter::{Action, Drill, Facing, Input};
use crate::finding::{Code, Finding, Path};
use crate::map::Map;
use crate::order;
use crate::time::{Duration, Tick, Ticks};

/// Half-open stretches of ticks during which a button is held.
type Holds = Vec<(u32, u32)>;

/// What a drill does with a button of an actor.
#[derive(Clone, Default)]
struct Use {
    held: Holds,
    released: Vec<u32>,
    /// The ticks on which it goes down anew.
    anew: Vec<u32>,
    /// The ticks of its presses, and the inputs of the drill itself that say so.
    presses: Vec<(u32, Option<usize>)>,
}

/// What a drill does with all buttons.
#[derive(Clone, Default)]
pub(super) struct Uses {
    buttons: Map<(ActorIx, ButtonIx), Use>,
    told: Vec<Told>,
    effects: Vec<ApplyPlan>,
    poses: Vec<PosePlan>,
}

impl Uses {
    /// The inputs of a drill itself.
    pub fn own(
        check: &mut Checker,
        base: &Path,
        drill: &Drill,
        last: Tick,
        world: &World<'_>,
    ) -> Uses {
        let mut uses = Uses::default();
        for (index, input) in drill.input.iter().enumerate() {
            let path = base.key("input").index(index);
            let when = moment(check, &path, "input", input.when, last);
            if let Action::Face(to) = input.action {
                uses.told.extend(told(check, &path, input, to, when, world));
                continue;
            }
            let Some((who, button)) = whose(check, &path, input, world) else {
                continue;
            };
            let used = uses.buttons.or_default((who, button));
            if input.anew {
                used.anew.push(when);
            }
            match input.action {
                Action::Press => {
                    used.held.push((when, when + 1));
                    used.presses.push((when, Some(index)));
                }
                Action::Hold(None) => used.held.push((when, u32::MAX)),
                Action::Hold(Some(length)) => {
                    let length = check.duration(path.key("for"), length).0;
                    used.held.push((when, when.saturating_add(length)));
                }
                Action::Release => used.released.push(when),
                Action::Face(_) => {}
            }
        }
        for (index, apply) in drill.apply.iter().enumerate() {
            let path = base.key("apply").index(index);
            let when = Tick(moment(check, &path, "effect", apply.when, last));
            let own = outside::apply(check, &path, apply, when, world);
            uses.effects.extend(own);
        }
        for (index, pose) in drill.pose.iter().enumerate() {
            let path = base.key("pose").index(index);
            let when = Tick(moment(check, &path, "pose", pose.when, last));
            let own = outside::pose(check, &path, pose, when, world);
            uses.poses.extend(own);
        }
        uses
    }

    /// Those before a tick; what is held then is released.
    pub fn before(mut self, until: Tick) -> Uses {
        self.told.retain(|told| told.tick < until);
        self.effects.retain(|own| own.tick < until);
        self.poses.retain(|own| own.tick < until);
        for used in self.buttons.values_mut() {
            used.held.retain(|(from, _)| *from < until.0);
            for (_, to) in &mut used.held {
                *to = (*to).min(until.0);
            }
            used.released.retain(|tick| *tick < until.0);
            used.anew.retain(|tick| *tick < until.0);
            used.presses.retain(|(tick, _)| *tick < until.0);
        }
        self
    }

    /// Those of another drill, so much later.
    pub fn join(&mut self, other: Uses, shift: Ticks) {
        let later = |tick: u32| match tick {
            u32::MAX => u32::MAX,
            tick => tick.saturating_add(shift.0),
        };
        self.told
            .extend(other.told.iter().map(|told| told.later(shift)));
        let effects = other.effects.iter();
        self.effects.extend(effects.map(|own| own.later(shift)));
        let poses = other.poses.iter();
        self.poses.extend(poses.map(|own| own.later(shift)));
        for (key, used) in other.buttons {
            let own = self.buttons.or_default(key);
            let held = used
                .held
                .iter()
                .map(|(from, to)| (later(*from), later(*to)));
            own.held.extend(held);
            own.released
                .extend(used.released.iter().map(|tick| later(*tick)));
            own.anew.extend(used.anew.iter().map(|tick| later(*tick)));
            let presses = used.presses.iter();
            own.presses
                .extend(presses.map(|(tick, _)| (later(*tick), None)));
        }
    }

    /// Which way actors are told to face, in order: of two on one tick the one that is written last.
    pub fn told(&self) -> Vec<Told> {
        let told = self.told.iter();
        let told: Map<_, _> = told.map(|told| ((told.tick, told.who), *told)).collect();
        told.into_values().collect()
    }

    /// The effects from outside, in order: of several on one tick as they are written.
    pub fn effects(&self) -> Vec<ApplyPlan> {
        let mut effects = self.effects.clone();
        order::sort_by_key(&mut effects, |own| own.tick);
        effects
    }

    /// The poses, in order: of several of one actor on a tick the one that is written last.
    pub fn poses(&self) -> Vec<PosePlan> {
        let mut poses = self.poses.clone();
        order::sort_by_key(&mut poses, |own| (own.tick, own.who));
        poses
    }

    /// When buttons go down and up, in the order of edges; presses that have no effect are reported
    /// where the drill itself has them.
    pub fn edges(self, check: &mut Checker, base: &Path, world: &World<'_>) -> Vec<Edge> {
        let mut edges: Vec<Edge> = Vec::new();
        for ((who, button), used) in self.buttons {
            let down = joined(used.held, used.released, used.anew);
            add(&mut edges, (who, button), &down);
            for (tick, input) in used.presses {
                // Two presses on one tick are one.
                let begun = down.partition_point(|(from, _)| *from < tick);
                let last = begun.checked_sub(1).map(|last| down[last]);
                let Some((since, _)) = last.filter(|(_, to)| tick < *to) else {
                    continue;
                };
                edges.push(Edge {
                    tick: Tick(tick),
                    who,
                    button,
                    down: true,
                    ignored: true,
                });
                let Some(input) = input else { continue };
                let since = f64::from(since) / f64::from(check.rate);
                let who = &world.actors[who.index()].id;
                let button = &world.scope.names.buttons[button];
                let message = format!(
                    "this press has no effect: `{button}` of `{who}` is already held since {since:.3} s"
                );
                check.report(
                    Finding::new(Code::NoEffect, base.index(input).key("press"), message)
                        .help("end the hold at least one tick before the press"),
                );
            }
        }
        order::sort_by_key(&mut edges, Edge::place);
        edges.dedup();
        edges
    }
}

/// The edges of the stretches during which a button is down.
fn add(edges: &mut Vec<Edge>, (who, button): (ActorIx, ButtonIx), down: &Holds) {
    let mut edge = |tick, down| {
        edges.push(Edge {
            tick: Tick(tick),
            who,
            button,
            down,
            ignored: false,
        });
    };
    for &(from, to) in down {
        edge(from, true);
        if to < u32::MAX {
            edge(to, false);
        }
    }
}

/// The edges of two scripts at once, the second so much later: a button is down in the union of both.
pub(crate) fn merged(one: &[Edge], other: &[Edge], shift: Ticks) -> Vec<Edge> {
    let mut holds: Map<(ActorIx, ButtonIx), Holds> = Map::new();
    let mut anew: Map<(ActorIx, ButtonIx), Vec<u32>> = Map::new();
    let mut edges = Vec::new();
    for (script, shift) in [(one, Ticks(0)), (other, shift)] {
        let mut open: Map<(ActorIx, ButtonIx), u32> = Map::new();
        for edge in script {
            let (key, tick) = ((edge.who, edge.button), edge.tick + shift);
            if edge.ignored {
                edges.push(Edge { tick, ..*edge });
            } else if edge.down {
                let last = holds.get(&key).and_then(|held| held.last());
                if last.is_some_and(|(_, to)| *to == tick.0) {
                    anew.or_default(key).push(tick.0);
                }
                open.insert(key, tick.0);
            } else if let Some(from) = open.remove(&key) {
                holds.or_default(key).push((from, tick.0));
            }
        }
        for (key, from) in open {
            holds.or_default(key).push((from, u32::MAX));
        }
    }
    for (key, held) in holds {
        let anew = anew.remove(&key).unwrap_or_default();
        add(&mut edges, key, &joined(held, Vec::new(), anew));
    }
    order::sort_by_key(&mut edges, Edge::place);
    edges.dedup();
    edges
}

/// The tick of an input. What is timed on tick 0 arrives on tick 1.
fn moment(check: &mut Checker, path: &Path, what: &str, when: Duration, last: Tick) -> u32 {
    let when = check.duration(path.key("when"), when).0.max(1);
    if when > last.0 {
        let message =
            format!("this {what} is on tick {when}, after the end of the drill on {last}");
        check.report(
            Finding::new(Code::NoEffect, path.key("when"), message)
                .help(format!("make the drill longer, or the {what} earlier")),
        );
    }
    when
}

/// Which way an input tells an actor to face.
fn told(
    check: &mut Checker,
    path: &Path,
    input: &Input,
    to: Facing,
    when: u32,
    world: &World<'_>,
) -> Option<Told> {
    let ids = &world.scope.names.ids;
    let who = world
        .scope
        .find(check, path.key("who"), "actor", &input.who, ids)?;
    let spec = &world.specs[world.actors[who.index()].spec.index()];
    if !spec.rotates {
        let message = format!(
            "`{}` mirrors: it cannot be told which way to face",
            input.who
        );
        check.report(
            Finding::new(Code::Contradiction, path.key("face"), message)
                .help("add turns = \"rotates\" to its kind"),
        );
        return None;
    }
    match faces::facing(to, world.scope.up).of_kind(true) {
        Facing::Angle(to) => Some(Told {
            tick: Tick(when),
            who,
            to,
        }),
        _ => None,
    }
}

/// Whose button an input means.
fn whose(
    check: &mut Checker,
    path: &Path,
    input: &Input,
    world: &World<'_>,
) -> Option<(ActorIx, ButtonIx)> {
    let names = world.scope.names;
    let actor = world
        .scope
        .find(check, path.key("who"), "actor", &input.who, &names.ids)?;
    let spec = &world.specs[world.actors[actor.index()].spec.index()];
    let button = names.buttons.find(&input.button);
    if let Some(button) = button.filter(|&button| spec.answers(button)) {
        return Some((actor, button));
    }
    let (key, length) = match input.action {
        Action::Press => ("press", None),
        Action::Hold(length) => ("hold", length),
        Action::Release => ("release", None),
        Action::Face(_) => ("face", None),
    };
    if let Some(length) = length {
        check.duration(path.key("for"), length);
    }
    let message = format!("`{}` has no button `{}`", input.who, input.button);
    let finding = Finding::new(Code::UnknownName, path.key(key), message).missing(&input.button);
    let known: Vec<&str> = (0..names.buttons.len())
        .map(ButtonIx::new)
        .filter(|&button| spec.answers(button))
        .map(|button| names.buttons[button].as_str())
        .collect();
    check.report(if known.is_empty() {
        finding.help(format!(
            "`{}` has no `walk`, so buttons do not move it",
            input.who
        ))
    } else {
        finding.suggest(&input.button, known)
    });
    None
}

impl Spec {
    /// Whether a button does something for an actor.
    pub fn answers(&self, button: ButtonIx) -> bool {
        let walks = match self.drive {
            Drive::Walk { jump: None, .. } => button < JUMP,
            Drive::Walk { .. } => button <= JUMP,
            _ => false,
        };
        let attacks = self.attacks.iter().map(|attack| attack.starts);
        let launchers = self.launchers.iter().map(|launcher| launcher.starts);
        let mut starts = attacks.chain(launchers);
        let mut reloads = self.meters.iter().filter_map(|meter| meter.reload);
        let guard = self.guard.as_ref().and_then(|guard| guard.button);
        walks
            || starts
                .any(|start| matches!(start, Start::Press(own) | Start::Hold(own) if own == button))
            || reloads.any(|reload| reload.button == Some(button))
            || guard == Some(button)
    }
}

impl Plan {
    /// The placed actors that have a button, in the order of ids: each with its id, whether it is a player, and its
    /// buttons.
    pub fn steered(&self) -> impl Iterator<Item = (&str, bool, Vec<&str>)> {
        let buttons = || (0..self.names.buttons.len()).map(ButtonIx::new);
        self.actors.iter().filter_map(move |actor| {
            let spec = self.spec_of(actor.spec);
            let own = buttons().filter(|button| spec.answers(*button));
            let own: Vec<&str> = own.map(|button| self.button_name(button)).collect();
            (!own.is_empty()).then_some((actor.id.as_str(), spec.player, own))
        })
    }
}

/// The union of the holds, each cut short by the first release within it, in pieces where it goes down anew.
fn joined(mut held: Holds, mut released: Vec<u32>, mut anew: Vec<u32>) -> Holds {
    order::sort(&mut released);
    for (from, to) in &mut held {
        let cut = released.partition_point(|tick| tick <= from);
        if let Some(&tick) = released.get(cut) {
            *to = tick.min(*to);
        }
    }
    held.retain(|(from, to)| from < to);
    order::sort(&mut held);
    held.dedup_by(|next, last| {
        let meets = next.0 <= last.1;
        if meets {
            last.1 = last.1.max(next.1);
        }
        meets
    });
    order::sort(&mut anew);
    anew.dedup();
    let mut pieces = Holds::new();
    for (mut from, to) in held {
        let within =
            anew.partition_point(|tick| *tick <= from)..anew.partition_point(|tick| *tick < to);
        for end in anew[within].iter().copied().chain([to]) {
            pieces.push((from, end));
            from = end;
        }
    }
    pieces
}
