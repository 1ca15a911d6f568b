//! The arena at one tick: solids, actors with all their boxes, names and meters.

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::{Amount, BoxPlan, GuardPlan, MeterPlan, Plan, Spec, Up};

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::frame::{Figure, Frame};
use crate::label::{Area, spread};
use crate::legend::{self, Mark};
use crate::look::Look;
use crate::outline::outline;
use crate::text::{Weight, fitted, width};

const WIDTH: f64 = 1280.0;
const LEFT: f64 = 64.0;
const RIGHT: f64 = 1248.0;
const TOP: f64 = 88.0;
/// The arena is never drawn higher than this.
const MOST_HEIGHT: f64 = 590.0;

/// From the author's units to pixels.
pub(crate) struct View {
    origin: [f64; 2],
    corner: Vec2,
    pub scale: f64,
    /// Whether y grows upward, against the picture's.
    pub flipped: bool,
    area: Area,
}

impl View {
    fn new(bounds: Bounds, up: Up) -> View {
        let size = bounds.size();
        let scale = ((RIGHT - LEFT) / size.x).min(MOST_HEIGHT / size.y);
        let (wide, high) = (size.x * scale, size.y * scale);
        let left = LEFT + (RIGHT - LEFT - wide) / 2.0;
        let flipped = up == Up::Plus;
        View {
            origin: [left, if flipped { TOP + high } else { TOP }],
            corner: bounds.min,
            scale,
            flipped,
            area: Area {
                x: left,
                y: TOP,
                width: wide,
                height: high,
            },
        }
    }

    /// Where a point of the arena is in the picture.
    pub fn place(&self, point: Vec2) -> [f64; 2] {
        let from = point - self.corner;
        let y = if self.flipped { -from.y } else { from.y };
        [
            self.origin[0] + from.x * self.scale,
            self.origin[1] + y * self.scale,
        ]
    }

    fn covered(&self, bounds: Bounds) -> Area {
        let [x, y, width, height] = self.rect(bounds);
        Area {
            x,
            y,
            width,
            height,
        }
    }

    fn rect(&self, bounds: Bounds) -> [f64; 4] {
        let (a, b) = (self.place(bounds.min), self.place(bounds.max));
        [
            a[0].min(b[0]),
            a[1].min(b[1]),
            (a[0] - b[0]).abs(),
            (a[1] - b[1]).abs(),
        ]
    }
}

pub(crate) fn draw(frame: &Frame, look: &Look) -> String {
    let plan = &frame.plan;
    let view = View::new(plan.arena.bounds, plan.arena.up);
    let marks = marks(frame);
    let bottom = TOP + view.area.height;
    let legend_top = bottom + 58.0;
    let mut measure = Canvas::new(WIDTH, 0.0, "");
    let height = legend::draw(&mut measure, look, &marks, [LEFT, legend_top], RIGHT) + 6.0;

    let drill = &plan.drills[frame.drill.index()].name;
    let seconds = frame.tick.seconds(plan.rate);
    let caption = format!("drill {drill}, tick {}, {seconds:.3} s", frame.tick);
    let mut canvas = Canvas::new(WIDTH, height, &format!("{}: {caption}", plan.title));
    legend::hatch(&mut canvas, look);
    canvas.rect([0.0, 0.0, WIDTH, height], &[("fill", look.ground)]);
    heading(&mut canvas, look, &plan.title, &caption);
    clip(&mut canvas, &view.area);
    let Area {
        x,
        y,
        width,
        height,
    } = view.area;
    canvas.rect([x, y, width, height], &[("fill", look.arena)]);
    canvas.open("g", &[("clip-path", "url(#arena)")]);
    solids(&mut canvas, look, &view, plan);
    for figure in &frame.figures {
        trail(&mut canvas, look, &view, figure);
    }
    for figure in &frame.figures {
        boxes(&mut canvas, look, &view, plan, figure);
    }
    canvas.close("g");
    canvas.rect(
        [x, y, width, height],
        &[
            ("fill", "none"),
            ("stroke", look.ink),
            ("stroke-width", "1.5"),
        ],
    );
    rulers(&mut canvas, look, &view, plan.arena.bounds);
    tags(&mut canvas, look, &view, frame);
    legend::draw(&mut canvas, look, &marks, [LEFT, legend_top], RIGHT);
    canvas.finish()
}

