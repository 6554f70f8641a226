"""What is selected: one value for all stations."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rushweed.core.cut.animations import find_animation
from rushweed.core.project.project import NUMBER, Project, piece_index
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.weave.levels import main_layer

FEW = 64
"""So many pieces are found one by one; for more, all sheets are gone through."""


@dataclass(frozen=True, slots=True)
class Selection:
    """Sheets by name, pieces by number, the animation of the first sheet that is worked on, and
    the level and layer that are open."""

    sheets: tuple[str, ...] = ()
    pieces: frozenset[int] = frozenset()
    animation: str = ""
    level: str = ""
    layer: int = 0

    def chosen(self, project: Project) -> list[Sheet]:
        """The selected sheets, in the project's order."""
        names = set(self.sheets)
        return [sheet for sheet in project.sheets if sheet.name in names]

    def of_all_sheets(self, project: Project) -> Selection:
        """Every sheet selected, and no piece of any."""
        names = tuple(sheet.name for sheet in project.sheets)
        return replace(self, sheets=names, pieces=frozenset())

    def picked(self, project: Project) -> dict[str, list[Piece]]:
        """The selected pieces by their sheets, in reading order; nobody may change that."""
        return _picked((self, project))

    def _find_picked(self, project: Project) -> dict[str, list[Piece]]:
        pieces = self.pieces
        if len(pieces) <= FEW:
            found = [pair for number in pieces if (pair := project.find(number))]
            if len(found) == 1:
                return {sheet.name: [piece] for sheet, piece in found}
            names = {sheet.name for sheet, _ in found}
            sheets = [sheet for sheet in project.sheets if sheet.name in names]
        else:
            sheets = [s for s in project.sheets if not pieces.isdisjoint(map(NUMBER, s.pieces))]
        return {
            sheet.name: [piece for piece in sheet.pieces if piece.number in pieces]
            for sheet in sheets
        }

    def meant(self, project: Project) -> dict[str, list[Piece]]:
        """The selected pieces by their sheets; without any, all pieces of the selected sheets."""
        return self.picked(project) or {
            sheet.name: list(sheet.pieces) for sheet in self.chosen(project) if sheet.pieces
        }

    @property
    def sheet(self) -> str:
        """The sheet the table shows: the first that is selected, empty for none."""
        return self.sheets[0] if self.sheets else ""

    def fitting(self, project: Project) -> Selection:
        """The same selection without what the project does not have, and never empty-handed."""
        names = {sheet.name for sheet in project.sheets}
        sheets = tuple(name for name in self.sheets if name in names)
        if not sheets and project.sheets:
            sheets = (project.sheets[0].name,)
        level = next((lv for lv in project.levels if lv.name == self.level), None)
        if level is None and project.levels:
            level = project.levels[0]
        layer = self.layer
        if level is not None and (level.name != self.level or layer >= len(level.layers)):
            layer = main_layer(level)
        first = next(
            (sheet for sheet in project.sheets if sheets and sheet.name == sheets[0]), None
        )
        known_animation = first is not None and find_animation(first, self.animation) is not None
        fitted = replace(
            self,
            sheets=sheets,
            animation=self.animation if known_animation else "",
            pieces=piece_index(project).among(self.pieces) if self.pieces else self.pieces,
            level=level.name if level else "",
            layer=layer if level else 0,
        )
        return self if fitted == self else fitted


class _NewestPicked:
    """What was picked last: many parts of the window ask for it when it changes."""

    def __init__(self) -> None:
        self._of: tuple[Selection, Project] | None = None
        self._found: dict[str, list[Piece]] = {}

    def __call__(self, of: tuple[Selection, Project]) -> dict[str, list[Piece]]:
        if self._of is None or self._of[0] is not of[0] or self._of[1] is not of[1]:
            self._found, self._of = of[0]._find_picked(of[1]), of
        return self._found


_picked = _NewestPicked()
