//! Recordings that drive actors: how their rows are read, resolved.

use super::checker::Checker;
use super::index::{ActorIx, ButtonIx, Ix, KindIx};
use super::names::List;
use super::pairing::World;
use crate::encounter::TrackColumns;
use crate::encounter::{Angles, Drill, Encounter, Plane, RowFormat, Rows, TimeUnit, Track};
use crate::finding::{Code, Finding, Path};
use crate::geometry::{Facing, Vec2};
use crate::limits;
use crate::map::{Map, Set};
use crate::time::{Duration, Ticks};

/// From the documented default of `gap`.
const GAP: Duration = Duration::millis(500);

/// A recording that drives actors.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct TrackPlan {
    pub rows: RowsPlan,
    /// The actor that all of it is about.
    pub who: Option<ActorIx>,
    pub columns: TrackColumns,
    pub buttons: Vec<(ButtonIx, String)>,
    pub plane: Plane,
    /// Whether the recorded y is turned over.
    pub flips: bool,
    pub scale: f64,
    pub origin: Vec2,
    pub ground: f64,
    /// None when the facings of who mirrors are told by their sign.
    pub angles: Option<Angles>,
    pub facings: Map<String, Facing>,
    pub states: Map<String, String>,
    pub attacks: Map<String, String>,
    pub introduces: Map<String, KindIx>,
    pub gap: Ticks,
    pub fastest: Option<f64>,
}

/// How the rows of a file are read.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct RowsPlan {
    pub file: String,
    pub format: RowFormat,
    pub separator: u8,
    pub comma: bool,
    /// How many ticks one of its times is.
    pub ticks: f64,
    /// The time that is tick 0.
    pub zero: f64,
    pub ids: Map<String, ActorIx>,
    pub ignores: Set<String>,
}

/// The kinds that recordings of any drill may introduce, in order.
pub(super) fn introduced(encounter: &Encounter, kinds: &List<KindIx>) -> Vec<KindIx> {
    let tracks = encounter.drills.values().flat_map(|drill| &drill.track);
    let named = tracks.flat_map(|track| track.introduces.values());
    let all: Set<KindIx> = named.filter_map(|name| kinds.find(name)).collect();
    all.into_iter().collect()
}

/// The recordings of a drill.
pub(super) fn resolve(
    check: &mut Checker,
    base: &Path,
    drill: &Drill,
    world: &World<'_>,
) -> Vec<TrackPlan> {
    let tracks = drill.track.iter().enumerate();
    tracks
        .filter_map(|(nth, track)| one(check, &base.key("track").index(nth), track, world))
        .collect()
}

fn one(check: &mut Checker, base: &Path, track: &Track, world: &World<'_>) -> Option<TrackPlan> {
    let names = world.scope.names;
    let rows = rows(check, base, &track.rows, world);
    let who = match &track.who {
        Some(who) => Some(check.find(base.key("who"), "actor", who, &names.ids)?),
        None => None,
    };
    if who.is_some() && track.columns.who.is_some() {
        let message = "`who` says whom all of it is about; `columns.who` is not read";
        let path = base.key("columns").key("who");
        check.report(Finding::new(Code::NoEffect, path, message).at_key());
    }
    let mut buttons = Vec::new();
    for (button, column) in &track.buttons {
        let path = base.key("buttons").named(button);
        let button = check.find(path, "button", button, &names.buttons);
        buttons.extend(button.map(|button| (button, column.clone())));
    }
    let states = words(
        check,
        &base.key("states"),
        "state",
        &track.states,
        &names.states,
    );
    let attacks = words(
        check,
        &base.key("attacks"),
        "attack",
        &track.attacks,
        &names.attacks,
    );
    let introduces = known(
        check,
        &base.key("introduces"),
        "kind",
        &track.introduces,
        &names.kinds,
    );
    let scale = track.scale.map_or(1.0, |scale| {
        check.number(base.key("scale"), scale, &limits::TRACK_SCALE)
    });
    let origin = track.origin.map_or([0.0; 2], |origin| {
        check.pair(&base.key("origin"), origin, &limits::COORDINATE)
    });
    let ground = track.ground.map_or(0.0, |ground| {
        check.number(base.key("ground"), ground, &limits::COORDINATE)
    });
    if track.ground.is_some() && !world.scope.height {
        let message = "the arena has no height for `ground` to count from";
        check.report(Finding::new(Code::NoEffect, base.key("ground"), message).at_key());
    }
    let facings = track
        .facings
        .iter()
        .map(|(word, facing)| (word.clone(), *facing));
    let fastest = track
        .fastest
        .map(|fastest| check.number(base.key("fastest"), fastest, &limits::SPEED));
    Some(TrackPlan {
        rows,
        who,
        columns: track.columns.clone(),
        buttons,
        plane: track.plane,
        flips: track.up.is_some_and(|up| up != world.scope.up),
        scale,
        origin: origin.into(),
        ground,
        angles: track.angles,
        facings: facings.collect(),
        states,
        attacks,
        introduces,
        gap: check.duration(base.key("gap"), track.gap.unwrap_or(GAP)),
        fastest,
    })
}

