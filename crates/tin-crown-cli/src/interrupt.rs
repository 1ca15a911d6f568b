//! Ctrl-C: what is half written is taken away, and long work may end in its own way.

use std::path::{Path, PathBuf};
use std::sync::{Mutex, Once, PoisonError};

/// What shells say of a process that ctrl-C ended.
const INTERRUPTED: i32 = 130;

/// What ctrl-C asks first: whether the process goes on, as its work ends in its own way.
type Asked = Box<dyn Fn() -> bool + Send>;

static ASKED: Mutex<Option<Asked>> = Mutex::new(None);
static PENDING: Mutex<Vec<PathBuf>> = Mutex::new(Vec::new());

/// Asks first, on every ctrl-C from now on.
pub fn ask(first: impl Fn() -> bool + Send + 'static) {
    *ASKED.lock().unwrap_or_else(PoisonError::into_inner) = Some(Box::new(first));
    handle();
}

/// A file that is not whole yet, until this is dropped.
pub struct Pending(PathBuf);

impl Pending {
    pub fn new(file: &Path) -> Pending {
        handle();
        pending().push(file.to_owned());
        Pending(file.to_owned())
    }
}

impl Drop for Pending {
    fn drop(&mut self) {
        pending().retain(|file| *file != self.0);
    }
}

fn pending() -> std::sync::MutexGuard<'static, Vec<PathBuf>> {
    PENDING.lock().unwrap_or_else(PoisonError::into_inner)
}

fn handle() {
    static ONCE: Once = Once::new();
    ONCE.call_once(|| {
        let handled = ctrlc::set_handler(|| {
            let asked = ASKED.lock().unwrap_or_else(PoisonError::into_inner);
            if asked.as_ref().is_some_and(|first| first()) {
                return;
            }
            for file in pending().iter() {
                let _ = std::fs::remove_file(file);
            }
            std::process::exit(INTERRUPTED);
        });
        // Without a handler, ctrl-C ends the process at once.
        drop(handled);
    });
}
