"""How well keys of lossy pictures and bad enlargement are seen, and put right, on generated art."""

from __future__ import annotations

from collections import defaultdict

import numpy as np
from PIL import Image

from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.enlargement import how_enlarged
from rushweed.core.gather.redrawing import redrawn
from rushweed.core.project.sheet import Kernel
from rushweed.core.values import Size
from tools.corpus.lossy import lossy_sheets, over, spilled
from tools.corpus.sheets import corpus

KEY_SEEDS = (1000, 100)
NEAR_KEY = 8
SMALLEST, LARGEST, MOST = 40, 240, 12
FACTORS, PARTS = (1.7, 2, 2.5, 3, 4), (2, 3, 4, 6)
ALIKE = 12
WAYS: dict[Kernel, Image.Resampling] = {
    "nearest": Image.Resampling.NEAREST,
    "linear": Image.Resampling.BILINEAR,
    "cubic": Image.Resampling.BICUBIC,
}


def keys_table() -> list[str]:
    """Rows: the key and quality, how many keys are seen, what share of what is shown is nearer to
    the key than to the art, and how many lossless ones are taken for lossy."""
    seed, each = KEY_SEEDS
    seen: dict[tuple[str, int], list[float]] = defaultdict(lambda: [0, 0, 0, 0, 0])
    for sheet in lossy_sheets(each, seed):
        row = seen[sheet.key.hex, sheet.quality]
        row[1] += 1
        row[4] += bool((exact := guess_key(over(sheet.art, sheet.key))) and exact.tolerance)
        key = guess_key(sheet.picture)
        apart = (abs(a - b) for a, b in zip(key.colour, sheet.key, strict=True)) if key else ()
        if key is None or max(apart) > NEAR_KEY:
            continue
        row[0] += 1
        result = apply_key(sheet.picture, key)
        count = int((result[..., 3] > 0).sum())
        row[2] += spilled(result, sheet) * count
        row[3] += count
    rows = []
    for (colour, quality), (found, asked, stays, count, wrong) in seen.items():
        share = f"{stays / max(count, 1):.2%}"
        rows.append(f"| {colour} | {quality} | {found:g} of {asked:g} | {share} | {wrong:g} |")
    return rows


def enlargement_table() -> list[str]:
    """Rows: the factor, and for each way of enlarging how many are told with their very size and
    what share of their drawn pixels comes back within a few levels."""
    sheets = [sample.picture for sample in corpus(1, 1000)]
    sheets = [
        one for one in sheets if SMALLEST <= min(one.shape[:2]) <= max(one.shape[:2]) <= LARGEST
    ]
    rows = []
    for factor in FACTORS:
        cells = [_told(sheets[:MOST], factor, way) for way in WAYS]
        rows.append(f"| {factor:g} | {' | '.join(cells)} |")
    for factor in PARTS:
        cells = [_told_part(sheets[:MOST], factor, way) for way in WAYS]
        rows.append(f"| a part, {factor} | {' | '.join(cells)} |")
    plain = sum(how_enlarged(one) is not None for one in sheets[:MOST])
    return [*rows, f"| not enlarged | {plain} told of {len(sheets[:MOST])} | | |"]


def _told(sheets: list[np.ndarray], factor: float, way: Kernel) -> str:
    if way == "nearest" and factor == int(factor):
        return "a true pixel size"
    back = []
    for picture in sheets:
        stored = _larger(picture, factor, way)
        found = how_enlarged(stored)
        if found is not None and found.redrawn.size == Size(picture.shape[1], picture.shape[0]):
            back.append(_back(redrawn(stored, found.redrawn), picture))
    return _said(back, len(sheets))


def _told_part(sheets: list[np.ndarray], factor: int, way: Kernel) -> str:
    """Of a part that begins and ends anywhere within a pixel; its rim can only be guessed."""
    back = []
    for seed, picture in enumerate(sheets):
        left, top, right, bottom = np.random.default_rng(seed).integers(1, 3 * factor, 4)
        stored = _larger(picture, factor, way)[top:-bottom, left:-right]
        found = how_enlarged(stored)
        if found is None or found.redrawn.factor != factor:
            continue
        if found.redrawn.cut == Size(left % factor, top % factor):
            again, x, y = redrawn(stored, found.redrawn), left // factor, top // factor
            shown = picture[y : y + again.shape[0], x : x + again.shape[1]]
            back.append(_back(again[1:-1, 1:-1], shown[1:-1, 1:-1]))
    return _said(back, len(sheets))


def _larger(picture: np.ndarray, factor: float, way: Kernel) -> np.ndarray:
    height, width = picture.shape[:2]
    size = round(width * factor), round(height * factor)
    multiplied = Image.fromarray(picture).convert("RGBa")
    return np.asarray(multiplied.resize(size, WAYS[way]).convert("RGBA"))


def _back(again: np.ndarray, picture: np.ndarray) -> float:
    """The share of the drawn pixels that came back."""
    both = (again[..., 3] > 0) | (picture[..., 3] > 0)
    return float((np.abs(again.astype(int) - picture).max(axis=2)[both] <= ALIKE).mean())


def _said(back: list[float], asked: int) -> str:
    return f"{len(back)} of {asked}, {np.mean(back) if back else 0:.1%} back"
