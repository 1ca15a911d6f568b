//! Drills driven by recordings.

use std::collections::BTreeMap;
use std::fmt::Write;
use std::sync::Arc;

use tin_crown::track::Recorded;
use tin_crown::{Facing, Findings, Replay, Sim, Snapshot, check};

/// The files that an encounter of a test names.
pub fn files<const N: usize>(all: [(&str, &str); N]) -> Arc<BTreeMap<String, Vec<u8>>> {
    let own = all.map(|(name, text)| (name.to_owned(), text.as_bytes().to_vec()));
    Arc::new(BTreeMap::from(own))
}

/// A plan with the recordings of its drills, and what was found in them.
fn recorded<const N: usize>(text: &str, all: [(&str, &str); N]) -> Recorded {
    let checked = check(text.as_bytes());
    let plan = checked
        .plan
        .unwrap_or_else(|| panic!("{}", checked.findings));
    plan.record(plan.all_drills(), files(all))
}

fn replayed<const N: usize>(text: &str, all: [(&str, &str); N]) -> Replay {
    let Recorded { plan, findings, .. } = recorded(text, all);
    let plan = plan.unwrap_or_else(|| panic!("{findings}"));
    let first = plan.drills()[0].name().to_owned();
    plan.replay(&first).expect("within the limits")
}

/// The lines of a replay about those events, in short; of hits those that landed.
fn told(replay: &Replay, names: &[&str]) -> Vec<String> {
    let all = replay.ledger().events().iter();
    let all = all.map(|event| replay.line(event));
    let lines = all.filter(|line| {
        let landed = line.verdict.as_deref().is_none_or(|word| word == "landed");
        landed && names.contains(&&*line.event) && line.who.as_deref() != Some("spare")
    });
    let lines = lines.map(|line| {
        let who = line.who.unwrap_or_default();
        let whom = line.whom.map_or(String::new(), |whom| format!(" {whom}"));
        format!("{} {} {who}{whom}", line.tick, line.event)
    });
    lines.collect()
}

/// A hero who is told, and a beetle of ours that stands at 100 with horns 20 wide.
const STAGE: &str = r##"
edition = 1
title = "A recorded hero"
[arena]
bounds = { min = [0, 0], max = [400, 200] }
[kind.hero]
side = "crown"
meter.health = { max = 9 }
hurtbox.torso = { size = [10, 20] }
hitbox.fists = { size = [10, 10], at = [10, 0] }
attack.punch = { startup = "1t", active = "2t", recovery = "1t", live = ["fists"] }
state.calm = {}
state.wild = {}
starts = "calm"
[kind.beetle]
side = "attic"
meter.health = { max = 9 }
hitbox.horns = { size = [20, 20] }
hurtbox.lid = { size = [20, 20] }
[kind.cork]
meter.health = { max = 1 }
hitbox.tip = { size = [4, 4] }
hurtbox.side = { size = [4, 4] }
[[place]]
kind = "hero"
id = "hero"
at = [10, 50]
[[place]]
kind = "beetle"
id = "beetle"
at = [100, 50]
[[place]]
kind = "cork"
id = "spare"
at = [390, 190]
[[rule]]
name = "gore"
hitbox = "beetle.horns"
hurtbox = "hero.torso"
repeat = "once-per-touch"
damage = 1
[[rule]]
name = "punch"
hitbox = "hero.fists"
hurtbox = "beetle.lid"
damage = 1
[[rule]]
name = "pop"
hitbox = "cork.tip"
hurtbox = "beetle.lid"
damage = 2
"##;

fn stage(drill: &str) -> String {
    format!("{STAGE}\n{drill}\n")
}

/// A drill of one recording of the hero.
fn run(length: &str, track: &str) -> String {
    stage(&format!(
        "[drill.run]\nlength = \"{length}\"\n[[drill.run.track]]\nfile = \"run.csv\"\n{track}"
    ))
}

