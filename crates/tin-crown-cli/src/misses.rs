//! At which values of a sweep of one thing which expectations are missed.

use std::io::{self, Write};

use tin_crown::study::{Column, Datum, Holds, Row, Sheet};

/// At which values of a single axis which expectations are missed.
pub struct Misses {
    /// The path, when there is one axis.
    path: Option<String>,
    drills: Vec<String>,
    all: Vec<Missed>,
}

/// An expectation that is missed somewhere.
struct Missed {
    drill: String,
    number: String,
    /// The stretches of values, each from its first to its last.
    stretches: Vec<[String; 2]>,
    /// Whether the value that came last is in the last of them.
    goes_on: bool,
}

impl Misses {
    pub fn new(sheet: &Sheet) -> Misses {
        Misses {
            path: match sheet.axes.as_slice() {
                [one] => Some(one.path.clone()),
                _ => None,
            },
            drills: sheet.drills.clone(),
            all: Vec::new(),
        }
    }

    pub fn add(&mut self, columns: &[Column], row: &Row) {
        if self.path.is_none() {
            return;
        }
        let text = |holds| {
            let datum = row.first(columns, holds);
            datum.map(Datum::to_string).unwrap_or_default()
        };
        let (drill, value, missed) = (text(Holds::Drill), text(Holds::Value), text(Holds::Missed));
        let missed: Vec<&str> = missed.split_whitespace().collect();
        for own in self.all.iter_mut().filter(|own| own.drill == drill) {
            let is_missed = missed.contains(&own.number.as_str());
            match own.stretches.last_mut() {
                Some([_, last]) if is_missed && own.goes_on => last.clone_from(&value),
                _ if is_missed => own.stretches.push([value.clone(), value.clone()]),
                _ => {}
            }
            own.goes_on = is_missed;
        }
        for number in missed {
            let mut known = self.all.iter();
            if !known.any(|own| own.drill == drill && own.number == number) {
                self.all.push(Missed {
                    drill: drill.clone(),
                    number: number.to_owned(),
                    stretches: vec![[value.clone(), value.clone()]],
                    goes_on: true,
                });
            }
        }
    }

    pub fn print(&self, out: &mut impl Write) -> io::Result<()> {
        let Some(path) = &self.path else {
            return Ok(());
        };
        if !self.all.is_empty() {
            writeln!(out)?;
        }
        let mut sorted: Vec<&Missed> = self.all.iter().collect();
        let drill = |name: &str| self.drills.iter().position(|own| own == name);
        sorted.sort_by_key(|own| (drill(&own.drill), own.number.len(), own.number.clone()));
        for own in sorted {
            let told = own.stretches.iter().map(|[from, to]| match from == to {
                true => from.clone(),
                false => format!("{from} to {to}"),
            });
            let told: Vec<String> = told.collect();
            let of = match self.drills.len() {
                1 => String::new(),
                _ => format!(" of {}", own.drill),
            };
            let number = &own.number;
            writeln!(
                out,
                "expectation {number}{of} is missed at {path} = {}",
                told.join(", ")
            )?;
        }
        Ok(())
    }
}
