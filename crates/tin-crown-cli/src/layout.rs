//! The layout of an encounter file in TOML: keys in the order of the reference, even spacing, every
//! comment where it belongs.

use toml_edit::{
    Array, Decor, DocumentMut, InlineTable, Item, Key, RawString, Table, TomlError, Value,
};

use tin_crown::schema::key_order;

/// What an array's elements are indented by.
const INDENT: &str = "  ";

/// The same file, laid out anew.
///
/// # Errors
///
/// When the text is no TOML.
pub fn tidy(text: &str) -> Result<String, TomlError> {
    // A file keeps its line ends.
    let crlf = text.contains("\r\n");
    let mut document: DocumentMut = text.replace("\r\n", "\n").parse()?;
    // A comment at the top that stands apart is the file's, not that of the first key.
    let head = take_head(&mut document);
    let mut walk = Walk { position: 0 };
    walk.table(document.as_table_mut(), &mut Vec::new());
    let trailing = lines(document.trailing().as_str().unwrap_or_default());
    document.set_trailing(trailing);
    let body = document.to_string();
    let body = body.trim_start_matches('\n').trim_end();
    let tidied = match head {
        Some(head) => format!("{head}\n\n{body}\n"),
        None => format!("{body}\n"),
    };
    Ok(if crlf {
        tidied.replace('\n', "\r\n")
    } else {
        tidied
    })
}

/// The comments at the top of the file, up to the last blank line before anything else.
fn take_head(document: &mut DocumentMut) -> Option<String> {
    let table = document.as_table_mut();
    let first = table.iter().next()?.0.to_owned();
    let take = |decor: &mut Decor| {
        let prefix = text(decor.prefix()).to_owned();
        let (head, rest) = prefix.rsplit_once("\n\n")?;
        decor.set_prefix(rest);
        Some(head.to_owned())
    };
    let head = match table.get_mut(&first)? {
        Item::Table(first) if !first.is_implicit() && !first.is_dotted() => take(first.decor_mut()),
        Item::Value(_) => take(table.key_mut(&first)?.leaf_decor_mut()),
        _ => None,
    };
    let head = head?;
    let head = lines(&head);
    let head = head.trim();
    (!head.is_empty()).then(|| head.to_owned())
}

/// A walk over all tables, in the order in which they are to be written.
struct Walk {
    /// The place of the next header.
    position: isize,
}

impl Walk {
    fn table(&mut self, table: &mut Table, path: &mut Vec<String>) {
        sort(table, path);
        // Lines first, headers after them.
        let names: Vec<String> = table.iter().map(|(name, _)| name.to_owned()).collect();
        for name in &names {
            path.push(name.clone());
            if let Some(mut key) = table.key_mut(name) {
                // Of a dotted key the last part has the comments above the line.
                key.dotted_decor_mut().clear();
            }
            match table.get_mut(name) {
                Some(Item::Value(value)) => {
                    spaced_value(value, path);
                    if let Some(mut key) = table.key_mut(name) {
                        spaced_key(key.leaf_decor_mut());
                    }
                }
                Some(Item::Table(inner)) if inner.is_dotted() => self.table(inner, path),
                _ => {}
            }
            path.pop();
        }
        for name in &names {
            path.push(name.clone());
            match table.get_mut(name) {
                Some(Item::Table(inner)) if !inner.is_dotted() => self.header(inner, path),
                Some(Item::ArrayOfTables(all)) => {
                    for (nth, inner) in all.iter_mut().enumerate() {
                        path.push(nth.to_string());
                        self.header(inner, path);
                        path.pop();
                    }
                }
                _ => {}
            }
            path.pop();
        }
    }

    fn header(&mut self, table: &mut Table, path: &mut Vec<String>) {
        table.set_position(Some(self.position));
        self.position += 1;
        let decor = table.decor_mut();
        let above = lines(text(decor.prefix()));
        let above = above.trim();
        decor.set_prefix(match above {
            "" => "\n".to_owned(),
            above => format!("\n{above}\n"),
        });
        let after = text(decor.suffix()).trim_end().to_owned();
        decor.set_suffix(after);
        self.table(table, path);
    }
}

