//! What `check` has to say, and what it has to leave unsaid: small encounters, each with the codes that
//! come back.

use tin_crown::{Code, Encounter, Kind, Placement, check, limits};

/// A level arena with a floor; an actor called as its kind at each place of `at`.
fn arena(at: &[(&str, [i32; 2])], rest: &str) -> String {
    let places: String = at
        .iter()
        .map(|(kind, [x, y])| format!("[[place]]\nkind = \"{kind}\"\nat = [{x}, {y}]\n"))
        .collect();
    format!(
        "edition = 1\ntitle = \"silences\"\n[arena]\nbounds = {{ min = [0, 0], max = [400, 200] }}\n\
         solids = [{{ min = [0, 0], max = [400, 10] }}]\n{places}{rest}"
    )
}

/// The findings: code and message.
fn found(text: &str) -> Vec<(Code, String)> {
    let findings = check(text.as_bytes()).findings;
    let all = findings.iter();
    all.map(|finding| (finding.code, finding.message.clone()))
        .collect()
}

/// Each encounter brings up just these codes, and the first message has these words.
fn each(cases: &[(&str, String, &[Code], &str)]) {
    for (name, text, codes, words) in cases {
        let found = found(text);
        let own: Vec<Code> = found.iter().map(|(code, _)| *code).collect();
        assert_eq!(own, *codes, "{name}: {found:#?}");
        let first = found.first().map_or("", |(_, message)| message);
        assert!(first.contains(words), "{name}: {first}");
    }
}

const HERO: &str = "[kind.hero]\nside = \"ours\"\nhurtbox.torso = { size = [8, 18] }\n\
                    meter.health = { max = 3 }\n";

fn rule(name: &str, more: &str) -> String {
    format!(
        "[[rule]]\nname = \"{name}\"\nhitbox = \"foe.claw\"\nhurtbox = \"hero.torso\"\ndamage = 1\n{more}\n"
    )
}

#[test]
fn who_drains_is_told_once_and_only_if_it_outlives_the_touch() {
    let foe = "[kind.foe]\nside = \"theirs\"\nhitbox.claw = { radius = 5 }\nhurtbox.eye = { radius = 1 }\n\
               meter.health = { max = 1 }\n";
    let all = |rules: &[String]| {
        arena(
            &[("hero", [50, 50]), ("foe", [200, 50])],
            &format!("{HERO}{foe}{}", rules.concat()),
        )
    };
    let (claws, bites, stings) = (rule("claws", ""), rule("bites", ""), rule("stings", ""));
    let dies = |effect: &str| rule("bursts", &format!("also = [{{ to = \"who\", {effect} }}]"));
    each(&[
        (
            "one",
            all(std::slice::from_ref(&claws)),
            &[Code::DrainsInABlink],
            "`claws` hurts `hero`",
        ),
        (
            "three",
            all(&[claws, bites, stings]),
            &[Code::DrainsInABlink],
            "60 times a second; so do `bites` and `stings`",
        ),
        ("killed by it", all(&[dies("kill = true")]), &[], ""),
        ("dead of it", all(&[dies("damage = 1")]), &[], ""),
        // Which it survives.
        (
            "hurt by it",
            all(&[dies("damage = 0.5")]),
            &[Code::DrainsInABlink],
            "`bursts`",
        ),
    ]);
}

#[test]
fn weak_spots_that_stick_out_or_are_flush_on_either_side() {
    let stage = |nape: &str, spikes: &str, beats: &str| {
        arena(
            &[("hero", [50, 20]), ("pig", [200, 20])],
            &format!(
                "{HERO}body = {{ size = [10, 20] }}\nhitbox.boots = {{ size = [8, 4], at = [0, -10] }}\n\
                 invincible = {{ after_hit = \"1s\" }}\n\
                 [kind.pig]\nside = \"theirs\"\nmeter.health = {{ max = 1 }}\n\
                 body = {{ size = [20, 20] }}\nhurtbox.nape = {nape}\nhitbox.spikes = {spikes}\n\
                 [[rule]]\nname = \"squash\"\nhitbox = \"hero.boots\"\nhurtbox = \"pig.nape\"\ndamage = 1\n\
                 [[rule]]\nname = \"prick\"\nhitbox = \"pig.spikes\"\nhurtbox = \"hero.torso\"\ndamage = 1\n{beats}"
            ),
        )
    };
    // The boots and the torso are equally wide: whose box reaches further is met first.
    let spikes = "{ size = [20, 20] }";
    each(&[
        (
            "both sides",
            stage("{ size = [26, 20], at = [1, 0] }", spikes, ""),
            &[Code::WeakSpotSticksOut],
            "from the front meets it 4 units before `spikes`, from behind meets it 2 units before",
        ),
        (
            "flush",
            stage("{ size = [20, 20] }", spikes, ""),
            &[Code::WeakSpotSticksOut],
            "is flush: who runs into it from the front or behind meets it together with `spikes`",
        ),
        (
            "flush, and the spikes win",
            stage("{ size = [20, 20] }", spikes, "beats = [\"squash\"]\n"),
            &[],
            "",
        ),
        ("within", stage("{ size = [18, 20] }", spikes, ""), &[], ""),
    ]);
}

