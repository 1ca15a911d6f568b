//! Results of expectations: for people, as JUnit XML, and as TAP.

use std::io::{self, Write};

use anstyle::{AnsiColor, Style};
use quick_xml::Writer;
use quick_xml::events::{BytesText, Event};

use tin_crown::verify::Trial;

const BOLD: Style = Style::new().bold();
const RED: Style = Style::new()
    .bold()
    .fg_color(Some(anstyle::Color::Ansi(AnsiColor::Red)));
const GREEN: Style = Style::new().fg_color(Some(anstyle::Color::Ansi(AnsiColor::Green)));

/// What was not met, and how many were.
pub fn text(out: &mut impl Write, trial: &Trial) -> io::Result<()> {
    for test in &trial.tests {
        let Some(lines) = &test.failed else { continue };
        writeln!(
            out,
            "\n{RED}not met{RED:#} in {}: {BOLD}{}{BOLD:#} ({})",
            trial.name(),
            test.said,
            test.place
        )?;
        for line in lines {
            writeln!(out, "    {line}")?;
        }
    }
    Ok(())
}

/// How many were met, and how many not.
pub fn counts(out: &mut impl Write, trials: &[Trial]) -> io::Result<()> {
    let all: usize = trials.iter().map(|trial| trial.tests.len()).sum();
    let failed: usize = trials.iter().map(Trial::failed).sum();
    let drills = trials.iter().filter(|trial| trial.drill.is_some()).count();
    let drills = match drills {
        1 => "1 drill".to_owned(),
        drills => format!("{drills} drills"),
    };
    let met = all - failed;
    let expectations = if met == 1 {
        "expectation"
    } else {
        "expectations"
    };
    match (all, failed) {
        (0, _) => writeln!(out, "{drills}; no expectations"),
        (_, 0) => writeln!(
            out,
            "{drills}: {GREEN}{met} {expectations} met{GREEN:#}, 0 not met"
        ),
        _ => writeln!(
            out,
            "{drills}: {met} {expectations} met, {RED}{failed} not met{RED:#}"
        ),
    }
}

/// JUnit XML: a suite for each drill, a case for each expectation.
pub fn junit(out: &mut impl Write, title: &str, trials: &[Trial]) -> io::Result<()> {
    let mut writer = Writer::new_with_indent(&mut *out, b' ', 2);
    let all: usize = trials.iter().map(|trial| trial.tests.len()).sum();
    let failed: usize = trials.iter().map(Trial::failed).sum();
    writer.write_event(Event::Decl(quick_xml::events::BytesDecl::new(
        "1.0",
        Some("UTF-8"),
        None,
    )))?;
    writer
        .create_element("testsuites")
        .with_attributes([
            ("name", title),
            ("tests", &all.to_string()),
            ("failures", &failed.to_string()),
        ])
        .write_inner_content(|writer| {
            for trial in trials {
                suite(writer, title, trial)?;
            }
            Ok(())
        })?;
    writeln!(out)
}

fn suite<W: Write>(writer: &mut Writer<W>, title: &str, trial: &Trial) -> io::Result<()> {
    writer
        .create_element("testsuite")
        .with_attributes([
            ("name", trial.name()),
            ("tests", &trial.tests.len().to_string()),
            ("failures", &trial.failed().to_string()),
        ])
        .write_inner_content(|writer| {
            for test in &trial.tests {
                let (file, line) = test.place.rsplit_once(':').unwrap_or((&test.place, ""));
                let class = format!("{title}.{}", trial.name());
                let case = writer.create_element("testcase").with_attributes([
                    ("classname", class.as_str()),
                    ("name", &test.said),
                    ("file", file),
                ]);
                let case = match line {
                    "" => case,
                    line => case.with_attribute(("line", line)),
                };
                let Some(lines) = &test.failed else {
                    case.write_empty()?;
                    continue;
                };
                case.write_inner_content(|writer| {
                    let because = lines.first().map_or("", String::as_str);
                    writer
                        .create_element("failure")
                        .with_attribute(("message", because))
                        .write_text_content(BytesText::new(&lines.join("\n")))?;
                    Ok(())
                })?;
            }
            Ok(())
        })?;
    Ok(())
}

/// TAP 13: a plan, then a test point for each expectation.
pub fn tap(out: &mut impl Write, trials: &[Trial]) -> io::Result<()> {
    let all: usize = trials.iter().map(|trial| trial.tests.len()).sum();
    writeln!(out, "TAP version 13\n1..{all}")?;
    let tests = trials.iter().flat_map(|trial| {
        let tests = trial.tests.iter();
        tests.map(|test| (trial.name(), test))
    });
    for (nth, (drill, test)) in tests.enumerate() {
        let said = format!("{drill}: {}", test.said)
            .replace('\\', "\\\\")
            .replace('#', "\\#");
        let verdict = if test.failed.is_some() {
            "not ok"
        } else {
            "ok"
        };
        writeln!(out, "{verdict} {} - {said}", nth + 1)?;
        if let Some(lines) = &test.failed {
            writeln!(
                out,
                "  ---\n  at: {}\n  message: |",
                serde_json::Value::from(test.place.as_str())
            )?;
            for line in lines {
                writeln!(out, "    {line}")?;
            }
            writeln!(out, "  ...")?;
        }
    }
    Ok(())
}
