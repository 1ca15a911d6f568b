//! What a line has done, looked up: all of it, or nothing.

use super::Refusal;
use super::line::PipeLine;
use crate::encounter::Effect;
use crate::finding::Findings;
use crate::geometry::{Angle, Facing};
use crate::nearest::nearest;
use crate::plan::{self, ActorIx, ButtonIx, Pose, facing};
use crate::sim::Live;

/// Something that is done before a tick.
pub(super) enum Order<'l> {
    Press(ActorIx, ButtonIx, bool),
    Face(ActorIx, Angle),
    Pose(ActorIx, Pose),
    Apply(&'l Effect, Option<ActorIx>, ActorIx),
}

/// All that a line has done, in its order.
pub(super) fn orders<'l>(run: &Live, line: &'l PipeLine) -> Result<Vec<Order<'l>>, Refusal> {
    let plan = run.plan();
    let mut orders = Vec::new();
    for (who, buttons) in &line.buttons {
        let at = |button: &str| format!("buttons.{who}.{button}");
        let actor = placed(run, who, "buttons")?;
        for (button, down) in buttons {
            let found = plan.button(button);
            let found = found.ok().filter(|found| plan.spec(actor).answers(*found));
            let Some(found) = found else {
                let all = (0..plan.names.buttons.len()).map(ButtonIx::new);
                let known = all.filter(|own| plan.spec(actor).answers(*own));
                let known: Vec<&str> = known.map(|own| plan.names.buttons[own].as_str()).collect();
                return Err(Refusal::new(format!("`{who}` has no button `{button}`"))
                    .at(at(button))
                    .help(suggested(button, &known)));
            };
            orders.push(Order::Press(actor, found, *down));
        }
    }
    for (who, to) in &line.face {
        let actor = placed(run, who, "face")?;
        if !plan.spec(actor).rotates {
            return Err(Refusal::new(format!(
                "`{who}` mirrors: it cannot be told which way to face"
            ))
            .at(format!("face.{who}"))
            .help("tell it by its pose".to_owned()));
        }
        if let Facing::Angle(to) = facing(*to, plan.arena.up).of_kind(true) {
            orders.push(Order::Face(actor, to));
        }
    }
    for (who, stance) in &line.poses {
        let actor = placed(run, who, "poses")?;
        let pose = plan::pose_of(plan, actor, stance);
        let pose = pose.map_err(|findings| within(findings, &format!("poses.{who}")))?;
        orders.push(Order::Pose(actor, pose));
    }
    for (nth, effect) in line.effects.iter().enumerate() {
        let at = format!("effects[{}]", nth + 1);
        let whom = anybody(run, &effect.whom, &at)?;
        let who = match &effect.who {
            Some(who) => Some(anybody(run, who, &at)?),
            None => None,
        };
        let does = plan::effect_of(plan, &effect.does, who.is_some());
        does.map_err(|findings| within(findings, &at))?;
        orders.push(Order::Apply(&effect.does, who, whom));
    }
    Ok(orders)
}

/// A placed actor.
fn placed(run: &Live, id: &str, key: &str) -> Result<ActorIx, Refusal> {
    let plan = run.plan();
    plan.names.ids.find(id).ok_or_else(|| {
        let known: Vec<&str> = plan.names.ids.iter().collect();
        Refusal::new(format!("unknown actor `{id}`"))
            .at(format!("{key}.{id}"))
            .help(suggested(id, &known))
    })
}

/// An actor that is there, placed or launched.
fn anybody(run: &Live, id: &str, at: &str) -> Result<ActorIx, Refusal> {
    if let Some(actor) = run.plan().names.ids.find(id) {
        return Ok(actor);
    }
    let found = run.cast().find(|actor| run.id(*actor) == id);
    found.ok_or_else(|| {
        let known: Vec<&str> = run.plan().names.ids.iter().collect();
        Refusal::new(format!("nobody of the id `{id}` is there"))
            .at(at.to_owned())
            .help(suggested(id, &known))
    })
}

/// What was found within a part of a line.
fn within(findings: Findings, base: &str) -> Refusal {
    let mut refusal = Refusal::from(findings);
    refusal.at = Some(match refusal.at {
        Some(at) => format!("{base}.{at}"),
        None => base.to_owned(),
    });
    refusal
}

fn suggested(word: &str, known: &[&str]) -> String {
    match nearest(word, known.iter().copied()) {
        Some(near) => format!("did you mean `{near}`?"),
        None if known.is_empty() => "there are none".to_owned(),
        None => {
            let few: Vec<&str> = known.iter().copied().take(12).collect();
            format!("known: {}", few.join(", "))
        }
    }
}
