//! What was played, as a drill.

use std::sync::Arc;

use super::{KeepError, PlayError, Session};
use crate::encounter::{Action, Afterwards, Begins, Drill, Input};
use crate::ledger::{Event, LineId, Replay, What};
use crate::order;
use crate::plan::{DrillIx, Plan};
use crate::sim::{Inquest, ReplayError, Sim};
use crate::study::{Came, ToldHits};
use crate::time::{Duration, Tick, Ticks};

/// What was played, as a drill that replays it.
#[derive(Clone, Debug)]
pub struct Kept {
    /// The drill; nothing is expected of it yet.
    pub drill: Drill,
    /// What replaying it gives: line for line what was played, and one more that says that it ended.
    pub replay: Replay,
}

impl Session {
    /// What was played on this branch up to a tick, as a drill: presses and holds in seconds, as a person writes them,
    /// beside what the drill has by which others go on. It is replayed, and gives the same ledger.
    ///
    /// # Errors
    ///
    /// When it cannot be written as a drill.
    pub fn keep(&self, last: Tick) -> Result<Kept, KeepError> {
        let last = last.min(self.tick());
        let drill = self.drill(last)?;
        let (plan, index) = self.planned(&drill)?;
        let mut run = Sim::new(&plan, index);
        while run.step()? {}
        let replay = run.into_replay()?;
        self.holds_against(&replay, last)?;
        Ok(Kept { drill, replay })
    }

    /// Whether a replay gives, line for line, what was played up to a tick.
    ///
    /// # Errors
    ///
    /// When it does not: in which line.
    pub fn holds_against(&self, replay: &Replay, last: Tick) -> Result<(), KeepError> {
        let played = self.run().ledger().events();
        let played = &played[..played.partition_point(|event| event.tick <= last)];
        let run = self.run();
        let mut all = replay.ledger().events().iter();
        for (nth, event) in played.iter().enumerate() {
            let same = all
                .next()
                .is_some_and(|own| replay.line(own) == run.line(event));
            if !same {
                return Err(KeepError::Differs(nth + 1));
            }
        }
        match all.next() {
            None => Ok(()),
            Some(Event {
                what: What::Outcome(_),
                ..
            }) if all.next().is_none() => Ok(()),
            Some(_) => Err(KeepError::Differs(played.len() + 1)),
        }
    }

    /// The plan with a drill more, under a name that no other has.
    pub(super) fn planned(&self, drill: &Drill) -> Result<(Arc<Plan>, DrillIx), PlayError> {
        let base = self.setup().drill.as_deref();
        let mut encounter = self.encounter().clone();
        // Its recordings are known under the name of the drill that it goes on from.
        let name = match base.filter(|_| !drill.track.is_empty()) {
            Some(base) => base.to_owned(),
            None => encounter.free_drill("play"),
        };
        encounter.drills.insert(name.clone(), drill.clone());
        let plan = encounter
            .resolve_again(self.plan())
            .map_err(PlayError::from)?;
        let index = plan.drill(&name)?;
        Ok((plan, index))
    }

    fn drill(&self, last: Tick) -> Result<Drill, KeepError> {
        let rate = self.plan().rate();
        let base = self.setup().drill.as_ref();
        let base = base.and_then(|name| Some((name, self.encounter().drills.get(name)?)));
        let mut drill = match base {
            Some((name, base)) => self.others(name, base, last)?,
            None => Drill {
                seed: self.setup().seed,
                ..Drill::default()
            },
        };
        drill.length = Duration::near(Ticks(last.0), rate);
        let outcome = self.run().ledger().events().iter();
        let mut outcome = outcome.filter(|event| matches!(event.what, What::Outcome(_)));
        drill.afterwards = match outcome.next() {
            Some(event) if event.tick < last => Afterwards::GoesOn,
            _ => Afterwards::Quiet,
        };
        let pressed = self.take.run.pressed(last);
        drill
            .input
            .extend(pressed.into_iter().map(|input| written(input, rate)));
        order::sort_by_key(&mut drill.input, |input| input.when.ticks(rate));
        Ok(drill)
    }

    /// What a drill has of others, up to a tick.
    fn others(&self, name: &str, base: &Drill, last: Tick) -> Result<Drill, KeepError> {
        let rate = self.plan().rate();
        let due = |when: Duration| when.ticks(rate).0 <= last.0;
        let mut drill = base.clone();
        drill.log = None;
        drill.expect.clear();
        drill.pose.retain(|own| due(own.when));
        drill.apply.retain(|own| due(own.when));
        if drill.begins.0.is_empty() {
            drill
                .input
                .retain(|own| !self.hands.contains(&own.who) && due(own.when));
            return Ok(drill);
        }
        // What it begins as has inputs of those who are driven: all are written out.
        let all = self.encounter().only([name]);
        for (begun, drill) in all.drills.iter().filter(|(own, _)| *own != name) {
            let faces = drill
                .input
                .iter()
                .any(|own| matches!(own.action, Action::Face(_)));
            if faces || !drill.pose.is_empty() || !drill.apply.is_empty() {
                return Err(KeepError::Begun {
                    drill: name.to_owned(),
                    begun: begun.clone(),
                });
            }
        }
        let faces = |own: &Input| matches!(own.action, Action::Face(_)) && due(own.when);
        drill
            .input
            .retain(|own| faces(own) && !self.hands.contains(&own.who));
        drill.begins = Begins::default();
        let scripted = self.run().scripted_inputs(last).into_iter();
        drill
            .input
            .extend(scripted.map(|input| written(input, rate)));
        Ok(drill)
    }

    /// What was played up to now as a replay, of a plan that has it as a drill.
    ///
    /// # Errors
    ///
    /// As [`keep`](Self::keep).
    pub fn replay(&self) -> Result<Replay, KeepError> {
        self.keep(self.tick()).map(|kept| kept.replay)
    }
}

/// Why a line of a replay that tells of a hit came about: nothing when it tells of none.
///
/// # Errors
///
/// As [`Plan::replay`].
pub fn explain_line(replay: &Replay, line: LineId) -> Result<Option<Came>, ReplayError> {
    let Some(event) = replay.ledger().get(line) else {
        return Ok(None);
    };
    let parties = (event.who, event.whom);
    let wanted = |who, whom| (Some(who), Some(whom)) == parties;
    let mut told = ToldHits::new(usize::MAX);
    let mut inquest = Inquest::new(replay.plan(), replay.drill(), wanted);
    while let Some((sim, judged)) = inquest.play()? {
        told.see(sim, judged);
        if sim.tick() >= event.tick {
            break;
        }
    }
    let all = told.explain(replay);
    Ok(all.into_iter().find(|came| came.line == Some(line.0)))
}

/// An input with its times in seconds.
fn written(input: Input, rate: u32) -> Input {
    let near = |length: Duration| Duration::near(length.ticks(rate), rate);
    Input {
        when: near(input.when),
        action: match input.action {
            Action::Hold(length) => Action::Hold(length.map(near)),
            action => action,
        },
        ..input
    }
}
