"""Reducing a picture to few colours, its own where they suffice.

Colours are parted where they spread most (X. Wu, "Color Quantization by Dynamic Programming and
Principal Analysis", 1992, here with a plain cut at the mean) and then moved to the middle of
those nearest to them (S. Lloyd, "Least Squares Quantization in PCM", 1982). Both count colours
multiplied by alpha, as they are seen. Dithering is by R. Floyd and L. Steinberg, 1976, worked
through in slanting rows whose pixels do not wait for each other.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import packed
from rushweed.core.gather.pictures import MOST_EFFORT, Picture, encode_png
from rushweed.core.gauge.alpha import Pixels, premultiplied, straight

MOST = 256
SAMPLED = 64
"""Whether a picture has few colours is first asked of so many rows and columns."""
MOST_KINDS = 1 << 14
"""Pictures of more colours have those that are all but equal counted together."""
AT_ONCE = 1 << 14
MOVES, RELOCATIONS = 80, 12
SHARES = ((0, 1, 7 / 16), (1, -1, 3 / 16), (1, 0, 5 / 16), (1, 1, 1 / 16))
"""How much of a pixel's error goes where: rows down, columns across, share."""


@dataclass(frozen=True, slots=True, eq=False)
class Palette:
    """Colours (count, 4) uint8, straight alpha, and which of them each pixel has."""

    colours: npt.NDArray[np.uint8]
    indices: npt.NDArray[np.uint8]

    @property
    def picture(self) -> Picture:
        """The pixels it stands for."""
        result: Picture = self.colours[self.indices]
        return result


def reduced(picture: Picture, count: int, dithered: bool = False) -> Palette:
    """A picture in at most `count` colours, 2 to 256; exact where it has no more. All pixels that
    are fully clear count as one colour. Raises ValueError for another count."""
    if not 2 <= count <= MOST:
        raise ValueError(f"count is from 2 to {MOST}, not {count}.")
    seen = np.where(picture[..., 3:] > 0, picture, 0).astype(np.uint8)
    words = packed(seen)
    kinds, which, counts = np.unique(words, return_inverse=True, return_counts=True)
    if len(kinds) <= count:
        own = kinds.view(np.uint8).reshape(-1, 4)
        return Palette(own, which.reshape(words.shape).astype(np.uint8))
    has_clear = bool(kinds[0] == 0)
    visible = kinds[1:] if has_clear else kinds
    colours = _chosen(visible, counts[1:] if has_clear else counts, count - has_clear)
    if has_clear:
        colours = np.concatenate([np.zeros((1, 4), np.uint8), colours])
    if dithered:
        return Palette(colours, _diffused(seen, colours))
    nearest = _nearest(kinds.view(np.uint8).reshape(-1, 4), colours)
    return Palette(colours, nearest[which].reshape(words.shape).astype(np.uint8))


def fits_palette(picture: Picture, count: int = MOST) -> bool:
    """Whether a palette of so many colours holds the picture exactly."""
    seen = np.where(picture[..., 3:] > 0, picture, 0).astype(np.uint8)
    return len(np.unique(np.ascontiguousarray(seen).view(np.uint32))) <= count


def palette_png(palette: Palette, effort: int = MOST_EFFORT) -> bytes:
    """The picture as a PNG file that holds its palette; see `encode_png`."""
    from PIL import Image

    image = Image.fromarray(palette.indices, "P")
    image.putpalette(palette.colours[:, :3].tobytes())
    target = io.BytesIO()
    alpha = palette.colours[:, 3].tobytes()
    image.save(target, "PNG", transparency=alpha, compress_level=effort)
    return target.getvalue()


def lossless_png(picture: Picture, effort: int = MOST_EFFORT) -> bytes:
    """A picture as a PNG file, just as it is: with a palette where it has few enough colours; see
    `encode_png`."""
    own = own_palette(picture)
    return encode_png(picture, effort) if own is None else palette_png(own, effort)


