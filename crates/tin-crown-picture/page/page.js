'use strict';
(() => {
  const data = JSON.parse(document.getElementById('data').textContent);
  const el = (id) => document.getElementById(id);
  const NS = 'http://www.w3.org/2000/svg';
  const LEFT = 1, INVINCIBLE = 2, GUARDING = 4, DYING = 8;
  const ROW = 22;
  // Stands before a step that is made several times.
  const REPEATED = 2 ** 40;
  // Between two pictures, in milliseconds.
  const FRAME = 1000 / 60;
  // An arena drawn lower than this, in pixels, shows too little.
  const LEAST_HIGH = 200;
  // Nor can a player be made out that is smaller than this.
  const LEAST_PLAYER = 12;
  // A row: tick, line, who, what, whom, rule, outcome, tone, cause, because, event.
  const TICK = 0, LINE = 1, WHO = 2, WHAT = 3, WHOM = 4, RULE = 5, OUTCOME = 6, TONE = 7, CAUSE = 8, BECAUSE = 9, EVENT = 10;
  const text = (at) => data.texts[at];
  const state = { drill: 0, tick: 0, playing: false, dragging: false, chosen: null, rows: [], asked: false };

  const svg = (name, attributes, parent) => {
    const node = document.createElementNS(NS, name);
    for (const key in attributes) node.setAttribute(key, attributes[key]);
    if (parent) parent.append(node);
    return node;
  };
  const html = (name, attributes, parent, words) => {
    const node = document.createElement(name);
    Object.assign(node, attributes);
    if (words !== undefined) node.textContent = words;
    if (parent) parent.append(node);
    return node;
  };
  const drill = () => data.drills[state.drill];
  const seconds = (tick) => (tick / data.rate).toFixed(3) + ' s';

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

  // The arena.
  let puppets = [], goalNames = [];
  const buildArena = () => {
    const arena = el('arena');
    arena.replaceChildren();
    const defs = svg('defs', {}, arena);
    const hatch = svg('pattern', { id: 'hatch', width: 5, height: 5, patternUnits: 'userSpaceOnUse', patternTransform: 'rotate(45)' }, defs);
    svg('rect', { width: 5, height: 5, fill: 'var(--copper)', 'fill-opacity': 0.14 }, hatch);
    svg('line', { x1: 0, y1: 0, x2: 0, y2: 5, stroke: 'var(--copper)', 'stroke-width': 1.6 }, hatch);
    goalNames = [];
    const rect = ([x, y, width, height], parent) => svg('rect', { x, y, width, height }, parent);
    rect([0, 0, ...data.size], svg('g', { class: 'bounds' }, arena));
    // Seen from above, what nobody begins beneath is a floor.
    const actors = unpack();
    const lowest = Math.min(...actors.map(({ x, z }) => z[x.findIndex((own) => !Number.isNaN(own))]));
    const floor = ({ span }) => span && span[1] <= lowest ? ' floor' : '';
    for (const solid of data.solids) rect(solid.rect, svg('g', { class: 'solid' + (solid.one_way ? ' oneway' : '') + floor(solid) }, arena));
    for (const goal of data.goals) {
      const group = svg('g', { class: 'goal' + (goal.exit ? ' exit' : '') }, arena);
      rect(goal.rect, group);
      const name = svg('text', {}, group);
      name.textContent = goal.name;
      goalNames.push({ name, x: goal.rect[0] + goal.rect[2] / 2, y: goal.rect[1] - 5 });
    }
    puppets = actors.map((actor) => {
      const group = svg('g', {}, arena);
      const boxes = actor.spec.boxes.map((box) => {
        const holder = svg('g', { class: `box ${box.sort}` }, group);
        const path = svg('path', { d: box.right }, holder);
        svg('title', {}, holder).textContent = `${box.name} of ${actor.id}`;
        return { box, holder, path, left: false };
      });
      return { actor, group, boxes, name: null };
    });
    // Names above everything.
    for (const puppet of puppets) {
      puppet.name = svg('text', { class: 'name' }, arena);
      const { id } = puppet.actor;
      puppet.name.textContent = id.length > 18 ? `${id.slice(0, 9)}…${id.slice(-8)}` : id;
      let top = 0;
      for (const { box, path } of puppet.boxes) if (!['sensor', 'guard', 'nose'].includes(box.sort)) top = Math.min(top, path.getBBox().y);
      puppet.top = top;
    }
  };
  // The same from a side: across it x or y, height upward. Each box is as wide as it is seen from above.
  let sides = [], range = [0, 1];
  const buildSide = () => {
    const side = el('side');
    side.toggleAttribute('hidden', !data.high);
    el('seen').parentElement.hidden = !data.high;
    if (!data.high) return;
    side.replaceChildren();
    const spans = [...data.solids, ...data.goals].flatMap((own) => own.span ?? []);
    const stands = puppets.flatMap(({ actor, boxes }) => [...actor.z].flatMap((z) => [z, ...boxes.flatMap(({ box }) => (box.sort !== 'sensor' && box.span || []).map((own) => z + own))]));
    const all = [...spans, ...stands, data.ground ?? 0];
    const [low, high] = all.reduce(([low, high], own) => [Math.min(low, own), Math.max(high, own)], [Infinity, -Infinity]);
    const room = Math.max((high - low) * 0.1, 12);
    range = [low - room, high + 3 * room];
    const across = el('seen').value === 'right' ? 1 : 0;
    const wide = data.size[across];
    side.setAttribute('viewBox', `0 ${-range[1]} ${wide} ${range[1] - range[0]}`);
    const rect = (from, width, span, parent) => svg('rect', { x: from, y: -span[1], width, height: span[1] - span[0] }, parent);
    rect(0, wide, range, svg('g', { class: 'bounds' }, side));
    if (data.ground !== undefined) rect(0, wide, [range[0], data.ground], svg('g', { class: 'solid' }, side));
    for (const own of data.solids) rect(own.rect[across], own.rect[2 + across], own.span ?? range, svg('g', { class: 'solid' + (own.one_way ? ' oneway' : '') }, side));
    for (const own of data.goals) rect(own.rect[across], own.rect[2 + across], own.span ?? range, svg('g', { class: 'goal' + (own.exit ? ' exit' : '') }, side));
    sides = puppets.map(({ actor, boxes }) => {
      const group = svg('g', {}, side);
      const own = boxes.filter(({ box }) => box.sort === 'sensor' ? box.span || box.ray : !['guard', 'nose', 'boxless'].includes(box.sort));
      return { actor, group, boxes: own.map((above) => ({ above, holder: svg('g', {}, group), path: null })), name: null };
    });
    for (const one of sides) {
      for (const own of one.boxes) own.path = svg('path', {}, own.holder);
      one.name = svg('text', { class: 'name' }, side);
      one.name.textContent = one.actor.id;
    }
  };
  const drawSide = () => {
    if (!data.high) return;
    const tick = state.tick, across = el('seen').value === 'right' ? 1 : 0;
    const back = el('arena').getScreenCTM()?.inverse();
    if (!back) return;
    const letters = data.size[across] / (innerWidth < 820 ? 36 : 62) / Math.min(1, el('side').clientHeight * data.size[across] / el('side').clientWidth / (range[1] - range[0]) || 1);
    el('side').style.setProperty('--letters', `${letters}px`);
    const placed = [];
    for (const { actor, group, boxes, name } of sides) {
      const there = !Number.isNaN(actor.x[tick]);
      group.style.display = name.style.display = there ? '' : 'none';
      if (!there) continue;
      let top = -Infinity;
      for (const { above, holder, path } of boxes) {
        if (above.box.ray) {
          const onto = back.multiply(above.path.getScreenCTM());
          const ends = [0, above.path.getTotalLength()].map((far) => above.path.getPointAtLength(far).matrixTransform(onto));
          const [from, to] = ends.map((end, nth) => `${across ? end.y : end.x} ${-above.box.ray[nth] - actor.z[tick]}`);
          holder.setAttribute('class', above.holder.getAttribute('class'));
          path.setAttribute('d', `M${from}L${to}`);
          continue;
        }
        const seen = above.path.getBoundingClientRect();
        const ends = [[seen.left, seen.top], [seen.right, seen.bottom]].map(([x, y]) => new DOMPoint(x, y).matrixTransform(back));
        const [from, to] = across ? [ends[0].y, ends[1].y] : [ends[0].x, ends[1].x];
        const span = above.box.span ? above.box.span.map((own) => own + actor.z[tick]) : range;
        holder.setAttribute('class', above.holder.getAttribute('class'));
        path.setAttribute('d', `M${from} ${-span[1]}H${Math.max(to, from)}V${-span[0]}H${from}Z`);
        if (above.box.span && above.box.sort !== 'sensor') top = Math.max(top, span[1]);
      }
      const x = across ? actor.y[tick] : actor.x[tick];
      const high = top === -Infinity ? actor.z[tick] : top;
      const wide = name.textContent.length * letters * 0.3 + 3;
      let y = -high - 6;
      for (let tries = 0; tries < 8 && placed.some((own) => Math.abs(own.x - x) < own.wide + wide && Math.abs(own.y - y) < letters * 1.15); tries++) y -= letters * 1.2;
      placed.push({ x, y, wide });
      name.setAttribute('x', Math.min(Math.max(x, wide), data.size[across] - wide));
      name.setAttribute('y', y);
    }
  };
  const drawArena = () => {
    const tick = state.tick;
    const shown = [];
    for (const { actor, group, boxes, name, top } of puppets) {
      const there = !Number.isNaN(actor.x[tick]);
      group.style.display = name.style.display = there ? '' : 'none';
      if (!there) continue;
      const [, flags, live, , , born, turned] = stand(actor, tick);
      const [hit, hurt, sees] = text(live).split('|');
      const [x, y] = [actor.x[tick], actor.y[tick]];
      group.setAttribute('transform', `translate(${x} ${y})`);
      const left = (flags & LEFT) !== 0;
      const at = { hit: 0, hurt: 0, sensor: 0 };
      for (const own of boxes) {
        const { box, holder, path } = own;
        if (own.left !== left) {
          path.setAttribute('d', (left && box.left) || box.right);
          own.left = left;
        }
        const turn = box.turns ? `rotate(${turned * 360 / 4096})` : '';
        if (box.turns) path.setAttribute('transform', turn);
        if (box.grows) {
          const [from, to, ticks] = box.grows;
          const share = ticks > 1 ? Math.min((tick - born) / (ticks - 1), 1) : 1;
          path.setAttribute('transform', `${turn} scale(${from + (to - from) * share})`);
        }
        const nth = at[box.sort]++;
        if (box.sort === 'hit') holder.classList.toggle('off', hit[nth] !== '1');
        if (box.sort === 'hurt') {
          holder.classList.toggle('off', hurt[nth] !== '1');
          holder.classList.toggle('safe', (flags & INVINCIBLE) !== 0);
        }
        if (box.sort === 'guard') holder.style.display = flags & GUARDING ? '' : 'none';
        if (box.sort === 'sensor') holder.classList.toggle('sees', sees[nth] === '1');
      }
      shown.push({ name, x, x0: x, y: y + top - 6, foot: y, id: actor.id });
    }
    // The whole arena, or what is around somebody.
    const around = shown.find((own) => own.id === el('zoom').value);
    const [width, height] = around ? [data.size[0] / 4, data.size[1] / 2] : data.size;
    const corner = around
      ? [Math.min(Math.max(around.x - width / 2, 0), data.size[0] - width), Math.min(Math.max(around.foot - height / 2, 0), data.size[1] - height)]
      : [0, 0];
    el('arena').setAttribute('viewBox', `${corner[0]} ${corner[1]} ${width} ${height}`);
    const { clientWidth: wide, clientHeight: high } = el('arena');
    const letters = wide / (innerWidth < 820 ? 36 : 62) / Math.min(wide / width, high / height);
    el('arena').style.setProperty('--letters', `${letters}px`);
    // Names that would lie on each other, or on somebody else if that can be helped, go up; those for which
    // there is no room are left out.
    const placed = [];
    const meets = (own, y) => placed.some((other) => Math.abs(other.x - own.x) < other.wide + own.wide && Math.abs(other.y - y) < letters * 1.15);
    const covers = (own, y) => shown.some((other) => Math.abs(other.x0 - own.x) < own.wide && other.foot > y - letters && other.foot < y + 4);
    let leftOut = 0;
    const goals = goalNames.map((own) => ({ ...own, x0: own.x, steps: 1 }));
    for (const own of [...goals, ...shown.map((one) => ({ ...one, steps: 3 }))]) {
      own.wide = own.name.textContent.length * letters * 0.3 + 3;
      own.x = Math.min(Math.max(own.x, corner[0] + own.wide), corner[0] + width - own.wide);
      const inside = own.x0 >= corner[0] && own.x0 <= corner[0] + width;
      const free = [...Array(own.steps).keys()].map((nth) => own.y - nth * letters * 1.2)
        .filter((y) => y > corner[1] + letters && y < corner[1] + height && !meets(own, y));
      const y = free.find((y) => !covers(own, y)) ?? free[0] ?? null;
      own.name.style.display = y === null || !inside ? 'none' : '';
      if (y === null && inside && own.steps > 1) leftOut++;
      if (y === null || !inside) continue;
      placed.push({ x: own.x, y, wide: own.wide });
      own.name.setAttribute('x', own.x);
      own.name.setAttribute('y', y);
    }
    el('leftout').textContent = leftOut ? `names omitted for lack of space: ${leftOut}` : '';
    const cast = el('cast');
    cast.replaceChildren();
    for (const { actor } of puppets.slice(0, 40)) {
      if (Number.isNaN(actor.x[tick])) continue;
      const [, flags, , doing, meters] = stand(actor, tick);
      const words = [text(meters), text(doing), flags & INVINCIBLE ? 'invincible' : ''].filter(Boolean).join(' · ');
      if (!words) continue;
      const item = html('li', {}, cast);
      html('b', {}, item, actor.id);
      item.append(words);
    }
  };

  // The ledger.
  const filtered = () => {
    const [who, whom, event] = ['who', 'whom', 'event'].map((id) => el(id).value);
    return drill().rows.filter((row) =>
      (!who || text(row[WHO]) === who) && (!whom || text(row[WHOM]) === whom) && (!event || text(row[EVENT]) === event));
  };
  const buildFilters = () => {
    const options = (id, column) => {
      const names = [...new Set(drill().rows.map((row) => text(row[column])))].filter(Boolean).sort();
      const select = el(id), kept = select.value;
      select.replaceChildren(html('option', { value: '' }, null, 'anything'));
      for (const name of names) html('option', { value: name }, select, name);
      select.value = names.includes(kept) ? kept : '';
    };
    options('who', WHO); options('whom', WHOM); options('event', EVENT);
    const zoom = el('zoom'), kept = zoom.value;
    zoom.replaceChildren(html('option', { value: '' }, null, 'the arena'));
    for (const { id } of drill().actors.slice(0, 200)) html('option', { value: id }, zoom, 'around ' + id);
    zoom.value = drill().actors.some(({ id }) => id === kept) ? kept : '';
    // Where a wide arena would be flat, or the player too small, the player is followed.
    const scale = el('arena').clientWidth / data.size[0];
    const player = drill().actors.find((own) => data.specs[own.spec].player);
    const small = player && (data.size[1] * scale < LEAST_HIGH || data.specs[player.spec].size * scale < LEAST_PLAYER);
    if (!state.asked && small) zoom.value = player.id;
  };
  let pad = null;
  const buildRows = () => {
    state.rows = filtered();
    const more = drill().left_out;
    el('count').textContent = `${state.rows.length} of ${drill().rows.length} events` + (more ? `; ${more} later lines are left out for want of room` : '');
    el('rows').replaceChildren();
    pad = html('div', { className: 'pad' }, el('rows'));
    pad.style.height = `${state.rows.length * ROW}px`;
    drawRows();
  };
  const tones = ['', 'harm', 'rejected'];
  const drawRows = () => {
    const box = el('rows');
    const from = Math.max(Math.floor(box.scrollTop / ROW) - 10, 0);
    const to = Math.min(from + Math.ceil(box.clientHeight / ROW) + 20, state.rows.length);
    pad.replaceChildren();
    box.removeAttribute('aria-activedescendant');
    for (let nth = from; nth < to; nth++) {
      const row = state.rows[nth];
      const names = ['row', tones[row[TONE]]];
      if (row[TICK] === state.tick) names.push('now');
      if (row[LINE] === state.chosen) names.push('chosen');
      const line = html('div', { className: names.join(' ') }, pad);
      line.setAttribute('role', 'option');
      line.setAttribute('aria-selected', row[LINE] === state.chosen);
      line.id = `line-${row[LINE]}`;
      line.setAttribute('aria-posinset', nth + 1);
      line.setAttribute('aria-setsize', state.rows.length);
      line.style.top = `${nth * ROW}px`;
      line.dataset.line = row[LINE];
      html('time', {}, line, seconds(row[TICK]));
      const words = [WHO, WHAT, WHOM].map((column) => text(row[column])).filter(Boolean).join(' ');
      line.append(words + (text(row[OUTCOME]) ? ': ' + text(row[OUTCOME]) : ''));
      if (row[LINE] === state.chosen) box.setAttribute('aria-activedescendant', line.id);
      line.title = line.textContent + (text(row[RULE]) ? ', by ' + text(row[RULE]) : '');
    }
  };
  const follow = () => {
    if (el('follow').checked) {
      let nth = state.rows.findIndex((row) => row[TICK] > state.tick);
      if (nth < 0) nth = state.rows.length;
      const box = el('rows');
      box.scrollTop = Math.max((nth - 1) * ROW - box.clientHeight / 2, 0);
    }
    drawRows();
  };
  // A line further up or down of those that are shown; without one that is chosen, from the moment on.
  const chooseBy = (step) => {
    const { rows } = state;
    let nth = rows.findIndex((row) => row[LINE] === state.chosen);
    if (nth >= 0 || !Number.isFinite(step)) nth += step;
    else {
      nth = rows.findIndex((row) => row[TICK] >= state.tick);
      if (nth < 0) nth = rows.length - 1;
    }
    nth = Math.min(Math.max(nth, 0), rows.length - 1);
    if (nth < 0) return;
    choose(rows[nth][LINE]);
    const box = el('rows'), top = nth * ROW;
    if (top < box.scrollTop) box.scrollTop = top;
    if (top + ROW > box.scrollTop + box.clientHeight) box.scrollTop = top + ROW - box.clientHeight;
    drawRows();
  };
  const rowOf = (line) => drill().rows.find((row) => row[LINE] === line);
  const choose = (line) => {
    const row = rowOf(line);
    if (!row) return;
    state.chosen = line;
    const why = el('why');
    why.replaceChildren();
    const known = drill().why.find((own) => own.line === line);
    const jump = (label, to, words) => {
      const item = html('li', {}, list);
      const target = rowOf(to);
      const button = html('button', { type: 'button' }, item, `line ${to}`);
      button.onclick = () => { choose(to); };
      item.prepend(label + ' ');
      item.append(' ' + (words || (target ? `${text(target[WHO])} ${text(target[WHAT])} ${text(target[WHOM])}` : '')));
    };
    html('b', {}, why, known ? text(known.says) : `${text(row[WHO])} ${text(row[WHAT])} ${text(row[WHOM])} ${text(row[OUTCOME])}`);
    const list = html('ul', {}, why);
    if (known) {
      for (const [passed, check, says] of known.checks) {
        html('li', { className: passed ? '' : 'failed' }, list, `${passed ? '✓' : '✗'} ${text(check)}: ${text(says)}`);
      }
      if (known.change !== undefined) html('li', {}, list, 'to change it: ' + text(known.change));
      for (const [cause, says] of known.causes) jump('after', cause, text(says));
    } else {
      if (row[CAUSE]) jump('because of', row[CAUSE]);
      if (text(row[EVENT]) === 'hit') html('li', {}, list, 'too many to explain here: run tin-crown why');
    }
    if (row[BECAUSE]) jump('decided by', row[BECAUSE]);
    seek(row[TICK]);
  };

  // Time.
  const seek = (tick) => {
    state.tick = Math.min(Math.max(Math.round(tick), 0), drill().last);
    el('seek').value = state.tick;
    el('seek').setAttribute('aria-valuetext', `${seconds(state.tick)}, tick ${state.tick}`);
    el('now').textContent = `${seconds(state.tick)}, tick ${state.tick}`;
    drawArena();
    drawSide();
    follow();
    drawCursor();
    if (!state.playing) remember();
  };
  const remember = () => {
    const chosen = rowOf(state.chosen);
    const line = chosen && chosen[TICK] === state.tick ? `&line=${state.chosen}` : '';
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
    if (row) choose(row[LINE]);
  };

  const show = (nth, tick) => {
    state.drill = nth; state.chosen = null;
    play(false);
    el('drill').selectedIndex = nth;
    for (const own of document.querySelectorAll('[data-drill]')) own.hidden = Number(own.dataset.drill) !== nth;
    el('seek').max = drill().last;
    state.tick = 0;
    buildFilters(); buildArena(); buildSide(); buildRows();
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
  el('zoom').onchange = () => { state.asked = true; drawArena(); drawSide(); };
  el('seen').onchange = () => { buildSide(); drawSide(); };
  el('seek').oninput = () => { play(false); seek(Number(el('seek').value)); };
  for (const id of ['who', 'whom', 'event']) el(id).onchange = () => { buildRows(); follow(); };
  el('rows').onscroll = drawRows;
  el('rows').onclick = (event) => {
    const line = event.target.closest('.row');
    if (line) { play(false); choose(Number(line.dataset.line)); }
  };
  el('rows').onkeydown = (event) => {
    const page = Math.floor(el('rows').clientHeight / ROW) - 1;
    const far = { ArrowUp: -1, ArrowDown: 1, PageUp: -page, PageDown: page, Home: -Infinity, End: Infinity }[event.key];
    if (far === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    play(false);
    chooseBy(far);
  };
  el('link').onclick = () => {
    remember();
    if (navigator.clipboard) navigator.clipboard.writeText(location.href).then(() => { el('link').textContent = 'Copied'; }, () => {});
  };
  el('theme').onclick = () => {
    const dark = getComputedStyle(document.documentElement).colorScheme.includes('dark');
    document.documentElement.dataset.theme = dark ? 'light' : 'dark';
  };
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
  addEventListener('resize', () => { drawCursor(); pinNames(); });
  // Whether a key is for what has the focus.
  const keeps = ({ target, key }) => {
    const own = target.closest && target.closest('input,select,button,summary');
    if (!own) return false;
    if (own.matches('select')) return true;
    return own.type === 'range' ? /^(Arrow|Home|End)/.test(key) : key === ' ';
  };
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
    if (asked.get('line')) choose(Number(asked.get('line')));
  }
})();
