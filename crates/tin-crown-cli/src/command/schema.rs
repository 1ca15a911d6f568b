//! `tin-crown schema`.

use std::io::Write;

use crate::args::{Schema, SchemaOf};
use crate::failure::{Done, Failure};
use crate::{output, terminal};

pub fn run(args: &Schema) -> Result<Done, Failure> {
    let schema = match args.of {
        SchemaOf::Encounter => tin_crown::schema::encounter(),
        SchemaOf::Expectations => tin_crown::schema::expectations(),
        SchemaOf::Ledger => tin_crown::schema::ledger(),
    };
    if let Some(path) = &args.output {
        output::write(path, schema.as_bytes())?;
    } else {
        let mut out = terminal::out();
        out.write_all(schema.as_bytes())?;
        out.flush()?;
    }
    Ok(Done::Well)
}
