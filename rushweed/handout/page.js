// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// The page that is handed out: the level, and a walker that obeys keys, fingers and the arrows.

const NAMES = {
  ArrowLeft: "left", ArrowRight: "right", ArrowUp: "up", ArrowDown: "down", " ": "jump", Shift: "run",
  a: "left", d: "right", w: "up", s: "down",
};
const UNDER_FINGERS = [
  ["pointerdown", true], ["pointerup", false], ["pointerleave", false], ["pointercancel", false],
];
const SLOW = 1;
const canvas = document.getElementById("level"), context = canvas.getContext("2d");

/** The keys that are held down. */
const held = (globalThis.held = {});

/** Walk along recorded keys, for whoever compares: one place a step. */
globalThis.replay = (runs) => {
  const walker = new Walker(WORLD), path = [];
  for (const [count, ...names] of runs) {
    const keys = Object.fromEntries(names.map((name) => [name, true]));
    for (let step = 0; step < count; step++) {
      walker.step(keys);
      path.push([walker.x, walker.y, walker.on, walker.speedX, walker.speedY]);
    }
  }
  return path;
};

/** The picture after recorded keys, for whoever compares: red, green, blue and alpha. */
globalThis.picture = async (runs) => {
  const stage = new Stage(await Bundle.of(structuredClone(BUNDLE)));
  for (const [count, ...names] of runs) {
    for (let step = 0; step < count; step++) stage.step(Object.fromEntries(names.map((name) => [name, true])));
  }
  stage.draw();
  return [...stage.view.image().data];
};

/** A value within bounds; their middle where they leave no room. */
const between = (value, low, high) =>
  low <= high ? Math.min(Math.max(value, low), high) : (low + high) / 2;

class Stage {
  constructor(bundle) {
    this.bundle = bundle;
    const level = bundle.level(WORLD.level);
    [this.width, this.height] = WORLD.resolution;
    this.view = new View(bundle, level, this.width, this.height);
    this.walker = new Walker(WORLD);
    const { layers } = this.view.level;
    this.angles = WORLD.bodies.map(({ spot: [layer, place] }) => layers[layer].props[place].angle);
    this.wades = new Map(WORLD.wades.map(([column, row, wade]) => [`${column},${row}`, wade]));
    this.seen = [this.walker.x, this.walker.y];
    this.steps = 0;
    this.follow();
    [canvas.width, canvas.height] = [this.width, this.height];
  }

  step(keys) {
    this.walker.step(keys);
    this.steps += 1;
    WORLD.bodies.forEach(({ spot: [layer, place] }, number) => {
      const { x, y, angle } = this.walker.bodies[number], prop = this.view.level.layers[layer].props[place];
      Object.assign(prop, { x, y, angle: this.angles[number] + angle });
    });
    if (this.walker.y > WORLD.bottom) this.walker = new Walker(WORLD);
    this.follow();
  }

  follow() {
    const [freeX, freeY] = WORLD.free, { x, y } = this.walker;
    const aside = (freeX * this.width) / 2, above = (freeY * this.height) / 2;
    this.seen = [
      Math.min(Math.max(this.seen[0], x - aside), x + aside),
      Math.min(Math.max(this.seen[1], y - above), y + above),
    ];
    if (!WORLD.stays) return;
    const [left, top, right, bottom] = WORLD.stays, over = Math.floor((this.height * 5) / 8);
    this.seen = [
      between(this.seen[0], left + Math.floor(this.width / 2), right - Math.ceil(this.width / 2)),
      between(this.seen[1], top + over, bottom - (this.height - over)),
    ];
  }

  draw() {
    const x = Math.round(this.seen[0]) - Math.floor(this.width / 2);
    const y = Math.round(this.seen[1]) - Math.floor((this.height * 5) / 8);
    const seconds = this.steps / 60, { layers } = this.view.level;
    const shown = (layer) => layer.visible;
    const behind = layers.slice(0, WORLD.front).filter(shown), before = layers.slice(WORLD.front).filter(shown);
    const covers = (number, row) => this.covers(number, row);
    this.view.clear();
    for (const layer of behind) {
      this.view.drawCells(layer, x, y, seconds, (number, row) => !covers(number, row));
      this.view.drawProps(layer, x, y, seconds);
    }
    this.drawWalker(x, y, seconds);
    for (const layer of behind) this.view.drawCells(layer, x, y, seconds, covers);
    for (const layer of before) this.view.drawLayer(layer, x, y, seconds);
    context.putImageData(this.view.image(), 0, 0);
  }

