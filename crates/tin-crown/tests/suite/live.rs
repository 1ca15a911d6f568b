//! Encounters driven from outside.

use std::sync::Arc;

use proptest::prelude::*;
use tin_crown::plan::{ActorIx, ButtonIx, DrillIx};
use tin_crown::{Encounter, Line, Live, Plan, Sim, What};

use crate::ambushes::ambush;
use crate::fights::fight_in_every_direction;
use crate::hands::{Hands, act, meddling, presses};
use crate::stage::{plan, plan_of};

/// The lines of a drill, but for the one that says that it ended.
fn of_drill(plan: &Arc<Plan>, drill: DrillIx) -> Vec<String> {
    let mut sim = Sim::new(plan, drill);
    while sim.step().expect("within the limits") {}
    let events = sim.ledger().events().iter();
    let lines = events.map(|event| sim.line(event));
    told(lines)
}

/// Lines as text, but for the one that says that a drill ended.
fn told<'l>(lines: impl Iterator<Item = Line<'l>>) -> Vec<String> {
    let lines = lines.filter(|line| line.outcome.as_deref() != Some("ended"));
    let texts = lines.map(|line| serde_json::to_string(&line).expect("plain data"));
    texts.collect()
}

/// What a drill plays besides its own edges, as its ledger tells: on which tick, whose button, and whether it is
/// down.
fn later(plan: &Arc<Plan>, drill: DrillIx) -> Vec<(u32, ActorIx, ButtonIx, bool)> {
    let own = &plan.drills()[drill.index()];
    if own.later().is_empty() {
        return Vec::new();
    }
    let replay = plan.replay(own.name()).expect("within the limits");
    let edges = own.edges();
    let is_own = |(tick, who, button, down): &(u32, ActorIx, ButtonIx, bool)| {
        edges.iter().any(|edge| {
            (edge.tick().0, edge.who(), edge.button(), edge.down()) == (*tick, *who, *button, *down)
        })
    };
    let told = replay
        .ledger()
        .events()
        .iter()
        .filter_map(|event| match (&event.what, event.who) {
            (What::Input { button, down }, Some(who)) => Some((event.tick.0, who, *button, *down)),
            _ => None,
        });
    told.filter(|told| !is_own(told)).collect()
}

/// Drives what a drill plays by hand, up to its end; its lines.
fn by_hand(plan: &Arc<Plan>, drill: DrillIx) -> (Live, Vec<String>) {
    let later = later(plan, drill);
    let drill = &plan.drills()[drill.index()];
    let mut run = Sim::open(plan, drill.seed());
    let mut lines = Vec::new();
    let mut edges = drill.edges().iter().peekable();
    let mut faces = drill.told().iter().peekable();
    let mut told_all = |run: &mut Live| {
        lines.extend(told(run.events().iter().map(|event| run.line(event))));
        run.drain();
    };
    told_all(&mut run);
    while run.tick() < drill.last() && (run.outcome().is_none() || drill.goes_on()) {
        let next = run.tick().0 + 1;
        while let Some(edge) = edges.next_if(|edge| edge.tick().0 == next) {
            run.press(edge.who(), edge.button(), edge.down())
                .expect("it has the button");
        }
        while let Some(told) = faces.next_if(|told| told.tick().0 == next) {
            run.face(told.who(), told.to()).expect("it rotates");
        }
        // What begins with an event is pressed as that comes about.
        for (_, who, button, down) in later.iter().filter(|(tick, ..)| *tick == next) {
            run.press(*who, *button, *down).expect("it has the button");
        }
        run.step().expect("within the limits");
        told_all(&mut run);
    }
    (run, lines)
}

