//! Findings as a person, or a machine, reads them.

use annotate_snippets::{AnnotationKind, Group, Level, Renderer, Snippet};
use serde_json::{Value, json};
use tin_crown::{Finding, Severity, Span};

/// A finding with the text underlined, coloured.
pub fn drawn(name: &str, text: &str, finding: &Finding) -> String {
    let level = match finding.severity {
        Severity::Error => Level::ERROR,
        Severity::Warning => Level::WARNING,
        Severity::Note => Level::NOTE,
    };
    let place = match (finding.span, finding.path.steps()) {
        // Without a text to show, the tree has to do.
        (None, steps) if !steps.is_empty() => format!(" (at {})", finding.path),
        _ => String::new(),
    };
    let message = format!("{}{place}", finding.message);
    let title = level
        .clone()
        .primary_title(message)
        .id(finding.code.as_str());
    let mut snippet = Snippet::source(text).path(name);
    let mut shown = false;
    if let Some(span) = finding.span {
        snippet = snippet.annotation(AnnotationKind::Primary.span(within(text, span)));
        shown = true;
    }
    for (_, words, span) in &finding.related {
        if let Some(span) = span {
            let context = AnnotationKind::Context.span(within(text, *span));
            snippet = snippet.annotation(context.label(words.as_str()));
            shown = true;
        }
    }
    let group = if shown {
        Group::with_title(title).element(snippet)
    } else {
        let origin = annotate_snippets::Origin::path(name);
        Group::with_title(title).element(origin)
    };
    let group = match &finding.help {
        Some(help) => group.element(Level::HELP.message(help.as_str())),
        None => group,
    };
    Renderer::styled().render(&[group])
}

/// A span that lies in the text, on character boundaries.
pub fn within(text: &str, span: Span) -> std::ops::Range<usize> {
    let floor = |mut at: usize| {
        at = at.min(text.len());
        while !text.is_char_boundary(at) {
            at -= 1;
        }
        at
    };
    floor(span.start)..floor(span.end)
}

/// A finding as JSON: code, severity, message, path, where, help, related.
pub fn json(text: &str, finding: &Finding) -> Value {
    let place = |span: Option<Span>| {
        span.map(|span| {
            let range = within(text, span);
            let (line, column) = line_and_column(text, range.start);
            let (end_line, end_column) = line_and_column(text, range.end);
            json!({
                "line": line, "column": column,
                "end_line": end_line, "end_column": end_column,
            })
        })
    };
    let related: Vec<Value> = finding
        .related
        .iter()
        .map(|(path, words, span)| json!({ "path": path, "message": words, "at": place(*span) }))
        .collect();
    json!({
        "code": finding.code,
        "severity": finding.severity,
        "message": finding.message,
        "path": finding.path,
        "at": place(finding.span),
        "help": finding.help,
        "related": related,
    })
}

/// Both counted from 1, columns in characters.
pub fn line_and_column(text: &str, at: usize) -> (usize, usize) {
    let before = &text[..at];
    let line = before.matches('\n').count() + 1;
    let start = before.rfind('\n').map_or(0, |newline| newline + 1);
    (line, before[start..].chars().count() + 1)
}
