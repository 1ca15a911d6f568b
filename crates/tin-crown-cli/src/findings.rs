//! Findings as a person, or a machine, reads them.

use std::borrow::Cow;

use annotate_snippets::{Annotation, AnnotationKind, Group, Level, Renderer, Snippet, Title};
use serde_json::{Value, json};
use tin_crown::finding::{RowPlace, Span};
use tin_crown::printable::escaped;
use tin_crown::{Finding, Findings, Severity};

use crate::terminal::{plain, say};

/// Says all findings on standard error, and how many more there are.
pub fn say_all(name: &str, text: &str, findings: &Findings) {
    let shown = Shown::new(text);
    for finding in findings {
        say(drawn(name, &shown, finding));
    }
    if let Some(more) = left_out(findings) {
        say(more);
    }
}

/// How many findings are not listed, if any.
pub fn left_out(findings: &Findings) -> Option<String> {
    let more = [
        (Severity::Error, "error"),
        (Severity::Warning, "warning"),
        (Severity::Note, "note"),
    ]
    .into_iter()
    .map(|(severity, what)| (findings.left_out(severity), what))
    .filter(|(count, _)| *count > 0)
    .map(|(count, what)| plural(count, &format!("more {what}")));
    let more: Vec<String> = more.collect();
    (!more.is_empty()).then(|| format!("and {}", more.join(", ")))
}

/// "1 error", "2 errors".
pub fn plural(count: usize, what: &str) -> String {
    format!("{count} {what}{}", if count == 1 { "" } else { "s" })
}

/// A finding with the text underlined, coloured.
pub fn drawn(name: &str, source: &Shown<'_>, finding: &Finding) -> String {
    let level = match finding.severity {
        Severity::Error => Level::ERROR,
        Severity::Warning => Level::WARNING,
        Severity::Note => Level::NOTE,
    };
    let place = match (finding.span, finding.path.steps()) {
        // Without a text to show, the tree has to do.
        (None, steps) if !steps.is_empty() && finding.row.is_none() => {
            format!(" (at {})", finding.path)
        }
        _ => String::new(),
    };
    let message = plain(&format!("{}{place}", finding.message)).into_owned();
    let title = level
        .clone()
        .primary_title(message)
        .id(finding.code.as_str());
    if let Some(row) = &finding.row {
        let text = Shown::new(&row.text);
        let line = usize::try_from(row.line).unwrap_or(usize::MAX);
        let snippet = Snippet::source(&*text.text)
            .path(escaped(&row.file))
            .line_start(line);
        let snippet = snippet.annotation(AnnotationKind::Primary.span(text.span(row.span)));
        return render(title, snippet, finding.help.as_deref());
    }
    let mut snippet = Snippet::source(&*source.text).path(name);
    let mut shown = false;
    if let Some(span) = finding.span {
        snippet = snippet.annotation(AnnotationKind::Primary.span(source.span(span)));
        shown = true;
    }
    for (_, words, span) in &finding.related {
        if let Some(span) = span {
            let context = AnnotationKind::Context.span(source.span(*span));
            snippet = snippet.annotation(context.label(plain(words)));
            shown = true;
        }
    }
    let group = if shown {
        Group::with_title(title).element(snippet)
    } else {
        let origin = annotate_snippets::Origin::path(name);
        Group::with_title(title).element(origin)
    };
    finished(group, finding.help.as_deref())
}

/// A snippet under its title.
fn render(title: Title<'_>, snippet: Snippet<'_, Annotation<'_>>, help: Option<&str>) -> String {
    finished(Group::with_title(title).element(snippet), help)
}

/// All of it, with what to do.
fn finished(group: Group<'_>, help: Option<&str>) -> String {
    let help = help.map(plain);
    let group = match &help {
        Some(help) => group.element(Level::HELP.message(&**help)),
        None => group,
    };
    Renderer::styled().render(&[group])
}

/// A text as it can be shown, and where its parts are then.
pub struct Shown<'t> {
    original: &'t str,
    text: Cow<'t, str>,
    /// For each character that is shown as an escape: where it ends in the text, and by how much what
    /// follows is later.
    later: Vec<(usize, usize)>,
}

impl<'t> Shown<'t> {
    pub fn new(original: &'t str) -> Shown<'t> {
        let mut shown = Shown {
            original,
            text: original.into(),
            later: Vec::new(),
        };
        // The renderer sees to tabs and to the ends of lines.
        let kept = |c: char| matches!(c, '\n' | '\t' | '\r');
        if original
            .split(kept)
            .all(|part| matches!(escaped(part), Cow::Borrowed(_)))
        {
            return shown;
        }
        let (mut text, mut more) = (String::with_capacity(original.len()), 0);
        for (at, c) in original.char_indices() {
            let mut one = [0; 4];
            let own = c.encode_utf8(&mut one);
            match escaped(own) {
                Cow::Owned(escape) if !kept(c) => {
                    more += escape.len() - c.len_utf8();
                    shown.later.push((at + c.len_utf8(), more));
                    text.push_str(&escape);
                }
                _ => text.push(c),
            }
        }
        shown.text = text.into();
        shown
    }

    /// Where a stretch of the text is shown.
    fn span(&self, span: Span) -> std::ops::Range<usize> {
        let range = within(self.original, span);
        let shift = |at: usize| {
            let passed = self.later.partition_point(|(end, _)| *end <= at);
            at + passed.checked_sub(1).map_or(0, |last| self.later[last].1)
        };
        shift(range.start)..shift(range.end)
    }
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
    let mut told = json!({
        "code": finding.code,
        "severity": finding.severity,
        "message": finding.message,
        "path": finding.path,
        "at": match &finding.row {
            Some(row) => Some(of_row(row)),
            None => place(finding.span),
        },
        "help": finding.help,
        "related": related,
    });
    if let Some(row) = &finding.row {
        told["file"] = json!(row.file);
    }
    told
}

/// A place in a recording.
pub fn of_row(row: &RowPlace) -> Value {
    let range = within(&row.text, row.span);
    let column = |at: usize| row.text[..at].chars().count() + 1;
    json!({
        "line": row.line, "column": column(range.start),
        "end_line": row.line, "end_column": column(range.end),
    })
}

/// Both counted from 1, columns in characters.
pub fn line_and_column(text: &str, at: usize) -> (usize, usize) {
    let before = &text[..at];
    let line = before.matches('\n').count() + 1;
    let start = before.rfind('\n').map_or(0, |newline| newline + 1);
    (line, before[start..].chars().count() + 1)
}
