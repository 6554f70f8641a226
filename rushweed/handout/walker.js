// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// The walker of Rushweed, seen from the side: step for step the same as on the bench, to the bit,
// among what is solid in a level, and the bodies that move there.

const STEP = 1 / 60, LONG_AGO = 1 << 20, SHORT = 0.4;
const STEEPEST = 1.01, TOUCH = 1e-6, LIP = 1e-3, LARGEST_STEP = 8;
const PROBE = 1, TO_SWIM = 0.2, SQUARE = 64;
const AIR = { moves: "walks", across: 0, down: 0, piece: 0 };

// What a slab stops: all, or only what comes from its left, its right, above or below.
const ALL = 0, FROM_LEFT = 1, FROM_RIGHT = 2, FROM_ABOVE = 3, FROM_BELOW = 4;

/** What is solid, by squares: rows of left, right, the heights of the upper edge at both, of the
 * lower edge at both, what it stops, and the number of the piece. */
class Solids {
  constructor(rows) {
    this.squares = new Map();
    rows.forEach(([left, right, topLeft, topRight, bottomLeft, bottomRight, stops, piece], number) => {
      const slab = { left, right, topLeft, topRight, bottomLeft, bottomRight, stops, piece, number };
      const top = Math.min(topLeft, topRight), bottom = Math.max(bottomLeft, bottomRight);
      for (const key of keysOf(left, top, right, bottom)) {
        if (!this.squares.has(key)) this.squares.set(key, []);
        this.squares.get(key).push(slab);
      }
    });
  }

  near(left, top, right, bottom) {
    const found = new Set();
    for (const key of keysOf(left - 1, top - 1, right + 1, bottom + 1)) {
      for (const slab of this.squares.get(key) ?? []) found.add(slab);
    }
    return [...found].sort((a, b) => a.number - b.number);
  }
}

function* keysOf(left, top, right, bottom) {
  for (let row = Math.floor(top / SQUARE); row <= Math.floor(bottom / SQUARE); row++) {
    for (let column = Math.floor(left / SQUARE); column <= Math.floor(right / SQUARE); column++) {
      yield `${column},${row}`;
    }
  }
}

const heightAt = (slab, x, first, last) =>
  first === last ? first : first + (last - first) * ((x - slab.left) / (slab.right - slab.left));
const topAt = (slab, x) => heightAt(slab, x, slab.topLeft, slab.topRight);
const bottomAt = (slab, x) => heightAt(slab, x, slab.bottomLeft, slab.bottomRight);

function topBetween(slab, left, right) {
  if (slab.topLeft === slab.topRight) return slab.topLeft;
  return Math.min(topAt(slab, Math.max(left, slab.left)), topAt(slab, Math.min(right, slab.right)));
}

function bottomBetween(slab, left, right) {
  if (slab.bottomLeft === slab.bottomRight) return slab.bottomLeft;
  return Math.max(bottomAt(slab, Math.max(left, slab.left)), bottomAt(slab, Math.min(right, slab.right)));
}

/** Moves a box among slabs: sideways and up slopes, down onto things, up against them. */
class Mover {
  constructor(solids, half, height, moving = []) {
    Object.assign(this, { solids, half, height, moving });
  }

  near(left, top, right, bottom) {
    const found = this.solids.near(left, top, right, bottom);
    return this.moving.length ? [...found, ...this.moving] : found;
  }

  across(x, y, move, climbs) {
    let blocked = null, left = Math.abs(move);
    while (left > 0 && !blocked) {
      const part = Math.min(left, LARGEST_STEP);
      left -= part;
      [x, y, blocked] = this.acrossALittle(x, y, move > 0 ? part : -part, climbs);
    }
    return [x, y, blocked];
  }

  acrossALittle(x, y, move, climbs) {
    const [obstacles, valves] = this.inTheWay(x, y, move);
    const toward = move > 0 ? 1 : -1;
    if (valves.length) {
      const [reach, valve] = this.first(valves, x, y, toward, Math.abs(move));
      if (valve) {
        const [thenX, thenY, blocked] = this.acrossALittle(x, y, toward * reach, climbs);
        return [thenX, thenY, blocked ?? valve];
      }
    }
    if (obstacles.length && climbs) {
      const [reach, height, blocked] = this.climb(obstacles, x, y, move);
      if (!this.covered(x + reach, height)) return [x + reach, height, blocked];
    }
    const [reach, blocked] = this.first(obstacles, x, y, toward, Math.abs(move));
    return [x + toward * reach, y, blocked];
  }

