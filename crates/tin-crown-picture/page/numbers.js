  // The numbers of the encounter: found by typing, or by what was clicked; changed in place.
  const SHOWN = 80;
  const makeNumbers = ({ send }) => {
    let all = [], kinds = {}, changes = new Map(), about = null;
    const quoted = (name) => /[.[=]/.test(name) ? `"${name}"` : name;
    // A kind, what it is like, and so on.
    const line = (kind) => {
      const own = [];
      for (let next = kind; next && !own.includes(next); next = kinds[next]) own.push(next);
      return own;
    };
    const SORT = { hit: 'hitbox', hurt: 'hurtbox', sensor: 'sensor' };
    const place = (id) => {
      const base = id.replace(/_\d+$/, '');
      return all.some(([path]) => path.startsWith(`place.${quoted(id)}.`)) ? id : base;
    };
    const show = (words, prefixes) => { about = { words, prefixes }; el('find').value = ''; build(); };
    const ofBox = ({ id, kind, box, sort }) => {
      const kinds = line(kind).map(quoted);
      const own = SORT[sort] ? kinds.map((kind) => `kind.${kind}.${SORT[sort]}.${quoted(box)}`) : kinds.map((kind) => `kind.${kind}.${sort}`);
      show(`${box} of ${id}, a ${kind}`, [...own, `place.${quoted(place(id))}`, ...kinds.map((kind) => `kind.${kind}`)]);
    };
    const ofRule = (rule) => show(`rule ${rule}`, [`rule.${quoted(rule)}`]);
    const found = () => {
      const words = el('find').value.toLowerCase().split(/\s+/).filter(Boolean);
      if (words.length) return all.filter(([path]) => words.every((word) => path.toLowerCase().includes(word)));
      if (!about) return [...all.filter(([path]) => changes.has(path)), ...all.filter(([path]) => !changes.has(path))];
      const of = (path) => about.prefixes.findIndex((prefix) => path === prefix || path.startsWith(`${prefix}.`) || path.startsWith(`${prefix}[`));
      return all.filter(([path]) => of(path) >= 0).sort(([a], [b]) => of(a) - of(b));
    };
    const build = () => {
      const list = el('numbers');
      // Who types in a number is not disturbed.
      if (list.contains(document.activeElement) && document.activeElement.matches('input')) return;
      const some = found();
      el('about').textContent = el('find').value ? '' : about ? about.words : '';
      list.replaceChildren();
      for (const [nth, [path, value]] of some.slice(0, SHOWN).entries()) {
        const item = html('li', {}, list);
        const id = `number-${nth}`;
        const change = changes.get(path);
        item.classList.toggle('changed', Boolean(change));
        const label = html('label', { htmlFor: id }, item, path);
        if (change) label.append(' ', html('small', {}, null, `file: ${change.was ?? 'not written'}`));
        const type = typeof value === 'number' ? 'number' : typeof value === 'boolean' ? 'checkbox' : 'text';
        const input = html('input', { id, type, step: 'any' }, item);
        if (type === 'checkbox') input.checked = value; else input.value = value;
        input.dataset.path = path;
        input.onchange = () => {
          const given = type === 'number' ? input.valueAsNumber : type === 'checkbox' ? input.checked : input.value;
          if (!Number.isNaN(given)) send({ do: 'set', path, value: given });
        };
        if (change) html('button', { type: 'button', title: 'Give it back' }, item, '↺').onclick = () => send({ do: 'unset', path });
      }
      if (some.length > SHOWN) html('li', { className: 'faint' }, list, `and ${some.length - SHOWN} more: type to find them`);
      if (!some.length) html('li', { className: 'faint' }, list, 'none is written in the file');
    };
    el('find').oninput = () => { about = null; build(); };
    el('all').onclick = () => { about = null; el('find').value = ''; build(); };
    el('write').onclick = () => send({ do: 'write' });
    return {
      begin: (numbers, like) => { all = numbers; kinds = like; build(); },
      changed: (list) => {
        changes = new Map(list.map(([path, value, was]) => [path, { value, was }]));
        el('write').disabled = changes.size === 0;
        el('write').textContent = changes.size ? `Write ${changes.size} to the file` : 'Write to the file';
        build();
      },
      told: ({ what, lines, first, unfit }) => {
        const list = el('changed');
        list.replaceChildren();
        html('li', {}, list, `${what}: ${lines.length ? `from ${seconds(first)} on it is not as it was` : 'nothing is otherwise up to here'}`);
        for (const line of lines) html('li', {}, list, line);
        if (unfit) html('li', {}, list, `${unfit} inputs are of nobody who is there now`);
      },
      ofBox, ofRule,
    };
  };
