//! Two players on two machines, each of which hears of the other five ticks late: it guesses, and where it
//! guessed wrong goes back and plays those ticks again. In the end both have the same encounter.
//!
//! Run it with `cargo run --example rollback`.

use std::collections::VecDeque;
use std::sync::Arc;

use tin_crown::plan::{ActorIx, ButtonIx};
use tin_crown::sim::Digest;
use tin_crown::{Live, Plan, Sim, Snapshot};

const DUEL: &str = r##"
edition = 1
title = "Two porters at odds"

[arena]
bounds = { min = [0, 0], max = [320, 180] }
gravity = 900
solids = [{ min = [0, 0], max = [320, 16] }]

[kind.porter]
body = { size = [14, 28] }
walk = { speed = 90, jump = 320 }
meter.health = { max = 12 }
hurtbox.torso = { size = [12, 24] }
hitbox.umbrella = { size = [30, 8], at = [18, 2] }
attack.thrust = { button = "attack", startup = "3t", active = "4t", recovery = "9t", live = ["umbrella"] }
invincible = { after_hit = "0.4s" }

[[place]]
kind = "porter"
id = "ann"
at = [120, 30]

[[place]]
kind = "porter"
id = "bob"
at = [200, 30]
facing = "left"

[[rule]]
name = "umbrella pokes"
hitbox = "porter.umbrella"
hurtbox = "porter.torso"
damage = 1
knockback = { away = 120, up = 90 }
"##;

const DELAY: usize = 5;
const TICKS: u32 = 600;

/// The buttons that are down.
#[derive(Clone, Copy, Default, PartialEq)]
struct Held {
    left: bool,
    right: bool,
    jump: bool,
    attack: bool,
}

/// What a hand does on a tick: something to and fro.
fn hand(player: usize, tick: u32) -> Held {
    let beat = (tick / 7 + 3 * player as u32) % 11;
    Held {
        left: beat < 3,
        right: (4..8).contains(&beat),
        jump: beat == 9,
        attack: (tick + 5 * player as u32).is_multiple_of(13),
    }
}

/// One of the two machines.
struct Peer {
    own: usize,
    players: [ActorIx; 2],
    buttons: [ButtonIx; 4],
    run: Live,
    /// What both held on each tick, as far as it is known, else as it is guessed.
    held: Vec<[Held; 2]>,
    /// Up to which tick the other's hand is known.
    known: usize,
    /// Before each of the last ticks.
    saved: VecDeque<Snapshot>,
    wrong: u32,
}

impl Peer {
    fn new(plan: &Arc<Plan>, own: usize) -> Result<Peer, Box<dyn std::error::Error>> {
        let run = Sim::open(plan, 0);
        let button = |name| plan.button(name);
        Ok(Peer {
            own,
            players: [plan.actor("ann")?, plan.actor("bob")?],
            buttons: [
                button("left")?,
                button("right")?,
                button("jump")?,
                button("attack")?,
            ],
            saved: (0..DELAY + 2).map(|_| run.snapshot()).collect(),
            run,
            held: vec![[Held::default(); 2]],
            known: 0,
            wrong: 0,
        })
    }

    /// Plays one tick with what is known or guessed of it.
    fn play(&mut self, tick: usize) -> Result<(), Box<dyn std::error::Error>> {
        // The oldest snapshot gives its memory to the newest.
        let mut saved = self.saved.pop_front().ok_or("there are some")?;
        self.run.save(&mut saved);
        self.saved.push_back(saved);
        for (player, held) in self.players.into_iter().zip(self.held[tick]) {
            let down = [held.left, held.right, held.jump, held.attack];
            for (button, down) in self.buttons.into_iter().zip(down) {
                self.run.press(player, button, down)?;
            }
        }
        self.run.step()?;
        Ok(())
    }

    /// A tick begins here: the own hand is known, the other's guessed to hold what it held last.
    fn advance(&mut self, held: Held) -> Result<(), Box<dyn std::error::Error>> {
        let tick = self.held.len();
        let mut both = self.held[self.known.min(tick - 1)];
        both[self.own] = held;
        self.held.push(both);
        self.play(tick)
    }

    /// It is heard what the other held on a tick. If that was guessed wrong, it goes back there.
    fn hear(&mut self, tick: usize, held: Held) -> Result<(), Box<dyn std::error::Error>> {
        let other = 1 - self.own;
        self.known = tick;
        let now = self.held.len();
        if self.held[tick][other] == held {
            return Ok(());
        }
        self.wrong += 1;
        for later in &mut self.held[tick..] {
            later[other] = held;
        }
        // As many snapshots back as there are ticks to be played again.
        let back = self.saved.len() - (now - tick);
        self.run.restore(&self.saved[back])?;
        self.saved.rotate_right(now - tick);
        (tick..now).try_for_each(|tick| self.play(tick))
    }

    fn digest(&self) -> Digest {
        self.run.digest()
    }
}

/// Lets two machines play ten seconds against each other.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let checked = tin_crown::check(DUEL.as_bytes());
    let plan = checked.plan.ok_or_else(|| checked.findings.to_string())?;
    let mut peers = [Peer::new(&plan, 0)?, Peer::new(&plan, 1)?];
    let mut apart = 0;
    for tick in 1..=TICKS {
        for peer in &mut peers {
            peer.advance(hand(peer.own, tick))?;
        }
        apart += u32::from(peers[0].digest() != peers[1].digest());
        if let Some(heard) = tick.checked_sub(DELAY as u32).filter(|heard| *heard > 0) {
            for peer in &mut peers {
                peer.hear(heard as usize, hand(1 - peer.own, heard))?;
            }
        }
    }
    // What is still under way arrives.
    for heard in TICKS - DELAY as u32 + 1..=TICKS {
        for peer in &mut peers {
            peer.hear(heard as usize, hand(1 - peer.own, heard))?;
        }
    }
    let [ann, bob] = &peers;
    println!(
        "guessed wrong: {} and {} times; apart on {apart} of {TICKS} ticks",
        ann.wrong, bob.wrong
    );
    println!("in the end: {} and {}", ann.digest(), bob.digest());
    assert!(
        ann.wrong > 50 && bob.wrong > 50 && apart > 50,
        "there was something to correct"
    );
    assert_eq!(ann.digest(), bob.digest(), "both have the same encounter");
    // Nobody guessed here.
    let mut alone = Peer::new(&plan, 0)?;
    for tick in 1..=TICKS {
        alone.held.push([hand(0, tick), hand(1, tick)]);
        alone.play(tick as usize)?;
    }
    assert_eq!(
        alone.digest(),
        ann.digest(),
        "and the one that there would have been"
    );
    Ok(())
}
