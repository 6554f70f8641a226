// The page: a level of a bundle, animated, with a walker that obeys the arrows.

import { Bundle, View } from "./bundle.js";
import { Walker } from "./walker.js";

const asked = new URLSearchParams(location.search);
const canvas = document.getElementById("game");
const context = canvas.getContext("2d");

async function begin() {
  const bundle = await Bundle.load(asked.get("bundle") || "bundle/");
  const level = bundle.level(asked.get("level"));
  const [width, height] = bundle.manifest.resolution;
  const view = new View(bundle, level, width, height);
  const walker = new Walker(bundle, level);
  [canvas.width, canvas.height] = [width, height];
  const factor = Math.max(1, Math.floor(Math.min(innerWidth / width, (innerHeight - 60) / height)));
  canvas.style.width = `${width * factor}px`;
  if (asked.has("steps")) return report(view, walker);
  const held = {};
  const names = { ArrowLeft: "left", ArrowRight: "right", ArrowUp: "jump", " ": "jump" };
  addEventListener("keydown", (event) => names[event.key] && (held[names[event.key]] = true));
  addEventListener("keyup", (event) => names[event.key] && (held[names[event.key]] = false));
  let steps = 0;
  const next = () => {
    const due = Math.floor((performance.now() / 1000) * 60);
    for (steps = Math.max(steps, due - 6); steps < due; steps++) walker.step(held);
    show(view, walker, steps / 60);
    requestAnimationFrame(next);
  };
  next();
}

function show(view, walker, seconds) {
  const x = Math.round(walker.x) - Math.floor(view.width / 2);
  const y = Math.round(walker.y) - Math.floor((view.height * 5) / 8);
  context.putImageData(view.draw(x, y, seconds), 0, 0);
  context.fillStyle = "#5db5be";
  context.fillRect(
    Math.round(walker.x - walker.width / 2) - x,
    Math.round(walker.y) - walker.height - y,
    walker.width,
    walker.height,
  );
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
