//! What drills exercise of an encounter, and what they never do.

use std::collections::BTreeMap;

use serde::Serialize;

use crate::ledger::{Event, What};
use crate::plan::{KindIx, Plan, Reach, Spec};
use crate::sim::Replay;
use crate::time::Tick;

/// What some drills exercise.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Coverage {
    /// Everything that can be exercised.
    pub items: Vec<Item>,
    /// For each rule, in the order of the file, how often each verdict was told.
    pub verdicts: Vec<RuleVerdicts>,
    /// Which kind can hit which by the rules, and how often one did.
    pub pairs: Vec<PairCover>,
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
    /// A state: somebody was in it.
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
    pub verdicts: BTreeMap<&'static str, u32>,
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
    /// # let file = include_bytes!("../../../tin-crown-cli/demo/first-shelf.toml");
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

/// What some drills of a plan exercise.
pub fn coverage<'r>(plan: &Plan, replays: impl IntoIterator<Item = &'r Replay>) -> Coverage {
    let mut tally = Tally::new(plan);
    for replay in replays {
        tally.add(replay);
    }
    tally.done()
}

/// What is counted.
struct Tally<'p> {
    plan: &'p Plan,
    items: BTreeMap<(Sort, String), u32>,
    verdicts: Vec<BTreeMap<&'static str, u32>>,
    hits: BTreeMap<Reach, u32>,
}

impl<'p> Tally<'p> {
    fn new(plan: &'p Plan) -> Tally<'p> {
        let reaches = plan.reaches();
        let mut tally = Tally {
            plan,
            items: BTreeMap::new(),
            verdicts: vec![BTreeMap::new(); plan.rules.len()],
            hits: reaches.into_iter().map(|reach| (reach, 0)).collect(),
        };
        for rule in &plan.rules {
            tally.expect(Sort::Rule, rule.name.clone());
        }
        for breed in &plan.breeds {
            let spec = plan.spec_of(breed.spec);
            let gives = spec.hitboxes.iter().zip(&breed.gives);
            let takes = spec.hurtboxes.iter().zip(&breed.takes);
            for (own, &profile) in gives.chain(takes) {
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
            let name = &plan.states[state.name.index()];
            self.expect(Sort::State, self.own(spec, name));
            for go in &state.go {
                let to = &plan.states[spec.states[go.to.index()].name.index()];
                self.expect(Sort::Transition, self.own(spec, &format!("{name} → {to}")));
            }
        }
        for attack in &spec.attacks {
            self.expect(
                Sort::Attack,
                self.own(spec, &plan.attacks[attack.name.index()]),
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
        format!("{}.{name}", self.plan.kinds[spec.kind.index()])
    }

    fn step(&self, spec: &Spec, nth: usize, after: u32) -> String {
        let seconds = Tick(after).seconds(self.plan.rate);
        self.own(spec, &format!("step {} (after {seconds:.2} s)", nth + 1))
    }

    fn expect(&mut self, sort: Sort, name: String) {
        self.items.entry((sort, name)).or_default();
    }

    fn count(&mut self, sort: Sort, name: String) {
        if let Some(times) = self.items.get_mut(&(sort, name)) {
            *times += 1;
        }
    }

    fn add(&mut self, replay: &Replay) {
        let events = replay.ledger().events();
        for (nth, event) in events.iter().enumerate() {
            self.event(replay, event, &events[nth + 1..]);
        }
    }

    fn event(&mut self, replay: &Replay, event: &Event, later: &[Event]) {
        let plan = self.plan;
        let Some(who) = event.who else { return };
        let spec = replay.spec(who);
        let state = |state: crate::StateIx| &plan.states[spec.states[state.index()].name.index()];
        match &event.what {
            What::Hit(hit) => {
                let (Some(whom), Some(rule)) = (event.whom, event.rule) else {
                    return;
                };
                let taker = replay.spec(whom);
                *self.verdicts[rule.index()]
                    .entry(hit.verdict.as_str())
                    .or_default() += 1;
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
                    *self.hits.entry(reach).or_default() += 1;
                }
            }
            What::Appear => {
                if let Some(start) = spec.start {
                    self.count(Sort::State, self.own(spec, state(start)));
                }
            }
            What::Enter { state: to, from } => {
                self.count(Sort::State, self.own(spec, state(*to)));
                let way = format!("{} → {}", state(*from), state(*to));
                self.count(Sort::Transition, self.own(spec, &way));
            }
            What::Attack { attack, over: None } => {
                let name = spec.attacks[attack.index()].name;
                self.count(Sort::Attack, self.own(spec, &plan.attacks[name.index()]));
            }
            What::Shot { launcher, .. } => {
                let name = &spec.launchers[launcher.index()].name;
                self.count(Sort::Launcher, self.own(spec, name));
            }
            What::Death { .. } => self.death(spec, event, later),
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

    /// The steps of a death that came before it was over, or broken off.
    fn death(&mut self, spec: &Spec, death: &Event, later: &[Event]) {
        let own = |event: &&Event| {
            event.who == death.who && matches!(event.what, What::Gone | What::Appear)
        };
        let end = later.iter().find(own);
        let last = later.last().map_or(death.tick, |event| event.tick);
        let (until, whole) = match end {
            Some(end) => (end.tick, matches!(end.what, What::Gone)),
            None => (last, false),
        };
        for (nth, step) in spec.death.iter().enumerate() {
            if whole || step.after <= until - death.tick {
                self.count(Sort::DeathStep, self.step(spec, nth, step.after.0));
            }
        }
    }

    fn done(self) -> Coverage {
        let plan = self.plan;
        let kind = |kind: KindIx| plan.kinds[kind.index()].clone();
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
            pairs: self
                .hits
                .into_iter()
                .map(|(reach, hits)| PairCover {
                    who: kind(reach.who),
                    whom: kind(reach.whom),
                    rule: plan.rules[reach.rule.index()].name.clone(),
                    harms: plan.harms_whom(reach.rule),
                    hits,
                })
                .collect(),
        }
    }
}
