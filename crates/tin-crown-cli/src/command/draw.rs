//! `tin-crown draw`.

use std::sync::Arc;

use tin_crown::geometry::Bounds;
use tin_crown::plan::DrillIx;
use tin_crown::{Duration, Plan, Tick};
use tin_crown_picture::{
    Film, Frame, FrameError, Layers, Look, Matrix, Sheet, Strip, Timeline, Zoom,
};

use super::{against, replay};
use crate::args::{Draw, Shown};
use crate::failure::{Done, Failure};
use crate::picture::{self, Picture};
use crate::source::{self, Source};
use crate::{drills, output, terminal};

pub fn run(args: &Draw) -> Result<Done, Failure> {
    let picture = Picture::new(&args.output)?;
    fits(args)?;
    output::spares(&args.output, &[&args.file])?;
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let look = picture::look(args.theme);
    let svg = match &args.kind {
        Some(kind) => sheet(&plan, kind, layers(args, &source), &look)?,
        None => {
            let drill = drills::one(&plan, args.drill.as_deref(), &source.name)?;
            let plan = source.record(&plan, &[drill])?;
            of_drill(args, &source, &plan, drill, &look)?
        }
    };
    picture.write(&svg)?;
    Ok(Done::Well)
}

/// The sheet of a kind.
fn sheet(plan: &Plan, kind: &str, layers: Layers, look: &Look) -> Result<String, Failure> {
    let sheet = Sheet::new(plan, kind).ok_or_else(|| {
        let known: Vec<&str> = plan.names().kinds().iter().collect();
        Failure::new(format!("unknown kind `{kind}`")).help(format!("known: {}", known.join(", ")))
    })?;
    Ok(sheet.over(layers).svg(look))
}

/// What is drawn of actors.
fn layers(args: &Draw, source: &Source) -> Layers {
    let mut layers = Layers::new(&source.checked.sheets);
    layers.boxes = args.show != Shown::Sprites;
    layers.opacity = args.opacity;
    match args.show {
        Shown::Boxes => layers.without_sprites(),
        Shown::Both | Shown::Sprites => layers,
    }
}

/// Refuses options that say nothing of the picture that is asked for.
fn fits(args: &Draw) -> Result<(), Failure> {
    let across_time = args.timeline || args.matrix || args.strip;
    let kind = args.kind.is_some();
    for (option, given, of, fits) in [
        ("--from", args.from.is_some(), TIMES, across_time),
        ("--to", args.to.is_some(), TIMES, across_time),
        ("--who", args.who.is_some(), "--timeline", args.timeline),
        ("--by-kind", args.by_kind, "--matrix", args.matrix),
        ("--every", args.every.is_some(), "--strip", args.strip),
        (
            "--zoom",
            args.zoom.is_some(),
            "--at or --strip",
            !(args.timeline || args.matrix || kind),
        ),
        (
            "--drill",
            args.drill.is_some(),
            "pictures of a drill",
            !kind,
        ),
    ] {
        if given && !fits {
            return Err(Failure::new(format!("{option} has no effect here"))
                .help(format!("it belongs to {of}")));
        }
    }
    Ok(())
}

/// The pictures that show a stretch of time.
const TIMES: &str = "--timeline, --matrix and --strip";

fn of_drill(
    args: &Draw,
    source: &Source,
    plan: &Arc<Plan>,
    drill: DrillIx,
    look: &Look,
) -> Result<String, Failure> {
    let fail = |error: FrameError| match error {
        FrameError::Replay(error) => Failure::replaying(&source.name, &error),
        FrameError::NotThere(_) => Failure::new(error.to_string())
            .help("name an actor that exists then, or give a region as x1,y1,x2,y2"),
        FrameError::Over { .. } => Failure::new(error.to_string()),
    };
    let zoom = args.zoom.as_deref().map(zoom).transpose()?;
    if !(args.timeline || args.matrix || args.strip) {
        let frame = Frame::capture(plan, drill, tick(plan, args.at)).map_err(fail)?;
        let frame = match &zoom {
            Some(zoom) => frame.zoom(zoom).map_err(|error| fail(error.into()))?,
            None => frame,
        };
        return Ok(frame.over(layers(args, source)).svg(look));
    }
    let film = Film::shoot(plan, drill).map_err(|error| fail(error.into()))?;
    let (from, to) = replay::stretch(plan, args.from, args.to)?;
    let (from, to) = (from.unwrap_or(Tick(0)), to.unwrap_or(film.last()));
    if from > film.last() {
        return Err(Failure::new("the drill has ended by then")
            .help(format!("the drill ends on tick {}", film.last())));
    }
    if args.timeline {
        let who = args.who.as_deref();
        let who = who
            .map(|who| replay::chosen(plan, "--who", who))
            .transpose()?;
        let marks = match &args.log {
            Some(file) => against::marks(source, film.replay(), file.as_deref())?,
            None => Vec::new(),
        };
        let timeline = Timeline::new(&film).between(from, to).logged(&marks);
        return Ok(match &who {
            Some(who) => timeline.of(who).svg(look),
            None => timeline.svg(look),
        });
    }
    if args.matrix {
        let matrix = Matrix::new(&film).between(from, to);
        let matrix = if args.by_kind {
            matrix.by_kind()
        } else {
            matrix
        };
        return Ok(matrix.svg(look));
    }
    let mut shots = Strip::of(&film)
        .between(from, to)
        .over(layers(args, source));
    if let Some(every) = args.every {
        shots = shots.every(every.ticks(plan.rate()));
    }
    if let Some(zoom) = zoom {
        shots = shots.zoom(zoom);
    }
    let strip = shots.take().map_err(fail)?;
    if strip.moments() > strip.len() {
        let (frames, moments) = (strip.len(), strip.moments());
        let narrower = "choose a longer --every, or a shorter stretch with --from and --to";
        terminal::say(format!(
            "note: the strip shows {frames} of {moments} moments: {narrower}"
        ));
    }
    Ok(strip.svg(look))
}

/// Around an actor, or a region: `x1,y1,x2,y2`.
fn zoom(text: &str) -> Result<Zoom, Failure> {
    let numbers: Result<Vec<f64>, _> = text.split(',').map(|part| part.trim().parse()).collect();
    let Ok(numbers) = numbers else {
        return Ok(Zoom::Around(text.to_owned()));
    };
    let [x1, y1, x2, y2] = numbers[..] else {
        return Err(
            Failure::new(format!("--zoom {text}: a region has two corners"))
                .help("write them as x1,y1,x2,y2"),
        );
    };
    let region = Bounds::new([x1.min(x2), y1.min(y2)], [x1.max(x2), y1.max(y2)]);
    let size = region.size();
    if !(size.x > 0.0 && size.y > 0.0 && size.x.is_finite() && size.y.is_finite()) {
        return Err(Failure::new(format!("--zoom {text}: the region is empty"))
            .help("give it some width and height"));
    }
    Ok(Zoom::Region(region))
}

fn tick(plan: &Plan, time: Duration) -> Tick {
    Tick(time.ticks(plan.rate()).0)
}
