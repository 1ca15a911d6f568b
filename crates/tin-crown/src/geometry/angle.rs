//! Angles, and what they turn.

use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use super::Vec2;

/// An angle: a whole number of 2³² a turn, from +x toward +y.
///
/// Geometry knows it to a 4096th of a turn, rounded half to even.
///
/// ```
/// use tin_crown::geometry::Angle;
///
/// assert_eq!(Angle::from_degrees(-90.0), Angle::from_degrees(270.0));
/// assert_eq!(Angle::from_degrees(30.0).steps(), 341);
/// assert_eq!(Angle::from_degrees(30.0).degrees(), 30.0);
/// ```
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
#[serde(transparent)]
pub struct Angle(u32);

/// So many steps of a turn are known to geometry.
const STEPS: u16 = 4096;
/// The bits of an angle below a step.
const FINE: u32 = 20;

impl Angle {
    /// Toward +x.
    pub const ZERO: Angle = Angle(0);
    /// Toward +y.
    pub const QUARTER: Angle = Angle(1 << 30);
    /// Toward -x.
    pub const HALF: Angle = Angle(1 << 31);

    /// So many degrees, rounded half up.
    pub fn from_degrees(degrees: f64) -> Angle {
        let turns = degrees / 360.0;
        let part = turns - libm::floor(turns);
        Angle(libm::floor(part * 4_294_967_296.0 + 0.5) as u64 as u32)
    }

    /// In degrees from 0 up to 360: the shortest decimal number that stands for it.
    pub fn degrees(self) -> f64 {
        let exact = f64::from(self.0) * (360.0 / 4_294_967_296.0);
        let shorter = (0..9).map(|places| {
            let scale = libm::pow(10.0, f64::from(places));
            libm::round(exact * scale) / scale
        });
        let mut fitting = shorter.filter(|degrees| Angle::from_degrees(*degrees) == self);
        fitting.next().unwrap_or(exact)
    }

    /// In 2³²ths of a turn.
    pub(crate) fn parts(self) -> u32 {
        self.0
    }

    /// In degrees, as geometry knows it.
    pub fn known_degrees(self) -> f64 {
        f64::from(self.steps()) * 360.0 / f64::from(STEPS)
    }

    /// In 4096ths of a turn, as geometry knows it.
    pub fn steps(self) -> u16 {
        let (whole, rest) = (self.0 >> FINE, self.0 & ((1 << FINE) - 1));
        let half = 1 << (FINE - 1);
        let up = rest > half || (rest == half && whole % 2 == 1);
        ((whole + u32::from(up)) % u32::from(STEPS)) as u16
    }

    /// How many of those on, toward +y, it is from another.
    pub(crate) fn steps_after(self, other: Angle) -> u16 {
        (STEPS + self.steps() - other.steps()) % STEPS
    }

    /// The angle of a direction of any length but 0.
    pub fn of(direction: Vec2) -> Option<Angle> {
        let (x, y) = (direction.x.abs(), direction.y.abs());
        if x == 0.0 && y == 0.0 {
            return None;
        }
        // In the first eighth of a turn, so that what is turned or mirrored has the angle turned or
        // mirrored.
        let eighth = libm::atan(x.min(y) / x.max(y)) / core::f64::consts::TAU;
        let part = libm::floor(eighth * 4_294_967_296.0 + 0.5) as u32;
        let in_quarter = if y > x { Angle::QUARTER.0 - part } else { part };
        let angle = match (direction.x < 0.0, direction.y < 0.0) {
            (false, false) => in_quarter,
            (true, false) => Angle::HALF.0.wrapping_sub(in_quarter),
            (true, true) => Angle::HALF.0.wrapping_add(in_quarter),
            (false, true) => in_quarter.wrapping_neg(),
        };
        Some(Angle(angle))
    }

    /// The unit vector that way.
    pub fn direction(self) -> Vec2 {
        DIRECTIONS[usize::from(self.steps())]
    }

    /// The other way round from +x.
    #[must_use]
    pub fn mirrored(self) -> Angle {
        Angle(self.0.wrapping_neg())
    }

    /// Turned on by another, either way.
    #[must_use]
    pub fn plus(self, by: i32) -> Angle {
        Angle(self.0.wrapping_add_signed(by))
    }

    /// How far it is to another the shorter way, positive toward +y; half a turn is the least number.
    pub fn to(self, other: Angle) -> i32 {
        other.0.wrapping_sub(self.0) as i32
    }

    /// Turned toward another by at most so much. Half a turn goes by way of up, and from exactly up or
    /// down the way that is positive toward up; `up` is 1 when +y is up, else -1.
    #[must_use]
    pub fn toward(self, aim: Angle, most: u32, up: f64) -> Angle {
        let way = self.to(aim);
        if way.unsigned_abs() <= most {
            return aim;
        }
        let positive = match way {
            i32::MIN => {
                let quarters = [Angle::QUARTER, Angle::QUARTER.mirrored()];
                let rightward = self.0.wrapping_add(Angle::QUARTER.0) < Angle::HALF.0;
                (quarters.contains(&self) || rightward) == (up > 0.0)
            }
            way => way > 0,
        };
        Angle(if positive {
            self.0.wrapping_add(most)
        } else {
            self.0.wrapping_sub(most)
        })
    }
}

/// The unit vector of each step: `libm`'s sine and cosine up to the eighth turn, √½ there, the rest by
/// symmetry.
static DIRECTIONS: LazyLock<[Vec2; STEPS as usize]> = LazyLock::new(|| {
    let eighth = usize::from(STEPS / 8);
    let in_quarter = |step: usize| -> (f64, f64) {
        let at = |step: usize| {
            let angle = core::f64::consts::TAU * (step as f64 / f64::from(STEPS));
            (libm::cos(angle), libm::sin(angle))
        };
        match step {
            0 => (1.0, 0.0),
            step if step < eighth => at(step),
            step if step == eighth => (0.5f64.sqrt(), 0.5f64.sqrt()),
            step => {
                let (cos, sin) = at(2 * eighth - step);
                (sin, cos)
            }
        }
    };
    std::array::from_fn(|step| {
        let (cos, sin) = in_quarter(step % (2 * eighth));
        match step / (2 * eighth) {
            0 => Vec2::new(cos, sin),
            1 => Vec2::new(-sin, cos),
            2 => Vec2::new(-cos, -sin),
            _ => Vec2::new(sin, -cos),
        }
    })
});
