//! The cast: every placed actor, by id.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::heights::{self, is_zero};
use super::index::{BreedIx, SpecIx, TagIx};
use crate::encounter::{Chance, Encounter, Facing, Kind};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::map::Map;
use crate::nearest::nearest;
use crate::order;

/// A placed actor.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct Actor {
    /// Its id.
    pub(crate) id: String,
    /// Its resolved kind.
    pub(crate) spec: SpecIx,
    /// Where it is placed.
    pub(crate) at: Chance<Vec2>,
    /// At which height.
    #[serde(skip_serializing_if = "is_zero")]
    pub(crate) rise: f64,
    /// Which way it faces at first.
    #[getters(copy)]
    pub(crate) facing: Facing,
    /// Its labels.
    pub(crate) tags: Vec<TagIx>,
    #[serde(skip)]
    #[getters(skip)]
    pub(crate) breed: BreedIx,
}

/// An actor on the way into the cast.
pub(super) struct Entrant<'e> {
    pub id: String,
    pub kind: &'e str,
    /// What its placement overrides.
    pub with: &'e Kind,
    pub at: Chance<Vec2>,
    pub rise: f64,
    pub facing: Facing,
    /// Where its placement is written.
    pub path: Path,
}

/// Every placement and copy, in the order of ids.
pub(super) fn enter<'e>(check: &mut Checker, encounter: &'e Encounter) -> Vec<Entrant<'e>> {
    let base = Path::root().key("place");
    let placed = |index: usize| base.index(index);
    let total: usize = encounter
        .placements
        .iter()
        .map(|place| place.copies.map_or(1, |copies| copies.count as usize))
        .sum();
    let mut all = Vec::new();
    if !check.at_most(
        base.clone(),
        total,
        limits::PLACED,
        "placed actors, copies counted,",
    ) {
        return all;
    }
    for (index, place) in encounter.placements.iter().enumerate() {
        let path = placed(index);
        let kind = match encounter.kinds.get_key_value(&place.kind) {
            Some((kind, _)) => kind.as_str(),
            None => {
                let known = encounter.kinds.keys().map(String::as_str);
                check.unknown(path.key("kind"), "kind", &place.kind, known.clone());
                // The kind that was probably meant keeps others from missing the actor.
                let Some(kind) = nearest(&place.kind, known) else {
                    continue;
                };
                kind
            }
        };
        let at: Chance<Vec2> = check.chance(&path.key("at"), &place.at, |check, path, at| {
            check.pair(&path, at.at, &limits::COORDINATE).into()
        });
        let rise = heights::of_place(check, &path.key("at"), &place.at);
        let id = place.id.as_deref().unwrap_or(kind);
        check.name(path.key("id"), id, "an actor");
        let mut enter = |id: String, at: Chance<Vec2>, rise: f64| {
            all.push(Entrant {
                id,
                kind,
                with: &place.with,
                at,
                rise,
                facing: place.facing,
                path: path.clone(),
            });
        };
        let Some(copies) = place.copies else {
            enter(id.to_owned(), at, rise);
            continue;
        };
        let path = path.key("copies");
        let count = f64::from(copies.count);
        check.number(path.key("count"), count, &limits::COPIES);
        let (step, up) = heights::point(check, &path.key("step"), &copies.step);
        for copy in 0..copies.count.max(1) {
            let nth = f64::from(copy);
            let at = at.map(|at| *at + step * nth);
            enter(format!("{id}_{}", copy + 1), at, rise + up * nth);
        }
    }
    order::sort_by(&mut all, |a, b| a.id.cmp(&b.id));
    unlike_each_other(check, encounter, &mut all);
    all
}

/// Ids are unique, and are no kind's name but that of their own only one.
fn unlike_each_other(check: &mut Checker, encounter: &Encounter, all: &mut Vec<Entrant<'_>>) {
    let mut of_kind: Map<&str, usize> = Map::new();
    for entrant in all.iter() {
        *of_kind.or_default(entrant.kind) += 1;
    }
    let of_another = |entrant: &Entrant<'_>| {
        entrant.id != entrant.kind && encounter.kinds.contains_key(&entrant.id)
    };
    for pair in all.windows(2) {
        if pair[0].id == pair[1].id && !pair.iter().any(of_another) {
            let (first, second) = if pair[0].path < pair[1].path {
                (0, 1)
            } else {
                (1, 0)
            };
            let message = format!("two actors are called `{}`", pair[0].id);
            check.report(
                Finding::new(Code::Duplicate, pair[second].path.key("id"), message)
                    .related(pair[first].path.clone(), "the other is here")
                    .help("give each its own `id`"),
            );
        }
    }
    for (nth, entrant) in all.iter().enumerate() {
        let again = nth > 0 && all[nth - 1].id == entrant.id;
        if entrant.id == entrant.kind && !again {
            if of_kind[entrant.kind] > 1 {
                let message = format!(
                    "`{}` has the name of its kind, but is not the only one of it",
                    entrant.id
                );
                check.report(
                    Finding::new(Code::Duplicate, entrant.path.key("id"), message)
                        .help("give it another `id`"),
                );
            }
        } else if of_another(entrant) {
            let message = format!("the id `{}` is the name of another kind", entrant.id);
            check.report(Finding::new(
                Code::Duplicate,
                entrant.path.key("id"),
                message,
            ));
        }
    }
    all.dedup_by(|a, b| a.id == b.id);
}
