//! Looking up what a plan has by its name.

use std::fmt;

use super::Plan;
use super::index::{ActorIx, AttackIx, ButtonIx, DrillIx, KindIx, MeterIx, RuleIx, StateIx};
use crate::nearest::nearest;

/// A plan has nothing of that name.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Unknown {
    /// What was asked for: `"drill"`, `"rule"`…
    pub what: &'static str,
    /// The name asked for.
    pub name: String,
    /// The nearest name there is.
    pub nearest: Option<String>,
}

impl fmt::Display for Unknown {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "unknown {} `{}`", self.what, self.name)?;
        match &self.nearest {
            Some(near) => write!(f, "; did you mean `{near}`?"),
            None => Ok(()),
        }
    }
}

impl std::error::Error for Unknown {}

/// The place of a name among those there are.
fn find<'n>(
    what: &'static str,
    name: &str,
    names: impl Iterator<Item = &'n str> + Clone,
) -> Result<usize, Unknown> {
    let mut all = names.clone();
    all.position(|known| known == name).ok_or_else(|| Unknown {
        what,
        name: name.to_owned(),
        nearest: nearest(name, names).map(str::to_owned),
    })
}

/// Every one of these fails when there is nothing of that name; the error has the nearest.
impl Plan {
    /// The drill of that name.
    ///
    /// # Errors
    ///
    /// When there is none.
    pub fn drill(&self, name: &str) -> Result<DrillIx, Unknown> {
        let names = self.drills.iter().map(|drill| drill.name.as_str());
        find("drill", name, names).map(DrillIx::new)
    }

    /// The rule of that name.
    ///
    /// # Errors
    ///
    /// When there is none.
    pub fn rule(&self, name: &str) -> Result<RuleIx, Unknown> {
        let names = self.rules.iter().map(|rule| rule.name.as_str());
        find("rule", name, names).map(RuleIx::new)
    }

    /// The placed actor of that id.
    ///
    /// # Errors
    ///
    /// When there is none.
    pub fn actor(&self, id: &str) -> Result<ActorIx, Unknown> {
        // There may be many, in the order of their ids.
        let found = self
            .actors
            .binary_search_by(|actor| actor.id.as_str().cmp(id));
        found.map(ActorIx::new).or_else(|_| {
            let ids = self.actors.iter().map(|actor| actor.id.as_str());
            find("actor", id, ids).map(ActorIx::new)
        })
    }

    /// The kind of that name.
    ///
    /// # Errors
    ///
    /// When there is none.
    pub fn kind(&self, name: &str) -> Result<KindIx, Unknown> {
        find("kind", name, self.names.kinds.iter()).map(KindIx::new)
    }

    /// The meters of that name, of whichever kinds.
    ///
    /// # Errors
    ///
    /// When there is none.
    pub fn meter(&self, name: &str) -> Result<MeterIx, Unknown> {
        find("meter", name, self.names.meters.iter()).map(MeterIx::new)
    }

    /// The button of that name.
    ///
    /// # Errors
    ///
    /// When there is none.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let error = plan.button("atack").unwrap_err();
    /// assert_eq!(error.to_string(), "unknown button `atack`; did you mean `attack`?");
    /// assert!(plan.actor("porter").is_ok() && plan.meter("stamina").is_ok());
    /// ```
    pub fn button(&self, name: &str) -> Result<ButtonIx, Unknown> {
        find("button", name, self.names.buttons.iter()).map(ButtonIx::new)
    }

    /// The state of that name of a placed actor's kind.
    ///
    /// # Errors
    ///
    /// When there is none.
    ///
    /// # Panics
    ///
    /// When the actor is not a placed one of this plan.
    pub fn state(&self, actor: ActorIx, name: &str) -> Result<StateIx, Unknown> {
        let own = self.spec(actor).states.iter();
        let names = own.map(|own| self.names.states[own.name].as_str());
        find("state", name, names).map(StateIx::new)
    }

    /// The attack of that name of a placed actor's kind.
    ///
    /// # Errors
    ///
    /// When there is none.
    ///
    /// # Panics
    ///
    /// When the actor is not a placed one of this plan.
    pub fn attack(&self, actor: ActorIx, name: &str) -> Result<AttackIx, Unknown> {
        let own = self.spec(actor).attacks.iter();
        let names = own.map(|own| self.names.attacks[own.name].as_str());
        find("attack", name, names).map(AttackIx::new)
    }

    /// The name of a button of this plan.
    ///
    /// # Panics
    ///
    /// When it is of another plan, which has more of them.
    pub fn button_name(&self, button: ButtonIx) -> &str {
        &self.names.buttons[button]
    }
}
