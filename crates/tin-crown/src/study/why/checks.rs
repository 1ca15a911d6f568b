//! The checks that a touch passed, the one that it failed, and what would have changed it.

use serde::Serialize;

use super::advice::{self, Remedy, Trials};
use super::at;
use crate::encounter::Repeat;
use crate::geometry::Vec2;
use crate::ledger::Replay;
use crate::ledger::{Event, GuardSaid, LineId, What, gates};
use crate::plan::{RulePlan, Spec};
use crate::printable::hundredths;
use crate::sim::{Judged, Withheld};
use crate::time::{Tick, Ticks};
use crate::verdict::Verdict;

/// Something that was asked of a touch.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Asked {
    /// The verdict that it gives when it fails.
    pub check: &'static str,
    /// Whether it was passed.
    pub passed: bool,
    /// What was found, in words.
    pub says: String,
    /// What there was, when that is a number.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub have: Option<f64>,
    /// What was asked.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub need: Option<f64>,
}

/// All that is told of a touch.
pub(super) struct Told {
    pub says: String,
    pub checks: Vec<Asked>,
    pub change: Option<String>,
    pub remedy: Option<Remedy>,
}

pub(super) fn tell(replay: &Replay, trials: &Trials<'_>, judged: &Judged) -> Told {
    let case = Case {
        replay,
        trials,
        judged,
        rule: &replay.plan().rules[judged.rule.index()],
        who: replay.id(judged.who),
        whom: replay.id(judged.whom),
        taker: replay.spec(judged.whom),
    };
    let (change, remedy) = case.change();
    Told {
        says: case.says(),
        checks: case.checks(),
        change,
        remedy,
    }
}

struct Case<'r> {
    replay: &'r Replay,
    trials: &'r Trials<'r>,
    judged: &'r Judged,
    rule: &'r RulePlan,
    who: &'r str,
    whom: &'r str,
    taker: &'r Spec,
}

impl<'r> Case<'r> {
    fn hitbox(&self) -> String {
        let boxes = &self.replay.spec(self.judged.who).hitboxes;
        format!("{}.{}", self.who, boxes[self.judged.hitbox.index()].name)
    }

    fn hurtbox(&self) -> String {
        let boxes = &self.taker.hurtboxes;
        format!("{}.{}", self.whom, boxes[self.judged.hurtbox.index()].name)
    }

    /// The whole of it in a sentence.
    fn says(&self) -> String {
        let deed = match (self.judged.withheld, self.judged.verdict) {
            (None, verdict) if verdict.took_effect() => "hits",
            _ => "touches",
        };
        let line = self.judged.line.and_then(|line| self.line(line));
        let told = line
            .filter(|event| event.tick == self.judged.tick)
            .map(|event| {
                // What it did to meters follows it.
                let ledger = self.replay.ledger().events();
                let later = ledger[event.id.0 as usize..].iter();
                let own = |other: &&Event| {
                    other.tick == event.tick && !matches!(other.what, What::Hit(_))
                };
                let meters = later.take_while(own);
                let meters = meters.filter(|other| other.cause == Some(event.id));
                let rows = self.replay.rows([event].into_iter().chain(meters));
                rows.into_iter()
                    .next()
                    .map_or(String::new(), |row| row.outcome)
            });
        let outcome = match (self.judged.withheld, told) {
            (Some(Withheld::Rests), _) => {
                let who = self.replay.id(self.judged.who);
                format!("nothing: {who} is in hitstop")
            }
            (Some(Withheld::Over), _) => "nothing: the flight was over by then".to_owned(),
            (None, Some(told)) => told,
            (None, None) => format!("nothing: {}", self.judged.verdict.as_str()),
        };
        let what = format!(
            "{} {deed} {} by `{}` {}",
            self.hitbox(),
            self.hurtbox(),
            self.rule.name,
            at(self.replay, self.judged.tick)
        );
        match outcome.as_str() {
            "" => what,
            outcome => format!("{what}: {outcome}"),
        }
    }

