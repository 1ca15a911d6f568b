//! A replay made for the purpose: who and whom stand in reach of each other, nothing else goes on, and who hits as soon
//! as it counts.

use std::sync::Arc;

use super::means::Source;
use crate::encounter::{Chance, Drill, Encounter, Gate, Placement, PoseInput, Region, Rule};
use crate::geometry::{Angle, Bounds, Facing, Vec2, distance};
use crate::ledger::{Bearing, What};
use crate::plan::{
    ActorIx, AttackIx, AttackTold, ButtonIx, Plan, Pose, RuleIx, Spec, Start, StateIx, StatePlan,
};
use crate::sim::{Live, Sim};
use crate::time::Duration;

/// What is played.
pub(super) struct Lab {
    plan: Arc<Plan>,
    who: ActorIx,
    whom: ActorIx,
    poses: [Pose; 2],
    act: Act,
    guard: Option<ButtonIx>,
    guarding: bool,
    distance: f64,
    /// With what the ids of what is launched begin.
    launched: Option<String>,
}

/// What who does.
#[derive(Clone, Copy)]
enum Act {
    Nothing,
    /// An attack: the button that starts it, or none where it is told.
    Attack(AttackIx, Option<ButtonIx>),
    /// A state that sets a launcher off, another, and how long after a launch it is ready again.
    Enter([StateIx; 2], u32),
    /// A button that sets a launcher off, and how long after a launch it is ready again.
    Press(ButtonIx, u32),
}

/// What was seen.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Played {
    pub hits: Vec<u32>,
    pub dies: Option<u32>,
    pub breaks: Option<u32>,
    pub locked: u32,
    /// Whether who ran out of what a launch costs.
    pub dry: bool,
    /// Whether an attack was cut short by the next.
    pub cut: bool,
    /// The last tick that was played.
    pub last: u32,
}

/// Why nothing can be played.
pub(super) type Reason = &'static str;

const NO_PLACE: Reason = "no place for both can be found";
/// With a guard, they come within reach on this tick.
const LEAD: u32 = 121;

/// How far the lab is from everything else.
const FAR: f64 = 20_000.0;

impl Lab {
    /// Sets up a rule between two kinds.
    pub fn new(
        encounter: &Encounter,
        base: &Plan,
        rule: RuleIx,
        source: &Source<'_>,
        (who, hitbox): (&Spec, usize),
        (whom, hurtbox): (&Spec, usize),
        guarding: bool,
    ) -> Result<Lab, Reason> {
        if source.starts() == Some(Start::Told) {
            return Err("only a recording sets it off");
        }
        let mut own = encounter.clone();
        own.expect.clear();
        apart(&mut own);
        let written = own.rules.swap_remove(rule.index());
        own.rules = vec![Rule {
            gate: Gate::default(),
            beats: Vec::new(),
            ..written
        }];
        let Region { min, max, .. } = own.arena.bounds;
        own.arena.bounds = Region::new(
            [min[0] - 2.0 * FAR, min[1] - 2.0 * FAR],
            [max[0] + 2.0 * FAR, max[1] + 2.0 * FAR],
        );
        let maker = match source {
            Source::Launcher(launcher) => launcher.maker,
            _ => who.kind,
        };
        for (id, kind, others) in [
            ("lab-who", maker, 0),
            ("lab-whom", whom.kind, usize::from(maker == whom.kind)),
        ] {
            let there = base
                .cast()
                .filter(|actor| base.spec(*actor).kind == kind)
                .count();
            if there <= others {
                let place = Placement::new(&base.names.kinds[kind], [-FAR, -FAR / 2.0]);
                own.placements.push(Placement {
                    id: Some(id.to_owned()),
                    ..place
                });
            }
        }
        let plan = own
            .resolve()
            .map_err(|_| "the rest of the encounter does not go without its drills and rules")?;
        let mut placed = plan.cast();
        let who_at = placed
            .find(|actor| plan.spec(*actor).kind == maker)
            .ok_or("nobody of that kind is placed")?;
        let mut placed = plan.cast();
        let whom_at = placed
            .find(|actor| plan.spec(*actor).kind == whom.kind && *actor != who_at)
            .ok_or("nobody of the other kind is placed")?;
        let act = act(source, base, &plan, who_at)?;
        let poses = poses(
            &plan,
            [who_at, whom_at],
            source,
            (who, hitbox),
            (whom, hurtbox),
            guarding,
        )?;
        let toward = poses[1].facing.unwrap_or(Facing::Right);
        let shape = whom.hurtboxes[hurtbox].shape(toward).into_owned();
        let launched = match source {
            Source::Launcher(launcher) => Some(format!(
                "{}.{}.",
                plan.actors[who_at.index()].id,
                launcher.plan.name
            )),
            _ => None,
        };
        let guard = match guarding {
            true => whom.guard.as_ref().and_then(|guard| guard.button),
            false => None,
        };
        Ok(Lab {
            plan,
            who: who_at,
            whom: whom_at,
            poses,
            act,
            guard,
            guarding,
            distance: distance(&shape, poses[0].at - poses[1].at),
            launched,
        })
    }

