//! Boxes fitted to the cells of a sheet, drawn over them.

use tin_crown::geometry::{Bounds, Vec2};
use tin_crown::sprite::{Form, Placing, Sheet, Traced};

use crate::canvas::{Canvas, number};
use crate::label::Area;
use crate::layers::{OPACITY, address};
use crate::legend::Mark;
use crate::look::Look;
use crate::outline::outline;
use crate::scene::heading;
use crate::text::{Weight, fitted};
use crate::view::View;

const WIDTH: f64 = 1280.0;
const LEFT: f64 = 64.0;
const TOP: f64 = 96.0;
/// From one panel to the next, how wide one is, and how high at the most.
const ACROSS: f64 = 200.0;
const WIDE: f64 = 184.0;
const HIGH: f64 = 184.0;
const LINE: f64 = 18.0;
/// So many cells are drawn at the most.
const MOST: usize = 24;

/// Boxes fitted to the cells of a sheet, drawn over them: a row for each cell, a panel for each form.
///
/// ```
/// use tin_crown::demo::SPRITES;
/// use tin_crown::encounter::Up;
/// use tin_crown::geometry::Vec2;
/// use tin_crown::sprite::{Placing, Sheet, trace};
/// use tin_crown_picture::{Look, Traces};
///
/// let (name, bytes) = SPRITES.iter().find(|(name, _)| *name == "alarm.png").unwrap();
/// let sheet = Sheet::read(bytes.to_vec())?;
/// let cell = Some([24, 24]);
/// let placing = Placing { size: [24, 24], at: Vec2::new(0.0, 0.0), scale: 1.0, up: Up::Plus };
/// let mut traces = Traces::new(*name, &sheet, cell, placing);
/// traces.cell(0, trace(&sheet.mask(cell, 0, 128), &placing));
/// assert!(traces.svg(&Look::paper()).contains("circle: covers 100 %"));
/// # Ok::<(), tin_crown::sprite::SheetError>(())
/// ```
#[derive(Clone, Debug)]
pub struct Traces<'t> {
    name: String,
    sheet: &'t Sheet,
    cell: Option<[u32; 2]>,
    placing: Placing,
    cells: Vec<(u32, Vec<Traced>)>,
}

impl<'t> Traces<'t> {
    /// Over a sheet with cells of that size.
    pub fn new(
        name: impl Into<String>,
        sheet: &'t Sheet,
        cell: Option<[u32; 2]>,
        placing: Placing,
    ) -> Traces<'t> {
        Traces {
            name: name.into(),
            sheet,
            cell,
            placing,
            cells: Vec::new(),
        }
    }

    /// Adds a cell, and what was fitted to it.
    pub fn cell(&mut self, number: u32, traced: Vec<Traced>) {
        self.cells.push((number, traced));
    }

    /// The picture, as an SVG document 1280 pixels wide.
    pub fn svg(&self, look: &Look) -> String {
        let shown = self.shown();
        let size = shown.size();
        let high = (size.y * WIDE / size.x).min(HIGH);
        let row = high + 2.0 * LINE + 44.0;
        let cells = &self.cells[..self.cells.len().min(MOST)];
        let height = TOP + row * cells.len() as f64 + 10.0;
        let mut canvas = Canvas::new(WIDTH, height, &self.name);
        canvas.rect([0.0, 0.0, WIDTH, height], &[("fill", look.ground)]);
        let left_out = self.cells.len() - cells.len();
        let caption = match left_out {
            0 => "what each form covers of the drawing, and how much of it is air".to_owned(),
            more => format!("the first {MOST} cells; {more} more are not drawn"),
        };
        heading(
            &mut canvas,
            look,
            &format!("Boxes fitted to {}", self.name),
            &caption,
        );
        let pixels = self.sheet.pixels();
        for (nth, (number, traced)) in cells.iter().enumerate() {
            let y = TOP + row * nth as f64;
            let head = match traced.is_empty() {
                true => format!("cell {number}: nothing is drawn"),
                false => format!("cell {number}"),
            };
            canvas.words([LEFT, y + 14.0], 14.0, Weight::SemiBold, look.ink, &head);
            for (place, form) in Form::ALL.into_iter().enumerate() {
                let x = LEFT + ACROSS * place as f64;
                let room = Area {
                    x,
                    y: y + 24.0,
                    width: WIDE,
                    height: high,
                };
                match traced.iter().find(|own| own.form == form) {
                    Some(own) => {
                        let view = View::within(shown, self.placing.up, room);
                        self.panel(&mut canvas, look, &view, (*number, &pixels), own);
                    }
                    None if traced.is_empty() => {}
                    None => {
                        let y = room.y + high + LINE;
                        for (words, y) in [(form.as_str(), y), ("hardly smaller", y + LINE)] {
                            canvas.words([x, y], 13.0, Weight::Regular, look.faint, words);
                        }
                    }
                }
            }
        }
        canvas.finish()
    }

    /// What all panels show, in units.
    fn shown(&self) -> Bounds {
        let cell = self.placing.edges();
        let traced = self.cells.iter().flat_map(|(_, traced)| traced);
        traced.fold(cell, |all, own| all.joined(own.shape.bounds()))
    }

    fn panel(
        &self,
        canvas: &mut Canvas,
        look: &Look,
        view: &View,
        (cell, pixels): (u32, &[u8]),
        traced: &Traced,
    ) {
        let Area {
            x,
            y,
            width,
            height,
        } = view.area;
        canvas.rect([x, y, width, height], &[("fill", look.arena)]);
        let [wide, tall] = self.placing.size.map(f64::from);
        let size = self.placing.scale * view.scale;
        let drawn = ([wide, tall], size >= 1.0);
        let name = canvas.picture(&cell.to_string(), drawn, || {
            Some(address(&self.sheet.cut(pixels, self.cell, cell)?))
        });
        if let Some(name) = name {
            let corner = view.place(self.placing.unit(Vec2::new(0.0, 0.0)));
            let placed = format!(
                "translate({} {})scale({size:.5})",
                number(corner[0]),
                number(corner[1])
            );
            let href = format!("#{name}");
            let opacity = number(OPACITY);
            canvas.empty(
                "use",
                &[
                    ("href", &href),
                    ("transform", &placed),
                    ("opacity", &opacity),
                ],
            );
        }
        let path = outline(view, &traced.shape, Vec2::ZERO);
        canvas.path(&path, &Mark::Hurtbox.style(look));
        let percent = |share: f64| format!("{:.0} %", share * 100.0);
        let (form, covers, air) = (
            traced.form.as_str(),
            percent(traced.covers),
            percent(traced.air),
        );
        let mut say = |nth: f64, fill, words: &str| {
            let words = fitted(words, 13.0, Weight::Regular, WIDE + 8.0);
            canvas.words(
                [x, y + height + LINE * nth],
                13.0,
                Weight::Regular,
                fill,
                &words,
            );
        };
        say(1.0, look.ink, &format!("{form}: covers {covers}"));
        say(2.0, look.faint, &format!("{air} air"));
    }
}
