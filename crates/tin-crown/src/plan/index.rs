//! Small indices that take the place of names.

use serde::{Deserialize, Serialize};

/// An index that takes the place of a name.
pub trait Ix: Copy + private::New {
    /// The position in the plan's list.
    fn index(self) -> usize;
}

/// Keeps anyone else from making an index up.
mod private {
    pub trait New {
        fn new(index: usize) -> Self;
    }
}

macro_rules! indices {
    ($($name:ident($inner:ty) $doc:literal),+ $(,)?) => {$(
        #[doc = $doc]
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[serde(transparent)]
        pub struct $name(pub(crate) $inner);

        impl $name {
            /// That position in the plan's list.
            ///
            /// # Panics
            ///
            /// When there are more than the limits let pass.
            pub fn new(index: usize) -> $name {
                match index.try_into() {
                    Ok(index) => $name(index),
                    Err(_) => panic!("{index} is beyond any {}: the last is {}", stringify!($name), <$inner>::MAX),
                }
            }

            /// The position in the plan's list.
            pub fn index(self) -> usize {
                self.0 as usize
            }
        }

        impl Ix for $name {
            fn index(self) -> usize {
                self.index()
            }
        }

        impl private::New for $name {
            fn new(index: usize) -> $name {
                $name::new(index)
            }
        }
    )+};
}

indices! {
    ActorIx(u32) "An actor, in the order of ids.",
    SpecIx(u32) "A resolved kind, or a placement's variant of one.",
    KindIx(u16) "A kind, in the order of names.",
    SideIx(u16) "A side, in the order of names.",
    TagIx(u16) "A tag, in the order of names.",
    MeterIx(u16) "A meter's name, in the order of names.",
    SortIx(u16) "A type of damage, in the order of names.",
    AttackNameIx(u16) "The name of an attack, in the order of names.",
    AttackIx(u8) "An attack of an actor, in the order of names.",
    RuleIx(u16) "A rule, in the order of the file.",
    DrillIx(u16) "A drill, in the order of names.",
    BoxIx(u8) "A hitbox or hurtbox of an actor, in the order of names.",
    ButtonIx(u8) "A button: left, right, up, down, jump, then others by name.",
    BreedIx(u32) "What an actor is made of, and how rules concern it.",
    LauncherIx(u8) "A launcher of an actor, in the order of names.",
    SensorIx(u8) "A sensor of an actor, in the order of names.",
    SensorNameIx(u16) "The name of a sensor, in the order of names.",
    StateIx(u8) "A state of an actor, in the order of names.",
    StateNameIx(u16) "The name of a state, in the order of names.",
    CheckpointIx(u16) "A checkpoint, in the order of names.",
    ExitIx(u16) "An exit, in the order of names.",
    CueIx(u16) "A cue, in the order of names.",
    ProfileIx(u32) "What concerns some boxes alike.",
    PauseIx(u16) "A group whose touch pauses meters.",
}
