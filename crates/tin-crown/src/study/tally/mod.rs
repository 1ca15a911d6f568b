//! Tally: the sums that designers do by hand, from the rules alone.

mod ammo;
mod how;
mod lab;
mod means;
mod model;

pub use ammo::AmmoSum;
pub use means::Means;

use serde::Serialize;

use crate::amount::Amount;
use crate::encounter::Encounter;
use crate::order;
use crate::plan::{HEALTH, Plan};
use crate::reach::Reach;
use crate::time::Ticks;
use means::{Side, Source};
use model::{Model, Reckoned};

/// The sums of every kind that can hit another by a rule.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Tally {
    /// Ticks a second.
    pub rate: u32,
    /// Each who, rule and whom, in the order of the rules.
    pub sums: Vec<Sum>,
}

/// What one kind does to another by a rule.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Sum {
    /// The kind that hits; of what is launched, its own.
    pub who: String,
    /// By what means.
    pub means: Means,
    /// The rule.
    pub rule: String,
    /// The kind that is hit.
    pub whom: String,
    /// What a hit takes at the least and at the most.
    pub damage: [Amount; 2],
    /// Whether a hit kills outright.
    pub kills: bool,
    /// What whom has at the start, if it has health.
    pub health: Option<Amount>,
    /// How many hits kill, as soon as each counts; none when they never do.
    pub hits: Option<u32>,
    /// From the press, the clock's zero, or the first touch to the first hit.
    pub first: Option<Ticks>,
    /// The least time between two hits while they are in reach of each other; none when only one comes.
    pub spacing: Option<Ticks>,
    /// From the press, the clock's zero, or the first touch to the beginning of the death.
    pub time: Option<Ticks>,
    /// Whether so much comes back between hits that they never kill.
    pub outrun: bool,
    /// The longest that whom is without the use of its limbs, up to its death.
    pub locked: Ticks,
    /// Against a raised guard.
    pub guard: Option<GuardSum>,
    /// What the launches cost.
    pub ammo: Option<AmmoSum>,
    /// How it was reckoned, step by step.
    pub how: Vec<String>,
    /// Whether a replay made for the purpose agrees.
    pub replayed: Replayed,
}

/// What a raised guard holds.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct GuardSum {
    /// How many hits break it; none when they never do.
    pub hits: Option<u32>,
    /// From the first hit to the one that breaks it.
    pub time: Option<Ticks>,
    /// Whether they kill through it before it breaks.
    pub kills: bool,
    /// Whether a replay made for the purpose agrees.
    pub replayed: Replayed,
}

/// Whether a replay made for the purpose agrees.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Replayed {
    /// Hit for hit.
    Agrees {
        /// How many hits there were.
        hits: u32,
    },
    /// It does not.
    Differs {
        /// What was reckoned and what was seen, in words.
        how: String,
    },
    /// None could be made.
    Not {
        /// Why.
        why: String,
    },
}

/// So long is replayed at the most, and so many hits.
const PLAYED: u32 = 7_200;
const PLAYED_HITS: usize = 120;

/// Does the sums of all kinds that can hit each other: what the numbers of the rules come to with both in reach of each
/// other all the time, every gate passed, and every start timed so that it counts as soon as it can. Each is held
/// to a replay made for the purpose.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Ticks;
/// use tin_crown::study::tally;
///
/// let checked = tin_crown::check(file);
/// let tally = tally(&checked.encounter.unwrap(), &checked.plan.unwrap());
/// let gore = tally.sums.iter().find(|sum| sum.who == "beetle" && sum.whom == "tin-porter").unwrap();
/// // One of four a hit, thirty ticks of invincibility between them.
/// assert_eq!((gore.hits, gore.spacing, gore.time), (Some(4), Some(Ticks(30)), Some(Ticks(90))));
/// ```
pub fn tally(encounter: &Encounter, plan: &Plan) -> Tally {
    let mut reaches = plan.reaches();
    order::sort_by_key(&mut reaches, |reach| (reach.rule, reach.who, reach.whom));
    let mut sums = Vec::new();
    for reach in reaches {
        let who = means::side(plan, reach.who, reach.rule, true);
        let whom = means::side(plan, reach.whom, reach.rule, false);
        let (Some(who), Some(whom)) = (who, whom) else {
            continue;
        };
        for (means, source, hitbox) in means::means(plan, &who) {
            let pair = Pair {
                encounter,
                plan,
                reach,
                who: &who,
                hitbox,
                whom: &whom,
                source,
            };
            sums.push(pair.sum(means));
        }
    }
    Tally {
        rate: plan.rate,
        sums,
    }
}

/// One who, rule and whom.
struct Pair<'a> {
    encounter: &'a Encounter,
    plan: &'a Plan,
    reach: Reach,
    who: &'a Side<'a>,
    hitbox: usize,
    whom: &'a Side<'a>,
    source: Source<'a>,
}

