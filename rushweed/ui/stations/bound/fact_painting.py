"""The brush of facts over the sheet: painted by dragging, given to what is selected, walked on."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial
from math import ceil

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from rushweed.core.bound.fact_brush import FactBrush, nearest_side, piece_beside
from rushweed.core.bound.fact_table import FACTS, FactName
from rushweed.core.project.facts import Side
from rushweed.core.project.project import NUMBER, Project
from rushweed.core.values import Point
from rushweed.core.words import counted, say
from rushweed.ui.canvas.fact_marks import draw_facts, draw_kerb
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

ALL = frozenset(FACTS)
SECOND = 2
SIDE_AT: dict[tuple[int, int], Side] = {
    (-1, 0): "left",
    (1, 0): "right",
    (0, -1): "above",
    (0, 1): "below",
}
"""The side that an arrow points at."""

BETWEEN = 2
"""A stroke is looked at every so many pixels of the picture, however fast it is."""


class FactPainting:
    """Paints with `brush`; `sees_all` says whether all facts are shown, or that of the brush."""

    def __init__(self, canvas: SheetCanvas, sees_all: Callable[[], bool]) -> None:
        self._canvas, self._desk, self._sees_all = canvas, canvas.desk, sees_all
        self.brush = FactBrush()
        self._pointed: tuple[int, Side] | None = None
        canvas.numbers = False
        canvas.paint_over = self._paint
        canvas.tool = self._press
        canvas.setCursor(Qt.CursorShape.CrossCursor)
        canvas.hovered.connect(lambda _: self._hover())

    def give(self) -> None:
        """Give the fact to all that is selected."""
        self._for_selected(say("Gave {what} {fact}"), takes=False)

    def take_off(self) -> None:
        """Take the fact from all that is selected."""
        self._for_selected(say("Took {fact} from {what}"), takes=True)

    def step(self, across: int, down: int) -> None:
        """Select the next tile that way."""
        pieces = self._canvas.selected_pieces()
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            return
        there = piece_beside(sheet.pieces, pieces[0], across, down) if pieces else sheet.pieces[0]
        if there is not None:
            chosen = replace(self._desk.selection, pieces=frozenset({there.number}))
            self._desk.select(chosen)

    def turn_side(self, across: int, down: int) -> None:
        """Shut or open the side of selected tiles that an arrow points at."""
        side = SIDE_AT[across, down]
        pieces = self._canvas.selected_pieces()
        shut = bool(pieces) and side in pieces[0].facts.entry
        edit = partial(_painted, self.brush, list(map(NUMBER, pieces)), (side,), not shut)
        if pieces:
            self._desk.do(say("Shut a side") if shut else say("Opened a side"), edit)

    def _press(self, press: Pointer) -> Stroke | None:
        """Drag over tiles to paint the fact, with the second button to take it; with Ctrl or Shift
        tiles are selected."""
        if press.ctrl or press.shift or self._canvas.piece_at(press.place) is None:
            return self._canvas.select_tool(press)
        return self._stroke(press)

    def _stroke(self, press: Pointer) -> Stroke:
        takes = press.button == SECOND
        verb = say("Took {fact} away") if takes else say("Painted {fact}")
        drag = self._desk.drag(verb.format(fact=self._name()))
        event, last, done = press, press.place, set[tuple[int, Side | None]]()
        by_side = self.brush.fact == "entry"
        try:
            while True:
                for place in _along(last, event.place):
                    piece = self._canvas.piece_at(place)
                    side = nearest_side(piece.rect, place) if piece is not None else "above"
                    spot = (piece.number if piece else 0, side if by_side else None)
                    if piece is not None and spot not in done:
                        done.add(spot)
                        drag.further(partial(_painted, self.brush, [piece.number], (side,), takes))
                last = event.place
                if event.released:
                    drag.end()
                    if len(done) == 1:
                        first = frozenset({number for number, _ in done})
                        self._desk.select(replace(self._desk.selection, pieces=first))
                    return
                event = yield
        finally:
            drag.abandon()

    def _for_selected(self, words: str, takes: bool) -> None:
        """The brush on all selected tiles; of entry, all sides at once."""
        numbers = [piece.number for piece in self._canvas.selected_pieces()]
        sides: tuple[Side, ...] = ("above",)
        if self.brush.fact == "entry":
            sides = ("left", "right", "above", "below")

        if numbers:
            edit = partial(_painted, self.brush, numbers, sides, takes)
            what = counted(len(numbers), "piece", "pieces")
            self._desk.do(words.format(what=what, fact=self._name()), edit)

    def _name(self) -> str:
        return say(FACTS[self.brush.fact].title).lower()

    def _hover(self) -> None:
        """Show which side a click would shut."""
        place = self._canvas.pointer
        piece = self._canvas.piece_at(place) if place is not None else None
        pointed = (piece.number, nearest_side(piece.rect, place)) if piece and place else None
        if pointed != self._pointed:
            self._pointed = pointed
            self._canvas.update()

    def _paint(self, painter: QPainter) -> None:
        fact: FactName = self.brush.fact
        shown = ALL if self._sees_all() else frozenset({fact})
        kinds = {kind.number: kind for kind in self._desk.project.rules.kinds}
        scale = self._canvas.view.scale
        for _, piece in self._canvas.seen_pieces():
            tile = self._canvas.to_screen(piece.rect)
            draw_facts(painter, tile, piece.facts, kinds, shown, scale)
            if fact == "entry" and self._pointed and self._pointed[0] == piece.number:
                painter.setOpacity(0.45)
                draw_kerb(painter, QRectF(tile), self._pointed[1])
                painter.setOpacity(1)


def _painted(
    brush: FactBrush, numbers: Sequence[int], sides: Sequence[Side], takes: bool, project: Project
) -> Project:
    """The project with the brush's fact given to pieces at some of their sides, or taken."""
    for number in numbers:
        for side in sides:
            project = (brush.take if takes else brush.paint)(project, number, side)
    return project


def _along(first: Point, last: Point) -> Iterator[Point]:
    """Places on the way from one to another, so near that no tile is skipped."""
    across, down = last.x - first.x, last.y - first.y
    count = max(1, ceil(max(abs(across), abs(down)) / BETWEEN))
    for step in range(1, count + 1):
        yield Point(first.x + across * step / count, first.y + down * step / count)
