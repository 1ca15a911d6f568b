//! The ledger summed up: who dealt how much to whom, and how everyone ended.

use std::collections::BTreeMap;

use super::{Event, Hit, Replay, What};
use crate::amount::Amount;
use crate::encounter::Ending;
use crate::map::Map;
use crate::order;
use crate::outcome::Outcome;
use crate::plan::{ActorIx, MeterIx};
use crate::time::Tick;

/// A replay summed up.
#[derive(Clone, Debug, PartialEq)]
pub struct Summary {
    /// What everyone dealt to everyone, in the order of ids. What an actor launched deals for its
    /// maker, and takes for itself.
    pub dealt: Vec<Dealt>,
    /// How everyone who was placed ended, in the order of ids.
    pub ends: Vec<ActorEnd>,
    /// How the drill was decided.
    pub outcome: Option<Outcome>,
    /// On which tick.
    pub decided: Tick,
    /// The last tick that was played: a drill may go on after it is decided.
    pub last: Tick,
}

/// What one actor dealt to another.
#[derive(Clone, Debug, PartialEq)]
pub struct Dealt {
    /// Who dealt it.
    pub who: ActorIx,
    /// To whom: of several that were launched alike, the first.
    pub whom: ActorIx,
    /// The id of whom, or `maker.launcher.*` for several.
    pub whom_id: String,
    /// How many hits landed or were guarded; effects from outside are none.
    pub hits: u32,
    /// What each meter lost to them.
    pub taken: Map<MeterIx, Amount>,
    /// How much damage found nothing left to take.
    pub overkill: Amount,
    /// How many of the hits killed outright.
    pub killed: u32,
    /// When the first landed.
    pub first: Tick,
    /// When the last landed.
    pub last: Tick,
}

/// How one actor ended.
#[derive(Clone, Debug, PartialEq)]
pub struct ActorEnd {
    /// Who.
    pub who: ActorIx,
    /// Its meters.
    pub meters: Vec<MeterEnd>,
    /// How often it died.
    pub deaths: u32,
    /// When it began to die for the last time, if it is not back since.
    pub died: Option<Tick>,
    /// When it was gone, if it was.
    pub gone: Option<Tick>,
    /// Whether it is gone because its recording has it nowhere.
    pub absent: bool,
}

/// What a meter held at the start and holds at the end.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct MeterEnd {
    /// Which.
    pub meter: MeterIx,
    /// At the start.
    pub start: Amount,
    /// At the end.
    pub end: Amount,
    /// The most it holds.
    pub max: Amount,
}

/// Who counts as one in a summary: an actor that is placed, or all that were launched alike.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum Whom {
    Placed(ActorIx),
    /// Their ids, with `*` for the numbers.
    Launched(String),
}

impl Replay {
    fn whom(&self, actor: ActorIx) -> Whom {
        match self.cast().origin(actor) {
            None => Whom::Placed(actor),
            Some(launched) => {
                let made_by = launched.maker.filter(|_| !launched.recorded);
                let Some(made_by) = made_by else {
                    let kind = self.plan().names.kinds[self.spec(actor).kind].as_str();
                    return Whom::Launched(match launched.maker {
                        Some(maker) => format!("{}, {kind}", self.id(maker)),
                        None => format!("every recorded {kind}"),
                    });
                };
                let own = &launched.id[self.id(made_by).len()..];
                let sort = own.rsplit_once('.').map_or(own, |(sort, _)| sort);
                Whom::Launched(match self.whom(made_by) {
                    Whom::Placed(maker) => format!("{}{sort}.*", self.id(maker)),
                    Whom::Launched(maker) => format!("{maker}{sort}.*"),
                })
            }
        }
    }

    /// The replay summed up, read off its ledger.
    pub fn summary(&self) -> Summary {
        let mut sums = Sums::new(self);
        for event in self.ledger().events() {
            sums.add(event);
        }
        let mut dealt: Vec<Dealt> = sums.dealt.into_values().collect();
        order::sort_by(&mut dealt, |a, b| {
            (a.who, &a.whom_id).cmp(&(b.who, &b.whom_id))
        });
        Summary {
            dealt,
            ends: sums.ends,
            outcome: sums.outcome.map(|(outcome, _)| outcome),
            decided: sums.outcome.map_or(sums.last, |(_, tick)| tick),
            last: sums.last,
        }
    }
}

