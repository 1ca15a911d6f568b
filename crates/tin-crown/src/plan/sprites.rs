//! Resolved sprites: which cell of a drawing is under the boxes of an actor. Nothing that is replayed depends on them.

use tin_crown_derive::Getters;

use super::checker::Checker;
use super::deaths::DeathPlan;
use super::index::{AttackIx, StateIx};
use super::{AttackPlan, Plan, Spec};
use crate::encounter::{Clip, Kind, Phase, SpriteSpec, Up};
use crate::finding::{Code, Finding, Path};
use crate::geometry::Vec2;
use crate::limits;
use crate::time::Ticks;

/// The drawing of a kind.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct SpritePlan {
    /// The PNG, from the encounter's folder.
    pub(crate) file: String,
    /// Width and height of a cell, in pixels; the whole picture when absent.
    #[getters(copy)]
    pub(crate) cell: Option<[u32; 2]>,
    /// Where the middle of a cell is, from the actor's position, facing right.
    #[getters(copy)]
    pub(crate) at: Vec2,
    /// How many units a pixel is wide and high.
    #[getters(copy)]
    pub(crate) scale: f64,
    /// Which way the upper edge of a cell is.
    #[getters(copy)]
    pub(crate) up: Up,
    /// From which opacity on, of 255, a pixel counts as drawn.
    #[getters(copy)]
    pub(crate) opaque: u8,
    /// By how many pixels boxes and muzzles may be off the drawing.
    #[getters(copy)]
    pub(crate) tolerance: f64,
    /// What is shown, in the order in which it is tried; the last asks for nothing.
    pub(crate) clips: Vec<ClipPlan>,
}

/// Cells that are shown one after the other.
#[derive(Clone, Debug, Getters, PartialEq)]
pub struct ClipPlan {
    /// The cells.
    pub(crate) cells: Vec<u32>,
    /// How long all of them are shown.
    pub(crate) round: Ticks,
    /// Whether it begins again after the last; else that one stays.
    pub(crate) repeats: bool,
    /// What must hold.
    #[getters(skip)]
    pub(crate) asks: Asks,
}

/// What must hold for a clip to be shown.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub(crate) struct Asks {
    pub state: Option<StateIx>,
    pub attack: Option<AttackIx>,
    pub phase: Option<Phase>,
    pub dying: bool,
    /// A step of the death, counted from 0.
    pub step: Option<usize>,
    pub stunned: Option<bool>,
    pub guarding: Option<bool>,
    pub grounded: Option<bool>,
    pub moving: Option<bool>,
}

/// What an actor is in the middle of, and since when: what decides which cell of its sprite is shown.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Moment {
    /// How long it has been there.
    pub age: Ticks,
    /// The state that it is in, and for how long.
    pub state: Option<(StateIx, Ticks)>,
    /// The attack that it is in, its phase, how long it is in the attack, and in the phase.
    pub attack: Option<(AttackIx, Phase, Ticks, Ticks)>,
    /// How long it has been dying.
    pub dying: Option<Ticks>,
    /// The step of its death, counted from 0, and for how long.
    pub step: Option<(usize, Ticks)>,
    /// Whether it is stunned.
    pub stunned: bool,
    /// Whether its guard is up.
    pub guarding: bool,
    /// Whether it stands on something.
    pub grounded: bool,
    /// Whether it moves.
    pub moving: bool,
}

/// What is shown: which clip, and since when.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Shown {
    /// The place of the clip in the sprite's list.
    pub clip: usize,
    /// How long it has been shown.
    pub elapsed: Ticks,
}

impl SpritePlan {
    /// What is shown in a moment.
    pub fn shown(&self, moment: &Moment) -> Shown {
        let all = self.clips.iter();
        let clip = all.map(|clip| &clip.asks).position(|asks| asks.met(moment));
        let clip = clip.unwrap_or(self.clips.len() - 1);
        let elapsed = self.clips[clip].asks.elapsed(moment);
        Shown { clip, elapsed }
    }

    /// The cell that is shown in a moment.
    pub fn cell_at(&self, moment: &Moment) -> u32 {
        let Shown { clip, elapsed } = self.shown(moment);
        self.clips[clip].cell(elapsed)
    }
}

impl ClipPlan {
    /// The cell that is shown so long after its beginning.
    pub fn cell(&self, elapsed: Ticks) -> u32 {
        let count = self.cells.len() as u64;
        let round = u64::from(self.round.0);
        if count < 2 || round == 0 {
            return self.cells.first().copied().unwrap_or(0);
        }
        let elapsed = u64::from(elapsed.0);
        let within = match self.repeats {
            true => elapsed % round,
            false => elapsed.min(round - 1),
        };
        self.cells[(within * count / round) as usize]
    }
}

