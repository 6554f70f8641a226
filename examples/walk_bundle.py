# SPDX-FileCopyrightText: The authors of Rushweed
# SPDX-License-Identifier: MIT
"""Walks through a level of a bundle, with nothing of Rushweed: the standard library only. It shows
how a game may stand on the merged outlines, and take every new edition in while it runs.

    python walk_bundle.py BUNDLE_FOLDER --level "Long boardwalk" --steps 240
    python walk_bundle.py http://127.0.0.1:8000/ --level "Long boardwalk" --follow
"""

from __future__ import annotations

import argparse
import json
import math
import queue
import sys
import threading
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

STEP = 1 / 60
WIDTH, HEIGHT = 10, 21


class Land:
    """The outlines of a level as edges to stand on, in pixels, y down."""

    def __init__(self, manifest: dict, level: dict) -> None:
        self.unit = manifest["pixels_per_unit"] if manifest["units"] == "units" else 1
        self.sign = -1 if manifest["y_up"] else 1
        self.edges = [
            edge
            for outline in level["outlines"]
            if outline["side"] in (None, "above")
            for ring in (outline["outer"], *outline["holes"])
            for edge in self._floors([self.place(corner) for corner in ring["corners"]])
        ]
        self.start = self.place(level["start"] or (0, 0))

    def place(self, point: list) -> tuple[float, float]:
        return point[0] * self.unit, point[1] * self.sign * self.unit

    def _floors(self, ring: list) -> list:
        """Edges that run to the left have what is solid below them."""
        pairs = zip(ring, ring[1:] + ring[:1], strict=True)
        return [(b, a) for a, b in pairs if a[0] > b[0]]

    def floor_under(self, x: float, y: float) -> float:
        """The highest floor at or below a height."""
        heights = [
            a[1] + (b[1] - a[1]) * (x - a[0]) / (b[0] - a[0])
            for a, b in self.edges
            if a[0] <= x <= b[0]
        ]
        return min((height for height in heights if height >= y - 2), default=math.inf)


class Walker:
    """Falls, and walks to the right, over slopes and down ledges."""

    def __init__(self, land: Land) -> None:
        self.land, (self.x, self.y) = land, land.start
        self.speed, self.stands = 0.0, False

    def step(self) -> None:
        """A sixtieth of a second later."""
        self.x += 64 * STEP
        self.speed += 352 * STEP
        floor = self.land.floor_under(self.x, self.y)
        self.stands = self.y + self.speed * STEP >= floor
        self.y = floor if self.stands else self.y + self.speed * STEP
        self.speed = 0.0 if self.stands else self.speed


def reader(bundle: str) -> Callable[[str], dict]:
    """How the bundle's files are read: from a folder, or from where it is served."""
    if bundle.startswith("http://"):
        return lambda name: json.load(urllib.request.urlopen(f"{bundle}bundle/{name}"))
    return lambda name: json.loads((Path(bundle) / name).read_text(encoding="utf-8"))


def load(read: Callable[[str], dict], name: str) -> Land:
    """What there is to stand on in a level."""
    manifest = read("bundle.json")
    level = next((one for one in manifest["levels"] if one["name"] == name), None)
    if level is None:
        raise SystemExit(f"There is no level “{name}” in this bundle.")
    return Land(manifest, read(level["file"]) if "file" in level else level)


def listen(address: str, news: queue.Queue[dict | None]) -> None:
    """Hand over what every new edition changed, the first one that is there with nothing, until the
    server ends; then None."""
    with urllib.request.urlopen(f"{address}events") as events:
        event = b""
        for line in events:
            if line == b": here\n":
                news.put({"words": []})
            elif line.startswith(b"event: "):
                event = line.removeprefix(b"event: ").strip()
            elif event == b"changed" and line.startswith(b"data: "):
                news.put(json.loads(line.removeprefix(b"data: ")))
    news.put(None)


def play(address: str, name: str) -> None:
    """Walk on while the bundle changes: where a new edition has other ground, it is stood on at
    once. Tells in a line what each edition changed, how many floors there are, and where the walker
    is then."""
    news: queue.Queue[dict | None] = queue.Queue()
    threading.Thread(target=listen, args=(address, news), daemon=True).start()
    read = reader(address)
    walker = Walker(load(read, name))
    while True:
        walker.step()
        try:
            edition = news.get_nowait()
        except queue.Empty:
            time.sleep(STEP)
            continue
        if edition is None:
            return
        walker.land = load(read, name)
        told = {"words": edition["words"], "x": walker.x, "y": walker.y}
        print(json.dumps({**told, "floors": len(walker.land.edges)}), flush=True)


def main() -> int:
    parser = argparse.ArgumentParser(description="Walk to the right through a level of a bundle.")
    parser.add_argument("bundle", help="a folder, or the address that a bundle is served at")
    parser.add_argument("--level", required=True)
    parser.add_argument("--steps", type=int, default=240)
    parser.add_argument("--follow", action="store_true", help="walk on, and take editions in")
    options = parser.parse_args()
    if options.follow:
        play(options.bundle, options.level)
        return 0
    walker = Walker(load(reader(options.bundle), options.level))
    for _ in range(options.steps):
        walker.step()
    print(json.dumps({"x": walker.x, "y": walker.y, "stands": walker.stands}))
    return 0


if __name__ == "__main__":
    sys.exit(main())