/// A summary on the way.
struct Sums<'r> {
    replay: &'r Replay,
    /// A tree: in a crowd there are tens of thousands, in any order.
    dealt: BTreeMap<(ActorIx, Whom), Dealt>,
    ends: Vec<ActorEnd>,
    outcome: Option<(Outcome, Tick)>,
    last: Tick,
}

impl Sums<'_> {
    fn new(replay: &Replay) -> Sums<'_> {
        let plan = replay.plan();
        let end = |who: ActorIx| ActorEnd {
            who,
            meters: (plan.spec(who).meters.iter())
                .map(|meter| MeterEnd {
                    meter: meter.name,
                    start: meter.start,
                    end: meter.start,
                    max: meter.max,
                })
                .collect(),
            deaths: 0,
            died: None,
            gone: None,
            absent: false,
        };
        Sums {
            replay,
            dealt: BTreeMap::new(),
            ends: plan.cast().map(end).collect(),
            outcome: None,
            last: match &plan.drills[replay.drill().index()] {
                drill if drill.goes_on => drill.last,
                _ => Tick(0),
            },
        }
    }

    fn add(&mut self, event: &Event) {
        self.last = self.last.max(event.tick);
        if let What::Outcome(how) = event.what {
            self.outcome = Some((how, event.tick));
        }
        let Some(who) = event.who else { return };
        match &event.what {
            What::Hit(hit) if hit.verdict.took_effect() => {
                if let Some(whom) = event.whom {
                    self.hit(event.tick, hit, who, whom);
                }
            }
            What::Apply {
                overkill, kills, ..
            } => {
                if let Some(whom) = event.whom {
                    let pair = self.pair(event.tick, who, whom);
                    pair.overkill += *overkill;
                    pair.killed += u32::from(*kills);
                }
            }
            What::Meter {
                meter,
                before,
                after,
                of,
            } => {
                let owner = self.ends.get_mut(event.whom.unwrap_or(who).index());
                let meters = owner.into_iter().flat_map(|end| &mut end.meters);
                for end in meters.filter(|end| end.meter == *meter) {
                    end.end = *after;
                }
                // What is given, or emptied by a kill, is not dealt.
                let taken = before > after && of.is_none();
                let key = |whom| (self.replay.root(who), self.replay.whom(whom));
                if let Some(key) = event.whom.filter(|_| taken).map(key)
                    && let Some(pair) = self.dealt.get_mut(&key)
                {
                    *pair.taken.or_default(*meter) += *before - *after;
                }
            }
            _ => {
                if let Some(end) = self.ends.get_mut(who.index()) {
                    end.add(event);
                }
            }
        }
    }

    fn hit(&mut self, tick: Tick, hit: &Hit, who: ActorIx, whom: ActorIx) {
        let pair = self.pair(tick, who, whom);
        pair.hits += 1;
        pair.killed += u32::from(hit.kills);
        pair.overkill += hit.overkill;
    }

    /// What who dealt to whom up to a tick.
    fn pair(&mut self, tick: Tick, who: ActorIx, whom: ActorIx) -> &mut Dealt {
        let replay = self.replay;
        let (who, alike) = (replay.root(who), replay.whom(whom));
        let key = (who, alike.clone());
        let pair = self.dealt.entry(key).or_insert_with(|| Dealt {
            who,
            whom,
            whom_id: replay.id(whom).to_owned(),
            hits: 0,
            taken: Map::new(),
            overkill: Amount::ZERO,
            killed: 0,
            first: tick,
            last: tick,
        });
        if pair.whom != whom
            && let Whom::Launched(alike) = alike
        {
            pair.whom_id = alike;
        }
        pair.last = tick;
        pair
    }
}

impl ActorEnd {
    /// A death, an appearance or an end of its own.
    fn add(&mut self, event: &Event) {
        match event.what {
            What::Death { .. } => {
                self.died = Some(event.tick);
                self.deaths += 1;
            }
            What::Appear => {
                self.gone = None;
                self.absent = false;
                self.died = None;
            }
            What::Vanish { of } => {
                self.gone = Some(event.tick);
                self.absent = of == Ending::Absent;
            }
            What::Gone => self.gone = Some(event.tick),
            _ => {}
        }
    }
}
