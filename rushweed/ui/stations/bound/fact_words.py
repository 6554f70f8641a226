"""What the facts are called, and what is said of each."""

from __future__ import annotations

from rushweed.core.bound.fact_brush import FactName
from rushweed.core.words import said, say

FACTS: dict[FactName, str] = {
    "entry": "Entry",
    "cover": "Cover",
    "wade": "Wade",
    "reach": "Reach",
    "ground": "Ground",
    "moves": "Ways",
    "notes": "Notes",
}
TIPS = (
    "From which sides one may come in",
    "How many tiles high it is drawn over somebody behind it",
    "How many pixels of somebody's feet it hides",
    "One can act across it, as over a counter",
    "What ground it is, for the game's code",
    "How one gets on in it: climbs, swims, is carried",
    "Keys and values of the game's own",
)
HINTS: dict[FactName, str] = {
    "entry": "Click near a side to shut it; the second button opens it.",
    "cover": "Drawn over whoever stands up to so many tiles below; 0 lies flat.",
    "wade": "Hides so many pixels of the feet, as tall grass or shallow water does.",
    "reach": "Somebody on one side can act on what is on the other.",
    "ground": "Paint with the kind that is chosen below.",
    "moves": "On ladders one climbs, in water one swims; a current carries along.",
    "notes": "Paint the note that is written below.",
}


def fact_names() -> dict[FactName, str]:
    """What each fact is called, in their order."""
    return said(FACTS)


def fact_tips() -> list[str]:
    """What each fact is, in their order."""
    return [say(tip) for tip in TIPS]


def fact_hint(fact: FactName) -> str:
    """How a fact is painted."""
    return say(HINTS[fact])
