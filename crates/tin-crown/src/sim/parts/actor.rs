//! An actor between two ticks.

use super::buttons::Buttons;
use super::chance::Stream;
use super::newcomer::Own;
use super::packed::PackedDrive;
use super::rising::Rise;
use super::windows::Windows;
use crate::encounter::Facing;
use crate::geometry::{Angle, Vec2};
use crate::ledger::{DeathCause, LineId};
use crate::plan::{
    ActorIx, AttackIx, BoxPlan, BoxSet, BreedIx, CheckpointIx, Drive, LauncherIx, SideIx, Spec,
    SpecIx, StateIx,
};
use crate::sim::phases::touch::PARTS;
use crate::time::{Tick, Ticks};
use serde::{Deserialize, Serialize};
use tin_crown_derive::CloneFrom;

/// The tick that never comes.
pub(crate) const NEVER: Tick = Tick(u32::MAX);

/// An actor between two ticks: what is looked at on every one, close together.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct Actor {
    /// Whether it is there, dying or not.
    pub alive: bool,
    /// Whether its death plays out.
    pub dying: bool,
    pub facing: Facing,
    /// Whether it turned round this tick.
    pub turned: bool,
    /// What it was told to do in phase 2.
    pub jumps: bool,
    /// Whether an attack, a guard or a stun keeps it from moving by itself this tick.
    pub held: bool,
    /// Whether it is one attack as long as it is there.
    pub shot: bool,
    /// Whether it has come to stand on something that its mind has not looked at yet.
    pub landed: bool,
    /// Whether it has come into its state and not acted in it yet.
    pub entered: bool,
    /// Whether its way ended before the tick did.
    pub cut: bool,
    /// When on this tick, in 4096ths, it hit the last that it may.
    pub spent: Option<u16>,
    /// Whether a solid stopped it sideways, and up or down, on the last tick.
    pub stopped: [bool; 2],
    /// Whether it is where its motion leads.
    pub arrived: bool,
    /// Whether something else moves it.
    pub posed: bool,
    /// Whether it is not there because its recording has it nowhere, dead or not.
    pub absent: bool,
    /// Its number, which no other ever has.
    pub number: ActorIx,
    pub side: Option<SideIx>,
    pub spec: SpecIx,
    pub breed: BreedIx,
    /// Its place in the order of ids.
    pub rank: u32,
    /// The tick on which it appeared.
    pub appeared: Tick,
    /// The tick on which it last came to where it is without a way.
    pub came: Tick,
    /// How many ticks it has rested, by which its clocks are late.
    pub rested: u32,
    /// The tick on which its lifetime is over.
    pub ends: Tick,
    /// The first tick on which it can act again.
    pub stunned_until: Tick,
    /// The first tick on which it does not rest any more.
    pub rests_until: Tick,
    /// Until when its own motion does not drive it.
    pub undriven_until: Tick,
    /// How many ticks its motion has gone on.
    pub clock: u32,
    /// How many hits its chain has.
    pub chain: u32,
    /// How often it may still bounce.
    pub bounces: u32,
    pub buttons: Buttons,
    /// What it stands on.
    pub ground: Option<Ground>,
    pub at: Vec2,
    /// Where it was when the tick began.
    pub start: Vec2,
    pub velocity: Vec2,
    /// The velocity it set out with this tick, before solids stopped it.
    pub set_out: Vec2,
    /// From where its motion counts: the line a patrol returns to, the middle of a hover.
    pub anchor: Vec2,
    /// Which way along its axis a patrol goes.
    pub heading: f64,
    pub swing: Option<Swing>,
    pub windows: Windows,
    /// The boxes that no attack makes live, and all that are live this tick.
    pub always: BoxSet,
    pub live: BoxSet,
    pub life: Box<Life>,
}

