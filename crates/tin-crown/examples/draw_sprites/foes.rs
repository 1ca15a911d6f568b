//! Who lives in the attic: wind-up beetles, a paper wasp, a jack-in-the-box, a cuckoo, a drum on wheels.

use super::Drawn;
use super::easel::{
    BARK, BRASS, CREAM, Easel, FLAME, GREEN, INK, RED, SHADE, SHINE, STEAM, TIN, WOOD,
};

pub fn all() -> Vec<Drawn> {
    vec![
        ("beetle.png", beetle()),
        ("pincushion.png", pincushion()),
        ("stag.png", stag()),
        ("wasp.png", wasp()),
        ("jack.png", jack()),
        ("alarm.png", alarm()),
        ("burst.png", burst()),
        ("cuckoo.png", cuckoo()),
        ("drum.png", drum()),
    ]
}

/// 0, 1 crawls; 2, 3 twitches on its back.
fn beetle() -> Easel {
    Easel::new(32, 24, [0.0, 0.0])
        .cell(|own| shell(own, GREEN, false))
        .cell(|own| shell(own, GREEN, true))
        .cell(|own| on_its_back(own, false))
        .cell(|own| on_its_back(own, true))
}

fn shell(own: &mut Easel, paint: [u8; 3], step: bool) {
    let shift = if step { 2.0 } else { 0.0 };
    for leg in [-6.0, 0.0, 6.0] {
        own.line(INK, [leg, -3.0], [leg - 2.0 + shift, -8.0], 1.8);
    }
    own.rect(paint, [-10.0, -5.0], [9.0, 4.5]);
    own.rect(SHADE, [-10.0, -5.0], [9.0, -3.0]);
    own.rect(BRASS, [-9.5, 3.5], [9.5, 8.0]);
    own.rect(CREAM, [-7.0, 5.0], [5.0, 6.5]);
    // The key in its back.
    own.line(BRASS, [-10.0, -1.0], [-13.0, -1.0], 1.6);
    let turn = if step { 1.0 } else { 3.0 };
    own.rect(BRASS, [-14.0, -1.0 - turn], [-12.0, -1.0 + turn]);
    own.disc(SHADE, [9.5, -2.5], 3.6);
    own.rect(INK, [10.5, -2.0], [12.0, -0.5]);
    own.line(INK, [11.0, 0.0], [13.0, 2.0], 1.8);
    own.line(INK, [11.0, -4.5], [13.0, -6.0], 1.8);
}

fn on_its_back(own: &mut Easel, twitch: bool) {
    own.oval(GREEN, [0.0, -4.0], [10.0, 4.5]);
    own.rect(BRASS, [-9.0, -8.0], [9.0, -5.5]);
    let up = if twitch { 3.0 } else { 0.0 };
    for leg in [-6.0, 0.0, 6.0] {
        own.line(INK, [leg, -1.0], [leg + up, 5.0 - up], 1.8);
    }
    own.disc(SHADE, [10.0, -4.5], 3.2);
}

/// 0, 1 crawls.
fn pincushion() -> Easel {
    let draw = |own: &mut Easel, step: bool| {
        shell(own, BARK, step);
        for (foot, tip) in [
            (-6.0, -5.0),
            (-3.0, -2.0),
            (0.0, 0.0),
            (3.0, 2.0),
            (6.0, 5.0),
        ] {
            let high = 21.0 - f64::abs(tip) * 1.9;
            own.line(SHINE, [foot, 9.0], [tip, high], 1.3);
            own.disc(RED, [tip, high], 1.6);
        }
        own.dome(RED, [0.0, 6.0], [9.0, 5.5]);
    };
    Easel::new(32, 48, [0.0, 0.0])
        .cell(|own| draw(own, false))
        .cell(|own| draw(own, true))
}

/// 0, 1 crawls.
fn stag() -> Easel {
    let draw = |own: &mut Easel, step: bool| {
        shell(own, WOOD, step);
        own.line(BARK, [10.0, 0.0], [17.0, 5.0], 3.4);
        own.line(BARK, [13.0, 2.0], [17.0, 1.0], 2.0);
    };
    Easel::new(48, 24, [0.0, 0.0])
        .cell(|own| draw(own, false))
        .cell(|own| draw(own, true))
}

/// 0, 1 dozes; 2, 3 is angry.
fn wasp() -> Easel {
    let draw = |own: &mut Easel, up: bool, eye: [u8; 3]| {
        let tip = if up { 8.0 } else { 5.5 };
        own.poly(STEAM, &[[-1.0, 0.0], [-2.0, tip], [-8.0, tip]]);
        own.poly(CREAM, &[[1.0, 0.0], [7.5, tip], [1.0, tip]]);
        own.oval(FLAME, [-0.5, -2.0], [7.5, 5.0]);
        own.rect(INK, [-4.0, -6.0], [-2.5, 2.0]);
        own.rect(INK, [-1.0, -6.9], [0.5, 2.9]);
        own.disc(BRASS, [6.0, 0.5], 3.2);
        own.rect(eye, [6.0, 0.5], [8.0, 2.5]);
        own.line(INK, [2.0, -5.0], [7.0, -6.5], 1.8);
    };
    Easel::new(24, 20, [0.0, 0.0])
        .cell(|own| draw(own, true, INK))
        .cell(|own| draw(own, false, INK))
        .cell(|own| draw(own, true, RED))
        .cell(|own| draw(own, false, RED))
}

