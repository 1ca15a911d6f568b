//! From an encounter as written to a plan: names looked up, everything checked.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use super::cast::{self, Actor};
use super::checker::Checker;
use super::index::{KindIx, SpecIx, TagIx};
use super::spec::{self, Spec};
use super::{Plan, arena, drills, kinds, pairing, rules, sense};
use crate::encounter::{Encounter, Kind};
use crate::finding::{Findings, Path};
use crate::limits;

/// Checks and resolves an encounter. There is a plan when no finding is an error.
pub(super) fn resolve(encounter: &Encounter) -> (Option<Arc<Plan>>, Findings) {
    let mut check = Checker {
        findings: Findings::new(),
        // A wrong rate is one finding, not one for every duration too.
        rate: if limits::TICK_RATE.contains(f64::from(encounter.tick_rate)) {
            encounter.tick_rate
        } else {
            60
        },
    };
    let root = Path::root();
    check.number(
        root.key("tick_rate"),
        f64::from(encounter.tick_rate),
        &limits::TICK_RATE,
    );
    let arena = arena::resolve(&mut check, encounter);
    check.at_most(
        root.key("kind"),
        encounter.kinds.len(),
        limits::KINDS,
        "kinds",
    );
    let laid = kinds::laid(&mut check, encounter);
    let entrants = cast::enter(&mut check, encounter);

    let with = || entrants.iter().map(|entrant| entrant.with);
    let all = || laid.values().chain(with());
    let kinds: Vec<String> = laid.keys().cloned().collect();
    let sides = sorted(all().filter_map(|kind| kind.side.clone()));
    let tags = sorted(all().flat_map(|kind| kind.tags.clone().unwrap_or_default()));
    let meters = sorted(all().flat_map(|kind| kind.meters.keys().cloned()));
    let attacks = sorted(all().flat_map(|kind| kind.attacks.keys().cloned()));
    let buttons = drills::buttons(&mut check, all());
    let effects = encounter.rules.iter().flat_map(|rule| {
        let also = rule.also.iter().map(|also| &also.does);
        also.chain([&rule.does])
    });
    let damages = effects.flat_map(|does| does.damage.iter().chain(&does.heal));
    let sorts = sorted(damages.filter_map(|damage| damage.sort.clone()));
    for (name, kind) in &laid {
        for tag in kind.tags.iter().flatten() {
            check.name(kinds::path(name).key("tags"), tag, "a tag");
        }
    }

    let names = spec::Names {
        sides: &sides,
        meters: &meters,
        attacks: &attacks,
        sorts: &sorts,
        buttons: &buttons,
        up: encounter.arena.up,
        gravity: arena.gravity,
    };
    let mut specs = kind_specs(&mut check, encounter, &laid, &names);
    let kind_tags: Vec<Vec<TagIx>> = laid
        .values()
        .map(|kind| indices(kind.tags.iter().flatten(), &tags))
        .collect();
    let paths: Vec<Path> = entrants
        .iter()
        .map(|entrant| entrant.path.clone())
        .collect();
    let mut variants = BTreeMap::new();
    let mut actors: Vec<Actor> = entrants
        .into_iter()
        .map(|entrant| {
            let kind = kinds.binary_search_by(|name| name.as_str().cmp(entrant.kind));
            let kind = kind.unwrap_or_else(|_| unreachable!("entrants are of known kinds"));
            let own = Kind {
                tags: None,
                ..entrant.with.clone()
            };
            let spec = if own == Kind::default() {
                SpecIx::new(kind)
            } else {
                *variants.entry(entrant.path.clone()).or_insert_with(|| {
                    let laid = own.over(&laid[entrant.kind]);
                    let kind = KindIx::new(kind);
                    specs.push(spec::resolve(
                        &mut check,
                        &entrant.path,
                        kind,
                        &laid,
                        &names,
                    ));
                    SpecIx::new(specs.len() - 1)
                })
            };
            let more = indices(entrant.with.tags.iter().flatten(), &tags);
            let all: BTreeSet<TagIx> = kind_tags[kind].iter().copied().chain(more).collect();
            Actor {
                id: entrant.id,
                spec,
                at: entrant.at,
                facing: entrant.facing,
                tags: all.into_iter().collect(),
                gives: Vec::new(),
                takes: Vec::new(),
            }
        })
        .collect();
    let world = pairing::World {
        kinds: &kinds,
        kind_tags: &kind_tags,
        tags: &tags,
        meters: &meters,
        attacks: &attacks,
        sorts: &sorts,
        specs: &specs,
        actors: &actors,
    };
    let resolved = rules::resolve(&mut check, &encounter.rules, &world);
    let profiles = resolved.profiles.intern(&specs, &mut actors);
    let drills = drills::resolve(&mut check, &encounter.drills, &actors, &specs, &buttons);
    let plan = Plan {
        title: encounter.title.clone(),
        rate: check.rate,
        arena,
        kinds,
        sides,
        tags,
        meters,
        attacks,
        sorts,
        buttons,
        specs,
        actors,
        rules: resolved.rules,
        drills,
        precedence: resolved.precedence,
        profiles,
    };
    if !check.findings.has_errors() {
        sense::check(&mut check, &plan, &paths);
    }
    check.findings.withhold_guesses();
    let plan = (!check.findings.has_errors()).then(|| Arc::new(plan));
    (plan, check.findings)
}

/// The kinds resolved. What is wrong with a part that a kind took over from another is reported
/// there alone.
fn kind_specs(
    check: &mut Checker,
    encounter: &Encounter,
    laid: &BTreeMap<String, Kind>,
    names: &spec::Names<'_>,
) -> Vec<Spec> {
    let mut found: BTreeMap<&str, Findings> = BTreeMap::new();
    let mut specs = Vec::new();
    for (index, (name, kind)) in laid.iter().enumerate().take(limits::KINDS) {
        let mut alone = Checker {
            findings: Findings::new(),
            rate: check.rate,
        };
        let path = kinds::path(name);
        specs.push(spec::resolve(
            &mut alone,
            &path,
            KindIx::new(index),
            kind,
            names,
        ));
        found.insert(name, alone.findings);
    }
    for (name, findings) in &found {
        let like = encounter
            .kinds
            .get(*name)
            .and_then(|kind| kind.like.as_deref());
        let inherited = like.and_then(|like| found.get(like));
        for finding in findings {
            let known = inherited.into_iter().flatten().any(|earlier| {
                earlier.message == finding.message
                    && earlier.path.steps().get(2..) == finding.path.steps().get(2..)
            });
            if !known {
                check.report(finding.clone());
            }
        }
    }
    specs
}

/// All of them once, in the order of their bytes.
fn sorted(names: impl Iterator<Item = String>) -> Vec<String> {
    let set: BTreeSet<String> = names.collect();
    set.into_iter().collect()
}

/// Where the tags that someone carries stand among all tags.
fn indices<'a>(own: impl Iterator<Item = &'a String>, all: &[String]) -> Vec<TagIx> {
    let mut indices: Vec<TagIx> = own
        .filter_map(|tag| all.binary_search(tag).ok())
        .map(TagIx::new)
        .collect();
    indices.sort_unstable();
    indices.dedup();
    indices
}
