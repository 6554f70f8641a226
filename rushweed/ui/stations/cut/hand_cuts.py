"""Cuts corrected by hand: the tools on the sheet, as strokes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Literal, NamedTuple

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter

from rushweed.core.cut.correcting import Way, draw_piece, set_rect, split
from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit
from rushweed.core.values import Point, Rect
from rushweed.core.words import counted, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_nick, draw_stitched_box, draw_stitches
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.stations.common.sheet_canvas import NEAR, SheetCanvas

HandTool = Literal["select", "edges", "piece", "split", "cell"]
SMALLEST_MARKED = 18
DRAGGED = 8
"""A drag over more screen pixels than this shows which way to split."""
"""Pieces narrower than this on the screen show no nick."""


class Edges(NamedTuple):
    """Which edges of a rectangle a drag moves."""

    left: bool
    top: bool
    right: bool
    bottom: bool

    def moved(self, rect: Rect, dx: int, dy: int) -> Rect:
        """The rectangle with these edges moved, at least one pixel wide and high."""
        left, top, right, bottom = rect.x, rect.y, rect.right, rect.bottom
        if all(self):
            return Rect(left + dx, top + dy, rect.width, rect.height)
        if self.left:
            left = min(left + dx, right - 1)
        if self.right:
            right = max(right + dx, left + 1)
        if self.top:
            top = min(top + dy, bottom - 1)
        if self.bottom:
            bottom = max(bottom + dy, top + 1)
        return Rect(left, top, right - left, bottom - top)

    @property
    def cursor(self) -> Qt.CursorShape:
        across, down = self.left or self.right, self.top or self.bottom
        if all(self):
            return Qt.CursorShape.SizeAllCursor
        if across and down:
            falling = self.left == self.top
            return Qt.CursorShape.SizeFDiagCursor if falling else Qt.CursorShape.SizeBDiagCursor
        return Qt.CursorShape.SizeHorCursor if across else Qt.CursorShape.SizeVerCursor


ALL_EDGES = Edges(True, True, True, True)


def edges_near(rect: Rect, place: Point, reach: float) -> Edges:
    """The edges within reach of a place; all of them, which moves the piece, in its middle."""
    reach_x, reach_y = min(reach, rect.width / 3), min(reach, rect.height / 3)
    edges = Edges(
        place.x - rect.x <= reach_x,
        place.y - rect.y <= reach_y,
        rect.right - place.x <= reach_x,
        rect.bottom - place.y <= reach_y,
    )
    return edges if any(edges) else ALL_EDGES


class HandCuts:
    """The tool in hand on a sheet's canvas."""

    def __init__(self, canvas: SheetCanvas) -> None:
        self._canvas = canvas
        self._desk = canvas.desk
        self._tool: HandTool = "select"
        self._drawn: Rect | None = None
        self._level = False
        self.show_cell: Callable[[Rect], None] = lambda rect: None
        """Called with the rectangle that was dragged over one cell."""
        canvas.tool = self._press
        canvas.paint_over = self._paint
        canvas.hovered.connect(self._hover)

    @property
    def tool(self) -> HandTool:
        return self._tool

    def take(self, tool: HandTool) -> None:
        """Take another tool in hand."""
        self._tool = tool
        self._canvas.abort()
        plain = Qt.CursorShape.ArrowCursor if tool == "select" else Qt.CursorShape.CrossCursor
        self._canvas.setCursor(plain)
        self._canvas.update()

    def turn_line(self) -> None:
        """Let the splitting line lie instead of stand, and back."""
        self._level = not self._level
        self._canvas.update()

    def nudge(self, dx: int, dy: int) -> bool:
        """Move the selected pieces by pixels. False when none is selected."""
        pieces = self._canvas.selected_pieces()
        if pieces:
            words = say("Moved {what}", what=self._who(pieces))
            self._desk.do(words, self._mover(pieces, ALL_EDGES, dx, dy))
        return bool(pieces)

    # -- strokes ------------------------------------------------------------------

    def _press(self, press: Pointer) -> Stroke | None:
        if self._canvas.sheet is None or press.button != 1:
            return None
        piece = self._canvas.piece_near(press.place)
        if self._tool == "piece":
            return self._draw(press, partial(self._add, self._canvas.sheet.name))
        if self._tool == "cell":
            return self._draw(press, self.show_cell)
        if self._tool == "edges" and piece is not None:
            return self._move_edges(press, piece)
        if self._tool == "split":
            return self._split(press, piece) if piece is not None else None
        return self._canvas.select_tool(press)

    def _move_edges(self, press: Pointer, piece: Piece) -> Stroke:
        """Drag an edge, a corner, or from its middle the whole piece; the selection comes along."""
        selection = self._desk.selection
        if piece.number not in selection.pieces:
            self._desk.select(replace(selection, pieces=frozenset({piece.number})))
        pieces = self._canvas.selected_pieces()
        edges = edges_near(piece.rect, press.place, NEAR / self._canvas.view.scale)
        words = say("Moved {what}") if all(edges) else say("Moved edges of {what}")
        drag = self._desk.drag(words.format(what=self._who(pieces)))
        start = press.corner

        def at(event: Pointer) -> Edit:
            dx, dy = event.corner.x - start.x, event.corner.y - start.y
            return self._mover(pieces, edges, int(dx), int(dy))

        return following(drag, at)

    def _draw(self, press: Pointer, done: Callable[[Rect], None]) -> Stroke:
        """Drag a rectangle within the picture."""
        content = self._canvas.content
        start = press.corner
        try:
            while True:
                event = yield
                self._drawn = _spanned(start, event.corner).intersection(content)
                self._canvas.update()
                if event.released:
                    if self._drawn.area:
                        done(self._drawn)
                    return
        finally:
            self._drawn = None
            self._canvas.update()

    def _add(self, sheet: str, rect: Rect) -> None:
        number = self._desk.project.next_number
        words = say("Drew a piece of {size} px", size=rect.size)
        if self._desk.do(words, lambda project: draw_piece(project, sheet, rect)[0]):
            selected = replace(self._desk.selection, pieces=frozenset({number}))
            self._desk.select(selected)

    def _split(self, press: Pointer, piece: Piece) -> Stroke:
        """Split at the pointer; a drag says by its direction how the line lies."""
        while True:
            event = yield
            across = abs(event.place.x - press.place.x)
            down = abs(event.place.y - press.place.y)
            if max(across, down) * self._canvas.view.scale > DRAGGED:
                self._level = across > down
            self._canvas.update()
            if event.released:
                break
        way, at = self._line(piece, press.corner)
        sheet = self._canvas.sheet
        if sheet is None or all(one.number != piece.number for one in sheet.pieces):
            self._desk.refused.emit(say("The piece is gone meanwhile. Split another one."))
            return
        words = say("Split {name}", name=shown_name(sheet, piece))
        self._desk.do(words, lambda project: split(project, sheet.name, piece.number, way, at))

    def _line(self, piece: Piece, corner: Point) -> tuple[Way, int]:
        if self._level:
            return "down", int(corner.y - piece.rect.y)
        return "across", int(corner.x - piece.rect.x)

    def _mover(
        self, pieces: list[Piece], edges: Edges, dx: int, dy: int
    ) -> Callable[[Project], Project]:
        sheet = self._canvas.sheet
        assert sheet is not None

        def edit(project: Project) -> Project:
            for piece in pieces if dx or dy else ():
                rect = edges.moved(piece.rect, dx, dy)
                project = set_rect(project, sheet.name, piece.number, rect)
            return project

        return edit

    def _who(self, pieces: list[Piece]) -> str:
        assert self._canvas.sheet is not None
        if len(pieces) == 1:
            return shown_name(self._canvas.sheet, pieces[0])
        return counted(len(pieces), "piece", "pieces")

    # -- marks --------------------------------------------------------------------

    def _hover(self, place: Point | None) -> None:
        if self._tool == "edges":
            piece = self._canvas.piece_near(place) if place is not None else None
            reach = NEAR / self._canvas.view.scale
            self._canvas.setCursor(
                edges_near(piece.rect, place, reach).cursor
                if piece and place
                else Qt.CursorShape.ArrowCursor
            )
        elif self._tool == "split":
            self._canvas.update()

    def _paint(self, painter: QPainter) -> None:
        canvas = self._canvas
        for _, piece in canvas.seen_pieces(painter, SMALLEST_MARKED):
            if piece.by_hand:
                rect = canvas.to_screen(piece.rect)
                draw_nick(painter, rect.right(), rect.top())
        if self._drawn is not None:
            draw_stitched_box(painter, canvas.to_screen(self._drawn).toRect())
        if self._tool == "split" and canvas.pointer is not None:
            self._paint_line(painter, canvas, canvas.pointer)

    def _paint_line(self, painter: QPainter, canvas: Canvas, pointer: Point) -> None:
        piece = self._canvas.piece_near(pointer)
        if piece is None:
            return
        corner = Pointer(pointer).corner
        rect = canvas.to_screen(piece.rect).toRect()
        line = canvas.view.to_screen(corner.x, corner.y)
        if self._level:
            draw_stitches(painter, [], [QRect(rect.x(), round(line.y) - 1, rect.width(), 3)])
        else:
            draw_stitches(painter, [QRect(round(line.x) - 1, rect.y(), 3, rect.height())], [])


def _spanned(a: Point, b: Point) -> Rect:
    """The rectangle between two pixel corners."""
    left, top = int(min(a.x, b.x)), int(min(a.y, b.y))
    return Rect(left, top, int(max(a.x, b.x)) - left, int(max(a.y, b.y)) - top)
