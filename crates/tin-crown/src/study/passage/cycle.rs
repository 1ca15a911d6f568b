//! The common cycle of all who are no players: found by looking on, while the players wait.

use std::hash::Hasher;
use std::sync::Arc;

use serde::Serialize;
use xxhash_rust::xxh3::Xxh3;

use crate::plan::{ActorIx, Plan};
use crate::random::mix;
use crate::sim::{Live, ReplayError, Sim};
use crate::time::Ticks;

/// How often everything comes back to where it was.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Cycle {
    /// Every so many ticks all of it does; none when some of it never does, or not within the cap.
    pub period: Option<Ticks>,
    /// From which tick on it does.
    pub settles: Ticks,
    /// The cycle of each actor that has one of more than a tick.
    pub each: Vec<(String, Ticks)>,
    /// The ids of those who have none within the cap.
    pub without: Vec<String>,
}

/// Watches a world in which the players do nothing, for three times the cap: whatever comes before, a cycle of up to
/// the cap is seen twice after that.
pub(super) fn find(plan: &Arc<Plan>, seed: u32, cap: Ticks) -> Result<Cycle, ReplayError> {
    let hazards: Vec<ActorIx> = plan
        .cast()
        .filter(|actor| !plan.spec(*actor).player)
        .collect();
    let length = 3 * cap.0.max(1);
    let mut seen: Vec<Vec<u64>> = vec![Vec::with_capacity(length as usize + 1); hazards.len()];
    let mut world = Sim::open(plan, seed).unrecorded();
    for tick in 0..=length {
        if tick > 0 {
            world.step()?;
        }
        look(&world, &hazards, &mut seen);
        world.drain();
    }
    let mut cycle = Cycle {
        period: Some(Ticks(1)),
        settles: Ticks(0),
        each: Vec::new(),
        without: Vec::new(),
    };
    for (hazard, seen) in hazards.iter().zip(&seen) {
        let id = plan.actors[hazard.index()].id.clone();
        let Some((period, settles)) = period(seen, cap.0 as usize) else {
            cycle.period = None;
            cycle.without.push(id);
            continue;
        };
        if period > 1 {
            cycle.each.push((id, Ticks(period)));
        }
        cycle.settles = cycle.settles.max(Ticks(settles));
        let joined = cycle.period.and_then(|own| common(own.0, period));
        cycle.period = joined.filter(|joined| *joined <= cap.0).map(Ticks);
    }
    if cycle.period.is_none() {
        cycle.settles = Ticks(0);
    }
    Ok(cycle)
}

/// Adds to what was seen of each hazard how it stands now, with what it has launched.
fn look(world: &Live, hazards: &[ActorIx], seen: &mut [Vec<u64>]) {
    let mut now = vec![0_u64; hazards.len()];
    for actor in world.enrolled() {
        let root = world.root(actor);
        let Some(own) = hazards.iter().position(|hazard| *hazard == root) else {
            continue;
        };
        let view = world.actor(actor);
        let mut print = Xxh3::new();
        print.write_usize(world.spec(actor).kind().index());
        print.write_u8(u8::from(view.alive) | u8::from(view.dying) << 1);
        if view.alive || view.dying {
            for number in [view.at.x, view.at.y, view.height] {
                print.write_u64((number + 0.0).to_bits());
            }
            print.write_u64(view.facing.angle().known_degrees().to_bits());
            print.write_u64(view.live.hit());
            print.write_u64(view.live.hurt());
            print.write_usize(view.state.map_or(0, |state| 1 + state.index()));
            for held in view.meters {
                print.write_i64(held.in_thousandths());
            }
        }
        // Whatever the order, and however many there were before.
        now[own] = now[own].wrapping_add(mix(print.finish()));
    }
    for (all, now) in seen.iter_mut().zip(now) {
        all.push(now);
    }
}

/// The least period with which the last two thirds of what was seen repeat, and from when on all of it does.
fn period(seen: &[u64], cap: usize) -> Option<(u32, u32)> {
    let counted = 2 * cap.min(seen.len() / 2);
    // The borders of what was seen, from its end backward: a period of a text is its length less a border (D. Knuth,
    // J. Morris, V. Pratt, "Fast pattern matching in strings", SIAM Journal on Computing 6, 1977).
    let last: Vec<u64> = seen.iter().rev().take(counted).copied().collect();
    let mut borders = vec![0_usize; last.len()];
    for nth in 1..last.len() {
        let mut border = borders[nth - 1];
        while border > 0 && last[nth] != last[border] {
            border = borders[border - 1];
        }
        borders[nth] = border + usize::from(last[nth] == last[border]);
    }
    let least = last.len() - borders.last()?;
    // Seen twice at the least.
    if least > cap || 2 * least > last.len() {
        return None;
    }
    let differs = (least..seen.len())
        .rev()
        .find(|nth| seen[*nth] != seen[nth - least]);
    let settles = differs.map_or(0, |nth| nth - least + 1);
    Some((least as u32, settles as u32))
}

/// The least common multiple.
fn common(one: u32, other: u32) -> Option<u32> {
    let (mut a, mut b) = (one, other);
    while b != 0 {
        (a, b) = (b, a % b);
    }
    (one / a).checked_mul(other)
}
