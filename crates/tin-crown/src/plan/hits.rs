//! What a hit does, resolved.

use serde::{Deserialize, Serialize};
use tin_crown_derive::Getters;

use super::HEALTH;
use super::checker::Checker;
use super::index::{MeterIx, SortIx};
use super::names::Names;
use crate::amount::Amount;
use crate::encounter::{Damage, Effect, Freeze, Push};
use crate::finding::{Code, Finding, Path};
use crate::geometry::TOUCH;
use crate::limits;
use crate::time::{Duration, Ticks};

/// What a hit does to one party.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct EffectPlan {
    /// What it takes from meters.
    pub(crate) damage: Option<DamagePlan>,
    /// What it gives to meters.
    pub(crate) heal: Option<DamagePlan>,
    /// Whether it kills outright.
    pub(crate) kill: bool,
    /// How it throws the party.
    #[getters(copy)]
    pub(crate) knockback: Option<PushPlan>,
    /// How long it stuns the party.
    pub(crate) stun: Ticks,
    /// Which meters it freezes, and for how long.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub(crate) freeze: Vec<(MeterIx, Ticks)>,
}

/// What a hit takes from meters or gives to them.
#[derive(Clone, Debug, Getters, PartialEq, Serialize, Deserialize)]
pub struct DamagePlan {
    /// How much.
    pub(crate) amount: Amount,
    /// Which meters, one after the other.
    pub(crate) meters: Vec<MeterIx>,
    /// Whether what one of them could not give goes on to the next.
    pub(crate) overflow: bool,
    /// Of what type.
    pub(crate) sort: Option<SortIx>,
    /// How much more with each hit of the chain before this one.
    pub(crate) chain_add: Amount,
    /// Its least and most in a chain.
    pub(crate) chain_bounds: (Amount, Amount),
    /// How much up to which distance, nearest first, instead of `amount`.
    pub(crate) bands: Vec<(f64, Amount)>,
}

/// Velocity components that a hit sets, in units a second.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize, Deserialize)]
pub struct PushPlan {
    /// Away from the other party.
    pub(crate) away: Option<f64>,
    /// Upward.
    pub(crate) up: Option<f64>,
    /// The way the pushed one faces.
    pub(crate) forward: Option<f64>,
    /// On the line from the other's centre.
    pub(crate) along: Option<f64>,
    /// How long the pushed one's own motion does not drive it.
    pub(crate) length: Ticks,
}

/// Knockback takes the reins for so long unless it says otherwise.
const KNOCKED: Duration = Duration::millis(200);

impl EffectPlan {
    /// Whether it does anything.
    pub(super) fn is_any(&self) -> bool {
        self.harms() || self.heal.is_some()
    }

    /// Whether it does anything but give.
    pub(super) fn harms(&self) -> bool {
        let moves = self.knockback.is_some() || self.stun > Ticks(0);
        self.damage.is_some() || self.kill || moves || !self.freeze.is_empty()
    }
}

impl DamagePlan {
    /// How much, with so many hits of the chain before, at that distance.
    pub(crate) fn after(&self, chain: u32, distance: impl Fn() -> f64) -> Amount {
        if !self.bands.is_empty() {
            let far = distance();
            let band = self.bands.iter().find(|(to, _)| far <= to + TOUCH);
            return band.map_or(Amount::ZERO, |(_, amount)| *amount);
        }
        let (least, most) = self.chain_bounds;
        let add = self
            .chain_add
            .in_thousandths()
            .saturating_mul(i64::from(chain));
        let amount = Amount::thousandths(self.amount.in_thousandths().saturating_add(add));
        amount.max(least).min(most)
    }
}

pub(super) fn effect(
    check: &mut Checker,
    base: &Path,
    effect: &Effect,
    names: &Names,
) -> EffectPlan {
    let stun = stun(check, base, effect.stun);
    let mut meters = |key: &'static str, damage: &Option<Damage>| {
        damage
            .as_ref()
            .map(|damage| self::damage(check, &base.key(key), damage, names))
    };
    let (damage, heal) = (
        meters("damage", &effect.damage),
        meters("heal", &effect.heal),
    );
    let knocked = KNOCKED.ticks(check.rate).max(stun);
    EffectPlan {
        damage,
        heal,
        kill: effect.kill,
        knockback: effect
            .knockback
            .map(|knockback| push(check, &base.key("knockback"), &knockback, knocked)),
        stun,
        freeze: frozen(check, &base.key("freeze"), effect.freeze.as_ref(), names),
    }
}

/// The meters that an effect freezes.
fn frozen(
    check: &mut Checker,
    base: &Path,
    freeze: Option<&Freeze>,
    names: &Names,
) -> Vec<(MeterIx, Ticks)> {
    let Some(Freeze { meters, length }) = freeze else {
        return Vec::new();
    };
    let ticks = check.duration(base.key("for"), *length);
    if ticks == Ticks(0) || meters.is_empty() {
        let message = "this freezes nothing";
        check.report(Finding::new(Code::NoEffect, base.clone(), message).at_key());
    }
    let meters = meters.iter().enumerate();
    meters
        .filter_map(|(nth, name)| {
            check.find(base.key("meters").index(nth), "meter", name, &names.meters)
        })
        .map(|meter| (meter, ticks))
        .collect()
}

