//! Death sequences: what plays out between the death and the moment somebody is gone.

use super::motion::Motion;
use super::read::{At, Read};
use super::rule::Push;
use crate::time::Duration;

/// One step of a death, as written. Every box goes off when the death begins, unless a step keeps it;
/// after the last step the actor is gone.
///
/// ```
/// use tin_crown::{DeathStep, Kind};
///
/// let porter = Kind::new()
///     .death(DeathStep::new("0s".parse()?).throw(220.0))
///     .death(DeathStep::new("0.8s".parse()?).cue("curtain"));
/// assert_eq!(porter.death.map(|steps| steps.len()), Some(2));
/// # Ok::<(), tin_crown::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct DeathStep {
    /// How long after the death began.
    pub after: Duration,
    /// How it is thrown.
    pub throw: Option<Push>,
    /// Whether it stays where it is from here on, whatever drew it.
    pub freeze: bool,
    /// Names of boxes that are live from here on, until a later step names others.
    pub live: Option<Vec<String>>,
    /// How it moves by itself from here on.
    pub motion: Option<Motion>,
    /// The state that it comes into: its motion and boxes, but not its mind.
    pub state: Option<String>,
    /// What it leaves where it is.
    pub leaves: Vec<Leaving>,
    /// Of which one is left, by chance.
    pub drops: Vec<DropSpec>,
    /// What is announced.
    pub cue: Option<String>,
}

/// Something that a death leaves, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Leaving {
    /// The kind of what is left.
    pub kind: String,
    /// Whether it is one attack while it is there, as a shot is.
    pub shot: bool,
}

/// Something that a death may leave, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct DropSpec {
    /// The kind of what is left; nothing when absent.
    pub kind: Option<String>,
    /// How likely it is, against the others; 1 when absent.
    pub weight: Option<u32>,
}

impl DeathStep {
    /// A step so long after the death began.
    pub fn new(after: Duration) -> DeathStep {
        DeathStep {
            after,
            ..DeathStep::default()
        }
    }

    /// Throws it upward, in units a second.
    #[must_use]
    pub fn throw(mut self, up: f64) -> DeathStep {
        self.throw = Some(Push {
            up: Some(up),
            ..Push::default()
        });
        self
    }

    /// Sets what is announced.
    #[must_use]
    pub fn cue(mut self, cue: impl Into<String>) -> DeathStep {
        self.cue = Some(cue.into());
        self
    }

    /// Keeps a box live from here on.
    #[must_use]
    pub fn live(mut self, name: impl Into<String>) -> DeathStep {
        self.live.get_or_insert_default().push(name.into());
        self
    }
}

impl Read for DeathStep {
    fn read(at: At<'_>) -> Option<DeathStep> {
        at.table(|fields| {
            Some(DeathStep {
                after: fields.need("after").unwrap_or_default(),
                throw: fields.get("throw"),
                freeze: fields.get("freeze").unwrap_or(false),
                live: fields.get("live"),
                motion: fields.get("motion"),
                state: fields.get("state"),
                leaves: fields.get("leaves").unwrap_or_default(),
                drops: fields.get("drops").unwrap_or_default(),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Read for Leaving {
    fn read(at: At<'_>) -> Option<Leaving> {
        at.table(|fields| {
            Some(Leaving {
                kind: fields.need("kind").unwrap_or_default(),
                shot: fields.get("shot").unwrap_or(false),
            })
        })
    }
}

impl Read for DropSpec {
    fn read(at: At<'_>) -> Option<DropSpec> {
        at.table(|fields| {
            Some(DropSpec {
                kind: fields.get("kind"),
                weight: fields.get("weight"),
            })
        })
    }
}
