//! Gates: what must be so at the moment of touch for a rule to count.

use std::collections::BTreeMap;

use serde::Serialize;

use super::read::{At, Read};

/// What must be so at the moment of touch, as written. All that is named must hold.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Gate {
    /// From which side who comes at whom.
    pub from: Option<Approach>,
    /// How far a box may be past the edge and still count as above or below, in units.
    pub margin: Option<f64>,
    /// The least downward speed of who, in units a second.
    pub falling_at_least: Option<f64>,
    /// The least speed of who toward whom: downward, with `from = "below"` upward.
    pub closing_at_least: Option<f64>,
    /// Whether no solid may stand between the two.
    pub line_of_sight: Option<bool>,
    /// What must be so of who.
    pub who: PartyGate,
    /// What must be so of whom.
    pub whom: PartyGate,
}

/// From which side who comes at whom.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Approach {
    /// The hitbox starts the tick above the hurtbox, and who comes down relative to whom.
    Above,
    /// The hitbox starts the tick below the hurtbox, and who comes up relative to whom.
    Below,
    /// Who is where whom looks.
    Front,
    /// Who is where whom does not look.
    Behind,
    /// Who is to the left of whom.
    Left,
    /// Who is to the right of whom.
    Right,
    /// Who is seen from whom at an angle from the first to the second, in degrees: 0 is +x, and
    /// positive turns toward up.
    Angle([f64; 2]),
}

/// What must be so of one party, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PartyGate {
    /// Which way it faces.
    pub facing: Option<Looking>,
    /// Whether it stands on something.
    pub grounded: Option<bool>,
    /// The attack that it is in.
    pub attack: Option<String>,
    /// The phase of an attack that it is in.
    pub phase: Option<Phase>,
    /// The state that it is in.
    pub state: Option<String>,
    /// Whether its guard is up.
    pub guarding: Option<bool>,
    /// Whether it is stunned.
    pub stunned: Option<bool>,
    /// Between what its meters lie.
    pub meters: BTreeMap<String, Level>,
    /// Tags that it carries.
    pub tags: Vec<String>,
    /// Tags that it does not carry.
    pub without: Vec<String>,
}

/// Which way a party faces.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
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
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Phase {
    /// It winds up.
    Startup,
    /// Its boxes are live.
    Active,
    /// It winds down.
    Recovery,
}

impl Phase {
    /// As in files and the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Phase::Startup => "startup",
            Phase::Active => "active",
            Phase::Recovery => "recovery",
        }
    }
}

/// Between what a meter lies, both included, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Level {
    /// It holds at least so much.
    pub at_least: Option<f64>,
    /// It holds at most so much.
    pub at_most: Option<f64>,
}

impl Gate {
    /// A gate that asks from which side who comes.
    pub fn coming_from(from: Approach) -> Gate {
        Gate {
            from: Some(from),
            ..Gate::default()
        }
    }

    /// Asks for a least downward speed of who, in units a second.
    #[must_use]
    pub fn falling_at_least(mut self, speed: f64) -> Gate {
        self.falling_at_least = Some(speed);
        self
    }

    /// Asks for a least speed toward whom, in units a second.
    #[must_use]
    pub fn closing_at_least(mut self, speed: f64) -> Gate {
        self.closing_at_least = Some(speed);
        self
    }

    /// Lets a box be so far past the edge and still count as above or below, in units.
    #[must_use]
    pub fn margin(mut self, margin: f64) -> Gate {
        self.margin = Some(margin);
        self
    }
}

impl Read for Gate {
    fn read(at: At<'_>) -> Option<Gate> {
        at.table(|fields| {
            Some(Gate {
                from: fields.get("from"),
                margin: fields.get("margin"),
                falling_at_least: fields.get("falling_at_least"),
                closing_at_least: fields.get("closing_at_least"),
                line_of_sight: fields.get("line_of_sight"),
                who: fields.get("who").unwrap_or_default(),
                whom: fields.get("whom").unwrap_or_default(),
            })
        })
    }
}

impl Read for Approach {
    fn read(at: At<'_>) -> Option<Approach> {
        if at.is_table() {
            return at.table(|fields| fields.need("angle").map(Approach::Angle));
        }
        at.word(&[
            ("above", Approach::Above),
            ("below", Approach::Below),
            ("front", Approach::Front),
            ("behind", Approach::Behind),
            ("left", Approach::Left),
            ("right", Approach::Right),
        ])
    }
}

impl Read for PartyGate {
    fn read(at: At<'_>) -> Option<PartyGate> {
        at.table(|fields| {
            let grounded: Option<bool> = fields.get("grounded");
            let airborne: Option<bool> = fields.get("airborne");
            fields.clash("grounded", "airborne");
            Some(PartyGate {
                facing: fields.with("facing", |at| {
                    at.word(&[
                        ("toward", Looking::Toward),
                        ("away", Looking::Away),
                        ("left", Looking::Left),
                        ("right", Looking::Right),
                    ])
                }),
                grounded: grounded.or(airborne.map(|airborne| !airborne)),
                attack: fields.get("attack"),
                phase: fields.get("phase"),
                state: fields.get("state"),
                guarding: fields.get("guarding"),
                stunned: fields.get("stunned"),
                meters: fields.get("meter").unwrap_or_default(),
                tags: fields.get("tags").unwrap_or_default(),
                without: fields.get("without").unwrap_or_default(),
            })
        })
    }
}

impl Read for Phase {
    fn read(at: At<'_>) -> Option<Phase> {
        at.word(&[
            ("startup", Phase::Startup),
            ("active", Phase::Active),
            ("recovery", Phase::Recovery),
        ])
    }
}

impl Read for Level {
    fn read(at: At<'_>) -> Option<Level> {
        at.table(|fields| {
            Some(Level {
                at_least: fields.get("at_least"),
                at_most: fields.get("at_most"),
            })
        })
    }
}
