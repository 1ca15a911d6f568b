//! `tin-crown draw`.

use std::io::Write;
use std::sync::Arc;

use tin_crown::geometry::Bounds;
use tin_crown::{DrillIx, Duration, Plan, Tick};
use tin_crown_picture::{Film, Frame, FrameError, Look, Matrix, Sheet, Strip, Timeline, png};

use super::replay;
use crate::args::{Draw, Theme};
use crate::failure::{Done, Failure};
use crate::{drills, output, source};

pub fn run(args: &Draw) -> Result<Done, Failure> {
    let ending = args.output.extension().and_then(|ending| ending.to_str());
    let as_png = match ending.map(str::to_ascii_lowercase).as_deref() {
        Some("png") => true,
        Some("svg") => false,
        None if source::is_dash(&args.output) => false,
        _ => {
            let what = format!("{} is neither .svg nor .png", args.output.display());
            return Err(Failure::new(what).help("choose a name with one of those endings"));
        }
    };
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let look = match args.theme {
        Theme::Paper => Look::paper(),
        Theme::Graphite => Look::graphite(),
    };
    let svg = match &args.kind {
        Some(kind) => sheet(&plan, kind, &look)?,
        None => {
            let drill = drills::one(&plan, args.drill.as_deref(), &source.name)?;
            of_drill(args, &plan, drill, &look)?
        }
    };
    if source::is_dash(&args.output) {
        std::io::stdout().write_all(svg.as_bytes())?;
    } else if as_png {
        let png = png(&svg).map_err(|error| Failure::new(error.to_string()))?;
        output::write(&args.output, &png)?;
    } else {
        output::write(&args.output, svg.as_bytes())?;
    }
    Ok(Done::Well)
}

/// The sheet of a kind.
fn sheet(plan: &Plan, kind: &str, look: &Look) -> Result<String, Failure> {
    let sheet = Sheet::new(plan, kind).ok_or_else(|| {
        let known = plan.kinds.join(", ");
        Failure::new(format!("there is no kind `{kind}`")).help(format!("there are: {known}"))
    })?;
    Ok(sheet.svg(look))
}

fn of_drill(args: &Draw, plan: &Arc<Plan>, drill: DrillIx, look: &Look) -> Result<String, Failure> {
    let fail = |error: FrameError| Failure::new(error.to_string());
    if args.timeline {
        return timeline(args, &film(plan, drill)?, look);
    }
    if args.matrix {
        let film = film(plan, drill)?;
        let matrix = Matrix::new(&film);
        let matrix = if args.by_kind {
            matrix.by_kind()
        } else {
            matrix
        };
        return Ok(matrix.svg(look));
    }
    if args.strip {
        let film = film(plan, drill)?;
        let strip = match args.every {
            Some(every) => Strip::every(plan, &film, every.ticks(plan.rate)),
            None => Strip::of_moments(plan, &film),
        };
        return Ok(strip.map_err(fail)?.svg(look));
    }
    let frame = Frame::capture(plan, drill, tick(plan, args.at)).map_err(fail)?;
    Ok(match &args.zoom {
        Some(zoom) => zoomed(frame, zoom)?,
        None => frame,
    }
    .svg(look))
}

/// Around an actor, or a region: `x1,y1,x2,y2`.
fn zoomed(frame: Frame, zoom: &str) -> Result<Frame, Failure> {
    let numbers: Result<Vec<f64>, _> = zoom.split(',').map(|part| part.trim().parse()).collect();
    if let Ok(numbers) = numbers {
        let [x1, y1, x2, y2] = numbers[..] else {
            return Err(
                Failure::new(format!("--zoom {zoom}: a region has two corners"))
                    .help("write them as x1,y1,x2,y2"),
            );
        };
        let region = Bounds::new([x1.min(x2), y1.min(y2)], [x1.max(x2), y1.max(y2)]);
        let size = region.size();
        if !(size.x > 0.0 && size.y > 0.0 && size.x.is_finite() && size.y.is_finite()) {
            return Err(
                Failure::new(format!("--zoom {zoom}: there is nothing in it"))
                    .help("give it some width and height"),
            );
        }
        return Ok(frame.region(region));
    }
    frame.around(zoom).map_err(|missing| {
        Failure::new(format!("--zoom {zoom}: {missing}"))
            .help("name somebody who is there, or give a region as x1,y1,x2,y2")
    })
}

fn timeline(args: &Draw, film: &Film, look: &Look) -> Result<String, Failure> {
    let plan = film.plan();
    let from = args.from.map_or(Tick(0), |from| tick(plan, from));
    let to = args.to.map_or(film.last(), |to| tick(plan, to));
    if from > to || from > film.last() {
        return Err(Failure::new("there is nothing to draw between those times")
            .help(format!("the drill ends on tick {}", film.last())));
    }
    let who = args.who.as_deref();
    let who = who
        .map(|who| replay::chosen(plan, "--who", who))
        .transpose()?;
    let timeline = Timeline::new(film).between(from, to);
    Ok(match &who {
        Some(who) => timeline.of(who).svg(look),
        None => timeline.svg(look),
    })
}

fn film(plan: &Arc<Plan>, drill: DrillIx) -> Result<Film, Failure> {
    Film::shoot(plan, drill).map_err(|error| Failure::new(error.to_string()))
}

fn tick(plan: &Plan, time: Duration) -> Tick {
    Tick(time.ticks(plan.rate).0)
}
