//! Launchers: set off and paid for in phase 2, aimed when what they launch appears.

use super::appearing::{Birth, From};
use super::chance::Stream;
use super::meters::{self, Source};
use super::rising::{self, Rise};
use crate::encounter::Facing;
use crate::geometry::Vec2;
use crate::ledger::{DryReason, LineId, What};
use crate::plan::{AimPlan, ButtonIx, LauncherIx, LauncherPlan, Plan, Start};
use crate::sim::phases::record;
use crate::sim::slot::Slot;
use crate::sim::state::State;
use crate::time::{Tick, Ticks};
use serde::{Deserialize, Serialize};

/// What is remembered of a launcher.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Barrel {
    /// The first tick on which it can be set off again.
    pub from: Tick,
    /// The line of the press that its button last made.
    pub line: Option<LineId>,
    /// How many launches of the volley are left, when the next is due, and what set it off.
    pub left: u32,
    pub next: Tick,
    pub cause: Option<LineId>,
    /// How many of its things are there, and how many there ever were.
    pub flying: u32,
    pub count: u32,
    /// Whether it was said of this holding of its button that it cannot launch.
    pub dry: bool,
    speed: Stream,
    spread: Stream,
}

impl Barrel {
    pub fn new(seed: u32, id: &str, plan: &LauncherPlan) -> Barrel {
        Barrel {
            from: Tick(0),
            line: None,
            left: 0,
            next: Tick(0),
            cause: None,
            flying: 0,
            count: 0,
            dry: false,
            speed: Stream::new(seed, id, &["launcher.", &plan.name, ".speed"]),
            spread: Stream::new(seed, id, &["launcher.", &plan.name, ".spread"]),
        }
    }
}

impl Barrel {
    /// Its owner begins anew: it goes on counting and drawing.
    pub fn renew(&mut self) {
        self.from = Tick(0);
        self.line = None;
        self.left = 0;
        self.cause = None;
        self.dry = false;
    }
}

/// A button went down: the launchers that it sets off know the line.
pub(crate) fn press(plan: &Plan, state: &mut State, index: Slot, button: ButtonIx, line: LineId) {
    let first = state.actors[index].life.own.launchers.start;
    for (nth, launcher) in state.spec(plan, index).launchers.iter().enumerate() {
        if let Start::Press(own) | Start::Hold(own) = launcher.starts
            && own == button
        {
            state.stock.barrels[first + nth].line = Some(line);
        }
    }
}

/// Launches what an actor's buttons, clocks and state call for.
pub(crate) fn heed(plan: &Plan, state: &mut State, index: Slot) {
    let spec = state.spec(plan, index);
    let (_, by_states) = spec.by_states();
    for (nth, launcher) in spec.launchers.iter().enumerate() {
        let actor = &state.actors[index];
        let place = actor.life.own.launchers.start + nth;
        let by_state = by_states & (1 << nth) != 0;
        let named = actor
            .life
            .mind
            .state
            .map(|state| &spec.states[state.index()]);
        let allowed = !by_state || named.is_some_and(|state| state.launchers & (1 << nth) != 0);
        let barrel = &mut state.stock.barrels[place];
        if !allowed {
            barrel.left = 0;
            continue;
        }
        if barrel.left > 0 {
            if state.tick >= barrel.next {
                launch(plan, state, index, LauncherIx::new(nth));
            }
            continue;
        }
        let Some(cause) = calls(state, index, launcher, place, by_state) else {
            continue;
        };
        let barrel = &mut state.stock.barrels[place];
        barrel.cause = cause;
        if state.tick < barrel.from {
            if matches!(launcher.starts, Start::Press(_)) {
                dry(
                    state,
                    index,
                    LauncherIx::new(nth),
                    launcher,
                    DryReason::Cooldown,
                );
            }
            continue;
        }
        barrel.left = launcher.shots;
        launch(plan, state, index, LauncherIx::new(nth));
    }
}

