"""The corners of the selected piece's shapes: listed, typed, and shown as convex parts."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from rushweed.core.bound.convex import convex_parts
from rushweed.core.bound.editing import gripped, replace_form, with_corner_at
from rushweed.core.project.shape import Form
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.controls import Check, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shape_marks import list_corners
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

MOST_SPLIT = 200
"""Convex parts are shown of at most so many pieces at once."""


class Corners(Group):
    """Says where corners lie, takes typed places, and shows what convex parts shapes have."""

    def __init__(self, number: int, desk: Desk, canvas: SheetCanvas) -> None:
        super().__init__(number, say("Corners"))
        self._desk, self._canvas = desk, canvas
        self.aside.setText(say("px from top left"))
        self._corner = Stepper(say("Corner"), "", 1, 1, width=64)
        self._corner.entered.connect(lambda _: self.refresh())
        self._x = Stepper(say("Corner x"), "", -4096, 8192, whole=False, width=74)
        self._y = Stepper(say("Corner y"), "", -4096, 8192, whole=False, width=74)
        for stepper in (self._x, self._y):
            stepper.entered.connect(lambda _: self._move())
        self._list = label("", "caption")
        self._convex = Check(say("Convex parts of at most"), lambda on: self._canvas.update())
        self._most = Stepper(say("Most corners of a part"), say("corners"), 3, 64, width=112)
        self._most.show_value(8)
        self._most.entered.connect(lambda _: self._canvas.update())
        self.add(row(self._corner, 4, self._x, self._y, None, spacing=4))
        self.add(self._list)
        self.add(row(self._convex, None))
        self.add(row(self._most, None))

    def refresh(self) -> None:
        """Show the corners of what is selected."""
        pieces = self._canvas.selected_pieces()
        shapes = {piece.shapes for piece in pieces}
        shared = next(iter(shapes)) if len(shapes) == 1 else None
        self._list.setText(
            say("Select a piece to see its corners.")
            if not pieces
            else list_corners(shared)
            if len(shapes) == 1
            else say("differ between pieces")
        )
        corners = self._all_corners(pieces[0]) if pieces and shared else []
        for stepper in (self._corner, self._x, self._y):
            stepper.setEnabled(bool(corners))
        self._corner.high = max(len(corners), 1)
        number = min(int(self._corner.value or 1), max(len(corners), 1))
        self._corner.show_value(number)
        if corners:
            place = corners[number - 1][2]
            self._x.show_value(place.x)
            self._y.show_value(place.y)
        self._tell_parts(pieces)

    def paint(self, painter: QPainter) -> None:
        """Draw where shapes would be split."""
        if not self._convex.isChecked():
            return
        view = self._canvas.view
        painter.save()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for piece in self._canvas.selected_pieces()[:MOST_SPLIT]:
            for shape in piece.shapes or ():
                for part in self._parts(shape.form):
                    places = [view.to_screen(piece.rect.x + c.x, piece.rect.y + c.y) for c in part]
                    ring = QPolygonF([QPointF(*place) for place in places])
                    for colour, width in ((MARKS.paper, 3.0), (MARKS.tide, 1.4)):
                        painter.setPen(QPen(colour, width))
                        painter.drawPolygon(ring)
        painter.restore()

    def _parts(self, form: Form) -> tuple[tuple[Point, ...], ...]:
        return convex_parts(form, int(self._most.value or 8))

    def _tell_parts(self, pieces: list[Piece]) -> None:
        few = pieces[:MOST_SPLIT] if self._convex.isChecked() else []
        parts = sum(len(self._parts(s.form)) for piece in few for s in piece.shapes or ())
        self.result.tell(counted(parts, "convex part", "convex parts") + "." if parts else "")

    def _all_corners(self, piece: Piece) -> list[tuple[int, int, Point]]:
        return [
            (number, index, corner)
            for number, shape in enumerate(piece.shapes or ())
            for index, corner in enumerate(gripped(shape.form))
        ]

    def _move(self) -> None:
        """Put the chosen corner where it was typed, in all pieces with the same shapes."""
        pieces = self._canvas.selected_pieces()
        corners = self._all_corners(pieces[0]) if pieces else []
        number = int(self._corner.value or 1) - 1
        if number >= len(corners) or self._x.value is None or self._y.value is None:
            return
        shape, index, _ = corners[number]
        form = (pieces[0].shapes or ())[shape].form
        to = Point(self._x.value, self._y.value)
        numbers = frozenset(p.number for p in pieces if p.shapes == pieces[0].shapes)
        self._desk.do(
            say("Moved a corner to {x}, {y}", x=f"{to.x:g}", y=f"{to.y:g}"),
            lambda p: replace_form(p, numbers, shape, with_corner_at(form, index, to)),
        )
        self.refresh()
