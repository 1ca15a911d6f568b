//! Sensors: what an actor notices.

use super::boxes::BoxSpec;
use super::read::{At, Read, laid_over};

/// A region or a ray that notices, as written.
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
#[derive(Clone, Debug, Default, PartialEq)]
pub struct SensorSpec {
    /// The region, facing right.
    pub area: Option<BoxSpec>,
    /// The ray, facing right.
    pub ray: Option<Ray>,
    /// A selector of whom it notices.
    pub notices: Option<String>,
    /// What it does not look through: `solids`, and selectors; solids for a ray when absent, nothing
    /// for a region.
    pub stopped_by: Option<Vec<String>>,
}

/// A straight line, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Ray {
    /// Where it begins: an offset from the actor's position; there when absent.
    pub from: [f64; 2],
    /// Where it ends.
    pub to: [f64; 2],
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
    pub fn ray(from: [f64; 2], to: [f64; 2], notices: impl Into<String>) -> SensorSpec {
        SensorSpec {
            ray: Some(Ray { from, to }),
            notices: Some(notices.into()),
            ..SensorSpec::default()
        }
    }

    /// Lets something stop its view: `solids`, or a selector.
    #[must_use]
    pub fn stopped_by(mut self, what: impl Into<String>) -> SensorSpec {
        self.stopped_by.get_or_insert_default().push(what.into());
        self
    }

    pub(crate) fn over(&self, base: &SensorSpec) -> SensorSpec {
        laid_over!(
            self,
            base,
            SensorSpec {
                area,
                ray,
                notices,
                stopped_by
            }
        )
    }
}

impl Read for SensorSpec {
    fn read(at: At<'_>) -> Option<SensorSpec> {
        at.table(|fields| {
            let spec = SensorSpec {
                area: fields.get("area"),
                ray: fields.get("ray"),
                notices: fields.get("notices"),
                stopped_by: fields.get("stopped_by"),
            };
            fields.clash("area", "ray");
            Some(spec)
        })
    }
}

impl Read for Ray {
    fn read(at: At<'_>) -> Option<Ray> {
        at.table(|fields| {
            Some(Ray {
                from: fields.get("from").unwrap_or_default(),
                to: fields.need("to").unwrap_or_default(),
            })
        })
    }
}
