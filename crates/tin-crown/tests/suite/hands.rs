//! Random hands: presses, poses and effects from outside.

use std::sync::Arc;

use proptest::prelude::*;
use tin_crown::encounter::{Damage, Effect, Push};
use tin_crown::geometry::Angle;
use tin_crown::plan::{ActorIx, Pose};
use tin_crown::{Duration, Facing, Live, Plan};

/// What is done, on which tick, and to which of the actors.
pub type Hands = Vec<(u32, usize, Hand)>;

#[derive(Clone, Debug)]
pub enum Hand {
    Press(usize, bool),
    Pose(Posed),
    Apply(Option<usize>, Box<Effect>),
    Face(i32),
}

#[derive(Clone, Debug)]
pub struct Posed {
    at: [f64; 2],
    facing: Option<i32>,
    jump: bool,
    velocity: Option<[f64; 2]>,
    grounded: bool,
    state: Option<usize>,
    attack: Option<(Option<usize>, Option<u32>)>,
}

const BUTTONS: [&str; 8] = [
    "left", "right", "jump", "attack", "guard", "shoot", "up", "down",
];

pub fn presses() -> impl Strategy<Value = Hands> {
    let press = (0..8usize, any::<bool>()).prop_map(|(button, down)| Hand::Press(button, down));
    hands(press.boxed())
}

fn hands(hand: BoxedStrategy<Hand>) -> impl Strategy<Value = Hands> {
    prop::collection::vec((1..120u32, 0..3usize, hand), 0..60)
}

/// Some actors are moved, and hit by what nobody of the encounter does.
pub fn meddling() -> impl Strategy<Value = Hands> {
    let press = (0..8usize, any::<bool>()).prop_map(|(button, down)| Hand::Press(button, down));
    let number = || -60.0..60.0f64;
    let about = (
        prop::option::of(-1024..1024i32),
        prop::bool::weighted(0.2),
        prop::option::weighted(0.3, prop::array::uniform2(-90.0..90.0f64)),
        any::<bool>(),
        prop::option::weighted(0.3, 0..3usize),
        prop::option::weighted(
            0.5,
            (prop::option::of(0..2usize), prop::option::of(0..3u32)),
        ),
    );
    let pose = ([number(), number()], about).prop_map(|(at, about)| {
        let (facing, jump, velocity, grounded, state, attack) = about;
        Hand::Pose(Posed {
            at,
            facing,
            jump,
            velocity,
            grounded,
            state,
            attack,
        })
    });
    let effect = (0..5u32, 1..4u32).prop_map(|(sort, much)| match sort {
        0 => Effect::damage_of(f64::from(much)),
        1 => Effect::heal_of(f64::from(much)),
        2 => Effect {
            stun: Some(Duration::ticked(much * 3)),
            ..Effect::default()
        },
        3 => Effect {
            knockback: Some(Push {
                forward: Some(60.0),
                up: Some(40.0),
                ..Push::default()
            }),
            ..Effect::default()
        },
        _ => Effect {
            kill: much == 3,
            damage: Some(Damage::new(f64::from(much))),
            ..Effect::default()
        },
    });
    let apply = (prop::option::of(0..3usize), effect);
    let apply = apply.prop_map(|(who, effect)| Hand::Apply(who, Box::new(effect)));
    let face = (-1024..1024i32).prop_map(Hand::Face);
    hands(prop_oneof![3 => press, 6 => pose, 3 => apply, 1 => face].boxed())
}

fn angle(part: i32) -> Angle {
    Angle::ZERO.plus(part << 21)
}

/// Does what is to be done before the next tick; what cannot be done is left.
pub fn act(run: &mut Live, hands: &Hands) {
    let (plan, next) = (Arc::clone(run.plan()), run.tick().0 + 1);
    let cast: Vec<ActorIx> = plan.cast().collect();
    for (_, who, hand) in hands.iter().filter(|(at, ..)| *at == next) {
        let who = cast[who % cast.len()];
        match hand {
            Hand::Press(button, down) => {
                if let Ok(button) = plan.button(BUTTONS[*button]) {
                    let _ = run.press(who, button, *down);
                }
            }
            Hand::Face(part) => {
                let _ = run.face(who, angle(*part));
            }
            Hand::Apply(by, effect) => {
                let by = by.map(|by| cast[by % cast.len()]);
                let _ = run.apply(effect, by, who);
            }
            Hand::Pose(posed) => {
                let _ = run.pose(who, pose(&plan, who, posed));
            }
        }
    }
}

fn pose(plan: &Plan, who: ActorIx, posed: &Posed) -> Pose {
    let spec = plan.spec(who);
    let mut pose = Pose::at(posed.at).grounded(posed.grounded);
    if posed.jump {
        pose = pose.jump();
    }
    if let Some(part) = posed.facing {
        pose = pose.facing(Facing::Angle(angle(part)));
    }
    if let Some(velocity) = posed.velocity {
        pose = pose.velocity(velocity);
    }
    if let Some(state) = posed.state.and_then(|nth| spec.states().get(nth)) {
        let name = &plan.names().states()[state.name()];
        pose = pose.state(plan.state(who, name).expect("it has it"));
    }
    if let Some((attack, count)) = posed.attack {
        let attack = attack.and_then(|nth| spec.attacks().get(nth));
        let attack = attack.map(|attack| {
            let name = &plan.names().attacks()[attack.name()];
            plan.attack(who, name).expect("it has it")
        });
        pose = pose.attack(attack);
        if let Some(count) = count {
            pose = pose.count(count);
        }
    }
    pose
}
