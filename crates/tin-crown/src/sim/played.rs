//! What was played in an open run, and the drill that plays it again.

use crate::encounter::{
    Action, Afterwards, Apply, Drill, Effect, Facing, Input, Point, PoseInput, Stance,
};
use crate::geometry::Vec2;
use crate::plan::{
    ActorIx, ApplyPlan, AttackIx, Edge, NO_ATTACK, Named, Plan, Pose, PosePlan, Told, facing,
};
use crate::sim::parts::script::Script;
use crate::time::{Duration, Tick, Ticks};

/// What was played, each in the order in which it came.
#[derive(Clone, Debug, Default)]
pub(super) struct Played {
    pub edges: Vec<Edge>,
    pub told: Vec<Told>,
    pub poses: Vec<PosePlan>,
    pub effects: Vec<(ApplyPlan, Effect)>,
}

impl Played {
    /// Forgets what came after a tick.
    pub fn rewind(&mut self, last: Tick) {
        self.edges.retain(|own| own.tick <= last);
        self.told.retain(|own| own.tick <= last);
        self.poses.retain(|own| own.tick <= last);
        self.effects.retain(|(own, _)| own.tick <= last);
    }

    /// Forgets what came after a tick, but for what is still to come.
    pub fn restore(&mut self, last: Tick, script: &Script) {
        let all = self.effects.clone();
        self.rewind(last);
        self.told.extend(script.told.to_come());
        self.poses.extend(script.poses.to_come());
        for own in script.effects.to_come() {
            let written = all.iter().find(|(other, _)| other == own);
            self.effects.extend(written.cloned());
        }
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
