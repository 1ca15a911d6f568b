//! Resolved measures: what a study reads off a replay.

use super::checker::Checker;
use super::expectations::{self, ExpectPlan};
use super::{ExpectedPlan, Plan};
use crate::encounter::{
    Expectation, Expected, Happening, Measure, MeterOf, MeterStand, Pattern, ReadAlone,
};
use crate::finding::{Code, Finding, Findings, Path};

/// A resolved measure.
#[derive(Clone, Debug, PartialEq)]
pub struct MeasurePlan {
    pub(crate) gauge: Gauge,
    /// What it looks at, with when and meanwhile.
    pub(crate) of: ExpectPlan,
}

/// What is read off what a measure looks at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Gauge {
    Count,
    First,
    Last,
    LeastApart,
    Total,
    Lowest,
    Highest,
    End,
}

impl Gauge {
    const fn key(self) -> &'static str {
        match self {
            Gauge::Count => "count",
            Gauge::First => "first",
            Gauge::Last => "last",
            Gauge::LeastApart => "least_apart",
            Gauge::Total => "total",
            Gauge::Lowest => "lowest",
            Gauge::Highest => "highest",
            Gauge::End => "end",
        }
    }
}

impl MeasurePlan {
    /// What it measures, in words.
    pub fn said(&self, plan: &Plan) -> String {
        let of = match &self.of.what {
            ExpectedPlan::Stand(stand) => format!("{} of {}", stand.of.said(plan), stand.who),
            _ => self.of.said(plan),
        };
        let word = match self.gauge {
            Gauge::Count => "count of",
            Gauge::First => "first",
            Gauge::Last => "last",
            Gauge::LeastApart => "least time between",
            Gauge::Total => "damage of",
            Gauge::Lowest => "lowest",
            Gauge::Highest => "highest",
            Gauge::End => "final",
        };
        format!("{word} {of}")
    }

    /// Whether it is a time in seconds.
    pub fn is_time(&self) -> bool {
        matches!(self.gauge, Gauge::First | Gauge::Last | Gauge::LeastApart)
    }
}

impl Plan {
    /// Looks up the names of a measure.
    ///
    /// # Errors
    ///
    /// What was found, when some of it is an error.
    ///
    /// ```
    /// # let file = tin_crown::demo::FIRST_SHELF.as_bytes();
    /// use tin_crown::encounter::Measure;
    ///
    /// let plan = tin_crown::check(file).plan.unwrap();
    /// let read = Measure::read("lowest = { who = 'porter', meter = 'health' }");
    /// let measure = plan.measure(&read.value.unwrap())?;
    /// assert_eq!(measure.said(&plan), "lowest health of porter");
    /// assert_eq!(plan.replay("careful")?.measure(&measure), Some(4.0));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn measure(&self, measure: &Measure) -> Result<MeasurePlan, Findings> {
        let mut check = Checker::new(self.rate);
        let resolved = resolve(&mut check, self, measure);
        match resolved.filter(|_| !check.findings.has_errors()) {
            Some(resolved) => Ok(resolved),
            None => Err(check.findings),
        }
    }
}

impl ReadAlone<Measure> {
    /// Looks up the names of the measure; what is wrong with them joins the findings, with its places.
    pub fn resolve(&mut self, plan: &Plan) -> Option<MeasurePlan> {
        match plan.measure(self.value.as_ref()?) {
            Ok(resolved) => Some(resolved),
            Err(findings) => {
                self.follow(findings);
                self.value = None;
                None
            }
        }
    }
}

impl ReadAlone<Expectation> {
    /// The same for an expectation, which is resolved with the encounter that it is added to.
    pub fn resolve(&mut self, plan: &Plan) {
        let Some(expectation) = &self.value else {
            return;
        };
        let mut check = Checker::new(plan.rate);
        let path = Path::root().key("expect");
        expectations::alone(&mut check, plan, path, expectation);
        if check.findings.has_errors() {
            self.follow(check.findings);
        }
    }
}

fn resolve(check: &mut Checker, plan: &Plan, measure: &Measure) -> Option<MeasurePlan> {
    let events = [
        (Gauge::Count, &measure.count),
        (Gauge::First, &measure.first),
        (Gauge::Last, &measure.last),
        (Gauge::LeastApart, &measure.least_apart),
        (Gauge::Total, &measure.total),
    ];
    let meters = [
        (Gauge::Lowest, &measure.lowest),
        (Gauge::Highest, &measure.highest),
        (Gauge::End, &measure.end),
    ];
    let path = Path::root().key("measure");
    let event = events
        .into_iter()
        .find_map(|(gauge, pattern)| Some((gauge, pattern.as_ref()?)));
    if let Some((gauge, pattern)) = event {
        let path = path.key(gauge.key());
        if gauge == Gauge::Total && !sums_up(pattern) {
            let key = pattern.happening.key();
            let finding = Finding::new(
                Code::NoEffect,
                path.key(key),
                format!("`{key}` has no amount to sum up"),
            );
            check.report(finding.help("sum up `hit` or `apply`, or ask for their `count`"));
            return None;
        }
        let asked = Expectation {
            from: measure.from,
            to: measure.to,
            during: measure.during.clone(),
            ..Expectation::happens(pattern.clone())
        };
        let of = expectations::alone(check, plan, path, &asked)?;
        return Some(MeasurePlan { gauge, of });
    }
    let (gauge, MeterOf { who, meter }) = meters
        .into_iter()
        .find_map(|(gauge, of)| Some((gauge, of.as_ref()?)))?;
    if measure.during.is_some() {
        let message = "this key needs something that happens";
        check.report(Finding::new(Code::NoEffect, path.key("while"), message));
        return None;
    }
    let asked = Expectation {
        from: measure.from,
        to: measure.to,
        ..Expectation::new(Expected::Meter(MeterStand {
            who: who.clone(),
            meter: meter.clone(),
            ..MeterStand::default()
        }))
    };
    let of = expectations::alone(check, plan, path.key(gauge.key()), &asked)?;
    Some(MeasurePlan { gauge, of })
}

/// Whether such events have amounts of damage.
fn sums_up(pattern: &Pattern) -> bool {
    matches!(
        pattern.happening,
        Happening::Hit | Happening::Parry | Happening::Apply
    )
}
