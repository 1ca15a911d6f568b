//! Actors that are asked for by a text, outside the rules: in options and expectations.

use std::fmt;

use super::Plan;
use super::index::ActorIx;
use super::select::{Group, Selection, Subject};
use crate::encounter::Selector;
use crate::nearest::nearest;

/// Actors that are asked for: a group, or one thing that is launched.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Chosen {
    text: String,
    names: Names,
}

#[derive(Clone, Debug, PartialEq, Eq)]
enum Names {
    Group(Group),
    /// Something launched, by its id.
    Launched,
}

/// A text that matches no actor.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct ChoiceError {
    /// What is wrong.
    pub what: String,
    /// What to do.
    pub help: String,
    /// The name that means nothing, when that is it.
    pub(crate) missed: Option<String>,
}

impl fmt::Display for ChoiceError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.what)
    }
}

impl std::error::Error for ChoiceError {}

impl fmt::Display for Chosen {
    /// As it was written.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.text)
    }
}

impl Chosen {
    /// The group, unless it is one thing that is launched.
    pub(crate) fn group(&self) -> Option<Group> {
        match self.names {
            Names::Group(group) => Some(group),
            Names::Launched => None,
        }
    }

    /// Whether it means the one of that id, which is a placed actor or of some kind that is launched.
    pub(crate) fn means(
        &self,
        plan: &Plan,
        id: &str,
        subject: Result<ActorIx, &Subject<'_>>,
    ) -> bool {
        match (&self.names, subject) {
            (Names::Launched, _) => self.text == id,
            (Names::Group(group), Ok(actor)) => Selection::new(plan, *group).contains(actor),
            (Names::Group(group), Err(subject)) => group.matches(subject),
        }
    }
}

impl Plan {
    /// The actors that a text asks for: an id, a kind, a `#tag`, `*`, or the id of something launched
    /// (`maker.launcher.k`).
    ///
    /// # Errors
    ///
    /// When no actor, kind or tag has that name; the error says what to do.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// assert!(plan.choose("#windup").is_ok());
    /// assert_eq!(plan.choose("portr").unwrap_err().help, "did you mean `porter`?");
    /// ```
    pub fn choose(&self, text: &str) -> Result<Chosen, ChoiceError> {
        let chosen = |names| {
            Ok(Chosen {
                text: text.to_owned(),
                names,
            })
        };
        let mut recordings = self
            .drills
            .iter()
            .filter_map(|own| own.recording.as_deref());
        if recordings.any(|own| own.introduces(text)) {
            return chosen(Names::Launched);
        }
        // Else only what is launched has two dots in its id.
        if text.matches('.').count() > 1 {
            let maker = text.split('.').next().unwrap_or_default();
            if self.actor(maker).is_ok() {
                return chosen(Names::Launched);
            }
            let near = nearest(maker, self.names.ids.iter());
            return Err(ChoiceError {
                what: format!("unknown actor `{maker}` that launches anything"),
                help: match near {
                    Some(near) => format!("did you mean `{near}`?"),
                    None => "what is launched is called `maker.launcher.1`, `….2` and so on".into(),
                },
                missed: Some(maker.to_owned()),
            });
        }
        let selector: Selector = text.parse().map_err(|error| ChoiceError {
            what: format!("`{text}` is not a selector: {error}"),
            help: "use an actor or a group".to_owned(),
            missed: Some(text.to_owned()),
        })?;
        if selector.part.is_some() {
            return Err(ChoiceError {
                what: "boxes cannot be selected here".to_owned(),
                help: format!("write `{}`", selector.who),
                missed: None,
            });
        }
        match self.names.look_up(&selector.who) {
            Ok(group) => chosen(Names::Group(group)),
            Err(unknown) => Err(ChoiceError {
                what: unknown.to_string(),
                help: unknown.help,
                missed: Some(unknown.name),
            }),
        }
    }
}
