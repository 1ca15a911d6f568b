//! An independent judge: slow, plain, and of another build than the simulator. It looks at positions,
//! boxes and meters from outside, keeps its own memory, and must come to the same verdicts on random
//! encounters, each the first failing check of the documented order.

use std::collections::{BTreeMap, BTreeSet};

use proptest::prelude::*;
use tin_crown::encounter::{Against, Contact, Looking, Party, Phase, Repeat};
use tin_crown::geometry::{Bounds, Vec2, sweep_upright};
use tin_crown::plan::{ActorIx, Ask, BoxPlan, Drive, FaceAim, GatePlan, SideOf};
use tin_crown::sim::{Inquest, Judged};
use tin_crown::{Amount, Encounter, Facing, Plan, Sim, Verdict, What};

use crate::fights::{fight, fight_in_every_direction};
use crate::meets::{Party1, meets_at_end, moment};
use crate::stage::plan;

/// What it remembers of each actor.
#[derive(Clone, Default)]
struct Memory {
    began: Option<(usize, u32, u32)>,
    serial: u32,
    hits: BTreeSet<ActorIx>,
    guard: Option<u32>,
    stunned_until: u32,
    rests_until: u32,
    windows: Vec<(Window, u32)>,
    dead: bool,
}

#[derive(Clone, Copy, PartialEq)]
enum Window {
    All,
    Source(ActorIx),
    Rule(usize),
    Both(ActorIx, usize),
}

#[derive(Clone, Default)]
struct Pair {
    touched: u32,
    landed_in_touch: bool,
    next: u32,
    /// When each swing (0: none) last used up its hit.
    spent: BTreeMap<u32, u32>,
    told: Option<(Verdict, Option<u8>)>,
}

type Key = (ActorIx, ActorIx, usize);

/// What came of a case, and the gate that said no.
type Said = (Key, Verdict, Option<u8>);

#[derive(Clone)]
struct Case {
    key: Key,
    boxes: (usize, usize),
    moment: u16,
    gate: Option<u8>,
    swing: u32,
    verdict: Option<Verdict>,
}

struct Judge<'p> {
    plan: &'p Plan,
    memory: Vec<Memory>,
    pairs: BTreeMap<Key, Pair>,
    touching: BTreeSet<(ActorIx, usize, ActorIx, usize)>,
    /// Rules beaten between two actors: until when at most.
    marks: BTreeMap<(ActorIx, ActorIx, usize), u32>,
    now: u32,
}

