//! The demo, the Clockmaker's Attic, and a first encounter to start from: the texts of their files.

/// The first shelf: stomps, horns, an umbrella to thrust and to guard with.
pub const FIRST_SHELF: &str = include_str!("../demo/first-shelf.toml");
/// The second shelf: a pop-gun, hazards, and foes that wake.
pub const SECOND_SHELF: &str = include_str!("../demo/second-shelf.toml");
/// The third shelf, seen from above, with heights: a cart that turns, a guard with an arc, a key that goes
/// round, a wire to be jumped, a gap, and a weight.
pub const THIRD_SHELF: &str = include_str!("../demo/third-shelf.toml");
/// The whole attic: checkpoints, deaths, respawns, an exit.
pub const ATTIC: &str = include_str!("../demo/attic.toml");
/// Another game, seen from above: a recorded round of boats in a wash-tub, held against that game's own hit log.
pub const TUB: &str = include_str!("../demo/tub.toml");
/// The recording of that round.
pub const TUB_RUN: &str = include_str!("../demo/tub-run.csv");
/// The hit log that the game wrote of it.
pub const TUB_HITS: &str = include_str!("../demo/tub-hits.csv");
/// A commented encounter to start from.
pub const STARTER: &str = include_str!("../demo/starter.toml");

/// The demo's encounters, by the names of their files.
pub const FILES: [(&str, &str); 4] = [
    ("first-shelf.toml", FIRST_SHELF),
    ("second-shelf.toml", SECOND_SHELF),
    ("third-shelf.toml", THIRD_SHELF),
    ("attic.toml", ATTIC),
];

/// The second world of the demo: an encounter, and what the game recorded.
pub const TUB_FILES: [(&str, &str); 3] = [
    ("tub.toml", TUB),
    ("tub-run.csv", TUB_RUN),
    ("tub-hits.csv", TUB_HITS),
];

/// The golden records of its drills, by the names of the files that stand beside them.
pub const GOLDEN: [(&str, &str); 4] = [
    (
        "first-shelf.golden.jsonl",
        include_str!("../demo/first-shelf.golden.jsonl"),
    ),
    (
        "second-shelf.golden.jsonl",
        include_str!("../demo/second-shelf.golden.jsonl"),
    ),
    (
        "third-shelf.golden.jsonl",
        include_str!("../demo/third-shelf.golden.jsonl"),
    ),
    (
        "attic.golden.jsonl",
        include_str!("../demo/attic.golden.jsonl"),
    ),
];

/// The drawings of its kinds, by the names of the files that stand beside its encounters. The example `draw_sprites`
/// draws them.
pub const SPRITES: [(&str, &[u8]); 26] = [
    ("porter.png", include_bytes!("../demo/porter.png")),
    ("porter-gun.png", include_bytes!("../demo/porter-gun.png")),
    ("beetle.png", include_bytes!("../demo/beetle.png")),
    ("pincushion.png", include_bytes!("../demo/pincushion.png")),
    ("stag.png", include_bytes!("../demo/stag.png")),
    ("wasp.png", include_bytes!("../demo/wasp.png")),
    ("jack.png", include_bytes!("../demo/jack.png")),
    ("alarm.png", include_bytes!("../demo/alarm.png")),
    ("burst.png", include_bytes!("../demo/burst.png")),
    ("cuckoo.png", include_bytes!("../demo/cuckoo.png")),
    ("drum.png", include_bytes!("../demo/drum.png")),
    ("kettle.png", include_bytes!("../demo/kettle.png")),
    ("weight.png", include_bytes!("../demo/weight.png")),
    (
        "weight-above.png",
        include_bytes!("../demo/weight-above.png"),
    ),
    ("lamp.png", include_bytes!("../demo/lamp.png")),
    ("music-box.png", include_bytes!("../demo/music-box.png")),
    ("cork.png", include_bytes!("../demo/cork.png")),
    ("puff.png", include_bytes!("../demo/puff.png")),
    ("cork-tin.png", include_bytes!("../demo/cork-tin.png")),
    ("key.png", include_bytes!("../demo/key.png")),
    ("key-above.png", include_bytes!("../demo/key-above.png")),
    ("cart.png", include_bytes!("../demo/cart.png")),
    ("bolt.png", include_bytes!("../demo/bolt.png")),
    ("floorboard.png", include_bytes!("../demo/floorboard.png")),
    (
        "cuckoo-clock.png",
        include_bytes!("../demo/cuckoo-clock.png"),
    ),
    ("drawer.png", include_bytes!("../demo/drawer.png")),
];
