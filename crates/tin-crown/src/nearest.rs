//! The nearest known word, for messages about unknown ones.

/// The word of `known` most like `word`, if any is like enough to be meant.
///
/// Letter case is ignored first; then the Damerau-Levenshtein distance counts, at most a third of
/// the longer word's letters.
pub(crate) fn nearest<'a>(word: &str, known: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    nearest_of(word, &mut known.into_iter())
}

fn nearest_of<'a>(word: &str, known: &mut dyn Iterator<Item = &'a str>) -> Option<&'a str> {
    let folded = word.to_lowercase();
    let letters = word.chars().count();
    let mut nearest: Option<(usize, &str)> = None;
    for candidate in known {
        let distance = strsim::damerau_levenshtein(&folded, &candidate.to_lowercase());
        let longer = letters.max(candidate.chars().count());
        let found = (distance, candidate);
        if distance <= longer.div_ceil(3) && nearest.is_none_or(|best| found < best) {
            nearest = Some(found);
        }
    }
    nearest.map(|(_, candidate)| candidate)
}
