//! Slack: how far each input of a drill may be off, and all of them together.

use std::sync::Arc;

use serde::Serialize;

use super::parallel::{self, Watch};
use super::workbench::Workbench;
use crate::encounter::{Action, Drill, Encounter, Input};
use crate::plan::{Plan, Unknown};
use crate::random::Sequence;
use crate::time::{Duration, Tick, Ticks};

/// What is tried.
#[derive(Clone, Debug, PartialEq)]
pub struct SlackSetup {
    /// The drill.
    pub drill: String,
    /// How many ticks earlier, later, shorter and longer each input is tried.
    pub reach: Ticks,
    /// By how many ticks at the most all inputs wander together: one result for each.
    pub wander: Vec<u32>,
    /// How many runs there are for each of those.
    pub runs: u32,
    /// What they are drawn from.
    pub seed: u64,
}

impl SlackSetup {
    /// A drill, with the usual numbers: a second each way, and a thousand runs each of 1, 2, 4 and 8 ticks.
    pub fn new(plan: &Plan, drill: impl Into<String>) -> SlackSetup {
        SlackSetup {
            drill: drill.into(),
            reach: Ticks(plan.rate),
            wander: vec![1, 2, 4, 8],
            runs: 1000,
            seed: 0,
        }
    }
}

/// How far the inputs of a drill may be off, with every expectation still met.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Slack {
    /// The drill.
    pub drill: String,
    /// How many ticks each way were tried.
    pub reach: Ticks,
    /// The numbers of the expectations that are missed as it is.
    pub missed: Vec<usize>,
    /// Each input, as they are written.
    pub inputs: Vec<InputSlack>,
    /// All of them together.
    pub wander: Vec<Wander>,
}

/// How far an input may be off.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct InputSlack {
    /// Who presses.
    pub who: String,
    /// What it is: `hold right`.
    pub what: String,
    /// When it begins.
    pub tick: Tick,
    /// How long the button is held, if that is said.
    pub length: Option<Ticks>,
    /// How much earlier and later it may come, of its length.
    pub when: Window,
    /// How much shorter and longer it may be held.
    pub held: Option<Window>,
}

/// By how many ticks something may be off.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
pub struct Window {
    /// Between which offsets it was tried.
    pub tried: [i64; 2],
    /// The stretches of offsets with which every expectation is met, each from its first to its last.
    pub met: Vec<[i64; 2]>,
}

/// All inputs wander together: each begins and ends by up to so many ticks earlier or later.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Wander {
    /// By how many ticks.
    pub by: u32,
    /// How many runs there were.
    pub runs: u32,
    /// How many of them met every expectation.
    pub met: u32,
    /// Between which shares of all such runs the true one lies, in 95 of 100 cases (E. Wilson, "Probable inference,
    /// the law of succession, and statistical inference", Journal of the American Statistical Association 22, 1927).
    pub interval: [f64; 2],
}

/// Why there is no slack to be found.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[non_exhaustive]
pub enum SlackError {
    /// There is no drill of that name.
    #[error(transparent)]
    Unknown(#[from] Unknown),
    /// Nothing is expected of it.
    #[error("nothing is expected of drill `{0}`")]
    NothingExpected(String),
    /// It has no inputs of its own.
    #[error("drill `{0}` has no inputs of its own")]
    NoInputs(String),
    /// It was stopped.
    #[error("stopped before it was done")]
    Stopped,
}

impl SlackError {
    /// What to do about it.
    pub fn help(&self) -> Option<&'static str> {
        match self {
            SlackError::NothingExpected(_) => Some(
                "say what it has to come to, in its `expect`: slack is how far inputs may be off with that still met",
            ),
            SlackError::NoInputs(_) => Some("choose a drill with `input`"),
            _ => None,
        }
    }
}

impl Window {
    /// The stretch around no offset at all: how much earlier and how much later. None when it is missed as it is.
    pub fn around(&self) -> Option<[i64; 2]> {
        self.met
            .iter()
            .copied()
            .find(|[from, to]| *from <= 0 && *to >= 0)
    }

    /// Other stretches with which it is met.
    pub fn others(&self) -> impl Iterator<Item = [i64; 2]> {
        let around = self.around();
        self.met
            .iter()
            .copied()
            .filter(move |own| Some(*own) != around)
    }

    /// Whether it is met as far as was tried, earlier and later.
    pub fn open(&self) -> [bool; 2] {
        let [from, to] = self.around().unwrap_or([1, -1]);
        [from == self.tried[0], to == self.tried[1]]
    }

