  // Playing: what is shown comes over a socket, tick by tick; what hands do goes back.
  // How often lists are drawn anew while time runs, in milliseconds.
  const LISTS = 100;
  // How long a cue is seen, in seconds.
  const CUE = 0.8;
  // Between two drawings at least, in milliseconds.
  const APART = 9;
  // How long a frame of the screen is, in milliseconds.
  const FRAME = 17;
  let socket = null, gone = false;
  const send = (order) => { if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(order)); };
  const state = { mode: 'paused', tick: 0, end: 0, texts: [], specs: [], cast: [], rows: [], actors: [], ghosts: [], told: null, watches: false, leftOut: 0, hit: null, players: [], last: {} };
  const text = (at) => state.texts[at];
  const say = (says, tone) => {
    el('said').textContent = says;
    el('said').className = tone ?? '';
  };

  const arena = makeArena(() => drawSoon());
  const numbers = makeNumbers({ send });
  const keys = makeKeys({
    press: (button, down) => {
      send({ do: 'press', button, down });
      // The first press begins.
      if (down && state.mode === 'paused' && state.tick === 0 && state.end === 0) send({ do: 'play' });
    },
    pause: () => send({ do: 'pause' }),
  });
  const ledger = makeLedger({
    text,
    rows: () => state.rows,
    leftOut: () => state.leftOut ? `${state.leftOut} earlier lines are left out` : '',
    tick: () => state.tick,
    pause: () => send({ do: 'pause' }),
    chosen: (line) => {
      explain(line, null);
      send({ do: 'seek', tick: ledger.rowOf(line)[TICK] });
      if (text(ledger.rowOf(line)[EVENT]) === 'hit') send({ do: 'why', line });
    },
  });
  const explain = (line, known) => {
    ledger.explain(line, known);
    const row = ledger.rowOf(line), rule = row && text(row[RULE]);
    if (rule) html('button', { type: 'button' }, el('why'), `numbers of ${rule}`).onclick = () => { tab('numbers'); numbers.ofRule(rule); };
  };

  // A tick, as it was told.
  const take = ({ end, after, told }) => {
    state.texts.push(...told.texts);
    state.specs.push(...told.specs);
    for (const [id, spec] of told.cast) state.cast.push({ id, spec });
    if (after < (state.rows.at(-1)?.[LINE] ?? 0)) {
      let keep = state.rows.length;
      while (keep > 0 && state.rows[keep - 1][LINE] > after) keep--;
      state.rows.length = keep;
    }
    for (const row of told.rows) state.rows.push(row);
    const actor = (nth) => ({ id: state.cast[nth].id, spec: state.specs[state.cast[nth].spec] });
    state.tick = told.tick;
    state.end = end;
    state.actors = told.actors.map(([nth, x, y, z, flags, live, doing, meters, born, turned, clip, since]) => ({
      ...actor(nth), x: x / data.parts, y: y / data.parts, z: z / data.parts, flags, live: text(live), doing: text(doing), meters: text(meters), born, turned, clip, since,
    }));
    state.ghosts = told.ghosts.map(([nth, x, y, z, flags, turned]) => ({
      ...actor(nth), x: x / data.parts, y: y / data.parts, z: z / data.parts, flags, live: '||', born: 0, turned, clip: 0, since: 0,
    }));
  };

  let drawn = 0, took = 0, waiting = false, lists = 0;
  // What was announced a moment ago, by whom.
  const cues = () => {
    const notes = new Map();
    for (let nth = state.rows.length - 1; nth >= 0 && state.rows[nth][TICK] > state.tick - data.rate * CUE; nth--) {
      const row = state.rows[nth];
      if (text(row[EVENT]) === 'cue') notes.set(text(row[WHO]), text(row[WHAT]).replace(/^cue /, ''));
    }
    return notes;
  };
  const draw = () => {
    waiting = false;
    const begun = performance.now();
    const leftOut = arena.draw(state.actors, { tick: state.tick, around: el('zoom').value, ghosts: state.ghosts, floor: state.lowest ?? 0, notes: cues(), bars: true });
    arena.drawSide();
    document.documentElement.dataset.drawn = state.tick;
    // The rest changes only so often while time runs.
    if (state.mode === 'paused' || begun - lists > LISTS) drawLists(leftOut);
    drawn = performance.now();
    took = drawn - begun;
  };
  const drawLists = (leftOut) => {
    lists = performance.now();
    el('leftout').textContent = leftOut ? `names omitted for lack of space: ${leftOut}` : '';
    el('now').textContent = `${seconds(state.tick)}, tick ${state.tick}${state.tick < state.end ? ` of ${state.end}` : ''}`;
    const seek = el('seek');
    seek.max = state.end;
    seek.value = state.tick;
    seek.setAttribute('aria-valuetext', `${seconds(state.tick)}, tick ${state.tick} of ${state.end}`);
    drawCast(state.actors);
    const key = `${state.rows.length} ${state.rows.at(-1)?.[LINE]} ${state.mode === 'paused' ? state.tick : ''}`;
    if (key !== state.listed) {
      state.listed = key;
      ledger.buildFilters();
      ledger.build();
      ledger.follow();
      drawHit();
    }
    el('watch').disabled = state.tick >= state.end;
    el('play').textContent = state.mode === 'playing' ? 'Pause' : state.tick < state.end ? 'Play from here' : 'Play';
    drawMarks();
  };
  const drawSoon = () => {
    if (waiting || document.hidden) return;
    // As much time as drawing takes is left to hear what is told meanwhile, of which the last is drawn.
    const rest = drawn + took - performance.now();
    if (rest <= 0 && performance.now() - drawn > APART) { draw(); return; }
    waiting = true;
    if (rest > FRAME) setTimeout(draw, rest);
    else requestAnimationFrame(draw);
  };
  // The last hit up to now, in large letters.
  const drawHit = () => {
    const isHit = (row) => text(row[EVENT]) === 'hit';
    const row = state.rows.findLast((own) => isHit(own) && own[TONE] !== REJECTED) ?? state.rows.findLast(isHit);
    const button = el('hit');
    button.hidden = !row;
    if (!row || state.hit === row) return;
    state.hit = row;
    button.className = row[TONE] === REJECTED ? 'rejected' : '';
    button.replaceChildren(`${ledger.words(row)}${text(row[OUTCOME]) ? `: ${text(row[OUTCOME])}` : ''}`);
    html('small', {}, button, `${seconds(row[TICK])}, by ${text(row[RULE])}; why?`);
    button.onclick = () => { send({ do: 'pause' }); ledger.choose(row[LINE]); };
  };
  const drawMarks = () => {
    const marks = el('marks');
    marks.replaceChildren();
    const mark = (tick, name) => { html('i', { className: name }, marks).style.left = `calc(8px + (100% - 16px) * ${state.end ? tick / state.end : 0})`; };
    const { parting, branches, branch } = state.last;
    if (parting) mark(parting[0], '');
    const from = branches?.find((own) => own.id === branch)?.from;
    if (from) mark(from[1], 'from');
  };

  // What changes seldom.
  const settle = (now) => {
    const before = state.last;
    state.last = now;
    state.mode = now.mode;
    if (el('speed').value !== String(now.speed)) el('speed').value = String(now.speed);
    el('drive').value = now.driven ?? '';
    el('ghost').value = now.ghost ?? '';
    const player = state.players.find(({ id }) => id === now.driven);
    if (before.driven !== now.driven || state.fresh) keys.assign(player?.buttons ?? []);
    state.fresh = false;
    const { parting } = now;
    el('parting').textContent = !now.ghost ? '' : parting ? `${parting[1]} parts from ${now.ghost} at ${seconds(parting[0])}, tick ${parting[0]}` : `as ${now.ghost} up to here`;
    const ending = el('ending');
    const words = { won: 'Won', lost: 'Lost', ended: 'Over' }[now.outcome];
    if (before.outcome !== now.outcome) {
      ending.replaceChildren();
      if (words) html('span', { className: now.outcome }, ending, words);
    }
    const same = (key) => JSON.stringify(before[key]) === JSON.stringify(now[key]);
    if (!same('changes')) numbers.changed(now.changes);
    if (!same('branches')) drawBranches(now);
    lists = 0;
    drawSoon();
  };

  const drawBranches = ({ branches, branch }) => {
    const list = el('branches');
    list.replaceChildren();
    for (const { id, end, from } of branches) {
      const item = html('li', { className: id === branch ? 'current' : '' }, list);
      const words = [`Branch ${id}`, from ? `from ${from[0]} at ${seconds(from[1])}` : '', id === branch ? 'which is played' : `up to ${seconds(end)}`];
      item.append(words.filter(Boolean).join(', '), ' ');
      if (id !== branch) html('button', { type: 'button' }, item, 'Return to it').onclick = () => send({ do: 'switch', branch: id });
    }
  };

  const options = (id, names, none) => {
    const select = el(id), kept = select.value;
    select.replaceChildren();
    if (none !== undefined) html('option', { value: '' }, select, none);
    for (const name of names) html('option', { value: name }, select, name);
    if (names.includes(kept)) select.value = kept;
  };
  const does = {
    begin: (told) => {
      delete data.pictures;
      Object.assign(data, told.stage);
      Object.assign(state, { texts: [], specs: [], cast: [], rows: [], actors: [], ghosts: [], leftOut: told.left_out, players: told.players, fresh: true, hit: null });
      options('drive', told.players.map(({ id }) => id), told.players.length ? undefined : 'nobody');
      options('ghost', told.drills, 'none');
      options('zoom', told.players.map(({ id }) => id), 'the arena');
      for (const option of el('zoom').options) if (option.value) option.textContent = `around ${option.value}`;
      arena.forget();
      arena.begin();
      numbers.begin(told.numbers, told.kinds);
      state.sized = false;
    },
    tick: (told) => {
      take(told);
      if (!state.sized && state.actors.length) {
        state.sized = true;
        const heights = [...data.solids, ...data.goals].flatMap((own) => own.span ?? []);
        if (data.high) arena.heights([...heights, ...state.actors.flatMap(({ z, spec }) => [z, ...spec.boxes.flatMap((box) => (box.sort !== 'sensor' && box.span || []).map((own) => z + own))])]);
        state.lowest = Math.min(...state.actors.map(({ z }) => z));
        const player = state.actors.find(({ id }) => id === state.players[0]?.id);
        if (!state.asked && player && arena.isSmall(player.spec)) el('zoom').value = player.id;
      }
      drawSoon();
    },
    state: settle,
    changed: (told) => { numbers.told(told); },
    findings: ({ all }) => {
      const found = el('found');
      found.hidden = !all.length;
      found.replaceChildren();
      if (all.length) html('p', {}, found, 'The file has errors; the run stays as it was.');
      for (const own of all) {
        const item = html('p', {}, found);
        html('b', {}, item, own.at ? `${own.file ? `${own.file}, ` : ''}line ${own.at.line}: ` : '');
        item.append(own.message + (own.help ? `; ${own.help}` : ''));
        if (own.text) html('pre', {}, item, own.text);
      }
    },
    why: ({ line, known }) => { if (ledger.chosen() === line) explain(line, known); },
    draft: (told) => {
      el('keep').hidden = false;
      el('name').value = told.name;
      el('toml').textContent = told.toml;
      const list = el('expect');
      list.replaceChildren();
      for (const [nth, says] of told.expect.entries()) {
        const label = html('label', {}, html('li', {}, list));
        html('input', { type: 'checkbox', checked: true, value: nth }, label);
        label.append(` ${says}`);
      }
      el('name').focus();
      el('name').select();
    },
    kept: ({ says }) => { el('keep').hidden = true; say(says); },
    said: ({ tone, says }) => say(says, tone),
    role: ({ watches }) => {
      state.watches = watches;
      document.body.classList.toggle('watches', watches);
      el('role').textContent = watches ? 'This page watches: another one plays.' : '';
    },
    bye: () => { gone = true; say('tin-crown play has ended; this page shows what was last.'); },
  };
  const connect = () => {
    const address = new URL('socket', location.href);
    address.protocol = 'ws:';
    socket = new WebSocket(address);
    socket.onmessage = ({ data: message }) => {
      const told = JSON.parse(message);
      does[told.is]?.(told);
    };
    socket.onclose = () => {
      if (gone) return;
      say('no connection to tin-crown play; trying again', 'error');
      setTimeout(connect, 1000);
    };
    socket.onopen = () => { if (el('said').className === 'error') say(''); };
  };

  // What people do.
  const tab = (name) => {
    for (const own of document.querySelectorAll('[role=tab]')) {
      const on = own.id === `tab-${name}`;
      own.setAttribute('aria-selected', on);
      own.tabIndex = on ? 0 : -1;
      el(own.getAttribute('aria-controls')).hidden = !on;
    }
  };
  for (const own of document.querySelectorAll('[role=tab]')) {
    own.onclick = () => tab(own.id.slice(4));
    own.onkeydown = (event) => {
      const all = [...document.querySelectorAll('[role=tab]')];
      const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      if (!step) return;
      event.preventDefault();
      event.stopPropagation();
      const next = all[(all.indexOf(own) + step + all.length) % all.length];
      next.focus();
      next.click();
    };
  }
  const playOrPause = () => send({ do: state.mode === 'playing' ? 'pause' : 'play' });
  const rewind = (on) => {
    if (on === (state.rewinding ?? false)) return;
    state.rewinding = on;
    send({ do: on ? 'rewind' : 'play' });
  };
  el('play').onclick = playOrPause;
  el('watch').onclick = () => send({ do: 'watch' });
  el('back').onclick = () => send({ do: 'step', by: -1 });
  el('next').onclick = () => send({ do: 'step', by: 1 });
  el('undo').onclick = () => send({ do: 'undo' });
  el('rewind').onpointerdown = () => rewind(true);
  for (const end of ['pointerup', 'pointercancel']) addEventListener(end, () => rewind(false));
  el('rewind').onkeydown = (event) => { if (event.key === ' ' && !event.repeat) rewind(true); };
  el('rewind').onkeyup = (event) => { if (event.key === ' ') rewind(false); };
  el('speed').onchange = () => send({ do: 'speed', speed: Number(el('speed').value) });
  el('seek').oninput = () => send({ do: 'seek', tick: Number(el('seek').value) });
  el('drive').onchange = () => send({ do: 'drive', who: el('drive').value });
  el('ghost').onchange = () => send({ do: 'ghost', drill: el('ghost').value || null });
  el('zoom').onchange = () => { state.asked = true; draw(); };
  el('seen').onchange = () => draw();
  el('quit').onclick = () => {
    const unwritten = state.last.changes?.length ? ' The numbers that you changed are not written.' : '';
    if (confirm(`End tin-crown play?${unwritten} What was played and not kept is lost.`)) send({ do: 'quit' });
  };
  el('draft-here').onclick = () => send({ do: 'draft', whole: false });
  el('draft-whole').onclick = () => send({ do: 'draft', whole: true });
  el('keep').onsubmit = (event) => {
    event.preventDefault();
    const expect = [...el('expect').querySelectorAll('input:checked')].map((own) => Number(own.value));
    send({ do: 'keep', name: el('name').value, expect, golden: el('golden').checked });
  };
  el('arena').onclick = (event) => {
    const found = arena.at(event.offsetX, event.offsetY);
    if (found) { tab('numbers'); numbers.ofBox(found); }
  };
  whenLooksChange(() => { arena.recolour(); draw(); });
  // A click is no reason to take the keys from the game.
  addEventListener('click', (event) => { if (event.detail > 0) event.target.closest?.('button,select')?.blur(); });
  addEventListener('change', (event) => { if (event.target.matches?.('select')) event.target.blur(); });
  const time = {
    KeyP: playOrPause,
    KeyW: () => send({ do: 'watch' }),
    KeyZ: () => send({ do: 'undo' }),
    Comma: () => send({ do: 'step', by: -1 }),
    Period: () => send({ do: 'step', by: 1 }),
  };
  addEventListener('keydown', (event) => {
    if (event.key === 'Escape') { document.activeElement?.blur?.(); return; }
    if (event.ctrlKey || event.metaKey || event.altKey || keeps(event)) return;
    if (event.code === 'KeyR') { event.preventDefault(); if (!event.repeat) rewind(true); return; }
    if (keys.key(event, true)) { event.preventDefault(); return; }
    if (time[event.code]) { event.preventDefault(); time[event.code](); }
  });
  addEventListener('keyup', (event) => {
    if (event.code === 'KeyR') rewind(false);
    keys.key(event, false);
  });
  // Who looks elsewhere holds nothing.
  const leave = () => {
    keys.release();
    send({ do: 'release' });
    if (state.rewinding) { state.rewinding = false; send({ do: 'pause' }); }
  };
  addEventListener('blur', leave);
  document.addEventListener('visibilitychange', () => { if (document.hidden) leave(); else draw(); });
  addEventListener('resize', () => { arena.recolour(); draw(); });
  const poll = () => {
    keys.poll();
    requestAnimationFrame(poll);
  };
  requestAnimationFrame(poll);
  connect();
