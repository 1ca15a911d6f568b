//! A kind's sheet: all its boxes in each state, attack phase and step of its death, both ways, with
//! sizes and offsets.

mod cells;
mod front;
mod numbers;
mod stances;

use tin_crown::encounter::Up;
use tin_crown::geometry::{Bounds, HeightSpan, Shape, Vec2};
use tin_crown::plan::{BoxPlan, KindIx, SensorForm, Spec};
use tin_crown::{Facing, Plan};

use crate::canvas::{Canvas, number};
use crate::guard;
use crate::label::Area;
use crate::layers::{self, Layers, Stood};
use crate::legend::{self, Mark};
use crate::look::Look;
use crate::muzzle;
use crate::nose;
use crate::outline::outline;
use crate::scene::heading;
use crate::sensor;
use crate::text::{Weight, fitted};
use crate::view::View;
use cells::Cells;
use stances::Stance;

const WIDTH: f64 = 1280.0;
const TOP: f64 = 96.0;
const PANEL: [f64; 2] = [380.0, 260.0];
/// Sensors are shown as far as this beside the boxes, in sizes of all of those.
const MOST_BESIDE: f64 = 1.0;
/// What a row has beside its panel: its name above, the way it faces below.
const AROUND: f64 = 72.0;
/// The room for a name below a panel.
const BELOW: f64 = 26.0;
/// Where the list of boxes begins.
const LIST: f64 = 64.0 + (PANEL[0] + 20.0) * 2.0 + 4.0;
/// The height of a line in the list of boxes.
const LINE: f64 = 20.0;
/// So many lines are listed at the most.
const MOST: usize = 16;

/// What is drawn of a kind.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::{Look, Sheet};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let svg = Sheet::new(&plan, "stag-beetle").unwrap().svg(&Look::paper());
/// assert!(svg.contains("antlers"));
/// assert!(Sheet::new(&plan, "stag").is_none());
/// ```
#[derive(Clone, Debug)]
pub struct Sheet<'p> {
    plan: &'p Plan,
    spec: &'p Spec,
    kind: KindIx,
    layers: Layers,
    /// Around all that its sprite ever shows, facing right.
    drawn: Bounds,
}

impl<'p> Sheet<'p> {
    /// The sheet of a kind; nothing when there is none of that name.
    pub fn new(plan: &'p Plan, kind: &str) -> Option<Sheet<'p>> {
        let place = plan
            .names()
            .kinds()
            .iter()
            .position(|known| known == kind)?;
        // Kinds come first among the resolved ones, in their order.
        let spec = plan.specs().get(place)?;
        Some(Sheet {
            plan,
            spec,
            kind: spec.kind(),
            layers: Layers::default(),
            drawn: Bounds::EMPTY,
        })
    }

    /// Draws boxes over its sprite, and cell by cell how they lie on it.
    #[must_use]
    pub fn over(mut self, layers: Layers) -> Sheet<'p> {
        self.drawn = cells::drawn(self.spec, &layers);
        self.layers = layers;
        self
    }