#[test]
fn a_place_to_come_back_to_where_something_passes() {
    let stage = |motion: &str, grace: &str| {
        arena(
            &[("hero", [100, 50]), ("cart", [60, 50])],
            &format!(
                "{HERO}player = true\nrespawn = {{ at = \"start\", lives = 3 }}\n\
                 invincible = {{ after_hit = \"1s\", {grace} }}\n\
                 [kind.cart]\nside = \"theirs\"\nhitbox.wheels = {{ size = [20, 20] }}\nmotion = {{ {motion} }}\n\
                 [[rule]]\nname = \"rolls\"\nhitbox = \"cart.wheels\"\nhurtbox = \"hero.torso\"\ndamage = 1\n"
            ),
        )
    };
    let path = "path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"1s\", at = [40, 0] }], then = \"returns\" }";
    let away = "path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"1s\", at = [-40, 0] }], then = \"returns\" }";
    let around = "path = { keys = [{ when = \"0s\", at = [0, 0] }, { when = \"1s\", at = [0, 40] }, { when = \"2s\", at = [40, 40] }], then = \"returns\" }";
    let mut cases = Vec::new();
    for motion in [
        "patrol = { between = [20, 120], speed = 60 }",
        "patrol = { speed = 60 }",
        path,
        "hover = { size = [30, 0], period = \"2s\" }",
        "swing = { length = 60, arc = 40, period = \"2s\" }",
    ] {
        let graceless = stage(motion, "");
        let code: &[Code] = &[Code::RespawnInHazard];
        cases.push((
            motion,
            graceless,
            code,
            "`cart` passes and hurts it with `rolls`, and there is no grace",
        ));
        cases.push((motion, stage(motion, "after_respawn = \"1t\""), &[], ""));
    }
    // The other way, round about, and up to a wall; and who chases may be anywhere.
    cases.push(("away", stage(away, ""), &[], ""));
    cases.push(("round about", stage(around, ""), &[], ""));
    let walled = stage("patrol = { speed = 60 }", "")
        .replace(
            "solids = [",
            "solids = [{ min = [75, 10], max = [80, 100] }, ",
        )
        .replace("hitbox.wheels", "body = { size = [10, 10] }\nhitbox.wheels");
    cases.push(("walled", walled, &[], ""));
    cases.push((
        "chase",
        stage("chase = { whom = \"hero\", speed = 30 }", ""),
        &[],
        "",
    ));
    each(&cases);
}

#[test]
fn muzzles_that_pass_over_who_stands_before_them() {
    let stage = |aim: &str, muzzle: &str| {
        arena(
            &[("gun", [50, 50]), ("hero", [200, 50])],
            &format!(
                "{HERO}invincible = {{ after_hit = \"1s\" }}\n\
                 [kind.gun]\nside = \"theirs\"\nbody = {{ size = [10, 10] }}\n\
                 launcher.pop = {{ launches = \"cork\", clock = {{ every = \"1s\" }}, speed = 100, muzzle = {muzzle}, {aim} }}\n\
                 [kind.cork]\nhitbox.tip = {{ radius = 1 }}\nlifetime = \"1s\"\n\
                 [[rule]]\nname = \"pops\"\nhitbox = \"cork.tip\"\nhurtbox = \"hero.torso\"\ndamage = 1\n"
            ),
        )
    };
    // The hero is 8 wide and 18 high; the gun ends 5 from its middle, the cork begins 1 before the muzzle.
    each(&[
        (
            "ahead",
            stage("aim = \"facing\"", "[20, 0]"),
            &[Code::MuzzleBeyond],
            "14 units beyond",
        ),
        ("near", stage("aim = \"facing\"", "[13, 0]"), &[], ""),
        (
            "aimed",
            stage("aim = { at = \"hero\" }", "[20, 0]"),
            &[Code::MuzzleBeyond],
            "14 units beyond",
        ),
        (
            "led",
            stage("aim = { lead = \"hero\" }", "[-20, 0]"),
            &[Code::MuzzleBeyond],
            "14 units beyond",
        ),
        (
            "upward",
            stage("aim = { angle = 90 }", "[0, 30]"),
            &[Code::MuzzleBeyond, Code::MuzzleBeyond],
            "24 units beyond the body of `gun`, through a solid that is 10 wide",
        ),
        (
            "upward, near",
            stage("aim = { angle = 90 }", "[0, 15]"),
            &[],
            "",
        ),
    ]);
}

