//! Who is who in recordings: placed actors by their ids, and those that are introduced.

use std::collections::HashMap;
use std::sync::Arc;

use super::course::Course;
use super::fault::{Fault, Faults};
use super::sample::Row;
use crate::finding::{Code, Finding};
use crate::limits;
use crate::nearest::nearest;
use crate::order;
use crate::plan::{ActorIx, KindIx, Plan, Role, RowsPlan, SpecIx, Start};

/// Whom a name means.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Whom {
    Placed(ActorIx),
    /// Nobody: its rows are passed over.
    Nobody,
    /// One that is introduced, by its course.
    Introduced(usize),
}

/// Whom the names of a recording mean. As a rule names come again in the order in which they came, so that the next
/// is known without a search.
#[derive(Clone, Debug, Default)]
struct Known {
    places: HashMap<String, usize>,
    names: Vec<Name>,
    last: usize,
}

#[derive(Clone, Debug)]
struct Name {
    text: String,
    whom: Option<Whom>,
    /// The place of the name that came after it.
    next: usize,
}

impl Known {
    /// Whom a name means that comes now, as far as it is known.
    fn find(&mut self, text: &str) -> Option<Whom> {
        let next = self.names.get(self.last).map_or(0, |last| last.next);
        let expected = self.names.get(next).is_some_and(|name| name.text == text);
        let place = match expected {
            true => next,
            false => *self.places.get(text)?,
        };
        if let Some(last) = self.names.get_mut(self.last) {
            last.next = place;
        }
        self.last = place;
        self.names[place].whom
    }

    /// The same of a name that is mentioned.
    fn get(&self, text: &str) -> Option<Whom> {
        self.names[*self.places.get(text)?].whom
    }

    fn set(&mut self, text: &str, whom: Option<Whom>) {
        if let Some(place) = self.places.get(text) {
            self.names[*place].whom = whom;
            return;
        }
        let place = self.names.len();
        self.places.insert(text.to_owned(), place);
        self.names.push(Name {
            text: text.to_owned(),
            whom,
            next: 0,
        });
        if let Some(last) = self.names.get_mut(self.last) {
            last.next = place;
        }
        self.last = place;
    }
}

/// The actors of recordings.
pub(super) struct Roles {
    /// By recording: two of them may mean different actors by one name.
    known: Vec<Known>,
    /// How often the name of one that is introduced was used.
    used: HashMap<String, u32>,
    pub courses: Vec<Course>,
    /// The places of courses that are over.
    free: Vec<usize>,
    /// The courses of placed actors.
    placed: Vec<Option<usize>>,
    introduced: u32,
}

impl Roles {
    pub fn new(tracks: usize, actors: usize) -> Roles {
        Roles {
            known: vec![Known::default(); tracks],
            used: HashMap::new(),
            courses: Vec::new(),
            free: Vec::new(),
            placed: vec![None; actors],
            introduced: 0,
        }
    }

    /// The course of the actor whom a row of a recording is about, if it is about any.
    pub fn whose(
        &mut self,
        nth: usize,
        row: &Row<'_>,
        time: f64,
        faults: &mut Faults,
    ) -> Result<Option<usize>, Fault> {
        let (plan, track) = (row.plan, row.track);
        let column = match (track.who, row.columns.who) {
            (Some(actor), _) => return Ok(Some(self.placed(plan, actor))),
            (None, Some(column)) => column,
            (None, None) => return Ok(None),
        };
        let cell = row.table.cell(column);
        let Some(name) = cell.text() else {
            let message = format!("expected the name of an actor, found {}", cell.told());
            let help = "say `who` it is about, or by `columns.who` which column names it";
            return Err(row.fault(column, message).help(help));
        };
        let known = self.known[nth].find(&name);
        let reused = known.and_then(|whom| self.reused(whom, row));
        let used = faults.extend(nth, reused);
        if let Some(Whom::Introduced(course)) = known
            && (used || self.courses[course].is_apart(time, track.gap))
        {
            // The name is used again, for another.
            self.end(course);
        } else if let Some(whom) = known {
            return Ok(self.course(plan, whom));
        }
        let whom = look_up(plan, &track.rows, &name);
        let whom = match whom.filter(|_| known.is_none()) {
            Some(whom) => whom,
            None => {
                let course = self.introduce(nth, row, (column, &name));
                if course.is_err() {
                    // Its other rows are no news.
                    self.known[nth].set(&name, Some(Whom::Nobody));
                    return course.map(Some);
                }
                Whom::Introduced(course?)
            }
        };
        self.known[nth].set(&name, Some(whom));
        Ok(self.course(plan, whom))
    }

