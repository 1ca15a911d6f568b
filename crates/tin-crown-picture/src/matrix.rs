//! The matrix: who damaged whom, how much, how often, and which touches did nothing and why.

use std::collections::{BTreeMap, BTreeSet};

use tin_crown::plan::{ActorIx, MeterIx};
use tin_crown::{Amount, Event, Tick, Verdict, What};

use crate::canvas::{Anchor, Canvas, Text, number};
use crate::film::Film;
use crate::look::Look;
use crate::scene::heading;
use crate::text::{Weight, fitted, shortened};

const LEFT: f64 = 200.0;
const TOP: f64 = 150.0;
const CELL: f64 = 150.0;
const LINE: f64 = 17.0;
/// So many columns and rows are drawn at the most.
const MOST: usize = 40;

/// What is drawn of a film as a matrix.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown_picture::{Film, Look, Matrix};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let film = Film::shoot(&plan, plan.drill("careless")?)?;
/// assert!(Matrix::new(&film).by_kind().svg(&Look::paper()).contains("4 health"));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug)]
pub struct Matrix<'f> {
    film: &'f Film,
    by_kind: bool,
    from: Tick,
    to: Tick,
}

/// What one dealt to another.
#[derive(Clone, Debug, Default)]
struct Cell {
    landed: u32,
    guarded: u32,
    /// How many effects came from outside.
    applied: u32,
    /// How many of them all killed outright.
    killed: u32,
    /// What each meter lost.
    taken: BTreeMap<MeterIx, Amount>,
    /// Touches that did nothing, by verdict.
    rejected: BTreeMap<Verdict, u32>,
}

impl<'f> Matrix<'f> {
    /// Everyone apart.
    pub fn new(film: &'f Film) -> Matrix<'f> {
        Matrix {
            film,
            by_kind: false,
            from: Tick(0),
            to: film.last(),
        }
    }

    /// Only from one tick to another.
    #[must_use]
    pub fn between(mut self, from: Tick, to: Tick) -> Matrix<'f> {
        self.to = to.min(self.film.last());
        self.from = from.min(self.to);
        self
    }