impl Judge<'_> {
    /// All cases in candidate order, and whether each is worth a line.
    fn judge(&mut self, tick: u32, parties: &[Party1]) -> Vec<(Said, bool)> {
        self.now = tick;
        let mut cases = self.cases(tick, parties);
        for case in &cases {
            let pair = self.pairs.entry(case.key).or_default();
            if pair.touched + 1 != tick {
                pair.landed_in_touch = false;
                pair.told = None;
            }
            pair.touched = tick;
        }
        cases.retain(|case| !parties[case.key.0.index()].rests);
        // Settled on the frozen state.
        for case in &mut cases {
            case.verdict = self.frozen(tick, case);
        }
        self.precedence(tick, &mut cases);
        // In candidate order.
        cases.sort_by_key(|case| (case.moment, case.key.2, case.key.0, case.key.1));
        let mut judged = Vec::new();
        for mut case in cases {
            let verdict = case
                .verdict
                .unwrap_or_else(|| self.settle(tick, parties, &case));
            case.verdict = Some(verdict);
            let pair = self.pairs.get_mut(&case.key).expect("remembered");
            let gate = case.gate.filter(|_| verdict == Verdict::Gate);
            let said = Some((verdict, gate));
            let effect = matches!(verdict, Verdict::Landed | Verdict::Guarded);
            let told = verdict != Verdict::Ally && (effect || pair.told != said);
            if told {
                pair.told = said;
            }
            judged.push(((case.key, verdict, gate), told));
        }
        self.marks.retain(|&(a, b, _), until| {
            let (one, other) = (&parties[a.index()], &parties[b.index()]);
            let extents = (
                self.plan.spec(a).extent(one.facing),
                self.plan.spec(b).extent(other.facing),
            );
            let apart =
                !sweep_upright(extents.0, extents.1, other.at - one.at, Vec2::ZERO).is_some_time();
            *until > tick + 1 && !apart
        });
        judged
    }

    /// Every who, whom and rule whose boxes touch, looked at one by one.
    fn cases(&mut self, tick: u32, parties: &[Party1]) -> Vec<Case> {
        let mut found: BTreeMap<Key, Case> = BTreeMap::new();
        let mut touching = BTreeSet::new();
        for who in self.plan.cast() {
            for whom in self.plan.cast().filter(|&whom| whom != who) {
                let (one, other) = (&parties[who.index()], &parties[whom.index()]);
                if !one.alive || !other.alive {
                    continue;
                }
                for (hit, hitbox) in self.plan.spec(who).hitboxes().iter().enumerate() {
                    for (hurt, hurtbox) in self.plan.spec(whom).hurtboxes().iter().enumerate() {
                        if one.live.0 >> hit & 1 == 0 || other.live.1 >> hurt & 1 == 0 {
                            continue;
                        }
                        let rules = self.pairing(who, hitbox.name(), whom, hurtbox.name());
                        if rules.is_empty() {
                            continue;
                        }
                        let before = self.touching.contains(&(who, hit, whom, hurt));
                        let sampled = self.plan.arena().contact() == Contact::Sampled;
                        let moment = match tick == 0 || sampled {
                            true => meets_at_end((one, hitbox), (other, hurtbox)).then_some(4096),
                            false => moment((one, hitbox), (other, hurtbox), before),
                        };
                        let Some(moment) = moment else { continue };
                        touching.insert((who, hit, whom, hurt));
                        for rule in rules {
                            let gates = &self.plan.rules()[rule].gates();
                            let no = gates.iter().position(|gate| {
                                !self.passes(gate, (who, hit), (whom, hurt), moment, parties)
                            });
                            let swings = self.plan.spec(who).by_attack().hit() >> hit & 1 == 1;
                            let case = Case {
                                key: (who, whom, rule),
                                boxes: (hit, hurt),
                                moment,
                                gate: no.map(|no| no as u8),
                                swing: one
                                    .swing
                                    .filter(|_| swings)
                                    .map_or(0, |(_, serial, _)| serial),
                                verdict: None,
                            };
                            let rank = |case: &Case| (case.gate.is_some(), case.moment, case.boxes);
                            let kept = found.entry(case.key).or_insert_with(|| case.clone());
                            if rank(&case) < rank(kept) {
                                *kept = case;
                            }
                        }
                    }
                }
            }
        }
        self.touching = touching;
        found.into_values().collect()
    }

    /// The rules that pair two boxes, read off their selectors as text.
    fn pairing(&self, who: ActorIx, hitbox: &str, whom: ActorIx, hurtbox: &str) -> Vec<usize> {
        let names = |selector: &str, actor: ActorIx, part: &str| {
            let (name, own) = selector.split_once('.').unwrap_or((selector, part));
            let kind = &self.plan.names().kinds()[self.plan.spec(actor).kind()];
            let placed = &self.plan.actors()[actor.index()];
            let tagged = placed
                .tags()
                .iter()
                .any(|tag| format!("#{}", self.plan.names().tags()[*tag]) == name);
            own == part && (name == "*" || name == kind || name == placed.id() || tagged)
        };
        let rules = self.plan.rules().iter().enumerate();
        rules
            .filter(|(_, rule)| {
                names(rule.hitbox(), who, hitbox) && names(rule.hurtbox(), whom, hurtbox)
            })
            .map(|(index, _)| index)
            .collect()
    }

    fn passes(
        &self,
        gate: &GatePlan,
        (who, hit): (ActorIx, usize),
        (whom, hurt): (ActorIx, usize),
        moment: u16,
        parties: &[Party1],
    ) -> bool {
        let (one, other) = (&parties[who.index()], &parties[whom.index()]);
        let up = self.plan.arena().up().sign();
        let then =
            |party: &Party1| party.start + (party.at - party.start) * (f64::from(moment) / 4096.0);
        let offset = then(one) - then(other);
        let x = if offset.x == 0.0 {
            -one.facing.sign()
        } else {
            offset.x
        };
        let hitbox = self.plan.spec(who).hitboxes()[hit]
            .shape(one.facing)
            .bounds()
            .moved(one.start);
        let hurtbox = self.plan.spec(whom).hurtboxes()[hurt]
            .shape(other.facing)
            .bounds()
            .moved(other.start);
        // From where to where a box reaches upward.
        let high = self.plan.arena().height().is_some();
        let reach = |party: &Party1, own: &BoxPlan, bounds: Bounds| match (high, own.span()) {
            (true, Some(span)) => [span.low + party.heights[0], span.high + party.heights[0]],
            (true, None) => [f64::NEG_INFINITY, f64::INFINITY],
            (false, _) if up > 0.0 => [bounds.min.y, bounds.max.y],
            (false, _) => [-bounds.max.y, -bounds.min.y],
        };
        let falls = |party: &Party1| match high {
            true => -party.rises,
            false => -party.set_out.y * up,
        };
        let mine = reach(one, &self.plan.spec(who).hitboxes()[hit], hitbox);
        let theirs = reach(other, &self.plan.spec(whom).hurtboxes()[hurt], hurtbox);
        let downward = falls(one) - falls(other);
        // Whether a party that faces some way has the other before it.
        let ahead = |own: &Party1, way: Vec2, x: f64| match own.facing {
            Facing::Angle(angle) => {
                let degrees = way.y.atan2(way.x).to_degrees() - angle.known_degrees();
                way != Vec2::ZERO && (degrees.rem_euclid(360.0) + 90.0) % 360.0 <= 180.0
            }
            _ => x * own.facing.sign() > 0.0,
        };
        const NEAR: f64 = 1e-6;
        match gate {
            GatePlan::Above { margin } => mine[0] >= theirs[1] - margin - NEAR,
            GatePlan::Below { margin } => mine[1] <= theirs[0] + margin + NEAR,
            GatePlan::ComingDown => downward > NEAR,
            GatePlan::ComingUp => -downward > NEAR,
            GatePlan::Side(SideOf::Front) => ahead(other, offset, x),
            GatePlan::Side(SideOf::Behind) => !ahead(other, offset, x),
            GatePlan::Side(SideOf::Left) => x < 0.0,
            GatePlan::Side(SideOf::Right) => x > 0.0,
            GatePlan::Angle { .. } | GatePlan::LineOfSight => {
                unreachable!("no random rule asks it")
            }
            GatePlan::Falling(speed) => falls(one) >= speed - NEAR,
            GatePlan::Closing { speed, .. } => downward >= speed - NEAR,
            GatePlan::Party(party, ask) => {
                let (index, own) = match party {
                    Party::Who => (who, one),
                    Party::Whom => (whom, other),
                };
                let toward = match party {
                    Party::Who => ahead(own, offset * -1.0, -x),
                    Party::Whom => ahead(own, offset, x),
                };
                // What a meter holds, and the most it can.
                let held = |meter| {
                    let spec = self.plan.spec(index);
                    let place = spec.meter(meter)?;
                    Some((own.meters[place], spec.meters()[place].max()))
                };
                match *ask {
                    Ask::Facing(Looking::Toward) => toward,
                    Ask::Facing(Looking::Away) => !toward,
                    Ask::Facing(Looking::Left) => own.facing.ahead().x < 0.0,
                    Ask::Facing(Looking::Right) => own.facing.ahead().x > 0.0,
                    Ask::Grounded(yes) => own.grounded == yes,
                    Ask::Phase(phase) => {
                        own.swing.is_some_and(|(.., under_way)| under_way == phase)
                    }
                    Ask::Attack(name) => own.swing.is_some_and(|(attack, ..)| {
                        self.plan.spec(index).attacks()[attack].name() == name
                    }),
                    Ask::State(_) => unreachable!("no random rule asks it"),
                    Ask::Guarding(yes) => {
                        let guard = self.plan.spec(index).guard();
                        let since = guard.zip(own.guard_since);
                        since.is_some_and(|(guard, since)| self.now >= since + guard.startup().0)
                            == yes
                    }
                    Ask::Stunned(yes) => own.stunned == yes,
                    Ask::AtLeast(meter, least) => {
                        held(meter).is_some_and(|(held, max)| held >= least.of(max))
                    }
                    Ask::AtMost(meter, most) => {
                        held(meter).is_some_and(|(held, max)| held <= most.of(max))
                    }
                    Ask::Tag(tag, yes) => {
                        self.plan.actors()[index.index()].tags().contains(&tag) == yes
                    }
                }
            }
        }
    }

    fn per_attack(&self, case: &Case) -> bool {
        match self.plan.rules()[case.key.2].repeat() {
            Some(repeat) => repeat == Repeat::PerAttack,
            None => case.swing != 0,
        }
    }

    fn between(&self, (who, whom, _): Key) -> impl Iterator<Item = &Pair> {
        self.pairs
            .range((who, whom, 0)..=(who, whom, usize::MAX))
            .map(|(_, pair)| pair)
    }

    fn frozen(&self, tick: u32, case: &Case) -> Option<Verdict> {
        let (who, whom, rule) = case.key;
        let rule = &self.plan.rules()[rule];
        let side = self.plan.spec(who).side();
        if side.is_some() && side == self.plan.spec(whom).side() && !rule.friendly() {
            return Some(Verdict::Ally);
        }
        if case.gate.is_some() {
            return Some(Verdict::Gate);
        }
        let pair = &self.pairs[&case.key];
        let spent = || {
            self.between(case.key)
                .filter_map(|pair| pair.spent.get(&case.swing))
                .max()
                .copied()
        };
        let again = if self.per_attack(case) {
            let attack = self.memory[who.index()]
                .began
                .map(|(attack, ..)| &self.plan.spec(who).attacks()[attack]);
            let every = attack
                .and_then(|attack| attack.every())
                .filter(|_| case.swing != 0);
            spent().is_none_or(|on| every.is_some_and(|every| tick >= on + every.0))
        } else {
            rule.repeat() != Some(Repeat::OncePerTouch) || !pair.landed_in_touch
        };
        (!again || pair.next > tick).then_some(Verdict::Repeat)
    }

    fn precedence(&mut self, tick: u32, cases: &mut [Case]) {
        let pair = |key: Key| (key.0.min(key.1), key.0.max(key.1));
        let marked = |marks: &BTreeMap<_, u32>, key: Key| {
            let (a, b) = pair(key);
            marks.get(&(a, b, key.2)).is_some_and(|until| *until > tick)
        };
        for case in cases.iter_mut().filter(|case| case.verdict.is_none()) {
            if marked(&self.marks, case.key) {
                case.verdict = Some(Verdict::Beaten);
            }
        }
        // Whoever is open and beaten by nobody open wins; until nothing changes.
        let mut won = BTreeSet::new();
        loop {
            let open = |case: &Case| case.verdict.is_none();
            let beaten_by = |loser: &Case, winner: &Case| {
                pair(loser.key) == pair(winner.key)
                    && self.plan.rules()[winner.key.2]
                        .beats()
                        .iter()
                        .any(|rule| rule.index() == loser.key.2)
            };
            let next = cases.iter().find(|case| {
                open(case)
                    && !won.contains(&case.key)
                    && !cases
                        .iter()
                        .any(|other| open(other) && beaten_by(case, other))
            });
            let Some(winner) = next.cloned() else { break };
            won.insert(winner.key);
            let rule = &self.plan.rules()[winner.key.2];
            let (a, b) = pair(winner.key);
            for beaten in rule.beats() {
                let until = self.marks.entry((a, b, beaten.index())).or_default();
                *until = (*until).max(tick + rule.beats_for().0);
            }
            for case in cases.iter_mut() {
                if case.verdict.is_none() && beaten_by(case, &winner) {
                    case.verdict = Some(Verdict::Beaten);
                }
            }
        }
    }

    fn settle(&mut self, tick: u32, parties: &[Party1], case: &Case) -> Verdict {
        let (who, whom, index) = case.key;
        let (rule, spec) = (&self.plan.rules()[index], self.plan.spec(whom));
        let attack = self.memory[who.index()]
            .began
            .filter(|_| case.swing != 0)
            .map(|(attack, ..)| &self.plan.spec(who).attacks()[attack]);
        let hit_now = self
            .between(case.key)
            .any(|pair| pair.spent.get(&case.swing) == Some(&tick));
        if hit_now && (case.swing != 0 || rule.repeat() == Some(Repeat::PerAttack)) {
            return Verdict::UsedUp;
        }
        let hits = &self.memory[who.index()].hits;
        let targets = attack.and_then(|attack| attack.targets());
        if targets.is_some_and(|most| hits.len() >= most as usize && !hits.contains(&whom)) {
            return Verdict::UsedUp;
        }
        let covered = self.memory[whom.index()]
            .windows
            .iter()
            .any(|(window, until)| {
                *until > tick
                    && match *window {
                        Window::All => true,
                        Window::Source(source) => source == who,
                        Window::Rule(own) => own == index,
                        Window::Both(source, own) => source == who && own == index,
                    }
            });
        if covered && !rule.pierces_invincible() {
            return Verdict::Invincible;
        }
        let (one, other) = (&parties[who.index()], &parties[whom.index()]);
        let mut verdict = Verdict::Landed;
        if let (Some(guard), Some(since)) = (spec.guard(), other.guard_since) {
            let up = tick >= since + guard.startup().0;
            let place = guard.meter().and_then(|meter| spec.meter(meter));
            let spent = place.is_some_and(|place| !other.meters[place].is_positive());
            let then = |party: &Party1| {
                party.start + (party.at - party.start) * (f64::from(case.moment) / 4096.0)
            };
            let mut toward = then(one) - then(other);
            if toward == Vec2::ZERO {
                toward = one.facing.ahead() * -1.0;
            }
            // All random guards cover what is ahead, half a turn.
            let ahead = toward.dot(other.facing.ahead()) / toward.length() >= -1e-6;
            if !rule.pierces_guard() && up && !spent && ahead {
                verdict = Verdict::Guarded;
            }
        }
        let spends = self.per_attack(case) || case.swing != 0;
        let pair = self.pairs.get_mut(&case.key).expect("remembered");
        pair.landed_in_touch = true;
        pair.next = tick + rule.every().0;
        if spends {
            pair.spent.insert(case.swing, tick);
        }
        if case.swing != 0 {
            self.memory[who.index()].hits.insert(whom);
        }
        if spec.after_hit().0 > 0 {
            let window = match (verdict, spec.against()) {
                (Verdict::Guarded, _) => Window::Both(who, index),
                (_, Against::Everyone) => Window::All,
                (_, Against::Source) => Window::Source(who),
                (_, Against::Rule) => Window::Rule(index),
            };
            self.memory[whom.index()]
                .windows
                .push((window, tick + spec.after_hit().0));
        }
        verdict
    }
}