#[test]
fn what_a_death_leaves_has_an_end() {
    let stage = |step: &str, left: &str| {
        arena(
            &[("hero", [50, 50])],
            &format!("{HERO}death = [{{ after = \"0t\", {step} }}]\n[kind.left]\n{left}"),
        )
    };
    let (leaves, drops) = (
        "leaves = [{ kind = \"left\" }]",
        "drops = [{ kind = \"left\" }, {}]",
    );
    let pickup = "pickup = { area = { radius = 2 }, lives = 1 }\n";
    each(&[
        (
            "left",
            stage(leaves, ""),
            &[Code::NeverLeaves],
            "`left` that `hero` leaves behind",
        ),
        (
            "dropped",
            stage(drops, ""),
            &[Code::NeverLeaves],
            "`left` that `hero` leaves behind",
        ),
        ("for a while", stage(leaves, "lifetime = \"1s\"\n"), &[], ""),
        ("to be taken", stage(drops, pickup), &[], ""),
    ]);
}

#[test]
fn names_that_look_the_same_are_two() {
    let (composed, apart) = ("caf\u{e9}", "cafe\u{301}");
    let named = |rest: &str| arena(&[], &format!("{HERO}{rest}"));
    let ids = format!(
        "[[place]]\nkind = \"hero\"\nid = \"{composed}\"\nat = [50, 50]\n\
         [[place]]\nkind = \"hero\"\nid = \"{apart}\"\nat = [90, 50]\n"
    );
    let drills =
        format!("[drill.{composed:?}]\nlength = \"1s\"\n[drill.\"{apart}\"]\nlength = \"1s\"\n");
    each(&[
        (
            "ids",
            named(&ids),
            &[Code::TwoSpellings],
            "two different actors",
        ),
        (
            "drills",
            named(&drills),
            &[Code::TwoSpellings],
            "two different drills",
        ),
        ("one", named(&ids.replace(apart, "cafe")), &[], ""),
    ]);
}

#[test]
fn a_hitbox_that_only_pauses_is_no_idle_one() {
    let stage = |by: &str| {
        arena(
            &[("hero", [50, 50]), ("mud", [200, 50])],
            &format!(
                "{HERO}meter.shield = {{ max = 3, regen = {{ every = \"1s\"{by} }} }}\n\
                 [kind.mud]\nhitbox.mire = {{ size = [20, 4] }}\n"
            ),
        )
    };
    each(&[
        ("idle", stage(""), &[Code::MeetsNothing], "`mire` of `mud`"),
        ("pauses", stage(", paused_by = [\"mud\"]"), &[], ""),
    ]);
    // Coverage lists it as well.
    let text = stage("") + "[drill.d]\nlength = \"1s\"\n";
    let plan = check(text.as_bytes()).plan.expect("a warning is no error");
    let replay = plan.replay("d").expect("drill d");
    let covered = tin_crown::study::coverage(&plan, [&replay]);
    assert!(
        covered
            .items
            .iter()
            .any(|item| item.name == "mud.mire" && item.times == 0)
    );
}

#[test]
fn that_nobody_has_health_is_told_once() {
    let rules: String = (0..11).map(|nth| rule(&format!("r{nth}"), "")).collect();
    let text = arena(
        &[("hero", [50, 50]), ("foe", [200, 50])],
        &format!("{HERO}[kind.foe]\nside = \"theirs\"\nhitbox.claw = {{ radius = 5 }}\n{rules}"),
    );
    let hp = text.replace("meter.health", "meter.hp");
    each(&[("hp", hp, &[Code::UnknownName], "only `health` kills")]);
}

#[test]
fn conditions_that_can_never_hold() {
    let stage = |when: &str| {
        arena(
            &[("hero", [50, 50]), ("gate", [200, 50])],
            &format!(
                "{HERO}[kind.gate]\nmeter.oil = {{ max = 2 }}\nstarts = \"shut\"\n\
                 state.shut = {{ go = [{{ to = \"open\", when = {{ {when} }} }}] }}\nstate.open = {{}}\n\
                 sensor.eye = {{ area = {{ radius = 9 }}, notices = \"hero\" }}\n"
            ),
        )
    };
    let no: &[Code] = &[Code::NeverHolds];
    each(&[
        (
            "no such state there",
            stage("other = { who = \"hero\", state = \"open\" }"),
            no,
            "nobody whom `other` names has a state `open`",
        ),
        (
            "no such sensor there",
            stage("other = { who = \"hero\", sees = \"eye\" }"),
            no,
            "has a sensor `eye`",
        ),
        (
            "itself",
            stage("other = { who = \"gate\", state = \"open\" }"),
            no,
            "nobody but itself",
        ),
        (
            "more than it holds",
            stage("meter.oil = { at_least = 3 }"),
            no,
            "holds at most 2",
        ),
        ("no body", stage("grounded = true"), no, "no `body`"),
        (
            "nowhere to arrive",
            stage("arrives = true"),
            no,
            "never arrives",
        ),
        ("so much", stage("meter.oil = { at_least = 2 }"), &[], ""),
        ("not standing", stage("grounded = false"), &[], ""),
        (
            "somebody",
            stage("other = { who = \"*\", sees = \"eye\" }"),
            &[],
            "",
        ),
    ]);
}

