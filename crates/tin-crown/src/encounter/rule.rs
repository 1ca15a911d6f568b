//! Rules: which hitbox does what to which hurtbox.

use serde::Serialize;

use super::gate::Gate;
use crate::limits;
use crate::syntax::{Shape, Short, Table, Words};
use crate::time::Duration;

/// Which hitbox does what to which hurtbox.
///
/// ```
/// use tin_crown::encounter::{Approach};
/// use tin_crown::{Gate, Rule};
///
/// let stomp = Rule::new("boots crush lid", "#hero.boots", "#windup.lid")
///     .gate(Gate::coming_from(Approach::Above).falling_at_least(30.0))
///     .damage(1.0)
///     .rebound(260.0)
///     .beats("horns gore porter");
/// assert_eq!(stomp.hurtbox, "#windup.lid");
/// ```
#[derive(Clone, Debug, Default, PartialEq, Table)]
#[table(most = limits::RULES, label = Rule::label)]
pub struct Rule {
    /// Its name; unique among rules.
    #[key(required, set = "")]
    pub name: String,
    /// The boxes that give.
    #[key(required, text = "selector", set = "")]
    pub hitbox: String,
    /// The boxes that take.
    #[key(required, text = "selector", set = "")]
    pub hurtbox: String,
    /// What must hold at the moment of touch.
    #[key(absent = "none")]
    pub gate: Gate,
    /// What it does to whom.
    #[key(flatten)]
    pub does: Effect,
    /// How it throws who.
    #[key(absent = "none", set = "rebounds")]
    pub rebound: Option<Rebound>,
    /// The share of the damage that who gains.
    #[key(absent = "none", set = "")]
    pub drain: Option<Drain>,
    /// How long both rest, and all they wait for comes that much later.
    #[key(default = "\"0t\"")]
    pub hitstop: Option<Duration>,
    /// Further effects, each on the party it names.
    #[key(absent = "none", set = "")]
    pub also: Vec<Also>,
    /// Rules that this one beats between the same two actors, in either direction.
    #[key(text = "rule", absent = "none", set = "beats")]
    pub beats: Vec<String>,
    /// How long at most they stay beaten after the last win, while the two are still close.
    #[key(default = "\"0.5s\"")]
    pub beats_for: Option<Duration>,
    /// When it may land again on the same target.
    #[key(
        absent = "`\"per-attack\"` for boxes that an attack makes live, else `\"while-touching\"`"
    )]
    pub repeat: Option<Repeat>,
    /// The least time between two hits on the same target.
    #[key(default = "\"0t\"")]
    pub every: Option<Duration>,
    /// Whether it also hits allies.
    #[key(default = "false", flag)]
    pub friendly: bool,
    /// What it ignores.
    #[key(absent = "none", set = "pierces")]
    pub pierces: Vec<Pierce>,
    /// What a guarded hit costs the guard.
    #[key(amount, absent = "the guard's `cost`")]
    pub guard_cost: Option<f64>,
    /// Whether a hit adds to the chain of who, which ends when who stands on something.
    #[key(default = "false", flag)]
    pub chain: bool,
    /// The cue given when it takes effect.
    #[key(text = "cue", absent = "none", set = "cue")]
    pub cue: Option<String>,
}

/// What a hit does to one party.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Effect {
    /// What it takes from meters, each down to 0.
    #[key(absent = "none")]
    pub damage: Option<Damage>,
    /// What it gives to meters, each up to its `max`.
    #[key(absent = "none")]
    pub heal: Option<Damage>,
    /// Whether it kills outright.
    #[key(default = "false", flag)]
    pub kill: bool,
    /// How it throws the party.
    #[key(absent = "none")]
    pub knockback: Option<Push>,
    /// How long the party has no input, attack, guard or motion of its own.
    #[key(absent = "none")]
    pub stun: Option<Duration>,
    /// Meters of the party into which nothing comes by itself for some time.
    #[key(absent = "none")]
    pub freeze: Option<Freeze>,
}

