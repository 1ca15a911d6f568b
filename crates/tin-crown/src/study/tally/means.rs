//! How a kind hits by a rule: by touch, by an attack, by what it launches.

use serde::Serialize;

use crate::plan::{AttackPlan, BoxPlan, BreedIx, KindIx, LauncherPlan, Plan, RuleIx, Spec, Start};

/// By what means a hit comes.
#[derive(Clone, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Means {
    /// By touch, with a box that is live always, by state, or on and off.
    Touch,
    /// By an attack of that name.
    Attack(String),
    /// By what a launcher launches.
    Launcher {
        /// The kind that launches.
        maker: String,
        /// The launcher.
        launcher: String,
    },
    /// By something that is left behind, or that is made in another way.
    Left,
}

/// What is needed to reckon with them.
#[derive(Clone, Copy, Debug)]
pub(super) enum Source<'p> {
    Touch(&'p BoxPlan),
    Attack(&'p AttackPlan),
    Launcher(Launcher<'p>),
}

#[derive(Clone, Copy, Debug)]
pub(super) struct Launcher<'p> {
    pub maker: KindIx,
    pub nth: usize,
    pub plan: &'p LauncherPlan,
}

/// A kind as it gives or takes by a rule: the first of its breeds that does.
pub(super) struct Side<'p> {
    pub spec: &'p Spec,
    /// The places of its boxes that do.
    pub boxes: Vec<usize>,
}

/// The boxes of a kind that give by a rule, or take.
pub(super) fn side(plan: &Plan, kind: KindIx, rule: RuleIx, gives: bool) -> Option<Side<'_>> {
    let all = (0..plan.breeds.len()).map(BreedIx::new);
    all.filter_map(|breed| {
        let breed = plan.breed(breed);
        let spec = plan.spec_of(breed.spec);
        if spec.kind != kind {
            return None;
        }
        let profiles = if gives { &breed.gives } else { &breed.takes };
        let of = profiles.iter().enumerate();
        let boxes: Vec<usize> = of
            .filter(|(_, profile)| plan.profile(**profile).contains(&rule))
            .map(|(nth, _)| nth)
            .collect();
        (!boxes.is_empty()).then_some(Side { spec, boxes })
    })
    .next()
}

/// The means by which a kind hits by a rule, each with the place of its box.
pub(super) fn means<'p>(plan: &'p Plan, who: &Side<'p>) -> Vec<(Means, Source<'p>, usize)> {
    let (spec, names) = (who.spec, &plan.names);
    let mut all = Vec::new();
    let makers = makers(plan, spec.kind);
    if !makers.is_empty() {
        // What flies hits with its first box.
        let nth = who.boxes[0];
        for launcher in makers {
            let means = Means::Launcher {
                maker: names.kinds[launcher.maker].clone(),
                launcher: launcher.plan.name.clone(),
            };
            all.push((means, Source::Launcher(launcher), nth));
        }
        return all;
    }
    let placed = plan
        .actors
        .iter()
        .any(|actor| plan.spec_of(actor.spec).kind == spec.kind);
    for &nth in &who.boxes {
        let bit = 1_u64 << nth;
        if spec.by_attack.hit & bit == 0 {
            let means = if placed { Means::Touch } else { Means::Left };
            if !all.iter().any(|(own, ..)| *own == means) {
                all.push((means, Source::Touch(&spec.hitboxes[nth]), nth));
            }
            continue;
        }
        for attack in spec
            .attacks
            .iter()
            .filter(|attack| attack.live[1].hit & bit != 0)
        {
            let means = Means::Attack(names.attacks[attack.name].clone());
            if !all.iter().any(|(own, ..)| *own == means) {
                all.push((means, Source::Attack(attack), nth));
            }
        }
    }
    all
}

/// The launchers of those who are placed that launch a kind.
fn makers(plan: &Plan, kind: KindIx) -> Vec<Launcher<'_>> {
    let mut all: Vec<Launcher<'_>> = Vec::new();
    for actor in &plan.actors {
        let spec = plan.spec_of(actor.spec);
        for (nth, launcher) in spec.launchers.iter().enumerate() {
            let known = all
                .iter()
                .any(|own| own.maker == spec.kind && own.nth == nth);
            if launcher.launches != kind || known {
                continue;
            }
            all.push(Launcher {
                maker: spec.kind,
                nth,
                plan: launcher,
            });
        }
    }
    all
}

impl Source<'_> {
    /// Whether each attack, or each shot, hits a target once.
    pub fn is_swing(&self) -> bool {
        match self {
            Source::Touch(_) => false,
            Source::Attack(_) => true,
            Source::Launcher(launcher) => launcher.plan.shot,
        }
    }

    /// What starts it, when it is not just there.
    pub fn starts(&self) -> Option<Start> {
        match self {
            Source::Touch(_) => None,
            Source::Attack(attack) => Some(attack.starts),
            Source::Launcher(launcher) => Some(launcher.plan.starts),
        }
    }
}
