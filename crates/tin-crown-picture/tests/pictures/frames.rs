//! Frames: the arena at one tick.

use tin_crown::encounter::Up;
use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::{BoxSpec, Drill, Encounter, Kind, MeterSpec, Motion, Placement, Rule, Tick, check};
use tin_crown_picture::{Frame, FrameError, Look, png};

use crate::svg::texts;

const DEMO: &[u8] = tin_crown::demo::FIRST_SHELF.as_bytes();

fn demo(drill: &str, tick: u32, look: &Look) -> String {
    let plan = check(DEMO).plan.expect("no errors");
    let frame = Frame::capture(&plan, plan.drill(drill).unwrap(), Tick(tick)).unwrap();
    frame.svg(look)
}

#[test]
fn the_demo_in_words() {
    let texts = texts(&demo("careless", 66, &Look::paper()));
    insta::assert_snapshot!(texts.join("\n"));
}

#[test]
fn names_are_of_the_player_first_and_a_kill_shows_both() {
    let words = texts(&demo("careless", 64, &Look::paper()));
    let place = |name: &str| words.iter().position(|word| word == name);
    // The player, then who hits it, then who is only there.
    assert!(place("porter") < place("beetle_1") && place("beetle_1") < place("beetle_2"));
    // On 177 the porter dies and is gone; on 178 there would be nothing of it.
    let words = texts(&demo("careless", 177, &Look::paper()));
    let porter = words
        .iter()
        .position(|word| word == "porter")
        .expect("it is shown");
    assert_eq!(
        words[porter + 1..porter + 4],
        ["health 0 / 4", "stamina 3 / 3", "gone"]
    );
}

#[test]
fn both_looks_have_the_same_shapes_in_other_colours() {
    let paper = demo("careless", 66, &Look::paper());
    let graphite = demo("careless", 66, &Look::graphite());
    assert_ne!(paper, graphite);
    let bare = |svg: &str| {
        let mut bare = String::new();
        let mut rest = svg;
        while let Some(at) = rest.find('#') {
            bare.push_str(&rest[..at]);
            let is_colour = rest[at + 1..]
                .chars()
                .take(6)
                .all(|c| c.is_ascii_hexdigit());
            rest = &rest[at + if is_colour { 7 } else { 1 }..];
        }
        bare + rest
    };
    assert_eq!(bare(&paper), bare(&graphite));
}

#[test]
fn odd_names_are_escaped_and_survive() {
    let names = ["<b>&\"'", "ملك", "🐞 bug", "]]>"];
    let mut encounter = Encounter::new("a <title> & \"more\"")
        .kind(
            "k",
            Kind::new()
                .meter("<m>", MeterSpec::new(1.0))
                .hurtbox("h", BoxSpec::circle(5.0)),
        )
        .drill("<d>", Drill::new("1s".parse().unwrap()));
    for (nth, name) in names.iter().enumerate() {
        let at = [100.0 + 120.0 * nth as f64, 100.0];
        encounter = encounter.place(Placement::new("k", at).id(*name));
    }
    let plan = encounter.plan().unwrap();
    let svg = Frame::capture(&plan, plan.drill("<d>").unwrap(), Tick(3))
        .unwrap()
        .svg(&Look::paper());
    let texts = texts(&svg);
    for name in names
        .iter()
        .copied()
        .chain(["a <title> & \"more\"", "<m> 1 / 1"])
    {
        assert!(texts.iter().any(|text| text == name), "{name}: {texts:?}");
    }
    assert!(png(&svg).is_ok());
}

#[test]
fn a_png_shows_what_the_svg_says() {
    let look = Look::paper();
    let bytes = png(&demo("careless", 66, &look)).unwrap();
    let pixels = resvg::tiny_skia::Pixmap::decode_png(&bytes).unwrap();
    assert_eq!(pixels.width(), 1280);
    let count = |colour: &str| {
        let channel = |at| u8::from_str_radix(&colour[at..at + 2], 16).unwrap();
        let wanted = [channel(1), channel(3), channel(5)];
        pixels
            .pixels()
            .iter()
            .filter(|pixel| [pixel.red(), pixel.green(), pixel.blue()] == wanted)
            .count()
    };
    assert!(count(look.ground) > 100_000);
    for (colour, least) in [
        (look.copper, 60),
        (look.solid, 10_000),
        (look.verdigris, 300),
        (look.ink, 1000),
    ] {
        assert!(count(colour) > least, "{colour}: {}", count(colour));
    }
}

