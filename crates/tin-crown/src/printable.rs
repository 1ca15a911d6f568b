//! Texts and numbers as people read them: without characters that cannot be shown, or that change how
//! what follows is shown, and not longer than need be.

use std::borrow::Cow;
use std::fmt::Write;

/// Whether a character is seen as itself: no control code, no change of writing direction, no line
/// separator, no noncharacter.
pub(crate) fn is_printable(c: char) -> bool {
    let unseen = c.is_control()
        || matches!(c,
            '\u{61c}' | '\u{200e}' | '\u{200f}' | '\u{2028}'..='\u{202e}' | '\u{2066}'..='\u{2069}'
            | '\u{feff}' | '\u{fdd0}'..='\u{fdef}')
        || u32::from(c) & 0xfffe == 0xfffe;
    !unseen
}

/// A text with what cannot be shown as escapes (`\u{1b}`, `\n`): on one line, a terminal shows it and
/// does nothing else.
///
/// ```
/// assert_eq!(tin_crown::printable::escaped("red\u{1b}[31m\n"), "red\\u{1b}[31m\\n");
/// assert_eq!(tin_crown::printable::escaped("plain"), "plain");
/// ```
pub fn escaped(text: &str) -> Cow<'_, str> {
    if text.chars().all(is_printable) {
        return Cow::Borrowed(text);
    }
    let mut plain = String::with_capacity(text.len() + 16);
    for c in text.chars() {
        match c {
            '\n' => plain.push_str("\\n"),
            '\t' => plain.push_str("\\t"),
            c if is_printable(c) => plain.push(c),
            c => {
                let _ = write!(plain, "\\u{{{:x}}}", u32::from(c));
            }
        }
    }
    Cow::Owned(plain)
}

/// A text of JSON with what cannot be shown as escapes (`\u202e`), but for its line ends: the same JSON.
///
/// ```
/// assert_eq!(tin_crown::printable::escaped_json("[\"a\u{202e}b\"]"), "[\"a\\u202eb\"]");
/// ```
pub fn escaped_json(text: &str) -> Cow<'_, str> {
    let shown = |c: char| c == '\n' || is_printable(c);
    if text.chars().all(shown) {
        return Cow::Borrowed(text);
    }
    let mut plain = String::with_capacity(text.len() + 16);
    for c in text.chars() {
        if shown(c) {
            plain.push(c);
            continue;
        }
        for unit in c.encode_utf16(&mut [0; 2]) {
            let _ = write!(plain, "\\u{unit:04x}");
        }
    }
    Cow::Owned(plain)
}

/// A number with as many digits as it needs, but never hundreds of them.
///
/// ```
/// use tin_crown::printable::number;
/// assert_eq!([number(0.25), number(-3.0), number(1e308)], ["0.25", "-3", "1e308"]);
/// ```
pub fn number(number: f64) -> String {
    let size = number.abs();
    match size != 0.0 && !(1e-6..1e15).contains(&size) && size.is_finite() {
        true => format!("{number:e}"),
        false => number.to_string(),
    }
}

/// A number to a hundredth, without trailing zeros and never -0.
pub(crate) fn hundredths(number: f64) -> f64 {
    let rounded = (number * 100.0).round() / 100.0;
    if rounded == 0.0 { 0.0 } else { rounded }
}
