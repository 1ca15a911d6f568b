//! Who can hit whom at all, by the rules, sides and boxes that there are.

use std::collections::{BTreeMap, BTreeSet};

use super::Plan;
use super::index::{BoxIx, BreedIx, KindIx, ProfileIx, RuleIx, SideIx};

/// A kind that can hit another by a rule.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub struct Reach {
    /// The kind that gives.
    pub who: KindIx,
    /// The rule.
    pub rule: RuleIx,
    /// The kind that takes.
    pub whom: KindIx,
}

/// Two boxes that a rule pairs, between two actors that are not spared by their sides.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Meeting {
    pub who: BreedIx,
    pub hitbox: BoxIx,
    pub whom: BreedIx,
    pub hurtbox: BoxIx,
    pub rule: RuleIx,
}

/// A breed and the side that it fights for.
#[derive(Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Role {
    breed: BreedIx,
    side: Option<SideIx>,
}

impl Plan {
    /// Every kind that can hit another by a rule, boxes and sides considered, gates not.
    ///
    /// ```
    /// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let gore = plan.rule("horns gore squire").unwrap();
    /// let kinds = plan.reaches().into_iter().filter(|reach| reach.rule == gore);
    /// // Beetles, stag beetles and spiny ones, all of them on the squire alone.
    /// assert_eq!(kinds.count(), 3);
    /// ```
    pub fn reaches(&self) -> Vec<Reach> {
        let kind = |breed: BreedIx| self.spec_of(self.breed(breed).spec).kind;
        let mut found = BTreeSet::new();
        self.meetings(|meeting| {
            found.insert(Reach {
                who: kind(meeting.who),
                rule: meeting.rule,
                whom: kind(meeting.whom),
            });
        });
        found.into_iter().collect()
    }

    /// Calls `found` with every two boxes that a rule pairs.
    pub(super) fn meetings(&self, mut found: impl FnMut(Meeting)) {
        let roles = self.roles();
        let concerned = |profiles: &[ProfileIx]| profiles.iter().any(|own| own.index() != 0);
        let takers: Vec<(Role, usize)> = roles
            .iter()
            .filter(|(role, _)| concerned(&self.breed(role.breed).takes))
            .map(|(role, times)| (*role, *times))
            .collect();
        for &who in roles.keys() {
            let gives = &self.breed(who.breed).gives;
            if !concerned(gives) {
                continue;
            }
            for &(whom, times) in &takers {
                if who == whom && times == 1 {
                    // Nobody hits itself.
                    continue;
                }
                let allied = who.side.is_some() && who.side == whom.side;
                for (hitbox, own) in gives.iter().enumerate() {
                    for (hurtbox, other) in self.breed(whom.breed).takes.iter().enumerate() {
                        let takes = self.profile(*other);
                        let rules = self.profile(*own).iter().filter(|rule| {
                            takes.binary_search(rule).is_ok()
                                && (!allied || self.rules[rule.index()].friendly)
                        });
                        rules.for_each(|&rule| {
                            found(Meeting {
                                who: who.breed,
                                hitbox: BoxIx::new(hitbox),
                                whom: whom.breed,
                                hurtbox: BoxIx::new(hurtbox),
                                rule,
                            });
                        });
                    }
                }
            }
        }
    }

    /// Every role that an actor can have, and how many are placed in it; what is launched may be there
    /// any number of times.
    fn roles(&self) -> BTreeMap<Role, usize> {
        let mut roles = BTreeMap::new();
        let mut next: Vec<Role> = Vec::new();
        for actor in &self.actors {
            let role = Role {
                breed: actor.breed,
                side: self.spec_of(actor.spec).side,
            };
            *roles.entry(role).or_default() += 1;
            next.push(role);
        }
        // What is launched fights for the side of its maker.
        while let Some(Role { breed, side }) = next.pop() {
            for &child in &self.breed(breed).offspring {
                let role = Role { breed: child, side };
                if roles.insert(role, usize::MAX).is_none() {
                    next.push(role);
                }
            }
        }
        roles
    }
}
