//! Findings: what is wrong with an encounter, where, and what to do about it. Data only: drawing
//! them is somebody else's work.

use std::fmt;

use serde::{Serialize, Serializer};

use crate::limits;
use crate::nearest::nearest;

/// How grave a finding is: the graver come first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The encounter cannot be replayed.
    Error,
    /// It can, but it probably does not do what was meant.
    Warning,
    /// Worth knowing.
    Note,
}

macro_rules! codes {
    ($($name:ident $text:literal $doc:literal),+ $(,)?) => {
        /// What kind of thing a finding is about. The text of a code never changes.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        pub enum Code { $(#[doc = $doc] $name),+ }

        impl Code {
            /// Every code, in the order of the documentation.
            pub const ALL: &'static [Code] = &[$(Code::$name),+];

            /// The stable text of the code, as in `unknown-key`.
            pub const fn as_str(self) -> &'static str {
                match self { $(Code::$name => $text),+ }
            }

            /// What it means, in a sentence.
            pub const fn summary(self) -> &'static str {
                match self { $(Code::$name => $doc),+ }
            }
        }
    };
}

codes! {
    TooLarge "too-large" "The file is larger than any encounter.",
    NotText "not-text" "The file is not UTF-8 text.",
    Syntax "syntax" "The file is not valid TOML or JSON.",
    Edition "edition" "The edition is missing, or not one this version reads.",
    UnknownKey "unknown-key" "A key that no table of this sort has.",
    MissingKey "missing-key" "A key that must be there is not.",
    WrongType "wrong-type" "A value of the wrong sort: a text where a number is due, and so on.",
    BadDuration "bad-duration" "A text that is not a duration, or a bare number where one is due.",
    OutOfRange "out-of-range" "A number outside what is accepted, or not finite.",
    BadName "bad-name" "A name that is empty, too long, or has a reserved character.",
    Duplicate "duplicate" "A name or id that is taken.",
    UnknownName "unknown-name" "A kind, actor, tag, box, meter, rule or button that does not exist.",
    LikeCycle "like-cycle" "Kinds that are like each other in a circle.",
    BadShape "bad-shape" "A box whose form is missing, doubled, or not convex.",
    BadBounds "bad-bounds" "Bounds whose min is not below their max.",
    BadMeter "bad-meter" "A meter whose start is not between nothing and its max.",
    TooMany "too-many" "More of something than the documented limit.",
    Contradiction "contradiction" "Two settings that cannot both hold.",
    InsideSolid "inside-solid" "A body placed inside a solid.",
    OutsideArena "outside-arena" "An actor placed outside the arena.",
    NobodyPlaced "nobody-placed" "A name that is known, but nobody placed answers to it.",
    NoEffect "no-effect" "A setting that does nothing.",
    Rounded "rounded" "A duration that moved by more than 5 % when rounded to ticks.",
    BeatsCycle "beats-cycle" "Rules that beat each other in a circle.",
    ShortStun "short-stun" "A stun of one tick, which eats no input.",
    PathJumps "path-jumps" "A path that begins anew elsewhere than it ends.",
    ShotsWithoutEnd "shots-without-end" "A launcher that goes off on every tick of a held button.",
    NeverLeaves "never-leaves" "Something launched that nothing would ever end.",
    MuzzleBeyond "muzzle-beyond" "A muzzle beyond what stands right in front of its owner.",
    RespawnInHazard "respawn-in-hazard" "A place to come back to where something hurts longer than the grace lasts.",
    OutOfReach "out-of-reach" "A checkpoint or exit that nobody can touch.",
    RegenOutruns "regen-outruns" "A meter that comes back faster than anything can take from it.",
    EndlessMeter "endless-meter" "A meter that rules empty, and whose emptiness means nothing.",
    WeakSpotSticksOut "weak-spot-sticks-out" "A weak spot that reaches further than what guards it.",
    SkipsABox "skips-a-box" "Something so fast that sampled contact can miss it.",
    MeetsNothing "meets-nothing" "A hitbox that no rule lets hit anybody.",
    AmmoRunsDry "ammo-runs-dry" "Ammo that nothing refills and that does not suffice.",
    AlwaysLoses "always-loses" "A rule that another beats whenever it could land.",
    TwoSpellings "two-spellings" "Two names that differ only in spelling.",
    SameName "same-name" "A hitbox and a hurtbox of one name, one of them taken over by `like`.",
    GuardUnheeded "guard-unheeded" "A guard that every rule pierces.",
    UnreachableState "unreachable-state" "A state that nothing leads to.",
    OnlyAllies "only-allies" "A rule that only ever meets allies, or its own actor.",
    FallsForEver "falls-for-ever" "A player whom nothing catches when it falls.",
    NeverHolds "never-holds" "A condition of a state that can never hold.",
    NothingToTake "nothing-to-take" "Damage to meters that whom it hits does not have.",
    DrainsInABlink "drains-in-a-blink" "Contact damage with neither invincibility nor spacing.",
}

