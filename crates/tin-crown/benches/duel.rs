//! A drill of the demo replayed by Tin Crown, and written by hand as plainly as it can be: the porter runs into the
//! beetles and dies. Both must come to the same hits on the same ticks, or the comparison means nothing.

use std::hint::black_box;
use std::time::Instant;

use tin_crown::{Verdict, What, check, demo};

const ROUNDS: usize = 9;
const TIMES: u32 = 400;

/// When the porter was hit, and by which of the beetles.
type Hits = Vec<(u32, usize)>;

fn main() {
    let plan = check(demo::FIRST_SHELF.as_bytes()).plan.expect("no errors");
    let beetles = ["beetle_1", "beetle_2", "pincushion", "stag"];
    let beetles = beetles.map(|id| plan.actor(id).expect("it is there"));
    let replayed = || -> Hits {
        let replay = plan.replay("careless").expect("within the limits");
        let events = replay.ledger().events().iter();
        let landed = events.filter(|event| match &event.what {
            What::Hit(hit) => hit.verdict == Verdict::Landed,
            _ => false,
        });
        let by = |who| beetles.iter().position(|own| Some(*own) == who);
        landed
            .map(|event| (event.tick.0, by(event.who).expect("only beetles hit")))
            .collect()
    };
    assert_eq!(replayed(), by_hand(), "both must come to the same hits");
    let mut times = [const { Vec::new() }; 2];
    for _ in 0..ROUNDS {
        let mut time = |which: usize, run: &dyn Fn() -> Hits| {
            let start = Instant::now();
            for _ in 0..TIMES {
                black_box(run());
            }
            times[which].push(start.elapsed().as_secs_f64() * 1e6 / f64::from(TIMES));
        };
        time(0, &replayed);
        time(1, &by_hand);
    }
    let [ours, hand] = times.map(|mut times| {
        times.sort_by(f64::total_cmp);
        times[ROUNDS / 2]
    });
    println!(
        "Drill `careless` of the demo, 177 ticks, median of {ROUNDS} rounds taken in turn, in µs:"
    );
    println!(
        "{:>10} {:>10} {:>14}",
        "replayed", "by hand", "replayed/hand"
    );
    println!("{ours:>10.1} {hand:>10.1} {:>14.2}", ours / hand);
}

#[derive(Clone, Copy)]
struct Rectangle {
    left: f64,
    right: f64,
    low: f64,
    high: f64,
}

/// A rectangle about a point.
fn around(x: f64, y: f64, wide: f64, high: f64) -> Rectangle {
    Rectangle {
        left: x - wide / 2.0,
        right: x + wide / 2.0,
        low: y - high / 2.0,
        high: y + high / 2.0,
    }
}

impl Rectangle {
    fn meets(&self, other: &Rectangle) -> bool {
        self.left + 1e-6 < other.right
            && other.left + 1e-6 < self.right
            && self.low + 1e-6 < other.high
            && other.low + 1e-6 < self.high
    }
}

/// Whether two meet while one goes that way past the other.
fn sweeps(one: &Rectangle, other: &Rectangle, (x, y): (f64, f64)) -> bool {
    let (mut from, mut to) = (0.0f64, 1.0f64);
    for (low, high, way) in [
        (
            other.left - one.right + 1e-6,
            other.right - one.left - 1e-6,
            x,
        ),
        (other.low - one.high + 1e-6, other.high - one.low - 1e-6, y),
    ] {
        if way == 0.0 {
            if low >= 0.0 || high <= 0.0 {
                return false;
            }
            continue;
        }
        let (a, b) = (low / way, high / way);
        from = from.max(a.min(b));
        to = to.min(a.max(b));
    }
    from < to
}

struct Beetle {
    x: f64,
    y: f64,
    heading: f64,
    between: (f64, f64),
    speed: f64,
    touched: bool,
}