impl Asks {
    fn met(&self, moment: &Moment) -> bool {
        let is = |asked: Option<bool>, is: bool| asked.is_none_or(|asked| asked == is);
        let (state, attack) = (moment.state.map(|own| own.0), moment.attack);
        (self.dying || self.step.is_some()) == moment.dying.is_some()
            && (self.step.is_none() || self.step == moment.step.map(|own| own.0))
            && (self.state.is_none() || self.state == state)
            && (self.attack.is_none() || self.attack == attack.map(|own| own.0))
            && (self.phase.is_none() || self.phase == attack.map(|own| own.1))
            && is(self.stunned, moment.stunned)
            && is(self.guarding, moment.guarding)
            && is(self.grounded, moment.grounded)
            && is(self.moving, moment.moving)
            || *self == Asks::default()
    }

    /// Since when what it asks for holds: the narrowest of what has a beginning.
    fn elapsed(&self, moment: &Moment) -> Ticks {
        let step = moment.step.filter(|_| self.step.is_some()).map(|own| own.1);
        let dying = moment.dying.filter(|_| self.dying);
        let attack = moment.attack.filter(|_| self.attack.is_some());
        let attack = attack.map(|(_, _, whole, phase)| match self.phase {
            Some(_) => phase,
            None => whole,
        });
        let phase = moment.attack.filter(|_| self.phase.is_some());
        let phase = phase.map(|own| own.3);
        let state = moment.state.filter(|_| self.state.is_some());
        let state = state.map(|own| own.1);
        let narrowest = step.or(dying).or(attack).or(phase).or(state);
        narrowest.unwrap_or(moment.age)
    }

    /// Whether it goes by its actor's own clock.
    pub fn by_age(&self) -> bool {
        let begins = self.state.is_some() || self.attack.is_some() || self.phase.is_some();
        !(begins || self.dying || self.step.is_some())
    }
}

/// What a sprite's conditions name: of a kind, or nothing.
#[derive(Default)]
struct Acts<'s> {
    kind: Option<&'s Kind>,
    attacks: &'s [AttackPlan],
    death: &'s [DeathPlan],
}

/// The sprite of a kind, with its attacks and the steps of its death.
pub(super) fn of_kind(
    check: &mut Checker,
    base: &Path,
    kind: &Kind,
    (attacks, death): (&[AttackPlan], &[DeathPlan]),
    up: Up,
) -> Option<Box<SpritePlan>> {
    let acts = Acts {
        kind: Some(kind),
        attacks,
        death,
    };
    resolve(check, base, kind.sprite.as_ref(), &acts, up)
}

/// The sprite of a checkpoint or an exit, which is in the middle of its area and does nothing.
pub(super) fn of_goal(
    check: &mut Checker,
    base: &Path,
    sprite: Option<&SpriteSpec>,
    up: Up,
) -> Option<Box<SpritePlan>> {
    if sprite?.clips.is_some() {
        let message = "`clips` are for kinds: a checkpoint or an exit has no states";
        check.report(Finding::new(
            Code::Contradiction,
            base.key("sprite").key("clips"),
            message,
        ));
    }
    resolve(check, base, sprite, &Acts::default(), up)
}

/// A sprite, where there is one.
fn resolve(
    check: &mut Checker,
    base: &Path,
    sprite: Option<&SpriteSpec>,
    acts: &Acts<'_>,
    up: Up,
) -> Option<Box<SpritePlan>> {
    let sprite = sprite?;
    let path = base.key("sprite");
    let Some(file) = &sprite.file else {
        let message = "a sprite needs a `file`";
        check.report(Finding::new(Code::MissingKey, path, message).at_key());
        return None;
    };
    check.free_name(path.key("file"), file, "a file");
    let cell = sprite.cell.map(|cell| {
        let path = path.key("cell");
        let cell = check.pair(&path, cell, &limits::PIXELS);
        if cell.iter().any(|side| *side != side.trunc()) {
            let message = "a cell has whole pixels";
            check.report(Finding::new(Code::OutOfRange, path, message).help("round it"));
        }
        cell.map(|side| side as u32)
    });
    let at = sprite.at.unwrap_or_default();
    let at = check.pair(&path.key("at"), at, &limits::COORDINATE);
    let scale = sprite.scale.unwrap_or(1.0);
    let scale = check.number(path.key("scale"), scale, &limits::SIZE);
    let opaque = sprite.opaque.unwrap_or(0.5);
    let opaque = check.number(path.key("opaque"), opaque, &limits::OPACITY);
    let tolerance = sprite.tolerance.unwrap_or(4.0);
    let tolerance = check.number(path.key("tolerance"), tolerance, &limits::LENIENCE);
    let clips = sprite.clips.iter().flatten().enumerate();
    let mut clips: Vec<ClipPlan> = clips
        .map(|(nth, clip)| one(check, &path.key("clips").index(nth), clip, acts))
        .collect();
    clips.push(usual(check, &path, sprite));
    Some(Box::new(SpritePlan {
        file: file.clone(),
        cell,
        at: at.into(),
        scale,
        up,
        opaque: (opaque * 255.0).ceil() as u8,
        tolerance,
        clips,
    }))
}

