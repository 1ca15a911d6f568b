//! Who is moved from outside: by poses of drills, or by recordings.

use crate::map::Set;
use crate::plan::{ActorIx, DrillPlan, KindIx, Plan, PosePlan, SpecIx, StateIx};

/// Those whom a drill poses or a recording may tell of.
pub(super) struct Told {
    specs: Set<SpecIx>,
    /// Those that recordings introduce.
    kinds: Set<KindIx>,
    /// The states that they are told to be in, and the kinds that may be told any.
    states: Set<(KindIx, StateIx)>,
    any_state: Set<KindIx>,
}

impl Told {
    pub fn new(plan: &Plan) -> Told {
        let mut told = Told {
            specs: Set::new(),
            kinds: Set::new(),
            states: Set::new(),
            any_state: Set::new(),
        };
        for drill in &plan.drills {
            for pose in poses(drill) {
                let spec = plan.actors[pose.who.index()].spec;
                told.specs.insert(spec);
                let kind = plan.spec_of(spec).kind;
                told.states
                    .extend(pose.pose.state.map(|state| (kind, state)));
            }
            for track in &drill.tracks {
                // One that names whom each row is about may be about anybody.
                let all: Vec<ActorIx> = match track.who {
                    Some(who) => vec![who],
                    None => plan.cast().collect(),
                };
                let specs = all.iter().map(|who| plan.actors[who.index()].spec);
                let specs: Vec<SpecIx> = specs.collect();
                told.kinds.extend(track.introduces.values().copied());
                if track.columns.state.is_some() {
                    let kinds = specs.iter().map(|spec| plan.spec_of(*spec).kind);
                    told.any_state
                        .extend(kinds.chain(track.introduces.values().copied()));
                }
                told.specs.extend(specs);
            }
        }
        told
    }

    /// Whether some of these are moved.
    pub fn moves(&self, plan: &Plan, spec: SpecIx) -> bool {
        self.specs.contains(&spec) || self.kinds.contains(&plan.spec_of(spec).kind)
    }

    /// Whether some of a kind are told to be in a state.
    pub fn enters(&self, kind: KindIx, state: StateIx) -> bool {
        self.any_state.contains(&kind) || self.states.contains(&(kind, state))
    }
}

fn poses(drill: &DrillPlan) -> impl Iterator<Item = &PosePlan> {
    let later = drill.later.iter().flat_map(|later| &later.poses);
    drill.poses.iter().chain(later)
}
