//! Boxes that do not fit the drawings above which they are: what players see is not what hits them.

use std::collections::BTreeSet;

use crate::encounter::Phase;
use crate::finding::{Code, Finding, Findings, Path};
use crate::geometry::Facing;
use crate::plan::{AttackIx, Plan, Spec, SpritePlan, kinds};
use crate::sprite::{CellFrame, Mask, Placing, Sheet, Sheets, cover, far, frames};
use crate::time::Ticks;

/// What of a blade has to be drawn before or after it is live, to be told.
const BLADE: f64 = 0.5;
/// Of which less than this is drawn is not seen.
const SEEN: f64 = 0.25;

pub(crate) fn check(findings: &mut Findings, plan: &Plan, sheets: &Sheets) {
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
    for spec in &plan.specs[..kinds] {
        let Some(sprite) = spec.sprite.as_deref() else {
            continue;
        };
        let path = kinds::path(&plan.names.kinds[spec.kind]).key("sprite");
        if let Some(sheet) = readable(findings, &path, sprite, sheets) {
            let drawing = Drawing::new(plan, spec, sprite, sheet);
            drawing.never_seen(findings, &path);
            drawing.ends_early(findings, &path);
            drawing.hurtboxes(findings);
            drawing.hitboxes(findings);
            drawing.blades(findings);
            drawing.muzzles(findings);
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
}

impl<'d> Drawing<'d> {
    fn new(
        plan: &'d Plan,
        spec: &'d Spec,
        sprite: &'d SpritePlan,
        sheet: &'d Sheet,
    ) -> Drawing<'d> {
        Drawing {
            plan,
            spec,
            sprite,
            sheet,
            placing: Placing::of(sprite, sheet.cell_size(sprite.cell)),
            frames: frames(plan, spec, sprite),
        }
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
            let own = self.frames.iter().filter(|frame| frame.clip == nth);
            let shown: BTreeSet<u32> = own.map(|frame| frame.cell).collect();
            let lost = clip.cells.iter().find(|cell| !shown.contains(cell));
            let Some(lost) = lost else { continue };
            // What is always covered by clips is a drawing for nothing only when somebody wrote it.
            let message = match (shown.is_empty(), nth == last) {
                (true, true) if clip.cells == [0] => continue,
                (true, true) => "its own `cells` are never shown: some clip always is".to_owned(),
                (true, false) => "this clip is never shown: what it asks for never holds, or another before it is \
                    shown"
                    .to_owned(),
                (false, _) => format!(
                    "cell {lost} is never shown: the time of the clip ({} ticks) is over before",
                    self.frames
                        .iter()
                        .filter(|frame| frame.clip == nth)
                        .map(|frame| frame.ticks)
                        .sum::<u32>()
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
        let whole = self.spec.death.last().map_or(Ticks(0), |step| step.after);
        for (nth, clip) in self.sprite.clips[..last].iter().enumerate() {
            let from = match (clip.asks.step, clip.asks.dying) {
                (Some(step), _) => self.spec.death.get(step).map(|step| step.after),
                (None, true) => Some(Ticks(0)),
                (None, false) => None,
            };
            let Some(from) = from.filter(|_| clip.cells.len() > 1 && !clip.repeats) else {
                continue;
            };
            let next = clip
                .asks
                .step
                .and_then(|step| self.spec.death.get(step + 1));
            let to = next.map_or(whole, |step| step.after);
            let length = to.0.saturating_sub(from.0);
            if clip.round.0 < length {
                let message = format!(
                    "the drawing of the death of `{}` ends after {} of {length} ticks, and stands still",
                    self.kind(),
                    clip.round.0
                );
                findings.push(
                    Finding::new(Code::SpriteEndsEarly, clip_path(path, nth, last), message)
                        .help("leave `every` out, so that its cells share the time, or add cells"),
                );
            }
        }
    }

    /// Hurtboxes that stick out of some cell, each told of the cell where it sticks out the furthest.
    fn hurtboxes(&self, findings: &mut Findings) {
        for (place, own) in self.spec.hurtboxes.iter().enumerate() {
            let found = self.frames.iter().filter_map(|frame| {
                let mut boxes = frame.boxes.iter();
                let shape = boxes.find(|own| !own.hits && own.place == place)?.shape;
                let cover = cover(&self.mask(frame.cell), &self.placing, &shape);
                (cover.beyond > self.sprite.tolerance).then_some((frame, cover))
            });
            let worst = found.max_by(|a, b| a.1.beyond.total_cmp(&b.1.beyond));
            let Some((frame, cover)) = worst else {
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
            let message = format!("hurtbox `{}` {how} in {}", own.name, told(frame));
            let path = kinds::path(self.kind()).key("hurtbox").named(&own.name);
            findings.push(Finding::new(Code::HurtboxBeyondSprite, path, message).help(
                "fit it to the drawing (`tin-crown trace` does), or raise the sprite's `tolerance`",
            ));
        }
    }

    fn hitboxes(&self, findings: &mut Findings) {
        for (place, own) in self.spec.hitboxes.iter().enumerate() {
            let found = self.frames.iter().filter_map(|frame| {
                let mut boxes = frame.boxes.iter();
                let shape = boxes.find(|own| own.hits && own.place == place)?.shape;
                let cover = cover(&self.mask(frame.cell), &self.placing, &shape);
                let off = cover.inside > 0 && cover.beyond > self.sprite.tolerance;
                (off && cover.share() < SEEN).then_some((frame, cover))
            });
            let least = found.min_by(|a, b| a.1.share().total_cmp(&b.1.share()));
            let Some((frame, cover)) = least else {
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
                "hitbox `{}` is live where {what}, in {}",
                own.name,
                told(frame)
            );
            let path = kinds::path(self.kind()).key("hitbox").named(&own.name);
            findings.push(
                Finding::new(Code::HitboxUnseen, path, message)
                    .help("draw what hits there, or let the box be live only while it is drawn"),
            );
        }
    }

    /// What an attack makes live, and is drawn in other phases of it, too.
    fn blades(&self, findings: &mut Findings) {
        let rest = self.sprite.cell_at(&self.spec.at_rest());
        let rest = self.mask(rest);
        for (nth, attack) in self.spec.attacks.iter().enumerate() {
            let attack_ix = AttackIx::new(nth);
            for (place, own) in self.spec.hitboxes.iter().enumerate() {
                let live = |phase: Phase| attack.live[phase as usize].hit & (1 << place) != 0;
                let shape = own.shape(Facing::Right);
                let in_phases = |live: &dyn Fn(Phase) -> bool| {
                    let frames = self.frames.iter();
                    let frames = frames.filter_map(|frame| {
                        let phases = frame.attacks.iter().filter(|own| own.0 == attack_ix);
                        let phase = phases.map(|own| own.1).find(|phase| live(*phase))?;
                        Some((frame, phase))
                    });
                    frames.collect::<Vec<_>>()
                };
                // Drawn within the box while it is live, but not at rest.
                let [width, height] = rest.size();
                let drawn: Vec<Mask> = in_phases(&live)
                    .iter()
                    .map(|(frame, _)| self.mask(frame.cell))
                    .collect();
                let blade = Mask::new(width, height, |x, y| {
                    let (x, y) = (i64::from(x), i64::from(y));
                    !rest.is_drawn(x, y) && drawn.iter().any(|mask| mask.is_drawn(x, y))
                });
                let within = |mask: &Mask| cover(mask, &self.placing, &shape).drawn;
                let whole = within(&blade);
                if whole == 0 {
                    continue;
                }
                let early = in_phases(&|phase| !live(phase))
                    .into_iter()
                    .find(|(frame, _)| {
                        let mask = self.mask(frame.cell);
                        let both = Mask::new(width, height, |x, y| {
                            let (x, y) = (i64::from(x), i64::from(y));
                            mask.is_drawn(x, y) && blade.is_drawn(x, y)
                        });
                        within(&both) as f64 >= BLADE * whole as f64
                    });
                let Some((frame, phase)) = early else {
                    continue;
                };
                let name = &self.plan.names.attacks[attack.name];
                let message = format!(
                    "cell {} shows `{}` in the {} of `{name}`, when it is not live",
                    frame.cell,
                    own.name,
                    phase.as_str()
                );
                let path = kinds::path(self.kind())
                    .key("attack")
                    .named(name)
                    .key("live");
                findings.push(
                    Finding::new(Code::BladeNotLive, path, message).help(
                        "draw it in only while it is live, or let it be live while it is drawn",
                    ),
                );
            }
        }
    }

    fn muzzles(&self, findings: &mut Findings) {
        for launcher in &self.spec.launchers {
            let frames = self.frames.iter().filter(|frame| frame.launches);
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
            let path = kinds::path(self.kind())
                .key("launcher")
                .named(&launcher.name);
            findings.push(
                Finding::new(Code::MuzzleInTheAir, path.key("muzzle"), message)
                    .help("move it to where the drawing has its nose or barrel"),
            );
        }
    }
}

/// "cell 3 (thrust: active)".
fn told(frame: &CellFrame) -> String {
    let first = frame.when.first().map_or("", String::as_str);
    match frame.when.len() {
        0 | 1 => format!("cell {} ({first})", frame.cell),
        _ => format!("cell {} ({first}, and more)", frame.cell),
    }
}
