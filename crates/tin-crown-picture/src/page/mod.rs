//! What the pages have in common: their look, their scripts, and what those know of an encounter.

pub(crate) mod poses;
pub(crate) mod sprites;
pub(crate) mod stage;
pub(crate) mod texts;

use minijinja::{AutoEscape, Environment, Value};

use crate::look::Look;

/// A template filled in.
pub(crate) fn render(template: &str, values: Value) -> String {
    let mut environment = Environment::new();
    environment.set_auto_escape_callback(|_| AutoEscape::Html);
    // What both pages have.
    for (name, part) in [
        ("book.html", include_str!("../../page/book.html")),
        ("views.html", include_str!("../../page/views.html")),
    ] {
        environment
            .add_template(name, part)
            .expect("the templates are ours");
    }
    environment
        .render_str(template, values)
        .expect("the templates are ours, and ask for nothing else")
}

/// A text that is put in as it is.
pub(crate) fn safe(text: impl Into<String>) -> Value {
    Value::from_safe_string(text.into())
}

/// The style of a page, light and dark, with what it has of its own.
pub(crate) fn style(own: &str) -> Value {
    let [light, dark] = [Look::paper(), Look::graphite()].map(|look| look.variables());
    safe(format!(
        ":root{{{light}color-scheme:light}}\n\
         @media (prefers-color-scheme:dark){{:root:not([data-theme=light]){{{dark}color-scheme:dark}}}}\n\
         :root[data-theme=dark]{{{dark}color-scheme:dark}}\n{}{own}",
        include_str!("../../page/page.css")
    ))
}

/// The script of a page: what both have, then its own.
pub(crate) fn script(own: &str) -> Value {
    safe(format!(
        "'use strict';\n(() => {{\n{}{}{}{}{own}}})();",
        include_str!("../../page/dom.js"),
        include_str!("../../page/sprites.js"),
        include_str!("../../page/arena.js"),
        include_str!("../../page/ledger.js"),
    ))
}

/// Data for a script, in which nothing can end it.
pub(crate) fn data(data: &impl serde::Serialize) -> Value {
    let json = serde_json::to_string(data).expect("plain data");
    safe(json.replace('<', "\\u003c"))
}
