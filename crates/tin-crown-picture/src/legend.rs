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
    Return,
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
            Mark::Sees => "sensor that notices somebody",
            Mark::Sight => "noticed actor",
            Mark::Way => "path of its motion",
            Mark::Swept => "path of this tick",
            Mark::Muzzle => "muzzle and aim",
            Mark::Return => "respawn place",
        }
    }

    /// How outlines and fillings of this sort are drawn.
    pub fn style(self, look: &Look) -> Vec<(&'static str, &'static str)> {
        match self {
            Mark::Hitbox => vec![
                ("fill", "url(#hatch)"),
                ("stroke", look.copper),
                ("stroke-width", "1.6"),
            ],
            Mark::Hurtbox => vec![
                ("fill", look.pewter),
                ("fill-opacity", "0.16"),
                ("stroke", look.pewter),
                ("stroke-width", "1.6"),
            ],
            Mark::Body => vec![
                ("fill", "none"),
                ("stroke", look.ink),
                ("stroke-width", "1"),
                ("stroke-dasharray", "1 3"),
            ],
            Mark::Solid => vec![
                ("fill", look.solid),
                ("stroke", look.ink),
                ("stroke-width", "1"),
            ],
            Mark::OneWay => vec![
                ("fill", look.solid),
                ("fill-opacity", "0.5"),
                ("stroke", look.ink),
                ("stroke-width", "1"),
                ("stroke-dasharray", "6 3"),
            ],
            Mark::Trail => vec![
                ("fill", "none"),
                ("stroke", look.faint),
                ("stroke-width", "1.4"),
                ("stroke-dasharray", "4 3"),
            ],
            Mark::Invincible => vec![
                ("fill", look.verdigris),
                ("fill-opacity", "0.14"),
                ("stroke", look.verdigris),
                ("stroke-width", "1.6"),
                ("stroke-dasharray", "8 3 2 3"),
            ],
            Mark::Off => vec![
                ("fill", "none"),
                ("stroke", look.faint),
                ("stroke-width", "1"),
                ("stroke-opacity", "0.7"),
                ("stroke-dasharray", "2 4"),
            ],
            Mark::Guard => vec![
                ("fill", "none"),
                ("stroke", look.verdigris),
                ("stroke-width", "3.5"),
                ("stroke-linecap", "round"),
            ],
            Mark::Pickup => vec![
                ("fill", look.verdigris),
                ("fill-opacity", "0.3"),
                ("stroke", look.verdigris),
                ("stroke-width", "1.6"),
            ],
            Mark::Checkpoint => vec![
                ("fill", look.verdigris),
                ("fill-opacity", "0.12"),
                ("stroke", look.verdigris),
                ("stroke-width", "1.4"),
                ("stroke-dasharray", "2 3"),
            ],
            Mark::Exit => vec![
                ("fill", look.ink),
                ("fill-opacity", "0.08"),
                ("stroke", look.ink),
                ("stroke-width", "2"),
                ("stroke-dasharray", "10 4"),
            ],
            Mark::Sensor => vec![
                ("fill", "none"),
                ("stroke", look.brass),
                ("stroke-width", "1.4"),
                ("stroke-dasharray", "7 4"),
            ],
            Mark::Sees => vec![
                ("fill", look.brass),
                ("fill-opacity", "0.12"),
                ("stroke", look.brass),
                ("stroke-width", "2.4"),
                ("stroke-dasharray", "7 4"),
            ],
            Mark::Sight => vec![
                ("fill", "none"),
                ("stroke", look.brass),
                ("stroke-width", "1.2"),
                ("stroke-dasharray", "1 4"),
                ("stroke-linecap", "round"),
            ],
            Mark::Way => vec![
                ("fill", "none"),
                ("stroke", look.pewter),
                ("stroke-width", "1"),
                ("stroke-dasharray", "10 3 1 3"),
            ],
            Mark::Swept => vec![
                ("fill", "none"),
                ("stroke", look.copper),
                ("stroke-width", "2"),
                ("stroke-opacity", "0.6"),
            ],
            Mark::Muzzle => vec![
                ("fill", "none"),
                ("stroke", look.copper),
                ("stroke-width", "1.6"),
            ],
            Mark::Return => vec![
                ("fill", look.verdigris),
                ("stroke", look.verdigris),
                ("stroke-width", "1.4"),
            ],
        }
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
            Mark::Trail | Mark::Guard | Mark::Sight | Mark::Way | Mark::Swept => {
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
