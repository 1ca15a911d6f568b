//! Death sequences: what plays out between the death and the moment an actor is gone.

use super::motion::Motion;
use super::rule::Push;
use crate::limits;
use crate::syntax::Table;
use crate::time::Duration;

/// One step of a death. Every box goes off when the death begins, unless a step keeps it; after the last
/// step the actor is gone.
///
/// ```
/// use tin_crown::encounter::{DeathStep};
/// use tin_crown::{Kind};
///
/// let porter = Kind::new()
///     .death(DeathStep::new("0s".parse()?).throw(220.0))
///     .death(DeathStep::new("0.8s".parse()?).cue("curtain"));
/// assert_eq!(porter.death.map(|steps| steps.len()), Some(2));
/// # Ok::<(), tin_crown::time::DurationError>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct DeathStep {
    /// How long after the death began.
    #[key(required, set = "")]
    pub after: Duration,
    /// Sets its velocity; gravity acts on it.
    #[key(absent = "none", set = "")]
    pub throw: Option<Push>,
    /// Whether it stays where it is from here on.
    #[key(default = "false", flag)]
    pub freeze: bool,
    /// The boxes that are live from here on.
    #[key(text = "box", absent = "unchanged", set = "live")]
    pub live: Option<Vec<String>>,
    /// How it moves by itself from here on.
    #[key(absent = "none")]
    pub motion: Option<Motion>,
    /// The state that it enters: its motion and boxes, but no way out of it.
    #[key(text = "state", absent = "none")]
    pub state: Option<String>,
    /// What it leaves where it is; it may hurt.
    #[key(absent = "nothing", set = "leaves")]
    pub leaves: Vec<Leaving>,
    /// Of these one is left, by chance.
    #[key(absent = "nothing", set = "drops")]
    pub drops: Vec<DropSpec>,
    /// The cue given.
    #[key(text = "cue", absent = "none")]
    pub cue: Option<String>,
}

/// Something that a death leaves.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Leaving {
    /// The kind of what is left.
    #[key(required, text = "kind")]
    pub kind: String,
    /// Whether it is one attack while it exists: it hits everyone once.
    #[key(default = "false", flag)]
    pub shot: bool,
}

/// Something that a death may leave.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct DropSpec {
    /// The kind of what is left.
    #[key(text = "kind", absent = "nothing is left")]
    pub kind: Option<String>,
    /// How likely it is, against the others.
    #[key(range = limits::WEIGHT, default = "1")]
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
}
