//! `tin-crown study`.

mod job_array;
mod journal;
mod merge;
mod passage;
mod rows;
mod search;
mod slack;
mod subject;
mod sweep;
mod tally;

use crate::args::Study;
use crate::failure::{Done, Failure};

pub fn run(args: &Study) -> Result<Done, Failure> {
    match args {
        Study::Sweep(args) => sweep::run(args),
        Study::Slack(args) => slack::run(args),
        Study::Tally(args) => tally::run(args),
        Study::Passage(args) => passage::run(args),
        Study::Search(args) => search::run(args),
        Study::Merge(args) => merge::run(args),
    }
}
