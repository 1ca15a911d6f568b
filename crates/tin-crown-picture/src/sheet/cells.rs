//! A kind's sprite, cell by cell: the boxes that are live while it is shown, and how they lie on it.

use std::collections::BTreeSet;

use tin_crown::geometry::{Bounds, Shape, Vec2};
use tin_crown::plan::{Spec, SpritePlan};
use tin_crown::sprite::{CellFrame, Mask, Placing, cover, frames, uncovered};
use tin_crown::{Facing, Plan, Ticks};

use crate::canvas::Canvas;
use crate::label::Area;
use crate::layers::{self, Layers, Stood};
use crate::legend::Mark;
use crate::look::Look;
use crate::outline::outline;
use crate::text::{Weight, fitted};
use crate::view::View;

const LEFT: f64 = 64.0;
const COLUMNS: usize = 4;
/// From one panel to the next, and how large a panel is.
const ACROSS: f64 = 300.0;
const PANEL: [f64; 2] = [284.0, 190.0];
const LINE: f64 = 18.0;
/// The heading above all cells.
const HEAD: f64 = 34.0;
/// So many lines stand below a cell at the most.
const MOST: usize = 9;

/// Every cell that is ever shown.
pub(super) struct Cells<'c> {
    plan: &'c Plan,
    sprite: &'c SpritePlan,
    layers: &'c Layers,
    /// What all panels show.
    shown: Bounds,
    cells: Vec<Cell>,
}

struct Cell {
    frame: CellFrame,
    lines: Vec<String>,
}

