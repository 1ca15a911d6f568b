//! Playing by hand: time both ways, branches, numbers changed under the run, and what is kept of it.

use std::collections::BTreeMap;
use std::sync::Arc;

use proptest::prelude::*;
use tin_crown::demo::{ATTIC, FIRST_SHELF, SECOND_SHELF};
use tin_crown::encounter::{Action, Encounter};
use tin_crown::play::{DriveError, Session, Setup, explain_line};
use tin_crown::{Duration, Plan, Tick, What};

fn read(text: &str) -> (Encounter, Arc<Plan>) {
    let checked = tin_crown::check(text.as_bytes());
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{:?}", checked.findings));
    (checked.encounter.expect("it has a plan"), plan)
}

fn session(text: &str, drill: Option<&str>) -> Session {
    let (encounter, plan) = read(text);
    let setup = Setup {
        drill: drill.map(str::to_owned),
        seed: 7,
    };
    Session::new(&encounter, &plan, setup).expect("it can be played")
}

fn play(session: &mut Session, ticks: u32) {
    for _ in 0..ticks {
        session.play().expect("within the limits");
    }
}

/// The lines of what was played, as JSON.
fn lines(session: &Session) -> Vec<String> {
    let lines = session.run().record().lines;
    let json = lines
        .iter()
        .map(|line| serde_json::to_string(line).expect("plain data"));
    json.collect()
}

/// The hero walks 1 unit a tick; the thorn's tip at 36 to 44 is touched by the feet (4 each way) after 22 units more.
const STROLL: &str = r#"
edition = 1
title = "A stroll into a thorn"
arena = { bounds = { min = [0, 0], max = [200, 100] } }
[kind.walker]
side = "ours"
player = true
walk = { speed = 60 }
meter.health = { max = 3 }
hurtbox.feet = { size = [8, 8] }
invincible = { after_hit = "30t" }
[kind.thorn]
side = "theirs"
hitbox.tip = { size = [8, 8] }
[[place]]
kind = "walker"
id = "anna"
at = [10, 10]
[[place]]
kind = "walker"
id = "bert"
at = [10, 60]
[[place]]
kind = "thorn"
at = [40, 10]
[[rule]]
name = "thorn pricks"
hitbox = "thorn.tip"
hurtbox = "walker.feet"
damage = 1
[drill.both]
length = "60t"
input = [
  { when = "1t", who = "anna", hold = "right", for = "10t" },
  { when = "5t", who = "bert", hold = "right", for = "20t" },
]
[drill.later]
length = "60t"
begins = { drill = "both", shift = "10t" }
"#;

#[test]
fn what_is_pressed_is_played_kept_and_replayed() {
    let mut session = session(STROLL, None);
    assert_eq!(session.driven(), Some("anna"));
    assert!(session.press("jump", true).is_err(), "it has no jump");
    session.press("right", true).expect("a button");
    // Pressed before tick 1: it moves from tick 1 on, and is 22 units further at the end of tick 22. Touching edges
    // do not touch, so the hit is on 23; the window of 30 makes the next one 53.
    play(&mut session, 60);
    let hits = session.run().ledger().events().iter();
    let hits: Vec<u32> = hits
        .filter(|event| matches!(event.what, What::Hit(_)))
        .map(|event| event.tick.0)
        .collect();
    assert_eq!(&hits[..1], [23]);
    let kept = session.keep(Tick(60)).expect("it can be kept");
    assert_eq!(
        kept.drill.length,
        "1s".parse::<Duration>().expect("a duration")
    );
    let [input] = &kept.drill.input[..] else {
        panic!("{:?}", kept.drill.input);
    };
    assert_eq!(
        (input.who.as_str(), input.button.as_str()),
        ("anna", "right")
    );
    assert_eq!(
        (input.when.to_string().as_str(), input.action),
        ("0.017s", Action::Hold(None))
    );
    // Written out in the file it is the same ledger.
    let text = format!("{STROLL}\n{}", kept.drill.to_toml("felt"));
    let (_, plan) = read(&text);
    let replay = plan.replay("felt").expect("it is there");
    session
        .holds_against(&replay, Tick(60))
        .expect("the same lines");
    // A line's why is that of the same line of a replay.
    let hit = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.tick.0 == 23);
    let why = explain_line(&replay, hit.expect("the hit").id).expect("it replays");
    assert_eq!(why.expect("it is a hit").verdict, "landed");
}

