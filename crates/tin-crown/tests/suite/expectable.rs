//! Whatever a ledger tells can be expected: of every line an expectation is written that is met there, and
//! on another ledger if, and only if, that has such a line.

use std::collections::BTreeMap;

use proptest::prelude::*;
use tin_crown::{Line, Replay, Sim, check_expectations};

use crate::ambushes::ambush;
use crate::fights::fight;
use crate::hands::{act, meddling};
use crate::stage::plan;

/// The event of an expectation for a line of the ledger, and the columns that it asks for.
fn asked(line: &Line<'_>) -> Option<(&'static str, &'static [(&'static str, &'static str)])> {
    Some(match &*line.event {
        "hit" => (
            "hit",
            &[
                ("who", "who"),
                ("whom", "whom"),
                ("rule", "rule"),
                ("verdict", "verdict"),
                ("guard", "guard"),
            ],
        ),
        "attack" => (
            "attack",
            &[
                ("who", "who"),
                ("attack", "attack"),
                ("over", "over"),
                ("despite", "despite"),
            ],
        ),
        "shot" => ("shot", &[("who", "who"), ("launcher", "launcher")]),
        "dry-fire" => (
            "dry_fire",
            &[("who", "who"), ("launcher", "launcher"), ("of", "of")],
        ),
        "state" => ("state", &[("who", "who"), ("state", "state")]),
        "sense" if line.seen == Some(true) => (
            "sense",
            &[("who", "who"), ("whom", "whom"), ("sensor", "sensor")],
        ),
        "sense" => (
            "lose",
            &[("who", "who"), ("whom", "whom"), ("sensor", "sensor")],
        ),
        "appear" => ("appear", &[("who", "who")]),
        "vanish" if line.of.as_deref() == Some("reset") => ("vanish", &[("who", "who")]),
        "vanish" => ("vanish", &[("who", "who"), ("of", "of")]),
        "pickup" => ("pickup", &[("who", "who"), ("whom", "whom")]),
        "cue" => ("cue", &[("who", "who"), ("name", "cue")]),
        "death" => ("death", &[("who", "who"), ("by", "by"), ("of", "of")]),
        "gone" => ("gone", &[("who", "who")]),
        "respawn" => ("respawn", &[("who", "who"), ("at", "checkpoint")]),
        "checkpoint" => ("reach", &[("who", "who"), ("at", "checkpoint")]),
        "exit" => ("reach", &[("who", "who"), ("at", "exit")]),
        "reset" => ("reset", &[("who", "who")]),
        "input" => (
            "input",
            &[("who", "who"), ("button", "button"), ("down", "down")],
        ),
        "ignored" => (
            "ignored",
            &[("who", "who"), ("button", "button"), ("of", "of")],
        ),
        "apply" => (
            "apply",
            &[("who", "who"), ("whom", "whom"), ("amount", "did")],
        ),
        "life" => ("lives", &[("who", "who"), ("passes", "after")]),
        "meter" => (
            "meter",
            &[("who", "owner"), ("meter", "meter"), ("passes", "after")],
        ),
        "outcome" => return None,
        other => panic!("no expectation can ask for `{other}`"),
    })
}

/// A column of a line, as it stands in a file.
fn column(line: &Line<'_>, name: &str) -> Option<String> {
    let text =
        |text: &Option<std::borrow::Cow<'_, str>>| text.as_deref().map(|text| format!("{text:?}"));
    match name {
        "who" => text(&line.who),
        "whom" => text(&line.whom),
        "owner" => text(&line.whom).or_else(|| text(&line.who)),
        "rule" => text(&line.rule),
        "verdict" => text(&line.verdict),
        "guard" => text(&line.guard),
        "attack" => text(&line.attack),
        "over" => text(&line.over),
        "launcher" => text(&line.launcher),
        "of" => text(&line.of),
        "state" => text(&line.state),
        "sensor" => text(&line.sensor),
        "cue" => text(&line.cue),
        "by" => text(&line.by),
        "checkpoint" => text(&line.checkpoint),
        "exit" => text(&line.exit),
        "button" => text(&line.button),
        "down" => line.down.map(|down| down.to_string()),
        "meter" => text(&line.meter),
        "despite" => text(&line.despite),
        "did" => line.amount.map(|amount| amount.to_string()),
        "after" => line.after.map(|after| after.to_string()),
        other => panic!("no column `{other}`"),
    }
}

