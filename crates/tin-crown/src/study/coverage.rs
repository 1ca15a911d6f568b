//! What drills exercise of an encounter, and what they never do.

use std::borrow::Borrow;

use serde::Serialize;

use crate::ledger::Replay;
use crate::ledger::{Event, What};
use crate::limits;
use crate::map::Map;
use crate::order;
use crate::plan::{ActorIx, Plan, RuleIx, Spec};
use crate::reach::Reach;
use crate::time::{Tick, Ticks};

/// What some drills exercise.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Coverage {
    /// Everything that can be exercised.
    pub items: Vec<Item>,
    /// For each rule, in the order of the file, how often each verdict was told.
    pub verdicts: Vec<RuleVerdicts>,
    /// Which kind hit which by the rules, and how often; and of those that could and never did the
    /// first [`PAIRS_LISTED`](limits::PAIRS_LISTED).
    pub pairs: Vec<PairCover>,
    /// How many more could and never did.
    pub pairs_left_out: usize,
}

/// Something that can be exercised.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
pub struct Item {
    /// Of what sort it is.
    pub sort: Sort,
    /// Its name, as `kind.name` where kinds have such things.
    pub name: String,
    /// How often it was.
    pub times: u32,
}

/// What can be exercised.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Sort {
    /// A rule: it landed or was guarded.
    Rule,
    /// A box that a rule concerns: it touched one that the rule pairs it with.
    Box,
    /// A state: an actor was in it.
    State,
    /// A transition from a state to another: it was taken.
    Transition,
    /// An attack: it was begun.
    Attack,
    /// A launcher: something came out of it.
    Launcher,
    /// A step of a death: it came.
    DeathStep,
    /// A checkpoint: it was reached.
    Checkpoint,
    /// An exit: it was reached.
    Exit,
}

/// How often each verdict of a rule was told.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct RuleVerdicts {
    /// The rule.
    pub rule: String,
    /// The verdicts that came, and how many lines tell of them.
    pub verdicts: Map<&'static str, u32>,
}

/// A kind that can hit another.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct PairCover {
    /// The kind that gives.
    pub who: String,
    /// The kind that takes.
    pub whom: String,
    /// The rule.
    pub rule: String,
    /// Whether it hurts: it takes, kills, throws or stuns.
    pub harms: bool,
    /// How many hits took effect.
    pub hits: u32,
}

impl Sort {
    /// Every sort.
    pub const ALL: [Sort; 9] = [
        Sort::Rule,
        Sort::Box,
        Sort::State,
        Sort::Transition,
        Sort::Attack,
        Sort::Launcher,
        Sort::DeathStep,
        Sort::Checkpoint,
        Sort::Exit,
    ];

    /// For people, of several.
    pub const fn as_str(self) -> &'static str {
        match self {
            Sort::Rule => "rules",
            Sort::Box => "boxes",
            Sort::State => "states",
            Sort::Transition => "transitions",
            Sort::Attack => "attacks",
            Sort::Launcher => "launchers",
            Sort::DeathStep => "death steps",
            Sort::Checkpoint => "checkpoints",
            Sort::Exit => "exits",
        }
    }
}

impl Coverage {
    /// How many things were exercised, of how many.
    pub fn share(&self) -> (usize, usize) {
        let done = self.items.iter().filter(|item| item.times > 0).count();
        (done, self.items.len())
    }

    /// Whether at least so many per cent of what there is were exercised.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// use tin_crown::study::coverage;
    ///
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let replays = [plan.replay("careful")?, plan.replay("careless")?];
    /// let covered = coverage(&plan, &replays);
    /// assert!(covered.is_at_least(50) && !covered.is_at_least(100));
    /// # Ok::<(), tin_crown::ReplayError>(())
    /// ```
    pub fn is_at_least(&self, percent: u8) -> bool {
        let (done, all) = self.share();
        done * 100 >= all * usize::from(percent)
    }
}

/// What some drills of a plan exercise. Replays that are handed over one by one are kept no longer than
/// they are looked at.
pub fn coverage<R: Borrow<Replay>>(plan: &Plan, replays: impl IntoIterator<Item = R>) -> Coverage {
    let mut tally = Tally::new(plan);
    for replay in replays {
        tally.add(replay.borrow());
    }
    tally.done()
}

