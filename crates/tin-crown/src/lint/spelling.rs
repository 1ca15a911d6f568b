//! Two spellings of what is hardly two things: a selector that names one of them misses the other.

use unicode_normalization::UnicodeNormalization;

use crate::encounter::Encounter;
use crate::finding::{Code, Finding, Findings, Path};
use crate::map::Map;
use crate::plan::kinds::{self, Laid};

pub(crate) fn check(findings: &mut Findings, encounter: &Encounter, laid: &Laid<'_>) {
    let mut names: Map<&'static str, Vec<(&str, Path)>> = Map::new();
    let mut add = |what: &'static str, name, path| {
        names.or_default(what).push((name, path));
    };
    for name in encounter.kinds.keys() {
        add("kind", name, kinds::path(name));
    }
    let kinds = encounter.kinds.iter();
    let kinds = kinds.map(|(name, kind)| (kinds::path(name), kind));
    let placements = encounter.placements.iter().enumerate();
    let placements = placements.map(|(nth, placement)| {
        let path = Path::root().key("place").index(nth);
        (path, &placement.with)
    });
    for (path, kind) in kinds.chain(placements) {
        for tag in kind.tags.iter().flatten() {
            add("tag", tag.as_str(), path.key("tags"));
        }
        if let Some(side) = &kind.side {
            add("side", side, path.key("side"));
        }
        for name in kind.meters.keys() {
            add("meter", name, path.key("meter").named(name));
        }
        for name in kind.states.keys() {
            add("state", name, path.key("state").named(name));
        }
        for name in kind.attacks.keys() {
            add("attack", name, path.key("attack").named(name));
        }
        for name in kind.sensors.keys() {
            add("sensor", name, path.key("sensor").named(name));
        }
    }
    for (what, names) in names {
        twice(findings, what, names, folded);
    }
    // Of other names only two that look the same are hardly two things.
    let mut names: Map<&'static str, Vec<(&str, Path)>> = Map::new();
    let mut add = |what: &'static str, name, path| {
        names.or_default(what).push((name, path));
    };
    let root = Path::root();
    for (nth, placement) in encounter.placements.iter().enumerate() {
        if let Some(id) = &placement.id {
            add("actor", id, root.key("place").index(nth).key("id"));
        }
    }
    for (nth, rule) in encounter.rules.iter().enumerate() {
        add("rule", &rule.name, root.key("rule").index(nth).key("name"));
    }
    for name in encounter.drills.keys() {
        add("drill", name, root.key("drill").named(name));
    }
    for (name, kind) in &encounter.kinds {
        let path = kinds::path(name);
        for (key, boxes) in [("hitbox", &kind.hitboxes), ("hurtbox", &kind.hurtboxes)] {
            for name in boxes.keys() {
                add(key, name, path.key(key).named(name));
            }
        }
    }
    for (what, names) in names {
        twice(findings, what, names, composed);
    }
    by_like(findings, encounter, laid);
}

/// Reports each name that is spelt otherwise elsewhere, once.
fn twice(findings: &mut Findings, what: &str, names: Vec<(&str, Path)>, alike: fn(&str) -> String) {
    let mut known: Map<String, Vec<(&str, Path)>> = Map::new();
    for (name, path) in names {
        let mut key = alike(name);
        if what == "tag" && key.len() > 2 && key.ends_with('s') {
            // One foe, many foes.
            key.pop();
        }
        let same = known.or_default(key);
        if !same.iter().any(|(other, _)| *other == name) {
            same.push((name, path));
        }
    }
    for same in known.into_values() {
        let [(first, there), more @ ..] = same.as_slice() else {
            continue;
        };
        for (name, path) in more {
            let plural = if what.ends_with('x') { "es" } else { "s" };
            let message = format!("`{name}` and `{first}` are two different {what}{plural}");
            let help = if composed(name) == composed(first) {
                "they look alike, but one has an accent as a character of its own (NFD): write both in \
                 composed form (NFC)"
            } else {
                "use one spelling, or names that differ more"
            };
            findings.push(
                Finding::new(Code::TwoSpellings, path.clone(), message)
                    .help(help)
                    .related(there.clone(), "the other spelling"),
            );
        }
    }
}

/// A name whose accents are part of its letters, not behind them.
fn composed(name: &str) -> String {
    name.nfc().collect()
}

/// A name without what is easily mixed up: case, hyphens, underscores and spaces.
fn folded(name: &str) -> String {
    let name = composed(name);
    let kept = name.chars().filter(|c| !matches!(c, '-' | '_' | ' '));
    kept.flat_map(char::to_lowercase).collect()
}

/// A kind that adds a hitbox where what it is like has a hurtbox of that name, or the other way round:
/// lists of boxes mean both.
fn by_like(findings: &mut Findings, encounter: &Encounter, laid: &Laid<'_>) {
    for (name, kind) in &encounter.kinds {
        let Some(base) = kind.like.as_ref().and_then(|like| laid.get(like.as_str())) else {
            continue;
        };
        for (key, own, others, what) in [
            ("hitbox", &kind.hitboxes, &base.hurtboxes, "hurtbox"),
            ("hurtbox", &kind.hurtboxes, &base.hitboxes, "hitbox"),
        ] {
            for part in own.keys().filter(|part| others.contains_key(*part)) {
                let like = kind.like.as_deref().unwrap_or_default();
                let message = format!(
                    "`{name}` has a {key} `{part}`, and from `{like}` a {what} of that name"
                );
                let path = kinds::path(name).key(key).named(part);
                findings.push(
                    Finding::new(Code::SameName, path, message)
                        .at_key()
                        .help(format!(
                            "give it another name, or write it as `{what}.{part}` if it was to be changed"
                        ))
                        .related(kinds::path(like).named(what).named(part), "the other is here"),
                );
            }
        }
    }
}
