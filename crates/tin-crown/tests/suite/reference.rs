//! The tables of the reference are what the code declares.

use std::path::Path;

use tin_crown::schema;

/// Set to write the tables instead of comparing them.
const UPDATE: &str = "UPDATE_REFERENCE";

/// A page with every table between its marks made anew.
fn made_anew(page: &str) -> String {
    let mut text = String::new();
    let mut rest = page;
    while let Some((before, after)) = rest.split_once("<!-- ") {
        let (mark, after) = after.split_once(" -->\n").expect("a mark ends its line");
        let (_, after) = after
            .split_once("<!-- end -->")
            .unwrap_or_else(|| panic!("`{mark}` has an end"));
        let words: Vec<&str> = mark
            .split([' ', ','])
            .filter(|word| !word.is_empty())
            .collect();
        let table = match words[..] {
            ["ledger"] => schema::ledger_table(),
            ["table", name, ..] => {
                let only = words.get(3..).unwrap_or_default();
                schema::table(name, only).unwrap_or_else(|| panic!("there is no table `{name}`"))
            }
            _ => panic!("unknown mark `{mark}`"),
        };
        text.push_str(before);
        text.push_str(&format!("<!-- {mark} -->\n{table}<!-- end -->"));
        rest = after;
    }
    text + rest
}

#[test]
fn the_tables_of_the_reference_are_what_the_code_declares() {
    let docs = Path::new(env!("CARGO_MANIFEST_DIR")).join("docs");
    for (name, tables) in [("format.md", 40), ("ticks.md", 1)] {
        let path = docs.join(name);
        let page = std::fs::read_to_string(&path).expect("the page is there");
        assert!(page.matches("<!-- end -->").count() >= tables, "{name}");
        let anew = made_anew(&page);
        if std::env::var_os(UPDATE).is_some() {
            std::fs::write(&path, anew).expect("the page can be written");
        } else {
            assert!(
                page == anew,
                "{name} is out of date: run this test with {UPDATE}=1"
            );
        }
    }
}

#[test]
fn the_schema_beside_the_demo_is_that_of_the_code() {
    let path = Path::new(env!("CARGO_MANIFEST_DIR")).join("demo/encounter.schema.json");
    let beside = std::fs::read_to_string(&path).expect("the demo has its schema");
    if std::env::var_os(UPDATE).is_some() {
        std::fs::write(&path, schema::encounter()).expect("the schema can be written");
    } else {
        assert!(
            beside == schema::encounter(),
            "out of date: run this test with {UPDATE}=1"
        );
    }
}
