//! Pictures of whole drills and of kinds, read back as the XML that they are.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::{
    BoxSpec, Drill, Encounter, Kind, MeterSpec, Motion, Placement, Plan, Rule, Tick, Ticks, What,
    check,
};
use tin_crown_picture::{Film, Look, Matrix, Sheet, Strip, Timeline, png};

use crate::svg::texts;

fn demo(file: &str) -> Arc<Plan> {
    let starter = ("starter.toml", tin_crown::demo::STARTER);
    let mut files = tin_crown::demo::FILES.into_iter().chain([starter]);
    let (_, text) = files
        .find(|(name, _)| name.strip_suffix(".toml") == Some(file))
        .expect("a file of the demo");
    check(text.as_bytes()).plan.expect("no errors")
}

fn film(plan: &Arc<Plan>, drill: &str) -> Film {
    Film::shoot(plan, plan.drill(drill).expect("it is there")).expect("within the limits")
}

fn has(texts: &[String], wanted: &str) -> bool {
    texts.iter().any(|text| text == wanted)
}

#[test]
fn a_timeline_in_words() {
    let plan = demo("first-shelf");
    let film = film(&plan, "umbrella");
    let svg = Timeline::new(&film).svg(&Look::paper());
    insta::assert_snapshot!(texts(&svg).join("\n"));
    // As the drill's expectations say: five hits land and two are guarded; the legend has one of each.
    assert_eq!(svg.matches("A4 4 0 0 1").count() / 2, 5 + 1);
    assert_eq!(svg.matches("h6.4").count(), 10 + 1, "ten touches are told");
}

#[test]
fn cues_that_crowd_each_other_are_all_named() {
    let plan = demo("attic");
    let film = film(&plan, "clumsy");
    let named = texts(&Timeline::new(&film).svg(&Look::paper()));
    let mut cues: BTreeMap<&str, usize> = BTreeMap::new();
    for event in film.replay().ledger().events() {
        if let What::Cue { cue } = event.what {
            *cues.entry(&plan.names().cues()[cue]).or_default() += 1;
        }
    }
    // A curtain and the first tick of a count-down come together, a waltz on the last tick of all.
    assert_eq!((cues["curtain"], cues["tick"], cues["waltz"]), (2, 2, 1));
    for (cue, times) in cues {
        let drawn = named.iter().filter(|text| *text == cue).count();
        assert_eq!(drawn, times, "{cue}");
    }
    assert!(has(&named, "reaches music box"));
}

#[test]
fn a_timeline_narrowed() {
    let plan = demo("attic");
    let film = film(&plan, "clumsy");
    let porter = plan.choose("porter").expect("it is there");
    let all = Timeline::new(&film);
    let narrow = all.clone().between(Tick(300), Tick(480)).of(&porter);
    let narrow = texts(&narrow.svg(&Look::graphite()));
    assert!(has(
        &narrow,
        "drill clumsy, 5.000 s to 8.000 s (ticks 300 to 480)"
    ));
    assert!(has(&narrow, "comes back") && has(&narrow, "dying") && !has(&narrow, "wasp"));
    // Health was 1 when it began, and is 2 again with the new life.
    assert!(has(&narrow, "1 of 2") && has(&narrow, "2"));
    let all = texts(&all.svg(&Look::paper()));
    assert!(has(&all, "wasp") && has(&all, "angry") && has(&all, "waits to regain"));
    // What the last tick is, nothing can be after.
    let late = Timeline::new(&film)
        .between(Tick(9000), Tick(9999))
        .svg(&Look::paper());
    assert!(
        texts(&late)
            .iter()
            .any(|text| text.contains("ticks 1252 to 1252"))
    );
}

/// Runners to and fro over thorns.
fn crowd(runners: u32, thorns: u32, length: &str) -> Arc<Plan> {
    let runner = Kind::new()
        .side("a")
        .meter("health", MeterSpec::new(9999.0))
        .hurtbox("all", BoxSpec::circle(8.0))
        .motion(Motion::patrol(20.0, 1900.0, 120.0))
        .invincible_after_hit("0.1s".parse().unwrap());
    let thorn = Kind::new().side("b").hitbox("tip", BoxSpec::circle(6.0));
    let rule = Rule::new("prick", "thorn", "runner").damage(1.0);
    Encounter::new("a title that goes on and on ".repeat(9))
        .bounds([0.0, 0.0], [2000.0, 300.0])
        .kind("runner", runner)
        .kind("thorn", thorn)
        .place(
            Placement::new("runner", [20.0, 50.0])
                .id("runner-with-a-rather-long-name")
                .copies(runners, [40.0, 0.0]),
        )
        .place(Placement::new("thorn", [100.0, 50.0]).copies(thorns, [60.0, 0.0]))
        .rule(rule)
        .drill("d", Drill::new(length.parse().unwrap()))
        .plan()
        .expect("no errors")
}

