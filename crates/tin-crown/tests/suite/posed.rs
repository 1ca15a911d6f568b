//! Drills told from their own poses: every actor stands where it stood, and the same hits come on the same ticks.

use std::sync::Arc;

use tin_crown::plan::{ActorIx, AttackIx, DrillIx, Pose};
use tin_crown::{Event, Plan, Sim, What};

use crate::written::encounters;

/// Where everyone stood on a tick, and the buttons that went down or up.
struct Tick {
    poses: Vec<(ActorIx, Pose)>,
    buttons: Vec<Event>,
}

/// A drill as a game would record it that plays it: of all that are placed, on each tick.
fn record(plan: &Arc<Plan>, drill: DrillIx) -> (Vec<Tick>, Vec<String>) {
    let mut sim = Sim::new(plan, drill);
    let mut began = vec![0u32; plan.actors().len()];
    let mut ticks = Vec::new();
    let mut before: Vec<ActorIx> = plan.cast().collect();
    while sim.step().expect("within the limits") {
        let events = sim.events();
        for event in events {
            if let (What::Attack { over: None, .. }, Some(who)) = (&event.what, event.who)
                && who.index() < began.len()
            {
                began[who.index()] += 1;
            }
        }
        // Who dies of a hit of this tick came there all the same.
        let there = std::mem::take(&mut before).into_iter();
        before.extend(plan.cast().filter(|actor| sim.actor(*actor).alive));
        let pose = |actor: ActorIx| {
            let view = sim.actor(actor);
            let attack = told_attack(&sim, actor);
            let mut pose = Pose::at(view.at)
                .height(view.height)
                .facing(view.facing)
                .velocity(view.set_out)
                .rising(view.set_out_up)
                .grounded(view.grounded)
                .attack(attack)
                .count(began[actor.index()]);
            if let Some(state) = view.state {
                pose = pose.state(state);
            }
            (actor, pose)
        };
        let buttons = events
            .iter()
            .filter(|event| matches!(event.what, What::Input { .. }));
        ticks.push(Tick {
            poses: there.map(pose).collect(),
            buttons: buttons.cloned().collect(),
        });
    }
    let hits = hits(sim.ledger().events().iter(), &sim);
    (ticks, hits)
}

/// The attack that an actor is in, for whom a recording tells of the tick.
pub fn told_attack(sim: &Sim, actor: ActorIx) -> Option<AttackIx> {
    // Who was stunned after it decided was in its attack all the same.
    let cut = |event: &&Event| {
        let over = matches!(
            event.what,
            What::Attack {
                over: Some(true),
                ..
            }
        );
        over && event.who == Some(actor) && by_hit(sim, event)
    };
    let cut = sim.events().iter().find(cut).map(|event| match event.what {
        What::Attack { attack, .. } => attack,
        _ => unreachable!(),
    });
    let attack = sim.actor(actor).attack;
    attack.map(|(attack, _)| attack).or(cut)
}

fn by_hit(sim: &Sim, event: &Event) -> bool {
    let cause = event.cause.and_then(|line| sim.ledger().get(line));
    cause.is_some_and(|cause| matches!(cause.what, What::Hit(_)))
}

/// The hits that took effect, as text.
pub fn hits<'e>(events: impl Iterator<Item = &'e Event>, sim: &Sim) -> Vec<String> {
    let hits = events.filter(|event| match &event.what {
        What::Hit(hit) => hit.verdict.took_effect(),
        _ => false,
    });
    let told = hits.map(|event| {
        let line = sim.line(event);
        format!(
            "{} {} {} {} {} {}",
            line.tick,
            line.who.unwrap_or_default(),
            line.whom.unwrap_or_default(),
            line.rule.unwrap_or_default(),
            line.verdict.unwrap_or_default(),
            line.amount.unwrap_or_default(),
        )
    });
    told.collect()
}

fn play(plan: &Arc<Plan>, drill: DrillIx, ticks: &[Tick]) -> Vec<String> {
    let mut run = Sim::open(plan, plan.drills()[drill.index()].seed());
    for tick in ticks {
        for (actor, pose) in &tick.poses {
            run.pose(*actor, *pose).expect("it stood there");
        }
        for event in &tick.buttons {
            if let (What::Input { button, down }, Some(who)) = (&event.what, event.who) {
                run.press(who, *button, *down).expect("it was pressed");
            }
        }
        run.step().expect("within the limits");
    }
    hits(run.ledger().events().iter(), &run)
}

#[test]
fn a_drill_told_from_its_own_poses_has_the_same_hits_on_the_same_ticks() {
    let demo = tin_crown::demo::FILES.iter().map(|(name, text)| {
        let checked = tin_crown::check(text.as_bytes());
        ((*name).to_owned(), checked.plan.expect("no errors"))
    });
    let recipes = encounters("docs/recipes.md", include_str!("../../docs/recipes.md"));
    let mut drills = 0;
    for (name, plan) in demo.chain(recipes) {
        for drill in plan.all_drills() {
            let (ticks, expected) = record(&plan, drill);
            let hits = play(&plan, drill, &ticks);
            assert_eq!(
                hits,
                expected,
                "{name}, {}",
                plan.drills()[drill.index()].name()
            );
            drills += 1;
        }
    }
    assert!(drills > 20, "{drills}");
}
