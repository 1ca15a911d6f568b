//! The ledger as text: JSON Lines and CSV, both one flat line an event, with the same keys.

use std::borrow::Cow;
use std::io::{self, Write};

use serde::{Deserialize, Serialize};

use super::columns::Line;
use super::{Bearing, Cast, DeathCause, Event, Hit, Replay, Unheeded, What};
use crate::geometry::Angle;
use crate::limits;
use crate::plan::ActorIx;

/// The first line of a ledger in JSON Lines.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Header<'a> {
    /// The edition of the ledger's format.
    pub edition: u32,
    /// The encounter's title.
    pub title: Cow<'a, str>,
    /// The digest of the plan and the drill; absent in a golden record.
    #[serde(skip_serializing_if = "str::is_empty", default)]
    pub digest: Cow<'a, str>,
    /// The drill.
    pub drill: Cow<'a, str>,
    /// From which chance was drawn.
    pub seed: u32,
    /// Ticks a second.
    pub rate: u32,
}

/// A ledger could not be written.
#[derive(Debug, thiserror::Error)]
#[non_exhaustive]
pub enum LedgerError {
    /// The place it goes to took no more.
    #[error("the ledger could not be written: {0}")]
    Write(#[from] io::Error),
}

impl From<serde_json::Error> for LedgerError {
    fn from(error: serde_json::Error) -> LedgerError {
        LedgerError::Write(error.into())
    }
}

#[cfg(feature = "csv")]
impl From<csv::Error> for LedgerError {
    fn from(error: csv::Error) -> LedgerError {
        LedgerError::Write(error.into())
    }
}

/// Lines of JSON, each written whole, by one kind of writer whatever they go to.
pub(super) struct Lines<'o> {
    out: &'o mut dyn Write,
    line: Vec<u8>,
}

impl<'o> Lines<'o> {
    pub fn new(out: &'o mut dyn Write) -> Lines<'o> {
        let line = Vec::new();
        Lines { out, line }
    }

    pub fn write(&mut self, line: &impl Serialize) -> Result<(), LedgerError> {
        self.line.clear();
        serde_json::to_writer(&mut self.line, line)?;
        self.line.push(b'\n');
        Ok(self.out.write_all(&self.line)?)
    }
}

impl Replay {
    /// The first line of its ledger.
    pub fn header(&self) -> Header<'_> {
        let drill = &self.plan().drills[self.drill().index()];
        Header {
            edition: limits::EDITION,
            title: self.plan().title.as_str().into(),
            digest: self.plan().digest(self.drill()).into(),
            drill: drill.name.as_str().into(),
            seed: drill.seed,
            rate: self.plan().rate,
        }
    }

    /// An event with its names.
    pub fn line(&self, event: &Event) -> Line<'_> {
        self.cast().line(event)
    }

    /// An angle that is positive toward up.
    pub(crate) fn upward(&self, angle: Angle) -> Angle {
        self.cast().upward(angle)
    }

    /// Writes a header and the chosen events as JSON Lines.
    ///
    /// # Errors
    ///
    /// When `out` takes no more.
    pub fn write_jsonl<'e>(
        &self,
        mut out: impl Write,
        events: impl IntoIterator<Item = &'e Event>,
    ) -> Result<(), LedgerError> {
        let mut lines = Lines::new(&mut out);
        lines.write(&self.header())?;
        for event in events {
            lines.write(&self.line(event))?;
        }
        Ok(())
    }

    /// Writes a row of column names and the chosen events as CSV (RFC 4180).
    ///
    /// # Errors
    ///
    /// When `out` takes no more.
    #[cfg(feature = "csv")]
    pub fn write_csv<'e>(
        &self,
        out: impl Write,
        events: impl IntoIterator<Item = &'e Event>,
    ) -> Result<(), LedgerError> {
        let mut writer = csv::WriterBuilder::new()
            .has_headers(false)
            .from_writer(out);
        writer.write_record(Line::COLUMNS.iter().map(|column| column.name))?;
        let mut field = Vec::new();
        for event in events {
            self.line(event).write_csv(&mut writer, &mut field)?;
        }
        writer.flush()?;
        Ok(())
    }
}

