//! Tin Crown is a test bench for 2D combat rules.
//!
//! An [`Encounter`] defines who hurts whom: boxes, meters, rules, placements. Its [`Plan`] is the same, checked
//! and resolved. A [`Replay`] of one of its drills gives a [`Ledger`]: every event, tick by tick, with its cause.
//!
//! | you want to | use |
//! |---|---|
//! | read a file, and know what is wrong with it | [`check`], [`Checked`], [`Finding`] |
//! | build an encounter in code | [`Encounter`], [`Kind`], [`Rule`], [`Drill`] and what [`encounter`] has |
//! | write it out, change one number, resolve it again | [`Encounter::to_toml`], [`Encounter::set`], [`Encounter::resolve`] |
//! | replay a drill | [`Plan::replay`](Plan), [`Replay::rows`], [`Replay::write_jsonl`] |
//! | step through it tick by tick | [`Sim`] |
//! | assert in a test that a file does what it expects | [`testing::assert_met`], [`testing::assert_golden`] |
//! | test expectations one by one | [`Replay::verify`], [`verify::Trial`] |
//! | compare ledgers, explain a hit, measure coverage | [`study`] |
//! | sweep numbers, find slack, do the sums, search for what breaks | [`study::Sweep`], [`study::slack()`], [`study::tally()`], [`study::passage()`], [`study::search()`] |
//! | print the JSON Schema, or the reference | [`schema`] |
//!
//! What matters, in this order: **exact** (the same encounter gives the same ledger, byte for byte, on every
//! machine), **never silent** (anything unknown or odd is a [`Finding`] with its place), **easy to read**, **fast**.
//!
//! Stable: the names at the root, the file and ledger formats, the codes of findings, and the digests of plans. Enums
//! marked non-exhaustive will grow. May still move: the methods of the types in [`plan`], its index types, and what
//! [`sim`] shows of a running drill.
//!
//! ```
//! let file = br#"
//!     edition = 1
//!     title = "A thorn by the way"
//!     [arena]
//!     bounds = { min = [0, 0], max = [100, 50] }
//!     [kind.walker]
//!     meter.health = { max = 3 }
//!     hurtbox.feet = { size = [8, 8] }
//!     motion = { patrol = { between = [20, 80], speed = 60 } }
//!     invincible = { after_hit = "0.5s" }
//!     [kind.thorn]
//!     hitbox.tip = { radius = 2 }
//!     [[place]]
//!     kind = "walker"
//!     at = [20, 10]
//!     [[place]]
//!     kind = "thorn"
//!     at = [50, 10]
//!     [[rule]]
//!     name = "thorn pricks"
//!     hitbox = "thorn.tip"
//!     hurtbox = "walker.feet"
//!     damage = 1
//!     [drill.stroll]
//!     length = "1s"
//! "#;
//! let plan = tin_crown::check(file).plan.expect("no errors");
//! let replay = plan.replay("stroll")?;
//! // The feet reach 4 ahead and the tip 2: they touch after 24 units, at 1 a tick.
//! let hit = replay.ledger().events().iter().find(|event| event.whom.is_some()).unwrap();
//! assert_eq!(hit.tick.0, 25);
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

pub mod amount;
mod check;
pub mod demo;
pub mod encounter;
pub mod finding;
pub mod geometry;
pub mod ledger;
pub mod limits;
mod lint;
pub mod map;
mod nearest;
mod order;
mod outcome;
mod packed;
pub mod pipe;
pub mod plan;
pub mod play;
pub mod printable;
mod random;
mod reach;
pub mod reason;
pub mod schema;
pub mod sim;
pub mod sprite;
pub mod study;
mod syntax;
pub mod testing;
mod text;
pub mod time;
pub mod track;
mod verdict;
pub mod verify;

pub use amount::Amount;
pub use check::{Checked, check, check_expectations, check_with};
pub use encounter::{
    Arena, AttackSpec, BoxSpec, Damage, Drill, Encounter, Expectation, Facing, Gate, Kind,
    LauncherSpec, MeterSpec, Motion, Pattern, Placement, Rule, SensorSpec, StateSpec,
};
pub use finding::{Code, Finding, Findings, Path, Severity};
pub use ledger::{Event, Ledger, Line, Record, Replay, Summary, What};
pub use outcome::Outcome;
pub use plan::Plan;
pub use sim::{Live, ReplayError, Sim, Snapshot};
pub use text::Format;
pub use time::{Duration, Tick, Ticks};
pub use verdict::Verdict;

/// The README's code is run with the tests.
#[cfg(doctest)]
#[doc = include_str!("../README.md")]
struct Readme;

/// So is that of the page for programmers.
#[cfg(doctest)]
#[doc = include_str!("../docs/embedding.md")]
struct Embedding;
