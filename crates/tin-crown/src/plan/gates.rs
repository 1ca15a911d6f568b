//! Resolved gates, in the one order in which they are tried.

use serde::Serialize;

use super::checker::Checker;
use super::index::{AttackNameIx, MeterIx, StateNameIx, TagIx};
use super::pairing::World;
use super::portion::PortionPlan;
use crate::encounter::{Approach, Gate, Looking, Party, PartyGate, Phase, Portion};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Arc;
use crate::limits;

/// Something that must be so at the moment of touch.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub enum GatePlan {
    /// The hitbox's lowest point starts the tick at most so far below the hurtbox's top.
    Above {
        /// In units.
        margin: f64,
    },
    /// Who comes down relative to whom.
    ComingDown,
    /// The hitbox's highest point starts the tick at most so far above the hurtbox's bottom.
    Below {
        /// In units.
        margin: f64,
    },
    /// Who comes up relative to whom.
    ComingUp,
    /// Who is on that side of whom.
    Side(SideOf),
    /// Who is seen from whom in that direction.
    Angle {
        /// As written, in degrees.
        degrees: [f64; 2],
        /// The same, with y upward.
        arc: Arc,
    },
    /// Who goes down at least so fast, in units a second.
    Falling(f64),
    /// Who comes toward whom at least so fast.
    Closing {
        /// In units a second.
        speed: f64,
        /// Upward instead of downward.
        upward: bool,
    },
    /// No solid stands between the two positions.
    LineOfSight,
    /// Something of one party.
    Party(Party, Ask),
}

/// One of four sides.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum SideOf {
    /// Where whom looks.
    Front,
    /// Where whom does not look.
    Behind,
    /// Left of whom.
    Left,
    /// Right of whom.
    Right,
}

/// Something asked of one party.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum Ask {
    /// Which way it faces.
    Facing(Looking),
    /// Whether it stands on something.
    Grounded(bool),
    /// That it is in this attack.
    Attack(AttackNameIx),
    /// That it is in this phase of an attack.
    Phase(Phase),
    /// That it is in this state.
    State(StateNameIx),
    /// Whether its guard is up.
    Guarding(bool),
    /// Whether it is stunned.
    Stunned(bool),
    /// That its meter holds at least so much.
    AtLeast(MeterIx, PortionPlan),
    /// That its meter holds at most so much.
    AtMost(MeterIx, PortionPlan),
    /// Whether it carries a tag.
    Tag(TagIx, bool),
}

impl GatePlan {
    /// As in the ledger.
    pub fn name(&self) -> &'static str {
        match self {
            GatePlan::Above { .. } => "above",
            GatePlan::ComingDown => "coming-down",
            GatePlan::Below { .. } => "below",
            GatePlan::ComingUp => "coming-up",
            GatePlan::Side(SideOf::Front) => "front",
            GatePlan::Side(SideOf::Behind) => "behind",
            GatePlan::Side(SideOf::Left) => "left",
            GatePlan::Side(SideOf::Right) => "right",
            GatePlan::Angle { .. } => "angle",
            GatePlan::Falling(_) => "falling",
            GatePlan::Closing { .. } => "closing",
            GatePlan::LineOfSight => "line-of-sight",
            GatePlan::Party(Party::Who, ask) => match ask {
                Ask::Facing(_) => "who.facing",
                Ask::Grounded(_) => "who.grounded",
                Ask::Attack(_) => "who.attack",
                Ask::Phase(_) => "who.phase",
                Ask::State(_) => "who.state",
                Ask::Guarding(_) => "who.guarding",
                Ask::Stunned(_) => "who.stunned",
                Ask::AtLeast(..) | Ask::AtMost(..) => "who.meter",
                Ask::Tag(..) => "who.tag",
            },
            GatePlan::Party(Party::Whom, ask) => match ask {
                Ask::Facing(_) => "whom.facing",
                Ask::Grounded(_) => "whom.grounded",
                Ask::Attack(_) => "whom.attack",
                Ask::Phase(_) => "whom.phase",
                Ask::State(_) => "whom.state",
                Ask::Guarding(_) => "whom.guarding",
                Ask::Stunned(_) => "whom.stunned",
                Ask::AtLeast(..) | Ask::AtMost(..) => "whom.meter",
                Ask::Tag(..) => "whom.tag",
            },
        }
    }
}