/// Sorts the keys of a table that are declared; names keep the order that they were given.
fn sort(table: &mut Table, path: &[String]) {
    if let Some(order) = order(path) {
        table.sort_values_by(|one, _, other, _| place(&order, one).cmp(&place(&order, other)));
    }
}

fn order(path: &[String]) -> Option<Vec<&'static str>> {
    let path: Vec<&str> = path.iter().map(String::as_str).collect();
    key_order(&path)
}

fn place(order: &[&str], key: &Key) -> usize {
    let known = order.iter().position(|known| *known == key.get());
    known.unwrap_or(order.len())
}

/// A key on a line of its own: comments above it, no more than one blank line, one space after it.
fn spaced_key(decor: &mut Decor) {
    let above = lines(text(decor.prefix()));
    decor.set_prefix(above);
    decor.set_suffix(" ");
}

fn spaced_value(value: &mut Value, path: &mut Vec<String>) {
    let after = text(value.decor().suffix()).trim_end().to_owned();
    inner(value, path);
    *value.decor_mut() = Decor::new(" ", after);
}

/// What is within a value.
fn inner(value: &mut Value, path: &mut Vec<String>) {
    match value {
        Value::Array(array) => spaced_array(array, path),
        Value::InlineTable(table) => spaced_inline(table, path),
        _ => {}
    }
}

fn spaced_inline(table: &mut InlineTable, path: &mut Vec<String>) {
    if let Some(order) = order(path) {
        table.sort_values_by(|one, _, other, _| place(&order, one).cmp(&place(&order, other)));
    }
    table.fmt();
    for (key, value) in table.iter_mut() {
        path.push(key.get().to_owned());
        let decor = value.decor().clone();
        inner(value, path);
        *value.decor_mut() = decor;
        path.pop();
    }
}

/// An array on one line stays there; one of several lines has an element on each.
fn spaced_array(array: &mut Array, path: &mut Vec<String>) {
    let lone = |raw: Option<&RawString>| !text(raw).contains(['\n', '#']);
    let on_one_line = array
        .iter()
        .all(|value| lone(value.decor().prefix()) && lone(value.decor().suffix()))
        && lone(Some(array.trailing()));
    for (nth, value) in array.iter_mut().enumerate() {
        path.push(nth.to_string());
        let decor = value.decor().clone();
        inner(value, path);
        *value.decor_mut() = decor;
        path.pop();
    }
    if on_one_line {
        array.fmt();
        return;
    }
    for value in array.iter_mut() {
        let before = indented(text(value.decor().prefix()));
        let after = text(value.decor().suffix());
        let after = if after.contains('#') {
            after.to_owned()
        } else {
            String::new()
        };
        *value.decor_mut() = Decor::new(format!("{before}\n{INDENT}"), after);
    }
    let end = indented(text(Some(array.trailing())));
    array.set_trailing(format!("{end}\n"));
    array.set_trailing_comma(!array.is_empty());
}

/// The comments before an element: the first may stand on the line of the element before it.
fn indented(before: &str) -> String {
    let mut all = before.split('\n');
    let mut text = all.next().unwrap_or_default().trim_end().to_owned();
    for line in all.map(str::trim).filter(|line| !line.is_empty()) {
        text.push('\n');
        text.push_str(INDENT);
        text.push_str(line);
    }
    text
}

/// Lines of comments without indentation or blanks at their ends, and no two blank lines in a row.
fn lines(text: &str) -> String {
    let mut tidied = String::new();
    let mut blank = false;
    let ends = text.ends_with('\n');
    for line in text.split('\n').map(str::trim) {
        if line.is_empty() {
            blank = true;
            continue;
        }
        if blank && (!tidied.is_empty() || text.starts_with('\n')) {
            tidied.push('\n');
        }
        blank = false;
        tidied.push_str(line);
        tidied.push('\n');
    }
    if tidied.is_empty() && text.contains('\n') {
        return "\n".to_owned();
    }
    if !ends && tidied.ends_with('\n') && !text.trim_end_matches([' ', '\t']).ends_with('\n') {
        tidied.pop();
    }
    tidied
}

fn text(raw: Option<&RawString>) -> &str {
    raw.and_then(RawString::as_str).unwrap_or_default()
}
