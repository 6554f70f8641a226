"""Taking the colour of a key out of what is mixed with it at the rim of the art."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from rushweed.core.arrays import Bytes, Floats, Mask
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import ColourKey
from rushweed.core.values import Colour

LEAST_MIXED, FARTHEST_MIXED = 0.06, 40
"""A rim pixel is un-mixed when it holds more of the key than this, and mixing explains it so: it
misses the line between key and art by no more levels than this."""
MOSTLY = 0.5
"""What is more of the key than this is un-mixed, however badly it fits."""
AT_ONCE = 1 << 15
"""So many pixels are un-mixed at a time, so that the memory for it stays small."""
CANDIDATES = 6
"""So many colours of the art near a rim pixel are tried."""
PEAK, AROUND, LIKE_ART = 0.85, 5, 0.75
"""Where the art is too thin for an inside, what is nearly as far from the key as anything within
so many pixels counts as its own colour."""
GREY = 8
"""A key whose channels differ by less has no hue."""
HARD, HARD_LOSSY = 0.1, 0.15
"""Where the shares of pixels side by side along a rim differ by less, its edge is hard."""
LEAST_NOISE = 8
"""From this tolerance on a key is one of a lossy picture, with ringing beside the art."""
LOSSY_HUE = 0.3
"""So little does hue count there against lightness, which lossy formats store at full size."""
LEAST_SEEN = 8
"""Less alpha than this is nothing."""
NOISE_SHARE, NOISE_SHARE_GREY, NOISE_REACH, NOISE_BOUND = 0.3, 0.23, 9, 3
"""Nothing, in a lossy picture, is what has less of the art's contrast near by than this share, less
again for a key without hue, which dark art is near to; the contrast is looked for within so many
pixels, and the bound is so many tolerances."""


def farthest(picture: Picture, colour: Colour) -> npt.NDArray[np.int16]:
    """How far each pixel is from a colour in its farthest channel, of shape (height, width)."""
    far = np.zeros(picture.shape[:2], np.uint8)
    for channel in range(3):
        np.maximum(far, _away(picture, colour, channel), out=far)
    return far.astype(np.int16)


def _away(picture: Picture, colour: Colour, channel: int) -> Bytes:
    """How far each pixel is from a colour in one channel."""
    levels, level = picture[..., channel], np.uint8(colour[channel])
    away: Bytes = np.maximum(levels, level) - np.minimum(levels, level)
    return away


def noise(picture: Picture, key: ColourKey, nothing: Mask) -> Mask:
    """What a lossy format left of ringing beside the art: next to nothing, and far paler than the
    art that is near. Returns booleans of shape (height, width).

    Ringing is a share of the contrast that causes it (Gibbs), which is why its bound follows the
    art around each pixel and not one tolerance.
    """
    from scipy import ndimage

    far = farthest(picture, key.colour)
    contrast = ndimage.maximum_filter(far, NOISE_REACH)
    share = NOISE_SHARE if _has_hue(key) else NOISE_SHARE_GREY
    bound = np.minimum(share * contrast, NOISE_BOUND * key.tolerance)
    pale = far <= np.maximum(bound, key.tolerance)
    joined: Mask = ndimage.binary_propagation(nothing, mask=nothing | pale)
    return joined


def _has_hue(key: ColourKey) -> bool:
    return max(key.colour[:3]) - min(key.colour[:3]) > GREY


def unmix(picture: Picture, key: ColourKey) -> None:
    """Free the rim of what is drawn of the key's colour, `key.fringe` pixels deep, in place.

    A rim pixel is taken for a mix of the key's colour, which is known, and of a colour of the art
    near by; the one that explains it best is its colour, and its share is its alpha. The equation
    is that of Porter and Duff, "Compositing digital images", SIGGRAPH (1984); choosing among
    samples near by follows "Optimized color sampling for robust matting", CVPR (2007). What no mix
    explains, such as an outline, only loses the key's hue.
    """
    from scipy import ndimage

    drawn = picture[..., 3] > 0
    if not drawn.any() or drawn.all():
        return
    inside: Mask = ndimage.distance_transform_cdt(drawn, "chessboard") > key.fringe
    rim = drawn & ~inside
    mixed = picture[rim][:, :3].astype(np.float32)
    samples = _samples(picture, key, inside, rim)
    if not len(samples):
        return
    flat = np.array(key.colour[:3], np.float32)
    hued, lossy = _has_hue(key), key.tolerance >= LEAST_NOISE
    parts = [
        _best_mix(mixed[part], samples[part], flat, LOSSY_HUE if lossy else 1.0)
        for part in np.array_split(np.arange(len(mixed)), len(mixed) // AT_ONCE + 1)
    ]
    colour, share, missed = (np.concatenate(column) for column in zip(*parts, strict=True))
    mix = (share > MOSTLY) | ((share > LEAST_MIXED) & (missed < FARTHEST_MIXED * (1 + share)))
    if not (hued and lossy) and _step(drawn, rim, share) < (HARD_LOSSY if lossy else HARD):
        return
    cleaned = picture[rim]
    cleaned[mix, :3] = np.rint(colour[mix])
    cleaned[mix, 3] = np.rint(255 * (1 - share[mix]))
    cleaned[~mix, :3] = np.rint(_without_hue(mixed[~mix], samples[~mix], flat))
    cleaned[cleaned[:, 3] < LEAST_SEEN] = 0
    picture[rim] = cleaned


def _samples(picture: Picture, key: ColourKey, inside: Mask, rim: Mask) -> Floats:
    """Colours of the art near each pixel of the rim, of shape (pixels, CANDIDATES, 3); none where
    there is no art."""
    from scipy import ndimage
    from scipy.spatial import cKDTree

    far = np.zeros(picture.shape[:2], np.int16)
    for channel in range(3):
        far += _away(picture, key.colour, channel)
    far[~(inside | rim)] = 0
    peaks = rim & (far >= PEAK * ndimage.maximum_filter(far, AROUND))
    usual = np.median(far[inside | peaks]) if (inside | peaks).any() else 0
    peaks &= far >= usual * LIKE_ART
    if inside.any():
        peaks &= ndimage.distance_transform_cdt(~inside, "chessboard") > AROUND
    places = np.argwhere(inside | peaks)
    if not len(places):
        return np.empty((0, CANDIDATES, 3), np.float32)
    wanted = np.argwhere(rim)
    count = min(CANDIDATES, len(places))
    _, nearest = cKDTree(places).query(wanted, k=count)
    near = places[nearest.reshape(len(wanted), count)]
    colours: Floats = picture[near[..., 0], near[..., 1], :3].astype(np.float32)
    return colours


def _best_mix(
    mixed: Floats, samples: Floats, flat: Floats, hue_counts: float
) -> tuple[Floats, Floats, Floats]:
    """For each pixel the sample that explains it best as a mix with the flat colour, the flat
    colour's share in it (0 to 1), and by how many levels the mix misses it."""
    metric = _metric(hue_counts)
    towards, off = flat - samples, mixed[:, None] - samples
    line, place = towards @ metric, off @ metric
    length = np.maximum(np.einsum("pcx,pcx->pc", line, line), 1.0)
    share = (np.einsum("pcx,pcx->pc", place, line) / length).clip(0, 1)
    missed = np.abs(off - share[..., None] * towards).max(axis=2)
    best = missed.argmin(axis=1)
    rows = np.arange(len(mixed))
    return samples[rows, best], share[rows, best], missed[rows, best]


