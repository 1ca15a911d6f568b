//! All that was found: sorted, the first of each severity listed, the rest counted.

use std::fmt;

use super::{Code, Finding, Part, Path, Severity, Span};
use crate::limits;
use crate::map::Set;
use crate::order;

/// All that was found, in the order of the text: of each severity the first
/// [`FINDINGS`](limits::FINDINGS), and how many more there are.
#[derive(Clone, Default, PartialEq, Eq)]
pub struct Findings {
    all: Vec<Finding>,
    /// Those that the encounter allows, each with its reason.
    allowed: Vec<(Finding, String)>,
    /// How many of each severity were added, and how many are only counted.
    added: [usize; 3],
    left_out: [usize; 3],
}

/// How many other places that name an unknown tag are shown.
const OTHER_USES: usize = 3;

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

    /// Adds others.
    pub(crate) fn join(&mut self, others: &Findings) {
        for finding in others {
            self.push(finding.clone());
        }
        for (count, more) in self.left_out.iter_mut().zip(others.left_out) {
            *count += more;
        }
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

    /// Reports an unknown tag once, with the other places that name it, and with the place where the
    /// nearest one is given: most likely the slip is there.
    pub(crate) fn gather_unknown_tags(&mut self, given: impl Fn(&str) -> Option<(String, Path)>) {
        let mut kept: Vec<Finding> = Vec::new();
        let mut uses: Vec<(usize, usize)> = Vec::new();
        for mut finding in std::mem::take(&mut self.all) {
            let tag = finding.message.strip_prefix("unknown tag `#");
            let Some(tag) = tag.and_then(|rest| rest.strip_suffix('`')) else {
                kept.push(finding);
                continue;
            };
            let same = |(first, _): &&mut (usize, usize)| kept[*first].message == finding.message;
            match uses.iter_mut().find(same) {
                Some((first, count)) => {
                    *count += 1;
                    if *count <= OTHER_USES {
                        let first = &mut kept[*first];
                        first
                            .related
                            .push((finding.path, "also here".to_owned(), None));
                    }
                }
                None => {
                    if let Some((near, path)) = given(tag) {
                        let words = format!("`{near}` is given here");
                        finding = finding.related(path, words);
                    }
                    uses.push((kept.len(), 0));
                    kept.push(finding);
                }
            }
        }
        for (first, count) in uses.into_iter().filter(|(_, count)| *count > OTHER_USES) {
            let help = kept[first].help.take().unwrap_or_default();
            let more = count + 1;
            kept[first].help = Some(format!("{help} ({more} selectors name it)"));
        }
        self.all = kept;
    }

    /// Leaves out what is told of one place in the same words a second time.
    pub(crate) fn tell_once(&mut self) {
        let mut told = Set::new();
        self.all.retain(|finding| {
            let path = finding.path.to_string();
            told.insert((finding.code, path, finding.message.clone()))
        });
    }

    /// Does something with every finding, those that are allowed too.
    pub(crate) fn each(&mut self, does: impl Fn(&mut Finding)) {
        let allowed = self.allowed.iter_mut().map(|(finding, _)| finding);
        self.all.iter_mut().chain(allowed).for_each(does);
    }

    /// Fills in the spans that `locate` knows, and puts the findings in the order of the text.
    pub(crate) fn locate(&mut self, locate: impl Fn(&Path, Part) -> Option<Span>) {
        let allowed = self.allowed.iter_mut().map(|(finding, _)| finding);
        for finding in self.all.iter_mut().chain(allowed) {
            if finding.span.is_none() && finding.row.is_none() {
                finding.span = locate(&finding.path, finding.part);
            }
            for (path, _, span) in &mut finding.related {
                *span = locate(path, Part::Value);
            }
        }
        order::sort_by_key(&mut self.all, |finding| {
            finding.span.map_or(usize::MAX, |span| span.start)
        });
        self.trim();
    }

    /// Fills in the lines and columns of the spans, which are of this text.
    pub(crate) fn count_lines(&mut self, text: &[u8]) {
        let breaks = text.iter().enumerate().filter(|(_, byte)| **byte == b'\n');
        let starts: Vec<usize> = std::iter::once(0)
            .chain(breaks.map(|(place, _)| place + 1))
            .collect();
        let allowed = self.allowed.iter_mut().map(|(finding, _)| finding);
        for finding in self.all.iter_mut().chain(allowed) {
            if finding.row.is_some() {
                continue;
            }
            finding.line_column = finding.span.map(|span| {
                let line = starts.partition_point(|start| *start <= span.start);
                let before = text.get(starts[line - 1]..span.start).unwrap_or_default();
                (line, String::from_utf8_lossy(before).chars().count() + 1)
            });
        }
    }

    /// Of each severity the first few stay; the rest is only counted.
    pub(crate) fn trim(&mut self) {
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

    /// Those that are errors.
    pub fn errors(&self) -> impl Iterator<Item = &Finding> {
        let all = self.all.iter();
        all.filter(|finding| finding.severity == Severity::Error)
    }

    /// What the first error is about and says, in a line; empty when there is none.
    pub(crate) fn first_error(&self) -> String {
        self.errors()
            .next()
            .map_or_else(String::new, |finding| match finding.path.is_root() {
                true => finding.message.clone(),
                false => format!("{}: {}", finding.path, finding.message),
            })
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

/// What a failed `unwrap` prints: the same as [`Display`](fmt::Display), a line each.
impl fmt::Debug for Findings {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "\n{self}")
    }
}

impl std::error::Error for Findings {}
