//! `tin-crown trace`.

use std::io::Write;
use std::sync::Arc;

use serde_json::json;
use tin_crown::encounter::{BoxSpec, Up};
use tin_crown::geometry::Vec2;
use tin_crown::sprite::{Mask, Placing, Sheet, Traced, trace};
use tin_crown::{limits, printable};
use tin_crown_picture::Traces;

use crate::args::{StudyFormat, Trace, Upward};
use crate::failure::{Done, Failure};
use crate::picture::{self, Picture};
use crate::terminal::shown;
use crate::{output, source, terminal};

/// What is traced.
struct Drawing {
    name: String,
    sheet: Arc<Sheet>,
    cell: Option<[u32; 2]>,
    placing: Placing,
    opaque: u8,
}

pub fn run(args: &Trace) -> Result<Done, Failure> {
    let picture = args.output.as_deref().map(Picture::new).transpose()?;
    if let Some(output) = &args.output {
        output::spares(output, &[&args.file])?;
    }
    let drawing = match &args.kind {
        Some(kind) => of_kind(args, kind)?,
        None => of_png(args)?,
    };
    let [across, down] = drawing.sheet.cells(drawing.cell);
    let count = across * down;
    if let Some(beyond) = args.only.iter().find(|own| **own >= count) {
        let what = format!("{} has no cell {beyond}", drawing.name);
        return Err(Failure::new(what).help(match count {
            0 => "a cell is larger than it".to_owned(),
            1 => "it has one cell, 0".to_owned(),
            _ => format!("it has {count} cells, 0 to {}", count - 1),
        }));
    }
    let cells: Vec<u32> = match args.only.is_empty() {
        true => (0..count).collect(),
        false => args.only.clone(),
    };
    let traced: Vec<(u32, Mask, Vec<Traced>)> = cells
        .into_iter()
        .map(|number| {
            let mask = drawing.sheet.mask(drawing.cell, number, drawing.opaque);
            let mask = match args.part {
                Some(part) => mask.part(part.0),
                None => mask,
            };
            let traced = trace(&mask, &drawing.placing);
            (number, mask, traced)
        })
        .collect();
    if let Some(picture) = picture {
        let mut traces = Traces::new(&drawing.name, &drawing.sheet, drawing.cell, drawing.placing);
        for (number, _, traced) in &traced {
            traces.cell(*number, traced.clone());
        }
        picture.write(&traces.svg(&picture::look(args.theme)))?;
    }
    let mut out = terminal::out();
    match args.format {
        StudyFormat::Text => text(&mut out, &drawing, &traced)?,
        StudyFormat::Json => {
            let cells: Vec<_> = traced.iter().map(cell_json).collect();
            let all = json!({ "sheet": drawing.name, "cells": cells });
            writeln!(out, "{all:#}")?;
        }
    }
    out.flush()?;
    Ok(Done::Well)
}

/// The sprite of a kind.
fn of_kind(args: &Trace, kind: &str) -> Result<Drawing, Failure> {
    let source = source::read(&args.file)?;
    let plan = source.plan()?;
    let kinds = plan.names().kinds();
    let Some(place) = kinds.iter().position(|own| own == kind) else {
        let known: Vec<&str> = kinds.iter().collect();
        return Err(Failure::new(format!("unknown kind `{kind}`"))
            .help(format!("known: {}", known.join(", "))));
    };
    let sprite = plan.specs()[place].sprite();
    let sprite = sprite.ok_or_else(|| {
        Failure::new(format!("kind `{kind}` has no sprite"))
            .help("give it one, or trace its PNG: tin-crown trace sheet.png --cell 32x24")
    })?;
    let sheet = source.checked.sheets.of(sprite);
    let sheet = sheet.ok_or_else(|| Failure::new(format!("cannot read `{}`", sprite.file())))?;
    Ok(Drawing {
        name: sprite.file().to_owned(),
        sheet: Arc::clone(sheet),
        cell: sprite.cell(),
        placing: Placing::of(sprite, sheet.cell_size(sprite.cell())),
        opaque: sprite.opaque(),
    })
}

