//! What an actor stood on, how it left that, and what stopped it.

use super::{Scope, Tell, Topic};
use crate::geometry::Vec2;
use crate::ledger::{Event, LineId, What};
use crate::plan::ActorIx;
use crate::plan::drills::JUMP;
use crate::printable::hundredths;
use crate::sim::{Ground, Sim};
use crate::time::{Tick, Ticks};

/// Where an actor stands and is stopped.
#[derive(Default)]
pub(super) struct Feet {
    ground: Option<(Ground, Vec2)>,
    /// Whether it is there, and not dying.
    alive: bool,
    /// Whether gravity moves it.
    falls: bool,
    /// Who was pushed when the last tick was over, by which line.
    pushed: Option<LineId>,
    /// How it left the ground, each time.
    lefts: Vec<Left>,
    stops: Vec<Stop>,
}

/// How an actor left the ground.
pub(super) struct Left {
    tick: Tick,
    from: Ground,
    at: Vec2,
    how: How,
}

enum How {
    Jumped,
    Pushed(LineId),
    Rose,
    Walked,
}

/// A solid that stopped an actor on its way.
struct Stop {
    by: Ground,
    /// To the right, to the left, or upward.
    way: &'static str,
    /// The coordinate of its body's edge.
    edge: (&'static str, f64),
    first: Tick,
    ticks: u32,
}

impl Feet {
    /// Looks at an actor as it stands, and at its lines of the tick.
    pub fn look(&mut self, scope: &Scope<'_>, sim: &Sim, actor: ActorIx, lines: &[&Event]) {
        let view = sim.actor(actor);
        let there = view.alive || view.dying;
        let ground = sim.ground(actor).filter(|_| there);
        if let (true, Some((from, at)), None) = (there, self.ground, ground) {
            let jump =
                |what: &What| matches!(what, What::Input { button, down: true } if *button == JUMP);
            let jumped = lines.iter().any(|event| jump(&event.what));
            let how = match self.pushed {
                Some(line) => How::Pushed(line),
                None if jumped => How::Jumped,
                None if view.set_out.y * scope.replay.plan().arena.up.sign() > 0.0 => How::Rose,
                None => How::Walked,
            };
            self.lefts.push(Left {
                tick: sim.tick(),
                from,
                at,
                how,
            });
        }
        self.alive = view.alive;
        let spec = sim.spec(actor);
        let drive = view
            .state
            .and_then(|state| spec.states[state.index()].drive);
        self.falls = spec.fall(&drive.unwrap_or(spec.drive), 1.0) != 0.0;
        self.ground = ground.map(|ground| (ground, view.at));
        let mut pushed = sim.pushed();
        self.pushed = pushed
            .find(|(whom, _)| *whom == actor)
            .map(|(_, line)| line);
        if scope.asks(sim.tick()) && view.alive {
            self.stop(scope, sim, actor);
        }
    }

    fn stop(&mut self, scope: &Scope<'_>, sim: &Sim, actor: ActorIx) {
        let view = sim.actor(actor);
        let Some(body) = &sim.spec(actor).body else {
            return;
        };
        let up = scope.replay.plan().arena.up.sign();
        let bounds = body.shape_at(view.facing, view.age).bounds().moved(view.at);
        let [x, y] = sim.stopped(actor);
        let sideways = x.map(|by| match view.set_out.x > 0.0 {
            true => (by, "to the right", ("x", bounds.max.x)),
            false => (by, "to the left", ("x", bounds.min.x)),
        });
        let (top, bottom) = match up > 0.0 {
            true => (bounds.max.y, bounds.min.y),
            false => (bounds.min.y, bounds.max.y),
        };
        // What it comes down on is no obstacle; seen from above, there is no down.
        let flat = scope.replay.plan().arena.height.is_some();
        let upward = y.filter(|_| flat || view.set_out.y * up > 0.0);
        let upward = upward.map(|by| match view.set_out.y * up > 0.0 {
            true => (by, "upward", ("y", top)),
            false => (by, "downward", ("y", bottom)),
        });
        for (by, way, edge) in sideways.into_iter().chain(upward) {
            let known = |stop: &&mut Stop| {
                stop.by == by && stop.way == way && (by != Ground::Fixed || stop.edge == edge)
            };
            match self.stops.iter_mut().find(known) {
                Some(stop) => stop.ticks += 1,
                None => self.stops.push(Stop {
                    by,
                    way,
                    edge,
                    first: sim.tick(),
                    ticks: 1,
                }),
            }
        }
    }

