//! From a key to the frame that shows it, and ticks a second with five hundred actors, in a headless browser.
//!
//! Run it with `cargo bench -p tin-crown-cli --bench play`.

#[allow(dead_code, reason = "the tests do more with it")]
#[path = "../tests/command/browser.rs"]
mod browser;
#[allow(dead_code, reason = "the tests do more with it")]
#[path = "../tests/command/server.rs"]
mod server;

use std::thread::sleep;
use std::time::{Duration, Instant};

use browser::Page;
use server::Server;

const PRESSES: u64 = 200;
const RATE: f64 = 60.0;
const SECONDS: u64 = 10;

/// A hero and some who walk to and fro, each on a lane of its own.
fn crowd(walkers: usize) -> String {
    let rows = walkers.div_ceil(25);
    let placed: String = (0..rows)
        .map(|row| {
            let count = (walkers - row * 25).min(25);
            let y = 20 + row * 24;
            format!(
                "[[place]]\nkind = \"walker\"\nid = \"w{row:02}\"\nat = [30, {y}]\ncopies = {{ count = {count}, step = [48, 0] }}\n"
            )
        })
        .collect();
    format!(
        "edition = 1\ntitle = \"A crowd of {walkers}\"\n\
         arena = {{ bounds = {{ min = [0, 0], max = [1260, {}] }} }}\n\
         [kind.hero]\nplayer = true\nwalk = {{ speed = 120 }}\nmeter.health = {{ max = 3 }}\nhurtbox.all = {{ size = [10, 16] }}\n\
         [kind.walker]\nmeter.health = {{ max = 3 }}\nhurtbox.all = {{ size = [10, 16] }}\nhitbox.tip = {{ size = [14, 6] }}\n\
         motion = {{ hover = {{ size = [10, 0], period = \"2s\" }} }}\n\
         [[place]]\nkind = \"hero\"\nat = [600, 10]\n{placed}",
        40 + rows * 24,
    )
}

/// How long each key took, in ticks: until its frame was painted, and until the frame after that began.
fn latency(page: &mut Page) -> [Vec<f64>; 2] {
    page.eval(
        "window.took=[];window.asked=null;\
         const hero=()=>document.getElementById('arena').seen().actors.find((own)=>own.id==='hero').x;\
         addEventListener('keydown',(event)=>{if(!event.repeat&&event.code.startsWith('Arrow'))window.asked={at:event.timeStamp,x:hero()}},true);\
         new MutationObserver(()=>{const own=window.asked;if(!own||hero()===own.x)return;window.asked=null;\
         const painted=performance.now()-own.at;requestAnimationFrame(()=>window.took.push([painted,performance.now()-own.at]))})\
         .observe(document.documentElement,{attributes:true,attributeFilter:['data-drawn']});0",
    );
    for nth in 0..PRESSES {
        let key = if nth % 2 == 0 {
            "ArrowRight"
        } else {
            "ArrowLeft"
        };
        page.key(key, key, true);
        // Never in step with the ticks.
        sleep(Duration::from_micros(90_000 + nth * 7_919 % 33_000));
        page.key(key, key, false);
        sleep(Duration::from_micros(60_000 + nth * 4_231 % 33_000));
    }
    let took = page.eval("window.took");
    [0, 1].map(|nth| {
        let all = took.as_array().expect("a list").iter();
        let mut all: Vec<f64> = all
            .map(|own| own[nth].as_f64().expect("a time") * RATE / 1e3)
            .collect();
        all.sort_by(f64::total_cmp);
        all
    })
}

fn main() {
    let Some(chromium) = browser::browser() else {
        return;
    };
    let folder = tempfile::tempdir().expect("a folder");
    for walkers in [1, 499] {
        let file = format!("crowd-{walkers}.toml");
        std::fs::write(folder.path().join(&file), crowd(walkers)).expect("a file");
        let server = Server::start(folder.path(), &[&file]);
        let mut page = Page::open(&chromium, &server.address, "");
        page.until("document.querySelectorAll('#drive option').length");
        page.eval("document.getElementById('play').click()");
        page.until("Number(document.documentElement.dataset.drawn) > 30");
        println!(
            "{} actors, {PRESSES} keys, in ticks of 1/60 s:",
            walkers + 1
        );
        for (what, all) in ["key to painted frame", "key to the frame after"]
            .iter()
            .zip(latency(&mut page))
        {
            let at = |share: f64| all[((all.len() - 1) as f64 * share) as usize];
            println!(
                "  {what:<24} median {:.2}, 95 of 100 within {:.2}, at most {:.2} ({} seen)",
                at(0.5),
                at(0.95),
                at(1.0),
                all.len()
            );
        }
        page.eval(
            "window.frames=0;new MutationObserver(()=>window.frames++)\
             .observe(document.documentElement,{attributes:true,attributeFilter:['data-drawn']});0",
        );
        let tick = "[Number(document.documentElement.dataset.drawn),window.frames]";
        let (begun, first) = (Instant::now(), page.eval(tick));
        sleep(Duration::from_secs(SECONDS));
        let last = page.eval(tick);
        let seconds = begun.elapsed().as_secs_f64();
        let each = |nth: usize| {
            (last[nth].as_f64().expect("a number") - first[nth].as_f64().expect("a number"))
                / seconds
        };
        println!(
            "  {:.1} ticks and {:.1} frames a second over {SECONDS} s",
            each(0),
            each(1)
        );
    }
}
