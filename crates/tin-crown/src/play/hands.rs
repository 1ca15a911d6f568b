//! Whose hands are on the encounter, and what they hold.

use std::sync::Arc;

use super::branch::Call;
use super::stage::{self, Stage};
use super::take::Take;
use super::{DriveError, Session, Setup};
use crate::order;
use crate::plan::Plan;
use crate::sim::PressError;

/// Somebody who can be driven.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Player {
    /// The id.
    pub id: String,
    /// Whether its lives decide the drill.
    pub player: bool,
    /// The buttons that it has.
    pub buttons: Vec<String>,
}

impl Session {
    /// Everyone who has a button and is not moved by the drill's recordings or poses: players first, each in the
    /// order of ids.
    pub fn players(&self) -> Vec<Player> {
        players(&self.plan, &self.setup)
    }

    /// Who is driven; nobody where nobody has a button.
    pub fn driven(&self) -> Option<&str> {
        self.driven.as_deref()
    }

    /// From now on drives another: what was pressed for whom was driven up to now stays as it is, and goes on when
    /// time is turned back and played again.
    ///
    /// # Errors
    ///
    /// When it has no buttons, or something else moves it.
    pub fn drive(&mut self, id: &str) -> Result<(), DriveError> {
        let players = self.players();
        if !players.iter().any(|player| player.id == id) {
            let known = players.into_iter().map(|player| player.id).collect();
            let who = id.to_owned();
            return Err(DriveError::Nobody { who, known });
        }
        self.release();
        if !self.hands.contains(id) {
            self.take_from_drill(id)?;
        }
        self.driven = Some(id.into());
        Ok(())
    }

    /// From now on an actor's inputs come from the hands alone: what its drill pressed on each branch is as if they had.
    fn take_from_drill(&mut self, id: &str) -> Result<(), DriveError> {
        let mut branches = self.branches.clone();
        for branch in branches.all_mut() {
            let mut take = Take::new(self.take.stage.clone());
            take.run_to(branch.end, branch, None)?;
            for call in take.scripted_calls(id) {
                branch.push(call);
            }
        }
        let mut hands = self.hands.clone();
        hands.insert(id.to_owned());
        let stage = Stage::new(&self.encounter, &self.plan, &self.setup, &hands)?;
        let mut take = Take::new(stage);
        take.run_to(self.tick(), branches.current(), self.ghost.as_ref())?;
        (self.branches, self.hands) = (branches, hands);
        self.settle(take);
        Ok(())
    }

    /// A button of whom is driven goes down or up, as of the next tick that is played.
    ///
    /// # Errors
    ///
    /// When the button does nothing for it.
    pub fn press(&mut self, button: &str, down: bool) -> Result<(), PressError> {
        let Some(who) = self.driven.clone() else {
            return Ok(());
        };
        let button: Arc<str> = button.into();
        let players = self.players();
        let own = players.into_iter().find(|player| *player.id == *who);
        let known = own.map_or_else(Vec::new, |player| player.buttons);
        if !known.iter().any(|known| **known == *button) {
            return Err(PressError {
                who: who.to_string(),
                button: button.to_string(),
                known,
            });
        }
        let changed = match down {
            true => self.held.insert(Arc::clone(&button)),
            false => self.held.remove(&button),
        };
        // In the past the hands only get ready: what was played stays till they play on.
        if changed && self.tick() == self.end() {
            self.call(button, down);
        }
        Ok(())
    }

    /// Everything that the hands hold goes up.
    pub fn release(&mut self) {
        for button in std::mem::take(&mut self.held) {
            if self.tick() == self.end() {
                self.call(button, false);
            }
        }
    }

    fn call(&mut self, button: Arc<str>, down: bool) {
        let Some(who) = self.driven.clone() else {
            return;
        };
        let after = self.tick();
        let call = Call {
            after,
            who,
            button,
            down,
        };
        self.branches.current_mut().push(call);
    }

    /// What is down is what the hands hold.
    pub(super) fn grip(&mut self) {
        let Some(who) = self.driven.clone() else {
            return;
        };
        let now = self.tick();
        for (button, mut down) in self.take.buttons(&who) {
            let calls = self.branches.current().at(now);
            let last = calls.iter().rev().find(|call| call.is(&who, &button));
            down = last.map_or(down, |call| call.down);
            let holds = self.held.contains(&button);
            if holds != down {
                self.call(button, holds);
            }
        }
    }
}

/// Everyone who can be driven.
pub(super) fn players(plan: &Plan, setup: &Setup) -> Vec<Player> {
    let drill = setup.drill.as_ref();
    let moved = stage::moved(plan, drill.map(String::as_str));
    let mut all: Vec<Player> = plan
        .steered()
        .filter(|(id, ..)| !moved.contains(*id))
        .map(|(id, player, buttons)| Player {
            id: id.to_owned(),
            player,
            buttons: buttons.into_iter().map(str::to_owned).collect(),
        })
        .collect();
    order::sort_by_key(&mut all, |own| !own.player);
    all
}
