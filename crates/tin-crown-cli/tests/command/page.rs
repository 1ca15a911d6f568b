//! The report page in a browser: it is opened, played, stepped, dragged, filtered and read.

use std::fs;
use std::path::Path;

use serde_json::{Value, json};

use crate::browser::{Page, browser};
use crate::tool::{demo, folder, tool};

/// What a script of the tests has at hand.
const HELPERS: &str = "const out={};const wait=(ms)=>new Promise((done)=>setTimeout(done,ms));\
     const el=(id)=>document.getElementById(id);\
     const change=(id,value)=>{el(id).value=value;el(id).dispatchEvent(new Event('change'))};\
     const key=(key,more)=>document.body.dispatchEvent(new KeyboardEvent('keydown',{key,bubbles:true,...more}));\
     const now=()=>Number(el('seek').value);";

/// Opens a page, lets `script` do something to it, and gives what that says, and all errors.
pub fn open(browser: &Path, folder: &Path, page: &str, script: &str) -> Value {
    let address = format!("file://{}", folder.join(page).display());
    let refused = "window.refused=[];addEventListener('securitypolicyviolation',(e)=>refused.push(e.violatedDirective))";
    let mut page = Page::open(browser, &address, refused);
    let mut out = page.eval(&format!("(async()=>{{{HELPERS}{script};return out}})()"));
    let refused = page.eval("refused");
    page.faults.extend(
        refused
            .as_array()
            .into_iter()
            .flatten()
            .map(Value::to_string),
    );
    out["faults"] = json!(page.faults);
    out
}

