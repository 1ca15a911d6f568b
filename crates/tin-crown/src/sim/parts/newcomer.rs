//! An actor about to appear.

use serde::{Deserialize, Serialize};
use std::ops::Range;

use super::actor::{Actor, Cut, Life, Mind, NEVER};
use super::buttons::Buttons;
use super::chance::Stream;
use super::rising::Rise;
use super::windows::Windows;
use crate::encounter::Facing;
use crate::geometry::Vec2;
use crate::ledger::LineId;
use crate::plan::{ActorIx, BoxSet, BreedIx, LauncherIx, Plan, SideIx, Spec};
use crate::time::Tick;

/// An actor about to appear.
pub(crate) struct Newcomer<'a> {
    pub id: &'a str,
    pub breed: BreedIx,
    pub facing: Facing,
    pub side: Option<SideIx>,
    pub at: Vec2,
    pub velocity: Vec2,
    pub rise: Rise,
    pub shot: bool,
    pub number: ActorIx,
    pub maker: Option<ActorIx>,
    /// The maker at the root of its chain, or itself.
    pub root: ActorIx,
    /// How many makers there are between it and the root.
    pub depth: usize,
    pub origin: Option<LineId>,
    pub launcher: Option<LauncherIx>,
}

/// Where what an actor has stands in the stock of all.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub(crate) struct Own {
    pub meters: Range<usize>,
    pub attacks: Range<usize>,
    pub launchers: Range<usize>,
    pub sensors: Range<usize>,
    pub transitions: Range<usize>,
}

impl Life {
    /// The first life of a newcomer.
    pub fn new(spec: &Spec, new: &Newcomer<'_>, own: Own, seed: u32, tick: Tick) -> Box<Life> {
        Box::new(Life {
            own,
            swings: 0,
            swing_hits: Vec::new(),
            guard: None,
            last_hit: None,
            rise: new.rise,
            stoppers: [None; 2],
            turning: 0,
            told: None,
            outset: new.facing,
            doom: None,
            maker: new.maker,
            origin: new.origin,
            depth: new.depth,
            root: new.root,
            launcher: new.launcher,
            left: 0,
            mind: Mind {
                state: spec.start,
                since: tick,
                line: None,
                noticed: None,
                hurt: None,
            },
            cut: Cut {
                path: Vec2::ZERO,
                part: 1.0,
            },
            home: new.at,
            course: Vec2::ZERO,
            back: None,
            taken: false,
            dying: None,
            comeback: None,
            // What is launched has one life.
            lives: spec
                .respawn
                .as_ref()
                .filter(|_| new.maker.is_none())
                .and_then(|respawn| respawn.lives),
            checkpoint: None,
            reached: Vec::new(),
            on: Vec::new(),
            drops: Stream::new(seed, new.id, &["drops"]),
            pace: Stream::new(seed, new.id, &["pace"]),
            places: Stream::new(seed, new.id, &["teleport"]),
        })
    }
}

impl Actor {
    /// A newcomer on the tick on which it appears.
    pub fn new(plan: &Plan, new: &Newcomer<'_>, tick: Tick, life: Box<Life>) -> Actor {
        let breed = plan.breed(new.breed);
        let spec = plan.spec_of(breed.spec);
        Actor {
            alive: true,
            dying: false,
            facing: new.facing.of_kind(spec.rotates),
            turned: false,
            jumps: false,
            held: false,
            shot: new.shot,
            landed: false,
            entered: true,
            spent: None,
            stopped: [false; 2],
            arrived: false,
            posed: false,
            absent: false,
            number: new.number,
            side: new.side,
            spec: breed.spec,
            breed: new.breed,
            rank: 0,
            appeared: tick,
            came: tick,
            rested: 0,
            ends: spec.lifetime.map_or(NEVER, |lifetime| tick + lifetime),
            stunned_until: Tick(0),
            rests_until: Tick(0),
            undriven_until: Tick(0),
            clock: 0,
            chain: 0,
            bounces: spec.flight.bounces,
            buttons: Buttons::default(),
            ground: None,
            at: new.at,
            start: new.at,
            velocity: new.velocity,
            set_out: new.velocity,
            cut: false,
            anchor: new.at,
            heading: 0.0,
            swing: None,
            windows: Windows::default(),
            always: BoxSet::default(),
            live: BoxSet::default(),
            life,
        }
    }
}
