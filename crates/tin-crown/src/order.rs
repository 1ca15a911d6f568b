//! Putting things in order, and finding a place in it. What does not depend on what is ordered is compiled once.

use std::cmp::Ordering;

/// Puts a list in order; what compares as equal stays as it was.
pub(crate) fn sort_by<T>(list: &mut [T], mut compare: impl FnMut(&T, &T) -> Ordering) {
    let mut order = order(list.len(), &mut |a, b| compare(&list[a], &list[b]));
    permute(&mut order, &mut |a, b| list.swap(a, b));
}

/// The same by a key.
pub(crate) fn sort_by_key<T, K: Ord>(list: &mut [T], mut key: impl FnMut(&T) -> K) {
    sort_by(list, |a, b| key(a).cmp(&key(b)));
}

/// The same by the values themselves.
pub(crate) fn sort<T: Ord>(list: &mut [T]) {
    sort_by(list, T::cmp);
}

/// Where something is in an ordered list of so many, or where it would belong.
pub(crate) fn search(
    count: usize,
    mut compare: impl FnMut(usize) -> Ordering,
) -> Result<usize, usize> {
    search_of(count, &mut compare)
}

fn order(count: usize, compare: &mut dyn FnMut(usize, usize) -> Ordering) -> Vec<usize> {
    let mut order: Vec<usize> = (0..count).collect();
    order.sort_by(|a, b| compare(*a, *b));
    order
}

/// Swaps until each place has what `order` says belongs there.
fn permute(order: &mut [usize], swap: &mut dyn FnMut(usize, usize)) {
    for start in 0..order.len() {
        let mut at = start;
        loop {
            let from = std::mem::replace(&mut order[at], at);
            if from == start || from == at {
                break;
            }
            swap(at, from);
            at = from;
        }
    }
}

fn search_of(count: usize, compare: &mut dyn FnMut(usize) -> Ordering) -> Result<usize, usize> {
    let (mut from, mut to) = (0, count);
    // Most of what is put in comes in order.
    let mut at = count.saturating_sub(1);
    while from < to {
        match compare(at) {
            Ordering::Less => from = at + 1,
            Ordering::Equal => return Ok(at),
            Ordering::Greater => to = at,
        }
        at = usize::midpoint(from, to);
    }
    Err(from)
}