#[test]
fn a_drill_driven_by_hand_gives_its_lines_and_comes_out_as_it_was() {
    let mut drills = 0;
    let recipes = include_str!("../../docs/recipes.md")
        .split("```toml\n")
        .skip(1);
    let recipes = recipes.filter_map(|rest| rest.split("```").next());
    let demo = tin_crown::demo::FILES.iter().map(|(_, text)| *text);
    for text in demo.chain(recipes.filter(|text| text.contains("edition = 1"))) {
        let checked = tin_crown::check(text.as_bytes());
        let (plan, encounter) = (
            checked.plan.expect("no errors"),
            checked.encounter.expect("no errors"),
        );
        for nth in 0..plan.drills().len() {
            let drill = plan.drill(plan.drills()[nth].name()).expect("it is there");
            let own = &plan.drills()[nth];
            drills += 1;
            let (run, lines) = by_hand(&plan, drill);
            // Presses that have no effect are told of a drill, but not of a hand.
            let expected = of_drill(&plan, drill);
            assert_eq!(lines, expected, "{}", own.name());
            let kept = again(&encounter, run);
            assert_eq!(
                of_drill(&kept, kept.drill("kept").expect("it is there")),
                expected
            );
        }
    }
    assert!(drills > 20, "{drills}");
}

/// The encounter with a run as its drill `kept`.
fn again(encounter: &Encounter, run: Live) -> Arc<Plan> {
    let mut encounter = encounter.clone();
    encounter
        .drills
        .insert("kept".into(), run.into_drill().unwrap());
    // Through its text.
    plan_of(&encounter.to_toml())
}

#[test]
fn a_press_between_two_ticks_lasts_one_and_a_release_and_a_press_are_a_new_one() {
    let plan = plan_of(
        "edition = 1\ntitle = \"taps\"\narena.bounds = { min = [0, 0], max = [99, 99] }\n\
         [kind.hero]\nwalk = { speed = 60 }\nhitbox.fist = { radius = 1 }\nattack.jab = { button = \"jab\", active = \"1t\", live = [\"fist\"] }\n\
         [[place]]\nkind = \"hero\"\nat = [9, 9]\n[drill.d]\nlength = \"1s\"",
    );
    let (hero, jab) = (plan.actor("hero").unwrap(), plan.button("jab").unwrap());
    let mut run = Sim::open(&plan, 0);
    let mut step = |presses: &[bool]| {
        for &down in presses {
            run.press(hero, jab, down).unwrap();
        }
        run.step().unwrap();
        let inputs = run.events().iter().map(|event| run.line(event));
        let inputs: Vec<bool> = inputs.filter_map(|line| line.down).collect();
        let begins = run.events().iter().map(|event| run.line(event));
        let mut begins = begins.filter(|line| line.event == "attack" && line.over.is_none());
        (inputs, begins.next().is_some())
    };
    // Down and up at once: down on this tick, up on the next.
    assert_eq!(step(&[true, false]), (vec![true], true));
    assert_eq!(step(&[]), (vec![false], false));
    // Held, it begins one attack; let go and pressed, another.
    assert_eq!(step(&[true]), (vec![true], true));
    assert_eq!(step(&[true]), (vec![], false));
    assert_eq!(step(&[false, true]), (vec![false, true], true));
    assert_eq!(step(&[false]), (vec![false], false));
    // To and fro between two ticks is one press, which is still held at the end of it.
    assert_eq!(step(&[true, false, true]), (vec![true], true));
    assert_eq!(step(&[]), (vec![], false));
    let error = run
        .press(hero, plan.button("jump").unwrap(), true)
        .unwrap_err();
    assert_eq!(
        error.to_string(),
        "`hero` has no button `jump`; it has left, right, up, down, jab"
    );
}

/// Plays what random hands do for two seconds.
fn play(plan: &Arc<Plan>, hands: &Hands, drains: bool) -> (Live, Vec<String>) {
    let mut run = Sim::open(plan, 7);
    let mut lines = Vec::new();
    let mut take = |run: &mut Live| {
        let ledger = run.drain();
        lines.extend(told(
            ledger.events().iter().map(|event| ledger.line(plan, event)),
        ));
    };
    while run.tick().0 < 120 {
        act(&mut run, hands);
        if drains {
            take(&mut run);
        }
        run.step().expect("within the limits");
    }
    take(&mut run);
    (run, lines)
}