/// What is looked at only when something happens to an actor.
#[derive(CloneFrom, Debug, Serialize, Deserialize)]
pub(crate) struct Life {
    /// Where its meters, attacks, launchers, sensors and transitions stand in the lists of all.
    pub own: Own,
    /// How many swings it has begun.
    pub swings: u32,
    /// Whom the swing, or the shot, has hit.
    pub swing_hits: Vec<ActorIx>,
    /// Since when the guard is asked for.
    pub guard: Option<Tick>,
    /// The last hit that landed on it.
    pub last_hit: Option<LastHit>,
    pub rise: Rise,
    /// What stopped it, where something did.
    pub stoppers: [Option<Ground>; 2],
    /// How far it turned this tick, little by little, in 2^32ths of a turn; 0 when at once.
    pub turning: i64,
    /// Which way it is told to face, until it does.
    pub told: Option<Angle>,
    /// Which way it faced when its motion began.
    pub outset: Facing,
    /// What it is to die of in phase 6.
    pub doom: Option<Doom>,
    /// Who launched it or left it behind, and the line that did.
    pub maker: Option<ActorIx>,
    pub origin: Option<LineId>,
    /// How many makers there are between it and the root.
    pub depth: usize,
    /// At the root of its makers: itself when it is placed.
    pub root: ActorIx,
    /// The launcher of its maker.
    pub launcher: Option<LauncherIx>,
    /// The way that it did not go to its end, when it was cut short.
    pub cut: Cut,
    /// Where it was placed, or appeared.
    pub home: Vec2,
    /// Which way a chase goes: of length 1, or zero before it has set out.
    pub course: Vec2,
    /// How many things it has left behind.
    pub left: u32,
    pub mind: Mind,
    /// When it is back after it was taken.
    pub back: Option<Tick>,
    /// Whether it has ever been taken.
    pub taken: bool,
    /// How far its death is.
    pub dying: Option<Dying>,
    /// Its coming back after a death.
    pub comeback: Option<Comeback>,
    /// How many lives it has left, this one included, when they are counted.
    pub lives: Option<u32>,
    /// The checkpoint it last reached, all it ever did, and those it touched on the last tick.
    pub checkpoint: Option<CheckpointIx>,
    pub reached: Vec<CheckpointIx>,
    pub on: Vec<CheckpointIx>,
    /// From which what it drops is drawn.
    pub drops: Stream,
    /// From which the speed of its motion and its places are drawn.
    pub pace: Stream,
    pub places: Stream,
}

/// The state that an actor is in, and what its mind has not looked at yet.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Mind {
    pub state: Option<StateIx>,
    /// Since when.
    pub since: Tick,
    /// The line that says so.
    pub line: Option<LineId>,
    /// Whom it, or another, noticed when it came into its state.
    pub noticed: Option<ActorIx>,
    /// The line of the last hit that landed on it.
    pub hurt: Option<LineId>,
}

/// How far a death is.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Dying {
    /// When it began.
    pub since: Tick,
    /// Its next step.
    pub next: usize,
    /// The line that says so.
    pub line: LineId,
    /// The boxes that its steps keep.
    pub kept: BoxSet,
    /// Whether a step has brought it into a state.
    pub entered: bool,
}

/// A coming back after a death.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Comeback {
    /// When it was gone.
    pub since: Tick,
    /// When it is to be back.
    pub due: Tick,
    /// How many cues of the count-down were given.
    pub told: usize,
    /// The line that says that it was gone.
    pub line: LineId,
}

/// A hit that landed, which a later fall is credited to.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct LastHit {
    pub tick: Tick,
    pub line: LineId,
    pub by: ActorIx,
}

/// What moves an actor: of its kind and state what is looked at on every tick.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Legs {
    #[serde(with = "PackedDrive")]
    pub drive: Drive,
    pub fall: f64,
    /// The share of its velocity that drag leaves it each tick.
    pub glide: f64,
    pub is_solid: bool,
    pub has_body: bool,
    /// Whether nothing moves it but a push.
    pub stands: bool,
    /// Whether it can attack or guard.
    pub fights: bool,
    pub launches: bool,
    /// Whether something of its meters happens by itself.
    pub fills: bool,
    /// Whether boxes of it go on and off by a clock.
    pub pulses: bool,
}

/// An attack that an actor is in.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Swing {
    pub attack: AttackIx,
    /// The tick on which it began.
    pub since: Tick,
    /// Which of its owner's swings it is, counted from 1.
    pub serial: u32,
    /// The line of its beginning.
    pub line: LineId,
}