#[test]
fn the_page_plays_steps_drags_filters_and_tells_why() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    let page = folder.path().join("report.html");
    let run = tool(
        &demo(),
        &["report", "attic.toml", "-o", &page.display().to_string()],
    );
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    let size = fs::metadata(&page).expect("it is written").len();
    assert!(size < 1_500_000, "{size} bytes");
    let out = open(
        &browser,
        folder.path(),
        "report.html",
        "out.opened=[el('drill').value,now(),el('arena').seen().actors.flatMap((own)=>el('arena').seen().looks(own)).length>10];\
         el('next').click();out.step=now();key('ArrowRight',{shiftKey:true});out.leap=now();key('ArrowLeft');out.back=now();\
         change('speed','4');el('play').click();await wait(1000);out.playing=el('play').textContent;el('play').click();out.played=now();\
         el('seek').value=314;el('seek').dispatchEvent(new Event('input'));out.sought=[now(),el('now').textContent];\
         const porter=()=>el('arena').seen().actors.find((own)=>own.id==='porter').x;\
         out.moved=porter();key('Home');out.home=[now(),porter()];\
         const plot=document.querySelector('.timeline:not([hidden])');const box=plot.querySelector('svg').getBoundingClientRect();\
         const at=(share)=>({clientX:box.left+box.width*(190+1058*share)/1280,clientY:box.top+9,bubbles:true});\
         plot.querySelector('svg').dispatchEvent(new PointerEvent('pointerdown',at(.5)));out.pressed=now();\
         dispatchEvent(new PointerEvent('pointermove',at(.75)));out.dragged=now();dispatchEvent(new PointerEvent('pointerup',at(.75)));\
         dispatchEvent(new PointerEvent('pointermove',at(.1)));out.dropped=now();\
         plot.querySelector('svg').dispatchEvent(new PointerEvent('pointerdown',at(.75)));dispatchEvent(new PointerEvent('pointercancel',at(.75)));\
         dispatchEvent(new PointerEvent('pointermove',at(.1)));out.scrolled=now();\
         change('event','hit');out.hits=el('count').textContent;change('who','porter.pop-gun.1');out.who=el('count').textContent;\
         document.querySelector('#rows .row').click();out.why=el('why').textContent;out.hitAt=now();\
         document.querySelector('#why button').click();out.cause=[now(),el('why').textContent];\
         out.link=location.hash;change('zoom','porter');out.zoom=String(el('arena').seen().region[2]);\
         change('drill','out-of-lives');out.other=[now(),el('seek').max,[...document.querySelectorAll('.drill')].map((own)=>own.hidden)];\
         change('who','');change('event','death');out.deaths=el('count').textContent;\
         const ground=()=>getComputedStyle(document.body).backgroundColor;out.ground=[ground()];el('theme').click();out.ground.push(ground());\
         const press=(on,key)=>{on.focus();on.dispatchEvent(new KeyboardEvent('keydown',{key,bubbles:true}))};\
         const line=()=>document.getElementById(el('rows').getAttribute('aria-activedescendant'))?.textContent;\
         change('drill','clean');change('event','');const lines=el('rows');\
         press(lines,'Home');out.lines=[line()];press(lines,'ArrowDown');press(lines,'ArrowDown');out.lines.push(line());\
         press(lines,'End');out.lines.push(line(),now());press(lines,'ArrowUp');out.lines.push(line());\
         press(el('last'),'Home');press(el('last'),'ArrowRight');out.onButton=now();press(el('seek'),'Home');out.onSlider=now();\
         const times=document.querySelector('.timeline:not([hidden])');const name=()=>Math.round(times.querySelector('.names text').getBoundingClientRect().left);\
         times.style.width='900px';out.wide=times.scrollWidth<=900;times.style.width='500px';times.scrollLeft=0;times.onscroll();const first=name();times.scrollLeft=1e4;times.onscroll();out.pinned=[times.scrollLeft>99,first,name()];",
    );
    assert_eq!(out["faults"], serde_json::json!([]));
    assert_eq!(out["opened"], serde_json::json!(["clean", 0, true]));
    assert_eq!(
        (&out["step"], &out["leap"], &out["back"]),
        (&1.into(), &11.into(), &10.into())
    );
    assert_eq!(out["playing"], "Pause");
    // A second at four times the speed is 240 ticks, as far as frames come.
    let played = out["played"].as_u64().expect("a number");
    assert!((150..=300).contains(&played), "{played}");
    assert_eq!(out["sought"], serde_json::json!([314, "5.233 s, tick 314"]));
    assert_ne!(out["moved"], out["home"][1]);
    // Half and three quarters of 679 ticks.
    assert_eq!(
        (&out["pressed"], &out["dragged"]),
        (&339.into(), &509.into())
    );
    assert_eq!(out["dropped"], out["dragged"]);
    assert_eq!(out["scrolled"], out["dragged"]);
    assert_eq!(
        (&out["hits"], &out["who"]),
        (&"2 of 47 events".into(), &"1 of 47 events".into())
    );
    let why = out["why"].as_str().expect("a text");
    assert!(
        why.contains("porter.pop-gun.1.tip hits wasp") && why.contains("✓ used-up"),
        "{why}"
    );
    assert_eq!(out["hitAt"], 399);
    assert_eq!(out["cause"][0], 394, "it was launched on 394");
    let link = out["link"].as_str().expect("a text").to_owned();
    assert!(link.starts_with("#drill=clean&tick=394&line="), "{link}");
    assert_eq!(out["zoom"], "296");
    assert_eq!(
        out["other"],
        serde_json::json!([0, "756", [true, true, false]])
    );
    assert!(
        out["deaths"].as_str().expect("a text").starts_with("3 of "),
        "{}",
        out["deaths"]
    );
    assert_ne!(out["ground"][0], out["ground"][1]);
    // The ledger is read by keys; a button that was pressed takes none from the page, the slider its own.
    assert_eq!(
        out["lines"],
        serde_json::json!([
            "0.000 sbeetle appears: at 240, 24",
            "0.000 skey appears: at 700, 24",
            "11.300 sdrill won",
            678,
            "11.300 sporter cue waltz"
        ])
    );
    assert_eq!((&out["onButton"], &out["onSlider"]), (&1.into(), &1.into()));
    // The timeline scrolls only where it could not be read; the names of its rows stay in sight.
    assert_eq!(out["wide"], true);
    let (first, then) = (&out["pinned"][1], &out["pinned"][2]);
    assert_eq!(out["pinned"][0], true);
    assert!(
        then.as_i64() <= first.as_i64() && then.as_i64() > Some(0),
        "{first} {then}"
    );
    // A link opens at its moment.
    let linked = fs::read_to_string(folder.path().join("report.html")).expect("it is there");
    let linked = linked.replacen("location.hash.slice(1)", "'drill=clumsy&tick=92&line=8'", 1);
    fs::write(folder.path().join("linked.html"), linked).expect("the folder takes it");
    let out = open(
        &browser,
        folder.path(),
        "linked.html",
        "out.at=[el('drill').value,now(),el('why').textContent.length>99];\
         const overlaps=()=>{const all=el('arena').seen().names;\
         return all.flatMap((one,nth)=>all.slice(nth+1).filter((other)=>Math.abs(one.x-other.x)<one.wide+other.wide-6&&Math.abs(one.y-other.y)<one.high)\
         .map((other)=>`${one.words} on ${other.words} at ${now()}`))};out.names=0;\
         out.overlaps=[];for(let tick=0;tick<=Number(el('seek').max);tick+=30){el('seek').value=tick;el('seek').dispatchEvent(new Event('input'));out.overlaps.push(...overlaps());out.names+=el('arena').seen().names.length}\
         el('seek').value=92;el('seek').dispatchEvent(new Event('input'));\
         out.state=document.querySelector('.state:not([hidden])').textContent.trim();\
         out.follows=[el('zoom').value];el('arena').style.width='300px';change('drill','clean');out.follows.push(el('zoom').value)",
    );
    // No two names in the arena lie on each other.
    assert_eq!(out["overlaps"], serde_json::json!([]));
    assert!(out["names"].as_u64() > Some(100), "{}", out["names"]);
    assert_eq!(out["state"], "all 7 expectations met");
    // A level that would be too flat to read follows its player.
    assert_eq!(out["follows"], serde_json::json!(["", "porter"]));
    assert_eq!(out["at"], serde_json::json!(["clumsy", 92, true]));
}

