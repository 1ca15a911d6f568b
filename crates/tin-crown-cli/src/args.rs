//! The command line.

use std::path::PathBuf;

use clap::{Args as Arguments, Parser, Subcommand, ValueEnum};
use tin_crown::Duration;

/// A bench on which the combat rules of 2D games are proved.
///
/// Write down an encounter: boxes, meters, rules, a drill. Replay it, and read who hurt whom, when,
/// and why, or why not.
#[derive(Parser)]
#[command(
    name = "tin-crown",
    version,
    after_help = "Exit codes: 0 all well; 1 an expectation or a check failed, or two things differ; 2 bad input or \
                  usage.\n\n\
                  Start here:\n  tin-crown demo                  replay the demo\n  \
                  tin-crown new my.toml           write an encounter to play with\n  \
                  tin-crown replay my.toml        replay it"
)]
pub struct Args {
    #[command(subcommand)]
    pub command: Command,
    /// When to use colour; `auto` minds NO_COLOR and whether a terminal reads
    #[arg(
        long = "color",
        value_name = "WHEN",
        global = true,
        default_value = "auto"
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
    /// Say what is wrong with encounters, or worth knowing
    Check(Check),
    /// Replay drills, print who hurt whom, and verify what the file expects
    Replay(Replay),
    /// Say why a hit landed, why it did not, or why two never met
    Why(Why),
    /// Say what differs between two versions, drills or ledgers
    Compare(Compare),
    /// Say which rules, boxes, states… the drills exercise, and which never
    Coverage(Coverage),
    /// Draw the arena at one moment of a drill, with every box
    Draw(Draw),
    /// Write one page on which drills are played and read, to share
    Report(Report),
    /// Replay at every save, and say what it changed
    Watch(Watch),
    /// Print a completion script for a shell
    Completions(Completions),
}

#[derive(Arguments)]
#[command(after_help = "Examples:\n  tin-crown demo\n  tin-crown demo --write attic")]
pub struct Demo {
    /// Put the demo's files into this folder instead of replaying them
    #[arg(long, value_name = "DIR")]
    pub write: Option<PathBuf>,
    /// Write over files that were changed
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
    /// Write over a file that is there
    #[arg(long)]
    pub force: bool,
}

/// How findings are printed.
#[derive(Clone, Copy, PartialEq, Eq, ValueEnum)]
pub enum FindingFormat {
    /// For people.
    Text,
    /// For machines.
    Json,
    /// For machines that gather findings of many tools: SARIF 2.1.0.
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
    /// How findings are printed
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
    /// What was expected and what came of it, as JUnit XML.
    Junit,
    /// The same as TAP 13.
    Tap,
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
                  tin-crown replay duel.toml --format jsonl -o duel.jsonl"
)]
pub struct Replay {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// Replay this drill only; may be given several times
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
    /// How the ledger, or what came of the expectations, is printed
    #[arg(long, default_value = "table")]
    pub format: LedgerFormat,
    /// Read expectations from this file, instead of the one beside the encounter
    #[arg(long, value_name = "FILE")]
    pub expect: Option<PathBuf>,
    /// Keep what the drills come to now as their golden record, beside the encounter
    #[arg(long, conflicts_with_all = ["format", "output", "who", "whom", "from", "to", "expect"])]
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
                  something launched. Without --when every different thing that came of the two is \
                  explained once.\n\nExamples:\n  tin-crown why duel.toml --who burr --whom hero\n  \
                  tin-crown why duel.toml --drill careless --who '#windup' --whom porter --when 1.2s"
)]
pub struct Why {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// The drill; may be left out when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// Who gives
    #[arg(long, value_name = "SELECTOR")]
    pub who: String,
    /// Who takes
    #[arg(long, value_name = "SELECTOR")]
    pub whom: String,
    /// The moment that is asked about
    #[arg(long, value_name = "TIME")]
    pub when: Option<Duration>,
    /// By this rule only
    #[arg(long, value_name = "NAME")]
    pub rule: Option<String>,
    /// How it is printed
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
}

