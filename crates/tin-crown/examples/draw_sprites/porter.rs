//! The tin porter: boots, barrel, cap; an umbrella or a pop-gun in the hand.

use super::Drawn;
use super::easel::{BLUE, BRASS, CREAM, Easel, INK, RED, SHADE, SHINE, TIN};

/// What the porter has in the hand.
enum Hand {
    Gun,
    /// Held close to the body.
    Furled,
    /// Thrust forward.
    Thrust,
    /// Held up again.
    Raised,
    /// Opened, as a shield.
    Open,
}

pub fn all() -> Vec<Drawn> {
    vec![("porter.png", umbrella()), ("porter-gun.png", gun())]
}

/// 0, 1 stands; 2 to 5 walks; 6 jumps; 7 winds up, 8 thrusts, 9 and 10 draw back; 11 guards; 12 reels.
fn umbrella() -> Easel {
    let easel = Easel::new(64, 48, [0.0, 0.0]);
    let easel = figures(easel, &Hand::Furled);
    easel
        .cell(|own| figure(own, 0.0, [-1.0, 1.0], &Hand::Furled))
        .cell(|own| figure(own, 0.0, [-2.5, 2.5], &Hand::Thrust))
        .cell(|own| figure(own, 0.0, [-2.0, 2.0], &Hand::Raised))
        .cell(|own| figure(own, 0.0, [-1.0, 1.0], &Hand::Furled))
        .cell(|own| figure(own, -1.0, [-2.5, 2.0], &Hand::Open))
        .cell(|own| figure(own, -1.0, [-2.5, 2.5], &Hand::Raised))
}

/// 0, 1 stands; 2 to 5 walks; 6 jumps; 7 to 9 falls to pieces.
fn gun() -> Easel {
    let easel = Easel::new(48, 48, [0.0, 0.0]);
    figures(easel, &Hand::Gun)
        .cell(|own| {
            legs(own, [-4.0, 5.0], 0.0);
            barrel(own, 1.0);
            head(own, [2.0, 10.0]);
        })
        .cell(|own| {
            legs(own, [-6.0, 7.0], 0.0);
            barrel(own, -3.0);
            head(own, [8.0, 2.0]);
        })
        .cell(|own| {
            own.rect(SHADE, [-12.0, -14.0], [-6.0, -11.0]);
            own.rect(SHADE, [7.0, -14.0], [13.0, -11.0]);
            own.rect(TIN, [-6.0, -14.0], [5.0, -6.0]);
            own.rect(BRASS, [-1.0, -14.0], [1.0, -6.0]);
            head(own, [9.0, -7.0]);
        })
}

/// Standing, walking and jumping.
fn figures(easel: Easel, hand: &Hand) -> Easel {
    easel
        .cell(|own| figure(own, 0.0, [-1.0, 1.0], hand))
        .cell(|own| figure(own, -1.0, [-1.0, 1.0], hand))
        .cell(|own| figure(own, 0.0, [-2.5, 2.5], hand))
        .cell(|own| figure(own, 1.0, [-1.0, 1.0], hand))
        .cell(|own| figure(own, 0.0, [2.5, -2.5], hand))
        .cell(|own| figure(own, 1.0, [1.0, -1.0], hand))
        .cell(|own| figure(own, 0.0, [2.0, -0.5], hand))
}

fn figure(own: &mut Easel, bob: f64, feet: [f64; 2], hand: &Hand) {
    legs(own, feet, bob);
    if let Hand::Furled | Hand::Raised = hand {
        // Behind the body, over the shoulder.
        own.line(RED, [-9.0, 2.0 + bob], [-5.0, 15.0 + bob], 3.0);
        own.line(BRASS, [-9.5, 0.0 + bob], [-9.0, 2.0 + bob], 2.0);
    }
    barrel(own, bob);
    head(own, [0.0, 9.0 + bob]);
    match hand {
        Hand::Gun => {
            own.line(SHADE, [1.0, 2.0 + bob], [5.0, 3.5 + bob], 3.5);
            own.rect(BRASS, [4.0, 2.0], [11.0, 6.0]);
            own.rect(INK, [9.5, 3.0], [11.0, 5.0]);
        }
        Hand::Furled => own.line(SHADE, [1.0, 1.0 + bob], [-7.0, 2.0 + bob], 3.0),
        Hand::Raised => own.line(SHADE, [1.0, 2.0 + bob], [-7.0, 4.0 + bob], 3.0),
        Hand::Thrust => {
            own.line(SHADE, [1.0, 2.0], [9.0, 1.0], 3.5);
            own.poly(
                RED,
                [[11.0, -1.0], [27.0, 0.5], [27.0, 1.5], [11.0, 3.0]].as_slice(),
            );
            own.line(BRASS, [26.0, 1.0], [30.5, 1.0], 1.6);
            own.line(BRASS, [8.0, 1.0], [12.0, 1.0], 2.0);
        }
        Hand::Open => {
            own.line(SHADE, [1.0, 1.0], [7.0, 1.0], 3.5);
            own.line(BRASS, [7.0, 1.0], [16.0, 1.0], 1.6);
            own.poly(
                RED,
                &[
                    [10.0, -11.0],
                    [15.0, -5.0],
                    [16.5, 1.0],
                    [15.0, 7.0],
                    [10.0, 13.0],
                    [12.0, 1.0],
                ],
            );
            own.line(RED, [10.5, -10.5], [14.0, -4.0], 2.5);
            own.line(RED, [14.0, -4.0], [15.0, 1.0], 2.5);
            own.line(RED, [15.0, 1.0], [14.0, 6.0], 2.5);
            own.line(RED, [14.0, 6.0], [10.5, 12.5], 2.5);
        }
    }
}

fn legs(own: &mut Easel, feet: [f64; 2], bob: f64) {
    for (nth, foot) in feet.into_iter().enumerate() {
        let hip = if nth == 0 { -2.5 } else { 2.5 };
        let foot = foot + hip;
        let lift = if bob > 0.0 && nth == 0 { 2.0 } else { 0.0 };
        own.line(SHADE, [hip, -4.0], [foot, -11.0 + lift], 3.2);
        own.rect(INK, [foot - 2.5, -14.0 + lift], [foot + 3.5, -10.5 + lift]);
    }
}

fn barrel(own: &mut Easel, bob: f64) {
    own.rect(TIN, [-6.0, -7.0 + bob], [6.0, 5.0 + bob]);
    own.rect(SHINE, [-5.0, -6.0 + bob], [-2.0, 4.0 + bob]);
    own.rect(SHADE, [3.0, -7.0 + bob], [6.0, 5.0 + bob]);
    own.rect(BRASS, [-6.0, -5.0 + bob], [6.0, -3.0 + bob]);
    own.rect(CREAM, [-0.5, 0.0 + bob], [1.5, 2.0 + bob]);
}

fn head(own: &mut Easel, [x, y]: [f64; 2]) {
    own.disc(TIN, [x, y], 5.2);
    own.disc(SHINE, [x - 1.5, y + 0.5], 2.6);
    own.rect(INK, [x + 2.0, y - 0.5], [x + 4.0, y + 1.5]);
    own.rect(BLUE, [x - 5.5, y + 2.5], [x + 5.5, y + 6.0]);
    own.rect(INK, [x - 5.5, y + 2.0], [x + 7.0, y + 3.5]);
    own.rect(BRASS, [x + 1.0, y + 3.6], [x + 3.0, y + 5.4]);
}
