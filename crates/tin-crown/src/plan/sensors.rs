//! Resolved sensors, and what lies about to be taken.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::boxes::{self, BoxPlan};
use super::checker::Checker;
use super::faces;
use super::heights;
use super::index::{CueIx, MeterIx, SensorNameIx};
use super::respawns;
use super::scope::Scope;
use super::select::Group;
use crate::amount::Amount;
use crate::encounter::{Kind, PickupSpec, SensorSpec, WhenFull};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::time::Ticks;

/// A resolved sensor.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct SensorPlan {
    /// Its name.
    pub(crate) name: SensorNameIx,
    /// Where it notices.
    pub(crate) form: SensorForm,
    /// Whom it notices.
    #[getters(copy)]
    pub(crate) notices: Group,
    /// Whether solids stop its view.
    pub(crate) solids: bool,
    /// Who else stops it.
    pub(crate) blockers: Vec<Group>,
}

/// A region or a ray.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub enum SensorForm {
    /// A region.
    Area(Box<BoxPlan>),
    /// A straight line, facing right.
    Ray {
        /// From where, as an offset.
        from: Vec2,
        /// To where.
        to: Vec2,
        /// From which height to which, from its owner's; through all heights when absent.
        #[serde(skip_serializing_if = "Option::is_none")]
        rise: Option<[f64; 2]>,
    },
}

/// A resolved pickup.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct PickupPlan {
    /// Where it is taken.
    pub(crate) area: BoxPlan,
    /// Who may take it.
    #[getters(copy)]
    pub(crate) by: Group,
    /// How much it gives to which meter.
    pub(crate) gives: Vec<(MeterIx, Amount)>,
    /// How many lives it gives.
    pub(crate) lives: u32,
    /// What becomes of it when there is no room for any of it.
    #[getters(copy)]
    pub(crate) when_full: WhenFull,
    /// How long after it was taken it is back.
    pub(crate) back_after: Option<Ticks>,
    /// It waits until none of these is that near.
    pub(crate) unless_near: Option<(Group, f64)>,
    /// What is announced when it is taken.
    pub(crate) cue: Option<CueIx>,
}

/// The word for solids among what stops a view.
const SOLIDS: &str = "solids";

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Vec<SensorPlan> {
    let base = base.key("sensor");
    let all = kind.sensors.iter();
    all.filter_map(|(name, sensor)| {
        let path = base.named(name);
        check.name(path.clone(), name, "a sensor");
        one(check, &path, name, sensor, scope, faces::rotates(kind))
    })
    .collect()
}

fn one(
    check: &mut Checker,
    base: &Path,
    name: &str,
    sensor: &SensorSpec,
    scope: &Scope<'_>,
    rotates: bool,
) -> Option<SensorPlan> {
    let form = match (&sensor.area, &sensor.ray) {
        (Some(area), _) => {
            let area = boxes::shape(check, &base.key("area"), name, area, scope.up, None)?;
            SensorForm::Area(Box::new(area.of_kind(rotates)))
        }
        (None, Some(ray)) => {
            let path = base.key("ray");
            let (from, low) = heights::point(check, &path.key("from"), &ray.from);
            let (to, high) = heights::point(check, &path.key("to"), &ray.to);
            if from == to && low == high {
                let message = format!("the ray of `{name}` ends where it begins");
                check.report(Finding::new(Code::BadShape, path, message).help("move its end"));
            }
            let said = ray.from.height.or(ray.to.height).is_some() && scope.height;
            SensorForm::Ray {
                from,
                to,
                rise: said.then_some([low, high]),
            }
        }
        (None, None) => {
            let message = format!("`{name}` has neither `area` nor `ray`");
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help("for example: area = { size = [80, 40] }"),
            );
            return None;
        }
    };
    let Some(notices) = &sensor.notices else {
        let message = format!("`{name}` notices nobody");
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("for example: notices = \"#hero\""),
        );
        return None;
    };
    let notices = scope.group(check, &base.key("notices"), notices)?;
    let default = match form {
        SensorForm::Area(_) => vec![],
        SensorForm::Ray { .. } => vec![SOLIDS.to_owned()],
    };
    let stopped_by = sensor.stopped_by.as_ref().unwrap_or(&default);
    let mut blockers = Vec::new();
    for (nth, text) in stopped_by.iter().enumerate() {
        if text != SOLIDS {
            let path = base.key("stopped_by").index(nth);
            blockers.extend(scope.group(check, &path, text));
        }
    }
    Some(SensorPlan {
        name: scope.names.sensors.place(name),
        form,
        notices,
        solids: stopped_by.iter().any(|text| text == SOLIDS),
        blockers,
    })
}

pub(super) fn pickup(
    check: &mut Checker,
    base: &Path,
    pickup: &PickupSpec,
    scope: &Scope<'_>,
    rotates: bool,
) -> Option<PickupPlan> {
    let base = base.key("pickup");
    let Some(area) = &pickup.area else {
        let message = "a pickup needs an `area`";
        check.report(
            Finding::new(Code::MissingKey, base, message)
                .at_key()
                .help("for example: area = { size = [12, 12] }"),
        );
        return None;
    };
    let area = boxes::shape(check, &base.key("area"), "area", area, scope.up, None)?;
    let area = area.of_kind(rotates);
    let by = match &pickup.by {
        Some(by) => scope.group(check, &base.key("by"), by)?,
        None => Group::Anyone,
    };
    let mut gives = Vec::new();
    for (nth, gift) in pickup.gives.iter().flatten().enumerate() {
        let path = base.key("gives").index(nth);
        let amount = check.amount(path.key("amount"), gift.amount);
        if amount == Amount::ZERO {
            let message = "this gives nothing";
            check.report(Finding::new(Code::NoEffect, path.key("amount"), message));
        }
        let meters = &scope.names.meters;
        let meter = scope.find(check, path.key("meter"), "meter", &gift.meter, meters);
        gives.extend(meter.map(|meter| (meter, amount)));
    }
    Some(PickupPlan {
        area,
        by,
        gives,
        lives: pickup.lives.unwrap_or(0),
        when_full: pickup.when_full.unwrap_or_default(),
        back_after: pickup
            .back_after
            .map(|back| check.duration(base.key("back_after"), back)),
        unless_near: pickup
            .unless_near
            .as_ref()
            .and_then(|near| respawns::near(check, &base, near, scope)),
        cue: scope.cue(check, base.key("cue"), pickup.cue.as_deref()),
    })
}