    fn of(tried: [i64; 2], met: impl Iterator<Item = bool>) -> Window {
        let mut stretches: Vec<[i64; 2]> = Vec::new();
        for (offset, met) in (tried[0]..).zip(met) {
            match stretches.last_mut() {
                Some([_, last]) if met && *last == offset - 1 => *last = offset,
                _ if met => stretches.push([offset, offset]),
                _ => {}
            }
        }
        Window {
            tried,
            met: stretches,
        }
    }
}

impl Wander {
    fn of(by: u32, met: &[bool]) -> Wander {
        let (runs, met) = (
            met.len() as u32,
            met.iter().filter(|met| **met).count() as u32,
        );
        Wander {
            by,
            runs,
            met,
            interval: interval(met, runs),
        }
    }
}

/// The Wilson score interval for 95 %.
fn interval(met: u32, runs: u32) -> [f64; 2] {
    const Z: f64 = 1.959_963_984_540_054;
    let (met, runs) = (f64::from(met), f64::from(runs.max(1)));
    let share = met / runs;
    let whole = 1.0 + Z * Z / runs;
    let middle = (share + Z * Z / (2.0 * runs)) / whole;
    let half = Z / whole * (share * (1.0 - share) / runs + Z * Z / (4.0 * runs * runs)).sqrt();
    // With none and with all of them the ends are exact.
    let low = if met == 0.0 { 0.0 } else { middle - half };
    let high = if met == runs { 1.0 } else { middle + half };
    [low, high]
}

/// Inputs that are tried.
enum Try {
    /// One of them begins so much later.
    When(usize, i64),
    /// One of them is held so much longer.
    Held(usize, i64),
    /// All wander by up to so many ticks, for the so-manieth time.
    Wander(u32, u32),
}

/// Finds how far the inputs of a drill may be off: each alone, by every number of ticks up to the reach; then all
/// together, drawn from a seed. An input that begins with another drill's is not touched.
///
/// # Errors
///
/// When there is no such drill, it has no inputs of its own, nothing is expected of it, or `watch` says stop.
///
/// ```
/// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
/// use tin_crown::Ticks;
/// use tin_crown::study::{SlackSetup, slack};
///
/// let checked = tin_crown::check(file);
/// let (encounter, plan) = (checked.encounter.unwrap(), checked.plan.unwrap());
/// let setup = SlackSetup {
///     reach: Ticks(3),
///     wander: vec![1],
///     runs: 20,
///     ..SlackSetup::new(&plan, "careful")
/// };
/// let slack = slack(&encounter, &plan, &setup, &mut |_, _| true)?;
/// assert!(slack.inputs.iter().all(|input| input.when.around().is_some()));
/// # Ok::<(), tin_crown::study::SlackError>(())
/// ```
pub fn slack(
    encounter: &Encounter,
    plan: &Arc<Plan>,
    setup: &SlackSetup,
    watch: &mut Watch<'_>,
) -> Result<Slack, SlackError> {
    let name = &setup.drill;
    let index = plan.drill(name)?;
    if plan.expectations.of(index).next().is_none() {
        return Err(SlackError::NothingExpected(name.clone()));
    }
    let bench = Workbench::new(encounter, plan, std::slice::from_ref(name));
    let drill = bench
        .encounter
        .drills
        .get(name)
        .cloned()
        .unwrap_or_default();
    if drill.input.is_empty() {
        return Err(SlackError::NoInputs(name.clone()));
    }
    let (rate, last) = (plan.rate, plan.drills[index.index()].last);
    let inputs: Vec<Timed> = drill
        .input
        .iter()
        .map(|input| Timed::new(input, rate))
        .collect();
    let reach = i64::from(setup.reach.0);
    let mut tries = Vec::new();
    for (nth, input) in inputs.iter().enumerate() {
        let [from, to] = input.earlier_and_later(reach, last);
        tries.extend((from..=to).map(|offset| Try::When(nth, offset)));
        if let Some([from, to]) = input.shorter_and_longer(reach) {
            tries.extend((from..=to).map(|offset| Try::Held(nth, offset)));
        }
    }
    for by in &setup.wander {
        tries.extend((0..setup.runs).map(|run| Try::Wander(*by, run)));
    }
    let job = |bench: &mut Workbench, nth: u64| {
        let moved = moved(&inputs, &tries[nth as usize], setup.seed, last);
        play(bench, name, &drill, &inputs, &moved)
    };
    let met = parallel::watched(tries.len() as u64, || bench.clone(), job, watch);
    let mut met = met.ok_or(SlackError::Stopped)?.into_iter();
    let told = drill.input.iter().zip(&inputs).map(|(input, timed)| {
        let tried = timed.earlier_and_later(reach, last);
        let when = Window::of(tried, met.by_ref().take((tried[1] - tried[0] + 1) as usize));
        let held = timed
            .shorter_and_longer(reach)
            .map(|tried| Window::of(tried, met.by_ref().take((tried[1] - tried[0] + 1) as usize)));
        InputSlack {
            who: input.who.clone(),
            what: said(input),
            tick: Tick(timed.from),
            length: timed.length.map(Ticks),
            when,
            held,
        }
    });
    let inputs = told.collect();
    let wander = setup.wander.iter().map(|by| {
        let own: Vec<bool> = met.by_ref().take(setup.runs as usize).collect();
        Wander::of(*by, &own)
    });
    let wander = wander.collect();
    let as_it_is = plan
        .replay(name)
        .map(|replay| replay.missed())
        .unwrap_or_default();
    Ok(Slack {
        drill: name.clone(),
        reach: setup.reach,
        missed: as_it_is.into_iter().map(|nth| nth + 1).collect(),
        inputs,
        wander,
    })
}