#[test]
fn crowds_and_long_drills_are_thinned_and_it_is_said() {
    let plan = crowd(20, 20, "120s");
    let film = film(&plan, "d");
    let timeline = texts(&Timeline::new(&film).svg(&Look::paper()));
    assert!(
        timeline
            .iter()
            .any(|text| text.contains(" marks stand for ")),
        "{timeline:?}"
    );
    // Names that differ at their end still do.
    let names: std::collections::BTreeSet<&String> = timeline
        .iter()
        .filter(|text| text.starts_with("runner"))
        .collect();
    assert_eq!(names.len(), 20, "{names:?}");
    let strip = Strip::of(&film).take().expect("within the limits");
    assert_eq!(strip.len(), 24);
    let told = texts(&strip.svg(&Look::paper()));
    assert!(
        told.iter()
            .any(|text| text.starts_with("24 of ") && text.ends_with("evenly chosen"))
    );
    let matrix = Matrix::new(&film);
    assert!(!has(&texts(&matrix.svg(&Look::paper())), "runner"));
    assert!(has(&texts(&matrix.by_kind().svg(&Look::paper())), "runner"));
    let many = crowd(60, 60, "20s");
    let film = self::film(&many, "d");
    let left_out = texts(&Matrix::new(&film).svg(&Look::paper()));
    assert!(
        left_out
            .iter()
            .any(|text| text.contains("omitted for lack of space")),
        "{left_out:?}"
    );
    let one = crowd(1, 1, "1s");
    let film = self::film(&one, "d");
    assert!(png(&Timeline::new(&film).svg(&Look::paper())).is_ok());
}

#[test]
fn a_matrix_adds_up_as_the_summary_does() {
    let plan = demo("first-shelf");
    for drill in ["careful", "careless", "umbrella"] {
        let film = film(&plan, drill);
        let texts = texts(&Matrix::new(&film).svg(&Look::paper()));
        let number = |text: &String, word: &str| -> Option<f64> {
            let number = text.strip_suffix(word)?.trim().parse();
            number.ok()
        };
        let sum = |word: &str| -> f64 { texts.iter().filter_map(|text| number(text, word)).sum() };
        let summary = film.replay().summary();
        let health = plan
            .names()
            .meters()
            .iter()
            .position(|name| name == "health")
            .unwrap();
        let lost = summary.dealt.iter().flat_map(|dealt| &dealt.taken);
        let lost = lost
            .filter(|(meter, _)| meter.index() == health)
            .map(|(_, lost)| lost.as_f64());
        assert_eq!(sum(" health"), lost.sum::<f64>(), "{drill}");
        let hits: u32 = summary.dealt.iter().map(|dealt| dealt.hits).sum();
        assert_eq!(
            sum(" hits") + sum(" hit") + sum(" guarded"),
            f64::from(hits),
            "{drill}"
        );
    }
}

#[test]
fn a_strip_has_a_frame_for_each_moment_or_every_so_often() {
    let plan = demo("first-shelf");
    let film = film(&plan, "careless");
    let moments = Strip::of(&film).take().expect("within the limits");
    let told = texts(&moments.svg(&Look::paper()));
    assert!(
        has(
            &told,
            "1.067 s, tick 64: beetle_1 hits porter: health 4 → 3"
        ),
        "{told:?}"
    );
    assert!(
        has(&told, "porter dies: health is empty, by beetle_2"),
        "{told:?}"
    );
    // 0, 30, … 150 of 177.
    let every = Strip::of(&film)
        .every(Ticks(30))
        .take()
        .expect("within the limits");
    assert_eq!((moments.len(), every.len()), (4, 6));
    let quiet = crowd(1, 1, "0.1s");
    let film = self::film(&quiet, "d");
    let quiet = Strip::of(&film).take().expect("within the limits");
    assert!(quiet.is_empty());
    assert!(has(
        &texts(&quiet.svg(&Look::paper())),
        "nobody is hit, dies or respawns in this drill"
    ));
}