/// The gates of a rule: from where, how fast, then what of who and of whom.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    gate: &Gate,
    world: &World<'_>,
) -> Vec<GatePlan> {
    let mut gates = Vec::new();
    let margin = gate.margin.map_or(0.0, |margin| {
        check.number(base.key("margin"), margin, &limits::COORDINATE)
    });
    match gate.from {
        None => {}
        Some(Approach::Above) => gates.extend([GatePlan::Above { margin }, GatePlan::ComingDown]),
        Some(Approach::Below) => gates.extend([GatePlan::Below { margin }, GatePlan::ComingUp]),
        Some(Approach::Front) => gates.push(GatePlan::Side(SideOf::Front)),
        Some(Approach::Behind) => gates.push(GatePlan::Side(SideOf::Behind)),
        Some(Approach::Left) => gates.push(GatePlan::Side(SideOf::Left)),
        Some(Approach::Right) => gates.push(GatePlan::Side(SideOf::Right)),
        Some(Approach::Angle(degrees)) => {
            let degrees = angles(check, &base.key("from").key("angle"), degrees);
            let arc = Arc::new(degrees);
            gates.push(GatePlan::Angle { degrees, arc });
        }
    }
    let vertical = matches!(gate.from, Some(Approach::Above | Approach::Below));
    if gate.margin.is_some() && !vertical {
        let message = "`margin` needs `from = \"above\"` or `\"below\"`";
        check.report(Finding::new(Code::NoEffect, base.key("margin"), message));
    }
    if let Some(speed) = gate.falling_at_least {
        let speed = check.number(base.key("falling_at_least"), speed, &limits::SPEED);
        gates.push(GatePlan::Falling(speed));
    }
    if let Some(speed) = gate.closing_at_least {
        gates.push(GatePlan::Closing {
            speed: check.number(base.key("closing_at_least"), speed, &limits::SPEED),
            upward: gate.from == Some(Approach::Below),
        });
    }
    if gate.line_of_sight == Some(true) {
        gates.push(GatePlan::LineOfSight);
    }
    for (party, key, asked) in [
        (Party::Who, "who", &gate.who),
        (Party::Whom, "whom", &gate.whom),
    ] {
        let asks = asks(check, &base.key(key), asked, world);
        gates.extend(asks.into_iter().map(|ask| GatePlan::Party(party, ask)));
    }
    gates
}

fn asks(check: &mut Checker, base: &Path, gate: &PartyGate, world: &World<'_>) -> Vec<Ask> {
    let (scope, names) = (world.scope, world.scope.names);
    let mut asks = Vec::new();
    asks.extend(gate.facing.map(Ask::Facing));
    let grounded = gate.grounded.or(gate.airborne.map(|airborne| !airborne));
    asks.extend(grounded.map(Ask::Grounded));
    if let Some(name) = &gate.attack {
        let found = scope.find(check, base.key("attack"), "attack", name, &names.attacks);
        asks.extend(found.map(Ask::Attack));
    }
    asks.extend(gate.phase.map(Ask::Phase));
    if let Some(name) = &gate.state {
        let found = scope.find(check, base.key("state"), "state", name, &names.states);
        asks.extend(found.map(Ask::State));
    }
    asks.extend(gate.guarding.map(Ask::Guarding));
    asks.extend(gate.stunned.map(Ask::Stunned));
    for (name, level) in &gate.meters {
        let path = base.key("meter").named(name);
        let Some(meter) = world.meter(check, path.clone(), name) else {
            continue;
        };
        let mut portion =
            |key, level: Option<Portion>| level.map(|level| check.portion(path.key(key), level));
        let least = portion("at_least", level.at_least);
        let most = portion("at_most", level.at_most);
        if least.is_none() && most.is_none() {
            let message = "this condition on the meter is empty";
            check.report(
                Finding::new(Code::NoEffect, path, message).help("give it `at_least` or `at_most`"),
            );
        }
        asks.extend(least.map(|least| Ask::AtLeast(meter, least)));
        asks.extend(most.map(|most| Ask::AtMost(meter, most)));
    }
    for (key, tags, carried) in [
        ("tags", &gate.tags, true),
        ("without", &gate.without, false),
    ] {
        for (nth, tag) in tags.iter().enumerate() {
            let tag = tag.strip_prefix('#').unwrap_or(tag);
            let path = base.key(key).index(nth);
            let found = scope.find(check, path, "tag", tag, &names.tags);
            asks.extend(found.map(|tag| Ask::Tag(tag, carried)));
        }
    }
    asks
}

/// Two angles, the first not beyond the second.
pub(super) fn angles(check: &mut Checker, path: &Path, degrees: [f64; 2]) -> [f64; 2] {
    let [from, to] = check.pair(path, degrees, &limits::ANGLE);
    if from < to {
        return [from, to];
    }
    let message = format!("the range from {from} to {to} degrees is empty");
    check.report(
        Finding::new(Code::OutOfRange, path.clone(), message)
            .help("write the smaller angle first, as in [-45, 45]"),
    );
    [from, from + 360.0]
}
