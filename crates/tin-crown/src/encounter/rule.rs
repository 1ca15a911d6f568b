//! Rules: which hitbox does what to which hurtbox.

use serde::Serialize;

use super::gate::Gate;
use super::read::{At, Fields, Read};
use crate::limits;
use crate::time::Duration;

/// What a touch of two boxes costs, as written.
///
/// ```
/// use tin_crown::{Approach, Gate, Rule};
///
/// let stomp = Rule::new("boots crush lid", "#hero.boots", "#windup.lid")
///     .gate(Gate::coming_from(Approach::Above).falling_at_least(30.0))
///     .damage(1.0)
///     .rebound(260.0)
///     .beats("horns gore porter");
/// assert_eq!(stomp.hurtbox, "#windup.lid");
/// ```
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Rule {
    /// Its name, unlike any other rule's.
    pub name: String,
    /// A selector of what gives: `beetle.horns`, `#windup`, `*.tip`…
    pub hitbox: String,
    /// A selector of what takes.
    pub hurtbox: String,
    /// What must be so at the moment of touch.
    pub gate: Gate,
    /// Names of rules that it beats between the same two actors.
    pub beats: Vec<String>,
    /// How long at most the rules it beats stay beaten after the last win; 0.5 s when absent.
    pub beats_for: Option<Duration>,
    /// When it may land again; when absent `per-attack` for boxes that an attack makes live, else
    /// `while-touching`.
    pub repeat: Option<Repeat>,
    /// The least time between two hits on the same target.
    pub every: Option<Duration>,
    /// Whether it also hits its own side.
    pub friendly: bool,
    /// What it takes no notice of.
    pub pierces: Vec<Pierce>,
    /// What a guarded hit costs the guard, instead of what the guard says.
    pub guard_cost: Option<f64>,
    /// Whether a hit adds to the chain of who, which ends when who stands on something.
    pub chain: bool,
    /// What it does to whom.
    pub does: Effect,
    /// How it throws who hit.
    pub rebound: Option<Rebound>,
    /// The share of the damage that who gains.
    pub drain: Option<Drain>,
    /// How long both rest.
    pub hitstop: Option<Duration>,
    /// What else it does, and to which party.
    pub also: Vec<Also>,
    /// What is announced when it takes effect.
    pub cue: Option<String>,
}

/// What a hit does to one party, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Effect {
    /// What it takes from meters.
    pub damage: Option<Damage>,
    /// What it gives to meters.
    pub heal: Option<Damage>,
    /// Whether it kills outright.
    pub kill: bool,
    /// How it throws the party.
    pub knockback: Option<Push>,
    /// How long it stuns the party.
    pub stun: Option<Duration>,
}

/// A further effect, and on whom.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Also {
    /// On which party.
    pub to: Party,
    /// What it does.
    pub does: Effect,
}

/// One of the two parties of a hit.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Party {
    /// Who hits.
    Who,
    /// Who is hit.
    #[default]
    Whom,
}

/// What a rule takes no notice of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Pierce {
    /// Guards.
    Guard,
    /// Windows of invincibility.
    Invincible,
}

/// What a hit takes from meters or gives to them, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Damage {
    /// How much.
    pub amount: f64,
    /// Which meters, one after the other.
    pub meters: Vec<String>,
    /// Whether what one meter could not give goes on to the next; yes when absent.
    pub overflow: Option<bool>,
    /// Of what type, for those who take more or less of it.
    pub sort: Option<String>,
    /// How much more (or, negative, less) with each hit of the chain before this one.
    pub chain_add: Option<f64>,
    /// The least that it comes to in a chain.
    pub chain_least: Option<f64>,
    /// The most that it comes to in a chain.
    pub chain_most: Option<f64>,
    /// Instead of one amount: `[distance, amount]` from who's position outward, each up to that
    /// distance.
    pub bands: Option<Vec<[f64; 2]>>,
}

/// How a hit throws who hit, as written.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Rebound {
    /// The components of velocity that it sets.
    pub push: Push,
    /// Upward instead of `up`, while the jump button is held.
    pub up_held: Option<f64>,
}