    /// Plays until whom dies, its guard breaks, who runs dry, or so many ticks or hits are over.
    pub fn play(&self, most: u32, hits: usize) -> Result<Played, Reason> {
        const FAILED: Reason = "it goes beyond a limit";
        let mut run = Sim::open(&self.plan, 0).unrecorded();
        let mut played = Played::default();
        let mut seen = Seen::default();
        let away = Pose::at(self.poses[0].at + Vec2::new(FAR / 4.0, FAR / 4.0));
        let apart = self.from() > 1;
        let first = if apart { away } else { self.poses[0] };
        run.pose(self.who, first.jump()).map_err(|_| NO_PLACE)?;
        run.pose(self.whom, self.poses[1].jump())
            .map_err(|_| NO_PLACE)?;
        if let Some(button) = self.guard {
            run.press(self.whom, button, true)
                .map_err(|_| "no button raises the guard")?;
        }
        loop {
            let next = run.tick().0 + 1;
            if apart && next == self.from() {
                run.pose(self.who, self.poses[0].jump())
                    .map_err(|_| NO_PLACE)?;
            }
            if next >= self.from() {
                self.decide(&mut run, &mut seen);
            }
            run.step().map_err(|_| FAILED)?;
            let over = self.read(&mut run, &mut played, &mut seen);
            if over || played.hits.len() >= hits || run.tick().0 >= most + self.from() {
                return Ok(played);
            }
        }
    }

    /// The first tick on which they are in reach of each other: with a guard it is up long before.
    pub fn from(&self) -> u32 {
        if self.guarding { LEAD } else { 1 }
    }

    /// What who does on the next tick.
    fn decide(&self, run: &mut Live, seen: &mut Seen) {
        let next = run.tick().0 + 1;
        let windows = run.windows(self.whom);
        let own = windows.filter(|window| window.against.is_none_or(|against| against == self.who));
        let until = own.map(|window| window.until.0).max();
        let ready = until.unwrap_or(0).max(seen.counts_from);
        match self.act {
            Act::Nothing => {}
            Act::Attack(attack, button) => {
                let startup = self.plan.spec(self.who).attacks[attack.index()].phases[0].0;
                let due = next >= seen.free && next + startup >= ready && next >= seen.rests_until;
                if let Some(button) = button {
                    let _ = run.press(self.who, button, due);
                    return;
                }
                seen.count += u32::from(due);
                let goes_on = due || run.actor(self.who).attack.is_some();
                let told = goes_on && seen.count > 0;
                let mut pose = self.poses[0];
                pose.attack = Some(AttackTold {
                    attack: told.then_some(attack),
                    count: told.then_some(seen.count),
                });
                let _ = run.pose(self.who, pose);
            }
            Act::Enter([on, off], pause) => {
                let due = next >= ready && seen.fired.is_none_or(|fired| next >= fired + pause);
                let mut pose = self.poses[0];
                pose.state = Some(if due { on } else { off });
                let _ = run.pose(self.who, pose);
            }
            Act::Press(button, pause) => {
                let due = next >= ready && seen.fired.is_none_or(|fired| next >= fired + pause);
                let _ = run.press(self.who, button, due);
            }
        }
    }

    /// The tick from which on the clocks of a state of who count: it is told on tick 1, unless it begins in it.
    pub fn clock(&self) -> u32 {
        let told = self.poses[0].state;
        u32::from(told.is_some() && told != self.plan.spec(self.who).start)
    }

    /// How far who is from the hurtbox, from its own position.
    pub fn distance(&self) -> f64 {
        self.distance
    }

    /// Whether a hit is by what is looked at: who itself, or what the launcher launched.
    fn is_by(&self, run: &Live, actor: ActorIx) -> bool {
        match &self.launched {
            None => actor == self.who,
            Some(prefix) => run.id(actor).starts_with(prefix.as_str()),
        }
    }

