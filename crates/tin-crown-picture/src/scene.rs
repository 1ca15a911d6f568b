//! The arena at one tick: solids, and actors with all their boxes.

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::plan::{BoxPlan, Moment, Spec};
use tin_crown::{Facing, Ticks};

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::extras;
use crate::frame::{Figure, Frame};
use crate::front;
use crate::guard;
use crate::label::Area;
use crate::layers::{self, Stood};
use crate::legend::{self, Mark};
use crate::look::Look;
use crate::nose;
use crate::outline::outline;
use crate::sensor;
use crate::tags;
use crate::text::{Weight, fitted, width};
use crate::view::{LEFT, RIGHT, View};

const WIDTH: f64 = 1280.0;

impl Frame {
    /// The arena at that tick, with every box, as an SVG document about 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        draw(self, look)
    }
}

fn draw(frame: &Frame, look: &Look) -> String {
    let plan = &frame.plan;
    let shown = frame.region.unwrap_or(plan.arena().bounds());
    let heights = front::range(frame);
    let (view, front) = match heights {
        None => (View::new(shown, plan.arena().up()), None),
        Some(heights) => {
            let [above, front] = View::pair(shown, plan.arena().up(), heights);
            (above, Some((front, heights)))
        }
    };
    let marks = marks(frame, &view, shown);
    let lowest = front.as_ref().map_or(&view, |(front, _)| front);
    let bottom = lowest.area.y + lowest.area.height - if front.is_some() { 20.0 } else { 0.0 };
    let legend_top = bottom + 58.0;
    let mut measure = Canvas::new(WIDTH, 0.0, "");
    let height = legend::draw(&mut measure, look, &marks, [LEFT, legend_top], RIGHT) + 6.0;

    let drill = frame.drill.map_or(String::new(), |drill| {
        format!("drill {}, ", plan.drills()[drill.index()].name())
    });
    let seconds = frame.tick.seconds(plan.rate());
    let caption = format!("{drill}tick {}, {seconds:.3} s", frame.tick);
    let mut canvas = Canvas::new(WIDTH, height, &format!("{}: {caption}", plan.title()));
    legend::hatch(&mut canvas, look);
    canvas.rect([0.0, 0.0, WIDTH, height], &[("fill", look.ground)]);
    heading(&mut canvas, look, plan.title(), &caption);
    arena(&mut canvas, look, &view, frame, "arena");
    rulers(&mut canvas, look, &view, shown);
    tags::draw(&mut canvas, look, &view, frame, tags::Detail::All);
    if let Some((front, heights)) = &front {
        front::draw(&mut canvas, look, front, frame, *heights);
        front::title(&mut canvas, look, &view, "seen from above");
        front::title(&mut canvas, look, front, "seen from the front");
    }
    legend::draw(&mut canvas, look, &marks, [LEFT, legend_top], RIGHT);
    canvas.finish()
}

/// The arena with everyone in it; `clip` is a name that nothing else in the picture has.
pub(crate) fn arena(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame, clip: &str) {
    let plan = &frame.plan;
    let Area {
        x,
        y,
        width,
        height,
    } = view.area;
    canvas.open("clipPath", &[("id", clip)]);
    canvas.rect([x, y, width, height], &[]);
    canvas.close("clipPath");
    canvas.rect([x, y, width, height], &[("fill", look.arena)]);
    canvas.open("g", &[("clip-path", &format!("url(#{clip})"))]);
    solids(canvas, look, view, frame);
    let checkpoints = plan.checkpoints().iter();
    let checkpoints =
        checkpoints.map(|own| (Mark::Checkpoint, own.area(), own.name(), own.sprite()));
    let exits = plan.exits().iter();
    let exits = exits.map(|own| (Mark::Exit, own.area(), own.name(), own.sprite()));
    let goals = checkpoints.chain(exits);
    for (mark, area, name, sprite) in goals.filter(|own| view.shows(view.rect(own.1))) {
        if let Some(sprite) = sprite {
            let stood = Stood {
                plan,
                at: area.centre(),
                facing: Facing::Right,
            };
            let moment = Moment {
                age: Ticks(frame.tick.0),
                ..Moment::default()
            };
            let cell = sprite.cell_at(&moment);
            layers::draw(canvas, &frame.layers, view, sprite, cell, stood);
        }
        if frame.layers.boxes {
            goal(canvas, look, view, mark, (area, name));
        }
    }
    for figure in &frame.figures {
        trail(canvas, look, view, figure);
    }
    let drawn: Vec<bool> = frame
        .figures
        .iter()
        .map(|figure| sprite(canvas, view, frame, figure))
        .collect();
    if !frame.layers.boxes {
        canvas.close("g");
        edge(canvas, look, view);
        return;
    }
    for figure in &frame.figures {
        sensors(canvas, look, view, figure);
    }
    let extras = extras::all(frame, view);
    for (mark, line) in extras.iter().filter(|(mark, _)| *mark != Mark::Muzzle) {
        canvas.path(line, &mark.style(look));
    }
    for (figure, drawn) in frame.figures.iter().zip(drawn) {
        boxes(canvas, look, view, figure, drawn);
    }
    for (mark, line) in extras.iter().filter(|(mark, _)| *mark == Mark::Muzzle) {
        canvas.path(line, &mark.style(look));
    }
    canvas.close("g");
    edge(canvas, look, view);
}

