//! Why an actor is as it is: what is no hit. Deaths, falls, what stopped it, which states it did not leave,
//! whom its sensors do not notice, and which launches and attacks failed.

mod conditions;
mod ends;
mod feet;
mod lines;
mod minds;
mod presses;
mod sights;

use std::sync::Arc;

use serde::Serialize;

use super::why::{Asked, Origins, Step};
use crate::ledger::{Event, Replay};
use crate::order;
use crate::plan::{ActorIx, Chosen, DrillIx, Plan};
use crate::sim::{Outlook, ReplayError};
use crate::time::Tick;

/// Why an actor is as it is, over a drill or at a moment.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Account {
    /// The actor.
    pub who: String,
    /// What there is to tell, in the order of topics, then of time.
    pub tells: Vec<Tell>,
}

/// Something about an actor, and why.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Tell {
    /// What it is about.
    pub topic: Topic,
    /// When, or when first.
    pub tick: u32,
    /// The same in seconds.
    pub seconds: f64,
    /// On how many ticks.
    pub ticks: u32,
    /// The line of the ledger that tells of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub line: Option<u32>,
    /// All of it in a sentence.
    pub says: String,
    /// What was asked, and whether it was so.
    pub checks: Vec<Asked>,
    /// What brought it about, from it back to an input or a placement.
    pub causes: Vec<Step>,
}

/// What is told of an actor.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
#[non_exhaustive]
pub enum Topic {
    /// Whether it is there, and why it came to an end.
    End,
    /// What it stood on, and what stopped it.
    Motion,
    /// Its state, and what it lacks to leave it.
    State,
    /// Whom it notices, and whom not.
    Sensor,
    /// What came of a press, or did not.
    Press,
}

impl Topic {
    /// As in the text.
    pub const fn as_str(self) -> &'static str {
        match self {
            Topic::End => "end",
            Topic::Motion => "motion",
            Topic::State => "state",
            Topic::Sensor => "sensor",
            Topic::Press => "press",
        }
    }
}

/// Tells why some actors are as they are, in the order of their ids: over a whole drill, or at a moment of
/// it.
///
/// # Errors
///
/// As [`Plan::replay`].
///
/// # Panics
///
/// When an index is of another plan.
///
/// ```
/// # let file = tin_crown::demo::SECOND_SHELF.as_bytes();
/// use tin_crown::study::{Topic, account};
///
/// let plan = tin_crown::check(file).plan.unwrap();
/// let jack = plan.choose("jack").unwrap();
/// let accounts = account(&plan, plan.drill("marksman")?, &jack, None)?;
/// assert!(accounts[0].tells.iter().any(|tell| tell.topic == Topic::Sensor));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn account(
    plan: &Arc<Plan>,
    drill: DrillIx,
    who: &Chosen,
    when: Option<Tick>,
) -> Result<Vec<Account>, ReplayError> {
    let replay = crate::sim::replay(plan, drill)?;
    let scope = Scope {
        replay: &replay,
        origins: Origins::new(&replay),
        lines: lines::Lines::new(replay.ledger().events()),
        when,
    };
    let mut watched: Vec<Watched> = Vec::new();
    let mut outlook = Outlook::new(plan, drill, |actor| replay.is_chosen(who, actor));
    while let Some((sim, considered)) = outlook.play()? {
        let now = lines::Lines::new(sim.events());
        for actor in sim.enrolled().filter(|actor| replay.is_chosen(who, *actor)) {
            let place = watched.binary_search_by_key(&actor, |own| own.actor);
            let place = place.unwrap_or_else(|place| {
                watched.insert(place, Watched::new(actor));
                place
            });
            let own = &mut watched[place];
            own.feet.look(&scope, sim, actor, now.of(actor));
            own.presses.look(&scope, sim, actor, now.of(actor));
        }
        for considered in considered.iter().filter(|_| scope.asks(sim.tick())) {
            let place = watched.binary_search_by_key(&considered.who, |own| own.actor);
            if let Ok(place) = place {
                watched[place].minds.look(sim.tick(), considered);
                watched[place].sights.look(sim.tick(), considered);
            }
        }
        if when.is_some_and(|when| sim.tick() >= when) {
            break;
        }
    }
    // Who is not there yet is asked about, too.
    let later = replay
        .ledger()
        .events()
        .iter()
        .filter_map(|event| event.who);
    for actor in later.filter(|actor| replay.is_chosen(who, *actor)) {
        if let Err(place) = watched.binary_search_by_key(&actor, |own| own.actor) {
            watched.insert(place, Watched::new(actor));
        }
    }
    order::sort_by(&mut watched, |a, b| {
        replay.id(a.actor).cmp(replay.id(b.actor))
    });
    let accounts = watched.iter().map(|own| own.account(&scope));
    Ok(accounts.collect())
}

/// What is asked about.
struct Scope<'r> {
    replay: &'r Replay,
    origins: Origins<'r>,
    lines: lines::Lines<'r>,
    /// The moment; the whole drill when absent.
    when: Option<Tick>,
}

/// An actor, with what is gathered about it.
struct Watched {
    actor: ActorIx,
    feet: feet::Feet,
    minds: minds::Minds,
    sights: sights::Sights,
    presses: presses::Presses,
}

impl Watched {
    fn new(actor: ActorIx) -> Watched {
        Watched {
            actor,
            feet: feet::Feet::default(),
            minds: minds::Minds::default(),
            sights: sights::Sights::default(),
            presses: presses::Presses::default(),
        }
    }

    fn account(&self, scope: &Scope<'_>) -> Account {
        let mut tells = ends::tells(scope, self.actor, &self.feet);
        tells.extend(self.feet.tells(scope, self.actor));
        tells.extend(self.minds.tells(scope, self.actor));
        tells.extend(self.sights.tells(scope, self.actor));
        tells.extend(self.presses.tells(scope, self.actor));
        order::sort_by_key(&mut tells, |tell| (tell.topic, tell.tick));
        Account {
            who: scope.replay.id(self.actor).to_owned(),
            tells,
        }
    }
}

impl<'r> Scope<'r> {
    /// Whether a tick is asked about.
    fn asks(&self, tick: Tick) -> bool {
        self.when.is_none_or(|when| when == tick)
    }

    fn seconds(&self, tick: Tick) -> String {
        format!("{:.3} s", tick.seconds(self.replay.plan().rate))
    }

    /// "at 1.617 s (tick 97)".
    fn at(&self, tick: Tick) -> String {
        super::why::at(self.replay, tick)
    }

    fn tell(&self, topic: Topic, tick: Tick, says: String) -> Tell {
        Tell {
            topic,
            tick: tick.0,
            seconds: tick.seconds(self.replay.plan().rate),
            ticks: 1,
            line: None,
            says,
            checks: Vec::new(),
            causes: Vec::new(),
        }
    }

    /// What a line of an actor tells, with its causes.
    fn line(&self, topic: Topic, actor: ActorIx, event: &Event, says: String) -> Tell {
        Tell {
            line: Some(event.id.0),
            causes: self.origins.behind(actor, Some(event), event.tick),
            ..self.tell(topic, event.tick, says)
        }
    }
}
