//! The game's own hit log, read.

use std::collections::HashMap;
use std::sync::Arc;

use super::columns::Finder;
use super::fault::{Fault, Faults, Where};
use super::open::Files;
use super::rows::{RowError, Table};
use crate::amount::Amount;
use crate::encounter::LogColumns;
use crate::finding::{Code, Finding, Findings, Path};
use crate::limits;
use crate::nearest::nearest;
use crate::order;
use crate::plan::{ActorIx, DrillIx, LogPlan, Plan, RuleIx};
use crate::time::Tick;

/// A hit log of the game, as far as it says anything.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct GameLog {
    /// Its file, as it was named.
    pub file: String,
    /// Its rows, in the order of time.
    pub hits: Vec<GameHit>,
}

/// A hit in the game.
#[derive(Clone, Debug, PartialEq)]
pub struct GameHit {
    /// The line of the file, from 1 on.
    pub line: u64,
    /// When: the tick to which its time rounds.
    pub tick: Tick,
    /// Who hit, if that is told.
    pub who: Option<Party>,
    /// Who was hit.
    pub whom: Party,
    /// By which rule, if that is told.
    pub rule: Option<RuleIx>,
    /// How much damage it did, if that is told.
    pub amount: Option<Amount>,
    /// How much health whom had left, if that is told.
    pub health: Option<Amount>,
}

/// An actor that a log names.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Party {
    /// A placed one.
    Placed(ActorIx),
    /// Another, by the game's name for it: one that a recording introduces, or something launched.
    Named(Arc<str>),
}

/// A hit log that was read, and what was found in it.
#[derive(Clone, Debug)]
pub struct ReadLog {
    /// The log, unless a finding is an error.
    pub log: Option<GameLog>,
    /// What was found.
    pub findings: Findings,
}

impl Plan {
    /// Reads the hit log of a drill: the one that the encounter names, or another file that is read as that.
    ///
    /// # Panics
    ///
    /// When the index is of another plan.
    pub fn read_log(&self, drill: DrillIx, file: Option<&str>, files: &dyn Files) -> ReadLog {
        let own = &self.drills[drill.index()];
        let plain = || LogPlan::plain(own.tracks.first());
        let plan = own.log.clone().unwrap_or_else(plain);
        let plan = match file {
            Some(file) => plan.of(file),
            None => plan,
        };
        let base = Path::root().key("drill").named(&own.name).key("log");
        let mut reading = Reading {
            plan: self,
            log: &plan,
            path: base,
            introduced: own.recording.as_deref().map_or(&[], |own| own.names()),
            known: HashMap::new(),
            faults: Faults::default(),
        };
        let hits = reading.read(files);
        let rows = &plan.rows;
        let faults = std::mem::take(&mut reading.faults);
        let mut findings = Findings::new();
        let fails = faults.fails(0);
        faults.show(files, std::iter::once(rows), &mut findings);
        findings.trim();
        let log = GameLog {
            file: plan.rows.file.clone(),
            hits,
        };
        ReadLog {
            log: (!fails).then_some(log),
            findings,
        }
    }
}

struct Reading<'p> {
    plan: &'p Plan,
    log: &'p LogPlan,
    path: Path,
    /// The names of those whom the recording introduces, in order.
    introduced: &'p [String],
    /// Whom a name means; nobody when its rows are passed over.
    known: HashMap<String, Option<Party>>,
    faults: Faults,
}

struct Columns {
    time: usize,
    who: Option<usize>,
    whom: usize,
    rule: Option<usize>,
    amount: Option<usize>,
    health: Option<usize>,
    names: HashMap<usize, String>,
}

