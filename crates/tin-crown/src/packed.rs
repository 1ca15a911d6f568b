//! Plain data as compact bytes: what is hashed and what a snapshot holds.

use serde::{Deserialize, Serialize};

/// Adds the bytes of plain data to others. One writer for all, so that every type is compiled for it once.
pub(crate) fn pack(data: &impl Serialize, bytes: &mut Vec<u8>) {
    let own = std::mem::take(bytes);
    *bytes = postcard::to_extend(data, own)
        .unwrap_or_else(|error| unreachable!("it is plain data: {error}"));
}

/// What was packed; nothing when the bytes are not such.
pub(crate) fn unpack<'b, T: Deserialize<'b>>(bytes: &'b [u8]) -> Option<T> {
    postcard::from_bytes(bytes).ok()
}
