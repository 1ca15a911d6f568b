//! When two boxes meet, found out slowly: for the [judge](super::judge).

use tin_crown::encounter::Phase;
use tin_crown::geometry::{HeightSpan, Vec2, overlap, sweep};
use tin_crown::plan::BoxPlan;
use tin_crown::{Amount, Facing};

/// What the judge knows of an actor at the moment of judgement.
#[derive(Clone, Default)]
pub struct Party1 {
    pub start: Vec2,
    pub at: Vec2,
    /// How high it was and is, and how fast it set out to rise.
    pub heights: [f64; 2],
    pub rises: f64,
    pub facing: Facing,
    /// By how much it turned little by little, in 2^32ths of a turn.
    pub turned: i64,
    pub set_out: Vec2,
    pub grounded: bool,
    pub live: (u64, u64),
    pub meters: Vec<Amount>,
    pub alive: bool,
    /// The swing under way: which attack, its serial, its phase.
    pub swing: Option<(usize, u32, Phase)>,
    pub guard_since: Option<u32>,
    pub stunned: bool,
    pub rests: bool,
}

/// A box of an actor.
pub type Own<'s> = (&'s Party1, &'s BoxPlan);

/// Whether two boxes overlap at the end of a tick.
pub fn meets_at_end((one, hitbox): Own<'_>, (other, hurtbox): Own<'_>) -> bool {
    let shapes = (hurtbox.shape(other.facing), hitbox.shape(one.facing));
    let above = one.heights[1] - other.heights[1];
    overlap(&shapes.0, &shapes.1, one.at - other.at)
        && HeightSpan::meet(hurtbox.span(), hitbox.span(), above)
}

/// When a hitbox first touches a hurtbox within a tick, in 4096ths: part by part, as they turn.
pub fn moment(one: Own<'_>, other: Own<'_>, before: bool) -> Option<u16> {
    let parts_of = |(party, own): Own<'_>| {
        // In fives of degrees.
        let fives = party.turned.unsigned_abs() * 72;
        if own.turns() {
            fives.div_ceil(1 << 32)
        } else {
            1
        }
    };
    let parts = parts_of(one).max(parts_of(other)).max(1);
    let path = (one.0.at - one.0.start) - (other.0.at - other.0.start);
    let offset = one.0.start - other.0.start;
    let climbs = |party: &Party1| party.heights[1] - party.heights[0];
    let above = one.0.heights[0] - other.0.heights[0];
    let climb = climbs(one.0) - climbs(other.0);
    let mut all = Vec::new();
    for nth in 1..=parts {
        let [share, from] = [1.0, (nth - 1) as f64].map(|part| part / parts as f64);
        let turned = |(party, own): Own<'_>| {
            let back = party.turned * (parts - nth) as i64 / parts as i64;
            let facing = match party.facing {
                Facing::Angle(end) => Facing::Angle(end.plus(-back as i32)),
                facing => facing,
            };
            own.shape(facing).into_owned()
        };
        let plane = sweep(
            &turned(other),
            &turned(one),
            offset + path * from,
            path * share,
        );
        let spans = (other.1.span(), one.1.span());
        let (first, last) = match spans {
            (Some(theirs), Some(mine)) => {
                let up = HeightSpan::sweep(theirs, mine, above + climb * from, climb * share);
                (plane.from.max(up.from), plane.to.min(up.to))
            }
            _ => (plane.from, plane.to),
        };
        let met = first < last && first < 1.0 && last > 0.0;
        all.push(met.then(|| ((from + first.max(0.0) * share) * 4096.0).floor() as u16));
    }
    if !before {
        return all.into_iter().flatten().next();
    }
    let first = all.iter().flatten().next().copied();
    let at_end = || meets_at_end(one, other).then(|| first.unwrap_or(4096));
    if parts == 1 {
        return at_end();
    }
    let again = all.iter().skip_while(|met| met.is_some()).flatten().next();
    again.copied().or_else(at_end)
}