  /** Whether a tile is drawn over a walker whose feet are where they are. */
  covers(number, row) {
    const { cover } = this.bundle.pieces.get(number).facts;
    return cover > 0 && (row + 1 + cover) * WORLD.tile[1] > this.walker.y;
  }

  drawWalker(left, top, seconds) {
    const { walker } = this, animation = this.animation();
    const number = animation ? this.bundle.frame(animation, seconds) : WORLD.still;
    const looks = this.looks(animation);
    const flipped = number !== 0 && looks !== walker.facing;
    const picture = number ? this.bundle.picture(number, flipped ? 1 : 0) : plainFigure();
    const [pivotX, pivotY] = number ? this.bundle.pivot(number) : [Math.floor(WORLD.body[0] / 2), WORLD.body[1]];
    const across = flipped ? picture.width - pivotX : pivotX;
    const x = rounded(walker.x) - Math.floor(across) - left;
    const cell = `${Math.floor(walker.x / WORLD.tile[0])},${Math.floor((walker.y - 1e-6) / WORLD.tile[1])}`;
    const hidden = this.wades.get(cell) ?? 0;
    const height = hidden ? Math.min(picture.height, Math.max(0, Math.floor(pivotY) - hidden)) : picture.height;
    const y = rounded(walker.y) - Math.floor(pivotY) - top;
    this.view.blend({ ...picture, height }, x, y, [255], []);
  }

  /** What it is shown as: the animation that looks its way, where there is one. */
  animation() {
    const { walker } = this, moves = Math.abs(walker.speedX) > SLOW;
    const onGround = moves ? ["move", "stand"] : ["stand", "move"];
    let states = walker.grounded ? onGround : [walker.speedY < 0 ? "rise" : "fall", ...onGround];
    if (walker.climbing) states = ["climb", "up", "move", "stand"];
    if (walker.swims) states = ["swim", "move", "stand"];
    const state = states.find((one) => WORLD.shows[one]);
    const left = walker.facing < 0 && WORLD.shows[`${state} left`];
    const name = left || WORLD.shows[state];
    const all = this.bundle.manifest.animations, [sheet, own] = WORLD.origins[name] ?? [];
    return all.find((one) => one.sheet === sheet && one.name === own);
  }

  /** Which way an animation looks as it is drawn. */
  looks(animation) {
    const called = ([, [sheet, own]]) => sheet === animation?.sheet && own === animation.name;
    const found = Object.entries(WORLD.origins).find(called);
    return found ? WORLD.ways[found[0]] : WORLD.looks;
  }
}

/** A walker that no sheet shows is its body, in one colour. */
function plainFigure() {
  const [width, height] = WORLD.body;
  const data = new Uint8ClampedArray(width * height * 4);
  for (let i = 0; i < data.length; i += 4) data.set(WORLD.plain, i);
  return { width, height, data };
}

async function begin() {
  const stage = new Stage(await Bundle.of(BUNDLE));
  const press = (name, down) => name && (held[name] = down);
  // A letter is large while Shift is held, and may be let go after it.
  const keyOf = ({ key }) => (key.length === 1 ? key.toLowerCase() : key);
  addEventListener("keydown", (event) => {
    const key = keyOf(event);
    if (key === "r") stage.walker = new Walker(WORLD);
    if (NAMES[key]) event.preventDefault();
    press(NAMES[key], true);
  });
  addEventListener("keyup", (event) => press(NAMES[keyOf(event)], false));
  addEventListener("blur", () => Object.keys(held).forEach((name) => press(name, false)));
  for (const button of document.querySelectorAll("[data-key]")) {
    for (const [event, down] of UNDER_FINGERS) {
      button.addEventListener(event, () => press(button.dataset.key, down));
    }
  }
  const fit = () => {
    const room = Math.min(innerWidth / stage.width, (innerHeight - 90) / stage.height);
    canvas.style.width = `${stage.width * (room >= 1 ? Math.floor(room) : room)}px`;
  };
  addEventListener("resize", fit);
  fit();
  let steps = Math.floor((performance.now() / 1000) * 60);
  const next = () => {
    const due = Math.floor((performance.now() / 1000) * 60);
    for (steps = Math.max(steps, due - 6); steps < due; steps++) stage.step(held);
    stage.draw();
    requestAnimationFrame(next);
  };
  stage.draw();
  document.body.dataset.ready = "yes";
  next();
}

begin().catch((problem) => {
  document.getElementById("told").textContent = String(problem);
  document.body.dataset.ready = "no";
});
