//! A small game of its own: tin boats in a wash-tub, squirts, drifting soap and a plug-hole, seen from above. It has its
//! own movement and its own combat code, and knows nothing of Tin Crown. It plays a round and writes two files: where
//! everything was on each frame (`tub-run.csv`), and whom it hit (`tub-hits.csv`).
//!
//! Run it with `cargo run --example tub_game -- DIR`. `tin-crown compare tub.toml --log` then finds the fault in it.

use std::error::Error;
use std::fmt::Write;
use std::path::Path;

const FRAMES: u32 = 750;
const RATE: f64 = 60.0;
/// The tub, in millimetres, y downward.
const TUB: (f64, f64) = (640.0, 400.0);
/// How long nothing hurts a boat after a hit.
const SAFE: u32 = 45;
const PLUG: (f64, f64, f64) = (320.0, 330.0, 14.0);

const RIGHT: (f64, f64) = (1.0, 0.0);
const LEFT: (f64, f64) = (-1.0, 0.0);
/// How far a boat turns on a frame: the cosine and sine of two and a half degrees.
const TURN: (f64, f64) = (0.999_048_221_581_857_8, 0.043_619_387_365_336);

#[derive(Clone, Copy, PartialEq)]
enum Kind {
    Boat,
    Squirt,
    Soap,
}

struct Thing {
    name: String,
    kind: Kind,
    /// Whose squirt it is.
    owner: String,
    x: f64,
    y: f64,
    /// Which way it points: a vector of length 1.
    ahead: (f64, f64),
    vx: f64,
    vy: f64,
    hull: i32,
    /// The frames up to which no squirt, and no soap, hurts it.
    dry_until: u32,
    clean_until: u32,
    /// The frame from which it can squirt again.
    loaded: u32,
    gone: bool,
}

impl Thing {
    fn new(name: &str, kind: Kind, x: f64, y: f64, ahead: (f64, f64)) -> Thing {
        Thing {
            name: name.to_owned(),
            kind,
            owner: String::new(),
            x,
            y,
            ahead,
            vx: 0.0,
            vy: 0.0,
            hull: if kind == Kind::Boat { 6 } else { 0 },
            dry_until: 0,
            clean_until: 0,
            loaded: 40,
            gone: false,
        }
    }

    fn radius(&self) -> f64 {
        match self.kind {
            Kind::Boat => 14.0,
            Kind::Squirt => 3.0,
            Kind::Soap => 18.0,
        }
    }

    fn reaches(&self, x: f64, y: f64, radius: f64) -> bool {
        let (dx, dy) = (self.x - x, self.y - y);
        let reach = self.radius() + radius;
        dx * dx + dy * dy < reach * reach
    }
}

/// A round of the game, and what it writes down.
struct Game {
    frame: u32,
    things: Vec<Thing>,
    squirts: u32,
    run: String,
    hits: String,
}

impl Game {
    fn new() -> Game {
        let mut soap = [
            Thing::new("Soap 1", Kind::Soap, 180.0, 110.0, RIGHT),
            Thing::new("Soap 2", Kind::Soap, 470.0, 260.0, RIGHT),
        ];
        (soap[0].vx, soap[0].vy) = (21.0, 9.0);
        (soap[1].vx, soap[1].vy) = (-17.0, -12.0);
        let boats = [
            Thing::new("P1", Kind::Boat, 90.0, 200.0, RIGHT),
            Thing::new("Bot A", Kind::Boat, 560.0, 90.0, LEFT),
            Thing::new("Bot B", Kind::Boat, 540.0, 340.0, LEFT),
        ];
        Game {
            frame: 0,
            things: boats.into_iter().chain(soap).collect(),
            squirts: 0,
            run: "frame;name;type;owner;x;y;heading\n".to_owned(),
            hits: "frame;attacker;victim;kind;damage;hull\n".to_owned(),
        }
    }

    /// Where a boat wants to be: bots go for the player, the player goes round the tub.
    fn goal(&self, nth: usize) -> (f64, f64) {
        if nth > 0 {
            return (self.things[0].x, self.things[0].y);
        }
        const ROUND: [(f64, f64); 4] = [
            (520.0, 120.0),
            (520.0, 290.0),
            (120.0, 300.0),
            (120.0, 90.0),
        ];
        ROUND[(self.frame / 170) as usize % ROUND.len()]
    }

    fn steer(&mut self) {
        let mut fired = Vec::new();
        for nth in 0..self.things.len() {
            let (gx, gy) = self.goal(nth);
            let frame = self.frame;
            let boat = &mut self.things[nth];
            if boat.kind != Kind::Boat || boat.gone {
                continue;
            }
            let (dx, dy) = (gx - boat.x, gy - boat.y);
            let far = (dx * dx + dy * dy).sqrt().max(1.0);
            let (x, y) = boat.ahead;
            // How far off the goal is: its cosine, and on which side.
            let (along, aside) = ((x * dx + y * dy) / far, (x * dy - y * dx) / far);
            if along < TURN.0 {
                let (cos, sin) = (TURN.0, if aside < 0.0 { -TURN.1 } else { TURN.1 });
                boat.ahead = (x * cos - y * sin, x * sin + y * cos);
            }
            let thrust = if nth == 0 { 95.0 } else { 60.0 };
            let (cos, sin) = boat.ahead;
            boat.vx += (cos * thrust - boat.vx * 0.9) / RATE;
            boat.vy += (sin * thrust - boat.vy * 0.9) / RATE;
            if along > 0.99 && frame >= boat.loaded {
                boat.loaded = frame + if nth == 0 { 30 } else { 75 };
                let mut squirt = Thing::new("", Kind::Squirt, boat.x, boat.y, boat.ahead);
                squirt.owner.clone_from(&boat.name);
                squirt.x += cos * 20.0;
                squirt.y += sin * 20.0;
                (squirt.vx, squirt.vy) = (cos * 230.0, sin * 230.0);
                fired.push(squirt);
            }
        }
        for mut squirt in fired {
            self.squirts += 1;
            squirt.name = format!("Squirt {}", self.squirts);
            self.things.push(squirt);
        }
    }