/// What an inquest says of a touch, unless nothing was made of it.
fn said(judged: &Judged) -> Option<Said> {
    let key = (judged.who, judged.whom, judged.rule.index());
    let failed = judged.gates.iter().position(|gate| !gate.passes);
    let gate = failed.filter(|_| judged.verdict == Verdict::Gate);
    let said = (key, judged.verdict, gate.map(|gate| gate as u8));
    judged.withheld.is_none().then_some(said)
}

/// Plays the drill and lets the judge judge every tick from outside: the ledger says the same, and so
/// does an inquest, of which `why` tells, also of what is worth no line.
fn compare(encounter: &Encounter) -> Result<BTreeMap<&'static str, u32>, TestCaseError> {
    let plan = plan(encounter);
    let replay = plan.replay("d").expect("drill d");
    let all = replay.ledger().events();
    let mut judge = Judge {
        plan: &plan,
        memory: vec![Memory::default(); plan.actors().len()],
        pairs: BTreeMap::new(),
        touching: BTreeSet::new(),
        marks: BTreeMap::new(),
        now: 0,
    };
    let drill = plan.drill("d").expect("drill d");
    let mut sim = Sim::new(&plan, drill);
    let mut inquest = Inquest::new(&plan, drill, |_, _| true);
    let mut before: Vec<(Vec2, f64, Facing, Vec<Amount>)> = plan
        .cast()
        .map(|actor| {
            let view = sim.actor(actor);
            (
                view.at,
                view.height,
                view.facing,
                plan.spec(actor)
                    .meters()
                    .iter()
                    .map(|meter| meter.start())
                    .collect(),
            )
        })
        .collect();
    let mut counts: BTreeMap<&'static str, u32> = BTreeMap::new();
    loop {
        let tick = sim.tick().0;
        let events: Vec<_> = all.iter().filter(|event| event.tick.0 == tick).collect();
        let by_hit = |event: &tin_crown::Event| {
            event
                .cause
                .and_then(|line| replay.ledger().get(line))
                .is_some_and(|cause| matches!(cause.what, What::Hit(_)))
        };
        // Those who rest wait; then what phases 1 and 2 did.
        for memory in &mut judge.memory {
            if tick < memory.rests_until && tick > 0 {
                memory.windows.iter_mut().for_each(|(_, until)| *until += 1);
                memory.stunned_until += 1;
                if let Some((_, _, since)) = &mut memory.began {
                    *since += 1;
                }
                memory.guard = memory.guard.map(|since| since + 1);
            }
        }
        for event in events.iter().filter(|event| !by_hit(event)) {
            let Some(who) = event.who else { continue };
            let memory = &mut judge.memory[who.index()];
            match event.what {
                What::Attack {
                    attack, over: None, ..
                } => {
                    memory.serial += 1;
                    memory.began = Some((attack.index(), memory.serial, tick));
                    memory.hits.clear();
                }
                What::Attack { .. } => memory.began = None,
                What::State {
                    bearing: tin_crown::ledger::Bearing::GuardUp,
                    ..
                } => memory.guard = Some(tick),
                What::State {
                    bearing: tin_crown::ledger::Bearing::GuardDown,
                    ..
                } => memory.guard = None,
                _ => {}
            }
        }
        let parties: Vec<Party1> = plan
            .cast()
            .map(|actor| {
                let (view, memory) = (sim.actor(actor), &judge.memory[actor.index()]);
                let (start, height, faced, meters) = before[actor.index()].clone();
                let spec = plan.spec(actor);
                let drives = matches!(spec.drive(), Drive::Walk { turn: Some(_), .. });
                let spins = matches!(spec.faces().aim(), FaceAim::Spin(_));
                let turned = match (faced, view.facing) {
                    (Facing::Angle(old), Facing::Angle(new))
                        if drives || spins || spec.faces().most().is_some() =>
                    {
                        i64::from(old.to(new))
                    }
                    _ => 0,
                };
                let swing = memory.began.map(|(attack, serial, since)| {
                    let [startup, active, _] = plan.spec(actor).attacks()[attack]
                        .phases()
                        .map(|phase| phase.0);
                    let phase = match tick - since {
                        elapsed if elapsed < startup => Phase::Startup,
                        elapsed if elapsed < startup + active => Phase::Active,
                        _ => Phase::Recovery,
                    };
                    (attack, serial, phase)
                });
                Party1 {
                    start,
                    at: view.at,
                    heights: [height, view.height],
                    rises: view.set_out_up,
                    facing: view.facing,
                    turned,
                    set_out: view.set_out,
                    grounded: view.grounded,
                    live: (view.live.hit(), view.live.hurt()),
                    meters,
                    alive: !memory.dead,
                    swing,
                    guard_since: memory.guard,
                    stunned: tick < memory.stunned_until,
                    rests: tick < memory.rests_until,
                }
            })
            .collect();
        let judged = judge.judge(tick, &parties);
        let (_, asked) = inquest.play().expect("room").expect("as long as the drill");
        prop_assert_eq!(
            judged.iter().map(|(said, _)| *said).collect::<Vec<_>>(),
            asked.iter().filter_map(said).collect::<Vec<_>>(),
            "asked on tick {}",
            tick
        );
        let judged = judged.into_iter().filter(|(_, told)| *told);
        let judged: Vec<Said> = judged.map(|(said, _)| said).collect();
        let told: Vec<Said> = events
            .iter()
            .filter_map(|event| match &event.what {
                What::Hit(hit) => Some((
                    (
                        event.who.unwrap(),
                        event.whom.unwrap(),
                        event.rule.unwrap().index(),
                    ),
                    hit.verdict,
                    hit.gate.map(|gate| gate.index),
                )),
                _ => None,
            })
            .collect();
        for (_, verdict, _) in &told {
            *counts.entry(verdict.as_str()).or_default() += 1;
        }
        prop_assert_eq!(&judged, &told, "on tick {}", tick);
        // What phase 6 did.
        for event in &events {
            let (Some(who), whom) = (event.who, event.whom) else {
                continue;
            };
            match &event.what {
                What::Hit(hit) if hit.verdict.took_effect() => {
                    let rest = plan.rules()[event.rule.unwrap().index()].hitstop().0;
                    for party in [who, whom.unwrap()] {
                        let memory = &mut judge.memory[party.index()];
                        if rest > 0 {
                            memory.rests_until = memory.rests_until.max(tick + rest + 1);
                        }
                    }
                }
                What::Attack { over: Some(_), .. } if by_hit(event) => {
                    judge.memory[who.index()].began = None
                }
                What::State {
                    bearing: tin_crown::ledger::Bearing::Stunned,
                    until,
                } => {
                    // The line counts the rests that are known.
                    let memory = &mut judge.memory[who.index()];
                    let rests = memory.rests_until.saturating_sub(tick + 1);
                    memory.stunned_until = until.unwrap().0 - rests;
                }
                What::State { bearing, .. }
                    if by_hit(event) && *bearing != tin_crown::ledger::Bearing::GuardUp =>
                {
                    judge.memory[who.index()].guard = None;
                }
                What::Gone => judge.memory[who.index()].dead = true,
                _ => {}
            }
        }
        for actor in plan.cast() {
            let view = sim.actor(actor);
            before[actor.index()] = (view.at, view.height, view.facing, view.meters.to_vec());
        }
        if !sim.step().expect("room") {
            return Ok(counts);
        }
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    #[test]
    fn the_judge_comes_to_the_same_verdicts(encounter in fight()) {
        compare(&encounter)?;
    }

    #[test]
    fn the_judge_knows_turning_and_height(encounter in fight_in_every_direction()) {
        compare(&encounter)?;
    }

    #[test]
    fn a_swing_lands_once_on_each_target_unless_it_hits_several_times(encounter in fight()) {
        let plan = plan(&encounter);
        let replay = plan.replay("d").expect("drill d");
        let mut seen = BTreeSet::new();
        for event in replay.ledger().events() {
            let What::Hit(hit) = &event.what else { continue };
            let (Some(who), Some(whom), Some(swing)) = (event.who, event.whom, event.cause) else { continue };
            let attack = &plan.spec(who).attacks()[0];
            let policy = plan.rules()[event.rule.unwrap().index()].repeat();
            if hit.verdict.took_effect() && attack.every().is_none() && policy.is_none_or(|policy| policy == Repeat::PerAttack) {
                prop_assert!(seen.insert((swing, whom)), "twice by the swing of line {:?}", swing);
            }
        }
    }
}

/// Guards the generators: verdicts that one never brings about are not tested.
#[test]
fn random_fights_bring_about_every_verdict() {
    brings_about_every_verdict(&fight());
    brings_about_every_verdict(&fight_in_every_direction());
}

fn brings_about_every_verdict(fights: &impl Strategy<Value = Encounter>) {
    use proptest::strategy::ValueTree;
    let mut runner = proptest::test_runner::TestRunner::deterministic();
    let mut all: BTreeMap<&'static str, u32> = BTreeMap::new();
    for _ in 0..120 {
        let encounter = fights.new_tree(&mut runner).unwrap().current();
        for (verdict, count) in compare(&encounter).unwrap() {
            *all.entry(verdict).or_default() += count;
        }
    }
    for verdict in [
        "gate",
        "repeat",
        "beaten",
        "used-up",
        "invincible",
        "guarded",
        "landed",
    ] {
        assert!(
            all.get(verdict).is_some_and(|count| *count > 10),
            "{verdict}: {all:?}"
        );
    }
}
