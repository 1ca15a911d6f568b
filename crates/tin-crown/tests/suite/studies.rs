//! Studies: what changed, what was exercised, and why something came about.

use std::collections::BTreeMap;
use std::sync::Arc;

use proptest::prelude::*;
use tin_crown::plan::DrillIx;
use tin_crown::sim::Inquest;
use tin_crown::study::{Came, Question, Sort, compare, coverage, why};
use tin_crown::{
    BoxSpec, Encounter, Kind, MeterSpec, Placement, Plan, Record, Replay, Rule, Tick, Ticks, check,
};

use crate::fights::fight;
use crate::stage::{plan, porter, replay, stage, time};

fn demo(file: &str) -> Arc<Plan> {
    let path = format!("{}/demo/{file}", env!("CARGO_MANIFEST_DIR"));
    let text = std::fs::read(path).expect("the demo is there");
    tin_crown::check(&text)
        .plan
        .expect("the demo has no errors")
}

fn replays(plan: &Arc<Plan>) -> Vec<Replay> {
    let drills = plan.drills().iter();
    drills
        .map(|drill| plan.replay(drill.name()).expect("it is there"))
        .collect()
}

/// A porter on a spike with so much invincibility, and another on another, as ever.
fn pricked(after_hit: &str, damage: f64) -> Encounter {
    let spike = Kind::new().hitbox("tip", BoxSpec::rectangle(4.0, 4.0));
    stage(60, "2s")
        .kind("porter", porter(after_hit))
        .kind("twin", porter("0.5s"))
        .kind("spike", spike.clone())
        .kind("thorn", spike)
        .place(Placement::new("porter", [0.0, 0.0]))
        .place(Placement::new("spike", [0.0, 0.0]))
        .place(Placement::new("twin", [200.0, 0.0]))
        .place(Placement::new("thorn", [200.0, 0.0]))
        .rule(Rule::new("spike pricks", "spike.tip", "porter.torso").damage(damage))
        .rule(Rule::new("thorn pricks", "thorn.tip", "twin.torso").damage(1.0))
}

#[test]
fn one_number_changed_shows_what_follows_from_it_and_nothing_else() {
    // Half a second: hits on 0, 30, 60 and 90, the last kills. 40 ticks: on 0, 40, 80 and 120.
    let (old, new) = (replay(&pricked("0.5s", 1.0)), replay(&pricked("40t", 1.0)));
    let (old, new) = (Record::of(&old), Record::of(&new));
    let comparison = compare(&old, &new, Ticks(0));
    assert_eq!(
        comparison.changes[0].to_string(),
        "changed    0.000 s  spike on porter by `spike pricks`: landed 1, until +30t → +40t"
    );
    let mut moved: BTreeMap<(&str, &str), Vec<i64>> = BTreeMap::new();
    for change in &comparison.changes {
        let line = change.line().expect("one of the two");
        assert_eq!(
            line.whom.as_deref().or(line.who.as_deref()),
            Some("porter"),
            "{line:?}"
        );
        // The windows that the hits open are longer; no amount has changed.
        assert!(
            change.fields.iter().all(|field| field.key == "until"),
            "{change:?}"
        );
        let verdict = line.verdict.as_deref().unwrap_or_default();
        moved
            .entry((&line.event, verdict))
            .or_default()
            .push(change.moved);
    }
    let expected = BTreeMap::from([
        (("hit", "landed"), vec![0, 10, 20, 30]),
        // Told on the tick after each hit but the last.
        (("hit", "invincible"), vec![0, 10, 20]),
        (("meter", ""), vec![10, 20, 30]),
        (("death", ""), vec![30]),
        (("gone", ""), vec![30]),
    ]);
    assert_eq!(moved, expected);
    assert!(comparison.pairs.is_empty(), "nobody dealt more or less");
    // Within 30 ticks all of it is the same but for the windows.
    let near = compare(&old, &new, Ticks(30));
    assert!(near.changes.iter().all(|change| change.sort() == "changed"));
}