    fn drift(&mut self) {
        for thing in self.things.iter_mut().filter(|thing| !thing.gone) {
            thing.x += thing.vx / RATE;
            thing.y += thing.vy / RATE;
            let radius = thing.radius();
            let out = |at: f64, most: f64| at < radius || at > most - radius;
            let (beside, beyond) = (out(thing.x, TUB.0), out(thing.y, TUB.1));
            if thing.kind == Kind::Squirt {
                thing.gone = beside || beyond;
                continue;
            }
            if beside {
                thing.vx = -thing.vx * 0.6;
                thing.x = thing.x.clamp(radius, TUB.0 - radius);
            }
            if beyond {
                thing.vy = -thing.vy * 0.6;
                thing.y = thing.y.clamp(radius, TUB.1 - radius);
            }
        }
    }

    fn hurt(&mut self, attacker: &str, victim: usize, kind: &str, damage: i32) {
        let boat = &mut self.things[victim];
        boat.hull = (boat.hull - damage).max(0);
        boat.gone |= boat.hull == 0;
        let (name, hull, frame) = (&boat.name, boat.hull, self.frame);
        let _ = writeln!(
            self.hits,
            "{frame};{attacker};{name};{kind};{damage};{hull}"
        );
    }

    fn fight(&mut self) {
        let boats = |things: &[Thing]| -> Vec<usize> {
            let afloat = |nth: &usize| things[*nth].kind == Kind::Boat && !things[*nth].gone;
            (0..things.len()).filter(afloat).collect()
        };
        for nth in 0..self.things.len() {
            if self.things[nth].kind != Kind::Squirt || self.things[nth].gone {
                continue;
            }
            let (x, y, radius) = (
                self.things[nth].x,
                self.things[nth].y,
                self.things[nth].radius(),
            );
            let owner = self.things[nth].owner.clone();
            for boat in boats(&self.things) {
                let own = &mut self.things[boat];
                if own.name == owner || !own.reaches(x, y, radius) || self.frame < own.dry_until {
                    continue;
                }
                own.dry_until = self.frame + SAFE;
                self.things[nth].gone = true;
                self.hurt(&owner, boat, "squirt", 1);
                break;
            }
        }
        for nth in 0..self.things.len() {
            if self.things[nth].kind != Kind::Soap {
                continue;
            }
            let (x, y, radius) = (
                self.things[nth].x,
                self.things[nth].y,
                self.things[nth].radius(),
            );
            let soap = self.things[nth].name.clone();
            for boat in boats(&self.things) {
                let own = &mut self.things[boat];
                // The fault: a window of its own, where any hit should open one against everything.
                if own.reaches(x, y, radius) && self.frame >= own.clean_until {
                    own.clean_until = self.frame + SAFE;
                    self.hurt(&soap, boat, "soap", 1);
                }
            }
        }
        for boat in boats(&self.things) {
            let (x, y, radius) = PLUG;
            let hull = self.things[boat].hull;
            if self.things[boat].reaches(x, y, radius) {
                self.hurt("Plug", boat, "plug", hull);
            }
        }
    }

    fn note(&mut self, things: &[(String, &'static str, String, [f64; 3])]) {
        for (name, kind, owner, [x, y, heading]) in things {
            let frame = self.frame;
            let _ = writeln!(
                self.run,
                "{frame};{name};{kind};{owner};{x:.3};{y:.3};{heading:.2}"
            );
        }
    }

    /// Where everything is that was there on this frame, hit or not.
    fn places(&self) -> Vec<(String, &'static str, String, [f64; 3])> {
        let there = self.things.iter().filter(|thing| !thing.gone);
        there
            .map(|thing| {
                let kind = match thing.kind {
                    Kind::Boat => "Boat",
                    Kind::Squirt => "Squirt",
                    Kind::Soap => "Soap",
                };
                let (x, y) = thing.ahead;
                let place = [thing.x, thing.y, y.atan2(x).to_degrees()];
                (thing.name.clone(), kind, thing.owner.clone(), place)
            })
            .collect()
    }

    fn play(&mut self) {
        let start = self.places();
        self.note(&start);
        for frame in 1..=FRAMES {
            self.frame = frame;
            self.steer();
            self.drift();
            let places = self.places();
            self.note(&places);
            self.fight();
            self.things
                .retain(|thing| !thing.gone || thing.kind == Kind::Boat);
        }
    }
}

/// The recording and the hit log of a round.
pub fn play() -> (String, String) {
    let mut game = Game::new();
    game.play();
    (game.run, game.hits)
}

/// Writes both files to the folder that is named; without one, says whom the game hit.
fn main() -> Result<(), Box<dyn Error>> {
    let (run, hits) = play();
    let Some(folder) = std::env::args().nth(1) else {
        print!("{hits}");
        return Ok(());
    };
    for (name, text) in [("tub-run.csv", run), ("tub-hits.csv", hits)] {
        let path = Path::new(&folder).join(name);
        std::fs::write(&path, text)?;
        println!("wrote {}", path.display());
    }
    Ok(())
}