#[test]
fn between_two_rows_an_actor_is_on_the_straight_line() {
    // From x = 40 on tick 0 to 130 on tick 9 at 10 a tick. Its edge at +5 meets the horns' at 90 when x = 85: on the
    // way from 80 (tick 4) to 90 (tick 5), so it is gored on tick 5.
    let text = run("12t", "who = \"hero\"");
    let replay = replayed(&text, [("run.csv", "time,x,y\n0,40,50\n9,130,50\n")]);
    assert_eq!(
        told(&replay, &["hit", "vanish"]),
        // After its last row it is absent.
        ["5 hit beetle hero", "10 vanish hero"]
    );
}

#[test]
fn what_a_recording_does_not_have_is_absent() {
    // Rows from tick 4 to 6, then from 40 on: more than the gap of 30 apart.
    let rows = "time,x,y\n4,100,50\n6,100,50\n40,100,50\n42,100,50\n";
    let replay = replayed(&run("50t", "who = \"hero\""), [("run.csv", rows)]);
    assert_eq!(
        told(&replay, &["hit", "appear", "vanish"]),
        [
            "0 appear beetle",
            "4 appear hero",
            "4 hit beetle hero",
            "7 vanish hero",
            // Its memory of the pair is gone: it touches anew.
            "40 appear hero",
            "40 hit beetle hero",
            "43 vanish hero",
        ]
    );
    // And it can be expected, as whatever the ledger tells.
    let text = run("50t", "who = \"hero\"");
    let expect =
        "length = \"50t\"\nexpect = [{ vanish = { who = \"hero\", of = \"absent\" }, times = 2 }]";
    let text = text.replace("length = \"50t\"", expect);
    let expected = replayed(&text, [("run.csv", rows)]);
    let own = expected.plan().expectations().of(expected.drill());
    assert!(
        expected
            .test_all(own)
            .iter()
            .all(|tested| tested.miss.is_none())
    );
    // A longer gap bridges it.
    let replay = replayed(
        &run("50t", "who = \"hero\"\ngap = \"40t\""),
        [("run.csv", rows)],
    );
    assert_eq!(told(&replay, &["vanish"]), ["43 vanish hero"]);
}

#[test]
fn places_and_times_are_translated() {
    // Frames at 30 a second, so frame 102 is tick (102 - 100) * 2 = 4; y grows downward from the origin's 1000, in
    // centimetres: (1000 - 950) * 1 = 50.
    let track = r#"
        separator = ";"
        decimal = ","
        time = { unit = "frames", rate = 30, zero = 100 }
        columns = { time = "frame", who = "name", x = "px", y = "py", facing = "dir" }
        ids = { Player = "hero" }
        ignores = ["Camera"]
        up = "-y"
        scale = 100
        origin = [0, 10]
        facings = { W = "left" }
    "#;
    let rows = "\u{feff}name;frame;px;py;dir\nCamera;100;0;0;\nPlayer;102;0,5;9,5;W\nPlayer;104;2,5;9,5;\n";
    let Recorded { plan, findings, .. } = recorded(&run("10t", track), [("run.csv", rows)]);
    let plan = plan.unwrap_or_else(|| panic!("{findings}"));
    let mut sim = Sim::new(&plan, plan.drill("run").unwrap());
    let hero = plan.actor("hero").unwrap();
    let mut seen = Vec::new();
    while sim.step().unwrap() {
        let view = sim.actor(hero);
        if view.alive {
            seen.push((sim.tick().0, view.at.x, view.at.y, view.facing));
        }
    }
    assert_eq!(
        seen,
        [
            (4, 50.0, 50.0, Facing::Left),
            (5, 100.0, 50.0, Facing::Left),
            (6, 150.0, 50.0, Facing::Left),
            (7, 200.0, 50.0, Facing::Left),
            (8, 250.0, 50.0, Facing::Left),
        ]
    );
}

