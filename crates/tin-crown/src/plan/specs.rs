//! The kinds resolved, and placements that override parts of theirs.

use super::cast::{Actor, Entrant};
use super::checker::Checker;
use super::faces;
use super::index::{BreedIx, KindIx, SpecIx, TagIx};
use super::kinds::{self, Laid};
use super::resolve::indices;
use super::scope::Scope;
use super::spec::{self, Spec};
use crate::encounter::{Encounter, Facing, Kind};
use crate::finding::{Code, Finding, Findings, Path};
use crate::map::{Map, Set};
use crate::syntax::Syntax;

/// The kinds resolved, in the order of names, then the variants of placements.
pub(super) struct Specs<'a> {
    pub all: Vec<Spec>,
    laid: &'a Laid<'a>,
    scope: &'a Scope<'a>,
    /// What was found about each kind, which is not found again about its variants.
    found: Map<&'a str, Findings>,
    /// The variants so far, by where their placement is written: copies share one.
    variants: Map<Path, SpecIx>,
    /// What a placement overrides that overrides nothing.
    nothing: Kind,
}

impl<'a> Specs<'a> {
    /// Resolves the kinds. What is wrong with a part that a kind took over from another is reported
    /// there alone.
    pub fn new(
        check: &mut Checker,
        encounter: &Encounter,
        laid: &'a Laid<'a>,
        scope: &'a Scope<'a>,
    ) -> Specs<'a> {
        let mut found: Map<&str, Findings> = Map::new();
        let mut all = Vec::new();
        for (index, (name, kind)) in laid.iter().enumerate() {
            let mut alone = check.alone();
            let (path, index) = (kinds::path(name), KindIx::new(index));
            all.push(spec::resolve(&mut alone, &path, index, kind, scope));
            found.insert(name, alone.findings);
        }
        for (name, findings) in &found {
            let kind = encounter.kinds.get(*name);
            let like = kind.and_then(|kind| kind.like.as_deref());
            report_new(check, findings, like.and_then(|like| found.get(like)));
        }
        Specs {
            all,
            laid,
            scope,
            found,
            variants: Map::new(),
            nothing: Kind::default(),
        }
    }

    /// The actor that enters, with its own variant of its kind where its placement overrides parts.
    pub fn actor(
        &mut self,
        check: &mut Checker,
        entrant: Entrant<'_>,
        kind_tags: &[Vec<TagIx>],
    ) -> Actor {
        let names = self.scope.names;
        let kind = names.kinds.find(entrant.kind);
        let kind = kind.unwrap_or_else(|| unreachable!("entrants are of known kinds"));
        let more = indices(entrant.with.tags.iter().flatten(), &names.tags);
        let own = kind_tags[kind.index()].iter().copied();
        let tags: Set<TagIx> = own.chain(more).collect();
        let spec = self.variant(check, &entrant, kind);
        let rotates = self.all[spec.index()].rotates;
        if matches!(entrant.facing, Facing::Angle(_)) && !rotates {
            let message = format!("`{}` mirrors: it cannot face an angle", entrant.id);
            check.report(
                Finding::new(Code::Contradiction, entrant.path.key("facing"), message)
                    .help("write \"left\" or \"right\", or add turns = \"rotates\" to its kind"),
            );
        }
        Actor {
            spec,
            id: entrant.id,
            at: entrant.at,
            rise: entrant.rise,
            facing: faces::facing(entrant.facing, self.scope.up).of_kind(rotates),
            tags: tags.into_iter().collect(),
            breed: BreedIx(0),
        }
    }

    fn variant(&mut self, check: &mut Checker, entrant: &Entrant<'_>, kind: KindIx) -> SpecIx {
        // As most do, of a great many: a kind is large.
        if *entrant.with == self.nothing {
            return SpecIx::new(kind.index());
        }
        let own = Kind {
            tags: None,
            // One drawing for all: it must not tell variants apart.
            sprite: None,
            ..entrant.with.clone()
        };
        if own == self.nothing {
            return SpecIx::new(kind.index());
        }
        if let Some(known) = self.variants.get(&entrant.path) {
            return *known;
        }
        let base = &self.laid[entrant.kind];
        nothing_new(check, &entrant.path, &own, base);
        let mut alone = check.alone();
        let laid = Syntax::over(&own, base);
        let variant = spec::resolve(&mut alone, &entrant.path, kind, &laid, self.scope);
        report_new(check, &alone.findings, self.found.get(entrant.kind));
        let spec = SpecIx::new(self.all.len());
        self.all.push(variant);
        self.variants.insert(entrant.path.clone(), spec);
        spec
    }
}

/// A placement overrides what its kind has: a name that the kind does not know is a slip.
fn nothing_new(check: &mut Checker, path: &Path, own: &Kind, base: &Kind) {
    fn names<T>(map: &Map<String, T>) -> Vec<&str> {
        map.keys().map(String::as_str).collect()
    }
    for (key, what, own, base) in [
        (
            "hitbox",
            "hitbox",
            names(&own.hitboxes),
            names(&base.hitboxes),
        ),
        (
            "hurtbox",
            "hurtbox",
            names(&own.hurtboxes),
            names(&base.hurtboxes),
        ),
        ("meter", "meter", names(&own.meters), names(&base.meters)),
        (
            "attack",
            "attack",
            names(&own.attacks),
            names(&base.attacks),
        ),
        (
            "launcher",
            "launcher",
            names(&own.launchers),
            names(&base.launchers),
        ),
        (
            "sensor",
            "sensor",
            names(&own.sensors),
            names(&base.sensors),
        ),
        ("state", "state", names(&own.states), names(&base.states)),
        (
            "condition",
            "condition",
            names(&own.conditions),
            names(&base.conditions),
        ),
    ] {
        for name in own.iter().filter(|name| !base.contains(name)) {
            let what = format!("{what} of this kind to override called");
            check.unknown(
                path.named(key).named(name),
                &what,
                name,
                base.iter().copied(),
            );
        }
    }
}

/// Reports findings but those that are known of what they were taken over from: the same message at
/// the same place within it.
fn report_new(check: &mut Checker, findings: &Findings, known: Option<&Findings>) {
    for finding in findings {
        let same = |earlier: &Finding| {
            earlier.message == finding.message
                && earlier.path.steps().get(2..) == finding.path.steps().get(2..)
        };
        if !known.into_iter().flatten().any(same) {
            check.report(finding.clone());
        }
    }
}
