//! Hits reckoned from the numbers alone: when each counts, and what it leaves, with who and whom in reach of each other
//! all the time and every start timed so that it counts as soon as it can.

use super::means::Source;
use crate::amount::Amount;
use crate::encounter::{Party, Repeat, Restart};
use crate::limits;
use crate::plan::{DamagePlan, EffectPlan, GuardPlan, MeterIx, Plan, RulePlan, Spec, Start};
use crate::time::Ticks;

/// What is reckoned with.
pub(super) struct Model<'p> {
    pub plan: &'p Plan,
    pub rule: &'p RulePlan,
    pub whom: &'p Spec,
    pub source: Source<'p>,
    /// Whether whom has its guard up all the while.
    pub guarding: bool,
    /// The tick from which on they are in reach of each other.
    pub from: u32,
    /// The tick from which on clocks of a state count, when all clocks are as they are; else each begins when it
    /// suits best.
    pub clock: Option<u32>,
    /// How far who is from the hurtbox, where the damage asks.
    pub distance: f64,
    /// How long who is there, when that has an end.
    pub lasts: Option<Ticks>,
}

/// What it comes to.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Reckoned {
    /// The ticks of the hits that take effect.
    pub hits: Vec<u32>,
    /// The tick on which whom begins to die.
    pub dies: Option<u32>,
    /// The tick on which the guard breaks.
    pub breaks: Option<u32>,
    /// The longest time without the use of its limbs.
    pub locked: u32,
    /// Whether whom had no less left at the end than after half of the hits.
    pub holds_out: bool,
}

/// A meter of whom.
struct Gauge {
    name: MeterIx,
    held: Amount,
    max: Amount,
    /// The tick of the next payment.
    pays: u32,
    frozen_until: u32,
}

/// All that changes.
struct Run {
    tick: u32,
    gauges: Vec<Gauge>,
    /// From this tick on both act again after a hitstop.
    rests_until: u32,
    invincible_until: u32,
    every_until: u32,
    stunned_until: u32,
    /// From which tick on who can begin again.
    free: u32,
    /// For how many ticks who has rested: its clocks stood still.
    rested: u32,
    /// The ticks on which the attack is active, and until when it may not hit again.
    active: (u32, u32),
    again: u32,
    chain: u32,
    touched: bool,
    stunned: u32,
    /// After how many hits it was looked how much is left, and how much that was.
    mark: (usize, Amount),
    found: Reckoned,
}

/// So long is reckoned: hours, or so many hits.
const LONGEST: u32 = limits::DRILL_TICKS;
const MOST_HITS: usize = 100_000;
/// From so few hits nothing follows.
const SOME: usize = 8;

impl<'p> Model<'p> {
    pub fn reckon(&self) -> Reckoned {
        let gauges = self.whom.meters.iter().map(|meter| Gauge {
            name: meter.name,
            held: meter.start,
            max: meter.max,
            pays: meter.regen.as_ref().map_or(u32::MAX, |regen| regen.every.0),
            frozen_until: 0,
        });
        let mut run = Run {
            tick: 0,
            gauges: gauges.collect(),
            rests_until: 0,
            invincible_until: 0,
            every_until: 0,
            stunned_until: 0,
            // Nobody acts on tick 0.
            free: self.from.max(1),
            rested: 0,
            active: (u32::MAX, u32::MAX),
            again: 0,
            chain: 0,
            touched: false,
            stunned: 0,
            mark: (0, Amount::ZERO),
            found: Reckoned::default(),
        };
        while run.tick <= LONGEST && run.found.hits.len() < MOST_HITS {
            if !self.step(&mut run) {
                break;
            }
            run.tick += 1;
        }
        let left = self.left(&run);
        run.found.holds_out = run.found.dies.is_none() && run.mark.0 >= SOME && left >= run.mark.1;
        run.found
    }

    /// How much health whom has left.
    fn left(&self, run: &Run) -> Amount {
        let mut gauges = run.gauges.iter();
        let health = gauges.find(|gauge| self.plan.is_health(gauge.name));
        health.map_or(Amount::ZERO, |gauge| gauge.held)
    }

