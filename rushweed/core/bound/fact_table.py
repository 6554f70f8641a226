"""Every fact of tiles in one table: what it is called, what is said of it, which fields of `Facts`
hold it, and whether one sets an amount of it. Chips, keys, tips, the brush, marks and what is told
of a tile come from here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from rushweed.core.gauge.units import figure
from rushweed.core.project.facts import SIDES, USUAL, Current, Facts
from rushweed.core.words import say, say_of

FactName = Literal["entry", "cover", "wade", "reach", "ground", "moves", "notes"]


@dataclass(frozen=True, slots=True)
class Amount:
    """How one is asked for an amount, in which unit, and how much a new brush gives."""

    question: str
    unit: str
    usual: int


@dataclass(frozen=True, slots=True)
class FactKind:
    """A fact: `told` says it of a tile that has it, in a few words. A fact of one plain field needs
    no more than this; what a brush does else is in `fact_brush.py`, a mark of its own in
    `ui/canvas/fact_marks.py`."""

    title: str
    tip: str
    hint: str
    fields: tuple[str, ...]
    told: Callable[[Facts], str]
    amount: Amount | None = None

    def is_set(self, facts: Facts) -> bool:
        """Whether a tile has it."""
        return any(getattr(facts, name) != getattr(USUAL, name) for name in self.fields)

    @property
    def cleared(self) -> dict[str, object]:
        """Its fields as they are in a tile that does not have it."""
        return {name: getattr(USUAL, name) for name in self.fields}


def told(facts: Facts) -> str:
    """Facts in a few words, empty when there are none."""
    return ", ".join(kind.told(facts) for kind in FACTS.values() if kind.is_set(facts))


def _entry(facts: Facts) -> str:
    names = ", ".join(side for side in SIDES if side in facts.entry)
    return say("open {names}", names=names) if names else say("shut all around")


def _moves(facts: Facts) -> str:
    current, parts = facts.current, []
    if facts.moves != USUAL.moves:
        parts.append(say("one {moves} in it", moves=facts.moves))
    if current != Current():
        across, down = figure(current.across), figure(current.down)
        parts.append(say("carries {across}, {down} units/s", across=across, down=down))
    return ", ".join(parts)


FACTS: dict[FactName, FactKind] = {
    "entry": FactKind(
        "Entry",
        "From which sides one may come in",
        "Click near a side to shut it; the second button opens it.",
        ("entry",),
        _entry,
    ),
    "cover": FactKind(
        "Cover",
        "How many tiles high it is drawn over somebody behind it",
        "Drawn over whoever stands up to so many tiles below; 0 lies flat.",
        ("cover",),
        lambda facts: say_of(facts.cover, "covers 1 tile", "covers {count} tiles"),
        Amount("How high", "tiles", 1),
    ),
    "wade": FactKind(
        "Wade",
        "How many pixels of somebody's feet it hides",
        "Hides so many pixels of the feet, as tall grass or shallow water does.",
        ("wade",),
        lambda facts: say("hides {wade} px of feet", wade=facts.wade),
        Amount("How deep", "px", 4),
    ),
    "reach": FactKind(
        "Reach",
        "One can act across it, as over a counter",
        "Somebody on one side can act on what is on the other.",
        ("reach",),
        lambda facts: say("reached across"),
    ),
    "ground": FactKind(
        "Ground",
        "What ground it is, for the game's code",
        "Paint with the kind that is chosen below.",
        ("ground",),
        lambda facts: say("ground {ground}", ground=facts.ground),
    ),
    "moves": FactKind(
        "Ways",
        "How one gets on in it: climbs, swims, is carried",
        "On ladders one climbs, in water one swims; a current carries along.",
        ("moves", "current"),
        _moves,
    ),
    "notes": FactKind(
        "Notes",
        "Keys and values of the game's own",
        "Paint the note that is written below.",
        ("notes",),
        lambda facts: ", ".join(f"{note.key} {note.value}" for note in facts.notes),
    ),
}
"""In the order of their keys."""