    fn line(&self, line: LineId) -> Option<&'r Event> {
        self.replay.ledger().get(line)
    }

    fn seconds(&self, tick: Tick) -> String {
        format!("{:.3} s", tick.seconds(self.replay.plan().rate))
    }

    /// "line 17 (beetle_1 hits porter)".
    fn because(&self) -> String {
        let event = self.judged.because.and_then(|line| self.line(line));
        let Some(event) = event else {
            return "an earlier hit".to_owned();
        };
        let rows = self.replay.rows([event]);
        let what = rows.first().map_or_else(String::new, |row| {
            let words = [row.who, &row.what, row.whom];
            let words: Vec<&str> = words.into_iter().filter(|word| !word.is_empty()).collect();
            let rule = match row.rule {
                "" => String::new(),
                rule => format!(" by `{rule}`"),
            };
            words.join(" ") + &rule
        });
        format!(
            "line {} ({what} at {})",
            event.id.0,
            self.seconds(event.tick)
        )
    }

    fn checks(&self) -> Vec<Asked> {
        let mut checks = vec![self.down(), self.side()];
        checks.extend(self.gates());
        checks.extend([self.repeat(), self.beaten(), self.used_up()]);
        if !self.rule.only_gives {
            checks.extend([self.invincible(), self.guard()]);
        }
        // What comes after the check that failed was never asked.
        let failed = checks.iter().position(|check| !check.passed);
        if let Some(failed) = failed.filter(|_| self.judged.verdict != Verdict::Landed) {
            checks.truncate(failed + 1);
        }
        if self.judged.withheld.is_some() {
            checks.clear();
        }
        checks
    }

    fn asked(&self, verdict: Verdict, says: String) -> Asked {
        Asked {
            check: verdict.as_str(),
            passed: self.judged.verdict != verdict,
            says,
            have: None,
            need: None,
        }
    }

    fn down(&self) -> Asked {
        let says = match self.judged.verdict {
            Verdict::Down => format!(
                "{} is dying, and no step of its death so far keeps the box",
                self.whom
            ),
            _ => format!("{} can be touched", self.hurtbox()),
        };
        self.asked(Verdict::Down, says)
    }

    fn side(&self) -> Asked {
        let plan = self.replay.plan();
        let name = |side: Option<crate::plan::SideIx>| {
            side.map_or("none", |side| plan.names.sides[side].as_str())
        };
        // Who launched something lends it the side.
        let who = self.replay.spec(self.replay.root(self.judged.who)).side;
        let (who, whom) = (name(who), name(self.taker.side));
        let says = match self.judged.verdict {
            Verdict::Ally => {
                format!("both are of side {whom}, and the rule is not friendly")
            }
            _ if self.rule.friendly && who == whom => {
                format!("both are of side {whom}, and the rule is friendly")
            }
            _ => format!("the sides are {who} and {whom}"),
        };
        self.asked(Verdict::Ally, says)
    }

    fn gates(&self) -> Vec<Asked> {
        if self.rule.gates.is_empty() {
            let says = "the rule has no gate".to_owned();
            return vec![self.asked(Verdict::Gate, says)];
        }
        let gates = self.rule.gates.iter().zip(&self.judged.gates);
        gates
            .map(|(gate, answer)| {
                let parties = [self.who, self.whom];
                let plan = self.replay.plan();
                Asked {
                    check: Verdict::Gate.as_str(),
                    passed: answer.passes,
                    says: gates::said(plan, gate, answer.passes, answer.numbers, parties),
                    have: answer.numbers.map(|[have, _]| have),
                    need: answer.numbers.map(|[_, need]| need),
                }
            })
            .collect()
    }

    fn repeat(&self) -> Asked {
        let judged = self.judged;
        let failed = judged.verdict == Verdict::Repeat;
        let policy = match judged.repeat {
            Repeat::WhileTouching => "while-touching",
            Repeat::OncePerTouch => "once-per-touch",
            Repeat::PerAttack => "per-attack",
        };
        let says = match (judged.again, judged.repeat) {
            (Some(again), _) if failed => {
                let after = self.because();
                format!("not again before {}, after {after}", self.seconds(again))
            }
            (None, Repeat::PerAttack) if failed => {
                format!("this attack already hit {}: {}", self.whom, self.because())
            }
            (None, _) if failed => {
                format!("it already took effect in this touch: {}", self.because())
            }
            _ => format!("nothing keeps it from landing ({policy})"),
        };
        self.asked(Verdict::Repeat, says)
    }

    fn beaten(&self) -> Asked {
        let says = match self.judged.verdict {
            Verdict::Beaten => {
                let winner = self.judged.because.and_then(|line| self.line(line));
                let rule = winner.and_then(|winner| winner.rule);
                let name = rule.map_or("another rule", |rule| {
                    self.replay.plan().rules[rule.index()].name.as_str()
                });
                format!("`{name}` beats it: {}", self.because())
            }
            _ => "no rule beats it here".to_owned(),
        };
        self.asked(Verdict::Beaten, says)
    }

    fn used_up(&self) -> Asked {
        let says = match (self.judged.verdict, self.judged.by_attack) {
            (Verdict::UsedUp, _) => format!(
                "the attack has used its `targets`, or already hit {} on this tick",
                self.whom
            ),
            (_, true) => "the attack has `targets` left".to_owned(),
            (_, false) => "no attack with `targets` is used up".to_owned(),
        };
        self.asked(Verdict::UsedUp, says)
    }

    fn invincible(&self) -> Asked {
        let says = match (self.judged.verdict, self.judged.until) {
            (Verdict::Invincible, Some(until)) => format!(
                "{} is invincible until {} because of {}",
                self.whom,
                self.seconds(until),
                self.because()
            ),
            _ if self.rule.pierces_invincible => "the rule ignores invincibility".to_owned(),
            _ => format!("{} is not invincible to it", self.whom),
        };
        self.asked(Verdict::Invincible, says)
    }

    fn guard(&self) -> Asked {
        let whom = self.whom;
        let says = match self.judged.guard {
            None if self.taker.guard.is_none() => format!("{whom} has no guard"),
            None => format!("{whom} has not raised its guard"),
            Some(GuardSaid::Held) => match self.parry_missed_by() {
                Some(by) => format!(
                    "the guard of {whom} held; its parry window closed {} before",
                    by.in_words()
                ),
                None => format!("the guard of {whom} held"),
            },
            Some(GuardSaid::Parried) => format!("{whom} raised its guard just in time"),
            Some(GuardSaid::WrongSide) => {
                let covers = self.taker.guard.as_ref().map(|guard| guard.arc.degrees());
                let [from, to] = covers.unwrap_or_default();
                format!(
                    "the guard of {whom} was up, but covers {from}° to {to}° from where it faces, and {} was at {}°",
                    self.who,
                    hundredths(self.judged.angle)
                )
            }
            Some(GuardSaid::TooLate) => format!("the guard of {whom} was not up yet"),
            Some(GuardSaid::Spent) => format!("the meter of {whom}'s guard is empty"),
            Some(GuardSaid::Pierced) => "the rule ignores guards".to_owned(),
        };
        self.asked(Verdict::Guarded, says)
    }

    /// What would have changed it.
    fn change(&self) -> (Option<String>, Option<Remedy>) {
        let judged = self.judged;
        match judged.withheld {
            Some(Withheld::Rests) => {
                return (Some("`hitstop` keeps both from hitting".into()), None);
            }
            Some(Withheld::Over) => {
                return (
                    Some("its `targets` or a solid ended the flight".into()),
                    None,
                );
            }
            None => {}
        }
        if judged.verdict == Verdict::Landed {
            return (self.guard_change(), None);
        }
        let wait = advice::wait(judged, |tick| self.seconds(tick));
        let state = match judged.verdict {
            Verdict::Down => Some("`live` in a step of the death keeps the box".to_owned()),
            Verdict::Repeat if judged.again.is_none() => Some(match judged.repeat {
                Repeat::PerAttack => {
                    "an `every` of the attack lets it hit the same one again".into()
                }
                _ => "it may land again after a tick without any touch of these boxes".into(),
            }),
            _ => None,
        };
        let tried = self.trials.of(judged);
        let (says, remedy) = tried.map_or((None, None), |tried| (Some(tried.says), tried.remedy));
        let parts: Vec<String> = [says, wait, state].into_iter().flatten().collect();
        ((!parts.is_empty()).then(|| parts.join("; ")), remedy)
    }

    /// How many ticks too late the hit came to be parried by a guard that held.
    fn parry_missed_by(&self) -> Option<Ticks> {
        let parry = self.taker.guard.as_ref()?.parry.as_ref()?;
        let up = self.judged.guard_up?;
        Some(Ticks(up.0.checked_sub(parry.window.0)? + 1))
    }

    /// What would have made a guard hold that was up in vain.
    fn guard_change(&self) -> Option<String> {
        let guard = self.taker.guard.as_ref()?;
        let text = match self.judged.guard? {
            GuardSaid::WrongSide => {
                let angle = hundredths(self.judged.angle);
                // Turned round, a mirroring actor sees it mirrored.
                let round = (180.0 - self.judged.angle).to_radians();
                let round = Vec2::new(libm::cos(round), libm::sin(round));
                match !self.taker.rotates && guard.arc.contains(round) {
                    true => format!(
                        "had {} faced the other way, its guard would have held",
                        self.whom
                    ),
                    false => format!("a guard whose `arc` reaches {angle}° would have held"),
                }
            }
            GuardSaid::TooLate => {
                let startup = guard.startup.in_words();
                format!("a guard has to be raised {startup} before")
            }
            GuardSaid::Spent => "with something left in its meter the guard would hold".to_owned(),
            GuardSaid::Pierced => {
                "without `pierces` in the rule the guard would be asked".to_owned()
            }
            GuardSaid::Held | GuardSaid::Parried => return None,
        };
        Some(text)
    }
}
