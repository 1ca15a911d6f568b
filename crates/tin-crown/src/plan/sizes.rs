//! Is there more of anything than there may be? Asked before all else, so that what comes after can
//! count on it.

use super::checker::Checker;
use super::kinds::{self, Laid};
use crate::encounter::{Encounter, Kind};
use crate::finding::Path;
use crate::limits;

/// Whether all lists of an encounter are within their limits. `laid` are its kinds with what they
/// take over from others.
pub(super) fn check(check: &mut Checker, encounter: &Encounter, laid: &Laid<'_>) -> bool {
    let root = Path::root();
    let mut fits = true;
    let mut at_most = |path: Path, count: usize, most: usize, what: &str| {
        fits &= check.at_most(path, count, most, what);
    };
    for (key, count, most, what) in [
        ("kind", encounter.kinds.len(), limits::KINDS, "kinds"),
        ("rule", encounter.rules.len(), limits::RULES, "rules"),
        (
            "checkpoint",
            encounter.checkpoints.len(),
            limits::GOALS,
            "checkpoints",
        ),
        ("exit", encounter.exits.len(), limits::GOALS, "exits"),
        ("clear", encounter.clear.len(), limits::GOALS, "conditions"),
        ("drill", encounter.drills.len(), limits::DRILLS, "drills"),
        ("allow", encounter.allow.len(), limits::LIST, "allowances"),
    ] {
        at_most(root.key(key), count, most, what);
    }
    let solids = root.key("arena").key("solids");
    let count = encounter.arena.solids.len();
    at_most(solids, count, limits::SOLIDS, "solids");
    for (name, drill) in &encounter.drills {
        let path = root.key("drill").named(name);
        for (key, count, most, what) in [
            ("input", drill.input.len(), limits::INPUTS, "inputs"),
            ("apply", drill.apply.len(), limits::POSES, "effects"),
            ("pose", drill.pose.len(), limits::POSES, "poses"),
            ("track", drill.track.len(), limits::TRACKS, "recordings"),
        ] {
            at_most(path.key(key), count, most, what);
        }
    }
    for (index, rule) in encounter.rules.iter().enumerate() {
        let path = root.key("rule").index(index);
        at_most(path.key("also"), rule.also.len(), limits::LIST, "effects");
        at_most(path.key("beats"), rule.beats.len(), limits::LIST, "rules");
        for (key, party) in [("who", &rule.gate.who), ("whom", &rule.gate.whom)] {
            let gates = party.tags.len() + party.without.len() + party.meters.len();
            let path = path.key("gate").key(key);
            at_most(path, gates, limits::GATES, "gates of one party");
        }
    }
    for (name, kind) in laid {
        // What is taken over is told where it is written.
        let like = kind.like.as_ref().and_then(|like| laid.get(like.as_str()));
        of_kind(&kinds::path(name), kind, &mut |path, count, most, what| {
            let mut told = false;
            if let Some(like) = like {
                of_kind(&kinds::path(name), like, &mut |other, _, _, _| {
                    told |= other == path
                });
            }
            if !told {
                at_most(path, count, most, what);
            }
        });
    }
    fits
}

/// Tells of each list of a kind that is too long where it is, how many it holds, and how many it may.
fn of_kind(base: &Path, kind: &Kind, too_many: &mut dyn FnMut(Path, usize, usize, &str)) {
    let list = |list: &Option<Vec<String>>| list.as_ref().map_or(0, Vec::len);
    for (key, count, most, what) in [
        ("tags", list(&kind.tags), limits::LIST, "tags"),
        ("hitbox", kind.hitboxes.len(), limits::BOXES, "hitboxes"),
        ("hurtbox", kind.hurtboxes.len(), limits::BOXES, "hurtboxes"),
        ("meter", kind.meters.len(), limits::METERS, "meters"),
        ("attack", kind.attacks.len(), limits::ATTACKS, "attacks"),
        ("takes", kind.takes.len(), limits::LIST, "types of damage"),
        (
            "launcher",
            kind.launchers.len(),
            limits::LAUNCHERS,
            "launchers",
        ),
        (
            "leaves",
            kind.leaves.as_ref().map_or(0, Vec::len),
            limits::LEAVES,
            "things left behind",
        ),
        ("sensor", kind.sensors.len(), limits::SENSORS, "sensors"),
        (
            "condition",
            kind.conditions.len(),
            limits::LIST,
            "conditions",
        ),
        ("state", kind.states.len(), limits::STATES, "states"),
        (
            "death",
            kind.death.as_ref().map_or(0, Vec::len),
            limits::DEATH_STEPS,
            "steps",
        ),
    ] {
        if count > most {
            too_many(base.key(key), count, most, what);
        }
    }
    for (name, state) in &kind.states {
        let go = state.go.as_ref().map_or(0, Vec::len);
        if go > limits::TRANSITIONS_OF_STATE {
            let path = base.key("state").named(name).key("go");
            too_many(path, go, limits::TRANSITIONS_OF_STATE, "transitions");
        }
    }
    for (nth, step) in kind.death.iter().flatten().enumerate() {
        for (key, count, most, what) in [
            (
                "leaves",
                step.leaves.len(),
                limits::LEAVES,
                "things left behind",
            ),
            ("drops", step.drops.len(), limits::LIST, "drops"),
        ] {
            if count > most {
                let path = base.key("death").index(nth).key(key);
                too_many(path, count, most, what);
            }
        }
    }
}
