"""Taking hold of shapes: drag corners, edges or all of one; arrows nudge what was held last."""

from __future__ import annotations

from functools import partial

from rushweed.core.bound.editing import (
    Grip,
    grip_at,
    gripped,
    moved_both_sides,
    moved_grip,
    replace_form,
    snapped,
    without_corner,
)
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Refusal
from rushweed.core.words import say
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

REACH = 7
"""How near, in screen pixels, a press must be to mean a corner or an edge."""
SECOND = 2


class ShapeEditor:
    """The tool that changes shapes which are there."""

    def __init__(self, desk: Desk, canvas: SheetCanvas) -> None:
        self._desk, self._canvas = desk, canvas
        self._held: tuple[int, Grip] | None = None

    def press(self, press: Pointer) -> Stroke | None:
        """Drag what is under the pointer; the second button takes a corner away. Beside all
        shapes it selects."""
        found = self._find(press.place)
        if found is None:
            return self._canvas.select_tool(press)
        piece, grip = found
        if press.button == SECOND:
            if grip.kind == "corner":
                self._remove(piece, grip)
            return None
        self._held = (piece.number, grip)
        return self._drag(press, piece, grip)

    def nudge(self, across: int, down: int) -> bool:
        """Move what was held last by whole pixels; False when nothing was."""
        if self._held is None:
            return False
        number, grip = self._held
        found = self._desk.project.find(number)
        if found is None or grip.shape >= len(found[1].shapes or ()):
            return False
        piece = found[1]
        form = (piece.shapes or ())[grip.shape].form
        start = gripped(form)[grip.index] if grip.kind == "corner" else Point(0, 0)
        if grip.kind == "edge":
            grip = Grip(grip.shape, "inside")
        to = Point(start.x + across, start.y + down)
        numbers = self._alike(piece)
        self._desk.do(
            say("Nudged a shape"),
            lambda p: replace_form(p, numbers, grip.shape, moved_grip(form, grip, start, to)),
        )
        return True

    def _drag(self, press: Pointer, piece: Piece, grip: Grip) -> Stroke:
        """Whole pixels; with Ctrl halves, with Ctrl and Shift free. Corners snap to corners of
        neighbours that are very near. With Alt the other side of a box moves as far."""
        numbers, form = self._alike(piece), (piece.shapes or ())[grip.shape].form
        drag = self._desk.drag(say("Changed a shape"))
        start = self._place(press, piece)

        def at(event: Pointer) -> Edit | None:
            to = self._place(event, piece, snaps=grip.kind == "corner")
            if to == start and not drag.changed:
                return None
            try:
                changed = moved_grip(form, grip, start, to)
                if event.alt and grip.kind != "inside":
                    changed = moved_both_sides(form, changed)
            except Refusal as refusal:
                if event.released:
                    self._desk.refused.emit(str(refusal))
                return None
            return partial(replace_form, numbers=numbers, index=grip.shape, form=changed)

        return following(drag, at)

    def _remove(self, piece: Piece, grip: Grip) -> None:
        numbers, form = self._alike(piece), (piece.shapes or ())[grip.shape].form
        self._held = None
        self._desk.do(
            say("Took a corner away"),
            lambda p: replace_form(p, numbers, grip.shape, without_corner(form, grip.index)),
        )

    def _find(self, place: Point) -> tuple[Piece, Grip] | None:
        piece = self._canvas.piece_near(place)
        if piece is None or not piece.shapes:
            return None
        inside = Point(place.x - piece.rect.x, place.y - piece.rect.y)
        grip = grip_at(piece.shapes, inside, REACH / self._canvas.view.scale)
        return (piece, grip) if grip else None

    def _alike(self, piece: Piece) -> frozenset[int]:
        """The piece, and those selected with it that have the very same shapes."""
        selected = self._canvas.selected_pieces()
        if all(other.number != piece.number for other in selected):
            return frozenset({piece.number})
        return frozenset(other.number for other in selected if other.shapes == piece.shapes)

    def _place(self, event: Pointer, piece: Piece, snaps: bool = False) -> Point:
        step = 100 if event.ctrl and event.shift else 2 if event.ctrl else 1
        x, y = (round(side * step) / step for side in event.place)
        if snaps and self._canvas.sheet is not None:
            near = Point(event.place.x - piece.rect.x, event.place.y - piece.rect.y)
            reach = REACH / self._canvas.view.scale
            corner = snapped(near, piece, self._canvas.pieces_about(piece.rect), reach)
            if corner != near:
                return corner
        return Point(x - piece.rect.x, y - piece.rect.y)
