  // Hands: which key, and which button of a gamepad, is which button of the encounter.
  const KEYS = 'tin-crown-keys';
  // Keys of time are no buttons.
  const TIME = ['KeyP', 'KeyR', 'KeyZ', 'KeyW', 'Comma', 'Period', 'Escape', 'Tab', 'Enter'];
  const KNOWN = { left: 'ArrowLeft', right: 'ArrowRight', up: 'ArrowUp', down: 'ArrowDown', jump: 'Space' };
  const SPARE = ['KeyX', 'KeyC', 'KeyV', 'KeyB', 'KeyS', 'KeyD', 'KeyF', 'KeyG', 'KeyA', 'KeyQ', 'KeyE', 'KeyT', 'Digit1', 'Digit2', 'Digit3', 'Digit4', 'Digit5', 'Digit6', 'Digit7', 'Digit8', 'Digit9', 'Digit0'];
  // The standard gamepad: four directions, then its other buttons in the order in which thumbs find them.
  const PAD = { left: 14, right: 15, up: 12, down: 13, jump: 0 };
  const SPARE_PAD = [2, 1, 3, 5, 7, 4, 6, 10, 11, 8];
  const STICK = 0.5;
  const makeKeys = ({ press, pause }) => {
    // The address has another port each time, so what is remembered is a cookie, which has none.
    const remembered = () => {
      const own = document.cookie.split('; ').find((own) => own.startsWith(`${KEYS}=`));
      try { return JSON.parse(decodeURIComponent(own.slice(KEYS.length + 1))); } catch { return {}; }
    };
    let buttons = [], keys = {}, pads = {}, waits = null;
    const held = new Map();
    const assign = (names) => {
      buttons = names;
      const saved = remembered();
      const spread = (own, known, spare) => {
        const taken = new Set();
        const given = {};
        for (const name of names) {
          const wanted = own?.[name] ?? known[name];
          if (wanted !== undefined && !taken.has(wanted)) { given[name] = wanted; taken.add(wanted); }
        }
        const rest = [...spare, ...Object.values(known)].filter((one) => !taken.has(one));
        for (const name of names) if (given[name] === undefined) given[name] = rest.shift();
        return given;
      };
      keys = spread(saved.keys, KNOWN, SPARE);
      pads = spread(saved.pads, PAD, SPARE_PAD);
      build();
    };
    const remember = () => {
      const saved = remembered();
      const all = { keys: { ...saved.keys, ...keys }, pads: { ...saved.pads, ...pads } };
      document.cookie = `${KEYS}=${encodeURIComponent(JSON.stringify(all))}; path=/; max-age=31536000; SameSite=Strict`;
    };
    const said = (code) => !code ? 'none' : ({ ArrowLeft: '←', ArrowRight: '→', ArrowUp: '↑', ArrowDown: '↓' })[code] ?? code.replace(/^(Key|Digit)/, '');
    const build = () => {
      const list = el('keys');
      list.replaceChildren();
      for (const name of buttons) {
        const item = html('li', {}, list);
        html('span', {}, item, name);
        const button = html('button', { type: 'button' }, item, waits === name ? 'press it…' : `${said(keys[name])} · pad ${pads[name] ?? 'none'}`);
        button.setAttribute('aria-label', `Change the key of ${name}: ${said(keys[name])}`);
        button.classList.toggle('waits', waits === name);
        button.onclick = () => { waits = waits === name ? null : name; pause(); build(); };
      }
    };
    // Takes a key for the button that waits for one; whoever had it gets the other's.
    const take = (of, code) => {
      const other = buttons.find((name) => of[name] === code);
      if (other) of[other] = of[waits];
      of[waits] = code;
      waits = null;
      remember();
      build();
    };
    // A button is down while any of what holds it is.
    const hold = (name, by, down) => {
      const all = held.get(name) ?? new Set();
      const was = all.size > 0;
      if (down) all.add(by); else all.delete(by);
      held.set(name, all);
      if (was !== all.size > 0) press(name, all.size > 0);
    };
    const release = () => held.clear();
    // Whether a key was a button's.
    const key = (event, down) => {
      if (waits && down && !TIME.includes(event.code)) { take(keys, event.code); return true; }
      const name = buttons.find((name) => keys[name] === event.code);
      if (!name) return false;
      if (!event.repeat) hold(name, event.code, down);
      return true;
    };
    const padDown = (pad, nth) => {
      const [x, y] = pad.axes;
      const stick = { 14: x < -STICK, 15: x > STICK, 12: y < -STICK, 13: y > STICK }[nth];
      return Boolean(stick || pad.buttons[nth]?.pressed);
    };
    const poll = () => {
      for (const pad of navigator.getGamepads?.() ?? []) {
        if (!pad) continue;
        if (waits) {
          const nth = pad.buttons.findIndex((own) => own.pressed);
          if (nth >= 0) take(pads, nth);
          continue;
        }
        for (const name of buttons) hold(name, `pad ${pad.index}`, pads[name] !== undefined && padDown(pad, pads[name]));
      }
    };
    addEventListener('gamepaddisconnected', ({ gamepad }) => { for (const name of buttons) hold(name, `pad ${gamepad.index}`, false); });
    return { assign, key, poll, release, keyOf: (name) => keys[name] };
  };
