//! Time: ticks, lengths of ticks, and durations as a designer writes them.

use std::cmp::Ordering;
use std::fmt;
use std::ops::{Add, Sub};
use std::str::FromStr;

use serde::{Deserialize, Serialize};

/// A moment: the number of a tick, counted from 0, the encounter as placed.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
#[serde(transparent)]
pub struct Tick(pub u32);

/// A length of time: a number of ticks.
#[derive(
    Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize,
)]
#[serde(transparent)]
pub struct Ticks(pub u32);

impl Tick {
    /// The time of this tick in seconds: tick *n* is at *n* / rate.
    pub fn seconds(self, rate: u32) -> f64 {
        f64::from(self.0) / f64::from(rate)
    }
}

impl Ticks {
    /// How many there are, in words: "1 tick", "30 ticks".
    pub fn in_words(self) -> String {
        match self.0 {
            1 => "1 tick".to_owned(),
            count => format!("{count} ticks"),
        }
    }
}

impl Add<Ticks> for Tick {
    type Output = Tick;
    /// Saturates at the last tick that can be counted.
    fn add(self, length: Ticks) -> Tick {
        Tick(self.0.saturating_add(length.0))
    }
}

impl Sub for Tick {
    type Output = Ticks;
    /// The ticks from `earlier` to `self`; 0 when `earlier` is later.
    fn sub(self, earlier: Tick) -> Ticks {
        Ticks(self.0.saturating_sub(earlier.0))
    }
}

impl fmt::Display for Tick {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

impl fmt::Display for Ticks {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{}t", self.0)
    }
}

/// A length of time as written: `"12t"` (ticks), `"250ms"` or `"1.5s"`.
///
/// The decimal text is kept exactly, so that rounding to ticks never passes through binary
/// fractions.
///
/// ```
/// use tin_crown::{Duration, Ticks};
///
/// let blink: Duration = "250ms".parse()?;
/// assert_eq!(blink.ticks(60), Ticks(15));
/// assert_eq!("0.025s".parse::<Duration>()?.ticks(60), Ticks(2)); // 1.5 ticks, half up
/// assert_eq!("1ms".parse::<Duration>()?.ticks(60), Ticks(1)); // never less than a tick…
/// assert_eq!("0s".parse::<Duration>()?.ticks(60), Ticks(0)); // …unless it is zero
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct Duration {
    /// The digits without the decimal point.
    digits: u64,
    /// How many of the digits stand behind the point, plus 3 for milliseconds.
    scale: u32,
    unit: Unit,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
enum Unit {
    Ticks,
    Millis,
    Seconds,
}

/// Why a text is not a duration.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum DurationError {
    /// The text does not end in a known unit.
    #[error("a duration needs a unit: \"12t\" (ticks), \"250ms\" or \"1.5s\"")]
    Unit,
    /// What stands before the unit is not a plain decimal number.
    #[error("write a plain number before the unit, such as 12, 0.5 or 1.25")]
    Number,
    /// Ticks are whole.
    #[error("ticks are whole: write \"12t\", or use \"ms\" or \"s\"")]
    Fraction,
    /// More digits than any encounter needs.
    #[error("at most 9 digits before the point and 6 after it")]
    Digits,
}

impl Duration {
    /// No time at all.
    pub const ZERO: Duration = Duration::ticked(0);

    /// A whole number of ticks.
    pub const fn ticked(count: u32) -> Duration {
        Duration {
            digits: count as u64,
            scale: 0,
            unit: Unit::Ticks,
        }
    }

    /// A whole number of milliseconds.
    pub const fn millis(count: u32) -> Duration {
        Duration {
            digits: count as u64,
            scale: 3,
            unit: Unit::Millis,
        }
    }

    /// A whole number of seconds.
    pub const fn seconds(count: u32) -> Duration {
        Duration {
            digits: count as u64,
            scale: 0,
            unit: Unit::Seconds,
        }
    }

    /// So many ticks as a person would write them: in seconds, with as few decimals as mean just these ticks at
    /// `rate` ticks a second, up to 3; where none do, in ticks.
    ///
    /// ```
    /// use tin_crown::{Duration, Ticks};
    ///
    /// let written = |ticks| Duration::near(Ticks(ticks), 60).to_string();
    /// assert_eq!(written(90), "1.5s");
    /// assert_eq!(written(43), "0.72s"); // 43.2 ticks
    /// assert_eq!(written(1), "0.017s"); // 1.02 ticks
    /// assert_eq!(Duration::near(Ticks(1), 1000).to_string(), "0.001s");
    /// ```
    pub fn near(ticks: Ticks, rate: u32) -> Duration {
        /// A duration that is rounded by more is worth a note.
        const ROUNDED: f64 = 0.05;
        let (count, rate_wide) = (u64::from(ticks.0), u64::from(rate));
        let mut written = (0..=3).map(|scale| {
            let tenth = 10u64.pow(scale);
            Duration {
                digits: (2 * count * tenth + rate_wide) / (2 * rate_wide),
                scale,
                unit: Unit::Seconds,
            }
        });
        let means = |own: &Duration| own.ticks(rate) == ticks && own.rounding(rate) <= ROUNDED;
        written.find(means).unwrap_or(Duration::ticked(ticks.0))
    }

