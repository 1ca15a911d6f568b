//! Scripts: who holds which button from when for how long, drawn and changed.

use super::play::Stage;
use crate::encounter::{Action, Drill, Input};
use crate::random::Sequence;
use crate::time::Tick;

/// Who can press what, and what of it may be pressed.
#[derive(Clone, Debug)]
pub(super) struct Words {
    /// The actor and the button.
    pub all: Vec<(String, String)>,
    /// The places of those that may be pressed.
    pub pressed: Vec<usize>,
}

/// A button held.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Press {
    pub from: u32,
    /// Whose, and which: a place in the words.
    pub word: usize,
    /// One tick for a press.
    pub length: u32,
}

/// All that a run presses.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Script {
    pub seed: u32,
    pub presses: Vec<Press>,
}

/// So many presses a script has at the most, and is drawn with.
const MOST: usize = 64;
const DRAWN: usize = 8;

impl Script {
    /// The presses of a drill, and its other inputs, which stay as they are.
    pub fn of(drill: &Drill, words: &Words, rate: u32, last: Tick) -> (Script, Vec<Input>) {
        let (mut presses, mut rest) = (Vec::new(), Vec::new());
        for input in &drill.input {
            let mut all = words.all.iter();
            let word = all.position(|(who, button)| *who == input.who && *button == input.button);
            let from = input.when.ticks(rate).0;
            let length = match input.action {
                Action::Press => Some(1),
                Action::Hold(Some(length)) => Some(length.ticks(rate).0),
                Action::Hold(None) => Some(last.0.saturating_sub(from) + 1),
                Action::Release | Action::Face(_) => None,
            };
            match (word, length) {
                (Some(word), Some(length)) => presses.push(Press { from, word, length }),
                _ => rest.push(input.clone()),
            }
        }
        let seed = drill.seed;
        (Script { seed, presses }, rest)
    }

    /// One that is drawn.
    pub fn drawn(drawn: &mut Sequence, seed: u32, stage: &Stage<'_>) -> Script {
        let count = 1 + drawn.below(DRAWN);
        let presses = (0..count).map(|_| Press::drawn(drawn, stage)).collect();
        Script { seed, presses }
    }

    /// The same with a few changes, some of them taken from another.
    pub fn changed(&self, drawn: &mut Sequence, other: &Script, stage: &Stage<'_>) -> Script {
        let mut script = self.clone();
        let times = 1 + drawn.below(4);
        for _ in 0..times {
            script.change(drawn, other, stage);
        }
        script.presses.truncate(MOST);
        script
    }

    fn change(&mut self, drawn: &mut Sequence, other: &Script, stage: &Stage<'_>) {
        let all = &mut self.presses;
        if all.is_empty() {
            all.push(Press::drawn(drawn, stage));
            return;
        }
        let nth = drawn.below(all.len());
        let last = stage.last.0;
        match drawn.below(8) {
            0 | 1 => all[nth].from = moved(drawn, all[nth].from).min(last),
            2 => all[nth].length = moved(drawn, all[nth].length).clamp(1, last.max(1)),
            3 | 4 => all.push(Press::drawn(drawn, stage)),
            5 => {
                all.swap_remove(nth);
            }
            6 => {
                // Once more, a little later.
                let mut again = all[nth];
                again.from = again
                    .from
                    .saturating_add(1 + drawn.below(60) as u32)
                    .min(last);
                all.push(again);
            }
            _ => {
                // From some time on what the other does.
                let from = drawn.below(last as usize + 1) as u32;
                all.retain(|press| press.from < from);
                all.extend(other.presses.iter().filter(|press| press.from >= from));
            }
        }
    }
}

impl Press {
    fn drawn(drawn: &mut Sequence, stage: &Stage<'_>) -> Press {
        let pressed = &stage.words.pressed;
        let word = pressed[drawn.below(pressed.len())];
        let from = drawn.below(stage.last.0 as usize + 1) as u32;
        // As often a press as a hold, and that as often short as long.
        let length = match drawn.unit() < 0.4 {
            true => 1,
            false => 1 << drawn.below(9),
        };
        Press { from, word, length }
    }
}

/// So much earlier or later: as often by one as by a hundred.
fn moved(drawn: &mut Sequence, tick: u32) -> u32 {
    let by = 1 << drawn.below(8);
    match drawn.unit() < 0.5 {
        true => tick.saturating_sub(by),
        false => tick.saturating_add(by),
    }
}