/// The share of the damage that who gains, as written.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Drain {
    /// From 0 to 1, or more.
    pub share: f64,
    /// To which meter.
    pub meter: String,
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
        self.does.damage = Some(Damage {
            amount,
            meters: meters.into_iter().map(Into::into).collect(),
            ..Damage::default()
        });
        self
    }

    /// Sets what must be so at the moment of touch.
    #[must_use]
    pub fn gate(mut self, gate: Gate) -> Rule {
        self.gate = gate;
        self
    }

    /// Lets it beat another rule between the same two actors.
    #[must_use]
    pub fn beats(mut self, rule: impl Into<String>) -> Rule {
        self.beats.push(rule.into());
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

    /// Stuns whom it hits.
    #[must_use]
    pub fn stun(mut self, length: Duration) -> Rule {
        self.does.stun = Some(length);
        self
    }

    /// Lets both rest for so long.
    #[must_use]
    pub fn hitstop(mut self, length: Duration) -> Rule {
        self.hitstop = Some(length);
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
    const MOST: usize = limits::RULES;

    fn read(at: At<'_>) -> Option<Rule> {
        at.table(|fields| {
            Some(Rule {
                name: fields.need("name").unwrap_or_default(),
                hitbox: fields.need("hitbox").unwrap_or_default(),
                hurtbox: fields.need("hurtbox").unwrap_or_default(),
                gate: fields.get("gate").unwrap_or_default(),
                beats: fields.get("beats").unwrap_or_default(),
                beats_for: fields.get("beats_for"),
                repeat: fields.with("repeat", |at| {
                    at.word(&[
                        ("while-touching", Repeat::WhileTouching),
                        ("once-per-touch", Repeat::OncePerTouch),
                        ("per-attack", Repeat::PerAttack),
                    ])
                }),
                every: fields.get("every"),
                friendly: fields.get("friendly").unwrap_or(false),
                pierces: fields.get("pierces").unwrap_or_default(),
                guard_cost: fields.get("guard_cost"),
                chain: fields.get("chain").unwrap_or(false),
                does: Effect::parts(fields),
                rebound: fields.get("rebound"),
                drain: fields.get("drain"),
                hitstop: fields.get("hitstop"),
                also: fields.get("also").unwrap_or_default(),
                cue: fields.get("cue"),
            })
        })
    }
}

impl Effect {
    /// The keys of an effect, which stand among others.
    fn parts(fields: &mut Fields<'_>) -> Effect {
        Effect {
            damage: fields.get("damage"),
            heal: fields.get("heal"),
            kill: fields.get("kill").unwrap_or(false),
            knockback: fields.get("knockback"),
            stun: fields.get("stun"),
        }
    }
}

impl Read for Also {
    fn read(at: At<'_>) -> Option<Also> {
        at.table(|fields| {
            let to = fields.with("to", |at| {
                at.word(&[("who", Party::Who), ("whom", Party::Whom)])
            });
            fields.miss(&["to"]);
            Some(Also {
                to: to.unwrap_or_default(),
                does: Effect::parts(fields),
            })
        })
    }
}

impl Read for Pierce {
    fn read(at: At<'_>) -> Option<Pierce> {
        at.word(&[("guard", Pierce::Guard), ("invincible", Pierce::Invincible)])
    }
}

/// `damage = 1`, or `damage = { amount = 1, meters = ["shield", "health"] }`.
impl Read for Damage {
    fn read(at: At<'_>) -> Option<Damage> {
        let health = || vec!["health".to_owned()];
        if at.is_table() {
            return at.table(|fields| {
                let amount = fields.get("amount");
                let bands: Option<Vec<[f64; 2]>> = fields.get("bands");
                fields.miss(&["amount", "bands"]);
                fields.clash("amount", "bands");
                let known = amount.is_some() || bands.is_some();
                let damage = Damage {
                    amount: amount.unwrap_or_default(),
                    meters: fields.get("meters").unwrap_or_else(health),
                    overflow: fields.get("overflow"),
                    sort: fields.get("type"),
                    chain_add: fields.get("chain_add"),
                    chain_least: fields.get("chain_least"),
                    chain_most: fields.get("chain_most"),
                    bands,
                };
                known.then_some(damage)
            });
        }
        let amount = f64::read(at)?;
        Some(Damage {
            amount,
            meters: health(),
            ..Damage::default()
        })
    }
}

impl Read for Push {
    fn read(at: At<'_>) -> Option<Push> {
        at.table(|fields| Some(Push::parts(fields)))
    }
}

impl Push {
    fn parts(fields: &mut Fields<'_>) -> Push {
        Push {
            away: fields.get("away"),
            up: fields.get("up"),
            forward: fields.get("forward"),
            along: fields.get("along"),
            length: fields.get("for"),
        }
    }
}

impl Read for Rebound {
    fn read(at: At<'_>) -> Option<Rebound> {
        at.table(|fields| {
            let push = Push::parts(fields);
            Some(Rebound {
                push,
                up_held: fields.get("up_held"),
            })
        })
    }
}

impl Read for Drain {
    fn read(at: At<'_>) -> Option<Drain> {
        at.table(|fields| {
            Some(Drain {
                share: fields.need("share").unwrap_or_default(),
                meter: fields.get("meter").unwrap_or_else(|| "health".to_owned()),
            })
        })
    }
}
