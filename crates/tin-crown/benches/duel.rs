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

const DT: f64 = 1.0 / 60.0;

impl Beetle {
    fn new(x: f64, y: f64, between: (f64, f64), speed: f64) -> Beetle {
        Beetle {
            x,
            y,
            heading: -1.0,
            between,
            speed,
            touched: false,
        }
    }

    fn go(&mut self) {
        if self.x >= self.between.1 {
            self.heading = -1.0;
        } else if self.x <= self.between.0 {
            self.heading = 1.0;
        }
        let end = match self.heading > 0.0 {
            true => self.between.1,
            false => self.between.0,
        };
        // What is a tick's way off is there.
        self.x = match (end - self.x).abs() <= self.speed * DT + 1e-6 {
            true => end,
            false => self.x + self.heading * self.speed * DT,
        };
    }
}

struct Porter {
    x: f64,
    y: f64,
    over: f64,
    up: f64,
    grounded: bool,
    health: u32,
    pushed_until: u32,
    safe_until: u32,
}

impl Porter {
    /// It runs to the right from 0.2 s on, unless it was pushed, and falls; solids stop it.
    fn go(&mut self, tick: u32, solids: &[Rectangle]) {
        if tick >= self.pushed_until {
            self.over = if tick >= 12 { 90.0 } else { 0.0 };
        }
        if self.grounded && self.up <= 0.0 {
            self.up = 0.0;
        } else {
            self.up -= 900.0 * DT;
        }
        let (along, rise) = (self.over * DT, self.up * DT);
        self.x += along;
        for solid in solids {
            if around(self.x, self.y, 14.0, 28.0).meets(solid) {
                self.x = if along > 0.0 {
                    solid.left - 7.0
                } else {
                    solid.right + 7.0
                };
                self.over = 0.0;
            }
        }
        self.y += rise;
        for solid in solids {
            if around(self.x, self.y, 14.0, 28.0).meets(solid) {
                self.y = if rise < 0.0 {
                    solid.high + 14.0
                } else {
                    solid.low - 14.0
                };
                self.up = 0.0;
            }
        }
        let feet = around(self.x, self.y - 14.0, 14.0, 0.001);
        self.grounded = self.up <= 0.0 && solids.iter().any(|solid| feet.meets(solid));
    }

    /// The horns take one health and throw it back; half a second of invincibility follows.
    fn is_gored(&mut self, tick: u32, from: f64) {
        self.health -= 1;
        self.safe_until = tick + 30;
        self.pushed_until = tick + 12;
        self.over = 140.0 * (self.x - from).signum();
        self.up = 120.0;
    }
}

fn by_hand() -> Hits {
    let mut beetles = [
        Beetle::new(200.0, 24.0, (150.0, 320.0), 40.0),
        Beetle::new(310.0, 24.0, (150.0, 320.0), 40.0),
        Beetle::new(380.0, 24.0, (336.0, 392.0), 25.0),
        Beetle::new(600.0, 96.0, (480.0, 610.0), 55.0),
    ];
    let mut porter = Porter {
        x: 60.0,
        y: 30.0,
        over: 0.0,
        up: 0.0,
        grounded: true,
        health: 4,
        pushed_until: 0,
        safe_until: 0,
    };
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
        let shelf = around(320.0, 8.0, 640.0, 16.0);
        let books = around(540.0, 52.0, 200.0, 72.0);
        let solids = [shelf, books, around(416.0, drawer, 40.0, 8.0)];
        let (x, y) = (porter.x, porter.y);
        porter.go(tick, &solids);
        let torso = around(x, y + 2.0, 12.0, 20.0);
        for (nth, beetle) in beetles.iter_mut().enumerate() {
            let before = beetle.x;
            beetle.go();
            let horns = around(before, beetle.y - 3.0, 26.0, 10.0);
            let way = (beetle.x - before - (porter.x - x), y - porter.y);
            let end = around(beetle.x, beetle.y - 3.0, 26.0, 10.0);
            beetle.touched = match beetle.touched {
                // Who only brushed by on the last tick has to be here again.
                true => end.meets(&around(porter.x, porter.y + 2.0, 12.0, 20.0)),
                false => sweeps(&horns, &torso, way),
            };
            // Boots from above crush the lid instead.
            let boots = around(porter.x, porter.y - 14.0, 10.0, 4.0);
            let lid = around(beetle.x, beetle.y + 6.0, 18.0, 4.0);
            let crushed = porter.up <= -30.0 && boots.low >= lid.high && boots.meets(&lid);
            if beetle.touched && !crushed && tick >= porter.safe_until && porter.health > 0 {
                hits.push((tick, nth));
                porter.is_gored(tick, beetle.x);
            }
        }
        if porter.health == 0 {
            break;
        }
    }
    hits
}
