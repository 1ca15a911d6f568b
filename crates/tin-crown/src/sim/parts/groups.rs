//! The members of the groups that sensors, conditions and aims ask for.

use tin_crown_derive::CloneFrom;

use super::actor::Actor;
use super::rising;
use crate::geometry::Vec2;
use crate::plan::select::Subject;
use crate::plan::{AimPlan, ClearPlan, Drive, FaceAim, Group, Plan, ResetPlan, Spec, Target};
use crate::sim::slot::{Slot, Slots};
use crate::sim::state::State;

/// Groups with their members in the order of ids, dead or alive.
#[derive(CloneFrom, Debug, Default)]
pub(crate) struct Crowds {
    groups: Vec<Group>,
    members: Vec<Vec<Slot>>,
}

impl Crowds {
    pub fn new(plan: &Plan) -> Crowds {
        let mut groups: Vec<Group> = plan.specs.iter().flat_map(asked).collect();
        groups.extend(plan.clear.iter().filter_map(|clear| match clear {
            ClearPlan::Gone(group) => Some(*group),
            ClearPlan::Survive(_) => None,
        }));
        let needs = plan.exits.iter().filter_map(|exit| exit.needs.as_ref());
        groups.extend(needs.flat_map(|needs| {
            let other = needs.other.map(|(group, _)| group);
            [needs.gone, needs.taken, other].into_iter().flatten()
        }));
        groups.sort_unstable();
        groups.dedup();
        Crowds {
            members: groups.iter().map(|_| Vec::new()).collect(),
            groups,
        }
    }

    /// Counts the members anew.
    pub fn list(&mut self, plan: &Plan, actors: &Slots<Actor>, order: &[Slot]) {
        for (group, members) in self.groups.iter().zip(&mut self.members) {
            members.clear();
            let of = |index: &&Slot| is_of(plan, &actors[**index], *group);
            members.extend(order.iter().filter(of));
        }
    }

    pub fn of(&self, group: Group) -> &[Slot] {
        let place = self.groups.binary_search(&group);
        place.map_or(&[], |place| &self.members[place])
    }
}

/// Every group that a kind asks for.
fn asked(spec: &Spec) -> Vec<Group> {
    let mut groups = Vec::new();
    let mut target = |target: Target| {
        if let Target::Nearest(group) = target {
            groups.push(group);
        }
    };
    for launcher in &spec.launchers {
        if let AimPlan::At(aim) | AimPlan::Lead(aim) = launcher.aim {
            target(aim);
        }
    }
    let faces = spec.states.iter().filter_map(|state| state.faces);
    for faces in faces.chain([spec.faces]) {
        if let FaceAim::Toward(whom) = faces.aim {
            target(whom);
        }
    }
    let drives = spec.states.iter().filter_map(|state| state.drive);
    for drive in drives.chain([spec.drive]) {
        match drive {
            Drive::Chase { whom, .. } => target(whom),
            Drive::Follow { whom, .. } => {
                whom.into_iter().for_each(|of| target(Target::Nearest(of)))
            }
            _ => {}
        }
    }
    let conditions = spec.states.iter().flat_map(|state| &state.go);
    groups.extend(
        conditions
            .filter_map(|go| go.when.other)
            .map(|(group, _)| group),
    );
    let pickup = spec.pickup.as_ref();
    groups.extend(
        pickup
            .and_then(|pickup| pickup.unless_near)
            .map(|(group, _)| group),
    );
    if let Some(respawn) = &spec.respawn {
        groups.extend(respawn.unless_near.map(|(group, _)| group));
        if let ResetPlan::Those(those) = &respawn.resets {
            groups.extend(those);
        }
    }
    for sensor in &spec.sensors {
        groups.push(sensor.notices);
        groups.extend(&sensor.blockers);
    }
    groups
}

/// Whether an actor is of a group.
pub(crate) fn is_of(plan: &Plan, actor: &Actor, group: Group) -> bool {
    group.matches(&Subject {
        actor: Some(actor.number).filter(|number| number.index() < plan.actors.len()),
        kind: plan.spec_of(actor.spec).kind,
        tags: &plan.breed(actor.breed).tags,
    })
}

impl State {
    /// Whether one of a group is that near to where `owner` would be, at a height.
    pub fn is_near(
        &self,
        plan: &Plan,
        (group, within): (Group, f64),
        owner: Slot,
        (at, height): (Vec2, f64),
    ) -> bool {
        let own = plan.spec_of(self.actors[owner].spec);
        self.crowds.of(group).iter().any(|other| {
            let other = &self.actors[*other];
            let up = || rising::above(plan, own, height, other);
            other.alive && !other.dying && (other.at - at).length_with(up()) <= within
        })
    }

    /// Whom an actor aims at from a place at a height: the nearest of those who are there, the first of
    /// equals.
    pub fn target(
        &self,
        plan: &Plan,
        owner: Slot,
        (from, height): (Vec2, f64),
        target: Target,
    ) -> Option<Slot> {
        let own = plan.spec_of(self.actors[owner].spec);
        let alive = |index: &Slot| {
            let actor = &self.actors[*index];
            actor.alive && !actor.dying && *index != owner
        };
        match target {
            Target::Noticed => {
                let noticed = self.actors[owner].life.mind.noticed?;
                self.roll.slot(noticed).filter(alive)
            }
            Target::Nearest(group) => {
                let distance = |index: Slot| {
                    let other = &self.actors[index];
                    let (way, up) = (other.at - from, rising::above(plan, own, height, other));
                    way.dot(way) + up * up
                };
                let members = self.crowds.of(group).iter().copied().filter(alive);
                // The first of several that are equally near.
                members.reduce(|nearest, other| {
                    if distance(other) < distance(nearest) {
                        other
                    } else {
                        nearest
                    }
                })
            }
        }
    }
}