#[test]
fn up_turns_the_picture_and_nothing_else() {
    let of = |up| {
        let mut encounter = Encounter::new("t")
            .bounds([0.0, 0.0], [100.0, 100.0])
            .kind(
                "k",
                Kind::new()
                    .hurtbox("h", BoxSpec::rectangle(10.0, 10.0))
                    .motion(Motion::Still),
            )
            .place(Placement::new("k", [50.0, 20.0]))
            .drill("d", Drill::new("1s".parse().unwrap()));
        encounter.arena.up = up;
        let plan = encounter.plan().unwrap();
        let svg = Frame::capture(&plan, plan.drill("d").unwrap(), Tick(1))
            .unwrap()
            .svg(&Look::paper());
        let at = svg.find("d=\"M").expect("an outline") + 4;
        let numbers = svg[at..].split(['L', 'Z']).next().unwrap().to_owned();
        numbers.split(' ').nth(1).unwrap().parse::<f64>().unwrap()
    };
    // y is 15 to 25 of 100: near the bottom when y grows upward, near the top when downward.
    assert!(of(Up::Plus) > of(Up::Minus) + 200.0);
}

#[test]
fn a_moment_after_the_end_is_an_error_that_says_when_the_end_was() {
    let plan = check(DEMO).plan.unwrap();
    let error = Frame::capture(&plan, plan.drill("careless").unwrap(), Tick(9999)).unwrap_err();
    assert!(
        matches!(&error, FrameError::Over { lost: true, .. }),
        "{error}"
    );
}

#[test]
fn a_crowd_is_drawn_without_names_on_each_other_and_says_what_it_left_out() {
    let encounter = Encounter::new("crowd")
        .bounds([0.0, 0.0], [100.0, 20.0])
        .kind(
            "k",
            Kind::new()
                .meter("health", MeterSpec::new(3.0))
                .hurtbox("h", BoxSpec::circle(1.0)),
        )
        .place(
            Placement::new("k", [50.0, 10.0])
                .id("someone")
                .copies(40, [0.1, 0.0]),
        )
        .drill("d", Drill::new("1s".parse().unwrap()));
    let plan = encounter.plan().unwrap();
    let svg = Frame::capture(&plan, plan.drill("d").unwrap(), Tick(1))
        .unwrap()
        .svg(&Look::paper());
    let texts = texts(&svg);
    let shown = texts
        .iter()
        .filter(|text| text.starts_with("someone_"))
        .count();
    assert!(shown > 3 && shown < 40);
    assert!(
        texts.contains(&format!("names omitted for lack of space: {}", 40 - shown)),
        "{texts:?}"
    );
}

#[test]
fn the_legend_has_what_is_drawn_and_no_more() {
    let attic = tin_crown::demo::ATTIC.as_bytes();
    let plan = check(attic).plan.expect("no errors");
    let drill = plan.drill("clumsy").unwrap();
    let legend = |tick: u32| {
        let frame = Frame::capture(&plan, drill, Tick(tick)).unwrap();
        texts(&frame.svg(&Look::paper()))
    };
    let has = |tick: u32, entry: &str| legend(tick).iter().any(|text| text == entry);
    // Hurt on 92, the porter's hurtbox is there and cannot be hit; dying on 777, his boxes are all off.
    assert!(has(93, "hurtbox, invincible"));
    assert!(has(777, "box that is off"));
    assert!(!has(777, "hurtbox, invincible"));
}

