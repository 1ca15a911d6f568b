  // What both pages need of a document.
  const el = (id) => document.getElementById(id);
  const html = (name, attributes, parent, words) => {
    const node = document.createElement(name);
    Object.assign(node, attributes);
    if (words !== undefined) node.textContent = words;
    if (parent) parent.append(node);
    return node;
  };
  const data = JSON.parse(el('data').textContent);
  const seconds = (tick) => (tick / data.rate).toFixed(3) + ' s';
  // Whether a key is for what has the focus.
  const keeps = ({ target, key }) => {
    const own = target.closest && target.closest('input,select,textarea,button,summary');
    if (!own) return false;
    if (own.matches('select,textarea')) return true;
    if (own.matches('button,summary')) return key === ' ' || key === 'Enter';
    return own.type === 'range' ? /^(Arrow|Home|End|Page)/.test(key) : own.type === 'checkbox' ? key === ' ' : true;
  };
  const whenLooksChange = (then) => {
    el('theme').onclick = () => {
      const dark = getComputedStyle(document.documentElement).colorScheme.includes('dark');
      document.documentElement.dataset.theme = dark ? 'light' : 'dark';
      then();
    };
    matchMedia('(prefers-color-scheme:dark)').addEventListener('change', then);
  };