  /** What is touched on the way: walls, and what stops only what comes from there. */
  inTheWay(x, y, move) {
    const left = x - this.half + Math.min(move, 0), right = x + this.half + Math.max(move, 0);
    const middle = (left + right) / 2, half = (right - left) / 2;
    const met = this
      .near(left, y - this.height, right, y)
      .filter((s) => s.left < right && s.right > left && this.overlaps(s, middle, y, half));
    const valves = met.filter((s) => s.stops === (move > 0 ? FROM_LEFT : FROM_RIGHT));
    const within = valves.some((s) => this.overlaps(s, x, y));
    return [met.filter((s) => s.stops === ALL), within ? [] : valves];
  }

  first(slabs, x, y, toward, reach) {
    let first = null;
    for (const slab of slabs) {
      const distance = this.clearDistance(slab, x, y, toward, reach);
      if (distance < reach) [reach, first] = [distance, slab];
    }
    return [reach, first];
  }

  climb(obstacles, x, y, move) {
    const toward = move > 0 ? 1 : -1, front = x + toward * this.half, last = front + move;
    const entry = (slab) => Math.max((toward > 0 ? slab.left : slab.right) * toward, front * toward) * toward;
    const sorted = [...obstacles].sort(
      (a, b) => entry(a) * toward - entry(b) * toward || topAt(b, entry(b)) - topAt(a, entry(a)),
    );
    let height = y;
    for (const slab of sorted) {
      const begin = entry(slab);
      const end = Math.min(last * toward, (toward > 0 ? slab.right : slab.left) * toward) * toward;
      const rise = (slab.topLeft - slab.topRight) * toward;
      const tooSteep = rise > STEEPEST * (slab.right - slab.left);
      if (tooSteep || topAt(slab, begin) < height - LIP) return [begin - front, height, slab];
      height = Math.min(height, topAt(slab, begin), topAt(slab, end));
    }
    return [move, height, null];
  }

  clearDistance(slab, x, y, toward, reach) {
    if (this.overlaps(slab, x, y)) return 0;
    let low = 0, high = reach;
    if (!this.overlaps(slab, x + toward * high, y)) return reach;
    for (let halving = 0; halving < 30; halving++) {
      const middle = (low + high) / 2;
      if (this.overlaps(slab, x + toward * middle, y)) high = middle;
      else low = middle;
    }
    return low;
  }

  overlaps(slab, x, y, half = this.half) {
    const left = Math.max(slab.left, x - half), right = Math.min(slab.right, x + half);
    if (right - left <= TOUCH || topBetween(slab, left, right) >= y - TOUCH) return false;
    return bottomBetween(slab, left, right) > y - this.height + TOUCH;
  }

  covered(x, y) {
    const left = x - this.half, right = x + this.half;
    return this
      .near(left, y - this.height, right, y)
      .some((s) => s.left < right && s.right > left && s.stops === ALL && this.overlaps(s, x, y));
  }

  settle(x, y, moved) {
    const [below, on] = this.down(x, y, moved * STEEPEST + 0.05);
    return on ? [below, on] : [y, null];
  }

  down(x, y, move, through = false) {
    const left = x - this.half, right = x + this.half;
    let target = y + move, on = null, bumped = null;
    const top = Math.min(y, target) - this.height - 1;
    for (const slab of this.near(left, top, right, Math.max(y, target) + 1)) {
      if (slab.left >= right - TOUCH || slab.right <= left + TOUCH) continue;
      if (move >= 0) {
        if (slab.stops !== ALL && (through || slab.stops !== FROM_ABOVE)) continue;
        const surface = topBetween(slab, left, right);
        if (y - TOUCH <= surface && surface <= target) [target, on] = [surface, slab];
      } else if (slab.stops === ALL || slab.stops === FROM_BELOW) {
        const ceiling = bottomBetween(slab, left, right);
        if (target - this.height < ceiling && ceiling <= y - this.height + TOUCH) {
          [target, bumped] = [ceiling + this.height, slab];
        }
      }
    }
    return [target, on, bumped];
  }
}

