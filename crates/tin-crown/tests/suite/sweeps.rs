//! Sweeps: what is varied, what the rows say, and that they are the same however they are played.

use std::collections::BTreeMap;
use std::sync::atomic::AtomicBool;
use std::sync::{Arc, LazyLock};

use proptest::prelude::*;
use tin_crown::demo::{ATTIC, FIRST_SHELF, SECOND_SHELF, THIRD_SHELF, TUB, TUB_RUN};
use tin_crown::encounter::Measure;
use tin_crown::study::{
    Axis, Datum, Holds, Row, Samples, Setup, Shard, Sheet, Spread, Sweep, paths,
};
use tin_crown::{Encounter, Plan, check};

fn read(text: &str) -> (Encounter, Arc<Plan>) {
    let checked = check(text.as_bytes());
    (
        checked.encounter.expect("it can be read"),
        checked.plan.expect("no errors"),
    )
}

fn setup(axes: &[&str], drills: &[&str]) -> Setup {
    Setup {
        axes: axes
            .iter()
            .map(|axis| axis.parse().expect("an axis"))
            .collect(),
        drills: drills.iter().map(|drill| (*drill).to_owned()).collect(),
        ..Setup::default()
    }
}

fn lines(sweep: &Sweep, rows: &[Row]) -> String {
    rows.iter()
        .map(|row| row.to_json(sweep.columns()))
        .collect()
}

#[test]
fn every_path_that_is_listed_takes_the_value_that_it_has() {
    for text in [ATTIC, FIRST_SHELF, SECOND_SHELF, THIRD_SHELF] {
        let (encounter, _) = read(text);
        let all = paths(&encounter);
        assert!(all.len() > 100);
        for path in &all {
            let axis: Axis = format!("{path}=0")
                .parse()
                .unwrap_or_else(|error| panic!("{path}: {error}"));
            let Some(present) = axis.present(&encounter) else {
                assert_eq!(path, "seed");
                continue;
            };
            let mut same = encounter.clone();
            let parsed = path.parse().expect("a path");
            let set = match present.parse::<f64>() {
                Ok(number) if same.set(&parsed, number).is_ok() => Ok(()),
                _ if present == "true" => same.set(&parsed, true),
                _ if present == "false" => same.set(&parsed, false),
                _ => same.set(&parsed, present.as_str()),
            };
            assert!(set.is_ok(), "{path} = {present}: {set:?}");
            assert_eq!(same, encounter, "{path}");
        }
    }
}

#[test]
fn a_row_says_what_a_replay_of_the_changed_file_comes_to() {
    let (encounter, plan) = read(FIRST_SHELF);
    let measure = |text: &str| Measure::read(text).value.expect("a measure");
    let sweep = Sweep::new(
        &encounter,
        &plan,
        Setup {
            measures: vec![
                (
                    "hits".to_owned(),
                    measure("count = { hit = { whom = 'porter' } }"),
                ),
                (
                    "first".to_owned(),
                    measure("first = { hit = { whom = 'porter' } }"),
                ),
                (
                    "apart".to_owned(),
                    measure("least_apart = { hit = { whom = 'porter' } }"),
                ),
                (
                    "took".to_owned(),
                    measure("total = { hit = { whom = 'porter' } }"),
                ),
                (
                    "early".to_owned(),
                    measure("total = { hit = { whom = 'porter' } }, to = '64t'"),
                ),
                (
                    "left".to_owned(),
                    measure("end = { who = 'porter', meter = 'health' }"),
                ),
                (
                    "most".to_owned(),
                    measure("highest = { who = '#windup', meter = 'health' }"),
                ),
            ],
            ..setup(
                &[
                    "kind.tin-porter.invincible.after_hit=0.3s,0.5s",
                    "kind.beetle.motion.patrol.speed=40,60",
                ],
                &["careless"],
            )
        },
    )
    .expect("a sweep");
    assert_eq!(sweep.cells(), 4);
    let rows = sweep.rows(0..4);
    for (nth, row) in rows.iter().enumerate() {
        let (invincible, speed) = (["0.3s", "0.5s"][nth / 2], [40.0, 60.0][nth % 2]);
        let mut changed = encounter.clone();
        changed
            .set(
                &"kind.tin-porter.invincible.after_hit".parse().unwrap(),
                invincible,
            )
            .unwrap();
        changed
            .set(&"kind.beetle.motion.patrol.speed".parse().unwrap(), speed)
            .unwrap();
        let replay = changed.resolve().unwrap().replay("careless").unwrap();
        let column = |name: &str| {
            let place = sweep
                .columns()
                .iter()
                .position(|column| column.name == name)
                .unwrap();
            row.0[place].clone()
        };
        let number = |number: f64| Some(Datum::Number(number));
        let summary = replay.summary();
        let taken: f64 = summary
            .dealt
            .iter()
            .filter(|dealt| replay.id(dealt.whom) == "porter")
            .map(|dealt| {
                dealt
                    .taken
                    .values()
                    .map(|amount| amount.as_f64())
                    .sum::<f64>()
            })
            .sum();
        let verified = replay.verify();
        let met = verified
            .iter()
            .filter(|tested| tested.miss.is_none())
            .count();
        assert_eq!(column("taken.porter"), number(taken));
        assert_eq!(column("took"), number(taken));
        assert_eq!(column("met"), number(met as f64));
        assert_eq!(column("tick"), number(f64::from(summary.last.0)));
        assert_eq!(column("left"), number(4.0 - taken));
        assert_eq!(column("most"), number(3.0));
        let hits: u32 = summary
            .dealt
            .iter()
            .filter(|dealt| replay.id(dealt.whom) == "porter")
            .map(|dealt| dealt.hits)
            .sum();
        assert_eq!(column("hits"), number(f64::from(hits)));
    }
    // As written the porter is hit on tick 64 first (the README's tour), at 64 / 60 s, for one of its health; and 30
    // ticks of invincibility are half a second between hits.
    let present = &rows[2];
    let read = |name: &str| {
        let place = sweep
            .columns()
            .iter()
            .position(|column| column.name == name)
            .unwrap();
        present.0[place].as_ref().and_then(Datum::number).unwrap()
    };
    assert_eq!(
        (read("first"), read("early"), read("apart")),
        (64.0 / 60.0, 1.0, 0.5)
    );
}

