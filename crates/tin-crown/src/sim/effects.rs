//! Phase 6, effects: hits in candidate order, then who left the arena, then deaths.

use super::motion;
use super::state::{Because, Doom, State};
use super::verdict::Candidate;
use crate::amount::Amount;
use crate::encounter::Outside;
use crate::geometry::Vec2;
use crate::ledger::{DeathCause, Hit, LineId, Outcome, Verdict, What};
use crate::plan::{ActorIx, MeterIx, Plan, PushPlan};
use crate::time::Ticks;

/// Everyone as placed.
pub(super) fn appear(plan: &Plan, state: &mut State) {
    for index in (0..state.actors.len()).map(ActorIx::new) {
        state.ledger.push(state.tick, Some(index), What::Appear);
        if let Some(body) = &plan.spec(index).body {
            motion::settle(plan, state, index, body);
        }
    }
}

pub(super) fn run(plan: &Plan, state: &mut State) {
    for nth in 0..state.judgement.order.len() {
        let index = state.judgement.order[nth];
        let candidate = state.judgement.candidates[index as usize];
        if let Some(line) = record(plan, state, index, &candidate)
            && candidate.verdict == Verdict::Landed
        {
            strike(plan, state, &candidate, line);
        }
    }
    leave(plan, state);
    die(plan, state);
}

/// Writes the line of a candidate, when there is something to say: always when it landed, else when
/// the verdict changed since the two came together.
fn record(plan: &Plan, state: &mut State, index: u32, candidate: &Candidate) -> Option<LineId> {
    let told = state.pairs.get(candidate).told;
    let same = told.is_some_and(|(verdict, _)| verdict == candidate.verdict);
    let landed = candidate.verdict == Verdict::Landed;
    if candidate.verdict == Verdict::Ally || (same && !landed) {
        return None;
    }
    let because = candidate.because.map(|because| match because {
        Because::Line(line) => line,
        Because::Candidate(index) => written(state, index),
    });
    let amount = landed.then(|| plan.rules[candidate.rule.index()].damage.as_ref());
    let what = What::Hit(Hit {
        verdict: candidate.verdict,
        hitbox: candidate.hitbox,
        hurtbox: candidate.hurtbox,
        moment: candidate.moment,
        amount: amount.flatten().map(|damage| damage.amount),
        overkill: Amount::ZERO,
        until: candidate.until,
    });
    let line = state.ledger.push(state.tick, Some(candidate.who), what);
    line.on(candidate.whom, candidate.rule).because = because;
    let line = line.id;
    let pair = state.pairs.get_mut(candidate);
    pair.told = Some((candidate.verdict, line));
    // Windows that this hit opened know their line from now on.
    if landed {
        pair.hit = Some(line);
        for window in &mut state.actors[candidate.whom.index()].windows {
            if matches!(window.because, Because::Candidate(opener) if opener == index) {
                window.because = Because::Line(line);
            }
        }
    }
    Some(line)
}

/// The line of a candidate that came earlier in this tick's order.
fn written(state: &State, index: u32) -> LineId {
    let candidate = &state.judgement.candidates[index as usize];
    let told = state.pairs.get(candidate).told;
    told.map_or(LineId(0), |(_, line)| line)
}

/// What a hit that landed does.
fn strike(plan: &Plan, state: &mut State, candidate: &Candidate, line: LineId) {
    let rule = &plan.rules[candidate.rule.index()];
    if let Some(damage) = &rule.damage {
        let mut left = damage.amount;
        let mut found = false;
        for &meter in &damage.meters {
            let Some(held) = held(plan, state, candidate.whom, meter) else {
                continue;
            };
            found = true;
            let taken = state.meters[held].min(left);
            left -= taken;
            change(plan, state, candidate, line, meter, held, -taken);
        }
        if let Some(event) = state.ledger.get_mut(line)
            && let What::Hit(hit) = &mut event.what
        {
            if found {
                hit.overkill = left;
            } else {
                hit.amount = None;
            }
        }
    }
    if let Some(push) = &rule.knockback {
        let other = state.actors[candidate.who.index()].at;
        let facing = state.actors[candidate.who.index()].facing.sign();
        shove(plan, state, candidate.whom, push, other, facing);
    }
}

/// Where an actor's meter stands in the list of all.
fn held(plan: &Plan, state: &State, actor: ActorIx, meter: MeterIx) -> Option<usize> {
    let place = plan.spec(actor).meter(meter)?;
    Some(state.actors[actor.index()].first_meter + place)
}