    /// The picture, as an SVG document 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        let stances = stances::all(self.plan, self.spec);
        let marks = self.marks(&stances);
        let lines = self.listed(&stances[0]).len().min(MOST);
        let list = LINE * lines as f64 + if self.is_high() { front::HIGH } else { 0.0 };
        let high = self.panel_height().max(list) + AROUND;
        let below = TOP + high * stances.len() as f64;
        let cells = Cells::new(self.plan, self.spec, &self.layers);
        let bottom = below + cells.as_ref().map_or(0.0, Cells::height);
        let mut measure = Canvas::new(WIDTH, 0.0, "");
        let height = legend::draw(&mut measure, look, &marks, [64.0, bottom + 16.0], 1248.0) + 10.0;
        let name = &self.plan.names().kinds()[self.kind];
        let title = format!("Kind {name}");
        let caption = format!(
            "{}; sizes and places in units, places from the middle, up and the way it faces positive",
            self.plan.title()
        );
        let mut canvas = Canvas::new(WIDTH, height, &title);
        legend::hatch(&mut canvas, look);
        canvas.rect([0.0, 0.0, WIDTH, height], &[("fill", look.ground)]);
        heading(&mut canvas, look, &title, &caption);
        for (nth, stance) in stances.iter().enumerate() {
            self.row(&mut canvas, look, stance, TOP + high * nth as f64);
        }
        if let Some(cells) = &cells {
            cells.draw(&mut canvas, look, below);
        }
        legend::draw(&mut canvas, look, &marks, [64.0, bottom + 16.0], 1248.0);
        canvas.finish()
    }

    fn marks(&self, stances: &[Stance]) -> Vec<Mark> {
        let spec = self.spec;
        let drawn = |mark: Mark| {
            let mut rows = stances.iter().flat_map(|stance| self.boxes(stance));
            rows.any(|(own, _)| own == mark)
        };
        let there = [
            (Mark::Hitbox, drawn(Mark::Hitbox)),
            (Mark::Hurtbox, drawn(Mark::Hurtbox)),
            (Mark::Body, spec.body().is_some()),
            (Mark::Solid, spec.solid().is_some()),
            (Mark::Pickup, spec.pickup().is_some()),
            (Mark::Sensor, !spec.sensors().is_empty()),
            (Mark::Muzzle, !spec.launchers().is_empty()),
            (Mark::Nose, spec.rotates()),
            (Mark::Guard, stances.iter().any(|stance| stance.guard)),
            (Mark::Off, drawn(Mark::Off)),
        ];
        let there = there.into_iter().filter(|(_, there)| *there);
        there.map(|(mark, _)| mark).collect()
    }

    /// All boxes with the marks that they have in a stance, lowest first.
    fn boxes(&self, stance: &Stance) -> Vec<(Mark, &'p BoxPlan)> {
        let spec = self.spec;
        let mut all: Vec<(Mark, &BoxPlan)> = Vec::new();
        all.extend(spec.solid().map(|own| (Mark::Solid, own)));
        all.extend(spec.body().map(|own| (Mark::Body, own)));
        all.extend(spec.pickup().map(|own| (Mark::Pickup, own.area())));
        let marked = |boxes: &'p [BoxPlan], live: u64, on: Mark| {
            boxes.iter().enumerate().map(move |(nth, own)| {
                let is = live & (1 << nth) != 0;
                (if is { on } else { Mark::Off }, own)
            })
        };
        all.extend(marked(spec.hurtboxes(), stance.live.hurt(), Mark::Hurtbox));
        all.extend(marked(spec.hitboxes(), stance.live.hit(), Mark::Hitbox));
        all
    }

    /// The rectangle around all boxes, both ways, and some room; empty when there are none.
    fn shown(&self) -> Bounds {
        let all = self.ways().into_iter();
        let all = all.map(|facing| self.spec.extent(facing));
        let all = all.fold(Bounds::EMPTY, Bounds::joined);
        let pickup = self.spec.pickup();
        let pickup = pickup.map_or(Bounds::EMPTY, |own| {
            own.area().shape(Facing::Right).bounds()
        });
        let ways = self.ways().into_iter();
        let drawn = ways.filter(|_| !self.drawn.is_empty()).map(|facing| {
            let corners = [self.drawn.min, self.drawn.max].map(|at| facing.turn(at));
            let corners = corners.map(|at| Bounds::new(at, at));
            corners[0].joined(corners[1])
        });
        let drawn = drawn.fold(Bounds::EMPTY, Bounds::joined);
        let around = all.joined(pickup).joined(drawn);
        let more = self.beside();
        let around = if around.is_empty() {
            more
        } else {
            // Boxes are not drawn small for the sake of a sensor that sees far.
            let room = around.size() * MOST_BESIDE;
            let most = Bounds {
                min: around.min - room,
                max: around.max + room,
            };
            around.joined(within(more, most))
        };
        if around.is_empty() {
            return around;
        }
        let margin = around.size() * 0.12 + Vec2::new(1.0, 1.0);
        Bounds {
            min: around.min - margin,
            max: around.max + margin,
        }
    }

    /// The rectangle around what it has beside boxes, both ways: sensors, muzzles, the arc of its guard.
    fn beside(&self) -> Bounds {
        let spec = self.spec;
        let mut around = Bounds::EMPTY;
        for facing in self.ways() {
            let mut point = |at: &Vec2| {
                let at = facing.turn(*at);
                around = around.joined(Bounds::new(at, at));
            };
            for launcher in spec.launchers() {
                point(&launcher.muzzle());
            }
            for sensor in spec.sensors() {
                match sensor.form() {
                    SensorForm::Area(area) => {
                        let bounds = area.shape(Facing::Right).bounds();
                        point(&bounds.min);
                        point(&bounds.max);
                    }
                    SensorForm::Ray { from, to, .. } => {
                        point(from);
                        point(to);
                    }
                }
            }
            if spec.guard().is_some() {
                around = around.joined(guard::reach(spec, facing));
            }
        }
        around
    }

    /// The ways that it is drawn: both, or eight of who rotates.
    fn ways(&self) -> Vec<Facing> {
        // Every second of sixteen.
        let step = if self.spec.rotates() { 2 } else { 1 };
        self.spec.ways().step_by(step).collect()
    }

    /// How high a panel is.
    fn panel_height(&self) -> f64 {
        let size = self.shown().size();
        if self.spec.rotates() && size.x > 0.0 {
            PANEL[1]
        } else if size.x > 0.0 {
            (size.y * PANEL[0] / size.x).min(PANEL[1])
        } else {
            LINE
        }
    }

    /// One stance: facing right, facing left, and the list of boxes.
    fn row(&self, canvas: &mut Canvas, look: &Look, stance: &Stance, y: f64) {
        let shown = self.shown();
        let note = |canvas: &mut Canvas, fill, x, y, weight, words: &str| {
            canvas.words([x, y], 14.0, weight, fill, words);
        };
        note(
            canvas,
            look.ink,
            64.0,
            y + 16.0,
            Weight::SemiBold,
            &stance.name,
        );
        if shown.is_empty() {
            note(
                canvas,
                look.faint,
                64.0,
                y + 44.0,
                Weight::Regular,
                "it has no boxes and no sensors",
            );
            return;
        }
        let ways = self.ways();
        // Two side by side, or more in rows of four.
        let columns = if ways.len() > 2 { 4 } else { 2 };
        let rows = ways.len().div_ceil(columns) as f64;
        let across = (2.0 * PANEL[0] + 20.0 + 20.0) / columns as f64;
        let down = (PANEL[1] + BELOW) / rows;
        for (nth, facing) in ways.into_iter().enumerate() {
            let room = Area {
                x: 64.0 + across * (nth % columns) as f64,
                y: y + 28.0 + down * (nth / columns) as f64,
                width: across - 20.0,
                height: down - BELOW,
            };
            let view = View::within(shown, self.plan.arena().up(), room);
            let clip = format!("panel-{}-{nth}", number(y));
            self.panel(canvas, look, &view, facing, (stance, &clip));
            let up = match self.plan.arena().up() {
                Up::Plus => 1.0,
                Up::Minus => -1.0,
            };
            let way = match facing {
                Facing::Right => "facing right →".to_owned(),
                Facing::Left => "← facing left".to_owned(),
                Facing::Angle(angle) if up < 0.0 => format!("{}°", angle.mirrored().degrees()),
                Facing::Angle(angle) => format!("{}°", angle.degrees()),
            };
            let below = view.area.y + view.area.height + 18.0;
            note(
                canvas,
                look.faint,
                view.area.x,
                below,
                Weight::Regular,
                &way,
            );
        }
        self.list(canvas, look, stance, y + 44.0);
        if self.is_high() {
            let lines = self.listed(stance).len().min(MOST);
            let at = [LIST, y + 44.0 + LINE * lines as f64];
            front::draw(canvas, look, &self.boxes(stance), at);
        }
    }

    /// Whether its boxes have heights.
    fn is_high(&self) -> bool {
        self.plan.arena().height().is_some()
    }

    /// All that it has in a stance, one way; each box with its number of the list.
    fn panel(
        &self,
        canvas: &mut Canvas,
        look: &Look,
        view: &View,
        facing: Facing,
        (stance, clip): (&Stance, &str),
    ) {
        let (spec, boxes) = (self.spec, self.boxes(stance));
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
        let here = Vec2::ZERO;
        let mut drawn = false;
        if let Some(sprite) = spec.sprite() {
            let stood = Stood {
                plan: self.plan,
                at: here,
                facing,
            };
            let cell = sprite.cell_at(&stance.moment);
            drawn = layers::draw(canvas, &self.layers, view, sprite, cell, stood);
        }
        for own in spec.sensors().iter().filter(|_| stance.acts) {
            let path = sensor::outline(view, own, facing, here);
            canvas.path(&path, &Mark::Sensor.style(look));
        }
        for (mark, own) in &boxes {
            let path = outline(view, &own.shape(facing), here);
            canvas.path(&path, &mark.over(look, drawn));
        }
        if let Some(own) = spec.guard().filter(|_| stance.guard) {
            let path = guard::arc(view, spec, own, facing, here);
            canvas.path(&path, &Mark::Guard.style(look));
        }
        for own in spec.launchers().iter().filter(|_| stance.acts) {
            let path = muzzle::line(view, own, facing, here);
            canvas.path(&path, &Mark::Muzzle.style(look));
        }
        if spec.rotates() {
            canvas.path(
                &nose::line(view, spec, facing, here),
                &Mark::Nose.style(look),
            );
        }
        // The middle, from which places count.
        let [cx, cy] = view.place(here);
        let d = format!(
            "M{} {1}h10M{2} {3}v10",
            number(cx - 5.0),
            number(cy),
            number(cx),
            number(cy - 5.0)
        );
        canvas.path(&d, &[("stroke", look.ink), ("stroke-width", "1")]);
        canvas.close("g");
        let shapes: Vec<_> = boxes.iter().map(|(_, own)| own.shape(facing)).collect();
        numbers::draw(canvas, look, view, shapes.iter().map(|shape| &**shape));
    }

    /// The lines of the list: boxes with their numbers, then sensors and muzzles; each with whether it
    /// is off.
    fn listed(&self, stance: &Stance) -> Vec<(String, bool)> {
        let up = self.plan.arena().up();
        let boxes = self.boxes(stance).into_iter().enumerate();
        let boxes = boxes.map(|(nth, (mark, own))| {
            let what = match mark {
                Mark::Hitbox => "hitbox",
                Mark::Hurtbox => "hurtbox",
                Mark::Body => "body",
                Mark::Solid => "solid",
                Mark::Pickup => "pickup",
                _ => "off",
            };
            let name = match mark {
                Mark::Body | Mark::Solid | Mark::Pickup => what.to_owned(),
                _ => format!("{} ({what})", own.name()),
            };
            let mut measures = measures(up, &own.shape(Facing::Right));
            measures.push_str(&own.span().map_or(String::new(), between));
            (format!("{} {name}: {measures}", nth + 1), mark == Mark::Off)
        });
        let names = self.plan.names();
        let sensors = self.spec.sensors().iter().map(|own| {
            let where_ = match own.form() {
                SensorForm::Area(area) => {
                    let high = area.span().map_or(String::new(), between);
                    measures(up, &area.shape(Facing::Right)) + &high
                }
                SensorForm::Ray { from, to, rise } => {
                    let high = rise.map(|[low, high]| HeightSpan::new(low, high));
                    let high = high.map_or(String::new(), between);
                    format!("from {} to {}{high}", place(up, *from), place(up, *to))
                }
            };
            let name = &names.sensors()[own.name()];
            (format!("{name} (sensor): {where_}"), !stance.acts)
        });
        let muzzles = self.spec.launchers().iter().map(|own| {
            let kind = &names.kinds()[own.launches()];
            let mut at = place(up, own.muzzle());
            if self.is_high() {
                at.push_str(&format!("; {} high", number(own.muzzle_rise())));
            }
            let line = format!("{} (launcher of {kind}): muzzle at {at}", own.name());
            (line, !stance.acts)
        });
        boxes.chain(sensors).chain(muzzles).collect()
    }

    fn list(&self, canvas: &mut Canvas, look: &Look, stance: &Stance, top: f64) {
        let x = LIST;
        let lines = self.listed(stance);
        for (nth, (line, off)) in lines.iter().enumerate() {
            let y = top + LINE * nth as f64;
            if nth + 1 == MOST && lines.len() > MOST {
                let more = format!("and {} more", lines.len() - nth);
                canvas.words([x, y], 14.0, Weight::Regular, look.faint, &more);
                break;
            }
            let fill = if *off { look.faint } else { look.ink };
            let words = fitted(line, 14.0, Weight::Regular, 1248.0 - x);
            canvas.words([x, y], 14.0, Weight::Regular, fill, &words);
        }
    }
}

