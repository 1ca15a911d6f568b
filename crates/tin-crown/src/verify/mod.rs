//! Verification: does a drill come to what is expected of it?

mod differences;
mod events;
mod meanwhile;
mod measured;
mod seen;
mod stand;
mod stay;
mod trial;
mod words;

pub use trial::{Measure, Source, Test, Trial};

use crate::encounter::Happening;
use crate::ledger::{Alike, Event, LineId, Replay, What};
use crate::outcome::Outcome;
use crate::plan::{ActorIx, ExpectPlan, ExpectedPlan, PatternPlan};
use crate::time::{Tick, Ticks};
pub(crate) use measured::taken;
use seen::{Found, Seen};

/// An expectation and its result.
#[derive(Clone, Debug, PartialEq)]
pub struct Tested<'p> {
    /// What was expected.
    pub expectation: &'p ExpectPlan,
    /// The same in words.
    pub said: String,
    /// What went wrong, if it did.
    pub miss: Option<Miss>,
}

/// An expectation that was not met.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Miss {
    /// Why, in a few words.
    pub because: String,
    /// The line of the ledger that decides, or that tells of the nearest thing that did happen.
    pub line: Option<LineId>,
    /// In what that differs from what was expected, when it is but the nearest thing.
    pub differs: Option<String>,
    /// A few lines of the ledger around it, in order.
    pub around: Vec<LineId>,
}

/// How many lines of the ledger are shown before and after what matters.
const AROUND: usize = 2;

impl Replay {
    /// Tests what the encounter expects of the drill, in the order of the file: what is expected of
    /// this drill, then what is of every one.
    ///
    /// ```
    /// use tin_crown::encounter::{Expected};
    /// use tin_crown::{Drill, Encounter, Expectation, Outcome};
    ///
    /// let encounter = Encounter::new("Nothing happens").drill(
    ///     "wait",
    ///     Drill::new("1s".parse()?).expect(Expectation::new(Expected::Ends(Outcome::Won))),
    /// );
    /// let replay = encounter.plan()?.replay("wait")?;
    /// let tested = replay.verify();
    /// assert_eq!(tested[0].said, "the drill is won");
    /// assert_eq!(tested[0].miss.as_ref().unwrap().because, "time ran out at 1.000 s, tick 60");
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn verify(&self) -> Vec<Tested<'_>> {
        self.test_all(self.plan().expectations.of(self.drill()))
    }

    /// Tests some expectations of its plan. What the ledger does not tell (places, pushes, landings) is
    /// seen by playing the drill once more.
    pub fn test_all<'p>(
        &self,
        expected: impl IntoIterator<Item = &'p ExpectPlan>,
    ) -> Vec<Tested<'p>> {
        let expected: Vec<&ExpectPlan> = expected.into_iter().collect();
        let seen = self.seen(&expected);
        let tested = expected.into_iter().map(|expectation| {
            let probe = Probe {
                replay: self,
                expected: expectation,
                seen: &seen,
            };
            Tested {
                expectation,
                said: expectation.said(self.plan()),
                miss: probe.miss(),
            }
        });
        tested.collect()
    }
}

/// An expectation put to the test.
struct Probe<'a> {
    replay: &'a Replay,
    expected: &'a ExpectPlan,
    /// What the ledger does not tell.
    seen: &'a Seen,
}

impl<'a> Probe<'a> {
    fn miss(&self) -> Option<Miss> {
        match &self.expected.what {
            ExpectedPlan::Stand(stand) => stand::miss(self, stand),
            ExpectedPlan::Place(stay) => stay::miss(self, stay),
            ExpectedPlan::Ends(outcome) => self.ends(*outcome),
            ExpectedPlan::Never(pattern) => self.never(pattern),
            ExpectedPlan::Happens(pattern) => match self.expected.by {
                Some(by) => self.follows(pattern, by),
                None => self.happens(pattern),
            },
        }
    }

    fn never(&self, pattern: &PatternPlan) -> Option<Miss> {
        let mut matches = self.matches(pattern);
        for (other, earlier) in self.others() {
            match self.first(other) {
                Some(other) => matches.retain(|event| (event.id < other.id) == earlier),
                // All of the drill comes before what never does, and nothing of it after.
                None if earlier => {}
                None => matches.clear(),
            }
        }
        let first = matches.first()?;
        let because = match matches.len() {
            1 => format!("it happens {}", self.time(first.tick)),
            times => {
                format!("it happens {times} times, first {}", self.time(first.tick))
            }
        };
        Some(self.at(because, first.id))
    }

    /// The others that it comes before, or after.
    fn others(&self) -> impl Iterator<Item = (&'a PatternPlan, bool)> {
        let expected = self.expected;
        let before = expected.before.iter().map(|other| (other, true));
        before.chain(expected.after.iter().map(|other| (other, false)))
    }