/// Meters that stand still: their regeneration and reload wait; hits and costs still change them.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Freeze {
    /// Which.
    #[key(required, text = "meter")]
    pub meters: Vec<String>,
    /// For how long.
    #[key(name = "for", required)]
    pub length: Duration,
}

/// A further effect, and the party it acts on.
#[derive(Clone, Debug, Default, PartialEq, Table)]
pub struct Also {
    /// The party it acts on.
    #[key(required)]
    pub to: Party,
    /// What it does.
    #[key(flatten)]
    pub does: Effect,
}

/// One of the two parties of a hit.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Party {
    /// The one who hits.
    Who,
    /// The one who is hit.
    #[default]
    Whom,
}

/// What a rule ignores.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Pierce {
    /// Guards.
    Guard,
    /// Windows of invincibility.
    Invincible,
}

/// What a hit takes from meters or gives to them.
#[derive(Clone, Debug, PartialEq, Table)]
#[table(short = f64, one_of("amount", "bands"), no_builder)]
pub struct Damage {
    /// How much.
    #[key(amount)]
    pub amount: Option<f64>,
    /// `[distance, amount]` from who's position outward: the amount up to that distance.
    pub bands: Option<Vec<[f64; 2]>>,
    /// The meters, each in turn.
    #[key(text = "meter", default = "[\"health\"]")]
    pub meters: Vec<String>,
    /// Whether what one meter cannot give goes on to the next; if not, the first that holds anything
    /// takes all of it.
    #[key(default = "true")]
    pub overflow: Option<bool>,
    /// Its type, for those who take more or less of it.
    #[key(name = "type", text = "damage type", absent = "none")]
    pub sort: Option<String>,
    /// How much more (or, negative, less) for each hit of the chain before this one.
    #[key(absent = "none")]
    pub chain_add: Option<f64>,
    /// The least that a chain makes of it.
    #[key(amount, default = "0")]
    pub chain_least: Option<f64>,
    /// The most that a chain makes of it.
    #[key(amount, absent = "no limit")]
    pub chain_most: Option<f64>,
}

/// How a hit throws who.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
pub struct Rebound {
    /// The components of velocity that it sets.
    #[key(flatten)]
    pub push: Push,
    /// Instead of `up`, while the jump button is held.
    #[key(range = limits::VELOCITY, absent = "`up`")]
    pub up_held: Option<f64>,
}

/// The share of the damage done that who gains.
#[derive(Clone, Debug, PartialEq, Table)]
#[table(no_builder)]
pub struct Drain {
    /// The share.
    #[key(required, range = limits::TIMES)]
    pub share: f64,
    /// The meter that gains.
    #[key(text = "meter", default = "\"health\"")]
    pub meter: String,
}

/// Velocity components that a hit sets.
#[derive(Clone, Copy, Debug, Default, PartialEq, Table)]
pub struct Push {
    /// Away from the other party.
    #[key(range = limits::VELOCITY, absent = "kept")]
    pub away: Option<f64>,
    /// Upward.
    #[key(range = limits::VELOCITY, absent = "kept")]
    pub up: Option<f64>,
    /// The way the pushed one faces.
    #[key(range = limits::VELOCITY, absent = "kept")]
    pub forward: Option<f64>,
    /// On the line from the other's position.
    #[key(range = limits::VELOCITY, absent = "kept")]
    pub along: Option<f64>,
    /// How long the pushed one's own motion does not drive it.
    #[key(
        name = "for",
        absent = "`\"0.2s\"`, or the stun if longer; of a rebound none"
    )]
    pub length: Option<Duration>,
}

/// When a rule may land again on the same target.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Words)]
#[serde(rename_all = "kebab-case")]
pub enum Repeat {
    /// On every tick of overlap; invincibility or `every` spaces the hits.
    WhileTouching,
    /// Only after a tick without any touch of the boxes that the rule pairs.
    OncePerTouch,
    /// Once per attack and target, over all rules. A box that is always live is one attack as long as
    /// its owner exists.
    PerAttack,
}