/// A PNG by itself.
fn of_png(args: &Trace) -> Result<Drawing, Failure> {
    let (name, bytes) = source::regular_bytes(&args.file, limits::SPRITE_BYTES)?;
    let encounter = args
        .file
        .extension()
        .is_some_and(|own| own == "toml" || own == "json");
    if encounter {
        return Err(Failure::new(format!("{name} is an encounter"))
            .help("say whose sprite is traced: --kind NAME"));
    }
    let sheet = Sheet::read(bytes)
        .map_err(|error| Failure::new(format!("cannot trace {name}: {error}")))?;
    for (option, number, range) in [
        ("--scale", args.scale, limits::SIZE),
        ("--opaque", args.opaque, limits::OPACITY),
        ("--at", args.at.0[0], limits::COORDINATE),
        ("--at", args.at.0[1], limits::COORDINATE),
    ] {
        if !range.contains(number) {
            let (least, most) = (range.least, range.most);
            let number = printable::number(number);
            return Err(Failure::new(format!("{option} {number} is out of range"))
                .help(format!("give a number from {least} to {most}")));
        }
    }
    let cell = args.cell.map(|own| own.0);
    let [width, height] = sheet.size();
    if let Some([wide, high]) = cell
        && (width % wide != 0 || height % high != 0)
    {
        let what =
            format!("{name} has {width} × {height} pixels: not whole cells of {wide} × {high}");
        return Err(Failure::new(what).help("give another --cell"));
    }
    Ok(Drawing {
        name: args
            .file
            .file_name()
            .map_or(name, |file| shown(file.as_ref())),
        cell,
        placing: Placing {
            size: sheet.cell_size(cell),
            at: Vec2::from(args.at.0),
            scale: args.scale,
            up: match args.up {
                Upward::Plus => Up::Plus,
                Upward::Minus => Up::Minus,
            },
        },
        sheet: Arc::new(sheet),
        opaque: (args.opaque * 255.0).ceil() as u8,
    })
}

fn text(
    out: &mut impl Write,
    drawing: &Drawing,
    traced: &[(u32, Mask, Vec<Traced>)],
) -> Result<(), Failure> {
    let [width, height] = drawing.placing.size;
    for (nth, (number, mask, traced)) in traced.iter().enumerate() {
        if nth > 0 {
            writeln!(out)?;
        }
        writeln!(
            out,
            "# {}, cell {number}: {} of {} pixels drawn",
            drawing.name,
            mask.count(),
            u64::from(width) * u64::from(height)
        )?;
        let lines: Vec<String> = traced.iter().map(|own| line(&own.spec)).collect();
        let wide = lines.iter().map(String::len).filter(|len| *len < 72).max();
        for (own, line) in traced.iter().zip(&lines) {
            let (form, wide) = (own.form.as_str(), wide.unwrap_or(0));
            writeln!(
                out,
                "{line:wide$}  # {form}: covers {:.1} %, {:.1} % air",
                own.covers * 100.0,
                own.air * 100.0
            )?;
        }
    }
    Ok(())
}

/// A box as a kind has it.
fn line(spec: &BoxSpec) -> String {
    let pair = |[x, y]: [f64; 2]| format!("[{x}, {y}]");
    let pairs = |all: &[[f64; 2]]| {
        let all: Vec<String> = all.iter().map(|own| pair(*own)).collect();
        format!("[{}]", all.join(", "))
    };
    let mut keys: Vec<String> = Vec::new();
    keys.extend(spec.size.map(|size| format!("size = {}", pair(size))));
    keys.extend(spec.turn.map(|turn| format!("turn = {turn}")));
    keys.extend(spec.ends.map(|ends| format!("ends = {}", pairs(&ends))));
    keys.extend(
        spec.points
            .as_ref()
            .map(|all| format!("points = {}", pairs(all))),
    );
    keys.extend(spec.radius.map(|radius| format!("radius = {radius}")));
    let at = spec.at.filter(|at| *at != [0.0, 0.0]);
    keys.extend(at.map(|at| format!("at = {}", pair(at))));
    format!("{{ {} }}", keys.join(", "))
}

fn cell_json((number, mask, traced): &(u32, Mask, Vec<Traced>)) -> serde_json::Value {
    let boxes: Vec<_> = traced
        .iter()
        .map(|own| {
            let BoxSpec {
                size,
                turn,
                ends,
                points,
                radius,
                at,
                ..
            } = &own.spec;
            let mut keys = json!({
                "size": size, "turn": turn, "ends": ends, "points": points, "radius": radius, "at": at,
            });
            if let Some(keys) = keys.as_object_mut() {
                keys.retain(|_, value| !value.is_null());
            }
            json!({ "form": own.form.as_str(), "covers": own.covers, "air": own.air, "box": keys })
        })
        .collect();
    json!({ "cell": number, "drawn": mask.count(), "boxes": boxes })
}
