//! Jobs on all cores, whose results are the same on any number of them.

use std::ops::Range;
use std::time::{Duration, Instant};

/// Told how many jobs are done, of how many; says whether to go on.
pub type Watch<'w> = dyn FnMut(u64, u64) -> bool + 'w;

/// Long enough for all cores to be busy, short enough to be stopped.
const SPELL: Duration = Duration::from_millis(200);
/// So many jobs at the most are done before somebody is told.
const MOST: u64 = 4096;

/// The results of jobs, in their order. `begin` makes what a worker has of its own; it begins anew with each few jobs.
#[cfg(feature = "parallel")]
pub(super) fn map<S, T: Send>(
    jobs: &Range<u64>,
    begin: impl Fn() -> S + Sync + Send,
    job: impl Fn(&mut S, u64) -> T + Sync + Send,
) -> Vec<T> {
    use rayon::prelude::*;

    /// Jobs that one worker does in one go.
    const FEW: usize = 16;
    let count = (jobs.end - jobs.start) as usize;
    let least = (count / (4 * rayon::current_num_threads())).clamp(1, FEW);
    (0..count)
        .into_par_iter()
        .with_min_len(least)
        .map_init(begin, |own, nth| job(own, jobs.start + nth as u64))
        .collect()
}

/// The results of jobs, in their order. `begin` makes what the worker has of its own.
#[cfg(not(feature = "parallel"))]
pub(super) fn map<S, T: Send>(
    jobs: &Range<u64>,
    begin: impl Fn() -> S + Sync + Send,
    job: impl Fn(&mut S, u64) -> T + Sync + Send,
) -> Vec<T> {
    let mut own = begin();
    jobs.clone().map(|nth| job(&mut own, nth)).collect()
}

/// How many jobs are done in one go: as many as take a moment.
pub(super) struct Pace(u64);

impl Pace {
    pub fn new() -> Pace {
        Pace(8)
    }

    /// Does the next few of some jobs, and finds out how long they take.
    pub fn few<T>(&mut self, jobs: Range<u64>, work: impl FnOnce(Range<u64>) -> T) -> (u64, T) {
        let end = jobs.end.min(jobs.start + self.0);
        let begun = Instant::now();
        let done = work(jobs.start..end);
        let took = begun.elapsed();
        if took < SPELL / 2 {
            self.0 = (self.0 * 2).min(MOST);
        } else if took > SPELL * 2 {
            self.0 = (self.0 / 2).max(1);
        }
        (end, done)
    }
}

/// The results of all jobs, in order; none when it is told to stop before they are done.
pub(super) fn watched<S, T: Send>(
    count: u64,
    begin: impl Fn() -> S + Sync + Send,
    job: impl Fn(&mut S, u64) -> T + Sync + Send,
    watch: &mut Watch<'_>,
) -> Option<Vec<T>> {
    let (mut pace, mut all) = (Pace::new(), Vec::new());
    let mut next = 0;
    while next < count {
        let (end, results) = pace.few(next..count, |few| map(&few, &begin, &job));
        all.extend(results);
        next = end;
        if !watch(next, count) {
            return None;
        }
    }
    Some(all)
}
