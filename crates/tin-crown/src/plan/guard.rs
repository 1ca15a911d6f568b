//! The resolved guard.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::gates::angles;
use super::hits::{self, PushPlan};
use super::index::{ButtonIx, MeterIx};
use super::scope::Scope;
use crate::amount::Amount;
use crate::encounter::{GuardSpec, Kind, Movement, ParrySpec};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Arc;
use crate::limits;
use crate::time::{Duration, Ticks};

/// A resolved guard.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct GuardPlan {
    /// The button that holds it up, when it is not only a state that does.
    pub(crate) button: Option<ButtonIx>,
    /// The time between the button and the guard.
    pub(crate) startup: Ticks,
    /// What it covers, facing right, with y upward.
    #[getters(copy)]
    pub(crate) arc: Arc,
    /// The share of damage that comes through, in thousandths.
    pub(crate) through: Amount,
    /// The meter that it costs.
    pub(crate) meter: Option<MeterIx>,
    /// What a guarded hit costs.
    pub(crate) cost: Amount,
    /// How long its owner is stunned when the meter is empty.
    pub(crate) break_stun: Ticks,
    /// Whether its owner stays meanwhile.
    pub(crate) locked: bool,
    /// What it does at its beginning.
    pub(crate) parry: Option<ParryPlan>,
}

/// A guard raised just in time.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct ParryPlan {
    /// How long from the guard's beginning.
    pub(crate) window: Ticks,
    /// The share of damage that comes through, in thousandths.
    pub(crate) through: Amount,
    /// What it costs.
    pub(crate) cost: Amount,
    /// How long who hit is stunned.
    pub(crate) stun: Ticks,
    /// How who hit is thrown.
    #[getters(copy)]
    pub(crate) push: Option<PushPlan>,
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    guard: &GuardSpec,
    scope: &Scope<'_>,
) -> GuardPlan {
    let base = base.key("guard");
    let by_state = kind.states.values().any(|state| state.guard == Some(true));
    let button = match &guard.button {
        Some(button) => Some(scope.button(check, base.key("button"), button)),
        None if by_state => None,
        None => {
            let message = "a guard needs a `button` that holds it up";
            check.report(Finding::new(Code::MissingKey, base.clone(), message).at_key());
            None
        }
    };
    let meter = guard.meter.as_ref().and_then(|name| {
        if !kind.meters.contains_key(name) {
            let known = kind.meters.keys().map(String::as_str);
            check.unknown(base.key("meter"), "meter of this kind", name, known);
        }
        scope.names.meters.find(name)
    });
    for (key, given) in [
        ("cost", guard.cost.is_some()),
        ("break_stun", guard.break_stun.is_some()),
    ] {
        if given && guard.meter.is_none() {
            let message = format!("`{key}` needs a `meter`");
            check.report(Finding::new(Code::NoEffect, base.key(key), message));
        }
    }
    let arc = match guard.arc {
        Some(arc) => angles(check, &base.key("arc"), arc),
        None => [-90.0, 90.0],
    };
    let mut ticks = |key: &'static str, length: Option<Duration>| {
        length.map_or(Ticks(0), |length| check.duration(base.key(key), length))
    };
    let (startup, break_stun) = (
        ticks("startup", guard.startup),
        ticks("break_stun", guard.break_stun),
    );
    let parry = guard
        .parry
        .as_ref()
        .map(|parry| parry_of(check, &base.key("parry"), parry));
    let cost = guard.cost.map_or(Amount::whole(1), |cost| {
        check.amount(base.key("cost"), cost)
    });
    GuardPlan {
        button,
        startup,
        arc: Arc::new(arc),
        through: share(check, base.key("through"), guard.through),
        meter,
        cost,
        break_stun,
        locked: guard.movement == Some(Movement::Locked),
        parry,
    }
}

fn parry_of(check: &mut Checker, base: &Path, parry: &ParrySpec) -> ParryPlan {
    let window = parry.window.map_or(Ticks(0), |window| {
        check.duration(base.key("window"), window)
    });
    let stun = hits::stun(check, base, parry.stun);
    ParryPlan {
        window,
        through: share(check, base.key("through"), parry.through),
        cost: parry
            .cost
            .map_or(Amount::ZERO, |cost| check.amount(base.key("cost"), cost)),
        stun,
        push: parry
            .push
            .map(|push| hits::push(check, &base.key("push"), &push, stun)),
    }
}

/// A share in whole thousandths, from 0 to 1.
fn share(check: &mut Checker, path: Path, share: Option<f64>) -> Amount {
    let share = check.number(path.clone(), share.unwrap_or(0.0), &limits::SHARE);
    check.amount(path, share)
}
