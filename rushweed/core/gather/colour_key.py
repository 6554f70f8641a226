"""The flat colour that stands for nothing."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import see_through
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
LEAST_MIXED, FARTHEST_MIXED = 0.06, 40
"""A rim pixel is cleaned when it holds more of the key than this, and mixing explains it so."""
NEARLY = 1
"""So near to black or white a backdrop counts as that."""
NOISY_SHADES, NOISY = 12, 0.01
"""So many shades near the key, on this part of the picture, are the mark of a lossy format."""


def keyed(picture: Picture, key: ColourKey) -> npt.NDArray[np.bool_]:
    """Which pixels the key makes nothing: those within its tolerance in every channel.

    Returns booleans of shape (height, width).
    """
    wanted = np.array(key.colour[:3], np.int16)
    near = np.abs(picture[..., :3].astype(np.int16) - wanted) <= key.tolerance
    found: npt.NDArray[np.bool_] = near.all(axis=2)
    return found


def apply_key(picture: Picture, key: ColourKey | None) -> Picture:
    """The picture with keyed pixels wholly clear, and its fringe cleaned if the key says so."""
    if key is None:
        return picture
    result = picture.copy()
    result[keyed(picture, key)] = 0
    if key.fringe:
        clean_fringe(result, key)
    result.setflags(write=False)
    return result


def clean_fringe(picture: Picture, key: ColourKey) -> None:
    """Take the key's colour out of the rim of what is drawn, in place.

    A pixel near nothing is taken for a mix of the key's colour and of the nearest colour further
    inside; what is left without the key's part becomes its alpha. This is the matting equation of
    Porter and Duff, "Compositing digital images", SIGGRAPH (1984), solved along one line.
    """
    from scipy import ndimage

    drawn = picture[..., 3] > 0
    if not drawn.any() or drawn.all():
        return
    inside = ndimage.distance_transform_cdt(drawn, "chessboard") > key.fringe
    if not inside.any():
        return
    rim = drawn & ~inside
    rows, columns = ndimage.distance_transform_edt(
        ~inside, return_distances=False, return_indices=True
    )
    inner = picture[rows[rim], columns[rim]].astype(np.float64)[:, :3]
    mixed = picture[rim].astype(np.float64)[:, :3]
    towards = np.array(key.colour[:3], np.float64) - inner
    length = (towards**2).sum(axis=1)
    share = ((mixed - inner) * towards).sum(axis=1) / np.maximum(length, 1.0)
    share = share.clip(0, 1)
    missed = np.abs(mixed - (inner + share[:, None] * towards)).max(axis=1)
    mix = (share > LEAST_MIXED) & (missed < FARTHEST_MIXED) & (length > 0)
    cleaned = picture[rim]
    cleaned[mix, :3] = np.rint(inner[mix])
    cleaned[mix, 3] = np.rint(255 * (1 - share[mix]))
    cleaned[cleaned[:, 3] < 8] = 0
    picture[rim] = cleaned


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
    vivid = _vivid_corner(corners)
    if vivid is not None and _covers_enough(picture, ColourKey(vivid)):
        return _guess_lossy(picture) if _is_noisy(picture, vivid) else ColourKey(vivid)
    if np.ptp(corners, axis=0).max() > 2 * LOSSY:
        return None
    colour = Colour(*map(int, picture[0, 0, :3]))
    if not np.ptp(corners, axis=0).any() and _covers_enough(picture, ColourKey(colour)):
        return _guess_lossy(picture) if _is_noisy(picture, colour) else ColourKey(colour)
    return _guess_lossy(picture)


def _vivid_corner(corners: npt.NDArray[np.int16]) -> Colour | None:
    """The vivid colour that at least three of the corners have, if any."""
    for colour in VIVID:
        if (corners == np.array(colour[:3])).all(axis=1).sum() >= 3:
            return colour
    return None


def _is_noisy(picture: Picture, colour: Colour) -> bool:
    """Whether a vivid colour is met in many shades, as a lossy format leaves it."""
    if colour not in VIVID:
        return False
    near = keyed(picture, ColourKey(colour, LOSSY)) & ~keyed(picture, ColourKey(colour))
    shades = np.unique(picture[near][:, :3], axis=0)
    return len(shades) >= NOISY_SHADES and bool(near.mean() >= NOISY)


def _guess_lossy(picture: Picture) -> ColourKey | None:
    """A key that was blurred by a lossy format: near its colour, never far from it."""
    rim = np.concatenate([picture[0], picture[-1], picture[:, 0], picture[:, -1]])[:, :3]
    middle = Colour(*(int(value) for value in np.median(rim, axis=0)))
    colour = min(VIVID, key=lambda vivid: _distance(vivid, middle))
    if _distance(colour, middle) > LOSSY or max(picture.shape[:2]) < SMALLEST_LOSSY:
        return None
    far = np.abs(picture[..., :3].astype(np.int16) - np.array(colour[:3])).max(axis=2)
    tolerance = int(np.percentile(far[far <= 2 * LOSSY], 99)) + SPARE
    key = ColourKey(colour, min(tolerance, 2 * LOSSY), 1)
    return key if _covers_enough(picture, key) else None


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