/// The edge of the arena.
fn edge(canvas: &mut Canvas, look: &Look, view: &View) {
    let Area {
        x,
        y,
        width,
        height,
    } = view.area;
    canvas.rect(
        [x, y, width, height],
        &[
            ("fill", "none"),
            ("stroke", look.ink),
            ("stroke-width", "1.5"),
        ],
    );
}

/// A checkpoint or an exit, with its name above it.
fn goal(canvas: &mut Canvas, look: &Look, view: &View, mark: Mark, (area, name): (Bounds, &str)) {
    canvas.rect(view.rect(area), &mark.style(look));
    let [x, y] = tags::goal_name(view, area, name);
    canvas.text(&Text {
        x,
        y,
        size: tags::GOAL,
        weight: Weight::Regular,
        anchor: Anchor::Middle,
        fill: look.ink,
        text: name,
    });
}

/// What of the legend a picture of this part of the arena needs.
fn marks(frame: &Frame, view: &View, shown: Bounds) -> Vec<Mark> {
    let figures = || {
        let figures = frame.figures.iter();
        figures.filter(|figure| extent(figure).moved(figure.at).meets(shown))
    };
    let mut boxless = frame.figures.iter().filter(|figure| {
        let at = view.rect(Bounds::new(figure.at, figure.at));
        let sprite = figure.spec.sprite();
        let drawn = sprite.is_some_and(|sprite| frame.layers.sheet(sprite).is_some());
        extent(figure).is_empty() && !drawn && view.shows(at)
    });
    let specs = || figures().map(|figure| &figure.spec);
    let solids = || {
        let solids = frame.plan.arena().solids().iter();
        solids.filter(|solid| solid.bounds().meets(shown))
    };
    let mut marks = Vec::new();
    let mut mark = |mark, there: bool| {
        if there {
            marks.push(mark);
        }
    };
    let drawn = |mark: Mark| {
        let mut boxes = figures().flat_map(fighting);
        boxes.any(|(drawn, _)| drawn == mark)
    };
    mark(Mark::Hitbox, drawn(Mark::Hitbox));
    mark(Mark::Hurtbox, drawn(Mark::Hurtbox));
    mark(Mark::Pickup, specs().any(|spec| spec.pickup().is_some()));
    let areas = frame.plan.checkpoints().iter().map(|own| own.area());
    mark(
        Mark::Checkpoint,
        areas.into_iter().any(|area| area.meets(shown)),
    );
    let areas = frame.plan.exits().iter().map(|own| own.area());
    mark(Mark::Exit, areas.into_iter().any(|area| area.meets(shown)));
    let sensors = |sees: bool| {
        let mut figures = frame.figures.iter();
        figures.any(|figure| figure.sees.iter().any(|seen| seen.is_empty() != sees))
    };
    mark(Mark::Sensor, sensors(false));
    mark(Mark::Sees, sensors(true));
    mark(Mark::Body, specs().any(|spec| spec.body().is_some()));
    let moving = specs().any(|spec| spec.solid().is_some());
    mark(
        Mark::Solid,
        moving || solids().any(|solid| !solid.one_way()),
    );
    mark(Mark::OneWay, solids().any(|solid| solid.one_way()));
    let moved = |figure: &Figure| figure.trail.iter().any(|&at| at != figure.at);
    mark(Mark::Trail, frame.figures.iter().any(moved));
    mark(Mark::Off, drawn(Mark::Off));
    mark(Mark::Guard, figures().any(|figure| figure.guarding));
    mark(Mark::Invincible, drawn(Mark::Invincible));
    let extras = extras::all(frame, view);
    for own in [
        Mark::Sight,
        Mark::Way,
        Mark::Swept,
        Mark::Muzzle,
        Mark::Aim,
        Mark::Return,
    ] {
        mark(own, extras.iter().any(|(mark, _)| *mark == own));
    }
    mark(Mark::Nose, specs().any(Spec::rotates));
    mark(Mark::Boxless, boxless.next().is_some());
    if !frame.layers.boxes {
        marks.retain(|mark| matches!(mark, Mark::Solid | Mark::OneWay | Mark::Trail));
    }
    marks
}