#[test]
fn sights_aims_ways_and_places_to_come_back_to_are_drawn() {
    let second = tin_crown::demo::SECOND_SHELF.as_bytes();
    let attic = tin_crown::demo::ATTIC.as_bytes();
    let legend = |file: &[u8], drill: &str, tick: u32| {
        let plan = check(file).plan.expect("no errors");
        let frame = Frame::capture(&plan, plan.drill(drill).unwrap(), Tick(tick)).unwrap();
        texts(&frame.svg(&Look::paper()))
    };
    for (texts, words) in [
        (legend(second, "clumsy", 443), "noticed actor"),
        (legend(second, "marksman", 105), "path of this tick"),
        (legend(second, "marksman", 105), "muzzle and direction"),
        (legend(second, "clumsy", 618), "aimed at"),
        (legend(attic, "clumsy", 93), "path of its motion"),
        (legend(attic, "clumsy", 93), "respawn place"),
        (legend(attic, "clumsy", 93), "second lamp"),
    ] {
        assert!(texts.iter().any(|text| text == words), "{words}: {texts:?}");
    }
    // The clock is shut on 583, and launches nothing.
    let shut = legend(second, "clumsy", 583);
    assert!(!shut.iter().any(|text| text == "aimed at"), "{shut:?}");
    // The cuckoo is aimed at where the porter will be, whom the clock has noticed.
    let plan = check(second).plan.expect("no errors");
    let mut sim = tin_crown::Sim::new(&plan, plan.drill("clumsy").unwrap());
    let (clock, porter) = (plan.actor("clock").unwrap(), plan.actor("porter").unwrap());
    assert_eq!(sim.aimed_at(clock, 0), None);
    while sim.tick() < Tick(618) {
        sim.step().expect("within the limits");
    }
    let (whom, place) = sim.aimed_at(clock, 0).expect("it is noticed");
    assert_eq!(whom, porter);
    // From the muzzle at 944, 118 at 240 a second, to where the porter is as late at its own velocity.
    let seconds = (place - Vec2::new(944.0, 118.0)).length() / 240.0;
    let porter_then = sim.actor(porter).at + sim.actor(porter).velocity * seconds;
    assert!(
        (place - porter_then).length() < 1e-9 && seconds > 0.1,
        "{place:?}"
    );
    assert_eq!(
        (sim.aimed_at(porter, 0), sim.aimed_at(porter, 9)),
        (None, None)
    );
}

#[test]
fn a_zoom_shows_whom_it_is_about_and_leaves_others_out() {
    let plan = check(DEMO).plan.expect("no errors");
    let frame = Frame::capture(&plan, plan.drill("careless").unwrap(), Tick(66)).unwrap();
    let near = texts(&frame.clone().around("porter").unwrap().svg(&Look::paper()));
    assert!(near.iter().any(|text| text == "porter") && !near.iter().any(|text| text == "stag"));
    // Nor does the legend speak of what is not there: up there is nobody.
    let all = texts(&frame.svg(&Look::paper()));
    let above = Bounds::new([300.0, 150.0], [600.0, 230.0]);
    let above = texts(&frame.clone().region(above).svg(&Look::paper()));
    for words in ["hitbox: deals", "hurtbox: takes"] {
        let has = |texts: &[String]| texts.iter().any(|text| text == words);
        assert!(has(&all) && !has(&above), "{words}");
    }
    // Nor do names of goals gather at the edge.
    let attic = check(tin_crown::demo::ATTIC.as_bytes()).plan;
    let attic = attic.expect("no errors");
    let drill = attic.drill("clumsy").unwrap();
    let lamps = Frame::capture(&attic, drill, Tick(93)).unwrap();
    let first = lamps.region(Bounds::new([300.0, 0.0], [400.0, 100.0]));
    let first = texts(&first.svg(&Look::paper()));
    let goals = ["first lamp", "second lamp", "music box"];
    let named = goals.map(|goal| first.iter().any(|text| text == goal));
    assert_eq!(named, [true, false, false]);
    let missing = frame.around("nobody").unwrap_err();
    assert_eq!(missing.to_string(), "`nobody` does not exist on tick 66");
}