#[test]
fn what_is_still_to_come_when_a_run_is_saved_is_kept_when_it_is_put_back() {
    use tin_crown::encounter::Effect;
    use tin_crown::plan::Pose;
    let checked = tin_crown::check(tin_crown::demo::FIRST_SHELF.as_bytes());
    let plan = checked.plan.expect("no errors");
    let porter = plan.actor("porter").expect("it is there");
    let mut run = Sim::open(&plan, 0);
    run.step().unwrap();
    // Before the snapshot, for the next tick; and something else after it, which is taken back.
    run.pose(porter, Pose::at([80.0, 30.0])).unwrap();
    run.apply(&Effect::damage_of(1.0), None, porter).unwrap();
    let saved = run.snapshot();
    run.apply(&Effect::damage_of(1.0), None, porter).unwrap();
    run.pose(porter, Pose::at([90.0, 30.0])).unwrap();
    run.step().unwrap();
    run.restore(&saved).unwrap();
    run.step().unwrap();
    let lines = told(run.ledger().events().iter().map(|event| run.line(event)));
    let drill = run.clone().into_drill().expect("it is kept");
    assert_eq!((drill.pose.len(), drill.apply.len()), (1, 1));
    let kept = again(&checked.encounter.expect("no errors"), run);
    assert_eq!(
        of_drill(&kept, kept.drill("kept").expect("it is there")),
        lines
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn what_random_hands_do_kept_as_a_drill_gives_the_same_lines(
        encounter in prop_oneof![fight_in_every_direction(), ambush()],
        hands in prop_oneof![presses(), meddling()],
    ) {
        let plan = plan(&encounter);
        let (run, lines) = play(&plan, &hands, false);
        let (_, drained) = play(&plan, &hands, true);
        prop_assert_eq!(&lines, &drained, "drained as it goes");
        let kept = again(&encounter, run);
        let drill = kept.drill("kept").expect("it is there");
        prop_assert_eq!(of_drill(&kept, drill), lines);
    }
}

#[test]
fn what_was_not_played_is_not_given_out() {
    let plan = plan_of(tin_crown::demo::FIRST_SHELF);
    let (porter, right) = (plan.actor("porter").unwrap(), plan.button("right").unwrap());
    let walked = |ticks: u32| {
        let mut run = Sim::open(&plan, 0);
        run.press(porter, right, true).unwrap();
        for _ in 0..ticks {
            run.step().unwrap();
        }
        run
    };
    // A later save of the same run, after it was put back to its beginning: what led there is not known any more.
    let mut run = Sim::open(&plan, 0);
    let start = run.snapshot();
    run.restore(&walked(60).snapshot()).unwrap();
    assert!(run.into_drill().is_none());
    // Back to a save of its own: what was played up to there.
    let mut run = walked(30);
    let saved = run.snapshot();
    for _ in 0..30 {
        run.step().unwrap();
    }
    run.restore(&saved).unwrap();
    let drill = run.into_drill().expect("it was played here");
    assert_eq!(drill.length.ticks(60).0, 30);
    // The same from bytes, in a run that was played alike.
    let bytes = tin_crown::Snapshot::from_bytes(&plan, &saved.to_bytes()).unwrap();
    let mut alike = walked(30);
    alike.restore(&bytes).unwrap();
    assert!(alike.into_drill().is_some());
    let mut anew = walked(10);
    anew.restore(&start).unwrap();
    assert!(
        anew.into_drill()
            .is_some_and(|drill| drill.input.is_empty())
    );
    // An open run is no replay of a drill.
    let error = (*walked(3)).clone().into_replay().err();
    assert!(matches!(error, Some(tin_crown::ReplayError::NoDrill)));
}

/// What a panic says; nothing when there is none.
fn panics<T>(what: impl FnOnce() -> T) -> Option<String> {
    let caught = std::panic::catch_unwind(std::panic::AssertUnwindSafe(what)).err()?;
    let text = caught.downcast::<String>().map(|text| *text);
    text.ok()
}

#[test]
fn who_is_gone_has_no_boxes_and_asking_for_it_is_told_as_such() {
    let plan = plan_of(
        "edition = 1\ntitle = \"yard\"\narena = { bounds = { min = [0, 0], max = [200, 100] } }\n\
         [kind.ann]\nplayer = true\nwalk = { speed = 9 }\nmeter.health = { max = 1 }\nhurtbox.torso = { radius = 5 }\n\
         launcher.throw = { launches = \"stone\", button = \"throw\", speed = 60 }\n\
         [kind.stone]\nhitbox.flint = { radius = 2 }\nlifetime = \"5t\"\n\
         [kind.bat]\nmeter.health = { max = 1 }\nhurtbox.wing = { radius = 5 }\nhitbox.fang = { radius = 5 }\n\
         [[place]]\nkind = \"ann\"\nat = [20, 50]\n[[place]]\nkind = \"bat\"\nat = [180, 50]\n\
         [[rule]]\nname = \"bite\"\nhitbox = \"bat.fang\"\nhurtbox = \"ann.torso\"\ndamage = 1\n\
         [[rule]]\nname = \"hurl\"\nhitbox = \"stone.flint\"\nhurtbox = \"bat.wing\"\ndamage = 1\n",
    );
    let (ann, bat) = (plan.actor("ann").unwrap(), plan.actor("bat").unwrap());
    let mut run = Sim::open(&plan, 0);
    run.press(ann, plan.button("throw").unwrap(), true).unwrap();
    let kill = tin_crown::encounter::Effect {
        kill: true,
        ..Default::default()
    };
    run.apply(&kill, None, bat).unwrap();
    run.step().unwrap();
    let stone = run
        .cast()
        .find(|actor| *actor != ann)
        .expect("it is launched");
    assert_eq!(run.cast().collect::<Vec<_>>(), [ann, stone]);
    // It was killed after its boxes were judged; from the next tick on there are none.
    run.step().unwrap();
    let live = run.actor(bat).live;
    assert_eq!((live.hit(), live.hurt()), (0, 0));
    let aside = panics(|| plan.spec(stone).hitboxes().len());
    assert!(aside.is_some_and(|told| told.contains("is none of the 2 that this plan places")));
    while run.cast().any(|actor| actor == stone) {
        run.step().unwrap();
    }
    // While its lines are there, so is its name.
    let scratch = tin_crown::encounter::Effect::damage_of(1.0);
    assert_eq!(run.id(stone), "ann.throw.1");
    assert!(run.apply(&scratch, None, stone).is_ok());
    run.step().unwrap();
    run.drain();
    run.step().unwrap();
    let error = run.apply(&scratch, None, stone).expect_err("it is gone");
    assert_eq!(error.to_string(), "actor 2 was launched and is gone");
    assert!(run.apply(&scratch, Some(stone), ann).is_err());
    for (what, told) in [
        (
            panics(|| run.actor(stone).at),
            "actor 2 is not there: it is gone",
        ),
        (panics(|| run.id(stone).len()), "actor 2 is none of the 2"),
        (
            panics(|| run.windows(stone).count()),
            "actor 2 is not there",
        ),
        (
            panics(|| run.is_down(stone, ButtonIx::new(0))),
            "actor 2 is none of the 2",
        ),
        (
            panics(|| ActorIx::new(1 << 40)),
            "is beyond any ActorIx: the last is 4294967295",
        ),
    ] {
        assert!(
            what.as_ref().is_some_and(|what| what.contains(told)),
            "{told}: {what:?}"
        );
    }
}