    /// The first of the whole drill.
    fn first(&self, pattern: &PatternPlan) -> Option<Found> {
        self.alike(pattern).first().copied()
    }

    fn happens(&self, pattern: &PatternPlan) -> Option<Miss> {
        let mut matches = self.matches(pattern);
        for (other, earlier) in self.others() {
            let Some(other_first) = self.first(other) else {
                let because = format!(
                    "there is no {}",
                    words::bare(&other.said(self.replay.plan()))
                );
                return Some(self.nearest(other, because));
            };
            let had = matches.first().copied();
            matches.retain(|event| (event.id < other_first.id) == earlier);
            if let (Some(had), true) = (had, matches.is_empty()) {
                let side = if earlier { "after" } else { "before" };
                let because = format!(
                    "it comes {}, {side} the other {}",
                    self.time(had.tick),
                    self.time(other_first.tick)
                );
                return Some(self.at(because, had.id));
            }
        }
        if let Some(apart) = self.expected.apart {
            let close = matches
                .windows(2)
                .find(|pair| pair[1].tick - pair[0].tick < apart);
            if let Some([one, other]) = close {
                let Ticks(ticks) = other.tick - one.tick;
                let because = format!(
                    "two are {} apart: {} and {}",
                    Ticks(ticks).in_words(),
                    self.time(one.tick),
                    self.time(other.tick)
                );
                return Some(self.at(because, other.id));
            }
        }
        let count = matches.len();
        let (least, most) = match self.expected.times {
            Some(times) => (times.least as usize, times.most as usize),
            // Nothing at all is far enough apart.
            None if self.expected.apart.is_some() => (0, usize::MAX),
            None => (1, usize::MAX),
        };
        if count > most {
            return Some(self.at(self.times(&matches), matches[most].id));
        }
        if count < least {
            let because = match count {
                0 => "it does not happen".to_owned(),
                _ => self.times(&matches),
            };
            let when = match count {
                0 => " then",
                _ => "",
            };
            let asks_when = self.expected.when.is_some() || self.expected.to.is_some();
            let because = if asks_when { because + when } else { because };
            return Some(self.nearest(pattern, because));
        }
        None
    }

    /// "it happens twice: at 1.383 s and 3.600 s".
    fn times(&self, matches: &[Found]) -> String {
        const TOLD: usize = 8;
        let told = matches.iter().take(TOLD);
        let told: Vec<String> = told.map(|event| self.seconds(event.tick)).collect();
        let told = match told.as_slice() {
            [most @ .., last] if !most.is_empty() && matches.len() <= TOLD => {
                format!("{} and {last}", most.join(", "))
            }
            _ => told.join(", "),
        };
        let more = if matches.len() > TOLD { "…" } else { "" };
        format!(
            "it happens {}: at {told}{more}",
            words::times(matches.len())
        )
    }

    /// Whether something comes so long after each of some others.
    fn follows(&self, pattern: &PatternPlan, by: Ticks) -> Option<Miss> {
        let after = self.expected.after.as_ref()?;
        let others = self.alike(after);
        let matches = self.matches(pattern);
        let last = self.replay.ledger().events().last()?;
        if others.is_empty() {
            let because = format!(
                "there is no {}",
                words::bare(&after.said(self.replay.plan()))
            );
            return Some(self.nearest(after, because));
        }
        for other in others {
            let due = other.tick + by;
            let near = |event: &&Found| {
                let off = (event.tick - due).0.max((due - event.tick).0);
                event.id > other.id && off <= self.expected.within.0
            };
            // What is due after the drill's end cannot be missed.
            if due > last.tick || matches.iter().any(|event| near(&event)) {
                continue;
            }
            let next = matches.iter().find(|event| event.id > other.id);
            let because = match next {
                Some(next) => format!(
                    "after the one {} it comes {} later, {}",
                    self.time(other.tick),
                    (next.tick - other.tick).in_words(),
                    self.time(next.tick)
                ),
                None => format!("after the one {} it never comes", self.time(other.tick)),
            };
            return Some(self.at(because, next.map_or(other.id, |next| next.id)));
        }
        None
    }

    fn ends(&self, wanted: Outcome) -> Option<Miss> {
        let events = self.replay.ledger().events().iter();
        let mut outcomes = events.filter_map(|event| match event.what {
            What::Outcome(outcome) => Some((event, outcome)),
            _ => None,
        });
        let (event, outcome) = outcomes.next()?;
        let on_time = self
            .window()
            .is_none_or(|(from, to)| event.tick >= from && event.tick <= to);
        if outcome == wanted && on_time {
            return None;
        }
        let how = match outcome {
            Outcome::Won => "it was won",
            Outcome::Lost => "it was lost",
            Outcome::Ended => "time ran out",
        };
        let because = format!("{how} {}", self.time(event.tick));
        Some(self.at(because, event.id))
    }

