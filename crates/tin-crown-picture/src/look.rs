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
