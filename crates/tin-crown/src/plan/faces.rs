//! What turns actors that rotate, resolved.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::checker::Checker;
use super::drives::Target;
use super::scope::Scope;
use crate::encounter::{Faces, Kind, Turns, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Angle, Facing};
use crate::limits;
use crate::time::Ticks;

/// What turns an actor.
#[derive(Clone, Copy, Debug, Eq, Getters, PartialEq, Serialize)]
pub struct FacesPlan {
    /// What it turns toward.
    #[getters(copy)]
    pub(crate) aim: FaceAim,
    /// The most it turns in a tick, in 2^32ths of a turn; at once when absent.
    pub(crate) most: Option<u32>,
}

/// What an actor turns toward.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum FaceAim {
    /// The way it moves.
    Motion,
    /// Nothing.
    Keeps,
    /// That way.
    To(Angle),
    /// An actor.
    Toward(Target),
    /// It turns so much in each tick, in 2^32ths of a turn, at most half a turn.
    Spin(i64),
}

impl FacesPlan {
    /// It turns the way it moves, at once.
    pub(crate) const MOTION: FacesPlan = FacesPlan {
        aim: FaceAim::Motion,
        most: None,
    };

    /// Whether it turns the way it moves, at once.
    pub(crate) fn is_motion(&self) -> bool {
        *self == FacesPlan::MOTION
    }
}

/// So many degrees a second as a part of a turn in a tick, in 2^32ths, rounded half up from the decimal
/// number.
pub(super) fn per_tick(degrees: f64, rate: u32) -> u32 {
    let text = degrees.abs().to_string();
    let (whole, decimals) = text.split_once('.').unwrap_or((&text, ""));
    let digits = whole.bytes().chain(decimals.bytes());
    let number = digits.fold(0u128, |number, digit| {
        number.saturating_mul(10) + u128::from(digit - b'0')
    });
    let scale = 10u128.saturating_pow(decimals.len() as u32);
    let parts = number.saturating_mul(1 << 32);
    let all = scale.saturating_mul(360 * u128::from(rate));
    let rounded = (parts.saturating_mul(2) + all) / all.saturating_mul(2);
    u32::try_from(rounded).unwrap_or(u32::MAX)
}

/// What turns by itself, as a part of a turn in a tick. More than half a turn is too fast to say which way it goes.
pub(super) fn turn_of(check: &mut Checker, path: Path, degrees: f64) -> u32 {
    let by = per_tick(degrees, check.rate);
    if by > Angle::HALF.parts() {
        let (rate, most) = (Ticks(check.rate).in_words(), 180.0 * f64::from(check.rate));
        let message = format!("{degrees} degrees per second is more than half a turn per tick");
        let help = format!("at {rate} per second, at most {most} degrees per second");
        check.report(Finding::new(Code::OutOfRange, path, message).help(help));
    }
    by.min(Angle::HALF.parts())
}

/// A facing as the simulator has it, with angles from +x toward +y; or of such a one as it is written, with angles
/// that are positive toward up.
pub(crate) fn facing(facing: Facing, up: Up) -> Facing {
    match facing {
        Facing::Angle(angle) if up.sign() < 0.0 => Facing::Angle(angle.mirrored()),
        facing => facing,
    }
}

impl Facing {
    /// The same for a kind that rotates, or that does not.
    pub(crate) fn of_kind(self, rotates: bool) -> Facing {
        match (self, rotates) {
            (Facing::Right, true) => Facing::Angle(Angle::ZERO),
            (Facing::Left, true) => Facing::Angle(Angle::HALF),
            (Facing::Angle(_), false) if self.sign() < 0.0 => Facing::Left,
            (Facing::Angle(_), false) => Facing::Right,
            (facing, _) => facing,
        }
    }
}

/// Whether a kind rotates.
pub(super) fn rotates(kind: &Kind) -> bool {
    kind.turns == Some(Turns::Rotates)
}

/// Whether a kind rotates, and what turns it.
pub(super) fn of_kind(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    scope: &Scope<'_>,
) -> (bool, FacesPlan) {
    let faces = kind.faces.as_ref();
    let faces = faces.and_then(|own| resolve(check, &base.key("faces"), own, kind, scope));
    (rotates(kind), faces.unwrap_or(FacesPlan::MOTION))
}

/// What turns an actor of a kind, or in a state of it.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    faces: &Faces,
    kind: &Kind,
    scope: &Scope<'_>,
) -> Option<FacesPlan> {
    if !rotates(kind) {
        check.report(
            Finding::new(
                Code::NoEffect,
                base.clone(),
                "`faces` has no effect on a kind that mirrors",
            )
            .at_key()
            .help("add turns = \"rotates\" to the kind"),
        );
        return None;
    }
    if kind.walk.as_ref().is_some_and(|walk| walk.turn.is_some()) {
        check.report(
            Finding::new(
                Code::Contradiction,
                base.clone(),
                "`walk.turn` and `faces` cannot be used together",
            )
            .at_key()
            .help("remove `faces`, or `turn` of the walk"),
        );
    }
    let turn = faces.turn.map(|turn| {
        let turn = check.number(base.key("turn"), turn, &limits::TURN);
        per_tick(turn, check.rate)
    });
    let spin = faces.spin.map(|spin| {
        let spin = check.number(base.key("spin"), spin, &limits::SPIN);
        let by = i64::from(turn_of(check, base.key("spin"), spin));
        if spin * scope.up.sign() < 0.0 {
            -by
        } else {
            by
        }
    });
    let toward = faces
        .toward
        .as_ref()
        .and_then(|text| scope.target(check, &base.key("toward"), text));
    let aim = match (faces.to, toward, spin) {
        (Some(to), ..) => match facing(to, scope.up).of_kind(true) {
            Facing::Angle(angle) => FaceAim::To(angle),
            _ => FaceAim::Keeps,
        },
        (_, Some(target), _) => FaceAim::Toward(target),
        (.., Some(by)) => FaceAim::Spin(by),
        _ if faces.keeps == Some(true) => FaceAim::Keeps,
        _ => FaceAim::Motion,
    };
    Some(FacesPlan { aim, most: turn })
}
