//! What stands, hangs, flies and lies about: kettle, weight, lamps, corks, the delivery cart.

use super::Drawn;
use super::easel::{
    BARK, BLUE, BRASS, CREAM, Easel, FLAME, INK, RED, SHADE, SHINE, STEAM, TIN, WOOD,
};

pub fn all() -> Vec<Drawn> {
    vec![
        ("kettle.png", kettle()),
        ("weight.png", weight()),
        ("weight-above.png", weight_above()),
        ("lamp.png", lamp()),
        ("music-box.png", music_box()),
        ("cork.png", cork()),
        ("puff.png", puff()),
        ("cork-tin.png", cork_tin()),
        ("key.png", key()),
        ("key-above.png", key_above()),
        ("cart.png", cart()),
        ("bolt.png", bolt()),
        ("floorboard.png", floorboard()),
        ("cuckoo-clock.png", cuckoo_clock()),
        ("drawer.png", drawer()),
    ]
}

/// 0 is quiet; 1, 2 steams.
fn kettle() -> Easel {
    let pot = |own: &mut Easel| {
        own.oval(BLUE, [0.0, 6.0], [11.0, 6.5]);
        own.oval(SHINE, [-4.0, 8.0], [3.0, 2.0]);
        own.rect(INK, [-8.0, 0.0], [8.0, 1.5]);
        own.rect(BRASS, [-4.0, 11.0], [4.0, 14.0]);
        own.line(INK, [-10.0, 8.0], [-13.0, 12.0], 2.0);
        own.line(INK, [-13.0, 12.0], [-8.0, 14.0], 2.0);
    };
    let steams = |own: &mut Easel, shift: f64| {
        for nth in 0..7 {
            let high = 14.0 + f64::from(nth) * 7.5;
            let side = if nth % 2 == 0 { shift } else { -shift };
            own.disc(STEAM, [side, high], 4.5 + f64::from(nth % 3));
        }
        pot(own);
    };
    Easel::new(32, 72, [0.0, 32.0])
        .cell(pot)
        .cell(|own| steams(own, 2.0))
        .cell(|own| steams(own, -2.0))
}

/// 0 hangs; 1 falls; 2 is down.
fn weight() -> Easel {
    let draw = |own: &mut Easel, high: f64| {
        own.ring(BRASS, [0.0, 12.5], 3.5, 1.6);
        own.rect(BRASS, [-10.0, -9.0], [10.0, 10.0]);
        own.rect(SHINE, [-8.0, -8.0], [-5.0, 9.0]);
        own.rect(WOOD, [4.0, -9.0], [10.0, 10.0]);
        own.rect(INK, [-10.0, 4.0], [10.0, 6.0]);
        own.rect(SHADE, [-9.0, -12.0], [9.0, -8.0]);
        if high > 0.0 {
            for x in [-8.0, 0.0, 8.0] {
                own.line(STEAM, [x, 11.0], [x, 11.0 + high], 1.2);
            }
        }
    };
    Easel::new(24, 40, [0.0, 2.0])
        .cell(|own| draw(own, 0.0))
        .cell(|own| draw(own, 9.0))
        .cell(|own| {
            draw(own, 0.0);
            own.line(STEAM, [-11.0, -11.0], [-11.0, -8.0], 1.4);
            own.line(STEAM, [11.0, -11.0], [11.0, -8.0], 1.4);
        })
}

fn weight_above() -> Easel {
    Easel::new(24, 24, [0.0, 0.0]).cell(|own| {
        own.rect(BRASS, [-10.0, -10.0], [10.0, 10.0]);
        own.rect(WOOD, [-7.0, -7.0], [7.0, 7.0]);
        own.ring(SHINE, [0.0, 0.0], 4.0, 1.6);
    })
}

/// 0, 1 burns.
fn lamp() -> Easel {
    let draw = |own: &mut Easel, flame: f64| {
        own.rect(BARK, [-6.0, -22.0], [6.0, -19.0]);
        own.rect(BRASS, [-1.5, -20.0], [1.5, -4.0]);
        own.rect(BRASS, [-5.0, -5.0], [5.0, -3.0]);
        own.oval(CREAM, [0.0, 4.0], [5.5, 8.0]);
        own.oval(FLAME, [0.0, 2.0], [2.6, flame]);
        own.poly(BRASS, &[[-4.0, 11.0], [4.0, 11.0], [0.0, 16.0]]);
    };
    Easel::new(16, 44, [0.0, 0.0])
        .cell(|own| draw(own, 5.0))
        .cell(|own| draw(own, 3.6))
}

fn music_box() -> Easel {
    Easel::new(40, 44, [0.0, 0.0]).cell(|own| {
        own.rect(WOOD, [-18.0, -22.0], [18.0, -2.0]);
        own.rect(BARK, [-18.0, -22.0], [18.0, -19.0]);
        own.rect(BRASS, [-18.0, -4.0], [18.0, -2.0]);
        own.poly(
            WOOD,
            &[[-18.0, -2.0], [-14.0, -2.0], [-16.0, 18.0], [-19.0, 17.0]],
        );
        own.line(BRASS, [15.0, -12.0], [19.0, -12.0], 2.4);
        own.disc(CREAM, [0.0, 7.0], 3.4);
        own.poly(RED, &[[-6.0, -2.0], [6.0, -2.0], [0.0, 5.0]]);
        own.line(CREAM, [-2.0, 3.0], [-7.0, 8.0], 1.6);
        own.line(CREAM, [2.0, 3.0], [7.0, 8.0], 1.6);
        own.disc(BRASS, [-8.0, -12.0], 2.5);
        own.disc(BRASS, [4.0, -12.0], 2.5);
    })
}

