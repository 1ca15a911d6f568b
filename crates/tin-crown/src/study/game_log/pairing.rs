//! Which hit of a log is which of a replay.

use super::{Landing, acts, apart, is};
use crate::ledger::Replay;
use crate::map::Map;
use crate::plan::ActorIx;
use crate::time::Ticks;
use crate::track::{GameHit, Party};

/// Hits further apart than that, in thousandths of a second, are not the same.
const FAR: u32 = 250;

/// For each hit of a log the one of a replay that it is: first those on the same tick by the rule that the log says,
/// then by any, then the nearest.
pub(super) fn pair(
    replay: &Replay,
    landings: &[Landing<'_>],
    hits: &[GameHit],
    within: Ticks,
) -> Vec<Option<usize>> {
    let mut of: Map<ActorIx, Vec<usize>> = Map::new();
    for (nth, landing) in landings.iter().enumerate() {
        of.or_default(landing.whom).push(nth);
    }
    let far = (replay.plan().rate * FAR / 1000).max(within.0);
    let mut pairs = vec![None; hits.len()];
    let mut taken = vec![false; landings.len()];
    for (most, by_rule) in [
        (within.0, true),
        (within.0, false),
        (far, true),
        (far, false),
    ] {
        for (hit, pair) in hits
            .iter()
            .zip(&mut pairs)
            .filter(|(_, pair)| pair.is_none())
        {
            let near = near(replay, landings, &of, hit, most);
            let free = near.filter(|nth| {
                let landing = &landings[*nth];
                let rule = hit.rule.is_none_or(|rule| rule == landing.rule);
                let who = hit.who.as_ref();
                !taken[*nth]
                    && (rule || !by_rule)
                    && who.is_none_or(|who| acts(replay, who, landing.who))
            });
            *pair = free.min_by_key(|nth| apart(landings[*nth].event.tick, hit.tick));
            if let Some(nth) = *pair {
                taken[nth] = true;
            }
        }
    }
    pairs
}

/// The hits on whom a log names, at most so many ticks away.
fn near<'a>(
    replay: &'a Replay,
    landings: &'a [Landing<'_>],
    of: &'a Map<ActorIx, Vec<usize>>,
    hit: &'a GameHit,
    most: u32,
) -> impl Iterator<Item = usize> + 'a {
    let only = match hit.whom {
        Party::Placed(actor) => Some(actor),
        Party::Named(_) => None,
    };
    let lists = of.iter().filter(move |(whom, _)| match only {
        Some(only) => only == **whom,
        None => is(replay, &hit.whom, **whom),
    });
    lists.flat_map(move |(_, list)| {
        let tick = |nth: &usize| landings[*nth].event.tick.0;
        let from = list.partition_point(|nth| tick(nth) < hit.tick.0.saturating_sub(most));
        let on = list[from..].iter().copied();
        on.take_while(move |nth| tick(nth) <= hit.tick.0.saturating_add(most))
    })
}
