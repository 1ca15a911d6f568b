//! What can be seen of a drill that is being replayed.

use std::sync::Arc;

use crate::amount::Amount;
use crate::encounter::{Facing, Phase};
use crate::geometry::Vec2;
use crate::ledger::{Cast, Event, Header, Ledger, Line, LineId, Reading, Record};
use crate::limits;
use crate::outcome::Outcome;
use crate::plan::{
    ActorIx, AttackIx, BoxIx, BoxSet, DrillIx, LauncherIx, Moment, Plan, RuleIx, Spec, SpecIx,
    StateIx,
};
use crate::sim::Sim;
use crate::sim::parts::actor::{Actor, Ground};
use crate::sim::parts::windows::{Because, Scope};
use crate::sim::parts::{attacks, guards, launchers};
use crate::sim::phases::touch;
use crate::sim::slot::Slot;
use crate::sim::state::Played;
use crate::time::{Tick, Ticks};

/// An actor as it stands at the end of a tick.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct ActorView<'s> {
    /// Whether it is there and not dying.
    pub alive: bool,
    /// Whether its death plays out.
    pub dying: bool,
    /// How many lives it has left, this one included, when they are counted.
    pub lives: Option<u32>,
    /// Where it is.
    pub at: Vec2,
    /// Where it was when the tick began; of one that appeared on it, where it is.
    pub start: Vec2,
    /// Its velocity, in units a second.
    pub velocity: Vec2,
    /// How fast it rises, in units a second, where the arena has heights.
    pub velocity_up: f64,
    /// How high it is, where the arena has heights.
    pub height: f64,
    /// How high it was when the tick began.
    pub height_before: f64,
    /// Which way it faces.
    pub facing: Facing,
    /// Whether it stands on something.
    pub grounded: bool,
    /// Whether a window of invincibility is open, against whomever; what a guarded hit opens, only
    /// against itself, does not count.
    pub invincible: bool,
    /// The attack that it is in, and its phase.
    pub attack: Option<(AttackIx, Phase)>,
    /// Whether its guard is up.
    pub guarding: bool,
    /// Whether it cannot act on the next tick.
    pub stunned: bool,
    /// The state that it is in.
    pub state: Option<StateIx>,
    /// How long it has been there, rests apart.
    pub age: Ticks,
    /// Whether it rests on the next tick, after a hit that says so.
    pub resting: bool,
    /// The boxes that were live on this tick; none of who was gone when it was judged.
    pub live: BoxSet,
    /// The velocity it set out with on this tick, before solids stopped it.
    pub set_out: Vec2,
    /// How fast it set out to rise, where the arena has heights.
    pub set_out_up: f64,
    /// What its meters hold, in the order of its kind's meters.
    pub meters: &'s [Amount],
}

/// A window of invincibility that is open.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct WindowView {
    /// Against whom alone; against everyone when absent.
    pub against: Option<ActorIx>,
    /// Against which rule alone; against every one when absent.
    pub rule: Option<RuleIx>,
    /// The first tick on which it is over, hitstop counted.
    pub until: Tick,
    /// The line of what opened it: a hit, or a return.
    pub because: Option<LineId>,
}

/// What an actor set out to do on the last tick.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Intent {
    pub jumps: bool,
    /// Whether a push drove it.
    pub pushed: bool,
}

impl Sim {
    /// What an actor set out to do on the last tick.
    pub(crate) fn intent(&self, actor: ActorIx) -> Intent {
        let own = self.own(actor);
        Intent {
            jumps: own.jumps,
            pushed: self.tick() < own.undriven_until,
        }
    }

    /// The first tick on which the cooldown of an attack is over.
    pub(crate) fn ready_to_attack(&self, actor: ActorIx, attack: AttackIx) -> Tick {
        let own = self.own(actor);
        let readiness = self.state.stock.attacks[own.life.own.attacks.start + attack.index()];
        own.rested(readiness.from, self.tick())
    }

    /// Whether a volley of a launcher goes on, and the first tick on which its cooldown is over.
    pub(crate) fn ready_to_launch(&self, actor: ActorIx, launcher: LauncherIx) -> (bool, Tick) {
        let own = self.own(actor);
        let barrel = &self.state.stock.barrels[own.life.own.launchers.start + launcher.index()];
        (barrel.left > 0, own.rested(barrel.from, self.tick()))
    }

    /// The last tick that was played.
    pub fn tick(&self) -> Tick {
        self.state.tick
    }

    /// The drill that is played; none of an open run.
    pub fn drill(&self) -> Option<DrillIx> {
        match self.state.played {
            Played::Drill(drill) => Some(drill),
            Played::Open { .. } => None,
        }
    }

    /// The plan that is played.
    pub fn plan(&self) -> &Arc<Plan> {
        &self.plan
    }

    /// How the drill ended, when it has.
    pub fn outcome(&self) -> Option<Outcome> {
        self.state.outcome
    }