impl Code {
    /// How grave findings of that kind are.
    pub const fn severity(self) -> Severity {
        match self {
            Code::NoEffect
            | Code::DrainsInABlink
            | Code::OutsideArena
            | Code::PathJumps
            | Code::RespawnInHazard
            | Code::OutOfReach
            | Code::RegenOutruns
            | Code::EndlessMeter
            | Code::ShotsWithoutEnd
            | Code::NeverLeaves
            | Code::MuzzleBeyond
            | Code::WeakSpotSticksOut
            | Code::SkipsABox
            | Code::MeetsNothing
            | Code::AmmoRunsDry
            | Code::AlwaysLoses
            | Code::TwoSpellings
            | Code::SameName
            | Code::GuardUnheeded
            | Code::OnlyAllies
            | Code::FallsForEver
            | Code::NeverHolds
            | Code::NothingToTake
            | Code::UnreachableState => Severity::Warning,
            Code::Rounded | Code::ShortStun => Severity::Note,
            _ => Severity::Error,
        }
    }

    /// What to do about it, where a finding does not say better.
    fn advice(self) -> Option<&'static str> {
        match self {
            Code::OutOfRange => Some("choose a number within that range"),
            Code::NoEffect => Some("take it away, or add what it needs"),
            Code::TooMany => Some("make do with fewer"),
            Code::MissingKey => Some("add it"),
            Code::WrongType => Some("docs/format.md says what every key takes"),
            Code::BadName | Code::Duplicate => Some("choose another name"),
            Code::Contradiction => Some("take one of them away"),
            Code::BadShape => Some(
                "a box has `size` (and `turn`), or `radius`, or `ends` and `radius`, or `points` that \
                 go round it in order",
            ),
            Code::UnknownName => Some("name one that exists"),
            Code::BadMeter => Some("`start` lies between nothing and `max`"),
            Code::OutsideArena => Some("move it within `arena.bounds`, or make those wider"),
            _ => None,
        }
    }
}

impl fmt::Display for Code {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

impl Serialize for Code {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.as_str())
    }
}

/// Where in the tree of an encounter a thing stands: `kind.beetle.hitbox.horns.size`.
#[derive(Clone, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Path(Vec<Step>);

/// One step of a [`Path`].
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Step {
    /// A key of a table.
    Key(String),
    /// An element of an array, counted from 0.
    Index(usize),
}

impl Path {
    /// The whole file.
    pub fn root() -> Path {
        Path::default()
    }

    /// This path and one key more.
    pub fn key(&self, key: impl Into<String>) -> Path {
        self.with(Step::Key(key.into()))
    }

    /// This path and one index more, counted from 0.
    pub fn index(&self, index: usize) -> Path {
        self.with(Step::Index(index))
    }

    /// The steps, outermost first.
    pub fn steps(&self) -> &[Step] {
        &self.0
    }

    /// Whether `other` is this place or lies within it.
    pub fn contains(&self, other: &Path) -> bool {
        other.0.starts_with(&self.0)
    }

    fn with(&self, step: Step) -> Path {
        let mut steps = self.0.clone();
        steps.push(step);
        Path(steps)
    }
}

impl fmt::Display for Path {
    /// Elements of arrays are counted from 1 for people: `rule[2].damage`.
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (i, step) in self.0.iter().enumerate() {
            match step {
                Step::Key(key) if i == 0 => f.write_str(key)?,
                Step::Key(key) => write!(f, ".{key}")?,
                Step::Index(index) => write!(f, "[{}]", index + 1)?,
            }
        }
        Ok(())
    }
}

impl Serialize for Path {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}

/// What part of the place a finding underlines.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Part {
    /// The key.
    Key,
    /// The value.
    Value,
}

/// A stretch of the source text, in bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize)]
pub struct Span {
    /// The first byte.
    pub start: usize,
    /// One past the last byte.
    pub end: usize,
}