impl Pair<'_> {
    fn sum(&self, means: Means) -> Sum {
        let (plan, names) = (self.plan, &self.plan.names);
        let rule = &plan.rules[self.reach.rule.index()];
        let whom = self.whom.spec;
        let start = match self.source.starts() {
            None => 0,
            Some(_) => 1,
        };
        let found = self.model(false, start, None, 0.0).reckon();
        let health = names
            .meters
            .find(HEALTH)
            .and_then(|health| whom.meter(health));
        let health = health.map(|nth| whom.meters[nth].start);
        let spacing = found.hits.windows(2).map(|pair| pair[1] - pair[0]).min();
        let needed = found.dies.map(|_| found.hits.len() as u32);
        let ammo = match &self.source {
            Source::Launcher(launcher) => ammo::sum(plan, launcher, launches(&found)),
            _ => None,
        };
        let guard = whom.guard.is_some() && !rule.pierces_guard && !rule.only_gives;
        let damage = rule.does.damage.as_ref();
        let range = damage.map_or([Amount::ZERO; 2], |damage| {
            let bands = damage.bands.iter().map(|(_, amount)| *amount);
            let all: Vec<Amount> = match damage.bands.is_empty() {
                false => bands.collect(),
                true if damage.chain_add == Amount::ZERO => vec![damage.amount],
                true => (0..PLAYED_HITS as u32)
                    .map(|chain| damage.after(chain, || 0.0))
                    .collect(),
            };
            let taken = all
                .into_iter()
                .map(|amount| whom.taken(amount, damage.sort));
            let (least, most) = taken.fold((None, Amount::ZERO), |(least, most), one| {
                (
                    Some(least.map_or(one, |least: Amount| least.min(one))),
                    most.max(one),
                )
            });
            [least.unwrap_or_default(), most]
        });
        let hurts = range[1].is_positive() || rule.does.kill;
        let outrun = hurts && found.holds_out;
        Sum {
            who: names.kinds[self.reach.who].clone(),
            means,
            rule: rule.name.clone(),
            whom: names.kinds[self.reach.whom].clone(),
            damage: range,
            kills: rule.does.kill,
            health,
            hits: needed,
            first: found.hits.first().map(|first| Ticks(first - start)),
            spacing: spacing.map(Ticks),
            time: found.dies.map(|dies| Ticks(dies - start)),
            outrun,
            locked: Ticks(found.locked),
            guard: guard.then(|| self.guard()),
            ammo,
            how: how::how(self, range, health, &found, start),
            replayed: self.replayed(false),
        }
    }

    fn model(&self, guarding: bool, from: u32, clock: Option<u32>, distance: f64) -> Model<'_> {
        Model {
            plan: self.plan,
            rule: &self.plan.rules[self.reach.rule.index()],
            whom: self.whom.spec,
            source: self.source,
            guarding,
            from,
            clock,
            distance,
            lasts: self.who.spec.lifetime,
        }
    }

    fn guard(&self) -> GuardSum {
        let found = self.model(true, 1, None, 0.0).reckon();
        let first = found.hits.first().copied().unwrap_or(0);
        GuardSum {
            hits: found.breaks.map(|_| found.hits.len() as u32),
            time: found.breaks.map(|breaks| Ticks(breaks - first)),
            kills: found.breaks.is_none() && found.dies.is_some(),
            replayed: self.replayed(true),
        }
    }

    /// Whether a replay made for the purpose agrees.
    fn replayed(&self, guarding: bool) -> Replayed {
        let not = |why: &str| Replayed::Not {
            why: why.to_owned(),
        };
        let lab = lab::Lab::new(
            self.encounter,
            self.plan,
            self.reach.rule,
            &self.source,
            (self.who.spec, self.hitbox),
            (self.whom.spec, self.whom.boxes[0]),
            guarding,
        );
        let lab = match lab {
            Ok(lab) => lab,
            Err(why) => return not(why),
        };
        let reckoned = self
            .model(guarding, lab.from(), Some(lab.clock()), lab.distance())
            .reckon();
        let most = reckoned
            .hits
            .last()
            .map_or(600, |last| (last + 120).min(PLAYED));
        let played = match lab.play(most, PLAYED_HITS) {
            Ok(played) => played,
            Err(why) => return not(why),
        };
        compared(&reckoned, &played, guarding)
    }
}

/// How many launches kill: what is launched on one tick is one.
fn launches(found: &Reckoned) -> Option<u32> {
    let mut ticks = found.hits.clone();
    ticks.dedup();
    found.dies.map(|_| ticks.len() as u32)
}

/// Whether what was seen is what was reckoned, as far as was played.
fn compared(reckoned: &Reckoned, played: &lab::Played, guarding: bool) -> Replayed {
    let mut hits = played.hits.clone();
    // What else hits on the tick of the death is overkill.
    let end = reckoned.dies.or(reckoned.breaks);
    while hits.len() > reckoned.hits.len() && hits.last().copied() == end {
        hits.pop();
    }
    // Whether it was left off before anything was decided.
    let stopped =
        played.dry || hits.len() >= PLAYED_HITS || end.is_none_or(|end| end > played.last);
    let within = reckoned
        .hits
        .iter()
        .take_while(|tick| **tick <= played.last);
    let due = match played.dry {
        true => hits.len(),
        false => within.count().min(PLAYED_HITS),
    };
    let mut pairs = reckoned.hits.iter().zip(&hits);
    let parted = pairs.position(|(one, other)| one != other);
    // What the first hit of a tick ends, another of it may end another way.
    let same_end = match (reckoned.dies, reckoned.breaks) {
        (Some(_), _) => reckoned.dies == played.dies,
        (None, Some(_)) => reckoned.breaks == played.breaks,
        (None, None) => (played.dies, played.breaks) == (None, None),
    };
    let how = match parted {
        Some(nth) => format!(
            "hit {} on tick {} by the sums, on {} in the replay",
            nth + 1,
            reckoned.hits[nth],
            hits[nth]
        ),
        None if hits.len() != due => {
            format!("{due} hits by the sums, {} in the replay", hits.len())
        }
        None if !stopped && !same_end => "the same hits, and another end".to_owned(),
        None if played.cut => "an attack began before the one before it was over".to_owned(),
        None if !stopped && !guarding && reckoned.locked != played.locked => format!(
            "locked for {}t by the sums, {}t in the replay",
            reckoned.locked, played.locked
        ),
        None => {
            return Replayed::Agrees {
                hits: hits.len() as u32,
            };
        }
    };
    Replayed::Differs { how }
}