/// A way that was not gone to its end.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Cut {
    /// The whole way of the tick.
    pub path: Vec2,
    /// The part that was gone, from 0 to 1.
    pub part: f64,
}

/// A solid that stops bodies, or on which they stand.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub enum Ground {
    /// A solid of the arena.
    Fixed,
    /// An actor that is a solid.
    Moving(ActorIx),
}

impl Ground {
    /// The actor that it is, when it is no solid of the arena.
    pub fn mover(self) -> Option<ActorIx> {
        match self {
            Ground::Fixed => None,
            Ground::Moving(actor) => Some(actor),
        }
    }
}

/// Why an actor is to die.
#[derive(Clone, Copy, Debug, Serialize, Deserialize)]
pub(crate) struct Doom {
    pub of: DeathCause,
    /// The hit that brought it about.
    pub hit: Option<LineId>,
    pub by: Option<ActorIx>,
}

impl Legs {
    /// How an actor of a kind goes under a drive.
    pub fn new(spec: &Spec, drive: Drive, gravity: f64, dt: f64) -> Legs {
        let boxes = || spec.hitboxes.iter().chain(&spec.hurtboxes);
        Legs {
            drive,
            fall: spec.fall(&drive, gravity),
            glide: (1.0 - spec.drag * dt).max(0.0),
            is_solid: spec.solid.is_some(),
            has_body: spec.body.is_some(),
            stands: matches!(drive, Drive::Still)
                && spec.body.is_none()
                && spec.fall(&drive, gravity) == 0.0,
            fights: !spec.attacks.is_empty() || spec.guard.is_some(),
            launches: !spec.launchers.is_empty(),
            fills: spec
                .meters
                .iter()
                .any(|meter| meter.regen.is_some() || meter.reload.is_some()),
            pulses: boxes().any(|plan: &BoxPlan| plan.pulse.is_some()),
        }
    }
}

impl Actor {
    /// Whether something else moves it now. Its death is its own.
    pub fn is_posed(&self) -> bool {
        self.posed && self.alive && !self.dying
    }

    /// Whether it rests on a tick.
    pub fn rests(&self, tick: Tick) -> bool {
        tick < self.rests_until
    }

    /// Whether it cannot act on a tick.
    pub fn is_stunned(&self, tick: Tick) -> bool {
        tick < self.stunned_until
    }

    /// Whether its flight was over before a moment of this tick.
    pub fn is_over(&self, moment: u16) -> bool {
        self.spent.is_some_and(|spent| spent < moment)
    }

    /// How long it has been there, rests apart.
    pub fn age(&self, tick: Tick) -> Ticks {
        Ticks((tick - self.appeared).0 - self.rested)
    }

    /// Whether it cannot act on the tick after one, whatever happens before.
    pub fn is_stunned_after(&self, tick: Tick) -> bool {
        let next = tick + Ticks(1);
        self.is_stunned(next) || (self.rests(next) && self.is_stunned(tick))
    }

    /// When a window of it that would be over on a tick will be: its rests to come make it last longer.
    pub fn rested(&self, over: Tick, now: Tick) -> Tick {
        let next = now + Ticks(1);
        over + Ticks(self.rests_until.0.saturating_sub(next.0))
    }

    /// Where it was at a moment of the tick, in 4096ths.
    pub fn at_moment(&self, moment: u16) -> Vec2 {
        self.at_part(f64::from(moment) / PARTS)
    }

    /// Where it was after a part of the tick, at the end of its way at the latest.
    pub fn at_part(&self, part: f64) -> Vec2 {
        if part >= self.part() {
            self.at
        } else {
            self.start + self.path() * part
        }
    }

    /// The straight way it came this tick, or would have come.
    pub fn path(&self) -> Vec2 {
        if self.cut {
            self.life.cut.path
        } else {
            self.at - self.start
        }
    }

    /// The part of its way that it went.
    pub fn part(&self) -> f64 {
        if self.cut { self.life.cut.part } else { 1.0 }
    }
}