/** A walker in a world: what is solid, the cells of ladders and water, and its own numbers. */
export class Walker {
  constructor(world) {
    this.numbers = world.walker;
    this.unit = world.unit;
    this.tile = world.tile;
    this.mediums = new Map(world.mediums.map(([column, row, ...medium]) => [`${column},${row}`, medium]));
    [this.half, this.height] = [world.body[0] / 2, world.body[1]];
    this.solids = new Solids(world.solids);
    this.moving = new Bodies(world.bodies);
    this.bodies = this.moving.begin();
    this.mover = this.among(this.bodies);
    Object.assign(this, { x: world.start[0], y: world.start[1], speedX: 0, speedY: 0, on: 0, facing: 1 });
    Object.assign(this, { body: -1, drift: 0 });
    Object.assign(this, { jumpHeld: false, off: LONG_AGO, asked: LONG_AGO });
    Object.assign(this, { climbing: false, swims: false, flown: 0 });
  }

  /** The walker's box among all that is solid, with bodies where they are. */
  among(bodies) {
    return new Mover(this.solids, this.half, this.height, this.moving.slabs(bodies));
  }

  get grounded() {
    return this.on !== 0;
  }

  mediumAt(x, y) {
    const key = `${Math.floor(x / this.tile[0])},${Math.floor(y / this.tile[1])}`;
    const found = this.mediums.get(key);
    if (!found) return AIR;
    const [moves, across, down, piece] = found;
    return { moves, across, down, piece };
  }

  /** A sixtieth of a second later, with these keys held. */
  step({ left = false, right = false, up = false, down = false, jump = false, run = false }) {
    const keys = { across: right - left, up, down, jump, run };
    if (this.bodies.length) this.withBodies();
    if (!this.mediums.size) return this.inTheOpen(keys, AIR, false);
    const letsGo = this.climbing && jump && !this.jumpHeld && !up;
    if (!letsGo && this.takesLadder(keys)) return this.climb(keys);
    const middle = this.mediumAt(this.x, this.y - this.height / 2);
    const water = middle.moves === "swims" ? middle : null;
    const head = this.mediumAt(this.x, this.y - this.height + PROBE);
    const leaps = letsGo || (water !== null && jump && !this.jumpHeld && head.moves !== "swims");
    if (water && !leaps) return this.swim(keys, water);
    return this.inTheOpen(keys, middle, leaps);
  }

  inTheOpen(keys, medium, leaps) {
    const { numbers, unit } = this, gravity = numbers.gravity * unit;
    const lift = Math.sqrt(2 * gravity * numbers.jump * unit), grounded = this.grounded;
    const asked = keys.jump && !this.jumpHeld ? 0 : Math.min(this.asked + 1, LONG_AGO);
    const first = leaps || this.jumps(keys, asked);
    const fresh = asked === 0 && keys.jump && !keys.down;
    const again = !first && fresh && !grounded && this.flown < numbers.jumps;
    const jumping = first || again, dropping = keys.jump && keys.down && grounded;
    const speedX = this.speedAcross(keys);
    let speedY = jumping ? -lift : this.speedY;
    if (numbers.variable_jump_height && !keys.jump && speedY < -SHORT * lift) speedY = -SHORT * lift;
    const rests = grounded && !jumping, drift = (grounded ? 0 : this.drift) + medium.across * unit;
    let [x, y, wall] = this.mover.across(this.x, this.y, (speedX + drift) * STEP, rests);
    if (wall && wall.body >= 0 && rests) x = this.push(x, y, wall, speedX * STEP);
    let on = null, bumped = null;
    if (rests && !dropping && medium.down >= 0) {
      speedY = 0;
      [y, on] = this.mover.settle(x, y, Math.abs(x - this.x));
    } else {
      let move;
      [move, speedY] = fallen(speedY, gravity, numbers.falls * unit);
      move += medium.down * unit * STEP;
      [x, y, on, bumped] = this.fall(x, y, move, dropping);
      if (on || bumped) speedY = 0;
    }
    this.off = on ? 0 : jumping ? LONG_AGO : Math.min(this.off + 1, LONG_AGO);
    this.flown = on ? 0 : this.flown + again;
    this.asked = jumping ? LONG_AGO : asked;
    this.goTo(x, y, wall ? 0 : speedX, speedY, on ? on.piece : 0, keys);
    this.body = on ? on.body ?? -1 : -1;
    if (on || wall) this.drift = 0;
    [this.climbing, this.swims] = [false, false];
  }

