//! Resolved conditions: what must be so for a transition.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::index::{SensorIx, SensorNameIx, StateNameIx};
use super::scope::Scope;
use super::select::Group;
use super::states::Parts;
use crate::amount::Amount;
use crate::encounter::{Condition, Kind, Other, Portion};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::time::{Duration, Ticks};

/// What must be so for a transition: all that is named.
#[derive(Clone, Debug, Default, Getters, PartialEq, Serialize)]
pub struct ConditionPlan {
    /// So long in its state.
    pub(crate) after: Option<Ticks>,
    /// A sensor, and whether it notices an actor or none.
    pub(crate) sense: Option<(SensorIx, bool)>,
    /// For how long.
    pub(crate) lasting: Ticks,
    /// How near at least, in units.
    pub(crate) within: Option<f64>,
    /// Whether it has come to stand on something.
    pub(crate) lands: Option<bool>,
    /// Whether it stands on something.
    pub(crate) grounded: Option<bool>,
    /// Whether its motion has arrived.
    pub(crate) arrives: Option<bool>,
    /// Whether a hit landed on it.
    pub(crate) hurt: Option<bool>,
    /// Meters by their place, with the least and the most that they hold.
    pub(crate) meters: Vec<(u8, Option<Amount>, Option<Amount>)>,
    /// What must be so of one of these.
    pub(crate) other: Option<(Group, OtherAsk)>,
}

/// What is asked of another.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum OtherAsk {
    /// That it is in this state.
    State(StateNameIx),
    /// That its sensor of this name notices an actor.
    Sees(SensorNameIx),
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    condition: &Condition,
    parts: &Parts<'_>,
) -> ConditionPlan {
    let sense = sense(check, base, condition, parts.kind);
    let mut ticks = |key: &'static str, length: Option<Duration>| {
        length.map(|length| check.duration(base.key(key), length))
    };
    let (after, lasting) = (
        ticks("after", condition.after),
        ticks("for", condition.lasting),
    );
    let meters = meters(check, &base.key("meter"), condition, parts);
    let other = condition.other.as_ref();
    let other = other.and_then(|other| self::other(check, &base.key("other"), other, parts.scope));
    if *condition == Condition::default() {
        let message = "this condition is empty: it always holds";
        check.report(
            Finding::new(Code::NoEffect, base.clone(), message)
                .help("add `after`, `sees`, `lands`, `arrives`, `hurt`…"),
        );
    }
    ConditionPlan {
        after,
        sense,
        lasting: lasting.unwrap_or_default(),
        within: condition
            .within
            .map(|within| check.number(base.key("within"), within, &limits::LENGTH)),
        lands: condition.lands,
        grounded: condition.grounded,
        arrives: condition.arrives,
        hurt: condition.hurt,
        meters,
        other,
    }
}

/// The sensor that it asks, and whether that notices an actor or none.
fn sense(
    check: &mut Checker,
    base: &Path,
    condition: &Condition,
    kind: &Kind,
) -> Option<(SensorIx, bool)> {
    let mut sensor = |key: &'static str, name: &Option<String>| {
        let name = name.as_ref()?;
        let found = kind.sensors.keys().position(|known| known == name);
        if found.is_none() {
            let known = kind.sensors.keys().map(String::as_str);
            check.unknown(base.key(key), "sensor of this kind", name, known);
        }
        found.map(SensorIx::new)
    };
    let sees = sensor("sees", &condition.sees).map(|sensor| (sensor, true));
    let loses = sensor("loses", &condition.loses).map(|sensor| (sensor, false));
    let sees_any = condition.sees.is_some();
    let named = sees_any || condition.loses.is_some();
    for (key, given, sense) in [
        ("for", condition.lasting.is_some(), named),
        ("within", condition.within.is_some(), sees_any),
    ] {
        if given && !sense {
            let message = format!("`{key}` needs `sees`");
            check.report(Finding::new(Code::NoEffect, base.key(key), message));
        }
    }
    sees.or(loses)
}

/// Own meters by their place, with the least and the most that they hold.
fn meters(
    check: &mut Checker,
    base: &Path,
    condition: &Condition,
    parts: &Parts<'_>,
) -> Vec<(u8, Option<Amount>, Option<Amount>)> {
    let Parts { kind, scope, .. } = *parts;
    let mut meters = Vec::new();
    for (name, level) in &condition.meters {
        let path = base.named(name);
        if scope.own_meter(check, path.clone(), name, kind).is_none() {
            continue;
        }
        let place = kind.meters.keys().position(|known| known == name);
        let max = kind.meters[name]
            .max
            .and_then(|max| Amount::try_from(max).ok());
        let mut amount = |key, level: Option<Portion>| {
            level.map(|level| {
                check
                    .portion(path.key(key), level)
                    .of(max.unwrap_or_default())
            })
        };
        let (least, most) = (
            amount("at_least", level.at_least),
            amount("at_most", level.at_most),
        );
        let place = u8::try_from(place.unwrap_or(0));
        let place = place.unwrap_or_else(|_| unreachable!("a kind has few meters"));
        meters.push((place, least, most));
    }
    meters
}

/// What it asks of others.
pub(super) fn other(
    check: &mut Checker,
    base: &Path,
    other: &Other,
    scope: &Scope<'_>,
) -> Option<(Group, OtherAsk)> {
    let names = scope.names;
    let who = scope.group(check, &base.key("who"), &other.who);
    let ask = match (&other.state, &other.sees) {
        (Some(state), _) => {
            OtherAsk::State(scope.find(check, base.key("state"), "state", state, &names.states)?)
        }
        (None, Some(sees)) => {
            OtherAsk::Sees(scope.find(check, base.key("sees"), "sensor", sees, &names.sensors)?)
        }
        (None, None) => return None,
    };
    Some((who?, ask))
}
