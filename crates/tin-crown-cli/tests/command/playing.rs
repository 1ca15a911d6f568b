//! `tin-crown play` in a browser: keys go the way they go for people.

use std::fs;

use serde_json::json;

use crate::browser::{Page, browser};
use crate::server::Server;
use crate::tool::{folder, tool};

/// Spikes 40 units to the right of the hero, who has two lives of one health each and walks 2 units a tick.
pub const DUEL: &str = r#"edition = 1
title = "A hero before spikes"

[arena]
bounds = { min = [0, 0], max = [320, 120] }

[kind.hero]             # the one who is played
side = "ours"
player = true
walk = { speed = 120 }  # units a second
meter.health = { max = 1 }
hurtbox.all = { size = [10, 20] }
respawn = { at = "start", delay = "0.3s", lives = 2, resets = "self" }

[[kind.hero.death]]
after = "0.2s"
cue = "curtain"

[kind.spikes]
side = "theirs"
hitbox.tips = { size = [10, 10] }

[[place]]
kind = "hero"
at = [40, 60]

[[place]]
kind = "spikes"
at = [200, 60]

[[rule]]
name = "spikes prick"
hitbox = "spikes.tips"
hurtbox = "hero.all"
damage = 1

[drill.walk]
length = "2s"
input = [{ when = "0.2s", who = "hero", hold = "right", for = "1s" }]
"#;

pub fn duel() -> tempfile::TempDir {
    let folder = folder();
    fs::write(folder.path().join("duel.toml"), DUEL).expect("a file");
    folder
}

const TICK: &str = "Number(document.documentElement.dataset.drawn)";

#[test]
fn an_encounter_is_played_rewound_changed_and_kept() {
    let Some(browser) = browser() else { return };
    let folder = duel();
    let server = Server::start(folder.path(), &["duel.toml"]);
    let mut page = Page::open(&browser, &server.address, "");
    page.until("document.querySelectorAll('#drive option').length");
    let hero = "document.getElementById('arena').seen().actors.find((own)=>own.id==='hero')";
    // Drawn a frame after it is told.
    let at = page.until(&format!("{hero}?.x")).as_f64().expect("a place");
    // The first key begins. The hero walks, is pricked, dies, and comes back.
    page.key("ArrowRight", "ArrowRight", true);
    page.until(&format!("{hero}.x > {at} + 60"));
    page.until(
        "document.getElementById('hit').textContent.includes('spikes hits hero: health 1 → 0')",
    );
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('comes back'))");
    page.key("ArrowRight", "ArrowRight", false);
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('releases right'))");
    // Time is held, and turned back by a key that is held down; let go, another branch is played.
    page.key("KeyP", "p", true);
    page.key("KeyP", "p", false);
    page.until("document.getElementById('play').textContent === 'Play'");
    let end = page
        .eval("Number(document.getElementById('seek').max)")
        .as_u64()
        .expect("a tick");
    page.key("KeyR", "r", true);
    page.until(&format!("{TICK} < 60"));
    page.key("KeyR", "r", false);
    page.until(&format!(
        "{TICK} > 70 && document.getElementById('branches').children.length === 2"
    ));
    page.key("KeyP", "p", true);
    page.key("KeyP", "p", false);
    page.until("document.getElementById('play').textContent === 'Play'");
    // The first branch is there, with its end; and undo returns to this one.
    page.click("#tab-branches");
    page.click("#branches button");
    page.until(&format!("{TICK} === {end}"));
    page.until("document.getElementById('hit').textContent.includes('health 1 → 0')");
    // A line of the ledger is a place in time, and tells its why.
    page.eval(
        "document.getElementById('event').value='hit';document.getElementById('event').onchange()",
    );
    page.click("#rows .row");
    page.until("document.getElementById('why').textContent.includes('✓ invincible')");
    let hit = page.eval(TICK).as_u64().expect("a tick");
    assert!(hit < end);
    page.eval(
        "document.getElementById('event').value='';document.getElementById('event').onchange()",
    );
    // A number is changed under the run: half as fast, the spikes are not reached by then.
    let spot = page.eval(
        "(()=>{const on=document.getElementById('arena'),{actors,region,left,scale}=on.seen();on.scrollIntoView();\
         const own=actors.find((own)=>own.id==='spikes'),box=on.getBoundingClientRect();\
         return [box.x+left+(own.x-region[0])*scale,box.y+(own.y-region[1])*scale]})()",
    );
    page.click_at(spot[0].as_f64().expect("x"), spot[1].as_f64().expect("y"));
    page.until("document.getElementById('about').textContent === 'tips of spikes, a spikes'");
    page.until("document.querySelector('#numbers label').textContent === 'kind.spikes.hitbox.tips.size[1]'");
    page.eval("const find=document.getElementById('find');find.value='walk speed';find.oninput()");
    page.eval("const own=document.querySelector('[data-path=\"kind.hero.walk.speed\"]');own.value='60';own.onchange()");
    page.until("document.getElementById('changed').textContent.includes('gone')");
    page.until("document.getElementById('write').textContent === 'Write 1 to the file'");
    // With such a change nothing can be kept; it is given back.
    page.click("#tab-keep");
    page.click("#draft-here");
    page.until("!document.getElementById('keep').hidden");
    page.eval("document.getElementById('keep').requestSubmit()");
    page.until(
        "document.getElementById('said').textContent.includes('numbers that are not in the file')",
    );
    page.key("Escape", "Escape", true);
    page.key("KeyZ", "z", true);
    page.key("KeyZ", "z", false);
    page.until("document.getElementById('write').disabled");
    assert_eq!(
        fs::read_to_string(folder.path().join("duel.toml")).expect("a file"),
        DUEL
    );
    // The whole branch is kept as a drill, with what is expected of it.
    page.click("#draft-whole");
    page.until(&format!(
        "{TICK} === {end} && document.getElementById('expect').textContent.includes('a death of hero')"
    ));
    let played = page.eval("fetch('ledger.jsonl').then((own)=>own.text())");
    page.eval("document.getElementById('name').value='felt';document.getElementById('golden').checked=true");
    page.eval("document.getElementById('keep').requestSubmit()");
    page.until("document.getElementById('said').textContent.includes('felt is kept')");
    let text = fs::read_to_string(folder.path().join("duel.toml")).expect("a file");
    let added = text.strip_prefix(DUEL).expect("all else is as it was");
    assert!(
        added.contains("[drill.felt]") && added.contains("hold = \"right\""),
        "{added}"
    );
    // Replayed it is what was played, byte for byte but for the header, which has the drill's name.
    let args = [
        "replay",
        "duel.toml",
        "--drill",
        "felt",
        "--format",
        "jsonl",
    ];
    let replayed = tool(folder.path(), &args);
    assert_eq!(replayed.code, 0, "{}", replayed.err);
    let lines = |text: &str| {
        text.split_once('\n')
            .map(|(_, lines)| lines.to_owned())
            .expect("lines")
    };
    assert_eq!(
        lines(&replayed.out),
        lines(played.as_str().expect("a text"))
    );
    assert!(lines(&replayed.out).lines().count() > 8);
    let verified = tool(folder.path(), &["replay", "duel.toml", "--drill", "felt"]);
    assert_eq!(verified.code, 0, "{}{}", verified.out, verified.err);
    assert!(folder.path().join("duel.golden.jsonl").exists());
    // The report page of that run.
    let report = page.eval("fetch('report.html').then((own)=>own.text())");
    assert!(
        report
            .as_str()
            .expect("a page")
            .starts_with("<!doctype html>")
    );
    // A file with errors shows them over the arena, until it is mended.
    let path = folder.path().join("duel.toml");
    fs::write(&path, text.replace("damage = 1", "damage = \"one\"")).expect("a file");
    page.until(
        "document.getElementById('found').innerText.includes('expected a number, found a string')",
    );
    page.until("document.querySelector('#found pre').textContent === 'damage = \"one\"'");
    fs::write(&path, &text).expect("a file");
    page.until("document.getElementById('found').hidden");
    // Every part is reached by keyboard, and nothing went wrong.
    let reached = page.eval("['#play','#rows','#cast','#seek','#tab-keep'].map((own)=>document.querySelector(own).tabIndex)");
    assert_eq!(reached, json!([0, 0, 0, 0, 0]));
    assert!(page.faults.is_empty(), "{:?}", page.faults);
}

