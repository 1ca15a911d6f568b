//! What differs between two ledgers.

use std::borrow::Cow;
use std::collections::BTreeMap;

use serde::Serialize;

use crate::ledger::{Line, Record};
use crate::time::Ticks;
use crate::verdict::Verdict;

/// What differs between two ledgers.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Comparison<'r> {
    /// The ticks a second of the old ledger and the new, when they are not the same.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub rates: Option<[u32; 2]>,
    /// What differs, in the order of ticks.
    pub changes: Vec<Change<'r>>,
    /// How many events are the same.
    pub same: usize,
    /// Damage by pair, where that differs.
    pub pairs: Vec<PairSum<'r>>,
}

/// An event that is not as it was.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Change<'r> {
    /// The old event; absent when it is new.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub old: Option<&'r Line<'r>>,
    /// The new event; absent when it is gone.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub new: Option<&'r Line<'r>>,
    /// By how many ticks of the new ledger it moved, later counted positive.
    pub moved: i64,
    /// What else about it is not as it was.
    pub fields: Vec<FieldChange>,
    /// The ticks a second of the old ledger and the new.
    #[serde(skip)]
    pub(super) rates: [u32; 2],
}

/// Something about an event that is not as it was.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct FieldChange {
    /// The key of the ledger.
    pub key: &'static str,
    /// What it was; absent when it was not there.
    pub old: Option<String>,
    /// What it is; absent when it is not there.
    pub new: Option<String>,
}

/// What an actor dealt to another, then and now.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct PairSum<'r> {
    /// Who; of what is launched, its maker.
    pub who: &'r str,
    /// Whom.
    pub whom: &'r str,
    /// How many hits took effect, then and now.
    pub hits: [u32; 2],
    /// How much all meters lost to them, then and now.
    pub taken: [f64; 2],
}

impl Change<'_> {
    /// What became of it: `new`, `gone`, `moved` or `changed`.
    pub fn sort(&self) -> &'static str {
        match (self.old, self.new) {
            (None, _) => "new",
            (_, None) => "gone",
            _ if self.fields.is_empty() => "moved",
            _ => "changed",
        }
    }

    /// The event as it is now, or as it was when it is gone.
    pub fn line(&self) -> Option<&Line<'_>> {
        self.new.or(self.old)
    }
}

impl Comparison<'_> {
    /// Whether nothing differs.
    pub fn is_empty(&self) -> bool {
        self.changes.is_empty() && self.rates.is_none()
    }
}

/// What makes events of two ledgers the same event: of one key they are matched in their order.
type Key<'r> = (
    &'r str,
    Option<&'r str>,
    Option<&'r str>,
    Option<&'r str>,
    Vec<Cow<'r, str>>,
);

/// Compares two ledgers. Events match by what happens, who, whom and rule, in their order; one that
/// moved by no more than `within` counts as the same. Places, and the numbers of gates, do not count.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::{Record, Ticks, study};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let (careful, careless) = (plan.replay("careful")?, plan.replay("careless")?);
/// let (old, new) = (Record::of(&careful), Record::of(&careless));
/// assert!(study::compare(&old, &old, Ticks(0)).is_empty());
/// assert!(!study::compare(&old, &new, Ticks(0)).is_empty());
/// # Ok::<(), tin_crown::ReplayError>(())
/// ```
pub fn compare<'r>(old: &'r Record<'r>, new: &'r Record<'r>, within: Ticks) -> Comparison<'r> {
    let golden = [old, new]
        .iter()
        .any(|record| record.header.digest.is_empty());
    let mut groups: BTreeMap<Key<'r>, [Vec<&'r Line<'r>>; 2]> = BTreeMap::new();
    for (side, record) in [old, new].into_iter().enumerate() {
        // A golden record has no inputs.
        let lines = record
            .lines
            .iter()
            .filter(|line| !golden || !line.is_input());
        for line in lines {
            groups.entry(key(line)).or_default()[side].push(line);
        }
    }
    let rates = [old.header.rate, new.header.rate];
    let mut same = 0;
    let mut changes = Vec::new();
    for [old, new] in groups.into_values() {
        for (old, new) in matched(&old, &new, rates) {
            let change = change(old, new, rates);
            let moved = change.moved.unsigned_abs() > u64::from(within.0);
            if change.fields.is_empty() && !moved && old.is_some() && new.is_some() {
                same += 1;
            } else {
                changes.push(change);
            }
        }
    }
    turned(&mut changes, within, rates);
    changes.sort_by_key(|change| {
        let old = change.old.map(|line| in_new(line.tick, rates));
        let tick = change.new.map(|line| line.tick).or(old);
        (tick, change.line().map(|line| line.id))
    });
    Comparison {
        rates: (rates[0] != rates[1]).then_some(rates),
        changes,
        same,
        pairs: pairs(old, new),
    }
}