    /// One tick; says whether there is more to come.
    fn step(&self, run: &mut Run) -> bool {
        let tick = run.tick;
        let shots = self.shots();
        if tick < run.rests_until {
            rest(run, shots);
            // The shot rests, and not who launched it: the next one hits all the same.
            if !shots {
                run.lock();
                return true;
            }
        } else {
            self.pay(run);
        }
        self.begin(run);
        let mut hits = self.live(run);
        if hits == 0 && self.repeat() == Repeat::OncePerTouch {
            run.touched = false;
        }
        if hits > 0 {
            // Whatever touches tries, whether it counts or not.
            self.attempted(run);
        }
        while hits > 0 && self.counts(run) && !self.is_spent(run) {
            self.hit(run);
            hits -= 1;
            // After each doubling of the hits.
            if run.found.hits.len() >= 2 * run.mark.0 {
                run.mark = (run.found.hits.len(), self.left(run));
            }
            if run.found.dies.is_some() || run.found.breaks.is_some() {
                return false;
            }
        }
        run.lock();
        // What hits once for good hits no more: only its stun is seen to its end.
        !self.is_over(run) || tick < run.stunned_until
    }

    /// Whether it is shots that hit.
    fn shots(&self) -> bool {
        matches!(self.source, Source::Launcher(_))
    }

    /// Whether this touch, or this box as one attack, has given the one hit that it gives.
    fn is_spent(&self, run: &Run) -> bool {
        let once = self.repeat() != Repeat::WhileTouching;
        matches!(self.source, Source::Touch(_)) && run.touched && once
    }

    /// Whether no hit can come any more.
    fn is_over(&self, run: &Run) -> bool {
        let parts = match self.source {
            Source::Touch(part) => part.pulse().is_some() && self.repeat() == Repeat::OncePerTouch,
            _ => true,
        };
        let gone = self.lasts.is_some_and(|lasts| run.tick >= lasts.0) && !self.shots();
        gone || (self.is_spent(run) && !parts)
    }

    fn repeat(&self) -> Repeat {
        let swing = if self.source.is_swing() {
            Repeat::PerAttack
        } else {
            Repeat::WhileTouching
        };
        self.rule.repeat.unwrap_or(swing)
    }

    /// Regeneration, in the first phase of a tick.
    fn pay(&self, run: &mut Run) {
        let tick = run.tick;
        for (gauge, meter) in run.gauges.iter_mut().zip(&self.whom.meters) {
            let Some(regen) = &meter.regen else { continue };
            if tick < gauge.frozen_until {
                gauge.pays = gauge.pays.saturating_add(1);
                continue;
            }
            if tick == 0 || tick < gauge.pays {
                continue;
            }
            gauge.pays = tick + regen.every.0;
            if gauge.held < regen.up_to {
                gauge.held = (gauge.held + regen.amount).min(regen.up_to);
            }
        }
    }

    /// Who begins an attack, or launches, where that is due.
    fn begin(&self, run: &mut Run) {
        let tick = run.tick;
        if tick < run.free {
            return;
        }
        let lead = match self.source {
            Source::Attack(attack) => attack.phases[0].0,
            _ => 0,
        };
        let due = match self.source.starts() {
            None => return,
            Some(Start::Clock { first, every }) => {
                let first = self.clock.map_or(self.from, |from| first.0 + from);
                let age = tick - run.rested;
                age >= first && (age - first).is_multiple_of(every.0.max(1))
            }
            // As early as the hit counts.
            Some(_) => tick + lead >= run.ready(),
        };
        if !due {
            return;
        }
        match self.source {
            Source::Attack(attack) => {
                let from = tick + lead;
                run.active = (from, from + attack.phases[1].0);
                run.again = 0;
                run.free = tick + attack.length().0 + attack.cooldown.0;
            }
            Source::Launcher(launcher) => {
                let all = launcher.plan.shots.max(1) - 1;
                let last = tick + all * launcher.plan.every.0;
                // Each shot of a volley is one tick long here: there, and gone.
                run.active = (tick, last + 1);
                run.free = last + launcher.plan.cooldown.0.max(self.press());
            }
            Source::Touch(_) => {}
        }
    }

