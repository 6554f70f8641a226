"""The tray: a tileset as it was drawn, to pick a tile or a block of tiles from."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Rect
from rushweed.core.weave.painting import Brush
from rushweed.ui.canvas.marks import draw_brackets, draw_checker
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.text import tr

SIZE = 284
PAD = 3


class Tray(QWidget):
    """Tells `picked` with a brush; drag to pick a block."""

    picked = pyqtSignal(object)

    def __init__(self, images: Images) -> None:
        super().__init__()
        self._images = images
        self._sheet: Sheet | None = None
        self._numbers: frozenset[int] = frozenset()
        self._start: Piece | None = None
        self.setFixedSize(SIZE, SIZE)
        self.setMouseTracking(True)
        self.setAccessibleName(tr("Tray of tiles"))

    def show_sheet(self, sheet: Sheet | None, numbers: frozenset[int]) -> None:
        """Show a sheet, with the pieces of the brush in brackets."""
        self._sheet, self._numbers = sheet, numbers
        if sheet is not None:
            scale = self._scale()
            self.setFixedHeight(min(SIZE, int(sheet.size.height * scale) + 2 * PAD))
        self.update()

    def place_of(self, number: int) -> QRectF:
        """Where a piece lies in the tray."""
        assert self._sheet is not None
        piece = next(p for p in self._sheet.pieces if p.number == number)
        return self._on_screen(piece.rect)

    def _scale(self) -> float:
        assert self._sheet is not None
        size = self._sheet.size
        wanted = (SIZE - 2 * PAD) / max(size.width, size.height, 1)
        return float(min(int(wanted), 4)) if wanted >= 1 else wanted

    def _on_screen(self, rect: Rect) -> QRectF:
        scale = self._scale()
        return QRectF(
            PAD + rect.x * scale, PAD + rect.y * scale, rect.width * scale, rect.height * scale
        )

    def _piece_at(self, x: float, y: float) -> Piece | None:
        if self._sheet is None:
            return None
        scale = self._scale()
        place = Point((x - PAD) / scale, (y - PAD) / scale)
        return next((p for p in self._sheet.pieces if p.rect.contains(*place)), None)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._sheet is None:
            painter.setPen(look.colours.soft_ink)
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("Cut a tileset first"))
            painter.end()
            return
        whole = self._on_screen(Rect(0, 0, *self._sheet.size))
        draw_checker(painter, whole)
        image = self._images.sheet(self._sheet)
        smooth = self._scale() < 1
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, smooth)
        painter.drawImage(whole, image, QRectF(image.rect()))
        line = QColor(MARKS.paper)
        line.setAlpha(120)
        painter.setPen(QPen(line, 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for piece in self._sheet.pieces:
            painter.drawRect(self._on_screen(piece.rect))
        chosen = [p.rect for p in self._sheet.pieces if p.number in self._numbers]
        if chosen:
            around = chosen[0]
            for rect in chosen:
                around = around.union(rect)
            draw_brackets(painter, self._on_screen(around), 9)
        painter.end()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self._start = self._piece_at(event.position().x(), event.position().y())
        self._pick(self._start)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        here = self._piece_at(event.position().x(), event.position().y())
        if self._start is not None and event.buttons():
            self._pick(here)
        elif self._sheet is not None:
            self.setToolTip(shown_name(self._sheet, here) if here else "")

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._start = None

    def _pick(self, end: Piece | None) -> None:
        """Make a brush of the block between where the drag began and here."""
        if self._start is None or end is None or self._sheet is None:
            return
        block = self._start.rect.union(end.rect)
        inside = [p for p in self._sheet.pieces if block.intersection(p.rect) == p.rect]
        rows = sorted({p.row for p in inside})
        columns = sorted({p.column for p in inside})
        by_cell = {(p.column, p.row): p.number for p in inside}
        if len(by_cell) != len(inside):
            return
        self.picked.emit(
            Brush(
                tuple(
                    tuple((by_cell.get((column, row), 0), 0) for column in columns) for row in rows
                )
            )
        )