    pub fn tells(&self, scope: &Scope<'_>, actor: ActorIx) -> Vec<Tell> {
        let mut tells = Vec::new();
        if let Some(when) = scope.when {
            tells.extend(self.stands(scope, when).filter(|_| self.alive));
            tells.extend(cannot_act(scope, actor, when));
        }
        let stops = self.stops.iter().map(|stop| {
            let (axis, edge) = stop.edge;
            let mut says = format!(
                "stopped on its way {} by {} at {axis} {}",
                stop.way,
                solid(scope, stop.by),
                hundredths(edge)
            );
            if scope.when.is_none() {
                let first = scope.at(stop.first);
                says = match stop.ticks {
                    1 => format!("{says} {first}"),
                    ticks => format!("{says}, first {first}, on {}", Ticks(ticks).in_words()),
                };
            }
            Tell {
                ticks: stop.ticks,
                ..scope.tell(Topic::Motion, stop.first, says)
            }
        });
        tells.extend(stops);
        tells
    }

    /// How it last left the ground, up to a tick.
    pub fn left_before(&self, tick: Tick) -> Option<&Left> {
        self.lefts.iter().rev().find(|left| left.tick <= tick)
    }

    /// What it stands on, or since when it stands on nothing.
    fn stands(&self, scope: &Scope<'_>, when: Tick) -> Option<Tell> {
        if !self.falls {
            return None;
        }
        let says = match (&self.ground, self.left_before(when)) {
            (Some((ground, _)), _) => format!("stands on {}", solid(scope, *ground)),
            (None, Some(left)) => format!("in the air: it {}", left.says(scope)),
            (None, None) => return None,
        };
        Some(scope.tell(Topic::Motion, when, says))
    }
}

impl Left {
    /// "left `raft` at 412, 30 at 3.200 s (tick 192): it jumped".
    pub fn says(&self, scope: &Scope<'_>) -> String {
        let how = match self.how {
            How::Jumped => "it jumped".to_owned(),
            How::Pushed(line) => {
                let event = scope.replay.ledger().get(line);
                let rule = event.and_then(|event| event.rule);
                let rule = rule.map(|rule| &scope.replay.plan().rules[rule.index()].name);
                let rule = rule.map_or(String::new(), |rule| format!(" of `{rule}`"));
                format!("a hit{rule} pushed it off (line {})", line.0)
            }
            How::Rose => "it rose".to_owned(),
            How::Walked => "it went over the edge".to_owned(),
        };
        format!(
            "left {} at {}, {} {}: {how}",
            solid(scope, self.from),
            hundredths(self.at.x),
            hundredths(self.at.y),
            scope.at(self.tick)
        )
    }
}

fn solid(scope: &Scope<'_>, ground: Ground) -> String {
    match ground {
        Ground::Fixed => "a solid".to_owned(),
        Ground::Moving(actor) => scope.replay.id(actor).to_owned(),
    }
}

/// That a stun keeps it from acting on a tick.
fn cannot_act(scope: &Scope<'_>, actor: ActorIx, when: Tick) -> Option<Tell> {
    let mut events = scope.lines.of(actor).iter().rev();
    let stun = events.find(|event| {
        let stun = |what: &What| match what {
            What::State { bearing, until } => {
                *bearing == crate::ledger::Bearing::Stunned
                    && until.is_some_and(|until| when < until)
            }
            _ => false,
        };
        event.tick < when && stun(&event.what)
    })?;
    let What::State {
        until: Some(until), ..
    } = stun.what
    else {
        return None;
    };
    let says = format!("cannot act: stunned until {}", scope.seconds(until));
    Some(scope.line(Topic::Motion, actor, stun, says))
}
