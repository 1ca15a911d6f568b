  // The ledger as a list that scrolls, is filtered, and tells why.
  const ROW = 22;
  // A row: tick, line, who, what, whom, rule, outcome, tone, cause, because, event.
  const TICK = 0, LINE = 1, WHO = 2, WHAT = 3, WHOM = 4, RULE = 5, OUTCOME = 6, TONE = 7, CAUSE = 8, BECAUSE = 9, EVENT = 10;
  const REJECTED = 2;
  // `host` has all rows, how many lines are left out, the present tick, the texts, and what is done with a chosen line.
  const makeLedger = (host) => {
    const text = host.text;
    const box = el('rows');
    let shown = [], chosen = null, pad = null;
    const rowOf = (line) => {
      const rows = host.rows();
      let low = 0, high = rows.length;
      while (low < high) {
        const middle = (low + high) >> 1;
        if (rows[middle][LINE] < line) low = middle + 1; else high = middle;
      }
      return rows[low]?.[LINE] === line ? rows[low] : undefined;
    };
    const words = (row) => [WHO, WHAT, WHOM].map((column) => text(row[column])).filter(Boolean).join(' ');
    const passes = (row) => {
      const [who, whom, event] = ['who', 'whom', 'event'].map((id) => el(id).value);
      return (!who || text(row[WHO]) === who) && (!whom || text(row[WHOM]) === whom) && (!event || text(row[EVENT]) === event);
    };
    const buildFilters = () => {
      for (const [id, column] of [['who', WHO], ['whom', WHOM], ['event', EVENT]]) {
        const names = [...new Set(host.rows().map((row) => text(row[column])))].filter(Boolean).sort();
        const select = el(id), kept = select.value;
        if (select.options.length === names.length + 1 && names.every((name, nth) => select.options[nth + 1].value === name)) continue;
        select.replaceChildren(html('option', { value: '' }, null, 'anything'));
        for (const name of names) html('option', { value: name }, select, name);
        select.value = names.includes(kept) ? kept : '';
      }
    };
    const build = () => {
      shown = host.rows().filter(passes);
      const more = host.leftOut();
      el('count').textContent = `${shown.length} of ${host.rows().length} events` + (more ? `; ${more}` : '');
      if (!pad) {
        box.replaceChildren();
        pad = html('div', { className: 'pad' }, box);
      }
      pad.style.height = `${shown.length * ROW}px`;
      draw();
    };
    const tones = ['', 'harm', 'rejected'];
    const draw = () => {
      const from = Math.max(Math.floor(box.scrollTop / ROW) - 10, 0);
      const to = Math.min(from + Math.ceil(box.clientHeight / ROW) + 20, shown.length);
      pad.replaceChildren();
      box.removeAttribute('aria-activedescendant');
      for (let nth = from; nth < to; nth++) {
        const row = shown[nth];
        const names = ['row', tones[row[TONE]]];
        if (row[TICK] === host.tick()) names.push('now');
        if (row[LINE] === chosen) names.push('chosen');
        const line = html('div', { className: names.join(' ') }, pad);
        line.setAttribute('role', 'option');
        line.setAttribute('aria-selected', row[LINE] === chosen);
        line.id = `line-${row[LINE]}`;
        line.setAttribute('aria-posinset', nth + 1);
        line.setAttribute('aria-setsize', shown.length);
        line.style.top = `${nth * ROW}px`;
        line.dataset.line = row[LINE];
        html('time', {}, line, seconds(row[TICK]));
        line.append(words(row) + (text(row[OUTCOME]) ? ': ' + text(row[OUTCOME]) : ''));
        if (row[LINE] === chosen) box.setAttribute('aria-activedescendant', line.id);
        line.title = line.textContent + (text(row[RULE]) ? ', by ' + text(row[RULE]) : '');
      }
    };
    const follow = () => {
      if (el('follow').checked) {
        let low = 0, high = shown.length;
        while (low < high) {
          const middle = (low + high) >> 1;
          if (shown[middle][TICK] <= host.tick()) low = middle + 1; else high = middle;
        }
        box.scrollTop = Math.max((low - 1) * ROW - box.clientHeight / 2, 0);
      }
      draw();
    };
    const choose = (line) => {
      if (!rowOf(line)) return;
      chosen = line;
      host.chosen(line);
    };
    // A line further up or down of those that are shown; without one that is chosen, from the moment on.
    const chooseBy = (step) => {
      let nth = shown.findIndex((row) => row[LINE] === chosen);
      if (nth >= 0 || !Number.isFinite(step)) nth += step;
      else {
        nth = shown.findIndex((row) => row[TICK] >= host.tick());
        if (nth < 0) nth = shown.length - 1;
      }
      nth = Math.min(Math.max(nth, 0), shown.length - 1);
      if (nth < 0) return;
      choose(shown[nth][LINE]);
      const top = nth * ROW;
      if (top < box.scrollTop) box.scrollTop = top;
      if (top + ROW > box.scrollTop + box.clientHeight) box.scrollTop = top + ROW - box.clientHeight;
      draw();
    };
    // Why a line came about: what is known of it, else what the line itself says. Texts are strings here.
    const explain = (line, known) => {
      const row = rowOf(line), why = el('why');
      if (!row) return;
      why.replaceChildren();
      const list = html('ul', {});
      const jump = (label, to, says) => {
        const item = html('li', {}, list);
        const target = rowOf(to);
        const button = html('button', { type: 'button' }, item, `line ${to}`);
        button.onclick = () => choose(to);
        item.prepend(label + ' ');
        item.append(' ' + (says || (target ? words(target) : '')));
      };
      html('b', {}, why, known ? known.says : `${words(row)} ${text(row[OUTCOME])}`);
      why.append(list);
      if (known) {
        for (const [passed, check, says] of known.checks) html('li', { className: passed ? '' : 'failed' }, list, `${passed ? '✓' : '✗'} ${check}: ${says}`);
        if (known.change) html('li', {}, list, 'to change it: ' + known.change);
        for (const [cause, says] of known.causes) jump('after', cause, says);
      } else {
        if (row[CAUSE]) jump('because of', row[CAUSE]);
        if (text(row[EVENT]) === 'hit' && host.unexplained) html('li', {}, list, host.unexplained);
      }
      if (row[BECAUSE]) jump('decided by', row[BECAUSE]);
    };
    for (const id of ['who', 'whom', 'event']) el(id).onchange = () => { build(); follow(); };
    box.onscroll = draw;
    box.onclick = (event) => {
      // Else by its place: the line may have been drawn anew since it was pressed.
      const line = event.target.closest('.row')?.dataset.line;
      const row = line ? rowOf(Number(line)) : shown[Math.floor((event.clientY - pad.getBoundingClientRect().top) / ROW)];
      if (row) { host.pause(); choose(row[LINE]); }
    };
    box.onkeydown = (event) => {
      const page = Math.floor(box.clientHeight / ROW) - 1;
      const far = { ArrowUp: -1, ArrowDown: 1, PageUp: -page, PageDown: page, Home: -Infinity, End: Infinity }[event.key];
      if (far === undefined || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      host.pause();
      chooseBy(far);
    };
    return { buildFilters, build, draw, follow, choose, explain, rowOf, words, reset: () => { chosen = null; }, chosen: () => chosen };
  };
