//! An encounter written out and read again is the same, and so is all that comes of it.

use proptest::prelude::*;
use tin_crown::{Encounter, check};

use crate::ambushes::ambush;
use crate::fights::fight;

/// Both forms give the encounter again; the text of the first.
fn out_and_in(encounter: &Encounter) -> String {
    let toml = encounter.to_toml();
    for text in [&toml, &encounter.to_json()] {
        let again = check(text.as_bytes()).encounter;
        assert_eq!(again.as_ref(), Some(encounter), "{text}");
    }
    toml
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(96))]

    #[test]
    fn random_encounters_come_back_the_same(encounter in prop_oneof![fight(), ambush()]) {
        let text = out_and_in(&encounter);
        let [built, read] = [encounter.check(), check(text.as_bytes())].map(|checked| {
            let plan = checked.plan.unwrap_or_else(|| panic!("{}\n{text}", checked.findings));
            plan.all_drills().map(|drill| plan.digest(drill).to_owned()).collect::<Vec<_>>()
        });
        prop_assert_eq!(built, read);
    }
}

#[test]
fn whole_files_come_back_the_same_with_their_findings() {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../tin-crown-cli/demo");
    for name in ["first-shelf", "second-shelf", "attic", "starter"] {
        let bytes = std::fs::read(format!("{folder}/{name}.toml")).expect("the demo is there");
        let checked = check(&bytes);
        let encounter = checked.encounter.expect("it can be read");
        let text = out_and_in(&encounter);
        let told = |findings: &tin_crown::Findings| {
            let all = findings.iter();
            all.map(|finding| (finding.code, finding.path.clone(), finding.message.clone()))
                .collect::<Vec<_>>()
        };
        // Built in code it is found fault with as in the file.
        assert_eq!(
            told(&encounter.check().findings),
            told(&checked.findings),
            "{name}"
        );
        assert_eq!(
            told(&check(text.as_bytes()).findings),
            told(&checked.findings),
            "{name}"
        );
    }
}

/// What needs care when it is written: names, numbers, and keys that hold their default.
#[test]
fn odd_values_are_written_so_that_they_come_back() {
    let text = r#"
        edition = 1
        title = "quotes \" and \\, a tab \t and \u0001"
        tick_rate = 50
        [arena]
        bounds = { min = [-1e300, 0.1], max = [1e21, 123456789.123] }
        up = "-y"
        [kind."odd name ü"]
        meter."a b" = { max = 0.001 }
        hitbox.x = {}
        takes = {}
        [kind.none]
        tags = []
        [[place]]
        kind = "none"
        at = { choice = [[0, 0], [1.5, -2]] }
        tags = []
        [drill.d]
        length = "007.50s"
        expect = [{ hit = {}, times = { at_least = 0 } }, { hit = {}, times = { at_most = 2 } }]
    "#;
    let encounter = check(text.as_bytes()).encounter.expect("it can be read");
    let text = out_and_in(&encounter);
    assert!(text.contains("length = \"7.50s\""), "{text}");
    assert!(text.contains("[kind.\"odd name ü\"]"), "{text}");
}
