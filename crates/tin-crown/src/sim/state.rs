//! All that a replay remembers from one tick to the next.

use crate::amount::Amount;
use crate::encounter::{Against, Axis, Facing, Outside};
use crate::geometry::Vec2;
use crate::ledger::{DeathCause, Ledger, LineId, Outcome};
use crate::plan::{
    ActorIx, AttackIx, BoxSet, ButtonIx, DrillIx, Drive, Plan, RuleIx, SideIx, Spec,
};
use crate::time::Tick;

use super::pairs::Pairs;
use super::precedence::Marks;
use super::solids::FixedSolids;
use super::touch::Touching;
use super::verdict::Judgement;

/// A replay between two ticks.
#[derive(Clone, Debug)]
pub(super) struct State {
    pub drill: DrillIx,
    pub tick: Tick,
    pub actors: Vec<Actor>,
    pub legs: Vec<Legs>,
    /// The meters of all actors, one actor's after the other's.
    pub meters: Vec<Amount>,
    /// The attacks of all actors, one actor's after the other's.
    pub attacks: Vec<Readiness>,
    /// Actors that are solids, that have bodies, and that may not leave the arena, each in the order
    /// of ids.
    pub solids: Vec<ActorIx>,
    pub bodies: Vec<ActorIx>,
    pub confined: Vec<ActorIx>,
    /// Who may be in an attack this tick.
    pub swinging: Vec<ActorIx>,
    /// Who is to die in phase 6.
    pub doomed: Vec<ActorIx>,
    pub fixed: FixedSolids,
    /// The next edge of the drill.
    pub next_edge: usize,
    pub touching: Touching,
    pub judgement: Judgement,
    pub pairs: Pairs,
    pub marks: Marks,
    pub ledger: Ledger,
    /// How many lines there were when the tick began.
    pub lines_before: usize,
    pub outcome: Option<Outcome>,
}

/// An actor between two ticks: what is looked at on every one, close together.
#[derive(Clone, Debug)]
pub(super) struct Actor {
    pub alive: bool,
    pub facing: Facing,
    /// Whether it turned round this tick.
    pub turned: bool,
    /// What it was told to do in phase 2.
    pub jumps: bool,
    /// Whether an attack, a guard or a stun keeps it from moving by itself this tick.
    pub held: bool,
    /// Whether a solid stopped it sideways, and up or down, on the last tick.
    pub stopped: [bool; 2],
    pub side: Option<SideIx>,
    /// The tick on which it appeared.
    pub appeared: Tick,
    /// The first tick on which it can act again.
    pub stunned_until: Tick,
    /// The first tick on which it does not rest any more.
    pub rests_until: Tick,
    /// Until when its own motion does not drive it.
    pub undriven_until: Tick,
    /// How many hits its chain has.
    pub chain: u32,
    pub buttons: Buttons,
    /// What it stands on.
    pub ground: Option<Ground>,
    pub at: Vec2,
    /// Where it was when the tick began.
    pub start: Vec2,
    pub velocity: Vec2,
    /// The velocity it set out with this tick, before solids stopped it.
    pub set_out: Vec2,
    /// Where it was placed: the line a patrol returns to.
    pub home: Vec2,
    /// Which way along its axis a patrol goes.
    pub heading: f64,
    pub swing: Option<Swing>,
    /// The boxes that no attack makes live, and all that are live this tick.
    pub always: BoxSet,
    pub live: BoxSet,
    pub fight: Box<Fight>,
}

/// What is looked at only when an actor fights.
#[derive(Clone, Debug, Default)]
pub(super) struct Fight {
    /// Where its meters begin in the list of all.
    pub first_meter: usize,
    /// Where its attacks begin in the list of all.
    pub first_attack: usize,
    pub windows: Vec<Window>,
    /// How many ticks it has rested, by which its clocks are late.
    pub rested: u32,
    /// How many swings it has begun.
    pub swings: u32,
    /// Whom the swing has hit.
    pub swing_hits: Vec<ActorIx>,
    /// Since when the guard's button is heeded.
    pub guard: Option<Tick>,
    /// The last hit that landed on it.
    pub last_hit: Option<LastHit>,
    /// What it is to die of in phase 6.
    pub doom: Option<Doom>,
}

/// A hit that landed, to whose credit a fall is counted.
#[derive(Clone, Copy, Debug)]
pub(super) struct LastHit {
    pub tick: Tick,
    pub line: LineId,
    pub by: ActorIx,
}

/// What moves an actor: of its kind what is looked at on every tick.
#[derive(Clone, Debug)]
pub(super) struct Legs {
    pub drive: Drive,
    pub fall: f64,
    pub is_solid: bool,
    pub has_body: bool,
    /// Whether it can attack or guard.
    pub fights: bool,
}

