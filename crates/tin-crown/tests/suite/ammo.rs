//! Ammo, pickups and reloads, worked out on paper.

use crate::shots::{gunner, ticks};
use crate::stage::lines;

/// A walker who comes upon a tin of corks at 1 unit a tick.
fn walker(corks: &str, pickup: &str, input: &str) -> String {
    format!(
        r##"edition = 1
title = "a tin"
[arena]
bounds = {{ min = [-500, -500], max = [500, 500] }}
[kind.hero]
tags = ["hero"]
body = {{ size = [10, 10] }}
walk = {{ speed = 60 }}
meter.corks = {{ {corks} }}
launcher.pop = {{ launches = "cork", button = "shoot", speed = 60, ammo = {{ meter = "corks" }}, dry = "click" }}
[kind.cork]
lifetime = "5t"
[kind.tin]
pickup = {{ area = {{ size = [10, 10] }}, by = "#hero", gives = [{{ meter = "corks", amount = 4 }}], {pickup} }}
[[place]]
kind = "hero"
at = [0, 0]
[[place]]
kind = "tin"
at = [20, 0]
[drill.d]
length = "60t"
input = [{{ when = "1t", who = "hero", hold = "right", for = "40t" }}, {input}]
"##
    )
}

#[test]
fn an_empty_gun_and_a_tin_on_one_tick() {
    // The edges are 10 apart, at 1 a tick: they overlap from tick 11 on. Phase 2 comes before phase 6:
    // a press on 11 is dry, one on 12 is not.
    let press = |tick: u32| format!("{{ when = \"{tick}t\", who = \"hero\", press = \"shoot\" }}");
    let dry = walker("max = 6, start = 0", "", &press(11));
    assert_eq!(ticks(&dry, "dry-fire"), [11]);
    assert_eq!(ticks(&dry, "pickup"), [11]);
    assert_eq!(ticks(&dry, "cue"), [11]);
    assert_eq!(ticks(&dry, "shot"), [] as [u32; 0]);
    let full = walker("max = 6, start = 0", "", &press(12));
    assert_eq!(ticks(&full, "shot"), [12]);
    let gained: Vec<_> = lines(&full, "meter")
        .iter()
        .map(|line| (line.tick, line.after))
        .collect();
    assert_eq!(gained, [(11, Some(4.0)), (12, Some(3.0))]);
    let (taken, gone) = (&lines(&full, "pickup")[0], &lines(&full, "vanish")[0]);
    assert_eq!(
        (taken.who.as_deref(), taken.whom.as_deref()),
        (Some("hero"), Some("tin"))
    );
    assert_eq!((gone.of.as_deref(), gone.cause), (Some("taken"), taken.id));
}

#[test]
fn what_becomes_of_a_tin_when_there_is_no_room() {
    // Full on the way in, it stays, until a shot makes room.
    let press = "{ when = \"15t\", who = \"hero\", press = \"shoot\" }";
    let stays = walker("max = 6", "", press);
    let taken: Vec<_> = lines(&stays, "meter")
        .iter()
        .map(|line| (line.tick, line.after))
        .collect();
    // Room for one: 5 → 6, and the other three are lost.
    assert_eq!(taken, [(15, Some(5.0)), (15, Some(6.0))]);
    let eaten = walker("max = 6", "when_full = \"taken\"", press);
    assert_eq!(ticks(&eaten, "pickup"), [11]);
    // Taken on 11 and back 20 ticks later, still full of corks it lies there.
    let back = walker("max = 9, start = 0", "back_after = \"20t\"", "");
    let back = back.replace(", ]", "]");
    let seen: Vec<_> = lines(&back, "appear")
        .into_iter()
        .filter(|line| line.who.as_deref() == Some("tin"))
        .map(|line| line.tick)
        .collect();
    assert_eq!(seen, [0, 31]);
    // By 31 the hero is past it: its body begins at 26, and the tin ends at 25.
    assert_eq!(ticks(&back, "pickup"), [11]);
    // It waits until the hero is more than 15 from 20: on 36, which is noticed on 37.
    let shy = "back_after = \"20t\", unless_near = { who = \"#hero\", within = 15 }";
    let shy = back.replace("back_after = \"20t\"", shy);
    let seen = lines(&shy, "appear").into_iter();
    let seen = seen.filter(|line| line.who.as_deref() == Some("tin"));
    assert_eq!(seen.map(|line| line.tick).collect::<Vec<_>>(), [0, 37]);
}