#[test]
fn time_turned_back_makes_a_branch_and_undo_returns() {
    let mut session = session(STROLL, None);
    session.press("right", true).expect("a button");
    play(&mut session, 40);
    let first = lines(&session);
    session.seek(Tick(20)).expect("the past");
    assert_eq!((session.tick(), session.end()), (Tick(20), Tick(40)));
    // Watching it again changes nothing.
    session.seek(Tick(40)).expect("the end");
    assert_eq!(
        (lines(&session), session.branches().count()),
        (first.clone(), 1)
    );
    // Letting go in the past, and playing on: the thorn is not reached.
    session.seek(Tick(20)).expect("the past");
    session.press("right", false).expect("a button");
    play(&mut session, 30);
    assert_eq!((session.end(), session.branches().count()), (Tick(50), 2));
    assert_eq!(session.branch().from, Some((1, Tick(20))));
    assert!(!lines(&session).iter().any(|line| line.contains("\"hit\"")));
    session.switch(1).expect("it is kept");
    assert_eq!((session.tick(), lines(&session)), (Tick(40), first.clone()));
    // Undone: the change of branch, then the branch.
    assert!(session.undo().expect("it can"));
    assert_eq!((session.branch().id, session.tick()), (2, Tick(50)));
    assert!(session.undo().expect("it can"));
    assert_eq!((session.branch().id, lines(&session)), (1, first));
    assert!(!session.undo().expect("nothing is left"));
    // A button that is down all along is down on the new branch as well.
    session.seek(Tick(10)).expect("the past");
    session.press("right", true).expect("a button");
    play(&mut session, 5);
    assert_eq!(
        session
            .run()
            .actor(session.plan().actor("anna").expect("anna"))
            .at
            .x,
        25.0
    );
}

#[test]
fn others_go_on_by_a_drill_and_by_what_was_played() {
    for drill in ["both", "later"] {
        let shift = if drill == "later" { 10.0 } else { 0.0 };
        let mut session = session(STROLL, Some(drill));
        play(&mut session, 20);
        let at = |session: &Session, id: &str| {
            let actor = session.plan().actor(id).expect("it is there");
            session.run().actor(actor).at.x
        };
        // Anna is driven, and stands; bert walks from tick 5 on: 16 ticks by now.
        assert_eq!(
            (at(&session, "anna"), at(&session, "bert")),
            (10.0, 26.0 - shift)
        );
        // Then bert is driven: what his drill pressed stays up to here, and then he stands.
        session.drive("bert").expect("he has buttons");
        session.press("left", true).expect("a button");
        session.press("left", false).expect("a button");
        play(&mut session, 10);
        assert_eq!(at(&session, "bert"), 25.0 - shift, "one tick to the left");
        // Anna walks while bert does again what he did.
        session.drive("anna").expect("she has buttons");
        session.seek(Tick(0)).expect("the beginning");
        session.press("right", true).expect("a button");
        play(&mut session, 30);
        assert!(session.press("left", false).is_ok());
        assert_eq!(at(&session, "bert"), 25.0 - shift);
        let kept = session.keep(Tick(30)).expect("the same lines");
        assert!(kept.drill.begins.0.is_empty());
        assert!(kept.drill.input.iter().any(|input| input.who == "bert"));
    }
    let mut session = session(STROLL, None);
    let DriveError::Nobody { known, .. } = session.drive("thorn").expect_err("it has no buttons")
    else {
        panic!("another error");
    };
    assert_eq!(known, ["anna", "bert"]);
}

#[test]
fn who_is_driven_from_now_on_did_on_every_branch_what_its_drill_did() {
    for drill in ["both", "later"] {
        let mut session = session(STROLL, Some(drill));
        play(&mut session, 50);
        let first = lines(&session);
        session.seek(Tick(12)).expect("the past");
        play(&mut session, 3);
        let second = lines(&session);
        session.drive("bert").expect("he has buttons");
        assert_eq!(lines(&session), second);
        // Bert let go on tick 25, or 35, which was not played on the second branch.
        session.switch(1).expect("it is kept");
        assert_eq!(
            (session.tick(), lines(&session)),
            (Tick(50), first),
            "{drill}"
        );
        session.keep(Tick(50)).expect("the same lines");
    }
}

