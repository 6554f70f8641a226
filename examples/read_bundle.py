# SPDX-FileCopyrightText: The authors of Rushweed
# SPDX-License-Identifier: MIT
"""Reads a bundle and draws a level of it to a PNG, with nothing of Rushweed: the standard library
and Pillow only. It is written from docs/format/bundle.md, and shows how a game may do it.

    python read_bundle.py BUNDLE_FOLDER --level "Long boardwalk" --out level.png
    python read_bundle.py BUNDLE_FOLDER --level "Heron pool" --area 0 0 256 144 --out view.png
"""

from __future__ import annotations

import argparse
import base64
import io
import json
import math
import struct
import sys
import zlib
from collections.abc import Iterator
from hashlib import sha256
from itertools import chain
from pathlib import Path

from PIL import Image

SWAP, MIRROR, UPSIDE_DOWN = 4, 1, 2
PART, LONGEST = 65536, 8192
NO_BORDERS = {"left": 0, "top": 0, "right": 0, "bottom": 0, "middle": "stretched"}


def whole(folder: Path) -> tuple[dict, dict[str, bytes]]:
    """The manifest and the files that belong to it, even while a new bundle is being written."""
    while True:
        manifest = json.loads((folder / "bundle.json").read_text(encoding="utf-8"))
        try:
            files = {name: (folder / name).read_bytes() for name in manifest["files"]}
        except FileNotFoundError:
            continue
        if all(sha256(data).hexdigest() == manifest["files"][n] for n, data in files.items()):
            return manifest, files


