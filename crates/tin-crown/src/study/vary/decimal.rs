//! Decimal numbers as they are written, so that steps of a tenth are tenths.

use std::fmt;

/// A number of at most twelve digits before the point and six after it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Decimal(i64);

/// The decimals of the finest.
pub(super) const FINE: u32 = 6;
const PLACES: usize = FINE as usize;
const ONE: i64 = 1_000_000;

impl Decimal {
    /// Reads a plain decimal number.
    pub fn read(text: &str) -> Option<Decimal> {
        let (negative, digits) = match text.strip_prefix('-') {
            Some(rest) => (true, rest),
            None => (false, text),
        };
        let (whole, part) = digits.split_once('.').unwrap_or((digits, ""));
        let plain = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
        let point = digits.contains('.');
        if whole.is_empty() || whole.len() > 12 || part.len() > PLACES || point == part.is_empty() {
            return None;
        }
        if !plain(whole) || !plain(part) {
            return None;
        }
        let all: i64 = format!("{whole}{part:0<PLACES$}").parse().ok()?;
        Some(Decimal(if negative { -all } else { all }))
    }

    /// The nearest decimal of so many significant digits.
    pub fn near(number: f64, digits: i32) -> Decimal {
        if number == 0.0 || !number.is_finite() {
            return Decimal(0);
        }
        let size = libm::floor(libm::log10(number.abs())) as i32;
        let places = (digits - 1 - size).clamp(0, PLACES as i32);
        let scale = 10_i64.pow(places as u32);
        let rounded = libm::round(number * scale as f64) as i64;
        Decimal(rounded.saturating_mul(ONE / scale))
    }

    pub fn as_f64(self) -> f64 {
        self.0 as f64 / ONE as f64
    }

    /// The nearest number of so many decimals.
    pub fn rounded_to(self, places: u32) -> Decimal {
        let grain = 10_i64.pow(FINE.saturating_sub(places));
        let half = grain / 2 * self.0.signum();
        Decimal((self.0 + half) / grain * grain)
    }

    pub fn is_positive(self) -> bool {
        self.0 > 0
    }

    /// This, and a step so many times.
    pub fn stepped(self, step: Decimal, times: u64) -> Decimal {
        let way = i128::from(step.0) * i128::from(times);
        Decimal((i128::from(self.0) + way) as i64)
    }

    /// How many steps lead from here to another, the beginning counted.
    pub fn steps_to(self, to: Decimal, step: Decimal) -> u64 {
        let way = i128::from(to.0) - i128::from(self.0);
        (way / i128::from(step.0)) as u64 + 1
    }

    /// So much of the way from here to another.
    pub fn toward(self, to: Decimal, share: f64) -> Decimal {
        let way = (to.0 - self.0) as f64;
        // Five digits of the whole way are fine enough, and short to read.
        let mut grain = 1_i64;
        while (way.abs() / grain as f64) >= 1e6 {
            grain *= 10;
        }
        let steps = libm::round(way * share / grain as f64) as i64;
        Decimal(self.0 + steps * grain)
    }
}

impl fmt::Display for Decimal {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let sign = if self.0 < 0 { "-" } else { "" };
        let all = self.0.unsigned_abs();
        let (whole, part) = (all / ONE as u64, all % ONE as u64);
        let part = format!("{part:0>PLACES$}");
        match part.trim_end_matches('0') {
            "" => write!(f, "{sign}{whole}"),
            part => write!(f, "{sign}{whole}.{part}"),
        }
    }
}