/// One thing that is wrong, or worth knowing, about an encounter.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Finding {
    /// What kind of thing.
    pub code: Code,
    /// How grave.
    pub severity: Severity,
    /// What is wrong, in a sentence.
    pub message: String,
    /// Where in the tree.
    pub path: Path,
    /// Key or value of that place.
    pub part: Part,
    /// Where in the text, when the encounter came from one.
    pub span: Option<Span>,
    /// What to do, in a sentence.
    pub help: Option<String>,
    /// Other places that have to do with it, each with a few words.
    pub related: Vec<(Path, String, Option<Span>)>,
    /// The name that means nothing, when that is what is wrong.
    pub(crate) missed: Option<String>,
}

impl Finding {
    /// A finding about the value at `path`. Its severity is that of the code.
    pub(crate) fn new(code: Code, path: Path, message: impl Into<String>) -> Finding {
        Finding {
            code,
            severity: code.severity(),
            message: brief(message.into()),
            path,
            part: Part::Value,
            span: None,
            help: code.advice().map(str::to_owned),
            related: Vec::new(),
            missed: None,
        }
    }

    /// Says which name means nothing here.
    pub(crate) fn missing(mut self, name: &str) -> Finding {
        self.missed = Some(name.trim_start_matches('#').to_owned());
        self
    }

    pub(crate) fn at_key(mut self) -> Finding {
        self.part = Part::Key;
        self
    }

    pub(crate) fn help(mut self, help: impl Into<String>) -> Finding {
        self.help = Some(brief(help.into()));
        self
    }

    pub(crate) fn related(mut self, path: Path, words: impl Into<String>) -> Finding {
        self.related.push((path, words.into(), None));
        self
    }

    /// Names the nearest of the `known` words, or else lists them.
    pub(crate) fn suggest<'a>(
        self,
        word: &str,
        known: impl IntoIterator<Item = &'a str> + Clone,
    ) -> Finding {
        if let Some(near) = nearest(word, known.clone()) {
            return self.help(format!("did you mean `{near}`?"));
        }
        let mut words: Vec<&str> = known.into_iter().collect();
        words.sort_unstable();
        words.dedup();
        let more = words.len().saturating_sub(12);
        words.truncate(12);
        match (words.is_empty(), more) {
            (true, _) => self.help("there is none of that sort"),
            (false, 0) => self.help(format!("known here: {}", words.join(", "))),
            (false, more) => {
                self.help(format!("known here: {}, and {more} more", words.join(", ")))
            }
        }
    }
}

/// A message in which names that are far too long are cut short.
fn brief(message: String) -> String {
    if message.len() <= limits::NAME_BYTES {
        return message;
    }
    let cut = |part: &str| {
        let mut chars = part.char_indices();
        match chars.nth(limits::NAME_BYTES) {
            // Nobody misses the last few letters.
            Some((_, _)) if chars.clone().nth(8).is_some() => {
                let kept: String = part.chars().take(limits::NAME_BYTES / 2).collect();
                format!("{kept}…")
            }
            _ => part.to_owned(),
        }
    };
    // What stands between backquotes are names.
    let parts = message.split('`').enumerate();
    let parts = parts.map(|(nth, part)| {
        if nth % 2 == 1 {
            cut(part)
        } else {
            part.to_owned()
        }
    });
    parts.collect::<Vec<_>>().join("`")
}

impl fmt::Display for Finding {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let severity = match self.severity {
            Severity::Error => "error",
            Severity::Warning => "warning",
            Severity::Note => "note",
        };
        write!(f, "{severity}[{}]", self.code)?;
        if !self.path.steps().is_empty() {
            write!(f, " at {}", self.path)?;
        }
        write!(f, ": {}", self.message)?;
        if let Some(help) = &self.help {
            write!(f, " ({help})")?;
        }
        Ok(())
    }
}

/// All that was found, in the order of the text: of each severity the first
/// [`FINDINGS`](limits::FINDINGS), and how many more there are.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Findings {
    all: Vec<Finding>,
    /// Those that the encounter allows, each with its reason.
    allowed: Vec<(Finding, String)>,
    /// How many of each severity were added, and how many are only counted.
    added: [usize; 3],
    left_out: [usize; 3],
}

impl Findings {
    /// Nothing found yet.
    pub fn new() -> Findings {
        Findings::default()
    }

    /// Adds one, unless there are [`FINDINGS_KEPT`](limits::FINDINGS_KEPT) of its severity already.
    pub(crate) fn push(&mut self, finding: Finding) {
        let severity = finding.severity as usize;
        if self.added[severity] < limits::FINDINGS_KEPT {
            self.added[severity] += 1;
            self.all.push(finding);
        } else {
            self.left_out[severity] += 1;
        }
    }