    /// Reads what happened on the last tick; says whether it is over.
    fn read(&self, run: &mut Live, played: &mut Played, seen: &mut Seen) -> bool {
        // Who hit is looked up before the lines are gone, and with them the names of those who are.
        let events = run.events().to_vec();
        played.last = run.tick().0;
        let rule = &self.plan.rules[0];
        for event in &events {
            let tick = event.tick.0;
            let by_who = event.who.is_some_and(|who| self.is_by(run, who));
            match &event.what {
                What::Hit(hit)
                    if by_who && event.whom == Some(self.whom) && hit.verdict.took_effect() =>
                {
                    played.hits.push(tick);
                    if self.launched.is_none() {
                        seen.counts_from = tick + rule.every.0;
                    }
                    if let Act::Attack(..) = self.act {
                        seen.rests_until = tick + rule.hitstop.0 + 1;
                        seen.free += rule.hitstop.0;
                    }
                }
                What::Shot { .. } if event.who == Some(self.who) => seen.fired = Some(tick),
                What::DryFire { .. } if event.who == Some(self.who) => played.dry = true,
                What::Attack {
                    over: Some(cut), ..
                } if event.who == Some(self.who) => played.cut |= cut,
                What::Attack { attack, .. } if event.who == Some(self.who) => {
                    let own = &self.plan.spec(self.who).attacks[attack.index()];
                    seen.free = tick + own.length().0 + own.cooldown.0;
                }
                What::State {
                    bearing: Bearing::GuardBroken,
                    ..
                } if event.who == Some(self.whom) => {
                    played.breaks.get_or_insert(tick);
                }
                What::Death { .. } if event.who == Some(self.whom) => {
                    played.dies.get_or_insert(tick);
                }
                _ => {}
            }
        }
        run.drain();
        let view = run.actor(self.whom);
        // The stun of the hit that kills comes to nothing.
        let stunned = view.stunned && played.dies.is_none();
        seen.locked = if stunned { seen.locked + 1 } else { 0 };
        played.locked = played.locked.max(seen.locked);
        played.dies.is_some() || played.breaks.is_some() || played.dry
    }
}

/// What who goes by.
#[derive(Default)]
struct Seen {
    /// From when on the rule's `every` lets a hit through.
    counts_from: u32,
    rests_until: u32,
    /// From when on who can begin again, as far as its numbers say.
    free: u32,
    count: u32,
    /// When the last launch was.
    fired: Option<u32>,
    locked: u32,
}

/// What who does to hit.
fn act(source: &Source<'_>, base: &Plan, plan: &Plan, who: ActorIx) -> Result<Act, Reason> {
    match source {
        Source::Touch(_) => Ok(Act::Nothing),
        Source::Attack(attack) => {
            if let Start::Clock { .. } = attack.starts {
                return Ok(Act::Nothing);
            }
            let mut own = plan.spec(who).attacks.iter();
            let name = &base.names.attacks[attack.name];
            let nth = own.position(|own| plan.names.attacks[own.name] == *name);
            let nth = nth.ok_or("nobody of that kind is placed")?;
            let button = match attack.starts {
                Start::Press(button) | Start::Hold(button) => Some(button),
                _ => None,
            };
            Ok(Act::Attack(AttackIx::new(nth), button))
        }
        Source::Launcher(launcher) => {
            let own = launcher.plan;
            let volley = (own.shots.max(1) - 1) * own.every.0;
            match own.starts {
                // A button goes up before it goes down again; where it is held it need not.
                Start::Press(button) => Ok(Act::Press(button, volley + own.cooldown.0.max(2))),
                Start::Hold(button) => Ok(Act::Press(button, volley + own.cooldown.0.max(1))),
                Start::Clock { .. } => Ok(Act::Nothing),
                Start::Entry => {
                    let all = || (0..plan.spec(who).states.len()).map(StateIx::new);
                    let sets_off = |state: &StateIx| {
                        let state = &plan.spec(who).states[state.index()];
                        state.launchers & (1 << launcher.nth) != 0
                    };
                    let both = all()
                        .find(sets_off)
                        .zip(all().find(|state| !sets_off(state)));
                    let (on, off) = both.ok_or("no state sets its launcher off")?;
                    Ok(Act::Enter([on, off], volley + own.cooldown.0.max(2)))
                }
                Start::Told => Err("only a recording sets it off"),
            }
        }
    }
}