fn cork() -> Easel {
    Easel::new(12, 8, [0.0, 0.0]).cell(|own| {
        own.rect(WOOD, [-4.0, -2.5], [3.0, 2.5]);
        own.rect(CREAM, [1.0, -2.5], [4.0, 2.5]);
    })
}

/// 0 to 2 spreads.
fn puff() -> Easel {
    let easel = Easel::new(20, 20, [0.0, 0.0]);
    [3.0, 5.5, 8.0].into_iter().fold(easel, |easel, far| {
        easel.cell(|own| {
            for (x, y) in [(1.0, 0.0), (-1.0, 0.0), (0.0, 1.0), (0.0, -1.0)] {
                own.disc(STEAM, [x * far * 0.7, y * far * 0.7], 6.5 - far * 0.5);
            }
        })
    })
}

fn cork_tin() -> Easel {
    Easel::new(16, 20, [0.0, 2.0]).cell(|own| {
        own.disc(WOOD, [-2.5, 7.0], 2.5);
        own.disc(WOOD, [2.5, 7.0], 2.5);
        own.rect(TIN, [-6.0, -6.0], [6.0, 6.0]);
        own.rect(SHINE, [-5.0, -5.0], [-2.5, 5.0]);
        own.rect(RED, [-6.0, -2.0], [6.0, 2.0]);
    })
}

fn key() -> Easel {
    Easel::new(16, 16, [0.0, 0.0]).cell(|own| {
        own.ring(BRASS, [-3.0, 3.0], 3.6, 1.8);
        own.ring(BRASS, [3.0, 3.0], 3.6, 1.8);
        own.rect(BRASS, [-1.0, -7.0], [1.0, 2.0]);
        own.rect(BRASS, [0.0, -6.5], [4.0, -4.0]);
    })
}

/// From above, its blades along it.
fn key_above() -> Easel {
    Easel::new(48, 16, [0.0, 0.0]).cell(|own| {
        own.line(BRASS, [-20.5, 0.0], [20.5, 0.0], 5.0);
        own.line(SHINE, [-18.0, 0.5], [18.0, 0.5], 1.4);
        own.disc(WOOD, [0.0, 0.0], 5.0);
        own.disc(BRASS, [0.0, 0.0], 2.4);
    })
}

/// From above, driving to the right.
fn cart() -> Easel {
    Easel::new(36, 24, [0.0, 0.0]).cell(|own| {
        for wheel in [-7.0, 7.0] {
            own.rect(INK, [-9.0, wheel - 2.5], [-3.0, wheel + 2.5]);
            own.rect(INK, [4.0, wheel - 2.5], [10.0, wheel + 2.5]);
        }
        own.rect(RED, [-11.0, -7.0], [11.0, 7.0]);
        own.rect(WOOD, [-9.0, -5.0], [3.0, 5.0]);
        own.rect(TIN, [-7.0, -3.0], [-1.0, 3.0]);
        own.rect(BRASS, [6.0, -2.0], [15.0, 2.0]);
        own.rect(CREAM, [9.0, -6.0], [11.0, -4.0]);
        own.rect(CREAM, [9.0, 4.0], [11.0, 6.0]);
    })
}

fn bolt() -> Easel {
    Easel::new(12, 6, [0.0, 0.0]).cell(|own| {
        own.rect(TIN, [-4.0, -1.0], [4.0, 1.0]);
        own.rect(RED, [-4.0, -2.0], [-2.0, 2.0]);
    })
}

/// 0 is loose, 1 pressed down.
fn floorboard() -> Easel {
    let draw = |own: &mut Easel, low: f64| {
        own.rect(WOOD, [-16.0, -3.0], [16.0, 3.0 - low]);
        own.rect(BARK, [-16.0, -3.0], [16.0, -1.5]);
        own.rect(INK, [-14.0, 0.0], [-12.5, 1.5]);
        own.rect(INK, [12.5, 0.0], [14.0, 1.5]);
    };
    Easel::new(36, 8, [0.0, 0.0])
        .cell(|own| draw(own, 0.0))
        .cell(|own| draw(own, 1.5))
}

/// 0 is shut, 1 open.
fn cuckoo_clock() -> Easel {
    let draw = |own: &mut Easel, door: [u8; 3]| {
        own.rect(WOOD, [-10.0, -8.0], [10.0, 10.0]);
        own.poly(BARK, &[[-13.0, 9.0], [13.0, 9.0], [0.0, 18.0]]);
        own.disc(CREAM, [0.0, -1.0], 5.5);
        own.line(INK, [0.0, -1.0], [0.0, 3.0], 1.2);
        own.line(INK, [0.0, -1.0], [3.0, -1.0], 1.2);
        own.rect(door, [-6.0, 4.5], [-1.0, 9.0]);
    };
    Easel::new(28, 40, [0.0, 0.0])
        .cell(|own| draw(own, BARK))
        .cell(|own| draw(own, FLAME))
}

fn drawer() -> Easel {
    Easel::new(44, 12, [0.0, 0.0]).cell(|own| {
        own.rect(WOOD, [-20.0, -4.0], [20.0, 4.0]);
        own.rect(BARK, [-20.0, -4.0], [20.0, -2.0]);
        own.disc(BRASS, [0.0, 0.5], 2.2);
    })
}