#[derive(Arguments)]
#[command(
    after_help = "Each of OLD and NEW is an encounter file, or a ledger or golden record (JSON Lines). \
                  Drills of one name are compared. Exits with 1 when they differ.\n\nExamples:\n  \
                  tin-crown compare duel-v1.toml duel-v2.toml\n  \
                  tin-crown compare yesterday.jsonl duel.toml --within 2t\n  \
                  tin-crown compare duel.toml duel.toml --drill slow --against fast"
)]
pub struct Compare {
    /// What was
    pub old: PathBuf,
    /// What is
    pub new: PathBuf,
    /// Compare this drill only
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// With this drill of NEW instead of the one of the same name
    #[arg(long, value_name = "NAME", requires = "drill")]
    pub against: Option<String>,
    /// What moved by no more than this counts as the same
    #[arg(long, value_name = "TIME", default_value = "0t")]
    pub within: Duration,
    /// How it is printed
    #[arg(long, default_value = "text")]
    pub format: StudyFormat,
}

#[derive(Arguments)]
#[command(
    after_help = "Exits with 1 when less than --at-least of what there is was exercised.\n\nExamples:\n  \
                  tin-crown coverage duel.toml\n  tin-crown coverage duel.toml --at-least 80"
)]
pub struct Coverage {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// By this drill only; may be given several times
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// Fail when less than this share was exercised, in per cent
    #[arg(long, value_name = "PERCENT", value_parser = clap::value_parser!(u8).range(0..=100))]
    pub at_least: Option<u8>,
    /// How it is printed
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
    /// The drill; may be left out when there is only one
    #[arg(long, value_name = "NAME")]
    pub drill: Option<String>,
    /// The arena at this moment, as in the file: 90t (ticks), 250ms or 1.5s
    #[arg(long, value_name = "TIME", default_value = "0t", group = "picture")]
    pub at: Duration,
    /// Time across: meters, attacks, windows and states of everyone, and who hit whom
    #[arg(long, group = "picture")]
    pub timeline: bool,
    /// Who damaged whom, how much, and what came to nothing
    #[arg(long, group = "picture")]
    pub matrix: bool,
    /// The arena at each hit, death and return, or at every so often
    #[arg(long, group = "picture")]
    pub strip: bool,
    /// All boxes of this kind, in each state and attack phase, both ways
    #[arg(long, value_name = "NAME", group = "picture")]
    pub kind: Option<String>,
    /// Of a timeline, matrix or strip: only from this moment on
    #[arg(long, value_name = "TIME")]
    pub from: Option<Duration>,
    /// Of a timeline, matrix or strip: only up to this moment
    #[arg(long, value_name = "TIME")]
    pub to: Option<Duration>,
    /// Of a timeline: only these actors
    #[arg(long, value_name = "SELECTOR")]
    pub who: Option<String>,
    /// Of a matrix: those of one kind together
    #[arg(long)]
    pub by_kind: bool,
    /// Of a strip: a frame every so often
    #[arg(long, value_name = "TIME")]
    pub every: Option<Duration>,
    /// Of the arena, or a strip: only what is around this actor, or in this region
    #[arg(long, value_name = "ID | X1,Y1,X2,Y2")]
    pub zoom: Option<String>,
    /// The picture, by its ending .svg or .png; `-` for SVG on standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: PathBuf,
    /// The ground it is drawn on
    #[arg(long, default_value = "paper")]
    pub theme: Theme,
}

#[derive(Arguments)]
#[command(
    after_help = "The page needs no network and no server: send it to whom you like. Exits with 1 when an \
                  expectation is not met; the page is written all the same.\n\nExamples:\n  \
                  tin-crown report duel.toml -o duel.html\n  \
                  tin-crown report duel.toml --drill careless -o careless.html"
)]
pub struct Report {
    /// The encounter file (TOML or JSON); `-` for standard input
    pub file: PathBuf,
    /// With this drill only; may be given several times
    #[arg(long, value_name = "NAME")]
    pub drill: Vec<String>,
    /// The page; `-` for standard output
    #[arg(short, long, value_name = "OUT")]
    pub output: PathBuf,
}

#[derive(Arguments)]
#[command(
    after_help = "Examples:\n  tin-crown watch duel.toml\n  tin-crown watch duel.toml --report duel.html"
)]
pub struct Watch {
    /// The encounter file (TOML or JSON)
    pub file: PathBuf,
    /// Keep this page fresh too
    #[arg(long, value_name = "OUT")]
    pub report: Option<PathBuf>,
}

#[derive(Arguments)]
#[command(
    after_help = "Example:\n  tin-crown completions bash > ~/.local/share/bash-completion/completions/tin-crown"
)]
pub struct Completions {
    /// The shell
    pub shell: clap_complete::Shell,
}
