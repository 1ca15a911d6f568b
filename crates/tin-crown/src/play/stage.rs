//! What the hands play on: the encounter with a drill without an end, of which others' inputs are left.

use std::sync::Arc;

use super::{PlayError, Setup};
use crate::encounter::{Afterwards, Drill, Encounter};
use crate::limits;
use crate::map::Set;
use crate::plan::{DrillIx, Plan};
use crate::time::Duration;

/// The name of what is played without a drill.
const OPEN: &str = "play";

/// A plan whose drill has no end, and no inputs of those who are driven by hand.
#[derive(Clone, Debug)]
pub(super) struct Stage {
    pub plan: Arc<Plan>,
    pub drill: DrillIx,
}

impl Stage {
    pub fn new(
        encounter: &Encounter,
        plan: &Plan,
        setup: &Setup,
        hands: &Set<String>,
    ) -> Result<Stage, PlayError> {
        let name = setup.drill.as_deref().unwrap_or(OPEN);
        let base = setup
            .drill
            .as_ref()
            .and_then(|drill| encounter.drills.get(drill));
        // Recordings are read as far as their drill goes.
        let recorded = base.filter(|base| !base.track.is_empty());
        let endless = Duration::ticked(limits::DRILL_TICKS);
        let drill = Drill {
            length: recorded.map_or(endless, |base| base.length),
            afterwards: Afterwards::GoesOn,
            log: None,
            ..base.cloned().unwrap_or_else(|| Drill {
                seed: setup.seed,
                ..Drill::default()
            })
        };
        let mut encounter = encounter.only([name]);
        encounter.expect.clear();
        encounter.drills.insert(name.to_owned(), drill);
        for drill in encounter.drills.values_mut() {
            drill.input.retain(|input| !hands.contains(&input.who));
            drill.expect.clear();
        }
        let plan = encounter.resolve_again(plan)?;
        let drill = plan.drill(name)?;
        Ok(Stage { plan, drill })
    }
}

/// The ids of those whom a drill moves by poses or recordings.
pub(super) fn moved<'p>(plan: &'p Plan, drill: Option<&str>) -> Set<&'p str> {
    let drill = drill.and_then(|drill| plan.drill(drill).ok());
    let Some(drill) = drill.map(|drill| &plan.drills()[drill.index()]) else {
        return Set::new();
    };
    let later = drill.later.iter().flat_map(|later| &later.poses);
    let posed = drill.poses.iter().chain(later).map(|pose| pose.who);
    let recorded = drill.recording.iter().flat_map(|own| own.placed());
    let all = posed.chain(recorded.copied());
    all.map(|who| plan.actors[who.index()].id.as_str())
        .collect()
}
