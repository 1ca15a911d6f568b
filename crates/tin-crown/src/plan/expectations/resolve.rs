//! Looks up whom and what expectations name.

use super::{
    About, Counted, DuringPlan, ExpectPlan, Expectations, ExpectedPlan, Holds, PatternPlan,
    StandPlan, StayArea, StayPlan,
};
use crate::amount::Amount;
use crate::encounter::{
    During, Expectation, Expected, Happening, Level, LivesStand, MeterStand, Pattern, Portion,
    Stay, Zone,
};
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Bounds;
use crate::limits;
use crate::map::Map;
use crate::plan::checker::Checker;
use crate::plan::choice::Chosen;
use crate::plan::heights;
use crate::plan::index::{CheckpointIx, ExitIx, MeterIx, RuleIx};
use crate::plan::portion::PortionPlan;
use crate::plan::select::Subject;
use crate::plan::{Ix, List, Plan, Spec, timing};
use crate::reason::BEARINGS;
use crate::time::{Duration, Tick, Ticks};

/// Looks up what every drill, and each drill, is expected to come to.
pub(in crate::plan) fn resolve<'e>(
    check: &mut Checker,
    plan: &Plan,
    all: &[Expectation],
    drills: impl Iterator<Item = (&'e str, &'e [Expectation])>,
) -> Expectations {
    let everywhere = list(check, plan, Path::root().key("expect"), all, None);
    let mut own = vec![Vec::new(); plan.drills.len()];
    for (name, expected) in drills {
        let Ok(drill) = plan.drill(name) else {
            let known = plan.drills.iter().map(|drill| drill.name.as_str());
            check.unknown(Path::root().key("drill").named(name), "drill", name, known);
            continue;
        };
        let base = Path::root().key("drill").named(name).key("expect");
        let last = plan.drills[drill.index()].last;
        own[drill.index()] = list(check, plan, base, expected, Some(last));
    }
    Expectations {
        all: everywhere,
        drills: own,
    }
}

fn list(
    check: &mut Checker,
    plan: &Plan,
    base: Path,
    expected: &[Expectation],
    last: Option<Tick>,
) -> Vec<ExpectPlan> {
    let most = limits::EXPECTATIONS;
    check.at_most(base.clone(), expected.len(), most, "expectations");
    let all = expected.iter().take(most).enumerate();
    all.filter_map(|(nth, expectation)| {
        let mut one = One {
            check: &mut *check,
            plan,
            path: base.index(nth),
            last,
        };
        one.resolve(expectation)
    })
    .collect()
}

/// Looks up the expectations of a file of their own.
pub(crate) fn beside<'e>(
    plan: &Plan,
    all: &[Expectation],
    drills: impl Iterator<Item = (&'e str, &'e [Expectation])>,
) -> (Expectations, Findings) {
    let mut check = Checker {
        findings: Findings::new(),
        rate: plan.rate,
    };
    let expectations = resolve(&mut check, plan, all, drills);
    (expectations, check.findings)
}

/// Looks up an event that the ledger tells of. `path` is where it is written.
pub(in crate::plan) fn event(
    check: &mut Checker,
    plan: &Plan,
    path: &Path,
    pattern: &Pattern,
) -> Option<PatternPlan> {
    if matches!(pattern.happening, Happening::Push | Happening::Landing) {
        let message = "no line of the ledger tells of this";
        let path = path.key(pattern.happening.key());
        check.report(Finding::new(Code::NoEffect, path, message).help("use another event"));
        return None;
    }
    let mut one = One {
        check,
        plan,
        path: path.clone(),
        last: None,
    };
    one.pattern(&path.key(pattern.happening.key()), pattern)
}

/// Looks up an expectation that stands alone, at a path of its own.
pub(in crate::plan) fn alone(
    check: &mut Checker,
    plan: &Plan,
    path: Path,
    expectation: &Expectation,
) -> Option<ExpectPlan> {
    let mut one = One {
        check,
        plan,
        path,
        last: None,
    };
    one.resolve(expectation)
}