#[test]
fn new_gone_and_changed_are_told_apart() {
    // Twice the damage: two hits kill, on 0 and 30; those of 60 and 90 are gone.
    let (old, new) = (replay(&pricked("0.5s", 1.0)), replay(&pricked("0.5s", 2.0)));
    let (old, new) = (Record::of(&old), Record::of(&new));
    let sorts = |comparison: &tin_crown::study::Comparison<'_>, event: &str| -> Vec<(u32, &str)> {
        let changes = comparison.changes.iter();
        let own = changes.filter(|change| change.line().is_some_and(|line| line.event == event));
        own.map(|change| (change.line().map_or(0, |line| line.tick), change.sort()))
            .collect()
    };
    let there = compare(&old, &new, Ticks(0));
    assert_eq!(
        sorts(&there, "meter"),
        [(0, "changed"), (30, "changed"), (60, "gone"), (90, "gone")]
    );
    assert_eq!(sorts(&there, "death"), [(30, "moved")]);
    let back = compare(&new, &old, Ticks(0));
    assert_eq!(
        sorts(&back, "meter"),
        [(0, "changed"), (30, "changed"), (60, "new"), (90, "new")]
    );
    let pair = &there.pairs[0];
    assert_eq!(
        (&*pair.who, &*pair.whom, pair.hits, pair.taken),
        ("spike", "porter", [4, 2], [4.0, 4.0])
    );
    assert_eq!(there.pairs.len(), 1);
    let slow = replay(&pricked("0.5s", 1.0).tick_rate(30));
    assert_eq!(
        compare(&old, &Record::of(&slow), Ticks(0)).rates,
        Some([60, 30])
    );
}

#[test]
fn a_golden_record_read_back_is_as_the_drill() {
    for file in ["first-shelf.toml", "second-shelf.toml", "attic.toml"] {
        for replay in replays(&demo(file)) {
            let now = Record::of(&replay);
            let mut text = Vec::new();
            now.golden().write(&mut text).expect("memory takes it");
            let read = Record::read(&text).expect("what was written");
            assert!(compare(&read[0], &now, Ticks(0)).is_empty(), "{file}");
            assert!(compare(&now, &now, Ticks(0)).is_empty());
            assert_eq!(read[0].lines.len(), now.golden().lines.len());
        }
    }
    for (text, line) in [("", 1), ("{\"tick\":1}\n", 1), ("no\n", 1)] {
        assert_eq!(Record::read(text.as_bytes()).unwrap_err().line, line);
    }
}

/// Rests for 10 ticks, fires for 10, over and over: a pellet on 10, 30, 50 and so on.
const TURRET: &str = r#"
edition = 1
title = "A turret"
[arena]
bounds = { min = [0, 0], max = [200, 100] }
[kind.target]
meter.health = { max = 99 }
hurtbox.all = { size = [10, 10] }
[kind.turret]
starts = "rest"
launcher.gun = { launches = "pellet", speed = 1200 }
state.rest.go = [{ to = "fire", when = { after = "10t" } }]
state.fire = { launchers = ["gun"], go = [{ to = "rest", when = { after = "10t" } }] }
[kind.pellet]
hitbox.tip = { radius = 2 }
lifetime = "5t"
[[place]]
kind = "target"
at = [100, 50]
[[place]]
kind = "turret"
at = [50, 50]
[[rule]]
name = "pellet stings"
hitbox = "pellet.tip"
hurtbox = "target.all"
damage = 1
[drill.d]
length = "70t"
"#;

