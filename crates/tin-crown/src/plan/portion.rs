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

#[cfg(test)]
mod tests {
    use super::PortionPlan;
    use crate::amount::Amount;

    #[test]
    fn a_share_is_rounded_half_up_to_thousandths() {
        let of = |percent, max| {
            PortionPlan::Share {
                percent: Amount::thousandths(percent),
            }
            .of(Amount::thousandths(max))
        };
        // 50 % of 3 is 1.5; 33.333 % of 1 is 0.33333; 12.5 % of 0.004 is 0.0005, half a thousandth.
        for (percent, max, share) in [(50_000, 3_000, 1_500), (33_333, 1_000, 333), (12_500, 4, 1)]
        {
            assert_eq!(of(percent, max), Amount::thousandths(share));
        }
    }
}
