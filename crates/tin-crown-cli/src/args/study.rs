//! The command line of studies.

use std::path::{Path, PathBuf};

use clap::{Args as Arguments, Subcommand, ValueEnum};
use clap_complete::ArgValueCompleter;
use tin_crown::Duration;
use tin_crown::study::Shard;

use super::{StudyFormat, Theme};
use crate::command::completions;
use crate::source::is_dash;

/// What is studied.
#[derive(Subcommand)]
pub enum Study {
    /// Replay drills under every value of some numbers
    Sweep(Sweep),
    /// How much earlier, later, shorter or longer each input may be
    Slack(Slack),
    /// Hits to kill, least time to kill, ammo needed: from the rules alone
    Tally(Tally),
    /// When in the hazards' cycle a drill gets through unhurt
    Passage(Passage),
    /// Look for inputs that break an expectation, or reach a goal
    Search(Search),
    /// Put the shards of a sweep together
    Merge(Merge),
}

/// How the rows of a sweep are written.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum RowFormat {
    /// For people.
    Table,
    /// CSV, all columns.
    Csv,
    /// JSON Lines: a header, then a row a line. What shards are merged from.
    Jsonl,
    /// Apache Parquet.
    Parquet,
}

/// How samples are spread.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum SpreadName {
    /// A Latin hypercube.
    Latin,
    /// A Sobol sequence.
    Sobol,
}

/// Where rows go, and what is drawn of them.
#[derive(Arguments)]
pub struct Rows {
    /// Format of the rows
    #[arg(long, default_value = "table")]
    pub format: RowFormat,
    /// Write to this file instead of standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
    /// Draw a chart (.svg or .png): lines for one value, a heat map for two, several for more
    #[arg(long, value_name = "OUT")]
    pub plot: Option<PathBuf>,
    /// The column that the chart shows [default: the first measure, else what the first player took]
    #[arg(long, value_name = "COLUMN", requires = "plot")]
    pub of: Option<String>,
    /// Light or dark background of the chart
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
}

impl Rows {
    /// The file to write; none for standard output.
    pub fn file(&self) -> Option<&Path> {
        self.output.as_deref().filter(|path| !is_dash(path))
    }
}

#[derive(Arguments)]
#[command(
    after_help = "VALUES: 20,40,80 · 20..120/10 (steps of 10) · 20..160/x2 (doubling) · 20..120:11 (11 values) · \
                  20..160:4x (4, evenly by factor) · 20..120 (any, with --samples).\n\nExamples:\n  \
                  tin-crown study sweep duel.toml --vary kind.hero.invincible.after_hit=0.1s..1s/0.1s\n  \
                  tin-crown study sweep duel.toml --vary kind.burr.motion.patrol.speed=20..120/5 --plot speed.svg\n  \
                  tin-crown study sweep duel.toml --vary seed=1..1000/1 --format csv -o seeds.csv\n  \
                  tin-crown study sweep duel.toml --drill slow --vary 'rule.burr pricks.damage=1..4/1' \
                  --measure 'hits: count = { hit = { whom = \"hero\" } }'\n  \
                  tin-crown study sweep duel.toml --vary … --format jsonl -o part-3.jsonl --shard 3/8 --resume"
)]
pub struct Sweep {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// Vary a value of the file, or `seed` (repeatable)
    #[arg(long, value_name = "PATH=VALUES", required = true, add = ArgValueCompleter::new(completions::paths))]
    pub vary: Vec<String>,
    /// Only this drill (repeatable)
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// Also measure this, in the words of `expect` (repeatable)
    #[arg(long, value_name = "[NAME:] MEASURE")]
    pub measure: Vec<String>,
    /// Draw so many samples instead of every combination
    #[arg(long, value_name = "N")]
    pub samples: Option<u64>,
    /// How samples are spread
    #[arg(long, default_value = "latin", requires = "samples")]
    pub spread: SpreadName,
    /// What samples are drawn from
    #[arg(long, value_name = "NUMBER", default_value_t = 0)]
    pub seed: u64,
    #[command(flatten)]
    pub rows: Rows,
    /// Play only this share of the cells [default: what a job array's variables say]
    #[arg(long, value_name = "K/N", requires = "output")]
    pub shard: Option<Shard>,
    /// Go on where an interrupted run with the same output stopped
    #[arg(long, requires = "output")]
    pub resume: bool,
    /// Use so many cores [default: all]
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u16).range(1..=1024))]
    pub threads: Option<u16>,
}