#[test]
fn causes_lead_back_through_states_but_not_round_and_round() {
    let chain = |plan: &Arc<Plan>, drill: &str, [who, whom]: [&str; 2], when: Option<Tick>| {
        let [who, whom] = [who, whom].map(|id| plan.choose(id).expect("they are there"));
        let question = Question {
            who: &who,
            whom: &whom,
            rule: None,
            when,
        };
        let answer = why(plan, plan.drill(drill).unwrap(), &question).unwrap();
        let first = answer.came.into_iter().next();
        let steps = first.map(|came| came.causes).unwrap_or_default();
        let steps = steps.into_iter().map(|step| (step.cause, step.says));
        (steps.collect::<Vec<_>>(), answer.apart)
    };
    // A weight hits because it falls, and falls because it has noticed the porter.
    let attic = demo("attic.toml");
    let (steps, _) = chain(&attic, "clumsy", ["weight", "porter"], None);
    assert_eq!(
        steps,
        [
            (false, "weight is falling, was hanging".to_owned()),
            (true, "weight notices porter, below, 142.16 off".to_owned()),
            (false, "weight is placed at 800, 170".to_owned()),
        ]
    );
    // A pellet appears on 50 and flies 20 units a tick: its tip is at 92 on 52, and meets 95 on 53.
    let turret = check(TURRET.as_bytes()).plan.expect("no errors");
    let (steps, _) = chain(&turret, "d", ["turret", "target"], Some(Tick(53)));
    assert_eq!(
        steps,
        [
            (true, "turret launches gun".to_owned()),
            (true, "turret is fire, was rest".to_owned()),
            (true, "turret is rest, was fire".to_owned()),
            (false, "turret is placed at 50, 50".to_owned()),
        ]
    );
    // Between two pellets nobody is there who could hit.
    let (_, apart) = chain(&turret, "d", ["turret", "target"], Some(Tick(48)));
    assert_eq!(
        apart.expect("they do not touch").says,
        [
            "turret hits target only with what it launches: a pellet by `pellet stings`; there was none then",
            "they do touch at 0.883 s (tick 53)"
        ]
    );
}

#[test]
fn coverage_counts_what_happened() {
    let plan = demo("first-shelf.toml");
    let covered = coverage(&plan, &[plan.replay("careful").unwrap()]);
    let times = |sort: Sort, name: &str| {
        let mut items = covered.items.iter();
        let item = items.find(|item| item.sort == sort && item.name == name);
        item.unwrap_or_else(|| panic!("{name} is not listed")).times
    };
    // As the drill's expectations say: three stomps, two thrusts that hit.
    assert_eq!(times(Sort::Rule, "boots crush lid"), 3);
    assert_eq!(times(Sort::Rule, "umbrella jabs"), 2);
    assert_eq!(times(Sort::Rule, "horns gore porter"), 0);
    assert_eq!(times(Sort::Attack, "tin-porter.thrust"), 2);
    assert_eq!(times(Sort::Box, "pincushion-beetle.pins"), 0);
    let stomp: Vec<(&str, u32)> = covered
        .pairs
        .iter()
        .filter(|pair| pair.rule == "boots crush lid")
        .map(|pair| (pair.whom.as_str(), pair.hits))
        .collect();
    assert_eq!(stomp, [("beetle", 1), ("stag-beetle", 2)]);
    assert!(!covered.is_at_least(90));

    // Everything there is, over all drills, step of death and exit included.
    let plan = demo("attic.toml");
    let covered = coverage(&plan, replays(&plan));
    assert!(covered.is_at_least(100), "{:?}", covered.items);
    let sorts: Vec<Sort> = Sort::ALL
        .into_iter()
        .filter(|sort| covered.items.iter().any(|item| item.sort == *sort))
        .collect();
    assert_eq!(sorts.len(), 8, "all but attacks: {sorts:?}");
    let nothing = coverage(&plan, &[]);
    assert!(nothing.items.iter().all(|item| item.times == 0) && !nothing.is_at_least(1));
}

#[test]
fn allies_can_hurt_nobody_but_by_friendly_rules() {
    let kind = || {
        Kind::new()
            .side("crown")
            .meter("health", MeterSpec::new(9.0))
            .hurtbox("all", BoxSpec::circle(5.0))
    };
    let encounter = |friendly: bool, knights: &[&str]| {
        let mut rule = Rule::new("sweep", "*.arm", "*").damage(1.0);
        rule.friendly = friendly;
        rule.every = Some(time("0.5s"));
        let stage = stage(60, "1s")
            .kind("knight", kind().hitbox("arm", BoxSpec::circle(8.0)))
            .kind("page", kind())
            .place(Placement::new("page", [0.0, 0.0]))
            .rule(rule);
        let place = |stage: Encounter, id: &&str| {
            stage.place(Placement::new("knight", [50.0, 0.0]).id(*id))
        };
        plan(&knights.iter().fold(stage, place)).reaches().len()
    };
    assert_eq!(encounter(false, &["one", "other"]), 0);
    // The only knight does not hit itself.
    assert_eq!(encounter(true, &["one"]), 1);
    assert_eq!(encounter(true, &["one", "other"]), 2);
}

