//! The command line.

mod study;
mod trace;

pub use study::*;
pub use trace::*;

use std::path::PathBuf;

use clap::{Args as Arguments, Parser, Subcommand, ValueEnum};
use tin_crown::Duration;

/// A test bench for 2D combat rules.
///
/// Write an encounter: boxes, meters, rules, a drill. Replay it, and read who hurt whom, when,
/// and why (or why not).
#[derive(Parser)]
#[command(
    name = "tin-crown",
    version,
    after_help = "Exit codes: 0 success; 1 an expectation or a check failed, or two versions differ; 2 bad \
                  input or usage; 130 interrupted.\n\n\
                  Start here:\n  tin-crown demo                  replay the demo\n  \
                  tin-crown new my.toml           write a first encounter\n  \
                  tin-crown replay my.toml        replay it"
)]
pub struct Args {
    #[command(subcommand)]
    pub command: Command,
    /// Colour: `always`, `never`, or `auto` (on a terminal, unless NO_COLOR is set)
    #[arg(
        long = "color",
        value_name = "WHEN",
        global = true,
        default_value = "auto",
        hide_possible_values = true
    )]
    pub colour: Colour,
}

/// When to use colour.
#[derive(Clone, Copy, ValueEnum)]
pub enum Colour {
    /// On a terminal.
    Auto,
    /// Always.
    Always,
    /// Never.
    Never,
}

/// What to do.
#[derive(Subcommand)]
pub enum Command {
    /// Replay the demo that comes with the command
    Demo(Demo),
    /// Write a commented encounter to start from
    New(New),
    /// Check encounters for errors and common mistakes
    Check(Check),
    /// Lay out encounter files: order of keys, spacing; comments are kept
    Tidy(Tidy),
    /// Replay drills, print who hurt whom, and verify what the file expects
    Replay(Replay),
    /// Play an encounter by hand in a page: rewind, change numbers, keep the run as a drill
    Play(Play),
    /// Explain why a hit landed or did not, why two never met, or what else an actor did
    Why(Why),
    /// Compare two versions, drills or ledgers, or a drill with the game's own hit log
    Compare(Compare),
    /// List which rules, boxes and states the drills exercise, and which they never do
    Coverage(Coverage),
    /// Sweep numbers, find the slack of inputs, do the sums, search for what breaks
    #[command(subcommand)]
    Study(Study),
    /// Draw the arena at one moment of a drill, with every box
    Draw(Draw),
    /// Fit boxes to the drawings of a PNG, and print them as lines to paste
    Trace(Trace),
    /// Write a page that plays the drills and shows the ledger, to share
    Report(Report),
    /// Replay on every save, and show what changed
    Watch(Watch),
    /// Play tick by tick for another program: JSON Lines in, JSON Lines out
    Step(Step),
    /// Print the JSON Schema of encounters, expectations or ledgers
    Schema(Schema),
    /// Print a completion script for a shell
    Completions(Completions),
}

#[derive(Arguments)]
#[command(
    after_help = "Examples:\n  tin-crown demo\n  tin-crown demo --write attic\n  \
                  tin-crown demo --world tub --write tub"
)]
pub struct Demo {
    /// Which of its worlds
    #[arg(long, default_value = "attic")]
    pub world: World,
    /// Write the demo's files to this folder instead of replaying them
    #[arg(long, value_name = "DIR")]
    pub write: Option<PathBuf>,
    /// Overwrite files that were changed
    #[arg(long, requires = "write")]
    pub force: bool,
}

#[derive(Arguments)]
#[command(
    after_help = "Examples:\n  tin-crown new duel.toml\n  tin-crown new - | tin-crown check -"
)]
pub struct New {
    /// The file to write; `-` for standard output
    pub file: PathBuf,
    /// Overwrite an existing file
    #[arg(long)]
    pub force: bool,
}

