//! From an encounter as written to a plan: names looked up, numbers and durations checked.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use super::breeds::Breeds;
use super::cast::{self, Actor, Entrant};
use super::checker::Checker;
use super::index::{ActorIx, BreedIx, KindIx, SpecIx, TagIx};
use super::pairing::Present;
use super::select::Directory;
use super::spec::{self, Spec};
use super::{
    Expectations, Plan, arena, drills, expectations, goals, kinds, pairing, rules, sizes, spelling,
};
use crate::encounter::{Encounter, Kind};
use crate::finding::{Finding, Findings, Path};
use crate::limits;
use crate::printable::is_printable;
use crate::syntax::Syntax;

/// What came of resolving an encounter.
pub(crate) struct Resolution {
    /// The plan, unless a finding is an error.
    pub plan: Option<Arc<Plan>>,
    pub findings: Findings,
    /// Where the actors are placed, in the order of ids.
    pub paths: Vec<Path>,
}

impl Resolution {
    fn failed(check: Checker) -> Resolution {
        Resolution {
            plan: None,
            findings: check.findings,
            paths: Vec::new(),
        }
    }
}

/// Resolves an encounter: every name, number and duration is looked at.
pub(crate) fn resolve(encounter: &Encounter) -> Resolution {
    let mut check = checker(encounter);
    let laid = kinds::laid(&mut check, encounter);
    if !sizes::check(&mut check, encounter, &laid) {
        return Resolution::failed(check);
    }
    let arena = arena::resolve(&mut check, encounter);
    let entrants = cast::enter(&mut check, encounter);
    let lists = Lists::new(&mut check, encounter, &laid, &entrants);
    if !lists.fit(&mut check) {
        return Resolution::failed(check);
    }
    let kind_tags: Vec<Vec<TagIx>> = laid
        .values()
        .map(|kind| indices(kind.tags.iter().flatten(), &lists.tags))
        .collect();
    let present = Present::new(&lists.kinds, &kind_tags, &laid, &entrants, &lists.tags);
    let names = spec::Names {
        sides: &lists.sides,
        meters: &lists.meters,
        attacks: &lists.attacks,
        sorts: &lists.sorts,
        buttons: &lists.buttons,
        sensors: &lists.sensors,
        states: &lists.states,
        cues: &lists.cues,
        directory: Directory {
            kinds: &lists.kinds,
            tags: &lists.tags,
            ids: &lists.ids,
        },
        present: &present,
        up: encounter.arena.up,
    };
    let (mut specs, found) = kind_specs(&mut check, encounter, &laid, &names);
    let paths: Vec<Path> = entrants
        .iter()
        .map(|entrant| entrant.path.clone())
        .collect();
    let mut variants = Variants {
        laid: &laid,
        found: &found,
        names: &names,
        known: BTreeMap::new(),
    };
    let mut actors: Vec<Actor> = entrants
        .into_iter()
        .map(|entrant| {
            let known = lists
                .kinds
                .binary_search_by(|kind| kind.as_str().cmp(entrant.kind));
            let kind =
                KindIx::new(known.unwrap_or_else(|_| unreachable!("entrants are of known kinds")));
            let more = indices(entrant.with.tags.iter().flatten(), &lists.tags);
            let own = kind_tags[kind.index()].iter().copied();
            let tags: BTreeSet<TagIx> = own.chain(more).collect();
            Actor {
                spec: variants.spec(&mut check, &mut specs, &entrant, kind),
                id: entrant.id,
                at: entrant.at,
                facing: entrant.facing,
                tags: tags.into_iter().collect(),
                breed: BreedIx(0),
            }
        })
        .collect();
    let world = pairing::World {
        names: &names,
        kind_tags: &kind_tags,
        specs: &specs,
        actors: &actors,
    };
    let resolved = rules::resolve(&mut check, &encounter.rules, &world);
    let goals = goals::resolve(&mut check, encounter, &names);
    let drills = drills::resolve(
        &mut check,
        &encounter.drills,
        &actors,
        &specs,
        &lists.buttons,
    );
    let mut breeds = Breeds::new(&specs, &kind_tags, &resolved.pairing);
    for (index, actor) in actors.iter_mut().enumerate() {
        actor.breed = breeds.placed(ActorIx::new(index), actor.spec, &actor.tags);
    }
    breeds.bring_forth();
    let (profiles, pauses, breeds) = (breeds.profiles, breeds.pauses, breeds.all);
    let mut plan = Plan {
        title: encounter
            .title
            .chars()
            .filter(|c| is_printable(*c))
            .collect(),
        rate: check.rate,
        arena,
        kinds: lists.kinds,
        sides: lists.sides,
        tags: lists.tags,
        meters: lists.meters,
        attacks: lists.attacks,
        sorts: lists.sorts,
        sensors: lists.sensors,
        states: lists.states,
        cues: lists.cues,
        buttons: lists.buttons,
        specs,
        actors,
        rules: resolved.rules,
        checkpoints: goals.checkpoints,
        exits: goals.exits,
        clear: goals.clear,
        drills,
        expectations: Expectations::default(),
        precedence: resolved.precedence,
        profiles,
        pauses,
        breeds,
        kind_tags,
    };
    let own = encounter.drills.iter();
    let own = own.map(|(name, drill)| (name.as_str(), drill.expect.as_slice()));
    plan.expectations = expectations::resolve(&mut check, &plan, &encounter.expect, own);
    spelling::check(&mut check, encounter, &laid);
    Resolution {
        plan: (!check.findings.has_errors()).then(|| Arc::new(plan)),
        findings: check.findings,
        paths,
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

/// Every name that can be looked up, each list in the order of bytes (buttons: those of a walk
/// first).
struct Lists {
    kinds: Vec<String>,
    sides: Vec<String>,
    tags: Vec<String>,
    meters: Vec<String>,
    attacks: Vec<String>,
    sorts: Vec<String>,
    sensors: Vec<String>,
    states: Vec<String>,
    cues: Vec<String>,
    buttons: Vec<String>,
    /// The ids of placed actors.
    ids: Vec<String>,
}

impl Lists {
    fn new(
        check: &mut Checker,
        encounter: &Encounter,
        laid: &BTreeMap<String, Kind>,
        entrants: &[Entrant<'_>],
    ) -> Lists {
        for (name, kind) in laid {
            for tag in kind.tags.iter().flatten() {
                check.name(kinds::path(name).key("tags"), tag, "a tag");
            }
        }
        for entrant in entrants {
            for tag in entrant.with.tags.iter().flatten() {
                check.name(entrant.path.key("tags"), tag, "a tag");
            }
        }
        let all = || {
            laid.values()
                .chain(entrants.iter().map(|entrant| entrant.with))
        };
        let effects = encounter.rules.iter().flat_map(|rule| {
            let also = rule.also.iter().map(|also| &also.does);
            also.chain([&rule.does])
        });
        let damages = effects.flat_map(|does| does.damage.iter().chain(&does.heal));
        Lists {
            kinds: laid.keys().cloned().collect(),
            sides: sorted(all().filter_map(|kind| kind.side.clone())),
            tags: sorted(all().flat_map(|kind| kind.tags.clone().unwrap_or_default())),
            meters: sorted(all().flat_map(|kind| kind.meters.keys().cloned())),
            attacks: sorted(all().flat_map(|kind| kind.attacks.keys().cloned())),
            sorts: sorted(damages.filter_map(|damage| damage.sort.clone())),
            sensors: sorted(all().flat_map(|kind| kind.sensors.keys().cloned())),
            states: sorted(all().flat_map(|kind| kind.states.keys().cloned())),
            cues: sorted(
                all()
                    .flat_map(cues)
                    .chain(encounter.rules.iter().filter_map(|rule| rule.cue.as_ref()))
                    .chain(
                        encounter
                            .checkpoints
                            .iter()
                            .filter_map(|point| point.cue.as_ref()),
                    )
                    .chain(encounter.exits.iter().filter_map(|exit| exit.cue.as_ref()))
                    .cloned(),
            ),
            ids: entrants.iter().map(|entrant| entrant.id.clone()).collect(),
            buttons: drills::buttons(check, all()),
        }
    }
}

impl Lists {
    /// Whether none of them is too long for indices.
    fn fit(&self, check: &mut Checker) -> bool {
        let lists = [
            (&self.sides, "sides"),
            (&self.tags, "tags"),
            (&self.meters, "names of meters"),
            (&self.attacks, "names of attacks"),
            (&self.sorts, "types of damage"),
            (&self.sensors, "names of sensors"),
            (&self.states, "names of states"),
            (&self.cues, "cues"),
        ];
        let path = Path::root().key("kind");
        lists.into_iter().fold(true, |fits, (names, what)| {
            check.at_most(path.clone(), names.len(), limits::NAMES, what) && fits
        })
    }
}

/// Every cue that a kind names.
fn cues(kind: &Kind) -> impl Iterator<Item = &String> {
    let attacks = kind.attacks.values().map(|attack| &attack.cue);
    let launchers = kind.launchers.values();
    let launchers = launchers.flat_map(|launcher| [&launcher.cue, &launcher.dry]);
    let states = kind.states.values().map(|state| &state.cue);
    let pickup = kind.pickup.iter().map(|pickup| &pickup.cue);
    let reloads = kind
        .meters
        .values()
        .filter_map(|meter| meter.reload.as_ref());
    let reloads = reloads.map(|reload| &reload.cue);
    let death = kind.death.iter().flatten().map(|step| &step.cue);
    let respawn = kind.respawn.iter().map(|respawn| &respawn.cue);
    let countdown = kind.respawn.iter().flat_map(|respawn| &respawn.countdown);
    let all = attacks
        .chain(launchers)
        .chain(states)
        .chain(pickup)
        .chain(reloads)
        .chain(death)
        .chain(respawn);
    all.flatten().chain(countdown.flatten())
}

/// Placements that override parts of their kind.
struct Variants<'a> {
    laid: &'a BTreeMap<String, Kind>,
    /// What was found about each kind, which is not found again about its variants.
    found: &'a BTreeMap<&'a str, Findings>,
    names: &'a spec::Names<'a>,
    /// The variants so far, by where their placement is written: copies share one.
    known: BTreeMap<Path, SpecIx>,
}

impl Variants<'_> {
    /// The resolved kind of an actor, or its own variant of it.
    fn spec(
        &mut self,
        check: &mut Checker,
        specs: &mut Vec<Spec>,
        entrant: &Entrant<'_>,
        kind: KindIx,
    ) -> SpecIx {
        let own = Kind {
            tags: None,
            ..entrant.with.clone()
        };
        if own == Kind::default() {
            return SpecIx::new(kind.index());
        }
        if let Some(known) = self.known.get(&entrant.path) {
            return *known;
        }
        let base = &self.laid[entrant.kind];
        nothing_new(check, &entrant.path, &own, base);
        let mut alone = Checker {
            findings: Findings::new(),
            rate: check.rate,
        };
        let laid = Syntax::over(&own, base);
        specs.push(spec::resolve(
            &mut alone,
            &entrant.path,
            kind,
            &laid,
            self.names,
        ));
        report_new(check, &alone.findings, self.found.get(entrant.kind));
        let spec = SpecIx::new(specs.len() - 1);
        self.known.insert(entrant.path.clone(), spec);
        spec
    }
}

/// A placement overrides what its kind has: a name that the kind does not know is a slip.
fn nothing_new(check: &mut Checker, path: &Path, own: &Kind, base: &Kind) {
    fn names<T>(map: &BTreeMap<String, T>) -> Vec<&str> {
        map.keys().map(String::as_str).collect()
    }
    for (key, what, own, base) in [
        (
            "hitbox",
            "hitbox",
            names(&own.hitboxes),
            names(&base.hitboxes),
        ),
        (
            "hurtbox",
            "hurtbox",
            names(&own.hurtboxes),
            names(&base.hurtboxes),
        ),
        ("meter", "meter", names(&own.meters), names(&base.meters)),
        (
            "attack",
            "attack",
            names(&own.attacks),
            names(&base.attacks),
        ),
        (
            "launcher",
            "launcher",
            names(&own.launchers),
            names(&base.launchers),
        ),
        (
            "sensor",
            "sensor",
            names(&own.sensors),
            names(&base.sensors),
        ),
        ("state", "state", names(&own.states), names(&base.states)),
        (
            "condition",
            "condition",
            names(&own.conditions),
            names(&base.conditions),
        ),
    ] {
        for name in own.iter().filter(|name| !base.contains(name)) {
            let what = format!("{what} of this kind to override called");
            check.unknown(path.key(key).key(*name), &what, name, base.iter().copied());
        }
    }
}

/// The kinds resolved, and what was found about each. What is wrong with a part that a kind took over
/// from another is reported there alone.
fn kind_specs<'k>(
    check: &mut Checker,
    encounter: &Encounter,
    laid: &'k BTreeMap<String, Kind>,
    names: &spec::Names<'_>,
) -> (Vec<Spec>, BTreeMap<&'k str, Findings>) {
    let mut found: BTreeMap<&str, Findings> = BTreeMap::new();
    let mut specs = Vec::new();
    for (index, (name, kind)) in laid.iter().enumerate() {
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
        let kind = encounter.kinds.get(*name);
        let like = kind.and_then(|kind| kind.like.as_deref());
        report_new(check, findings, like.and_then(|like| found.get(like)));
    }
    (specs, found)
}

/// Reports findings but those that are known of what they were taken over from: the same message at
/// the same place within it.
fn report_new(check: &mut Checker, findings: &Findings, known: Option<&Findings>) {
    for finding in findings {
        let same = |earlier: &Finding| {
            earlier.message == finding.message
                && earlier.path.steps().get(2..) == finding.path.steps().get(2..)
        };
        if !known.into_iter().flatten().any(same) {
            check.report(finding.clone());
        }
    }
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