#[test]
fn a_zoom_holds_both_who_hits_and_who_is_hit() {
    // 24,000 units a second are 400 a tick: it goes through the post on tick 1, and ends 280 beyond it.
    let encounter = Encounter::new("a dart")
        .bounds([0.0, 0.0], [1000.0, 120.0])
        .kind(
            "dart",
            Kind::new()
                .hitbox("tip", BoxSpec::circle(4.0))
                .motion(Motion::patrol(100.0, 900.0, 24_000.0)),
        )
        .kind(
            "post",
            Kind::new()
                .meter("health", MeterSpec::new(3.0))
                .hurtbox("wood", BoxSpec::circle(5.0)),
        )
        .place(Placement::new("dart", [100.0, 60.0]))
        .place(Placement::new("post", [220.0, 60.0]))
        .rule(Rule::new("tip chips wood", "dart.tip", "post.wood").damage(1.0))
        .drill("stand", Drill::new("1s".parse().expect("a duration")));
    let plan = encounter.plan().expect("no errors");
    let names = |tick: u32| {
        let frame = Frame::capture(&plan, plan.drill("stand").unwrap(), Tick(tick)).unwrap();
        let texts = texts(
            &frame
                .around("post")
                .expect("it is there")
                .svg(&Look::paper()),
        );
        ["post", "dart"].map(|name| texts.iter().any(|text| text == name))
    };
    assert_eq!((names(1), names(2)), ([true, true], [true, false]));
}

#[test]
fn an_aim_is_drawn_of_who_can_pay_whatever_its_meter_is_called() {
    let file = |corks: u32| {
        format!(
            "edition = 1\ntitle = \"aims\"\ntick_rate = 60\narena.bounds = {{ min = [0, 0], max = [400, 200] }}\n\
             [kind.hero]\nmeter.health = {{ max = 1 }}\nhurtbox.torso = {{ radius = 6 }}\n\
             [kind.gun]\nmeter.zeal = {{ max = 5, start = {corks} }}\n\
             launcher.pop = {{ launches = \"cork\", button = \"shoot\", aim = {{ at = \"hero\" }}, speed = 90, \
             ammo = {{ meter = \"zeal\", cost = 1 }} }}\n\
             [kind.cork]\nlifetime = \"1s\"\n\
             [[place]]\nkind = \"hero\"\nat = [300, 100]\n[[place]]\nkind = \"gun\"\nat = [100, 100]\n\
             [drill.d]\nlength = \"1s\"\n"
        )
    };
    for (held, aimed) in [(1, true), (0, false)] {
        let checked = check(file(held).as_bytes());
        let plan = checked
            .plan
            .unwrap_or_else(|| panic!("{}", checked.findings));
        let frame = Frame::capture(&plan, plan.drill("d").unwrap(), Tick(1)).unwrap();
        let texts = texts(&frame.svg(&Look::paper()));
        assert_eq!(
            texts.iter().any(|text| text == "aimed at"),
            aimed,
            "{texts:?}"
        );
    }
}

#[test]
fn who_has_no_boxes_is_marked_and_named() {
    let encounter = Encounter::new("a switch")
        .kind("switch", Kind::new())
        .kind("post", Kind::new().hurtbox("wood", BoxSpec::circle(5.0)))
        .place(Placement::new("switch", [100.0, 60.0]))
        .place(Placement::new("post", [300.0, 60.0]))
        .drill("stand", Drill::new("1s".parse().unwrap()));
    let plan = encounter.plan().expect("no errors");
    let drill = plan.drill("stand").unwrap();
    let frame = Frame::capture(&plan, drill, Tick(10)).unwrap();
    let has = |all: &[String], word: &str| all.iter().any(|own| own == word);
    let all = texts(&frame.svg(&Look::paper()));
    assert!(
        has(&all, "switch") && has(&all, "actor without boxes"),
        "{all:?}"
    );
    // The legend speaks of it only where it is shown.
    let post = frame.around("post").expect("it is there");
    let post = texts(&post.svg(&Look::paper()));
    assert!(
        has(&post, "post") && !has(&post, "actor without boxes"),
        "{post:?}"
    );
}
