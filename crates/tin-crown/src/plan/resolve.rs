//! From an encounter as written to a plan: names looked up, numbers and durations checked.

use std::sync::{Arc, OnceLock};

use super::breeds::Breeds;
use super::cast::{self, Actor};
use super::checker::Checker;
use super::index::{ActorIx, DrillIx, TagIx};
use super::kinds::Laid;
use super::names::List;
use super::present::Present;
use super::scope::Scope;
use super::specs::Specs;
use super::{
    Expectations, Plan, arena, collect, drills, expectations, goals, heights, kinds, pairing,
    rules, sizes, tracks,
};
use crate::encounter::Encounter;
use crate::finding::{Findings, Path};
use crate::limits;
use crate::order;
use crate::printable::is_printable;

/// The result of resolving an encounter.
pub(crate) struct Resolution<'e> {
    /// The plan, unless a finding is an error.
    pub plan: Option<Arc<Plan>>,
    pub findings: Findings,
    /// Where the actors are placed, in the order of ids.
    pub paths: Vec<Path>,
    /// The kinds, each laid over those it is like, when all is resolved.
    pub laid: Option<Laid<'e>>,
}

impl Resolution<'_> {
    fn failed(check: Checker) -> Self {
        Resolution {
            plan: None,
            findings: check.findings,
            paths: Vec::new(),
            laid: None,
        }
    }
}

/// Resolves an encounter: every name, number and duration is looked at.
pub(crate) fn resolve(encounter: &Encounter) -> Resolution<'_> {
    let mut check = checker(encounter);
    let laid = kinds::laid(&mut check, encounter);
    if !sizes::check(&mut check, encounter, &laid) {
        return Resolution::failed(check);
    }
    let arena = arena::resolve(&mut check, encounter);
    heights::check(&mut check, encounter, &laid);
    let entrants = cast::enter(&mut check, encounter);
    let Some(names) = collect::names(&mut check, encounter, &laid, &entrants) else {
        return Resolution::failed(check);
    };
    let kind_tags: Vec<Vec<TagIx>> = laid
        .values()
        .map(|kind| indices(kind.tags.iter().flatten(), &names.tags))
        .collect();
    let introduced = tracks::introduced(encounter, &names.kinds);
    let mut drills = encounter.drills.values();
    let scope = Scope {
        names: &names,
        present: &Present::new(&names, &kind_tags, &laid, &entrants, &introduced),
        up: encounter.arena.up,
        height: encounter.arena.height.is_some(),
        told: drills.any(|drill| !drill.track.is_empty() || !drill.pose.is_empty()),
    };
    let paths: Vec<Path> = entrants
        .iter()
        .map(|entrant| entrant.path.clone())
        .collect();
    let mut specs = Specs::new(&mut check, encounter, &laid, &scope);
    let mut actors: Vec<Actor> = entrants
        .into_iter()
        .map(|entrant| specs.actor(&mut check, entrant, &kind_tags))
        .collect();
    let specs = specs.all;
    let world = pairing::World {
        scope: &scope,
        kind_tags: &kind_tags,
        specs: &specs,
        actors: &actors,
    };
    let resolved = rules::resolve(&mut check, &encounter.rules, &world);
    let goals = goals::resolve(&mut check, encounter, &world);
    let (drills, later) = drills::resolve(&mut check, &encounter.drills, &encounter.rules, &world);
    let mut breeds = Breeds::new(&specs, &kind_tags, &resolved.pairing);
    for (index, actor) in actors.iter_mut().enumerate() {
        actor.breed = breeds.placed(ActorIx::new(index), actor.spec, &actor.tags);
    }
    let unmade = breeds.bring_forth(&introduced);
    let introduced = introduced.into_iter().zip(unmade).collect();
    let (profiles, pauses, breeds) = (breeds.profiles, breeds.pauses, breeds.all);
    let title = encounter.title.chars().filter(|c| is_printable(*c));
    let mut plan = Plan {
        title: title.collect(),
        rate: check.rate,
        arena,
        names,
        specs,
        actors,
        rules: resolved.rules,
        checkpoints: goals.checkpoints,
        exits: goals.exits,
        clear: goals.clear,
        drill_order: (0..drills.len()).map(DrillIx::new).collect(),
        drills,
        expectations: Expectations::default(),
        precedence: resolved.precedence,
        profiles,
        pauses,
        breeds,
        introduced,
        kind_tags,
        print: OnceLock::new(),
    };
    let later = drills::look_up(&mut check, &plan, later);
    for (drill, later) in plan.drills.iter_mut().zip(later) {
        drill.later = later;
    }
    let own = encounter.drills.iter();
    let own = own.map(|(name, drill)| (name.as_str(), drill.expect.as_slice()));
    plan.expectations = expectations::resolve(&mut check, &plan, &encounter.expect, own);
    Resolution {
        plan: (!check.findings.has_errors()).then(|| Arc::new(plan)),
        findings: check.findings,
        paths,
        laid: Some(laid),
    }
}

fn checker(encounter: &Encounter) -> Checker {
    let rate = f64::from(encounter.tick_rate);
    let mut check = Checker {
        findings: Findings::new(),
        // A wrong rate is one finding, not one for every duration too.
        rate: if limits::TICK_RATE.contains(rate) {
            encounter.tick_rate
        } else {
            60
        },
    };
    let root = Path::root();
    check.number(root.key("tick_rate"), rate, &limits::TICK_RATE);
    check
}

/// The indices of the tags that someone carries, in order.
pub(super) fn indices<'a>(own: impl Iterator<Item = &'a String>, all: &List<TagIx>) -> Vec<TagIx> {
    let mut indices: Vec<TagIx> = own.filter_map(|tag| all.find(tag)).collect();
    order::sort(&mut indices);
    indices.dedup();
    indices
}