/// An attack that an actor is in.
#[derive(Clone, Copy, Debug)]
pub(super) struct Swing {
    pub attack: AttackIx,
    /// The tick on which it began.
    pub since: Tick,
    /// Which of its owner's swings it is, counted from 1.
    pub serial: u32,
    /// The line of its beginning.
    pub line: LineId,
}

/// What is remembered of each attack of each actor.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Readiness {
    /// The first tick on which it can start again.
    pub from: Tick,
    /// When its button went down last, unless that press is used.
    pub pressed: Option<Tick>,
    /// The line that says so.
    pub line: Option<LineId>,
}

/// What an actor stands on.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Ground {
    Fixed,
    Moving(ActorIx),
}

/// Why an actor is to die.
#[derive(Clone, Copy, Debug)]
pub(super) struct Doom {
    pub of: DeathCause,
    /// The hit that brought it about.
    pub hit: Option<LineId>,
    pub by: Option<ActorIx>,
}

/// Which buttons are down, and were on the tick before.
#[derive(Clone, Copy, Debug, Default)]
pub(super) struct Buttons {
    down: u32,
    before: u32,
    /// Presses that wait until their owner does not rest any more.
    waiting: u32,
}

impl Buttons {
    pub fn set(&mut self, button: ButtonIx, down: bool) {
        let bit = 1 << button.0;
        if down {
            self.down |= bit;
        } else {
            self.down &= !bit;
        }
    }

    pub fn is_down(self, button: ButtonIx) -> bool {
        self.down & (1 << button.0) != 0
    }

    pub fn is_pressed(self, button: ButtonIx) -> bool {
        let pressed = (self.down & !self.before) | self.waiting;
        pressed & (1 << button.0) != 0
    }

    /// Keeps a press for later.
    pub fn wait(&mut self, button: ButtonIx) {
        self.waiting |= 1 << button.0;
    }

    /// -1, 0 or 1 for two buttons that pull apart.
    pub fn pull(self, back: ButtonIx, forth: ButtonIx) -> f64 {
        f64::from(i8::from(self.is_down(forth)) - i8::from(self.is_down(back)))
    }

    /// A tick begins. After a rest the one before does not count, so that the presses made meanwhile
    /// are still to be heard.
    pub fn begin_tick(&mut self) {
        self.before = self.down;
        self.waiting = 0;
    }
}

/// A stretch of time during which an actor cannot be hurt.
#[derive(Clone, Copy, Debug)]
pub(super) struct Window {
    pub scope: Scope,
    /// The first tick on which it is over.
    pub until: Tick,
    /// The hit that opened it.
    pub because: Because,
}

/// Against what a window holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Scope {
    Everyone,
    Source(ActorIx),
    Rule(RuleIx),
    /// After a guarded hit: only the same who and rule.
    Both(ActorIx, RuleIx),
}

impl Scope {
    /// The scope of a window that a hit by `who` and `rule` opens.
    pub fn of(against: Against, who: ActorIx, rule: RuleIx) -> Scope {
        match against {
            Against::Everyone => Scope::Everyone,
            Against::Source => Scope::Source(who),
            Against::Rule => Scope::Rule(rule),
        }
    }

    pub fn covers(self, who: ActorIx, rule: RuleIx) -> bool {
        match self {
            Scope::Everyone => true,
            Scope::Source(source) => source == who,
            Scope::Rule(own) => own == rule,
            Scope::Both(source, own) => source == who && own == rule,
        }
    }
}

/// A line that decided something: written already, or to be written in this tick's phase 6.
#[derive(Clone, Copy, Debug)]
pub(super) enum Because {
    Line(LineId),
    /// A candidate, by its place in this tick's list.
    Candidate(u32),
}

impl Legs {
    fn new(spec: &Spec) -> Legs {
        Legs {
            drive: spec.drive.clone(),
            fall: spec.fall,
            is_solid: spec.solid.is_some(),
            has_body: spec.body.is_some(),
            fights: !spec.attacks.is_empty() || spec.guard.is_some(),
        }
    }
}

impl Actor {
    /// Opens a window, or lengthens the one of the same scope. Those that are over make room.
    pub fn open(&mut self, tick: Tick, window: Window) {
        self.fight.windows.retain(|window| window.until > tick);
        match self
            .fight
            .windows
            .iter_mut()
            .find(|open| open.scope == window.scope)
        {
            Some(open) if open.until >= window.until => {}
            Some(open) => *open = window,
            None => self.fight.windows.push(window),
        }
    }

