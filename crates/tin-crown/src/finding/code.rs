//! The codes of findings, and how grave each is.

use std::fmt;

use serde::{Serialize, Serializer};

/// How grave a finding is: the graver come first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// The encounter cannot be replayed.
    Error,
    /// It can, but it probably does not do what was meant.
    Warning,
    /// Worth knowing.
    Note,
}

macro_rules! codes {
    ($($name:ident $text:literal $doc:literal),+ $(,)?) => {
        /// What kind of thing a finding is about. The text of a code never changes.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
        #[non_exhaustive]
pub enum Code { $(#[doc = $doc] $name),+ }

        impl Code {
            /// Every code, in the order of the documentation.
            pub const ALL: &'static [Code] = &[$(Code::$name),+];

            /// The stable text of the code, as in `unknown-key`.
            pub const fn as_str(self) -> &'static str {
                match self { $(Code::$name => $text),+ }
            }

            /// What it means, in a sentence.
            pub const fn summary(self) -> &'static str {
                match self { $(Code::$name => $doc),+ }
            }
        }
    };
}

codes! {
    TooLarge "too-large" "The file is larger than any encounter.",
    NotText "not-text" "The file is not UTF-8 text.",
    Syntax "syntax" "The file is not valid TOML or JSON.",
    Edition "edition" "The edition is missing or not supported.",
    UnknownKey "unknown-key" "A key that does not exist here.",
    MissingKey "missing-key" "A required key is missing.",
    WrongType "wrong-type" "A value of the wrong type.",
    BadDuration "bad-duration" "A string that is not a duration, or a number without a unit.",
    OutOfRange "out-of-range" "A number outside the accepted range, or not finite.",
    BadName "bad-name" "A name that is empty, too long, or has a reserved character.",
    Duplicate "duplicate" "A name or id that is already used.",
    UnknownName "unknown-name" "A kind, actor, tag, box, meter, rule or button that does not exist.",
    LikeCycle "like-cycle" "Kinds that are `like` each other in a cycle.",
    BadShape "bad-shape" "A box with no form, two forms, or a form that is not convex.",
    BadBounds "bad-bounds" "Bounds whose min is not below their max.",
    BadMeter "bad-meter" "A meter whose start is not between nothing and its max.",
    TooMany "too-many" "More of something than the documented limit.",
    Contradiction "contradiction" "Two settings that cannot both hold.",
    InsideSolid "inside-solid" "A body placed inside a solid.",
    OutsideArena "outside-arena" "An actor placed, or recorded, outside the arena.",
    NobodyPlaced "nobody-placed" "A selector that matches no placed actor.",
    NoEffect "no-effect" "A setting that has no effect.",
    Rounded "rounded" "A duration that rounding to ticks changed by more than 5 %.",
    BeatsCycle "beats-cycle" "Rules that beat each other in a cycle.",
    ShortStun "short-stun" "A stun of one tick, which blocks no input.",
    PathJumps "path-jumps" "A path that loops, but ends elsewhere than it begins.",
    ShotsWithoutEnd "shots-without-end" "A launcher that fires on every tick of a held button.",
    NeverLeaves "never-leaves" "Something launched that nothing ever removes.",
    MuzzleBeyond "muzzle-beyond" "A muzzle beyond whatever stands right in front of its owner.",
    RespawnInHazard "respawn-in-hazard" "A respawn place where something hurts longer than the grace lasts.",
    OutOfReach "out-of-reach" "A checkpoint or exit that nobody can touch.",
    RegenOutruns "regen-outruns" "A meter that comes back faster than anything can take from it.",
    EndlessMeter "endless-meter" "A meter that rules can empty to no effect.",
    WeakSpotSticksOut "weak-spot-sticks-out" "A weak spot that reaches further than what guards it.",
    SkipsABox "skips-a-box" "Something so fast that sampled contact can miss it.",
    MeetsNothing "meets-nothing" "A hitbox that can hit nobody.",
    AmmoRunsDry "ammo-runs-dry" "Ammo that runs out and that nothing refills.",
    AlwaysLoses "always-loses" "A rule that another beats whenever it could land.",
    TurningBody "turning-body" "A body that does not turn with who rotates, and is no circle.",
    NoHeight "no-height" "Something without a height that would need one.",
    HeightsApart "heights-apart" "A rule whose boxes are never at one height.",
    OverNothing "over-nothing" "An actor placed over nothing, which falls.",
    JumpTooLow "jump-too-low" "A jump that reaches nothing to stand on.",
    TwoSpellings "two-spellings" "Two names that differ only in spelling.",
    SameName "same-name" "A hitbox and a hurtbox with the same name, one of them inherited through `like`.",
    GuardUnheeded "guard-unheeded" "A guard that every rule pierces.",
    GuardFacesAway "guard-faces-away" "A guard that does not cover the front.",
    UnreachableState "unreachable-state" "A state that nothing leads to.",
    OnlyAllies "only-allies" "A rule that only ever meets allies, or its own actor.",
    FallsForEver "falls-for-ever" "A player whom nothing catches when it falls, or a walker without a body.",
    NeverHolds "never-holds" "A condition of a state that can never hold.",
    NothingToTake "nothing-to-take" "Damage to meters that whom it hits does not have.",
    Unreadable "unreadable" "A recording, a log or a file of drills that cannot be read.",
    BadRow "bad-row" "A row of a recording or a log that cannot be read.",
    OutOfOrder "out-of-order" "A row that is earlier than the one above it.",
    ToldTwice "told-twice" "Two recordings that tell one thing of one actor.",
    SameTime "same-time" "Two rows that tell of one actor at one time.",
    TooFast "too-fast" "A way between two rows that looks like a jump.",
    TrackGap "track-gap" "Rows so far apart that their actor is absent in between.",
    NeverTold "never-told" "An actor of whom a recording should tell, and does not.",
    UntoldGate "untold-gate" "A gate that asks for what a recording does not tell.",
    NothingTold "nothing-told" "A recording without rows, or a recording or a log of which nothing is on tick 0 or later.",
    TimeUnit "time-unit" "Times of a recording or a log that look like seconds, and are read as ticks.",
    ReusedName "reused-name" "A name of a recording that turns from one kind into another.",
    BeyondEnd "beyond-end" "A recording that goes on after the end of its drill.",
    BadSprite "bad-sprite" "A sprite whose file is missing, broken or too large, or is not made of whole cells.",
    HurtboxBeyondSprite "hurtbox-beyond-sprite" "A hurtbox that sticks out of its drawing.",
    HitboxUnseen "hitbox-unseen" "A hitbox that is live where nothing is drawn.",
    BladeNotLive "blade-not-live" "A blade that is drawn before or after its hitbox is live.",
    MuzzleInTheAir "muzzle-in-the-air" "A muzzle that is not at the drawing of its owner.",
    SpriteEndsEarly "sprite-ends-early" "A drawing that ends before the death that it shows.",
    SpriteNeverSeen "sprite-never-seen" "A cell of a sprite that is never shown.",
    DrainsInABlink "drains-in-a-blink" "Contact damage with neither invincibility nor spacing.",
}

