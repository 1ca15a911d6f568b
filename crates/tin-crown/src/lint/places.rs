//! Where an actor comes back.

use crate::encounter::Facing;
use crate::finding::Path;
use crate::geometry::Vec2;
use crate::plan::select::Subject;
use crate::plan::{Actor, Group, Plan, ReturnPlan, kinds};

/// A respawn place.
pub(super) struct Place {
    pub at: Vec2,
    /// At which height.
    pub rise: f64,
    pub facing: Facing,
    /// Those of whom none gives there, while there is another place.
    pub clear_of: Option<Group>,
    /// Where it is written.
    pub path: Path,
}

/// Every actor that comes back, with the places where it does. Those that all of a make share are given
/// for the first of them only.
pub(super) fn of_return<'p>(
    plan: &'p Plan,
    paths: &[Path],
) -> impl Iterator<Item = (&'p Actor, Vec<Place>)> {
    let mut known = vec![false; plan.specs.len()];
    plan.cast().zip(paths).filter_map(move |(index, path)| {
        let actor = &plan.actors[index.index()];
        let spec = plan.spec_of(actor.spec);
        let first = !std::mem::replace(&mut known[actor.spec.index()], true);
        let respawn = spec.respawn.as_ref()?;
        let start = |at: &Vec2| Place {
            at: *at,
            rise: actor.rise,
            facing: actor.facing,
            clear_of: None,
            path: path.key("at"),
        };
        let mut places: Vec<Place> = actor.at.all().map(start).collect();
        match &respawn.at {
            ReturnPlan::Start | ReturnPlan::Here => {}
            ReturnPlan::Checkpoint if first => {
                let subject = Subject {
                    actor: Some(index),
                    kind: spec.kind,
                    tags: &actor.tags,
                };
                let points = plan.checkpoints.iter();
                let points = points.filter(|point| point.by.matches(&subject));
                places.extend(points.map(|point| {
                    Place {
                        at: point.at,
                        rise: point.rise,
                        facing: point.facing.unwrap_or(actor.facing),
                        clear_of: None,
                        path: Path::root()
                            .key("checkpoint")
                            .index(point.written)
                            .key("at"),
                    }
                }));
            }
            ReturnPlan::Checkpoint => {}
            ReturnPlan::Places { .. } if !first => places.clear(),
            ReturnPlan::Places {
                at,
                facing,
                rise,
                clear_of,
            } => {
                let kind = kinds::path(&plan.names.kinds[spec.kind]);
                let path = kind.key("respawn").key("at").key("places");
                let place = |at: &Vec2| Place {
                    at: *at,
                    rise: *rise,
                    facing: facing.unwrap_or(actor.facing),
                    clear_of: *clear_of,
                    path: path.clone(),
                };
                places = at.all().map(place).collect();
            }
        }
        Some((actor, places))
    })
}
