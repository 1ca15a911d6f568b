//! The look: paper and metal.

/// The colours of a picture, each as `#rrggbb`.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Look {
    /// The ground.
    pub ground: &'static str,
    /// The inside of the arena.
    pub arena: &'static str,
    /// Solids.
    pub solid: &'static str,
    /// Text and outlines.
    pub ink: &'static str,
    /// Text of less weight.
    pub faint: &'static str,
    /// Hitboxes.
    pub copper: &'static str,
    /// Hurtboxes.
    pub pewter: &'static str,
    /// Sensors.
    pub brass: &'static str,
    /// What is full or regained.
    pub verdigris: &'static str,
    /// What is lost; damage and death.
    pub oxblood: &'static str,
}

impl Look {
    /// Ink on warm paper.
    pub const fn paper() -> Look {
        Look {
            ground: "#f6efe1",
            arena: "#fdfaf2",
            solid: "#d9cdb8",
            ink: "#2a2521",
            faint: "#6b6055",
            copper: "#a8541f",
            pewter: "#55626d",
            brass: "#8a6a12",
            verdigris: "#2a7562",
            oxblood: "#7d1f24",
        }
    }

    /// Chalk on graphite.
    pub const fn graphite() -> Look {
        Look {
            ground: "#1f2124",
            arena: "#282b2f",
            solid: "#44474c",
            ink: "#f0e9dc",
            faint: "#b3aa9c",
            copper: "#e08a4f",
            pewter: "#a9b7c4",
            brass: "#d9b64a",
            verdigris: "#62c2a9",
            oxblood: "#e0777b",
        }
    }

    /// The colours of a page that is light or dark: each a variable of its style.
    pub(crate) const fn page() -> Look {
        Look {
            ground: "var(--ground)",
            arena: "var(--arena)",
            solid: "var(--solid)",
            ink: "var(--ink)",
            faint: "var(--faint)",
            copper: "var(--copper)",
            pewter: "var(--pewter)",
            brass: "var(--brass)",
            verdigris: "var(--verdigris)",
            oxblood: "var(--oxblood)",
        }
    }

    /// The values of those variables.
    pub(crate) fn variables(&self) -> String {
        let all = [
            ("ground", self.ground),
            ("arena", self.arena),
            ("solid", self.solid),
            ("ink", self.ink),
            ("faint", self.faint),
            ("copper", self.copper),
            ("pewter", self.pewter),
            ("brass", self.brass),
            ("verdigris", self.verdigris),
            ("oxblood", self.oxblood),
        ];
        let all = all.map(|(name, colour)| format!("--{name}:{colour};"));
        all.concat()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
}
