//! Presses that set off nothing, and launches that failed.

use super::{Scope, Tell, Topic};
use crate::ledger::{DryReason, Event, LineId, What};
use crate::map::{Map, Set};
use crate::plan::drills::JUMP;
use crate::plan::{ActorIx, AttackIx, ButtonIx, Drive, LauncherIx, Spec, Start};
use crate::sim::Sim;
use crate::time::Tick;

/// What is set off by the button of jumps.
const JUMPS: &str = "a jump";

/// What came of an actor's presses.
#[derive(Default)]
pub(super) struct Presses {
    /// How the last tick left it.
    before: Before,
    /// Presses by their lines, with what kept each thing that the button starts.
    all: Map<LineId, (Tick, ButtonIx, Vec<String>)>,
    /// Presses made at rest, which count when that is over.
    waiting: Vec<LineId>,
    /// Presses that made it jump.
    jumped: Set<LineId>,
    /// Failed launches: by launcher and reason the first, how often, and what there was.
    dry: Map<(LauncherIx, u8), (LineId, u32, String)>,
}

/// How an actor is before it decides on a tick.
#[derive(Clone, Copy, Default)]
struct Before {
    stunned: bool,
    rests: bool,
    grounded: bool,
}

impl Before {
    /// Why it cannot act, if it cannot.
    fn held(self) -> Option<&'static str> {
        match self {
            Before { stunned: true, .. } => Some("it is stunned"),
            Before { rests: true, .. } => Some("it rests in hitstop"),
            _ => None,
        }
    }
}

impl Presses {
    /// Looks at an actor as it stands, and at its lines of the tick.
    pub fn look(&mut self, scope: &Scope<'_>, sim: &Sim, actor: ActorIx, lines: &[&Event]) {
        let view = sim.actor(actor);
        let now = Before {
            stunned: view.stunned,
            rests: view.resting,
            grounded: view.grounded,
        };
        let before = std::mem::replace(&mut self.before, now);
        if !scope.asks(sim.tick()) {
            return;
        }
        let jumps = sim.intent(actor).jumps;
        if !before.rests {
            let waited = self.waiting.drain(..);
            self.jumped.extend(waited.filter(|_| jumps));
        }
        for event in lines.iter().rev() {
            match event.what {
                What::Input { button, down: true } => {
                    if button == JUMP && before.rests {
                        self.waiting.push(event.id);
                    } else if button == JUMP && jumps {
                        self.jumped.insert(event.id);
                    }
                    let kept = kept(scope, sim, actor, button, before);
                    if !kept.is_empty() {
                        self.all.insert(event.id, (sim.tick(), button, kept));
                    }
                }
                What::DryFire { launcher, reason } => {
                    let says = || dry(scope, sim, actor, event, launcher, reason);
                    let key = (launcher, reason as u8);
                    self.dry.or_insert_with(key, || (event.id, 0, says())).1 += 1;
                }
                _ => {}
            }
        }
    }

    pub fn tells(&self, scope: &Scope<'_>, actor: ActorIx) -> Vec<Tell> {
        let ledger = scope.replay.ledger();
        let dry = self.dry.values().filter_map(|(line, times, says)| {
            let event = ledger.get(*line)?;
            let mut says = format!("{says} {}", scope.at(event.tick));
            if *times > 1 {
                says.push_str(&format!(", {times} times in all"));
            }
            Some(Tell {
                ticks: *times,
                ..scope.line(Topic::Press, actor, event, says)
            })
        });
        // What a press set off names it as its cause.
        let set_off = |line: LineId| {
            scope.lines.of(actor).iter().any(|event| {
                let by = matches!(
                    event.what,
                    What::Attack { over: None, .. } | What::Shot { .. } | What::DryFire { .. }
                );
                by && event.cause == Some(line)
            })
        };
        let idle = self.all.iter().filter(|(line, _)| !set_off(**line));
        let idle = idle.filter_map(|(line, (tick, button, kept))| {
            let event = ledger.get(*line)?;
            let jumps = self.jumped.contains(line);
            let kept = kept.iter().filter(|own| !jumps || !own.starts_with(JUMPS));
            let kept: Vec<&str> = kept.map(String::as_str).collect();
            if kept.is_empty() {
                return None;
            }
            let button = scope.replay.plan().button_name(*button);
            let what = match jumps {
                true => "makes it jump",
                false => "sets off nothing",
            };
            let says = format!("`{button}` {what} {}: {}", scope.at(*tick), kept.join("; "));
            Some(scope.line(Topic::Press, actor, event, says))
        });
        dry.chain(idle).collect()
    }
}