/// Whether a line of a ledger is what an expectation made of another asks for.
fn alike(wanted: &Line<'_>, line: &Line<'_>) -> bool {
    let (Some((event, columns)), Some((other, _))) = (asked(wanted), asked(line)) else {
        return false;
    };
    // Who somebody launched hits, gives cues and is credited for them: by id that is the thing itself.
    let same = |name: &str| {
        let (wanted, here) = (column(wanted, name), column(line, name));
        wanted.is_none() || wanted == here || (name == "who" && launched_by(&wanted, &here, event))
    };
    let passes = |level: f64, line: &Line<'_>| {
        let (before, after) = (
            line.before.unwrap_or_default(),
            line.after.unwrap_or_default(),
        );
        (before > level && after <= level) || (before < level && after >= level)
    };
    // Whoever vanishes is gone, too.
    let is_such = event == other || (event, other) == ("gone", "vanish");
    is_such
        && columns.iter().all(|(_, name)| match *name {
            "after" => wanted.after.is_some_and(|level| passes(level, line)),
            // Absent, it asks for the beginning of an attack.
            "over" => column(wanted, name) == column(line, name),
            name => same(name),
        })
}

/// What an actor launched hits and gives cues for it.
fn launched_by(wanted: &Option<String>, here: &Option<String>, event: &str) -> bool {
    let (Some(wanted), Some(here)) = (wanted, here) else {
        return false;
    };
    let inner = |text: &str| text.trim_matches('"').to_owned();
    ["hit", "cue"].contains(&event) && inner(here).starts_with(&format!("{}.", inner(wanted)))
}

/// Each different expectation that the lines of a ledger give, with the line.
fn expectations<'l>(lines: &'l [Line<'l>]) -> BTreeMap<String, &'l Line<'l>> {
    let written = |line: &'l Line<'l>| {
        let (event, columns) = asked(line)?;
        let keys = columns
            .iter()
            .filter_map(|(key, name)| Some(format!("{key} = {}", column(line, name)?)));
        let keys: Vec<String> = keys.collect();
        Some((format!("{{ {event} = {{ {} }} }}", keys.join(", ")), line))
    };
    lines.iter().filter_map(written).collect()
}

fn lines(replay: &Replay) -> Vec<Line<'_>> {
    let events = replay.ledger().events().iter();
    events.map(|event| replay.line(event)).collect()
}

/// Holds what the lines of one drill can ask against two drills.
fn hold(one: &Replay, other: &Replay) {
    let told = lines(one);
    let elsewhere = lines(other);
    let all = expectations(&told);
    let text: Vec<&str> = all.keys().map(String::as_str).collect();
    let text = format!("edition = 1\nexpect = [{}]\n", text.join(",\n"));
    let beside = check_expectations(one.plan(), text.as_bytes());
    let plans = beside
        .expectations
        .unwrap_or_else(|| panic!("{}\n{text}", beside.findings));
    let plans: Vec<_> = plans.of(one.drill()).collect();
    assert_eq!(plans.len(), all.len());
    let (here, there) = (one.test_all(plans.clone()), other.test_all(plans));
    for (((written, line), here), there) in all.iter().zip(here).zip(there) {
        assert_eq!(here.miss, None, "{written}: {line:?}");
        let has = elsewhere.iter().any(|own| alike(line, own));
        assert_eq!(
            there.miss.is_none(),
            has,
            "{written} elsewhere: {:?}",
            there.miss
        );
    }
}

#[test]
fn every_line_of_the_demo_can_be_expected() {
    let mut events: BTreeMap<String, u32> = BTreeMap::new();
    for (_, shelf) in tin_crown::demo::FILES {
        let plan = tin_crown::check(shelf.as_bytes()).plan.expect("no errors");
        let replays: Vec<Replay> = plan
            .drills()
            .iter()
            .map(|drill| plan.replay(drill.name()).unwrap())
            .collect();
        for one in &replays {
            for line in lines(one) {
                *events.entry(line.event.into_owned()).or_default() += 1;
            }
            for other in &replays {
                hold(one, other);
            }
        }
    }
    assert!(events.len() >= 17, "the demo tells too little: {events:?}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn every_line_of_random_encounters_can_be_expected(encounter in prop_oneof![fight(), ambush()]) {
        // The same encounter with nothing pressed.
        let mut quiet = encounter.clone();
        quiet.drills.get_mut("d").expect("it is there").input.clear();
        let [one, other] = [&encounter, &quiet].map(|encounter| plan(encounter).replay("d").unwrap());
        hold(&one, &other);
    }

    #[test]
    fn every_line_of_what_hands_do_can_be_expected(
        encounter in prop_oneof![fight(), ambush()],
        hands in meddling(),
    ) {
        let mut run = Sim::open(&plan(&encounter), 0);
        while run.tick().0 < 120 {
            act(&mut run, &hands);
            run.step().expect("within the limits");
        }
        let mut handled = encounter.clone();
        handled.drills.insert("d".into(), run.into_drill().expect("it is kept"));
        let [one, other] = [&handled, &encounter].map(|encounter| plan(encounter).replay("d").unwrap());
        hold(&one, &other);
    }
}
