"""What stands in the lens: the selected pieces, and the animation that Play plays."""

from __future__ import annotations

from dataclasses import dataclass
from heapq import nsmallest

from rushweed.core.cut.animations import find_animation
from rushweed.core.cut.boards import common_board
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.words import say
from rushweed.ui.selection import Selection
from rushweed.ui.shell.lens_scale import Extent

MOST_SHEETS = 4
"""Where no piece is selected, so many sheets show their first."""
MANY, MOST_OF_MANY = 1000, 100
"""More pieces than that are no animation, and only the first of them stand in the lens."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A piece that the lens shows, with its sheet."""

    sheet: Sheet
    piece: Piece

    def extent(self, project: Project) -> Extent:
        """How far it reaches around where it stands."""
        rect, foot = self.piece.rect, self.piece.standing.y
        above = rect.height if self.sheet.kind == "tileset" else max(0.0, foot)
        number = treatment_of(project, self.sheet).pixels_per_unit
        return Extent(above, max(0.0, rect.height - above), rect.width, number)


def chosen_figures(project: Project, selection: Selection) -> list[Figure]:
    """The selected pieces, of very many the first, else the first piece of each selected sheet."""
    numbers = selection.pieces
    shown = nsmallest(MOST_OF_MANY, numbers) if len(numbers) > MANY else sorted(numbers)
    found = [project.find(number) for number in shown]
    figures = [Figure(*pair) for pair in found if pair is not None]
    if figures:
        return figures
    sheets = selection.chosen(project)
    return [Figure(sheet, sheet.pieces[0]) for sheet in sheets[:MOST_SHEETS] if sheet.pieces]


def chosen_animation(
    selection: Selection, figures: list[Figure], free_rate: float
) -> Animation | None:
    """What Play plays: the selected frames, at `free_rate` where they are none of the sheet's, else
    the animation of the one shown."""
    numbers = tuple(figure.piece.number for figure in figures)
    if not numbers or len(selection.pieces) > MANY:
        return None
    sheet = figures[0].sheet
    worked_on = find_animation(sheet, selection.animation)
    if worked_on is not None and set(numbers) <= set(worked_on.frames):
        return worked_on
    if len(numbers) > 1 and selection.pieces and len({f.sheet.name for f in figures}) == 1:
        whole = next((a for a in sheet.animations if set(numbers) == set(a.frames)), None)
        if whole is not None or sheet.kind == "tileset":
            return whole
        return Animation(say("selection"), numbers, free_rate)
    playing = (a for a in sheet.animations if numbers[0] in a.frames)
    return next(playing, None) if len(figures) == 1 else None


def animation_extent(project: Project, animation: Animation, sheet: Sheet) -> Extent:
    """How far all frames of an animation together reach around where they stand."""
    found = [pair for frame in animation.frames if (pair := project.find(frame))]
    board = common_board([piece for _, piece in found])
    number = treatment_of(project, sheet).pixels_per_unit
    return Extent(-board.y, max(0, board.bottom), board.width, number)
