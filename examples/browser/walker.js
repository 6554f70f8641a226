// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// A walker on the merged outlines of a level: it runs, jumps and lands, by whole pixels.

const STEPS_A_SECOND = 60;

export class Walker {
  constructor(bundle, level, width = 10, height = 21) {
    const rings = (stops, side) =>
      level.outlines
        .filter((outline) => outline.stops === stops && outline.side === side)
        .flatMap((outline) => [outline.outer, ...outline.holes])
        .map((ring) => ring.corners.map((corner) => bundle.place(corner)));
    this.walls = rings("all sides", null);
    this.ledges = rings("one-way", "above");
    [this.x, this.y] = level.start ? bundle.place(level.start) : [0, 0];
    this.unit = bundle.manifest.pixels_per_unit;
    Object.assign(this, { width, height, speed: 0, grounded: false, facing: 1 });
  }

  /** A sixtieth of a second later. */
  step({ left = false, right = false, jump = false }) {
    const across = right - left;
    if (across) this.facing = across;
    this.x += this.walk((across * 4 * this.unit) / STEPS_A_SECOND);
    if (jump && this.grounded) this.speed = -Math.sqrt(2 * 22 * 2.2) * this.unit;
    this.speed += (22 * this.unit) / STEPS_A_SECOND;
    this.fall(this.speed / STEPS_A_SECOND);
  }

  walk(move) {
    for (const up of [0, 1, 2]) {
      if (!this.blocked(this.x + move, this.y - up)) {
        this.y -= up;
        return move;
      }
    }
    return 0;
  }

  fall(move) {
    this.grounded = false;
    const step = Math.sign(move);
    for (let left = Math.abs(move); left > 0; left -= 1) {
      const by = Math.min(1, left) * step;
      const lands = step > 0 && this.lands(this.y, this.y + by);
      if (lands !== false || this.blocked(this.x, this.y + by)) {
        if (step > 0) {
          this.grounded = true;
          this.y = lands !== false ? lands : Math.round(this.y);
        }
        this.speed = 0;
        return;
      }
      this.y += by;
    }
  }

  blocked(x, y) {
    const places = [];
    for (let dx = -this.width / 2 + 0.25; dx < this.width / 2; dx += 2.375) {
      for (let dy = 0.25; dy < this.height; dy += 3.3) places.push([x + dx, y - dy]);
    }
    return places.some((place) => inside(this.walls, place));
  }

  /** The height of a ledge that the feet cross on their way down, or false. */
  lands(from, to) {
    for (const ring of this.ledges) {
      for (let i = 0; i < ring.length; i++) {
        const [a, b] = [ring[i], ring[(i + 1) % ring.length]];
        const [low, high] = [Math.min(a[0], b[0]), Math.max(a[0], b[0])];
        const top = a[1] === b[1] && a[0] > b[0];
        if (top && from <= a[1] && to >= a[1] && this.x + 5 > low && this.x - 5 < high) return a[1];
      }
    }
    return false;
  }
}

/** Whether a place lies inside of rings, by the even-odd rule. */
export function inside(rings, [x, y]) {
  let result = false;
  for (const ring of rings) {
    for (let i = 0; i < ring.length; i++) {
      const [a, b] = [ring[i], ring[(i + ring.length - 1) % ring.length]];
      if (a[1] > y !== b[1] > y && x < ((b[0] - a[0]) * (y - a[1])) / (b[1] - a[1]) + a[0]) {
        result = !result;
      }
    }
  }
  return result;
}