#[test]
fn attacks_states_and_buttons_are_told() {
    // Punch told on 2: active on 3 and 4, and its fists reach 15 ahead of 80.
    let track = r#"
        who = "hero"
        columns = { state = "state", attack = "attack", count = "nth" }
        states = { Rage = "wild", Idle = "calm" }
        attacks = { Hit1 = "punch" }
    "#;
    let rows = "time,x,y,state,attack,nth\n0,80,50,Idle,,\n2,80,50,Rage,Hit1,1\n5,80,50,Rage,Hit1,1\n\
                6,80,50,Rage,Hit1,2\n11,80,50,Rage,,\n";
    let replay = replayed(&run("11t", track), [("run.csv", rows)]);
    assert_eq!(
        told(&replay, &["hit", "attack", "state"]),
        [
            "2 state hero",
            "2 attack hero",
            "3 hit hero beetle",
            "6 attack hero",
            "6 attack hero",
            "7 hit hero beetle",
            "10 attack hero",
        ]
    );
}

#[test]
fn what_has_no_id_is_introduced() {
    let track = r#"
        columns = { kind = "type", maker = "owner" }
        introduces = { Bullet = "cork" }
    "#;
    // b1 flies 20 a tick from 50 into the beetle, whose lid is from 90 to 110: its tip reaches 92 on the way to 110,
    // and ends there as nothing says it is a shot. b1 is used again 40 ticks later.
    let rows = "time,who,x,y,type,owner\n0,hero,20,50,,\n1,b1,50,50,Bullet,hero\n2,b1,70,50,Bullet,hero\n\
                3,b1,90,50,Bullet,hero\n10,hero,20,50,,\n20,hero,20,50,,\n40,hero,20,50,,\n43,b1,100,50,Bullet,\n44,b1,100,50,Bullet,\n";
    let replay = replayed(&run("60t", track), [("run.csv", rows)]);
    assert_eq!(
        told(&replay, &["hit", "appear", "vanish"]),
        [
            "0 appear beetle",
            "0 appear hero",
            "1 appear b1",
            "3 hit b1 beetle",
            "4 vanish b1",
            "41 vanish hero",
            "43 appear b1.2",
            "43 hit b1.2 beetle",
            "44 hit b1.2 beetle",
            "45 vanish b1.2",
        ]
    );
    let mut hits = replay
        .ledger()
        .events()
        .iter()
        .filter(|event| event.what.name() == "hit");
    assert_eq!(
        replay.id(replay.root(hits.next().unwrap().who.unwrap())),
        "hero"
    );
}

#[test]
fn no_id_is_given_twice() {
    let track = "columns = { kind = \"type\" }\nintroduces = { Bullet = \"cork\" }\ngap = \"2t\"";
    // `b` again after its end would be `b.2`, which another is called already.
    let rows = "time,who,x,y,type\n0,b.2,50,90,Bullet\n1,b,60,90,Bullet\n9,b,60,90,Bullet\n20,b.2,50,90,Bullet\n";
    let replay = replayed(&run("30t", track), [("run.csv", rows)]);
    let came = told(&replay, &["appear"]);
    assert_eq!(
        came[2..],
        [
            "0 appear b.2",
            "1 appear b",
            "9 appear b.3",
            "20 appear b.2.2"
        ]
    );
    // What a launcher of ours gives is no name for another.
    let gun = "launcher.pop = { launches = \"cork\", clock = { every = \"1s\" } }\n[kind.cork]\nlifetime = \"1s\"";
    let rows = "time,who,x,y,type\n0,beetle.pop.1,50,90,Bullet\n";
    let armed = run("9t", track).replacen("[kind.cork]", gun, 1);
    let found = recorded(&armed, [("run.csv", rows)]);
    assert_eq!(codes(&found.findings), ["0: duplicate run.csv:2:3"]);
}

/// Times and gaps beyond all measure take no memory, and end.
#[test]
fn what_is_far_beyond_the_drill_is_not_waited_for() {
    let track = "who = \"hero\"\nbuttons = { jump = \"j\" }\ngap = \"999999999t\"";
    let text = run("9t", track).replacen(
        "hurtbox.torso",
        "walk = { speed = 9, jump = 9 }\nhurtbox.torso",
        1,
    );
    let rows = "time,x,y,j\n0,40,50,0\n3,40,50,1\n999999990,40,50,1\n999999990.4,40,50,0\n";
    let replay = replayed(&text, [("run.csv", rows)]);
    assert_eq!(told(&replay, &["input", "vanish"]), ["3 input hero"]);
}

