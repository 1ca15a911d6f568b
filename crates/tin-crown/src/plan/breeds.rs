//! Breeds: what an actor is made of, how rules concern it, and what it may bring forth. Actors of one
//! kind share one, unless a rule tells them apart.

use super::boxes::BoxPlan;
use super::index::{ActorIx, BreedIx, KindIx, PauseIx, ProfileIx, RuleIx, SpecIx, TagIx};
use super::pairing::Side;
use super::select::{Group, Subject};
use super::spec::Spec;
use crate::map::Map;
use crate::order;

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
    /// What recordings introduce as its: by the place of the kind among those that they do.
    pub introduced: Vec<BreedIx>,
}

/// What concerns a box. Two boxes are looked at when they have something in common.
#[derive(Clone, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) struct Profile {
    /// The rules by which it gives, or takes.
    pub rules: Vec<RuleIx>,
    /// The groups whose touch pauses meters: that its owner is of, or that a meter of its owner
    /// names.
    pub pauses: Vec<PauseIx>,
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

/// Breeds, and the profiles that their boxes refer to.
pub(super) struct Breeds<'a> {
    specs: &'a [Spec],
    kind_tags: &'a [Vec<TagIx>],
    pairing: &'a [Pairing],
    named: Vec<ActorIx>,
    keys: Vec<Key>,
    known: Map<Key, BreedIx>,
    known_profiles: Map<Profile, ProfileIx>,
    pub profiles: Vec<Profile>,
    /// Every group that pauses a meter.
    pub pauses: Vec<Group>,
    pub all: Vec<Breed>,
}

impl<'a> Breeds<'a> {
    pub fn new(
        specs: &'a [Spec],
        kind_tags: &'a [Vec<TagIx>],
        pairing: &'a [Pairing],
    ) -> Breeds<'a> {
        let regens = specs.iter().flat_map(|spec| &spec.meters);
        let regens = regens.filter_map(|meter| meter.regen.as_ref());
        let mut pauses: Vec<Group> = regens.flat_map(|regen| &regen.paused_by).copied().collect();
        order::sort(&mut pauses);
        pauses.dedup();
        let groups = pairing
            .iter()
            .flat_map(|rule| [rule.gives.group, rule.takes.group]);
        let mut named: Vec<ActorIx> = groups
            .chain(pauses.iter().copied())
            .filter_map(|group| match group {
                Group::Actor(actor) => Some(actor),
                _ => None,
            })
            .collect();
        order::sort(&mut named);
        Breeds {
            specs,
            kind_tags,
            pairing,
            named,
            keys: Vec::new(),
            known: Map::new(),
            // The first profile is that of boxes which nothing concerns.
            known_profiles: Map::from([(Profile::default(), ProfileIx(0))]),
            profiles: vec![Profile::default()],
            pauses,
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

    /// Adds all that the breeds there are may bring forth, and what recordings introduce as theirs, and so on; gives
    /// the breeds of those that are introduced as nobody's.
    pub fn bring_forth(&mut self, introduced: &[KindIx]) -> Vec<BreedIx> {
        let unmade = introduced.iter();
        let unmade = unmade.map(|kind| self.child(*kind, Vec::new())).collect();
        let mut next = 0;
        while next < self.all.len() {
            let spec = &self.specs[self.all[next].spec.index()];
            let kinds: Vec<KindIx> = spec.offspring().collect();
            let key = self.keys[next].clone();
            let inherited = self.meant(&key);
            let mut child = |kind: &KindIx| self.child(*kind, inherited.clone());
            let offspring = kinds.iter().map(&mut child).collect();
            let introduced = introduced.iter().map(&mut child).collect();
            self.all[next].offspring = offspring;
            self.all[next].introduced = introduced;
            next += 1;
        }
        unmade
    }

    /// The breed of one of a kind, with the rules that mean its makers.
    fn child(&mut self, kind: KindIx, inherited: Vec<usize>) -> BreedIx {
        self.intern(Key {
            spec: SpecIx::new(kind.index()),
            tags: self.kind_tags[kind.index()].clone(),
            named: None,
            inherited,
        })
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
        let pauses = self.pauses_of(|group| group.matches(&subject));
        let meters = || spec.meters.iter().filter_map(|meter| meter.regen.as_ref());
        let paused = self.pauses_of(|group| meters().any(|regen| regen.paused_by.contains(group)));
        let breed = Breed {
            spec: key.spec,
            tags: key.tags.clone(),
            gives: self.boxes(&spec.hitboxes, &gives, &pauses, |nth| &pairing[nth].gives),
            takes: self.boxes(&spec.hurtboxes, &takes, &paused, |nth| &pairing[nth].takes),
            offspring: Vec::new(),
            introduced: Vec::new(),
        };
        let index = BreedIx::new(self.all.len());
        self.all.push(breed);
        self.keys.push(key.clone());
        self.known.insert(key, index);
        index
    }

    fn pauses_of(&self, is: impl Fn(&Group) -> bool) -> Vec<PauseIx> {
        let all = self.pauses.iter().enumerate();
        all.filter(|(_, group)| is(group))
            .map(|(nth, _)| PauseIx::new(nth))
            .collect()
    }

    /// For each box, what of those rules and pauses concerns it.
    fn boxes(
        &mut self,
        boxes: &[BoxPlan],
        rules: &[usize],
        pauses: &[PauseIx],
        side: impl Fn(usize) -> &'a Side,
    ) -> Vec<ProfileIx> {
        boxes
            .iter()
            .map(|plan| {
                let named = |&&nth: &&usize| {
                    let part = side(nth).part.as_ref();
                    part.is_none_or(|part| *part == plan.name)
                };
                let rules = rules.iter().filter(named);
                let profile = Profile {
                    rules: rules.map(|&nth| self.pairing[nth].rule).collect(),
                    pauses: pauses.to_vec(),
                };
                let profiles = &mut self.profiles;
                let known = &mut self.known_profiles;
                *known.or_insert_with(profile.clone(), || {
                    profiles.push(profile);
                    ProfileIx::new(profiles.len() - 1)
                })
            })
            .collect()
    }
}