/// What keeps each attack and launcher that a button starts from starting.
fn kept(
    scope: &Scope<'_>,
    sim: &Sim,
    actor: ActorIx,
    button: ButtonIx,
    before: Before,
) -> Vec<String> {
    let plan = scope.replay.plan();
    let (spec, view) = (sim.spec(actor), sim.actor(actor));
    let (attacks, launchers) = spec.by_states();
    let by =
        |start: &Start| matches!(start, Start::Press(own) | Start::Hold(own) if *own == button);
    let state = view.state.map(|state| &spec.states[state.index()]);
    let name = state.map_or("no state", |state| &plan.names.states[state.name]);
    let mut kept = Vec::new();
    let jumps = matches!(spec.drive, Drive::Walk { jump: Some(_), .. }) && button == JUMP;
    let intent = sim.intent(actor);
    if jumps && !intent.jumps {
        let why = match before.held() {
            Some(held) => held,
            None if !before.grounded => "it stands on nothing",
            None if intent.pushed => "a push drives it",
            None => "an attack or its guard holds it",
        };
        kept.push(format!("{JUMPS}: {why}"));
    }
    for (nth, attack) in spec.attacks.iter().enumerate() {
        if !by(&attack.starts) {
            continue;
        }
        let own = &plan.names.attacks[attack.name];
        let bit = 1u64 << nth;
        let barred = attacks & bit != 0 && state.is_none_or(|state| state.attacks & bit == 0);
        let why = match (before.held(), view.attack) {
            _ if barred => format!("its state {name} does not allow it"),
            (Some(held), _) => held.to_owned(),
            (None, Some((other, phase))) => format!(
                "it is in the {} of {}",
                phase.as_str(),
                other_name(scope, spec, other)
            ),
            (None, None) => {
                let ready = sim.ready_to_attack(actor, AttackIx::new(nth));
                match ready > sim.tick() {
                    true => format!("its cooldown is over only at {}", scope.seconds(ready)),
                    false => "another attack has begun, and is over".to_owned(),
                }
            }
        };
        kept.push(format!("attack {own}: {why}"));
    }
    for (nth, launcher) in spec.launchers.iter().enumerate() {
        if !by(&launcher.starts) {
            continue;
        }
        let bit = 1u64 << nth;
        let barred = launchers & bit != 0 && state.is_none_or(|state| state.launchers & bit == 0);
        let why = match before.held() {
            _ if barred => format!("its state {name} does not allow it"),
            Some(held) => held.to_owned(),
            None => {
                let (goes_on, ready) = sim.ready_to_launch(actor, LauncherIx::new(nth));
                match goes_on {
                    true => "its volley is going on".to_owned(),
                    false => format!("its cooldown is over only at {}", scope.seconds(ready)),
                }
            }
        };
        kept.push(format!("launcher {}: {why}", launcher.name));
    }
    kept
}

fn other_name<'s>(scope: &'s Scope<'_>, spec: &Spec, attack: crate::plan::AttackIx) -> &'s str {
    let name = spec.attacks[attack.index()].name;
    &scope.replay.plan().names.attacks[name]
}

/// Why a launch failed, with what there was.
fn dry(
    scope: &Scope<'_>,
    sim: &Sim,
    actor: ActorIx,
    event: &Event,
    launcher: LauncherIx,
    reason: DryReason,
) -> String {
    let plan = scope.replay.plan();
    let spec = sim.spec(actor);
    let own = &spec.launchers[launcher.index()];
    let why = match reason {
        DryReason::Ammo | DryReason::Reloading => {
            let what = own.ammo.and_then(|(meter, cost)| {
                let nth = spec.meter(meter)?;
                let held = sim.actor(actor).meters[nth];
                let name = &plan.names.meters[meter];
                Some(format!("{name} holds {held}, a launch costs {cost}"))
            });
            let what = what.unwrap_or_default();
            match reason {
                DryReason::Reloading => format!("it reloads ({what})"),
                _ => what,
            }
        }
        DryReason::Cooldown => {
            let mut before = sim.ledger().events().iter().rev();
            let last = before.find(|other| {
                other.id < event.id
                    && other.who == Some(actor)
                    && matches!(other.what, What::Shot { launcher: own, .. } if own == launcher)
            });
            let over = last.map(|last| scope.seconds(last.tick + own.cooldown));
            let over = over.map_or(String::new(), |over| format!(" before {over}"));
            format!("its cooldown is not over{over}")
        }
        DryReason::InFlight => {
            let most = own.in_flight.unwrap_or_default();
            format!("{most} at most may be in flight")
        }
    };
    format!("{} launches nothing, {why},", own.name)
}