    /// Adds so many more of a severity that are only counted.
    pub(crate) fn leave_out(&mut self, severity: Severity, more: usize) {
        self.left_out[severity as usize] += more;
    }

    /// Adds those of a later stage, leaving out what only follows from an error already here: a
    /// finding about a place within which something could not be read, or one that is `spoilt`.
    pub(crate) fn follow(&mut self, later: Findings, spoilt: impl Fn(&Finding) -> bool) {
        let read = self.all.len();
        for finding in later.all {
            let within = self.all[..read].iter().any(|earlier| {
                earlier.severity == Severity::Error
                    && !finding.path.steps().is_empty()
                    && finding.path.contains(&earlier.path)
            });
            if !within && !spoilt(&finding) {
                self.push(finding);
            }
        }
        for (count, more) in self.left_out.iter_mut().zip(later.left_out) {
            *count += more;
        }
        self.allowed.extend(later.allowed);
    }

    /// Sets aside those that are meant, for a reason, and says how many there are.
    pub(crate) fn allow(&mut self, reason: &str, meant: impl Fn(&Finding) -> bool) -> usize {
        let (allowed, all) = std::mem::take(&mut self.all).into_iter().partition(meant);
        self.all = all;
        let allowed: Vec<Finding> = allowed;
        let count = allowed.len();
        let reasons = std::iter::repeat(reason.to_owned());
        self.allowed.extend(allowed.into_iter().zip(reasons));
        count
    }

    /// Those that the encounter allows, each with its reason.
    pub fn allowed(&self) -> impl Iterator<Item = (&Finding, &str)> {
        let allowed = self.allowed.iter();
        allowed.map(|(finding, reason)| (finding, reason.as_str()))
    }

    /// Leaves out, while there are errors, what may only miss what those spoil: warnings, and that
    /// nobody is placed.
    pub(crate) fn withhold_guesses(&mut self) {
        let guess = |finding: &Finding| {
            finding.severity == Severity::Warning || finding.code == Code::NobodyPlaced
        };
        let certain = |finding: &Finding| finding.severity == Severity::Error && !guess(finding);
        if self.iter().any(certain) {
            self.all.retain(|finding| !guess(finding));
            self.left_out[Severity::Warning as usize] = 0;
        }
    }

    /// Fills in the spans that `locate` knows, and puts the findings in the order of the text.
    pub(crate) fn locate(&mut self, locate: impl Fn(&Path, Part) -> Option<Span>) {
        let allowed = self.allowed.iter_mut().map(|(finding, _)| finding);
        for finding in self.all.iter_mut().chain(allowed) {
            if finding.span.is_none() {
                finding.span = locate(&finding.path, finding.part);
            }
            for (path, _, span) in &mut finding.related {
                *span = locate(path, Part::Value);
            }
        }
        self.all
            .sort_by_key(|finding| finding.span.map_or(usize::MAX, |span| span.start));
        self.trim();
    }

    /// Of each severity the first few stay; the rest is only counted.
    fn trim(&mut self) {
        let Findings { all, left_out, .. } = self;
        let mut kept = [0; 3];
        all.retain(|finding| {
            let nth = finding.severity as usize;
            kept[nth] += 1;
            let stays = kept[nth] <= limits::FINDINGS;
            left_out[nth] += usize::from(!stays);
            stays
        });
    }

    /// How many of a severity there are besides those that are listed.
    pub fn left_out(&self, severity: Severity) -> usize {
        self.left_out[severity as usize]
    }

    /// Whether any of them keeps the encounter from being replayed.
    pub fn has_errors(&self) -> bool {
        self.left_out(Severity::Error) > 0
            || self
                .iter()
                .any(|finding| finding.severity == Severity::Error)
    }

    /// The findings.
    pub fn iter(&self) -> std::slice::Iter<'_, Finding> {
        self.all.iter()
    }

    /// How many are listed.
    pub fn len(&self) -> usize {
        self.all.len()
    }

    /// Whether none is listed.
    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }
}

impl<'a> IntoIterator for &'a Findings {
    type Item = &'a Finding;
    type IntoIter = std::slice::Iter<'a, Finding>;
    fn into_iter(self) -> Self::IntoIter {
        self.iter()
    }
}

impl fmt::Display for Findings {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        for (i, finding) in self.iter().enumerate() {
            if i > 0 {
                writeln!(f)?;
            }
            finding.fmt(f)?;
        }
        let more: usize = self.left_out.iter().sum();
        if more > 0 {
            write!(f, "\nand {more} more")?;
        }
        Ok(())
    }
}

impl std::error::Error for Findings {}
