//! Meters as written.

use crate::syntax::{Table, Words};
use crate::time::Duration;

/// A bounded number that an actor carries: from 0 to `max`.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts = MeterSpec::beneath)]
pub struct MeterSpec {
    /// The most it holds; above 0.
    #[key(due, amount)]
    pub max: Option<f64>,
    /// What it holds at the start.
    #[key(amount, absent = "`max`")]
    pub start: Option<f64>,
    /// What comes back by itself.
    #[key(absent = "none", set = "regenerates")]
    pub regen: Option<RegenSpec>,
    /// How it is filled again from another meter.
    #[key(absent = "none")]
    pub reload: Option<ReloadSpec>,
}

/// What comes back by itself.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct RegenSpec {
    /// From what restarts it to the first payment; without it, nothing restarts it.
    #[key(absent = "none")]
    pub delay: Option<Duration>,
    /// From one payment to the next.
    #[key(due)]
    pub every: Option<Duration>,
    /// How much each pays.
    #[key(amount, default = "1")]
    pub amount: Option<f64>,
    /// No payment goes beyond that.
    #[key(amount, absent = "the meter's `max`")]
    pub up_to: Option<f64>,
    /// What restarts the delay.
    #[key(default = "\"loss\"")]
    pub restarted_by: Option<Restart>,
    /// It waits in these states.
    #[key(text = "state", absent = "none")]
    pub paused_in: Option<Vec<String>>,
    /// It waits while a live hitbox of one of these touches a hurtbox of its owner, whether or not a
    /// rule pairs the two.
    #[key(text = "selector", absent = "none")]
    pub paused_by: Option<Vec<String>>,
}

/// What restarts the delay of a meter's regeneration. Rules that only give never do.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Words)]
pub enum Restart {
    /// A loss of this meter.
    #[default]
    Loss,
    /// Also any hit that landed on its owner.
    Hit,
    /// Also any hit on its owner that landed, was guarded, or was turned away by a window.
    Attempt,
}

/// How a meter is filled again.
///
/// ```
/// use tin_crown::encounter::{ReloadSpec};
/// use tin_crown::{Kind, MeterSpec};
///
/// let reload = ReloadSpec::default().from("reserve").button("reload").takes("1.2s".parse()?);
/// let magazine = MeterSpec::new(6.0).reload(reload);
/// let gunner = Kind::new().meter("magazine", magazine).meter("reserve", MeterSpec::new(24.0));
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(parts)]
pub struct ReloadSpec {
    /// The meter that it is filled from.
    #[key(text = "meter", absent = "endless")]
    pub from: Option<String>,
    /// The button that begins it.
    #[key(text = "button", absent = "this or `when_empty`")]
    pub button: Option<String>,
    /// Whether it begins by itself when the meter is empty.
    #[key(default = "false")]
    pub when_empty: Option<bool>,
    /// How long it takes.
    #[key(default = "\"0t\"")]
    pub takes: Option<Duration>,
    /// How much it fills in at a time, each taking as long.
    #[key(amount, absent = "all there is room for")]
    pub amount: Option<f64>,
    /// What breaks it off. What does not has to wait: no shot while it goes on.
    #[key(default = "[\"hit\"]")]
    pub broken_by: Option<Vec<Breaks>>,
    /// The cue given when it is filled.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
}

/// What breaks off a reload.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Words)]
pub enum Breaks {
    /// A hit that landed on its owner.
    Hit,
    /// Setting off a launcher that the meter pays for.
    Shot,
    /// A walking button that is down.
    Move,
}

impl MeterSpec {
    /// A meter that starts full.
    pub fn new(max: f64) -> MeterSpec {
        MeterSpec {
            max: Some(max),
            ..MeterSpec::default()
        }
    }

    /// What remains of `base` beneath this: a new `max` alone means full again, not the start of the
    /// old one.
    fn beneath(&self, base: &MeterSpec) -> MeterSpec {
        let mut base = base.clone();
        if self.max.is_some() {
            base.start = None;
        }
        base
    }

    /// Lets `amount` come back by itself, `delay` after the last loss and each `every` from then on.
    #[must_use]
    pub fn regen(mut self, delay: Duration, every: Duration, amount: f64) -> MeterSpec {
        self.regen = Some(RegenSpec {
            delay: Some(delay),
            every: Some(every),
            amount: Some(amount),
            ..RegenSpec::default()
        });
        self
    }
}