#[derive(Arguments)]
#[command(
    after_help = "The page is on this machine alone, under an address that nobody else knows. Nothing is written but by \
                  its buttons `Write to the file` and `Keep as drill`. Ctrl-C ends.\n\n\
                  Examples:\n  tin-crown play duel.toml\n  \
                  tin-crown play duel.toml --drill both         others go on by that drill\n  \
                  tin-crown play duel.toml --no-browser --port 7007"
)]
pub struct Play {
    /// The encounter
    pub file: PathBuf,
    /// Let those whom nobody drives go on by this drill; without it they stand
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// Draw chance from this seed, without a drill
    #[arg(long, value_name = "N", default_value_t = 0, conflicts_with = "drill")]
    pub seed: u32,
    /// The port to listen on [default: a free one]
    #[arg(long, value_name = "N")]
    pub port: Option<u16>,
    /// Only print the address
    #[arg(long)]
    pub no_browser: bool,
}

/// The worlds of the demo.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum World {
    /// The Clockmaker's Attic: encounters of every kind.
    Attic,
    /// The wash-tub: a recording of another game, held against its hit log.
    Tub,
}

/// How findings are printed.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FindingFormat {
    /// For people.
    Text,
    /// For machines.
    Json,
    /// SARIF 2.1.0, for tools that collect findings.
    Sarif,
}

#[derive(Arguments)]
#[command(
    after_help = "Exits with 2 when a finding is an error, with 1 when --strict is given and one is \
                  a warning, else with 0.\n\nExamples:\n  tin-crown check duel.toml\n  \
                  tin-crown check --format json levels/*.toml > findings.json\n  \
                  tin-crown check --format sarif levels/*.toml > findings.sarif"
)]
pub struct Check {
    /// Encounter files (TOML or JSON); `-` for standard input
    #[arg(required = true)]
    pub files: Vec<PathBuf>,
    /// Format of the findings
    #[arg(long, default_value = "text")]
    pub format: FindingFormat,
    /// Fail on warnings too
    #[arg(long)]
    pub strict: bool,
}

/// How a ledger is printed.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum LedgerFormat {
    /// A table for people, with a summary.
    Table,
    /// JSON Lines: a header, then one event a line.
    Jsonl,
    /// CSV with the same columns; one drill only.
    Csv,
    /// The results of all expectations as JUnit XML.
    Junit,
    /// The same as TAP 13.
    Tap,
}

/// What the table of a ledger can show besides.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Column {
    /// The number of the line, as `why` names it.
    Line,
    /// Where whom, else who, is at the end of the tick: x and y.
    Place,
    /// The line that brought it about.
    Cause,
    /// The line that decided the verdict.
    Because,
}

#[derive(Arguments)]
#[command(
    after_help = "A SELECTOR is an actor's id, a kind, a #tag, or * for anyone. A TIME is as in the \
                  file: 90t (ticks), 250ms or 1.5s.\n\nExpectations stand in the file, and in \
                  duel.expect.toml beside duel.toml; golden records, which --accept writes, in \
                  duel.golden.jsonl. Exits with 1 when one of them is not met.\n\nExamples:\n  \
                  tin-crown replay duel.toml\n  tin-crown replay duel.toml --format junit -o \
                  report.xml\n  tin-crown replay duel.toml --accept\n  \
                  tin-crown replay duel.toml --drill careless --whom '#hero' --from 1s --to 2.5s\n  \
                  tin-crown replay duel.toml --columns line,place\n  \
                  tin-crown replay boss.toml --drill boss-run --track-dir recordings\n  \
                  tin-crown replay duel.toml --format jsonl -o duel.jsonl"
)]
pub struct Replay {
    /// Encounter files (TOML or JSON); `-` for standard input
    #[arg(required = true)]
    pub files: Vec<PathBuf>,
    /// Replay only this drill (repeatable)
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// Only what these actors do
    #[arg(long, value_name = "SELECTOR")]
    pub who: Option<String>,
    /// Only what is done to these actors
    #[arg(long, value_name = "SELECTOR")]
    pub whom: Option<String>,
    /// Only from this moment on
    #[arg(long, value_name = "TIME")]
    pub from: Option<Duration>,
    /// Only up to this moment
    #[arg(long, value_name = "TIME")]
    pub to: Option<Duration>,
    /// Replay recorded drills once with every recording in this folder
    #[arg(long, value_name = "DIR")]
    pub track_dir: Option<PathBuf>,
    /// Format of the ledger, or of the results of the expectations
    #[arg(long, default_value = "table")]
    pub format: LedgerFormat,
    /// Also show these columns in the table (comma-separated)
    #[arg(long, value_name = "COLUMNS", value_delimiter = ',')]
    pub columns: Vec<Column>,
    /// Read expectations from this file instead of the one beside the encounter
    #[arg(long, value_name = "FILE")]
    pub expect: Option<PathBuf>,
    /// Write the drills' current ledgers as their golden record, beside the encounter
    #[arg(long, conflicts_with_all = ["format", "output", "who", "whom", "from", "to", "expect", "columns", "track_dir"])]
    pub accept: bool,
    /// Write to this file instead of standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
}