impl Code {
    /// How grave findings of that kind are.
    pub const fn severity(self) -> Severity {
        match self {
            Code::NoEffect
            | Code::DrainsInABlink
            | Code::OutsideArena
            | Code::PathJumps
            | Code::RespawnInHazard
            | Code::OutOfReach
            | Code::RegenOutruns
            | Code::EndlessMeter
            | Code::ShotsWithoutEnd
            | Code::NeverLeaves
            | Code::MuzzleBeyond
            | Code::WeakSpotSticksOut
            | Code::SkipsABox
            | Code::MeetsNothing
            | Code::AmmoRunsDry
            | Code::AlwaysLoses
            | Code::TurningBody
            | Code::NoHeight
            | Code::HeightsApart
            | Code::OverNothing
            | Code::JumpTooLow
            | Code::TwoSpellings
            | Code::SameName
            | Code::GuardUnheeded
            | Code::GuardFacesAway
            | Code::OnlyAllies
            | Code::FallsForEver
            | Code::NeverHolds
            | Code::NothingToTake
            | Code::SameTime
            | Code::TooFast
            | Code::NeverTold
            | Code::UntoldGate
            | Code::TimeUnit
            | Code::ReusedName
            | Code::UnreachableState => Severity::Warning,
            _ if self.is_about_drawings() => Severity::Warning,
            Code::Rounded | Code::ShortStun | Code::TrackGap | Code::BeyondEnd => Severity::Note,
            _ => Severity::Error,
        }
    }

    /// Whether it is about the drawings under boxes, which are in files of their own.
    pub(crate) const fn is_about_drawings(self) -> bool {
        matches!(
            self,
            Code::BadSprite
                | Code::HurtboxBeyondSprite
                | Code::HitboxUnseen
                | Code::BladeNotLive
                | Code::MuzzleInTheAir
                | Code::SpriteEndsEarly
                | Code::SpriteNeverSeen
        )
    }

    /// What to do about it, where a finding does not say better.
    pub(super) fn advice(self) -> Option<&'static str> {
        match self {
            Code::OutOfRange => Some("choose a number within that range"),
            Code::NoEffect => Some("remove it, or add what it needs"),
            Code::TooMany => Some("use fewer"),
            Code::MissingKey => Some("add it"),
            Code::WrongType => Some("docs/format.md lists what each key accepts"),
            Code::BadName | Code::Duplicate => Some("choose another name"),
            Code::Contradiction => Some("remove one of them"),
            Code::BadShape => Some(
                "a box has `size` (and `turn`), or `radius`, or `ends` and `radius`, or `points` that \
                 go round it in order",
            ),
            Code::UnknownName => Some("use one that exists"),
            Code::BadMeter => Some("`start` must be between 0 and `max`"),
            Code::OutsideArena => Some("move it within `arena.bounds`, or enlarge them"),
            _ => None,
        }
    }
}

impl fmt::Display for Code {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

impl Serialize for Code {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(self.as_str())
    }
}