/// What of the legend this picture needs.
fn marks(frame: &Frame) -> Vec<Mark> {
    let specs = || {
        let figures = frame.figures.iter();
        figures.map(|figure| frame.plan.spec(figure.actor))
    };
    let solids = &frame.plan.arena.solids;
    let mut marks = Vec::new();
    let mut mark = |mark, there: bool| {
        if there {
            marks.push(mark);
        }
    };
    mark(Mark::Hitbox, specs().any(|spec| !spec.hitboxes.is_empty()));
    mark(
        Mark::Hurtbox,
        specs().any(|spec| !spec.hurtboxes.is_empty()),
    );
    mark(Mark::Body, specs().any(|spec| spec.body.is_some()));
    let moving = specs().any(|spec| spec.solid.is_some());
    mark(
        Mark::Solid,
        moving || solids.iter().any(|solid| !solid.one_way),
    );
    mark(Mark::OneWay, solids.iter().any(|solid| solid.one_way));
    let moved = |figure: &Figure| figure.trail.iter().any(|&at| at != figure.at);
    mark(Mark::Trail, frame.figures.iter().any(moved));
    let off = |figure: &Figure| {
        let spec = frame.plan.spec(figure.actor);
        let count = |boxes: &[BoxPlan], set: u64| (0..boxes.len()).any(|nth| set & (1 << nth) == 0);
        count(&spec.hitboxes, figure.live.hit) || count(&spec.hurtboxes, figure.live.hurt)
    };
    mark(Mark::Off, frame.figures.iter().any(off));
    mark(
        Mark::Guard,
        frame.figures.iter().any(|figure| figure.guarding),
    );
    mark(
        Mark::Invincible,
        frame.figures.iter().any(|figure| figure.invincible),
    );
    marks
}

