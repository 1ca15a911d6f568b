//! What differs between two ledgers.

use std::borrow::Cow;

use serde::Serialize;

use crate::ledger::{Line, Lines};
use crate::map::Map;
use crate::order;
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
    pub old: Option<Cow<'r, Line<'r>>>,
    /// The new event; absent when it is gone.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub new: Option<Cow<'r, Line<'r>>>,
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
    pub who: Cow<'r, str>,
    /// Whom.
    pub whom: Cow<'r, str>,
    /// How many hits took effect, then and now.
    pub hits: [u32; 2],
    /// How much all meters lost to them, then and now.
    pub taken: [f64; 2],
}

impl Change<'_> {
    /// What became of it: `new`, `gone`, `moved` or `changed`.
    pub fn sort(&self) -> &'static str {
        match (&self.old, &self.new) {
            (None, _) => "new",
            (_, None) => "gone",
            _ if self.fields.is_empty() => "moved",
            _ => "changed",
        }
    }

    /// The event as it was, and as it is.
    pub(crate) fn sides(&self) -> [Option<&Line<'_>>; 2] {
        [self.old.as_deref(), self.new.as_deref()]
    }

    /// The event as it is now, or as it was when it is gone.
    pub fn line(&self) -> Option<&Line<'_>> {
        self.new.as_deref().or(self.old.as_deref())
    }
}

impl Comparison<'_> {
    /// Whether nothing differs.
    pub fn is_empty(&self) -> bool {
        self.changes.is_empty() && self.rates.is_none()
    }
}

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
pub fn compare<'r>(
    old: impl Into<Lines<'r>>,
    new: impl Into<Lines<'r>>,
    within: Ticks,
) -> Comparison<'r> {
    Sides([old.into(), new.into()]).compare(within)
}

/// The two ledgers. Their lines are held by their numbers: of a long run, they are far larger than its events.
struct Sides<'r>([Lines<'r>; 2]);

/// The numbers of an event's lines, then and now.
type Match = [Option<usize>; 2];

impl<'r> Sides<'r> {
    fn rates(&self) -> [u32; 2] {
        self.0.map(Lines::rate)
    }

