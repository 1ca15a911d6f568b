//! The course of one actor through a recording: from its rows to where it is on each tick.

use std::sync::Arc;

use super::sample::Place;
use crate::geometry::{Facing, Vec2};
use crate::plan::{ButtonIx, Does, Introduction, Pose, Report, Role, SpecIx};
use crate::time::{Tick, Ticks};

/// An actor whom rows tell of.
#[derive(Clone, Debug)]
pub(super) struct Course {
    pub role: Role,
    pub spec: SpecIx,
    pub name: String,
    /// The recordings that tell its places, and its buttons.
    pub places: Option<usize>,
    pub presses: Option<usize>,
    /// How it is introduced, until it is.
    pub introduction: Option<(Arc<str>, u16, Option<Role>)>,
    /// Its last row with a place.
    last: Option<(f64, Place)>,
    /// The last tick on which it was there.
    pub seen: Option<Tick>,
    /// Whether it comes to where it is next without a way.
    jumps: bool,
    down: u32,
    /// The ticks on which buttons go up that were down for less than a tick.
    lifts: Vec<(ButtonIx, u32)>,
    /// The tick after which it is absent, and the one on which it is back.
    apart: Option<(Tick, f64)>,
    /// Whether there is more of it to come, or it is there.
    pub here: bool,
    /// Whether it was there on the last tick.
    pub there: bool,
    /// Whether no further row can be its own.
    pub over: bool,
}

/// The tick that a time rounds to.
fn nearest(time: f64) -> f64 {
    (time + 0.5).floor()
}

impl Course {
    pub fn new(role: Role, spec: SpecIx, name: &str) -> Course {
        Course {
            role,
            spec,
            name: name.to_owned(),
            places: None,
            presses: None,
            introduction: None,
            last: None,
            seen: None,
            jumps: false,
            down: 0,
            lifts: Vec::new(),
            apart: None,
            here: false,
            there: false,
            over: false,
        }
    }

    /// The time of its last row with a place.
    pub fn last(&self) -> Option<(f64, Place)> {
        self.last
    }

    /// Whether it is there on a tick of which all was taken in.
    pub fn is_there(&self, tick: Tick) -> bool {
        let now = f64::from(tick.0);
        let away = self.apart.is_some_and(|(from, to)| from < tick && now < to);
        !away && self.seen.is_some_and(|seen| seen >= tick)
    }

    /// Whether a row of that time would follow too late.
    pub fn is_apart(&self, time: f64, gap: Ticks) -> bool {
        self.last
            .is_some_and(|(last, _)| time - last > f64::from(gap.0))
    }

    /// Takes a row in: where it was since the last, tick by tick.
    pub fn go(
        &mut self,
        time: f64,
        place: Place,
        (gap, end, up): (Ticks, Tick, f64),
        out: &mut impl FnMut(Report),
    ) {
        if self.is_apart(time, gap) {
            self.finish(end, out);
            self.apart = self.seen.map(|seen| (seen, time.ceil()));
        }
        let before = self.last.filter(|_| !self.is_apart(time, gap));
        let first = match before {
            // On a tick that it told already, the later row counts.
            Some((last, _)) if last < time => last.floor() + 1.0,
            _ => time.ceil(),
        };
        let until = time.floor().min(f64::from(end.0));
        let mut tick = first.max(0.0);
        while tick <= until {
            let now = match before {
                Some((last, old)) if tick < time => between((last, &old), (time, &place), tick, up),
                _ => place,
            };
            let arrives = place.teleport && tick >= time;
            let jump = std::mem::take(&mut self.jumps) | arrives;
            self.stand(Tick(tick as u32), &now, jump, out);
            tick += 1.0;
        }
        // The way from here on begins where it came.
        self.jumps |= place.teleport && until < time;
        self.last = Some((time, place));
    }

    /// No row of it is near the last one any more: within the tick in which that is, it comes there.
    pub fn finish(&mut self, end: Tick, out: &mut impl FnMut(Report)) {
        let Some((time, place)) = self.last else {
            return;
        };
        let tick = time.ceil();
        let told = self.seen.is_some_and(|seen| f64::from(seen.0) >= tick);
        if !told && tick >= 0.0 && tick <= f64::from(end.0) {
            let jump = std::mem::take(&mut self.jumps);
            self.stand(Tick(tick as u32), &place, jump, out);
        }
    }

    fn stand(&mut self, tick: Tick, place: &Place, jump: bool, out: &mut impl FnMut(Report)) {
        let pose = Pose {
            at: place.at,
            height: place.height,
            facing: place.facing,
            jump,
            velocity: place.velocity,
            grounded: place.grounded,
            state: place.state,
            attack: place.attack,
        };
        let does = match self.introduction.take() {
            Some((name, kind, maker)) => Does::Come(Box::new(Introduction {
                name,
                kind,
                maker,
                pose,
            })),
            None => Does::Pose(pose),
        };
        self.seen = Some(tick);
        out(Report {
            tick,
            who: self.role,
            does,
        });
    }

    /// Takes in which buttons are down at a time.
    pub fn press(&mut self, time: f64, down: u32, out: &mut impl FnMut(Report)) {
        let tick = nearest(time).max(1.0) as u32;
        self.hold(tick, down, out);
    }

    /// From a tick on these buttons are down.
    pub fn hold(&mut self, tick: u32, down: u32, out: &mut impl FnMut(Report)) {
        let changed = self.down ^ down;
        let mut tell = |tick: u32, who: Role, button: ButtonIx, down: bool| {
            out(Report {
                tick: Tick(tick),
                who,
                does: Does::Press { button, down },
            });
        };
        self.lifts.retain(|(_, at)| *at > tick);
        for nth in (0..32).filter(|nth| changed & (1 << nth) != 0) {
            let button = ButtonIx::new(nth);
            if down & (1 << nth) != 0 {
                tell(tick, self.role, button, true);
                // A release within the tick comes on the next.
                self.lifts.push((button, tick.saturating_add(1)));
            } else {
                let pressed = self.lifts.iter().any(|(own, _)| *own == button);
                tell(
                    if pressed {
                        tick.saturating_add(1)
                    } else {
                        tick
                    },
                    self.role,
                    button,
                    false,
                );
            }
        }
        self.down = down;
    }
}

/// Where it is on a tick between two rows: on the straight line. What is no number changes on the tick that
/// its time rounds to.
fn between((from, old): (f64, &Place), (to, new): (f64, &Place), tick: f64, up: f64) -> Place {
    let part = (tick - from) / (to - from);
    let mix = |a: f64, b: f64| if part == 0.0 { a } else { a + (b - a) * part };
    let plane = |a: Vec2, b: Vec2| Vec2::new(mix(a.x, b.x), mix(a.y, b.y));
    let told = if nearest(to) <= tick { new } else { old };
    if new.teleport {
        // It stays until then.
        return Place {
            velocity: None,
            ..*old
        };
    }
    Place {
        at: plane(old.at, new.at),
        height: mix(old.height, new.height),
        velocity: match (old.velocity, new.velocity) {
            (Some((a, low)), Some((b, high))) => Some((plane(a, b), mix(low, high))),
            _ => told.velocity,
        },
        facing: match (old.facing, new.facing) {
            (Some(Facing::Angle(a)), Some(Facing::Angle(b))) => {
                // The shorter way.
                let by = f64::from(a.to(b).unsigned_abs()) * part;
                Some(Facing::Angle(a.toward(b, by as u32, up)))
            }
            _ => told.facing,
        },
        teleport: false,
        ..*told
    }
}
