//! Replaying with a progress bar on standard error, for drills that take long.

use std::fmt;
use std::sync::Arc;
use std::time::{Duration, Instant};

use indicatif::{ProgressBar, ProgressDrawTarget, ProgressState, ProgressStyle};
use tin_crown::plan::DrillIx;
use tin_crown::{Plan, Replay, ReplayError, Sim};

/// Whoever is done by then needs no bar.
const PATIENCE: Duration = Duration::from_millis(700);

/// Replays a drill. On a terminal, one that takes long shows how far it is.
pub fn replay(plan: &Arc<Plan>, drill: DrillIx) -> Result<Replay, ReplayError> {
    let resolved = &plan.drills()[drill.index()];
    let bar = ProgressBar::with_draw_target(
        Some(u64::from(resolved.last().0)),
        ProgressDrawTarget::hidden(),
    );
    if let Ok(style) =
        ProgressStyle::with_template("{prefix} {bar:40} tick {pos} of {len}, {eta} left")
    {
        bar.set_style(style.progress_chars("=> "));
    }
    bar.set_prefix(resolved.name().to_owned());
    let begun = Instant::now();
    let mut sim = Sim::new(plan, drill);
    let mut shown = false;
    while sim.step()? {
        if !shown && begun.elapsed() > PATIENCE {
            // It stays hidden where standard error is no terminal.
            bar.set_draw_target(ProgressDrawTarget::stderr());
            shown = true;
        }
        bar.set_position(u64::from(sim.tick().0));
    }
    bar.finish_and_clear();
    sim.into_replay()
}

/// A bar for long work, counted in steps; on a terminal alone, and only when it takes long.
pub struct Bar {
    bar: ProgressBar,
    begun: Instant,
}

impl Bar {
    /// One for so many steps of some sort.
    pub fn new(length: u64, what: &str) -> Bar {
        let bar = ProgressBar::with_draw_target(Some(length), ProgressDrawTarget::hidden());
        let template = format!("{{bar:40}} {{pos}} of {{len}} {what}, {{rate}}, {{eta}} left");
        if let Ok(style) = ProgressStyle::with_template(&template) {
            let rate = |state: &ProgressState, text: &mut dyn fmt::Write| {
                // A bar that cannot be written is not worth a word.
                let _ = write!(text, "{:.0} a second", state.per_sec());
            };
            bar.set_style(style.with_key("rate", rate).progress_chars("=> "));
        }
        Bar {
            bar,
            begun: Instant::now(),
        }
    }

    /// So many steps are done.
    pub fn at(&self, done: u64) {
        if self.bar.is_hidden() && self.begun.elapsed() > PATIENCE {
            // It stays hidden where standard error is no terminal.
            self.bar.set_draw_target(ProgressDrawTarget::stderr());
        }
        self.bar.set_position(done);
    }

    pub fn finish(&self) {
        self.bar.finish_and_clear();
    }
}
