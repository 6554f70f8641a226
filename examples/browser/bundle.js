// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// Reads a bundle of format 4 and draws its levels. Nothing but what browsers have, written from
// docs/format/bundle.md: it shows how a game in the browser may do it.

const SWAP = 4, MIRROR = 1, UPSIDE_DOWN = 2;
const PART = 65536, LONGEST = 8192;
const NO_BORDERS = { left: 0, top: 0, right: 0, bottom: 0, middle: "stretched" };

/** A bundle's manifest, and its pieces cut from the pages. */
export class Bundle {
  /** Load a bundle from the folder that an address names. */
  static async load(folder) {
    for (;;) {
      const manifest = await (await fetch(`${folder}bundle.json`, { cache: "no-cache" })).json();
      if (manifest.format !== 4) throw new Error(`This reader knows format 4, not ${manifest.format}.`);
      const pages = await Promise.all(manifest.pages.map((page) => loadPage(folder, page, manifest.files)));
      const levels = await Promise.all(manifest.levels.map((level) => loadLevel(folder, level, manifest.files)));
      if ([...pages, ...levels].every(Boolean)) return new Bundle({ ...manifest, levels }, pages);
    }
  }

  /** A bundle whose manifest is at hand, with its pages in it. */
  static async of(manifest) {
    const levels = await Promise.all(manifest.levels.map((level) => loadLevel("", level, {})));
    const pages = await Promise.all(manifest.pages.map((page) => loadPage("", page, {})));
    return new Bundle({ ...manifest, levels }, pages);
  }

  constructor(manifest, pages) {
    this.manifest = manifest;
    this.pages = pages;
    this.pieces = new Map(manifest.pieces.map((piece) => [piece.number, piece]));
    this.pictures = new Map();
    this.poses = new Map();
    this.unit = manifest.units === "units" ? manifest.pixels_per_unit : 1;
    this.playing = new Map();
    for (const animation of [...manifest.animations].reverse()) {
      if (animation.in_cells && animation.frames.length) this.playing.set(animation.frames[0], animation);
    }
  }

  level(name) {
    const found = this.manifest.levels.find((level) => !name || level.name === name);
    if (!found) throw new Error(`There is no level “${name}” in this bundle.`);
    return found;
  }

  /** A place of a level in pixels, y down. */
  place([x, y]) {
    return [thousandth(x * this.unit), thousandth((this.manifest.y_up ? -y : y) * this.unit)];
  }

  /** How large a piece stands in levels: a unit is a unit there, however it was drawn. */
  size({ size, pixels_per_unit: own }) {
    const unit = this.manifest.pixels_per_unit;
    const sized = (side) => Math.floor((2 * side * unit + own) / (2 * own));
    return size.map((side) => Math.min(Math.max(1, sized(side)), LONGEST));
  }

  /** A piece's pivot as it stands in levels, in pixels from its upper left corner. */
  pivot(number) {
    const piece = this.pieces.get(number), [width, height] = this.size(piece);
    const unit = this.manifest.units === "units" ? piece.pixels_per_unit : 1;
    const [x, down] = piece.pivot.map((side) => thousandth(side * unit));
    const y = this.manifest.y_up ? piece.size[1] - down : down;
    return [(x * width) / piece.size[0], (y * height) / piece.size[1]];
  }

  /** A piece's borders as it stands in levels; a pixel is left between them. */
  borders(number) {
    const piece = this.pieces.get(number), { borders } = piece;
    if (!borders) return NO_BORDERS;
    const [width, height] = this.size(piece);
    const [left, right] = sizedEnds(borders.left, borders.right, piece.size[0], width);
    const [top, bottom] = sizedEnds(borders.top, borders.bottom, piece.size[1], height);
    return { left, right, top, bottom, middle: borders.middle };
  }

