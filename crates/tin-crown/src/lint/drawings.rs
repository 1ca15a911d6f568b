//! Boxes that do not fit the drawings above which they are: what players see is not what hits them.

use crate::encounter::Phase;
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::{Facing, Shape};
use crate::map::Set;
use crate::plan::{AttackIx, BoxPlan, Plan, Spec, SpritePlan, StateIx, kinds};
use crate::sprite::{
    CellFrame, Cover, Mask, Placing, Sheet, Sheets, cover, far, frames, shown_dying,
};
use crate::time::Ticks;

/// What of a blade has to be drawn before or after it is live, to be told.
const BLADE: f64 = 0.5;
/// Of which no more than this is drawn is not seen.
const SEEN: f64 = 0.25;
/// What to do where nothing counts as drawn.
const FAINT: &str =
    "draw something in that cell, or lower the sprite's `opaque` if it is drawn faintly";

/// Measures the drawings of kinds, and of those who are placed with other boxes. `paths` are where the actors are
/// placed.
pub(crate) fn check(findings: &mut Findings, plan: &Plan, paths: &[Path], sheets: &Sheets) {
    let checkpoints = plan.checkpoints.iter();
    let checkpoints = checkpoints.map(|own| ("checkpoint", own.written, &own.sprite));
    let exits = plan
        .exits
        .iter()
        .map(|own| ("exit", own.written, &own.sprite));
    for (key, nth, sprite) in checkpoints.chain(exits) {
        if let Some(sprite) = sprite {
            let path = Path::root().key(key).index(nth).key("sprite");
            readable(findings, &path, sprite, sheets);
        }
    }
    let kinds = plan.names.kinds.len();
    let mut of_kinds = vec![Findings::new(); kinds];
    for (spec, own) in plan.specs[..kinds].iter().zip(&mut of_kinds) {
        let Some(sprite) = spec.sprite.as_deref() else {
            continue;
        };
        let base = kinds::path(&plan.names.kinds[spec.kind]);
        let path = base.key("sprite");
        if let Some(sheet) = readable(own, &path, sprite, sheets) {
            let drawing = Drawing::new(plan, spec, sprite, sheet, base);
            drawing.sheet_is_transparent(own, &path);
            drawing.never_seen(own, &path);
            drawing.ends_early(own, &path);
            drawing.fits(own);
        }
        findings.join(own);
    }
    // Of those who are placed with parts of their own, what is not so of their kind.
    let mut known = vec![false; plan.specs.len()];
    for (actor, base) in plan.actors.iter().zip(paths) {
        let index = actor.spec.index();
        let spec = plan.spec_of(actor.spec);
        let of_kind = &of_kinds[spec.kind.index()];
        if index < kinds || std::mem::replace(&mut known[index], true) || of_kind.has_errors() {
            continue;
        }
        let sheet = spec.sprite.as_deref().and_then(|sprite| {
            let path = base.key("sprite");
            Some((
                sprite,
                readable(&mut Findings::new(), &path, sprite, sheets)?,
            ))
        });
        let Some((sprite, sheet)) = sheet else {
            continue;
        };
        let mut own = Findings::new();
        Drawing::new(plan, spec, sprite, sheet, base.clone()).fits(&mut own);
        for finding in &own {
            let mut same = of_kind.iter();
            if !same.any(|known| known.message == finding.message) {
                findings.push(finding.clone());
            }
        }
    }
}

