//! Where the rows of a sweep go when they are whole: a table, a file, a chart.

use std::io::Write;
use std::path::Path;

use tin_crown::study::{Row, Sheet};
use tin_crown_picture::Chart;

use crate::args::{self, RowFormat};
use crate::failure::Failure;
use crate::parquet::Parquet;
use crate::picture::{self, Picture};
use crate::sheets::Rows;
use crate::{output, terminal};

/// A source of rows: it is asked once, and gives all.
pub type Source<'s> =
    dyn FnMut(&mut dyn FnMut(&Row) -> Result<(), Failure>) -> Result<(), Failure> + 's;

/// Checks what is asked for before anything is played.
pub fn check(args: &args::Rows, sheet: &Sheet) -> Result<(), Failure> {
    if args.format == RowFormat::Parquet && args.file().is_none() {
        return Err(
            Failure::new("Parquet is not written to standard output").help("name a file: -o OUT")
        );
    }
    if args.format == RowFormat::Parquet {
        Parquet::check()?;
    }
    if let Some(plot) = &args.plot {
        Picture::new(plot)?;
        chart(args, sheet)?;
    }
    Ok(())
}

/// Writes rows in the format that is asked for, to the file or to standard output.
pub fn write(args: &args::Rows, sheet: &Sheet, source: &mut Source<'_>) -> Result<(), Failure> {
    let mut chart = args
        .plot
        .is_some()
        .then(|| chart(args, sheet))
        .transpose()?;
    match args.file() {
        Some(path) => {
            output::whole(path, |file| fill(args, sheet, file, &mut chart, source))?;
        }
        None => {
            let mut out = terminal::out();
            fill(args, sheet, &mut out, &mut chart, source)?;
            out.flush()?;
        }
    }
    if let (Some(path), Some(chart)) = (&args.plot, chart) {
        draw(args, path, &chart)?;
    }
    Ok(())
}

fn fill(
    args: &args::Rows,
    sheet: &Sheet,
    out: &mut dyn Write,
    chart: &mut Option<Chart>,
    source: &mut Source<'_>,
) -> Result<(), Failure> {
    let columns = &sheet.columns;
    let mut see = |row: &Row| {
        if let Some(chart) = chart {
            chart.add(row);
        }
    };
    let mut rows = match args.format {
        RowFormat::Parquet => {
            let mut rows = Parquet::new(out, columns)?;
            source(&mut |row| {
                see(row);
                rows.add(row)
            })?;
            return rows.finish();
        }
        RowFormat::Jsonl => Rows::jsonl(out, sheet)?,
        RowFormat::Csv => Rows::csv(out, sheet)?,
        RowFormat::Table => Rows::table(out, sheet),
    };
    source(&mut |row| {
        see(row);
        Ok(rows.add(columns, row)?)
    })?;
    Ok(rows.finish()?)
}

/// The chart that is asked for.
pub fn chart(args: &args::Rows, sheet: &Sheet) -> Result<Chart, Failure> {
    Chart::new(sheet, args.of.as_deref()).map_err(|error| Failure::new(error.to_string()))
}

pub fn draw(args: &args::Rows, path: &Path, chart: &Chart) -> Result<(), Failure> {
    let look = picture::look(args.theme);
    Picture::new(path)?.write(&chart.svg(&look))
}