/// Two hits of 1 to 1.9 kill who has 2 health: on ticks 0 and 30, half a second in, though the drill goes on for two.
/// Samples of an amount are in thousandths, as a file may have them.
#[test]
fn samples_are_amounts_and_a_drill_that_goes_on_was_lost() {
    let (encounter, plan) = read(
        "edition = 1\ntitle = \"lost\"\narena = { bounds = { min = [0, 0], max = [640, 240] } }\n\
         [kind.porter]\nplayer = true\nmeter.health = { max = 2 }\nhurtbox.torso = { radius = 9 }\n\
         invincible = { after_hit = \"30t\" }\n[kind.beetle]\nhitbox.horns = { radius = 9 }\n\
         attack.flap = { clock = { every = \"50t\" }, active = \"10t\", cue = \"flap\" }\n\
         [[place]]\nkind = \"porter\"\nat = [100, 30]\n[[place]]\nkind = \"beetle\"\nat = [100, 30]\n\
         [[rule]]\nname = \"gore\"\nhitbox = \"beetle.horns\"\nhurtbox = \"porter.torso\"\ndamage = 1\n\
         [drill.goes-on]\nlength = \"120t\"\nafterwards = \"goes-on\"\n",
    );
    let setup = Setup {
        samples: Some(Samples {
            count: 40,
            spread: Spread::Latin,
            seed: 5,
        }),
        ..setup(&["rule.gore.damage=1..1.9"], &["goes-on"])
    };
    let sweep = Sweep::new(&encounter, &plan, setup).expect("a sweep");
    let columns = sweep.columns();
    let rows = sweep.rows(0..sweep.cells());
    assert_eq!(rows.len(), 40);
    for row in rows {
        let datum = |name: &str| {
            let place = columns.iter().position(|column| column.name == name);
            row.datum(columns, place.expect("a column"))
        };
        assert_eq!(row.failure(columns), None);
        let damage = match datum("rule.gore.damage") {
            Some(Datum::Number(number)) => *number,
            Some(Datum::Text(text)) => text.parse().expect("a number"),
            None => panic!("it has no value"),
        };
        assert_eq!((damage * 1000.0).round() / 1000.0, damage);
        assert_eq!(datum("outcome").and_then(Datum::text), Some("lost"));
        assert_eq!(datum("tick").and_then(Datum::number), Some(30.0));
    }
}