/// The sheet of a sprite, when it has all cells that are named.
fn readable<'s>(
    findings: &mut Findings,
    path: &Path,
    sprite: &SpritePlan,
    sheets: &'s Sheets,
) -> Option<&'s Sheet> {
    let mut bad = |path: Path, message: String, help: String| {
        findings.push(Finding::new(Code::BadSprite, path, message).help(help));
    };
    let (file, mut all) = (&sprite.file, sheets.iter());
    let sheet = match all.find(|(own, _)| own == file)?.1 {
        Ok(sheet) => sheet,
        Err(why) => {
            let message = format!("cannot show `{file}`: {why}");
            let help = "give a PNG that is beside the encounter, or remove the sprite";
            bad(path.key("file"), message, help.to_owned());
            return None;
        }
    };
    let [width, height] = sheet.size();
    if let Some([wide, high]) = sprite.cell
        && (width % wide != 0 || height % high != 0)
    {
        let message =
            format!("`{file}` has {width} × {height} pixels: not whole cells of {wide} × {high}");
        let help = format!(
            "a cell {} wide and {} high would fit",
            nearest_part(width, wide),
            nearest_part(height, high)
        );
        bad(path.key("cell"), message, help);
        return None;
    }
    let [across, down] = sheet.cells(sprite.cell);
    let count = across * down;
    let last = sprite.clips.len() - 1;
    for (nth, clip) in sprite.clips.iter().enumerate() {
        let path = clip_path(path, nth, last).key("cells");
        if let Some(beyond) = clip.cells.iter().find(|cell| **cell >= count) {
            let message = match count {
                1 => format!("`{file}` has one cell, 0: no cell {beyond}"),
                _ => format!(
                    "`{file}` has {count} cells, 0 to {}: no cell {beyond}",
                    count - 1
                ),
            };
            bad(
                path,
                message,
                "cells are counted from 0, row by row".to_owned(),
            );
            return None;
        }
    }
    Some(sheet)
}

/// The divisor of a length that is nearest to another.
fn nearest_part(length: u32, wanted: u32) -> u32 {
    let parts = (1..=length).filter(|part| length.is_multiple_of(*part));
    parts.min_by_key(|part| part.abs_diff(wanted)).unwrap_or(1)
}

fn clip_path(path: &Path, nth: usize, last: usize) -> Path {
    match nth == last {
        true => path.clone(),
        false => path.key("clips").index(nth),
    }
}

/// A kind with its drawing, cell by cell.
struct Drawing<'d> {
    plan: &'d Plan,
    spec: &'d Spec,
    sprite: &'d SpritePlan,
    sheet: &'d Sheet,
    placing: Placing,
    frames: Vec<CellFrame>,
    /// The kind, or the placement.
    base: Path,
}