/// The tick of the new ledger that is nearest to one of the old.
fn in_new(tick: u32, [old, new]: [u32; 2]) -> u32 {
    let (tick, old, new) = (u64::from(tick), u64::from(old), u64::from(new));
    let nearest = (2 * tick * new + old) / (2 * old);
    u32::try_from(nearest).unwrap_or(u32::MAX)
}

fn key<'r>(line: &'r Line<'r>) -> Key<'r> {
    let text = |text: &'r Option<Cow<'r, str>>| text.as_deref();
    let mut about: Vec<Cow<'r, str>> = [
        &line.meter,
        &line.button,
        &line.attack,
        &line.over,
        &line.launcher,
        &line.state,
        &line.sensor,
        &line.checkpoint,
        &line.exit,
        &line.cue,
    ]
    .into_iter()
    .map(|name| Cow::from(name.as_deref().unwrap_or_default()))
    .collect();
    about.extend(line.down.map(|down| Cow::from(down.to_string())));
    about.extend(line.seen.map(|seen| Cow::from(seen.to_string())));
    if line.event == "hit" {
        about.push(if took_effect(line) {
            "".into()
        } else {
            line.verdict.as_deref().unwrap_or_default().into()
        });
    }
    if line.event == "meter" {
        let gains = line.amount.is_some_and(|amount| amount > 0.0);
        about.push(gains.to_string().into());
    }
    (
        &line.event,
        text(&line.who),
        text(&line.whom),
        text(&line.rule),
        about,
    )
}

fn took_effect(line: &Line<'_>) -> bool {
    let took = |verdict: &&Verdict| verdict.took_effect();
    let mut effective = Verdict::ALL.iter().filter(took);
    effective.any(|verdict| line.verdict.as_deref() == Some(verdict.as_str()))
}

type Match<'r> = (Option<&'r Line<'r>>, Option<&'r Line<'r>>);

/// Two lists of events of one key, matched. As many in both: one by one. Else those of one tick match
/// first, and between them the run that moves least.
fn matched<'r>(old: &[&'r Line<'r>], new: &[&'r Line<'r>], rates: [u32; 2]) -> Vec<Match<'r>> {
    if old.len() == new.len() {
        let pairs = old.iter().zip(new);
        return pairs.map(|(old, new)| (Some(*old), Some(*new))).collect();
    }
    let mut all = Vec::new();
    let (mut from, mut to) = ((0, 0), (0, 0));
    loop {
        let (one, other) = (old.get(to.0), new.get(to.1));
        match (one, other) {
            (Some(one), Some(other)) if in_new(one.tick, rates) == other.tick => {
                all.extend(gap(&old[from.0..to.0], &new[from.1..to.1], rates));
                all.push((Some(*one), Some(*other)));
                to = (to.0 + 1, to.1 + 1);
                from = to;
            }
            (Some(one), Some(other)) if in_new(one.tick, rates) < other.tick => to.0 += 1,
            (Some(_), None) => to.0 += 1,
            (_, Some(_)) => to.1 += 1,
            (None, None) => break,
        }
    }
    all.extend(gap(&old[from.0..], &new[from.1..], rates));
    all
}

/// Events no two of which share a tick: the fewer ones in a row against those of the more that are
/// nearest.
fn gap<'r>(old: &[&'r Line<'r>], new: &[&'r Line<'r>], rates: [u32; 2]) -> Vec<Match<'r>> {
    /// Beyond so many steps the first fit does.
    const WORTH: usize = 4_000_000;
    let as_new = |line: &Line<'_>| in_new(line.tick, rates);
    let as_is = |line: &Line<'_>| line.tick;
    type At<'f> = &'f dyn Fn(&Line<'_>) -> u32;
    let (few, many, at): (_, _, [At<'_>; 2]) = if old.len() <= new.len() {
        (old, new, [&as_new, &as_is])
    } else {
        (new, old, [&as_is, &as_new])
    };
    let spare = many.len() - few.len();
    let tries = if few.len() * (spare + 1) > WORTH {
        0
    } else {
        spare
    };
    let off = |start: usize| -> u64 {
        let pairs = few.iter().zip(&many[start..]);
        pairs
            .map(|(a, b)| u64::from(at[0](a).abs_diff(at[1](b))))
            .sum()
    };
    let start = (0..=tries).min_by_key(|start| off(*start)).unwrap_or(0);
    let swap = |(few, many): Match<'r>| {
        if old.len() <= new.len() {
            (few, many)
        } else {
            (many, few)
        }
    };
    let matched = many.iter().enumerate().map(|(nth, line)| {
        let partner = nth.checked_sub(start).and_then(|nth| few.get(nth));
        swap((partner.copied(), Some(*line)))
    });
    matched.collect()
}

fn change<'r>(old: Option<&'r Line<'r>>, new: Option<&'r Line<'r>>, rates: [u32; 2]) -> Change<'r> {
    let (moved, fields) = match (old, new) {
        (Some(old), Some(new)) => {
            let before = i64::from(in_new(old.tick, rates));
            (i64::from(new.tick) - before, fields(old, new, rates))
        }
        _ => (0, Vec::new()),
    };
    Change {
        old,
        new,
        moved,
        fields,
        rates,
    }
}

/// What is not the same about two events.
fn fields(one: &Line<'_>, other: &Line<'_>, rates: [u32; 2]) -> Vec<FieldChange> {
    // Of two rates, ticks are not the same time.
    let after = |left: u32, rate: u32| match rates[0] == rates[1] {
        true => format!("+{left}t"),
        false => format!("+{:.3}s", f64::from(left) / f64::from(rate)),
    };
    let values = |line: &Line<'_>, rate: u32| {
        let text = |text: &Option<Cow<'_, str>>| text.as_deref().map(str::to_owned);
        let number = |number: Option<f64>| number.map(|number| number.to_string());
        let count = |count: Option<u32>| count.map(|count| count.to_string());
        // A window moves with what opened it.
        let left = line.until.map(|until| until.saturating_sub(line.tick));
        [
            ("verdict", text(&line.verdict)),
            ("gate", text(&line.gate)),
            ("guard", text(&line.guard)),
            ("before", number(line.before)),
            ("after", number(line.after)),
            ("amount", number(line.amount)),
            ("blocked", number(line.blocked)),
            ("overkill", number(line.overkill)),
            ("chain", count(line.chain)),
            ("until", left.map(|left| after(left, rate))),
            ("hitbox", text(&line.hitbox)),
            ("hurtbox", text(&line.hurtbox)),
            ("count", count(line.count)),
            ("from", text(&line.from)),
            ("of", text(&line.of)),
            ("by", text(&line.by)),
            ("outcome", text(&line.outcome)),
        ]
    };
    let [old, new] = rates;
    let pairs = values(one, old).into_iter().zip(values(other, new));
    let differ = pairs.filter(|((_, old), (_, new))| old != new);
    differ
        .map(|((key, old), (_, new))| FieldChange { key, old, new })
        .collect()
}