fn heading(canvas: &mut Canvas, look: &Look, title: &str, caption: &str) {
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

fn clip(canvas: &mut Canvas, area: &Area) {
    canvas.open("clipPath", &[("id", "arena")]);
    canvas.rect([area.x, area.y, area.width, area.height], &[]);
    canvas.close("clipPath");
}

fn solids(canvas: &mut Canvas, look: &Look, view: &View, plan: &Plan) {
    for solid in &plan.arena.solids {
        let mark = if solid.one_way {
            Mark::OneWay
        } else {
            Mark::Solid
        };
        canvas.rect(view.rect(solid.bounds), &mark.style(look));
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

fn boxes(canvas: &mut Canvas, look: &Look, view: &View, plan: &Plan, figure: &Figure) {
    let spec = plan.spec(figure.actor);
    let hurtbox = if figure.invincible {
        Mark::Invincible
    } else {
        Mark::Hurtbox
    };
    let mut draw = |mark: Mark, plan: &BoxPlan| {
        let path = outline(view, plan.shape(figure.facing), figure.at);
        canvas.path(&path, &mark.style(look));
    };
    let on = |set: u64, nth: usize| set & (1 << nth) != 0;
    if let Some(solid) = &spec.solid {
        draw(Mark::Solid, solid);
    }
    if let Some(body) = &spec.body {
        draw(Mark::Body, body);
    }
    for (nth, plan) in spec.hurtboxes.iter().enumerate() {
        draw(
            if on(figure.live.hurt, nth) {
                hurtbox
            } else {
                Mark::Off
            },
            plan,
        );
    }
    for (nth, plan) in spec.hitboxes.iter().enumerate() {
        draw(
            if on(figure.live.hit, nth) {
                Mark::Hitbox
            } else {
                Mark::Off
            },
            plan,
        );
    }
    if let Some(guard) = spec.guard.as_deref().filter(|_| figure.guarding) {
        canvas.path(
            &guarded(view, spec, guard, figure),
            &Mark::Guard.style(look),
        );
    }
}

/// An arc before an actor, as wide as its guard.
fn guarded(view: &View, spec: &Spec, guard: &GuardPlan, figure: &Figure) -> String {
    let size = spec
        .body
        .as_deref()
        .map_or(spec.extent(figure.facing), |body| {
            body.shape(figure.facing).bounds()
        });
    let radius = size.size().length() / 2.0 + 3.0;
    let centre = figure.at + size.centre();
    let (middle, half) = (guard.arc.middle(), guard.arc.half().min(3.1));
    let up = if view.flipped { 1.0 } else { -1.0 };
    let edge = |turn: f64| {
        let (sin, cos) = turn.sin_cos();
        let x = middle.x * cos - middle.y * sin;
        let y = middle.x * sin + middle.y * cos;
        let out = Vec2::new(x * figure.facing.sign(), y * up) * radius;
        let [x, y] = view.place(centre + out);
        format!("{} {}", number(x), number(y))
    };
    let steps = 24;
    let points =
        (0..=steps).map(|step| edge(half * (2.0 * f64::from(step) / f64::from(steps) - 1.0)));
    format!("M{}", points.collect::<Vec<_>>().join("L"))
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
    let last = view.area.x + view.area.width - 46.0;
    for value in multiples(step, bounds.min.x, bounds.max.x) {
        let [x, _] = view.place(Vec2::new(value, bounds.min.y));
        if x < last {
            note(x, bottom + 20.0, Anchor::Middle, &value.to_string());
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
fn round_step(least: f64) -> f64 {
    let power = 10f64.powf(least.log10().floor());
    let factors = [1.0, 2.0, 5.0, 10.0];
    let factor = factors.into_iter().find(|factor| factor * power >= least);
    factor.unwrap_or(10.0) * power
}

fn multiples(step: f64, low: f64, high: f64) -> impl Iterator<Item = f64> {
    let first = (low / step).ceil() as i64;
    let last = (high / step).floor() as i64;
    // Through a whole number, so that 0.1 * 3 is written 0.3.
    (first..=last).map(move |count| {
        let value = count as f64 * step;
        (value * 1e6).round() / 1e6
    })
}

/// Names, with the meters of those who have any, above everyone and never on each other.
fn tags(canvas: &mut Canvas, look: &Look, view: &View, frame: &Frame) {
    const NAME: f32 = 14.0;
    const ROW: f64 = 17.0;
    let plan = &frame.plan;
    let rows = |figure: &Figure| -> Vec<String> {
        let spec = plan.spec(figure.actor);
        let held = spec.meters.iter().zip(&figure.meters);
        held.map(|(meter, held)| {
            format!("{} {held} / {}", plan.meters[meter.name.index()], meter.max)
        })
        .collect()
    };
    let name = |figure: &Figure| {
        let id = &plan.actors[figure.actor.index()].id;
        fitted(id, NAME, Weight::SemiBold, 220.0)
    };
    let wanted: Vec<Area> = frame
        .figures
        .iter()
        .map(|figure| {
            let rows = rows(figure);
            let texts = rows
                .iter()
                .map(|row| 52.0 + width(row, 13.0, Weight::Regular));
            let wide = texts.fold(width(&name(figure), NAME, Weight::SemiBold), f64::max);
            let [x, top] = above(view, plan.spec(figure.actor), figure);
            let doing = figure
                .doing
                .iter()
                .map(|row| width(row, 13.0, Weight::Regular));
            let wide = doing.fold(wide, f64::max);
            let high = ROW * (1 + rows.len() + figure.doing.len()) as f64 + 2.0;
            Area {
                x: x - wide / 2.0 - 3.0,
                y: top - high - 6.0,
                width: wide + 6.0,
                height: high,
            }
        })
        .collect();
    let mut obstacles: Vec<Area> = frame
        .figures
        .iter()
        .map(|figure| shown(plan.spec(figure.actor), figure))
        .filter(|bounds| !bounds.is_empty())
        .map(|bounds| view.covered(bounds))
        .collect();
    let thin = plan.arena.solids.iter().filter(|solid| solid.one_way);
    obstacles.extend(thin.map(|solid| view.covered(solid.bounds)));
    let placed = spread(&wanted, &obstacles, view.area);
    // Lines first, so that they pass beneath the labels.
    for (figure, area) in frame.figures.iter().zip(&placed) {
        let Some(area) = area else { continue };
        let [x, top] = above(view, plan.spec(figure.actor), figure);
        let below = area.y + area.height;
        if top - below > 12.0 || below - top > 2.0 {
            let style = [("stroke", look.faint), ("stroke-width", "0.8")];
            let middle = area.x + area.width / 2.0;
            canvas.line([x, top], [middle, below.min(top.max(area.y))], &style);
        }
    }
    let mut untold = 0;
    for (figure, area) in frame.figures.iter().zip(placed) {
        let Some(area) = area else {
            untold += 1;
            continue;
        };
        let back = [("fill", look.arena), ("fill-opacity", "0.82"), ("rx", "3")];
        canvas.rect([area.x, area.y, area.width, area.height], &back);
        canvas.text(&Text {
            x: area.x + area.width / 2.0,
            y: area.y + 14.0,
            size: NAME,
            weight: Weight::SemiBold,
            anchor: Anchor::Middle,
            fill: look.ink,
            text: &name(figure),
        });
        let meters = &plan.spec(figure.actor).meters;
        for (nth, row) in figure.doing.iter().enumerate() {
            canvas.text(&Text {
                x: area.x + area.width / 2.0,
                y: area.y + ROW * (1 + meters.len() + nth) as f64 + 13.0,
                size: 13.0,
                weight: Weight::Regular,
                anchor: Anchor::Middle,
                fill: look.ink,
                text: row,
            });
        }
        let held = meters.iter().zip(&figure.meters).zip(rows(figure));
        for (nth, ((meter, &held), row)) in held.enumerate() {
            let y = area.y + ROW * (nth + 1) as f64;
            gauge(canvas, look, [area.x + 3.0, y + 4.0], meter, held);
            canvas.text(&Text {
                x: area.x + 52.0,
                y: y + 13.0,
                size: 13.0,
                weight: Weight::Regular,
                anchor: Anchor::Start,
                fill: look.ink,
                text: &row,
            });
        }
    }
    if untold > 0 {
        canvas.text(&Text {
            x: RIGHT,
            y: 66.0,
            size: 15.0,
            weight: Weight::Regular,
            anchor: Anchor::End,
            fill: look.faint,
            text: &format!("{untold} names left out for want of room"),
        });
    }
}

/// The rectangle around the boxes of an actor that are on.
fn shown(spec: &Spec, figure: &Figure) -> Bounds {
    let on = |set: u64| move |(nth, plan)| (set & (1u64 << nth) != 0).then_some(plan);
    let hit = spec
        .hitboxes
        .iter()
        .enumerate()
        .filter_map(on(figure.live.hit));
    let hurt = spec
        .hurtboxes
        .iter()
        .enumerate()
        .filter_map(on(figure.live.hurt));
    let all = hit
        .chain(hurt)
        .chain(spec.body.as_deref())
        .chain(spec.solid.as_deref());
    let around = all.fold(Bounds::EMPTY, |bounds, plan: &BoxPlan| {
        bounds.joined(plan.shape(figure.facing).bounds())
    });
    around.moved(figure.at)
}

/// The middle of the upper edge of all of an actor's boxes.
fn above(view: &View, spec: &Spec, figure: &Figure) -> [f64; 2] {
    let extent = shown(spec, figure);
    if extent.is_empty() {
        return view.place(figure.at);
    }
    let [x, y, width, _] = view.rect(extent);
    [x + width / 2.0, y]
}

/// A bar: what a meter holds of what it can hold.
fn gauge(canvas: &mut Canvas, look: &Look, [x, y]: [f64; 2], meter: &MeterPlan, held: Amount) {
    const LENGTH: f64 = 44.0;
    let share = held.as_f64() / meter.max.as_f64();
    canvas.rect(
        [x, y, LENGTH, 9.0],
        &[("fill", look.oxblood), ("fill-opacity", "0.3")],
    );
    canvas.rect([x, y, LENGTH * share, 9.0], &[("fill", look.verdigris)]);
    canvas.rect(
        [x, y, LENGTH, 9.0],
        &[
            ("fill", "none"),
            ("stroke", look.ink),
            ("stroke-width", "1"),
        ],
    );
}