#[test]
fn a_teleport_has_no_way() {
    let rows = "time,x,y,jump\n0,40,50,0\n1,160,50,1\n2,160,50,0\n";
    let track = "who = \"hero\"\ncolumns = { teleport = \"jump\" }";
    let replay = replayed(&run("2t", track), [("run.csv", rows)]);
    assert!(told(&replay, &["hit"]).is_empty());
    // Without the word it went right through.
    let found = recorded(&run("2t", "who = \"hero\""), [("run.csv", rows)]);
    assert_eq!(codes(&found.findings), ["1: too-fast run.csv:3:1"]);
    let replay = replayed(&run("2t", "who = \"hero\""), [("run.csv", rows)]);
    assert_eq!(told(&replay, &["hit"]), ["1 hit beetle hero"]);
}

fn codes(findings: &Findings) -> Vec<String> {
    let all = findings.iter().map(|finding| {
        let severity = finding.severity as usize;
        let (line, column) = finding.line_column.unwrap_or_default();
        match &finding.row {
            Some(row) => format!("{severity}: {} {}:{line}:{column}", finding.code, row.file),
            None => format!("{severity}: {} {}", finding.code, finding.path),
        }
    });
    all.collect()
}

#[test]
fn what_is_wrong_with_a_recording_is_found_with_its_line() {
    let whole = "who = \"hero\"";
    for (track, rows, expected) in [
        (
            whole,
            "time,x,y\n0,40,50\n1,forty,50\n",
            "0: bad-row run.csv:3:3",
        ),
        (whole, "time,x,y\n0,40,50\n1,41\n", "0: bad-row run.csv:3:1"),
        (whole, "time,x,y\n0,nan,50\n", "0: bad-row run.csv:2:3"),
        (
            whole,
            "time,note,x,y\n0,\"a,b\",4O,50\n",
            "0: bad-row run.csv:2:9",
        ),
        (
            whole,
            "time,x,y\n2,40,50\n1,40,50\n",
            "0: out-of-order run.csv:3:1",
        ),
        (
            whole,
            "time,x,y\n1,40,50\n1,41,50\n",
            "1: same-time run.csv:3:1",
        ),
        (
            whole,
            "time,x,y\n1,40,50\n35,41,50\n",
            "2: track-gap run.csv:3:1",
        ),
        (
            whole,
            "time,px,y\n0,40,50\n",
            "0: unknown-name drill.run.track[1].columns.x",
        ),
        (
            whole,
            "time,x,y\n",
            "0: nothing-told drill.run.track[1].file",
        ),
        (
            whole,
            "time,x,y\n-9,40,50\n-3,40,50\n",
            "0: nothing-told drill.run.track[1].file",
        ),
        (
            whole,
            "time,x,y\n0,40,-50\n1,40,-50\n",
            "1: outside-arena drill.run.track[1].file",
        ),
        // Ten rows a sixtieth of a tick apart.
        (
            whole,
            "time,x,y\n0,1,1\n.02,1,1\n.03,1,1\n.05,1,1\n.07,1,1\n.08,1,1\n.1,1,1\n.12,1,1\n.13,1,1\n.15,1,1\n",
            "1: time-unit drill.run.track[1].file",
        ),
        // Two decimal commas.
        (whole, "time,x,y\n0,40,5,50,0\n", "0: bad-row run.csv:2:1"),
        (
            whole,
            "time,x,y,x\n0,40,50,60\n",
            "0: duplicate drill.run.track[1].columns.x",
        ),
        (
            "columns = { kind = \"k\" }\nintroduces = { b = \"cork\", w = \"beetle\" }",
            "time,who,x,y,k\n0,z,40,50,b\n1,z,40,50,w\n",
            "1: reused-name run.csv:3:11",
        ),
        (whole, "", "0: unknown-name drill.run.track[1].columns.time"),
        (
            whole,
            "time,x,y\n0,1,1\n90,1,1\n",
            "2: beyond-end drill.run.track[1].file",
        ),
        (
            "",
            "time,who,x,y\n0,herro,40,50\n",
            "0: unknown-name run.csv:2:3",
        ),
        ("", "time,who,x,y\n0,,40,50\n", "0: bad-row run.csv:2:3"),
        (
            "file = \"gone.csv\"\nwho = \"hero\"",
            "",
            "0: unreadable drill.run.track[1].file",
        ),
        (
            "columns = { kind = \"k\" }\nintroduces = { b = \"cork\" }",
            "time,who,x,y,k\n0,z,40,50,q\n",
            "0: unknown-name run.csv:2:11",
        ),
        (
            "columns = { state = \"s\" }\nwho = \"hero\"",
            "time,x,y,s\n0,40,50,wld\n",
            "0: bad-row run.csv:2:9",
        ),
    ] {
        let text = match track.starts_with("file") {
            true => run("60t", "").replace("file = \"run.csv\"", track),
            false => run("60t", track),
        };
        let Recorded { plan, findings, .. } = recorded(&text, [("run.csv", rows)]);
        let codes = codes(&findings);
        assert!(
            codes.iter().any(|code| code == expected),
            "{expected}: {codes:?}"
        );
        assert_eq!(
            plan.is_none(),
            codes.iter().any(|code| code.starts_with('0')),
            "{codes:?}"
        );
    }
}

