"""Small drawings for generated sheets: creatures that move, tiles of earth, brick and water."""

from __future__ import annotations

import numpy as np
from scipy import ndimage

Picture = np.ndarray
Random = np.random.Generator


def palette(draw: Random, count: int = 5) -> np.ndarray:
    """Colours from dark to light, shape (count, 3)."""
    base, light = draw.integers(10, 90, 3), draw.integers(140, 250, 3)
    steps = np.linspace(0, 1, count)[:, None]
    return np.rint(base + (light - base) * steps).astype(np.uint8)


def creature(draw: Random, width: int, height: int) -> dict[str, float]:
    """What a creature looks like: proportions that stay the same through its frames."""
    return {
        "body": draw.uniform(0.2, 0.33),
        "head": draw.uniform(0.12, 0.2),
        "tall": draw.uniform(0.6, 0.92),
        "legs": draw.uniform(0.08, 0.28),
        "lean": draw.uniform(-0.1, 0.1),
        "width": float(width),
        "height": float(height),
    }


def frame(kind: dict[str, float], colours: np.ndarray, phase: float, limbs: bool = True) -> Picture:
    """One frame of a creature in its cell, of shape (height, width, 4)."""
    w, h = int(kind["width"]), int(kind["height"])
    y, x = np.mgrid[0:h, 0:w]
    foot = h - 1 - (h >= 20)
    bob = round(abs(np.sin(phase)) * max(1, h / 24))
    middle = w / 2 + kind["lean"] * w + np.sin(phase) * 0.3
    top = foot - kind["tall"] * h + bob
    legs = foot - kind["legs"] * h
    body_y = (top + legs) / 2 + kind["head"] * h * 0.5
    body = ((x - middle) / (kind["body"] * w)) ** 2 + ((y - body_y) / ((legs - top) / 2)) ** 2 < 1
    head_y = top + kind["head"] * h
    head = (x - middle - 0.06 * w) ** 2 + (y - head_y) ** 2 < (kind["head"] * min(w, h)) ** 2
    shape = body | head
    if limbs:
        swing = np.sin(phase) * 0.12 * w
        for side in (-1, 1):
            leg_x = middle + side * (0.1 * w + swing * 0.6)
            shape |= (np.abs(x - leg_x) < max(0.8, w / 24)) & (y >= legs - 1) & (y <= foot)
            hand_x = middle + side * kind["body"] * w * 1.1 + side * swing
            shape |= (np.abs(x - hand_x) < max(0.8, w / 26)) & (np.abs(y - body_y) < h / 9)
    return _shaded(shape, colours, x, y)


def _shaded(shape: np.ndarray, colours: np.ndarray, x: np.ndarray, y: np.ndarray) -> Picture:
    picture = np.zeros((*shape.shape, 4), np.uint8)
    inner = ndimage.binary_erosion(shape)
    light = np.clip(1 + (x + 2 * y) % 5 // 2 + (y < shape.shape[0] / 2), 1, len(colours) - 1)
    picture[shape, :3] = colours[0]
    picture[inner, :3] = colours[light[inner]]
    picture[shape, 3] = 255
    return picture


def texture(draw: Random, width: int, height: int, colours: np.ndarray) -> Picture:
    """One opaque tile of its own make: speckled, bricked, banded, or wavy."""
    y, x = np.mgrid[0:height, 0:width]
    kind = draw.integers(0, 4)
    if kind == 0:
        level = ndimage.uniform_filter(draw.random((height, width)), 2, mode="wrap") * len(colours)
    elif kind == 1:
        brick = max(3, height // int(draw.integers(2, 5)))
        row = y // brick
        level = 2.0 + ((x + row * brick) % (2 * brick) > 0) * 1.2 - (y % brick == 0) * 2
    elif kind == 2:
        level = (y * draw.uniform(0.1, 0.5) + draw.random((height, width))) % len(colours)
    else:
        level = 2 + 1.6 * np.sin(x * 2 * np.pi / width * draw.integers(1, 3)) * np.cos(y * 0.7)
    picture = np.full((height, width, 4), 255, np.uint8)
    picture[..., :3] = colours[np.clip(level.astype(int), 0, len(colours) - 1)]
    if draw.random() < 0.35:
        for side in draw.integers(0, 4, 2):
            rim = [np.s_[:2], np.s_[-2:], np.s_[:, :2], np.s_[:, -2:]][side]
            picture[(*rim, np.s_[:3]) if isinstance(rim, tuple) else (rim, np.s_[:], np.s_[:3])] = (
                colours[-1]
            )
    return picture


def thing(draw: Random, width: int, height: int, colours: np.ndarray) -> Picture:
    """Something small standing in a cell: a plant, a stone, a post."""
    y, x = np.mgrid[0:height, 0:width]
    across, tall = draw.uniform(0.15, 0.48) * width, draw.uniform(0.3, 0.98) * height
    middle = width / 2 + draw.uniform(-0.08, 0.08) * width
    if draw.random() < 0.5:
        shape = ((x - middle) / across) ** 2 + ((y - height) / tall) ** 2 < 1
    else:
        shape = (np.abs(x - middle) < across * (0.4 + 0.6 * (y / height))) & (y > height - tall)
    return _shaded(shape, colours, x, y)
