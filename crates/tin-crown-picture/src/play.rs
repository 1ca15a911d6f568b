//! The page on which an encounter is played by hand, and what it is told, tick by tick.

use std::collections::HashMap;

use minijinja::context;
use serde::Serialize;
use tin_crown::geometry::Vec2;
use tin_crown::plan::SpecIx;
use tin_crown::play::Stance;
use tin_crown::sprite::Sheets;
use tin_crown::{Facing, Plan, Sim};

use crate::page;
use crate::page::poses::{LEFT, Stands, turned};
use crate::page::stage::{self, SpecData, Stage};
use crate::page::texts::Texts;

/// Places are told in so many parts of a pixel.
const PARTS: f64 = 8.0;

/// The page on which an encounter is played: it asks a server for everything that moves.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// let checked = tin_crown::check(file);
/// let plan = checked.plan.unwrap();
/// let page = tin_crown_picture::play::html(&plan, &checked.sheets, "first-shelf.toml");
/// assert!(page.starts_with("<!doctype html>"));
/// ```
pub fn html(plan: &Plan, sheets: &Sheets, file: &str) -> String {
    page::render(
        include_str!("../page/play.html"),
        context! {
            title => plan.title(),
            file,
            style => page::style(include_str!("../page/play.css")),
            script => page::script(concat!(
                include_str!("../page/keys.js"),
                include_str!("../page/numbers.js"),
                include_str!("../page/play.js"),
            )),
            data => page::data(&Begin { parts: PARTS, stage: &Stage::new(plan, sheets) }),
        },
    )
}

/// What one page is told: texts, kinds and actors once each, then only their numbers.
#[derive(Clone, Debug)]
pub struct Stream {
    stage: Stage,
    texts: Texts,
    actors: HashMap<(String, SpecIx), u32>,
    /// Actors that are not told yet: the id, and which kind on the page.
    new: Vec<(String, usize)>,
    /// How many kinds and texts are told.
    told: (usize, usize),
    stands: Stands,
}

/// The arena, before anybody is in it.
#[derive(Clone, Copy, Debug, Serialize)]
pub struct Begin<'s> {
    parts: f64,
    #[serde(flatten)]
    stage: &'s Stage,
}

/// A tick.
#[derive(Clone, Debug, Serialize)]
pub struct Told<'s> {
    tick: u32,
    /// Everyone who is there: which actor, x, y and height in parts of a pixel, flags, live boxes, what it is doing,
    /// meters, born, how far it is turned, which clip of its sprite, since when.
    actors: Vec<[i64; 12]>,
    /// Whom a ghost has where: which actor, x, y, height, flags, how far it is turned.
    ghosts: Vec<[i64; 6]>,
    /// Lines of the ledger that are new.
    rows: Vec<[u32; 11]>,
    /// Texts, kinds and actors that are told for the first time.
    texts: &'s [String],
    specs: &'s [SpecData],
    cast: Vec<(String, usize)>,
}

impl Stream {
    /// To a page that knows nothing yet.
    pub fn new(plan: &Plan, sheets: &Sheets) -> Stream {
        Stream {
            stage: Stage::new(plan, sheets),
            texts: Texts::default(),
            actors: HashMap::new(),
            new: Vec::new(),
            told: (0, 0),
            stands: Stands::default(),
        }
    }

    /// The arena.
    pub fn begin(&self) -> Begin<'_> {
        Begin {
            parts: PARTS,
            stage: &self.stage,
        }
    }

    /// A tick of a run, with the lines of its ledger after so many, and where a ghost stands.
    pub fn tell<'g>(
        &mut self,
        run: &Sim,
        lines: usize,
        ghosts: impl Iterator<Item = (&'g str, Stance)>,
    ) -> Told<'_> {
        let plan = run.plan();
        let mut actors = Vec::new();
        for actor in run.cast() {
            let view = run.actor(actor);
            let number = self.number(plan, run.id(actor), run.spec_index(actor));
            let [x, y, height] = self.place(view.at, view.height);
            let (stand, _) = self.stands.of(run, actor, &view);
            actors.push([
                number,
                x,
                y,
                height,
                i64::from(stand.flags),
                i64::from(self.texts.of(&stand.live)),
                i64::from(self.texts.of(&stand.doing)),
                i64::from(self.texts.of(&stand.meters)),
                stand.born,
                i64::from(stand.turned),
                stand.clip.0 as i64,
                stand.clip.1,
            ]);
        }
        let ghosts = ghosts.filter_map(|(id, stance)| self.ghost(plan, id, stance));
        let ghosts = ghosts.collect();
        let events = run.ledger().events().get(lines..).unwrap_or(&[]);
        let rows = stage::rows(&mut self.texts, run.reading(), events);
        let (specs, texts) = self.told;
        self.told = (self.stage.specs_since(0).len(), self.texts.len());
        Told {
            tick: run.tick().0,
            actors,
            ghosts,
            rows,
            texts: self.texts.since(texts),
            specs: self.stage.specs_since(specs),
            cast: std::mem::take(&mut self.new),
        }
    }

    fn ghost(&mut self, plan: &Plan, id: &str, stance: Stance) -> Option<[i64; 6]> {
        let actor = plan.actor(id).ok()?;
        let spec = plan.actors()[actor.index()].spec();
        let number = self.number(plan, id, spec);
        let [x, y, height] = self.place(stance.at, stance.height);
        let left = if stance.facing == Facing::Left {
            LEFT
        } else {
            0
        };
        let turned = turned(plan, stance.facing);
        Some([number, x, y, height, i64::from(left), i64::from(turned)])
    }

    /// The number of an actor on the page.
    fn number(&mut self, plan: &Plan, id: &str, spec: SpecIx) -> i64 {
        let next = self.actors.len() as u32;
        let number = *self.actors.entry((id.to_owned(), spec)).or_insert(next);
        if number == next {
            let spec = self.stage.spec(plan, spec);
            self.new.push((id.to_owned(), spec));
        }
        i64::from(number)
    }

    fn place(&self, at: Vec2, height: f64) -> [i64; 3] {
        let [x, y] = self.stage.view.place(at);
        let parts = |own: f64| (own * PARTS).round() as i64;
        [parts(x), parts(y), parts(height * self.stage.view.scale)]
    }
}
