//! What is found, with the fewest and plainest inputs that still do it.

use super::play::Stage;
use super::script::{Press, Script};
use crate::order;
use crate::study::workbench::Workbench;

/// So many runs are played at the most.
const MOST: u64 = 20_000;

/// Shrinks a script, and says how many runs it took.
pub(super) fn shrink(
    stage: &Stage<'_>,
    bench: &mut Workbench,
    found: Script,
    first: &Script,
    rate: u32,
) -> (Script, u64) {
    let mut own = Shrinking {
        stage,
        bench,
        script: found,
        runs: 0,
    };
    order::sort(&mut own.script.presses);
    loop {
        let before = own.script.clone();
        own.try_as(|script| script.seed = first.seed);
        own.fewer();
        own.joined();
        own.shorter(rate);
        own.plainer(rate);
        if own.script == before || own.runs >= MOST {
            return (own.script, own.runs);
        }
    }
}

struct Shrinking<'a, 'b> {
    stage: &'a Stage<'b>,
    bench: &'a mut Workbench,
    script: Script,
    runs: u64,
}

impl Shrinking<'_, '_> {
    /// Keeps a change with which it still does it; says whether it does.
    fn try_as(&mut self, change: impl FnOnce(&mut Script)) -> bool {
        let mut changed = self.script.clone();
        change(&mut changed);
        if changed == self.script || self.runs >= MOST {
            return false;
        }
        self.runs += 1;
        let does = self.stage.play(self.bench, &changed).reached;
        if does {
            self.script = changed;
        }
        does
    }

    /// Leaves out as many presses as can be: halves first, then smaller parts, then each.
    fn fewer(&mut self) {
        let mut part = self.script.presses.len().div_ceil(2);
        while part > 0 {
            let mut end = self.script.presses.len();
            while end > 0 {
                let from = end.saturating_sub(part);
                self.try_as(|script| {
                    script.presses.drain(from..end);
                });
                end = from;
            }
            part = if part == 1 { 0 } else { part.div_ceil(2) };
        }
    }

    /// Lets two holds of one button be one, over both.
    fn joined(&mut self) {
        let mut nth = 0;
        while nth < self.script.presses.len() {
            let own = self.script.presses[nth];
            let later = self.script.presses.iter().skip(nth + 1);
            let next = later
                .zip(nth + 1..)
                .find(|(other, _)| other.word == own.word);
            let next = next.map(|(other, place)| (*other, place));
            let joins = next.is_some_and(|(other, place)| {
                let end = (own.from + own.length).max(other.from + other.length);
                let length = end - own.from;
                self.try_as(|script| {
                    script.presses.remove(place);
                    script.presses[nth].length = length;
                })
            });
            nth += usize::from(!joins);
        }
    }

    /// Lets each be a press, or else a hold of as short a plain length as can be.
    fn shorter(&mut self, rate: u32) {
        let plain = lengths(rate);
        for nth in 0..self.script.presses.len() {
            let length = self.script.presses[nth].length;
            let plainer = plain.iter().take_while(|plain| **plain != length);
            for plain in plainer.copied().collect::<Vec<_>>() {
                if self.set(nth, |press| press.length = plain) {
                    break;
                }
            }
        }
    }

    /// Lets each begin at a plain time.
    fn plainer(&mut self, rate: u32) {
        for nth in 0..self.script.presses.len() {
            let from = self.script.presses[nth].from;
            for grain in grains(rate) {
                if from.is_multiple_of(grain) {
                    break;
                }
                let below = from - from % grain;
                let both = [below, below + grain];
                if both
                    .into_iter()
                    .any(|plain| self.set(nth, |press| press.from = plain))
                {
                    break;
                }
            }
        }
    }

    fn set(&mut self, nth: usize, change: impl FnOnce(&mut Press)) -> bool {
        self.try_as(|script| change(&mut script.presses[nth]))
    }
}

/// How long a button may be held, the plainest first: a tick, then from a twentieth of a second to eight.
fn lengths(rate: u32) -> Vec<u32> {
    let short = grains(rate).into_iter().rev();
    let whole = (2..=8).map(|seconds| seconds * rate);
    std::iter::once(1).chain(short).chain(whole).collect()
}

/// Lengths of plain times in ticks, the plainest first: a second, a half, a quarter, a tenth, a twentieth.
fn grains(rate: u32) -> Vec<u32> {
    let shares = [1, 2, 4, 10, 20].into_iter();
    shares
        .filter(|share| rate.is_multiple_of(*share))
        .map(|share| rate / share)
        .filter(|grain| *grain > 1)
        .collect()
}