  /** Let bodies move: they carry a walker that stands on them, push one that is in their way, and
   * wait where it cannot give way. */
  withBodies() {
    const before = this.bodies;
    let after = this.moving.advance(before, this.solids, this.numbers.gravity * this.unit);
    after = this.tilted(after);
    this.carry(before, after);
    let mover = this.among(after);
    before.forEach((old, number) => {
      const then = after[number];
      if (!differs(old, then)) return;
      this.lift(number, old, then);
      const alone = this.moving.slabsOf(then, number);
      if (!overlapsAny(mover, this.x, this.y, alone) || this.givesWay(old, then, alone, mover)) return;
      after = withState(after, number, old);
      mover = this.among(after);
    });
    [this.bodies, this.mover] = [after, mover];
  }

  /** Hinged bodies give way under a walker, and swing back when it is gone. */
  tilted(states) {
    let now = states;
    this.moving.all.forEach(({ kind }, number) => {
      if (kind !== "hinged") return;
      const aside = this.body === number ? this.x - now[number].x : 0;
      now = this.moving.tilted(now, number, aside > 1 ? TILT : aside < -1 ? -TILT : 0);
    });
    return now;
  }

  carry(before, after) {
    if (this.body < 0) return;
    const old = before[this.body], then = after[this.body];
    const dx = then.x - old.x, dy = then.y - old.y;
    const others = new Mover(this.solids, this.half, this.height, this.moving.slabs(after, this.body));
    const [x] = others.across(this.x, this.y, dx, false);
    let y = dy ? others.down(x, this.y, dy)[0] : this.y;
    if (then.angle !== old.angle) {
      const top = this.topOf(this.moving.slabsOf(then, this.body), x);
      if (top !== null && !others.covered(x, top)) y = top;
    }
    Object.assign(this, { x, y, drift: dx / STEP });
  }

  /** On a body that came up to it from below. */
  lift(number, old, then) {
    if (this.body === number) return;
    const was = this.topOf(this.moving.slabsOf(old, number), this.x);
    const now = this.topOf(this.moving.slabsOf(then, number), this.x);
    if (was !== null && now !== null && now < this.y && this.y <= was + TOUCH) this.y = now;
  }

  topOf(slabs, x) {
    const left = x - this.half, right = x + this.half;
    const under = slabs.filter((s) => s.left < right - TOUCH && s.right > left + TOUCH && carries(s));
    return under.length ? Math.min(...under.map((slab) => topBetween(slab, left, right))) : null;
  }

  /** Out of a body's way, in the direction it moves; false when that cannot be. */
  givesWay(old, then, alone, mover) {
    const others = new Mover(this.solids, this.half, this.height);
    const dx = then.x - old.x, dy = then.y - old.y;
    const [x] = others.across(this.x, this.y, dx, false);
    let y = dy ? others.down(x, this.y, dy)[0] : this.y;
    if (overlapsAny(mover, x, y, alone)) {
      const top = Math.min(...alone.map((slab) => topBetween(slab, x - this.half, x + this.half)));
      if (y - top <= 2 && !others.covered(x, top)) y = top;
    }
    if (overlapsAny(mover, x, y, alone) || others.covered(x, y)) return false;
    Object.assign(this, { x, y });
    return true;
  }

  /** Push a body with the rest of a step, at half the speed. */
  push(x, y, wall, move) {
    const [bodies, went] = this.moving.pushed(this.bodies, wall.body, (move - (x - this.x)) / 2, this.solids);
    [this.bodies, this.mover] = [bodies, this.among(bodies)];
    return went ? this.mover.across(x, y, went, false)[0] : x;
  }

  goTo(x, y, speedX, speedY, on, keys) {
    Object.assign(this, { x, y, speedX, speedY, on, jumpHeld: keys.jump });
    this.facing = keys.across || this.facing;
  }

  jumps(keys, asked) {
    if (keys.down || !keys.jump) return false;
    const { jump_buffer: early, coyote_time: late } = this.numbers;
    const inTime = late > 0 && this.off <= rounded(late / STEP) && this.speedY >= 0;
    return asked <= rounded(early / STEP) && (this.grounded || inTime);
  }

  speedAcross(keys) {
    const { numbers, unit } = this;
    const wanted = keys.across * (keys.run && numbers.run ? numbers.run : numbers.speed) * unit;
    const faster = wanted * this.speedX >= 0 && Math.abs(wanted) > Math.abs(this.speedX);
    const onGround = faster ? numbers.speed_up : numbers.brake;
    return approached(this.speedX, wanted, numbers.speed * unit, this.grounded ? onGround : numbers.in_air);
  }