    /// The length in ticks at `rate` ticks a second: rounded half up, and at least one tick unless
    /// it is zero. Saturates at `u32::MAX`.
    pub fn ticks(self, rate: u32) -> Ticks {
        if self.digits == 0 {
            return Ticks(0);
        }
        let (numerator, denominator) = self.ratio(rate);
        let rounded = (2 * numerator + denominator) / (2 * denominator);
        Ticks(u32::try_from(rounded).unwrap_or(u32::MAX).max(1))
    }

    /// How far rounding to ticks moved this duration, as a share of what was written: 0.05 for 5 %.
    pub fn rounding(self, rate: u32) -> f64 {
        if self.digits == 0 {
            return 0.0;
        }
        let (numerator, denominator) = self.ratio(rate);
        let exact = numerator as f64 / denominator as f64;
        (f64::from(self.ticks(rate).0) - exact).abs() / exact
    }

    /// The exact length in ticks, as a fraction.
    fn ratio(self, rate: u32) -> (u128, u128) {
        let per_second = if self.unit == Unit::Ticks { 1 } else { rate };
        (
            u128::from(self.digits) * u128::from(per_second),
            10u128.pow(self.scale),
        )
    }
}

/// Rounded to the nearest microsecond; at most 999999999 seconds.
///
/// ```
/// use tin_crown::Duration;
///
/// let blink = Duration::from(std::time::Duration::from_millis(250));
/// assert_eq!(blink.to_string(), "0.25s");
/// ```
impl From<std::time::Duration> for Duration {
    fn from(length: std::time::Duration) -> Duration {
        let most = 999_999_999 * 1_000_000;
        let mut digits =
            u64::try_from((length.as_nanos() + 500) / 1000).map_or(most, |all| all.min(most));
        let mut scale = 6;
        while scale > 0 && digits % 10 == 0 {
            digits /= 10;
            scale -= 1;
        }
        Duration {
            digits,
            scale,
            unit: Unit::Seconds,
        }
    }
}

/// Ticks come before milliseconds and seconds: without a rate they cannot be compared. Within each, by
/// length; of one length, by how they are written.
impl Ord for Duration {
    fn cmp(&self, other: &Duration) -> Ordering {
        let timed = |one: &Duration| one.unit != Unit::Ticks;
        let length = |one: &Duration, with: u32| u128::from(one.digits) * 10u128.pow(with);
        timed(self)
            .cmp(&timed(other))
            .then_with(|| length(self, other.scale).cmp(&length(other, self.scale)))
            .then_with(|| self.scale.cmp(&other.scale))
            .then_with(|| self.unit.cmp(&other.unit))
    }
}

impl PartialOrd for Duration {
    fn partial_cmp(&self, other: &Duration) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}

impl Default for Duration {
    fn default() -> Duration {
        Duration::ZERO
    }
}

impl FromStr for Duration {
    type Err = DurationError;

    fn from_str(text: &str) -> Result<Duration, DurationError> {
        let (number, unit) = if let Some(number) = text.strip_suffix("ms") {
            (number, Unit::Millis)
        } else if let Some(number) = text.strip_suffix('s') {
            (number, Unit::Seconds)
        } else if let Some(number) = text.strip_suffix('t') {
            (number, Unit::Ticks)
        } else {
            return Err(DurationError::Unit);
        };
        let (whole, part) = match number.split_once('.') {
            Some((whole, part)) if !part.is_empty() => (whole, part),
            Some(_) => return Err(DurationError::Number),
            None => (number, ""),
        };
        let all_digits = |text: &str| text.bytes().all(|byte| byte.is_ascii_digit());
        if whole.is_empty() || !all_digits(whole) || !all_digits(part) {
            return Err(DurationError::Number);
        }
        if unit == Unit::Ticks && !part.is_empty() {
            return Err(DurationError::Fraction);
        }
        if whole.len() > 9 || part.len() > 6 {
            return Err(DurationError::Digits);
        }
        let digits = format!("{whole}{part}")
            .parse()
            .map_err(|_| DurationError::Digits)?;
        let milli = if unit == Unit::Millis { 3 } else { 0 };
        Ok(Duration {
            digits,
            scale: part.len() as u32 + milli,
            unit,
        })
    }
}

impl fmt::Display for Duration {
    /// As it was written, up to leading zeros.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let (unit, places) = match self.unit {
            Unit::Ticks => ("t", 0),
            Unit::Millis => ("ms", self.scale - 3),
            Unit::Seconds => ("s", self.scale),
        };
        let divisor = 10u64.pow(places);
        write!(f, "{}", self.digits / divisor)?;
        if places > 0 {
            write!(f, ".{:0>1$}", self.digits % divisor, places as usize)?;
        }
        f.write_str(unit)
    }
}