#[test]
fn what_began_to_differ_comes_before_what_follows_from_it() {
    // Each hit takes two now: the kill comes two hits earlier. All of it follows from the first; the twin
    // is hit as ever.
    let (old, new) = (replay(&pricked("0.5s", 1.0)), replay(&pricked("0.5s", 2.0)));
    let (old, new) = (Record::of(&old), Record::of(&new));
    let comparison = compare(&old, &new, Ticks(0));
    let [only] = &comparison.divergences()[..] else {
        panic!("{:?}", comparison.told(9));
    };
    assert_eq!(
        (only.first, only.follows.len()),
        (0, comparison.changes.len() - 1)
    );
    let told = comparison.told(2);
    assert!(
        told[0].starts_with("changed    0.000 s  spike on porter"),
        "{told:?}"
    );
    assert!(
        told[1].starts_with("  ") && told[3].starts_with("  … and "),
        "{told:?}"
    );
    // Cut short, it says how much there is.
    let brief = comparison.brief(2);
    assert_eq!(brief.len(), 3);
    assert!(brief[2].ends_with(" changes in all"), "{brief:?}");
    // Only what is asked for.
    let mut hits = comparison.clone();
    hits.retain(|line| line.event == "hit");
    assert!(!hits.changes.is_empty() && hits.changes.len() < comparison.changes.len());
}

#[test]
fn advice_is_tried_before_it_is_given() {
    // A spike comes down on a doll from 60 at 30 units a second; its edge, at 58, is at the doll's top, 54,
    // after 8 ticks, and overlaps on 9.
    let text = |kind: &str, rule: &str| {
        format!(
            r#"edition = 1
title = "advice"
[arena]
bounds = {{ min = [0, 0], max = [100, 100] }}
[kind.doll]
{kind}
meter.health = {{ max = 3 }}
hurtbox.all = {{ size = [8, 8] }}
[kind.spike]
{kind}
hitbox.tip = {{ size = [4, 4] }}
motion = {{ patrol = {{ axis = "y", between = [10, 60], speed = 30 }} }}
[[place]]
kind = "doll"
at = [50, 50]
[[place]]
kind = "spike"
at = [50, 60]
[[rule]]
name = "spike pricks"
hitbox = "spike.tip"
hurtbox = "doll.all"
damage = 1
{rule}
[drill.d]
length = "20t"
"#
        )
    };
    #[rustfmt::skip]
    let cases = [
        ("side = \"a\"", "", Some(("rule[1].friendly", "true"))),
        ("", "gate = { falling_at_least = 50 }", Some(("rule[1].gate.falling_at_least", "30"))),
        ("", "gate = { whom = { meter.health = { at_most = \"50%\" } } }", Some(("rule[1].gate.whom.meter.health.at_most", "3"))),
        // Two reasons: what is said first does not help alone.
        ("side = \"a\"", "gate = { falling_at_least = 50 }", None),
        ("", "gate = { falling_at_least = 50, whom = { grounded = true } }", None),
    ];
    for (kind, rule, remedy) in cases {
        let plan = check(text(kind, rule).as_bytes()).plan.expect("no errors");
        let (spike, doll) = (plan.choose("spike").unwrap(), plan.choose("doll").unwrap());
        let question = Question {
            who: &spike,
            whom: &doll,
            rule: None,
            when: None,
        };
        let answer = why(&plan, plan.drill("d").unwrap(), &question).unwrap();
        let came = &answer.came[0];
        let found = came.remedy.as_ref();
        let found = found.map(|remedy| (remedy.path.as_str(), remedy.value.as_str()));
        assert_eq!(found, remedy, "{rule}: {:?}", came.change);
        let change = came.change.as_deref().expect("it did not land");
        let helps = if remedy.is_some() {
            "makes it land"
        } else {
            "but then"
        };
        assert!(change.contains(helps), "{change}");
    }
}