/// A stun in ticks, with a note when it is of one tick, which eats no input at all.
pub(super) fn stun(check: &mut Checker, base: &Path, length: Option<Duration>) -> Ticks {
    let Some(length) = length else {
        return Ticks(0);
    };
    let path = base.key("stun");
    let ticks = check.duration(path.clone(), length);
    if ticks == Ticks(1) {
        let message = "a stun of 1t blocks no input: it is over when the next tick begins";
        check.report(Finding::new(Code::ShortStun, path, message).help("write at least \"2t\""));
    }
    ticks
}

fn damage(check: &mut Checker, base: &Path, damage: &Damage, names: &Names) -> DamagePlan {
    let path = base.key("meters");
    let mut meters = Vec::new();
    for (nth, name) in damage.meters.iter().enumerate() {
        if damage.meters == [HEALTH] && names.meters.find(HEALTH).is_none() {
            no_health(check, path.index(nth), names);
            continue;
        }
        let Some(meter) = check.find(path.index(nth), "meter", name, &names.meters) else {
            continue;
        };
        if meters.contains(&meter) {
            let message = format!("`{name}` is named twice");
            check.report(Finding::new(Code::Duplicate, path.index(nth), message));
        }
        meters.push(meter);
    }
    // A damage that is but a number is found there all the same.
    let amount = check.amount(base.key("amount"), damage.amount.unwrap_or_default());
    let mut bound = |key: &'static str, value: Option<f64>| {
        value.map(|value| check.amount(base.key(key), value))
    };
    let least = bound("chain_least", damage.chain_least).unwrap_or(Amount::ZERO);
    let most = bound("chain_most", damage.chain_most).unwrap_or(Amount::whole(1_000_000_000));
    let chain_add = damage.chain_add.map_or(Amount::ZERO, |add| {
        let size = check.amount(base.key("chain_add"), add.abs());
        if add < 0.0 { -size } else { size }
    });
    if damage.chain_add.is_none() && (damage.chain_least.is_some() || damage.chain_most.is_some()) {
        let message = "`chain_least` and `chain_most` need `chain_add`";
        check.report(Finding::new(Code::NoEffect, base.clone(), message));
    }
    if damage.overflow.is_some() && damage.meters.len() < 2 {
        let message = "`overflow` needs more than one meter";
        check.report(Finding::new(Code::NoEffect, base.key("overflow"), message));
    }
    let bands = bands(check, base, damage);
    let sort = damage.sort.as_ref().and_then(|sort| {
        check.name(base.key("type"), sort, "a type of damage");
        names.sorts.find(sort)
    });
    DamagePlan {
        amount,
        meters,
        overflow: damage.overflow.unwrap_or(true),
        sort,
        chain_add,
        chain_bounds: if damage.chain_add.is_some() {
            (least, most)
        } else {
            (amount, amount)
        },
        bands,
    }
}

/// Reports, once, that rules speak of health and nobody has any.
fn no_health(check: &mut Checker, path: Path, names: &Names) {
    let message =
        "no kind has a meter `health`: damage goes there by default, and only `health` kills";
    let mut known = check.findings.iter();
    if known.any(|finding| finding.message == message) {
        return;
    }
    let finding = Finding::new(Code::UnknownName, path, message).missing(HEALTH);
    check.report(match names.meters.iter().next() {
        None => finding.help("give an actor one: meter.health = { max = 3 }"),
        Some(name) => finding.help(format!(
            "rename `{name}`, or name the meter: damage = {{ amount = 1, meters = [\"{name}\"] }}"
        )),
    });
}

/// Damage by distance, nearest first.
fn bands(check: &mut Checker, base: &Path, damage: &Damage) -> Vec<(f64, Amount)> {
    let mut bands: Vec<(f64, Amount)> = Vec::new();
    let Some(written) = &damage.bands else {
        return bands;
    };
    let base = base.key("bands");
    if written.is_empty() {
        let message = "`bands` is empty: it takes [distance, amount], nearest first";
        check.report(Finding::new(Code::NoEffect, base.clone(), message));
    }
    if damage.amount.is_some() {
        let message = "`amount` and `bands` cannot be used together";
        check.report(Finding::new(Code::Contradiction, base.clone(), message).at_key());
    }
    if damage.chain_add.is_some() {
        let message = "`bands` and `chain_add` cannot be used together";
        check.report(Finding::new(Code::Contradiction, base.clone(), message));
    }
    for (nth, [to, amount]) in written.iter().enumerate() {
        let path = base.index(nth);
        let to = check.number(path.index(0), *to, &limits::LENGTH);
        if bands.last().is_some_and(|(last, _)| *last >= to) {
            let message = "each band must end further out than the one before";
            check.report(Finding::new(Code::Contradiction, path.index(0), message));
        }
        bands.push((to, check.amount(path.index(1), *amount)));
    }
    bands
}

/// A push, which holds the reins for `length` unless it says otherwise.
pub(super) fn push(check: &mut Checker, path: &Path, push: &Push, length: Ticks) -> PushPlan {
    let mut number = |key: &'static str, value: Option<f64>| {
        value.map(|value| check.number(path.key(key), value, &limits::VELOCITY))
    };
    let (away, up) = (number("away", push.away), number("up", push.up));
    let (forward, along) = (number("forward", push.forward), number("along", push.along));
    let sideways = [away, forward, along].iter().flatten().count();
    if sideways > 1 {
        check.report(Finding::new(
            Code::Contradiction,
            path.clone(),
            "only one of `away`, `forward` and `along` may be used",
        ));
    }
    PushPlan {
        away,
        up,
        forward,
        along,
        length: match push.length {
            Some(length) => check.duration(path.key("for"), length),
            None => length,
        },
    }
}
