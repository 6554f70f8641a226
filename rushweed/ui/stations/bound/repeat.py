"""The Repeat face: a tile beside itself and beside chosen neighbours, and what fits its sides."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.bound.in_levels import Pair, Tile, around_in_level, worst_pairs
from rushweed.core.bound.neighbours import Fit, best_fits
from rushweed.core.cut.naming import shown_name
from rushweed.core.cut.repeating import mismatch
from rushweed.core.gauge.units import figure
from rushweed.core.project.facts import Side
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import said, say
from rushweed.ui.canvas.even import draw_fitted, even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_brackets, draw_checker
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import Chips, button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage

SIDES: dict[Side, str] = {"left": "Left", "right": "Right", "above": "Above", "below": "Below"}
CELLS: dict[Side, tuple[int, int]] = {
    "left": (0, 1),
    "right": (2, 1),
    "above": (1, 0),
    "below": (1, 2),
}
THUMB, COLUMNS, MOST_FITS = 46, 5, 15
PAIR, PAIRS = 50, 4
Block = tuple[tuple[Tile, ...], ...]
MEETS = 6.0
"""Up to this gap, of 255, the eye sees no seam."""


class RepeatFace(Face):
    """A table of three by three tiles, and a slip that says how they meet."""

    name = say("Repeat")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self._tiled = Tiled(services)
        self._head = SelectionHead()
        self._self_group = Group(1, say("Beside itself"))
        again = button(say("Itself all around"), self._clear)
        self._self_group.add(row(again, None))
        self._fits_group = Group(2, say("What fits"))
        self._side: Chips[Side] = Chips(said(SIDES), name=say("What fits"))
        self._side.show_value("right")
        self._side.entered.connect(lambda _: self._show_fits())
        self._fits = Fits(services)
        self._fits.picked.connect(self._place)
        self._fits_group.add(row(self._side, None))
        self._fits_group.add(self._fits)
        self._level_group = Group(3, say("In levels"))
        as_used = button(
            say("As a level uses it"),
            self._lay_as_used,
            tip=say("Its neighbours where it is painted"),
        )
        worst = button(
            say("Worst pairs"), self._find_worst, tip=say("Tiles that meet badly in levels")
        )
        self._level_group.add(row(as_used, worst, None))
        self._worst = WorstPairs(services)
        self._worst.picked.connect(self._lay_pair)
        self._level_group.add(self._worst)
        groups = [self._self_group, self._fits_group, self._level_group]
        self.slip = SlipPage(groups, self._head)

    def refresh(self) -> None:
        """Show the selected tile, else the first of the sheet."""
        sheet, piece = self._shown()
        self._tiled.show_tile(sheet, piece)
        self.slip.set_usable(piece is not None)
        self._head.tell(say("1 piece") if piece else say("nothing"), self._name(sheet, piece))
        if sheet is None or piece is None:
            self._self_group.result.tell(say("Cut a sheet, then select one of its tiles."))
            self._fits.show_fits(None, [])
            return
        try:
            found = mismatch(self.desk.art.piece(sheet, piece))
        except Refusal as refusal:
            self._self_group.result.tell(str(refusal), True)
            return
        seen = max(found) > MEETS
        text = say(
            "Left meets right with {across}, top meets bottom with {down}, of 255.",
            across=figure(found.across, 1),
            down=figure(found.down, 1),
        )
        more = say("The seam will be seen. In Cut, Repeat trims it.") if seen else ""
        self._self_group.result.tell(f"{text} {more}".strip(), seen)
        self._show_fits()

    def _show_fits(self) -> None:
        sheet, piece = self._shown()
        if sheet is None or piece is None:
            return
        art = self.desk.art
        try:
            pictures = {p.number: art.piece(sheet, p) for p in sheet.pieces}
        except Refusal:
            return
        pictures = {n: p for n, p in pictures.items() if p[..., 3].any()}
        side = self._side.value or "right"
        fits = best_fits(pictures, piece.number, side) if piece.number in pictures else []
        self._fits.show_fits(sheet, fits[:MOST_FITS])
        well = sum(fit.gap <= MEETS for fit in fits)
        self._fits_group.aside.setText(say("{n} of {all} meet it", n=well, all=len(fits)))

    def _place(self, number: int) -> None:
        self._tiled.place(self._side.value or "right", number)

    def _clear(self) -> None:
        self._tiled.clear()

    def _lay_as_used(self) -> None:
        """Lay the tiles around it that lie there in a level."""
        _, piece = self._shown()
        block = around_in_level(self.desk.project, piece.number) if piece else None
        if block is None:
            self._level_group.result.tell(say("No level uses it yet."), True)
            return
        self._level_group.result.tell("")
        self._tiled.lay(block)

    def _find_worst(self) -> None:
        sheet, _ = self._shown()
        if sheet is None:
            return
        art = self.desk.art
        try:
            pictures = {p.number: art.piece(sheet, p) for p in sheet.pieces}
        except Refusal as refusal:
            self._level_group.result.tell(str(refusal), True)
            return
        pairs = [p for p in worst_pairs(self.desk.project, pictures) if p.gap > MEETS]
        self._worst.show_pairs(pairs)
        told = say("Worst first: gap, and how often.") if pairs else say("All of them meet well.")
        self._level_group.result.tell(told)

    def _lay_pair(self, pair: Pair) -> None:
        """Look at a pair: its first tile in the middle, the second at its side."""
        self.desk.select(replace(self.desk.selection, pieces=frozenset({pair.first[0]})))
        block = [[(0, 0)] * 3 for _ in range(3)]
        block[1][1] = pair.first
        column, line = CELLS[pair.side]
        block[line][column] = pair.second
        self._tiled.lay(tuple(map(tuple, block)))

    def _shown(self) -> tuple[Sheet | None, Piece | None]:
        project, selection = self.desk.project, self.desk.selection
        sheet = project.sheet(selection.sheet) if selection.sheet else None
        pieces = sheet.pieces if sheet else ()
        chosen = next((p for p in pieces if p.number in selection.pieces), None)
        return sheet, chosen or (pieces[0] if pieces else None)

    def _name(self, sheet: Sheet | None, piece: Piece | None) -> str:
        return shown_name(sheet, piece) if sheet and piece else ""


class Tiled(QWidget):
    """Three by three tiles; the middle one is looked at, its neighbours may be others."""

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self._sheet: Sheet | None = None
        self._piece: Piece | None = None
        self.placed: dict[Side, int] = {}
        self._block: Block | None = None
        self.setAccessibleName(say("The tile among its neighbours"))

    def show_tile(self, sheet: Sheet | None, piece: Piece | None) -> None:
        """Show another tile; its neighbours are then itself again."""
        before = self._piece.number if self._piece else 0
        if piece is None or piece.number != before:
            self.placed, self._block = {}, None
        self._sheet, self._piece = sheet, piece
        self.update()

    def lay(self, block: Block) -> None:
        """Lay nine tiles as they lie in a level; number 0 leaves a place empty."""
        self._block = block
        self.update()

    def place(self, side: Side, number: int) -> None:
        """Lay another tile at a side."""
        self.placed[side] = number
        self._block = None
        self.update()

    def clear(self) -> None:
        """Have it lie beside itself on all sides."""
        self.placed, self._block = {}, None
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        if self._sheet is not None and self._piece is not None:
            self._paint_tiles(painter, self._sheet, self._piece)
        painter.end()

    def _paint_tiles(self, painter: QPainter, sheet: Sheet, piece: Piece) -> None:
        width, height = piece.rect.size
        room = min(self.width() / (3.4 * width), self.height() / (3.4 * height))
        scale = even_scale(room, ratio_of(painter.device()))
        wide, high = width * scale, height * scale
        left = round(self.width() / 2 - 1.5 * wide)
        top = round(self.height() / 2 - 1.5 * high)
        draw_checker(painter, QRectF(left, top, 3 * wide, 3 * high))
        images = self._services.images
        project = self._services.desk.project
        for line, tiles in enumerate(self._tiles(piece)):
            for column, (number, orientation) in enumerate(tiles):
                if project.find(number) is not None:
                    cell = QRectF(left + column * wide, top + line * high, wide, high)
                    painter.drawImage(cell, images.number(project, number, orientation))
        middle = QRectF(left + wide, top + high, wide, high)
        draw_brackets(painter, middle.adjusted(-3, -3, 3, 3), 12)

    def _tiles(self, piece: Piece) -> Block:
        if self._block is not None:
            return self._block
        at = {CELLS[side]: number for side, number in self.placed.items()}
        return tuple(
            tuple((at.get((column, line), piece.number), 0) for column in range(3))
            for line in range(3)
        )


class WorstPairs(QWidget):
    """Pairs of tiles side by side, each with its gap and count; `picked` carries a pair."""

    picked = pyqtSignal(object)

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self.pairs: list[Pair] = []
        self.setAccessibleName(say("Pairs that meet worst in levels"))

    def show_pairs(self, pairs: list[Pair]) -> None:
        """Show these pairs."""
        self.pairs = pairs
        self.setFixedHeight(-(-len(pairs) // PAIRS) * (PAIR + 20))
        self.update()

    def place_of(self, index: int) -> QRectF:
        """Where a pair is drawn."""
        line, column = divmod(index, PAIRS)
        return QRectF(column * (PAIR + 14), line * (PAIR + 20), PAIR, PAIR)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for index, pair in enumerate(self.pairs):
            if self.place_of(index).contains(event.position()):
                self.picked.emit(pair)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        project, images = self._services.desk.project, self._services.images
        for index, pair in enumerate(self.pairs):
            place = self.place_of(index)
            half = PAIR / 2
            beside = (half, 0.0) if pair.side == "right" else (0.0, half)
            across, down = (0.0, half / 2) if pair.side == "right" else (half / 2, 0.0)
            for (number, orientation), (x, y) in ((pair.first, (0.0, 0.0)), (pair.second, beside)):
                cell = QRectF(place.left() + across + x, place.top() + down + y, half, half)
                painter.drawImage(cell, images.number(project, number, orientation))
            painter.setPen(look.colours.ink)
            painter.setFont(font(CAPTION))
            caption = QRectF(place.left() - 7, place.bottom() + 1, PAIR + 14, 16)
            words = f"{figure(pair.gap, 0)}, {pair.count}×"
            painter.drawText(caption, Qt.AlignmentFlag.AlignCenter, words)
        painter.end()


class Fits(QWidget):
    """Tiles by how well they meet a side, each with its gap; `picked` carries a number."""

    picked = pyqtSignal(int)

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services = services
        self._sheet: Sheet | None = None
        self.fits: list[Fit] = []
        self.setAccessibleName(say("Tiles that fit, the best first"))

    def show_fits(self, sheet: Sheet | None, fits: list[Fit]) -> None:
        """Show these tiles."""
        self._sheet, self.fits = sheet, fits
        self.setMinimumHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(COLUMNS * (THUMB + 5), -(-max(1, len(self.fits)) // COLUMNS) * (THUMB + 20))

    def place_of(self, index: int) -> QPoint:
        """The middle of a tile's place."""
        line, column = divmod(index, COLUMNS)
        return QPoint(column * (THUMB + 5) + THUMB // 2, line * (THUMB + 20) + THUMB // 2)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for index, fit in enumerate(self.fits):
            apart = event.position().toPoint() - self.place_of(index)
            if max(abs(apart.x()), abs(apart.y())) <= THUMB // 2:
                self.picked.emit(fit.number)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        for index, fit in enumerate(self.fits):
            middle = self.place_of(index)
            place = QRectF(0, 0, THUMB, THUMB)
            place.moveCenter(middle.toPointF())
            found = self._services.desk.project.find(fit.number)
            if found is None:
                continue
            draw_checker(painter, place, 6)
            image = self._services.images.piece(*found)
            draw_fitted(painter, place, image)
            meets = fit.gap <= MEETS
            painter.setPen(QPen(QColor(look.colours.rush if meets else MARKS.ochre), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(place.adjusted(1, 1, -1, -1))
            painter.setPen(look.colours.ink if meets else look.colours.soft_ink)
            painter.setFont(font(CAPTION, 600 if meets else 400))
            caption = QRectF(place.left(), place.bottom() + 1, THUMB, 16)
            painter.drawText(caption, Qt.AlignmentFlag.AlignCenter, figure(fit.gap, 1))
        painter.end()