/// The rectangle around all boxes of an actor.
fn extent(figure: &Figure) -> Bounds {
    let area = figure.spec.pickup().map(|pickup| pickup.area());
    let area = area.map_or(Bounds::EMPTY, |area| area.shape(figure.facing).bounds());
    figure.spec.extent(figure.facing).joined(area)
}

pub(crate) fn heading(canvas: &mut Canvas, look: &Look, title: &str, caption: &str) {
    let mut line = |y, size, weight, fill, text: &str| {
        canvas.text(&Text {
            x: LEFT,
            y,
            size,
            weight,
            anchor: Anchor::Start,
            fill,
            text: &fitted(text, size, weight, RIGHT - LEFT),
        });
    };
    line(40.0, 22.0, Weight::SemiBold, look.ink, title);
    line(66.0, 15.0, Weight::Regular, look.faint, caption);
}

fn solids(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame) {
    let plan = &frame.plan;
    // Seen from above, what nobody is beneath is a floor.
    let lowest = frame.figures.iter().map(|figure| figure.height);
    let lowest = lowest.fold(f64::INFINITY, f64::min);
    for solid in plan.arena().solids() {
        let mark = if solid.one_way() {
            Mark::OneWay
        } else {
            Mark::Solid
        };
        let mut style = mark.style(look);
        if solid.span().is_some_and(|span| span.high <= lowest) {
            style.push(("fill-opacity", "0.35"));
        }
        canvas.rect(view.rect(solid.bounds()), &style);
    }
}

fn trail(canvas: &mut Canvas, look: &Look, view: &View, figure: &Figure) {
    if figure.trail.iter().all(|&at| at == figure.at) {
        return;
    }
    let points: Vec<String> = figure
        .trail
        .iter()
        .map(|&at| {
            let [x, y] = view.place(at);
            format!("{} {}", number(x), number(y))
        })
        .collect();
    canvas.path(&format!("M{}", points.join("L")), &Mark::Trail.style(look));
}

/// Where an actor notices others.
fn sensors(canvas: &mut Canvas, look: &Look, view: &View, figure: &Figure) {
    for (mark, sensor) in sensor::marked(figure) {
        let path = sensor::outline(view, sensor, figure.facing, figure.at);
        canvas.path(&path, &mark.style(look));
    }
}

/// The hurtboxes and hitboxes of an actor, in the order they are drawn, each with its mark.
pub(crate) fn fighting(figure: &Figure) -> impl Iterator<Item = (Mark, &BoxPlan)> {
    let marked = |boxes, live: u64, on: Mark| {
        let boxes: std::slice::Iter<'_, BoxPlan> = boxes;
        boxes.enumerate().map(move |(nth, plan)| {
            let mark = if live & (1 << nth) != 0 {
                on
            } else {
                Mark::Off
            };
            (mark, plan)
        })
    };
    let hurtbox = if figure.invincible {
        Mark::Invincible
    } else {
        Mark::Hurtbox
    };
    let (spec, live) = (&figure.spec, &figure.live);
    let hurt = marked(spec.hurtboxes().iter(), live.hurt(), hurtbox);
    hurt.chain(marked(spec.hitboxes().iter(), live.hit(), Mark::Hitbox))
}

