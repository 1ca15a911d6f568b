//! Resolved meters: what they hold, what comes back by itself, and how they are filled again.

use serde::{Serialize, Serializer};
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::index::{ButtonIx, CueIx, MeterIx};
use super::scope::Scope;
use super::select::Group;
use crate::amount::Amount;
use crate::encounter::{Breaks, Kind, RegenSpec, ReloadSpec, Restart};
use crate::finding::{Code, Finding, Path};
use crate::time::Ticks;

/// A resolved meter.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct MeterPlan {
    /// Its name.
    pub(crate) name: MeterIx,
    /// The most it holds.
    pub(crate) max: Amount,
    /// What it holds at the start.
    pub(crate) start: Amount,
    /// What comes back by itself.
    pub(crate) regen: Option<RegenPlan>,
    /// How it is filled again.
    pub(crate) reload: Option<ReloadPlan>,
}

/// What comes back by itself.
#[derive(Clone, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct RegenPlan {
    /// How long after the last loss the first payment comes; when absent losses do not matter.
    pub(crate) delay: Option<Ticks>,
    /// From one payment to the next.
    pub(crate) every: Ticks,
    /// How much each pays.
    pub(crate) amount: Amount,
    /// Up to how much.
    pub(crate) up_to: Amount,
    /// What restarts the delay.
    #[getters(copy)]
    #[serde(rename = "after_attempts", serialize_with = "restarted_by")]
    pub(crate) restarted_by: Restart,
    /// Bits of the states in which it waits.
    pub(crate) paused_in: u128,
    /// It waits while a hitbox of one of these touches its owner.
    pub(crate) paused_by: Vec<Group>,
}

/// Only a loss is `false`, as it was when this was the one choice there is: no digest changes.
fn restarted_by<S: Serializer>(restart: &Restart, serializer: S) -> Result<S::Ok, S::Error> {
    match restart {
        Restart::Loss => serializer.serialize_bool(false),
        restart => serializer.serialize_str(restart.as_str()),
    }
}

/// How a meter is filled again.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct ReloadPlan {
    /// The meter that it is filled from; endless when absent.
    pub(crate) from: Option<MeterIx>,
    /// The button that begins it.
    pub(crate) button: Option<ButtonIx>,
    /// Whether it begins by itself when the meter is empty.
    pub(crate) when_empty: bool,
    /// How long it takes.
    pub(crate) takes: Ticks,
    /// How much it fills in at once, and goes on; all at once when absent.
    pub(crate) amount: Option<Amount>,
    /// Whether a hit breaks it off.
    pub(crate) broken_by_hit: bool,
    /// Whether setting off a launcher that the meter pays for does.
    pub(crate) broken_by_shot: bool,
    /// Whether walking does.
    pub(crate) broken_by_move: bool,
    /// What is announced when it is filled.
    pub(crate) cue: Option<CueIx>,
}

pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Vec<MeterPlan> {
    let base = base.key("meter");
    let mut meters = Vec::new();
    for (name, spec) in &kind.meters {
        let path = base.named(name);
        check.name(path.clone(), name, "a meter");
        let Some(max) = spec.max else {
            check.report(
                Finding::new(Code::MissingKey, path, format!("`{name}` has no `max`")).at_key(),
            );
            continue;
        };
        let max = check.amount(path.key("max"), max);
        let start = spec
            .start
            .map_or(max, |start| check.amount(path.key("start"), start));
        if max == Amount::ZERO {
            check.report(
                Finding::new(
                    Code::BadMeter,
                    path.key("max"),
                    format!("`{name}` holds nothing: `max` is 0"),
                )
                .help("give it a `max` above 0"),
            );
        } else if start > max {
            let message = format!("`{name}` starts with {start} but holds at most {max}");
            check.report(Finding::new(Code::BadMeter, path.key("start"), message));
        } else if name == super::HEALTH && start == Amount::ZERO {
            check.report(
                Finding::new(
                    Code::BadMeter,
                    path.key("start"),
                    "an actor that starts without health is dead before the drill begins",
                )
                .help("remove `start`, or make it above 0"),
            );
        }
        let regen = spec
            .regen
            .as_ref()
            .map(|regen| self::regen(check, &path.key("regen"), regen, max, kind, scope));
        let reload = spec
            .reload
            .as_ref()
            .map(|reload| self::reload(check, &path.key("reload"), name, reload, kind, scope));
        meters.push(MeterPlan {
            name: scope.names.meters.place(name),
            max,
            start,
            regen,
            reload,
        });
    }
    meters
}