impl<'d> Drawing<'d> {
    fn new(
        plan: &'d Plan,
        spec: &'d Spec,
        sprite: &'d SpritePlan,
        sheet: &'d Sheet,
        base: Path,
    ) -> Drawing<'d> {
        Drawing {
            plan,
            spec,
            sprite,
            sheet,
            placing: Placing::of(sprite, sheet.cell_size(sprite.cell)),
            frames: frames(plan, spec, sprite),
            base,
        }
    }

    /// Whether its boxes and muzzles fit.
    fn fits(&self, findings: &mut Findings) {
        self.hurtboxes(findings);
        self.hitboxes(findings);
        self.blades(findings);
        self.lit_blades(findings);
        self.muzzles(findings);
    }

    /// A sheet without a transparent pixel: every box would lie on the drawing.
    fn sheet_is_transparent(&self, findings: &mut Findings, path: &Path) {
        if !self.sheet.is_opaque(self.sprite.opaque) {
            return;
        }
        let message = format!(
            "`{}` has no transparent pixel: boxes cannot be held against its drawing",
            self.sprite.file
        );
        findings.push(
            Finding::new(Code::BadSprite, path.key("file"), message)
                .help("save it with a transparent background"),
        );
    }

    fn kind(&self) -> &'d str {
        &self.plan.names.kinds[self.spec.kind]
    }

    fn mask(&self, cell: u32) -> Mask {
        let SpritePlan {
            cell: size, opaque, ..
        } = self.sprite;
        self.sheet.mask(*size, cell, *opaque)
    }

    /// The cells that are never shown, clip by clip.
    fn never_seen(&self, findings: &mut Findings, path: &Path) {
        let last = self.sprite.clips.len() - 1;
        for (nth, clip) in self.sprite.clips.iter().enumerate() {
            let own = || self.frames.iter().filter(|frame| frame.clip == nth);
            let shown: Set<u32> = own().map(|frame| frame.cell).collect();
            let own_ticks: u32 = own().map(|frame| frame.ticks).sum();
            let lost = clip.cells.iter().find(|cell| !shown.contains(cell));
            let Some(lost) = lost else { continue };
            let dies = clip.asks.dying || clip.asks.step.is_some();
            if dies && !shown.is_empty() {
                // That is told of the death.
                continue;
            }
            // What is always covered by clips is a drawing for nothing only when somebody wrote it.
            let message = match (shown.is_empty(), nth == last) {
                (true, true) if clip.cells == [0] => continue,
                (true, true) => "its own `cells` are never shown: some clip always is".to_owned(),
                (true, false) => "this clip is never shown: what it asks for never holds, or another before it is \
                    shown"
                    .to_owned(),
                (false, _) => format!(
                    "cell {lost} is never shown: the time of the clip ({}) is over before",
                    Ticks(own_ticks).in_words()
                ),
            };
            let place = clip_path(path, nth, last);
            let place = if shown.is_empty() && nth != last {
                place
            } else {
                place.key("cells")
            };
            findings.push(
                Finding::new(Code::SpriteNeverSeen, place, message)
                    .help("remove it, or change when or how long it is shown"),
            );
        }
    }

    /// Clips that are shown in a death, or a step of one, and are over before it.
    fn ends_early(&self, findings: &mut Findings, path: &Path) {
        let last = self.sprite.clips.len() - 1;
        for (nth, (Ticks(shown), to_the_end)) in shown_dying(self.spec, self.sprite) {
            let clip = &self.sprite.clips[nth];
            let (count, round) = (clip.cells.len() as u64, clip.round.0);
            if nth == last || count < 2 {
                continue;
            }
            let seen = (u64::from(shown) * count).div_ceil(u64::from(round.max(1)));
            let (code, message) = if round < shown && !clip.repeats {
                let ends = format!(
                    "ends after {round} of {}, and stands still",
                    Ticks(shown).in_words()
                );
                (Code::SpriteEndsEarly, ends)
            } else if to_the_end && seen < count {
                let cut = format!(
                    "takes {}, and is cut off after {shown}",
                    clip.round.in_words()
                );
                (Code::SpriteNeverSeen, cut)
            } else {
                continue;
            };
            let kind = self.kind();
            let message = format!("the drawing of the death of `{kind}` {message}");
            findings.push(
                Finding::new(code, clip_path(path, nth, last), message)
                    .help("leave `every` out, so that its cells share the time, or change them"),
            );
        }
    }

    /// Hurtboxes that stick out of some cell, each told of the cell where it sticks out the furthest.
    fn hurtboxes(&self, findings: &mut Findings) {
        for (place, own) in self.spec.hurtboxes.iter().enumerate() {
            let found = self.frames.iter().filter_map(|frame| {
                let mut boxes = frame.boxes.iter();
                let live = boxes.find(|own| !own.hits && own.place == place)?;
                let covers = self.covers(frame, own, &live.shape);
                let worst = covers.max_by(|a, b| a.1.beyond.total_cmp(&b.1.beyond))?;
                (worst.1.beyond > self.sprite.tolerance).then_some((frame, live.when, worst))
            });
            let worst = found.max_by(|a, b| a.2.1.beyond.total_cmp(&b.2.1.beyond));
            let Some((frame, when, (way, cover))) = worst else {
                continue;
            };
            let how = match cover.beyond.is_finite() {
                true => format!(
                    "sticks out of the drawing by {:.1} pixels ({:.0} % of it is on the drawing)",
                    cover.beyond,
                    cover.share() * 100.0
                ),
                false => "is live where nothing is drawn".to_owned(),
            };
            let message = format!("hurtbox `{}` {how} in {}{way}", own.name, told(frame, when));
            let path = self.base.key("hurtbox").named(&own.name);
            let help = match cover.beyond.is_finite() {
                true => {
                    "fit it to the drawing (`tin-crown trace` does), or raise the sprite's `tolerance`"
                }
                false => FAINT,
            };
            findings.push(Finding::new(Code::HurtboxBeyondSprite, path, message).help(help));
        }
    }

    fn hitboxes(&self, findings: &mut Findings) {
        for (place, own) in self.spec.hitboxes.iter().enumerate() {
            let found = self.frames.iter().filter_map(|frame| {
                let mut boxes = frame.boxes.iter();
                let live = boxes.find(|own| own.hits && own.place == place)?;
                let unseen = self.covers(frame, own, &live.shape).filter(|(_, cover)| {
                    let off = cover.inside > 0 && cover.beyond > self.sprite.tolerance;
                    off && cover.share() <= SEEN
                });
                let least = unseen.min_by(|a, b| a.1.share().total_cmp(&b.1.share()))?;
                Some((frame, live.when, least))
            });
            let least = found.min_by(|a, b| a.2.1.share().total_cmp(&b.2.1.share()));
            let Some((frame, when, (way, cover))) = least else {
                continue;
            };
            let what = match cover.drawn {
                0 => "nothing is drawn".to_owned(),
                _ => format!(
                    "hardly anything is drawn ({:.0} % of it)",
                    cover.share() * 100.0
                ),
            };
            let message = format!(
                "hitbox `{}` is live where {what}, in {}{way}",
                own.name,
                told(frame, when)
            );
            let path = self.base.key("hitbox").named(&own.name);
            let help = match cover.beyond.is_finite() {
                true => "draw what hits there, or let the box be live only while it is drawn",
                false => FAINT,
            };
            findings.push(Finding::new(Code::HitboxUnseen, path, message).help(help));
        }
    }

    /// How a box lies on the drawing of a cell: one that is fixed also where its owner, and the drawing, face left.
    fn covers(
        &self,
        frame: &CellFrame,
        own: &BoxPlan,
        shape: &Shape,
    ) -> impl Iterator<Item = (&'static str, Cover)> {
        let mask = self.mask(frame.cell);
        let left = (" facing left", shape.mirrored());
        let mirrored = own.is_fixed() && !self.spec.rotates;
        let ways = [("", *shape)]
            .into_iter()
            .chain([left].into_iter().filter(move |_| mirrored));
        ways.map(move |(way, shape)| (way, cover(&mask, &self.placing, &shape)))
    }

    /// What an attack makes live, and is drawn in other phases of it, too.
    fn blades(&self, findings: &mut Findings) {
        for (nth, attack) in self.spec.attacks.iter().enumerate() {
            let attack_ix = AttackIx::new(nth);
            for (place, own) in self.spec.hitboxes.iter().enumerate() {
                let live = |phase: Phase| attack.live[phase as usize].hit & (1 << place) != 0;
                let in_phases = |wanted: bool| {
                    let frames = self.frames.iter();
                    let frames = frames.filter_map(|frame| {
                        let phases = frame.attacks.iter().filter(|own| own.0 == attack_ix);
                        let mut phases = phases.map(|own| own.1);
                        Some((frame, phases.find(|phase| live(*phase) == wanted)?))
                    });
                    frames.collect::<Vec<_>>()
                };
                let lit = in_phases(true).into_iter().map(|(frame, _)| frame.cell);
                let Some(blade) = self.blade(place, lit) else {
                    continue;
                };
                let unlit = in_phases(false);
                let mut unlit = unlit.iter();
                let Some((frame, phase)) = unlit.find(|(frame, _)| blade.is_on(self, frame)) else {
                    continue;
                };
                let name = &self.plan.names.attacks[attack.name];
                let message = format!(
                    "cell {} shows `{}` in the {} of `{name}`, when it is not live",
                    frame.cell,
                    own.name,
                    phase.as_str()
                );
                let path = self.base.key("attack").named(name).key("live");
                findings.push(
                    Finding::new(Code::BladeNotLive, path, message).help(
                        "draw it in only while it is live, or let it be live while it is drawn",
                    ),
                );
            }
        }
    }

    /// What states make live, and is drawn in other states, too.
    fn lit_blades(&self, findings: &mut Findings) {
        for (place, own) in self.spec.hitboxes.iter().enumerate() {
            if self.spec.by_state.hit & (1 << place) == 0 {
                continue;
            }
            let lit = |frame: &&CellFrame| {
                let mut boxes = frame.boxes.iter();
                boxes.any(|own| own.hits && own.place == place)
            };
            let standing = || self.frames.iter().filter(|frame| !frame.states.is_empty());
            let cells = standing().filter(lit).map(|frame| frame.cell);
            let Some(blade) = self.blade(place, cells) else {
                continue;
            };
            let mut unlit = standing().filter(|frame| !lit(frame));
            let Some(frame) = unlit.find(|frame| blade.is_on(self, frame)) else {
                continue;
            };
            let message = format!(
                "{} shows `{}`, when it is not live",
                told(frame, 0),
                own.name
            );
            let path = self.base.key("hitbox").named(&own.name);
            findings.push(
                Finding::new(Code::BladeNotLive, path, message)
                    .help("draw it only where a state has it `live`, or add it to `live` there"),
            );
        }
    }

    /// What is drawn within a box in some cells, and not at rest; nothing when that is nothing.
    fn blade(&self, place: usize, cells: impl Iterator<Item = u32>) -> Option<Blade> {
        let rest = self.mask(self.sprite.cell_at(&self.spec.at_rest()));
        let drawn: Vec<Mask> = cells.map(|cell| self.mask(cell)).collect();
        let [width, height] = rest.size();
        let mask = Mask::new(width, height, |x, y| {
            let (x, y) = (i64::from(x), i64::from(y));
            !rest.is_drawn(x, y) && drawn.iter().any(|mask| mask.is_drawn(x, y))
        });
        let shape = self.spec.hitboxes[place].shape(Facing::Right).into_owned();
        let whole = cover(&mask, &self.placing, &shape).drawn;
        (whole > 0).then_some(Blade { mask, shape, whole })
    }

    fn muzzles(&self, findings: &mut Findings) {
        for (nth, launcher) in self.spec.launchers.iter().enumerate() {
            // Only some states may name it.
            let named = |state: &StateIx| {
                let own = &self.spec.states[state.index()];
                own.launchers & (1 << nth) != 0
            };
            let by_states = self.spec.by_states().1 & (1 << nth) != 0;
            let frames = self.frames.iter().filter(|frame| frame.launches);
            let frames = frames.filter(|frame| !by_states || frame.states.iter().any(named));
            let off =
                frames.map(|frame| far(&self.mask(frame.cell), &self.placing, launcher.muzzle));
            let Some(off) = off.min_by(f64::total_cmp) else {
                continue;
            };
            if off <= self.sprite.tolerance {
                continue;
            }
            let how = match off.is_finite() {
                true => format!("is {off:.1} pixels off the drawing"),
                false => "is where nothing is drawn".to_owned(),
            };
            let message = format!(
                "the muzzle of `{}` {how} of `{}`",
                launcher.name,
                self.kind()
            );
            let path = self.base.key("launcher").named(&launcher.name);
            findings.push(
                Finding::new(Code::MuzzleInTheAir, path.key("muzzle"), message)
                    .help("move it to where the drawing has its nose or barrel"),
            );
        }
    }
}

