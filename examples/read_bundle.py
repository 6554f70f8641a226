"""Reads a bundle and draws a level of it to a PNG, with nothing of Rushweed: the standard library
and Pillow only. It is written from docs/format/bundle.md, and shows how a game may do it.

    python read_bundle.py BUNDLE_FOLDER --level "Long boardwalk" --out level.png
    python read_bundle.py BUNDLE_FOLDER --level "Heron pool" --area 0 0 256 144 --out view.png
"""

from __future__ import annotations

import argparse
import json
import math
import sys
from pathlib import Path

from PIL import Image

SWAP, MIRROR, UPSIDE_DOWN = 4, 1, 2


class Bundle:
    """A bundle's manifest, and its pieces cut from the pages when they are first asked for."""

    def __init__(self, folder: Path) -> None:
        self.manifest = json.loads((folder / "bundle.json").read_text(encoding="utf-8"))
        if self.manifest["format"] != 1:
            raise SystemExit(
                f"This reader knows format 1, the bundle has {self.manifest['format']}."
            )
        self.pages = [
            Image.open(folder / page["file"]).convert("RGBA") for page in self.manifest["pages"]
        ]
        self.pieces = {piece["number"]: piece for piece in self.manifest["pieces"]}
        self._pictures: dict[tuple[int, int], Image.Image] = {}

    def level(self, name: str) -> dict:
        for level in self.manifest["levels"]:
            if level["name"] == name:
                return level
        raise SystemExit(f"There is no level “{name}” in this bundle.")

    def picture(self, number: int, orientation: int = 0) -> Image.Image:
        """A piece's pixels, turned and flipped."""
        key = (number, orientation)
        if key not in self._pictures:
            piece = self.pieces[number]
            x, y, width, height = piece["rect"]
            picture = self.pages[piece["page"]].crop((x, y, x + width, y + height))
            if orientation & SWAP:
                picture = picture.transpose(Image.Transpose.TRANSPOSE)
            if orientation & MIRROR:
                picture = picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
            if orientation & UPSIDE_DOWN:
                picture = picture.transpose(Image.Transpose.FLIP_TOP_BOTTOM)
            self._pictures[key] = picture
        return self._pictures[key]

    def shown(self, prop: dict) -> int:
        """The piece a prop shows at rest: the first frame of its animation, if it has one."""
        sheet = self.pieces[prop["piece"]]["sheet"]
        for animation in self.manifest["animations"]:
            if (animation["sheet"], animation["name"]) == (sheet, prop["animation"]):
                return animation["frames"][0]
        return prop["piece"]

    def pivot(self, number: int) -> tuple[float, float]:
        """A piece's pivot from its upper left corner, whichever way y grows in the manifest."""
        piece = self.pieces[number]
        x, y = piece["pivot"]
        return (x, piece["rect"][3] - y) if self.manifest["y_up"] else (x, y)


class View:
    """An area of a level, drawn layer by layer."""

    def __init__(self, bundle: Bundle, level: dict, area: tuple[int, int, int, int]) -> None:
        self.bundle, self.level = bundle, level
        self.x, self.y, self.width, self.height = area
        self.pixels = bytearray(bytes(level["background"]) * (self.width * self.height))

    def draw(self) -> Image.Image:
        for layer in self.level["layers"]:
            if layer["visible"]:
                self._draw_layer(layer)
        return Image.frombytes("RGB", (self.width, self.height), bytes(self.pixels))

    def _draw_layer(self, layer: dict) -> None:
        left, top = self.x, self.y
        if layer["parallax"] != 1:
            left, top = math.floor(left * layer["parallax"]), math.floor(top * layer["parallax"])
        opacity = round(layer["opacity"] * 255)
        self._draw_cells(layer["cells"], left, top, opacity)
        for prop in layer["props"]:
            self._draw_prop(prop, layer["repeated"], left, top, opacity)

    def _draw_cells(self, rows: list[dict], left: int, top: int, opacity: int) -> None:
        tile_width, tile_height = self.bundle.manifest["tile"]
        for row in rows:
            column = row["x"]
            for number, count, *rest in row["cells"]:
                if number:
                    picture = self.bundle.picture(number, rest[0] if rest else 0)
                    y = (row["y"] + 1) * tile_height - picture.height - top
                    for step in range(count):
                        self._blend(picture, (column + step) * tile_width - left, y, opacity)
                column += count

    def _draw_prop(self, prop: dict, repeated: bool, left: int, top: int, opacity: int) -> None:
        number = self.bundle.shown(prop)
        turn = prop["orientation"]
        picture = self.bundle.picture(number, turn)
        pivot_x, pivot_y = self.bundle.pivot(number)
        if turn & SWAP:
            pivot_x, pivot_y = pivot_y, pivot_x
        if turn & MIRROR:
            pivot_x = picture.width - pivot_x
        if turn & UPSIDE_DOWN:
            pivot_y = picture.height - pivot_y
        place_y = -prop["y"] if self.bundle.manifest["y_up"] else prop["y"]
        x = math.floor(prop["x"] - pivot_x) - left
        y = math.floor(place_y - pivot_y) - top
        if repeated:
            first = x % picture.width - picture.width
            for start in range(first, self.width, picture.width):
                self._blend(picture, start, y, opacity)
        else:
            self._blend(picture, x, y, opacity)

    def _blend(self, picture: Image.Image, x: int, y: int, opacity: int) -> None:
        """(source × alpha + below × (255 − alpha) + 127) // 255, on whole numbers."""
        source, width = picture.tobytes(), picture.width
        for row in range(max(0, -y), min(picture.height, self.height - y)):
            for column in range(max(0, -x), min(width, self.width - x)):
                at = (row * width + column) * 4
                alpha = source[at + 3]
                if opacity != 255:
                    alpha = (alpha * opacity + 127) // 255
                if not alpha:
                    continue
                to = ((y + row) * self.width + x + column) * 3
                for channel in range(3):
                    below = self.pixels[to + channel]
                    mixed = source[at + channel] * alpha + below * (255 - alpha) + 127
                    self.pixels[to + channel] = mixed // 255


def whole_area(bundle: Bundle, level: dict) -> tuple[int, int, int, int]:
    """The rectangle around all painted cells, in pixels."""
    tile_width, tile_height = bundle.manifest["tile"]
    rows = [row for layer in level["layers"] for row in layer["cells"]]
    if not rows:
        return (0, 0, *bundle.manifest["resolution"])
    left = min(row["x"] for row in rows)
    right = max(row["x"] + sum(run[1] for run in row["cells"]) for row in rows)
    top, bottom = min(row["y"] for row in rows), max(row["y"] for row in rows) + 1
    return (
        left * tile_width,
        top * tile_height,
        (right - left) * tile_width,
        (bottom - top) * tile_height,
    )


def main() -> int:
    parser = argparse.ArgumentParser(description="Draw a level of a bundle to a PNG.")
    parser.add_argument("bundle", type=Path)
    parser.add_argument("--level", required=True)
    parser.add_argument("--area", type=int, nargs=4, metavar=("X", "Y", "WIDTH", "HEIGHT"))
    parser.add_argument("--out", type=Path, required=True)
    options = parser.parse_args()
    bundle = Bundle(options.bundle)
    level = bundle.level(options.level)
    area = tuple(options.area) if options.area else whole_area(bundle, level)
    View(bundle, level, area).draw().save(options.out)
    return 0


if __name__ == "__main__":
    sys.exit(main())
