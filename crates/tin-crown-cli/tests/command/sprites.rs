//! Sprites under boxes: drawn, on the pages, and traced.

use std::fs;

use insta::assert_snapshot;
use serde_json::{Value, json};
use tin_crown::demo::SPRITES;
use tin_crown::sprite::Sheet;

use crate::browser::browser;
use crate::page::open;
use crate::tool::{demo, folder, tool};

#[test]
fn traced_boxes_are_lines_to_paste() {
    let run = tool(
        &demo(),
        &["trace", "stag.png", "--cell", "48x24", "--only", "0"],
    );
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("traced", run.out);
    // The sprite of a kind has its own cells, offset and scale; a part of a cell is traced alone.
    let run = tool(
        &demo(),
        &[
            "trace",
            "attic.toml",
            "--kind",
            "kettle",
            "--only",
            "1",
            "--part",
            "0,0,32,58",
        ],
    );
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    assert_snapshot!("traced_steam", run.out);
    // Each of them is a box that a kind can have.
    for line in run.out.lines().filter(|line| line.starts_with('{')) {
        let whole = format!(
            "edition = 1\ntitle = \"One box\"\narena = {{ bounds = {{ min = [0, 0], max = [99, 99] }} }}\n\
             [kind.puff]\nhitbox.steam = {line}\n"
        );
        let checked = tin_crown::check(whole.as_bytes());
        assert!(
            !checked.findings.has_errors(),
            "{line}: {}",
            checked.findings
        );
    }
    let run = tool(
        &demo(),
        &["trace", "stag.png", "--cell", "48x24", "--format", "json"],
    );
    let told: Value = serde_json::from_str(&run.out).expect("it is JSON");
    assert_eq!(told["cells"].as_array().map(Vec::len), Some(2));
    assert_eq!(told["cells"][0]["boxes"][0]["form"], "tight rectangle");
    let folder = folder();
    let drawn = folder.path().join("boxes.svg").display().to_string();
    let run = tool(
        &demo(),
        &["trace", "jack.png", "--cell", "72x44", "-o", &drawn],
    );
    assert_eq!(run.code, 0);
    let drawn = fs::read_to_string(&drawn).expect("it is written");
    // Five cells, each of them in it once.
    assert_eq!(drawn.matches("<image ").count(), 5);
    assert_eq!(drawn.matches("polygon: covers 100 %").count(), 5);
}

#[test]
fn what_cannot_be_traced_is_said() {
    for (args, said) in [
        (&["trace", "attic.toml"][..], "--kind NAME"),
        (
            &["trace", "attic.toml", "--kind", "beedle"],
            "known: beetle",
        ),
        (
            &["trace", "third-shelf.toml", "--kind", "wire"],
            "has no sprite",
        ),
        (&["trace", "attic.golden.jsonl"], "it is not a PNG"),
        (&["trace", "nothing.png"], "there is no such file"),
        (&["trace", "stag.png", "--cell", "40x24"], "not whole cells"),
        (&["trace", "stag.png", "--cell", "0x24"], "32x24"),
        (&["trace", "stag.png", "--only", "1"], "it has one cell, 0"),
        (
            &["trace", "stag.png", "--part", "1,2,3"],
            "left, top, width and height",
        ),
        (
            &["trace", "stag.png", "--scale", "0"],
            "--scale 0 is out of range",
        ),
        (
            &["trace", "attic.toml", "--kind", "beetle", "--cell", "32x24"],
            "cannot be used with",
        ),
        (&["trace", "stag.png", "-o", "stag.png"], "stag.png"),
        (
            &[
                "draw",
                "attic.toml",
                "--drill",
                "clean",
                "--opacity",
                "2",
                "-o",
                "-",
            ],
            "from 0 to 1",
        ),
    ] {
        let run = tool(&demo(), args);
        assert_eq!(run.code, 2, "{args:?}");
        assert!(run.err.contains(said), "{args:?}: {}", run.err);
    }
}