    /// Those of one kind together.
    #[must_use]
    pub fn by_kind(mut self) -> Matrix<'f> {
        self.by_kind = true;
        self
    }

    /// The picture, as an SVG document.
    pub fn svg(&self, look: &Look) -> String {
        let cells = self.cells();
        let mut rows: Vec<&str> = distinct(cells.keys().map(|(who, _)| who.as_str()));
        let mut columns: Vec<&str> = distinct(cells.keys().map(|(_, whom)| whom.as_str()));
        let left_out = rows.len().saturating_sub(MOST) + columns.len().saturating_sub(MOST);
        rows.truncate(MOST);
        columns.truncate(MOST);
        let heights: Vec<f64> = rows
            .iter()
            .map(|who| {
                let own = cells.iter().filter(|((giver, _), _)| giver == who);
                let lines = own.map(|(_, cell)| self.lines(cell).len()).max();
                LINE * lines.unwrap_or(1) as f64 + 16.0
            })
            .collect();
        let wide = (LEFT + CELL * columns.len() as f64 + 32.0).max(860.0);
        let high = TOP + heights.iter().sum::<f64>() + 70.0;
        let mut canvas = self.page(look, wide, high);
        if cells.is_empty() {
            canvas.words(
                [64.0, TOP],
                14.0,
                Weight::Regular,
                look.ink,
                "no touch that any rule is about",
            );
            return canvas.finish();
        }
        canvas.words(
            [LEFT, TOP - 40.0],
            14.0,
            Weight::Regular,
            look.faint,
            "whom →",
        );
        for (nth, whom) in columns.iter().enumerate() {
            let x = LEFT + CELL * nth as f64;
            canvas.text(&Text {
                x: x + 8.0,
                y: TOP - 12.0,
                size: 14.0,
                weight: Weight::SemiBold,
                anchor: Anchor::Start,
                fill: look.ink,
                text: &shortened(whom, 14.0, Weight::SemiBold, CELL - 12.0),
            });
        }
        let most = cells.values().map(Cell::lost).fold(1e-9, f64::max);
        let mut y = TOP;
        for (who, high) in rows.iter().zip(&heights) {
            canvas.text(&Text {
                x: LEFT - 12.0,
                y: y + 22.0,
                size: 14.0,
                weight: Weight::SemiBold,
                anchor: Anchor::End,
                fill: look.ink,
                text: &shortened(who, 14.0, Weight::SemiBold, LEFT - 36.0),
            });
            for (nth, whom) in columns.iter().enumerate() {
                let x = LEFT + CELL * nth as f64;
                let cell = cells.get(&((*who).to_owned(), (*whom).to_owned()));
                self.cell(&mut canvas, look, [x, y, CELL, *high], cell, most);
            }
            y += high;
        }
        canvas.words(
            [24.0, TOP + 22.0],
            14.0,
            Weight::Regular,
            look.faint,
            "who ↓",
        );
        let mut explained =
            "what the meters lost, then the hits, then what came to nothing and why; \
                             what an actor launched counts as its own"
                .to_owned();
        if left_out > 0 {
            explained = format!(
                "{left_out} rows and columns omitted for lack of space: group them with --by-kind"
            );
        }
        let explained = fitted(&explained, 14.0, Weight::Regular, wide - 96.0);
        canvas.words(
            [64.0, y + 36.0],
            14.0,
            Weight::Regular,
            look.faint,
            &explained,
        );
        canvas.finish()
    }

    fn page(&self, look: &Look, wide: f64, high: f64) -> Canvas {
        let film = self.film;
        let title = format!("Who damaged whom: {}", film.plan().title());
        let caption = film.caption(self.from, self.to);
        let mut canvas = Canvas::new(wide, high, &format!("{title}, {caption}"));
        canvas.rect([0.0, 0.0, wide, high], &[("fill", look.ground)]);
        heading(
            &mut canvas,
            look,
            &fitted(&title, 22.0, Weight::SemiBold, wide - 96.0),
            &caption,
        );
        canvas
    }

    fn name(&self, actor: ActorIx) -> String {
        let replay = self.film.replay();
        if self.by_kind {
            let kind = replay.spec(actor).kind();
            self.film.plan().names().kinds()[kind].clone()
        } else {
            replay.id(actor).to_owned()
        }
    }

    fn cells(&self) -> BTreeMap<(String, String), Cell> {
        let replay = self.film.replay();
        let mut cells: BTreeMap<(String, String), Cell> = BTreeMap::new();
        let within = |event: &&Event| event.tick >= self.from && event.tick <= self.to;
        for event in self.film.events().iter().filter(within) {
            let (Some(who), Some(whom)) = (event.who, event.whom) else {
                continue;
            };
            let key = (self.name(replay.root(who)), self.name(whom));
            match &event.what {
                What::Hit(hit) => {
                    let cell = cells.entry(key).or_default();
                    cell.killed += u32::from(hit.kills);
                    match hit.verdict {
                        Verdict::Landed => cell.landed += 1,
                        Verdict::Guarded => cell.guarded += 1,
                        verdict => *cell.rejected.entry(verdict).or_default() += 1,
                    }
                }
                What::Apply { kills, .. } => {
                    let cell = cells.entry(key).or_default();
                    cell.applied += 1;
                    cell.killed += u32::from(*kills);
                }
                What::Meter {
                    meter,
                    before,
                    after,
                    of: None,
                } if after < before => {
                    let taken = &mut cells.entry(key).or_default().taken;
                    *taken.entry(*meter).or_default() += *before - *after;
                }
                _ => {}
            }
        }
        cells
    }

    /// What stands in a cell, line by line, and how heavy.
    fn lines(&self, cell: &Cell) -> Vec<(Weight, String)> {
        let mut lines = Vec::new();
        for (meter, amount) in &cell.taken {
            let name = &self.film.plan().names().meters()[*meter];
            lines.push((Weight::SemiBold, format!("{amount} {name}")));
        }
        let count = |count: u32, one: &str, many: &str| match count {
            0 => None,
            1 => Some(format!("1 {one}")),
            count => Some(format!("{count} {many}")),
        };
        lines.extend(count(cell.landed, "hit", "hits").map(|text| (Weight::Regular, text)));
        let killed = match cell.killed {
            0 => None,
            1 => Some("killed".to_owned()),
            times => Some(format!("killed {times} times")),
        };
        lines.splice(0..0, killed.map(|text| (Weight::SemiBold, text)));
        let guarded = count(cell.guarded, "guarded", "guarded");
        lines.extend(guarded.map(|text| (Weight::Regular, text)));
        let applied = count(cell.applied, "effect from outside", "effects from outside");
        lines.extend(applied.map(|text| (Weight::Regular, text)));
        for (verdict, times) in &cell.rejected {
            lines.push((
                Weight::Regular,
                format!("nothing: {times} {}", verdict.as_str()),
            ));
        }
        lines
    }

    fn cell(
        &self,
        canvas: &mut Canvas,
        look: &Look,
        [x, y, wide, high]: [f64; 4],
        cell: Option<&Cell>,
        most: f64,
    ) {
        let frame = [
            ("fill", "none"),
            ("stroke", look.faint),
            ("stroke-width", "0.7"),
        ];
        canvas.rect([x, y, wide, high], &frame);
        let Some(cell) = cell else { return };
        let share = cell.lost() / most * 0.3;
        let shade = number(share);
        canvas.rect(
            [x, y, wide, high],
            &[("fill", look.oxblood), ("fill-opacity", &shade)],
        );
        for (nth, (weight, text)) in self.lines(cell).into_iter().enumerate() {
            let rejected = text.starts_with("nothing");
            canvas.text(&Text {
                x: x + 8.0,
                y: y + 21.0 + LINE * nth as f64,
                size: 13.0,
                weight,
                anchor: Anchor::Start,
                fill: if rejected { look.faint } else { look.ink },
                text: &fitted(&text, 13.0, weight, wide - 12.0),
            });
        }
    }
}

impl Cell {
    /// What all meters lost.
    fn lost(&self) -> f64 {
        self.taken.values().map(|amount| amount.as_f64()).sum()
    }
}

fn distinct<'a>(names: impl Iterator<Item = &'a str>) -> Vec<&'a str> {
    let names: BTreeSet<&str> = names.collect();
    names.into_iter().collect()
}
