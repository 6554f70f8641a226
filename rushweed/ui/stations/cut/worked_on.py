"""The animation that is worked on, and edits of it."""

from __future__ import annotations

from collections.abc import Callable

from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.words import counted
from rushweed.ui.desk import Desk
from rushweed.ui.stations.cut.lanes import Lanes


class WorkedOn:
    """What the lanes say is worked on."""

    def __init__(self, desk: Desk, lanes: Lanes) -> None:
        self.desk, self.lanes = desk, lanes

    @property
    def sheet(self) -> Sheet | None:
        """The sheet whose lanes are shown."""
        return self.lanes.sheet

    @property
    def animation(self) -> Animation | None:
        """The animation that is worked on."""
        return self.lanes.animation()

    def alone(self) -> list[Animation]:
        """It, as a list of one or none."""
        return [self.animation] if self.animation else []

    def named(self) -> str:
        """What it is called in the words of an edit."""
        return self.animation.name if self.animation else ""

    def frames(self) -> list[Piece]:
        """Its pieces; one that is missing is left out."""
        pieces = {piece.number: piece for piece in self.sheet.pieces} if self.sheet else {}
        frames = self.animation.frames if self.animation else ()
        return [pieces[frame] for frame in frames if frame in pieces]

    def picked(self) -> list[Piece]:
        """The picked ones of its pieces, each once."""
        chosen = self.desk.selection.pieces
        picked = {piece.number: piece for piece in self.frames() if piece.number in chosen}
        return list(picked.values())

    def picked_numbers(self) -> frozenset[int]:
        """Their numbers."""
        return frozenset(piece.number for piece in self.picked())

    def chosen(self) -> list[int]:
        """The selected pieces of the sheet, in reading order."""
        chosen = self.desk.selection.pieces
        return [p.number for p in self.sheet.pieces if p.number in chosen] if self.sheet else []

    def places(self) -> list[tuple[str, str]]:
        """The names of its sheet and of itself, and those of its namesakes on the other selected
        sheets, or of what is alone there: a figure is often several sheets."""
        found = []
        for sheet in self.desk.selection.chosen(self.desk.project):
            names = [one.name for one in sheet.animations]
            if self.named() in names:
                found.append((sheet.name, self.named()))
            elif self.animation is not None and len(names) == 1:
                found.append((sheet.name, names[0]))
        return found

    def named_all(self) -> str:
        """What all of these are called in the words of an edit."""
        count = len(self.places())
        return self.named() if count == 1 else counted(count, "animation", "animations")

    def do(self, words: str, edit: Callable[..., Project]) -> bool:
        """Edit it as a step; `edit` takes project, sheet and name."""
        sheet, animation = self.sheet, self.animation
        if sheet is None or animation is None:
            return False
        told = words.format(name=animation.name)
        made = self.desk.do(told, lambda project: edit(project, sheet.name, animation.name))
        return made is not None
