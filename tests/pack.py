"""A pack as strangers draw them: tiles of several sizes, figures, pictures, mixed in one folder."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from tests.samples import write_picture

Rng = np.random.Generator


def write_pack(folder: Path, seed: int = 5, tile: int = 32) -> Path:
    """Ground of one tile three times, of 24 px and of 40 × 30 once each, two figures of 48 × 64 on
    a flat key or on nothing, and a backdrop."""
    draw = np.random.default_rng(seed)
    folder.mkdir(parents=True, exist_ok=True)
    for name in ("moor_ground", "moor_stones", "moor_walls"):
        write_picture(folder / f"{name}.png", ground(draw, tile, tile, 6, 4))
    write_picture(folder / "old_huts.png", ground(draw, 24, 24, 6, 4))
    write_picture(folder / "roofs.png", ground(draw, 40, 30, 6, 4))
    write_picture(folder / "wader.png", figures(draw, 48, 64, 6, 2))
    write_picture(folder / "lantern_maid.png", keyed(figures(draw, 48, 64, 4, 2)))
    write_picture(folder / "evening.png", backdrop(draw, 640, 200))
    return folder


def ground(draw: Rng, width: int, height: int, columns: int, rows: int) -> np.ndarray:
    """Tiles that fill their cells: each of a colour of its own, with a rim and some grain. The
    last row stands free in its cells."""
    picture = np.zeros((height * rows, width * columns, 4), np.uint8)
    for row in range(rows):
        for column in range(columns):
            tile = np.zeros((height, width, 4), np.uint8)
            colour = draw.integers(60, 200, 3)
            tile[..., :3] = colour + draw.integers(-20, 20, (height, width, 1))
            tile[..., 3] = 255
            tile[:2] = tile[:, :2] = (*(colour // 2), 255)
            if row == rows - 1:
                tile[: height // 2] = 0
                tile[:, : width // 4] = tile[:, -width // 4 :] = 0
            picture[row * height :, column * width :][:height, :width] = tile
    return picture


def figures(draw: Rng, width: int, height: int, columns: int, rows: int) -> np.ndarray:
    """Frames of somebody who walks: a body, a head, legs that swing, standing on one line."""
    picture = np.zeros((height * rows, width * columns, 4), np.uint8)
    coat, skin = draw.integers(40, 220, 3), draw.integers(120, 240, 3)
    for row in range(rows):
        for column in range(columns):
            frame = picture[row * height :, column * width :][:height, :width]
            middle, swing = width // 2, (column % 3 - 1) * 3
            frame[height // 3 : height * 2 // 3, middle - 9 : middle + 9] = (*coat, 255)
            frame[height // 8 : height // 3, middle - 6 : middle + 6] = (*skin, 255)
            for side in (-1, 1):
                left = middle + side * 5 - 2 + side * swing
                frame[height * 2 // 3 : height - 2, left : left + 4] = (*(coat // 2), 255)
    return picture


def keyed(picture: np.ndarray) -> np.ndarray:
    """The picture on a flat magenta, without alpha."""
    result = picture.copy()
    result[picture[..., 3] == 0] = (255, 0, 255, 255)
    result[..., 3] = 255
    return result


def backdrop(draw: Rng, width: int, height: int) -> np.ndarray:
    """A sky of soft bands with hills before it."""
    picture = np.zeros((height, width, 4), np.uint8)
    down = np.linspace(0, 1, height)[:, None]
    picture[..., :3] = np.stack([80 + 120 * down, 60 + 60 * down, 120 - 40 * down], 2)
    hills = height * 0.6 + 30 * np.sin(np.arange(width) / 60) + draw.normal(0, 2, width)
    picture[np.arange(height)[:, None] > hills, :3] = (40, 50, 60)
    picture[..., 3] = 255
    return picture