#[test]
fn magazines_are_filled_from_a_reserve() {
    let text = |reload: &str, input: &str| {
        gunner(
            &format!(
                "meter.magazine = {{ max = 3, start = 1, reload = {{ from = \"reserve\", {reload} }} }}\n\
                 meter.reserve = {{ max = 5 }}\nlauncher.pop = {{ launches = \"cork\", button = \"shoot\", \
                 speed = 60, ammo = {{ meter = \"magazine\" }} }}\n[kind.cork]\nlifetime = \"2t\""
            ),
            &format!("[drill.d]\nlength = \"100t\"\ninput = [{input}]\n"),
        )
    };
    let press = |tick: u32, button: &str| {
        format!("{{ when = \"{tick}t\", who = \"gunner\", press = \"{button}\" }}")
    };
    let changes = |text: &str| -> Vec<(u32, String, f64)> {
        lines(text, "meter")
            .into_iter()
            .map(|line| {
                (
                    line.tick,
                    line.meter.unwrap_or_default().to_string(),
                    line.after.unwrap_or_default(),
                )
            })
            .collect()
    };
    let m = |tick, meter: &str, after| (tick, meter.to_owned(), after);
    // On 10, with 20 ticks: room for 2, on 30.
    let whole = text("button = \"reload\", takes = \"20t\"", &press(10, "reload"));
    assert_eq!(
        changes(&whole),
        [m(30, "reserve", 3.0), m(30, "magazine", 3.0)]
    );
    // One by one, and a shot in between breaks it off.
    let single = "button = \"reload\", takes = \"10t\", amount = 1, broken_by = [\"shot\"]";
    let broken = text(
        single,
        &[press(10, "reload"), press(25, "shoot")].join(", "),
    );
    assert_eq!(
        changes(&broken),
        [
            m(20, "reserve", 4.0),
            m(20, "magazine", 2.0),
            m(25, "magazine", 1.0)
        ]
    );
    // Not broken by a shot, it keeps the gun from firing.
    let busy = text(
        "button = \"reload\", takes = \"20t\"",
        &[press(10, "reload"), press(15, "shoot")].join(", "),
    );
    let dry = &lines(&busy, "dry-fire")[0];
    assert_eq!((dry.tick, dry.of.as_deref()), (15, Some("reloading")));
    // Emptied on 5, it begins by itself on the next tick.
    let empty = text("when_empty = true, takes = \"20t\"", &press(5, "shoot"));
    assert_eq!(
        changes(&empty),
        [
            m(5, "magazine", 0.0),
            m(26, "reserve", 2.0),
            m(26, "magazine", 3.0)
        ]
    );
}

#[test]
fn what_trickles_back_pays_from_the_last_loss_or_by_the_clock() {
    let text = |regen: &str, shots: &[u32]| {
        let press = shots
            .iter()
            .map(|tick| format!("{{ when = \"{tick}t\", who = \"gunner\", press = \"shoot\" }}"));
        gunner(
            &format!(
                "meter.corks = {{ max = 5, regen = {{ {regen} }} }}\nlauncher.pop = {{ launches = \"cork\", \
                 button = \"shoot\", speed = 60, ammo = {{ meter = \"corks\" }} }}\n[kind.cork]\nlifetime = \"2t\""
            ),
            &format!(
                "[drill.d]\nlength = \"250t\"\ninput = [{}]\n",
                press.collect::<Vec<_>>().join(", ")
            ),
        )
    };
    let paid = |text: &str| -> Vec<u32> {
        let changes = lines(text, "meter").into_iter();
        changes
            .filter(|line| line.after > line.before)
            .map(|line| line.tick)
            .collect()
    };
    // A loss on 10 with delay 60 and every 60: paid on 70. Lost again on 69: on 129 instead. Lost on 70:
    // paid first, then lost, so on 130 again.
    assert_eq!(paid(&text("delay = \"60t\", every = \"60t\"", &[10])), [70]);
    assert_eq!(
        paid(&text("delay = \"60t\", every = \"60t\"", &[10, 69])),
        [129, 189]
    );
    assert_eq!(
        paid(&text("delay = \"60t\", every = \"60t\"", &[10, 70])),
        [70, 130]
    );
    // Without a delay by the clock: every 60 from the beginning.
    assert_eq!(
        paid(&text("every = \"60t\"", &[10, 20, 70])),
        [60, 120, 180]
    );
}