/// How a study is printed.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum StudyFormat {
    /// For people.
    Text,
    /// For machines.
    Json,
}

#[derive(Arguments)]
#[command(
    after_help = "WHO and WHOM are as in replay: an id, a kind, a #tag, * for anyone, or the id of \
                  something launched. Without --when, each different outcome between the two is explained \
                  once. Without --whom, what is no hit is explained: why WHO died, fell or was stopped, \
                  did not leave a state, noticed nobody, or launched nothing.\n\nExamples:\n  \
                  tin-crown why duel.toml --who burr --whom hero\n  \
                  tin-crown why duel.toml --drill careless --who '#windup' --whom porter --when 1.2s\n  \
                  tin-crown why attic.toml --drill clumsy --who wasp"
)]
pub struct Why {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; optional when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// Who hits, or who is asked about
    #[arg(long, value_name = "SELECTOR")]
    pub who: String,
    /// Who is hit
    #[arg(long, value_name = "SELECTOR")]
    pub whom: Option<String>,
    /// At this moment
    #[arg(long, value_name = "TIME")]
    pub when: Option<Duration>,
    /// Only by this rule
    #[arg(long, value_name = "NAME", requires = "whom")]
    pub rule: Option<String>,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
}

/// How a comparison is printed.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum CompareFormat {
    /// For people.
    Text,
    /// For machines.
    Json,
    /// A difference from a hit log a line.
    Jsonl,
    /// Differences from a hit log as JUnit XML.
    Junit,
}

/// What is taken over from a hit log.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Resync {
    /// The health that is left after each hit.
    Health,
}

#[derive(Arguments)]
#[command(
    after_help = "Each of OLD and NEW is an encounter file, or a ledger or golden record (JSON Lines). \
                  Drills of the same name are compared. What began to differ comes first; what follows \
                  from it stands below it, indented. Exits with 1 when they differ.\n\nExamples:\n  \
                  tin-crown compare duel-v1.toml duel-v2.toml\n  \
                  tin-crown compare yesterday.jsonl duel.toml --within 2t\n  \
                  tin-crown compare duel-v1.toml duel-v2.toml --event hit --whom hero --all\n  \
                  tin-crown compare duel.toml duel.toml --drill slow --against fast\n  \
                  tin-crown compare boss.toml --drill boss-run --log hits.csv --within 2t"
)]
pub struct Compare {
    /// Before
    pub old: PathBuf,
    /// After
    #[arg(required_unless_present = "log", conflicts_with = "log")]
    pub new: Option<PathBuf>,
    /// Against the game's own hit log instead: this file (`-` for standard input), or the drill's
    #[arg(long, value_name = "FILE", num_args = 0..=1, conflicts_with_all = ["against", "event"])]
    pub log: Option<Option<PathBuf>>,
    /// Take over the log's health wherever it differs, and go on
    #[arg(long, value_name = "WHAT", requires = "log")]
    pub resync: Option<Resync>,
    /// Compare only this drill
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// With this drill of NEW instead of the one of the same name
    #[arg(long, value_name = "NAME", requires = "drill")]
    pub against: Option<String>,
    /// Events that moved by no more than this count as the same
    #[arg(long, value_name = "TIME", default_value = "0t")]
    pub within: Duration,
    /// Only changes of what this actor, or what it launched, does
    #[arg(long, value_name = "ID")]
    pub who: Option<String>,
    /// Only changes of what is done to this actor
    #[arg(long, value_name = "ID")]
    pub whom: Option<String>,
    /// Only changes of this event of the ledger: hit, meter, death…
    #[arg(long, value_name = "EVENT")]
    pub event: Option<String>,
    /// Only what began to differ, not what follows from it
    #[arg(long)]
    pub short: bool,
    /// Everything that follows, not only the first of it
    #[arg(long, conflicts_with = "short")]
    pub all: bool,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: CompareFormat,
}