  /** A piece's pixels as it stands in levels, whole, turned and flipped: {width, height, data} with
   * straight alpha. */
  picture(number, orientation = 0) {
    const key = number * 8 + orientation;
    if (!this.pictures.has(key)) this.pictures.set(key, turned(this.standing(number), orientation));
    return this.pictures.get(key);
  }

  standing(number) {
    const piece = this.pieces.get(number), picture = this.cut(piece), [width, height] = this.size(piece);
    if (width === picture.width && height === picture.height) return picture;
    const columns = shownOf(picture.width, width, 0, 0), rows = shownOf(picture.height, height, 0, 0);
    return sampled(picture, width, height, (x, y) => [columns[x], rows[y]]);
  }

  cut(piece) {
    const page = this.pages[piece.page];
    const [left, top, width, height] = piece.rect;
    const result = { width: piece.size[0], height: piece.size[1] };
    result.data = new Uint8ClampedArray(result.width * result.height * 4);
    const kept = piece.turned ? [height, width] : [width, height];
    for (let y = 0; y < kept[1]; y++) {
      for (let x = 0; x < kept[0]; x++) {
        const from = piece.turned ? [left + kept[1] - 1 - y, top + x] : [left + x, top + y];
        const source = (from[1] * page.width + from[0]) * 4;
        const to = ((y + piece.offset[1]) * result.width + x + piece.offset[0]) * 4;
        result.data.set(page.data.subarray(source, source + 4), to);
      }
    }
    return result;
  }

  /** A piece as a prop shows it, and where its pivot lies in that picture. */
  posed(number, prop) {
    const { orientation, across, down, angle } = prop;
    const key = [number, orientation, across, down, angle].join();
    if (!this.poses.has(key)) this.poses.set(key, this.pose(number, prop));
    return this.poses.get(key);
  }

  pose(number, { orientation, across, down, angle }) {
    const plain = this.picture(number);
    const width = drawnSide(plain.width, across), height = drawnSide(plain.height, down);
    const borders = this.borders(number);
    const tiled = borders.middle === "tiled";
    const same = width === plain.width && height === plain.height;
    const columns = same ? null : shownOf(plain.width, width, borders.left, borders.right, tiled);
    const rows = same ? null : shownOf(plain.height, height, borders.top, borders.bottom, tiled);
    const picture = same ? plain : sampled(plain, width, height, (x, y) => [columns[x], rows[y]]);
    let [x, y] = this.pivot(number);
    [x, y] = [(x * width) / plain.width, (y * height) / plain.height];
    const turn = turned(picture, orientation);
    if (orientation & SWAP) [x, y] = [y, x];
    if (orientation & MIRROR) x = turn.width - x;
    if (orientation & UPSIDE_DOWN) y = turn.height - y;
    const degrees = ((angle % 360) + 360) % 360;
    return degrees ? rotated(turn, x, y, degrees) : [turn, [x, y]];
  }

  /** The frame that an animation shows after so many seconds. */
  frame(animation, seconds) {
    const steps = animation.frames.flatMap((frame, i) => Array(animation.holds[i]).fill(frame));
    let step = Math.floor(seconds * animation.rate);
    if (animation.play === "once") return steps[Math.min(step, steps.length - 1)];
    if (animation.play === "loop" || steps.length < 2) return steps[step % steps.length];
    step %= 2 * steps.length - 2;
    return steps[step < steps.length ? step : 2 * steps.length - 2 - step];
  }
}

/** An area of a level, drawn layer by layer onto pixels. */
export class View {
  constructor(bundle, level, width, height) {
    Object.assign(this, { bundle, level, width, height });
    this.pixels = new Uint8ClampedArray(width * height * 4);
  }

  /** The area at x, y. `draws` is called where whoever walks there is to be drawn: before the
   * layers that lie over them. */
  draw(x, y, seconds = 0, draws = () => {}) {
    this.clear();
    this.level.layers.forEach((layer, place) => {
      if (place === this.level.front) draws();
      if (layer.visible) this.drawLayer(layer, x, y, seconds);
    });
    if (this.level.front >= this.level.layers.length) draws();
    return this.image();
  }