/// An input in ticks.
#[derive(Clone, Copy, Debug)]
struct Timed {
    from: u32,
    /// How long its button is down, if it says so: a press for one tick.
    length: Option<u32>,
}

impl Timed {
    fn new(input: &Input, rate: u32) -> Timed {
        Timed {
            from: input.when.ticks(rate).0,
            length: match input.action {
                Action::Press => Some(1),
                Action::Hold(length) => length.map(|length| length.ticks(rate).0),
                Action::Release | Action::Face(_) => None,
            },
        }
    }

    /// Between which offsets its beginning is tried.
    fn earlier_and_later(self, reach: i64, last: Tick) -> [i64; 2] {
        let from = i64::from(self.from);
        [
            (-reach).max(-from),
            reach.min((i64::from(last.0) - from).max(0)),
        ]
    }

    /// Between which offsets its length is tried.
    fn shorter_and_longer(self, reach: i64) -> Option<[i64; 2]> {
        let length = i64::from(self.length?);
        Some([(-reach).max(1 - length).min(0), reach])
    }
}

/// The inputs as a try has them: when each begins, and how long it is held.
fn moved(inputs: &[Timed], tried: &Try, seed: u64, last: Tick) -> Vec<Timed> {
    let mut all = inputs.to_vec();
    let later =
        |tick: u32, offset: i64| (i64::from(tick) + offset).clamp(0, i64::from(last.0)) as u32;
    match *tried {
        Try::When(nth, offset) => all[nth].from = later(all[nth].from, offset),
        Try::Held(nth, offset) => {
            all[nth].length = all[nth]
                .length
                .map(|length| (i64::from(length) + offset).max(1) as u32);
        }
        Try::Wander(by, run) => {
            let mut drawn = Sequence::new(seed, &[u64::from(by), u64::from(run)]);
            for own in &mut all {
                let (begins, ends) = (drawn.within(by.into()), drawn.within(by.into()));
                // A press stays one.
                own.length = own.length.map(|length| match length {
                    1 => 1,
                    length => (i64::from(length) + ends - begins).max(1) as u32,
                });
                own.from = later(own.from, begins);
            }
        }
    }
    all
}

/// Whether every expectation is met.
fn play(
    bench: &mut Workbench,
    name: &str,
    drill: &Drill,
    inputs: &[Timed],
    moved: &[Timed],
) -> bool {
    let Some(own) = bench.encounter.drills.get_mut(name) else {
        return false;
    };
    for (((input, as_it_is), before), after) in own
        .input
        .iter_mut()
        .zip(&drill.input)
        .zip(inputs)
        .zip(moved)
    {
        input.clone_from(as_it_is);
        if after.from != before.from {
            input.when = Duration::ticked(after.from);
        }
        if after.length != before.length
            && let Some(length) = after.length
        {
            input.action = Action::Hold(Some(Duration::ticked(length)));
        }
    }
    let replay = bench.plan().ok().and_then(|plan| plan.replay(name).ok());
    replay.is_some_and(|replay| replay.missed().is_empty())
}

/// An input in words.
fn said(input: &Input) -> String {
    match input.action {
        Action::Press => format!("press {}", input.button),
        Action::Hold(_) => format!("hold {}", input.button),
        Action::Release => format!("release {}", input.button),
        Action::Face(_) => "face".to_owned(),
    }
}