    /// From when to when something is expected.
    fn window(&self) -> Option<(Tick, Tick)> {
        let when = self.expected.when?;
        let Ticks(within) = self.expected.within;
        Some((
            Tick(when.0.saturating_sub(within)),
            Tick(when.0.saturating_add(within)),
        ))
    }

    /// Whether a tick is one that counts.
    fn counts(&self, tick: Tick) -> bool {
        let window = self.window();
        window.is_none_or(|(from, to)| tick >= from && tick <= to)
            && tick >= self.expected.from
            && self.expected.to.is_none_or(|to| tick <= to)
    }

    /// The events that are alike, whenever they come.
    fn alike(&self, pattern: &PatternPlan) -> Vec<Found> {
        let alike = Alike::new(self.replay.cast(), pattern);
        let events = self.replay.ledger().events().iter();
        let seen = |all: &[(ActorIx, Found)], is: &dyn Fn(ActorIx, Found) -> bool| {
            let fit = all.iter().filter(|(actor, found)| is(*actor, *found));
            fit.map(|(_, found)| *found).collect()
        };
        match pattern.happening {
            Happening::Landing => seen(&self.seen.landings, &|actor, _| alike.is_who(actor)),
            Happening::Push => seen(&self.seen.pushes, &|pushed, found| {
                let hit = self.replay.ledger().get(found.id);
                hit.is_some_and(|hit| alike.is_push(hit, pushed))
            }),
            _ => {
                let fit = events.filter(|event| alike.is(event));
                let found = fit.map(|Event { tick, id, .. }| Found {
                    tick: *tick,
                    id: *id,
                });
                found.collect()
            }
        }
    }

    /// The events that are alike and count.
    fn matches(&self, pattern: &PatternPlan) -> Vec<Found> {
        let mut found = self.alike(pattern);
        found.retain(|event| self.counts(event.tick));
        if let Some(during) = &self.expected.during {
            let so = meanwhile::when(self.replay, during, self.seen);
            found.retain(|event| so[event.id.0 as usize - 1]);
        }
        found
    }

    /// A miss whose nearest thing is the event most like what was expected.
    fn nearest(&self, pattern: &PatternPlan, because: String) -> Miss {
        let alike = Alike::new(self.replay.cast(), pattern);
        let off = |tick: Tick| match self.window() {
            Some((from, to)) => (from - tick).0.max((tick - to).0),
            None => 0,
        };
        let events = self.replay.ledger().events().iter();
        let near = events
            .filter_map(|event| {
                let differs = differences::differences(self.replay, &alike, event);
                differs.map(|differs| (event, differs))
            })
            .min_by_key(|(event, differs)| {
                let off = off(event.tick);
                let late = usize::from(!self.counts(event.tick));
                (differs.len() + late, off, event.id)
            });
        let Some((event, mut differs)) = near else {
            let others = match pattern.happening {
                Happening::Push => &self.seen.pushes,
                Happening::Landing => &self.seen.landings,
                _ => &Vec::new(),
            };
            if let Some((actor, other)) = others.first() {
                let mut miss = self.at(because, other.id);
                let who = self.replay.id(*actor);
                miss.differs = Some(format!("it is of {who}, {}", self.time(other.tick)));
                return miss;
            }
            return Miss {
                because: format!("{because}, nor anything of that sort"),
                line: None,
                differs: None,
                around: Vec::new(),
            };
        };
        let away = off(event.tick);
        if away > 0 {
            let early = self.window().is_some_and(|(from, _)| event.tick < from);
            let side = if early { "early" } else { "late" };
            differs.push(format!("{} too {side}", Ticks(away).in_words()));
        } else if !self.counts(event.tick) {
            differs.push("outside the time that counts".to_owned());
        }
        if differs.is_empty() && self.expected.during.is_some() {
            differs.push("the `while` condition did not hold".to_owned());
        }
        let mut miss = self.at(because, event.id);
        // One that is as expected, of too few, is no near miss.
        if !differs.is_empty() {
            miss.differs = Some(differs.join("; "));
        }
        miss
    }

    /// A miss, with the lines around one of the ledger.
    fn at(&self, because: String, line: LineId) -> Miss {
        let nth = line.0 as usize - 1;
        let from = nth.saturating_sub(AROUND);
        let to = (nth + AROUND + 1).min(self.replay.ledger().len());
        Miss {
            because,
            line: Some(line),
            differs: None,
            around: (from..to).map(|nth| LineId(nth as u32 + 1)).collect(),
        }
    }

    fn seconds(&self, tick: Tick) -> String {
        format!("{:.3} s", tick.seconds(self.replay.plan().rate))
    }

    fn time(&self, tick: Tick) -> String {
        words::time(tick, self.replay.plan().rate)
    }
}