#[derive(Arguments)]
#[command(
    after_help = "Each input is moved by every number of ticks up to --reach, and the drill is played: the window is \
                  exact. Then all inputs are moved together, each beginning and end by up to so many ticks, drawn \
                  from --seed.\n\nExamples:\n  tin-crown study slack duel.toml --drill careful\n  \
                  tin-crown study slack duel.toml --drill careful --reach 2s --timeline slack.svg\n  \
                  tin-crown study slack duel.toml --wander 1,2,3 --runs 5000"
)]
pub struct Slack {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; optional when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// How far each input is moved, either way [default: 1s]
    #[arg(long, value_name = "TIME")]
    pub reach: Option<Duration>,
    /// By how many ticks all inputs wander together (comma-separated)
    #[arg(
        long,
        value_name = "TICKS",
        value_delimiter = ',',
        default_value = "1,2,4,8"
    )]
    pub wander: Vec<u32>,
    /// How many runs there are for each of those
    #[arg(long, value_name = "N", default_value_t = 1000)]
    pub runs: u32,
    /// What those are drawn from
    #[arg(long, value_name = "NUMBER", default_value_t = 0)]
    pub seed: u64,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
    /// Draw the drill's timeline with the windows of its inputs (.svg or .png)
    #[arg(long, value_name = "OUT")]
    pub timeline: Option<PathBuf>,
    /// Light or dark background of the timeline
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
}

#[derive(Arguments)]
#[command(
    after_help = "Who and whom are kinds, in reach of each other all the time; gates are taken as passed. Each sum is \
                  held to a replay made for the purpose.\n\nExamples:\n  tin-crown study tally duel.toml\n  \
                  tin-crown study tally duel.toml --whom hero --short"
)]
pub struct Tally {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// Only what this kind does, or launches
    #[arg(long, value_name = "KIND")]
    pub who: Option<String>,
    /// Only what is done to this kind
    #[arg(long, value_name = "KIND")]
    pub whom: Option<String>,
    /// Only the table, not how each sum was reached
    #[arg(long)]
    pub short: bool,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
}

#[derive(Arguments)]
#[command(
    after_help = "The players wait where they are placed, and then do what the drill says: its start is shifted tick \
                  by tick over the common cycle of everyone else.\n\nExamples:\n  \
                  tin-crown study passage attic.toml --drill dash\n  \
                  tin-crown study passage attic.toml --drill dash --cap 20s --strip dash.svg"
)]
pub struct Passage {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; optional when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// The longest cycle; without one, how far the start is shifted [default: 60s]
    #[arg(long, value_name = "TIME")]
    pub cap: Option<Duration>,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
    /// Draw the starts as a strip (.svg or .png)
    #[arg(long, value_name = "OUT")]
    pub strip: Option<PathBuf>,
    /// Light or dark background of the strip
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
}

#[derive(Arguments)]
#[command(
    group = clap::ArgGroup::new("aim").required(true).multiple(false).args(["breaks", "goal"]),
    after_help = "Exits with 1 when a way to break the expectation is found.\n\nExamples:\n  \
                  tin-crown study search duel.toml --drill careful --break 2\n  \
                  tin-crown study search duel.toml --drill careful --goal 'outcome = \"won\"' \
                  --goal 'never = { hit = { whom = \"hero\" } }'\n  \
                  tin-crown study search duel.toml --break 1 --buttons left,right,jump --budget 100000 -o found.toml"
)]
pub struct Search {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; optional when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// Miss this expectation of the drill, counted from 1 as replay lists them
    #[arg(long = "break", value_name = "N")]
    pub breaks: Option<usize>,
    /// Meet this, in the words of `expect` (repeatable: all of them)
    #[arg(long, value_name = "EXPECTATION")]
    pub goal: Vec<String>,
    /// Press only these buttons (comma-separated) [default: all that players answer to]
    #[arg(long, value_name = "BUTTONS", value_delimiter = ',')]
    pub buttons: Vec<String>,
    /// Change the drill's seed, too
    #[arg(long)]
    pub reseed: bool,
    /// How many runs are played at the most
    #[arg(long, value_name = "N", default_value_t = 20_000)]
    pub budget: u64,
    /// What changes are drawn from
    #[arg(long, value_name = "NUMBER", default_value_t = 0)]
    pub seed: u64,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
    /// Write the encounter with the drill that was found to this file
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
}

#[derive(Arguments)]
#[command(
    after_help = "Every shard has to be there, whole, and of one study.\n\nExamples:\n  \
                  tin-crown study merge part-*.jsonl --format jsonl -o whole.jsonl\n  \
                  tin-crown study merge whole.jsonl --format csv -o whole.csv --plot whole.svg"
)]
pub struct Merge {
    /// Shards as JSON Lines, in any order
    #[arg(required = true)]
    pub parts: Vec<PathBuf>,
    #[command(flatten)]
    pub rows: Rows,
}