/// A hit that is gone, and one between the same two by the same rule that is new at the same time, are
/// one whose verdict turned.
fn turned(changes: &mut Vec<Change<'_>>, within: Ticks, rates: [u32; 2]) {
    let mut at: BTreeMap<_, Vec<usize>> = BTreeMap::new();
    let hit = |change: &Change<'_>| change.line().is_some_and(|line| line.event == "hit");
    for (nth, change) in changes.iter().enumerate() {
        if let (None, Some(new), true) = (change.old, change.new, hit(change)) {
            at.entry((&new.who, &new.whom, &new.rule))
                .or_default()
                .push(nth);
        }
    }
    let mut taken = vec![false; changes.len()];
    let mut turned: Vec<(usize, usize)> = Vec::new();
    for (nth, change) in changes.iter().enumerate() {
        let (Some(old), None, true) = (change.old, change.new, hit(change)) else {
            continue;
        };
        let others = at
            .get(&(&old.who, &old.whom, &old.rule))
            .into_iter()
            .flatten();
        let near = |other: &&usize| {
            let new = changes[**other].new;
            let before = in_new(old.tick, rates);
            new.is_some_and(|new| !taken[**other] && new.tick.abs_diff(before) <= within.0)
        };
        if let Some(&other) = others.clone().find(near) {
            taken[other] = true;
            turned.push((nth, other));
        }
    }
    for (gone, new) in turned {
        changes[gone] = change(changes[gone].old, changes[new].new, rates);
    }
    let mut nth = 0;
    changes.retain(|_| {
        nth += 1;
        !taken[nth - 1]
    });
}

/// How many hits took effect, and how much was lost to them, then and now.
type Sums = ([u32; 2], [f64; 2]);

/// What everyone dealt to everyone, where that differs.
fn pairs<'r>(old: &'r Record<'r>, new: &'r Record<'r>) -> Vec<PairSum<'r>> {
    let mut sums: BTreeMap<(&str, &str), Sums> = BTreeMap::new();
    for (side, record) in [old, new].into_iter().enumerate() {
        for line in &record.lines {
            let who = line.root.as_deref().or(line.who.as_deref());
            let (Some(who), Some(whom)) = (who, line.whom.as_deref()) else {
                continue;
            };
            let lost = line
                .amount
                .filter(|amount| line.event == "meter" && line.rule.is_some() && *amount < 0.0);
            let hit = line.event == "hit" && took_effect(line);
            if hit || lost.is_some() {
                let (hits, taken) = sums.entry((who, whom)).or_default();
                hits[side] += u32::from(hit);
                taken[side] -= lost.unwrap_or(0.0);
            }
        }
    }
    // Meters count thousandths; sums of their nearest numbers are rounded to them.
    let exact = |taken: f64| (taken * 1000.0).round() / 1000.0;
    sums.into_iter()
        .map(|((who, whom), (hits, taken))| PairSum {
            who,
            whom,
            hits,
            taken: taken.map(exact),
        })
        .filter(|sum| sum.hits[0] != sum.hits[1] || sum.taken[0] != sum.taken[1])
        .collect()
}
