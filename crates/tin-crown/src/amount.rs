//! Amounts: what meters count, in whole thousandths.

use std::fmt;
use std::ops::{Add, AddAssign, Neg, Sub, SubAssign};

use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// An amount of a meter, counted in whole thousandths so that sums are exact.
///
/// ```
/// use tin_crown::Amount;
///
/// let three = Amount::try_from(2.5)? + Amount::try_from(0.5)?;
/// assert_eq!(three, Amount::whole(3));
/// assert_eq!(three.to_string(), "3");
/// assert_eq!(Amount::thousandths(1_250).to_string(), "1.25");
/// assert!(Amount::try_from(0.0005).is_err()); // finer than a thousandth
/// # Ok::<(), tin_crown::amount::AmountError>(())
/// ```
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Amount(i64);

/// Why a number is not an amount.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum AmountError {
    /// The number has more than three places behind the point.
    #[error("meters count thousandths: use at most three decimals")]
    Finer,
    /// The number is not finite, or beyond a thousand million either way.
    #[error("an amount lies between -1000000000 and 1000000000")]
    Range,
}

impl Amount {
    /// Nothing.
    pub const ZERO: Amount = Amount(0);

    /// A whole number.
    pub const fn whole(count: i32) -> Amount {
        Amount(count as i64 * 1000)
    }

    /// A number of thousandths.
    pub const fn thousandths(count: i64) -> Amount {
        Amount(count)
    }

    /// How many thousandths this is.
    pub const fn in_thousandths(self) -> i64 {
        self.0
    }

    /// The nearest `f64`.
    pub fn as_f64(self) -> f64 {
        self.0 as f64 / 1000.0
    }

    /// The sum, unless it is beyond what an amount can be.
    pub const fn checked_add(self, other: Amount) -> Option<Amount> {
        match self.0.checked_add(other.0) {
            Some(sum) => Some(Amount(sum)),
            None => None,
        }
    }

    /// Without its sign.
    pub const fn abs(self) -> Amount {
        Amount(self.0.saturating_abs())
    }

    /// This taken so many times, rounded half up to thousandths. Neither may be negative.
    pub(crate) fn times(self, factor: Amount) -> Amount {
        let product = i128::from(self.0) * i128::from(factor.0);
        Amount(((product + 500) / 1000) as i64)
    }

    /// Whether this is above nothing.
    pub const fn is_positive(self) -> bool {
        self.0 > 0
    }
}

impl TryFrom<f64> for Amount {
    type Error = AmountError;

    fn try_from(number: f64) -> Result<Amount, AmountError> {
        if !(-1e9..=1e9).contains(&number) {
            return Err(AmountError::Range);
        }
        let thousandths = (number * 1000.0).round();
        // The nearest f64 of the decimal text must come back from the thousandths.
        if thousandths / 1000.0 != number {
            return Err(AmountError::Finer);
        }
        Ok(Amount(thousandths as i64))
    }
}

impl From<i32> for Amount {
    fn from(count: i32) -> Amount {
        Amount::whole(count)
    }
}

/// Sums stay at the greatest or least amount when they would go beyond it; what an encounter can hold is
/// far from that.
impl Add for Amount {
    type Output = Amount;
    fn add(self, other: Amount) -> Amount {
        Amount(self.0.saturating_add(other.0))
    }
}

impl AddAssign for Amount {
    fn add_assign(&mut self, other: Amount) {
        *self = *self + other;
    }
}

impl Sub for Amount {
    type Output = Amount;
    fn sub(self, other: Amount) -> Amount {
        Amount(self.0.saturating_sub(other.0))
    }
}

impl SubAssign for Amount {
    fn sub_assign(&mut self, other: Amount) {
        *self = *self - other;
    }
}

impl Neg for Amount {
    type Output = Amount;
    fn neg(self) -> Amount {
        Amount(self.0.saturating_neg())
    }
}

impl fmt::Display for Amount {
    /// The shortest decimal: `3`, `-0.5`, `1.25`.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.as_f64().fmt(f)
    }
}

impl Serialize for Amount {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        if !serializer.is_human_readable() {
            return self.0.serialize(serializer);
        }
        if self.0 % 1000 == 0 {
            serializer.serialize_i64(self.0 / 1000)
        } else {
            serializer.serialize_f64(self.as_f64())
        }
    }
}

/// Out of bytes, in which amounts are whole thousandths.
impl<'de> Deserialize<'de> for Amount {
    fn deserialize<D: Deserializer<'de>>(deserializer: D) -> Result<Amount, D::Error> {
        i64::deserialize(deserializer).map(Amount)
    }
}
