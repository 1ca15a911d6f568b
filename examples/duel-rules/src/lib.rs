//! A game would be here. Its combat rules are in `encounters/`, and its tests hold them to what they
//! should do.
