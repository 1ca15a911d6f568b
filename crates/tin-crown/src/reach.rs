//! Who can hit whom at all, by the rules, sides and boxes that there are.

use crate::encounter::Party;
use crate::map::{Map, Set};
use crate::order;
use crate::plan::{
    ActorIx, Ask, BoxIx, BoxPlan, Breed, BreedIx, GatePlan, KindIx, Plan, RuleIx, SideIx, SpecIx,
};

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

/// A resolved kind, and the side that its actors fight for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Role {
    pub spec: SpecIx,
    pub side: Option<SideIx>,
    /// Whether there may be several of them.
    pub many: bool,
}

/// A box of an actor, which a rule concerns.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Part {
    pub role: Role,
    pub part: BoxIx,
}

/// All that gives by a rule, and all that takes.
#[derive(Clone, Debug, Default)]
pub(crate) struct Parties {
    pub gives: Set<Part>,
    pub takes: Set<Part>,
}

/// The kinds that can hit others by a rule. There may be very many pairs of them.
#[derive(Clone, Debug)]
pub(crate) struct RuleReach {
    /// Kinds that give, each of which can hit all of some others.
    groups: Vec<(Vec<KindIx>, Set<KindIx>)>,
    /// Those that do not hit their own kind.
    alone: Set<KindIx>,
}

impl RuleReach {
    /// Who can hit whom.
    pub fn pairs(&self) -> impl Iterator<Item = (KindIx, KindIx)> {
        let groups = self.groups.iter();
        let pairs = groups.flat_map(|(givers, takers)| {
            let whom = |who: KindIx| takers.iter().map(move |whom| (who, *whom));
            givers.iter().flat_map(move |who| whom(*who))
        });
        pairs.filter(|(who, whom)| who != whom || !self.alone.contains(who))
    }

    /// How many pairs there are.
    pub fn count(&self) -> usize {
        let groups = self.groups.iter();
        let all = groups.map(|(givers, takers)| {
            let own = givers.iter();
            let own = own.filter(|who| takers.contains(who) && self.alone.contains(who));
            givers.len() * takers.len() - own.count()
        });
        all.sum()
    }

    /// Whether one kind can hit another.
    pub fn has(&self, who: KindIx, whom: KindIx) -> bool {
        let mut groups = self.groups.iter();
        groups.any(|(givers, takers)| givers.contains(&who) && takers.contains(&whom))
            && (who != whom || !self.alone.contains(&who))
    }
}

/// Who takes by a rule, ready to be asked whether an actor hits any of them.
#[derive(Clone, Debug, Default)]
pub(crate) struct Takers {
    pub roles: Set<Role>,
    sides: Set<Option<SideIx>>,
}

impl Takers {
    pub fn new(parts: &Set<Part>) -> Takers {
        let roles: Set<Role> = parts.iter().map(|part| part.role).collect();
        Takers {
            sides: roles.iter().map(|role| role.side).collect(),
            roles,
        }
    }

    /// Whether who hits one of them by a rule: not an ally, unless the rule is friendly, and not
    /// itself.
    pub fn are_hit(&self, plan: &Plan, rule: RuleIx, who: Role) -> bool {
        match who.side {
            Some(side) if !plan.rules[rule.index()].friendly => {
                let allies = usize::from(self.sides.contains(&Some(side)));
                self.sides.len() > allies
            }
            _ => {
                let itself = usize::from(!who.many && self.roles.contains(&who));
                self.roles.len() > itself
            }
        }
    }
}

impl Plan {
    /// Every kind that can hit another by a rule. Boxes, sides and tags are considered, what else gates
    /// ask is not.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let gore = plan.rule("horns gore porter").unwrap();
    /// let kinds = plan.reaches().into_iter().filter(|reach| reach.rule == gore);
    /// // Beetles, stag beetles and pincushions, all of them on the porter alone.
    /// assert_eq!(kinds.count(), 3);
    /// ```
    pub fn reaches(&self) -> Vec<Reach> {
        let rules = self.rule_reaches();
        let all = rules.iter().enumerate().flat_map(|(rule, reach)| {
            let rule = RuleIx::new(rule);
            reach
                .pairs()
                .map(move |(who, whom)| Reach { who, rule, whom })
        });
        let mut found: Vec<Reach> = all.collect();
        order::sort(&mut found);
        found
    }

    /// For each rule, the kinds that can hit others by it.
    pub(crate) fn rule_reaches(&self) -> Vec<RuleReach> {
        let parties = self.parties();
        let all = parties.iter().enumerate();
        all.map(|(rule, parties)| self.rule_reach(RuleIx::new(rule), parties))
            .collect()
    }

