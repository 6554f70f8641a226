"""How large a picture may be, told before it is decoded.

A few bytes can claim a picture that fills the memory. The bound is a setting, so that whoever has
such pictures and the memory for them can raise it.
"""

from __future__ import annotations

from rushweed.core.bounded import LARGEST_SIDE
from rushweed.core.limits import limit, limits_file
from rushweed.core.values import Refusal, Size

SETTING = "largest_picture"
"""The limit that raises or lowers the bound, in millions of pixels."""
USUAL = 100
PER_PIXEL = 17
"""Bytes of memory that decoding takes for each pixel at most."""


def most_pixels() -> int:
    """How many pixels a picture may have, all its frames together."""
    return min(limit(SETTING, USUAL) * 10**6, LARGEST_SIDE**2)


def check_size(size: Size, name: str, frames: int = 1) -> None:
    """Raise Refusal for a picture that is too large, or has no pixels."""
    width, height = size
    if width < 1 or height < 1:
        raise Refusal(f"“{name}” has no pixels. Export it again from where it was drawn.")
    if width > LARGEST_SIDE or height > LARGEST_SIDE:
        raise Refusal(
            f"“{name}” claims to be {size} px; Rushweed takes up to {LARGEST_SIDE} a side. "
            "Split it into smaller sheets."
        )
    check_area(size, name, frames)


def check_area(size: Size, name: str, frames: int = 1) -> None:
    """Raise Refusal for more pixels than a picture may have, all its frames together."""
    if size.width * size.height * frames > most_pixels():
        claimed = f"{frames} frames of {size}" if frames > 1 else f"{size}"
        raise Refusal(
            f"“{name}” claims to be {claimed} px, more than the {most_pixels() / 1e6:g} million "
            f"that are taken. Split it into smaller sheets, or raise {SETTING} in {limits_file()}."
        )