    /// The least time between two presses: a button goes up before it goes down again.
    fn press(&self) -> u32 {
        match self.source.starts() {
            Some(Start::Press(_) | Start::Entry) => 2,
            _ => 1,
        }
    }

    /// How many hits there may be on this tick.
    fn live(&self, run: &Run) -> u32 {
        let tick = run.tick;
        // The lifetime of what is launched is another's.
        let gone = match self.source {
            Source::Launcher(_) => false,
            _ => self.lasts.is_some_and(|lasts| tick >= lasts.0),
        };
        if tick < self.from || gone {
            return 0;
        }
        let active = tick >= run.active.0 && tick < run.active.1;
        let age = tick - run.rested;
        match self.source {
            Source::Touch(part) => {
                let on = part.pulse().is_none_or(|pulse| match self.clock {
                    Some(_) => pulse.is_on(Ticks(age)),
                    None => age % (pulse.on().0 + pulse.off().0).max(1) < pulse.on().0,
                });
                u32::from(on)
            }
            Source::Attack(_) => u32::from(active && tick >= run.again),
            Source::Launcher(launcher) => {
                let due =
                    active && (tick - run.active.0).is_multiple_of(launcher.plan.every.0.max(1));
                if due { launcher.plan.count } else { 0 }
            }
        }
    }

    fn counts(&self, run: &Run) -> bool {
        let tick = run.tick;
        let open = self.rule.pierces_invincible || self.rule.only_gives;
        tick >= run.every_until && (open || tick >= run.invincible_until)
    }

    /// A candidate that was no more than tried restarts some delays.
    fn attempted(&self, run: &mut Run) {
        let tick = run.tick;
        for (gauge, meter) in run.gauges.iter_mut().zip(&self.whom.meters) {
            if let Some(regen) = &meter.regen
                && regen.restarted_by == Restart::Attempt
                && let Some(delay) = regen.delay
            {
                gauge.pays = tick + delay.0;
            }
        }
    }

    fn hit(&self, run: &mut Run) {
        let (tick, rule) = (run.tick, self.rule);
        run.found.hits.push(tick);
        run.touched = true;
        let guard = self
            .whom
            .guard
            .as_deref()
            .filter(|_| self.guarding && !rule.pierces_guard && !rule.only_gives);
        let rest = rule.hitstop.0;
        // What a guard meets holds off that one and that rule alone, and so does `every`: not the next shot.
        let shots = self.shots();
        let opens = !rule.only_gives && (guard.is_none() || !shots);
        if opens {
            run.invincible_until = run.invincible_until.max(tick + self.whom.after_hit.0);
        }
        if !shots {
            run.every_until = tick + rule.every.0;
        }
        let chain = run.chain;
        run.chain += u32::from(rule.chain);
        match guard {
            Some(guard) => self.guarded(run, guard, chain),
            None => self.lands(run, chain),
        }
        if rest > 0 {
            run.rests_until = run.rests_until.max(tick + rest + 1);
        }
        if let Source::Attack(attack) = self.source {
            // Once per attack, unless it hits several times, or the rule says so.
            run.again = match (attack.every, self.repeat()) {
                (Some(every), Repeat::PerAttack) => tick + every.0,
                (_, Repeat::WhileTouching) => tick + 1,
                _ => u32::MAX,
            };
        }
    }

    fn lands(&self, run: &mut Run, chain: u32) {
        let also = self.rule.also.iter().filter(|(to, _)| *to == Party::Whom);
        let effects = std::iter::once(&self.rule.does).chain(also.map(|(_, does)| does));
        for effect in effects {
            self.effect(run, effect, chain);
        }
        for (gauge, meter) in run.gauges.iter_mut().zip(&self.whom.meters) {
            if let Some(regen) = &meter.regen
                && regen.restarted_by != Restart::Loss
                && let Some(delay) = regen.delay
            {
                gauge.pays = run.tick + delay.0;
            }
        }
    }