/// One expectation on its way.
struct One<'a> {
    check: &'a mut Checker,
    plan: &'a Plan,
    path: Path,
    /// The last tick of its drill, when it is of one.
    last: Option<Tick>,
}

impl One<'_> {
    fn resolve(&mut self, written: &Expectation) -> Option<ExpectPlan> {
        timing::check(self.check, &self.path, self.last, written);
        let path = self.path.clone();
        let what = match &written.what {
            Expected::Happens(pattern) => {
                let path = path.key(pattern.happening.key());
                self.pattern(&path, pattern).map(ExpectedPlan::Happens)
            }
            Expected::Never(pattern) => {
                let path = path.key("never").key(pattern.happening.key());
                self.pattern(&path, pattern).map(ExpectedPlan::Never)
            }
            Expected::Meter(stand) => self.meter_stand(&path.key("meter"), stand),
            Expected::Lives(stand) => self.lives_stand(&path.key("lives"), stand),
            Expected::Place(stay) => self.stay(&path.key("place"), stay),
            Expected::Ends(outcome) => Some(ExpectedPlan::Ends(*outcome)),
        };
        let mut other = |key_of: &str, pattern: &Option<Pattern>| match pattern {
            None => Some(None),
            Some(pattern) => {
                let path = path.named(key_of).key(pattern.happening.key());
                self.pattern(&path, pattern).map(Some)
            }
        };
        let (before, after) = (
            other("before", &written.before),
            other("after", &written.after),
        );
        let during = match &written.during {
            None => Some(None),
            Some(during) => self.during(&path.key("while"), during).map(Some),
        };
        let mut ticks = |key: &'static str, length: Option<Duration>| {
            length.map(|length| self.check.duration(path.key(key), length))
        };
        let tick = |ticks: Ticks| Tick(ticks.0);
        let from = ticks("from", written.from).map_or(Tick(0), tick);
        let to = ticks("to", written.to).map(tick);
        let when = ticks("when", written.when).map(tick);
        let within = ticks("within", written.within).unwrap_or_default();
        let (apart, by) = (ticks("apart", written.apart), ticks("by", written.by));
        Some(ExpectPlan {
            when,
            within,
            from,
            to,
            times: written.times,
            apart,
            by,
            what: what?,
            before: before?,
            after: after?,
            during: during?,
            path,
            place: None,
        })
    }

    fn pattern(&mut self, path: &Path, pattern: &Pattern) -> Option<PatternPlan> {
        let who = self.chosen(&path.key("who"), pattern.who.as_deref());
        let whom = self.chosen(&path.key("whom"), pattern.whom.as_deref());
        let rule = match &pattern.rule {
            None => Some(None),
            Some(name) => {
                let plan = self.plan;
                let known = plan.rules.iter().map(|rule| rule.name.as_str());
                let found = known.clone().position(|rule| rule == name);
                if found.is_none() {
                    self.check.unknown(path.key("rule"), "rule", name, known);
                }
                found.map(|index| Some(RuleIx::new(index)))
            }
        };
        let by = self.chosen(&path.key("by"), pattern.by.as_deref());
        let amount = pattern.amount;
        let amount = amount.map(|amount| self.check.amount(path.key("amount"), amount));
        let passes = pattern.passes;
        let passes = passes.map(|passes| self.check.portion(path.key("passes"), passes));
        let about = match (&pattern.name, pattern.happening.name_key()) {
            (Some(name), Some(key)) => self
                .about(&path.key(key), pattern.happening, name)
                .map(Some),
            _ => Some(None),
        };
        Some(PatternPlan {
            happening: pattern.happening,
            who: who?,
            whom: whom?,
            rule: rule?,
            verdict: pattern.verdict,
            amount,
            about: about?,
            passes: passes.or(pattern.lives.map(lives)),
            guard: pattern.guard,
            cause: pattern.cause,
            by: by?,
            ending: pattern.ending.map(|vanished| vanished.0),
            dry: pattern.dry,
            despite: pattern.despite,
            asked: pattern.asked,
            kills: pattern.kills,
            over: pattern.over,
            down: pattern.down,
        })
    }

    /// The actors of a selector, and whether there can ever be one.
    fn chosen(&mut self, path: &Path, text: Option<&str>) -> Option<Option<Chosen>> {
        let Some(text) = text else { return Some(None) };
        let chosen = match self.plan.choose(text) {
            Ok(chosen) => chosen,
            Err(error) => {
                let mut finding =
                    Finding::new(Code::UnknownName, path.clone(), error.what).help(error.help);
                if let Some(missed) = &error.missed {
                    finding = finding.missing(missed);
                }
                self.check.report(finding);
                return None;
            }
        };
        let plan = self.plan;
        let kinds = plan.breeds.iter().any(|breed| {
            let subject = Subject {
                actor: None,
                kind: plan.spec_of(breed.spec).kind,
                tags: &breed.tags,
            };
            chosen.means(plan, "", Err(&subject))
        });
        let placed = plan.cast().any(|actor| chosen.means(plan, "", Ok(actor)));
        if !kinds && !placed && chosen.group().is_some() {
            let message = format!("no placed actor matches `{text}`");
            self.check.report(
                Finding::new(Code::NobodyPlaced, path.clone(), message)
                    .help("place one, let an actor launch one, or remove this"),
            );
            return None;
        }
        Some(Some(chosen))
    }

    /// What a name means for something that happens.
    fn about(&mut self, path: &Path, happening: Happening, name: &str) -> Option<About> {
        let plan = self.plan;
        fn all<I: Ix>(list: &List<I>) -> Vec<String> {
            list.iter().map(str::to_owned).collect()
        }
        let points = || plan.checkpoints.iter().map(|point| point.name.clone());
        let exits = || plan.exits.iter().map(|exit| exit.name.clone());
        let launchers = || {
            let specs = plan.specs.iter().flat_map(|spec| &spec.launchers);
            specs.map(|launcher| launcher.name.clone())
        };
        let (what, known, found): (_, Vec<String>, _) = match happening {
            Happening::Cue => (
                "cue",
                all(&plan.names.cues),
                plan.names.cues.find(name).map(About::Cue),
            ),
            Happening::Attack => (
                "attack",
                all(&plan.names.attacks),
                plan.names.attacks.find(name).map(About::Attack),
            ),
            Happening::State => {
                let bearing = BEARINGS.into_iter().find(|word| *word == name);
                let state = plan.names.states.find(name).map(About::State);
                let mut known = all(&plan.names.states);
                known.extend(BEARINGS.map(str::to_owned));
                ("state", known, state.or(bearing.map(About::Bearing)))
            }
            Happening::Input | Happening::Ignored => (
                "button",
                all(&plan.names.buttons),
                plan.names.buttons.find(name).map(About::Button),
            ),
            Happening::Sense | Happening::Lose => (
                "sensor",
                all(&plan.names.sensors),
                plan.names.sensors.find(name).map(About::Sensor),
            ),
            Happening::Passes => (
                "meter",
                all(&plan.names.meters),
                plan.names.meters.find(name).map(About::Meter),
            ),
            Happening::Shot | Happening::DryFire => (
                "launcher",
                launchers().collect(),
                launchers()
                    .any(|known| known == name)
                    .then(|| About::Launcher(name.to_owned())),
            ),
            Happening::Respawn | Happening::Reach => {
                let mut known: Vec<String> = points().collect();
                let point = known
                    .iter()
                    .position(|known| known == name)
                    .map(CheckpointIx::new);
                let mut exit = None;
                if happening == Happening::Reach {
                    exit = exits().position(|known| known == name).map(ExitIx::new);
                    known.extend(exits());
                }
                let start = happening == Happening::Respawn && name == START;
                let found = (point.is_some() || exit.is_some() || start)
                    .then_some(About::Place(point, exit));
                let what = match happening {
                    Happening::Respawn => "checkpoint",
                    _ => "checkpoint or exit",
                };
                (what, known, found)
            }
            Happening::Hit
            | Happening::Death
            | Happening::Gone
            | Happening::Pickup
            | Happening::Reset
            | Happening::Appear
            | Happening::Vanish
            | Happening::Lives
            | Happening::Stun
            | Happening::GuardBreak
            | Happening::Parry
            | Happening::Push
            | Happening::Landing
            | Happening::Apply => return None,
        };
        if found.is_none() {
            let known = known.iter().map(String::as_str);
            self.check.unknown(path.clone(), what, name, known);
        }
        found
    }

    fn meter_stand(&mut self, path: &Path, stand: &MeterStand) -> Option<ExpectedPlan> {
        let who = self.chosen(&path.key("who"), Some(&stand.who));
        let meter = self.meter(&path.key("meter"), &stand.meter);
        let mut portion = |key: &'static str, value: Option<Portion>| {
            value.map(|value| self.check.portion(path.key(key), value))
        };
        let is = portion("is", stand.is);
        let bounds = (
            portion("at_least", stand.at_least),
            portion("at_most", stand.at_most),
        );
        let (who, meter) = (who??, meter?);
        let has = |spec: &Spec| spec.meter(meter).is_some();
        if !self.any_placed(&who, has) {
            let message = format!(
                "no placed actor that `{who}` matches has a meter `{}`",
                stand.meter
            );
            self.check.report(
                Finding::new(Code::UnknownName, path.key("meter"), message)
                    .help("use a meter that they have"),
            );
            return None;
        }
        Some(ExpectedPlan::Stand(StandPlan {
            who,
            of: Counted::Meter(meter),
            holds: holds(is, bounds),
        }))
    }

    fn lives_stand(&mut self, path: &Path, stand: &LivesStand) -> Option<ExpectedPlan> {
        let who = self.chosen(&path.key("who"), Some(&stand.who))??;
        let counted = |spec: &Spec| spec.respawn.as_ref().is_some_and(|own| own.lives.is_some());
        if !self.any_placed(&who, counted) {
            let message = format!("no placed actor that `{who}` matches has a number of lives");
            self.check.report(
                Finding::new(Code::NoEffect, path.key("who"), message)
                    .help("give its kind one: respawn = { lives = 3 }"),
            );
            return None;
        }
        Some(ExpectedPlan::Stand(StandPlan {
            who,
            of: Counted::Lives,
            holds: holds(
                stand.is.map(lives),
                (stand.at_least.map(lives), stand.at_most.map(lives)),
            ),
        }))
    }

    /// Whether a selector matches a placed actor of such a kind; of what is launched nothing is known.
    fn any_placed(&self, who: &Chosen, such: impl Fn(&Spec) -> bool) -> bool {
        let plan = self.plan;
        let any = plan.cast().any(|actor| {
            let id = &plan.actors[actor.index()].id;
            who.means(plan, id, Ok(actor)) && such(plan.spec(actor))
        });
        any || who.group().is_none()
    }

    fn stay(&mut self, path: &Path, stay: &Stay) -> Option<ExpectedPlan> {
        let who = self.chosen(&path.key("who"), Some(&stay.who));
        let area = match (&stay.inside, &stay.outside) {
            (Some(zone), _) => Some(self.area(&path.key("inside"), zone, true)?),
            (None, Some(zone)) => Some(self.area(&path.key("outside"), zone, false)?),
            (None, None) => None,
        };
        Some(ExpectedPlan::Place(StayPlan {
            who: who??,
            area,
            facing: stay.facing,
            holds: stay.holds,
        }))
    }

    fn area(&mut self, path: &Path, zone: &Zone, inside: bool) -> Option<StayArea> {
        let (region, span, said) = match zone {
            Zone::Region(region) => {
                let min = self
                    .check
                    .pair(&path.key("min"), region.min, &limits::COORDINATE);
                let max = self
                    .check
                    .pair(&path.key("max"), region.max, &limits::COORDINATE);
                if min[0] > max[0] || min[1] > max[1] {
                    let message = "this region is empty: `min` is beyond `max`";
                    self.check
                        .report(Finding::new(Code::BadShape, path.clone(), message));
                }
                let said = format!("[{}, {}] to [{}, {}]", min[0], min[1], max[0], max[1]);
                if region.height.is_some() && self.plan.arena.height.is_none() {
                    let message = "the arena has no height";
                    self.check.report(
                        Finding::new(Code::Contradiction, path.key("height"), message)
                            .at_key()
                            .help("remove it, or add [arena.height]"),
                    );
                }
                let span = heights::span(self.check, path, region.height);
                (Bounds::new(min, max), span, said)
            }
            Zone::Named(name) => {
                let plan = self.plan;
                let (area, span) = match self.about(path, Happening::Reach, name)? {
                    About::Place(Some(point), _) => {
                        let point = &plan.checkpoints[point.index()];
                        (point.area, point.span)
                    }
                    About::Place(None, Some(exit)) => {
                        let exit = &plan.exits[exit.index()];
                        (exit.area, exit.span)
                    }
                    _ => return None,
                };
                (area, span, format!("`{name}`"))
            }
        };
        Some(StayArea {
            region,
            span,
            name: said,
            inside,
        })
    }

    fn meter(&mut self, path: &Path, name: &str) -> Option<MeterIx> {
        match self.about(path, Happening::Passes, name) {
            Some(About::Meter(meter)) => Some(meter),
            _ => None,
        }
    }

    fn during(&mut self, path: &Path, during: &During) -> Option<DuringPlan> {
        let who = self.chosen(&path.key("who"), Some(&during.who));
        let state = match &during.state {
            None => Some(None),
            Some(name) => match self.about(&path.key("state"), Happening::State, name) {
                Some(About::State(state)) => Some(Some(state)),
                _ => None,
            },
        };
        let attack = match &during.attack {
            None => Some(None),
            Some(name) => match self.about(&path.key("attack"), Happening::Attack, name) {
                Some(About::Attack(attack)) => Some(Some(attack)),
                _ => None,
            },
        };
        let meters = self.levels(&path.key("meter"), &during.meters);
        Some(DuringPlan {
            who: who??,
            state: state?,
            attack: attack?,
            guarding: during.guarding,
            stunned: during.stunned,
            dying: during.dying,
            meters,
        })
    }

    fn levels(
        &mut self,
        path: &Path,
        levels: &Map<String, Level>,
    ) -> Vec<(MeterIx, Option<PortionPlan>, Option<PortionPlan>)> {
        let mut found = Vec::new();
        for (name, level) in levels {
            let path = path.named(name);
            let mut portion = |key: &'static str, value: Option<Portion>| {
                value.map(|value| self.check.portion(path.key(key), value))
            };
            let (least, most) = (
                portion("at_least", level.at_least),
                portion("at_most", level.at_most),
            );
            if let Some(meter) = self.meter(&path, name) {
                found.push((meter, least, most));
            }
        }
        found
    }
}

/// The word for a return that is at no checkpoint.
const START: &str = "start";

/// So many lives.
fn lives(count: u32) -> PortionPlan {
    PortionPlan::Amount(Amount::thousandths(1000 * i64::from(count)))
}

fn holds(
    is: Option<PortionPlan>,
    (least, most): (Option<PortionPlan>, Option<PortionPlan>),
) -> Holds {
    match is {
        Some(amount) => Holds::Just(amount),
        None => Holds::Between(least, most),
    }
}