#[derive(Arguments)]
#[command(
    after_help = "Exits with 1 when less than --at-least is exercised.\n\nExamples:\n  \
                  tin-crown coverage duel.toml\n  tin-crown coverage duel.toml --at-least 80"
)]
pub struct Coverage {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// Only by this drill (repeatable)
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// Exit with 1 when less than this percentage is exercised
    #[arg(long, value_name = "PERCENT", value_parser = clap::value_parser!(u8).range(0..=100))]
    pub at_least: Option<u8>,
    /// Output format
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
}

/// The ground of a picture.
#[derive(Clone, Copy, ValueEnum)]
pub enum Theme {
    /// Ink on warm paper.
    Paper,
    /// Chalk on graphite.
    Graphite,
}

#[derive(Arguments)]
#[command(
    after_help = "Examples:\n  tin-crown draw duel.toml --drill careless --at 1.55s -o hit.svg\n  \
                  tin-crown draw duel.toml --at 93t -o hit.png --theme graphite\n  \
                  tin-crown draw duel.toml --at 93t --zoom hero -o close.svg\n  \
                  tin-crown draw duel.toml --timeline --who '#hero' --from 1s --to 3s -o duel.svg\n  \
                  tin-crown draw duel.toml --matrix --by-kind -o duel.png\n  \
                  tin-crown draw duel.toml --strip --from 1s --zoom hero -o strip.png\n  \
                  tin-crown draw duel.toml --kind beetle -o beetle.svg"
)]
pub struct Draw {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; optional when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// The arena at this moment: 90t (ticks), 250ms or 1.5s
    #[arg(long, value_name = "TIME", default_value = "0t", group = "picture")]
    pub at: Duration,
    /// A timeline: meters, attacks, windows and states of everyone, and who hit whom
    #[arg(long, group = "picture")]
    pub timeline: bool,
    /// A matrix of who damaged whom, how much, and what had no effect
    #[arg(long, group = "picture")]
    pub matrix: bool,
    /// A strip: the arena at each hit, death and respawn, or at regular intervals
    #[arg(long, group = "picture")]
    pub strip: bool,
    /// All boxes of this kind, in each state, attack phase and step of its death, facing both ways
    #[arg(long, value_name = "NAME", group = "picture")]
    pub kind: Option<String>,
    /// Timeline, matrix, strip: only from this moment on
    #[arg(long, value_name = "TIME")]
    pub from: Option<Duration>,
    /// Timeline, matrix, strip: only up to this moment
    #[arg(long, value_name = "TIME")]
    pub to: Option<Duration>,
    /// Timeline: only these actors
    #[arg(long, value_name = "SELECTOR")]
    pub who: Option<String>,
    /// Timeline: with the game's own hit log, from this file or the one that the drill names
    #[arg(long, value_name = "FILE", num_args = 0..=1, requires = "timeline")]
    pub log: Option<Option<PathBuf>>,
    /// Matrix: group actors of one kind
    #[arg(long)]
    pub by_kind: bool,
    /// Strip: one frame per this interval
    #[arg(long, value_name = "TIME")]
    pub every: Option<Duration>,
    /// Arena, strip: only around this actor, or in this region
    #[arg(long, value_name = "ID | X1,Y1,X2,Y2")]
    pub zoom: Option<String>,
    /// The picture (.svg or .png); `-` for SVG on standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: PathBuf,
    /// Light or dark background
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
    /// Arena, strip, kind: boxes, the sprites beneath them, or both
    #[arg(long, default_value = "both")]
    pub show: Shown,
    /// How opaque sprites are, from 0 to 1
    #[arg(long, value_name = "SHARE", default_value_t = 0.75, value_parser = share)]
    pub opacity: f64,
}

