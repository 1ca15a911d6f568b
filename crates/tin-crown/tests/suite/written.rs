//! Encounters as written: TOML and JSON, likeness and overrides.

use tin_crown::{Severity, Verdict, check};

use crate::stage::{jsonl, with_verdict};

const DEMO: &str = tin_crown::demo::FIRST_SHELF;

#[test]
fn the_same_tree_in_json_and_in_another_order_is_the_same_encounter() {
    let tree: serde_json::Value = toml::from_str(DEMO).expect("the demo is TOML");
    // serde_json sorts keys; the file does not.
    let json = serde_json::to_vec_pretty(&tree).expect("a tree is JSON");
    let (toml, json) = (check(DEMO.as_bytes()), check(&json));
    let (toml, json) = (toml.plan.expect("no errors"), json.plan.expect("no errors"));
    for drill in ["careful", "careless"] {
        let (one, other) = (toml.replay(drill).unwrap(), json.replay(drill).unwrap());
        assert_eq!(jsonl(&one), jsonl(&other));
    }
}

#[test]
fn byte_order_marks_and_line_ends_say_nothing() {
    let tree: serde_json::Value = toml::from_str(DEMO).expect("the demo is TOML");
    let json = serde_json::to_string(&tree).expect("a tree is JSON");
    let digest = |text: String| {
        let checked = check(text.as_bytes());
        let plan = checked
            .plan
            .unwrap_or_else(|| panic!("{}", checked.findings));
        plan.digest(plan.drill("careful").unwrap())
    };
    let plain = digest(DEMO.to_owned());
    assert_eq!(digest(format!("\u{feff}{DEMO}")), plain);
    assert_eq!(digest(format!("\u{feff}{json}")), plain);
    assert_eq!(digest(DEMO.replace('\n', "\r\n")), plain);
    // And findings stay where they are.
    let found = check("\u{feff}{\"edition\": 2}".as_bytes());
    let span = found.findings.iter().find_map(|finding| finding.span);
    assert_eq!(span.map(|span| span.start), Some(15));
}

#[test]
fn the_digest_knows_what_matters() {
    let digest = |text: &str| {
        let plan = check(text.as_bytes()).plan.expect("no errors");
        plan.digest(plan.drill("careless").unwrap())
    };
    let demo = digest(DEMO);
    for (old, new, same) in [
        ("title = \"The", "title = \"A", true),
        ("[drill.careful]", "[drill.prudent]", true),
        ("\"0.5s\"", "\"500ms\"", true),
        ("\"0.5s\"", "\"31t\"", false),
        ("max = 4", "max = 5", false),
        ("damage = 2", "damage = 1", false),
    ] {
        assert_eq!(
            digest(&DEMO.replacen(old, new, 1)) == demo,
            same,
            "{old} → {new}"
        );
    }
}

#[test]
fn a_clean_stomp_from_a_file() {
    // Jumped on 60 the porter is (320 k - 7.5 k (k + 1)) / 60 above the floor after k ticks; the boots
    // are 2 beneath its feet, the lid's top 16 above the floor: 18 at k = 37 (18.6) or 38 (17.3), which
    // is tick 97. By then it has come 1.5 a tick from 100 on 12 to 228 on 96, and the beetle from 290 to
    // 290 - 97 * 2 / 3 = 225.3.
    let text = r##"
        edition = 1
        title = "A clean stomp"
        [arena]
        bounds = { min = [0, 0], max = [640, 240] }
        gravity = 900
        solids = [{ min = [0, 0], max = [640, 16] }]
        [kind.tin-porter]
        tags = ["hero"]
        body = { size = [14, 28] }
        walk = { speed = 90, jump = 320 }
        meter.health = { max = 4 }
        hurtbox.torso = { size = [12, 20], at = [0, 2] }
        hitbox.boots = { size = [10, 4], at = [0, -14] }
        invincible = { after_hit = "0.5s" }
        [kind.beetle]
        tags = ["windup"]
        meter.health = { max = 1 }
        hitbox.horns = { size = [26, 10], at = [0, -3] }
        hurtbox.lid = { size = [18, 4], at = [0, 6] }
        motion = { patrol = { between = [200, 330], speed = 40 } }
        [[place]]
        kind = "tin-porter"
        id = "porter"
        at = [100, 30]
        [[place]]
        kind = "beetle"
        id = "beetle_1"
        at = [290, 24]
        facing = "left"
        [[rule]]
        name = "boots crush lid"
        hitbox = "#hero.boots"
        hurtbox = "#windup.lid"
        gate = { from = "above", falling_at_least = 30 }
        damage = 1
        rebound = { up = 260 }
        beats = ["horns gore porter"]
        [[rule]]
        name = "horns gore porter"
        hitbox = "beetle.horns"
        hurtbox = "#hero.torso"
        damage = 1
        knockback = { away = 140, up = 120 }
        [drill.clean-stomp]
        length = "6s"
        input = [
          { when = "0.2s", who = "porter", hold = "right", for = "1.4s" },
          { when = "1.0s", who = "porter", press = "jump" },
        ]"##;
    let plan = check(text.as_bytes()).plan.expect("no errors");
    let replay = plan.replay("clean-stomp").expect("the drill is there");
    assert_eq!(
        with_verdict(&replay, Verdict::Landed),
        [(97, "boots crush lid".into())]
    );
}