impl Default for Damage {
    fn default() -> Damage {
        Damage {
            amount: None,
            bands: None,
            meters: vec!["health".to_owned()],
            overflow: None,
            sort: None,
            chain_add: None,
            chain_least: None,
            chain_most: None,
        }
    }
}

impl Default for Drain {
    fn default() -> Drain {
        Drain {
            share: 0.0,
            meter: "health".to_owned(),
        }
    }
}

/// `damage = 1` for an amount from health.
impl Short<f64> for Damage {
    fn from_short(amount: f64) -> Damage {
        Damage::new(amount)
    }

    fn to_short(&self) -> Option<f64> {
        self.amount.filter(|amount| *self == Damage::new(*amount))
    }

    fn short_shape() -> Shape {
        Shape::Amount
    }
}

impl From<f64> for Damage {
    fn from(amount: f64) -> Damage {
        Damage::new(amount)
    }
}

impl Damage {
    /// So much from health.
    pub fn new(amount: f64) -> Damage {
        Damage {
            amount: Some(amount),
            ..Damage::default()
        }
    }

    /// Takes it from these meters instead, each in turn.
    #[must_use]
    pub fn from<S: Into<String>>(mut self, meters: impl IntoIterator<Item = S>) -> Damage {
        self.meters = meters.into_iter().map(Into::into).collect();
        self
    }

    /// Sets its type, for those who take more or less of it.
    #[must_use]
    pub fn sort(mut self, sort: impl Into<String>) -> Damage {
        self.sort = Some(sort.into());
        self
    }
}

impl Rule {
    fn label(&self) -> Option<&str> {
        Some(&self.name)
    }

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

    /// What it takes: so much from health, or a [`Damage`].
    #[must_use]
    pub fn damage(mut self, damage: impl Into<Damage>) -> Rule {
        self.does.damage = Some(damage.into());
        self
    }

    /// What it gives: so much to health, or a [`Damage`].
    #[must_use]
    pub fn heal(mut self, heal: impl Into<Damage>) -> Rule {
        self.does.heal = Some(heal.into());
        self
    }

    /// Lets it kill outright.
    #[must_use]
    pub fn kill(mut self) -> Rule {
        self.does.kill = true;
        self
    }

    /// How long whom has no input, attack, guard or motion of its own.
    #[must_use]
    pub fn stun(mut self, length: Duration) -> Rule {
        self.does.stun = Some(length);
        self
    }

    /// The share of the damage done that who gains, as health.
    #[must_use]
    pub fn drain(mut self, share: f64) -> Rule {
        self.drain = Some(Drain {
            share,
            ..Drain::default()
        });
        self
    }

    /// A further effect on one of the parties.
    #[must_use]
    pub fn also(mut self, to: Party, does: Effect) -> Rule {
        self.also.push(Also { to, does });
        self
    }

    /// Takes `amount` from meters, one after the other.
    #[must_use]
    pub fn damage_to<S: Into<String>>(
        mut self,
        amount: f64,
        meters: impl IntoIterator<Item = S>,
    ) -> Rule {
        self.does.damage = Some(Damage::new(amount).from(meters));
        self
    }

    /// Throws who hit upward, in units a second.
    #[must_use]
    pub fn rebound(mut self, up: f64) -> Rule {
        self.rebound = Some(Rebound {
            push: Push {
                up: Some(up),
                ..Push::default()
            },
            up_held: None,
        });
        self
    }

    /// Throws whom it hits: away from who hit, and upward, in units a second.
    #[must_use]
    pub fn knockback(mut self, away: f64, up: f64) -> Rule {
        self.does.knockback = Some(Push {
            away: Some(away),
            up: Some(up),
            ..Push::default()
        });
        self
    }
}
