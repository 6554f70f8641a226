"""Walks through a level of a bundle, with nothing of Rushweed: the standard library only. It shows
how a game may stand on the merged outlines, read facts, and follow bodies on their paths.

    python walk_bundle.py BUNDLE_FOLDER --level "Long boardwalk" --steps 240
"""

from __future__ import annotations

import argparse
import json
import math
import sys
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


def walk(land: Land, steps: int) -> list[tuple[float, float, bool]]:
    """Fall, and walk to the right, over slopes and down ledges."""
    x, y = land.start
    speed, path = 0.0, []
    for _ in range(steps):
        x += 64 * STEP
        speed += 352 * STEP
        floor = land.floor_under(x, y)
        lands = y + speed * STEP >= floor
        y = floor if lands else y + speed * STEP
        speed = 0.0 if lands else speed
        path.append((x, y, lands))
    return path


def main() -> int:
    parser = argparse.ArgumentParser(description="Walk to the right through a level of a bundle.")
    parser.add_argument("bundle", type=Path)
    parser.add_argument("--level", required=True)
    parser.add_argument("--steps", type=int, default=240)
    options = parser.parse_args()
    manifest = json.loads((options.bundle / "bundle.json").read_text(encoding="utf-8"))
    level = next((one for one in manifest["levels"] if one["name"] == options.level), None)
    if level is None:
        raise SystemExit(f"There is no level “{options.level}” in this bundle.")
    if "file" in level:
        level = json.loads((options.bundle / level["file"]).read_text(encoding="utf-8"))
    path = walk(Land(manifest, level), options.steps)
    print(json.dumps({"x": path[-1][0], "y": path[-1][1], "stands": path[-1][2]}))
    return 0


if __name__ == "__main__":
    sys.exit(main())
