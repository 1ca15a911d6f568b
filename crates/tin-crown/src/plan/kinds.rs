//! Lays kinds over those they are like.

use std::borrow::Cow;

use super::checker::Checker;
use crate::encounter::{Encounter, Kind};
use crate::finding::{Code, Finding, Path};
use crate::map::{Map, Set};
use crate::syntax::Syntax;

/// Where a kind is written.
pub(crate) fn path(name: &str) -> Path {
    Path::root().key("kind").named(name)
}

/// Every kind by its name, laid over those it is like.
pub(crate) type Laid<'e> = Map<&'e str, Cow<'e, Kind>>;

/// Every kind, laid over those it is like.
pub(super) fn laid<'e>(check: &mut Checker, encounter: &'e Encounter) -> Laid<'e> {
    let mut done = Laid::new();
    let mut in_circle: Set<&str> = Set::new();
    for (name, kind) in &encounter.kinds {
        check.name(path(name), name, "a kind");
        if done.contains_key(name.as_str()) {
            continue;
        }
        // From the kind up to one that is done, or like nobody.
        let mut line: Vec<(&'e str, &'e Kind)> = vec![(name, kind)];
        let mut base: Option<Cow<'e, Kind>> = None;
        while let Some(like) = line.last().and_then(|(_, kind)| kind.like.as_deref()) {
            let (last, _) = line[line.len() - 1];
            if let Some(ready) = done.get(like) {
                base = Some(ready.clone());
                break;
            }
            if let Some(start) = line.iter().position(|(name, _)| *name == like) {
                if !in_circle.contains(like) {
                    let mut names: Vec<&str> =
                        line[start..].iter().map(|(name, _)| *name).collect();
                    in_circle.extend(names.iter().copied());
                    names.push(like);
                    let message = format!(
                        "kinds are `like` each other in a cycle: {}",
                        names.join(" → ")
                    );
                    check.report(
                        Finding::new(Code::LikeCycle, path(last).key("like"), message)
                            .help("remove one `like`"),
                    );
                }
                break;
            }
            let Some((known, kind)) = encounter.kinds.get_key_value(like) else {
                if last == name.as_str() {
                    let known = encounter.kinds.keys().map(String::as_str);
                    check.unknown(path(last).key("like"), "kind", like, known);
                }
                break;
            };
            line.push((known, kind));
        }
        for (name, kind) in line.into_iter().rev() {
            let own = match &base {
                Some(base) => Cow::Owned(Syntax::over(kind, base.as_ref())),
                None => Cow::Borrowed(kind),
            };
            base = Some(own.clone());
            done.insert(name, own);
        }
    }
    done
}