/// What calls for a launch now, if anything does: the line of the press, or of the state.
fn calls(
    state: &mut State,
    index: Slot,
    launcher: &LauncherPlan,
    place: usize,
    by_state: bool,
) -> Option<Option<LineId>> {
    let (tick, actor) = (state.tick, &state.actors[index]);
    let barrel = &mut state.stock.barrels[place];
    let mind = &actor.life.mind;
    match launcher.starts {
        Start::Press(button) => actor.buttons.is_pressed(button).then_some(barrel.line),
        Start::Hold(button) => {
            let down = actor.buttons.is_down(button) || actor.buttons.is_pressed(button);
            barrel.dry &= down;
            down.then_some(barrel.line)
        }
        Start::Clock { first, every } => {
            let age = if by_state {
                tick - mind.since
            } else {
                actor.age(tick)
            };
            let line = mind.line.filter(|_| by_state);
            (age >= first && (age.0 - first.0).is_multiple_of(every.0.max(1))).then_some(line)
        }
        Start::Entry => actor.entered.then_some(mind.line),
        Start::Told => None,
    }
}

/// One launch: paid for, or a dry fire.
fn launch(plan: &Plan, state: &mut State, index: Slot, which: LauncherIx) {
    let spec = state.spec(plan, index);
    let launcher = &spec.launchers[which.index()];
    let place = state.actors[index].life.own.launchers.start + which.index();
    if let Some(reason) = refuses(plan, state, index, launcher, place) {
        dry(state, index, which, launcher, reason);
        let barrel = &mut state.stock.barrels[place];
        barrel.left = 0;
        barrel.from = state.tick + launcher.cooldown;
        return;
    }
    let what = What::Shot {
        launcher: which,
        count: launcher.count,
    };
    let cause = state.stock.barrels[place].cause;
    let line = state.tell(Some(index), what).caused_by(cause).id;
    record::cue(state, index, launcher.cue, Some(line));
    if let Some((meter, cost)) = launcher.ammo
        && let Some(nth) = spec.meter(meter)
    {
        let source = Source {
            cause: Some(line),
            ..Source::default()
        };
        meters::change(plan, state, index, nth, -cost, source);
    }
    let actor = &state.actors[index];
    let (side, facing) = (actor.side, actor.facing);
    let breed = plan.breed(actor.breed).offspring[which.index()];
    let barrel = &mut state.stock.barrels[place];
    for nth in 0..launcher.count {
        barrel.count += 1;
        state.pending.births.push(Birth {
            due: state.tick,
            breed,
            maker: index,
            from: From::Launcher {
                launcher: which,
                nth,
            },
            number: barrel.count,
            side,
            facing,
            shot: launcher.shot,
            cause: line,
        });
    }
    barrel.flying += launcher.count;
    barrel.dry = false;
    barrel.left -= 1;
    if barrel.left > 0 {
        barrel.next = state.tick + launcher.every;
    } else {
        barrel.from = state.tick + launcher.cooldown.max(Ticks(1));
    }
}

/// Why a launcher cannot launch now. A reload that a shot breaks off is broken off.
fn refuses(
    plan: &Plan,
    state: &mut State,
    index: Slot,
    launcher: &LauncherPlan,
    place: usize,
) -> Option<DryReason> {
    let limit = launcher.in_flight.unwrap_or(u32::MAX);
    if state.stock.barrels[place]
        .flying
        .saturating_add(launcher.count)
        > limit
    {
        return Some(DryReason::InFlight);
    }
    let (meter, cost) = launcher.ammo?;
    let spec = state.spec(plan, index);
    let nth = spec.meter(meter)?;
    let gauge = state.actors[index].life.own.meters.start + nth;
    if state.stock.meters[gauge] < cost {
        let reloads = state.stock.gauges[gauge].reloads.is_some();
        return Some(if reloads {
            DryReason::Reloading
        } else {
            DryReason::Ammo
        });
    }
    if state.stock.gauges[gauge].reloads.is_some() {
        if !spec.meters[nth]
            .reload
            .is_some_and(|reload| reload.broken_by_shot)
        {
            return Some(DryReason::Reloading);
        }
        meters::break_off(state, index, nth, None);
    }
    None
}

/// Records that nothing came out; of a held button once.
fn dry(
    state: &mut State,
    index: Slot,
    which: LauncherIx,
    launcher: &LauncherPlan,
    reason: DryReason,
) {
    let place = state.actors[index].life.own.launchers.start + which.index();
    let held = matches!(launcher.starts, Start::Hold(_));
    if held && std::mem::replace(&mut state.stock.barrels[place].dry, true) {
        return;
    }
    let what = What::DryFire {
        launcher: which,
        reason,
    };
    let cause = state.stock.barrels[place].cause;
    let line = state.tell(Some(index), what).caused_by(cause).id;
    if reason == DryReason::Ammo {
        record::cue(state, index, launcher.dry, Some(line));
    }
}