  /** A rectangle of the area in one colour. */
  fill(left, top, width, height, colour) {
    const data = new Uint8ClampedArray(width * height * 4);
    for (let i = 0; i < data.length; i += 4) data.set(colour, i);
    this.blend({ width, height, data }, left, top, [255], []);
  }

  clear() {
    const [red, green, blue] = this.level.background;
    for (let i = 0; i < this.pixels.length; i += 4) this.pixels.set([red, green, blue, 255], i);
  }

  image() {
    return new ImageData(this.pixels, this.width, this.height);
  }

  drawLayer(layer, x, y, seconds) {
    this.drawCells(layer, x, y, seconds);
    this.drawProps(layer, x, y, seconds);
  }

  /** The cells of a layer, or those that `shows` is true of, by piece and row. */
  drawCells(layer, x, y, seconds, shows = () => true) {
    const [left, top] = corner(layer, x, y), opacity = byteOf(layer.opacity);
    const [width, height] = this.bundle.manifest.tile;
    for (const row of layer.cells) {
      for (const [column, number, turn] of cellsOf(row)) {
        if (!shows(number, row.y)) continue;
        const animation = this.bundle.playing.get(number);
        const shown = animation ? this.bundle.frame(animation, seconds) : number;
        const picture = this.bundle.picture(shown, turn);
        const down = (row.y + 1) * height - picture.height - top;
        this.blend(picture, column * width - left, down, [opacity], layer.tint ? [layer.tint] : []);
      }
    }
  }

  drawProps(layer, x, y, seconds) {
    const [left, top] = corner(layer, x, y), opacity = byteOf(layer.opacity), props = [...layer.props];
    if (this.level.view === "top-down") {
      props.sort((a, b) => this.bundle.place([a.x, a.y])[1] - this.bundle.place([b.x, b.y])[1]);
    }
    for (const prop of props) this.drawProp(prop, layer, left, top, opacity, seconds);
  }

  drawProp(prop, layer, left, top, opacity, seconds) {
    const { sheet } = this.bundle.pieces.get(prop.piece);
    const animation = this.bundle.manifest.animations.find(
      (one) => one.sheet === sheet && one.name === prop.animation,
    );
    const number = animation ? this.bundle.frame(animation, seconds + prop.phase) : prop.piece;
    const [picture, [pivotX, pivotY]] = this.bundle.posed(number, prop);
    const [placeX, placeY] = this.bundle.place([prop.x, prop.y]);
    const x = Math.floor(placeX - pivotX) - left, y = Math.floor(placeY - pivotY) - top;
    const tints = [prop.tint, layer.tint].filter(Boolean);
    const opacities = [byteOf(prop.opacity), opacity];
    const starts = (start, length, whole, again) => {
      if (!again) return [start];
      const first = ((start % length) + length) % length - length;
      return Array.from({ length: Math.ceil((whole - first) / length) }, (_, n) => first + n * length);
    };
    for (const down of starts(y, picture.height, this.height, layer.repeated_down)) {
      for (const across of starts(x, picture.width, this.width, layer.repeated)) {
        this.blend(picture, across, down, opacities, tints);
      }
    }
  }

  /** (source × alpha + below × (255 − alpha) + 127) / 255, on whole numbers. */
  blend(picture, x, y, opacities, tints) {
    const bottom = Math.min(picture.height, this.height - y);
    const right = Math.min(picture.width, this.width - x);
    for (let row = Math.max(0, -y); row < bottom; row++) {
      for (let column = Math.max(0, -x); column < right; column++) {
        const at = (row * picture.width + column) * 4;
        let alpha = picture.data[at + 3];
        for (const opacity of opacities) {
          if (opacity !== 255) alpha = Math.floor((alpha * opacity + 127) / 255);
        }
        if (!alpha) continue;
        const to = ((y + row) * this.width + x + column) * 4;
        for (let channel = 0; channel < 3; channel++) {
          let colour = picture.data[at + channel];
          for (const tint of tints) colour = Math.floor((colour * tint[channel] + 127) / 255);
          const below = this.pixels[to + channel];
          this.pixels[to + channel] = Math.floor((colour * alpha + below * (255 - alpha) + 127) / 255);
        }
      }
    }
  }
}

