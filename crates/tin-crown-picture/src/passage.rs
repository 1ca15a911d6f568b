//! The starts of a passage as a strip: when in the cycle one gets through.

use tin_crown::study::{Attempt, Passage};

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::legend;
use crate::look::Look;
use crate::scene::{heading, multiples, round_step};
use crate::text::{Weight, fitted, width};

const WIDTH: f64 = 1280.0;
const LEFT: f64 = 64.0;
const RIGHT: f64 = WIDTH - 64.0;
/// How high a row of the strip is, and how far apart rows are.
const ROW: f64 = 46.0;
const APART: f64 = 92.0;
const TOP: f64 = 112.0;
/// So many ticks a row has at the most, so that each is seen.
const TICKS: usize = 384;
/// So many rows are drawn; of more, each place stands for several ticks.
const ROWS: usize = 8;

/// What is drawn of a passage.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Ticks;
/// use tin_crown::study::{PassageSetup, passage};
/// use tin_crown_picture::{Look, PassageStrip};
///
/// let checked = tin_crown::check(file);
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let setup = PassageSetup { cap: Ticks(30), ..PassageSetup::new(&plan, "careless") };
/// let passage = passage(&encounter, &plan, &setup, &mut |_, _| true)?;
/// let svg = PassageStrip::new(plan.title(), &passage).svg(&Look::paper());
/// assert!(svg.contains("no start gets through"));
/// # Ok::<(), tin_crown::study::PassageError>(())
/// ```
#[derive(Clone, Debug)]
pub struct PassageStrip<'p> {
    title: &'p str,
    passage: &'p Passage,
}

impl<'p> PassageStrip<'p> {
    /// All of a passage, under the title of its encounter.
    pub fn new(title: &'p str, passage: &'p Passage) -> PassageStrip<'p> {
        PassageStrip { title, passage }
    }

    /// The picture, as an SVG document.
    pub fn svg(&self, look: &Look) -> String {
        let starts = &self.passage.starts;
        let row = starts
            .len()
            .div_ceil(ROWS)
            .max(TICKS)
            .min(starts.len().max(1));
        let rows = starts.len().div_ceil(row);
        let high = TOP + APART * rows as f64 + 64.0;
        let said = match self.passage.narrowest() {
            None => "no start gets through".to_owned(),
            Some(narrowest) => format!("the narrowest gap is {}", narrowest.in_words()),
        };
        let title = format!(
            "When drill {} gets through unhurt: {said}",
            self.passage.drill
        );
        let cycle = match self.passage.cycle.period {
            Some(period) => format!("hazards repeat every {}", period.in_words()),
            None => "hazards have no common cycle so long".to_owned(),
        };
        let caption = format!("{}: {cycle}; each start so many ticks later", self.title);
        let mut canvas = Canvas::new(WIDTH, high, &format!("{title}, {caption}"));
        canvas.rect([0.0, 0.0, WIDTH, high], &[("fill", look.ground)]);
        let title = fitted(&title, 22.0, Weight::SemiBold, RIGHT - LEFT);
        heading(&mut canvas, look, &title, &caption);
        legend::hatch(&mut canvas, look);
        for nth in 0..rows {
            let from = nth * row;
            let to = (from + row).min(starts.len());
            self.row(&mut canvas, look, [from, to], row, TOP + APART * nth as f64);
        }
        key(&mut canvas, look, high - 28.0);
        canvas.finish()
    }

    fn row(&self, canvas: &mut Canvas, look: &Look, [from, to]: [usize; 2], row: usize, y: f64) {
        let pixels = (RIGHT - LEFT) / row as f64;
        let at = |tick: usize| LEFT + (tick - from) as f64 * pixels;
        let wide = at(to) - LEFT;
        canvas.rect([LEFT, y, wide, ROW], &[("fill", look.arena)]);
        let starts = &self.passage.starts;
        let mut begins = from;
        while begins < to {
            let sort = sort(&starts[begins]);
            let ends = (begins..to)
                .find(|nth| self::sort(&starts[*nth]) != sort)
                .unwrap_or(to);
            let place = [at(begins), y, at(ends) - at(begins), ROW];
            mark(canvas, look, sort, place);
            if sort == Sort::Through {
                let ticks = (ends - begins).to_string();
                if width(&ticks, 14.0, Weight::SemiBold) + 6.0 < place[2] {
                    canvas.text(&Text {
                        x: place[0] + place[2] / 2.0,
                        y: y + ROW / 2.0 + 5.0,
                        size: 14.0,
                        weight: Weight::SemiBold,
                        anchor: Anchor::Middle,
                        fill: look.ground,
                        text: &ticks,
                    });
                }
            }
            begins = ends;
        }
        let settles = self.passage.cycle.settles.0 as usize;
        if settles > from && settles < to {
            let x = at(settles);
            let style = [
                ("stroke", look.brass),
                ("stroke-width", "2"),
                ("stroke-dasharray", "5 3"),
            ];
            canvas.line([x, y - 8.0], [x, y + ROW + 6.0], &style);
            canvas.words(
                [x + 5.0, y - 4.0],
                12.0,
                Weight::Regular,
                look.brass,
                "the cycle begins",
            );
        }
        canvas.line(
            [LEFT, y + ROW],
            [LEFT + wide, y + ROW],
            &[("stroke", look.ink), ("stroke-width", "1.2")],
        );
        let step = round_step(70.0 / pixels).max(1.0);
        for tick in multiples(step, from as f64, to as f64 - 1.0) {
            let x = LEFT + (tick - from as f64) * pixels;
            canvas.line(
                [x, y + ROW],
                [x, y + ROW + 5.0],
                &[("stroke", look.ink), ("stroke-width", "1")],
            );
            let text = format!("{tick}t");
            let half = width(&text, 12.0, Weight::Regular) / 2.0;
            canvas.text(&Text {
                x: x.clamp(LEFT + half, RIGHT - half),
                y: y + ROW + 19.0,
                size: 12.0,
                weight: Weight::Regular,
                anchor: Anchor::Middle,
                fill: look.faint,
                text: &text,
            });
        }
    }
}

