"""Shapes for whole sheets in one act, and the pieces for which it could as well be otherwise."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter

from rushweed.core.bound.proposing import give_proposed
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_doubt
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

BADGE = 16
"""A badge is so many screen pixels wide and high."""
ROOMY, LARGE = 28, 64
"""Pieces smaller than this on the screen have room for a dot only; one that is gone to is shown
larger."""


class SheetShapes(Group):
    """Gives all pieces of the selected sheets that nobody has decided about their shapes. Those in
    doubt wear a badge: a click on it gives the other shape, or none."""

    def __init__(self, number: int, services: Services, canvas: SheetCanvas) -> None:
        super().__init__(number, say("The whole sheet"))
        self._desk, self._canvas = services.desk, canvas
        self._proposals = services.proposals
        self._proposals.found.connect(self._show)
        self._give = button(
            say("Shapes for the sheet"),
            self._begin,
            "main",
            say("Full tiles get boxes, slopes outlines, what stands free nothing"),
        )
        self._next = button(
            say("Next in doubt"), self._go_to_next, tip=say("Select it, and show it")
        )
        self._other = button(say("The other way"), self._swap_selected)
        self.add(row(self._give, self._next, self._other, None))

    def refresh(self) -> None:
        """Say what is undecided and what is in doubt."""
        undecided = [p for sheet in self._sheets() for p in sheet.pieces if p.shapes is None]
        doubts = self._in_doubt()
        self._give.setVisible(bool(undecided))
        self._next.setVisible(bool(doubts))
        chosen = {piece.number for piece in self._canvas.selected_pieces()}
        self._other.setVisible(bool(chosen & doubts.keys()))
        if doubts:
            told = say("{n} in doubt: a click on ? gives the other way.", n=len(doubts))
            self.result.tell(told, warns=True)
        elif any(sheet.pieces for sheet in self._sheets()):
            told = say("{n} undecided.", n=len(undecided))
            self.result.tell(told if undecided else say("Every piece has been decided about."))
        else:
            self.result.tell(say("Cut a sheet first."))

    def press(self, place: Point) -> bool:
        """Take a press on a badge: the piece gets its other shape. Whether there was one."""
        for piece in filter(self._has_room, self._badged()):
            corner = self._canvas.view.to_screen(piece.rect.right, piece.rect.y)
            at = self._canvas.view.to_screen(place.x, place.y)
            if _badge(corner.x, corner.y).contains(at.x, at.y):
                self._swap([piece])
                return True
        return False

    def paint(self, painter: QPainter) -> None:
        """Put a badge on each piece that is in doubt."""
        for piece in self._badged():
            corner = self._canvas.view.to_screen(piece.rect.right, piece.rect.y)
            if not self._has_room(piece):
                dot = QRectF(corner.x - 6, corner.y + 1, 5, 5)
                painter.fillRect(dot, MARKS.ink)
                painter.fillRect(dot.adjusted(1, 1, -1, -1), look.colours.ochre_edge)
                continue
            draw_doubt(painter, corner.x, corner.y)

    def _sheets(self) -> list[Sheet]:
        return self._desk.selection.chosen(self._desk.project)

    def _in_doubt(self) -> dict[int, Piece]:
        """The pieces of the selected sheets that may be meant otherwise."""
        return {
            number: piece
            for sheet in self._sheets()
            for number, piece in self._proposals.doubtful(sheet).items()
        }

    def _badged(self) -> list[Piece]:
        sheet = self._canvas.sheet
        doubts = self._in_doubt()
        own = {piece.number for piece in sheet.pieces} if sheet and doubts else set()
        return [piece for piece in doubts.values() if piece.number in own]

    def _has_room(self, piece: Piece) -> bool:
        return min(piece.rect.size) * self._canvas.view.scale >= ROOMY

    def _begin(self) -> None:
        """Propose shapes sheet by sheet, and give them all at once."""
        sheets = [sheet for sheet in self._sheets() if sheet.pieces]
        wanted = {
            sheet.name: {piece.number for piece in sheet.pieces if piece.shapes is None}
            for sheet in sheets
        }
        words = say("Gave {what} shapes", what=sheets_words(tuple(wanted)))
        self._proposals.take(wanted, words)

    def _show(self) -> None:
        self.refresh()
        self._canvas.update()

    def _go_to_next(self) -> None:
        """Select the next piece in doubt, after those that are selected."""
        doubts = list(self._in_doubt().values())
        chosen = {piece.number for piece in self._canvas.selected_pieces()}
        places = [place for place, piece in enumerate(doubts) if piece.number in chosen]
        after = places[-1] + 1 if places else 0
        piece = doubts[after % len(doubts)]
        self._desk.select(replace(self._desk.selection, pieces=frozenset({piece.number})))
        large = float(max(1, round(LARGE / min(piece.rect.size))))
        self._canvas.centre_on(piece.rect, max(large, self._canvas.view.scale))

    def _swap_selected(self) -> None:
        doubts = self._in_doubt()
        chosen = [piece.number for piece in self._canvas.selected_pieces()]
        wanted = [doubts[number] for number in chosen if number in doubts]
        if wanted:
            self._swap(wanted)

    def _swap(self, pieces: list[Piece]) -> None:
        found = self._desk.project.find(pieces[0].number)
        name = shown_name(*found) if found else ""
        what = name if len(pieces) == 1 else counted(len(pieces), "piece", "pieces")

        known = self._proposals.known

        def edit(project: Project) -> Project:
            ways = {}
            for piece in pieces:
                one = known[piece.number]
                ways[piece.number] = one.turned if piece.shapes == one.shapes else one
            return give_proposed(project, ways)

        self._desk.do(say("Took {what} the other way", what=what), edit)


def _badge(right: float, top: float) -> QRectF:
    """Where a piece's badge is, by its upper right corner on the screen."""
    return QRectF(right - BADGE - 1, top + 1, BADGE, BADGE)