    fn compare(&self, within: Ticks) -> Comparison<'r> {
        let rates = self.rates();
        let mut same = 0;
        let mut changes = Vec::new();
        for numbers in self.groups().values() {
            for [old, new] in self.matched(numbers) {
                let line = |side: usize, nth: Option<usize>| Some(self.0[side].line(nth?));
                let change = change(line(0, old), line(1, new), rates);
                let moved = change.moved.unsigned_abs() > u64::from(within.0);
                if change.fields.is_empty() && !moved && old.is_some() && new.is_some() {
                    same += 1;
                } else {
                    changes.push(change);
                }
            }
        }
        turned(&mut changes, within, rates);
        order::sort_by_key(&mut changes, |change| {
            let old = change.old.as_ref().map(|line| in_new(line.tick, rates));
            let tick = change.new.as_ref().map(|line| line.tick).or(old);
            (tick, change.line().map(|line| line.id))
        });
        Comparison {
            rates: (rates[0] != rates[1]).then_some(rates),
            changes,
            same,
            pairs: self.pairs(),
        }
    }

    /// The lines of what can be the same event, by its key: of one key they are matched in their order.
    fn groups(&self) -> Map<String, [Vec<usize>; 2]> {
        // A golden record has no inputs.
        let golden = self.0.iter().any(|side| side.is_golden());
        let mut groups: Map<String, [Vec<usize>; 2]> = Map::new();
        let mut key = String::new();
        for (side, lines) in self.0.iter().enumerate() {
            for (nth, line) in lines.iter().enumerate() {
                if golden && line.is_input() {
                    continue;
                }
                write_key(&mut key, &line);
                match groups.get_mut(&key) {
                    Some(group) => group[side].push(nth),
                    None => groups.or_default(key.clone())[side].push(nth),
                }
            }
        }
        groups
    }

    /// Two lists of events of one key, matched. As many in both: one by one. Else those of one tick match
    /// first, and between them the run that moves least.
    fn matched(&self, [old, new]: &[Vec<usize>; 2]) -> Vec<Match> {
        if old.len() == new.len() {
            let pairs = old.iter().zip(new);
            return pairs.map(|(old, new)| [Some(*old), Some(*new)]).collect();
        }
        let mut all = Vec::new();
        let (mut from, mut to) = ((0, 0), (0, 0));
        loop {
            let (one, other) = (old.get(to.0), new.get(to.1));
            let ticks = [
                one.map(|one| self.tick(0, *one)),
                other.map(|other| self.tick(1, *other)),
            ];
            match ticks {
                [Some(before), Some(now)] if before == now => {
                    all.extend(self.gap(&old[from.0..to.0], &new[from.1..to.1]));
                    all.push([one.copied(), other.copied()]);
                    to = (to.0 + 1, to.1 + 1);
                    from = to;
                }
                [Some(before), Some(now)] if before < now => to.0 += 1,
                [Some(_), None] => to.0 += 1,
                [_, Some(_)] => to.1 += 1,
                [None, None] => break,
            }
        }
        all.extend(self.gap(&old[from.0..], &new[from.1..]));
        all
    }

    /// The tick of the new ledger on which a line is, or would be.
    fn tick(&self, side: usize, nth: usize) -> u32 {
        let tick = self.0[side].tick(nth);
        if side == 0 {
            in_new(tick, self.rates())
        } else {
            tick
        }
    }

    /// Events no two of which share a tick: the fewer ones in a row against those of the more that are
    /// nearest.
    fn gap(&self, old: &[usize], new: &[usize]) -> Vec<Match> {
        /// Beyond so many steps the first fit does.
        const WORTH: usize = 4_000_000;
        let fewer = usize::from(old.len() > new.len());
        let (few, many) = if fewer == 0 { (old, new) } else { (new, old) };
        let spare = many.len() - few.len();
        let tries = if few.len() * (spare + 1) > WORTH {
            0
        } else {
            spare
        };
        let off = |start: usize| -> u64 {
            let pairs = few.iter().zip(&many[start..]);
            let ticks = pairs.map(|(a, b)| [self.tick(fewer, *a), self.tick(1 - fewer, *b)]);
            ticks.map(|[a, b]| u64::from(a.abs_diff(b))).sum()
        };
        let start = (0..=tries).min_by_key(|start| off(*start)).unwrap_or(0);
        let matched = many.iter().enumerate().map(|(nth, line)| {
            let partner = nth.checked_sub(start).and_then(|nth| few.get(nth));
            let (partner, line) = (partner.copied(), Some(*line));
            if fewer == 0 {
                [partner, line]
            } else {
                [line, partner]
            }
        });
        matched.collect()
    }

    /// What everyone dealt to everyone, where that differs.
    fn pairs(&self) -> Vec<PairSum<'r>> {
        let mut sums: Map<Cow<'r, str>, Map<Cow<'r, str>, Sums>> = Map::new();
        for (side, lines) in self.0.iter().enumerate() {
            for line in lines.iter() {
                let lost = line
                    .amount
                    .filter(|amount| line.event == "meter" && line.rule.is_some() && *amount < 0.0);
                let hit = line.event == "hit" && took_effect(&line);
                if !hit && lost.is_none() {
                    continue;
                }
                let who = line.root.as_ref().or(line.who.as_ref());
                let (Some(who), Some(whom)) = (who, line.whom.as_ref()) else {
                    continue;
                };
                let of = sums.or_default(who.clone());
                let (hits, taken) = of.or_default(whom.clone());
                hits[side] += u32::from(hit);
                taken[side] -= lost.unwrap_or(0.0);
            }
        }
        // Meters count thousandths; sums of their nearest numbers are rounded to them.
        let exact = |taken: f64| (taken * 1000.0).round() / 1000.0;
        let sums = sums.into_iter().flat_map(|(who, of)| {
            of.into_iter().map(move |(whom, (hits, taken))| PairSum {
                who: who.clone(),
                whom,
                hits,
                taken: taken.map(exact),
            })
        });
        sums.filter(|sum| sum.hits[0] != sum.hits[1] || sum.taken[0] != sum.taken[1])
            .collect()
    }
}

