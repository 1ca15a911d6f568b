//! The nearest known word, for messages about unknown ones.

/// The word of `known` most like `word`, if any is like enough to be meant.
///
/// Letter case is ignored first; then the Damerau-Levenshtein distance counts, at most a third of
/// the longer word's letters.
pub(crate) fn nearest<'a>(word: &str, known: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    let folded = word.to_lowercase();
    known
        .into_iter()
        .map(|candidate| {
            let distance = strsim::damerau_levenshtein(&folded, &candidate.to_lowercase());
            (distance, candidate)
        })
        .filter(|(distance, candidate)| {
            let longer = word.chars().count().max(candidate.chars().count());
            *distance <= longer.div_ceil(3)
        })
        .min()
        .map(|(_, candidate)| candidate)
}

#[cfg(test)]
mod tests {
    use super::nearest;

    #[test]
    fn finds_slips_of_the_finger_and_of_case() {
        let known = ["hitbox", "hurtbox", "body"];
        assert_eq!(nearest("hitbx", known), Some("hitbox"));
        assert_eq!(nearest("Hurtbox", known), Some("hurtbox"));
        assert_eq!(nearest("bdoy", known), Some("body"));
        assert_eq!(nearest("placement", known), None);
    }
}
