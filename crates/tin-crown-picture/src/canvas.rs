//! SVG, element by element. Escaping is the writer's business.

use std::collections::HashMap;
use std::io::Cursor;

use quick_xml::Writer;
use quick_xml::events::{BytesEnd, BytesStart, BytesText, Event};

use crate::text::{FAMILY, Weight};

/// An SVG document being drawn.
pub(crate) struct Canvas {
    writer: Writer<Cursor<Vec<u8>>>,
    /// Pictures that are in it already, by what they are known as: each is in it once.
    pictures: HashMap<String, Option<String>>,
}

/// Where a text is anchored.
#[derive(Clone, Copy)]
pub(crate) enum Anchor {
    Start,
    Middle,
    End,
}

/// A text to be drawn.
pub(crate) struct Text<'t> {
    pub x: f64,
    /// The base line.
    pub y: f64,
    pub size: f32,
    pub weight: Weight,
    pub anchor: Anchor,
    pub fill: &'t str,
    pub text: &'t str,
}

/// Writing into memory does not fail.
const IN_MEMORY: &str = "writing into memory does not fail";

impl Canvas {
    pub fn new(width: f64, height: f64, title: &str) -> Canvas {
        Canvas::from_below(0.0, width, height, title)
    }

    /// One that shows only what lies below `top`.
    pub fn from_below(top: f64, width: f64, height: f64, title: &str) -> Canvas {
        let mut canvas = Canvas {
            writer: Writer::new(Cursor::new(Vec::new())),
            pictures: HashMap::new(),
        };
        let height = height - top;
        let view = format!("0 {} {} {}", number(top), number(width), number(height));
        canvas.open(
            "svg",
            &[
                ("xmlns", "http://www.w3.org/2000/svg"),
                ("width", &number(width)),
                ("height", &number(height)),
                ("viewBox", &view),
                ("role", "img"),
            ],
        );
        canvas.open("title", &[]);
        canvas.event(Event::Text(BytesText::new(title)));
        canvas.close("title");
        canvas
    }

    /// Keeps a picture (crisp: its pixels stay pixels), whose address is asked for once, and tells by which name it can be used. None when there is
    /// none.
    pub fn picture(
        &mut self,
        known_as: &str,
        ([width, height], crisp): ([f64; 2], bool),
        address: impl FnOnce() -> Option<String>,
    ) -> Option<String> {
        let known_as = format!("{known_as} {crisp}");
        if let Some(name) = self.pictures.get(&known_as) {
            return name.clone();
        }
        let name = address().map(|address| {
            let name = format!("picture-{}", self.pictures.len());
            self.open("defs", &[]);
            self.empty(
                "image",
                &[
                    ("id", &name),
                    ("width", &number(width)),
                    ("height", &number(height)),
                    (
                        "style",
                        if crisp {
                            "image-rendering:pixelated"
                        } else {
                            ""
                        },
                    ),
                    ("href", &address),
                ],
            );
            self.close("defs");
            name
        });
        self.pictures.insert(known_as, name.clone());
        name
    }

    pub fn finish(mut self) -> String {
        self.close("svg");
        String::from_utf8_lossy(&self.writer.into_inner().into_inner()).into_owned()
    }

    fn event(&mut self, event: Event<'_>) {
        self.writer.write_event(event).expect(IN_MEMORY);
    }

    pub fn open(&mut self, name: &str, attributes: &[(&str, &str)]) {
        self.event(Event::Start(start(name, attributes)));
    }

    pub fn close(&mut self, name: &str) {
        self.event(Event::End(BytesEnd::new(name)));
    }

    pub fn empty(&mut self, name: &str, attributes: &[(&str, &str)]) {
        self.event(Event::Empty(start(name, attributes)));
    }

    pub fn rect(&mut self, [x, y, width, height]: [f64; 4], style: &[(&str, &str)]) {
        let place = [
            ("x", number(x)),
            ("y", number(y)),
            ("width", number(width)),
            ("height", number(height)),
        ];
        self.shape("rect", &place, style);
    }

    pub fn line(&mut self, from: [f64; 2], to: [f64; 2], style: &[(&str, &str)]) {
        let place = [
            ("x1", number(from[0])),
            ("y1", number(from[1])),
            ("x2", number(to[0])),
            ("y2", number(to[1])),
        ];
        self.shape("line", &place, style);
    }

    pub fn path(&mut self, path: &str, style: &[(&str, &str)]) {
        self.shape("path", &[("d", path.to_owned())], style);
    }

    fn shape(&mut self, name: &str, place: &[(&str, String)], style: &[(&str, &str)]) {
        let place = place.iter().map(|(key, value)| (*key, value.as_str()));
        let attributes: Vec<(&str, &str)> = place.chain(style.iter().copied()).collect();
        self.empty(name, &attributes);
    }

    /// A text from its left end on.
    pub fn words(&mut self, [x, y]: [f64; 2], size: f32, weight: Weight, fill: &str, text: &str) {
        self.text(&Text {
            x,
            y,
            size,
            weight,
            anchor: Anchor::Start,
            fill,
            text,
        });
    }

    pub fn text(&mut self, text: &Text<'_>) {
        let anchor = match text.anchor {
            Anchor::Start => "start",
            Anchor::Middle => "middle",
            Anchor::End => "end",
        };
        let weight = match text.weight {
            Weight::Regular => "400",
            Weight::SemiBold => "600",
        };
        self.open(
            "text",
            &[
                ("x", &number(text.x)),
                ("y", &number(text.y)),
                ("font-family", FAMILY),
                ("font-size", &number(f64::from(text.size))),
                ("font-weight", weight),
                ("text-anchor", anchor),
                ("fill", text.fill),
            ],
        );
        self.event(Event::Text(BytesText::new(text.text)));
        self.close("text");
    }
}

fn start<'a>(name: &'a str, attributes: &[(&'a str, &'a str)]) -> BytesStart<'a> {
    BytesStart::new(name).with_attributes(attributes.iter().copied())
}

/// To a hundredth of a pixel, as short as can be.
pub(crate) fn number(value: f64) -> String {
    let rounded = (value * 100.0).round() / 100.0;
    if rounded == 0.0 {
        "0".to_owned()
    } else {
        rounded.to_string()
    }
}