/// What is drawn of a hitbox while it is live, and not at rest.
struct Blade {
    mask: Mask,
    shape: Shape,
    /// How many pixels.
    whole: u64,
}

impl Blade {
    /// Whether most of it is drawn in a cell too, and no other hitbox that is live there is what it shows.
    fn is_on(&self, drawing: &Drawing<'_>, frame: &CellFrame) -> bool {
        let drawn = drawing.mask(frame.cell);
        let [width, height] = self.mask.size();
        let both = Mask::new(width, height, |x, y| {
            let (x, y) = (i64::from(x), i64::from(y));
            drawn.is_drawn(x, y) && self.mask.is_drawn(x, y)
        });
        let others = frame.boxes.iter().filter(|own| own.hits);
        let others = others.map(|own| cover(&both, &drawing.placing, &own.shape).drawn);
        let covered = others.max().unwrap_or(0);
        let own = cover(&both, &drawing.placing, &self.shape).drawn;
        own.saturating_sub(covered) as f64 >= BLADE * self.whole as f64
    }
}

/// "cell 3 (thrust: active)".
fn told(frame: &CellFrame, when: usize) -> String {
    let when = frame.when.get(when).map_or("", String::as_str);
    match frame.when.len() {
        0 | 1 => format!("cell {} ({when})", frame.cell),
        _ => format!("cell {} ({when}, and more)", frame.cell),
    }
}