#[test]
fn a_number_is_changed_under_the_run_and_given_back() {
    let mut session = session(STROLL, None);
    session.press("right", true).expect("a button");
    play(&mut session, 40);
    let before = lines(&session);
    let speed = "kind.walker.walk.speed".parse().expect("a path");
    // Half as fast, the thorn is not reached in 40 ticks.
    let changed = session.set(&speed, 30.0).expect("a speed");
    assert_eq!((session.tick(), changed.first), (Tick(40), Some(23)));
    assert!(changed.lines[0].starts_with("gone"), "{:?}", changed.lines);
    let kept = session.keep(Tick(40)).expect("the same lines");
    assert_eq!(
        kept.replay.ledger().events().len(),
        session.run().ledger().len() + 1
    );
    // As it is in the file, it is not changed.
    session.set(&speed, 60.0).expect("a speed");
    assert_eq!(
        (lines(&session), session.changes().len()),
        (before.clone(), 0)
    );
    assert!(session.undo().expect("it can"));
    assert_eq!(session.changes().len(), 1);
    // What makes no sense changes nothing.
    let error = session.set(&speed, -1.0).expect_err("no speed");
    assert!(error.to_string().contains("between"), "{error}");
    let nowhere = "kind.walker.walk.sped".parse().expect("a path");
    assert!(session.set(&nowhere, 1.0).is_err());
    assert_eq!(session.changes().len(), 1);
    assert!(session.undo().expect("it can"));
    assert_eq!(
        (lines(&session), session.changes().len()),
        (before.clone(), 0)
    );
    // Nor does what `check` refuses of the file: a body that would stand within the floor.
    let floor = "max = [200, 100] }, solids = [{ min = [0, 0], max = [200, 2] }]";
    let walled = STROLL.replacen("max = [200, 100] }", floor, 1);
    let walled = walled.replacen("walk = {", "body = { size = [8, 8] }\nwalk = {", 1);
    let mut walled = self::session(&walled, None);
    let high = "kind.walker.body.size[2]".parse().expect("a path");
    assert!(walled.set(&high, 12.0).is_ok());
    let error = walled.set(&high, 20.0).expect_err("8 to 2 is less than 10");
    assert!(error.to_string().contains("solid"), "{error}");
    // A file saved meanwhile is taken over, and what is changed here stays changed.
    session.set(&speed, 30.0).expect("a speed");
    let (encounter, plan) = read(&STROLL.replace("damage = 1", "damage = 2"));
    let (changed, lost) = session.reread(&encounter, &plan).expect("it makes sense");
    assert!(changed.lines.is_empty() && lost.is_empty(), "{changed:?}");
    assert_eq!(session.changes().len(), 1);
    // Once the file says so as well, nothing is changed any more.
    let (encounter, plan) = read(&STROLL.replace("speed = 60", "speed = 30"));
    session.reread(&encounter, &plan).expect("it makes sense");
    assert_eq!(session.changes().len(), 0);
    // Without the kind there is nobody to press for: said, and the run goes on.
    let (encounter, plan) = read(&STROLL.replace("anna", "carl"));
    let (changed, _) = session.reread(&encounter, &plan).expect("it makes sense");
    assert_eq!((changed.unfit, session.driven()), (1, Some("bert")));
    session.press("right", true).expect("a button");
    play(&mut session, 1);
}

#[test]
fn a_ghost_is_beside_and_where_they_part_is_told() {
    let mut session = session(STROLL, None);
    session.haunt(Some("both")).expect("a drill");
    // As the drill has it: right from 1 on for 10 ticks; bert does not walk from 5 on.
    session.press("right", true).expect("a button");
    play(&mut session, 4);
    assert_eq!(session.parting(), None);
    play(&mut session, 16);
    let parting = session.parting().expect("bert stands");
    assert_eq!((parting.tick, &*parting.who), (Tick(5), "bert"));
    let ghost: Vec<_> = session.ghost().expect("it is there").at(Tick(20)).collect();
    assert_eq!(
        (ghost[0].0, ghost[0].1.at.x, ghost[1].1.at.x),
        ("anna", 20.0, 26.0)
    );
    // Turned back to before, they have not parted yet.
    session.seek(Tick(3)).expect("the past");
    assert_eq!(session.parting(), None);
    session.haunt(None).expect("none");
    assert!(session.ghost().is_none());
}

#[test]
fn expectations_are_drafted_from_what_happened() {
    let mut session = session(STROLL, None);
    session.press("right", true).expect("a button");
    play(&mut session, 40);
    let kept = session.keep(Tick(40)).expect("it can be kept");
    let drafts = session.drafts(&kept).expect("they resolve");
    let said: Vec<&str> = drafts.iter().map(|draft| draft.said.as_str()).collect();
    assert_eq!(
        said,
        [
            "a hit that lands by thorn on anna by rule `thorn pricks`, at 0.383 s, tick 23, within 3 ticks",
            "the drill ends when time runs out",
            "health of anna is 2 at the end",
        ]
    );
    let mut drill = kept.drill.clone();
    drill.expect = drafts.into_iter().map(|draft| draft.expectation).collect();
    let (_, plan) = read(&format!("{STROLL}\n{}", drill.to_toml("felt")));
    let replay = plan.replay("felt").expect("it is there");
    assert!(replay.verify().iter().all(|tested| tested.miss.is_none()));
}