def own_palette(picture: Picture) -> Palette | None:
    """All colours of a picture, in the order of their bytes as a number, and which of them each
    pixel has; None where they are more than a palette holds."""
    words = packed(picture)
    sample = words[:: max(1, len(words) // SAMPLED), :: max(1, words.shape[1] // SAMPLED)]
    kinds = np.unique(sample)
    while len(kinds) <= MOST:
        indices = _places_among(kinds, words)
        unknown = words[kinds[indices] != words]
        if not len(unknown):
            return Palette(kinds.view(np.uint8).reshape(-1, 4), indices)
        kinds = np.union1d(kinds, unknown)
    return None


def _places_among(
    kinds: npt.NDArray[np.uint32], words: npt.NDArray[np.uint32]
) -> npt.NDArray[np.uint8]:
    """Where each word is among at most 256 kinds, found by a number that is another for each of
    them; any place for a word that is none of them."""
    factor = 0x9E3779B1
    while len(np.unique(kinds * np.uint32(factor) >> 16)) < len(kinds):
        factor = (factor + 0x3C6EF372) & 0xFFFFFFFF  # stays odd
    table = np.zeros(1 << 16, np.uint8)
    table[kinds * np.uint32(factor) >> 16] = np.arange(len(kinds))
    places: npt.NDArray[np.uint8] = table[words * np.uint32(factor) >> 16]
    return places


def _chosen(
    kinds: npt.NDArray[np.uint32], counts: npt.NDArray[np.intp], count: int
) -> npt.NDArray[np.uint8]:
    """The colours that stand for all kinds with the least squared error that was found."""
    own = premultiplied(kinds.view(np.uint8).reshape(-1, 4)).astype(np.float64)
    points, weights = _joined(own, counts.astype(np.float64))
    centres, error = _settled(points, weights, _parted(points, weights, count))
    for _ in range(RELOCATIONS):
        other, other_error = _settled(points, weights, _relocated(points, weights, centres))
        if other_error >= error * 0.9999:
            break
        centres, error = other, other_error
    return np.unique(straight(centres[None].astype(np.float32))[0], axis=0)


def _settled(
    points: npt.NDArray[np.float64],
    weights: npt.NDArray[np.float64],
    centres: npt.NDArray[np.float64],
) -> tuple[npt.NDArray[np.float64], float]:
    """Centres moved to the middle of what is nearest to them until they rest, and the error."""
    owner = np.zeros(len(points), np.intp)
    for _ in range(MOVES):
        owner = _owners(points.astype(np.float32), centres.astype(np.float32))
        moved = _middles(points, weights, owner, centres)
        rests = np.abs(moved - centres).max() < 0.02
        centres = moved
        if rests:
            break
    return centres, float((weights * ((points - centres[owner]) ** 2).sum(axis=1)).sum())


def _relocated(
    points: npt.NDArray[np.float64],
    weights: npt.NDArray[np.float64],
    centres: npt.NDArray[np.float64],
) -> npt.NDArray[np.float64]:
    """The centre that would be missed least, moved to where the error is largest."""
    owner = _owners(points.astype(np.float32), centres.astype(np.float32))
    errors = weights * ((points - centres[owner]) ** 2).sum(axis=1)
    amounts = np.bincount(owner, weights, len(centres))
    apart = ((centres[:, None] - centres[None]) ** 2).sum(axis=2)
    np.fill_diagonal(apart, np.inf)
    worst = int(np.bincount(owner, errors, len(centres)).argmax())
    missed = amounts * apart.min(axis=1)
    missed[worst] = np.inf
    group = np.flatnonzero(owner == worst)
    _, above = _spread(points, weights, group)
    result = centres.copy()
    for place, part in ((worst, group[~above]), (int(missed.argmin()), group[above])):
        if len(part):
            result[place] = np.average(points[part], axis=0, weights=weights[part])
    return result


def _joined(
    points: npt.NDArray[np.float64], weights: npt.NDArray[np.float64]
) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """Points that are all but equal as one, until there are few enough."""
    step = 1
    while len(points) > MOST_KINDS:
        step *= 2
        _, owner = np.unique((points // step).astype(np.int64), axis=0, return_inverse=True)
        size = int(owner.max()) + 1
        points = _middles(points, weights, owner, np.zeros((size, 4)))
        weights = np.bincount(owner, weights, size).astype(np.float64)
    return points, weights


def _parted(
    points: npt.NDArray[np.float64], weights: npt.NDArray[np.float64], count: int
) -> npt.NDArray[np.float64]:
    """The means of `count` groups; each time the group of the greatest spread is cut in two."""
    groups = [np.arange(len(points))]
    spreads = [_spread(points, weights, groups[0])]
    while len(groups) < count:
        widest = int(np.argmax([spread for spread, _ in spreads]))
        if spreads[widest][0] <= 0:
            break
        group, above = groups[widest], spreads[widest][1]
        for place, part in ((widest, group[above]), (len(groups), group[~above])):
            groups[place : place + 1] = [part]
            spreads[place : place + 1] = [_spread(points, weights, part)]
    return np.stack([np.average(points[g], axis=0, weights=weights[g]) for g in groups])


def _spread(
    points: npt.NDArray[np.float64], weights: npt.NDArray[np.float64], group: npt.NDArray[np.intp]
) -> tuple[float, npt.NDArray[np.bool_]]:
    """A group's squared spread along its longest direction, and which lie past its middle."""
    own, amounts = points[group], weights[group]
    centred = own - np.average(own, axis=0, weights=amounts)
    if len(group) < 2:
        return 0.0, np.ones(len(group), bool)
    sizes, axes = np.linalg.eigh((centred * amounts[:, None]).T @ centred)
    above = centred @ axes[:, -1] > 0
    if above.all() or not above.any():
        return 0.0, above
    return float(sizes[-1]), above


def _middles(
    points: npt.NDArray[np.float64],
    weights: npt.NDArray[np.float64],
    owner: npt.NDArray[np.intp],
    empty: npt.NDArray[np.float64],
) -> npt.NDArray[np.float64]:
    """The mean of what each owns; those that own nothing stay as they are in `empty`."""
    amount = np.bincount(owner, weights, len(empty))
    sums = [np.bincount(owner, weights * points[:, c], len(empty)) for c in range(4)]
    return np.where(amount[:, None] > 0, np.stack(sums, 1) / np.maximum(amount, 1)[:, None], empty)


def _nearest(kinds: npt.NDArray[np.uint8], colours: npt.NDArray[np.uint8]) -> npt.NDArray[np.intp]:
    nearest = _owners(premultiplied(kinds), premultiplied(colours))
    nearest[kinds[:, 3] == 0] = np.flatnonzero(colours[:, 3] == 0)[:1]
    return nearest


def _owners(points: Pixels, centres: Pixels) -> npt.NDArray[np.intp]:
    """Which centre is nearest to each point."""
    lengths = (centres * centres).sum(axis=1) / 2
    owners = np.empty(len(points), np.intp)
    for start in range(0, len(points), AT_ONCE):
        part = np.s_[start : start + AT_ONCE]
        owners[part] = (lengths - points[part] @ centres.T).argmin(axis=1)
    return owners


def _diffused(seen: Picture, colours: npt.NDArray[np.uint8]) -> npt.NDArray[np.uint8]:
    """Indices of pixels whose errors in colour are handed on to those after them; alpha is not
    diffused, and nothing is handed to or from pixels that are clear."""
    height, width = seen.shape[:2]
    values = np.zeros((height + 1, width + 2, 4), np.float32)
    values[:-1, 1:-1] = premultiplied(seen)
    wanted = values.copy()
    entries = premultiplied(colours)
    indices = np.zeros((height, width), np.uint8)
    for slant in range(width + 2 * (height - 1)):
        y = np.arange(max(0, (slant - width + 2) // 2), min(height - 1, slant // 2) + 1)
        x = slant - 2 * y
        inside = seen[y, x, 3] > 0
        y, x = y[inside], x[inside]
        if not len(y):
            continue
        alpha = wanted[y, x + 1, 3:]
        value = np.clip(values[y, x + 1], 0, np.maximum(alpha, 0))
        value[:, 3:] = alpha
        taken = _owners(value, entries)
        indices[y, x] = taken
        error = value - entries[taken]
        error[:, 3] = 0
        for down, across, share in SHARES:
            values[y + down, x + 1 + across] += error * np.float32(share)
    return indices