class Bundle:
    """A bundle's manifest, and its pieces cut from the pages when they are first asked for."""

    def __init__(self, folder: Path) -> None:
        self.manifest, self.files = whole(folder)
        if self.manifest["format"] != 4:
            raise SystemExit(
                f"This reader knows format 4, the bundle has {self.manifest['format']}."
            )
        self.manifest["levels"] = list(map(self._whole, self.manifest["levels"]))
        self.pages = [self._page(page) for page in self.manifest["pages"]]
        self.pieces = {piece["number"]: piece for piece in self.manifest["pieces"]}
        unit = self.manifest["units"] == "units"
        self.unit = self.manifest["pixels_per_unit"] if unit else 1
        self._pictures: dict[tuple[object, ...], Image.Image] = {}

    def _whole(self, level: dict) -> dict:
        """A level with its cells, in whatever files they are. A game reads the chunks it needs."""
        level = json.loads(self.files[level["file"]]) if "file" in level else level
        for chunk in level["chunks"]:
            held = json.loads(self.files[chunk["file"]])
            for layer, rows in zip(level["layers"], held["layers"], strict=True):
                layer["cells"] += rows
        return level

    def _page(self, page: dict) -> Image.Image:
        """The page at density 1, or shrunk to it."""
        densities = sorted(page["densities"], key=lambda entry: entry["density"])
        first = densities[0]
        if first["file"].startswith("data:"):
            picture = Image.open(io.BytesIO(base64.b64decode(first["file"].split(",", 1)[1])))
        else:
            picture = Image.open(io.BytesIO(self.files[first["file"]]))
        picture = picture.convert("RGBA")
        if first["density"] > 1:
            picture = picture.resize(tuple(page["size"]), Image.Resampling.NEAREST)
        return picture

    def level(self, name: str) -> dict:
        for level in self.manifest["levels"]:
            if level["name"] == name:
                return level
        raise SystemExit(f"There is no level “{name}” in this bundle.")

    def picture(self, number: int, orientation: int = 0, tint: object = None) -> Image.Image:
        """A piece's pixels, whole, turned and flipped, under a tint."""
        key = (number, orientation, tuple(tint) if tint else None)
        if key not in self._pictures:
            picture = turned(self._standing(self.pieces[number]), orientation)
            self._pictures[key] = tinted(picture, tint) if tint else picture
        return self._pictures[key]

    def _standing(self, piece: dict) -> Image.Image:
        """A piece's pixels as large as it stands in levels."""
        x, y, width, height = piece["rect"]
        part = self.pages[piece["page"]].crop((x, y, x + width, y + height))
        if piece["turned"]:
            part = part.transpose(Image.Transpose.ROTATE_90)
        picture = Image.new("RGBA", tuple(piece["size"]))
        picture.paste(part, tuple(map(int, piece["offset"])))
        width, height = size = self.size(piece)
        if size == picture.size:
            return picture
        columns = shown_of(picture.width, width, 0, 0, False)
        return sampled(picture, columns, shown_of(picture.height, height, 0, 0, False))

    def size(self, piece: dict) -> tuple[int, int]:
        """How large a piece stands in levels: a unit is a unit there, however it was drawn."""
        unit, own = self.manifest["pixels_per_unit"], piece["pixels_per_unit"]
        return tuple(
            min(max(1, (2 * side * unit + own) // (2 * own)), LONGEST) for side in piece["size"]
        )

    def shown(self, prop: dict, seconds: float) -> int:
        """The piece a prop shows after so many seconds."""
        sheet = self.pieces[prop["piece"]]["sheet"]
        for animation in self.manifest["animations"]:
            if (animation["sheet"], animation["name"]) == (sheet, prop["animation"]):
                return frame(animation, seconds + prop["phase"])
        return prop["piece"]

    def in_cell(self, number: int, seconds: float) -> int:
        """The piece a painted cell shows after so many seconds."""
        for animation in self.manifest["animations"]:
            if animation["in_cells"] and animation["frames"][:1] == [number]:
                return frame(animation, seconds)
        return number

    def pivot(self, number: int) -> tuple[float, float]:
        """A piece's pivot as it stands in levels, in pixels from its upper left corner, whatever
        the manifest tells in."""
        piece = self.pieces[number]
        unit = piece["pixels_per_unit"] if self.manifest["units"] == "units" else 1
        x, y = (round(side * unit, 3) for side in piece["pivot"])
        (whole, high), (width, height) = piece["size"], self.size(piece)
        y = high - y if self.manifest["y_up"] else y
        return x * width / whole, y * height / high

    def borders(self, number: int) -> dict:
        """A piece's borders as it stands in levels; a pixel is left between them."""
        piece = self.pieces[number]
        borders = piece["borders"]
        if borders is None:
            return NO_BORDERS
        (whole, high), (width, height) = piece["size"], self.size(piece)
        across = sized_ends(borders["left"], borders["right"], whole, width)
        down = sized_ends(borders["top"], borders["bottom"], high, height)
        ends = dict(zip(("left", "right", "top", "bottom"), (*across, *down), strict=True))
        return {**ends, "middle": borders["middle"]}

    def place(self, x: float, y: float) -> tuple[float, float]:
        """A place of a level in pixels, y down."""
        x, y = round(x * self.unit, 3), round(y * self.unit, 3)
        return (x, -y) if self.manifest["y_up"] else (x, y)


def turned(picture: Image.Image, orientation: int) -> Image.Image:
    """A picture in one of the eight orientations."""
    if orientation & SWAP:
        picture = picture.transpose(Image.Transpose.TRANSPOSE)
    if orientation & MIRROR:
        picture = picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT)
    if orientation & UPSIDE_DOWN:
        picture = picture.transpose(Image.Transpose.FLIP_TOP_BOTTOM)
    return picture


def posed(bundle: Bundle, number: int, prop: dict) -> tuple[Image.Image, tuple[float, float]]:
    """A piece as a prop shows it, and where its pivot lies in that picture."""
    picture = bundle.picture(number)
    pivot_x, pivot_y = bundle.pivot(number)
    width, height = drawn = (
        drawn_side(picture.width, prop["across"]),
        drawn_side(picture.height, prop["down"]),
    )
    if drawn != picture.size:
        borders = bundle.borders(number)
        tiled = borders["middle"] == "tiled"
        columns = shown_of(picture.width, width, borders["left"], borders["right"], tiled)
        rows = shown_of(picture.height, height, borders["top"], borders["bottom"], tiled)
        pivot_x, pivot_y = pivot_x * width / picture.width, pivot_y * height / picture.height
        picture = sampled(picture, columns, rows)
    turn = prop["orientation"]
    picture = turned(picture, turn)
    if turn & SWAP:
        pivot_x, pivot_y = pivot_y, pivot_x
    if turn & MIRROR:
        pivot_x = picture.width - pivot_x
    if turn & UPSIDE_DOWN:
        pivot_y = picture.height - pivot_y
    if prop["angle"] % 360:
        return rotated(picture, pivot_x, pivot_y, prop["angle"] % 360)
    return picture, (pivot_x, pivot_y)


def sampled(picture: Image.Image, columns: list[int], rows: list[int]) -> Image.Image:
    """A picture of some of the columns and rows of another."""
    source, result = picture.load(), Image.new("RGBA", (len(columns), len(rows)))
    result.putdata([source[x, y] for y in rows for x in columns])
    return result


def sized_ends(first: int, last: int, side: int, wanted: int) -> tuple[int, int]:
    """The borders of a side that is drawn in another length."""
    first, last = ((2 * end * wanted + side) // (2 * side) for end in (first, last))
    first = min(first, wanted - 1)
    return first, min(last, wanted - first - 1)


def drawn_side(pixels: int, factor: float) -> int:
    """How long a side is drawn."""
    return min(max(1, math.floor(pixels * factor + 0.5)), LONGEST)


def shown_of(side: int, wanted: int, first: int, last: int, tiled: bool) -> list[int]:
    """Which pixel of a side each one shows; those of borders keep their size if they have room."""
    if first + last >= min(side, wanted):
        first, last, tiled = 0, 0, False
    middle, long = side - first - last, wanted - first - last
    between = [step % middle if tiled else (2 * step + 1) * middle // (2 * long)
               for step in range(long)]  # fmt: skip
    return [*range(first), *(first + step for step in between), *range(side - last, side)]


def rotated(
    picture: Image.Image, pivot_x: float, pivot_y: float, degrees: int
) -> tuple[Image.Image, tuple[int, int]]:
    """A picture turned clockwise about its pivot, with sine and cosine in whole 65536ths."""
    cos = math.floor(math.cos(math.radians(degrees)) * PART + 0.5)
    sin = math.floor(math.sin(math.radians(degrees)) * PART + 0.5)
    corners = [
        ((x - pivot_x) * cos - (y - pivot_y) * sin, (x - pivot_x) * sin + (y - pivot_y) * cos)
        for x in (0, picture.width)
        for y in (0, picture.height)
    ]
    left, top = (math.floor(min(places) / PART) for places in zip(*corners, strict=True))
    right, bottom = (math.ceil(max(places) / PART) for places in zip(*corners, strict=True))
    source, result = picture.load(), Image.new("RGBA", (right - left, bottom - top))
    for row in range(result.height):
        for column in range(result.width):
            across, down = column + left + 0.5, row + top + 0.5
            x = math.floor((across * cos + down * sin) / PART + pivot_x)
            y = math.floor((down * cos - across * sin) / PART + pivot_y)
            if 0 <= x < picture.width and 0 <= y < picture.height:
                result.putpixel((column, row), source[x, y])
    return result, (-left, -top)


def byte_of(share: float) -> int:
    """An opacity from 0 to 255."""
    return math.floor(share * 255 + 0.5)


def tinted(picture: Image.Image, tint: object) -> Image.Image:
    """Colours multiplied: (colour × tint + 127) // 255."""
    tables = [[(value * shade + 127) // 255 for value in range(256)] for shade in tint]
    return picture.point([*tables[0], *tables[1], *tables[2], *range(256)])


class View:
    """An area of a level, drawn layer by layer."""

    def __init__(
        self, bundle: Bundle, level: dict, area: tuple[int, int, int, int], seconds: float = 0.0
    ) -> None:
        self.bundle, self.level, self.seconds = bundle, level, seconds
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
        opacity = byte_of(layer["opacity"])
        self._draw_cells(layer, left, top, opacity)
        props = layer["props"]
        if self.level["view"] == "top-down":
            props = sorted(props, key=lambda prop: self.bundle.place(prop["x"], prop["y"])[1])
        for prop in props:
            self._draw_prop(prop, layer, left, top, opacity)

    def _draw_cells(self, layer: dict, left: int, top: int, opacity: int) -> None:
        tile_width, tile_height = self.bundle.manifest["tile"]
        for line, column, number, turn in sorted(
            chain.from_iterable(map(cells_of, layer["cells"]))
        ):
            shown = self.bundle.in_cell(number, self.seconds)
            picture = self.bundle.picture(shown, turn, layer["tint"])
            y = (line + 1) * tile_height - picture.height - top
            self._blend(picture, column * tile_width - left, y, opacity)

    def _draw_prop(self, prop: dict, layer: dict, left: int, top: int, opacity: int) -> None:
        number = self.bundle.shown(prop, self.seconds)
        picture, (pivot_x, pivot_y) = posed(self.bundle, number, prop)
        for tint in (prop["tint"], layer["tint"]):
            picture = tinted(picture, tint) if tint else picture
        opacities = (byte_of(prop["opacity"]), opacity)
        place_x, place_y = self.bundle.place(prop["x"], prop["y"])
        x = math.floor(place_x - pivot_x) - left
        y = math.floor(place_y - pivot_y) - top
        for down in starts(y, picture.height, self.height, layer["repeated_down"]):
            for across in starts(x, picture.width, self.width, layer["repeated"]):
                self._blend(picture, across, down, *opacities)

    def _blend(self, picture: Image.Image, x: int, y: int, *opacities: int) -> None:
        """(source × alpha + below × (255 − alpha) + 127) // 255, on whole numbers."""
        source, width = picture.tobytes(), picture.width
        for row in range(max(0, -y), min(picture.height, self.height - y)):
            for column in range(max(0, -x), min(width, self.width - x)):
                at = (row * width + column) * 4
                alpha = source[at + 3]
                for opacity in opacities:
                    if opacity != 255:
                        alpha = (alpha * opacity + 127) // 255
                if not alpha:
                    continue
                to = ((y + row) * self.width + x + column) * 3
                for channel in range(3):
                    below = self.pixels[to + channel]
                    mixed = source[at + channel] * alpha + below * (255 - alpha) + 127
                    self.pixels[to + channel] = mixed // 255


def frame(animation: dict, seconds: float) -> int:
    """The frame that an animation shows after so many seconds."""
    held = zip(animation["frames"], animation["holds"], strict=True)
    steps = [number for number, count in held for _ in range(count)]
    step = math.floor(seconds * animation["rate"])
    if animation["play"] == "once":
        return steps[min(step, len(steps) - 1)]
    if animation["play"] == "loop" or len(steps) < 2:
        return steps[step % len(steps)]
    step %= 2 * len(steps) - 2
    return steps[step if step < len(steps) else 2 * len(steps) - 2 - step]


def starts(start: int, length: int, whole: int, again: bool) -> range:
    """Where a picture begins along a side of the view: once, or again and again."""
    return range(start % length - length, whole, length) if again else range(start, start + 1)


def cells_of(row: dict) -> Iterator[tuple[int, int, int, int]]:
    """Row, column, piece number and orientation of each painted cell, of runs, plain rows or packed
    blocks."""
    column, line = row["x"], row["y"]
    if "packed" in row:
        data, count = zlib.decompress(base64.b64decode(row["packed"])), row["width"] * row["height"]
        for place, number in enumerate(struct.unpack_from(f"<{count}I", data)):
            if number:
                down, across = divmod(place, row["width"])
                yield line + down, column + across, number, data[4 * count + place]
    elif "numbers" in row:
        for number, turn in zip(row["numbers"], row["orientations"], strict=True):
            if number:
                yield line, column, number, turn
            column += 1
    else:
        for number, count, *rest in row["cells"]:
            for step in range(count if number else 0):
                yield line, column + step, number, rest[0] if rest else 0
            column += count


def whole_area(bundle: Bundle, level: dict) -> tuple[int, int, int, int]:
    """The rectangle around all painted cells, in pixels."""
    tile_width, tile_height = bundle.manifest["tile"]
    rows = [row for layer in level["layers"] for row in layer["cells"]]
    spots = [(column, line) for row in rows for line, column, _, _ in cells_of(row)]
    if not spots:
        return (0, 0, *bundle.manifest["resolution"])
    left, top = min(x for x, _ in spots), min(y for _, y in spots)
    right, bottom = max(x for x, _ in spots) + 1, max(y for _, y in spots) + 1
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
    parser.add_argument("--seconds", type=float, default=0.0, help="how long it has run")
    parser.add_argument("--out", type=Path, required=True)
    options = parser.parse_args()
    bundle = Bundle(options.bundle)
    level = bundle.level(options.level)
    area = tuple(options.area) if options.area else whole_area(bundle, level)
    View(bundle, level, area, options.seconds).draw().save(options.out)
    return 0


if __name__ == "__main__":
    sys.exit(main())
