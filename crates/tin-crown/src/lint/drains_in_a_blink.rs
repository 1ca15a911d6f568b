//! Contact damage on every tick of a touch: health drains to nothing in a blink.

use super::Audited;
use crate::amount::Amount;
use crate::encounter::{Party, Repeat};
use crate::finding::{Code, Finding, Findings, Path};
use crate::map::Map;
use crate::order;
use crate::plan::{GatePlan, HEALTH, KindIx, MeterIx, Plan, RuleIx, RulePlan, kinds};
use crate::time::Ticks;

/// Who is drained, and by which rules.
struct Drained<'p> {
    id: &'p str,
    rules: Vec<RuleIx>,
}

/// Tells of each kind once, whatever the number of rules that drain it.
pub(super) fn check(findings: &mut Findings, audited: &Audited<'_>) {
    let plan = audited.plan;
    let Some(health) = plan.names.meters.find(HEALTH) else {
        return;
    };
    let every_tick: Vec<bool> = plan
        .rules
        .iter()
        .enumerate()
        .map(|(nth, rule)| on_every_tick(rule) && lasts(plan, RuleIx::new(nth), health))
        .collect();
    let mut told = vec![false; plan.rules.len()];
    let mut found: Map<KindIx, Drained<'_>> = Map::new();
    for actor in &plan.actors {
        let spec = plan.spec_of(actor.spec);
        let mut meters = spec.meters.iter();
        let Some(full) = meters.find(|meter| meter.name == health) else {
            continue;
        };
        if spec.after_hit > Ticks(0) {
            continue;
        }
        let takes = plan.breed(actor.breed).takes.iter();
        for &rule in takes.flat_map(|&profile| plan.profile(profile)) {
            let nth = rule.index();
            if told[nth] || !every_tick[nth] || !hurts(&plan.rules[nth], health, full.max) {
                continue;
            }
            told[nth] = true;
            let drained = found.or_insert_with(spec.kind, || Drained {
                id: &actor.id,
                rules: Vec::new(),
            });
            drained.rules.push(rule);
        }
    }
    let mut found: Vec<(KindIx, Drained<'_>)> = found.into_iter().collect();
    for (_, drained) in &mut found {
        order::sort(&mut drained.rules);
    }
    order::sort_by_key(&mut found, |(_, drained)| drained.rules[0]);
    for (kind, drained) in found {
        report(findings, plan, &plan.names.kinds[kind], &drained);
    }
}

/// Whether a rule lands again on every tick of a touch.
fn on_every_tick(rule: &RulePlan) -> bool {
    let repeats = matches!(rule.repeat, None | Some(Repeat::WhileTouching));
    // Who has to begin the tick above cannot do so twice without a bounce in between.
    let leaps = |gate: &GatePlan| matches!(gate, GatePlan::Above { .. } | GatePlan::Below { .. });
    repeats && rule.every <= Ticks(1) && !rule.gates.iter().any(leaps)
}

/// Whether an actor that is placed gives by a rule with a box that is live for long, and outlives it.
fn lasts(plan: &Plan, rule: RuleIx, health: MeterIx) -> bool {
    let also = &plan.rules[rule.index()].also;
    let own = || also.iter().filter(|(party, _)| *party == Party::Who);
    plan.actors.iter().any(|actor| {
        let spec = plan.spec_of(actor.spec);
        let mut meters = spec.meters.iter();
        let held = meters.find(|meter| meter.name == health);
        let dies = own().any(|(_, does)| {
            let damage = does.damage.as_ref();
            let damage = damage.filter(|damage| damage.meters.contains(&health));
            let taken = damage.map(|damage| damage.amount);
            does.kill || held.is_some_and(|meter| taken.is_some_and(|taken| taken >= meter.max))
        });
        let by_attack = spec.by_attack.hit & !spec.by_state.hit;
        let gives = plan.breed(actor.breed).gives.iter().enumerate();
        !dies
            && gives.into_iter().any(|(nth, &profile)| {
                // One that is out for a tick at a time is no lasting touch.
                let pulse = spec.hitboxes[nth].pulse;
                by_attack & (1 << nth) == 0
                    && pulse.is_none_or(|pulse| pulse.on > Ticks(1))
                    && plan.profile(profile).contains(&rule)
            })
    })
}

/// Whether a hit takes from health, and leaves some.
fn hurts(rule: &RulePlan, health: MeterIx, full: Amount) -> bool {
    rule.does.damage.as_ref().is_some_and(|damage| {
        let drains = |amount: &Amount| amount.is_positive() && *amount < full;
        let bands = damage.bands.iter().map(|(_, amount)| amount);
        bands.chain([&damage.amount]).any(drains) && damage.meters.contains(&health)
    })
}

fn report(findings: &mut Findings, plan: &Plan, kind: &str, drained: &Drained<'_>) {
    let base = Path::root().key("rule");
    let name = |rule: &RuleIx| format!("`{}`", plan.rules[rule.index()].name);
    let (first, others) = (drained.rules[0], &drained.rules[1..]);
    let mut message = format!(
        "{} hurts `{}` on every tick of a touch, {} times a second",
        name(&first),
        drained.id,
        plan.rate
    );
    match others {
        [] => {}
        [one] => message.push_str(&format!("; so does {}", name(one))),
        [most @ .., last] => {
            let most: Vec<String> = most.iter().map(name).collect();
            message.push_str(&format!("; so do {} and {}", most.join(", "), name(last)));
        }
    }
    let mut finding = Finding::new(Code::DrainsInABlink, base.index(first.index()), message)
        .help(format!(
            "give `{kind}` `invincible = {{ after_hit = \"0.5s\" }}`, or the rule `every = \"0.5s\"` or \
             `repeat = \"once-per-touch\"`"
        ))
        .related(kinds::path(kind), "hurt without a pause");
    for rule in others {
        finding = finding.related(base.index(rule.index()), "on every tick too");
    }
    findings.push(finding);
}
