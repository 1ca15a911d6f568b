//! `tin-crown draw`.

use std::io::Write;

use tin_crown::Tick;
use tin_crown_picture::{Frame, Look, png};

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
    let drill = drills::one(&plan, args.drill.as_deref(), &source.name)?;
    let tick = Tick(args.at.ticks(plan.rate).0);
    let frame =
        Frame::capture(&plan, drill, tick).map_err(|error| Failure::new(error.to_string()))?;
    let look = match args.theme {
        Theme::Paper => Look::paper(),
        Theme::Graphite => Look::graphite(),
    };
    let svg = frame.svg(&look);
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
