//! A kind's sheet: all its boxes in each state and attack phase, both ways, with sizes and offsets.

use tin_crown::encounter::Up;
use tin_crown::geometry::{Bounds, Shape, Vec2};
use tin_crown::plan::{BoxPlan, BoxSet, KindIx, Spec};
use tin_crown::{Facing, Plan, Ticks};

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::label::{Area, spread};
use crate::legend::{self, Mark};
use crate::look::Look;
use crate::outline::outline;
use crate::scene::heading;
use crate::text::{Weight, fitted};
use crate::view::View;

const WIDTH: f64 = 1280.0;
const TOP: f64 = 96.0;
const PANEL: [f64; 2] = [380.0, 260.0];
/// What a row has beside its panel: its name above, the way it faces below.
const AROUND: f64 = 72.0;
/// The height of a line in the list of boxes.
const LINE: f64 = 20.0;
/// So many boxes are listed at the most.
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
}

/// A way in which a kind can stand, and the boxes that are live then.
struct Stance {
    name: String,
    live: BoxSet,
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
        })
    }

    /// The picture, as an SVG document 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        let stances = self.stances();
        let marks = self.marks();
        let lines = self.boxes(&stances[0]).len().min(MOST);
        let high = self.panel_height().max(LINE * lines as f64) + AROUND;
        let bottom = TOP + high * stances.len() as f64;
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
        legend::draw(&mut canvas, look, &marks, [64.0, bottom + 16.0], 1248.0);
        canvas.finish()
    }

    /// At rest, in each state that makes boxes live, and in each phase of each attack that does.
    fn stances(&self) -> Vec<Stance> {
        let spec = self.spec;
        let always = spec.always_live();
        let mut stances = vec![Stance {
            name: "always".to_owned(),
            live: always,
        }];
        for state in spec.states() {
            if !state.live().is_empty() {
                let name = &self.plan.names().states()[state.name()];
                stances.push(Stance {
                    name: format!("in state {name}"),
                    live: always.with(state.live()),
                });
            }
        }
        for attack in spec.attacks() {
            let name = &self.plan.names().attacks()[attack.name()];
            let phases = ["startup", "active", "recovery"];
            for ((phase, live), Ticks(length)) in
                phases.iter().zip(attack.live()).zip(attack.phases())
            {
                if !live.is_empty() && length > 0 {
                    stances.push(Stance {
                        name: format!("{name}: {phase}, {length} ticks"),
                        live: always.with(live),
                    });
                }
            }
        }
        stances
    }

    fn marks(&self) -> Vec<Mark> {
        let spec = self.spec;
        let there = [
            (Mark::Hitbox, !spec.hitboxes().is_empty()),
            (Mark::Hurtbox, !spec.hurtboxes().is_empty()),
            (Mark::Body, spec.body().is_some()),
            (Mark::Solid, spec.solid().is_some()),
            (Mark::Pickup, spec.pickup().is_some()),
            (
                Mark::Off,
                !spec.by_attack().with(spec.by_state()).is_empty(),
            ),
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
        let both = [Facing::Right, Facing::Left].map(|facing| self.spec.extent(facing));
        let pickup = self.spec.pickup();
        let pickup = pickup.map_or(Bounds::EMPTY, |own| {
            own.area().shape(Facing::Right).bounds()
        });
        let around = both[0].joined(both[1]).joined(pickup);
        if around.is_empty() {
            return around;
        }
        let margin = around.size() * 0.12 + Vec2::new(1.0, 1.0);
        Bounds {
            min: around.min - margin,
            max: around.max + margin,
        }
    }

    /// How high a panel is.
    fn panel_height(&self) -> f64 {
        let size = self.shown().size();
        if size.x > 0.0 {
            (size.y * PANEL[0] / size.x).min(PANEL[1])
        } else {
            LINE
        }
    }

    /// One stance: facing right, facing left, and the list of boxes.
    fn row(&self, canvas: &mut Canvas, look: &Look, stance: &Stance, y: f64) {
        let boxes = self.boxes(stance);
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
                "it has no boxes",
            );
            return;
        }
        for (nth, facing) in [Facing::Right, Facing::Left].into_iter().enumerate() {
            let room = Area {
                x: 64.0 + (PANEL[0] + 20.0) * nth as f64,
                y: y + 28.0,
                width: PANEL[0],
                height: PANEL[1],
            };
            let view = View::within(shown, self.plan.arena().up(), room);
            self.panel(canvas, look, &view, facing, &boxes);
            let way = match facing {
                Facing::Right => "facing right →",
                Facing::Left => "← facing left",
            };
            let below = view.area.y + view.area.height + 18.0;
            note(canvas, look.faint, view.area.x, below, Weight::Regular, way);
        }
        self.list(canvas, look, &boxes, y + 44.0);
    }

    /// All boxes one way, each with its number of the list.
    fn panel(
        &self,
        canvas: &mut Canvas,
        look: &Look,
        view: &View,
        facing: Facing,
        boxes: &[(Mark, &BoxPlan)],
    ) {
        let Area {
            x,
            y,
            width,
            height,
        } = view.area;
        canvas.rect([x, y, width, height], &[("fill", look.arena)]);
        for (mark, own) in boxes {
            let path = outline(view, own.shape(facing), Vec2::ZERO);
            canvas.path(&path, &mark.style(look));
        }
        // The middle, from which places count.
        let [cx, cy] = view.place(Vec2::ZERO);
        let d = format!(
            "M{} {1}h10M{2} {3}v10",
            number(cx - 5.0),
            number(cy),
            number(cx),
            number(cy - 5.0)
        );
        canvas.path(&d, &[("stroke", look.ink), ("stroke-width", "1")]);
        let wanted: Vec<Area> = boxes
            .iter()
            .map(|(_, own)| {
                let [x, y, width, _] = view.rect(own.shape(facing).bounds());
                Area {
                    x: x + width - 18.0,
                    y: y + 2.0,
                    width: 16.0,
                    height: 15.0,
                }
            })
            .collect();
        let placed = spread(&wanted, &[], view.area);
        for (nth, area) in placed.into_iter().enumerate() {
            let Some(area) = area else { continue };
            let back = [("fill", look.arena), ("fill-opacity", "0.85"), ("rx", "3")];
            canvas.rect([area.x, area.y, area.width, area.height], &back);
            canvas.text(&Text {
                x: area.x + area.width / 2.0,
                y: area.y + 12.0,
                size: 12.0,
                weight: Weight::SemiBold,
                anchor: Anchor::Middle,
                fill: look.ink,
                text: &(nth + 1).to_string(),
            });
        }
    }

    fn list(&self, canvas: &mut Canvas, look: &Look, boxes: &[(Mark, &BoxPlan)], top: f64) {
        let x = 64.0 + (PANEL[0] + 20.0) * 2.0 + 4.0;
        for (nth, (mark, own)) in boxes.iter().enumerate() {
            let y = top + LINE * nth as f64;
            if nth + 1 == MOST && boxes.len() > MOST {
                let more = format!("and {} more", boxes.len() - nth);
                canvas.words([x, y], 14.0, Weight::Regular, look.faint, &more);
                break;
            }
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
            let measures = measures(self.plan.arena().up(), own.shape(Facing::Right));
            let words = format!("{} {name}: {measures}", nth + 1);
            let fill = if *mark == Mark::Off {
                look.faint
            } else {
                look.ink
            };
            let words = fitted(&words, 14.0, Weight::Regular, 1248.0 - x);
            canvas.words([x, y], 14.0, Weight::Regular, fill, &words);
        }
    }
}

/// "26 × 10 at 0, -3", facing right and with up positive.
fn measures(up: Up, shape: &Shape) -> String {
    let bounds = shape.bounds();
    let (size, centre) = (bounds.size(), bounds.centre());
    let y = if up == Up::Plus { centre.y } else { -centre.y };
    let at = format!("at {}, {}", number(centre.x), number(y));
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