#[test]
fn drawings_are_under_the_boxes_and_stay_crisp() {
    let draw = |args: &[&str]| {
        let all = [
            &[
                "draw",
                "first-shelf.toml",
                "--drill",
                "careful",
                "--at",
                "1.2s",
            ],
            args,
        ]
        .concat();
        let run = tool(&demo(), &all);
        assert_eq!((run.code, run.err.as_str()), (0, ""), "{args:?}");
        run.out
    };
    let both = draw(&["-o", "-"]);
    // Porter, two beetles in one cell, pincushion, stag, drawer: five pictures, used six times.
    assert_eq!(both.matches("<image ").count(), 5);
    assert_eq!(both.matches("<use ").count(), 6);
    // The beetles look to the left: they are mirrored.
    assert!(both.contains("scale(-"));
    assert!(both.find("<use ") < both.rfind("url(#hatch)"));
    let boxes = draw(&["--show", "boxes", "-o", "-"]);
    assert!(!boxes.contains("<image ") && boxes.contains("url(#hatch)"));
    // A solid that moves hides its drawing no more than other boxes do.
    let faint = "fill-opacity=\"0.3\"";
    assert!(both.contains(faint) && !boxes.contains(faint));
    let sprites = draw(&["--show", "sprites", "--opacity", "1", "-o", "-"]);
    assert!(sprites.contains("<use ") && !sprites.contains("url(#hatch)"));
    // Enlarged, every pixel of the porter is a colour of its drawing, or of what is around it.
    let folder = folder();
    let path = folder.path().join("close.png").display().to_string();
    draw(&[
        "--show",
        "sprites",
        "--opacity",
        "1",
        "--zoom",
        "porter",
        "-o",
        &path,
    ]);
    let picture = Sheet::read(fs::read(&path).expect("it is written")).expect("a PNG");
    let own = SPRITES.iter().find(|(name, _)| *name == "porter.png");
    let own = Sheet::read(own.expect("it is there").1.to_vec()).expect("a PNG");
    let own = own.pixels();
    let mut colours: Vec<&[u8]> = own
        .chunks_exact(4)
        .filter(|pixel| pixel[3] == 255)
        .collect();
    colours.sort_unstable();
    colours.dedup();
    let pixels = picture.pixels();
    let of_porter = pixels
        .chunks_exact(4)
        .filter(|pixel| colours.binary_search(pixel).is_ok());
    // About 330 pixels of the drawing, each of more than 20 of the picture.
    assert!(of_porter.count() > 6_000);
    // The sheet of a kind has each cell, with shares; the strip has sprites, too.
    let run = tool(
        &demo(),
        &[
            "draw",
            "first-shelf.toml",
            "--kind",
            "tin-porter",
            "-o",
            "-",
        ],
    );
    assert!(run.out.contains("cell 8: thrust: active") && run.out.contains("umbrella: "));
    assert!(run.out.contains("of the drawing in no hurtbox"));
    let run = tool(
        &demo(),
        &[
            "draw",
            "first-shelf.toml",
            "--drill",
            "careful",
            "--strip",
            "-o",
            "-",
        ],
    );
    assert!(run.out.contains("<use "));
}

#[test]
fn the_report_page_draws_sprites_and_boxes_or_one_of_them() {
    let folder = folder();
    let page = folder.path().join("report.html");
    let run = tool(
        &demo(),
        &["report", "attic.toml", "-o", &page.display().to_string()],
    );
    assert_eq!((run.code, run.err.as_str()), (0, ""));
    let text = fs::read_to_string(&page).expect("it is written");
    assert!(text.len() < 600_000, "{} bytes", text.len());
    // Each drawing once.
    assert_eq!(text.matches("data:image/png;base64,").count(), 9);
    let Some(browser) = browser() else { return };
    let out = open(
        &browser,
        folder.path(),
        "report.html",
        "await wait(300);change('zoom','porter');\
         const pixels=()=>{const on=el('arena'),seen=on.seen(),who=seen.actors.find((own)=>own.id==='porter'),ratio=devicePixelRatio||1;\
         const x=(seen.left+(who.x-seen.region[0])*seen.scale)*ratio,y=(who.y-seen.region[1])*seen.scale*ratio;\
         return [...on.getContext('2d').getImageData(x-20,y-30,40,60).data]};\
         const other=(a,b)=>a.filter((own,nth)=>own!==b[nth]).length;\
         const layers=(value)=>{el('layers').value=value;el('layers').dispatchEvent(new Event('input'))};\
         const both=pixels();layers('boxes');const boxes=pixels();layers('sprites');const sprites=pixels();\
         el('opacity').value=5;el('opacity').dispatchEvent(new Event('input'));const faint=pixels();\
         out.other=[other(both,boxes)>2000,other(both,sprites)>500,other(boxes,sprites)>2000,other(sprites,faint)>2000];\
         layers('both');out.switch=[el('layers').closest('label').hidden,el('opacity').closest('label').hidden]",
    );
    assert_eq!(out["faults"], json!([]));
    assert_eq!(out["other"], json!([true, true, true, true]));
    assert_eq!(out["switch"], json!([false, false]));
    // Without sprites there is nothing to choose.
    let plain = folder.path().join("plain.html");
    let run = tool(
        &demo(),
        &["report", "starter.toml", "-o", &plain.display().to_string()],
    );
    assert_eq!(run.code, 0);
    let out = open(
        &browser,
        folder.path(),
        "plain.html",
        "out.hidden=el('layers').closest('label').hidden",
    );
    assert_eq!((&out["hidden"], &out["faults"]), (&json!(true), &json!([])));
}
