//! `tin-crown study`.

mod journal;
mod merge;
mod rows;
mod slack;
mod subject;
mod sweep;

use crate::args::Study;
use crate::failure::{Done, Failure};

pub fn run(args: &Study) -> Result<Done, Failure> {
    match args {
        Study::Sweep(args) => sweep::run(args),
        Study::Slack(args) => slack::run(args),
        Study::Merge(args) => merge::run(args),
    }
}