/** How long a side is drawn. */
function drawnSide(pixels, factor) {
  return Math.min(Math.max(1, Math.floor(pixels * factor + 0.5)), LONGEST);
}

/** An opacity from 0 to 255. */
function byteOf(share) {
  return Math.floor(share * 255 + 0.5);
}

/** Places are told to six decimals of a unit. */
function thousandth(number) {
  return Math.round(number * 1000) / 1000;
}

/** Which pixel of a side each one shows; those of borders keep their size if they have room. */
function shownOf(side, wanted, first, last, tiled) {
  if (first + last >= Math.min(side, wanted)) [first, last, tiled] = [0, 0, false];
  const middle = side - first - last, long = wanted - first - last;
  return Array.from({ length: wanted }, (_, at) => {
    if (at < first) return at;
    if (at >= wanted - last) return side - wanted + at;
    const step = at - first;
    return first + (tiled ? step % middle : Math.floor(((2 * step + 1) * middle) / (2 * long)));
  });
}

/** A picture whose pixel at x, y is that of another at `from(x, y)`; clear outside of it. */
function sampled(picture, width, height, from) {
  const result = { width, height, data: new Uint8ClampedArray(width * height * 4) };
  for (let row = 0; row < height; row++) {
    for (let column = 0; column < width; column++) {
      const [x, y] = from(column, row);
      if (x < 0 || y < 0 || x >= picture.width || y >= picture.height) continue;
      const source = (y * picture.width + x) * 4;
      result.data.set(picture.data.subarray(source, source + 4), (row * width + column) * 4);
    }
  }
  return result;
}

/** The borders of a side that is drawn in another length. */
function sizedEnds(first, last, side, wanted) {
  const [begin, end] = [first, last].map((one) => Math.floor((2 * one * wanted + side) / (2 * side)));
  const before = Math.min(begin, wanted - 1);
  return [before, Math.min(end, wanted - before - 1)];
}

/** A picture in one of the eight orientations. */
function turned(picture, orientation) {
  if (!orientation) return picture;
  const swaps = orientation & SWAP, { width, height } = picture;
  const [across, down] = swaps ? [height, width] : [width, height];
  return sampled(picture, across, down, (column, row) => {
    if (orientation & MIRROR) column = across - 1 - column;
    if (orientation & UPSIDE_DOWN) row = down - 1 - row;
    return swaps ? [row, column] : [column, row];
  });
}

/** A picture turned clockwise about its pivot, with sine and cosine in whole 65536ths. */
function rotated(picture, pivotX, pivotY, degrees) {
  const cos = Math.floor(Math.cos((degrees * Math.PI) / 180) * PART + 0.5);
  const sin = Math.floor(Math.sin((degrees * Math.PI) / 180) * PART + 0.5);
  const corners = [0, picture.width].flatMap((x) =>
    [0, picture.height].map((y) => [
      (x - pivotX) * cos - (y - pivotY) * sin,
      (x - pivotX) * sin + (y - pivotY) * cos,
    ]),
  );
  const [left, top] = [0, 1].map((i) => Math.floor(Math.min(...corners.map((c) => c[i])) / PART));
  const [right, bottom] = [0, 1].map((i) => Math.ceil(Math.max(...corners.map((c) => c[i])) / PART));
  const turned = sampled(picture, right - left, bottom - top, (column, row) => {
    const across = column + left + 0.5, down = row + top + 0.5;
    return [
      Math.floor((across * cos + down * sin) / PART + pivotX),
      Math.floor((down * cos - across * sin) / PART + pivotY),
    ];
  });
  return [turned, [-left, -top]];
}

