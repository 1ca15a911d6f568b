//! Breeds: what an actor is made of, how rules concern it, and what it may bring forth. Actors of one
//! kind share one, unless a rule tells them apart.

use std::collections::BTreeMap;

use super::boxes::BoxPlan;
use super::index::{ActorIx, BreedIx, KindIx, ProfileIx, RuleIx, SpecIx, TagIx};
use super::pairing::Side;
use super::select::{Group, Subject};
use super::spec::Spec;

/// What an actor is made of, and how rules concern it.
#[derive(Clone, Debug)]
pub(crate) struct Breed {
    pub spec: SpecIx,
    pub tags: Vec<TagIx>,
    /// For each hitbox, the rules by which it gives.
    pub gives: Vec<ProfileIx>,
    /// For each hurtbox, the rules by which it takes.
    pub takes: Vec<ProfileIx>,
    /// What it brings forth: by each of its launchers, then of what it leaves behind.
    pub offspring: Vec<BreedIx>,
}

/// Which boxes a rule pairs.
pub(super) struct Pairing {
    pub rule: RuleIx,
    pub gives: Side,
    pub takes: Side,
}

/// What tells breeds apart. A selector of who gives also means what its makers bring forth: those
/// rules are inherited.
#[derive(Clone, PartialEq, Eq, PartialOrd, Ord)]
struct Key {
    spec: SpecIx,
    tags: Vec<TagIx>,
    /// The actor, when a rule names it by its id.
    named: Option<ActorIx>,
    inherited: Vec<usize>,
}

/// Breeds, and the sets of rules that their boxes refer to.
pub(super) struct Breeds<'a> {
    specs: &'a [Spec],
    kind_tags: &'a [Vec<TagIx>],
    pairing: &'a [Pairing],
    named: Vec<ActorIx>,
    keys: Vec<Key>,
    known: BTreeMap<Key, BreedIx>,
    sets: BTreeMap<Vec<RuleIx>, ProfileIx>,
    pub profiles: Vec<Vec<RuleIx>>,
    pub all: Vec<Breed>,
}

impl<'a> Breeds<'a> {
    pub fn new(
        specs: &'a [Spec],
        kind_tags: &'a [Vec<TagIx>],
        pairing: &'a [Pairing],
    ) -> Breeds<'a> {
        let groups = pairing
            .iter()
            .flat_map(|rule| [rule.gives.group, rule.takes.group]);
        let mut named: Vec<ActorIx> = groups
            .filter_map(|group| match group {
                Group::Actor(actor) => Some(actor),
                _ => None,
            })
            .collect();
        named.sort_unstable();
        Breeds {
            specs,
            kind_tags,
            pairing,
            named,
            keys: Vec::new(),
            known: BTreeMap::new(),
            // The first set is empty.
            sets: BTreeMap::from([(Vec::new(), ProfileIx(0))]),
            profiles: vec![Vec::new()],
            all: Vec::new(),
        }
    }

    /// The breed of a placed actor.
    pub fn placed(&mut self, actor: ActorIx, spec: SpecIx, tags: &[TagIx]) -> BreedIx {
        let named = self.named.binary_search(&actor).ok();
        self.intern(Key {
            spec,
            tags: tags.to_vec(),
            named: named.map(|_| actor),
            inherited: Vec::new(),
        })
    }

    /// Adds all that the breeds there are may bring forth, and so on.
    pub fn bring_forth(&mut self) {
        let mut next = 0;
        while next < self.all.len() {
            let spec = &self.specs[self.all[next].spec.index()];
            let kinds: Vec<KindIx> = spec.offspring().collect();
            let key = self.keys[next].clone();
            let inherited = self.meant(&key);
            let offspring = kinds
                .into_iter()
                .map(|kind| {
                    self.intern(Key {
                        spec: SpecIx::new(kind.index()),
                        tags: self.kind_tags[kind.index()].clone(),
                        named: None,
                        inherited: inherited.clone(),
                    })
                })
                .collect();
            self.all[next].offspring = offspring;
            next += 1;
        }
    }

    fn subject<'k>(&self, key: &'k Key) -> Subject<'k> {
        Subject {
            actor: key.named,
            kind: self.specs[key.spec.index()].kind,
            tags: &key.tags,
        }
    }

    /// The rules whose selector of who gives means one of that key, or its makers.
    fn meant(&self, key: &Key) -> Vec<usize> {
        let subject = self.subject(key);
        let own = (0..self.pairing.len()).filter(|&nth| {
            self.pairing[nth].gives.group.matches(&subject)
                || key.inherited.binary_search(&nth).is_ok()
        });
        own.collect()
    }

    fn intern(&mut self, key: Key) -> BreedIx {
        if let Some(&known) = self.known.get(&key) {
            return known;
        }
        let spec = &self.specs[key.spec.index()];
        let gives = self.meant(&key);
        let subject = self.subject(&key);
        let takes: Vec<usize> = (0..self.pairing.len())
            .filter(|&nth| self.pairing[nth].takes.group.matches(&subject))
            .collect();
        let pairing = self.pairing;
        let breed = Breed {
            spec: key.spec,
            tags: key.tags.clone(),
            gives: self.boxes(&spec.hitboxes, &gives, |nth| &pairing[nth].gives),
            takes: self.boxes(&spec.hurtboxes, &takes, |nth| &pairing[nth].takes),
            offspring: Vec::new(),
        };
        let index = BreedIx::new(self.all.len());
        self.all.push(breed);
        self.keys.push(key.clone());
        self.known.insert(key, index);
        index
    }

    /// For each box, the set of those rules that concern it.
    fn boxes(
        &mut self,
        boxes: &[BoxPlan],
        rules: &[usize],
        side: impl Fn(usize) -> &'a Side,
    ) -> Vec<ProfileIx> {
        boxes
            .iter()
            .map(|plan| {
                let named = |&&nth: &&usize| {
                    let part = side(nth).part.as_ref();
                    part.is_none_or(|part| *part == plan.name)
                };
                let set: Vec<RuleIx> = rules
                    .iter()
                    .filter(named)
                    .map(|&nth| self.pairing[nth].rule)
                    .collect();
                let profiles = &mut self.profiles;
                *self.sets.entry(set).or_insert_with_key(|set| {
                    profiles.push(set.clone());
                    ProfileIx::new(profiles.len() - 1)
                })
            })
            .collect()
    }
}
