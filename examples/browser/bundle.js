// Reads a bundle of format 2 and draws its levels. Nothing but what browsers have, written from
// docs/format/bundle.md: it shows how a game in the browser may do it.

const SWAP = 4, MIRROR = 1, UPSIDE_DOWN = 2;

/** A bundle's manifest, and its pieces cut from the pages. */
export class Bundle {
  /** Load a bundle from the folder that an address names. */
  static async load(folder) {
    for (;;) {
      const manifest = await (await fetch(`${folder}bundle.json`, { cache: "no-cache" })).json();
      if (manifest.format !== 2) throw new Error(`This reader knows format 2, not ${manifest.format}.`);
      const pages = await Promise.all(manifest.pages.map((page) => loadPage(folder, page, manifest.files)));
      if (pages.every(Boolean)) return new Bundle(manifest, pages);
    }
  }

  constructor(manifest, pages) {
    this.manifest = manifest;
    this.pages = pages;
    this.pieces = new Map(manifest.pieces.map((piece) => [piece.number, piece]));
    this.pictures = new Map();
    this.unit = manifest.units === "units" ? manifest.pixels_per_unit : 1;
    this.playing = new Map();
    for (const animation of manifest.animations) {
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
    return [x * this.unit, (this.manifest.y_up ? -y : y) * this.unit];
  }

  /** A piece's pivot in pixels from its upper left corner. */
  pivot(number) {
    const piece = this.pieces.get(number);
    const unit = this.manifest.units === "units" ? piece.pixels_per_unit : 1;
    const [x, y] = piece.pivot.map((side) => side * unit);
    return [x, this.manifest.y_up ? piece.size[1] - y : y];
  }

  /** A piece's pixels, whole, turned and flipped: {width, height, data} with straight alpha. */
  picture(number, orientation = 0) {
    const key = number * 8 + orientation;
    if (!this.pictures.has(key)) this.pictures.set(key, this.cut(number, orientation));
    return this.pictures.get(key);
  }

  cut(number, orientation) {
    const piece = this.pieces.get(number);
    const page = this.pages[piece.page];
    const [left, top, width, height] = piece.rect;
    const [whole, high] = piece.size;
    const swaps = orientation & SWAP;
    const result = { width: swaps ? high : whole, height: swaps ? whole : high };
    result.data = new Uint8ClampedArray(result.width * result.height * 4);
    const kept = piece.turned ? [height, width] : [width, height];
    for (let y = 0; y < kept[1]; y++) {
      for (let x = 0; x < kept[0]; x++) {
        const from = piece.turned ? [left + kept[1] - 1 - y, top + x] : [left + x, top + y];
        let [toX, toY] = [x + piece.offset[0], y + piece.offset[1]];
        if (swaps) [toX, toY] = [toY, toX];
        if (orientation & MIRROR) toX = result.width - 1 - toX;
        if (orientation & UPSIDE_DOWN) toY = result.height - 1 - toY;
        const source = (from[1] * page.width + from[0]) * 4;
        result.data.set(page.data.subarray(source, source + 4), (toY * result.width + toX) * 4);
      }
    }
    return result;
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

  draw(x, y, seconds = 0) {
    const [red, green, blue] = this.level.background;
    for (let i = 0; i < this.pixels.length; i += 4) this.pixels.set([red, green, blue, 255], i);
    for (const layer of this.level.layers) if (layer.visible) this.drawLayer(layer, x, y, seconds);
    return new ImageData(this.pixels, this.width, this.height);
  }

  drawLayer(layer, x, y, seconds) {
    const [left, top] =
      layer.parallax === 1 ? [x, y] : [x * layer.parallax, y * layer.parallax].map(Math.floor);
    const opacity = Math.round(layer.opacity * 255);
    const [width, height] = this.bundle.manifest.tile;
    for (const row of layer.cells) {
      for (const [column, number, turn] of cellsOf(row)) {
        const animation = this.bundle.playing.get(number);
        const shown = animation ? this.bundle.frame(animation, seconds) : number;
        const picture = this.bundle.picture(shown, turn);
        const down = (row.y + 1) * height - picture.height - top;
        this.blend(picture, column * width - left, down, opacity, layer.tint);
      }
    }
    const props = [...layer.props];
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
    const number = animation ? this.bundle.frame(animation, seconds) : prop.piece;
    const picture = this.bundle.picture(number, prop.orientation);
    let [pivotX, pivotY] = this.bundle.pivot(number);
    if (prop.orientation & SWAP) [pivotX, pivotY] = [pivotY, pivotX];
    if (prop.orientation & MIRROR) pivotX = picture.width - pivotX;
    if (prop.orientation & UPSIDE_DOWN) pivotY = picture.height - pivotY;
    const [placeX, placeY] = this.bundle.place([prop.x, prop.y]);
    const x = Math.floor(placeX - pivotX) - left, y = Math.floor(placeY - pivotY) - top;
    if (!layer.repeated) return this.blend(picture, x, y, opacity, layer.tint);
    const first = ((x % picture.width) + picture.width) % picture.width - picture.width;
    for (let start = first; start < this.width; start += picture.width) {
      this.blend(picture, start, y, opacity, layer.tint);
    }
  }

  /** (source × alpha + below × (255 − alpha) + 127) / 255, on whole numbers. */
  blend(picture, x, y, opacity, tint) {
    const bottom = Math.min(picture.height, this.height - y);
    const right = Math.min(picture.width, this.width - x);
    for (let row = Math.max(0, -y); row < bottom; row++) {
      for (let column = Math.max(0, -x); column < right; column++) {
        const at = (row * picture.width + column) * 4;
        let alpha = picture.data[at + 3];
        if (opacity !== 255) alpha = Math.floor((alpha * opacity + 127) / 255);
        if (!alpha) continue;
        const to = ((y + row) * this.width + x + column) * 4;
        for (let channel = 0; channel < 3; channel++) {
          let colour = picture.data[at + channel];
          if (tint) colour = Math.floor((colour * tint[channel] + 127) / 255);
          const below = this.pixels[to + channel];
          this.pixels[to + channel] = Math.floor((colour * alpha + below * (255 - alpha) + 127) / 255);
        }
      }
    }
  }
}

/** Column, piece number and orientation of each painted cell, of runs or plain rows. */
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

/** The SHA-256 of a blob in hexadecimal. */
async function sha256(blob) {
  const hash = await crypto.subtle.digest("SHA-256", await blob.arrayBuffer());
  return [...new Uint8Array(hash)].map((byte) => byte.toString(16).padStart(2, "0")).join("");
}
