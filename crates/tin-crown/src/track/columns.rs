//! Where the cells of a recording are: which column holds what.

use std::collections::HashMap;

use super::fault::{Fault, Where};
use super::rows::Table;
use crate::encounter::Plane;
use crate::finding::{Code, Finding, Path};
use crate::plan::{ButtonIx, Plan, TrackPlan};

/// Where the cells of a recording are.
pub(super) struct Columns {
    pub time: usize,
    pub who: Option<usize>,
    pub place: Option<[usize; 2]>,
    pub height: Option<usize>,
    pub velocity: Option<([usize; 2], Option<usize>)>,
    pub facing: Option<usize>,
    pub grounded: Option<usize>,
    pub state: Option<usize>,
    pub attack: Option<usize>,
    pub count: Option<usize>,
    pub teleport: Option<usize>,
    pub kind: Option<usize>,
    pub maker: Option<usize>,
    pub buttons: Vec<(ButtonIx, usize)>,
    /// The names of the columns, by their places, for what is told of them.
    names: HashMap<usize, String>,
}

/// Looks up the columns of a file.
pub(crate) struct Finder<'t> {
    pub table: &'t mut Table,
    pub file: &'t str,
    pub faults: Vec<Fault>,
    pub names: HashMap<usize, String>,
}

impl<'t> Finder<'t> {
    pub fn new(table: &'t mut Table, file: &'t str) -> Finder<'t> {
        Finder {
            table,
            file,
            faults: Vec::new(),
            names: HashMap::new(),
        }
    }

    /// The place of a column, which has to be there if it has a name.
    pub fn find(&mut self, path: Path, name: Option<&str>) -> Option<usize> {
        let name = name?;
        let found = self.table.column(name);
        match found {
            Some(_) if self.table.has_twice(name) => {
                let message = format!("`{}` has two columns `{name}`", self.file);
                let finding = Finding::new(Code::Duplicate, path, message);
                self.faults
                    .push(Fault::whole(finding.help("rename one of them")));
            }
            Some(place) => drop(self.names.insert(place, name.to_owned())),
            None => {
                let message = format!("`{}` has no column `{name}`", self.file);
                let finding = Finding::new(Code::UnknownName, path, message);
                let help = self.table.advice(name);
                self.faults.push(Fault::whole(finding.help(help)));
            }
        }
        found
    }
}

impl Finder<'_> {
    /// The place of a column, if there is one of that name.
    fn find_if_there(&mut self, name: &str) -> Option<usize> {
        let found = self.table.column(name);
        if let Some(place) = found {
            self.names.insert(place, name.to_owned());
        }
        found
    }
}

impl Columns {
    /// The columns of a file, or what is missing.
    pub fn find(
        table: &mut Table,
        plan: &Plan,
        track: &TrackPlan,
        path: &Path,
    ) -> Result<Columns, Vec<Fault>> {
        let own = &track.columns;
        let base = path.key("columns");
        let mut finder = Finder::new(table, &track.rows.file);
        // A recording of buttons need not place anybody.
        let bare = !track.buttons.is_empty();
        let high = plan.arena.height.is_some();
        // The third axis is asked for where the arena has heights and the recording says which it is.
        let [x, y, z] = match track.plane {
            Plane::Xy => [true, true, false],
            Plane::Xz => [true, high, true],
            Plane::Zy => [high, true, true],
        };
        let mut axis = |asked: bool, key: &'static str, name: &Option<String>| match name {
            None if !asked => None,
            None if bare => finder.find_if_there(key),
            name => finder.find(base.key(key), Some(name.as_deref().unwrap_or(key))),
        };
        let axes = [
            axis(x, "x", &own.x),
            axis(y, "y", &own.y),
            axis(z, "z", &own.z),
        ];
        let mut find = |key: &'static str, name: &Option<String>, default: Option<&str>| {
            finder.find(base.key(key), name.as_deref().or(default))
        };
        let velocity = [
            find("velocity_x", &own.velocity_x, None),
            find("velocity_y", &own.velocity_y, None),
            find("velocity_z", &own.velocity_z, None),
        ];
        let (x, y, height) = on(track.plane, axes);
        let (vx, vy, rise) = on(track.plane, velocity);
        let mut columns = Columns {
            time: find("time", &own.time, Some("time")).unwrap_or_default(),
            who: match track.who {
                Some(_) => None,
                None => find("who", &own.who, Some("who")),
            },
            place: x.zip(y).map(|(x, y)| [x, y]),
            height: height.filter(|_| high),
            velocity: vx.zip(vy).map(|(x, y)| ([x, y], rise.filter(|_| high))),
            facing: find("facing", &own.facing, None),
            grounded: find("grounded", &own.grounded, None),
            state: find("state", &own.state, None),
            attack: find("attack", &own.attack, None),
            count: find("count", &own.count, None),
            teleport: find("teleport", &own.teleport, None),
            kind: find("kind", &own.kind, None),
            maker: find("maker", &own.maker, None),
            buttons: Vec::new(),
            names: HashMap::new(),
        };
        for (button, name) in &track.buttons {
            let path = path.key("buttons").named(&plan.names.buttons[*button]);
            let found = finder.find(path, Some(name));
            columns.buttons.extend(found.map(|place| (*button, place)));
        }
        columns.names = finder.names;
        match finder.faults.is_empty() {
            true => Ok(columns),
            false => Err(finder.faults),
        }
    }

    /// A cell of the row that was read, for what is told of it.
    pub fn cell(&self, table: &Table, column: usize) -> Where {
        Where::of(table, column, &self.names)
    }
}

/// Of three recorded axes, those of the plane and of the height.
fn on<T: Copy>(plane: Plane, [x, y, z]: [T; 3]) -> (T, T, T) {
    match plane {
        Plane::Xy => (x, y, z),
        Plane::Xz => (x, z, y),
        Plane::Zy => (z, y, x),
    }
}