    /// What there is to say when a row calls one that was introduced of another kind than it is.
    fn reused(&self, whom: Whom, row: &Row<'_>) -> Option<Fault> {
        let (Whom::Introduced(course), Some(column)) = (whom, row.columns.kind) else {
            return None;
        };
        let own = &self.courses[course];
        let cell = row.table.cell(column);
        let kind = *row.track.introduces.get(&*cell.text()?)?;
        if kind.index() == own.spec.index() {
            return None;
        }
        let kinds = &row.plan.names.kinds;
        let (new, old) = (&kinds[kind], &kinds[row.plan.spec_of(own.spec).kind]);
        let name = &own.name;
        let message = format!("`{name}` is a `{new}` here, and was a `{old}` up to now");
        let mut fault = row.fault(column, message);
        fault.finding = Box::new(Finding::new(
            Code::ReusedName,
            row.path.key("file"),
            &*fault.finding.message,
        ));
        Some(fault.help("it is introduced as another; give each thing a name of its own"))
    }

    fn course(&mut self, plan: &Plan, whom: Whom) -> Option<usize> {
        match whom {
            Whom::Placed(actor) => Some(self.placed(plan, actor)),
            Whom::Nobody => None,
            Whom::Introduced(course) => Some(course),
        }
    }

    /// The course of a placed actor.
    fn placed(&mut self, plan: &Plan, actor: ActorIx) -> usize {
        if let Some(course) = self.placed[actor.index()] {
            return course;
        }
        let placed = &plan.actors[actor.index()];
        let course = Course::new(Role::Placed(actor), placed.spec, &placed.id);
        self.courses.push(course);
        let place = self.courses.len() - 1;
        self.placed[actor.index()] = Some(place);
        place
    }

    /// The rows of one that is introduced are over; its place is free once it is not there any more.
    fn end(&mut self, course: usize) {
        let own = &mut self.courses[course];
        own.over = true;
        if !own.here {
            self.free.push(course);
        }
    }

    /// One that is introduced is not there any more.
    pub fn gone(&mut self, course: usize) {
        let own = &mut self.courses[course];
        if !std::mem::replace(&mut own.over, true)
            && let Some(track) = own.places
        {
            self.known[track].set(&own.name, None);
        }
        self.free.push(course);
    }

    /// Nothing more is heard of an actor from a recording.
    pub fn silence(&mut self, nth: usize, course: usize) {
        let name = self.courses[course].name.clone();
        self.known[nth].set(&name, Some(Whom::Nobody));
    }

    /// Begins the course of one that has no id.
    fn introduce(
        &mut self,
        nth: usize,
        row: &Row<'_>,
        (who, name): (usize, &str),
    ) -> Result<usize, Fault> {
        let (plan, track) = (row.plan, row.track);
        if track.introduces.is_empty() {
            let near = nearest(name, plan.names.ids.iter());
            let more = "`ids` translates the game's names, `ignores` leaves them out, `introduces` says what is \
                        not placed";
            let help = match near {
                Some(near) => format!("did you mean `{near}`? {more}"),
                None => more.to_owned(),
            };
            return Err(unknown(row, who, format!("unknown actor `{name}`"), help));
        }
        if brings_forth(plan, name) {
            let message =
                format!("`{name}` is what the encounter calls something that is launched");
            let help = "let the game call it otherwise, or its launcher have no trigger".to_owned();
            let mut fault = unknown(row, who, message, help);
            fault.finding.code = Code::Duplicate;
            return Err(fault);
        }
        let kind = kind(row, who)?;
        if self.introduced as usize >= limits::LAUNCHED {
            let message = format!("recordings introduce more than {} actors", limits::LAUNCHED);
            let finding = Finding::new(Code::TooMany, row.path.key("file"), message);
            return Err(Fault::row(row.table.line(), finding));
        }
        let maker = self.maker(nth, row)?;
        let place = plan.introduced.iter().position(|(own, _)| *own == kind);
        let role = Role::Introduced(self.introduced);
        self.introduced += 1;
        let mut course = Course::new(role, SpecIx::new(kind.index()), name);
        course.introduction = place.map(|place| (self.id(name), place as u16, maker));
        Ok(match self.free.pop() {
            Some(place) => {
                self.courses[place] = course;
                place
            }
            None => {
                self.courses.push(course);
                self.courses.len() - 1
            }
        })
    }

