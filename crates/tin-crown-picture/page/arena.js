  // The arena on a canvas, and below it the same from a side, where it has heights.
  const LEFT = 1, INVINCIBLE = 2, GUARDING = 4, DYING = 8;
  // An arena drawn lower than this, in pixels, shows too little.
  const LEAST_HIGH = 200;
  // Nor can a player be made out that is smaller than this.
  const LEAST_PLAYER = 12;
  const makeArena = (redraw) => {
    const drawings = makeSprites(redraw);
    const canvas = el('arena'), side = el('side');
    const SORTS = { hit: 'hit', hurt: 'hurt', sensor: 'sensor' };
    // Each kind has a number, by which its pictures are known.
    const kindsKnown = new Map();
    let colour = null;
    const colours = () => {
      const style = getComputedStyle(document.documentElement);
      colour = {};
      for (const name of ['ground', 'arena', 'solid', 'ink', 'faint', 'copper', 'pewter', 'brass', 'verdigris', 'oxblood']) colour[name] = style.getPropertyValue(`--${name}`).trim();
      const tile = document.createElement('canvas');
      tile.width = tile.height = 7;
      const paint = tile.getContext('2d');
      paint.globalAlpha = 0.14;
      paint.fillStyle = colour.copper;
      paint.fillRect(0, 0, 7, 7);
      paint.globalAlpha = 1;
      paint.strokeStyle = colour.copper;
      paint.lineWidth = 1.5;
      paint.beginPath();
      for (const shift of [-7, 0, 7]) { paint.moveTo(shift - 1, 8); paint.lineTo(shift + 8, -1); }
      paint.stroke();
      colour.hatch = tile;
      sprites.clear();
    };
    // What is drawn often, as a picture of its own; forgotten when there are too many.
    const SPRITES = 3000;
    const sprites = new Map();
    const sprite = (key, make) => {
      if (!sprites.has(key)) {
        if (sprites.size >= SPRITES) sprites.clear();
        sprites.set(key, make());
      }
      return sprites.get(key);
    };
    const easel = (wide, high) => {
      const own = document.createElement('canvas'), ratio = devicePixelRatio || 1;
      own.width = Math.ceil(wide * ratio);
      own.height = Math.ceil(high * ratio);
      const paint = own.getContext('2d');
      paint.scale(ratio, ratio);
      return { own, paint };
    };
    // Puts a picture on the canvas, on whole pixels.
    const stick = (paint, { own }, x, y) => {
      const ratio = devicePixelRatio || 1;
      paint.drawImage(own, Math.round(x * ratio) / ratio, Math.round(y * ratio) / ratio, own.width / ratio, own.height / ratio);
    };

    // The outline of a box, facing right or left: as a path, and points on it.
    const outlines = new Map();
    const outline = (box, left) => {
      const line = (left && box.left) || box.right;
      if (!outlines.has(line)) {
        const path = document.createElementNS('http://www.w3.org/2000/svg', 'path');
        path.setAttribute('d', line);
        const length = path.getTotalLength();
        const points = [...line.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);
        for (let nth = 0; line.includes('A') && nth < 64; nth++) {
          const { x, y } = path.getPointAtLength(length * nth / 64);
          points.push([x, y]);
        }
        outlines.set(line, { path: new Path2D(line), points });
      }
      return outlines.get(line);
    };
    // How large a box is by now, and how far it is turned.
    const grown = (box, actor, tick) => {
      if (!box.grows) return 1;
      const [from, to, ticks] = box.grows;
      return from + (to - from) * (ticks > 1 ? Math.min((tick - actor.born) / (ticks - 1), 1) : 1);
    };
    const turned = (box, actor) => box.turns ? actor.turned * Math.PI / 2048 : 0;

    // How each sort of box looks: fill, share of it, line, width, dashes.
    const style = (box, live, actor, sees) => {
      const on = box.sort in SORTS ? live : true;
      if (!on && box.sort !== 'sensor') return [null, 0, 'faint', 1, [2, 4]];
      switch (box.sort) {
        case 'hit': return ['hatch', 1, 'copper', 1.6, []];
        case 'hurt': return actor.flags & INVINCIBLE ? ['verdigris', 0.16, 'verdigris', 1.6, [8, 3, 2, 3]] : ['pewter', 0.16, 'pewter', 1.6, []];
        case 'body': return [null, 0, 'ink', 1, [1, 3]];
        case 'solid': return ['solid', drawings.seen(actor.spec.sprite) ? 0.3 : 1, 'ink', 1.6, []];
        case 'pickup': return ['verdigris', 0.3, 'verdigris', 1.6, []];
        case 'sensor': return sees ? ['brass', 0.12, 'brass', 2.4, [7, 4]] : [null, 0, 'brass', 1.6, [7, 4]];
        case 'guard': return [null, 0, 'verdigris', 3.5, []];
        case 'boxless': return ['arena', 1, 'ink', 1.6, []];
        default: return [null, 0, 'ink', 1.6, []];
      }
    };
    // The boxes of an actor that are drawn, each with its look.
    const looks = (actor) => {
      const [hit, hurt, sees] = actor.live.split('|');
      const at = { hit: 0, hurt: 0, sensor: 0 };
      return actor.spec.boxes.flatMap((box) => {
        const nth = at[box.sort]++;
        if (box.sort === 'guard' && !(actor.flags & GUARDING)) return [];
        if (box.sort === 'boxless' && drawings.seen(actor.spec.sprite)) return [];
        const live = box.sort === 'hit' ? hit[nth] === '1' : box.sort === 'hurt' ? hurt[nth] === '1' : true;
        return [{ box, live, look: style(box, live, actor, box.sort === 'sensor' && sees[nth] === '1') }];
      });
    };
    const paintPath = (paint, path, [fill, share, line, width, dashes], scale) => {
      if (fill === 'hatch') {
        paint.fillStyle = sprite(`hatch ${scale}`, () => {
          const pattern = paint.createPattern(colour.hatch, 'repeat');
          pattern.setTransform(new DOMMatrix().scale(1 / scale));
          return pattern;
        });
        paint.fill(path);
      } else if (fill) {
        const { globalAlpha } = paint;
        paint.globalAlpha = globalAlpha * share;
        paint.fillStyle = colour[fill];
        paint.fill(path);
        paint.globalAlpha = globalAlpha;
      }
      paint.strokeStyle = colour[line];
      paint.lineWidth = width / scale;
      paint.lineCap = width > 3 ? 'round' : 'butt';
      paint.setLineDash(dashes.map((own) => own / scale));
      paint.stroke(path);
    };

    // The canvas as wide as there is room, and as high as what is shown asks for. Asked of the page once, not each time.
    const widths = new Map();
    const watch = new ResizeObserver((all) => { for (const { target } of all) widths.set(target, target.clientWidth); });
    const widthOf = (on) => {
      if (!widths.get(on)) {
        widths.set(on, on.clientWidth || on.parentElement.clientWidth);
        watch.observe(on);
      }
      return widths.get(on);
    };
    const fit = (on, [width, height], most) => {
      const wide = widthOf(on);
      const scale = Math.min(wide / width, most / height);
      const high = Math.round(height * scale), ratio = devicePixelRatio || 1;
      if (on.width !== Math.round(wide * ratio) || on.height !== Math.round(high * ratio)) {
        on.style.height = `${high}px`;
        on.width = Math.round(wide * ratio);
        on.height = Math.round(high * ratio);
      }
      const paint = on.getContext('2d');
      paint.setTransform(ratio, 0, 0, ratio, 0, 0);
      paint.fillStyle = colour.ground;
      paint.fillRect(0, 0, wide, high);
      return { paint, scale, wide, high, left: (wide - width * scale) / 2 };
    };
    const letters = (wide) => Math.min(Math.max(wide / (innerWidth < 820 ? 36 : 62), 10.5), 17);
    // A name as a picture: half its width, and where its line is.
    const label = (paint, words, weight, size) => sprite(`label ${weight} ${size} ${words}`, () => {
      const font = `${weight} ${size}px Inter,'Helvetica Neue',Arial,'Liberation Sans',sans-serif`;
      paint.font = font;
      const half = paint.measureText(words).width / 2 + 3;
      const drawn = easel(2 * half + 2, size * 1.6);
      const own = drawn.paint;
      own.font = font;
      own.textAlign = 'center';
      if (weight === 600) {
        own.lineJoin = 'round';
        own.lineWidth = 4;
        own.strokeStyle = colour.arena;
        own.strokeText(words, half + 1, size * 1.2);
      }
      own.fillStyle = colour.ink;
      own.fillText(words, half + 1, size * 1.2);
      return { own: drawn.own, half, line: size * 1.2 };
    });
    const write = (paint, own, x, y) => stick(paint, own, x - own.half - 1, y - own.line);
    const short = (id) => id.length > 18 ? `${id.slice(0, 9)}…${id.slice(-8)}` : id;
    const path = ([x, y, width, height]) => {
      const own = new Path2D();
      own.rect(x, y, width, height);
      return own;
    };
    const goalLook = ({ exit }) => exit ? ['ink', 0.08, 'ink', 1.6, [10, 4]] : ['verdigris', 0.12, 'verdigris', 1.6, [2, 3]];

    // What was drawn last: who, where on the canvas, their boxes, and the names.
    let seen = { actors: [], names: [], region: null, tick: 0 };
    const place = ({ x, y }) => [seen.left + (x - seen.region[0]) * seen.scale, (y - seen.region[1]) * seen.scale];
    const withActor = (paint, actor, then) => {
      const [x, y] = place(actor);
      paint.save();
      paint.translate(x, y);
      paint.scale(seen.scale, seen.scale);
      then();
      paint.restore();
    };
    const withBox = (paint, box, actor, tick, then) => {
      const size = grown(box, actor, tick), turn = turned(box, actor);
      if (size === 1 && turn === 0) { then(seen.scale); return; }
      paint.save();
      paint.rotate(turn);
      paint.scale(size, size);
      then(seen.scale * size);
      paint.restore();
    };
    // In a crowd everyone who looks alike is one picture, put where each stands.
    const CROWD = 60, LARGE = 300;
    const stamp = (paint, actor, tick) => {
      if (actor.turned || actor.spec.boxes.some((box) => box.turns || box.grows)) return false;
      if (!kindsKnown.has(actor.spec)) kindsKnown.set(actor.spec, kindsKnown.size);
      const key = `actor ${kindsKnown.get(actor.spec)} ${actor.flags} ${actor.live} ${seen.scale} ${drawings.key(actor.spec.sprite, actor, tick)}`;
      const picture = sprite(key, () => {
        const points = actor.spec.boxes.flatMap((box) => outline(box, (actor.flags & LEFT) !== 0).points);
        if (actor.spec.sprite) points.push(...drawings.corners(actor.spec.sprite));
        const [low, high] = [0, 1].map((axis) => [Math.min, Math.max].map((far) => far(...points.map((point) => point[axis])) * seen.scale)).reduce((x, y) => [[x[0], y[0]], [x[1], y[1]]]);
        const size = [0, 1].map((axis) => high[axis] - low[axis] + 8);
        if (Math.max(...size) > LARGE) return null;
        const drawn = easel(...size);
        const kept = { ...seen };
        // Its own place is where the picture begins.
        Object.assign(seen, { left: 4 - low[0], region: [actor.x, actor.y - (4 - low[1]) / seen.scale, 1, 1] });
        drawSprite(drawn.paint, actor, tick);
        drawActor(drawn.paint, actor, tick);
        Object.assign(seen, kept);
        return { own: drawn.own, x: low[0] - 4, y: low[1] - 4 };
      });
      if (!picture) return false;
      const [x, y] = place(actor);
      stick(paint, picture, x + picture.x, y + picture.y);
      return true;
    };
    const drawSprite = (paint, actor, tick) => withActor(paint, actor, () => drawings.draw(paint, actor.spec.sprite, actor, tick));
    const drawActor = (paint, actor, tick, look) => drawings.boxes() && withActor(paint, actor, () => {
      for (const own of looks(actor)) {
        withBox(paint, own.box, actor, tick, (scale) => paintPath(paint, outline(own.box, (actor.flags & LEFT) !== 0).path, look?.(own) ?? own.look, scale));
      }
    });
    const tops = new Map();
    const top = (actor) => {
      if (tops.has(actor.spec)) return tops.get(actor.spec);
      let least = 0;
      for (const box of actor.spec.boxes) if (!['sensor', 'guard', 'nose'].includes(box.sort)) for (const [, y] of outline(box, false).points) least = Math.min(least, y);
      tops.set(actor.spec, least);
      return least;
    };

    // Draws everyone of a tick: around somebody, or the whole arena; ghosts faintly beneath.
    const draw = (actors, { tick, around, ghosts = [], floor = -Infinity, notes = new Map(), bars = false }) => {
      if (!colour) colours();
      const centre = actors.find((own) => own.id === around);
      const size = centre ? [data.size[0] / 4, data.size[1] / 2] : data.size;
      const corner = centre
        ? [Math.min(Math.max(centre.x - size[0] / 2, 0), data.size[0] - size[0]), Math.min(Math.max(centre.y - size[1] / 2, 0), data.size[1] - size[1])]
        : [0, 0];
      const most = innerWidth < 820 ? 4000 : innerHeight * 0.62;
      const { paint, scale, wide, high, left } = fit(canvas, size, most);
      seen = { actors, names: [], region: [...corner, ...size], scale, left, tick };
      paint.save();
      paint.beginPath();
      paint.rect(left, 0, size[0] * scale, high);
      paint.clip();
      paint.fillStyle = colour.arena;
      paint.fillRect(left, 0, size[0] * scale, high);
      paint.save();
      paint.translate(left - corner[0] * scale, -corner[1] * scale);
      paint.scale(scale, scale);
      for (const solid of data.solids) {
        // Seen from above, what nobody begins beneath is a floor.
        const share = solid.span && solid.span[1] <= floor ? 0.35 : solid.one_way ? 0.5 : 1;
        paintPath(paint, path(solid.rect), ['solid', share, 'ink', 1.6, solid.one_way ? [6, 3] : []], scale);
      }
      for (const goal of data.goals) {
        const [x, y, width, height] = goal.rect;
        paint.save();
        paint.translate(x + width / 2, y + height / 2);
        drawings.draw(paint, goal.sprite, { flags: 0, turned: 0, clip: 0, since: 0 }, tick);
        paint.restore();
        if (drawings.boxes()) paintPath(paint, path(goal.rect), goalLook(goal), scale);
      }
      paint.restore();
      paint.globalAlpha = 0.5;
      for (const ghost of ghosts) drawActor(paint, ghost, tick, ({ box }) => ['hit', 'sensor', 'guard'].includes(box.sort) ? [null, 0, 'faint', 0, []] : ['faint', 0.1, 'faint', 1.4, [5, 3]]);
      paint.globalAlpha = 1;
      const crowd = actors.length > CROWD;
      const others = actors.filter((actor) => !crowd || !stamp(paint, actor, tick));
      for (const actor of others) drawSprite(paint, actor, tick);
      for (const actor of others) drawActor(paint, actor, tick);
      paint.restore();
      if (bars) for (const actor of actors) drawBar(paint, actor);
    const leftOut = drawNames(paint, wide, high, notes, bars ? BAR + 3 : 0);
      paint.strokeStyle = colour.ink;
      paint.setLineDash([]);
      paint.lineWidth = 1.5;
      paint.strokeRect(left + 0.75, 0.75, size[0] * scale - 1.5, high - 1.5);
      return leftOut;
    };
    // Health as a bar over the head, what is lost in oxblood.
    const BAR = 4, LONG = 30;
    const health = ({ meters }) => meters.match(/(?:^| · )health (-?[\d.]+) \/ ([\d.]+)/);
    const drawBar = (paint, actor) => {
      const found = health(actor);
      if (!found) return;
      const share = Math.min(Math.max(found[1] / found[2], 0), 1);
      const [x, y] = place({ x: actor.x, y: actor.y + top(actor) });
      paint.setLineDash([]);
      paint.lineWidth = 1;
      paint.fillStyle = colour.oxblood;
      paint.fillRect(x - LONG / 2, y - BAR - 3, LONG, BAR);
      paint.fillStyle = colour.verdigris;
      paint.fillRect(x - LONG / 2, y - BAR - 3, LONG * share, BAR);
      paint.strokeStyle = colour.arena;
      paint.strokeRect(x - LONG / 2 - 0.5, y - BAR - 3.5, LONG + 1, BAR + 1);
    };
    // Names that would lie on each other, or on somebody else if that can be helped, go up; those for which
    // there is no room are left out, and counted.
    const drawNames = (paint, wide, high, notes, above) => {
      const size = letters(wide);
      const goals = data.goals.map((goal) => ({ words: goal.name, weight: 400, steps: 1, at: place({ x: goal.rect[0] + goal.rect[2] / 2, y: goal.rect[1] }) }));
      const people = seen.actors.map((actor) => {
        const [x, y] = place({ x: actor.x, y: actor.y + top(actor) });
        const note = notes.get(actor.id);
        return { words: short(actor.id) + (note ? ` ♪ ${note}` : ''), weight: 600, steps: 3, at: [x, y - (health(actor) ? above : 0)] };
      });
      const feet = seen.actors.map((actor) => place(actor));
      const meets = (own, y) => seen.names.some((other) => Math.abs(other.x - own.x) < other.wide + own.wide && Math.abs(other.y - y) < size * 1.15);
      const covers = (own, y) => feet.some(([x, foot]) => Math.abs(x - own.at[0]) < own.wide && foot > y - size && foot < y + 4);
      let leftOut = 0;
      // Of a crowd only some can be told apart.
      for (const own of [...goals, ...people.slice(0, 120)]) {
        const picture = label(paint, own.words, own.weight, size);
        own.wide = picture.half;
        const inside = own.at[0] >= 0 && own.at[0] <= wide && own.at[1] >= -40 && own.at[1] <= high + 40;
        if (!inside) continue;
        own.x = Math.min(Math.max(own.at[0], own.wide), wide - own.wide);
        const free = [...Array(own.steps).keys()].map((nth) => own.at[1] - 5 - nth * size * 1.2)
          .filter((y) => y > size && y < high && !meets(own, y));
        const y = free.find((y) => !covers(own, y)) ?? free[0];
        if (y === undefined) { leftOut += own.steps > 1 ? 1 : 0; continue; }
        seen.names.push({ words: own.words, x: own.x, y, wide: own.wide, high: size });
        write(paint, picture, own.x, y);
      }
      return leftOut + Math.max(people.length - 120, 0);
    };

    // The same from a side: across it x or y, height upward. Each box is as wide as it is seen from above.
    let range = [0, 1];
    // From how low to how high it goes: what is told once, of the whole time.
    const heights = (all) => {
      const [low, high] = all.reduce(([low, high], own) => [Math.min(low, own), Math.max(high, own)], [data.ground ?? 0, data.ground ?? 0]);
      const room = Math.max((high - low) * 0.1, 12);
      range = [low - room, high + 3 * room];
    };
    let across = 0, beside = { actors: [] };
    const drawSide = () => {
      side.toggleAttribute('hidden', !data.high);
      el('seen').parentElement.hidden = !data.high;
      if (!data.high) return;
      across = el('seen').value === 'right' ? 1 : 0;
      const wide = data.size[across], tall = range[1] - range[0];
      const view = fit(side, [wide, tall], innerHeight * 0.4);
      const { paint, scale, left } = view;
      beside = { actors: [], wide };
      const box = (from, to, [low, high], look) => paintPath(paint, path([left + from * scale, (range[1] - high) * scale, Math.max(to - from, 0) * scale, (high - low) * scale]), look, 1);
      paint.fillStyle = colour.arena;
      paint.fillRect(left, 0, wide * scale, tall * scale);
      if (data.ground !== undefined) box(0, wide, [range[0], data.ground], ['solid', 0.35, 'ink', 1.6, []]);
      for (const { rect, span, one_way } of data.solids) box(rect[across], rect[across] + rect[2 + across], span ?? range, ['solid', 0.35, 'ink', 1.6, one_way ? [6, 3] : []]);
      for (const goal of data.goals) box(goal.rect[across], goal.rect[across] + goal.rect[2 + across], goal.span ?? range, goalLook(goal));
      const size = letters(view.wide), placed = [];
      for (const actor of seen.actors) {
        let head = -Infinity;
        const spans = [];
        const at = across ? actor.y : actor.x;
        for (const { box: own, look } of looks(actor)) {
          const shown = own.sort === 'sensor' ? own.span || own.ray : !['guard', 'nose', 'boxless'].includes(own.sort);
          if (!shown) continue;
          const turn = turned(own, actor), grows = grown(own, actor, seen.tick);
          const onto = ([x, y]) => at + grows * (across ? x * Math.sin(turn) + y * Math.cos(turn) : x * Math.cos(turn) - y * Math.sin(turn));
          const { points } = outline(own, (actor.flags & LEFT) !== 0);
          const reach = points.map(onto);
          if (own.ray) {
            const line = new Path2D();
            const end = (nth) => [left + reach[nth] * scale, (range[1] - own.ray[nth] - actor.z) * scale];
            line.moveTo(...end(0));
            line.lineTo(...end(reach.length - 1));
            paintPath(paint, line, look, 1);
            continue;
          }
          const span = own.span ? own.span.map((height) => height + actor.z) : range;
          const [from, to] = [Math.min(...reach), Math.max(...reach)];
          box(from, to, span, look);
          spans.push({ sort: own.sort, from, to, span });
          if (own.span && own.sort !== 'sensor') head = Math.max(head, span[1]);
        }
        beside.actors.push({ id: actor.id, spans });
        const picture = label(paint, actor.id, 600, size);
        const { half } = picture;
        const x = Math.min(Math.max(left + at * scale, half), view.wide - half);
        let y = (range[1] - (head === -Infinity ? actor.z : head)) * scale - 5;
        for (let tries = 0; tries < 8 && placed.some((own) => Math.abs(own.x - x) < own.half + half && Math.abs(own.y - y) < size * 1.15); tries++) y -= size * 1.2;
        placed.push({ x, y, half });
        write(paint, picture, x, y);
      }
      paint.setLineDash([]);
      paint.strokeStyle = colour.ink;
      paint.lineWidth = 1.5;
      paint.strokeRect(left + 0.75, 0.75, wide * scale - 1.5, view.high - 1.5);
    };

    // The uppermost box under a point of the canvas.
    const at = (x, y) => {
      const paint = canvas.getContext('2d'), ratio = devicePixelRatio || 1;
      for (const actor of [...seen.actors].reverse()) {
        let found = null;
        withActor(paint, actor, () => {
          for (const { box, live } of looks(actor).reverse()) {
            if (found || ['sensor', 'nose', 'guard'].includes(box.sort)) continue;
            withBox(paint, box, actor, seen.tick, () => {
              if (paint.isPointInPath(outline(box, (actor.flags & LEFT) !== 0).path, x * ratio, y * ratio)) found = { id: actor.id, kind: actor.spec.kind, box: box.name, sort: box.sort, live };
            });
          }
        });
        if (found) return found;
      }
      return null;
    };
    canvas.addEventListener('pointermove', (event) => {
      const found = at(event.offsetX, event.offsetY);
      canvas.title = found ? `${found.box} of ${found.id}` : '';
    });

    // A level that would be too flat, or whose player too small, is better seen around the player.
    const isSmall = (player) => {
      const scale = canvas.clientWidth / data.size[0];
      return data.size[1] * scale < LEAST_HIGH || player.size * scale < LEAST_PLAYER;
    };
    // Other kinds are drawn from now on.
    const forget = () => {
      for (const known of [sprites, outlines, tops, kindsKnown]) known.clear();
    };
    // What is drawn can be asked of the canvas itself.
    canvas.seen = () => ({ ...seen, looks });
    side.seen = () => beside;
    for (const own of [el('layers'), el('opacity')]) own.addEventListener('input', redraw);
    drawings.begin();
    return { begin: drawings.begin, draw, drawSide, heights, at, isSmall, recolour: () => { colour = null; }, forget };
  };
  // How everyone stands, in words.
  let castShown = null;
  const drawCast = (actors) => {
    const some = actors.slice(0, 40).map((actor) => [actor.id, [actor.meters, actor.doing, actor.flags & INVINCIBLE ? 'invincible' : ''].filter(Boolean).join(' · ')]);
    const all = some.filter(([, words]) => words);
    const key = all.join();
    if (key === castShown) return;
    castShown = key;
    const cast = el('cast');
    cast.replaceChildren();
    for (const [id, words] of all) {
      const item = html('li', {}, cast);
      html('b', {}, item, id);
      item.append(words);
    }
  };
