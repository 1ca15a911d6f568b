//! Resolved rules, and which of them beat which.

use serde::Serialize;
use tin_crown_derive::Getters;

use super::breeds::Pairing;
use super::checker::Checker;
use super::gates::{self, GatePlan};
use super::hits::{self, EffectPlan, PushPlan};
use super::index::{CueIx, MeterIx, RuleIx};
use super::pairing::{Role, World};
use crate::amount::Amount;
use crate::encounter::{Party, Pierce, Repeat, Rule};
use crate::finding::{Code, Finding, Path};
use crate::limits;
use crate::map::Map;
use crate::order;
use crate::time::{Duration, Ticks};

/// A resolved rule.
#[derive(Clone, Debug, Getters, PartialEq, Serialize)]
pub struct RulePlan {
    /// Its name.
    pub(crate) name: String,
    /// The selector of what gives, as written.
    pub(crate) hitbox: String,
    /// The selector of what takes, as written.
    pub(crate) hurtbox: String,
    /// What must be so at the moment of touch, in the order in which it is tried.
    pub(crate) gates: Vec<GatePlan>,
    /// The rules that it beats.
    pub(crate) beats: Vec<RuleIx>,
    /// How long at most they stay beaten after the last win.
    pub(crate) beats_for: Ticks,
    /// When it may land again; when absent it depends on what makes the box live.
    #[getters(copy)]
    pub(crate) repeat: Option<Repeat>,
    /// The least time between two hits on one target.
    pub(crate) every: Ticks,
    /// Whether it also hits its own side.
    pub(crate) friendly: bool,
    /// Whether guards do not hold it.
    pub(crate) pierces_guard: bool,
    /// Whether windows of invincibility do not hold it.
    pub(crate) pierces_invincible: bool,
    /// Whether it only gives: windows and guards are nothing to it.
    pub(crate) only_gives: bool,
    /// What a guarded hit costs, instead of what the guard says.
    pub(crate) guard_cost: Option<Amount>,
    /// Whether a hit adds to the chain of who.
    pub(crate) chain: bool,
    /// What it does to whom.
    pub(crate) does: EffectPlan,
    /// How it throws who hit.
    #[getters(copy)]
    pub(crate) rebound: Option<ReboundPlan>,
    /// The share of the damage that who gains, in thousandths, and in which meter.
    pub(crate) drain: Option<(Amount, MeterIx)>,
    /// How long both rest.
    pub(crate) hitstop: Ticks,
    /// What else it does, and to which party.
    pub(crate) also: Vec<(Party, EffectPlan)>,
    /// What is announced when it takes effect.
    pub(crate) cue: Option<CueIx>,
}

/// How a hit throws who hit.
#[derive(Clone, Copy, Debug, Getters, PartialEq, Serialize)]
pub struct ReboundPlan {
    /// The components of velocity that it sets.
    #[getters(copy)]
    pub(crate) push: PushPlan,
    /// Upward instead, while the jump button is held.
    pub(crate) up_held: Option<f64>,
}

/// How long rules stay beaten unless the winner says otherwise.
const BEATEN: Duration = Duration::millis(500);

/// Resolves the rules.
pub(super) fn resolve(check: &mut Checker, rules: &[Rule], world: &World<'_>) -> Resolved {
    let base = Path::root().key("rule");
    let mut pairing = Vec::new();
    let mut named: Map<&str, usize> = Map::new();
    for (index, rule) in rules.iter().enumerate() {
        let (path, name) = (base.index(index).key("name"), &rule.name);
        check.free_name(path.clone(), name, "a rule");
        if let Some(first) = named.insert(name, index) {
            let message = format!("two rules are called `{name}`");
            check.report(
                Finding::new(Code::Duplicate, path, message)
                    .related(base.index(first).key("name"), "the other is here"),
            );
        }
    }
    let mut plans = Vec::new();
    for (index, rule) in rules.iter().enumerate() {
        let path = base.index(index);
        let mut side =
            |role: Role, text: &str| world.select(check, &path.key(role.key()), text, role);
        let sides = [
            side(Role::Gives, &rule.hitbox),
            side(Role::Takes, &rule.hurtbox),
        ];
        if let [Some(gives), Some(takes)] = sides {
            pairing.push(Pairing {
                rule: RuleIx::new(index),
                gives,
                takes,
            });
        }
        plans.push(plan(check, &path, rule, &named, world));
    }
    let precedence = precedence(check, &base, &plans);
    Resolved {
        rules: plans,
        precedence,
        pairing,
    }
}

/// What becomes of the rules.
pub(super) struct Resolved {
    pub rules: Vec<RulePlan>,
    /// Those that beat others, winners first.
    pub precedence: Vec<RuleIx>,
    /// Which boxes each pairs.
    pub pairing: Vec<Pairing>,
}

