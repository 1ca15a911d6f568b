  // Drawings under the boxes: sheets of cells, and which cell is shown when.
  const makeSprites = (redraw) => {
    const sheets = new Map();
    // The sheet of a sprite, once it is unpacked; what is drawn until then is drawn again.
    const sheet = (name) => {
      const address = data.pictures?.[name];
      if (!address) return null;
      if (!sheets.has(address)) {
        const image = new Image();
        sheets.set(address, image);
        image.onload = redraw;
        image.src = address;
      }
      const image = sheets.get(address);
      return image.complete && image.naturalWidth ? image : null;
    };
    const cell = ({ clips }, clip, since, tick) => {
      const [cells, round, repeats] = clips[clip];
      if (cells.length < 2 || !round) return cells[0];
      const elapsed = Math.max(tick - since, 0);
      const within = repeats ? elapsed % round : Math.min(elapsed, round - 1);
      return cells[Math.floor(within * cells.length / round)];
    };
    const opacity = () => el('opacity').value / 100;
    const shown = () => data.pictures !== undefined && el('layers').value !== 'boxes';
    return {
      boxes: () => data.pictures === undefined || el('layers').value !== 'sprites',
      // Whether there is something to be seen of a sprite.
      seen: (sprite) => sprite !== undefined && shown() && sheet(sprite.sheet) !== null,
      // What of it depends on anything but its place.
      key: (sprite, { clip, since }, tick) => sprite && shown() ? `${cell(sprite, clip, since, tick)} ${opacity()} ${el('layers').value} ${sheet(sprite.sheet) !== null}` : 'none',
      // The corners of its cells, around its owner's place.
      corners: ({ at, cell: [width, height], scale }) => [-1, 1].flatMap((x) => [-1, 1].map((y) => [Math.abs(at[0]) * x + x * width * scale / 2, at[1] + y * height * scale / 2])),
      // Draws a cell around the origin of the canvas.
      draw: (paint, sprite, { flags, turned, clip, since }, tick) => {
        const image = sprite && shown() && sheet(sprite.sheet);
        if (!image) return;
        const nth = cell(sprite, clip, since, tick);
        const { at, cell: [width, height], across, scale } = sprite;
        paint.save();
        paint.rotate(turned * Math.PI / 2048);
        if (flags & LEFT) paint.scale(-1, 1);
        paint.globalAlpha *= opacity();
        // Pixels stay crisp when they are enlarged.
        const { a, b } = paint.getTransform();
        paint.imageSmoothingEnabled = Math.hypot(a, b) * scale < 1;
        paint.drawImage(image, nth % across * width, Math.floor(nth / across) * height, width, height, at[0] - width * scale / 2, at[1] - height * scale / 2, width * scale, height * scale);
        paint.restore();
      },
      // The switch is there where there are sprites.
      begin: () => { for (const own of [el('layers'), el('opacity')]) own.closest('label').hidden = data.pictures === undefined; },
    };
  };
