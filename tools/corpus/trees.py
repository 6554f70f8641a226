"""Generated figures as artists hand them out: a folder for each animation, cropped in some way."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Literal

import numpy as np

from rushweed.core.gather.pictures import encode_png
from tools.corpus.figures import Picture, creature, frame, palette

Crop = Literal["each frame alone", "each folder", "each folder, padded to powers of two"]
CROPS: tuple[Crop, ...] = (
    "each frame alone",
    "each folder",
    "each folder, padded to powers of two",
)
COUNTS = {"idle": 4, "run": 6, "strike": 5}
SIDES = (24, 32, 48, 64, 96)


def draw_figure(seed: int) -> dict[str, list[Picture]]:
    """The frames of each animation, all on one canvas: a creature that sways, runs with its limbs
    swinging, and strikes with something long in its hand."""
    draw = np.random.default_rng(seed)
    side = int(draw.choice(SIDES))
    kind, colours = creature(draw, side, side), palette(draw)
    reach, height = draw.uniform(0.2, 0.45) * side, int(draw.uniform(0.4, 0.6) * side)
    found: dict[str, list[Picture]] = {}
    for action, count in COUNTS.items():
        for place in range(count):
            turn = 2 * np.pi * place / count * (0.3 if action == "idle" else 1)
            picture = np.zeros((side, 2 * side, 4), np.uint8)
            picture[:, side // 2 : side // 2 + side] = frame(kind, colours, turn)
            if action == "strike":
                end = side + round(reach * (1 + np.sin(turn)))
                picture[height : height + max(1, side // 16), side:end] = (*colours[-1], 255)
            found.setdefault(action, []).append(picture)
    return found


def cropped(frames: Sequence[Picture], crop: Crop) -> Iterator[tuple[Picture, tuple[int, int]]]:
    """Each frame as it is handed out, and where its left upper corner was on the canvas."""
    boxes = list(map(_box, frames))
    if crop != "each frame alone":
        lefts, tops, rights, bottoms = zip(*boxes, strict=True)
        whole = min(lefts), min(tops), max(rights), max(bottoms)
        boxes = [whole] * len(frames)
    for picture, (left, top, right, bottom) in zip(frames, boxes, strict=True):
        part = picture[top:bottom, left:right]
        if crop.endswith("powers of two"):
            sides = [1 << (side - 1).bit_length() for side in part.shape[:2]]
            wide, tall = sides[1] - part.shape[1], sides[0] - part.shape[0]
            part = np.pad(part, ((tall, 0), (wide // 2, wide - wide // 2), (0, 0)))
            left, top = left - wide // 2, top - tall
        yield part, (left, top)


def write_tree(
    folder: Path, figure: dict[str, list[Picture]], crop: Crop
) -> dict[str, list[tuple[int, int]]]:
    """Write a figure's pictures; returns where the corner of each was on the canvas."""
    corners: dict[str, list[tuple[int, int]]] = {}
    for action, frames in figure.items():
        (folder / action).mkdir(parents=True)
        for number, (picture, corner) in enumerate(cropped(frames, crop)):
            (folder / action / f"{number:04}.png").write_bytes(encode_png(picture))
            corners.setdefault(action, []).append(corner)
    return corners


def _box(picture: Picture) -> tuple[int, int, int, int]:
    rows, columns = np.nonzero(picture[..., 3])
    return columns.min(), rows.min(), columns.max() + 1, rows.max() + 1
