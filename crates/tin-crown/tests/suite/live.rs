//! Encounters driven from outside.

use std::sync::Arc;

use proptest::prelude::*;
use tin_crown::plan::{ActorIx, DrillIx};
use tin_crown::{Encounter, Line, Live, Plan, Sim};

use crate::ambushes::ambush;
use crate::fights::fight_in_every_direction;
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

/// Drives what a drill plays by hand, up to its end; its lines.
fn by_hand(plan: &Arc<Plan>, drill: DrillIx) -> (Live, Vec<String>) {
    let drill = &plan.drills()[drill.index()];
    let mut run = Sim::open(plan, drill.seed());
    let mut lines = Vec::new();
    let mut edges = drill.edges().iter().peekable();
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
        run.step().expect("within the limits");
        told_all(&mut run);
    }
    (run, lines)
}

#[test]
fn a_drill_driven_by_hand_gives_its_lines_and_comes_out_as_it_was() {
    let mut drills = 0;
    for text in [tin_crown::demo::FIRST_SHELF, tin_crown::demo::SECOND_SHELF] {
        let checked = tin_crown::check(text.as_bytes());
        let (plan, encounter) = (
            checked.plan.expect("no errors"),
            checked.encounter.expect("no errors"),
        );
        for nth in 0..plan.drills().len() {
            let drill = plan.drill(plan.drills()[nth].name()).expect("it is there");
            let own = &plan.drills()[nth];
            if !own.later().is_empty() || !own.told().is_empty() {
                continue;
            }
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
    assert!(drills >= 5, "{drills}");
}

/// The encounter with a run as its drill `kept`.
fn again(encounter: &Encounter, run: Live) -> Arc<Plan> {
    let mut encounter = encounter.clone();
    encounter.drills.insert("kept".into(), run.into_drill());
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

/// Buttons that go to and fro: on which tick, the places of the actor and of the button, and whether it is
/// down.
pub type Presses = Vec<(u32, usize, usize, bool)>;

pub fn presses() -> impl Strategy<Value = Presses> {
    let press = (1..120u32, 0..3usize, 0..8usize, any::<bool>());
    prop::collection::vec(press, 0..60)
}

/// Does what is to be done before the next tick.
pub fn press(run: &mut Live, presses: &Presses) {
    let (plan, next) = (Arc::clone(run.plan()), run.tick().0 + 1);
    let cast: Vec<ActorIx> = plan.cast().collect();
    for (_, who, button, down) in presses.iter().filter(|(at, ..)| *at == next) {
        // Not everyone has every button.
        if let Ok(button) = plan.button(NAMES[*button]) {
            let _ = run.press(cast[who % cast.len()], button, *down);
        }
    }
}

/// Plays random presses for two seconds.
fn play(plan: &Arc<Plan>, presses: &Presses, drains: bool) -> (Live, Vec<String>) {
    let mut run = Sim::open(plan, 7);
    let mut lines = Vec::new();
    let mut take = |run: &mut Live| {
        let ledger = run.drain();
        lines.extend(told(
            ledger.events().iter().map(|event| ledger.line(plan, event)),
        ));
    };
    while run.tick().0 < 120 {
        press(&mut run, presses);
        if drains {
            take(&mut run);
        }
        run.step().expect("within the limits");
    }
    take(&mut run);
    (run, lines)
}

const NAMES: [&str; 8] = [
    "left", "right", "jump", "attack", "guard", "shoot", "up", "down",
];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn random_presses_kept_as_a_drill_give_the_same_lines(
        encounter in prop_oneof![fight_in_every_direction(), ambush()],
        presses in presses(),
    ) {
        let plan = plan(&encounter);
        let (run, lines) = play(&plan, &presses, false);
        let (_, drained) = play(&plan, &presses, true);
        prop_assert_eq!(&lines, &drained, "drained as it goes");
        let kept = again(&encounter, run);
        let drill = kept.drill("kept").expect("it is there");
        prop_assert_eq!(of_drill(&kept, drill), lines);
    }
}
