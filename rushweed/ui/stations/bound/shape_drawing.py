"""Drawing shapes on pieces: boxes and circles dragged, polygons and paths clicked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Literal

from PyQt6.QtGui import QPainter

from rushweed.core.bound.bodies import set_body
from rushweed.core.bound.geometry import find_crossing
from rushweed.core.bound.shaping import add_shape, box, circle_within, polygon, set_shapes
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.body import Body, Path
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Form, Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Refusal
from rushweed.core.words import counted, say
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.stations.common.shape_marks import draw_crossing, draw_open_polygon
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

Drawn = Literal["box", "circle", "polygon", "path"]


SNAP = 5
"""So many pixels of the screen a piece's edges draw corners near."""
SETTLED = 3
"""With so many corners it is settled which piece a polygon is drawn into."""


class ShapeDrawer:
    """The tools that draw. What is drawn goes to all selected pieces when the piece that it is
    drawn on is among them."""

    def __init__(self, desk: Desk, canvas: SheetCanvas) -> None:
        self._desk, self._canvas = desk, canvas
        self._corners: list[Point] = []
        self._presses: list[Pointer] = []
        self._on: Piece | None = None
        self._what: Drawn = "box"
        self._crossing: Point | None = None

    @property
    def open(self) -> bool:
        """Whether a polygon or path was begun."""
        return bool(self._corners)

    def press(self, press: Pointer, what: Drawn) -> Stroke | None:
        """Draw on the piece that is nearest; beside all of them select."""
        self._what = what
        selected = self._canvas.selected_pieces() if what == "path" else []
        piece = self._on or next(iter(selected), None) or self._canvas.piece_near(press.place)
        if what in ("polygon", "path"):
            if piece is not None:
                self._add_corner(press, piece)
            return None
        if piece is None:
            return self._canvas.select_tool(press)
        return self._drag(press, piece, box if what == "box" else circle_within)

    def end(self) -> None:
        """Close the polygon, or end the path."""
        piece, corners = self._on, list(self._corners)
        if piece is None:
            return
        numbers = self._recipients(piece)
        who = self._who(numbers, piece)
        if self._what == "path":
            self.forget()
            self._give_path(numbers, piece, corners, who)
            return
        try:
            shape = Shape(polygon(corners))
        except Refusal as refusal:
            self._crossing = find_crossing(corners)
            self._desk.refused.emit(str(refusal))
            self._canvas.update()
            return
        self.forget()
        words = say("Drew a polygon on {what}", what=who)
        self._desk.do(words, lambda p: replace_or_add(p, numbers, shape, add=False))

    def take_back(self) -> None:
        """Forget the corner that was put down last."""
        self._crossing = None
        if self._corners:
            self._corners.pop()
            self._presses.pop()
            if not self._corners:
                self._on = None
            self._canvas.update()

    def forget(self) -> None:
        """Leave what was begun."""
        self._corners, self._presses, self._on, self._crossing = [], [], None, None
        self._canvas.update()

    def keep_fitting(self) -> None:
        """Leave what was begun on a piece that is gone."""
        if self._on is not None and self._desk.project.find(self._on.number) is None:
            self.forget()

    def paint(self, painter: QPainter) -> None:
        """Paint what is begun, and where it crosses itself."""
        if self._on is None:
            return
        pointer = self._canvas.pointer
        here = [self._corner(Pointer(pointer), self._on)] if pointer else []
        draw_open_polygon(painter, self._canvas, self._on.rect, [*self._corners, *here])
        if self._crossing is not None:
            draw_crossing(painter, self._canvas, self._on.rect, self._crossing)

    def _drag(self, press: Pointer, piece: Piece, make: Callable[[Point, Point], Form]) -> Stroke:
        """Drag from corner to corner; a circle lies within that box."""
        numbers = self._recipients(piece)
        words = say("Drew a box on {what}") if make is box else say("Drew a circle on {what}")
        drag = self._desk.drag(words.format(what=self._who(numbers, piece)))
        start = self._corner(press, piece)

        def at(event: Pointer) -> Edit | None:
            try:
                shape = Shape(make(start, self._corner(event, piece)))
            except Refusal:  # too small so far
                return None
            return partial(replace_or_add, numbers=numbers, shape=shape, add=press.shift)

        return following(drag, at)

    def _add_corner(self, press: Pointer, piece: Piece) -> None:
        """Put down the next corner; the first one again, or a double click, ends it."""
        if self._on is None:
            self._on = piece
            chosen = replace(self._desk.selection, pieces=self._recipients(piece))
            self._desk.select(chosen)
        elif self._what == "polygon":
            piece = self._drawn_into([*self._presses, press])
        corner = self._corner(press, piece)
        enough = 3 if self._what == "polygon" else 1
        again = bool(self._corners) and corner == self._corners[0] and self._what == "polygon"
        if len(self._corners) >= enough and (again or press.double):
            self.end()
        elif not self._corners or corner != self._corners[-1]:
            self._corners.append(corner)
            self._presses.append(press)
        self._canvas.update()

    def _drawn_into(self, presses: list[Pointer]) -> Piece:
        """The piece that a polygon is drawn into. What begins on a corner that several pieces
        share belongs to the one that the next corners lie in."""
        assert self._on is not None
        if len(presses) > SETTLED:
            return self._on
        places = [press.place for press in presses]
        x, y = (sum(side) / len(places) for side in zip(*places, strict=True))
        other = self._canvas.piece_near(Point(x, y))
        if (
            other is None
            or other is self._on
            or not all(
                other.rect.grown(1 + int(self._reach(other))).contains(*place) for place in places
            )
        ):
            return self._on
        self._on = other
        self._desk.select(replace(self._desk.selection, pieces=self._recipients(other)))
        self._corners = [self._corner(press, other) for press in self._presses]
        return other

    def _corner(self, press: Pointer, piece: Piece) -> Point:
        """The corner that is meant: the piece's own corners and edges draw it near."""
        free = self._what == "path"
        place = within(press, piece, free)
        if free or press.ctrl:
            return place
        reach, rect = self._reach(piece), piece.rect
        x = _drawn_near(place.x, rect.width, reach)
        return Point(x, _drawn_near(place.y, rect.height, reach))

    def _reach(self, piece: Piece) -> float:
        """How near in pixels a corner or edge draws: a few of the screen, never much of a piece."""
        return min(SNAP / self._canvas.view.scale, min(piece.rect.size) / 5)

    def _give_path(
        self, numbers: frozenset[int], piece: Piece, corners: list[Point], who: str
    ) -> None:
        """A path begins where the piece stands; its points are kept from there."""
        stands = piece.standing
        points = tuple(Point(corner.x - stands.x, corner.y - stands.y) for corner in corners)
        old = piece.body.path or Path(())
        body = Body("travels", replace(old, points=points))
        words = say("Drew a path for {what}", what=who)
        self._desk.do(words, lambda project: set_body(project, numbers, body))

    def _recipients(self, piece: Piece) -> frozenset[int]:
        chosen = self._desk.selection.pieces
        return chosen if piece.number in chosen else frozenset({piece.number})

    def _who(self, numbers: frozenset[int], piece: Piece) -> str:
        if len(numbers) > 1 or self._canvas.sheet is None:
            return counted(len(numbers), "piece", "pieces")
        return shown_name(self._canvas.sheet, piece)


def _drawn_near(place: float, side: int, reach: float) -> float:
    return next((edge for edge in (0, side) if abs(place - edge) <= reach), place)


def within(event: Pointer, piece: Piece, free: bool = False) -> Point:
    """The pixel corner nearest to the pointer, in pixels of the piece, and not outside of it
    unless `free`; with Ctrl half pixels, with Ctrl and Shift hundredths."""
    step = 100 if event.ctrl and event.shift else 2 if event.ctrl else 1
    x, y = (round(side * step) / step for side in event.place)
    x, y = x - piece.rect.x, y - piece.rect.y
    if not free:
        x, y = min(max(x, 0), piece.rect.width), min(max(y, 0), piece.rect.height)
    return Point(int(x) if x == int(x) else x, int(y) if y == int(y) else y)


def replace_or_add(project: Project, numbers: frozenset[int], shape: Shape, add: bool) -> Project:
    """A drawn shape takes the place of the old ones, or joins them."""
    if add:
        return add_shape(project, numbers, shape)
    return set_shapes(project, numbers, (shape,))