#[test]
fn an_arena_with_heights_is_seen_from_a_side_too() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    let page = folder.path().join("report.html");
    let args = [
        "report",
        "third-shelf.toml",
        "-o",
        &page.display().to_string(),
    ];
    let run = tool(&demo(), &args);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    let out = open(
        &browser,
        folder.path(),
        "report.html",
        "const go=(tick)=>{el('seek').value=tick;el('seek').dispatchEvent(new Event('input'))};\
         const cart=()=>{const box=el('side').seen().actors.flatMap((own)=>own.spans).find((own)=>own.sort==='hurt');\
         return [box.from,-box.span[1],box.to-box.from].map(Math.round)};\
         change('drill','careful');go(0);out.low=cart();go(120);out.high=cart();\
         const wide=()=>String(Math.round(el('side').seen().wide));out.wide=[wide()];change('seen','right');out.wide.push(wide());\
         out.shown=[el('side').getBoundingClientRect().height>50,!el('seen').parentElement.hidden]",
    );
    assert_eq!(out["faults"], serde_json::json!([]));
    assert_eq!(out["shown"], serde_json::json!([true, true]));
    // 640 by 200 units, 1.85 pixels each.
    assert_eq!(out["wide"], serde_json::json!(["1184", "370"]));
    // On tick 120 the cart is in the air over the wall: 30 units at most, and further to the right.
    let (low, high) = (&out["low"], &out["high"]);
    let at = |own: &Value, nth: usize| own[nth].as_i64().expect("a number");
    assert!(at(high, 0) > at(low, 0) + 200, "{low} {high}");
    assert!(
        (10..=56).contains(&(at(low, 1) - at(high, 1))),
        "{low} {high}"
    );
}