  fall(x, y, move, through) {
    const [then, on, bumped] = this.mover.down(x, y, move, through);
    const corner = this.numbers.corner_correction * this.unit;
    if (bumped && corner > 0) {
      for (const aside of [bumped.right - (x - this.half), bumped.left - (x + this.half)]) {
        if (Math.abs(aside) > corner || this.mover.covered(x + aside, y)) continue;
        const [past, onPast, hit] = this.mover.down(x + aside, y, move, through);
        if (!hit) return [x + aside, past, onPast, null];
      }
    }
    return [x, then, on, bumped];
  }

  takesLadder(keys) {
    const here = this.mediumAt(this.x, this.y - PROBE).moves === "climbs";
    if (keys.up && !keys.down && !this.climbing) return here;
    const below = this.mediumAt(this.x, this.y + PROBE).moves === "climbs";
    if (this.climbing) return here || below;
    return keys.down && !keys.jump && (below || (here && !this.grounded));
  }

  climb(keys) {
    const speed = this.numbers.climbs * this.unit, down = keys.down - keys.up;
    let [x, y, wall] = this.mover.across(this.x, this.y, keys.across * speed * STEP, false);
    let on, bumped;
    [y, on, bumped] = this.mover.down(x, y, down * speed * STEP, down > 0);
    let [piece, climbing] = on && down > 0 ? [on.piece, false] : [0, true];
    if (this.mediumAt(x, y - PROBE).moves !== "climbs") {
      const under = this.mediumAt(x, y + PROBE), ladder = under.moves === "climbs";
      climbing = ladder && down > 0;
      if (ladder && down <= 0) {
        [y, piece] = [Math.floor((y + PROBE) / this.tile[1]) * this.tile[1], under.piece];
      }
    }
    this.noJump();
    this.body = on && down > 0 ? on.body ?? -1 : -1;
    this.goTo(x, y, wall ? 0 : keys.across * speed, bumped || piece ? 0 : down * speed, piece, keys);
    [this.climbing, this.swims] = [climbing, false];
  }

  swim(keys, medium) {
    const { numbers, unit } = this, speed = numbers.swims * unit;
    const down = keys.down - (keys.up || keys.jump);
    const wanted = down ? down * speed : numbers.sinks * unit;
    const fastest = Math.max(speed, numbers.sinks * unit);
    const speedX = approached(this.speedX, keys.across * speed, fastest, TO_SWIM);
    const speedY = approached(this.speedY, wanted, fastest, TO_SWIM);
    let [x, y, wall] = this.mover.across(this.x, this.y, (speedX + medium.across * unit) * STEP, true);
    let on, bumped;
    [y, on, bumped] = this.mover.down(x, y, (speedY + medium.down * unit) * STEP, keys.down);
    this.noJump();
    this.body = on ? on.body ?? -1 : -1;
    this.goTo(x, y, wall ? 0 : speedX, on || bumped ? 0 : speedY, on ? on.piece : 0, keys);
    [this.climbing, this.swims] = [false, true];
  }

  noJump() {
    [this.off, this.asked, this.flown, this.drift] = [0, LONG_AGO, 0, 0];
  }
}

/** Whether a box standing there overlaps one of some slabs. */
function overlapsAny(mover, x, y, found) {
  return found.some(
    (slab) =>
      slab.stops === ALL &&
      slab.left < x + mover.half - TOUCH &&
      slab.right > x - mover.half + TOUCH &&
      mover.overlaps(slab, x, y),
  );
}

function fallen(speed, gravity, fastest) {
  const after = speed + gravity * STEP;
  if (0 < fastest && fastest < after) return [fastest * STEP, fastest];
  if (speed < 0 && 0 < after) return [(-speed * speed) / (2 * gravity), 0];
  return [((speed + after) / 2) * STEP, after];
}

function approached(speed, wanted, full, seconds) {
  if (seconds <= 0 || speed === wanted) return wanted;
  const most = (full / seconds) * STEP, apart = wanted - speed;
  if (Math.abs(apart) <= most) return wanted;
  return apart > 0 ? speed + most : speed - most;
}

/** To the nearest whole number, halves to the even one. */
function rounded(value) {
  const low = Math.floor(value), part = value - low;
  if (part !== 0.5) return part < 0.5 ? low : low + 1;
  return low % 2 ? low + 1 : low;
}
