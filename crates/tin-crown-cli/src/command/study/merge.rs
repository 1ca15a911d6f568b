//! `tin-crown study merge`.

use std::path::Path;

use super::journal::Lines;
use super::rows;
use crate::args;
use crate::failure::{Done, Failure};
use crate::output;
use crate::terminal::shown;

/// A shard: its file, and which it is.
struct Part<'p> {
    path: &'p Path,
    name: String,
    part: u64,
}

pub fn run(args: &args::Merge) -> Result<Done, Failure> {
    if let Some(output) = args.rows.file() {
        let inputs: Vec<&Path> = args.parts.iter().map(|path| &**path).collect();
        output::spares(output, &inputs)?;
    }
    let (first, parts) = parts(args)?;
    let sheet = first.of_shard(None);
    rows::check(&args.rows, &sheet)?;
    // Before anything is written, every row is looked at.
    each(&parts, &mut |_| Ok(()))?;
    rows::write(&args.rows, &sheet, &mut |take| each(&parts, take))?;
    Ok(Done::Well)
}

/// The head that all have, and the shards in order, each there once.
fn parts(args: &args::Merge) -> Result<(tin_crown::study::Sheet, Vec<Part<'_>>), Failure> {
    let mut first: Option<tin_crown::study::Sheet> = None;
    let mut parts: Vec<Part<'_>> = Vec::new();
    for path in &args.parts {
        let name = shown(path);
        let sheet = Lines::open(path, &name)?.sheet;
        if let Some(first) = &first {
            first
                .belongs(&sheet)
                .map_err(|error| Failure::new(format!("{name}: {error}")))?;
        }
        let part = sheet.shard.map_or(1, |shard| shard.part);
        if let Some(other) = parts.iter().find(|other| other.part == part) {
            let what = format!("{} and {name} both are shard {part}", other.name);
            return Err(Failure::new(what).help("leave one of them out"));
        }
        first.get_or_insert(sheet);
        parts.push(Part { path, name, part });
    }
    let Some(first) = first else {
        return Err(Failure::new("there is nothing to merge"));
    };
    let of = first.shard.map_or(1, |shard| shard.of);
    let missing: Vec<String> = (1..=of)
        .filter(|part| !parts.iter().any(|own| own.part == *part))
        .map(|part| format!("{part}/{of}"))
        .collect();
    if !missing.is_empty() {
        const TOLD: usize = 20;
        let more = match missing.len().saturating_sub(TOLD) {
            0 => String::new(),
            more => format!(" and {more} more"),
        };
        let told: Vec<&str> = missing.iter().take(TOLD).map(String::as_str).collect();
        let what = format!("shards are missing: {}{more}", told.join(", "));
        return Err(Failure::new(what).help("run them, or give their files too"));
    }
    parts.sort_by_key(|part| part.part);
    Ok((first, parts))
}

/// Every row of every shard, in order.
fn each(
    parts: &[Part<'_>],
    take: &mut dyn FnMut(&tin_crown::study::Row) -> Result<(), Failure>,
) -> Result<(), Failure> {
    for Part { path, name, .. } in parts {
        let lines = Lines::open(path, name)?;
        let sheet = lines.sheet.clone();
        let mut count = 0;
        for row in lines.rows() {
            take(&row?)?;
            count += 1;
        }
        if count < sheet.rows() {
            let what = format!("{name} is cut short: {count} of {} rows", sheet.rows());
            return Err(Failure::new(what).help("run that shard again, with --resume"));
        }
    }
    Ok(())
}
