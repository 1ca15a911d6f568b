//! The legend: what each line and colour means.

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::look::Look;
use crate::text::{Weight, width};

/// Something that a picture may show.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Mark {
    Hitbox,
    Hurtbox,
    Body,
    Solid,
    OneWay,
    Trail,
    Invincible,
    Off,
    Guard,
    Pickup,
    Checkpoint,
    Exit,
    Sensor,
    Sees,
    Sight,
    Way,
    Swept,
    Muzzle,
    Aim,
    Return,
    Nose,
    Boxless,
}

impl Mark {
    fn words(self) -> &'static str {
        match self {
            Mark::Hitbox => "hitbox: deals",
            Mark::Hurtbox => "hurtbox: takes",
            Mark::Body => "body: meets solids",
            Mark::Solid => "solid",
            Mark::OneWay => "solid from above only",
            Mark::Trail => "path of the last 0.5 s",
            Mark::Invincible => "hurtbox, invincible",
            Mark::Off => "box that is off",
            Mark::Guard => "guard",
            Mark::Pickup => "pickup",
            Mark::Checkpoint => "checkpoint",
            Mark::Exit => "exit",
            Mark::Sensor => "sensor",
            Mark::Sees => "sensor that notices an actor",
            Mark::Sight => "noticed actor",
            Mark::Way => "path of its motion",
            Mark::Swept => "path of this tick",
            Mark::Muzzle => "muzzle and direction",
            Mark::Aim => "aimed at",
            Mark::Return => "respawn place",
            Mark::Nose => "way it faces",
            Mark::Boxless => "actor without boxes",
        }
    }

    /// The same over a drawing, where there is one: what would hide it lets it show through.
    pub fn over(self, look: &Look, drawn: bool) -> Vec<(&'static str, &'static str)> {
        match self {
            Mark::Solid if drawn => pen(look.solid, look.ink, "1").filled("0.3").0,
            _ => self.style(look),
        }
    }

    /// How outlines and fillings of this sort are drawn.
    pub fn style(self, look: &Look) -> Vec<(&'static str, &'static str)> {
        let pen = match self {
            Mark::Hitbox => pen("url(#hatch)", look.copper, "1.6"),
            Mark::Hurtbox => pen(look.pewter, look.pewter, "1.6").filled("0.16"),
            Mark::Body => pen("none", look.ink, "1").dashed("1 3"),
            Mark::Solid => pen(look.solid, look.ink, "1"),
            Mark::OneWay => pen(look.solid, look.ink, "1").filled("0.5").dashed("6 3"),
            Mark::Trail => pen("none", look.faint, "1.4").dashed("4 3"),
            Mark::Invincible => pen(look.verdigris, look.verdigris, "1.6")
                .filled("0.14")
                .dashed("8 3 2 3"),
            Mark::Off => pen("none", look.faint, "1").faint("0.7").dashed("2 4"),
            Mark::Guard => pen("none", look.verdigris, "3.5").rounded(),
            Mark::Pickup => pen(look.verdigris, look.verdigris, "1.6").filled("0.3"),
            Mark::Checkpoint => pen(look.verdigris, look.verdigris, "1.4")
                .filled("0.12")
                .dashed("2 3"),
            Mark::Exit => pen(look.ink, look.ink, "2").filled("0.08").dashed("10 4"),
            Mark::Sensor => pen("none", look.brass, "1.4").dashed("7 4"),
            Mark::Sees => pen(look.brass, look.brass, "2.4")
                .filled("0.12")
                .dashed("7 4"),
            Mark::Sight => pen("none", look.brass, "1.2").dashed("1 4").rounded(),
            Mark::Way => pen("none", look.pewter, "1").dashed("10 3 1 3"),
            Mark::Swept => pen("none", look.copper, "2").faint("0.6"),
            Mark::Muzzle => pen("none", look.copper, "1.6"),
            Mark::Aim => pen("none", look.copper, "1.2").dashed("2 5"),
            Mark::Return => pen(look.verdigris, look.verdigris, "1.4"),
            Mark::Nose => pen("none", look.ink, "1.4"),
            Mark::Boxless => pen(look.arena, look.ink, "1.4"),
        };
        pen.0
    }
}

