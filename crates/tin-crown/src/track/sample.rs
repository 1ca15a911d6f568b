//! What a row of a recording tells: its cells as a place, a facing, an attack…

use std::collections::HashMap;

use super::columns::Columns;
use super::fault::Fault;
use super::rows::{Cell, Table};
use crate::encounter::Angles;
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Angle, Facing, Vec2};
use crate::limits;
use crate::plan::{
    AttackIx, AttackTold, NO_ATTACK, Plan, Spec, SpecIx, StateIx, TrackPlan, facing,
};

/// What a row tells of an actor.
#[derive(Clone, Debug)]
pub(super) struct Sample {
    pub line: u64,
    /// In ticks.
    pub time: f64,
    pub place: Option<Place>,
    /// Which buttons are down, a bit for each, where any are told.
    pub buttons: Option<u32>,
}

/// Where a row has an actor, and how it stands there.
#[derive(Clone, Copy, Debug)]
pub(super) struct Place {
    pub at: Vec2,
    pub height: f64,
    pub velocity: Option<(Vec2, f64)>,
    pub facing: Option<Facing>,
    pub grounded: bool,
    pub state: Option<StateIx>,
    pub attack: Option<AttackTold>,
    pub teleport: bool,
}

/// What the words of a recording mean for a kind, as far as they were asked.
#[derive(Default)]
pub(super) struct Words {
    states: HashMap<SpecIx, HashMap<String, Option<StateIx>>>,
    attacks: HashMap<SpecIx, HashMap<String, Option<AttackIx>>>,
}

/// A row that was read, and how it is understood.
pub(super) struct Row<'r> {
    pub table: &'r Table,
    pub columns: &'r Columns,
    pub plan: &'r Plan,
    pub track: &'r TrackPlan,
    /// Where the recording stands in the encounter.
    pub path: &'r Path,
}

type Read<T> = Result<T, Fault>;

