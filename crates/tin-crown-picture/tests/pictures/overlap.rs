//! No two texts lie on each other in any picture of the demo.

use std::sync::Arc;

use resvg::usvg::{Group, Node, Options, Rect, Tree, fontdb};
use tin_crown::{What, check, demo};
use tin_crown_picture::{Film, Frame, Look, Matrix, Sheet, Strip, Timeline};

fn fonts() -> Options<'static> {
    let mut fonts = fontdb::Database::new();
    fonts.load_font_data(include_bytes!("../../font/Inter-Regular.otf").to_vec());
    fonts.load_font_data(include_bytes!("../../font/Inter-SemiBold.otf").to_vec());
    Options {
        fontdb: Arc::new(fonts),
        font_family: "Inter".to_owned(),
        ..Options::default()
    }
}

/// The texts of a picture, with the rectangles around their letters.
fn texts(group: &Group, found: &mut Vec<(String, Rect)>) {
    for node in group.children() {
        match node {
            Node::Group(group) => texts(group, found),
            Node::Text(text) => {
                let words = text.chunks().iter().map(|chunk| chunk.text());
                let area = text.flattened().abs_bounding_box();
                found.push((words.collect(), area));
            }
            _ => {}
        }
    }
}

/// Which texts lie on each other.
fn overlaps(svg: &str, options: &Options<'_>) -> Vec<String> {
    let tree = Tree::from_str(svg, options).expect("the picture can be read");
    let mut all = Vec::new();
    texts(tree.root(), &mut all);
    assert!(!all.is_empty(), "a picture without texts");
    let mut found = Vec::new();
    for (nth, (one, a)) in all.iter().enumerate() {
        for (other, b) in &all[nth + 1..] {
            let across = a.right().min(b.right()) - a.left().max(b.left());
            let down = a.bottom().min(b.bottom()) - a.top().max(b.top());
            if across > 0.5 && down > 0.5 {
                found.push(format!(
                    "`{one}` on `{other}` at {:.0}, {:.0}",
                    a.left(),
                    a.top()
                ));
            }
        }
    }
    found
}

#[test]
fn texts_on_each_other_are_found() {
    let svg = |y: u32| {
        format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='99' height='99' font-size='14'>\
             <text x='9' y='20'>over</text><text x='20' y='{y}'>under</text></svg>"
        )
    };
    assert_eq!(overlaps(&svg(22), &fonts()).len(), 1);
    assert!(overlaps(&svg(40), &fonts()).is_empty());
}

#[test]
fn no_two_texts_lie_on_each_other() {
    let (options, look) = (fonts(), Look::paper());
    let mut faults = Vec::new();
    let mut see = |picture: String, svg: &str| {
        let found = overlaps(svg, &options);
        faults.extend(found.into_iter().map(|fault| format!("{picture}: {fault}")));
    };
    for (file, source) in [
        ("first-shelf", demo::FIRST_SHELF),
        ("second-shelf", demo::SECOND_SHELF),
        ("third-shelf", demo::THIRD_SHELF),
        ("attic", demo::ATTIC),
        ("starter", demo::STARTER),
        ("kiln", include_str!("../kiln/kiln.toml")),
    ] {
        let plan = check(source.as_bytes()).plan.expect("no errors");
        let mut actors = plan.actors().iter();
        let player = actors.find(|actor| plan.specs()[actor.spec().index()].player());
        let player = player.map_or("", |actor| actor.id());
        for kind in plan.names().kinds().iter() {
            let sheet = Sheet::new(&plan, kind).expect("it is there");
            see(format!("{file}, kind {kind}"), &sheet.svg(&look));
        }
        for drill in plan.drills() {
            let name = drill.name();
            let index = plan.drill(name).expect("it is there");
            let film = Film::shoot(&plan, index).expect("it can be played");
            see(
                format!("{file}, {name}, timeline"),
                &Timeline::new(&film).svg(&look),
            );
            see(
                format!("{file}, {name}, matrix"),
                &Matrix::new(&film).svg(&look),
            );
            if let Ok(strip) = Strip::of(&film).take() {
                see(format!("{file}, {name}, strip"), &strip.svg(&look));
            }
            let ledger = film.replay().ledger();
            let hits = ledger.events().iter();
            let hits = hits.filter(|event| matches!(event.what, What::Hit(_) | What::Death { .. }));
            let mut ticks: Vec<_> = hits.map(|event| event.tick).collect();
            ticks.dedup();
            for tick in ticks {
                let frame = Frame::capture(&plan, index, tick).expect("it is played so far");
                see(format!("{file}, {name}, tick {tick}"), &frame.svg(&look));
                if let Ok(near) = frame.around(player) {
                    see(
                        format!("{file}, {name}, tick {tick}, near"),
                        &near.svg(&look),
                    );
                }
            }
        }
    }
    assert!(faults.is_empty(), "{}", faults.join("\n"));
}