#[test]
fn two_recordings_tell_different_things_of_one_actor() {
    let other = |columns: &str| {
        let more = format!("[[drill.run.track]]\nfile = \"more.csv\"\nwho = \"hero\"\n{columns}");
        run("9t", &format!("who = \"hero\"\n{more}"))
    };
    let run_csv = ("run.csv", "time,x,y\n0,40,50\n9,40,50\n");
    let again = recorded(&other(""), [run_csv, ("more.csv", "time,x,y\n0,40,50\n")]);
    assert_eq!(codes(&again.findings), ["0: told-twice more.csv:2:1"]);
}

/// A hero whom a spike kills at x = 100, and who comes back 10 ticks after its death of 5.
fn mortal(resets: &str, rows: &str) -> Replay {
    let text = format!(
        r##"
edition = 1
title = "Back where the game has it"
[arena]
bounds = {{ min = [0, 0], max = [400, 200] }}
[kind.hero]
player = true
meter.health = {{ max = 1 }}
hurtbox.torso = {{ size = [10, 20] }}
respawn = {{ delay = "10t", resets = "{resets}" }}
[[kind.hero.death]]
after = "5t"
[kind.spike]
hitbox.tip = {{ size = [10, 10] }}
[kind.pea]
hurtbox.skin = {{ radius = 1 }}
[[place]]
kind = "hero"
at = [10, 50]
[[place]]
kind = "spike"
at = [100, 50]
[[rule]]
name = "prick"
hitbox = "spike.tip"
hurtbox = "hero.torso"
damage = 1
[drill.run]
length = "60t"
afterwards = "goes-on"
track = [{{ file = "run.csv", introduces = {{ Pea = "pea" }}, columns = {{ kind = "kind" }}, gap = "8t" }}]
"##
    );
    replayed(&text, [("run.csv", rows)])
}

/// The hero walks into the spike on tick 4, and is at 200 + tick from tick 8 on; a pea lies about.
fn walk(leaves_out: std::ops::RangeInclusive<u32>) -> String {
    let mut rows = "time,who,x,y,kind\n".to_owned();
    for tick in 0..=60u32 {
        let x = if tick < 8 { 60 + 8 * tick } else { 200 + tick };
        if !leaves_out.contains(&tick) {
            let _ = writeln!(rows, "{tick},hero,{x},50,");
        }
        let _ = writeln!(rows, "{tick},pea,300,20,Pea");
    }
    rows
}