/// Changes a meter by what it can take, writes the line, and begins the end when health is empty.
fn change(
    plan: &Plan,
    state: &mut State,
    candidate: &Candidate,
    line: LineId,
    meter: MeterIx,
    held: usize,
    by: Amount,
) {
    if by == Amount::ZERO {
        return;
    }
    let before = state.meters[held];
    let after = before + by;
    state.meters[held] = after;
    let what = What::Meter {
        meter,
        before,
        after,
    };
    let event = state.ledger.push(state.tick, Some(candidate.who), what);
    event
        .on(candidate.whom, candidate.rule)
        .caused_by(Some(line));
    let empty = after == Amount::ZERO && plan.meters[meter.index()] == crate::plan::HEALTH;
    if empty {
        let doom = Doom {
            of: DeathCause::Health,
            hit: Some(line),
            by: Some(candidate.who),
        };
        state.doom(candidate.whom, doom);
    }
}

/// Sets the components of velocity that a push names. `other` is where the other party is, and
/// `facing` where it faces: away from it when the two are level.
fn shove(
    plan: &Plan,
    state: &mut State,
    index: ActorIx,
    push: &PushPlan,
    other: Vec2,
    facing: f64,
) {
    let actor = &mut state.actors[index.index()];
    let from = actor.at - other;
    if let Some(away) = push.away {
        let way = if from.x == 0.0 {
            facing
        } else {
            from.x.signum()
        };
        actor.velocity.x = away * way;
    }
    if let Some(forward) = push.forward {
        actor.velocity.x = forward * actor.facing.sign();
    }
    if let Some(along) = push.along {
        let line = if from == Vec2::ZERO {
            Vec2::new(facing, 0.0)
        } else {
            from.unit()
        };
        actor.velocity = line * along;
    }
    if let Some(up) = push.up {
        actor.velocity.y = up * plan.arena.up.sign();
    }
    if push.length > Ticks(0) {
        // The hit is of this tick, whose motion is over: the window covers the motions to come.
        let until = state.tick + push.length;
        actor.undriven_until = actor.undriven_until.max(until);
    }
}

/// Who is wholly outside the arena.
fn leave(plan: &Plan, state: &mut State) {
    for nth in 0..state.confined.len() {
        let index = state.confined[nth];
        let spec = plan.spec(index);
        let actor = &mut state.actors[index.index()];
        if !actor.alive {
            continue;
        }
        let extent = match &spec.body {
            Some(body) => body.shape(actor.facing).bounds(),
            None => spec.extent(actor.facing),
        };
        let inside = if extent.is_empty() {
            let point = crate::geometry::Bounds {
                min: actor.at,
                max: actor.at,
            };
            point.meets(plan.arena.bounds)
        } else {
            extent.moved(actor.at).meets(plan.arena.bounds)
        };
        if inside {
            continue;
        }
        if spec.outside == Outside::Vanishes {
            actor.alive = false;
            state.ledger.push(state.tick, Some(index), What::Vanish);
        } else {
            let doom = Doom {
                of: DeathCause::Outside,
                hit: None,
                by: None,
            };
            state.doom(index, doom);
        }
    }
}

/// Deaths begin, once a life. A sequence without steps is over at once.
fn die(plan: &Plan, state: &mut State) {
    if state.doomed.is_empty() {
        return;
    }
    let mut player_gone = false;
    state.doomed.sort_unstable();
    for nth in 0..state.doomed.len() {
        let index = state.doomed[nth];
        let actor = &mut state.actors[index.index()];
        let Some(doom) = actor.doom.take().filter(|_| actor.alive) else {
            continue;
        };
        actor.alive = false;
        let death = What::Death {
            by: doom.by,
            of: doom.of,
        };
        let event = state.ledger.push(state.tick, Some(index), death);
        let line = event.caused_by(doom.hit).id;
        let event = state.ledger.push(state.tick, Some(index), What::Gone);
        event.caused_by(Some(line));
        player_gone |= plan.spec(index).player;
    }
    state.doomed.clear();
    let mut players = plan.cast().filter(|&index| plan.spec(index).player);
    if player_gone && players.all(|index| !state.actors[index.index()].alive) {
        state.outcome = Some(Outcome::Lost);
    }
}