/// A wide level that is not flat: its player would be 24 of 8000 units wide, under 4 pixels.
const KEEP: &str = r#"
edition = 1
title = "The keep"
tick_rate = 60
arena.bounds = { min = [0, 0], max = [8000, 4000] }
[kind.knight]
player = true
hurtbox.torso = { size = [16, 24] }
meter.health = { max = 3 }
guard = { arc = [-90, 90], button = "guard" }
[[place]]
kind = "knight"
at = [4000, 2000]
[drill.d]
length = "1s"
input = [{ when = "10t", who = "knight", hold = "guard", for = "20t" }]
"#;

#[test]
fn a_guard_is_seen_a_small_player_followed_and_all_parts_are_reached_by_keyboard() {
    let Some(browser) = browser() else { return };
    let folder = folder();
    fs::write(folder.path().join("keep.toml"), KEEP).expect("the folder takes it");
    let run = tool(folder.path(), &["report", "keep.toml", "-o", "report.html"]);
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    let out = open(
        &browser,
        folder.path(),
        "report.html",
        "const up=(tick)=>{el('seek').value=tick;el('seek').dispatchEvent(new Event('input'));\
         const {actors,looks}=el('arena').seen();return looks(actors[0]).some((own)=>own.box.sort==='guard')};\
         out.guard=[up(5),up(15),up(35)];out.follows=el('zoom').value;\
         out.reached=['.timeline:not([hidden])','#cast','#rows','#play','#seek'].map((own)=>document.querySelector(own).tabIndex)",
    );
    assert_eq!(out["faults"], serde_json::json!([]));
    // Down on 10 to 29.
    assert_eq!(out["guard"], serde_json::json!([false, true, false]));
    assert_eq!(out["follows"], "knight");
    assert_eq!(out["reached"], serde_json::json!([0, 0, 0, 0, 0]));
}

#[test]
fn no_name_makes_the_page_run_a_script() {
    let evil = "a</script><script>evil=1</script><img src=x onerror=evil=1>";
    let text = fs::read_to_string(demo().join("starter.toml")).expect("the demo is there");
    let quoted = serde_json::to_string(evil).expect("a text");
    let text = text.replace("id = \"", "was = \"");
    let title = text
        .lines()
        .find(|line| line.starts_with("title"))
        .expect("it has one")
        .to_owned();
    let text = text
        .replace(&title, &format!("title = {quoted}"))
        .replace("\"spikes prick hero\"", &quoted)
        .replacen(
            "kind = \"hero\"\n",
            &format!("kind = \"hero\"\nid = {quoted}\n"),
            1,
        )
        .replace("who = \"hero\"", &format!("who = {quoted}"))
        .replace("whom = \"hero\"", "whom = \"*\"");
    let folder = folder();
    fs::write(folder.path().join("evil.toml"), text).expect("the folder takes it");
    let run = tool(folder.path(), &["report", "evil.toml", "-o", "evil.html"]);
    assert!(run.code < 2, "{}", run.err);
    let html = fs::read_to_string(folder.path().join("evil.html")).expect("it is written");
    assert_eq!(
        html.matches("</script>").count(),
        2,
        "the page's own two scripts end, and nothing else"
    );
    assert_eq!(html.matches("<img").count(), 0);
    let Some(browser) = browser() else { return };
    let out = open(
        &browser,
        folder.path(),
        "evil.html",
        "key('n');await wait(200);out.evil=typeof evil;out.title=document.title;out.why=el('why').textContent",
    );
    assert_eq!(
        (&out["faults"], &out["evil"]),
        (&serde_json::json!([]), &"undefined".into())
    );
    assert!(out["title"].as_str().expect("a text").contains("</script>"));
    assert!(out["why"].as_str().expect("a text").contains("<script>"));
}
