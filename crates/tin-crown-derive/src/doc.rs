//! Doc comments as sentences, and names as words.

use syn::{Attribute, Expr, ExprLit, Lit, Meta};

/// The first paragraph of a doc comment on one line.
pub fn sentence(attributes: &[Attribute]) -> String {
    let lines = attributes.iter().filter_map(|attribute| {
        let Meta::NameValue(meta) = &attribute.meta else {
            return None;
        };
        match &meta.value {
            Expr::Lit(ExprLit {
                lit: Lit::Str(text),
                ..
            }) if meta.path.is_ident("doc") => Some(text.value().trim().to_owned()),
            _ => None,
        }
    });
    let paragraph: Vec<String> = lines.take_while(|line| !line.is_empty()).collect();
    paragraph.join(" ")
}

/// `GoesOn` as `goes-on`.
pub fn kebab(name: &str) -> String {
    let mut word = String::new();
    for letter in name.chars() {
        if letter.is_uppercase() && !word.is_empty() {
            word.push('-');
        }
        word.extend(letter.to_lowercase());
    }
    word
}