#[test]
fn who_died_comes_back_where_its_recording_has_it() {
    // At 60 + 8 · 4 = 92 its edge at 97 is within the spike's 95 to 105: dead on 4, gone on 9, back on 19 at 219.
    let replay = mortal("self", &walk(61..=61));
    let back = |replay: &Replay| {
        let events = replay.ledger().events().iter();
        let appears = events.filter(|event| event.what.name() == "appear");
        let hero = appears.filter(|event| replay.id(event.who.unwrap()) == "hero");
        let all = hero.map(|event| (event.tick.0, event.at.unwrap().x));
        all.collect::<Vec<_>>()
    };
    assert_eq!(
        told(&replay, &["death", "gone", "respawn", "ignored"]),
        [
            "4 death hero",
            "5 ignored hero",
            "9 gone hero",
            "19 respawn hero"
        ]
    );
    assert_eq!(back(&replay), [(0, 60.0), (19, 219.0)]);
    // Where the recording has it nowhere, it is back and absent, and appears when it is told again.
    let replay = mortal("self", &walk(15..=30));
    assert_eq!(
        told(&replay, &["respawn", "outcome"]),
        ["19 respawn hero", "60 outcome "]
    );
    assert_eq!(back(&replay), [(0, 60.0), (31, 231.0)]);
}

#[test]
fn a_reset_of_the_encounter_turns_no_recording_back() {
    // On 19 all is put back: the pea is removed, the hero stands where the recording has it.
    let replay = mortal("encounter", &walk(61..=61));
    assert_eq!(
        told(&replay, &["reset", "vanish", "appear"]),
        [
            "0 appear hero",
            "0 appear spike",
            "0 appear pea",
            "19 vanish pea",
            "19 reset hero",
            "19 appear hero",
            "19 appear spike",
        ]
    );
    let last = replay.summary();
    assert!(last.ends.iter().all(|end| end.gone.is_none()), "{last:?}");
}

#[test]
fn a_recorded_drill_goes_on_from_a_snapshot() {
    let text = run(
        "40t",
        "columns = { kind = \"k\", maker = \"m\" }\nintroduces = { b = \"cork\" }",
    );
    let mut rows = "time,who,x,y,k,m\n".to_owned();
    for tick in 0..40 {
        let _ = writeln!(rows, "{tick},hero,{},50,,", 40 + 3 * tick);
        if tick % 12 > 3 {
            let _ = writeln!(rows, "{tick},shot,{},50,b,hero", 20 * (tick % 12));
        }
    }
    let recorded = recorded(&text, [("run.csv", &rows)]);
    let plan = recorded.plan.expect("no errors");
    let drill = plan.drill("run").unwrap();
    let whole = plan.replay("run").unwrap();
    let mut sim = Sim::new(&plan, drill);
    for _ in 0..17 {
        sim.step().unwrap();
    }
    let saved = sim.snapshot();
    let bytes = saved.to_bytes();
    while sim.step().unwrap() {}
    let digest = sim.digest();
    for saved in [
        saved,
        Snapshot::from_bytes(&plan, &bytes).expect("its own plan"),
    ] {
        sim.restore(&saved).expect("its own plan");
        assert_eq!(sim.tick().0, 17);
        while sim.step().unwrap() {}
        assert_eq!(sim.digest(), digest);
    }
    assert_eq!(whole.ledger().events().last(), sim.ledger().events().last());
}

#[test]
fn a_recording_too_long_to_be_kept_is_read_again() {
    const ACTORS: u32 = 100;
    const TICKS: u32 = 4_200;
    let mut rows = "time,who,x,y\n".to_owned();
    for tick in 0..=TICKS {
        for actor in 1..=ACTORS {
            let _ = writeln!(rows, "{tick},w_{actor},{},{}", actor * 4, tick % 100);
        }
    }
    let text = format!(
        r##"
edition = 1
title = "Many who go about"
[arena]
bounds = {{ min = [0, 0], max = [500, 200] }}
[kind.w]
hurtbox.torso = {{ radius = 1 }}
[[place]]
kind = "w"
id = "w"
at = [10, 50]
copies = {{ count = {ACTORS}, step = [1, 0] }}
[drill.run]
length = "{TICKS}t"
track = [{{ file = "run.csv" }}]
"##
    );
    let recorded = recorded(&text, [("run.csv", &rows)]);
    let plan = recorded.plan.expect("no errors");
    assert!(recorded.rows > tin_crown::limits::REPORTS_KEPT as u64);
    let mut sim = Sim::new(&plan, plan.drill("run").unwrap());
    let last = plan.actor("w_99").unwrap();
    let mut saved = sim.snapshot();
    while sim.step().unwrap() {
        let tick = sim.tick().0;
        assert_eq!(sim.actor(last).at.y, f64::from(tick % 100));
        if tick == 50 {
            sim.save(&mut saved);
        }
    }
    // Back to where the file was read long ago.
    sim.restore(&saved).expect("its own plan");
    sim.step().unwrap();
    assert_eq!((sim.tick().0, sim.actor(last).at.y), (51, 51.0));
}

