//! An encounter inside a game's own loop: the rules at 60 ticks a second, pictures at whatever rate the screen
//! has, with places in between drawn where they are in between.
//!
//! Run it with `cargo run --example host_loop`.

use tin_crown::geometry::Vec2;
use tin_crown::plan::{ActorIx, ButtonIx};
use tin_crown::{Live, Sim};

/// What the game's input layer would hear: at which time, which button, and whether it goes down.
const HANDS: [(f64, &str, bool); 5] = [
    (0.100, "right", true),
    (0.512, "jump", true),
    (0.530, "jump", false),
    (1.400, "right", false),
    // Down and up between two ticks: still a press.
    (1.505, "jump", true),
];

/// A screen of 144 pictures a second that misses some.
fn frames() -> impl Iterator<Item = f64> {
    (0..260u32).map(|nth| match nth % 50 {
        49 => 3.0 / 144.0,
        _ => 1.0 / 144.0,
    })
}

/// The rules, the time that is not played yet, and where everyone was a tick ago.
struct Game {
    run: Live,
    behind: f64,
    before: Vec<(ActorIx, Vec2)>,
}

impl Game {
    const TICK: f64 = 1.0 / 60.0;

    fn new(run: Live) -> Game {
        let mut game = Game {
            run,
            behind: 0.0,
            before: Vec::new(),
        };
        game.remember();
        game
    }

    fn remember(&mut self) {
        self.before.clear();
        let run = &self.run;
        let places = run.cast().map(|actor| (actor, run.actor(actor).at));
        self.before.extend(places);
    }

    /// Plays as many ticks as fit into the time that has gone by, and says what happened.
    fn advance(&mut self, passed: f64) -> Result<(), Box<dyn std::error::Error>> {
        self.behind += passed;
        while self.behind >= Game::TICK {
            self.behind -= Game::TICK;
            self.remember();
            self.run.step()?;
            for event in self.run.events() {
                let line = self.run.line(event);
                // Here the game would play a sound, shake the camera, show a number.
                if line.event == "hit" || line.event == "death" {
                    let (who, whom) = (line.who.unwrap_or_default(), line.whom.unwrap_or_default());
                    println!("  tick {:>3}: {} {who} {whom}", line.tick, line.event);
                }
            }
            // A game that runs for hours lets go of what it has told.
            self.run.drain();
        }
        Ok(())
    }

    /// Where an actor is to be drawn: between the last tick and the one before, as far as the next is near.
    fn drawn(&self, actor: ActorIx) -> Vec2 {
        let now = self.run.actor(actor).at;
        let before = self.before.iter().find(|(own, _)| *own == actor);
        let before = before.map_or(now, |(_, at)| *at);
        before + (now - before) * (self.behind / Game::TICK)
    }
}

/// Plays two seconds, and draws what there is to see.
fn main() -> Result<(), Box<dyn std::error::Error>> {
    let checked = tin_crown::check(tin_crown::demo::FIRST_SHELF.as_bytes());
    let plan = checked.plan.ok_or("the demo has errors")?;
    let porter = plan.actor("porter")?;
    let mut game = Game::new(Sim::open(&plan, 0));
    let mut hands = HANDS.iter().peekable();
    let (mut time, mut pictures, mut last) = (0.0, 0, game.drawn(porter));
    for passed in frames() {
        time += passed;
        while let Some((_, button, down)) = hands.next_if(|(when, ..)| *when <= time) {
            let button: ButtonIx = plan.button(button)?;
            game.run.press(porter, button, *down)?;
        }
        game.advance(passed)?;
        let at = game.drawn(porter);
        pictures += 1;
        // Nothing jumps: from picture to picture it goes no further than it can.
        assert!(
            (at - last).length() <= 400.0 * passed,
            "from {last:?} to {at:?}"
        );
        last = at;
        if pictures % 36 == 0 {
            println!(
                "{time:.3} s: the porter is drawn at {:.2}, {:.2}",
                at.x, at.y
            );
        }
    }
    // What was played can be kept, and goes on being true.
    let ticks = game.run.tick();
    let drill = game.run.into_drill().ok_or("the run is recorded")?;
    println!(
        "{pictures} pictures, {ticks} ticks; kept as a drill of {} inputs",
        drill.input.len()
    );
    assert_eq!((ticks.0, drill.input.len()), (112, 3));
    Ok(())
}
