//! Pictures read back as the XML and pixels that they are.

mod films;
mod frames;
mod looks;
mod overlap;
mod svg;
