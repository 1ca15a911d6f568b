  const NS = 'http://www.w3.org/2000/svg';
  // Stands before a step that is made several times.
  const REPEATED = 2 ** 40;
  // Between two pictures, in milliseconds.
  const FRAME = 1000 / 60;
  const text = (at) => data.texts[at];
  const state = { drill: 0, tick: 0, playing: false, dragging: false, asked: false };
  const svg = (name, attributes, parent) => {
    const node = document.createElementNS(NS, name);
    for (const key in attributes) node.setAttribute(key, attributes[key]);
    if (parent) parent.append(node);
    return node;
  };
  const drill = () => data.drills[state.drill];

  // Unpacked once for each drill: for each actor its places by tick, and how it stands from which tick on.
  const unpacked = new Map();
  const unpack = () => {
    if (unpacked.has(state.drill)) return unpacked.get(state.drill);
    const actors = drill().actors.map((actor) => {
      const x = new Float32Array(drill().last + 1).fill(NaN);
      const y = new Float32Array(drill().last + 1);
      const z = new Float32Array(drill().last + 1);
      const walk = (ways, put) => {
        for (const way of ways) {
          let [tick] = way, px = 0, py = 0;
          for (let at = 1; at < way.length; at += 2) {
            let times = 1;
            if (way[at] === REPEATED) { times = way[at + 1]; at += 2; }
            for (; times > 0; times--, tick++) {
              px += way[at]; py += way[at + 1];
              put(tick, px / data.parts, py / data.parts);
            }
          }
        }
      };
      walk(actor.ways, (tick, px, py) => { x[tick] = px; y[tick] = py; });
      walk(actor.rises ?? [], (tick, height) => { z[tick] = height; });
      return { id: actor.id, spec: data.specs[actor.spec], stands: actor.stands, x, y, z };
    });
    unpacked.set(state.drill, actors);
    return actors;
  };
  const stand = (actor, tick) => {
    let low = 0, high = actor.stands.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (actor.stands[middle][0] <= tick) low = middle + 1; else high = middle;
    }
    return actor.stands[Math.max(low - 1, 0)];
  };

  // Everyone who is there on a tick.
  const present = (tick) => unpack().filter(({ x }) => !Number.isNaN(x[tick])).map((actor) => {
    const [, flags, live, doing, meters, born, turned, clip, since] = stand(actor, tick);
    return { id: actor.id, spec: actor.spec, x: actor.x[tick], y: actor.y[tick], z: actor.z[tick], flags, live: text(live), doing: text(doing), meters: text(meters), born, turned, clip, since };
  });
  const arena = makeArena(() => drawArena());
  let lowest = 0;
  const buildArena = () => {
    const actors = unpack();
    lowest = Math.min(...actors.map(({ x, z }) => z[x.findIndex((own) => !Number.isNaN(own))]));
    const spans = [...data.solids, ...data.goals].flatMap((own) => own.span ?? []);
    if (data.high) arena.heights([...spans, ...actors.flatMap(({ z, spec }) => [...z].flatMap((own) => [own, ...spec.boxes.flatMap((box) => (box.sort !== 'sensor' && box.span || []).map((edge) => own + edge))]))]);
  };
  const drawArena = () => {
    const actors = present(state.tick);
    const leftOut = arena.draw(actors, { tick: state.tick, around: el('zoom').value, floor: lowest });
    arena.drawSide();
    el('leftout').textContent = leftOut ? `names omitted for lack of space: ${leftOut}` : '';
    drawCast(actors);
  };

  const ledger = makeLedger({
    text,
    rows: () => drill().rows,
    leftOut: () => drill().left_out ? `${drill().left_out} later lines are left out for want of room` : '',
    tick: () => state.tick,
    pause: () => play(false),
    chosen: (line) => {
      const known = drill().why.find((own) => own.line === line);
      ledger.explain(line, known && {
        says: text(known.says),
        checks: known.checks.map(([passed, check, says]) => [passed, text(check), text(says)]),
        change: known.change === undefined ? undefined : text(known.change),
        causes: known.causes.map(([cause, says]) => [cause, text(says)]),
      });
      seek(ledger.rowOf(line)[TICK]);
    },
    unexplained: 'too many to explain here: run tin-crown why',
  });
  const buildZoom = () => {
    const zoom = el('zoom'), kept = zoom.value;
    zoom.replaceChildren(html('option', { value: '' }, null, 'the arena'));
    for (const { id } of drill().actors.slice(0, 200)) html('option', { value: id }, zoom, 'around ' + id);
    zoom.value = drill().actors.some(({ id }) => id === kept) ? kept : '';
    const player = drill().actors.find((own) => data.specs[own.spec].player);
    if (!state.asked && player && arena.isSmall(data.specs[player.spec])) zoom.value = player.id;
  };

  // Time.
  const seek = (tick) => {
    state.tick = Math.min(Math.max(Math.round(tick), 0), drill().last);
    el('seek').value = state.tick;
    el('seek').setAttribute('aria-valuetext', `${seconds(state.tick)}, tick ${state.tick}`);
    el('now').textContent = `${seconds(state.tick)}, tick ${state.tick}`;
    drawArena();
    ledger.follow();
    drawCursor();
    if (!state.playing) remember();
  };
  const remember = () => {
    const chosen = ledger.rowOf(ledger.chosen());
    const line = chosen && chosen[TICK] === state.tick ? `&line=${chosen[LINE]}` : '';
    const hash = `#drill=${encodeURIComponent(drill().name)}&tick=${state.tick}${line}`;
    try { history.replaceState(null, '', hash); } catch { location.hash = hash; }
  };
  const drawCursor = () => {
    const holder = document.querySelector(`.timeline[data-drill="${state.drill}"]`);
    if (!holder) return;
    const [left, right, width] = holder.dataset.edges.split(',').map(Number);
    const picture = holder.querySelector('svg');
    const scale = picture.clientWidth / width;
    const cursor = holder.querySelector('.cursor');
    cursor.style.height = `${picture.clientHeight}px`;
    const x = (left + (right - left) * (state.tick + 0.5) / (drill().last + 1)) * scale;
    cursor.style.left = `${x - 1}px`;
    // The moment stays in sight, but nothing runs away under a finger.
    const hidden = left * scale;
    if (!state.dragging && (x < holder.scrollLeft + hidden || x > holder.scrollLeft + holder.clientWidth - 20)) holder.scrollLeft = x - (holder.clientWidth + hidden) / 2;
  };
  // Names of rows stay in sight while time is scrolled past them.
  const pinned = new WeakMap();
  const pinNames = () => {
    const holder = document.querySelector(`.timeline[data-drill="${state.drill}"]`);
    if (!holder) return;
    const [left, , width] = holder.dataset.edges.split(',').map(Number);
    const picture = holder.querySelector('svg');
    if (!pinned.has(holder)) {
      const labels = [...picture.querySelectorAll('text[text-anchor=end]')].filter((own) => own.x.baseVal[0].value < left);
      const group = svg('g', { class: 'names' }, picture);
      group.append(...labels);
      const { x, y, height } = group.getBBox();
      group.prepend(svg('rect', { x: x - 8, y, width: left - x + 2, height: height + 4 }));
      pinned.set(holder, { group, from: x - 8 });
      holder.onscroll = pinNames;
    }
    const { group, from } = pinned.get(holder);
    const scrolled = holder.scrollLeft * width / picture.clientWidth;
    group.setAttribute('transform', `translate(${Math.max(scrolled - from, 0)} 0)`);
  };
  let began = 0, from = 0;
  const speed = () => Number(el('speed').value);
  const play = (on) => {
    state.playing = on;
    el('play').textContent = on ? 'Pause' : 'Play';
    if (!on) { remember(); return; }
    if (state.tick >= drill().last) seek(0);
    began = performance.now(); from = state.tick;
    setTimeout(step, FRAME);
  };
  const step = () => {
    if (!state.playing) return;
    const tick = from + Math.floor((performance.now() - began) / 1000 * data.rate * speed());
    if (tick !== state.tick) seek(tick);
    if (tick >= drill().last) play(false); else setTimeout(step, FRAME);
  };
  const restart = () => { began = performance.now(); from = state.tick; };
  const nextHit = (way) => {
    const hits = drill().rows.filter((row) => text(row[EVENT]) === 'hit' && (way > 0 ? row[TICK] > state.tick : row[TICK] < state.tick));
    const row = way > 0 ? hits[0] : hits[hits.length - 1];
    if (row) ledger.choose(row[LINE]);
  };

  const show = (nth, tick) => {
    state.drill = nth; ledger.reset();
    play(false);
    el('drill').selectedIndex = nth;
    for (const own of document.querySelectorAll('[data-drill]')) own.hidden = Number(own.dataset.drill) !== nth;
    el('seek').max = drill().last;
    state.tick = 0;
    ledger.buildFilters(); buildZoom(); buildArena(); ledger.build();
    seek(tick || 0);
    pinNames();
  };

  // What people do.
  el('drill').onchange = () => show(el('drill').selectedIndex, 0);
  el('play').onclick = () => play(!state.playing);
  el('first').onclick = () => { play(false); seek(0); };
  el('last').onclick = () => { play(false); seek(drill().last); };
  el('back').onclick = () => { play(false); seek(state.tick - 1); };
  el('next').onclick = () => { play(false); seek(state.tick + 1); };
  el('speed').onchange = restart;
  el('zoom').onchange = () => { state.asked = true; drawArena(); };
  el('seen').onchange = () => arena.drawSide();
  el('seek').oninput = () => { play(false); seek(Number(el('seek').value)); };
  el('link').onclick = () => {
    remember();
    if (navigator.clipboard) navigator.clipboard.writeText(location.href).then(() => { el('link').textContent = 'Copied'; }, () => {});
  };
  whenLooksChange(() => { arena.recolour(); drawArena(); });
  for (const holder of document.querySelectorAll('.timeline')) {
    const drag = (event) => {
      const [left, right, width] = holder.dataset.edges.split(',').map(Number);
      const picture = holder.querySelector('svg').getBoundingClientRect();
      const x = (event.clientX - picture.left) / picture.width * width;
      play(false);
      seek((x - left) / (right - left) * (drill().last + 1) - 0.5);
    };
    holder.addEventListener('pointerdown', (event) => {
      if (!event.target.closest('svg')) return;
      state.dragging = true;
      drag(event);
      // A finger that scrolls takes the pointer away.
      const ends = ['pointerup', 'pointercancel'];
      const stop = () => {
        state.dragging = false;
        removeEventListener('pointermove', drag);
        for (const end of ends) removeEventListener(end, stop);
      };
      addEventListener('pointermove', drag);
      for (const end of ends) addEventListener(end, stop);
    });
  }
  addEventListener('resize', () => { drawArena(); drawCursor(); pinNames(); });
  addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const far = event.shiftKey ? 10 : 1;
    const does = {
      ' ': () => play(!state.playing),
      ArrowLeft: () => { play(false); seek(state.tick - far); },
      ArrowRight: () => { play(false); seek(state.tick + far); },
      Home: () => { play(false); seek(0); },
      End: () => { play(false); seek(drill().last); },
      '+': () => { el('speed').selectedIndex = Math.min(el('speed').selectedIndex + 1, 5); restart(); },
      '-': () => { el('speed').selectedIndex = Math.max(el('speed').selectedIndex - 1, 0); restart(); },
      n: () => nextHit(1),
      p: () => nextHit(-1),
    }[event.key];
    if (!does || keeps(event)) return;
    event.preventDefault();
    does();
  });
  for (const details of document.querySelectorAll('details')) details.ontoggle = drawCursor;

  const asked = new URLSearchParams(location.hash.slice(1));
  const named = data.drills.findIndex((own) => own.name === asked.get('drill'));
  if (data.drills.length) {
    show(Math.max(named, 0), Number(asked.get('tick')) || 0);
    if (asked.get('line')) ledger.choose(Number(asked.get('line')));
  }
