//! Every code has a section in docs/findings.md, whose first example brings it up and whose last is
//! without fault.

use std::collections::BTreeMap;
use std::sync::Arc;

use tin_crown::demo::SPRITES;
use tin_crown::track::Recorded;
use tin_crown::{Checked, Code, Severity, check, check_with, limits};

const PAGE: &str = include_str!("../../docs/findings.md");

fn blocks(text: &str) -> Vec<&str> {
    let blocks = text.split("```toml\n").skip(1);
    blocks.filter_map(|rest| rest.split("```").next()).collect()
}

fn csv(text: &str) -> Vec<&str> {
    let blocks = text.split("```csv\n").skip(1);
    blocks.filter_map(|rest| rest.split("```").next()).collect()
}

/// The drawings that examples name.
fn sprites() -> BTreeMap<String, Vec<u8>> {
    let all = SPRITES.iter();
    all.map(|(name, bytes)| ((*name).to_owned(), bytes.to_vec()))
        .collect()
}

/// What is found in an example, and in its recording if it has one.
fn found(text: &str, rows: Option<&str>) -> Recorded {
    let Checked { plan, findings, .. } = check_with(text.as_bytes(), &sprites());
    match (plan, rows) {
        (Some(plan), Some(rows)) if findings.is_empty() => {
            let files = BTreeMap::from([("run.csv".to_owned(), rows.as_bytes().to_vec())]);
            plan.record(plan.all_drills(), Arc::new(files))
        }
        (plan, _) => Recorded {
            plan,
            findings,
            rows: 0,
        },
    }
}

/// The encounter to which examples are added.
fn base() -> &'static str {
    let rest = PAGE.split("<!-- base -->").nth(1).expect("the page has it");
    blocks(rest)[0]
}

fn whole(example: &str) -> String {
    if example.starts_with("edition") {
        example.to_owned()
    } else {
        format!("{}\n{example}", base())
    }
}

/// From one heading to the next.
fn section(code: Code) -> &'static str {
    let heading = format!("\n## {code}\n");
    let from = PAGE
        .find(&heading)
        .unwrap_or_else(|| panic!("no section for {code}"));
    let rest = &PAGE[from + heading.len()..];
    rest.find("\n#").map_or(rest, |to| &rest[..to])
}

#[test]
fn every_code_has_an_example_that_shows_it_and_one_that_is_mended() {
    assert_eq!(check(base().as_bytes()).findings.to_string(), "");
    for &code in Code::ALL {
        let section = section(code);
        let grave = match code.severity() {
            Severity::Error => "Error.",
            Severity::Warning => "Warning.",
            Severity::Note => "Note.",
        };
        assert!(section.trim_start().starts_with(grave), "{code}: {section}");
        let examples = blocks(section);
        if matches!(code, Code::TooLarge | Code::NotText) {
            // No page could show those.
            assert_eq!(examples.len(), 0);
            continue;
        }
        assert_eq!(examples.len(), 2, "{code}");
        let rows = csv(section);
        let faulty = found(&whole(examples[0]), rows.first().copied()).findings;
        let codes: Vec<Code> = faulty.iter().map(|finding| finding.code).collect();
        assert_eq!(codes, [code], "{faulty}");
        let mended = found(&whole(examples[1]), rows.last().copied());
        assert_eq!(mended.findings.to_string(), "", "{code}");
        assert!(mended.plan.is_some(), "{code}");
    }
    let large = vec![b' '; limits::FILE_BYTES as usize + 1];
    for (bytes, code) in [(large, Code::TooLarge), (vec![0xff, 0xfe], Code::NotText)] {
        let findings = check(&bytes).findings;
        assert_eq!(
            findings.iter().next().map(|finding| finding.code),
            Some(code)
        );
    }
}

#[test]
fn what_is_meant_can_be_allowed_for_a_reason() {
    let rest = PAGE
        .split("<!-- added -->")
        .nth(1)
        .expect("the page has it");
    let text = whole(blocks(rest)[0]);
    let allowed = |text: &str| {
        let findings = check(text.as_bytes()).findings;
        let kept: Vec<Code> = findings.iter().map(|finding| finding.code).collect();
        let allowed: Vec<String> = findings
            .allowed()
            .map(|(finding, reason)| format!("{}: {reason}", finding.code))
            .collect();
        (kept, allowed)
    };
    let reason = "drains-in-a-blink: nobody is to survive the vat".to_owned();
    assert_eq!(allowed(&text), (vec![], vec![reason.clone()]));
    let about = "about = \"acid burns hero\"\n";
    for (from, to, kept, set_aside) in [
        (about, "", vec![], true),
        (about, "about = \"rule\"\n", vec![], true),
        (about, "about = \"rule[3]\"\n", vec![], true),
        (about, "about = \"moth\"\n", vec![], true),
        // What is about another allows nothing.
        (
            about,
            "about = \"toad\"\n",
            vec![Code::NoEffect, Code::DrainsInABlink],
            false,
        ),
        (
            "\"drains-in-a-blink\"",
            "\"drains\"",
            vec![Code::UnknownName],
            false,
        ),
        (
            "\"drains-in-a-blink\"",
            "\"bad-shape\"",
            vec![Code::Contradiction],
            false,
        ),
        (
            "\"nobody is to survive the vat\"",
            "\" \"",
            vec![Code::MissingKey],
            true,
        ),
        (
            "reason = \"nobody is to survive the vat\"\n",
            "",
            vec![Code::MissingKey],
            true,
        ),
        ("reason = ", "reasn = ", vec![Code::UnknownKey], true),
    ] {
        assert!(text.contains(from));
        let (found, aside) = allowed(&text.replace(from, to));
        assert_eq!((found, !aside.is_empty()), (kept, set_aside), "{to}");
    }
}
