//! A crowd at constant density, replayed by Tin Crown and by a loop written by hand for just this
//! crowd, side by side: the cost per actor and tick.
//!
//! Everyone patrols on a line of their own and carries a hitbox and a hurtbox; a box overlaps about
//! half another. Both must come to the same number of hits, or the comparison means nothing.

use std::hint::black_box;
use std::sync::Arc;
use std::time::Instant;

use tin_crown::encounter::{Contact, Region};
use tin_crown::{
    Arena, BoxSpec, Drill, Duration, Encounter, Kind, MeterSpec, Motion, Placement, Plan, Rule,
    Verdict, What,
};

const RATE: u32 = 60;
const SIZE: f64 = 10.0;
const AFTER_HIT: u32 = 30;
const ROUNDS: usize = 5;

fn main() {
    println!("Cost per actor and tick, median of {ROUNDS} rounds taken in turn, in ns:");
    println!(
        "{:>7} {:>6} {:>9} {:>9} {:>9} {:>9} {:>14} {:>14} {:>9}",
        "actors",
        "ticks",
        "sampled",
        "swept",
        "pairs",
        "grid",
        "sampled/hand",
        "swept/sampled",
        "hits"
    );
    let sizes = [
        (4, 40_000),
        (12, 15_000),
        (30, 6_000),
        (100, 2_400),
        (1_000, 480),
        (10_000, 120),
        (100_000, 20),
    ];
    let largest = std::env::args().skip(1).find_map(|own| own.parse().ok());
    let largest = largest.unwrap_or(usize::MAX);
    for (actors, ticks) in sizes.into_iter().filter(|(actors, _)| *actors <= largest) {
        let crowd = Crowd::new(actors);
        let sampled = crowd.plan(Contact::Sampled, ticks);
        let swept = crowd.plan(Contact::Swept, ticks);
        // Nobody would compare all pairs of more.
        let pairs = actors <= 1_000;
        let mut times = [const { Vec::new() }; 4];
        let mut hits = [0; 4];
        for _ in 0..ROUNDS {
            let mut time = |which: usize, run: &dyn Fn() -> usize| {
                let start = Instant::now();
                hits[which] = black_box(run());
                times[which].push(start.elapsed().as_secs_f64());
            };
            time(0, &|| replayed(&sampled));
            time(1, &|| replayed(&swept));
            if pairs {
                time(2, &|| crowd.by_hand(ticks, false));
            }
            time(3, &|| crowd.by_hand(ticks, true));
        }
        assert_eq!(hits[0], hits[3], "both ways must come to the same hits");
        assert!(!pairs || hits[2] == hits[3], "all pairs find the same hits");
        let each = times.map(|mut times| {
            times.sort_by(f64::total_cmp);
            let median = times.get(ROUNDS / 2).copied().unwrap_or(f64::INFINITY);
            median * 1e9 / (actors as f64 * f64::from(ticks))
        });
        let by_pairs = if pairs {
            format!("{:.1}", each[2])
        } else {
            String::new()
        };
        println!(
            "{actors:>7} {ticks:>6} {:>9.1} {:>9.1} {by_pairs:>9} {:>9.1} {:>14.2} {:>14.2} {:>9}",
            each[0],
            each[1],
            each[3],
            each[0] / each[2].min(each[3]),
            each[1] / each[0],
            hits[0]
        );
    }
}

fn replayed(plan: &Arc<Plan>) -> usize {
    let replay = plan.replay("mill").expect("the crowd can be replayed");
    let landed = |what: &What| matches!(what, What::Hit(hit) if hit.verdict == Verdict::Landed);
    let events = replay.ledger().events().iter();
    events.filter(|event| landed(&event.what)).count()
}

/// A walker of the crowd.
#[derive(Clone, Copy)]
struct Walker {
    x: f64,
    y: f64,
    low: f64,
    high: f64,
    speed: f64,
}

struct Crowd {
    walkers: Vec<Walker>,
    side: f64,
}

