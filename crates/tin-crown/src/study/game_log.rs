//! The game's own hit log against the rules: what both have, what only one has, and what is not alike.

mod health;
mod pairing;

pub use health::resync;

use serde::Serialize;

use super::compare::FieldChange;
use crate::amount::Amount;
use crate::ledger::{Event, LineId, Replay, What};
use crate::map::{Map, Set};
use crate::order;
use crate::plan::{ActorIx, Plan, RuleIx};
use crate::time::{Tick, Ticks};
use crate::track::{GameHit, GameLog, Party};

/// What comes of holding a replay against a hit log.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Against {
    /// How many hits both have alike.
    pub both: usize,
    /// What is not alike, in the order of ticks.
    pub differences: Vec<LogDifference>,
}

/// A hit that is not alike in the game and by the rules.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LogDifference {
    /// In what they differ.
    #[serde(rename = "difference")]
    pub unlike: Unlike,
    /// The tick of the hit in the game; by the rules, where the game has none.
    pub tick: u32,
    /// The same in seconds.
    pub seconds: f64,
    /// Who; in the log's words where only the game has it, absent where the log does not tell.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub who: Option<String>,
    /// Whom.
    pub whom: String,
    /// The hit in the game.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub game: Option<GameSide>,
    /// The hit by the rules.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rules: Option<RulesSide>,
    /// By how many ticks it comes later by the rules.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub moved: Option<i64>,
    /// What else is not alike: `old` in the game, `new` by the rules.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub fields: Vec<FieldChange>,
    /// The place of the difference from which it follows, in this list; none of a finding of its own.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub follows: Option<usize>,
}

/// In what a hit differs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Unlike {
    /// Only the game has it.
    OnlyGame,
    /// Only the rules have it.
    OnlyRules,
    /// It comes on another tick.
    Moved,
    /// It does something else.
    Changed,
}

/// A hit in the log.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct GameSide {
    /// The line of the log.
    pub line: u64,
    /// The tick.
    pub tick: u32,
    /// The rule, if it is told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rule: Option<String>,
    /// How much damage it did, if it is told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub amount: Option<f64>,
    /// How much health was left, if it is told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub health: Option<f64>,
}

/// A hit in the ledger.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct RulesSide {
    /// The line of the ledger.
    pub line: u32,
    /// The tick.
    pub tick: u32,
    /// The rule.
    pub rule: String,
    /// How much damage it did.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub amount: Option<f64>,
    /// How much health was left.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub health: Option<f64>,
}

/// A hit of a replay that took effect.
struct Landing<'r> {
    event: &'r Event,
    who: ActorIx,
    whom: ActorIx,
    rule: RuleIx,
    amount: Option<Amount>,
    /// How much of that there was to take; none when it killed whatever there was.
    taken: Option<Amount>,
    health: Option<Amount>,
}

/// Holds a replay against the game's own hit log. What the log does not say is not held against the rules: absent
/// columns and cells are not compared, and a hit that takes nothing is not missed in it. Hits at most `within` ticks
/// apart count as being on the same tick.
pub fn against(replay: &Replay, log: &GameLog, within: Ticks) -> Against {
    let landings = landings(replay);
    let pairs = pairing::pair(replay, &landings, &log.hits, within);
    let mut differences = Vec::new();
    let mut both = 0;
    let mut met = vec![false; landings.len()];
    for (hit, pair) in log.hits.iter().zip(pairs) {
        let landing = pair.map(|nth| {
            met[nth] = true;
            &landings[nth]
        });
        match told(replay, Some(hit), landing, within) {
            Some(difference) => differences.push(difference),
            None => both += 1,
        }
    }
    for (landing, _) in landings.iter().zip(met).filter(|(_, met)| !met) {
        let takes = landing.amount.is_some_and(Amount::is_positive);
        differences.extend(told(replay, None, Some(landing), within).filter(|_| takes));
    }
    order::sort_by_key(&mut differences, |one| {
        (one.tick, one.game.as_ref().map(|game| game.line))
    });
    follow(&mut differences);
    Against { both, differences }
}

impl Against {
    /// The differences that follow from none.
    pub fn findings(&self) -> impl Iterator<Item = (usize, &LogDifference)> {
        let all = self.differences.iter().enumerate();
        all.filter(|(_, one)| one.follows.is_none())
    }
}

/// A hit of the game's log, or one that it should have, as it is marked on a timeline.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct LogMark {
    /// On whom.
    pub whom: ActorIx,
    /// When: in the game, or by the rules where only those have it.
    pub tick: Tick,
    /// In what it differs; not at all when absent.
    pub unlike: Option<Unlike>,
}

impl Against {
    /// Every hit of a log, and every one that it should have, on placed actors of a plan.
    pub fn marks(&self, plan: &Plan, log: &GameLog) -> Vec<LogMark> {
        let mut marks = Vec::new();
        let mut differs = Set::new();
        for one in &self.differences {
            differs.extend(one.game.as_ref().map(|game| game.line));
            marks.extend(plan.actor(&one.whom).ok().map(|whom| LogMark {
                whom,
                tick: Tick(one.tick),
                unlike: Some(one.unlike),
            }));
        }
        for hit in log.hits.iter().filter(|hit| !differs.contains(&hit.line)) {
            if let Party::Placed(whom) = hit.whom {
                marks.push(LogMark {
                    whom,
                    tick: hit.tick,
                    unlike: None,
                });
            }
        }
        marks
    }
}

