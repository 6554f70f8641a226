"""A canvas that shows the selected sheet with its cuts, and on which pieces are selected."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from itertools import compress
from math import ceil, floor
from operator import is_not

import numpy as np
from PyQt6.QtCore import QRect, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.project import NUMBER, Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Rect
from rushweed.core.words import say
from rushweed.ui.canvas.canvas import GRID_FROM, Canvas, draw_image
from rushweed.ui.canvas.cut_lines import CutLines, RectIndex, edges_of
from rushweed.ui.canvas.marks import (
    draw_all_brackets,
    draw_checker,
    draw_number,
    draw_pixel_grid,
    draw_tag,
)
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.services import Services

NEAR = 6
"""How many screen pixels outside of a piece one may click to mean its rim."""
FEW = 4
"""More pieces than this have finer brackets, so that what lies under them is seen."""
MOST_MARKED = 400
"""More pieces than this are not marked one by one when they are small on the screen."""
NUMBERED = 56
RIM = 24
"""Screen pixels that marks may reach past their piece."""
FEW_CHANGED = 64
"""More changed pieces than these are painted with all others."""


class SheetCanvas(Canvas):
    """Shows one sheet. `paint_over` draws a station's own marks last."""

    def __init__(self, services: Services) -> None:
        super().__init__(self._paint)
        self._services = services
        self.desk = services.desk
        self.sheet: Sheet | None = None
        self.numbers = True
        self.cuts = True
        self.brackets = True
        self.tags = True
        self.paint_over: Callable[[QPainter], None] | None = None
        self._indexed: tuple[object, CutLines, RectIndex] | None = None
        self._box: Rect | None = None
        self._selected: tuple[object, object, list[Piece]] | None = None
        self.tool = self.select_tool
        self.hovered.connect(self._tell_status)
        self.view_changed.connect(lambda view: self._tell_status(self.pointer))

    def refresh(self) -> None:
        """Show the sheet that is selected now."""
        name = self.desk.selection.sheet
        sheet = self.desk.project.sheet(name) if name else None
        another = (sheet.name if sheet else None) != (self.sheet.name if self.sheet else None)
        self.sheet = sheet
        if sheet is not None:
            self.show_content(Rect(0, 0, *sheet.size), keep_view=not another)
        self.update()

    def piece_at(self, place: Point) -> Piece | None:
        """The uppermost piece at a place of the picture."""
        pieces = self.sheet.pieces if self.sheet else ()
        here = self._index()[1].within(Rect(int(place.x // 1), int(place.y // 1), 1, 1))
        return pieces[here[-1]] if here else None

    def piece_near(self, place: Point) -> Piece | None:
        """The piece whose rectangle is nearest, at most a few screen pixels away; of those that
        share a rim a selected one."""
        chosen = self.desk.selection.pieces
        reach = NEAR / self.view.scale
        around = Rect.between(
            Point(floor(place.x - reach) - 1, floor(place.y - reach) - 1),
            Point(ceil(place.x + reach) + 1, ceil(place.y + reach) + 1),
        )
        near = [
            (_distance(p.rect, place), p.number not in chosen, -p.number, p)
            for p in self._inside(around)
        ]
        closest = min(near, default=None, key=lambda item: item[:3])
        return closest[3] if closest and closest[0] <= reach else None

    def pieces_about(self, rect: Rect) -> list[Piece]:
        """The pieces that share pixels with a rectangle or lie right beside it."""
        return self._inside(
            Rect(
                rect.x - rect.width,
                rect.y - rect.height,
                3 * rect.width,
                3 * rect.height,
            )
        )

    def has_pieces(self) -> bool:
        """Whether a sheet is shown that is cut."""
        return self.sheet is not None and bool(self.sheet.pieces)

    def selected_pieces(self) -> list[Piece]:
        """The selected pieces of the sheet that is shown."""
        chosen = self.desk.selection.pieces
        pieces = self.sheet.pieces if self.sheet and chosen else ()
        known = self._selected
        if known is None or known[0] is not pieces or known[1] is not chosen:
            meant = map(chosen.__contains__, map(NUMBER, pieces))
            found = list(compress(pieces, meant))
            known = self._selected = (pieces, chosen, found)
        return list(known[2])

    # -- tools ------------------------------------------------------------------

    def select_tool(self, press: Pointer) -> Stroke:
        """Click selects a piece, Ctrl adds; a drag selects all in a box."""
        before = self.desk.selection
        kept = before.pieces if press.ctrl or press.shift else frozenset()
        here = self.piece_at(press.place)
        picked = kept ^ {here.number} if here else kept
        self.desk.select(replace(before, pieces=frozenset(picked)))
        try:
            while True:
                event = yield
                box = Rect.between(press.pixel, event.pixel)
                if max(box.width, box.height) > 2:
                    self._box = box
                    inside = {p.number for p in self._inside(box)}
                    self.desk.select(replace(before, pieces=kept | inside))
                    self.update()
                if event.released:
                    return
        finally:
            self._box = None
            self.update()

    def _inside(self, box: Rect) -> list[Piece]:
        pieces = self.sheet.pieces if self.sheet else ()
        return [pieces[place] for place in self._index()[1].within(box)]

    # -- painting ---------------------------------------------------------------

    def covered(self) -> QRect:
        whole = self.to_screen(self.content) if self.sheet is not None else QRectF()
        left, top = ceil(whole.left()), ceil(whole.top())
        return QRect(left, top, floor(whole.right()) - left, floor(whole.bottom()) - top)

    def _paint(self, painter: QPainter, canvas: Canvas) -> None:
        if self.sheet is None:
            self._paint_invitation(painter)
            return
        whole = self.to_screen(self.content)
        draw_checker(painter, whole.intersected(QRectF(self.rect())))
        draw_image(painter, self, self._services.images.sheet(self.sheet))
        if self.view.scale >= GRID_FROM:
            self._paint_pixel_grid(painter)
        painter.setPen(QPen(MARKS.frame, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(whole.adjusted(-0.5, -0.5, 0.5, 0.5))
        if self.cuts:
            self._index()[0].draw(painter, self)
        if self.numbers:
            self._paint_numbers(painter)
        if self.brackets:
            self.paint_selection(painter)
        if self.paint_over is not None:
            self.paint_over(painter)
        if self._box is not None:
            self._paint_box(painter)

    def _paint_pixel_grid(self, painter: QPainter) -> None:
        seen = self.visible().intersection(self.content)
        if seen.area:
            draw_pixel_grid(painter, self.to_screen(seen), self.view.scale)

    def _index(self) -> tuple[CutLines, RectIndex]:
        pieces = self.sheet.pieces if self.sheet else ()
        if self._indexed is None or self._indexed[0] is not pieces:
            self._keep_index(pieces, edges_of([piece.rect for piece in pieces]))
        assert self._indexed is not None
        return self._indexed[1:]

    def _keep_index(self, pieces: tuple[Piece, ...], edges: np.ndarray) -> None:
        self._indexed = (pieces, CutLines(edges), RectIndex(edges))

    def seen_pieces(
        self, painter: QPainter | None = None, narrowest: float = 0
    ) -> list[tuple[int, Piece]]:
        """The pieces that can be seen, with their place in reading order, as far as they are so
        wide on the screen; with a painter, those that it is to paint anew."""
        pieces = self.sheet.pieces if self.sheet else ()
        area = self.visible()
        if painter is not None and painter.hasClipping():
            clip = painter.clipBoundingRect()
            ends = (
                self.view.to_picture(clip.left() - RIM, clip.top() - RIM),
                self.view.to_picture(clip.right() + RIM, clip.bottom() + RIM),
            )
            area = area.intersection(Rect.between(*(Point(floor(x), floor(y)) for x, y in ends)))
        found = self._index()[1].within(area, narrowest / self.view.scale)
        return [(place, pieces[place]) for place in found]

    def show_changed(self, before: Sheet, after: Sheet) -> bool:
        """Show another version of the sheet, painting anew only the pieces that differ, where they
        lay and where they lie; False where too many do, or more has changed."""
        if self.sheet is not before or len(before.pieces) != len(after.pieces):
            return False
        if replace(before, pieces=after.pieces) != after:
            return False
        differ = list(map(is_not, before.pieces, after.pieces))
        places = list(compress(range(len(differ)), differ))
        if len(places) > FEW_CHANGED:
            return False
        pairs = [(before.pieces[place], after.pieces[place]) for place in places]
        if self._indexed is not None and self._indexed[0] is before.pieces:
            if all(old.rect == new.rect for old, new in pairs):
                self._indexed = (after.pieces, *self._indexed[1:])
            else:
                rects = {place: after.pieces[place].rect for place in places}
                self._keep_index(after.pieces, self._indexed[2].changed(rects))
        self.sheet = after
        for old, new in pairs:
            for rect in {old.rect, new.rect}:
                around = self.to_screen(rect).adjusted(-RIM, -RIM, RIM, RIM).toAlignedRect()
                self.update(around)
                self.update(around.x(), around.y(), self.width(), 2 * RIM)  # its name stands there
        return True

    def _paint_numbers(self, painter: QPainter) -> None:
        chosen = self.desk.selection.pieces
        for index, piece in self.seen_pieces(painter, NUMBERED):
            corner = self.view.to_screen(piece.rect.x, piece.rect.y)
            name = str(index + 1)
            draw_number(painter, corner.x + 5, corner.y + 5, name, piece.number in chosen)

    def paint_selection(self, painter: QPainter) -> None:
        """Mark the selected pieces of the sheet."""
        assert self.sheet is not None
        chosen = self.desk.selection.pieces
        if len(chosen) <= FEW_CHANGED:
            found = map(self.desk.project.find, chosen)
            selected = [pair[1] for pair in found if pair and pair[0].name == self.sheet.name]
        else:
            selected = [piece for _, piece in self.seen_pieces() if piece.number in chosen]
        if len(selected) > MOST_MARKED:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(MARKS.tide, 1))
            for piece in selected:
                painter.drawRect(self.to_screen(piece.rect).adjusted(1, 1, -1, -1))
            return
        fine = len(selected) > FEW
        rects = [self.to_screen(piece.rect).adjusted(1, 1, 0, 0) for piece in selected]
        draw_all_brackets(painter, rects, 6 if fine else 11, fine=fine)
        if len(selected) == 1 and self.tags:
            rect = self.to_screen(selected[0].rect)
            draw_tag(painter, rect.left(), rect.top() - 20, shown_name(self.sheet, selected[0]))

    def _paint_box(self, painter: QPainter) -> None:
        assert self._box is not None
        wash = QColor(MARKS.tide)
        wash.setAlpha(40)
        rect = self.to_screen(self._box)
        painter.fillRect(rect, wash)
        painter.setPen(QPen(MARKS.tide, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(rect)

    def _paint_invitation(self, painter: QPainter) -> None:

        painter.setFont(font(BODY))
        painter.setPen(look.colours.soft_ink)
        text = say("Gather a picture first: Ctrl+1, then drop it on the table.")
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, text)

    def _tell_status(self, place: Point | None) -> None:
        over = self.sheet.name if self.sheet else ""
        if place is not None and self.sheet is not None and self.content.contains(*place):
            x, y = int(place.x), int(place.y)
            piece = self.piece_at(place)
            if piece is not None:
                over = shown_name(self.sheet, piece)
            over += f"   x {x}, y {y}"
        if self.isVisible():
            self._services.status(over, self.zoom_words)


def only_changed(before: Project, after: Project, name: str) -> tuple[Sheet, Sheet] | None:
    """The sheet of that name before and after, where nothing of any other sheet has changed."""
    pairs = [(a, b) for a, b in zip(before.sheets, after.sheets, strict=False) if a is not b]
    alone = len(before.sheets) == len(after.sheets) and len(pairs) == 1
    return pairs[0] if alone and pairs[0][0].name == name else None


def _distance(rect: Rect, place: Point) -> float:
    """How far a place is from a rectangle; 0 inside and on its rim."""
    across = max(rect.x - place.x, 0, place.x - rect.right)
    return max(across, rect.y - place.y, place.y - rect.bottom)