    fn rule_reach(&self, rule: RuleIx, parties: &Parties) -> RuleReach {
        type Sides = Set<Option<SideIx>>;
        let kind = |role: Role| self.spec_of(role.spec).kind;
        let roles =
            |parts: &Set<Part>| -> Set<Role> { parts.iter().map(|part| part.role).collect() };
        let (givers, takers) = (roles(&parties.gives), roles(&parties.takes));
        let friendly = self.rules[rule.index()].friendly;
        let mut sides: Map<KindIx, Sides> = Map::new();
        for who in &givers {
            sides.or_default(kind(*who)).insert(who.side);
        }
        // Kinds of the same sides hit the same others.
        let mut groups: Map<Sides, Vec<KindIx>> = Map::new();
        for (kind, sides) in sides {
            groups.or_default(sides).push(kind);
        }
        let spared = |sides: &Sides, whom: &Role| {
            let ally = |side: &Option<SideIx>| side.is_some() && *side == whom.side;
            !friendly && sides.iter().all(ally)
        };
        let groups = groups.into_iter().map(|(sides, givers)| {
            let takers = takers.iter().filter(|whom| !spared(&sides, whom));
            (givers, takers.map(|whom| kind(*whom)).collect())
        });
        // Who is the only one of its kind does not hit itself.
        let mut alone: Map<KindIx, bool> = Map::new();
        let union = takers.iter().filter(|role| !givers.contains(*role));
        for role in givers.iter().chain(union) {
            let once = !role.many && givers.contains(role) && takers.contains(role);
            let of_kind = kind(*role);
            let first = !alone.contains_key(&of_kind);
            alone.insert(of_kind, first && once);
        }
        RuleReach {
            groups: groups.collect(),
            alone: alone
                .into_iter()
                .filter(|(_, is)| *is)
                .map(|(kind, _)| kind)
                .collect(),
        }
    }

    /// Of which kinds an actor may bring forth something that hits another, and by which rules.
    pub(crate) fn launches_against(&self, who: ActorIx, whom: ActorIx) -> Set<(KindIx, RuleIx)> {
        let takes = &self.breed(self.actors[whom.index()].breed).takes;
        let taken = |rule: &RuleIx| {
            let mut profiles = takes.iter().map(|&profile| self.profile(profile));
            profiles.any(|rules| rules.contains(rule))
        };
        let mut found = Set::new();
        let mut seen = Set::new();
        let mut next = self.breed(self.actors[who.index()].breed).offspring.clone();
        while let Some(breed) = next.pop() {
            if !seen.insert(breed) {
                continue;
            }
            let breed = self.breed(breed);
            let kind = self.spec_of(breed.spec).kind;
            let gives = breed
                .gives
                .iter()
                .flat_map(|&profile| self.profile(profile));
            found.extend(gives.filter(|rule| taken(rule)).map(|rule| (kind, *rule)));
            next.extend(&breed.offspring);
        }
        found
    }

    /// For each rule all that gives and takes.
    pub(crate) fn parties(&self) -> Vec<Parties> {
        let mut all = vec![Parties::default(); self.rules.len()];
        for (breed, role) in self.roles() {
            let breed = self.breed(breed);
            for (part, &profile) in breed.gives.iter().enumerate() {
                let part = BoxIx::new(part);
                for &rule in self.profile(profile) {
                    if self.admits(rule, Party::Who, breed) {
                        all[rule.index()].gives.insert(Part { role, part });
                    }
                }
            }
            for (part, &profile) in breed.takes.iter().enumerate() {
                let part = BoxIx::new(part);
                for &rule in self.profile(profile) {
                    if self.admits(rule, Party::Whom, breed) {
                        all[rule.index()].takes.insert(Part { role, part });
                    }
                }
            }
        }
        all
    }

    /// Whether the gates of a rule that ask for tags let a breed pass as one party.
    fn admits(&self, rule: RuleIx, party: Party, breed: &Breed) -> bool {
        let gates = &self.rules[rule.index()].gates;
        gates.iter().all(|gate| match gate {
            GatePlan::Party(asked, Ask::Tag(tag, carried)) if *asked == party => {
                breed.tags.contains(tag) == *carried
            }
            _ => true,
        })
    }

    /// Whether nobody of one role ever hits anybody of another by a rule: they are allies, or the same
    /// actor.
    pub(crate) fn spares(&self, rule: RuleIx, who: Role, whom: Role) -> bool {
        let allies = who.side.is_some() && who.side == whom.side;
        allies && !self.rules[rule.index()].friendly || who == whom && !who.many
    }

    pub(crate) fn hitbox_of(&self, part: Part) -> &BoxPlan {
        &self.spec_of(part.role.spec).hitboxes[part.part.index()]
    }

    pub(crate) fn hurtbox_of(&self, part: Part) -> &BoxPlan {
        &self.spec_of(part.role.spec).hurtboxes[part.part.index()]
    }

    /// The name of the kind of a role.
    pub(crate) fn kind_of(&self, role: Role) -> &str {
        &self.names.kinds[self.spec_of(role.spec).kind]
    }

    /// Every breed with the roles that it can have.
    fn roles(&self) -> Vec<(BreedIx, Role)> {
        let mut found: Set<(BreedIx, Option<SideIx>)> = Set::new();
        let mut counts: Map<(SpecIx, Option<SideIx>), usize> = Map::new();
        let mut next: Vec<(BreedIx, Option<SideIx>)> = Vec::new();
        for actor in &self.actors {
            let side = self.spec_of(actor.spec).side;
            *counts.or_default((actor.spec, side)) += 1;
            if found.insert((actor.breed, side)) {
                next.push((actor.breed, side));
            }
        }
        // What is launched fights for the side of its maker, any number of it.
        while let Some((breed, side)) = next.pop() {
            for &child in &self.breed(breed).offspring {
                *counts.or_default((self.breed(child).spec, side)) += 2;
                if found.insert((child, side)) {
                    next.push((child, side));
                }
            }
        }
        let role = |(breed, side): (BreedIx, Option<SideIx>)| {
            let spec = self.breed(breed).spec;
            let many = counts[&(spec, side)] > 1;
            (breed, Role { spec, side, many })
        };
        found.into_iter().map(role).collect()
    }
}