/// Where both stand, so that the middle of the hitbox is that of a hurtbox; of what is launched the muzzle is.
fn poses(
    plan: &Plan,
    actors: [ActorIx; 2],
    source: &Source<'_>,
    (who, hitbox): (&Spec, usize),
    (whom, hurtbox): (&Spec, usize),
    guarding: bool,
) -> Result<[Pose; 2], Reason> {
    let faces = |actor: ActorIx| match plan.spec(actor).rotates {
        true => Facing::Angle(Angle::ZERO),
        false => Facing::Right,
    };
    let back = |actor: ActorIx| match plan.spec(actor).rotates {
        true => Facing::Angle(Angle::HALF),
        false => Facing::Left,
    };
    let spot = Vec2::new(FAR, FAR);
    let ahead = faces(actors[0]);
    let (gives, rise) = match source {
        Source::Launcher(launcher) => (launcher.plan.muzzle, launcher.plan.muzzle_rise),
        _ => {
            let own = &who.hitboxes[hitbox];
            let at = middle(own.shape(ahead).bounds());
            (
                at,
                own.span.map_or(0.0, |span| (span.low + span.high) / 2.0),
            )
        }
    };
    // Whom faces who where its guard is asked for, and the other way where it is not.
    let toward = match guarding {
        true => back(actors[1]),
        false => faces(actors[1]),
    };
    let own = &whom.hurtboxes[hurtbox];
    let takes = middle(own.shape(toward).bounds());
    let high = own.span.map_or(0.0, |span| (span.low + span.high) / 2.0);
    let high_up = plan.arena.height.is_some();
    let level = if high_up { 1000.0 } else { 0.0 };
    // A little ahead, so that each has the other in front.
    let wide = |bounds: Bounds| bounds.max.x - bounds.min.x;
    let takes_wide = wide(own.shape(toward).bounds());
    let ahead_by = match source {
        Source::Launcher(_) => takes_wide,
        _ => takes_wide.min(wide(who.hitboxes[hitbox].shape(ahead).bounds())),
    } / 4.0;
    let place = spot + gives - takes + Vec2::new(ahead_by, 0.0);
    let rise = if high_up { level + rise - high } else { 0.0 };
    let mut giver = Pose::at(spot).facing(ahead).height(level);
    let mut taker = Pose::at(place).facing(toward).height(rise);
    giver.state = stance(plan.spec(actors[0]), |state, _| match source {
        Source::Launcher(launcher) => state.launchers & (1 << launcher.nth) != 0,
        _ if who.by_state.hit & (1 << hitbox) != 0 => state.live.hit & (1 << hitbox) != 0,
        _ => true,
    })?;
    taker.state = stance(plan.spec(actors[1]), |state, by_state| {
        let live =
            whom.by_state.hurt & (1 << hurtbox) == 0 || state.live.hurt & (1 << hurtbox) != 0;
        // A guard that states raise has to be up where it is asked for.
        live && (!guarding || !by_state || state.guard)
    })?;
    Ok([giver, taker])
}

/// The state in which somebody stands still: its first, if that will do; it is told whether states raise the guard.
fn stance(spec: &Spec, does: impl Fn(&StatePlan, bool) -> bool) -> Result<Option<StateIx>, Reason> {
    let by_state = spec.states.iter().any(|state| state.guard);
    let all = (0..spec.states.len()).map(StateIx::new);
    let first = spec
        .start
        .into_iter()
        .chain(all)
        .find(|state| does(&spec.states[state.index()], by_state));
    match (first, spec.states.is_empty()) {
        (None, false) => Err("no state lets one hit and the other be hit"),
        (found, _) => Ok(found),
    }
}

/// Puts everybody far off, and from each other, before anything begins; and lets what only the game starts be told.
fn apart(encounter: &mut Encounter) {
    encounter.drills.clear();
    for (nth, placement) in encounter.placements.iter_mut().enumerate() {
        let away = -FAR - 100.0 * nth as f64;
        placement.at = Chance::Fixed([away, away].into());
    }
    if let Some(first) = encounter.placements.first_mut() {
        let who = match (&first.id, &first.copies) {
            (Some(id), None) => id.clone(),
            (None, None) => first.kind.clone(),
            (id, Some(_)) => format!("{}_1", id.as_ref().unwrap_or(&first.kind)),
        };
        let told = Drill::new(Duration::ticked(1)).pose(PoseInput::new(
            Duration::ticked(1),
            who,
            [-FAR, -FAR],
        ));
        encounter.drills.insert("told".to_owned(), told);
    }
}

fn middle(bounds: Bounds) -> Vec2 {
    (bounds.min + bounds.max) * 0.5
}
