//! What is varied: the values of axes, the samples of a sweep, and who plays which cells.

use tin_crown::check;
use tin_crown::study::{Axis, Datum, Samples, Setup, Shard, ShardError, Spread, Sweep, VaryError};

fn axis(values: &str) -> Result<Axis, VaryError> {
    format!("kind.a.walk.speed={values}").parse()
}

fn all(text: &str) -> String {
    let axis = axis(text).expect("an axis");
    let all = (0..axis.len().expect("steps")).map(|nth| axis.value(nth).to_string());
    all.collect::<Vec<_>>().join(" ")
}

#[test]
fn ranges_and_lists_give_the_values_that_they_say() {
    for (text, values) in [
        ("20..120/25", "20 45 70 95 120"),
        ("0.1..0.5/0.1", "0.1 0.2 0.3 0.4 0.5"),
        ("0..1/0.4", "0 0.4 0.8"),
        // In binary, three tenths are more than three times a tenth.
        ("0..0.3/0.1", "0 0.1 0.2 0.3"),
        (
            "999999999..999999999.000002/0.000001",
            "999999999 999999999.000001 999999999.000002",
        ),
        ("-1..1/1", "-1 0 1"),
        ("12t..15t/1t", "12t 13t 14t 15t"),
        ("0.2..0.6s/0.2", "0.2s 0.4s 0.6s"),
        ("20..160/x2", "20 40 80 160"),
        ("20..120:3", "20 70 120"),
        ("1..1000:4x", "1 10 100 1000"),
        ("1t..4t:3", "1t 3t 4t"),
        ("swept, sampled", "swept sampled"),
        ("true,false", "true false"),
        ("5..5/1", "5"),
    ] {
        assert_eq!(all(text), values, "{text}");
    }
    for text in [
        "5..4/1",
        "1..5/0",
        "1..5/-1",
        "1..5/x1",
        "0..5/x2",
        "1..5/",
        "1..5:1",
        "1..5:0",
        "1..",
        "..5",
        "a..b/1",
        "1,,2",
        "",
        "1s..2t/1",
        "1s..2s/1t",
        "1..5/x",
        "1..9:99999999",
    ] {
        assert!(axis(text).is_err(), "{text}");
    }
}

#[test]
fn draws_are_within_the_range_and_spread_over_lists() {
    let range = axis("20..120").unwrap();
    assert_eq!(range.drawn(0.0).to_string(), "20");
    assert_eq!(range.drawn(0.123_456_7).to_string(), "32.346");
    let list = axis("a,b,c").unwrap();
    let drawn = [0.0, 0.34, 0.67, 0.999].map(|share| list.drawn(share).to_string());
    assert_eq!(drawn, ["a", "b", "c", "c"]);
    assert_eq!(axis("3t..8t").unwrap().drawn(0.5).to_string(), "6t");
}

#[test]
fn shards_share_all_cells_out() {
    for (cells, of) in [(10, 3), (0, 2), (5, 8), (1_000_000_007, 13), (8, 1)] {
        let mut next = 0;
        for part in 1..=of {
            let range = Shard::new(part, of).unwrap().range(cells);
            assert_eq!(range.start, next);
            assert!(range.end - range.start <= cells / of + 1);
            next = range.end;
        }
        assert_eq!(next, cells);
    }
    for text in ["", "1", "0/3", "4/3", "a/3", "1/0", "-1/3", "1/3/3"] {
        assert_eq!(text.parse::<Shard>(), Err(ShardError), "{text}");
    }
}

/// What is drawn stands in a row as it would in a file.
fn number(datum: &Datum) -> Option<f64> {
    datum.number().or_else(|| datum.text()?.parse().ok())
}

/// Sixty samples and one in each sixtieth of each axis, in another order on each; of a Sobol sequence 64.
#[test]
fn each_part_of_each_axis_is_drawn_once() {
    let text = r#"
        edition = 1
        title = "Samples"
        arena = { bounds = { min = [0, 0], max = [100, 100] } }
        [kind.a]
        meter.b = { max = 640 }
        meter.c = { max = 640 }
        meter.d = { max = 640 }
        meter.e = { max = 640 }
        [[place]]
        kind = "a"
        at = [5, 5]
        [drill.d]
        length = "1t"
    "#;
    let checked = check(text.as_bytes());
    let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
    for (spread, count) in [(Spread::Latin, 60), (Spread::Sobol, 64)] {
        let path = |meter| format!("kind.a.meter.{meter}.max=10..{}", 10 * count + 10);
        let setup = Setup {
            axes: ["b", "c", "d", "e"]
                .map(|meter| path(meter).parse().unwrap())
                .to_vec(),
            samples: Some(Samples {
                count,
                spread,
                seed: 7,
            }),
            ..Setup::default()
        };
        let sweep = Sweep::new(&encounter, &plan, setup).unwrap();
        let rows = sweep.rows(0..sweep.cells());
        let mut orders = Vec::new();
        for axis in 0..4 {
            let place = sweep
                .columns()
                .iter()
                .position(|own| own.name.ends_with("b.max"));
            let drawn = rows.iter().map(|row| row.0[place.unwrap() + axis].as_ref());
            let drawn = drawn.map(|datum| datum.and_then(number).expect("a number"));
            let parts: Vec<u64> = drawn.map(|number| (number / 10.0) as u64 - 1).collect();
            let mut sorted = parts.clone();
            sorted.sort_unstable();
            assert!(
                sorted.into_iter().eq(0..count),
                "{spread:?} {axis} {parts:?}"
            );
            orders.push(parts);
        }
        orders.sort();
        orders.dedup();
        assert_eq!(orders.len(), 4, "{spread:?}");
    }
}