/** Column, piece number and orientation of each painted cell, of runs or plain rows. */
/** Where the upper left corner of the view lies in the plane of a layer. */
const corner = (layer, x, y) =>
  layer.parallax === 1 ? [x, y] : [x * layer.parallax, y * layer.parallax].map(Math.floor);

export function* cellsOf(row) {
  let column = row.x;
  if (row.numbers) {
    for (let i = 0; i < row.numbers.length; i++, column++) {
      if (row.numbers[i]) yield [column, row.numbers[i], row.orientations[i]];
    }
    return;
  }
  for (const [number, count, turn = 0] of row.cells) {
    if (number) for (let step = 0; step < count; step++) yield [column + step, number, turn];
    column += count;
  }
}

/** A page, or null when its file belongs to another bundle, which is being written just now. */
async function loadPage(folder, page, hashes) {
  const { file } = page.densities.reduce((a, b) => (a.density <= b.density ? a : b));
  const address = file.startsWith("data:") ? file : folder + file;
  const blob = await (await fetch(address, { cache: "no-cache" })).blob();
  if (hashes[file] && (await sha256(blob)) !== hashes[file]) return null;
  const image = await createImageBitmap(blob, { premultiplyAlpha: "none", colorSpaceConversion: "none" });
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = page.size;
  const context = canvas.getContext("2d", { willReadFrequently: true });
  context.imageSmoothingEnabled = false;
  context.drawImage(image, 0, 0, canvas.width, canvas.height);
  return context.getImageData(0, 0, canvas.width, canvas.height);
}

/** A level with its cells, in whatever files they are, or null when one of them belongs to another
 * bundle. A game loads the chunks it needs. */
async function loadLevel(folder, level, hashes) {
  const whole = level.file ? await loadJson(folder, level.file, hashes) : level;
  const chunks = await Promise.all((whole?.chunks ?? []).map((chunk) => loadJson(folder, chunk.file, hashes)));
  if (!whole || !chunks.every(Boolean)) return null;
  const layers = whole.layers.map(async (layer, place) => {
    const rows = [layer.cells, ...chunks.map((chunk) => chunk.layers[place])].flat();
    const cells = (await Promise.all(rows.map(unpacked))).flat();
    return { ...layer, cells: cells.sort((a, b) => a.y - b.y || a.x - b.x) };
  });
  return { ...whole, layers: await Promise.all(layers) };
}

async function loadJson(folder, file, hashes) {
  const blob = await (await fetch(folder + file, { cache: "no-cache" })).blob();
  return (await sha256(blob)) === hashes[file] ? JSON.parse(await blob.text()) : null;
}

/** A packed block as plain rows; other rows as they are. */
async function unpacked(row) {
  if (!row.packed) return row;
  const { x, y, width, height } = row, count = width * height;
  const packed = Uint8Array.from(atob(row.packed), (letter) => letter.charCodeAt(0));
  const stream = new Blob([packed]).stream().pipeThrough(new DecompressionStream("deflate"));
  const data = new DataView(await new Response(stream).arrayBuffer());
  const each = Array.from({ length: count }, (_, place) => place);
  const numbers = each.map((place) => data.getUint32(4 * place, true));
  const orientations = each.map((place) => data.getUint8(4 * count + place));
  return Array.from({ length: height }, (_, line) => {
    const cut = (values) => values.slice(line * width, (line + 1) * width);
    return { x, y: y + line, numbers: cut(numbers), orientations: cut(orientations) };
  });
}

/** The SHA-256 of a blob in hexadecimal. */
async function sha256(blob) {
  const hash = await crypto.subtle.digest("SHA-256", await blob.arrayBuffer());
  return [...new Uint8Array(hash)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
