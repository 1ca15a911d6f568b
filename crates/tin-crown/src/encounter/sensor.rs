//! Sensors: what an actor notices.

use super::Point;
use super::boxes::BoxSpec;
use crate::limits;
use crate::syntax::Table;

/// A region or a ray that notices actors that reach into it with their body, otherwise a hurtbox, otherwise a
/// hitbox.
///
/// ```
/// use tin_crown::{BoxSpec, Kind, SensorSpec};
///
/// let weight = Kind::new().sensor(
///     "below",
///     SensorSpec::region(BoxSpec::rectangle(40.0, 120.0).at(0.0, -70.0), "#hero"),
/// );
/// assert_eq!(weight.sensors.len(), 1);
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts, at_most_one("area", "ray"))]
pub struct SensorSpec {
    /// The region, facing right.
    #[key(absent = "this or `ray`", whole)]
    pub area: Option<BoxSpec>,
    /// The ray, facing right.
    #[key(absent = "this or `area`", whole, set = "")]
    pub ray: Option<Ray>,
    /// Whom it notices.
    #[key(due, text = "selector")]
    pub notices: Option<String>,
    /// What it does not look through: on the ray before whom it meets, or between the two positions.
    /// One-way solids stop no view.
    #[key(
        text = "`\"solids\"` or selector",
        absent = "`[\"solids\"]` for a ray, `[]` for an area",
        set = "stopped_by"
    )]
    pub stopped_by: Option<Vec<String>>,
}

/// A straight line between two offsets from the actor's position. Where neither end has a height, it reaches
/// through all heights.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
pub struct Ray {
    /// Where it begins.
    #[key(range = limits::COORDINATE, default = "[0, 0]")]
    pub from: Point,
    /// Where it ends.
    #[key(required, range = limits::COORDINATE)]
    pub to: Point,
}

impl SensorSpec {
    /// A region that notices those a selector names.
    pub fn region(area: BoxSpec, notices: impl Into<String>) -> SensorSpec {
        SensorSpec {
            area: Some(area),
            notices: Some(notices.into()),
            ..SensorSpec::default()
        }
    }

    /// A ray between two offsets that notices those a selector names, up to the first solid.
    pub fn ray(
        from: impl Into<Point>,
        to: impl Into<Point>,
        notices: impl Into<String>,
    ) -> SensorSpec {
        let (from, to) = (from.into(), to.into());
        SensorSpec {
            ray: Some(Ray { from, to }),
            notices: Some(notices.into()),
            ..SensorSpec::default()
        }
    }
}
