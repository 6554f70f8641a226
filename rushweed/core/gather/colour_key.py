"""The flat colour that stands for nothing."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Mask, packed
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import see_through
from rushweed.core.gather.unmixing import LEAST_NOISE, farthest, noise, unmix
from rushweed.core.project.sheet import ColourKey
from rushweed.core.values import Colour

VIVID = (
    Colour(255, 0, 255),
    Colour(0, 255, 0),
    Colour(0, 255, 255),
    Colour(255, 0, 0),
    Colour(0, 0, 255),
    Colour(255, 255, 0),
)
LOSSY = 32
"""A lossy format moves a flat colour by about this much at most, of 255."""
SPARE = 6
SMALLEST_LOSSY = 16
NEARLY = 2
"""So near to a likely colour a backdrop counts as that."""
LIKELY = (*VIVID, Colour(0, 0, 0), Colour(255, 255, 255))
BLOCK, RUFFLED, RUFFLED_GREY, LEAST_RUFFLED = 8, 0.2, 0.32, 40
"""Lossy formats work in blocks of so many pixels; where such a share of so many pixels of the flat
colour is a little off, the picture went through one. Black and white need a larger share."""
SLIGHT, SLIGHTLY = 4, 0.1
"""Such a share of what is off black or white is off by no more; else they are not the colour."""
NOISE_COLOURS = 2
"""So many times the root of its pixels is the least that noise has of different colours."""
LOSSY_FRINGE = 3
"""Half resolution of colour, smoothed on the way back, mixes so many pixels."""


def keyed(picture: Picture, key: ColourKey) -> Mask:
    """Which pixels the key makes nothing: those within its tolerance in every channel.

    Returns booleans of shape (height, width).
    """
    return farthest(picture, key.colour) <= key.tolerance


def apply_key(picture: Picture, key: ColourKey | None) -> Picture:
    """The picture with keyed pixels wholly clear, and its fringe cleaned if the key says so."""
    if key is None:
        return picture
    result = np.array(picture, order="C")
    nothing = keyed(picture, key)
    if key.fringe and key.tolerance >= LEAST_NOISE:
        nothing = noise(picture, key, nothing)
    np.copyto(result.view(np.uint32)[..., 0], 0, where=nothing)
    if key.fringe:
        unmix(result, key)
    result.setflags(write=False)
    return result


def guess_key(picture: Picture) -> ColourKey | None:
    """The colour key a picture without alpha seems to use, or None.

    A key is the colour of all four corners; of a vivid one three are enough. A vivid one covers
    half of the rim and a tenth of the picture, black and white most of the rim and a sixth, any
    other nearly all of the rim and a third. A picture that was saved through a lossy format has a
    key that is only nearly flat.
    """
    if see_through(picture):
        return None
    corners = np.array([picture[y, x, :3] for y in (0, -1) for x in (0, -1)], np.int16)
    flat = _vivid_corner(corners)
    if flat is None and not np.ptp(corners, axis=0).any():
        flat = Colour(*map(int, picture[0, 0, :3]))
    if flat is not None and _covers_enough(picture, ColourKey(flat)):
        likely = min(_distance(flat, likely) for likely in LIKELY) <= NEARLY
        if likely and was_lossy(picture, flat):
            return _lossy_key(picture, flat)
        return ColourKey(flat)
    if np.ptp(corners, axis=0).max() > 2 * LOSSY or max(picture.shape[:2]) < SMALLEST_LOSSY:
        return None
    rim = np.concatenate([picture[0], picture[-1], picture[:, 0], picture[:, -1]])[:, :3]
    middle = Colour(*(int(value) for value in np.median(rim, axis=0)))
    colour = min(LIKELY, key=lambda likely: _distance(likely, middle))
    if _distance(colour, middle) > LOSSY or not was_lossy(picture, colour):
        return None
    key = _lossy_key(picture, colour)
    return key if _covers_enough(picture, key) else None


def _vivid_corner(corners: npt.NDArray[np.int16]) -> Colour | None:
    """The vivid colour that at least three of the corners have, if any."""
    for colour in VIVID:
        if (corners == np.array(colour[:3])).all(axis=1).sum() >= 3:
            return colour
    return None


def was_lossy(picture: Picture, colour: Colour) -> bool:
    """Whether a flat colour is ruffled near the art, as a lossy format leaves it: in the blocks
    that hold art most of its pixels are a little off, even those that do not touch the art. Black
    and white have art near to them more often than colours have: they need more of that, and it
    must be noise."""
    away, block = _away_from_art(picture, colour)
    far = farthest(picture, colour)
    ruffled = far[away & block]
    if len(ruffled) < LEAST_RUFFLED:
        return False
    off = (ruffled > 1).mean()
    if max(colour[:3]) - min(colour[:3]) > 2 * NEARLY:
        return bool(off >= RUFFLED)
    if off < RUFFLED_GREY or (ruffled <= SLIGHT).mean() < SLIGHTLY:
        return False
    return _is_noise(picture, (far > 1) & (far <= LOSSY))


def _is_noise(picture: Picture, where: Mask) -> bool:
    """Whether colours are as many as those of noise: more of them the more pixels there are, while
    somebody who draws has but a few."""
    words = packed(picture)[where]
    return len(np.unique(words)) >= NOISE_COLOURS * math.sqrt(len(words))


def _away_from_art(picture: Picture, colour: Colour) -> tuple[Mask, Mask]:
    """Where the colour is that does not touch art, and which blocks of the format hold art."""
    from scipy import ndimage

    far = farthest(picture, colour)
    art = far > 2 * LOSSY
    away = (far <= LOSSY) & ~ndimage.binary_dilation(art, iterations=2)
    rows, columns = far.shape
    padded = np.zeros((-(-rows // BLOCK) * BLOCK, -(-columns // BLOCK) * BLOCK), np.bool_)
    padded[:rows, :columns] = art
    held = padded.reshape(-1, BLOCK, padded.shape[1] // BLOCK, BLOCK).any(axis=(1, 3))
    return away, held.repeat(BLOCK, 0).repeat(BLOCK, 1)[:rows, :columns]


def _lossy_key(picture: Picture, colour: Colour) -> ColourKey:
    """A key whose tolerance holds nearly all of the ruffles, and whose rim is cleaned as deep as a
    lossy format blurs colours."""
    away, _ = _away_from_art(picture, colour)
    ruffles = farthest(picture, colour)[away]
    tolerance = int(np.percentile(ruffles, 99)) if len(ruffles) else 0
    hued = max(colour[:3]) - min(colour[:3]) > 2 * NEARLY
    return ColourKey(colour, min(tolerance + SPARE, 2 * LOSSY), LOSSY_FRINGE if hued else 1)


def _covers_enough(picture: Picture, key: ColourKey) -> bool:
    same = keyed(picture, key)
    rim = np.concatenate([same[0], same[-1], same[:, 0], same[:, -1]])
    needed, covered = 0.9, 0.3
    if key.colour in VIVID:
        needed, covered = 0.5, 0.1
    elif max(key.colour[:3]) <= NEARLY or min(key.colour[:3]) >= 255 - NEARLY:
        if not _has_colours(picture):
            return False
        needed, covered = 0.72, 0.17
    return bool(not same.all() and rim.mean() >= needed and same.mean() >= covered)


def _has_colours(picture: Picture) -> bool:
    """Whether a picture has more than two colours: black on white keys nothing out."""
    words = np.ascontiguousarray(picture).view(np.uint32)
    return len(np.unique(words)) > 2


def _distance(one: Colour, other: Colour) -> int:
    return max(abs(a - b) for a, b in zip(one[:3], other[:3], strict=True))