#[test]
fn every_drill_of_the_demo_goes_on_without_its_player() {
    for text in [FIRST_SHELF, SECOND_SHELF, ATTIC] {
        let (_, plan) = read(text);
        for drill in plan.all_drills() {
            let name = plan.drills()[drill.index()].name();
            let mut session = session(text, Some(name));
            play(&mut session, 90);
            session.seek(Tick(31)).expect("the past");
            play(&mut session, 30);
            session
                .keep(Tick(61))
                .unwrap_or_else(|error| panic!("{name}: {error}"));
        }
    }
}

#[test]
fn beside_a_recording_others_are_driven_up_to_its_end() {
    let text = STROLL.replace(
        "length = \"60t\"\ninput",
        "length = \"60t\"\ntrack = [{ file = \"bert.csv\", who = \"bert\" }]\ninput",
    );
    let text = text.replace(
        "  { when = \"5t\", who = \"bert\", hold = \"right\", for = \"20t\" },\n",
        "",
    );
    let rows = "time,x,y\n0,10,60\n30,40,60\n120,130,60\n";
    let files = BTreeMap::from([("bert.csv".to_owned(), rows.as_bytes().to_vec())]);
    let (encounter, plan) = read(&text);
    let drill = plan.drill("both").expect("it is there");
    let recorded = plan.record([drill], Arc::new(files));
    let plan = recorded
        .plan
        .unwrap_or_else(|| panic!("{}", recorded.findings));
    let setup = Setup {
        drill: Some("both".to_owned()),
        seed: 0,
    };
    let mut session = Session::new(&encounter, &plan, setup).expect("it can be played");
    // Bert is moved by his recording, a unit a tick; anna is driven.
    let players: Vec<String> = session.players().into_iter().map(|own| own.id).collect();
    assert_eq!(players, ["anna"]);
    session.press("right", true).expect("a button");
    play(&mut session, 20);
    let bert = plan.actor("bert").expect("bert");
    assert_eq!(session.run().actor(bert).at.x, 30.0);
    session.seek(Tick(10)).expect("the past");
    session.keep(Tick(10)).expect("the same lines");
    // Its drill is over on tick 60, and so is what is played.
    play(&mut session, 70);
    assert_eq!((session.tick(), session.end()), (Tick(60), Tick(60)));
    session.keep(Tick(60)).expect("the same lines");
}

/// Something that hands do.
#[derive(Clone, Debug)]
enum Does {
    Press(usize, bool),
    Play(u32),
    Seek(u32),
    Switch(usize),
    Undo,
    Set(u32),
}

fn does() -> impl Strategy<Value = Does> {
    prop_oneof![
        4 => (0..8usize, any::<bool>()).prop_map(|(button, down)| Does::Press(button, down)),
        5 => (1..60u32).prop_map(Does::Play),
        2 => (0..400u32).prop_map(Does::Seek),
        1 => (0..8usize).prop_map(Does::Switch),
        1 => Just(Does::Undo),
        1 => (20..90u32).prop_map(Does::Set),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Whatever was done, what was played is what a replay from the beginning gives.
    #[test]
    fn whatever_hands_do_what_is_kept_replays_the_same(all in prop::collection::vec(does(), 1..40)) {
        let mut session = session(ATTIC, None);
        let buttons = session.players()[0].buttons.clone();
        let path = "kind.beetle.motion.patrol.speed".parse().expect("a path");
        for one in all {
            match one {
                Does::Press(button, down) => session.press(&buttons[button % buttons.len()], down).expect("a button"),
                Does::Play(ticks) => play(&mut session, ticks),
                Does::Seek(tick) => session.seek(Tick(tick)).expect("the past"),
                Does::Switch(nth) => {
                    let id = session.branches().nth(nth).map(|branch| branch.id);
                    session.switch(id.unwrap_or(1)).expect("a branch");
                }
                Does::Undo => drop(session.undo().expect("it can")),
                Does::Set(speed) => drop(session.set(&path, f64::from(speed)).expect("a speed")),
            }
            prop_assert!(session.tick() <= session.end());
        }
        let kept = session.keep(session.tick());
        prop_assert!(kept.is_ok(), "{:?}", kept.err());
        prop_assert!(session.branches().count() <= 24);
    }
}

#[test]
fn what_a_longer_branch_was_like_is_not_taken_for_what_is_played_later() {
    // The first branch ends on 93, the second on 208; neither has a press. The first goes on with one after 162.
    let mut session = session(ATTIC, None);
    play(&mut session, 93);
    session.seek(Tick(78)).expect("the past");
    play(&mut session, 130);
    session.switch(1).expect("a branch");
    play(&mut session, 69);
    session.press("left", true).expect("a button");
    play(&mut session, 53);
    let played = lines(&session);
    session.seek(Tick(176)).expect("the past");
    session.seek(Tick(215)).expect("what was played");
    assert_eq!(lines(&session), played);
    assert!(session.keep(session.tick()).is_ok());
}