/// What of a rectangle is in another.
fn within(own: Bounds, other: Bounds) -> Bounds {
    Bounds {
        min: Vec2::new(own.min.x.max(other.min.x), own.min.y.max(other.min.y)),
        max: Vec2::new(own.max.x.min(other.max.x), own.max.y.min(other.max.y)),
    }
}

/// "4, -3", facing right and with up positive.
fn place(up: Up, at: Vec2) -> String {
    let y = if up == Up::Plus { at.y } else { -at.y };
    format!("{}, {}", number(at.x), number(y))
}

/// "; 0 to 20 high".
fn between(span: HeightSpan) -> String {
    format!("; {} to {} high", number(span.low), number(span.high))
}

/// "26 × 10 at 0, -3", facing right and with up positive.
fn measures(up: Up, shape: &Shape) -> String {
    let bounds = shape.bounds();
    let (size, centre) = (bounds.size(), bounds.centre());
    let at = format!("at {}", place(up, centre));
    match (shape.points().len(), shape.radius()) {
        (1, radius) => format!("radius {} {at}", number(radius)),
        (_, radius) if radius > 0.0 => format!(
            "{} × {}, radius {}, {at}",
            number(size.x),
            number(size.y),
            number(radius)
        ),
        (_, _) if shape.is_upright() => format!("{} × {} {at}", number(size.x), number(size.y)),
        _ => format!("within {} × {} {at}", number(size.x), number(size.y)),
    }
}