/// What is shown where no clip is.
fn usual(check: &mut Checker, path: &Path, sprite: &SpriteSpec) -> ClipPlan {
    let clip = Clip {
        cells: sprite.cells.clone().unwrap_or_else(|| vec![0]),
        every: sprite.every,
        ..Clip::default()
    };
    timed(check, path, &clip, Asks::default(), None)
}

fn one(check: &mut Checker, path: &Path, clip: &Clip, acts: &Acts<'_>) -> ClipPlan {
    // States and attacks stand in the order of their names.
    let kind = acts.kind.into_iter();
    let states: Vec<&str> = kind
        .clone()
        .flat_map(|own| own.states.keys())
        .map(String::as_str)
        .collect();
    let attacks: Vec<&str> = kind
        .flat_map(|own| own.attacks.keys())
        .map(String::as_str)
        .collect();
    let state = clip.state.as_ref().and_then(|name| {
        let place = states.iter().position(|own| own == name);
        if place.is_none() {
            let known = states.iter().copied();
            check.unknown(path.key("state"), "state of this kind", name, known);
        }
        place.map(StateIx::new)
    });
    let attack = clip.attack.as_ref().and_then(|name| {
        let place = attacks.iter().position(|own| own == name);
        if place.is_none() {
            let known = attacks.iter().copied();
            check.unknown(path.key("attack"), "attack of this kind", name, known);
        }
        place.map(AttackIx::new)
    });
    if let Some(step) = clip.step {
        check.number(path.key("step"), f64::from(step), &limits::STEP);
    }
    if clip.in_death() && (clip.attack.is_some() || clip.phase.is_some()) {
        let message = "who dies is in no attack";
        check.report(Finding::new(Code::Contradiction, path.clone(), message));
    }
    let asks = Asks {
        state,
        attack,
        phase: clip.phase,
        dying: clip.dying,
        step: clip.step.map(|step| step.saturating_sub(1) as usize),
        stunned: clip.stunned,
        guarding: clip.guarding,
        grounded: clip.grounded,
        moving: clip.moving,
    };
    if asks == Asks::default() {
        let message = "a clip that asks for nothing is always shown, and those after it never";
        check.report(
            Finding::new(Code::NoEffect, path.clone(), message)
                .help("write its `cells` beside `file`, or say when it is shown"),
        );
    }
    timed(check, path, clip, asks, length(&asks, acts))
}

/// How long an attack or a death is, or the part of it that a clip asks for.
fn length(asks: &Asks, acts: &Acts<'_>) -> Option<Ticks> {
    let last = acts.death.last().map_or(Ticks(0), |step| step.after);
    if let Some(step) = asks.step {
        let from = acts.death.get(step)?.after;
        let to = acts.death.get(step + 1).map_or(last, |step| step.after);
        return Some(Ticks(to.0.saturating_sub(from.0)));
    }
    if asks.dying {
        return Some(last);
    }
    let attack = acts.attacks.get(asks.attack?.index())?;
    Some(match asks.phase {
        Some(phase) => attack.phases[phase as usize],
        None => attack.length(),
    })
}

/// A clip with its times. Without `every` its cells share the length of what it is shown in.
fn timed(
    check: &mut Checker,
    path: &Path,
    clip: &Clip,
    asks: Asks,
    length: Option<Ticks>,
) -> ClipPlan {
    let count = clip.cells.len() as u32;
    if count == 0 {
        let message = "a clip needs at least one cell";
        check.report(Finding::new(Code::MissingKey, path.key("cells"), message));
    }
    let every = clip
        .every
        .map(|every| check.duration(path.key("every"), every));
    if every == Some(Ticks(0)) {
        let message = "`every` must be above zero";
        check.report(Finding::new(Code::OutOfRange, path.key("every"), message));
    }
    let shared = length.filter(|_| every.is_none());
    if count > 1 && every.is_none() && shared.is_none() {
        let message = "`every` is required with several cells";
        let finding = Finding::new(Code::MissingKey, path.key("cells"), message);
        check.report(finding.help("say how long each is shown: every = \"6t\""));
    }
    let each = |every: Ticks| Ticks(every.0.saturating_mul(count));
    ClipPlan {
        cells: clip.cells.clone(),
        round: shared.or(every.map(each)).unwrap_or(Ticks(0)),
        repeats: clip.repeats.unwrap_or(length.is_none()),
        asks,
    }
}

impl Plan {
    /// Every sprite of its kinds, checkpoints and exits.
    pub fn sprites(&self) -> impl Iterator<Item = &SpritePlan> {
        let kinds = self.specs.iter().map(|spec| &spec.sprite);
        let checkpoints = self.checkpoints.iter().map(|own| &own.sprite);
        let exits = self.exits.iter().map(|own| &own.sprite);
        let all = kinds.chain(checkpoints).chain(exits);
        all.filter_map(|sprite| sprite.as_deref())
    }
}

impl Spec {
    /// The moment in which it has done nothing yet.
    pub(crate) fn at_rest(&self) -> Moment {
        Moment {
            state: self.start.map(|state| (state, Ticks(0))),
            grounded: true,
            ..Moment::default()
        }
    }
}