    fn effect(&self, run: &mut Run, effect: &EffectPlan, chain: u32) {
        let tick = run.tick;
        if let Some(damage) = &effect.damage {
            let full = self.whom.taken(self.dose(damage, chain), damage.sort);
            self.take(run, damage, full);
        }
        if effect.kill {
            run.found.dies.get_or_insert(tick);
        }
        if let Some(heal) = &effect.heal {
            let mut rest = self.dose(heal, chain);
            for name in &heal.meters {
                if let Some(gauge) = run.gauges.iter_mut().find(|gauge| gauge.name == *name) {
                    let part = (gauge.max - gauge.held).min(rest);
                    gauge.held += part;
                    rest -= part;
                }
            }
        }
        run.stunned_until = run.stunned_until.max(tick + effect.stun.0);
        for (name, length) in &effect.freeze {
            if let Some(gauge) = run.gauges.iter_mut().find(|gauge| gauge.name == *name) {
                gauge.frozen_until = gauge.frozen_until.max(tick + length.0);
            }
        }
    }

    fn dose(&self, damage: &DamagePlan, chain: u32) -> Amount {
        damage.after(chain, || self.distance)
    }

    fn guarded(&self, run: &mut Run, guard: &GuardPlan, chain: u32) {
        if let Some(damage) = &self.rule.does.damage {
            let full = self.whom.taken(self.dose(damage, chain), damage.sort);
            self.take(run, damage, full.times(guard.through));
        }
        let cost = self.rule.guard_cost.unwrap_or(guard.cost);
        let tick = run.tick;
        let Some(gauge) = run
            .gauges
            .iter_mut()
            .find(|gauge| Some(gauge.name) == guard.meter)
        else {
            return;
        };
        let part = gauge.held.min(cost);
        let breaks = part.is_positive() && part == gauge.held;
        self.lose(run, guard.meter, part);
        if breaks {
            run.found.breaks.get_or_insert(tick);
        }
    }

    fn take(&self, run: &mut Run, damage: &DamagePlan, amount: Amount) {
        let mut rest = amount;
        for name in &damage.meters {
            let Some(gauge) = run.gauges.iter().find(|gauge| gauge.name == *name) else {
                continue;
            };
            let held = gauge.held;
            let part = held.min(rest);
            rest -= part;
            self.lose(run, Some(*name), part);
            if !damage.overflow && held.is_positive() {
                break;
            }
        }
    }

    fn lose(&self, run: &mut Run, meter: Option<MeterIx>, part: Amount) {
        let tick = run.tick;
        let gauges = run.gauges.iter_mut().zip(&self.whom.meters);
        let Some((gauge, plan)) = gauges
            .into_iter()
            .find(|(gauge, _)| Some(gauge.name) == meter)
        else {
            return;
        };
        gauge.held -= part;
        if !part.is_positive() {
            return;
        }
        if let Some(delay) = plan.regen.as_ref().and_then(|regen| regen.delay) {
            gauge.pays = tick + delay.0;
        }
        if gauge.held == Amount::ZERO && self.plan.is_health(gauge.name) {
            run.found.dies.get_or_insert(tick);
        }
    }
}

impl Run {
    /// From which tick on a hit counts, as far as is known.
    fn ready(&self) -> u32 {
        self.invincible_until.max(self.every_until)
    }

    /// How long whom has been without the use of its limbs.
    fn lock(&mut self) {
        // What is pressed on the next tick comes to nothing; a rest on it makes the stun last longer.
        let next = self.tick + 1;
        let rests = next < self.rests_until;
        match next < self.stunned_until + u32::from(rests) {
            true => self.stunned += 1,
            false => self.stunned = 0,
        }
        self.found.locked = self.found.locked.max(self.stunned);
    }
}

/// Both rest: all that they wait for comes a tick later. What is spaced by `every` does not wait.
fn rest(run: &mut Run, shots: bool) {
    let tick = run.tick;
    let later = |until: &mut u32| {
        if *until >= tick && *until != u32::MAX {
            *until += 1;
        }
    };
    later(&mut run.invincible_until);
    later(&mut run.stunned_until);
    if !shots {
        run.rested += 1;
        later(&mut run.free);
        later(&mut run.active.1);
    }
    for gauge in &mut run.gauges {
        gauge.pays = gauge.pays.saturating_add(1);
        later(&mut gauge.frozen_until);
    }
}
