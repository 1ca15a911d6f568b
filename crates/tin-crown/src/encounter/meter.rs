//! Meters as written.

use super::read::{At, Read, laid_over};
use crate::limits;
use crate::time::Duration;

/// A bounded number an actor carries, as written: from 0 to `max`.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct MeterSpec {
    /// The most it holds.
    pub max: Option<f64>,
    /// What it holds at the start; `max` when absent.
    pub start: Option<f64>,
    /// What comes back by itself.
    pub regen: Option<RegenSpec>,
    /// How it is filled from another meter.
    pub reload: Option<ReloadSpec>,
}

/// What comes back by itself, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct RegenSpec {
    /// How long after the last loss the first payment comes; when absent losses do not matter.
    pub delay: Option<Duration>,
    /// From one payment to the next.
    pub every: Option<Duration>,
    /// How much each pays; 1 when absent.
    pub amount: Option<f64>,
    /// Up to how much; the meter's `max` when absent.
    pub up_to: Option<f64>,
    /// Whether a hit that came to nothing (a window, a guard) counts as a loss too.
    pub after_attempts: Option<bool>,
    /// Names of states in which it waits.
    pub paused_in: Option<Vec<String>>,
    /// Selectors: it waits while a hitbox of one of these touches its owner.
    pub paused_by: Option<Vec<String>>,
}

/// How a meter is filled again, as written.
///
/// ```
/// use tin_crown::{Kind, MeterSpec, ReloadSpec};
///
/// let magazine = MeterSpec::new(6.0).reload(ReloadSpec {
///     from: Some("reserve".into()),
///     button: Some("reload".into()),
///     takes: Some("1.2s".parse()?),
///     ..ReloadSpec::default()
/// });
/// let gunner = Kind::new().meter("magazine", magazine).meter("reserve", MeterSpec::new(24.0));
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct ReloadSpec {
    /// The meter that it is filled from; endless when absent.
    pub from: Option<String>,
    /// The button that begins it.
    pub button: Option<String>,
    /// Whether it begins by itself when the meter is empty.
    pub when_empty: Option<bool>,
    /// How long it takes.
    pub takes: Option<Duration>,
    /// How much it fills in at once; all there is room for when absent. With an amount it goes on,
    /// each time taking as long.
    pub amount: Option<f64>,
    /// What breaks it off: `hit`, `shot`, `move`; a hit when absent.
    pub broken_by: Option<Vec<Breaks>>,
    /// What is announced when it is filled.
    pub cue: Option<String>,
}

/// What breaks off a reload.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
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

    /// Sets what it holds at the start.
    #[must_use]
    pub fn start(mut self, start: f64) -> MeterSpec {
        self.start = Some(start);
        self
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

    /// Sets how it is filled again.
    #[must_use]
    pub fn reload(mut self, reload: ReloadSpec) -> MeterSpec {
        self.reload = Some(reload);
        self
    }

    pub(crate) fn over(&self, base: &MeterSpec) -> MeterSpec {
        let regen = match (&self.regen, &base.regen) {
            (Some(own), Some(base)) => Some(laid_over!(
                own,
                base,
                RegenSpec {
                    delay,
                    every,
                    amount,
                    up_to,
                    after_attempts,
                    paused_in,
                    paused_by,
                }
            )),
            (own, base) => own.clone().or_else(|| base.clone()),
        };
        let reload = match (&self.reload, &base.reload) {
            (Some(own), Some(base)) => Some(laid_over!(
                own,
                base,
                ReloadSpec {
                    from,
                    button,
                    when_empty,
                    takes,
                    amount,
                    broken_by,
                    cue,
                }
            )),
            (own, base) => own.clone().or_else(|| base.clone()),
        };
        MeterSpec {
            max: self.max.or(base.max),
            // A new max alone means full again, not the start of the old one.
            start: self
                .start
                .or(if self.max.is_some() { None } else { base.start }),
            regen,
            reload,
        }
    }
}

impl Read for MeterSpec {
    fn read(at: At<'_>) -> Option<MeterSpec> {
        at.table(|fields| {
            Some(MeterSpec {
                max: fields.get("max"),
                start: fields.get("start"),
                regen: fields.get("regen"),
                reload: fields.get("reload"),
            })
        })
    }
}

impl Read for RegenSpec {
    fn read(at: At<'_>) -> Option<RegenSpec> {
        at.table(|fields| {
            Some(RegenSpec {
                delay: fields.get("delay"),
                every: fields.get("every"),
                amount: fields.get("amount"),
                up_to: fields.get("up_to"),
                after_attempts: fields.get("after_attempts"),
                paused_in: fields.get("paused_in"),
                paused_by: fields.get("paused_by"),
            })
        })
    }
}

impl Read for ReloadSpec {
    fn read(at: At<'_>) -> Option<ReloadSpec> {
        at.table(|fields| {
            Some(ReloadSpec {
                from: fields.get("from"),
                button: fields.get("button"),
                when_empty: fields.get("when_empty"),
                takes: fields.get("takes"),
                amount: fields.get("amount"),
                broken_by: fields.with("broken_by", |at| {
                    at.list(limits::LIST, |at| {
                        at.word(&[
                            ("hit", Breaks::Hit),
                            ("shot", Breaks::Shot),
                            ("move", Breaks::Move),
                        ])
                    })
                }),
                cue: fields.get("cue"),
            })
        })
    }
}
