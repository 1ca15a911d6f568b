//! What was played in an open run, and the drill that plays it again.

use crate::encounter::{
    Action, Afterwards, Apply, Drill, Effect, Facing, Input, Point, PoseInput, Stance,
};
use crate::geometry::Vec2;
use crate::plan::{
    ActorIx, ApplyPlan, AttackIx, Edge, NO_ATTACK, Named, Plan, Pose, PosePlan, Told, facing,
};
use crate::sim::parts::packed::PackedEdge;
use crate::sim::parts::script::Script;
use crate::sim::snapshot::print;
use crate::time::{Duration, Tick, Ticks};

/// A print of all that was played of a run up to a tick: two runs of one plan and seed that have the same were
/// played alike.
pub(super) type Print = [u8; 16];

/// The print of a run of which nothing was played yet.
pub(super) const UNPLAYED: Print = [0; 16];

/// What was played, each in the order of ticks.
#[derive(Clone, Debug, Default)]
pub(super) struct Played {
    edges: Vec<Edge>,
    told: Vec<Told>,
    poses: Vec<PosePlan>,
    effects: Vec<(ApplyPlan, Effect)>,
    /// The print as of each tick on which something was played.
    prints: Vec<(Tick, Print)>,
    /// Whether the run was put back and has not gone on from there: what came later is still kept.
    put_back: bool,
}

/// Those of a list, in the order of ticks, that are of a tick or later.
fn since<T>(list: &[T], tick: Tick, of: impl Fn(&T) -> Tick) -> &[T] {
    &list[list.partition_point(|own| of(own) < tick)..]
}

impl Played {
    /// Keeps what goes up and down on the next tick.
    pub fn press(&mut self, edges: impl IntoIterator<Item = Edge>) {
        self.edges.extend(edges);
    }

    /// Keeps what an actor is told. Of two on one tick the last counts.
    pub fn tell(&mut self, told: Told) {
        let first = self.told.len() - since(&self.told, told.tick, |own| own.tick).len();
        let same = self.told[first..]
            .iter()
            .position(|own| own.who == told.who);
        match same {
            Some(nth) => self.told[first + nth] = told,
            None => self.told.push(told),
        }
    }

    pub fn pose(&mut self, pose: PosePlan) {
        self.poses.push(pose);
    }

    pub fn apply(&mut self, applied: ApplyPlan, written: Effect) {
        self.effects.push((applied, written));
    }

    /// What went up and down, up to a tick.
    pub fn edges(&self, last: Tick) -> &[Edge] {
        &self.edges[..self.edges.partition_point(|own| own.tick <= last)]
    }

    /// Takes note of what was played on a tick; its print when there was something.
    pub fn played(&mut self, tick: Tick) -> Option<Print> {
        let edges = since(&self.edges, tick, |own| own.tick);
        let told = since(&self.told, tick, |own| own.tick);
        let poses = since(&self.poses, tick, |own| own.tick);
        let effects = since(&self.effects, tick, |(own, _)| own.tick);
        if edges.is_empty() && told.is_empty() && poses.is_empty() && effects.is_empty() {
            return None;
        }
        let edges = edges.iter().map(|edge| PackedEdge::from(*edge));
        let edges: Vec<PackedEdge> = edges.collect();
        let effects: Vec<&ApplyPlan> = effects.iter().map(|(own, _)| own).collect();
        let print = print(&(self.print(tick), tick, edges, told, poses, effects));
        self.prints.push((tick, print));
        Some(print)
    }

    /// The print as of a tick.
    fn print(&self, tick: Tick) -> Print {
        let before = self.prints.partition_point(|(own, _)| *own <= tick);
        before
            .checked_sub(1)
            .map_or(UNPLAYED, |last| self.prints[last].1)
    }

    /// The run is put back, or forward, to where what was played had such a print. Whether that is of what is kept.
    pub fn put_back(&mut self, tick: Tick, print: Print) -> bool {
        self.put_back = true;
        self.print(tick) == print
    }

    /// Forgets what came after a tick to which the run was put back, but for what is still to come. Whether all of
    /// that is known.
    pub fn go_on(&mut self, last: Tick, script: &Script) -> bool {
        if !std::mem::take(&mut self.put_back) {
            return true;
        }
        let later = self.effects.partition_point(|(own, _)| own.tick <= last);
        let later = self.effects.split_off(later);
        self.rewind(last);
        self.told.extend(script.told.to_come());
        self.poses.extend(script.poses.to_come());
        script.effects.to_come().all(|own| {
            let written = later.iter().find(|(other, _)| other == own);
            self.effects.extend(written.cloned());
            written.is_some()
        })
    }

