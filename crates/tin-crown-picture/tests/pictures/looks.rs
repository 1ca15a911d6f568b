//! The colours.

use tin_crown_picture::Look;

/// How much lighter the one is than the other (WCAG 2.2, relative luminance and contrast ratio).
fn contrast(one: &str, other: &str) -> f64 {
    let luminance = |colour: &str| {
        let channel = |at: usize| {
            let value = u8::from_str_radix(&colour[at..at + 2], 16).expect("a colour");
            let share = f64::from(value) / 255.0;
            if share <= 0.04045 {
                share / 12.92
            } else {
                ((share + 0.055) / 1.055).powf(2.4)
            }
        };
        0.2126 * channel(1) + 0.7152 * channel(3) + 0.0722 * channel(5)
    };
    let (one, other) = (luminance(one) + 0.05, luminance(other) + 0.05);
    one.max(other) / one.min(other)
}

#[test]
fn text_can_be_read_on_either_ground() {
    assert!((contrast("#000000", "#ffffff") - 21.0).abs() < 1e-9);
    for look in [Look::paper(), Look::graphite()] {
        for ground in [look.ground, look.arena] {
            for text in [
                look.ink,
                look.faint,
                look.oxblood,
                look.verdigris,
                look.copper,
            ] {
                let ratio = contrast(text, ground);
                assert!(ratio >= 4.5, "{text} on {ground}: {ratio:.2} to 1");
            }
        }
        // Names and states also stand on solids.
        assert!(contrast(look.ink, look.solid) >= 4.5);
    }
}