/// What an actor looks like. Says whether there is anything to be seen.
fn sprite(canvas: &mut Canvas, view: &View, frame: &Frame, figure: &Figure) -> bool {
    let Some(sprite) = figure.spec.sprite() else {
        return false;
    };
    let stood = Stood {
        plan: &frame.plan,
        at: figure.at,
        facing: figure.facing,
    };
    let cell = sprite.cell_at(&figure.moment);
    layers::draw(canvas, &frame.layers, view, sprite, cell, stood)
}

/// Its boxes; of one that has none its place, unless it is `drawn`.
fn boxes(canvas: &mut Canvas, look: &Look, view: &View, figure: &Figure, drawn: bool) {
    let spec = &figure.spec;
    if extent(figure).is_empty() && !drawn {
        let place = legend::diamond(view.place(figure.at));
        canvas.path(&place, &Mark::Boxless.style(look));
    }
    let mut draw = |mark: Mark, plan: &BoxPlan| {
        let shape = plan.shape_at(figure.facing, figure.age);
        let path = outline(view, &shape, figure.at);
        canvas.path(&path, &mark.over(look, drawn));
    };
    if let Some(solid) = spec.solid() {
        draw(Mark::Solid, solid);
    }
    if let Some(body) = spec.body() {
        draw(Mark::Body, body);
    }
    if let Some(pickup) = spec.pickup() {
        draw(Mark::Pickup, pickup.area());
    }
    for (mark, plan) in fighting(figure) {
        draw(mark, plan);
    }
    if spec.rotates() {
        let nose = nose::line(view, spec, figure.facing, figure.at);
        canvas.path(&nose, &Mark::Nose.style(look));
    }
    if let Some(guard) = spec.guard().filter(|_| figure.guarding) {
        let arc = guard::arc(view, spec, guard, figure.facing, figure.at);
        canvas.path(&arc, &Mark::Guard.style(look));
    }
}

/// Coordinates along the lower and left edge, at round numbers.
fn rulers(canvas: &mut Canvas, look: &Look, view: &View, bounds: Bounds) {
    let bottom = view.area.y + view.area.height;
    let mut note = |x, y, anchor, text: &str| {
        canvas.text(&Text {
            x,
            y,
            size: 13.0,
            weight: Weight::Regular,
            anchor,
            fill: look.faint,
            text,
        });
    };
    let step = round_step(70.0 / view.scale);
    let unit = width("x, units", 13.0, Weight::Regular);
    let last = view.area.x + view.area.width - unit - 10.0;
    for value in multiples(step, bounds.min.x, bounds.max.x) {
        let [x, _] = view.place(Vec2::new(value, bounds.min.y));
        let text = value.to_string();
        if x + width(&text, 13.0, Weight::Regular) / 2.0 < last {
            note(x, bottom + 20.0, Anchor::Middle, &text);
        }
    }
    note(
        view.area.x + view.area.width,
        bottom + 20.0,
        Anchor::End,
        "x, units",
    );
    for value in multiples(step, bounds.min.y, bounds.max.y) {
        let [_, y] = view.place(Vec2::new(bounds.min.x, value));
        if y > view.area.y + 22.0 {
            note(view.area.x - 8.0, y + 5.0, Anchor::End, &value.to_string());
        }
    }
    note(view.area.x - 8.0, view.area.y + 8.0, Anchor::End, "y");
}

/// The round number (1, 2 or 5 times a power of ten) next above `least`.
pub(crate) fn round_step(least: f64) -> f64 {
    let power = 10f64.powf(least.log10().floor());
    let factors = [1.0, 2.0, 5.0, 10.0];
    let factor = factors.into_iter().find(|factor| factor * power >= least);
    factor.unwrap_or(10.0) * power
}

pub(crate) fn multiples(step: f64, low: f64, high: f64) -> impl Iterator<Item = f64> {
    let first = (low / step).ceil() as i64;
    let last = (high / step).floor() as i64;
    // Through a whole number, so that 0.1 * 3 is written 0.3.
    (first..=last).map(move |count| {
        let value = count as f64 * step;
        (value * 1e6).round() / 1e6
    })
}
