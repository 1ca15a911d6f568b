//! What the tests have in common: small encounters, and ledgers read back.

use std::sync::Arc;

use tin_crown::sim::ActorView;
use tin_crown::{
    BoxSpec, Drill, Duration, Encounter, Event, Facing, Kind, Line, MeterSpec, Motion, Placement,
    Plan, Replay, Sim, Tick, Verdict, What,
};

pub fn time(text: &str) -> Duration {
    text.parse().expect("the tests write durations well")
}

/// A wide arena without gravity, and a drill called `d` of some length.
pub fn stage(rate: u32, length: &str) -> Encounter {
    Encounter::new("stage")
        .tick_rate(rate)
        .bounds([-2000.0, -2000.0], [2000.0, 2000.0])
        .drill("d", Drill::new(time(length)))
}

/// Someone with 4 health and a torso of 12 by 20, invincible for so long after a hit.
pub fn porter(after_hit: &str) -> Kind {
    Kind::new()
        .side("crown")
        .meter("health", MeterSpec::new(4.0))
        .hurtbox("torso", BoxSpec::rectangle(12.0, 20.0).at(0.0, 2.0))
        .invincible_after_hit(time(after_hit))
}

/// Someone with horns of 26 by 10.
pub fn beetle() -> Kind {
    Kind::new()
        .side("attic")
        .hitbox("horns", BoxSpec::rectangle(26.0, 10.0).at(0.0, -3.0))
}

/// A beetle that comes from the right at some speed.
pub fn coming(encounter: Encounter, speed: f64) -> Encounter {
    encounter
        .kind(
            "beetle",
            beetle().motion(Motion::patrol(-900.0, 900.0, speed)),
        )
        .place(Placement::new("beetle", [290.0, 24.0]).facing(Facing::Left))
}

pub fn plan(encounter: &Encounter) -> Arc<Plan> {
    match encounter.plan() {
        Ok(plan) => plan,
        Err(findings) => panic!("{findings}"),
    }
}

pub fn replay(encounter: &Encounter) -> Replay {
    plan(encounter).replay("d").expect("drill d")
}

pub fn jsonl(replay: &Replay) -> String {
    let mut out = Vec::new();
    replay
        .write_jsonl(&mut out, replay.ledger().events())
        .expect("memory takes it");
    String::from_utf8(out).expect("JSON is text")
}

/// The hits with a verdict: tick and rule.
pub fn with_verdict(replay: &Replay, verdict: Verdict) -> Vec<(u32, String)> {
    let named = |event: &Event| {
        let line = replay.line(event);
        (
            event.tick.0,
            line.rule.expect("hits have rules").into_owned(),
        )
    };
    let events = replay.ledger().events().iter();
    events
        .filter(|event| matches!(&event.what, What::Hit(hit) if hit.verdict == verdict))
        .map(named)
        .collect()
}

/// The ticks of the hits that landed.
pub fn landed(replay: &Replay) -> Vec<u32> {
    let landed = with_verdict(replay, Verdict::Landed).into_iter();
    landed.map(|(tick, _)| tick).collect()
}

/// The lines of one sort of event, as the ledger tells them: tick, who and whom.
pub fn told(replay: &Replay, name: &str) -> Vec<(u32, String)> {
    let events = replay.ledger().events().iter();
    events
        .filter(|event| event.what.name() == name)
        .map(|event| {
            let who = replay.line(event).who.unwrap_or_default().into_owned();
            (event.tick.0, who)
        })
        .collect()
}

/// Plays drill `d` and looks at an actor at the end of each tick.
pub fn watch<T>(
    encounter: &Encounter,
    id: &str,
    mut look: impl FnMut(Tick, ActorView<'_>) -> T,
) -> Vec<T> {
    let plan = plan(encounter);
    let actor = plan.actor(id).expect("the actor is there");
    let mut sim = Sim::new(&plan, plan.drill("d").expect("drill d"));
    let mut seen = vec![look(sim.tick(), sim.actor(actor))];
    while sim.step().expect("the ledger has room") {
        seen.push(look(sim.tick(), sim.actor(actor)));
    }
    seen
}

/// Equal up to the rounding of sums.
pub fn close(a: f64, b: f64) -> bool {
    (a - b).abs() < 1e-9
}

/// What is written replayed: its drill `d`.
pub fn text_replay(text: &str) -> Replay {
    plan_of(text).replay("d").expect("drill d")
}

/// The plan of an encounter as written.
pub fn plan_of(text: &str) -> Arc<Plan> {
    let checked = tin_crown::check(text.as_bytes());
    let Some(plan) = checked.plan else {
        panic!("{}\n{text}", checked.findings);
    };
    plan
}

/// All lines of what is written.
pub fn all_lines(text: &str) -> Vec<Line<'static>> {
    let replay = text_replay(text);
    let events = replay.ledger().events().iter();
    events
        .map(|event| {
            // Through its text, so that it is independent of the replay.
            let text = serde_json::to_string(&replay.line(event)).expect("plain data");
            serde_json::from_str(&text).expect("what was written")
        })
        .collect()
}

/// The lines of one sort of event of what is written.
pub fn lines(text: &str, event: &str) -> Vec<Line<'static>> {
    let lines = all_lines(text).into_iter();
    lines.filter(|line| line.event == event).collect()
}

/// Every drill of what is written meets its expectations, of which there are some.
pub fn assert_met(text: &str) {
    let plan = plan_of(text);
    for drill in plan.all_drills() {
        let replay = plan.replay(plan.drills()[drill.index()].name());
        let replay = replay.expect("within the limits");
        let tested = replay.verify().into_iter();
        let misses: Vec<_> = tested.filter_map(|tested| tested.miss).collect();
        assert!(plan.expectations().of(drill).next().is_some(), "{text}");
        assert!(misses.is_empty(), "{misses:?}\n{text}");
    }
}

/// Plays drill `d` of what is written, and looks at an actor, placed or launched, on each tick on
/// which it is there.
pub fn played<T>(text: &str, id: &str, mut look: impl FnMut(u32, ActorView<'_>) -> T) -> Vec<T> {
    let checked = tin_crown::check(text.as_bytes());
    let Some(plan) = checked.plan else {
        panic!("{}\n{text}", checked.findings);
    };
    let mut sim = Sim::new(&plan, plan.drill("d").expect("drill d"));
    let mut seen = Vec::new();
    loop {
        let found = sim.cast().find(|actor| sim.id(*actor) == id);
        if let Some(view) = found
            .map(|actor| sim.actor(actor))
            .filter(|view| view.alive)
        {
            seen.push(look(sim.tick().0, view));
        }
        if !sim.step().expect("within the limits") {
            return seen;
        }
    }
}
