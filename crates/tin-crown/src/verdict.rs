//! What came of a touch.

/// What came of a touch: the first that applies, in this order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Verdict {
    /// Whom is dying, and that hurtbox is off.
    Down,
    /// Same side, and the rule is not friendly.
    Ally,
    /// A gate says no.
    Gate,
    /// The rule's repeat policy or spacing says not yet.
    Repeat,
    /// A rule that beats it applies between the two, or did a moment ago.
    Beaten,
    /// The attack's targets are spent, or it hit whom already on this tick.
    UsedUp,
    /// A window is open.
    Invincible,
    /// The guard held: some share comes through.
    Guarded,
    /// It took effect.
    Landed,
}

impl Verdict {
    /// Every verdict, in the order in which they are tried.
    pub const ALL: [Verdict; 9] = [
        Verdict::Down,
        Verdict::Ally,
        Verdict::Gate,
        Verdict::Repeat,
        Verdict::Beaten,
        Verdict::UsedUp,
        Verdict::Invincible,
        Verdict::Guarded,
        Verdict::Landed,
    ];

    /// As in the ledger.
    pub const fn as_str(self) -> &'static str {
        match self {
            Verdict::Down => "down",
            Verdict::Ally => "ally",
            Verdict::Gate => "gate",
            Verdict::Repeat => "repeat",
            Verdict::Beaten => "beaten",
            Verdict::UsedUp => "used-up",
            Verdict::Invincible => "invincible",
            Verdict::Guarded => "guarded",
            Verdict::Landed => "landed",
        }
    }

    /// Whether it did something: landed, or came to a guard that held.
    pub const fn took_effect(self) -> bool {
        matches!(self, Verdict::Landed | Verdict::Guarded)
    }
}