fn plan(
    check: &mut Checker,
    path: &Path,
    rule: &Rule,
    named: &Map<&str, usize>,
    world: &World<'_>,
) -> RulePlan {
    let does = hits::effect(check, path, &rule.does, world.scope.names);
    let also: Vec<(Party, EffectPlan)> = rule
        .also
        .iter()
        .enumerate()
        .map(|(nth, also)| {
            let path = path.key("also").index(nth);
            let does = hits::effect(check, &path, &also.does, world.scope.names);
            if !does.is_any() {
                let message = "this has no effect";
                check.report(Finding::new(Code::NoEffect, path, message));
            }
            (also.to, does)
        })
        .collect();
    let harms_whom = |(to, does): &(Party, EffectPlan)| *to == Party::Whom && does.harms();
    let only_gives = !does.harms() && !also.iter().any(harms_whom);
    let idle = !does.is_any() && also.is_empty() && rule.rebound.is_none();
    let idle = idle && rule.hitstop.is_none() && rule.cue.is_none();
    if idle && rule.beats.is_empty() {
        let message = format!("`{}` has no effect", rule.name);
        check.report(
            Finding::new(Code::NoEffect, path.clone(), message)
                .help("give it `damage`, `heal`, `kill`, `knockback`, `stun` or a `cue`"),
        );
    }
    let mut ticks = |key: &'static str, length: Option<Duration>| {
        length.map(|length| check.duration(path.key(key), length))
    };
    let every = ticks("every", rule.every).unwrap_or_default();
    let hitstop = ticks("hitstop", rule.hitstop).unwrap_or_default();
    let beats_for = ticks("beats_for", rule.beats_for);
    let drain = rule.drain.as_ref().and_then(|drain| {
        let path = path.key("drain");
        if rule.does.damage.is_none() {
            let message = "`drain` needs `damage`";
            check.report(Finding::new(Code::NoEffect, path.clone(), message));
        }
        let share = check.number(path.key("share"), drain.share, &limits::TIMES);
        let share = check.amount(path.key("share"), share);
        world
            .meter(check, path.key("meter"), &drain.meter)
            .map(|meter| (share, meter))
    });
    RulePlan {
        name: rule.name.clone(),
        hitbox: rule.hitbox.clone(),
        hurtbox: rule.hurtbox.clone(),
        gates: gates::resolve(check, &path.key("gate"), &rule.gate, world),
        beats: beats(check, path, rule, named),
        beats_for: beats_for.unwrap_or(BEATEN.ticks(check.rate)),
        repeat: rule.repeat,
        every,
        friendly: rule.friendly,
        pierces_guard: rule.pierces.contains(&Pierce::Guard),
        pierces_invincible: rule.pierces.contains(&Pierce::Invincible),
        only_gives: only_gives && !idle,
        guard_cost: rule
            .guard_cost
            .map(|cost| check.amount(path.key("guard_cost"), cost)),
        chain: rule.chain,
        does,
        rebound: rule.rebound.map(|rebound| ReboundPlan {
            push: hits::push(check, &path.key("rebound"), &rebound.push, Ticks(0)),
            up_held: rebound
                .up_held
                .map(|up| check.number(path.key("rebound").key("up_held"), up, &limits::VELOCITY)),
        }),
        drain,
        hitstop,
        also,
        cue: world.scope.cue(check, path.key("cue"), rule.cue.as_deref()),
    }
}

fn beats(check: &mut Checker, path: &Path, rule: &Rule, named: &Map<&str, usize>) -> Vec<RuleIx> {
    let mut beaten = Vec::new();
    for (nth, name) in rule.beats.iter().enumerate() {
        match named.get(name.as_str()) {
            Some(&index) => beaten.push(RuleIx::new(index)),
            None => {
                let path = path.key("beats").index(nth);
                check.unknown(path, "rule", name, named.keys().copied());
            }
        }
    }
    if rule.beats_for.is_some() && rule.beats.is_empty() {
        let message = "`beats_for` needs `beats`";
        check.report(Finding::new(Code::NoEffect, path.key("beats_for"), message));
    }
    order::sort(&mut beaten);
    beaten.dedup();
    beaten
}

/// The rules that beat others, winners before those they beat.
fn precedence(check: &mut Checker, base: &Path, plans: &[RulePlan]) -> Vec<RuleIx> {
    let mut ordered: Vec<RuleIx> = Vec::new();
    let mut settled = vec![false; plans.len()];
    for start in 0..plans.len() {
        // Depth first, without recursion: each rule with the next of those it beats to look at.
        let mut line: Vec<(usize, usize)> = vec![(start, 0)];
        while let Some((rule, next)) = line.last_mut() {
            let rule = *rule;
            if settled[rule] {
                line.pop();
                continue;
            }
            let Some(&beaten) = plans[rule].beats.get(*next) else {
                settled[rule] = true;
                if !plans[rule].beats.is_empty() {
                    ordered.push(RuleIx::new(rule));
                }
                continue;
            };
            *next += 1;
            let beaten = beaten.index();
            if let Some(from) = line.iter().position(|(rule, _)| *rule == beaten) {
                let circle = line[from..].iter().map(|(rule, _)| *rule).chain([beaten]);
                let names: Vec<String> = circle
                    .map(|rule| format!("`{}`", plans[rule].name))
                    .collect();
                let message = format!(
                    "rules beat each other in a cycle: {}",
                    names.join(" beats ")
                );
                check.report(
                    Finding::new(Code::BeatsCycle, base.index(rule).key("beats"), message)
                        .help("remove one `beats`"),
                );
                return Vec::new();
            }
            line.push((beaten, 0));
        }
    }
    ordered.reverse();
    ordered
}