fn regen(
    check: &mut Checker,
    base: &Path,
    regen: &RegenSpec,
    max: Amount,
    kind: &Kind,
    scope: &Scope<'_>,
) -> RegenPlan {
    let every = match regen.every {
        Some(every) => check.duration(base.key("every"), every),
        None => {
            let message = "`regen` needs `every`";
            check.report(
                Finding::new(Code::MissingKey, base.clone(), message)
                    .at_key()
                    .help("for example: regen = { every = \"1s\", amount = 1 }"),
            );
            Ticks(1)
        }
    };
    if every == Ticks(0) {
        let message = "`every` must be above zero";
        check.report(Finding::new(Code::OutOfRange, base.key("every"), message));
    }
    let amount = regen.amount.map_or(Amount::whole(1), |amount| {
        check.amount(base.key("amount"), amount)
    });
    if amount == Amount::ZERO {
        let message = "`amount` is 0: nothing is paid";
        check.report(Finding::new(Code::NoEffect, base.key("amount"), message));
    }
    let up_to = regen
        .up_to
        .map_or(max, |up_to| check.amount(base.key("up_to"), up_to));
    if up_to > max {
        let message = format!("the meter holds at most {max}");
        check.report(Finding::new(Code::NoEffect, base.key("up_to"), message));
    }
    let mut paused_in = 0;
    for (nth, name) in regen.paused_in.iter().flatten().enumerate() {
        match kind.states.keys().position(|known| known == name) {
            Some(place) => paused_in |= 1u128 << place.min(127),
            None => {
                let known = kind.states.keys().map(String::as_str);
                let path = base.key("paused_in").index(nth);
                check.unknown(path, "state of this kind", name, known);
            }
        }
    }
    let mut paused_by = Vec::new();
    for (nth, text) in regen.paused_by.iter().flatten().enumerate() {
        paused_by.extend(scope.group(check, &base.key("paused_by").index(nth), text));
    }
    let restarted_by = regen.restarted_by.unwrap_or_default();
    if restarted_by != Restart::Loss && regen.delay.is_none() {
        let message = "`restarted_by` needs a `delay`";
        let path = base.key("restarted_by");
        check.report(Finding::new(Code::NoEffect, path, message));
    }
    RegenPlan {
        up_to: up_to.min(max),
        restarted_by,
        paused_in,
        paused_by,
        delay: regen
            .delay
            .map(|delay| check.duration(base.key("delay"), delay)),
        every: every.max(Ticks(1)),
        amount,
    }
}

fn reload(
    check: &mut Checker,
    base: &Path,
    own: &str,
    reload: &ReloadSpec,
    kind: &Kind,
    scope: &Scope<'_>,
) -> ReloadPlan {
    let from = reload.from.as_ref().and_then(|from| {
        let path = base.key("from");
        if from == own {
            let message = format!("`{own}` cannot be filled from itself");
            check.report(Finding::new(Code::Contradiction, path.clone(), message));
        }
        scope.own_meter(check, path, from, kind)
    });
    if reload.button.is_none() && reload.when_empty != Some(true) {
        let message = "nothing starts this reload";
        check.report(
            Finding::new(Code::MissingKey, base.clone(), message)
                .at_key()
                .help("give it a `button`, or `when_empty = true`"),
        );
    }
    let takes = reload
        .takes
        .map_or(Ticks(0), |takes| check.duration(base.key("takes"), takes));
    let amount = reload
        .amount
        .map(|amount| check.amount(base.key("amount"), amount));
    if amount == Some(Amount::ZERO) {
        let message = "`amount` is 0: nothing is filled in";
        check.report(Finding::new(Code::NoEffect, base.key("amount"), message));
    }
    let breaks = |what| {
        let default = [Breaks::Hit];
        let all = reload.broken_by.as_deref().unwrap_or(&default);
        all.contains(&what)
    };
    ReloadPlan {
        from,
        button: reload
            .button
            .as_deref()
            .map(|button| scope.button(check, base.key("button"), button)),
        when_empty: reload.when_empty.unwrap_or(false),
        takes,
        amount,
        broken_by_hit: breaks(Breaks::Hit),
        broken_by_shot: breaks(Breaks::Shot),
        broken_by_move: breaks(Breaks::Move),
        cue: scope.cue(check, base.key("cue"), reload.cue.as_deref()),
    }
}
