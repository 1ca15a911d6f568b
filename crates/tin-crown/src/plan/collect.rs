//! Every name that an encounter speaks of.

use super::cast::Entrant;
use super::checker::Checker;
use super::drills::BUTTONS;
use super::index::ButtonIx;
use super::kinds::{self, Laid};
use super::names::{List, Names};
use crate::encounter::{Encounter, Kind};
use crate::finding::Path;
use crate::limits;
use crate::map::Set;

/// Collects them; none when there are more than indices can tell apart.
pub(super) fn names(
    check: &mut Checker,
    encounter: &Encounter,
    laid: &Laid<'_>,
    entrants: &[Entrant<'_>],
) -> Option<Names> {
    valid_tags(check, laid, entrants);
    let all = || {
        laid.values()
            .map(|kind| &**kind)
            .chain(entrants.iter().map(|entrant| entrant.with))
    };
    let effects = encounter.rules.iter().flat_map(|rule| {
        let also = rule.also.iter().map(|also| &also.does);
        also.chain([&rule.does])
    });
    let drills = encounter.drills.values();
    let effects =
        effects.chain(drills.flat_map(|drill| drill.apply.iter().map(|apply| &apply.does)));
    let damages = effects.flat_map(|does| does.damage.iter().chain(&does.heal));
    let rules = encounter.rules.iter().map(|rule| &rule.cue);
    let checkpoints = encounter.checkpoints.iter().map(|point| &point.cue);
    let exits = encounter.exits.iter().map(|exit| &exit.cue);
    let others = rules.chain(checkpoints).chain(exits).flatten();
    let names = Names {
        kinds: List::new(laid.keys().map(|name| (*name).to_owned())),
        sides: List::new(all().filter_map(|kind| kind.side.clone())),
        tags: List::new(all().flat_map(|kind| kind.tags.clone().unwrap_or_default())),
        meters: List::new(all().flat_map(|kind| kind.meters.keys().cloned())),
        attacks: List::new(all().flat_map(|kind| kind.attacks.keys().cloned())),
        sorts: List::new(damages.filter_map(|damage| damage.sort.clone())),
        sensors: List::new(all().flat_map(|kind| kind.sensors.keys().cloned())),
        states: List::new(all().flat_map(|kind| kind.states.keys().cloned())),
        cues: List::new(all().flat_map(cues).chain(others).cloned()),
        ids: List::new(entrants.iter().map(|entrant| entrant.id.clone())),
        buttons: buttons(check, all()),
    };
    fit(check, &names).then_some(names)
}

fn valid_tags(check: &mut Checker, laid: &Laid<'_>, entrants: &[Entrant<'_>]) {
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
}

/// Whether no list is too long for indices.
fn fit(check: &mut Checker, names: &Names) -> bool {
    let lists = [
        (names.sides.len(), "sides"),
        (names.tags.len(), "tags"),
        (names.meters.len(), "names of meters"),
        (names.attacks.len(), "names of attacks"),
        (names.sorts.len(), "types of damage"),
        (names.sensors.len(), "names of sensors"),
        (names.states.len(), "names of states"),
        (names.cues.len(), "cues"),
    ];
    let path = Path::root().key("kind");
    lists.into_iter().fold(true, |fits, (count, what)| {
        check.at_most(path.clone(), count, limits::NAMES, what) && fits
    })
}

/// All buttons: those of a walk, then others by name.
fn buttons<'k>(check: &mut Checker, kinds: impl Iterator<Item = &'k Kind>) -> List<ButtonIx> {
    let mut others: Set<&str> = Set::new();
    for kind in kinds {
        let attacks = kind.attacks.values().map(|attack| &attack.button);
        let launchers = kind.launchers.values().map(|launcher| &launcher.button);
        let reloads = kind
            .meters
            .values()
            .filter_map(|meter| meter.reload.as_ref());
        let reloads = reloads.map(|reload| &reload.button);
        let guard = kind.guard.iter().map(|guard| &guard.button);
        let all = attacks.chain(launchers).chain(reloads).chain(guard);
        others.extend(all.flatten().map(String::as_str));
    }
    others.retain(|name| !BUTTONS.contains(name));
    let most = limits::BUTTONS - BUTTONS.len();
    let total = BUTTONS.len() + others.len();
    check.at_most(Path::root().key("kind"), total, limits::BUTTONS, "buttons");
    if let Some(first_over) = others.iter().nth(most).copied() {
        others.retain(|name| *name < first_over);
    }
    List::buttons(&others)
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
