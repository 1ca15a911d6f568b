//! Ticks at the edges of the rules: pauses, arrivals, presses that are none, what overlaps, and who is counted
//! for whom. Worked out on paper, at 60 ticks a second.

use tin_crown::{ReplayError, What};

use crate::dying::mortal;
use crate::stage::{lines, played, text_replay};

/// What holds of all encounters here.
pub fn arena(rest: &str) -> String {
    format!(
        "edition = 1\ntitle = \"edges\"\n[arena]\nbounds = {{ min = [0, 0], max = [400, 100] }}\n{rest}"
    )
}

pub fn ticks(text: &str, event: &str, who: &str) -> Vec<u32> {
    let all = lines(text, event).into_iter();
    all.filter(|line| line.who.as_deref() == Some(who))
        .map(|line| line.tick)
        .collect()
}

/// The changes of a meter: tick, before and after.
pub fn changes(text: &str, meter: &str) -> Vec<(u32, f64, f64)> {
    let all = lines(text, "meter").into_iter();
    all.filter(|line| line.meter.as_deref() == Some(meter))
        .map(|line| (line.tick, line.before.unwrap(), line.after.unwrap()))
        .collect()
}

/// A knight whose empty shield is paid each 60 ticks, and so many puddles that pause it for 10 ticks.
fn paused(puddles: u32, regen: &str, rest: &str) -> String {
    arena(&format!(
        r##"
[kind.knight]
meter.nerve = {{ max = 9 }}
meter.shield = {{ max = 9, start = 0, regen = {{ every = "60t", amount = 1, {regen} }} }}
hurtbox.all = {{ size = [10, 10] }}
[kind.puddle]
tags = ["mud"]
hitbox.mud = {{ size = [20, 4] }}
lifetime = "10t"
[[place]]
kind = "knight"
at = [50, 20]
[[place]]
kind = "puddle"
id = "p"
at = [50, 20]
copies = {{ count = {puddles}, step = [1, 0] }}
[drill.d]
length = "140t"
{rest}"##
    ))
}

