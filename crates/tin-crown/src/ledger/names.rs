//! The names of what an event speaks of.

use super::{Cast, Event, Hit};
use crate::plan::{AttackIx, BoxPlan, CheckpointIx, ExitIx, LauncherIx, SensorIx, Spec, StateIx};

impl<'a> Cast<'a> {
    /// The resolved kind of who acts.
    fn acting(self, event: &Event) -> Option<&'a Spec> {
        event.who.map(|who| self.spec(who))
    }

    pub(super) fn launcher(self, event: &Event, launcher: LauncherIx) -> Option<&'a str> {
        let launcher = self.acting(event)?.launchers.get(launcher.index())?;
        Some(&launcher.name)
    }

    pub(super) fn attack(self, event: &Event, attack: AttackIx) -> Option<&'a str> {
        let attack = self.acting(event)?.attacks.get(attack.index())?;
        Some(&self.plan.names.attacks[attack.name])
    }

    pub(super) fn sensor(self, event: &Event, sensor: SensorIx) -> Option<&'a str> {
        let sensor = self.acting(event)?.sensors.get(sensor.index())?;
        Some(&self.plan.names.sensors[sensor.name])
    }

    pub(super) fn state(self, event: &Event, state: StateIx) -> Option<&'a str> {
        let state = self.acting(event)?.states.get(state.index())?;
        Some(&self.plan.names.states[state.name])
    }

    pub(super) fn checkpoint(self, checkpoint: CheckpointIx) -> &'a str {
        &self.plan.checkpoints[checkpoint.index()].name
    }

    pub(super) fn exit(self, exit: ExitIx) -> &'a str {
        &self.plan.exits[exit.index()].name
    }

    /// The boxes of a hit: who's, then whom's.
    pub(super) fn boxes(self, event: &Event, hit: &Hit) -> [Option<&'a str>; 2] {
        let whom = event.whom.map(|whom| self.spec(whom));
        let hitbox = self
            .acting(event)
            .map(|spec| &spec.hitboxes[hit.hitbox.index()]);
        let hurtbox = whom.map(|spec| &spec.hurtboxes[hit.hurtbox.index()]);
        [hitbox, hurtbox].map(|plan: Option<&'a BoxPlan>| plan.map(|plan| plan.name.as_str()))
    }
}
