"""The same picture in other colours."""

from __future__ import annotations

import numpy as np

from rushweed.core.arrays import Bytes, Reals
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Recolouring
from rushweed.core.values import Colour


def recoloured(picture: Picture, how: Recolouring) -> Picture:
    """A picture of shape (height, width, 4) with single colours swapped, then hue, saturation and
    lightness changed; alpha stays. Hue, saturation and lightness are those of the CSS Color Module
    Level 4 (W3C), its section on HSL."""
    flat = np.ascontiguousarray(picture).view(np.uint32).ravel()
    words, places = np.unique(flat, return_inverse=True)
    colours = words.view(np.uint8).reshape(-1, 4).copy()
    for old, new in how.swaps:
        same = (colours[:, :3] == old[:3]).all(axis=1)
        colours[same, :3] = new[:3]
    if how.hue or how.saturation or how.lightness:
        colours[:, :3] = _turned(colours[:, :3] / 255.0, how)
    result = colours[places].reshape(picture.shape)
    result.setflags(write=False)
    return result


def palette_of(picture: Picture, most: int = 32) -> list[Colour]:
    """The visible colours of a picture, the most frequent first."""
    shown = picture[picture[..., 3] > 0][:, :3]
    if not len(shown):
        return []
    colours, counts = np.unique(shown, axis=0, return_counts=True)
    order = np.argsort(-counts, kind="stable")[:most]
    return [Colour(*map(int, colour)) for colour in colours[order]]


def _turned(colours: Reals, how: Recolouring) -> Bytes:
    hue, saturation, light = _to_hsl(colours)
    hue = (hue + how.hue / 360) % 1
    saturation = _towards(saturation, how.saturation / 100)
    light = _towards(light, how.lightness / 100)
    result: Bytes = np.rint(_to_rgb(hue, saturation, light) * 255).astype(np.uint8)
    return result


def _towards(values: Reals, share: float) -> Reals:
    """Values from 0 to 1 moved by a share of the way up to 1, or of the way down to 0."""
    return values + (1 - values) * share if share > 0 else values * (1 + share)


def _to_hsl(colours: Reals) -> tuple[Reals, Reals, Reals]:
    high, low = colours.max(axis=1), colours.min(axis=1)
    light, span = (high + low) / 2, high - low
    most = np.where(span > 0, 1 - np.abs(2 * light - 1), 1)
    saturation = np.where(span > 0, span / np.where(most > 0, most, 1), 0)
    red, green, blue = colours.T
    divisor = np.where(span > 0, span, 1)
    hue = np.where(
        high == red,
        ((green - blue) / divisor) % 6,
        np.where(high == green, (blue - red) / divisor + 2, (red - green) / divisor + 4),
    )
    return hue / 6, saturation, light


def _to_rgb(hue: Reals, saturation: Reals, light: Reals) -> Reals:
    reach = saturation * np.minimum(light, 1 - light)
    channels = []
    for offset in (0, 8, 4):
        turn = (offset + hue * 12) % 12
        channels.append(light - reach * np.clip(np.minimum(turn - 3, 9 - turn), -1, 1))
    whole: Reals = np.clip(np.stack(channels, axis=1), 0, 1)
    return whole