/// The boxes and numbers that a placement of `kind` comes to.
fn spec(kinds: &str, place: &str) -> tin_crown::plan::Spec {
    let text = format!(
        "edition = 1\ntitle = \"x\"\n[arena]\nbounds = {{ min = [-99, -99], max = [99, 99] }}\n{kinds}\n\
         [[place]]\nkind = \"it\"\nat = [0, 0]\n{place}\n"
    );
    let checked = check(text.as_bytes());
    // Nobody is hit here.
    let idle = |finding: &tin_crown::Finding| finding.code == tin_crown::Code::MeetsNothing;
    assert!(checked.findings.iter().all(idle), "{}", checked.findings);
    let plan = checked.plan.expect("no errors");
    plan.spec(plan.actor("it").expect("it is placed")).clone()
}

const BASE: &str = r##"
[kind.base]
side = "attic"
tags = ["old"]
meter.health = { max = 4, start = 2 }
hitbox.horn = { size = [10, 4], turn = 90, at = [5, 0] }
hurtbox.back = { ends = [[-3, 0], [3, 0]], radius = 2 }
motion = { patrol = { between = [0, 50], speed = 20 } }
"##;

#[test]
fn like_takes_over_what_is_not_said() {
    let it = spec(
        &format!("{BASE}[kind.it]\nlike = \"base\"\nhitbox.tail = {{ radius = 1 }}\n"),
        "",
    );
    let names: Vec<&str> = it.hitboxes().iter().map(|plan| plan.name()).collect();
    assert_eq!(names, ["horn", "tail"]);
    assert_eq!(it.meters()[0].start().to_string(), "2");
    assert_eq!(
        it.side(),
        spec(&format!("{BASE}[kind.it]\nlike = \"base\""), "").side()
    );
}

#[test]
fn parts_are_overridden_one_by_one() {
    let kinds = format!("{BASE}[kind.it]\nlike = \"base\"\n");
    let size = |it: &tin_crown::plan::Spec| {
        <[f64; 2]>::from(
            it.hitboxes()[0]
                .shape(tin_crown::Facing::Right)
                .bounds()
                .size(),
        )
    };
    // Turned by 90: 4 wide and 10 high. A new size keeps the turn; a new form forgets it.
    assert_eq!(size(&spec(&kinds, "")), [4.0, 10.0]);
    assert_eq!(
        size(&spec(&kinds, "hitbox.horn = { size = [20, 6] }")),
        [6.0, 20.0]
    );
    assert_eq!(
        size(&spec(
            &kinds,
            "hitbox.horn = { points = [[0, 0], [8, 0], [0, 3]] }"
        )),
        [8.0, 3.0]
    );
    let back = spec(&kinds, "hurtbox.back.radius = 5").hurtboxes()[0]
        .shape(tin_crown::Facing::Right)
        .bounds();
    assert_eq!(<[f64; 2]>::from(back.size()), [16.0, 10.0]);
    // A new max alone means full; a patrol keeps what is not said.
    let it = spec(
        &kinds,
        "meter.health = { max = 9 }\nmotion.patrol.speed = 5",
    );
    assert_eq!(it.meters()[0].start().to_string(), "9");
    assert_eq!(
        it.drive(),
        tin_crown::plan::Drive::Patrol {
            axis: tin_crown::encounter::Axis::X,
            low: 0.0,
            high: 50.0,
            speed: 5.0,
            ledges: false,
        }
    );
}

#[test]
fn what_a_kind_took_over_is_found_fault_with_once() {
    let kinds = BASE.replace("max = 4, start = 2", "max = 4, start = 9");
    let text = format!(
        "edition = 1\ntitle = \"x\"\n[arena]\nbounds = {{ min = [0, 0], max = [9, 9] }}\n{kinds}\
         [kind.a]\nlike = \"base\"\n[kind.b]\nlike = \"a\"\n"
    );
    let checked = check(text.as_bytes());
    assert_eq!(checked.findings.len(), 1, "{}", checked.findings);
}

/// The encounters that a page shows, each checked and without fault.
pub fn encounters(name: &str, page: &str) -> Vec<(String, std::sync::Arc<tin_crown::Plan>)> {
    let blocks = page.split("```toml\n").skip(1);
    let blocks = blocks.filter_map(|rest| rest.split("```").next());
    blocks
        .filter(|block| block.contains("edition = 1"))
        .map(|block| {
            let checked = check(block.as_bytes());
            let mut found = checked.findings.iter();
            let grave = found.find(|finding| finding.severity != Severity::Note);
            assert!(grave.is_none(), "{name}: {}\n{block}", checked.findings);
            (block.to_owned(), checked.plan.expect("no errors"))
        })
        .collect()
}

#[test]
fn every_encounter_in_the_docs_is_without_fault() {
    for (name, page) in [
        ("README.md", include_str!("../../README.md")),
        ("docs/format.md", include_str!("../../docs/format.md")),
        ("docs/ticks.md", include_str!("../../docs/ticks.md")),
    ] {
        let encounters = encounters(name, page);
        assert!(!encounters.is_empty(), "{name} shows none");
        for (_, plan) in encounters {
            for drill in plan.drills() {
                plan.replay(drill.name()).expect("it can be replayed");
            }
        }
    }
}

/// Each drill of a recipe says what has to come of it.
#[test]
fn every_recipe_does_what_it_says() {
    let page = include_str!("../../docs/recipes.md");
    let mut drills = 0;
    for (_, plan) in encounters("docs/recipes.md", page) {
        for drill in plan.drills() {
            drills += 1;
            let replay = plan.replay(drill.name()).expect("the drill is there");
            let tested = replay.verify();
            assert!(
                !tested.is_empty(),
                "nothing is expected of {}",
                drill.name()
            );
            for tested in tested {
                assert_eq!(tested.miss, None, "{}: {}", drill.name(), tested.said);
            }
        }
    }
    assert!(drills >= 14);
}
