//! Who can hit whom at all, by the rules, sides and boxes that there are.

use std::collections::{BTreeMap, BTreeSet};

use super::Plan;
use super::index::{BreedIx, KindIx, RuleIx, SideIx};

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

/// Breeds by the side they can fight for, and how many are placed of each; what is launched may be
/// there any number of times.
type Roles = BTreeMap<(BreedIx, Option<SideIx>), usize>;

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
        let roles = self.roles();
        let mut found = BTreeSet::new();
        for (&(who, side), &times) in &roles {
            for &(whom, other) in roles.keys() {
                if (who, side) == (whom, other) && times == 1 {
                    // Nobody hits itself.
                    continue;
                }
                let kind = |breed: BreedIx| self.spec_of(self.breed(breed).spec).kind;
                let allied = side.is_some() && side == other;
                let rules = self.between(who, whom);
                found.extend(
                    rules
                        .filter(|rule| !allied || self.rules[rule.index()].friendly)
                        .map(|rule| Reach {
                            who: kind(who),
                            rule,
                            whom: kind(whom),
                        }),
                );
            }
        }
        found.into_iter().collect()
    }

    /// Every kind that is placed, or may be launched or left behind.
    pub fn present(&self) -> BTreeSet<KindIx> {
        let breeds = self.breeds.iter();
        breeds.map(|breed| self.spec_of(breed.spec).kind).collect()
    }

    /// The rules by which any box of one breed hits any of another.
    fn between(&self, who: BreedIx, whom: BreedIx) -> impl Iterator<Item = RuleIx> {
        let rules = |profiles: &[super::ProfileIx]| -> BTreeSet<RuleIx> {
            let sets = profiles.iter().map(|&profile| self.profile(profile));
            sets.flatten().copied().collect()
        };
        let (gives, takes) = (
            rules(&self.breed(who).gives),
            rules(&self.breed(whom).takes),
        );
        gives.into_iter().filter(move |rule| takes.contains(rule))
    }

    fn roles(&self) -> Roles {
        let mut roles = Roles::new();
        let mut next: Vec<(BreedIx, Option<SideIx>)> = Vec::new();
        for actor in &self.actors {
            let role = (actor.breed, self.spec_of(actor.spec).side);
            *roles.entry(role).or_default() += 1;
            next.push(role);
        }
        // What is launched fights for the side of its maker.
        while let Some((breed, side)) = next.pop() {
            for &child in &self.breed(breed).offspring {
                if roles.insert((child, side), usize::MAX).is_none() {
                    next.push((child, side));
                }
            }
        }
        roles
    }
}
