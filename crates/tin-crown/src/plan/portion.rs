//! How much of a meter, resolved.

use serde::Serialize;

use crate::amount::Amount;

/// How much of a meter.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(untagged)]
pub enum PortionPlan {
    /// So much.
    Amount(Amount),
    /// A share of the meter's `max`.
    Share {
        /// So many hundredths.
        percent: Amount,
    },
}

impl PortionPlan {
    /// How much it is of a meter that holds so much at most: rounded half up to thousandths.
    pub fn of(self, max: Amount) -> Amount {
        match self {
            PortionPlan::Amount(amount) => amount,
            PortionPlan::Share { percent } => {
                let hundredth = 100 * Amount::whole(1).in_thousandths();
                let product =
                    i128::from(max.in_thousandths()) * i128::from(percent.in_thousandths());
                let share = (product + i128::from(hundredth) / 2) / i128::from(hundredth);
                Amount::thousandths(share as i64)
            }
        }
    }
}

impl std::fmt::Display for PortionPlan {
    /// As it is written: `2`, or `50%`.
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            PortionPlan::Amount(amount) => amount.fmt(f),
            PortionPlan::Share { percent } => write!(f, "{percent}%"),
        }
    }
}