/// How a mark is drawn, as attributes in SVG.
struct Pen(Vec<(&'static str, &'static str)>);

fn pen(fill: &'static str, stroke: &'static str, width: &'static str) -> Pen {
    Pen(vec![
        ("fill", fill),
        ("stroke", stroke),
        ("stroke-width", width),
    ])
}

impl Pen {
    /// Lets what lies beneath show through its filling.
    fn filled(mut self, opacity: &'static str) -> Pen {
        self.0.insert(1, ("fill-opacity", opacity));
        self
    }

    fn faint(mut self, opacity: &'static str) -> Pen {
        self.0.push(("stroke-opacity", opacity));
        self
    }

    fn dashed(mut self, dashes: &'static str) -> Pen {
        self.0.push(("stroke-dasharray", dashes));
        self
    }

    fn rounded(mut self) -> Pen {
        self.0.push(("stroke-linecap", "round"));
        self
    }
}

/// The hatch of hitboxes.
pub(crate) fn hatch(canvas: &mut Canvas, look: &Look) {
    canvas.open("defs", &[]);
    canvas.open(
        "pattern",
        &[
            ("id", "hatch"),
            ("width", "5"),
            ("height", "5"),
            ("patternUnits", "userSpaceOnUse"),
            ("patternTransform", "rotate(45)"),
        ],
    );
    canvas.rect(
        [0.0, 0.0, 5.0, 5.0],
        &[("fill", look.copper), ("fill-opacity", "0.14")],
    );
    canvas.line(
        [0.0, 0.0],
        [0.0, 5.0],
        &[("stroke", look.copper), ("stroke-width", "1.6")],
    );
    canvas.close("pattern");
    canvas.close("defs");
}

/// What stands where an actor without boxes is.
pub(crate) fn diamond([x, y]: [f64; 2]) -> String {
    let (left, y) = (number(x - DIAMOND), number(y));
    let half = number(DIAMOND);
    format!("M{left} {y}l{half} -{half}l{half} {half}l-{half} {half}Z")
}

/// Half the width and the height of that.
pub(crate) const DIAMOND: f64 = 6.0;

/// Draws the legend in rows from `(x, y)`, and returns where it ends.
pub(crate) fn draw(
    canvas: &mut Canvas,
    look: &Look,
    marks: &[Mark],
    [left, top]: [f64; 2],
    right: f64,
) -> f64 {
    let (mut x, mut y) = (left, top);
    for &mark in marks {
        let length = 34.0 + width(mark.words(), 14.0, Weight::Regular) + 26.0;
        if x + length > right && x > left {
            x = left;
            y += 26.0;
        }
        match mark {
            Mark::Trail | Mark::Guard | Mark::Sight | Mark::Way | Mark::Swept | Mark::Aim => {
                canvas.line([x, y], [x + 26.0, y], &mark.style(look));
            }
            Mark::Muzzle => {
                let d = format!(
                    "M{0} {1}h6M{2} {3}v6M{2} {1}h19",
                    number(x),
                    number(y),
                    number(x + 3.0),
                    number(y - 3.0)
                );
                canvas.path(&d, &mark.style(look));
            }
            Mark::Return => {
                let d = format!(
                    "M{0} {1}v13M{0} {1}l9 4l-9 4",
                    number(x + 8.0),
                    number(y - 7.0)
                );
                canvas.path(&d, &mark.style(look));
            }
            Mark::Nose => {
                let (x, y) = (number(x + 26.0), number(y));
                let d = format!("M{x} {y}h-24m17 -4l7 4l-7 4");
                canvas.path(&d, &mark.style(look));
            }
            Mark::Boxless => canvas.path(&diamond([x + 13.0, y]), &mark.style(look)),
            _ => canvas.rect([x, y - 8.0, 26.0, 16.0], &mark.style(look)),
        }
        canvas.text(&Text {
            x: x + 34.0,
            y: y + 5.0,
            size: 14.0,
            weight: Weight::Regular,
            anchor: Anchor::Start,
            fill: look.ink,
            text: mark.words(),
        });
        x += length;
    }
    y + 26.0
}