#[test]
fn rows_are_the_same_on_any_number_of_threads_and_in_any_pieces() {
    let (encounter, plan) = read(SECOND_SHELF);
    for samples in [
        None,
        Some(Samples {
            count: 6,
            spread: Spread::Latin,
            seed: 3,
        }),
        Some(Samples {
            count: 6,
            spread: Spread::Sobol,
            seed: 3,
        }),
    ] {
        let setup = Setup {
            samples,
            ..setup(
                &["kind.paper-wasp.meter.health.max=1..3/1", "seed=1..2/1"],
                &["marksman", "clumsy"],
            )
        };
        let sweep = Sweep::new(&encounter, &plan, setup).expect("a sweep");
        let whole = lines(&sweep, &sweep.rows(0..6));
        for threads in [1, 3] {
            let pool = rayon::ThreadPoolBuilder::new()
                .num_threads(threads)
                .build()
                .expect("threads");
            assert_eq!(pool.install(|| lines(&sweep, &sweep.rows(0..6))), whole);
        }
        let mut pieces = String::new();
        for part in 1..=4 {
            let cells = Shard::new(part, 4).expect("a shard").range(6);
            let stop = AtomicBool::new(false);
            let next = sweep.run(cells.clone(), &stop, |_, rows| {
                pieces += &lines(&sweep, &rows);
                Ok::<(), ()>(())
            });
            assert_eq!(next, Ok(cells.end));
        }
        assert_eq!(pieces, whole);
    }
}

#[test]
fn recorded_drills_keep_their_recordings_under_other_numbers() {
    let (encounter, plan) = read(TUB);
    let files = BTreeMap::from([("tub-run.csv".to_owned(), TUB_RUN.as_bytes().to_vec())]);
    let round = plan.drill("round").expect("it is there");
    let plan = plan
        .record([round], Arc::new(files))
        .plan
        .expect("no errors");
    let invincible = paths(&encounter)
        .into_iter()
        .find(|path| path.ends_with("after_hit"))
        .expect("a window");
    let sweep = Sweep::new(
        &encounter,
        &plan,
        setup(&[&format!("{invincible}=0.1s,0.5s,3s")], &["round"]),
    );
    let sweep = sweep.expect("a sweep");
    let rows = sweep.rows(0..3);
    let errors: Vec<_> = rows
        .iter()
        .map(|row| row.first(sweep.columns(), Holds::Error))
        .collect();
    assert_eq!(errors, [None; 3]);
    let place = sweep
        .columns()
        .iter()
        .position(|column| column.holds == Holds::Taken)
        .unwrap();
    let taken: Vec<f64> = rows
        .iter()
        .map(|row| row.0[place].as_ref().and_then(Datum::number).unwrap_or(0.0))
        .collect();
    assert!(
        taken[0] > taken[2],
        "the longer window holds more: {taken:?}"
    );
}

#[test]
fn what_cannot_be_swept_is_said_before_anything_is_played() {
    let (encounter, plan) = read(FIRST_SHELF);
    for (axis, said) in [
        (
            "kind.beetle.motion.patrol.sped=1..9/1",
            "did you mean `speed`?",
        ),
        (
            "kind.beetel.motion.patrol.speed=1..9/1",
            "did you mean `beetle`?",
        ),
        (
            "rule.boots crush lids.damage=1,2",
            "did you mean `boots crush lid`?",
        ),
        ("place[9].at[1]=1..9/1", "there is no [9] at place"),
        (
            "kind.beetle.motion.patrol.speed=fast,slow",
            "expected a number",
        ),
        ("arena.contact=swept,sweept", "unknown value `sweept`"),
        (
            "kind.beetle.motion.patrol.speed=-5..5/1",
            "is not between 0 and",
        ),
        (
            "kind.beetle.meter.health.max=0.0001..1/0.0001",
            "0.0001 is not an amount",
        ),
        ("kind.beetle.motion.patrol.speed=1..9", "has no steps"),
        (
            "drill.umbrella.length=1s,2s",
            "belongs to a drill that is not studied",
        ),
        ("seed=0..9999999999/1", "cells"),
        ("seed=0..999999999/0.000001", "cells"),
    ] {
        let made = axis.parse().map(|axis| Setup {
            axes: vec![axis],
            ..setup(&[], &["careful"])
        });
        let error = match made {
            Ok(setup) => Sweep::new(&encounter, &plan, setup)
                .expect_err(axis)
                .to_string(),
            Err(error) => error.to_string(),
        };
        assert!(error.contains(said), "{axis}: {error}");
    }
    for axis in [
        "speed",
        "=1..9/1",
        "speed=",
        "a..b=1",
        "x=5..1/1",
        "x=1..5/0",
        "x=1..5/-1",
        "x=1..5:0",
        "x=1..2s..3/1",
    ] {
        assert!(axis.parse::<Axis>().is_err(), "{axis}");
    }
    let twice = [
        "seed=1,2",
        "kind.beetle.motion.patrol.speed=1,2",
        "kind.beetle.motion.patrol.speed=3,4",
    ];
    let error = Sweep::new(&encounter, &plan, setup(&twice, &[]))
        .expect_err("twice")
        .to_string();
    assert!(error.ends_with("change the same thing"), "{error}");
    for (measure, said) in [
        ("count = { hit = { whom = 'nobody' } }", "nobody"),
        (
            "total = { death = { who = 'porter' } }",
            "no amount to sum up",
        ),
        ("lowest = { who = 'porter', meter = 'heelth' }", "heelth"),
        ("lowest = { who = 'porter' }", "meter"),
        (
            "count = { hit = {} }, lowest = { who = 'porter', meter = 'health' }",
            "lowest",
        ),
    ] {
        let mut read = Measure::read(measure);
        read.resolve(&plan);
        assert!(
            read.value.is_none() && read.findings.to_string().contains(said),
            "{measure}: {}",
            read.findings
        );
    }
}