#[test]
fn a_sheet_measures_all_boxes() {
    let plan = demo("first-shelf");
    let sheet = |kind: &str| {
        texts(
            &Sheet::new(&plan, kind)
                .expect("it is there")
                .svg(&Look::paper()),
        )
    };
    let porter = sheet("tin-porter");
    for words in [
        "1 body: 14 × 28 at 0, 0",
        "2 torso (hurtbox): 12 × 20 at 0, 2",
        "4 umbrella (off): 24 × 4 at 19, 1",
        "4 umbrella (hitbox): 24 × 4 at 19, 1",
        "thrust: active, 5 ticks",
    ] {
        assert!(has(&porter, words), "{words}: {porter:?}");
    }
    assert!(has(
        &sheet("pincushion-beetle"),
        "3 pins (hitbox): within 16 × 14 at 0, 15"
    ));
    assert!(has(&porter, "with its guard up") && has(&porter, "guard"));
    // States that look the same are one row; steps of a death say what they do.
    let other = |file: &str, kind: &str| {
        let svg = Sheet::new(&demo(file), kind)
            .expect("it is there")
            .svg(&Look::paper());
        texts(&svg)
    };
    let weight = other("second-shelf", "clock-weight");
    for words in [
        "in states down, hanging, rising",
        "in state falling",
        "2 underside (off): 16 × 4 at 0, -11",
        "2 underside (hitbox): 16 × 4 at 0, -11",
        "below (sensor): 36 × 120 at 0, -72",
        "sensor",
    ] {
        assert!(has(&weight, words), "{words}: {weight:?}");
    }
    let porter = other("attic", "tin-porter");
    for words in [
        "pop-gun (launcher of cork): muzzle at 6, 4",
        "dying: thrown, cue clatter",
        // 0.8 s at 60 ticks a second.
        "dying, from tick 48 on: cue curtain",
        "muzzle and direction",
    ] {
        assert!(has(&porter, words), "{words}: {porter:?}");
    }
    // Always live, hence never off: the alarm clock's case.
    assert!(!has(
        &other("second-shelf", "alarm-clock"),
        "box that is off"
    ));
    // Every kind of every file, boxes or none.
    for file in [
        "first-shelf",
        "second-shelf",
        "third-shelf",
        "attic",
        "starter",
    ] {
        let plan = demo(file);
        for kind in plan.names().kinds().iter() {
            let svg = Sheet::new(&plan, kind)
                .expect("it is there")
                .svg(&Look::graphite());
            assert!(!texts(&svg).is_empty());
        }
    }
}

#[test]
fn a_guard_without_boxes_is_drawn_around_its_place() {
    let file = b"edition = 1\ntitle = \"a\"\narena.bounds = { min = [0, 0], max = [99, 99] }\n\
                 kind.a.guard = { button = \"block\" }\nplace = [{ kind = \"a\", at = [9, 9] }]\n\
                 drill.d.length = \"1s\"\n";
    let plan = check(file).plan.expect("no errors");
    let svg = Sheet::new(&plan, "a")
        .expect("it is there")
        .svg(&Look::paper());
    assert!(!svg.contains("NaN") && !svg.contains("inf"), "{svg}");
    assert!(has(&texts(&svg), "with its guard up"));
}

#[test]
fn odd_names_do_no_harm_anywhere() {
    let odd = "<script>alert(1)</script>&\"' ملك 🐞";
    let encounter = Encounter::new(odd)
        .kind(
            odd,
            Kind::new()
                .side("a")
                .meter(odd, MeterSpec::new(3.0))
                .meter("health", MeterSpec::new(3.0))
                .hurtbox(odd, BoxSpec::circle(5.0))
                .invincible_after_hit("1s".parse().unwrap()),
        )
        .kind(
            "thorn",
            Kind::new().side("b").hitbox(odd, BoxSpec::circle(5.0)),
        )
        .place(Placement::new(odd, [10.0, 10.0]))
        .place(Placement::new("thorn", [10.0, 10.0]))
        .rule(Rule::new(odd, "thorn", odd).damage(1.0))
        .drill(odd, Drill::new("1s".parse().unwrap()));
    let plan = encounter.plan().expect("no errors");
    let film = film(&plan, odd);
    let look = Look::paper();
    for svg in [
        Timeline::new(&film).svg(&look),
        Matrix::new(&film).svg(&look),
        Strip::of(&film).take().unwrap().svg(&look),
        Sheet::new(&plan, odd).unwrap().svg(&look),
    ] {
        assert!(!svg.contains("<script"));
        assert!(texts(&svg).iter().any(|text| text.contains("<script>")));
        assert!(png(&svg).is_ok());
    }
}