impl Crowd {
    fn new(actors: usize) -> Crowd {
        // Half an overlap for each box: (2 * SIZE)^2 * density = 0.5.
        let side = (actors as f64 * 2.0 * (2.0 * SIZE) * (2.0 * SIZE)).sqrt();
        // A fixed sequence that looks like chance (SplitMix64).
        let mut seed = 7u64;
        let mut chance = move || {
            seed = seed.wrapping_add(0x9e37_79b9_7f4a_7c15);
            let mut mixed = seed;
            mixed = (mixed ^ (mixed >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
            mixed = (mixed ^ (mixed >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
            ((mixed ^ (mixed >> 31)) >> 11) as f64 / (1u64 << 53) as f64
        };
        let walker = |_| {
            let (x, y) = (chance() * side, chance() * side);
            Walker {
                x,
                y,
                low: (x - 20.0 - 60.0 * chance()).max(0.0),
                high: (x + 20.0 + 60.0 * chance()).min(side),
                speed: 30.0 + 90.0 * chance(),
            }
        };
        Crowd {
            walkers: (0..actors).map(walker).collect(),
            side,
        }
    }

    fn plan(&self, contact: Contact, ticks: u32) -> Arc<Plan> {
        let kind = Kind::new()
            .meter("health", MeterSpec::new(1e6))
            .hitbox("reach", BoxSpec::rectangle(SIZE, SIZE))
            .hurtbox("trunk", BoxSpec::rectangle(SIZE, SIZE))
            .invincible_after_hit(Duration::ticked(AFTER_HIT));
        let arena = Arena {
            bounds: Region::new([0.0, 0.0], [self.side, self.side]),
            contact,
            ..Arena::default()
        };
        let mut encounter = Encounter::new("crowd")
            .tick_rate(RATE)
            .arena(arena)
            .kind("walker", kind)
            .rule(Rule::new("shove", "walker", "walker").damage(1.0))
            .drill("mill", Drill::new(Duration::ticked(ticks)));
        for (index, walker) in self.walkers.iter().enumerate() {
            let patrol = Kind::new().motion(Motion::patrol(walker.low, walker.high, walker.speed));
            encounter = encounter.place(
                Placement::new("walker", [walker.x, walker.y])
                    .id(format!("w{index:06}"))
                    .with(patrol),
            );
        }
        encounter.plan().expect("the crowd has no errors")
    }

    /// What somebody would write for just this: arrays, one overlap test, and all pairs or a uniform grid.
    fn by_hand(&self, ticks: u32, uses_grid: bool) -> usize {
        let dt = 1.0 / f64::from(RATE);
        let cells = ((self.side / (1.5 * SIZE)) as usize).max(1);
        let cell = |v: f64| ((v.max(0.0) * cells as f64 / self.side) as usize).min(cells - 1);
        let mut walkers = self.walkers.clone();
        let mut heading = vec![1.0; walkers.len()];
        let mut health = vec![1_000_000i64; walkers.len()];
        let mut shielded = vec![0u32; walkers.len()];
        let mut grid: Vec<Vec<u32>> = vec![Vec::new(); cells * cells];
        let mut log: Vec<(u32, u32, u32)> = Vec::new();
        for tick in 0..=ticks {
            grid.iter_mut().for_each(Vec::clear);
            for (index, walker) in walkers.iter_mut().enumerate() {
                if tick > 0 {
                    let heading = &mut heading[index];
                    if walker.x >= walker.high {
                        *heading = -1.0;
                    } else if walker.x <= walker.low {
                        *heading = 1.0;
                    }
                    let end = if *heading > 0.0 {
                        walker.high
                    } else {
                        walker.low
                    };
                    if (end - walker.x).abs() <= walker.speed * dt {
                        walker.x = end;
                    } else {
                        walker.x += *heading * walker.speed * dt;
                    }
                }
                if uses_grid {
                    grid[cell(walker.y) * cells + cell(walker.x)].push(index as u32);
                }
            }
            let mut shove = |who: usize, whom: usize, walkers: &[Walker]| {
                let (walker, other) = (&walkers[who], &walkers[whom]);
                let inside = SIZE - 1e-6;
                if whom != who
                    && (walker.x - other.x).abs() < inside
                    && (walker.y - other.y).abs() < inside
                    && shielded[whom] <= tick
                {
                    shielded[whom] = tick + AFTER_HIT;
                    health[whom] -= 1000;
                    log.push((tick, who as u32, whom as u32));
                }
            };
            if !uses_grid {
                for who in 0..walkers.len() {
                    for whom in 0..walkers.len() {
                        shove(who, whom, &walkers);
                    }
                }
                continue;
            }
            for (who, walker) in walkers.iter().enumerate() {
                let (left, right) = (cell(walker.x - SIZE), cell(walker.x + SIZE));
                let (low, high) = (cell(walker.y - SIZE), cell(walker.y + SIZE));
                for row in low..=high {
                    for column in left..=right {
                        for &whom in &grid[row * cells + column] {
                            shove(who, whom as usize, &walkers);
                        }
                    }
                }
            }
        }
        black_box(&health);
        log.len()
    }
}