/// Of each actor the first difference is the finding; what it does and suffers later follows from that.
fn follow(differences: &mut [LogDifference]) {
    let mut first: Map<String, usize> = Map::new();
    for (nth, one) in differences.iter_mut().enumerate() {
        let actors = [Some(&one.whom), one.who.as_ref()];
        let earlier = actors
            .into_iter()
            .flatten()
            .filter_map(|who| first.get(who));
        one.follows = earlier.min().copied();
        if one.follows.is_none() {
            first.or_insert_with(one.whom.clone(), || nth);
        }
    }
}

/// The hits of a replay that took effect, in the order of its lines.
fn landings(replay: &Replay) -> Vec<Landing<'_>> {
    let events = replay.ledger().events();
    let mut health: Map<LineId, Amount> = Map::new();
    let plan = replay.plan();
    for event in events {
        if let (What::Meter { meter, after, .. }, Some(cause)) = (&event.what, event.cause)
            && plan.is_health(*meter)
        {
            health.insert(cause, *after);
        }
    }
    let landed = events.iter().filter_map(|event| {
        let What::Hit(hit) = &event.what else {
            return None;
        };
        Some(Landing {
            event,
            who: event.who?,
            whom: event.whom?,
            rule: event.rule?,
            amount: hit.amount.filter(|_| hit.verdict.took_effect()),
            taken: (!hit.kills).then_some(hit.amount.unwrap_or_default() - hit.overkill),
            health: health.get(&event.id).copied(),
        })
        .filter(|_| hit.verdict.took_effect())
    });
    landed.collect()
}

/// How a hit differs in the two; nothing when it does not.
fn told(
    replay: &Replay,
    hit: Option<&GameHit>,
    landing: Option<&Landing<'_>>,
    within: Ticks,
) -> Option<LogDifference> {
    let plan = replay.plan();
    let rule = |rule: RuleIx| plan.rules[rule.index()].name.clone();
    let name = |party: &Party| match party {
        Party::Placed(actor) => plan.actors[actor.index()].id.clone(),
        Party::Named(name) => name.to_string(),
    };
    let tick = hit.map_or_else(|| landing.map(|own| own.event.tick), |hit| Some(hit.tick))?;
    let (mut moved, mut fields) = (None, Vec::new());
    let unlike = match (hit, landing) {
        (Some(hit), Some(landing)) => {
            let by = i64::from(landing.event.tick.0) - i64::from(hit.tick.0);
            moved = (by.unsigned_abs() > u64::from(within.0)).then_some(by);
            fields = unlike(hit, landing, &rule);
            match (moved, fields.is_empty()) {
                (None, true) => return None,
                (Some(_), true) => Unlike::Moved,
                (_, false) => Unlike::Changed,
            }
        }
        (Some(_), None) => Unlike::OnlyGame,
        (None, _) => Unlike::OnlyRules,
    };
    let root = |actor: ActorIx| replay.id(replay.root(actor)).to_owned();
    Some(LogDifference {
        unlike,
        tick: tick.0,
        seconds: tick.seconds(plan.rate),
        who: match (hit.and_then(|hit| hit.who.as_ref()), landing) {
            (Some(who), _) => Some(name(who)),
            (None, Some(landing)) => Some(root(landing.who)),
            (None, None) => None,
        },
        whom: match (landing, hit) {
            (Some(landing), _) => replay.id(landing.whom).to_owned(),
            (None, Some(hit)) => name(&hit.whom),
            (None, None) => String::new(),
        },
        game: hit.map(|hit| GameSide {
            line: hit.line,
            tick: hit.tick.0,
            rule: hit.rule.map(rule),
            amount: hit.amount.map(Amount::as_f64),
            health: hit.health.map(Amount::as_f64),
        }),
        rules: landing.map(|own| RulesSide {
            line: own.event.id.0,
            tick: own.event.tick.0,
            rule: rule(own.rule),
            amount: own.amount.map(Amount::as_f64),
            health: own.health.map(Amount::as_f64),
        }),
        moved,
        fields,
        follows: None,
    })
}

/// What is not alike of two hits that are one, as far as the log tells.
fn unlike(
    hit: &GameHit,
    landing: &Landing<'_>,
    name: &impl Fn(RuleIx) -> String,
) -> Vec<FieldChange> {
    let mut fields = Vec::new();
    if let Some(rule) = hit.rule
        && rule != landing.rule
    {
        fields.push(FieldChange {
            key: "rule",
            old: Some(name(rule)),
            new: Some(name(landing.rule)),
        });
    }
    // A log may tell what a hit would have taken, or what there was to take.
    let whole = landing.amount == hit.amount;
    for (key, game, rules) in [
        ("amount", hit.amount.filter(|_| !whole), landing.taken),
        ("health", hit.health, landing.health),
    ] {
        if let (Some(game), Some(rules)) = (game, rules)
            && game != rules
        {
            fields.push(FieldChange {
                key,
                old: Some(game.to_string()),
                new: Some(rules.to_string()),
            });
        }
    }
    fields
}

/// Whether an actor of a replay is whom a log names.
fn is(replay: &Replay, party: &Party, actor: ActorIx) -> bool {
    match party {
        Party::Placed(placed) => *placed == actor,
        // A name that is used again is another actor, with a number.
        Party::Named(name) => replay.id(actor).strip_prefix(&**name).is_some_and(|rest| {
            let times = rest.strip_prefix('.');
            rest.is_empty()
                || times.is_some_and(|times| times.bytes().all(|byte| byte.is_ascii_digit()))
        }),
    }
}

/// Whether an actor acts for whom a log names.
fn acts(replay: &Replay, party: &Party, actor: ActorIx) -> bool {
    is(replay, party, actor) || is(replay, party, replay.root(actor))
}

/// How far a tick is from another.
fn apart(one: Tick, other: Tick) -> u32 {
    one.0.abs_diff(other.0)
}
