// SPDX-FileCopyrightText: The authors of Rushweed
// SPDX-License-Identifier: MIT

// The page: a level of a bundle, animated, with a walker that obeys the arrows.

import { Bundle, View } from "./bundle.js";
import { Walker } from "./walker.js";

const asked = new URLSearchParams(location.search);
const canvas = document.getElementById("game");
const context = canvas.getContext("2d");

/** The bundle as it is now; a walker of an earlier one goes on where it is. */
async function load(before) {
  const bundle = await Bundle.load(asked.get("bundle") || "bundle/");
  const level = bundle.level(asked.get("level"));
  const [width, height] = bundle.manifest.resolution;
  const view = new View(bundle, level, width, height);
  const walker = new Walker(bundle, level);
  if (before) {
    const { x, y, speed, grounded, facing } = before.walker;
    Object.assign(walker, { x, y, speed, grounded, facing });
  }
  [canvas.width, canvas.height] = [width, height];
  return { view, walker };
}

async function begin() {
  let world = await load();
  const { width, height } = world.view;
  const factor = Math.max(1, Math.floor(Math.min(innerWidth / width, (innerHeight - 60) / height)));
  canvas.style.width = `${width * factor}px`;
  if (asked.has("news")) {
    new EventSource(asked.get("news")).addEventListener("changed", async (event) => {
      world = await load(world);
      document.getElementById("told").textContent = JSON.parse(event.data).words.join(" ");
    });
  }
  if (asked.has("steps")) return report(world.view, world.walker);
  const held = {};
  const names = { ArrowLeft: "left", ArrowRight: "right", ArrowUp: "jump", " ": "jump" };
  addEventListener("keydown", (event) => names[event.key] && (held[names[event.key]] = true));
  addEventListener("keyup", (event) => names[event.key] && (held[names[event.key]] = false));
  let steps = 0;
  const next = () => {
    const due = Math.floor((performance.now() / 1000) * 60);
    for (steps = Math.max(steps, due - 6); steps < due; steps++) world.walker.step(held);
    show(world.view, world.walker, steps / 60);
    requestAnimationFrame(next);
  };
  next();
}

function show(view, walker, seconds) {
  const x = Math.round(walker.x) - Math.floor(view.width / 2);
  const y = Math.round(walker.y) - Math.floor((view.height * 5) / 8);
  const { width, height } = walker;
  const left = Math.round(walker.x - width / 2) - x, top = Math.round(walker.y) - height - y;
  const figure = () => view.fill(left, top, width, height, [93, 181, 190, 255]);
  context.putImageData(view.draw(x, y, seconds, figure), 0, 0);
}

/** For tests: draw the start, walk to the right for so many steps, and tell the server how it
 * went. */
async function report(view, walker) {
  const x = Math.round(walker.x) - Math.floor(view.width / 2);
  const y = Math.round(walker.y) - Math.floor((view.height * 5) / 8);
  context.putImageData(view.draw(x, y), 0, 0);
  const picture = canvas.toDataURL("image/png");
  for (let i = 0; i < 60; i++) walker.step({});
  const rested = [walker.x, walker.y, walker.grounded];
  for (let i = 0; i < Number(asked.get("steps")); i++) walker.step({ right: true });
  show(view, walker, 1);
  const told = { picture, rested, walked: [walker.x, walker.y, walker.grounded] };
  await fetch("report", { method: "POST", body: JSON.stringify(told) });
}

begin().catch((problem) => {
  document.getElementById("told").textContent = String(problem);
  if (asked.has("steps")) fetch("report", { method: "POST", body: JSON.stringify({ problem: String(problem) }) });
});
