//! Advice that is followed: each file is told what helps it, and nothing that does not.

use tin_crown::check_with;
use tin_crown::track::Folder;

#[test]
fn what_helps_is_told_once_and_nothing_else() {
    let folder = Folder(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/advice").into());
    for (file, told) in [
        // What limits a turn that is told, or freezes who hits, has an effect.
        ("turn-beside-keeps", &[][..]),
        ("turn-beside-keeps-has-effect", &[]),
        ("hitstop-alone", &[]),
        // A door asks whether the key was taken.
        ("pickup-that-a-door-needs", &[]),
        // Poses lift it to where it is hit.
        ("posed-through-heights", &[]),
        ("respawn-clear-of", &[]),
        ("ball-that-ends-on-the-ground", &[]),
        ("checkpoint-refills", &[]),
        // Whoever has fired them all is not dead, and comes back to nothing.
        ("respawn-resets-all", &["ammo-runs-dry"]),
        ("one-warning-twice", &["endless-meter"]),
        (
            "walker-without-body",
            &["drains-in-a-blink", "falls-for-ever"],
        ),
        (
            "walker-without-body-side",
            &["drains-in-a-blink", "falls-for-ever"],
        ),
        ("guard-arc-leaves-out-the-front", &["guard-faces-away"]),
        // Clips that are shown.
        ("clip-of-an-air-attack", &[]),
        ("clip-of-a-death-in-a-state", &[]),
        ("clip-of-a-moving-step", &[]),
        ("second-clip-never-seen", &[]),
        ("later-step-takes-over", &[]),
        ("pulse-in-a-state", &["no-effect"]),
        // Boxes where they are shown.
        ("blade-four-times-as-long", &["hitbox-unseen"]),
        ("muzzle-in-air-where-it-launches", &["muzzle-in-the-air"]),
        ("placement-override", &["hurtbox-beyond-sprite"]),
        ("blade-early-by-states", &["blade-not-live", "no-effect"]),
        ("boxes-per-cell-by-states", &["blade-not-live"]),
        ("death-cut-off", &["sprite-never-seen"]),
        ("air-attack-with-nothing-drawn", &["hitbox-unseen"]),
        ("fixed-box", &["hitbox-unseen"]),
    ] {
        let path = folder.0.join(file).with_extension("toml");
        let text = std::fs::read(path).expect("the file is there");
        let findings = check_with(&text, &folder).findings;
        let mut codes: Vec<&str> = findings.iter().map(|own| own.code.as_str()).collect();
        codes.sort_unstable();
        assert_eq!(codes, told, "{file}: {findings}");
    }
}
