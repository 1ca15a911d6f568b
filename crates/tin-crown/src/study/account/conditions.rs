//! What a transition asks, in words.

use super::Scope;
use crate::plan::{ActorIx, Group, OtherAsk, Spec};
use crate::printable::hundredths;
use crate::sim::{Part, Weight};
use crate::study::why::Asked;
use crate::time::Ticks;

/// A part of a condition: what is asked of an actor, and what there is.
pub(super) fn asked(scope: &Scope<'_>, actor: ActorIx, weight: &Weight) -> Asked {
    let words = Words {
        scope,
        spec: scope.replay.spec(actor),
    };
    let holds = weight.holds;
    let (check, says, numbers) = words.of(&weight.part, holds);
    Asked {
        check,
        passed: holds,
        says,
        have: numbers.map(|[have, _]| have),
        need: numbers.map(|[_, need]| need),
    }
}

struct Words<'s> {
    scope: &'s Scope<'s>,
    spec: &'s Spec,
}

impl Words<'_> {
    fn of(&self, part: &Part, holds: bool) -> (&'static str, String, Option<[f64; 2]>) {
        let plain = |check, says: &str| (check, says.to_owned(), None);
        match *part {
            Part::Once if holds => plain("once", "it was not taken in this life"),
            Part::Once => plain("once", "it was taken in this life already"),
            Part::Cooldown { .. } if holds => plain("cooldown", "its cooldown is over"),
            Part::Cooldown { left } => {
                let says = format!("its cooldown runs {} longer", self.length(left));
                ("cooldown", says, None)
            }
            Part::After { have, need } => {
                let says = format!(
                    "{} in the state, {} required",
                    self.length(have),
                    self.length(need)
                );
                ("after", says, Some(self.numbers(have, need)))
            }
            Part::Lands(asked) => match asked == holds {
                true => plain("lands", "it has come to stand on something"),
                false => plain("lands", "it has not just come to stand on anything"),
            },
            Part::Grounded(asked) => match asked == holds {
                true => plain("grounded", "it stands on something"),
                false => plain("grounded", "it stands on nothing"),
            },
            Part::Arrives(asked) => match asked == holds {
                true => plain("arrives", "its motion has arrived"),
                false => plain("arrives", "its motion has not arrived"),
            },
            Part::Hurt(asked) => match asked == holds {
                true => plain("hurt", "a hit landed on it"),
                false => plain("hurt", "no hit landed on it"),
            },
            Part::Meter {
                meter,
                have,
                least,
                most,
            } => {
                let name = &self.scope.replay.plan().names.meters[self.spec.meters[meter].name];
                let asked = match (least, most) {
                    (Some(least), Some(most)) => format!("{least} to {most}"),
                    (Some(least), None) => format!("at least {least}"),
                    (None, Some(most)) => format!("at most {most}"),
                    (None, None) => "any amount".to_owned(),
                };
                (
                    "meter",
                    format!("{name} holds {have}, {asked} required"),
                    None,
                )
            }
            Part::Other(group, ask) => ("other", self.other(group, ask, holds), None),
            Part::Sees {
                sensor,
                nearest,
                lasting,
                within,
            } => {
                let (says, numbers) = self.sees(self.sensor(sensor), nearest, lasting, within);
                ("sees", says, numbers)
            }
            Part::Loses {
                sensor,
                noticed,
                have,
                lasting,
            } => {
                let sensor = self.sensor(sensor);
                let says = match noticed {
                    Some(whom) => {
                        let whom = self.scope.replay.id(whom);
                        format!("`{sensor}` still notices {whom}")
                    }
                    None => format!(
                        "`{sensor}` notices nobody for {}, {} required",
                        self.length(have),
                        self.length(lasting)
                    ),
                };
                ("loses", says, Some(self.numbers(have, lasting)))
            }
        }
    }

    /// What a sensor notices, against how long and how near that must be.
    fn sees(
        &self,
        sensor: &str,
        nearest: Option<(ActorIx, Ticks, f64)>,
        lasting: Ticks,
        within: Option<f64>,
    ) -> (String, Option<[f64; 2]>) {
        let Some((whom, have, distance)) = nearest else {
            return (format!("`{sensor}` notices nobody"), None);
        };
        let whom = self.scope.replay.id(whom);
        let mut says = format!("`{sensor}` notices {whom}");
        let mut numbers = None;
        if lasting > Ticks(0) {
            let (have, need) = (self.length(have), self.length(lasting));
            says.push_str(&format!(" for {have}, {need} required"));
        }
        if have < lasting {
            numbers = Some(self.numbers(have, lasting));
        } else if let Some(within) = within {
            let distance = hundredths(distance);
            says.push_str(&format!(", {distance} off, within {within} required"));
            numbers = Some([distance, within]);
        }
        (says, numbers)
    }

    fn length(&self, ticks: Ticks) -> String {
        let seconds = f64::from(ticks.0) / f64::from(self.scope.replay.plan().rate);
        format!("{seconds:.3} s")
    }

    fn numbers(&self, have: Ticks, need: Ticks) -> [f64; 2] {
        [have, need].map(|ticks| f64::from(ticks.0) / f64::from(self.scope.replay.plan().rate))
    }

    fn sensor(&self, sensor: crate::plan::SensorIx) -> &str {
        let name = self.spec.sensors[sensor.index()].name;
        &self.scope.replay.plan().names.sensors[name]
    }

    fn other(&self, group: Group, ask: OtherAsk, holds: bool) -> String {
        let names = &self.scope.replay.plan().names;
        let who = match group {
            Group::Actor(actor) => self.scope.replay.id(actor).to_owned(),
            Group::Kind(kind) => names.kinds[kind].to_owned(),
            Group::Tag(tag) => format!("#{}", &names.tags[tag]),
            Group::Anyone => "another".to_owned(),
        };
        match (ask, holds) {
            (OtherAsk::State(state), true) => format!("{who} is {}", &names.states[state]),
            (OtherAsk::State(state), false) => format!("no {who} is {}", &names.states[state]),
            (OtherAsk::Sees(sensor), true) => {
                format!("`{}` of {who} notices an actor", &names.sensors[sensor])
            }
            (OtherAsk::Sees(sensor), false) => {
                format!("`{}` of {who} notices nobody", &names.sensors[sensor])
            }
        }
    }
}
