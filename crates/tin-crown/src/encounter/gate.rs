//! Gates: what must be so at the moment of touch for a rule to count.

use serde::Serialize;

use super::portion::Portion;
use crate::limits;
use crate::map::Map;
use crate::syntax::{Choice, Table, Words};

/// What must hold at the moment of touch: all that is named, tried in this order.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Gate {
    /// From which side who comes at whom.
    #[key(absent = "any")]
    pub from: Option<Approach>,
    /// How far a box may be past the edge and still count as above or below.
    #[key(range = limits::COORDINATE, default = "0")]
    pub margin: Option<f64>,
    /// The least downward speed of who.
    #[key(range = limits::SPEED, absent = "any")]
    pub falling_at_least: Option<f64>,
    /// The least downward speed of who relative to whom (with `from = "below"`, upward).
    #[key(range = limits::SPEED, absent = "any")]
    pub closing_at_least: Option<f64>,
    /// Whether no solid may stand between the two positions.
    #[key(default = "false")]
    pub line_of_sight: Option<bool>,
    /// What must hold of who.
    #[key(absent = "nothing")]
    pub who: PartyGate,
    /// What must hold of whom.
    #[key(absent = "nothing")]
    pub whom: PartyGate,
}

/// From which side who comes at whom.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Choice)]
#[serde(rename_all = "kebab-case")]
pub enum Approach {
    /// The hitbox's lowest point starts the tick at or above the hurtbox's top, and who comes down
    /// relative to whom.
    Above,
    /// The mirror of that: from below, and upward.
    Below,
    /// Who is where whom faces.
    Front,
    /// Who is where whom does not face.
    Behind,
    /// Who is to the left of whom.
    Left,
    /// Who is to the right of whom.
    Right,
    /// Who is seen from whom at an angle from the first to the second, in degrees: 0 is +x, and
    /// positive turns toward up.
    Angle([f64; 2]),
}

/// What must hold of one party.
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(at_most_one("grounded", "airborne"))]
pub struct PartyGate {
    /// The state that it is in.
    #[key(text = "state", absent = "any")]
    pub state: Option<String>,
    /// Which way it faces.
    #[key(absent = "any")]
    pub facing: Option<Looking>,
    /// Whether it stands on something.
    #[key(absent = "any")]
    pub grounded: Option<bool>,
    /// Whether it stands on nothing.
    #[key(absent = "any")]
    pub airborne: Option<bool>,
    /// The attack that it is in.
    #[key(text = "attack", absent = "any")]
    pub attack: Option<String>,
    /// The phase of an attack that it is in.
    #[key(absent = "any")]
    pub phase: Option<Phase>,
    /// Whether its guard is up.
    #[key(absent = "any")]
    pub guarding: Option<bool>,
    /// Whether it is stunned.
    #[key(absent = "any")]
    pub stunned: Option<bool>,
    /// What one of its meters holds.
    #[key(name = "meter", absent = "any")]
    pub meters: Map<String, Level>,
    /// Tags that it carries.
    #[key(text = "tag", absent = "any", set = "tag")]
    pub tags: Vec<String>,
    /// Tags that it does not carry.
    #[key(text = "tag", absent = "none", set = "without")]
    pub without: Vec<String>,
}

/// Which way a party faces.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Looking {
    /// Toward the other.
    Toward,
    /// Away from the other.
    Away,
    /// Left.
    Left,
    /// Right.
    Right,
}

/// A phase of an attack.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Phase {
    /// It winds up.
    Startup,
    /// Its boxes are live.
    Active,
    /// It winds down.
    Recovery,
}

/// What a meter holds, both ends included.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
pub struct Level {
    /// At least so much.
    #[key(absent = "any")]
    pub at_least: Option<Portion>,
    /// At most so much.
    #[key(absent = "any")]
    pub at_most: Option<Portion>,
}

impl Gate {
    /// A gate that asks from which side who comes.
    pub fn coming_from(from: Approach) -> Gate {
        Gate {
            from: Some(from),
            ..Gate::default()
        }
    }
}