/// How the rows of a file are read.
pub(super) fn rows(check: &mut Checker, base: &Path, rows: &Rows, world: &World<'_>) -> RowsPlan {
    let separator = match rows.separator.as_deref() {
        None => b',',
        Some(text) => match text.as_bytes() {
            [one] if one.is_ascii() && !matches!(one, b'"' | b'\n' | b'\r') => *one,
            _ => {
                let message = format!("`{text}` is no single character that can separate columns");
                let finding = Finding::new(Code::OutOfRange, base.key("separator"), message);
                check.report(finding.help("write `,` or `;`, or \"\\t\" for a tab"));
                b','
            }
        },
    };
    let comma = match rows.decimal.as_deref() {
        None | Some(".") => false,
        Some(",") => true,
        Some(text) => {
            let message = format!("`{text}` stands before no decimals");
            let finding = Finding::new(Code::OutOfRange, base.key("decimal"), message);
            check.report(finding.help("write `.` or `,`"));
            false
        }
    };
    let format = rows
        .format
        .unwrap_or_else(|| format_of(check, base, &rows.file));
    if comma && format == RowFormat::Csv && separator == b',' {
        let message = "a comma cannot both separate columns and stand before decimals";
        let finding = Finding::new(Code::Contradiction, base.key("decimal"), message);
        check.report(finding.help("say what separates the columns: separator = \";\""));
    }
    let time = rows.time;
    let path = base.key("time");
    let rate = time.rate.map_or(f64::from(check.rate), |rate| {
        check.number(path.key("rate"), rate, &limits::FRAME_RATE)
    });
    if time.rate.is_some() && time.unit != TimeUnit::Frames {
        let message = "`rate` counts frames, and these times are none";
        let finding = Finding::new(Code::NoEffect, path.key("rate"), message).at_key();
        check.report(finding.help("add unit = \"frames\""));
    }
    let second = f64::from(check.rate);
    let ticks = match time.unit {
        TimeUnit::Ticks => 1.0,
        TimeUnit::Frames => second / rate,
        TimeUnit::Seconds => second,
        TimeUnit::Milliseconds => second / 1000.0,
    };
    let zero = time.zero.map_or(0.0, |zero| {
        check.number(path.key("zero"), zero, &limits::ROW_TIME)
    });
    RowsPlan {
        file: rows.file.clone(),
        format,
        separator,
        comma,
        ticks,
        zero,
        ids: known(
            check,
            &base.key("ids"),
            "actor",
            &rows.ids,
            &world.scope.names.ids,
        ),
        ignores: rows.ignores.iter().cloned().collect(),
    }
}

/// What a file's ending says of it.
fn format_of(check: &mut Checker, base: &Path, file: &str) -> RowFormat {
    let ending = file
        .rsplit_once('.')
        .map(|(_, ending)| ending.to_ascii_lowercase());
    match ending.as_deref() {
        Some("csv" | "tsv" | "txt") => RowFormat::Csv,
        Some("jsonl" | "ndjson") => RowFormat::Jsonl,
        _ => {
            let message = format!("the ending of `{file}` does not say what it is");
            let finding = Finding::new(Code::MissingKey, base.key("file"), message);
            check.report(finding.help("add format = \"csv\" or format = \"jsonl\""));
            RowFormat::Csv
        }
    }
}

/// What names of a recording stand for.
fn known<I: Ix>(
    check: &mut Checker,
    base: &Path,
    what: &str,
    map: &Map<String, String>,
    list: &List<I>,
) -> Map<String, I> {
    let mut all = Map::new();
    for (name, own) in map {
        if let Some(own) = check.find(base.named(name), what, own, list) {
            all.insert(name.clone(), own);
        }
    }
    all
}

/// The same of names that belong to kinds; what stands for nothing is not told.
fn words<I: Ix>(
    check: &mut Checker,
    base: &Path,
    what: &str,
    map: &Map<String, String>,
    list: &List<I>,
) -> Map<String, String> {
    for (name, own) in map {
        let none = own.is_empty() || (what == "attack" && own == super::outside::NO_ATTACK);
        if !none {
            check.find(base.named(name), what, own, list);
        }
    }
    map.clone()
}

impl RowsPlan {
    /// A time of the file in ticks of the encounter. What is within 1/4096 of a tick is on it.
    pub fn moment(&self, time: f64) -> f64 {
        let moment = (time - self.zero) * self.ticks;
        let near = moment.round();
        match (moment - near).abs() <= 1.0 / 4096.0 {
            true => near,
            false => moment,
        }
    }
}