    /// Everyone who is there, dying or not, in the order of ids.
    pub fn cast(&self) -> impl Iterator<Item = ActorIx> {
        let order = self.state.lists.order.iter();
        let there = order.filter(|slot| self.state.actors[**slot].alive);
        there.map(|slot| self.state.number(*slot))
    }

    /// The [cast](Sim::cast), and who may come back or went on this tick, in the order of ids.
    pub fn enrolled(&self) -> impl Iterator<Item = ActorIx> {
        let order = self.state.lists.order.iter();
        order.map(|slot| self.state.number(*slot))
    }

    /// Those whose names are known.
    fn named(&self) -> Cast<'_> {
        Cast {
            plan: &self.plan,
            launched: self.history.launched(),
        }
    }

    /// Whether an actor was launched, is gone, and no line tells of it any more.
    pub(super) fn is_forgotten(&self, actor: ActorIx) -> bool {
        let launched =
            (self.plan.actors.len()..self.state.roll.next().index()).contains(&actor.index());
        launched && self.named().origin(actor).is_none()
    }

    fn slot(&self, actor: ActorIx) -> Slot {
        let slot = self.state.roll.slot(actor);
        slot.filter(|slot| slot.index() < self.state.actors.len())
            .unwrap_or_else(|| {
                let index = actor.index();
                panic!("actor {index} is not there: it is gone, or of another plan")
            })
    }

    fn own(&self, actor: ActorIx) -> &Actor {
        &self.state.actors[self.slot(actor)]
    }

    /// The id of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone and its lines were drained.
    pub fn id(&self, actor: ActorIx) -> &str {
        self.named().id(actor)
    }

    /// The placed actor that made an actor: itself, or the root of its makers.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone and its lines were drained.
    pub fn root(&self, actor: ActorIx) -> ActorIx {
        self.named().root(actor)
    }

    /// The resolved kind of an actor, placed or launched.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone and its lines were drained.
    pub fn spec(&self, actor: ActorIx) -> &Spec {
        self.named().spec(actor)
    }

    /// Where that stands in the plan.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone and its lines were drained.
    pub fn spec_index(&self, actor: ActorIx) -> SpecIx {
        self.named().spec_index(actor)
    }

    /// Whom a sensor of an actor notices (by its place in the kind's list), and how far off they are.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn noticed(&self, actor: ActorIx, sensor: usize) -> impl Iterator<Item = (ActorIx, f64)> {
        let first = self.own(actor).life.own.sensors.start;
        let sight = &self.state.stock.sights[first + sensor];
        sight.seen.iter().map(|seen| (seen.whom, seen.distance))
    }

    /// An actor as it stands.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn actor(&self, actor: ActorIx) -> ActorView<'_> {
        let state = &self.state;
        let own = self.own(actor);
        let guard = self.spec(actor).guard.as_ref();
        ActorView {
            alive: own.alive && !own.dying,
            dying: own.dying,
            lives: own.life.lives,
            at: own.at,
            start: own.start,
            velocity: own.velocity,
            velocity_up: own.life.rise.velocity,
            height: own.life.rise.at,
            height_before: own.life.rise.start,
            facing: own.facing,
            grounded: own.ground.is_some(),
            invincible: own.windows.is_open(state.tick),
            attack: attacks::under_way(&self.plan, own, state.tick),
            guarding: guard.is_some_and(|guard| guards::is_up(guard, own.life.guard, state.tick)),
            stunned: own.is_stunned_after(state.tick),
            resting: own.rests(state.tick + Ticks(1)),
            live: match own.life.dying {
                // Those that no step keeps only say `down`.
                Some(dying) => BoxSet {
                    hurt: dying.kept.hurt,
                    ..own.live
                },
                None => own.live,
            },
            set_out: own.set_out,
            set_out_up: own.life.rise.set_out,
            state: own.life.mind.state,
            age: own.age(state.tick),
            meters: &state.stock.meters[own.life.own.meters.clone()],
        }
    }

    /// The windows of invincibility that are open for an actor, in the order in which they were opened; what a guarded
    /// hit opens against itself is one, too.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn windows(&self, actor: ActorIx) -> impl Iterator<Item = WindowView> {
        let own = self.own(actor);
        let tick = self.state.tick;
        let open = own.windows.all().filter(move |window| window.until > tick);
        open.map(move |window| {
            let (against, rule) = match window.scope {
                Scope::Everyone => (None, None),
                Scope::Source(who) => (Some(who), None),
                Scope::Rule(rule) => (None, Some(rule)),
                Scope::Both(who, rule) => (Some(who), Some(rule)),
            };
            WindowView {
                against,
                rule,
                until: own.rested(window.until, tick),
                because: match window.because {
                    Because::Line(line) => Some(line),
                    Because::Candidate(_) => None,
                },
            }
        })
    }

    /// What an actor is in the middle of, and since when, as its sprite asks for it.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn moment(&self, actor: ActorIx) -> Moment {
        let (own, view) = (self.own(actor), self.actor(actor));
        let (spec, tick) = (self.spec(actor), self.state.tick);
        let since = |from: Tick| Ticks(tick.0.saturating_sub(from.0));
        let attack = view.attack.zip(own.swing).map(|((attack, phase), swing)| {
            let whole = since(swing.since);
            let before = spec.attacks[attack.index()].phases[..phase as usize].iter();
            let before = before.fold(0, |sum, length| sum + length.0);
            (attack, phase, whole, Ticks(whole.0 - before))
        });
        let death = own.life.dying.as_ref();
        let step = death.and_then(|death| {
            let step = death.next.checked_sub(1)?;
            Some((step, since(death.since + spec.death[step].after)))
        });
        let across = own.velocity.x != 0.0;
        Moment {
            age: view.age,
            state: view.state.map(|state| (state, since(own.life.mind.since))),
            attack,
            dying: death.map(|death| since(death.since)),
            step,
            stunned: view.stunned,
            guarding: view.guarding,
            grounded: view.grounded,
            moving: across || !view.grounded && own.velocity.y != 0.0,
        }
    }

    /// What stopped an actor's body on the last tick, along x and along y.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn stopped(&self, actor: ActorIx) -> [Option<Ground>; 2] {
        let own = self.own(actor);
        match own.stopped {
            [false, false] => [None; 2],
            _ => own.life.stoppers,
        }
    }

    /// What an actor stands on.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn ground(&self, actor: ActorIx) -> Option<Ground> {
        self.own(actor).ground
    }

    /// Who was pushed on the last tick, by the hit of which line: by a knockback, a rebound or a parry.
    pub fn pushed(&self) -> impl Iterator<Item = (ActorIx, LineId)> {
        let pushed = self.state.pending.pushed.iter();
        pushed.map(|(slot, line)| (self.state.number(*slot), *line))
    }

    /// At whom a launcher of an actor (by its place in the kind's list) would be aimed now, and at which
    /// place: where they stand, or will be met. Nobody when its aim does not depend on others, or nobody
    /// is there. Of a speed by chance, its mean is taken.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn aimed_at(&self, actor: ActorIx, launcher: usize) -> Option<(ActorIx, Vec2)> {
        let own = self.own(actor);
        let launcher = self.spec(actor).launchers.get(launcher)?;
        let muzzle = own.at + own.facing.turn(launcher.muzzle);
        let speed = launcher.speed.mean();
        let from = (muzzle, own.life.rise.at + launcher.muzzle_rise);
        let slot = self.slot(actor);
        let aimed = launchers::aim(&self.plan, &self.state, slot, launcher.aim, from, speed);
        let (whom, way, _) = aimed?;
        Some((self.state.number(whom), muzzle + way))
    }

    /// The rules by which a hitbox of an actor gives.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn gives(&self, actor: ActorIx, hitbox: BoxIx) -> &[RuleIx] {
        let breed = self.plan.breed(self.own(actor).breed);
        self.plan.profile(breed.gives[hitbox.index()])
    }

    /// The rules by which a hurtbox of an actor takes.
    ///
    /// # Panics
    ///
    /// When the actor is of another plan, or was launched and is gone.
    pub fn takes(&self, actor: ActorIx, hurtbox: BoxIx) -> &[RuleIx] {
        let breed = self.plan.breed(self.own(actor).breed);
        self.plan.profile(breed.takes[hurtbox.index()])
    }

    /// The rules by which a hitbox of who hits a hurtbox of whom.
    pub fn rules_between(
        &self,
        (who, hitbox): (ActorIx, BoxIx),
        (whom, hurtbox): (ActorIx, BoxIx),
    ) -> impl Iterator<Item = RuleIx> {
        touch::common(self.gives(who, hitbox), self.takes(whom, hurtbox))
    }

    /// What has happened so far, but for what was [drained](crate::sim::Live::drain).
    pub fn ledger(&self) -> &Ledger {
        &self.history
    }

    /// What happened on the last tick.
    pub fn events(&self) -> &[Event] {
        let all = self.history.events();
        &all[all.partition_point(|event| event.tick < self.state.tick)..]
    }

    /// What has happened so far, with its names.
    pub fn reading(&self) -> Reading<'_> {
        Reading::new(&self.plan, &self.history)
    }

    /// What has happened so far, as a record; its header has no digest, as the run is not over.
    pub fn record(&self) -> Record<'_> {
        let drill = self.state.played.drill(&self.plan);
        Record {
            header: Header {
                edition: limits::EDITION,
                title: self.plan.title.as_str().into(),
                digest: "".into(),
                drill: drill.map_or("", |drill| drill.name.as_str()).into(),
                seed: self.state.seed(&self.plan),
                rate: self.plan.rate,
            },
            lines: (self.history.events().iter())
                .map(|event| self.line(event))
                .collect(),
        }
    }

    /// A line of the ledger, with its names.
    ///
    /// # Panics
    ///
    /// When it is of another plan.
    pub fn line(&self, event: &Event) -> Line<'_> {
        self.named().line(event)
    }
}