/// The tick of the new ledger that is nearest to one of the old.
fn in_new(tick: u32, [old, new]: [u32; 2]) -> u32 {
    let (tick, old, new) = (u64::from(tick), u64::from(old), u64::from(new));
    let nearest = (2 * tick * new + old) / (2 * old);
    u32::try_from(nearest).unwrap_or(u32::MAX)
}

/// What makes events of two ledgers the same event: what happens, who, whom, by which rule, and what it is about.
fn write_key(key: &mut String, line: &Line<'_>) {
    key.clear();
    let gains = line.amount.is_some_and(|amount| amount > 0.0);
    let verdict = match &*line.event {
        "hit" if !took_effect(line) => line.verdict.as_deref(),
        "meter" if gains => Some("gains"),
        _ => None,
    };
    let flag = |flag: Option<bool>| flag.map(|flag| if flag { "yes" } else { "no" });
    let parts = [
        Some(&*line.event),
        line.who.as_deref(),
        line.whom.as_deref(),
        line.rule.as_deref(),
        line.meter.as_deref(),
        line.button.as_deref(),
        line.attack.as_deref(),
        line.over.as_deref(),
        line.launcher.as_deref(),
        line.state.as_deref(),
        line.sensor.as_deref(),
        line.checkpoint.as_deref(),
        line.exit.as_deref(),
        line.cue.as_deref(),
        flag(line.down),
        flag(line.seen),
        verdict,
    ];
    for part in parts {
        key.push_str(part.unwrap_or_default());
        // No name has it.
        key.push('\0');
    }
}

fn took_effect(line: &Line<'_>) -> bool {
    let took = |verdict: &&Verdict| verdict.took_effect();
    let mut effective = Verdict::ALL.iter().filter(took);
    effective.any(|verdict| line.verdict.as_deref() == Some(verdict.as_str()))
}

fn change<'r>(
    old: Option<Cow<'r, Line<'r>>>,
    new: Option<Cow<'r, Line<'r>>>,
    rates: [u32; 2],
) -> Change<'r> {
    let (moved, fields) = match (&old, &new) {
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
    let mut at: Map<_, Vec<usize>> = Map::new();
    let hit = |change: &Change<'_>| change.line().is_some_and(|line| line.event == "hit");
    for (nth, change) in changes.iter().enumerate() {
        if let (None, Some(new), true) = (&change.old, &change.new, hit(change)) {
            at.or_default((&new.who, &new.whom, &new.rule)).push(nth);
        }
    }
    let mut taken = vec![false; changes.len()];
    let mut turned: Vec<(usize, usize)> = Vec::new();
    for (nth, change) in changes.iter().enumerate() {
        let (Some(old), None, true) = (&change.old, &change.new, hit(change)) else {
            continue;
        };
        let others = at
            .get(&(&old.who, &old.whom, &old.rule))
            .into_iter()
            .flatten();
        let near = |other: &&usize| {
            let new = &changes[**other].new;
            let before = in_new(old.tick, rates);
            new.as_ref()
                .is_some_and(|new| !taken[**other] && new.tick.abs_diff(before) <= within.0)
        };
        if let Some(&other) = others.clone().find(near) {
            taken[other] = true;
            turned.push((nth, other));
        }
    }
    for (gone, new) in turned {
        let (old, new) = (changes[gone].old.take(), changes[new].new.take());
        changes[gone] = change(old, new, rates);
    }
    let mut nth = 0;
    changes.retain(|_| {
        nth += 1;
        !taken[nth - 1]
    });
}

/// How many hits took effect, and how much was lost to them, then and now.
type Sums = ([u32; 2], [f64; 2]);
