"""How large a picture may be, told before it is decoded.

A few bytes can claim a picture that fills the memory. The bound is a setting, so that whoever has
such pictures and the memory for them can raise it.
"""

from __future__ import annotations

from rushweed.core.owner_limits import limit, limits_file
from rushweed.core.value_ranges import LARGEST_SIDE
from rushweed.core.values import Refusal, Size
from rushweed.core.words import say

SETTING = "largest_picture"
"""The limit that raises or lowers the bound, in millions of pixels."""
USUAL = 100


def most_pixels() -> int:
    """How many pixels a picture may have, all its frames together."""
    return min(limit(SETTING, USUAL) * 10**6, LARGEST_SIDE**2)


def check_size(size: Size, name: str, frames: int = 1) -> None:
    """Raise Refusal for a picture that is too large, or has no pixels."""
    width, height = size
    if width < 1 or height < 1:
        raise Refusal("“{name}” has no pixels. Export it again from where it was drawn.", name=name)
    if width > LARGEST_SIDE or height > LARGEST_SIDE:
        raise Refusal(
            "“{name}” claims to be {size} px; Rushweed takes up to {largest_side} a "
            "side. Split it into smaller sheets.",
            name=name,
            size=size,
            largest_side=LARGEST_SIDE,
        )
    check_area(size, name, frames)


def check_area(size: Size, name: str, frames: int = 1) -> None:
    """Raise Refusal for more pixels than a picture may have, all its frames together."""
    if size.width * size.height * frames > most_pixels():
        claimed = (
            say("{frames} frames of {size}", frames=frames, size=size) if frames > 1 else f"{size}"
        )
        raise Refusal(
            "“{name}” claims to be {claimed} px, more than the {number:g} million that "
            "are taken. Split it into smaller sheets, or raise {setting} in "
            "{limits_file}.",
            name=name,
            claimed=claimed,
            number=most_pixels() / 1000000.0,
            setting=SETTING,
            limits_file=limits_file(),
        )