#[test]
fn a_gamepad_drives_a_ghost_is_beside_and_what_is_held_is_released() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    // Spikes that are not in the way: who is dead presses nothing.
    let text = DUEL.replace("at = [200, 60]", "at = [200, 10]");
    fs::write(folder.path().join("duel.toml"), text).expect("a file");
    let mut server = Server::start(folder.path(), &["duel.toml"]);
    let pad = "window.pad={index:0,axes:[0,0],buttons:[...Array(17)].map(()=>({pressed:false}))};\
               navigator.getGamepads=()=>[window.pad];";
    let mut page = Page::open(&browser, &server.address, pad);
    page.until("document.querySelectorAll('#ghost option').length > 1");
    page.eval("const own=document.getElementById('ghost');own.value='walk';own.onchange()");
    page.until("document.getElementById('parting').textContent.includes('as walk')");
    // The stick to the right: from the first tick, and the drill's hero walks from 0.2 s on.
    page.eval("window.pad.axes[0]=1");
    page.until(
        "document.getElementById('parting').textContent.includes('hero parts from walk at 0.0')",
    );
    page.until(
        "document.getElementById('arena').seen().actors.some((own)=>own.id==='hero'&&own.x>220)",
    );
    // A page that looks elsewhere holds nothing: the stick still does, till it is centred.
    page.eval("window.pad.axes[0]=0;dispatchEvent(new Event('blur'))");
    page.until("[...document.querySelectorAll('#rows .row')].some((own)=>own.textContent.includes('releases right'))");
    // A key is changed, and remembered by another page.
    page.click("#tab-keys");
    page.click("#keys li:nth-child(2) button");
    page.key("KeyL", "l", true);
    page.key("KeyL", "l", false);
    page.until("document.getElementById('keys').textContent.includes('L · pad')");
    page.call("Page.reload", json!({}));
    page.until("document.getElementById('keys')?.textContent.includes('L · pad')");
    assert!(page.faults.is_empty(), "{:?}", page.faults);
    // Ended from the page.
    page.eval("window.confirm=()=>true;document.getElementById('quit').click()");
    assert_eq!(server.ended(), Some(0));
}