static SWEEP: LazyLock<Sweep> = LazyLock::new(|| {
    let (encounter, plan) = read(FIRST_SHELF);
    Sweep::new(&encounter, &plan, setup(&["seed=1..3/1"], &["careless"])).expect("a sweep")
});

#[test]
fn whoever_is_there_under_some_value_has_columns() {
    let (encounter, plan) = read(FIRST_SHELF);
    let index = encounter
        .placements
        .iter()
        .position(|place| place.copies.is_some())
        .expect("a row of beetles");
    let path = format!("place[{}].copies.count", index + 1);
    for (values, samples) in [
        ("2..4/1", None),
        (
            "2..4",
            Some(Samples {
                count: 8,
                spread: Spread::Sobol,
                seed: 1,
            }),
        ),
    ] {
        let setup = Setup {
            samples,
            ..setup(
                &[&format!("{path}={values}"), &format!("seed={values}")],
                &["careful"],
            )
        };
        let sweep = Sweep::new(&encounter, &plan, setup).expect("a sweep");
        // There are no copies in fractions, and no seeds.
        for row in sweep.rows(0..sweep.cells()) {
            assert_eq!(row.first(sweep.columns(), Holds::Error), None);
        }
        let names: Vec<&str> = sweep
            .columns()
            .iter()
            .map(|column| column.name.as_str())
            .collect();
        assert!(
            names.contains(&"taken.beetle_4") && names.contains(&"dealt.beetle_4"),
            "{values}: {names:?}"
        );
    }
    let measure = |name: &str| {
        (
            name.to_owned(),
            Measure::read("count = { hit = {} }")
                .value
                .expect("a measure"),
        )
    };
    for measures in [vec![measure("met")], vec![measure("hits"), measure("hits")]] {
        let setup = Setup {
            measures,
            ..setup(&["seed=1,2"], &["careful"])
        };
        let error = Sweep::new(&encounter, &plan, setup)
            .expect_err("one name")
            .to_string();
        assert!(error.starts_with("there is a column"), "{error}");
    }
}

proptest! {
    #[test]
    fn rows_and_heads_come_back_from_their_lines(
        numbers in prop::collection::vec(prop::option::of(any::<f64>().prop_filter("finite", |n| n.is_finite())), 1..40),
        text in "\\PC*",
    ) {
        let sweep = &*SWEEP;
        let mut numbers = numbers.into_iter().cycle();
        let data = sweep.columns().iter().map(|column| match column.holds.is_text() {
            true => Some(Datum::Text(text.clone())),
            // -0 is written as 0.
            false => numbers.next().flatten().map(|number| Datum::Number(number + 0.0)),
        });
        let row = Row(data.collect());
        let line = row.to_json(sweep.columns());
        prop_assert_eq!(Row::from_json(&line, sweep.columns()), Some(row));
        let sheet = sweep.sheet().of_shard(Some(Shard::new(2, 3).expect("a shard")));
        prop_assert_eq!(Sheet::from_json(&sheet.to_json()), Ok(sheet));
    }
}