/// 0 is shut, 1 about to spring, 2 out, 3 and 4 back again.
fn jack() -> Easel {
    let base = |own: &mut Easel, open: f64| {
        own.rect(WOOD, [-10.0, -10.0], [9.0, 6.0]);
        own.rect(BARK, [-10.0, -10.0], [9.0, -8.0]);
        own.rect(RED, [-6.0, -5.0], [5.0, 3.0]);
        own.rect(CREAM, [-3.0, -3.0], [2.0, 1.0]);
        own.line(BARK, [-10.0, 6.5], [8.0 - open, 6.5 + open], 2.4);
    };
    let head = |own: &mut Easel, [x, y]: [f64; 2], size: f64| {
        own.disc(CREAM, [x, y], size);
        own.poly(
            RED,
            &[
                [x - size, y + 1.0],
                [x + size - 1.0, y + 2.0],
                [x - 2.0, y + size + 5.0],
            ],
        );
        own.rect(INK, [x + 2.0, y], [x + 4.0, y + 2.0]);
        own.line(RED, [x + 2.0, y - 4.0], [x + 6.0, y - 3.0], 1.6);
        own.disc(RED, [x + size - 1.0, y - 0.5], 1.9);
    };
    Easel::new(72, 44, [0.0, 0.0])
        .cell(|own| base(own, 0.0))
        .cell(|own| {
            base(own, 5.0);
            own.dome(CREAM, [3.0, 6.0], [6.0, 5.0]);
        })
        .cell(|own| {
            for nth in 0..4 {
                let x = f64::from(nth) * 4.0;
                own.line(SHADE, [2.0 + x, 0.0], [5.0 + x, 9.0], 1.8);
                own.line(SHADE, [5.0 + x, 9.0], [6.0 + x, 1.0], 1.8);
            }
            base(own, 12.0);
            head(own, [24.0, 6.0], 8.8);
        })
        .cell(|own| {
            base(own, 12.0);
            head(own, [5.0, 9.0], 7.0);
        })
        .cell(|own| {
            base(own, 5.0);
            own.dome(CREAM, [3.0, 6.0], [6.0, 5.0]);
        })
}

/// 0 ticks; 1, 2 rings.
fn alarm() -> Easel {
    let draw = |own: &mut Easel, shift: f64, rings: bool| {
        own.line(INK, [-4.0, -6.0], [-6.5, -8.0], 2.0);
        own.line(INK, [4.0, -6.0], [6.5, -8.0], 2.0);
        own.disc(BRASS, [-4.5 + shift, 7.5], 3.2);
        own.disc(BRASS, [4.5 + shift, 7.5], 3.2);
        own.line(INK, [shift, 7.0], [shift * 2.0, 11.0], 1.6);
        own.disc(RED, [0.0, 0.0], 8.6);
        own.disc(CREAM, [0.0, 0.0], 6.4);
        let hand = if rings { RED } else { INK };
        own.line(hand, [0.0, 0.0], [0.0, 5.0], 1.4);
        own.line(hand, [0.0, 0.0], [3.5, 1.0], 1.4);
    };
    Easel::new(24, 24, [0.0, 0.0])
        .cell(|own| draw(own, 0.0, false))
        .cell(|own| draw(own, -1.0, true))
        .cell(|own| draw(own, 1.0, true))
}

/// 0 to 3 grows, as the blast does.
fn burst() -> Easel {
    let draw = |own: &mut Easel, reach: f64| {
        for ray in 0..12 {
            let (sine, cosine) = (f64::from(ray) * std::f64::consts::PI / 6.0).sin_cos();
            own.line(
                RED,
                [0.0, 0.0],
                [cosine * (reach - 2.0), sine * (reach - 2.0)],
                5.0,
            );
        }
        own.disc(FLAME, [0.0, 0.0], reach * 0.8);
        own.disc(CREAM, [0.0, 0.0], reach * 0.5);
    };
    let easel = Easel::new(96, 96, [0.0, 0.0]);
    [17.0, 27.0, 38.0, 48.0]
        .into_iter()
        .fold(easel, |easel, reach| easel.cell(|own| draw(own, reach)))
}

/// 0, 1 flies.
fn cuckoo() -> Easel {
    let draw = |own: &mut Easel, wing: f64| {
        own.oval(WOOD, [-1.0, 0.0], [6.0, 4.0]);
        own.poly(BARK, &[[-3.0, 1.0], [2.0, 1.0], [-2.0, wing]]);
        own.disc(WOOD, [4.0, 2.0], 3.0);
        own.poly(BRASS, &[[6.0, 1.0], [6.0, 3.0], [5.5, 3.5]]);
        own.line(BRASS, [6.0, 2.0], [8.5, 1.5], 1.8);
        own.rect(INK, [4.0, 2.0], [5.0, 3.5]);
    };
    Easel::new(20, 16, [0.0, 0.0])
        .cell(|own| draw(own, 7.0))
        .cell(|own| draw(own, 3.0))
}

/// From above, looking to the right.
fn drum() -> Easel {
    Easel::new(28, 28, [0.0, 0.0]).cell(|own| {
        for wheel in [-8.0, 8.0] {
            own.rect(INK, [-5.0, wheel - 3.5], [5.0, wheel + 3.5]);
        }
        own.disc(RED, [0.0, 0.0], 10.0);
        own.disc(CREAM, [0.0, 0.0], 7.6);
        own.ring(BRASS, [0.0, 0.0], 10.0, 1.6);
        own.rect(TIN, [9.0, -5.0], [12.0, 5.0]);
        own.line(INK, [2.0, 0.0], [6.0, 0.0], 1.6);
    })
}
