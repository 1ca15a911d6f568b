//! Presses that set off nothing, and launches that failed.

use std::collections::BTreeMap;

use super::{Scope, Tell, Topic};
use crate::ledger::{DryReason, Event, LineId, What};
use crate::plan::drills::JUMP;
use crate::plan::{ActorIx, ButtonIx, Drive, LauncherIx, Spec, Start};
use crate::sim::Sim;
use crate::time::Tick;

/// What came of an actor's presses.
#[derive(Default)]
pub(super) struct Presses {
    /// How the last tick left it.
    before: Before,
    /// Presses by their lines, with what kept each thing that the button starts.
    all: BTreeMap<LineId, (Tick, ButtonIx, Vec<String>)>,
    /// Failed launches: by launcher and reason the first, how often, and what there was.
    dry: BTreeMap<(LauncherIx, u8), (LineId, u32, String)>,
}

/// How an actor is before it decides on a tick.
#[derive(Clone, Copy, Default)]
struct Before {
    /// Whether it cannot act.
    held: bool,
    grounded: bool,
}

impl Presses {
    pub fn look(&mut self, scope: &Scope<'_>, sim: &Sim, actor: ActorIx) {
        let view = sim.actor(actor);
        let now = Before {
            held: view.stunned || view.resting,
            grounded: view.grounded,
        };
        let before = std::mem::replace(&mut self.before, now);
        if !scope.asks(sim.tick()) {
            return;
        }
        let events = sim.ledger().events().iter().rev();
        let now = events.take_while(|event| event.tick == sim.tick());
        for event in now.filter(|event| event.who == Some(actor)) {
            match event.what {
                What::Input { button, down: true } => {
                    let kept = kept(scope, sim, actor, button, before);
                    if !kept.is_empty() {
                        self.all.insert(event.id, (sim.tick(), button, kept));
                    }
                }
                What::DryFire { launcher, reason } => {
                    let says = || dry(scope, sim, actor, event, launcher, reason);
                    let key = (launcher, reason as u8);
                    self.dry
                        .entry(key)
                        .or_insert_with(|| (event.id, 0, says()))
                        .1 += 1;
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
            ledger.events().iter().any(|event| {
                let by = matches!(
                    event.what,
                    What::Attack { over: None, .. } | What::Shot { .. } | What::DryFire { .. }
                );
                by && event.who == Some(actor) && event.cause == Some(line)
            })
        };
        let idle = self.all.iter().filter(|(line, _)| !set_off(**line));
        let idle = idle.filter_map(|(line, (tick, button, kept))| {
            let event = ledger.get(*line)?;
            let button = scope.replay.plan().button_name(*button);
            let says = format!(
                "`{button}` sets off nothing {}: {}",
                scope.at(*tick),
                kept.join("; ")
            );
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
    if jumps && !before.grounded {
        kept.push("a jump: it stands on nothing".to_owned());
    } else if jumps && before.held {
        kept.push("a jump: it is stunned or rests".to_owned());
    }
    for (nth, attack) in spec.attacks.iter().enumerate() {
        if !by(&attack.starts) {
            continue;
        }
        let own = &plan.names.attacks[attack.name];
        let bit = 1u64 << nth;
        let barred = attacks & bit != 0 && state.is_none_or(|state| state.attacks & bit == 0);
        let why = match view.attack {
            _ if barred => format!("its state {name} does not allow it"),
            _ if before.held => "it is stunned or rests".to_owned(),
            Some((other, phase)) => format!(
                "it is in the {} of {}",
                phase.as_str(),
                other_name(scope, spec, other)
            ),
            None => "its cooldown is not over, or another has begun".to_owned(),
        };
        kept.push(format!("attack {own}: {why}"));
    }
    for (nth, launcher) in spec.launchers.iter().enumerate() {
        if !by(&launcher.starts) {
            continue;
        }
        let bit = 1u64 << nth;
        let barred = launchers & bit != 0 && state.is_none_or(|state| state.launchers & bit == 0);
        let why = match before.held {
            _ if barred => format!("its state {name} does not allow it"),
            true => "it is stunned or rests".to_owned(),
            false => "a volley is going on, or its cooldown is not over".to_owned(),
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