impl<'c> Cells<'c> {
    /// None when there is no sprite that can be drawn.
    pub fn new(plan: &'c Plan, spec: &'c Spec, layers: &'c Layers) -> Option<Cells<'c>> {
        let sprite = spec.sprite()?;
        let sheet = layers.sheet(sprite)?;
        let placing = Placing::of(sprite, sheet.cell_size(sprite.cell()));
        let mut shown = placing.edges();
        let frames = frames(plan, spec, sprite);
        let cells = frames.into_iter().map(|frame| {
            let mask = sheet.mask(sprite.cell(), frame.cell, sprite.opaque());
            for own in &frame.boxes {
                shown = shown.joined(own.shape.bounds());
            }
            let lines = lines((spec, sprite), &frame, &mask, &placing);
            Cell { frame, lines }
        });
        let cells = cells.collect();
        let margin = shown.size() * 0.04;
        Some(Cells {
            plan,
            sprite,
            layers,
            shown: Bounds {
                min: shown.min - margin,
                max: shown.max + margin,
            },
            cells,
        })
    }

    /// How high all of it is.
    pub fn height(&self) -> f64 {
        HEAD + self
            .cells
            .chunks(COLUMNS)
            .map(|row| self.row(row))
            .sum::<f64>()
    }

    fn panel(&self) -> f64 {
        let size = self.shown.size();
        (size.y * PANEL[0] / size.x).min(PANEL[1])
    }

    fn row(&self, row: &[Cell]) -> f64 {
        let lines = row.iter().map(|cell| cell.lines.len()).max().unwrap_or(0);
        self.panel() + LINE * lines as f64 + 22.0
    }

    pub fn draw(&self, canvas: &mut Canvas, look: &Look, top: f64) {
        let head = format!(
            "{}, cell by cell: shares are counted in pixels",
            self.sprite.file()
        );
        canvas.words([LEFT, top + 16.0], 14.0, Weight::SemiBold, look.ink, &head);
        let mut y = top + HEAD;
        for row in self.cells.chunks(COLUMNS) {
            for (nth, cell) in row.iter().enumerate() {
                self.cell(canvas, look, cell, [LEFT + ACROSS * nth as f64, y]);
            }
            y += self.row(row);
        }
    }

    fn cell(&self, canvas: &mut Canvas, look: &Look, cell: &Cell, [x, y]: [f64; 2]) {
        let room = Area {
            x,
            y,
            width: PANEL[0],
            height: self.panel(),
        };
        let view = View::within(self.shown, self.plan.arena().up(), room);
        let Area {
            x: left,
            y: top,
            width,
            height,
        } = view.area;
        canvas.rect([left, top, width, height], &[("fill", look.arena)]);
        let stood = Stood {
            plan: self.plan,
            at: Vec2::ZERO,
            facing: Facing::Right,
        };
        layers::draw(
            canvas,
            self.layers,
            &view,
            self.sprite,
            cell.frame.cell,
            stood,
        );
        for own in &cell.frame.boxes {
            let mark = if own.hits {
                Mark::Hitbox
            } else {
                Mark::Hurtbox
            };
            let path = outline(&view, &own.shape, Vec2::ZERO);
            canvas.path(&path, &mark.style(look));
        }
        for (nth, line) in cell.lines.iter().enumerate() {
            let weight = if nth == 0 {
                Weight::SemiBold
            } else {
                Weight::Regular
            };
            let fill = if nth == 1 { look.faint } else { look.ink };
            let line = fitted(line, 13.0, weight, PANEL[0]);
            let y = top + height + LINE * (nth + 1) as f64;
            canvas.words([left, y], 13.0, weight, fill, &line);
        }
    }
}

/// Around all pixels that a sprite ever shows, in units, facing right; empty without one.
pub(super) fn drawn(spec: &Spec, layers: &Layers) -> Bounds {
    let sprite = spec.sprite();
    let Some((sprite, sheet)) = sprite.and_then(|own| Some((own, layers.sheet(own)?))) else {
        return Bounds::EMPTY;
    };
    let placing = Placing::of(sprite, sheet.cell_size(sprite.cell()));
    let cells: BTreeSet<u32> = sprite
        .clips()
        .iter()
        .flat_map(|clip| clip.cells().iter().copied())
        .collect();
    let masks = cells
        .into_iter()
        .map(|cell| sheet.mask(sprite.cell(), cell, sprite.opaque()).bounds());
    let drawn = masks.fold(Bounds::EMPTY, Bounds::joined);
    match drawn.is_empty() {
        true => drawn,
        false => placing.units(drawn),
    }
}

/// What is said of a cell.
fn lines(
    (spec, sprite): (&Spec, &SpritePlan),
    frame: &CellFrame,
    mask: &Mask,
    placing: &Placing,
) -> Vec<String> {
    let when = match frame.when.as_slice() {
        [one] => one.clone(),
        [one, rest @ ..] => format!("{one}, and {} more", rest.len()),
        [] => String::new(),
    };
    let ticks = match (frame.ticks, sprite.clips()[frame.clip].round().0) {
        (_, 0) => "as long as that is so".to_owned(),
        (ticks, _) => Ticks(ticks).in_words(),
    };
    let mut lines = vec![format!("cell {}: {when}", frame.cell), ticks];
    let percent = |share: f64| format!("{:.0} %", share * 100.0);
    for own in frame.boxes.iter().take(MOST - 4) {
        let found = cover(mask, placing, &own.shape);
        let boxes = if own.hits {
            spec.hitboxes()
        } else {
            spec.hurtboxes()
        };
        let beyond = match (own.hits, found.beyond) {
            (_, beyond) if !beyond.is_finite() => String::new(),
            (true, beyond) => format!(", {beyond:.1} px beyond"),
            (false, beyond) => format!(", out by {beyond:.1} px"),
        };
        lines.push(format!(
            "{}: {} drawn{beyond}",
            boxes[own.place].name(),
            percent(found.share())
        ));
    }
    let takes: Vec<&Shape> = frame
        .boxes
        .iter()
        .filter(|own| !own.hits)
        .map(|own| &own.shape)
        .collect();
    let drawn = mask.count();
    if !takes.is_empty() && drawn > 0 {
        let bare = uncovered(mask, placing, takes);
        let share = percent(bare as f64 / drawn as f64);
        lines.push(format!("{share} of the drawing in no hurtbox"));
    }
    lines
}
