"""What a tile is by its name, or by that of its sheet."""

from __future__ import annotations

import re
from typing import Literal

TileWord = Literal["stops", "carries", "water", "tall", "ladder", "stands"]
WORDS: dict[TileWord, str] = {
    "stops": "block blocks boulder boulders cliff cliffs fence fences hedge hedges rock rocks "
    "wall walls",
    "carries": "carpet carpets dirt floor floors grass ground grounds lawn path paths road roads "
    "sand turf",
    "water": "lake moat ocean pond pool river sea stream swamp water waters",
    "tall": "corn crop crops fern ferns reed reeds rushes wheat",
    "ladder": "ladder ladders vine vines",
    "stands": "pillar pine post statue stump tree trees trunk well",
}
KNOWN = {word: kind for kind, words in WORDS.items() for word in words.split()}


def told_by(name: str) -> TileWord | None:
    """What is called so; the last word that is known says it, but grass that is tall is no lawn.

    >>> told_by("mossy_wall_3"), told_by("tall grass"), told_by("thing")
    ('stops', 'tall', None)
    """
    words = re.split(r"[\W_\d]+", name.lower())
    if "tall" in words:
        return "tall"
    return next((KNOWN[word] for word in reversed(words) if word in KNOWN), None)