    /// The window against `who` and `rule` that is open longest.
    pub fn shield(&self, tick: Tick, who: ActorIx, rule: RuleIx) -> Option<Window> {
        let open = self
            .fight
            .windows
            .iter()
            .filter(|window| window.until > tick && window.scope.covers(who, rule));
        // The first of several that end together.
        open.copied().reduce(|longest, window| {
            if window.until > longest.until {
                window
            } else {
                longest
            }
        })
    }

    /// Whether it rests on a tick.
    pub fn rests(&self, tick: Tick) -> bool {
        tick < self.rests_until
    }

    /// Whether it cannot act on a tick.
    pub fn is_stunned(&self, tick: Tick) -> bool {
        tick < self.stunned_until
    }

    /// Where it was at a moment of the tick, in 4096ths.
    pub fn at_moment(&self, moment: u16) -> Vec2 {
        self.start + self.path() * (f64::from(moment) / 4096.0)
    }

    /// The straight way it came this tick.
    pub fn path(&self) -> Vec2 {
        self.at - self.start
    }
}

impl State {
    pub fn new(plan: &Plan, drill: DrillIx) -> State {
        let mut meters = Vec::new();
        let mut attacks = Vec::new();
        let actors = plan
            .actors
            .iter()
            .map(|placed| {
                let spec = &plan.specs[placed.spec.index()];
                let (first_meter, first_attack) = (meters.len(), attacks.len());
                attacks.resize(first_attack + spec.attacks.len(), Readiness::default());
                meters.extend(spec.meters.iter().map(|meter| meter.start));
                let heading = match spec.drive {
                    Drive::Patrol { axis: Axis::Y, .. } => plan.arena.up.sign(),
                    _ => placed.facing.sign(),
                };
                let always = BoxSet {
                    hit: !spec.by_attack.hit,
                    hurt: !spec.by_attack.hurt,
                };
                Actor {
                    alive: true,
                    facing: placed.facing,
                    turned: false,
                    jumps: false,
                    held: false,
                    stopped: [false; 2],
                    side: spec.side,
                    appeared: Tick(0),
                    stunned_until: Tick(0),
                    rests_until: Tick(0),
                    undriven_until: Tick(0),
                    chain: 0,
                    buttons: Buttons::default(),
                    ground: None,
                    at: placed.at,
                    start: placed.at,
                    velocity: Vec2::ZERO,
                    set_out: Vec2::ZERO,
                    home: placed.at,
                    heading,
                    swing: None,
                    always,
                    live: always,
                    fight: Box::new(Fight {
                        first_meter,
                        first_attack,
                        ..Fight::default()
                    }),
                }
            })
            .collect();
        let with = |has: fn(&Spec) -> bool| -> Vec<ActorIx> {
            let all = (0..plan.actors.len()).map(ActorIx::new);
            all.filter(|&actor| has(plan.spec(actor))).collect()
        };
        State {
            drill,
            tick: Tick(0),
            actors,
            legs: plan
                .cast()
                .map(|index| Legs::new(plan.spec(index)))
                .collect(),
            meters,
            attacks,
            solids: with(|spec| spec.solid.is_some()),
            bodies: with(|spec| spec.body.is_some()),
            confined: with(|spec| spec.outside != Outside::Stays),
            swinging: Vec::new(),
            doomed: Vec::new(),
            fixed: FixedSolids::new(&plan.arena),
            next_edge: 0,
            touching: Touching::new(plan),
            judgement: Judgement::default(),
            pairs: Pairs::default(),
            marks: Marks::default(),
            ledger: Ledger::default(),
            lines_before: 0,
            outcome: None,
        }
    }

    /// Whether the last tick is played.
    pub fn is_over(&self, plan: &Plan) -> bool {
        self.outcome.is_some() || self.tick >= plan.drills[self.drill.index()].last
    }

    /// Says that an actor is to die of something that is nobody's hit: it is counted to the last one
    /// that landed on it within 3 s.
    pub fn doom_without_hit(&mut self, plan: &Plan, actor: ActorIx, of: DeathCause) {
        let last = self.actors[actor.index()].fight.last_hit;
        let recent = last.filter(|last| (self.tick - last.tick).0 <= 3 * plan.rate);
        let doom = Doom {
            of,
            hit: recent.map(|last| last.line),
            by: recent.map(|last| last.by),
        };
        self.doom(actor, doom);
    }

    /// Says what an actor is to die of, unless it is doomed already.
    pub fn doom(&mut self, actor: ActorIx, doom: Doom) {
        let own = &mut self.actors[actor.index()].fight.doom;
        if own.is_none() {
            *own = Some(doom);
            self.doomed.push(actor);
        }
    }
}