mod broken {
    use super::*;
    use proptest::prelude::*;

    /// A recording that is well, in which something is broken.
    fn rows() -> impl Strategy<Value = Vec<u8>> {
        let well = "time,who,x,y,facing,kind,maker\n0,hero,10,50,left,,\n1,hero,12,50,right,,\n1,b1,20,50,left,Bullet,hero\n\
                    2,hero,14,50,right,,\n2,b1,40,50,left,Bullet,hero\n3,hero,16,50,left,,\n";
        let junk = prop_oneof![
            proptest::collection::vec(any::<u8>(), 0..12),
            Just(b"\"".to_vec()),
            Just(b",".to_vec()),
            Just(b"\n".to_vec()),
            Just(b"NaN".to_vec()),
            Just(b"1e999".to_vec()),
            Just(b"-1".to_vec()),
            Just(b"99999999999999999999".to_vec()),
        ];
        let cut = (0..well.len(), 0..12usize, junk);
        proptest::collection::vec(cut, 1..4).prop_map(move |cuts| {
            let mut bytes = well.as_bytes().to_vec();
            for (at, long, junk) in cuts {
                let at = at.min(bytes.len());
                let end = (at + long).min(bytes.len());
                bytes.splice(at..end, junk);
            }
            bytes
        })
    }

    fn track() -> String {
        let columns = "columns = { facing = \"facing\", kind = \"kind\", maker = \"maker\" }";
        run(
            "9t",
            &format!("{columns}\nintroduces = {{ Bullet = \"cork\" }}"),
        )
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(200))]

        /// However a number is written, it is the nearest that there is.
        #[test]
        fn a_number_is_read_as_it_is_written(text in "-?[0-9]{1,3}(\\.[0-9]{1,15})?(e-?1)?") {
            let rows = format!("time,x,y\n0,{text},50\n1,{text},50\n");
            let replay = replayed(&run("2t", "who = \"hero\""), [("run.csv", &rows)]);
            let lines = replay.ledger().events().iter().map(|event| replay.line(event));
            let hero = lines.into_iter().find(|line| line.who.as_deref() == Some("hero"));
            let x = hero.and_then(|line| line.x).expect("it appears");
            let parsed: f64 = text.parse().expect("a number");
            // Without the sign of 0, as in every ledger.
            prop_assert_eq!((x + 0.0).to_bits(), (parsed + 0.0).to_bits());
        }

        /// Whatever a recording is, it is played, or something is found; and what is found has its line.
        #[test]
        fn a_broken_recording_is_a_finding(bytes in rows(), json in any::<bool>()) {
            let mut text = track();
            if json {
                text = text.replace("run.csv", "run.jsonl");
            }
            let plan = check(text.as_bytes()).plan.expect("no errors");
            let name = if json { "run.jsonl" } else { "run.csv" };
            let files = BTreeMap::from([(name.to_owned(), bytes.clone())]);
            let recorded = plan.record(plan.all_drills(), Arc::new(files.clone()));
            match recorded.plan {
                Some(plan) => {
                    let replay = plan.replay("run").expect("within the limits");
                    prop_assert!(!replay.ledger().is_empty());
                }
                None => prop_assert!(recorded.findings.has_errors()),
            }
            for finding in &recorded.findings {
                if let Some(row) = &finding.row {
                    prop_assert!(row.line >= 1 && row.span.end <= row.text.len());
                    prop_assert!(row.text.is_char_boundary(row.span.start));
                }
            }
            // And as a hit log.
            let log = plan.read_log(plan.drill("run").unwrap(), Some(name), &files);
            prop_assert!(log.log.is_some() || log.findings.has_errors());
        }
    }
}