/// Where something launched appears, and with what velocity: from where its maker and its target now
/// stand.
pub(crate) fn send_off(
    plan: &Plan,
    state: &mut State,
    maker: Slot,
    which: LauncherIx,
    facing: Facing,
    nth: u32,
) -> (Vec2, Vec2, Rise) {
    let launcher = &state.spec(plan, maker).launchers[which.index()];
    let up = plan.arena.up.sign();
    let actor = &state.actors[maker];
    let place = actor.life.own.launchers.start + which.index();
    let at = actor.at + facing.turn(launcher.muzzle);
    let height = actor.life.rise.at + launcher.muzzle_rise;
    let barrel = &mut state.stock.barrels[place];
    let speed = barrel.speed.number(&launcher.speed);
    let stray = match launcher.spread {
        0.0 => 0.0,
        spread => spread * barrel.spread.either_way(),
    };
    let part = match launcher.count {
        1 => 0.0,
        count => launcher.fan * (f64::from(nth) / f64::from(count - 1) - 0.5),
    };
    let ahead = facing.ahead();
    let aimed = aim(plan, state, maker, launcher.aim, (at, height), speed);
    let straight = match aimed {
        Some((_, way, _)) if way != Vec2::ZERO => way.unit(),
        _ => ahead,
    };
    // In the plane, and upward.
    let (speed, rise) = match aimed {
        Some((_, way, up)) if plan.arena.height.is_some() && (way != Vec2::ZERO || up != 0.0) => {
            let (level, rise) = rising::sent(way, up, speed);
            (level.length(), rise)
        }
        _ => (speed, launcher.rise),
    };
    let angle = match launcher.aim {
        AimPlan::Angle(angle) => angle,
        _ => 0.0,
    };
    let degrees = angle + part + stray;
    let direction = if degrees == 0.0 {
        straight
    } else {
        // Positive toward up, seen from the way the maker faces.
        let turn = degrees * (core::f64::consts::PI / 180.0) * facing.hand() * up;
        straight.turned(libm::cos(turn), libm::sin(turn))
    };
    (at, direction * speed, Rise::new(height, rise))
}

/// At whom an aim that depends on others points, and the way there from a muzzle: to where they stand, or
/// will be when what is launched at `speed` gets there.
pub(crate) fn aim(
    plan: &Plan,
    state: &State,
    maker: Slot,
    aim: AimPlan,
    (muzzle, height): (Vec2, f64),
    speed: f64,
) -> Option<(Slot, Vec2, f64)> {
    let (AimPlan::At(target) | AimPlan::Lead(target)) = aim else {
        return None;
    };
    let whom = state.target(plan, maker, (muzzle, height), target)?;
    let target = &state.actors[whom];
    let way = target.at - muzzle;
    let up = match plan.arena.height {
        Some(_) => target.eye(plan.spec_of(target.spec)) - height,
        None => 0.0,
    };
    let velocity = target.velocity;
    let met = match aim {
        AimPlan::Lead(_) => intercept((way, up), (velocity, target.life.rise.velocity), speed),
        _ => None,
    };
    let (way, up) = met.unwrap_or((way, up));
    Some((whom, way, up))
}

/// Which way to go at `speed` so as to meet what is `way` off and moves at a constant velocity: toward
/// the earliest point at which both can be. None when there is none.
///
/// With `t` the time: |way + velocity t| = speed t, a quadratic equation in `t`.
fn intercept(
    (way, up): (Vec2, f64),
    (velocity, rise): (Vec2, f64),
    speed: f64,
) -> Option<(Vec2, f64)> {
    let a = velocity.dot(velocity) + rise * rise - speed * speed;
    let half_b = way.dot(velocity) + up * rise;
    let c = way.dot(way) + up * up;
    let time = if a == 0.0 {
        // As fast as the other: only one that comes nearer can be met.
        (half_b < 0.0).then(|| -c / (2.0 * half_b))?
    } else {
        let root = half_b * half_b - a * c;
        if root < 0.0 {
            return None;
        }
        let root = root.sqrt();
        let times = [(-half_b - root) / a, (-half_b + root) / a];
        let ahead = times.into_iter().filter(|time| *time > 0.0);
        ahead.min_by(f64::total_cmp)?
    };
    let (way, up) = (way + velocity * time, up + rise * time);
    (way.is_finite() && up.is_finite()).then_some((way, up))
}