/// How often a rule landed between two actors up to the tick of an answer.
fn landed(plan: &Arc<Plan>, drill: DrillIx, came: &Came) -> usize {
    let replay = plan
        .replay(plan.drills()[drill.index()].name())
        .expect("within the limits");
    let events = replay
        .ledger()
        .events()
        .iter()
        .map(|event| replay.line(event));
    let hits = events.filter(|line| {
        line.tick <= came.tick
            && line.verdict.as_deref() == Some("landed")
            && line.rule.as_deref() == Some(came.rule.as_str())
            && line.who.as_deref() == Some(came.who.as_str())
            && line.whom.as_deref() == Some(came.whom.as_str())
    });
    hits.count()
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    /// What `why` says is what an inquest found, of which the judge says the same: every touch is in
    /// one answer, and each answer fails the check that gave its verdict.
    #[test]
    fn why_tells_of_every_touch_and_of_the_check_that_failed(encounter in fight()) {
        let plan = plan(&encounter);
        let drill = plan.drill("d").expect("drill d");
        let everyone = plan.choose("*").expect("anyone");
        let question = Question { who: &everyone, whom: &everyone, rule: None, when: None };
        let answer = why(&plan, drill, &question).expect("within the limits");
        let mut touches: BTreeMap<(String, String, String, String), Vec<u32>> = BTreeMap::new();
        let mut inquest = Inquest::new(&plan, drill, |who, whom| who != whom);
        while let Some((sim, judged)) = inquest.play().expect("within the limits") {
            for judged in judged {
                let verdict = match judged.withheld {
                    Some(_) => "withheld",
                    None => judged.verdict.as_str(),
                };
                let rule = plan.rules()[judged.rule.index()].name().to_owned();
                let key = (sim.id(judged.who).into(), sim.id(judged.whom).into(), rule, verdict.into());
                let ticks = touches.entry(key).or_default();
                if ticks.last() != Some(&judged.tick.0) {
                    ticks.push(judged.tick.0);
                }
            }
        }
        let mut told: BTreeMap<_, u32> = BTreeMap::new();
        for came in &answer.came {
            let key = (came.who.clone(), came.whom.clone(), came.rule.clone(), came.verdict.to_owned());
            prop_assert!(touches[&key].contains(&came.tick) && touches[&key].contains(&came.last));
            *told.entry(key).or_default() += came.ticks;
            let failed: Vec<&str> = came.checks.iter().filter(|check| !check.passed).map(|check| check.check).collect();
            match came.verdict {
                "landed" | "withheld" => prop_assert!(failed.is_empty(), "{came:?}"),
                verdict => prop_assert_eq!(&failed, &[verdict], "{:?}", came),
            }
            prop_assert_eq!(came.change.is_none(), came.verdict == "landed" && came.change.is_none());
            if let Some(remedy) = &came.remedy {
                // Taken, the advice helps: the rule lands once more between the two, up to that tick.
                let (one, other) = (landed(&plan, drill, came), {
                    let mut changed = encounter.clone();
                    let path = remedy.path.parse().expect("a path");
                    let set = match remedy.value.as_str() {
                        "true" => changed.set(&path, true),
                        number => changed.set(&path, number.parse::<f64>().expect("a number")),
                    };
                    set.expect("it can be set");
                    let changed = changed.resolve().expect("it can be resolved");
                    let drill = changed.drill("d").expect("it is there");
                    landed(&changed, drill, came)
                });
                prop_assert!(other > one, "{came:?}");
            }
            prop_assert!(came.causes.last().is_some_and(|step| step.says.contains("placed")));
        }
        let counts: BTreeMap<_, u32> = touches.iter().map(|(key, ticks)| (key.clone(), ticks.len() as u32)).collect();
        prop_assert_eq!(told, counts);
        prop_assert_eq!(answer.apart.is_some(), answer.came.is_empty());
    }

    #[test]
    fn a_fight_compared_with_itself_is_the_same(encounter in fight()) {
        let replay = replay(&encounter);
        let record = Record::of(&replay);
        let comparison = compare(&record, &record, Ticks(0));
        prop_assert!(comparison.is_empty() && comparison.pairs.is_empty());
        prop_assert_eq!(comparison.same, record.lines.len());
    }
}