def _metric(hue_counts: float) -> Floats:
    """The matrix of shape (3, 4) that takes differences of colours to how much lighter they are
    (ITU-R BT.601) and what is left of them as hue, each as much as it counts."""
    light = np.array([0.299, 0.587, 0.114], np.float32)
    hue = (np.eye(3, dtype=np.float32) - light[:, None]) * np.float32(hue_counts)
    metric: Floats = np.column_stack([light * np.float32(np.sqrt(3)), hue])
    return metric


def _step(drawn: Mask, rim: Mask, share: Floats) -> float:
    """By how much the key's shares of outermost pixels side by side differ: an outline is of one
    colour, while along a soft edge each pixel holds another share."""
    shares = np.full(drawn.shape, np.nan)
    shares[rim] = share
    nothing = ~drawn
    beside = np.zeros_like(drawn)
    beside[1:] |= nothing[:-1]
    beside[:-1] |= nothing[1:]
    beside[:, 1:] |= nothing[:, :-1]
    beside[:, :-1] |= nothing[:, 1:]
    shares[~beside] = np.nan
    steps = np.concatenate([np.abs(np.diff(shares, axis=axis)).ravel() for axis in (0, 1)])
    steps = steps[~np.isnan(steps)]
    return float(steps.mean()) if len(steps) else 0.0


def _without_hue(mixed: Floats, samples: Floats, flat: Floats) -> Floats:
    """Colours with no more of the flat colour's hue than the art near by has; how light they are
    stays.

    The hue is measured as the key's lowest high channel above its highest low one, as in Vlahos'
    colour difference (told in Smith and Blinn, "Blue screen matting", SIGGRAPH 1996).
    """
    high = flat > flat.mean()
    if not high.any() or high.all() or not len(mixed):
        return mixed

    def hue(colours: Floats) -> Floats:
        difference: Floats = colours[..., high].min(axis=-1) - colours[..., ~high].max(axis=-1)
        return difference

    usual = np.maximum(hue(samples).max(axis=1), 0.0)
    spill = np.maximum(hue(mixed) - usual, 0.0) / max(float(hue(flat)), 1.0)
    grey = flat.mean()
    freed: Floats = (mixed - spill[:, None] * (flat - grey)).clip(0, 255)
    return freed
