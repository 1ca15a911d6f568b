//! A team's test: what each encounter expects is met.

use tin_crown::testing::{assert_golden, assert_met};

#[test]
fn the_duel_goes_as_designed() {
    assert_met("encounters/duel.toml");
}

#[test]
fn no_number_of_the_duel_changed_unseen() {
    assert_golden("encounters/duel.toml");
}
