"""A brush that paints one fact onto tiles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rushweed.core.bound.fact_table import FACTS, FactName
from rushweed.core.bound.facts import change_facts, note_value, set_entry, set_note
from rushweed.core.project.facts import SIDES, Current, Moves, Note, Side
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point, Rect, Refusal


@dataclass(frozen=True, slots=True)
class FactBrush:
    """Which fact is painted, and what of it: `amount` is tiles of cover, pixels of wade or the
    number of a ground kind; of how one moves, the way and what carries one."""

    fact: FactName = "entry"
    amount: int = 1
    note: Note = Note("")
    moves: Moves = "climbs"
    current: Current = Current()

    def paint(self, project: Project, piece: int, side: Side = "above") -> Project:
        """Give a piece the fact; of its entry, shut one side. Raises Refusal for a note without a
        key, or a kind of ground while there is none."""
        one = frozenset({piece})
        if self.fact == "entry":
            return set_entry(project, one, side, opened=False)
        if self.fact == "notes":
            note_value(self.note)
            return set_note(project, one, self.note, self.note.key)
        if self.fact == "ground" and not project.rules.kinds:
            raise Refusal("There is no kind of ground yet. Add one, then paint with it.")
        given = {"reach": True, "moves": self.moves, "current": self.current}
        names = FACTS[self.fact].fields
        return change_facts(project, one, **{name: given.get(name, self.amount) for name in names})

    def take(self, project: Project, piece: int, side: Side = "above") -> Project:
        """Take the fact from a piece; of its entry, open one side."""
        one = frozenset({piece})
        if self.fact == "entry":
            return set_entry(project, one, side, opened=True)
        if self.fact == "notes":
            return set_note(project, one, None, self.note.key)
        return change_facts(project, one, **FACTS[self.fact].cleared)


def nearest_side(rect: Rect, place: Point) -> Side:
    """The side of a rectangle that a place in it is nearest to, as a share of its size."""
    across = (place.x - rect.x) / rect.width
    down = (place.y - rect.y) / rect.height
    apart = {"left": across, "right": 1 - across, "above": down, "below": 1 - down}
    return min(SIDES, key=lambda side: apart[side])


def piece_beside(pieces: Sequence[Piece], here: Piece, across: int, down: int) -> Piece | None:
    """The nearest piece in a direction, first among those that lie level with this one."""
    middle = _middle(here)

    def steps(piece: Piece) -> tuple[float, float]:
        place = _middle(piece)
        dx, dy = place.x - middle.x, place.y - middle.y
        return dx * across + dy * down, abs(dx * down) + abs(dy * across)

    ahead = [(steps(piece), piece) for piece in pieces if piece is not here]
    near = [(far + 3 * aside, piece.number, piece) for (far, aside), piece in ahead if far > 0]
    return min(near)[2] if near else None


def _middle(piece: Piece) -> Point:
    rect = piece.rect
    return Point(rect.x + rect.width / 2, rect.y + rect.height / 2)
