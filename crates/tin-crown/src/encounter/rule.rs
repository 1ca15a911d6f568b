//! Rules: which hitbox does what to which hurtbox.

use serde::Serialize;

use super::read::{At, Read};
use crate::time::Duration;

/// What a touch of two boxes costs, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Rule {
    /// Its name, unlike any other rule's.
    pub name: String,
    /// A selector of what gives: `beetle.horns`, `#windup`, `*.tip`…
    pub hitbox: String,
    /// A selector of what takes.
    pub hurtbox: String,
    /// What it takes from meters.
    pub damage: Option<Damage>,
    /// How it throws whom it hits.
    pub knockback: Option<Push>,
    /// When it may land again; `while-touching` for boxes that are always live when absent.
    pub repeat: Option<Repeat>,
    /// The least time between two hits on the same target.
    pub every: Option<Duration>,
    /// Whether it also hits its own side.
    pub friendly: bool,
}

/// What a hit takes from meters, as written.
#[derive(Clone, Debug, PartialEq)]
pub struct Damage {
    /// How much.
    pub amount: f64,
    /// From which meters, one after the other.
    pub meters: Vec<String>,
}

/// Velocity components that a hit sets, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Push {
    /// Away from the other party, in units a second.
    pub away: Option<f64>,
    /// Upward, in units a second.
    pub up: Option<f64>,
    /// The way the pushed one faces, in units a second.
    pub forward: Option<f64>,
    /// On the line from the other's centre to its own, in units a second.
    pub along: Option<f64>,
    /// How long the pushed one's own motion does not drive it.
    pub length: Option<Duration>,
}

/// When a rule may land again on the same target.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Repeat {
    /// On every tick of overlap; invincibility or `every` spaces the hits.
    WhileTouching,
    /// Only after a tick without any touch of the boxes that the rule pairs.
    OncePerTouch,
    /// Once per attack and target. A box that is always live is one attack as long as its owner
    /// is there.
    PerAttack,
}

impl Rule {
    /// A rule by which `hitbox` touches `hurtbox`, so far to no effect.
    pub fn new(
        name: impl Into<String>,
        hitbox: impl Into<String>,
        hurtbox: impl Into<String>,
    ) -> Rule {
        Rule {
            name: name.into(),
            hitbox: hitbox.into(),
            hurtbox: hurtbox.into(),
            ..Rule::default()
        }
    }

    /// Takes `amount` from health.
    #[must_use]
    pub fn damage(self, amount: f64) -> Rule {
        self.damage_to(amount, ["health"])
    }

    /// Takes `amount` from meters, one after the other.
    #[must_use]
    pub fn damage_to<S: Into<String>>(
        mut self,
        amount: f64,
        meters: impl IntoIterator<Item = S>,
    ) -> Rule {
        self.damage = Some(Damage {
            amount,
            meters: meters.into_iter().map(Into::into).collect(),
        });
        self
    }

    /// Throws whom it hits: away from who hit, and upward, in units a second.
    #[must_use]
    pub fn knockback(mut self, away: f64, up: f64) -> Rule {
        self.knockback = Some(Push {
            away: Some(away),
            up: Some(up),
            ..Push::default()
        });
        self
    }

    /// Sets when it may land again on the same target.
    #[must_use]
    pub fn repeat(mut self, repeat: Repeat) -> Rule {
        self.repeat = Some(repeat);
        self
    }

    /// Sets the least time between two hits on the same target.
    #[must_use]
    pub fn every(mut self, length: Duration) -> Rule {
        self.every = Some(length);
        self
    }

    /// Lets it hit its own side too.
    #[must_use]
    pub fn friendly(mut self) -> Rule {
        self.friendly = true;
        self
    }
}

impl Read for Rule {
    fn read(at: At<'_>) -> Option<Rule> {
        at.table(|fields| {
            Some(Rule {
                name: fields.need("name").unwrap_or_default(),
                hitbox: fields.need("hitbox").unwrap_or_default(),
                hurtbox: fields.need("hurtbox").unwrap_or_default(),
                damage: fields.get("damage"),
                knockback: fields.get("knockback"),
                repeat: fields.with("repeat", |at| {
                    at.word(&[
                        ("while-touching", Repeat::WhileTouching),
                        ("once-per-touch", Repeat::OncePerTouch),
                        ("per-attack", Repeat::PerAttack),
                    ])
                }),
                every: fields.get("every"),
                friendly: fields.get("friendly").unwrap_or(false),
            })
        })
    }
}

/// `damage = 1`, or `damage = { amount = 1, meters = ["shield", "health"] }`.
impl Read for Damage {
    fn read(at: At<'_>) -> Option<Damage> {
        let health = || vec!["health".to_owned()];
        if at.is_table() {
            return at.table(|fields| {
                Some(Damage {
                    amount: fields.need("amount")?,
                    meters: fields.get("meters").unwrap_or_else(health),
                })
            });
        }
        let amount = f64::read(at)?;
        Some(Damage {
            amount,
            meters: health(),
        })
    }
}

impl Read for Push {
    fn read(at: At<'_>) -> Option<Push> {
        at.table(|fields| {
            Some(Push {
                away: fields.get("away"),
                up: fields.get("up"),
                forward: fields.get("forward"),
                along: fields.get("along"),
                length: fields.get("for"),
            })
        })
    }
}