impl Reading<'_> {
    fn read(&mut self, files: &dyn Files) -> Vec<GameHit> {
        let rows = &self.log.rows;
        let opened = files.open(&rows.file).map_err(RowError::Io);
        let mut table = match opened.and_then(|reader| Table::open(reader, rows)) {
            Ok(table) => table,
            Err(error) => {
                self.faults
                    .push(0, Fault::broken(error, &rows.file, 1, &self.path));
                return Vec::new();
            }
        };
        let columns = match self.columns(&mut table) {
            Ok(columns) => columns,
            Err(faults) => {
                faults
                    .into_iter()
                    .for_each(|fault| self.faults.push(0, fault));
                return Vec::new();
            }
        };
        let mut hits: Vec<GameHit> = Vec::new();
        let (mut early, mut parted) = (0, 0);
        loop {
            let line = table.line() + 1;
            match table.next() {
                Ok(true) => {}
                Ok(false) => break,
                Err(error) => {
                    let goes_on = error.is_of_one_row();
                    self.faults
                        .push(0, Fault::broken(error, &rows.file, line, &self.path));
                    match goes_on {
                        true => continue,
                        false => break,
                    }
                }
            }
            match self.hit(&table, &columns) {
                // What comes before tick 0 is of no drill.
                Ok(Some((time, _))) if time < 0.0 => early += 1,
                Ok(Some((time, hit))) => {
                    parted += usize::from(time.fract() != 0.0);
                    if hits.len() >= limits::LEDGER_LINES {
                        let message = format!("a log of more than {} hits", limits::LEDGER_LINES);
                        let finding = Finding::new(Code::TooMany, self.path.key("file"), message);
                        self.faults.push(0, Fault::row(table.line(), finding));
                        break;
                    }
                    hits.push(hit);
                }
                Ok(None) => {}
                Err(fault) => self.faults.push(0, fault),
            }
        }
        let odd = if hits.is_empty() && early > 0 {
            let message = format!("all {early} hits of `{}` are before tick 0", rows.file);
            Some((Code::NothingTold, message, "correct `zero` of `time`"))
        } else if rows.ticks == 1.0 && parted > hits.len() / 2 {
            let message = format!(
                "most times of `{}` are no whole ticks: are they seconds?",
                rows.file
            );
            Some((Code::TimeUnit, message, "add time = { unit = \"seconds\" }"))
        } else {
            None
        };
        if let Some((code, message, help)) = odd {
            let finding = Finding::new(code, self.path.key("file"), message);
            self.faults.push(0, Fault::whole(finding.help(help)));
        }
        // Logs are short enough to be sorted.
        order::sort_by_key(&mut hits, |hit| hit.tick);
        hits
    }

    fn columns(&self, table: &mut Table) -> Result<Columns, Vec<Fault>> {
        let LogColumns {
            time,
            who,
            whom,
            rule,
            amount,
            health,
        } = &self.log.columns;
        let base = self.path.key("columns");
        let mut finder = Finder::new(table, &self.log.rows.file);
        let mut find = |key: &'static str, name: &Option<String>, default: Option<&str>| {
            finder.find(base.key(key), name.as_deref().or(default))
        };
        let columns = Columns {
            time: find("time", time, Some("time")).unwrap_or_default(),
            who: find("who", who, Some("who")),
            whom: find("whom", whom, Some("whom")).unwrap_or_default(),
            rule: find("rule", rule, None),
            amount: find("amount", amount, None),
            health: find("health", health, None),
            names: HashMap::new(),
        };
        match finder.faults.is_empty() {
            true => Ok(Columns {
                names: finder.names,
                ..columns
            }),
            false => Err(finder.faults),
        }
    }

    /// The hit of a row, and its time in ticks; nothing when its rows are passed over.
    fn hit(&mut self, table: &Table, columns: &Columns) -> Result<Option<(f64, GameHit)>, Fault> {
        let time = self.number(table, columns, columns.time, "a time")?;
        let Some(time) = time else {
            return Err(self.fault(
                table,
                columns,
                columns.time,
                "expected a time, found nothing",
            ));
        };
        let time = self.log.rows.moment(time);
        let tick = (time + 0.5).floor();
        let who = match columns.who {
            Some(column) => self.party(table, columns, column)?,
            None => Cell::Unsaid,
        };
        let whom = match self.party(table, columns, columns.whom)? {
            Cell::Unsaid => {
                let message = "expected who was hit, found nothing";
                return Err(self.fault(table, columns, columns.whom, message));
            }
            Cell::Nobody => return Ok(None),
            Cell::Is(whom) => whom,
        };
        let amount = |number: f64| Amount::try_from((number * 1000.0).round() / 1000.0).ok();
        let measure = |column: Option<usize>, what: &str| match column {
            Some(column) => {
                let number = self.number(table, columns, column, what)?;
                Ok(number.and_then(amount))
            }
            None => Ok(None),
        };
        let (taken, health) = (
            measure(columns.amount, "an amount")?,
            measure(columns.health, "health")?,
        );
        let rule = self.rule(table, columns)?;
        if tick > f64::from(u32::MAX) {
            return Ok(None);
        }
        Ok(match who {
            Cell::Nobody => None,
            who => {
                let hit = GameHit {
                    line: table.line(),
                    tick: Tick(tick as u32),
                    who: match who {
                        Cell::Is(who) => Some(who),
                        _ => None,
                    },
                    whom,
                    rule,
                    amount: taken,
                    health,
                };
                Some((if tick < 0.0 { tick } else { time.max(0.0) }, hit))
            }
        })
    }

    fn rule(&self, table: &Table, columns: &Columns) -> Result<Option<RuleIx>, Fault> {
        let Some(column) = columns.rule else {
            return Ok(None);
        };
        let cell = table.cell(column);
        let Some(name) = cell.text() else {
            return Ok(None);
        };
        if let Some(known) = self.log.rules.get(&*name) {
            return Ok(*known);
        }
        let mut rules = self.plan.rules.iter();
        let found = rules.position(|rule| rule.name == *name);
        if found.is_none() {
            let known: Vec<&str> = self
                .plan
                .rules
                .iter()
                .map(|rule| rule.name.as_str())
                .collect();
            let mut fault = self.fault(table, columns, column, format!("unknown rule `{name}`"));
            fault.finding.code = Code::UnknownName;
            *fault.finding = fault.finding.suggest(&name, known);
            let near = fault.finding.help.take().unwrap_or_default();
            return Err(fault.help(format!("{near}; `rules` translates the game's names")));
        }
        Ok(found.map(RuleIx::new))
    }

    fn party(&mut self, table: &Table, columns: &Columns, column: usize) -> Result<Cell, Fault> {
        let cell = table.cell(column);
        let Some(name) = cell.text() else {
            return Ok(Cell::Unsaid);
        };
        if let Some(known) = self.known.get(&*name) {
            return Ok(known.clone().map_or(Cell::Nobody, Cell::Is));
        }
        let rows = &self.log.rows;
        let ids = &self.plan.names.ids;
        let placed = rows.ids.get(&*name).copied().or_else(|| ids.find(&name));
        let party = match placed {
            _ if rows.ignores.contains(&*name) => None,
            Some(actor) => Some(Party::Placed(actor)),
            None => {
                let maker = name.split('.').next().unwrap_or_default();
                let launched = name.matches('.').count() > 1 && ids.find(maker).is_some();
                let introduced = self
                    .introduced
                    .binary_search_by(|own| own.as_str().cmp(&name));
                if !launched && introduced.is_err() {
                    self.known.insert(name.to_string(), None);
                    let near = nearest(&name, ids.iter());
                    let more = "`ids` translates the game's names, `ignores` leaves them out";
                    let help = match near {
                        Some(near) => format!("did you mean `{near}`? {more}"),
                        None => more.to_owned(),
                    };
                    let message = format!("unknown actor `{name}`");
                    let mut fault = self.fault(table, columns, column, message);
                    fault.finding.code = Code::UnknownName;
                    return Err(fault.help(help));
                }
                Some(Party::Named((&*name).into()))
            }
        };
        self.known.insert(name.to_string(), party.clone());
        Ok(party.map_or(Cell::Nobody, Cell::Is))
    }

    /// The number that a cell holds, if any.
    fn number(
        &self,
        table: &Table,
        columns: &Columns,
        column: usize,
        what: &str,
    ) -> Result<Option<f64>, Fault> {
        let cell = table.cell(column);
        if cell == super::rows::Cell::Empty {
            return Ok(None);
        }
        let comma = self.log.rows.comma;
        let number = cell.number(comma);
        let fault = || {
            self.fault(table, columns, column, "")
                .no_number(&cell, what, comma)
        };
        number.map(Some).ok_or_else(fault)
    }

    fn fault(
        &self,
        table: &Table,
        columns: &Columns,
        column: usize,
        message: impl Into<String>,
    ) -> Fault {
        Fault {
            finding: Box::new(Finding::new(Code::BadRow, self.path.key("file"), message)),
            line: Some(table.line()),
            column: Where::of(table, column, &columns.names),
        }
    }
}

/// An actor that a cell names.
enum Cell {
    Unsaid,
    Nobody,
    Is(Party),
}