impl Row<'_> {
    /// Its time, in ticks.
    pub fn time(&self) -> Read<f64> {
        let time = self.number(self.columns.time, "a time")?;
        Ok(self.track.rows.moment(time))
    }

    /// What it tells of an actor of a kind.
    pub fn sample(&self, spec: SpecIx, words: &mut Words, time: f64) -> Read<Sample> {
        let mut buttons = (!self.columns.buttons.is_empty()).then_some(0);
        let own = self.plan.spec_of(spec);
        for (button, column) in &self.columns.buttons {
            let down = self.truth(*column)? && own.answers(*button);
            buttons = buttons.map(|all| all | u32::from(down) << button.index());
        }
        let place = match self.columns.place {
            // A row about buttons need not place anybody.
            Some(at) if buttons.is_some() && at.iter().all(|axis| self.is_empty(*axis)) => None,
            Some(at) => Some(self.place(at, (own, spec), words)?),
            None => None,
        };
        Ok(Sample {
            line: self.table.line(),
            time,
            place,
            buttons,
        })
    }

    fn place(&self, at: [usize; 2], of: (&Spec, SpecIx), words: &mut Words) -> Read<Place> {
        let track = self.track;
        let turn = if track.flips { -1.0 } else { 1.0 };
        let [x, y] = at;
        let at = Vec2::new(
            (self.number(x, "a place")? - track.origin.x) * track.scale,
            (self.number(y, "a place")? - track.origin.y) * track.scale * turn,
        );
        let height = match self.columns.height {
            Some(column) => (self.number(column, "a height")? - track.ground) * track.scale,
            None => 0.0,
        };
        let high = self.columns.height.unwrap_or(x);
        for (column, value) in [(x, at.x), (y, at.y), (high, height)] {
            if !limits::COORDINATE.contains(value) {
                let message = format!("{value} is farther than any arena reaches");
                return Err(self.fault(column, message));
            }
        }
        Ok(Place {
            at,
            height,
            velocity: self.velocity(turn)?,
            facing: self.facing(of.0)?,
            grounded: self.flag(self.columns.grounded)?,
            state: self.state(of, words)?,
            attack: self.attack(of, words)?,
            teleport: self.flag(self.columns.teleport)?,
        })
    }

    fn velocity(&self, turn: f64) -> Read<Option<(Vec2, f64)>> {
        let Some(([x, y], rise)) = self.columns.velocity else {
            return Ok(None);
        };
        if self.is_empty(x) || self.is_empty(y) {
            return Ok(None);
        }
        let scale = self.track.scale;
        let plane = Vec2::new(
            self.number(x, "a velocity")? * scale,
            self.number(y, "a velocity")? * scale * turn,
        );
        let up = match rise {
            Some(column) => self.number(column, "a velocity")? * scale,
            None => 0.0,
        };
        let all = [plane.x, plane.y, up];
        if !all.iter().all(|one| limits::VELOCITY.contains(*one)) {
            let message = "this velocity is beyond a million units per second";
            return Err(self.fault(x, message));
        }
        Ok(Some((plane, up)))
    }

    fn facing(&self, spec: &Spec) -> Read<Option<Facing>> {
        let Some((column, text)) = self.word(self.columns.facing)? else {
            return Ok(None);
        };
        if let Some(known) = self.track.facings.get(&*text) {
            let known = facing(*known, self.plan.arena.up);
            return Ok(Some(known.of_kind(spec.rotates)));
        }
        let told = match &*text {
            "left" => Facing::Left,
            "right" => Facing::Right,
            _ => self.toward(spec, column)?,
        };
        Ok(Some(told.of_kind(spec.rotates)))
    }

    /// Which way a number of a row is.
    fn toward(&self, spec: &Spec, column: usize) -> Read<Facing> {
        let cell = self.table.cell(column);
        let angles = self.track.angles;
        Ok(match cell.number(self.track.rows.comma) {
            Some(number) if spec.rotates || angles.is_some() => {
                let degrees = match angles.unwrap_or(Angles::Degrees) {
                    Angles::Degrees => number,
                    Angles::Radians => number.to_degrees(),
                    Angles::Turns => number * 360.0,
                };
                // They are positive toward the recorded +y.
                let angle = Angle::from_degrees(degrees % 360.0);
                Facing::Angle(match self.track.flips {
                    true => angle.mirrored(),
                    false => angle,
                })
            }
            Some(number) if number < 0.0 => Facing::Left,
            Some(_) => Facing::Right,
            None => {
                let help =
                    "expected left, right or a number; `facings` translates the game's words";
                let fault = self.fault(column, format!("{} is no facing", cell.told()));
                return Err(fault.help(help));
            }
        })
    }

    fn state(&self, (spec, index): (&Spec, SpecIx), words: &mut Words) -> Read<Option<StateIx>> {
        let Some((column, text)) = self.word(self.columns.state)? else {
            return Ok(None);
        };
        let known = words.states.entry(index).or_default();
        if let Some(known) = known.get(&*text) {
            return Ok(*known);
        }
        let name = self.track.states.get(&*text).map_or(&*text, String::as_str);
        let names = &self.plan.names.states;
        let own = spec.states.iter().map(|own| names[own.name].as_str());
        let found = own.clone().position(|own| own == name).map(StateIx::new);
        if found.is_none() && !name.is_empty() {
            return Err(self.unknown(column, spec, ("state", "states", name), own));
        }
        known.insert(text.into_owned(), found);
        Ok(found)
    }

    fn attack(
        &self,
        (spec, index): (&Spec, SpecIx),
        words: &mut Words,
    ) -> Read<Option<AttackTold>> {
        if self.columns.attack.is_none() {
            return Ok(None);
        }
        let Some((column, text)) = self.word(self.columns.attack)? else {
            return Ok(Some(AttackTold {
                attack: None,
                count: None,
            }));
        };
        let count = self.count()?;
        let known = words.attacks.entry(index).or_default();
        if let Some(attack) = known.get(&*text).copied() {
            return Ok(Some(AttackTold { attack, count }));
        }
        let name = self
            .track
            .attacks
            .get(&*text)
            .map_or(&*text, String::as_str);
        let names = &self.plan.names.attacks;
        let own = spec.attacks.iter().map(|own| names[own.name].as_str());
        let attack = own.clone().position(|own| own == name).map(AttackIx::new);
        if attack.is_none() && !name.is_empty() && name != NO_ATTACK {
            return Err(self.unknown(column, spec, ("attack", "attacks", name), own));
        }
        known.insert(text.into_owned(), attack);
        Ok(Some(AttackTold { attack, count }))
    }

    fn count(&self) -> Read<Option<u32>> {
        let Some(column) = self.columns.count.filter(|own| !self.is_empty(*own)) else {
            return Ok(None);
        };
        let number = self.number(column, "a count")?;
        if (0.0..=f64::from(u32::MAX)).contains(&number) && number.fract() == 0.0 {
            return Ok(Some(number as u32));
        }
        let told = self.table.cell(column).told();
        Err(self.fault(column, format!("{told} is no count")))
    }

    /// The word that a column holds, if any.
    fn word(&self, column: Option<usize>) -> Read<Option<(usize, std::borrow::Cow<'_, str>)>> {
        let Some(column) = column else {
            return Ok(None);
        };
        match self.table.cell(column) {
            Cell::Empty => Ok(None),
            Cell::Text(text) => Ok(Some((column, text))),
            cell => match cell.text() {
                Some(text) => Ok(Some((column, text.into_owned().into()))),
                None => Err(self.fault(column, format!("{} is no word", cell.told()))),
            },
        }
    }

    fn unknown<'a>(
        &self,
        column: usize,
        spec: &Spec,
        (what, key, name): (&str, &str, &str),
        known: impl Iterator<Item = &'a str> + Clone,
    ) -> Fault {
        let kind = &self.plan.names.kinds[spec.kind];
        let mut fault = self.fault(column, format!("`{kind}` has no {what} `{name}`"));
        *fault.finding = fault.finding.suggest(name, known);
        let near = fault.finding.help.take().unwrap_or_default();
        fault.help(format!("{near}; `{key}` translates the game's words"))
    }

    fn is_empty(&self, column: usize) -> bool {
        self.table.cell(column) == Cell::Empty
    }

    fn flag(&self, column: Option<usize>) -> Read<bool> {
        column.map_or(Ok(false), |column| self.truth(column))
    }

    fn truth(&self, column: usize) -> Read<bool> {
        let cell = self.table.cell(column);
        if cell == Cell::Empty {
            return Ok(false);
        }
        let truth = cell.truth(self.track.rows.comma);
        truth.ok_or_else(|| {
            let message = format!("{} is neither true nor false", cell.told());
            self.fault(column, message)
        })
    }

    fn number(&self, column: usize, what: &str) -> Read<f64> {
        let cell = self.table.cell(column);
        cell.number(self.track.rows.comma).ok_or_else(|| {
            self.fault(column, String::new())
                .no_number(&cell, what, self.track.rows.comma)
        })
    }

    /// What is wrong with one of its cells.
    pub fn fault(&self, column: usize, message: impl Into<String>) -> Fault {
        Fault {
            finding: Box::new(Finding::new(Code::BadRow, self.path.key("file"), message)),
            line: Some(self.table.line()),
            column: self.columns.cell(self.table, column),
        }
    }
}
