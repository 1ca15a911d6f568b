//! `tin-crown play`.

mod acts;
mod desk;
mod file;
mod guard;
mod orders;
mod pages;
mod server;
mod told;

use std::io::Write;
use std::sync::{Arc, mpsc};

use tin_crown::play::{Session, Setup};
use tin_crown_picture::play;
use tokio::sync::Notify;

use crate::args::Play as Arguments;
use crate::failure::{Done, Failure};
use crate::interrupt;
use crate::terminal::{say, shown};
use crate::{source, terminal};
use desk::{Ask, Desk};
use file::Bench;
use guard::Guard;
use server::Server;

pub fn run(args: &Arguments) -> Result<Done, Failure> {
    if source::is_dash(&args.file) {
        return Err(Failure::new("standard input cannot be played").help("give a file"));
    }
    let source = source::read(&args.file)?;
    let mut plan = source.plan()?;
    if let Some(drill) = &args.drill {
        let drill = crate::drills::one(&plan, Some(drill), &source.name)?;
        plan = source.record(&plan, &[drill])?;
    }
    // Whatever has a plan was read.
    let Some(encounter) = &source.checked.encounter else {
        return Err(Failure::Found);
    };
    let setup = Setup {
        drill: args.drill.clone(),
        seed: args.seed,
    };
    let session = Session::new(encounter, &plan, setup)
        .map_err(|error| Failure::replaying(&source.name, &error))?;
    let page = play::html(&plan, &source.checked.sheets, &shown(&args.file));
    let Some(bench) = Bench::new(session, &source, args.file.clone()) else {
        return Err(Failure::new(format!("{} is gone", source.name)));
    };
    let listener = server::listen(args.port)?;
    let port = listener.local_addr()?.port();
    let guard = Guard::new(port)
        .map_err(|error| Failure::new(format!("this system gives no random numbers: {error}")))?;
    let address = guard.address();
    let (asks, asked) = mpsc::channel();
    let end = Arc::new(Notify::new());
    let stop = asks.clone();
    interrupt::ask(move || stop.send(Ask::End).is_ok());
    let server = Server::new(guard, asks, page);
    let over = Arc::clone(&end);
    let desk = std::thread::spawn(move || {
        Desk::new(bench).run(&asked);
        over.notify_one();
    });
    let mut out = terminal::out();
    writeln!(out, "{address}")?;
    out.flush()?;
    if !args.no_browser && open::that_detached(&address).is_err() {
        say("no browser was found: open the address above in one");
    }
    say("ctrl-C ends");
    let runtime = tokio::runtime::Builder::new_current_thread()
        .enable_all()
        .build()?;
    runtime.block_on(server.serve(listener, end))?;
    let _ = desk.join();
    Ok(Done::Well)
}
