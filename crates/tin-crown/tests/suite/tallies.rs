//! Tallies: the sums agree with the replays made for the purpose.

use tin_crown::study::{Replayed, tally};

/// Every encounter of the demo and the recipes.
fn encounters() -> Vec<(String, String)> {
    let demo = [
        ("first shelf", tin_crown::demo::FIRST_SHELF),
        ("second shelf", tin_crown::demo::SECOND_SHELF),
        ("third shelf", tin_crown::demo::THIRD_SHELF),
        ("attic", tin_crown::demo::ATTIC),
        ("tub", tin_crown::demo::TUB),
        ("starter", tin_crown::demo::STARTER),
    ];
    let demo = demo.map(|(name, text)| (name.to_owned(), text.to_owned()));
    let recipes = include_str!("../../docs/recipes.md")
        .split("```toml\n")
        .skip(1);
    let recipes = recipes
        .filter_map(|rest| rest.split("```").next())
        .enumerate();
    let recipes = recipes.filter(|(_, text)| text.contains("edition = 1"));
    let recipes = recipes.map(|(nth, text)| (format!("recipe {}", nth + 1), text.to_owned()));
    demo.into_iter().chain(recipes).collect()
}

#[test]
fn sums_agree_with_replays_for_every_pair_of_kinds() {
    let (mut agree, mut differ, mut not) = (0, Vec::new(), Vec::new());
    for (name, text) in encounters() {
        let checked = tin_crown::check(text.as_bytes());
        let (Some(encounter), Some(plan)) = (checked.encounter, checked.plan) else {
            panic!("{name}: {}", checked.findings);
        };
        for sum in tally(&encounter, &plan).sums {
            let guard = sum.guard.iter().map(|guard| &guard.replayed);
            for replayed in guard.chain([&sum.replayed]) {
                let of = format!(
                    "{name}: {} on {} by {:?}, {}",
                    sum.who, sum.whom, sum.means, sum.rule
                );
                match replayed {
                    Replayed::Agrees { hits } => agree += usize::from(*hits > 0),
                    Replayed::Differs { how } => differ.push(format!("{of}: {how}")),
                    Replayed::Not { why } => not.push(format!("{of}: {why}")),
                }
            }
        }
    }
    println!(
        "agree {agree}, differ {}, not {}\n{}\n{}",
        differ.len(),
        not.len(),
        differ.join("\n"),
        not.join("\n")
    );
    assert!(differ.is_empty(), "{}", differ.join("\n"));
}