impl<'a> Cast<'a> {
    /// An event with its names.
    pub fn line(self, event: &Event) -> Line<'a> {
        let plan = self.plan;
        let name = |actor: ActorIx| Cow::from(self.id(actor));
        let mut line = Line {
            tick: event.tick.0,
            t: Some(event.tick.seconds(plan.rate)),
            id: Some(event.id.0),
            cause: event.cause.map(|id| id.0),
            because: event.because.map(|id| id.0),
            event: event.what.name().into(),
            who: event.who.map(name),
            root: event
                .who
                .map(|who| (who, self.root(who)))
                .filter(|(who, root)| who != root)
                .map(|(_, root)| name(root)),
            whom: event.whom.map(name),
            rule: event
                .rule
                .map(|rule| plan.rules[rule.index()].name.as_str().into()),
            x: event.at.map(|at| at.x),
            y: event.at.map(|at| at.y),
            height: (plan.arena.height.and(event.at)).map(|_| event.height),
            facing: event
                .facing
                .map(|facing| self.upward(facing).known_degrees()),
            ..Line::default()
        };
        self.fill(&mut line, event);
        line
    }

    /// An angle that is positive toward up.
    pub fn upward(self, angle: Angle) -> Angle {
        match self.plan.arena.up.sign() > 0.0 {
            true => angle,
            false => angle.mirrored(),
        }
    }

    /// Fills in what only an event of its sort has.
    fn fill(self, line: &mut Line<'a>, event: &Event) {
        let names = &self.plan.names;
        match &event.what {
            What::Appear | What::Pickup | What::Gone | What::Reset => {}
            What::Life { before, after } => {
                line.before = Some(f64::from(*before));
                line.after = Some(f64::from(*after));
                line.amount = Some(f64::from(*after) - f64::from(*before));
            }
            What::Respawn { checkpoint } => {
                line.checkpoint = checkpoint.map(|point| self.checkpoint(point).into());
            }
            What::Checkpoint { checkpoint } => {
                line.checkpoint = Some(self.checkpoint(*checkpoint).into());
            }
            What::Exit { exit } => line.exit = Some(self.exit(*exit).into()),
            What::Vanish { of } => line.of = Some(of.as_str().into()),
            What::Shot { launcher, count } => {
                line.launcher = self.launcher(event, *launcher).map(Cow::from);
                line.count = Some(*count);
            }
            What::DryFire { launcher, reason } => {
                line.launcher = self.launcher(event, *launcher).map(Cow::from);
                line.of = Some(reason.as_str().into());
            }
            What::Enter { state, from } => {
                line.state = self.state(event, *state).map(Cow::from);
                line.from = self.state(event, *from).map(Cow::from);
            }
            What::Sense { sensor, distance } => {
                line.sensor = self.sensor(event, *sensor).map(Cow::from);
                line.seen = Some(distance.is_some());
                line.distance = *distance;
            }
            What::Cue { cue } => line.cue = Some(names.cues[*cue].as_str().into()),
            What::Input { button, down } => {
                line.button = Some(names.buttons[*button].as_str().into());
                line.down = Some(*down);
            }
            What::Face { to } => line.face = Some(self.upward(*to).degrees()),
            What::Ignored(unheeded) => self.fill_ignored(line, event, *unheeded),
            What::Apply {
                amount,
                overkill,
                kills,
            } => {
                line.amount = amount.map(|amount| amount.as_f64());
                line.overkill = overkill.is_positive().then(|| overkill.as_f64());
                line.of = kills.then(|| DeathCause::Kill.as_str().into());
            }
            What::Attack {
                attack,
                over,
                despite,
            } => {
                line.attack = self.attack(event, *attack).map(Cow::from);
                line.despite = despite.map(|despite| despite.as_str().into());
                line.over = over.map(|cut| if cut { "cut-short" } else { "done" }.into());
            }
            What::State { bearing, until } => {
                line.state = Some(bearing.as_str().into());
                line.until = until.map(|tick| tick.0);
                if let Bearing::Frozen(meter) = bearing {
                    line.meter = Some(names.meters[*meter].as_str().into());
                }
            }
            What::Hit(hit) => self.fill_hit(line, event, hit),
            What::Meter {
                meter,
                before,
                after,
                of,
            } => {
                line.meter = Some(names.meters[*meter].as_str().into());
                line.before = Some(before.as_f64());
                line.after = Some(after.as_f64());
                line.amount = Some((*after - *before).as_f64());
                line.of = of.map(|of| of.as_str().into());
            }
            What::Death { by, of } => {
                line.of = Some(of.as_str().into());
                line.by = by.map(|by| self.id(by).into());
            }
            What::Outcome(outcome) => line.outcome = Some(outcome.as_str().into()),
        }
    }

    fn fill_ignored(self, line: &mut Line<'a>, event: &Event, unheeded: Unheeded) {
        match unheeded {
            Unheeded::Press(button) => {
                line.button = Some(self.plan.names.buttons[button].as_str().into());
                return;
            }
            Unheeded::Attack(attack) => line.attack = self.attack(event, attack).map(Cow::from),
            Unheeded::Pose | Unheeded::Effect => {}
        }
        line.of = Some(unheeded.asked().as_str().into());
    }

    fn fill_hit(self, line: &mut Line<'a>, event: &Event, hit: &Hit) {
        line.verdict = Some(hit.verdict.as_str().into());
        line.amount = hit.amount.map(|amount| amount.as_f64());
        let [hitbox, hurtbox] = self.boxes(event, hit);
        line.hitbox = hitbox.map(Cow::from);
        line.hurtbox = hurtbox.map(Cow::from);
        line.moment = Some(f64::from(hit.moment) / 4096.0);
        if let (Some(no), Some(rule)) = (hit.gate, event.rule) {
            let gate = &self.plan.rules[rule.index()].gates[usize::from(no.index)];
            line.gate = Some(gate.name().into());
            line.have = no.numbers.map(|[have, _]| have);
            line.need = no.numbers.map(|[_, need]| need);
        }
        line.guard = hit.guard.map(|guard| guard.as_str().into());
        line.blocked = hit.blocked.is_positive().then(|| hit.blocked.as_f64());
        line.chain = hit.chain;
        line.overkill = hit.overkill.is_positive().then(|| hit.overkill.as_f64());
        line.until = hit.until.map(|tick| tick.0);
        line.of = hit.kills.then(|| DeathCause::Kill.as_str().into());
    }
}

impl Line<'_> {
    /// Whether it tells of a button, which a golden record leaves out.
    pub(crate) fn is_input(&self) -> bool {
        matches!(&*self.event, "input" | "ignored")
    }
}

impl What {
    /// As in the ledger.
    pub const fn name(&self) -> &'static str {
        match self {
            What::Appear => "appear",
            What::Vanish { .. } => "vanish",
            What::Shot { .. } => "shot",
            What::DryFire { .. } => "dry-fire",
            What::Sense { .. } => "sense",
            What::Pickup => "pickup",
            What::Life { .. } => "life",
            What::Respawn { .. } => "respawn",
            What::Checkpoint { .. } => "checkpoint",
            What::Exit { .. } => "exit",
            What::Reset => "reset",
            What::Cue { .. } => "cue",
            What::Input { .. } | What::Face { .. } => "input",
            What::Ignored(_) => "ignored",
            What::Apply { .. } => "apply",
            What::Attack { .. } => "attack",
            What::State { .. } | What::Enter { .. } => "state",
            What::Hit(_) => "hit",
            What::Meter { .. } => "meter",
            What::Death { .. } => "death",
            What::Gone => "gone",
            What::Outcome(_) => "outcome",
        }
    }
}