#[test]
fn an_empty_reference_is_an_error_with_its_line() {
    let good = arena(
        &[("hero", [50, 50]), ("foe", [200, 50])],
        &format!(
            "{HERO}like = \"base\"\ninvincible = {{ after_hit = \"1s\" }}\nstarts = \"calm\"\nstate.calm = {{}}\n\
             sensor.eye = {{ area = {{ radius = 9 }}, notices = \"foe\" }}\n\
             launcher.pop = {{ launches = \"cork\", button = \"shoot\" }}\nwalk = {{ speed = 9 }}\n\
             [kind.base]\n[kind.cork]\nlifetime = \"1s\"\n\
             [kind.foe]\nside = \"theirs\"\nhitbox.claw = {{ radius = 5 }}\n{}{}\
             [drill.d]\nlength = \"9t\"\ninput = [{{ when = \"1t\", who = \"hero\", press = \"shoot\" }}]\n\
             expect = [{{ hit = {{ who = \"foe\" }} }}]\n",
            rule("claws", ""),
            rule("bites", "beats = [\"claws\"]"),
        ),
    );
    let warned = found(&good);
    assert!(
        warned.iter().all(|(code, _)| *code == Code::AlwaysLoses),
        "{warned:?}"
    );
    for reference in [
        "like = \"base\"",
        "starts = \"calm\"",
        "notices = \"foe\"",
        "launches = \"cork\"",
        "hitbox = \"foe.claw\"",
        "hurtbox = \"hero.torso\"",
        "beats = [\"claws\"]",
        "who = \"hero\"",
        "press = \"shoot\"",
        "{ who = \"foe\" }",
    ] {
        assert!(good.contains(reference), "{reference}");
        let (key, value) = reference.split_once('"').expect("a text");
        let rest = value.split_once('"').expect("its end").1;
        for empty in ["", "#"] {
            let text = good.replacen(reference, &format!("{key}\"{empty}\"{rest}"), 1);
            let place = text
                .find(&format!("{key}\"{empty}\""))
                .expect("it is there");
            let line = text[..place].matches('\n').count() + 1;
            let findings = check(text.as_bytes()).findings;
            assert!(findings.has_errors(), "{reference} as {empty:?}");
            for finding in &findings {
                let span = finding.span.expect("it is in the text");
                let own = text[..span.start].matches('\n').count() + 1;
                assert_eq!(own, line, "{reference} as {empty:?}: {finding}");
            }
        }
    }
}

#[test]
fn no_list_is_longer_than_its_index() {
    let tagged = |count: usize| {
        let mut encounter = Encounter::new("tags");
        for (nth, tags) in (0..count).collect::<Vec<_>>().chunks(900).enumerate() {
            let mut kind = Kind::new();
            for tag in tags {
                kind = kind.tag(format!("t{tag}"));
            }
            let name = format!("k{nth}");
            encounter = encounter
                .kind(&name, kind)
                .place(Placement::new(&name, [0.0, 0.0]));
        }
        let plan = encounter.plan();
        plan.map(drop).map_err(|findings| findings.to_string())
    };
    assert_eq!(tagged(limits::NAMES), Ok(()));
    // 65,537 tags once made the last the first.
    for count in [limits::NAMES + 1, 65_537] {
        let refused = tagged(count).expect_err("too many");
        assert!(
            refused.contains("too-many") && refused.contains("tags"),
            "{refused}"
        );
    }
    // 300 gates once were told as the 44th.
    let mut rule = tin_crown::Rule::new("r", "foe.claw", "hero.torso").damage(1.0);
    rule.gate.whom.without = vec!["brave".to_owned(); limits::GATES + 1];
    let encounter = Encounter::new("gates").rule(rule);
    let refused = encounter.plan().expect_err("too many").to_string();
    assert!(refused.contains("51 gates of one party"), "{refused}");
    // Of the lists that have no limit of their own.
    let many = format!("tags = [{}]", "\"t\", ".repeat(limits::LIST + 1));
    let text = arena(&[("hero", [50, 50])], &format!("{HERO}{many}\n"));
    each(&[("tags of a kind", text, &[Code::TooMany], "1001 entries")]);
}
