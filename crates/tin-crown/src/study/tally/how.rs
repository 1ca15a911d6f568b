//! How a sum was reached, step by step, in words.

use super::Pair;
use super::means::Source;
use super::model::Reckoned;
use crate::amount::Amount;
use crate::encounter::Repeat;
use crate::plan::{AttackPlan, LauncherPlan};
use crate::time::Ticks;

/// The steps, in the order in which they are reckoned.
pub(super) fn how(
    pair: &Pair<'_>,
    damage: [Amount; 2],
    health: Option<Amount>,
    found: &Reckoned,
    start: u32,
) -> Vec<String> {
    let rule = &pair.plan.rules[pair.reach.rule.index()];
    let mut how = Vec::new();
    if let (Some(health), true) = (health, damage[1].is_positive()) {
        let range = match damage[0] == damage[1] {
            true => damage[0].to_string(),
            false => format!("{} to {}", damage[0], damage[1]),
        };
        how.push(format!("{range} a hit, of {health} health"));
    }
    if rule.does.kill {
        how.push("a hit kills outright".to_owned());
    }
    match &pair.source {
        Source::Touch(part) => how.extend(part.pulse().map(|pulse| {
            format!(
                "the box is on for {} and off for {}",
                pulse.on(),
                pulse.off()
            )
        })),
        Source::Attack(attack) => how.push(of_attack(attack)),
        Source::Launcher(launcher) => how.push(of_launcher(launcher.plan)),
    }
    if let (Some(lasts), Source::Touch(_)) = (pair.who.spec.lifetime, &pair.source) {
        how.push(format!("it is there for {lasts}"));
    }
    how.extend(spacing(pair));
    let repeat = rule.repeat.unwrap_or(Repeat::WhileTouching);
    if matches!(pair.source, Source::Touch(_)) && repeat != Repeat::WhileTouching {
        how.push("one hit a touch: they have to part before the next".to_owned());
    }
    let meters = pair.whom.spec.meters.iter();
    for meter in meters.filter(|meter| pair.plan.is_health(meter.name)) {
        how.extend(meter.regen.as_ref().map(|regen| {
            let delay = regen
                .delay
                .map(|delay| format!(", {delay} after the last loss"));
            format!(
                "health regains {} every {}{}",
                regen.amount,
                regen.every,
                delay.unwrap_or_default()
            )
        }));
    }
    if let (Some(first), Some(dies)) = (found.hits.first(), found.dies) {
        let count = found.hits.len();
        how.push(match count {
            1 => format!("one hit, {}t after the start", dies - start),
            count => format!(
                "{count} hits, {}t to {}t after the start",
                first - start,
                dies - start
            ),
        });
    }
    how
}

fn of_attack(attack: &AttackPlan) -> String {
    let [startup, active, recovery] = attack.phases;
    let cooldown = match attack.cooldown {
        Ticks(0) => String::new(),
        cooldown => format!(", cooldown {cooldown}"),
    };
    format!("startup {startup}, active {active}, recovery {recovery}{cooldown}")
}

fn of_launcher(launcher: &LauncherPlan) -> String {
    let count = match launcher.count {
        1 => String::new(),
        count => format!("{count} at once, "),
    };
    let volley = match launcher.shots {
        0 | 1 => String::new(),
        shots => format!("{shots} launches {} apart, ", launcher.every),
    };
    format!(
        "{count}{volley}cooldown {}; flight not counted",
        launcher.cooldown
    )
}

/// What keeps hits apart.
fn spacing(pair: &Pair<'_>) -> Option<String> {
    let (rule, whom) = (&pair.plan.rules[pair.reach.rule.index()], pair.whom.spec);
    let mut apart = Vec::new();
    if whom.after_hit > Ticks(0) {
        apart.push(match rule.pierces_invincible || rule.only_gives {
            true => "invincibility is pierced".to_owned(),
            false => format!("invincibility {}", whom.after_hit),
        });
    }
    if rule.every > Ticks(0) && !matches!(pair.source, Source::Launcher(_)) {
        apart.push(format!("every {}", rule.every));
    }
    if rule.hitstop > Ticks(0) {
        apart.push(format!("hitstop {} after each hit", rule.hitstop));
    }
    (!apart.is_empty()).then(|| format!("between hits: {}", apart.join(", ")))
}