    /// Forgets what came after a tick.
    fn rewind(&mut self, last: Tick) {
        let up_to = |tick: Tick| tick <= last;
        let edges = self.edges.partition_point(|own| up_to(own.tick));
        self.edges.truncate(edges);
        let told = self.told.partition_point(|own| up_to(own.tick));
        self.told.truncate(told);
        let poses = self.poses.partition_point(|own| up_to(own.tick));
        self.poses.truncate(poses);
        let effects = self.effects.partition_point(|(own, _)| up_to(own.tick));
        self.effects.truncate(effects);
        let prints = self.prints.partition_point(|(own, _)| up_to(*own));
        self.prints.truncate(prints);
    }

    /// The drill that plays it up to a tick.
    pub fn into_drill(mut self, plan: &Plan, seed: u32, last: Tick) -> Drill {
        // What was told for the tick that did not come any more.
        self.rewind(last);
        let mut drill = Drill::new(Duration::ticked(last.0));
        drill.seed = seed;
        drill.afterwards = Afterwards::GoesOn;
        let id = |who: ActorIx| plan.actors[who.index()].id.clone();
        drill.input = inputs(plan, &self.edges);
        for told in &self.told {
            let to = facing(Facing::Angle(told.to), plan.arena.up);
            let when = Duration::ticked(told.tick.0);
            drill = drill.face(when, id(told.who), to);
        }
        for (applied, does) in self.effects {
            let name = |named: &Named| match named {
                Named::Placed(actor) => id(*actor),
                Named::Launched(id) => id.to_string(),
            };
            drill.apply.push(Apply {
                when: Duration::ticked(applied.tick.0),
                who: applied.who.as_ref().map(name),
                whom: name(&applied.whom),
                does,
            });
        }
        let poses = self.poses.iter();
        drill.pose = poses.map(|told| written(plan, told)).collect();
        drill
    }
}

/// Presses and holds as they stand in a file, in the order in which they begin.
pub(super) fn inputs(plan: &Plan, edges: &[Edge]) -> Vec<Input> {
    let mut inputs = Vec::new();
    for (nth, edge) in edges.iter().enumerate().filter(|(_, edge)| edge.down) {
        let own = |other: &&Edge| (other.who, other.button) == (edge.who, edge.button);
        let up = edges[nth + 1..].iter().find(own);
        let length = up.map(|up| up.tick - edge.tick);
        let earlier = edges[..nth].iter().rev().find(own);
        inputs.push(Input {
            when: Duration::ticked(edge.tick.0),
            who: plan.actors[edge.who.index()].id.clone(),
            button: plan.names.buttons[edge.button].clone(),
            action: match length {
                Some(Ticks(1)) => Action::Press,
                length => Action::Hold(length.map(|Ticks(length)| Duration::ticked(length))),
            },
            anew: earlier.is_some_and(|up| up.tick == edge.tick),
        });
    }
    inputs
}

/// A pose as it stands in a file.
fn written(plan: &Plan, told: &PosePlan) -> PoseInput {
    let spec = plan.spec(told.who);
    let high = plan.arena.height.is_some();
    let point = |at: Vec2, height: f64| Point {
        at: [at.x, at.y],
        height: high.then_some(height),
    };
    let Pose {
        at,
        height,
        facing: faces,
        jump,
        velocity,
        grounded,
        state,
        attack,
    } = told.pose;
    let name = |own: AttackIx| plan.names.attacks[spec.attacks[own.index()].name].clone();
    PoseInput {
        when: Duration::ticked(told.tick.0),
        who: plan.actors[told.who.index()].id.clone(),
        stance: Stance {
            at: point(at, height),
            facing: faces.map(|faces| facing(faces, plan.arena.up)),
            jump,
            velocity: velocity.map(|(plane, up)| point(plane, up)),
            grounded,
            state: state.map(|own| plan.names.states[spec.states[own.index()].name].clone()),
            attack: attack.map(|told| told.attack.map_or(NO_ATTACK.to_owned(), name)),
            count: attack.and_then(|told| told.count),
        },
    }
}