/// The porter runs to the right from 0.2 s on; the horns take one health, throw it back, and half a second of
/// invincibility follows.
fn by_hand() -> Hits {
    let dt = 1.0 / 60.0;
    let beetle = |x, y, between, speed| Beetle {
        x,
        y,
        heading: -1.0,
        between,
        speed,
        touched: false,
    };
    let mut beetles = [
        beetle(200.0, 24.0, (150.0, 320.0), 40.0),
        beetle(310.0, 24.0, (150.0, 320.0), 40.0),
        beetle(380.0, 24.0, (336.0, 392.0), 25.0),
        beetle(600.0, 96.0, (480.0, 610.0), 55.0),
    ];
    let (mut x, mut y) = (60.0, 30.0);
    let (mut over, mut up) = (0.0, 0.0);
    let (mut grounded, mut pushed_until, mut safe_until) = (true, 0, 0);
    let mut health = 4;
    let (mut drawer, mut rises) = (16.0, true);
    let mut hits = Hits::new();
    for tick in 1..=420u32 {
        // The drawer goes up and down.
        drawer = if rises { drawer + 0.5 } else { drawer - 0.5 };
        rises = if drawer >= 84.0 {
            false
        } else {
            rises || drawer <= 16.0
        };
        let solids = [
            Rectangle {
                left: 0.0,
                right: 640.0,
                low: 0.0,
                high: 16.0,
            },
            Rectangle {
                left: 440.0,
                right: 640.0,
                low: 16.0,
                high: 88.0,
            },
            around(416.0, drawer, 40.0, 8.0),
        ];
        let was = (x, y);
        if tick >= pushed_until {
            over = if tick >= 12 { 90.0 } else { 0.0 };
        }
        if grounded && up <= 0.0 {
            up = 0.0;
        } else {
            up -= 900.0 * dt;
        }
        let (along, rise) = (over * dt, up * dt);
        x += along;
        for solid in &solids {
            let body = around(x, y, 14.0, 28.0);
            if body.meets(solid) {
                x = if along > 0.0 {
                    solid.left - 7.0
                } else {
                    solid.right + 7.0
                };
                over = 0.0;
            }
        }
        y += rise;
        for solid in &solids {
            let body = around(x, y, 14.0, 28.0);
            if body.meets(solid) {
                y = if rise < 0.0 {
                    solid.high + 14.0
                } else {
                    solid.low - 14.0
                };
                up = 0.0;
            }
        }
        let feet = around(x, y - 14.0, 14.0, 0.001);
        grounded = up <= 0.0 && solids.iter().any(|solid| feet.meets(solid));
        let torso = around(was.0, was.1 + 2.0, 12.0, 20.0);
        for (nth, beetle) in beetles.iter_mut().enumerate() {
            let before = beetle.x;
            if beetle.x >= beetle.between.1 {
                beetle.heading = -1.0;
            } else if beetle.x <= beetle.between.0 {
                beetle.heading = 1.0;
            }
            let end = match beetle.heading > 0.0 {
                true => beetle.between.1,
                false => beetle.between.0,
            };
            // What is a tick's way off is there.
            beetle.x = match (end - beetle.x).abs() <= beetle.speed * dt + 1e-6 {
                true => end,
                false => beetle.x + beetle.heading * beetle.speed * dt,
            };
            let horns = around(before, beetle.y - 3.0, 26.0, 10.0);
            let way = (beetle.x - before - (x - was.0), was.1 - y);
            let end = around(beetle.x, beetle.y - 3.0, 26.0, 10.0);
            let touches = match beetle.touched {
                // Who only brushed by on the last tick has to be here again.
                true => end.meets(&around(x, y + 2.0, 12.0, 20.0)),
                false => sweeps(&horns, &torso, way),
            };
            // Boots from above crush the lid instead.
            let boots = around(x, y - 14.0, 10.0, 4.0);
            let lid = around(beetle.x, beetle.y + 6.0, 18.0, 4.0);
            let crushed = up <= -30.0 && boots.low >= lid.high && boots.meets(&lid);
            beetle.touched = touches;
            if touches && !crushed && tick >= safe_until && health > 0 {
                hits.push((tick, nth));
                health -= 1;
                safe_until = tick + 30;
                pushed_until = tick + 12;
                over = 140.0 * (x - beetle.x).signum();
                up = 120.0;
            }
        }
        if health == 0 {
            break;
        }
    }
    hits
}
