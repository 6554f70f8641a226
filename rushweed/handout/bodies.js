// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// Bodies that move: they travel along paths, fall, are pushed, and turn about their pivots; step for
// step the same as on the bench, to the bit.

const FASTEST_FALL = 12, TILT = 24, TILT_STEP = 1, NEAR = 0.01;
const LOOSE = ["falls", "pushed"];

const carries = (slab) => slab.stops === ALL || slab.stops === FROM_ABOVE;

/** The bodies of a level, each with its slabs about its pivot for every angle it may have. */
class Bodies {
  constructor(all) {
    this.all = all.map((body) => {
      const slabs = Object.entries(body.slabs).map(([angle, rows]) => [angle, rows.map(slabOf)]);
      return { ...body, slabs: new Map(slabs.map(([angle, found]) => [Number(angle), found])) };
    });
    this.loose = [...this.all.keys()].filter((n) => LOOSE.includes(this.all[n].kind) && this.all[n].box);
  }

  begin() {
    return this.all.map(({ start: [x, y] }) => ({ x, y, speedY: 0, seconds: 0, angle: 0 }));
  }

  /** The slabs of one body where it is. */
  slabsOf(state, number) {
    return this.all[number].slabs.get(state.angle).map((slab) => ({
      left: slab.left + state.x, right: slab.right + state.x,
      topLeft: slab.topLeft + state.y, topRight: slab.topRight + state.y,
      bottomLeft: slab.bottomLeft + state.y, bottomRight: slab.bottomRight + state.y,
      stops: slab.stops, piece: slab.piece, body: number,
    }));
  }

  slabs(states, without = -1) {
    return states.flatMap((state, number) => (number === without ? [] : this.slabsOf(state, number)));
  }

  advance(states, solids, gravity) {
    let now = states;
    this.all.forEach((body, number) => {
      if (body.kind !== "travels") return;
      const old = now[number], then = this.travelled(body, old);
      now = this.carried(withState(now, number, then), number, old, then, solids);
    });
    for (const number of this.loose) {
      const [half, height] = this.extent(number), [x, foot] = this.foot(now[number], number);
      const others = new Mover(solids, half, height, this.slabs(now, number)), state = now[number];
      const speed = Math.min(state.speedY + gravity * STEP, FASTEST_FALL / STEP);
      const [below, on] = others.down(x, foot, speed * STEP);
      now = withState(now, number, { ...state, y: state.y + below - foot, speedY: on ? 0 : speed });
    }
    return now;
  }

  travelled(body, state) {
    const seconds = state.seconds + STEP, [x, y] = placeOnPath(body.path, seconds);
    return { ...state, x: body.start[0] + x, y: body.start[1] + y, seconds };
  }

  /** Half the width of the box around a body, and its height. */
  extent(number) {
    const [left, top, right, bottom] = this.all[number].box;
    return [(right - left) / 2, bottom - top];
  }

  /** The middle of the lower edge of the box around a body. */
  foot(state, number) {
    const [left, , right, bottom] = this.all[number].box;
    return [state.x + (left + right) / 2, state.y + bottom];
  }

  /** Push a body sideways with what is before it and on it: all bodies, and how far it went. */
  pushed(states, number, move, solids) {
    const began = states[number].x, then = this.push(states, number, move, solids, []);
    return [then, then[number].x - began];
  }

  push(states, number, move, solids, behind) {
    if (this.all[number].kind !== "pushed" || !this.all[number].box) return states;
    const among = [...behind, number];
    let [now, left, wall] = this.moved(states, number, move, solids, among);
    if (!wall || !(wall.body >= 0) || among.includes(wall.body) || Math.abs(left) <= TOUCH) return now;
    now = this.push(now, wall.body, left, solids, among);
    return this.moved(now, number, left, solids, among)[0];
  }

  moved(states, number, move, solids, among) {
    const riders = this.onTopOf(states, number), foot = this.foot(states[number], number);
    const others = new Mover(solids, ...this.extent(number), this.slabs(states, number));
    const [x, , wall] = others.across(...foot, move, false), went = x - foot[0];
    let now = withState(states, number, { ...states[number], x: states[number].x + went });
    for (const rider of went ? riders : []) {
      if (!among.includes(rider)) now = this.moved(now, rider, went, solids, [...among, number, rider])[0];
    }
    return [now, move - went, wall];
  }

  /** What stands on a body that travelled goes along. */
  carried(states, number, old, then, solids) {
    let now = states;
    for (const rider of this.onTopOf(withState(states, number, old), number)) {
      now = withState(now, rider, { ...now[rider], y: now[rider].y + then.y - old.y });
      now = this.moved(now, rider, then.x - old.x, solids, [number])[0];
    }
    return now;
  }

  onTopOf(states, number) {
    if (!this.loose.length) return [];
    const under = this.slabsOf(states[number], number);
    return this.loose.filter((other) => {
      const [x, foot] = this.foot(states[other], other);
      const over = under.filter((slab) => slab.left <= x && x <= slab.right && carries(slab));
      return other !== number && over.some((slab) => Math.abs(topAt(slab, x) - foot) <= NEAR);
    });
  }

  tilted(states, number, towards) {
    const state = states[number];
    const by = Math.max(-TILT_STEP, Math.min(TILT_STEP, towards - state.angle));
    return withState(states, number, { ...state, angle: state.angle + by });
  }
}

const slabOf = ([left, right, topLeft, topRight, bottomLeft, bottomRight, stops, piece]) => ({
  left, right, topLeft, topRight, bottomLeft, bottomRight, stops, piece,
});

const withState = (states, number, state) => states.map((old, place) => (place === number ? state : old));

const differs = (one, other) => Object.keys(one).some((key) => one[key] !== other[key]);

/** How far something is from where it stands after so many seconds. */
function placeOnPath(path, seconds) {
  if (!path) return [0, 0];
  const { stops, lengths, whole, way, easing } = path;
  let rounds = seconds / path.seconds;
  rounds %= way === "there and back" ? 2 : 1;
  const part = rounds <= 1 ? rounds : 2 - rounds;
  let share = (easing === "eased" ? part * part * (3 - 2 * part) : part) * whole;
  for (let n = 0; n < lengths.length; n++) {
    if (share <= lengths[n] && lengths[n] > 0) {
      const [[x, y], [toX, toY]] = [stops[n], stops[n + 1]], along = share / lengths[n];
      return [x + (toX - x) * along, y + (toY - y) * along];
    }
    share -= lengths[n];
  }
  return stops.at(-1);
}