    /// Whose it is, if a row says so.
    fn maker(&self, nth: usize, row: &Row<'_>) -> Result<Option<Role>, Fault> {
        let Some(column) = row.columns.maker else {
            return Ok(None);
        };
        let cell = row.table.cell(column);
        let Some(name) = cell.text() else {
            return Ok(None);
        };
        let known = self.known[nth].get(&name);
        match known.or_else(|| look_up(row.plan, &row.track.rows, &name)) {
            Some(Whom::Placed(actor)) => Ok(Some(Role::Placed(actor))),
            Some(Whom::Introduced(course)) => Ok(Some(self.courses[course].role)),
            Some(Whom::Nobody) => Ok(None),
            None => {
                let help = "a maker is placed, or has a row of its own before".to_owned();
                Err(unknown(
                    row,
                    column,
                    format!("unknown maker `{name}`"),
                    help,
                ))
            }
        }
    }

    /// The id of one that is introduced under a name: used again, it is another, which nobody has had.
    fn id(&mut self, name: &str) -> Arc<str> {
        let mut times = self.used.get(name).copied().unwrap_or(0);
        let id = loop {
            times += 1;
            let id = match times {
                1 => name.to_owned(),
                times => format!("{name}.{times}"),
            };
            if times == 1 || !self.used.contains_key(&id) {
                break id;
            }
        };
        self.used.insert(name.to_owned(), times);
        self.used.entry(id.clone()).or_insert(1);
        id.into()
    }

    /// The names of those who are introduced, in order.
    pub fn names(&self) -> Vec<String> {
        let mut names: Vec<String> = self.used.keys().cloned().collect();
        order::sort(&mut names);
        names
    }

    /// Whether any row is about a placed actor.
    pub fn tells(&self, actor: ActorIx) -> bool {
        self.placed[actor.index()].is_some()
    }

    /// The placed actors whose places are told, in order.
    pub fn told(&self) -> Vec<ActorIx> {
        self.placed_where(|places| places.is_some())
    }

    /// Those whose places a recording tells.
    pub fn placed_by(&self, track: usize) -> Vec<ActorIx> {
        self.placed_where(|places| places == Some(track))
    }

    fn placed_where(&self, is: impl Fn(Option<usize>) -> bool) -> Vec<ActorIx> {
        let told = self.placed.iter().enumerate();
        let told =
            told.filter(|(_, course)| course.is_some_and(|own| is(self.courses[own].places)));
        told.map(|(actor, _)| ActorIx::new(actor)).collect()
    }
}

/// Whether a placed actor may bring forth something of that id: by a launcher that something sets off, or as what it
/// leaves behind.
fn brings_forth(plan: &Plan, id: &str) -> bool {
    let parts = id.split_once('.');
    let parts = parts.and_then(|(maker, rest)| Some((maker, rest.rsplit_once('.')?.0)));
    let Some((maker, sort)) = parts else {
        return false;
    };
    let Some(maker) = plan.names.ids.find(maker) else {
        return false;
    };
    let spec = plan.spec(maker);
    let mut launchers = spec.launchers.iter();
    let mut left = spec.offspring().skip(spec.launchers.len());
    launchers.any(|own| own.name == sort && own.starts != Start::Told)
        || left.any(|kind| plan.names.kinds[kind] == sort)
}

/// Whom the plan means by a name of a recording, if anybody.
fn look_up(plan: &Plan, rows: &RowsPlan, name: &str) -> Option<Whom> {
    if rows.ignores.contains(name) {
        return Some(Whom::Nobody);
    }
    let id = rows.ids.get(name).copied();
    id.or_else(|| plan.names.ids.find(name)).map(Whom::Placed)
}

/// The kind that a row says, or the only one there is.
fn kind(row: &Row<'_>, who: usize) -> Result<KindIx, Fault> {
    let kinds = &row.track.introduces;
    let known = || {
        let known: Vec<&str> = kinds.keys().map(String::as_str).collect();
        format!("`introduces` knows: {}", known.join(", "))
    };
    let Some(column) = row.columns.kind else {
        let mut all = kinds.values();
        return match (all.next(), all.next()) {
            (Some(kind), None) => Ok(*kind),
            _ => {
                let message = "no column says of which of several kinds it is";
                Err(unknown(
                    row,
                    who,
                    message.to_owned(),
                    "name it by `columns.kind`".to_owned(),
                ))
            }
        };
    };
    let cell = row.table.cell(column);
    let Some(name) = cell.text() else {
        let message = format!("expected a kind, found {}", cell.told());
        return Err(unknown(row, column, message, known()));
    };
    let kind = kinds.get(&*name).copied();
    kind.ok_or_else(|| unknown(row, column, format!("unknown kind `{name}`"), known()))
}

fn unknown(row: &Row<'_>, column: usize, message: String, help: String) -> Fault {
    let mut fault = row.fault(column, message);
    fault.finding.code = Code::UnknownName;
    fault.help(help)
}
