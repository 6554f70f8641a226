"""The four lines of a surround over its picture, and how they are dragged."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from rushweed.core.gauge.borders import change_borders
from rushweed.core.project.sheet import Borders, Piece
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Size
from rushweed.core.words import counted, say
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_lozenge
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

REACH = 7
"""How near to a line, in screen pixels, one may press to drag it."""


class BorderLines:
    """`piece` gives the one whose lines are shown, `numbers` all whose borders a drag moves."""

    def __init__(
        self,
        canvas: SheetCanvas,
        piece: Callable[[], Piece | None],
        numbers: Callable[[], frozenset[int]],
    ) -> None:
        self._canvas, self._piece, self._numbers = canvas, piece, numbers
        canvas.paint_over = self._paint
        canvas.tool = self._press

    def _press(self, press: Pointer) -> Stroke | None:
        piece = self._piece()
        side = self._line_at(piece, press.place) if piece else ""
        return self._drag(press, piece, side) if piece and side else self._canvas.select_tool(press)

    def _line_at(self, piece: Piece, place: Point) -> str:
        reach = REACH / self._canvas.view.scale
        apart = {
            side: abs((place.x if side in ("left", "right") else place.y) - at)
            for side, at in _lines(piece).items()
        }
        outside = not piece.rect.grown(2).contains(place.x, place.y)
        nearest = min(apart, key=lambda side: apart[side])
        return "" if outside or apart[nearest] > reach else nearest

    def _drag(self, press: Pointer, piece: Piece, side: str) -> Stroke:
        """Move one border of all selected pieces, as far as the opposite ones allow."""
        numbers = self._numbers()
        rect, before = piece.rect, piece.borders or Borders()
        what = counted(len(numbers), "piece", "pieces")
        drag = self._canvas.desk.drag(say("Moved a border of {what}", what=what))

        def at(event: Pointer) -> Edit | None:
            wide = {
                "left": event.corner.x - rect.x,
                "right": rect.right - event.corner.x,
                "top": event.corner.y - rect.y,
                "bottom": rect.bottom - event.corner.y,
            }[side]
            if event.corner == press.corner and not drag.changed:
                return None
            wide = _fitting(before, side, int(wide), rect.size)
            return partial(change_borders, numbers=numbers, point=side, value=wide)

        return following(drag, at)

    def _paint(self, painter: QPainter) -> None:
        piece = self._piece()
        if piece is None:
            return
        canvas, rect = self._canvas, piece.rect
        place = canvas.to_screen(rect)
        for side, at in _lines(piece).items():
            upright = side in ("left", "right")
            spot = canvas.view.to_screen(at if upright else rect.x, rect.y if upright else at)
            if upright:
                line = QRectF(round(spot.x), place.top() - 12, 1, place.height() + 24)
                grip = QPointF(line.left() + 0.5, line.top())
            else:
                line = QRectF(place.left() - 12, round(spot.y), place.width() + 24, 1)
                grip = QPointF(line.left(), line.top() + 0.5)
            painter.fillRect(line.adjusted(-1, -1, 1, 1), MARKS.ink)
            painter.fillRect(line, MARKS.paper)
            draw_lozenge(painter, grip.x(), grip.y(), 5, look.colours.tide, MARKS.paper)


def _lines(piece: Piece) -> dict[str, float]:
    """Where the four lines lie in the picture."""
    rect, borders = piece.rect, piece.borders or Borders()
    return {
        "left": rect.x + borders.left,
        "right": rect.right - borders.right,
        "top": rect.y + borders.top,
        "bottom": rect.bottom - borders.bottom,
    }


def _fitting(borders: Borders, side: str, wide: int, size: Size) -> int:
    """How wide one border may be, as far as the opposite one allows."""
    opposite = {"left": "right", "right": "left", "top": "bottom", "bottom": "top"}[side]
    room = (size.width if side in ("left", "right") else size.height) - 1
    return max(0, min(wide, room - int(getattr(borders, opposite))))