/// What is counted.
struct Tally<'p> {
    plan: &'p Plan,
    items: Map<(Sort, String), u32>,
    verdicts: Vec<Map<&'static str, u32>>,
    hits: Map<Reach, u32>,
    /// Whose death plays out, and since when.
    dying: Map<ActorIx, Tick>,
}

impl<'p> Tally<'p> {
    fn new(plan: &'p Plan) -> Tally<'p> {
        let mut tally = Tally {
            plan,
            items: Map::new(),
            verdicts: vec![Map::new(); plan.rules.len()],
            hits: Map::new(),
            dying: Map::new(),
        };
        for rule in &plan.rules {
            tally.expect(Sort::Rule, rule.name.clone());
        }
        for breed in &plan.breeds {
            let spec = plan.spec_of(breed.spec);
            // A hitbox is there to hit, whether or not a rule makes use of it.
            for own in &spec.hitboxes {
                tally.expect(Sort::Box, tally.own(spec, &own.name));
            }
            for (own, &profile) in spec.hurtboxes.iter().zip(&breed.takes) {
                if !plan.profile(profile).is_empty() {
                    tally.expect(Sort::Box, tally.own(spec, &own.name));
                }
            }
            tally.expect_spec(spec);
        }
        for point in &plan.checkpoints {
            tally.expect(Sort::Checkpoint, point.name.clone());
        }
        for exit in &plan.exits {
            tally.expect(Sort::Exit, exit.name.clone());
        }
        tally
    }

    fn expect_spec(&mut self, spec: &Spec) {
        let plan = self.plan;
        for state in &spec.states {
            let name = &plan.names.states[state.name];
            self.expect(Sort::State, self.own(spec, name));
            for go in &state.go {
                let to = &plan.names.states[spec.states[go.to.index()].name];
                self.expect(Sort::Transition, self.own(spec, &format!("{name} → {to}")));
            }
        }
        for attack in &spec.attacks {
            self.expect(
                Sort::Attack,
                self.own(spec, &plan.names.attacks[attack.name]),
            );
        }
        for launcher in &spec.launchers {
            self.expect(Sort::Launcher, self.own(spec, &launcher.name));
        }
        for (nth, step) in spec.death.iter().enumerate() {
            self.expect(Sort::DeathStep, self.step(spec, nth, step.after.0));
        }
    }

    fn own(&self, spec: &Spec, name: &str) -> String {
        format!("{}.{name}", self.plan.names.kinds[spec.kind])
    }

    fn step(&self, spec: &Spec, nth: usize, after: u32) -> String {
        let seconds = Tick(after).seconds(self.plan.rate);
        self.own(spec, &format!("step {} (after {seconds:.2} s)", nth + 1))
    }

    fn expect(&mut self, sort: Sort, name: String) {
        self.items.or_default((sort, name));
    }

    fn count(&mut self, sort: Sort, name: String) {
        if let Some(times) = self.items.get_mut(&(sort, name)) {
            *times += 1;
        }
    }

    fn add(&mut self, replay: &Replay) {
        let events = replay.ledger().events();
        for event in events {
            self.event(replay, event);
        }
        // Deaths that the drill's end broke off.
        let last = events.last().map_or(Tick(0), |event| event.tick);
        for (who, since) in std::mem::take(&mut self.dying) {
            self.steps(replay.spec(who), Some(last - since));
        }
    }

    fn event(&mut self, replay: &Replay, event: &Event) {
        let plan = self.plan;
        let Some(who) = event.who else { return };
        let spec = replay.spec(who);
        let state =
            |state: crate::plan::StateIx| &plan.names.states[spec.states[state.index()].name];
        match &event.what {
            What::Hit(hit) => {
                let (Some(whom), Some(rule)) = (event.whom, event.rule) else {
                    return;
                };
                let taker = replay.spec(whom);
                *self.verdicts[rule.index()].or_default(hit.verdict.as_str()) += 1;
                let (gives, takes) = (
                    &spec.hitboxes[hit.hitbox.index()].name,
                    &taker.hurtboxes[hit.hurtbox.index()].name,
                );
                self.count(Sort::Box, self.own(spec, gives));
                self.count(Sort::Box, self.own(taker, takes));
                if hit.verdict.took_effect() {
                    self.count(Sort::Rule, plan.rules[rule.index()].name.clone());
                    let reach = Reach {
                        who: spec.kind,
                        rule,
                        whom: taker.kind,
                    };
                    *self.hits.or_default(reach) += 1;
                }
            }
            What::Appear => {
                if let Some(since) = self.dying.remove(&who) {
                    self.steps(spec, Some(event.tick - since));
                }
                if let Some(start) = spec.start {
                    self.count(Sort::State, self.own(spec, state(start)));
                }
            }
            What::Enter { state: to, from } => {
                self.count(Sort::State, self.own(spec, state(*to)));
                let way = format!("{} → {}", state(*from), state(*to));
                self.count(Sort::Transition, self.own(spec, &way));
            }
            What::Attack {
                attack, over: None, ..
            } => {
                let name = spec.attacks[attack.index()].name;
                self.count(Sort::Attack, self.own(spec, &plan.names.attacks[name]));
            }
            What::Shot { launcher, .. } => {
                let name = &spec.launchers[launcher.index()].name;
                self.count(Sort::Launcher, self.own(spec, name));
            }
            What::Death { .. } => {
                self.dying.insert(who, event.tick);
            }
            What::Gone if self.dying.remove(&who).is_some() => self.steps(spec, None),
            What::Checkpoint { checkpoint } => {
                let name = plan.checkpoints[checkpoint.index()].name.clone();
                self.count(Sort::Checkpoint, name);
            }
            What::Exit { exit } => {
                self.count(Sort::Exit, plan.exits[exit.index()].name.clone());
            }
            _ => {}
        }
    }

    /// The steps of a death: all, or those that came before it was broken off.
    fn steps(&mut self, spec: &Spec, until: Option<Ticks>) {
        for (nth, step) in spec.death.iter().enumerate() {
            if until.is_none_or(|until| step.after <= until) {
                self.count(Sort::DeathStep, self.step(spec, nth, step.after.0));
            }
        }
    }

    /// Who can hit whom, and how often one did; of those that never did the first few, and how many
    /// more there are.
    fn pairs(&self) -> (Vec<PairCover>, usize) {
        let plan = self.plan;
        let cover = |reach: Reach, hits: u32| PairCover {
            who: plan.names.kinds[reach.who].to_owned(),
            whom: plan.names.kinds[reach.whom].to_owned(),
            rule: plan.rules[reach.rule.index()].name.clone(),
            harms: plan.harms_whom(reach.rule),
            hits,
        };
        let rules = plan.rule_reaches();
        let (mut never, mut all) = (Vec::new(), 0);
        for (rule, reach) in rules.iter().enumerate() {
            let rule = RuleIx::new(rule);
            let reaches = reach.pairs().map(|(who, whom)| Reach { who, rule, whom });
            let missed = reaches.filter(|reach| !self.hits.contains_key(reach));
            never.extend(missed.take(limits::PAIRS_LISTED - never.len()));
            all += reach.count();
        }
        let can = |reach: &&Reach| rules[reach.rule.index()].has(reach.who, reach.whom);
        let left_out = all - self.hits.keys().filter(can).count() - never.len();
        let mut pairs: Vec<(Reach, u32)> = never.into_iter().map(|reach| (reach, 0)).collect();
        pairs.extend(self.hits.iter().map(|(reach, hits)| (*reach, *hits)));
        order::sort(&mut pairs);
        let pairs = pairs.into_iter().map(|(reach, hits)| cover(reach, hits));
        (pairs.collect(), left_out)
    }

    fn done(self) -> Coverage {
        let (pairs, pairs_left_out) = self.pairs();
        let plan = self.plan;
        let items = self.items.into_iter();
        let rules = plan.rules.iter().zip(self.verdicts);
        Coverage {
            items: items
                .map(|((sort, name), times)| Item { sort, name, times })
                .collect(),
            verdicts: rules
                .map(|(rule, verdicts)| RuleVerdicts {
                    rule: rule.name.clone(),
                    verdicts,
                })
                .collect(),
            pairs,
            pairs_left_out,
        }
    }
}