/// What is drawn of actors.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum Shown {
    /// Boxes over sprites.
    Both,
    /// Boxes alone.
    Boxes,
    /// Sprites alone.
    Sprites,
}

fn share(text: &str) -> Result<f64, String> {
    let share: f64 = text.parse().map_err(|_| "expected a number".to_owned())?;
    match (0.0..=1.0).contains(&share) {
        true => Ok(share),
        false => Err("expected a number from 0 to 1".to_owned()),
    }
}

#[derive(Arguments)]
#[command(
    after_help = "The page needs no network and no server. Exits with 1 when an expectation is not met; the \
                  page is written anyway.\n\nExamples:\n  \
                  tin-crown report duel.toml -o duel.html\n  \
                  tin-crown report duel.toml --drill careless -o careless.html"
)]
pub struct Report {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// Only this drill (repeatable)
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// Hold drills against the game's own hit log: this file, or those that they name
    #[arg(long, value_name = "FILE", num_args = 0..=1)]
    pub log: Option<Option<PathBuf>>,
    /// The page; `-` for standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: PathBuf,
}

#[derive(Arguments)]
#[command(
    after_help = "One line on standard input is one tick, and is answered by one line: `{}` plays a tick, \
                  docs/pipe.md has the keys. A line that cannot be understood is answered by an error, and \
                  changes nothing. The session ends with the input.\n\nExamples:\n  \
                  tin-crown step duel.toml\n  echo '{\"tell\": [\"poses\"]}' | tin-crown step duel.toml"
)]
pub struct Step {
    /// The encounter file (TOML or JSON)
    pub file: PathBuf,
    /// Draw chance from this seed
    #[arg(long, value_name = "NUMBER", default_value_t = 0)]
    pub seed: u32,
}

#[derive(Arguments)]
#[command(
    after_help = "Examples:\n  tin-crown watch duel.toml\n  tin-crown watch duel.toml --report duel.html"
)]
pub struct Watch {
    /// The encounter file (TOML or JSON)
    pub file: PathBuf,
    /// Also update this page
    #[arg(long, value_name = "OUT")]
    pub report: Option<PathBuf>,
}

#[derive(Arguments)]
#[command(
    after_help = "Keys are put in the order of the reference, names keep yours; what the file says does not \
                  change.\n\nExamples:\n  tin-crown tidy duel.toml\n  tin-crown tidy --check levels/*.toml\n  \
                  tin-crown tidy - < duel.toml"
)]
pub struct Tidy {
    /// Encounter files (TOML); `-` for standard input, laid out on standard output
    #[arg(required = true)]
    pub files: Vec<PathBuf>,
    /// Write nothing; exit with 1 when a file is not tidy
    #[arg(long)]
    pub check: bool,
}

/// What a schema describes.
#[derive(Clone, Copy, ValueEnum)]
pub enum SchemaOf {
    /// Encounter files.
    Encounter,
    /// Files of expectations beside an encounter.
    Expectations,
    /// Lines of a ledger in JSON Lines.
    Ledger,
}

#[derive(Arguments)]
#[command(
    after_help = "Editors complete keys and underline mistakes once the first line of a file names the schema:\n  \
                  #:schema ./encounter.schema.json\n\nExamples:\n  tin-crown schema -o \
                  encounter.schema.json\n  tin-crown schema ledger"
)]
pub struct Schema {
    /// What the schema describes
    #[arg(default_value = "encounter")]
    pub of: SchemaOf,
    /// Write to this file instead of standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: Option<PathBuf>,
}

#[derive(Arguments)]
#[command(
    after_help = "Paths of values complete, too: --vary kind.<TAB>. The script asks the command, so let the shell \
                  read it anew whenever it starts.\n\nExamples:\n  \
                  echo 'source <(tin-crown completions bash)' >> ~/.bashrc\n  \
                  echo 'source <(tin-crown completions zsh)' >> ~/.zshrc\n  \
                  tin-crown completions fish > ~/.config/fish/completions/tin-crown.fish"
)]
pub struct Completions {
    /// The shell
    pub shell: clap_complete::Shell,
}
