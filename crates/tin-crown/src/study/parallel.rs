//! Jobs on all cores, whose results are the same on any number of them.

use std::ops::Range;

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