/// What comes of a start, as the strip has it.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Sort {
    Through,
    Hurt,
    Waiting,
    Short,
}

fn sort(start: &Attempt) -> Sort {
    match start {
        Attempt::Through => Sort::Through,
        Attempt::Hurt { .. } => Sort::Hurt,
        Attempt::Waiting { .. } => Sort::Waiting,
        _ => Sort::Short,
    }
}

fn mark(canvas: &mut Canvas, look: &Look, sort: Sort, place: [f64; 4]) {
    match sort {
        Sort::Through => canvas.rect(place, &[("fill", look.verdigris)]),
        Sort::Hurt => canvas.rect(place, &[("fill", "url(#hatch)")]),
        Sort::Waiting => canvas.rect(place, &[("fill", look.oxblood), ("fill-opacity", "0.7")]),
        Sort::Short => {
            let [x, y, wide, high] = place;
            let middle = number(y + high / 2.0);
            canvas.path(
                &format!("M{} {middle}h{}", number(x), number(wide)),
                &[
                    ("stroke", look.faint),
                    ("stroke-width", "2"),
                    ("stroke-dasharray", "3 3"),
                ],
            );
        }
    }
}

fn key(canvas: &mut Canvas, look: &Look, y: f64) {
    let mut x = LEFT;
    for (sort, text) in [
        (Sort::Through, "gets through unhurt, with how many ticks"),
        (Sort::Hurt, "hurt on the way"),
        (Sort::Waiting, "hurt while waiting"),
        (Sort::Short, "unhurt, but not won"),
    ] {
        mark(canvas, look, sort, [x, y - 12.0, 26.0, 16.0]);
        canvas.words([x + 34.0, y + 1.0], 14.0, Weight::Regular, look.ink, text);
        x += 66.0 + width(text, 14.0, Weight::Regular);
    }
}
