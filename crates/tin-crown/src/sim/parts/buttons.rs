//! Which buttons of an actor are down, and which have just gone down.

use crate::plan::ButtonIx;
use serde::{Deserialize, Serialize};

/// Which buttons are down, and were on the tick before.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize)]
pub(crate) struct Buttons {
    down: u32,
    before: u32,
    /// Presses that wait until their owner does not rest any more.
    waiting: u32,
}

impl Buttons {
    pub fn set(&mut self, button: ButtonIx, down: bool) {
        let bit = 1 << button.0;
        if down {
            self.down |= bit;
        } else {
            self.down &= !bit;
            // Should it go down again on this tick, it is pressed anew.
            self.before &= !bit;
        }
    }

    pub fn is_down(self, button: ButtonIx) -> bool {
        self.down & (1 << button.0) != 0
    }

    pub fn is_pressed(self, button: ButtonIx) -> bool {
        let pressed = (self.down & !self.before) | self.waiting;
        pressed & (1 << button.0) != 0
    }

    /// Keeps a press for later.
    pub fn wait(&mut self, button: ButtonIx) {
        self.waiting |= 1 << button.0;
    }

    /// -1, 0 or 1 for two buttons that pull apart.
    pub fn pull(self, back: ButtonIx, forth: ButtonIx) -> f64 {
        f64::from(i8::from(self.is_down(forth)) - i8::from(self.is_down(back)))
    }

    /// A tick begins. After a rest the one before does not count, so that the presses made meanwhile
    /// are still to be heard.
    pub fn begin_tick(&mut self) {
        self.before = self.down;
        self.waiting = 0;
    }
}