#[test]
fn a_pause_is_a_tick_for_a_tick_however_many_pause() {
    let by_mud = r##"paused_by = ["#mud"]"##;
    let rule = "[[rule]]\nname = \"mud sticks\"\nhitbox = \"#mud.mud\"\nhurtbox = \"knight.all\"\n\
                damage = { amount = 1, meters = [\"nerve\"] }\n";
    // Touched on 0 … 9: ten ticks later than 60, and 60 after that. No rule need pair the boxes.
    for (puddles, rest) in [(1, ""), (2, ""), (3, rule)] {
        let text = paused(puddles, by_mud, rest);
        let paid = [(70, 0.0, 1.0), (130, 1.0, 2.0)];
        assert_eq!(changes(&text, "shield"), paid, "{puddles} {rest}");
    }
    // Nor does it count twice where a state pauses it too: in `waits` on phase 1 of 1 … 5.
    let state = "[kind.knight.state.waits]\ngo = [{ to = \"goes\", when = { after = \"5t\" } }]\n\
                 [kind.knight.state.goes]\n";
    let text = paused(2, r##"paused_by = ["#mud"], paused_in = ["waits"]"##, state)
        .replace("[kind.knight]\n", "[kind.knight]\nstarts = \"waits\"\n");
    assert_eq!(changes(&text, "shield")[0], (70, 0.0, 1.0));
    let text = text.replace("paused_by = [\"#mud\"], ", "");
    assert_eq!(changes(&text, "shield")[0], (65, 0.0, 1.0));
}

#[test]
fn a_loss_and_a_pause_on_one_tick_pay_a_tick_later() {
    // Hit on 0, whose loss puts the payment on 0 + 60; the puddle is there on 0 alone.
    let text = paused(
        1,
        r##"delay = "60t", paused_by = ["#mud"]"##,
        "[[rule]]\nname = \"mud bites\"\nhitbox = \"#mud.mud\"\nhurtbox = \"knight.all\"\n\
         damage = { amount = 1, meters = [\"shield\"] }\n",
    )
    .replace("start = 0", "start = 4")
    .replace("lifetime = \"10t\"", "lifetime = \"1t\"");
    assert_eq!(
        changes(&text, "shield"),
        [(0, 4.0, 3.0), (61, 3.0, 4.0), (121, 4.0, 5.0)]
    );
}

#[test]
fn motions_arrive_on_the_same_tick_wherever_they_run() {
    // 100 units at 50 a second: 120 ticks, and the mind sees it on the tick after. The steps of 5/6 of a
    // unit add up to a little less or more than 100, by where the motion begins.
    let mut placed = String::new();
    for (nth, x) in [0.0, 1.0, 64.0, 0.1, 33.3].into_iter().enumerate() {
        let (y, to) = (10 + 10 * nth, x + 100.0);
        placed += &format!(
            "[[place]]\nkind = \"tram\"\nid = \"tram_{nth}\"\nat = [{x}, {y}]\n\
             state.goes.motion.patrol.between = [{x}, {to}]\n"
        );
    }
    let text = arena(&format!(
        "[kind.tram]\nstarts = \"goes\"\n\
         state.goes = {{ motion = {{ patrol = {{ between = [0, 100], speed = 50 }} }}, \
         go = [{{ to = \"there\", when = {{ arrives = true }} }}] }}\nstate.there = {{}}\n{placed}\
         [drill.d]\nlength = \"140t\"\n"
    ));
    let arrived: Vec<u32> = lines(&text, "state").iter().map(|line| line.tick).collect();
    assert_eq!(arrived, [121; 5]);
    // A chase stops where it is told to, with that tolerance and no tick's way: from 100.1 to 0.1 within
    // 40 it goes 60 units, at 1 a tick; there it stands from the tick on that begins so.
    let text = |x: f64| {
        arena(&format!(
            "[kind.post]\n[kind.wasp]\nmotion = {{ chase = {{ whom = \"post\", speed = 60, stop_at = 40 }} }}\n\
             [[place]]\nkind = \"post\"\nat = [{x}, 50]\n[[place]]\nkind = \"wasp\"\nat = [{}, 50]\n\
             [drill.d]\nlength = \"90t\"\n",
            x + 100.0
        ))
    };
    for x in [0.0, 0.1, 33.3, 77.7] {
        let moves = played(&text(x), "wasp", |tick, view| {
            (tick, view.velocity.x != 0.0)
        });
        let last = moves
            .iter()
            .filter(|(_, moves)| *moves)
            .map(|(tick, _)| *tick)
            .max();
        assert_eq!(last, Some(60), "{x}");
    }
}

#[test]
fn hits_on_what_somebody_launched_are_its_own() {
    let text = |grubs: u32| {
        arena(&format!(
            r#"
[kind.hive]
meter.health = {{ max = 9 }}
hurtbox.wall = {{ radius = 5 }}
launcher.door = {{ launches = "grub", button = "open", muzzle = [60, 0], shot = false, count = {grubs} }}
[kind.grub]
meter.health = {{ max = 2 }}
hurtbox.skin = {{ radius = 3 }}
lifetime = "1s"
[kind.thorn]
hitbox.tip = {{ radius = 3 }}
[[place]]
kind = "hive"
at = [40, 50]
[[place]]
kind = "thorn"
at = [100, 50]
[[rule]]
name = "thorn pricks"
hitbox = "thorn.tip"
hurtbox = "*"
damage = 1
repeat = "once-per-touch"
[drill.d]
length = "20t"
input = [{{ when = "1t", who = "hive", press = "open" }}]
"#
        ))
    };
    for (grubs, whom) in [(1, "hive.door.1"), (3, "hive.door.*")] {
        let replay = text_replay(&text(grubs));
        let dealt = replay.summary().dealt;
        assert_eq!(dealt.len(), 1);
        assert_eq!((dealt[0].whom_id.as_str(), dealt[0].hits), (whom, grubs));
        let taken: Vec<String> = dealt[0].taken.values().map(ToString::to_string).collect();
        assert_eq!(taken, [grubs.to_string()]);
    }
}

#[test]
fn a_press_of_a_button_that_is_held_is_told_to_be_none() {
    let text = arena(
        r#"
[kind.hero]
body = { size = [10, 10] }
walk = { speed = 60, jump = 100 }
[[place]]
kind = "hero"
at = [100, 50]
[drill.d]
length = "90t"
input = [
  { when = "46t", who = "hero", hold = "jump", for = "30t" },
  { when = "60t", who = "hero", press = "jump" },
  { when = "80t", who = "hero", press = "jump" },
]
"#,
    );
    assert_eq!(ticks(&text, "ignored", "hero"), [60]);
    // Down on 46, up on 76; down on 80, up on 81.
    assert_eq!(ticks(&text, "input", "hero"), [46, 76, 80, 81]);
    let findings = tin_crown::check(text.as_bytes()).findings;
    let found: Vec<String> = findings
        .iter()
        .map(|finding| finding.message.clone())
        .collect();
    assert_eq!(
        found,
        ["this press has no effect: `jump` of `hero` is already held since 0.767 s"]
    );
}

#[test]
fn goals_that_overlap_go_by_their_names() {
    let goals = |order: [usize; 2], sort: &str| {
        let tables = [("aft", 7), ("bow", 3)].map(|(name, x)| {
            let at = if sort == "checkpoint" {
                format!("at = [{x}, 50]\n")
            } else {
                String::new()
            };
            format!(
                "[[{sort}]]\nname = \"{name}\"\narea = {{ min = [90, 40], max = [110, 60] }}\n{at}cue = \"{name}\"\n"
            )
        });
        mortal(&order.map(|nth| tables[nth].clone()).concat())
    };
    for sort in ["checkpoint", "exit"] {
        let [one, other] = [[0, 1], [1, 0]].map(|order| goals(order, sort));
        assert_eq!(
            crate::stage::jsonl(&text_replay(&one)),
            crate::stage::jsonl(&text_replay(&other)),
            "{sort}"
        );
        assert_eq!(lines(&one, "cue")[0].cue.as_deref(), Some("aft"));
    }
}

#[test]
fn a_chain_of_makers_has_an_end() {
    for endless in [
        "leaves = [{ kind = \"a\" }]\nlifetime = \"1t\"",
        "launcher.l = { launches = \"a\", clock = { every = \"9t\", first = \"1t\" }, shot = false }\nlifetime = \"5t\"",
        "death = [{ after = \"0t\", drops = [{ kind = \"a\" }] }]\nmeter.health = { max = 1 }\n\
         hurtbox.all = { radius = 2 }\nhitbox.all = { radius = 2 }\n[[rule]]\nname = \"r\"\nhitbox = \"a\"\n\
         hurtbox = \"a\"\nkill = true\n[[place]]\nkind = \"a\"\nid = \"b\"\nat = [50, 50]",
    ] {
        let text = arena(&format!(
            "[kind.a]\n{endless}\n[[place]]\nkind = \"a\"\nid = \"first\"\nat = [50, 50]\n[drill.d]\nlength = \"999t\"\n"
        ));
        let plan = tin_crown::check(text.as_bytes()).plan.expect("no errors");
        let Err(ReplayError::TooMany { of, most, .. }) = plan.replay("d") else {
            panic!("{endless}: it should not go on");
        };
        assert_eq!(
            (of, most),
            ("makers of one actor", tin_crown::limits::CHAIN)
        );
    }
}

#[test]
fn a_golden_record_is_equal_to_itself() {
    use tin_crown::Record;
    let replay = text_replay(&mortal(""));
    let golden = Record::of(&replay).golden();
    assert_eq!(golden, golden.clone());
    let mut text = Vec::new();
    golden.write(&mut text).expect("memory takes it");
    assert_eq!(Record::read(&text).expect("it is one"), [golden]);
    assert!(!String::from_utf8(text).unwrap().contains("\"id\""));
    let appear = replay
        .ledger()
        .events()
        .iter()
        .find(|event| event.what == What::Appear);
    assert_eq!(replay.line(appear.unwrap()), replay.line(appear.unwrap()));
}

#[test]
fn a_meter_says_which_hits_restart_its_delay() {
    // Hit on 10, 40 and 50; shields of 2 that pay 120 ticks after, then each 30. The hits of 10 and 40 empty
    // the shields, that of 50 goes to health: it restarts the delay only where any hit does. The knave is
    // invincible for 30 ticks from 40 on: there the hit of 50 is turned away, and restarts the delay only
    // where attempts do.
    let kinds = [
        ("loss", "", 160),
        ("hit", "", 170),
        ("attempt", "", 170),
        ("hit", "invincible = { after_hit = \"30t\" }", 160),
        ("attempt", "invincible = { after_hit = \"30t\" }", 170),
    ];
    for (restart, more, pays) in kinds {
        let text = arena(&format!(
            r#"
[kind.knight]
{more}
meter.health = {{ max = 9 }}
meter.shield = {{ max = 2, regen = {{ delay = "120t", every = "30t", restarted_by = "{restart}" }} }}
hurtbox.all = {{ size = [10, 10] }}
[kind.hammer]
hitbox.face = {{ radius = 20 }}
attack.tap = {{ button = "tap", active = "1t", live = ["face"] }}
[[place]]
kind = "knight"
at = [100, 50]
[[place]]
kind = "hammer"
at = [100, 50]
[[rule]]
name = "tap"
hitbox = "hammer.face"
hurtbox = "knight"
damage = {{ amount = 1, meters = ["shield", "health"] }}
[drill.d]
length = "300t"
input = [
  {{ when = "10t", who = "hammer", press = "tap" }},
  {{ when = "40t", who = "hammer", press = "tap" }},
  {{ when = "50t", who = "hammer", press = "tap" }},
]
"#
        ));
        let paid: Vec<(u32, f64, f64)> = changes(&text, "shield");
        let paid: Vec<_> = paid
            .into_iter()
            .filter(|(_, before, after)| after > before)
            .collect();
        let expected = [(pays, 0.0, 1.0), (pays + 30, 1.0, 2.0)];
        assert_eq!(paid, expected, "{restart} {more}");
    }
}
