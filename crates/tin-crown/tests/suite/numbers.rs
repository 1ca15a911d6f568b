//! Amounts and lengths of time as they are written.

use tin_crown::amount::AmountError;
use tin_crown::plan::PortionPlan;
use tin_crown::time::DurationError;
use tin_crown::{Amount, Duration, Ticks};

#[test]
fn decimals_become_thousandths_exactly_or_not_at_all() {
    for (number, thousandths) in [(4.0, 4000), (0.1, 100), (2.675, 2675), (-0.001, -1)] {
        assert_eq!(
            Amount::try_from(number),
            Ok(Amount::thousandths(thousandths))
        );
    }
    for (number, error) in [
        (0.0001, AmountError::Finer),
        (1.0 / 3.0, AmountError::Finer),
        (f64::NAN, AmountError::Range),
        (f64::INFINITY, AmountError::Range),
        (2e9, AmountError::Range),
    ] {
        assert_eq!(Amount::try_from(number), Err(error));
    }
}

#[test]
fn written_lengths_round_half_up_from_the_decimal_text() {
    for (text, rate, ticks) in [
        ("12t", 60, 12),
        ("0t", 60, 0),
        ("250ms", 60, 15),
        ("0.5s", 50, 25),
        ("0.5s", 120, 60),
        ("0.025s", 60, 2),    // 1.5
        ("0.0249s", 60, 1),   // 1.494
        ("0.001s", 60, 1),    // 0.06, but not zero
        ("8.5ms", 1000, 9),   // 8.5
        ("1.005s", 100, 101), // 100.5, which in binary lies below
    ] {
        let duration: Duration = text.parse().unwrap();
        assert_eq!(duration.ticks(rate), Ticks(ticks), "{text} at {rate}");
        assert_eq!(duration.to_string(), text);
    }
}

#[test]
fn lengths_are_ordered_and_come_from_those_of_the_standard_library() {
    let parse = |text: &str| text.parse::<Duration>().unwrap();
    let sorted = [
        "2t", "10t", "9ms", "0.01s", "10ms", "0.010s", "1s", "2000ms",
    ]
    .map(parse);
    let mut shuffled = [7, 2, 0, 5, 3, 6, 1, 4].map(|nth: usize| sorted[nth]);
    shuffled.sort();
    assert_eq!(
        shuffled.map(|one| one.ticks(1000)),
        sorted.map(|one| one.ticks(1000))
    );
    for (nanos, text) in [
        (0, "0s"),
        (1_499, "0.000001s"),
        (500_000_000, "0.5s"),
        (61_000_000_000, "61s"),
        (u64::MAX, "999999999s"),
    ] {
        let length = Duration::from(std::time::Duration::from_nanos(nanos));
        assert_eq!(length, parse(text));
    }
}

#[test]
fn texts_that_are_not_lengths_say_why() {
    for (text, error) in [
        ("12", DurationError::Unit),
        ("", DurationError::Unit),
        ("1.5m", DurationError::Unit),
        ("s", DurationError::Number),
        ("-1s", DurationError::Number),
        ("1.s", DurationError::Number),
        ("1e3ms", DurationError::Number),
        ("1.5t", DurationError::Fraction),
        ("1234567890s", DurationError::Digits),
    ] {
        assert_eq!(text.parse::<Duration>(), Err(error), "{text}");
    }
}

#[test]
fn a_share_is_rounded_half_up_to_thousandths() {
    let of = |percent, max| {
        PortionPlan::Share {
            percent: Amount::thousandths(percent),
        }
        .of(Amount::thousandths(max))
    };
    // 50 % of 3 is 1.5; 33.333 % of 1 is 0.33333; 12.5 % of 0.004 is 0.0005, half a thousandth.
    for (percent, max, share) in [(50_000, 3_000, 1_500), (33_333, 1_000, 333), (12_500, 4, 1)] {
        assert_eq!(of(percent, max), Amount::thousandths(share));
    }
}
