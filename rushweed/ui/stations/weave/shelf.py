"""The shelf below the tray: things and figures of other sheets, a click away."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.weave.painting import single
from rushweed.core.words import say
from rushweed.ui.canvas.marks import draw_brackets, draw_checker
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.stations.weave.tray import SIZE

SIDE, GAP, MOST = 32, 4, 8

Thing = tuple[Sheet, Piece]


class Shelf(QWidget):
    """Tells `picked` with a brush of one piece."""

    picked = pyqtSignal(object)

    def __init__(self, images: Images) -> None:
        super().__init__()
        self._images = images
        self._things: Sequence[Thing] = ()
        self._held = 0
        self.setFixedSize(SIZE, SIDE + 4)
        self.setMouseTracking(True)
        self.setAccessibleName(say("Things to place"))

    def show_things(self, things: Sequence[Thing], held: int) -> None:
        """Show some pieces, with brackets around the one in hand."""
        self._things, self._held = things, held
        self.setVisible(bool(things))
        self.update()

    def place_of(self, number: int) -> QRectF:
        """Where a piece lies on the shelf."""
        return self._place([piece.number for _, piece in self._things].index(number))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        thing = self._at(event)
        if thing is not None:
            self.picked.emit(single(thing[1].number))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        thing = self._at(event)
        self.setToolTip(f"{thing[0].name}: {shown_name(*thing)}" if thing else "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        for index, (sheet, piece) in enumerate(self._things):
            place = self._place(index)
            draw_checker(painter, place)
            image = self._images.piece(sheet, piece)
            scale = min(SIDE / max(image.width(), 1), SIDE / max(image.height(), 1))
            scale = int(scale) if scale >= 1 else scale
            wide, high = image.width() * scale, image.height() * scale
            corner = place.x() + (SIDE - wide) / 2, place.bottom() - high
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale < 1)
            painter.drawImage(QRectF(*corner, wide, high), image, QRectF(image.rect()))
            if piece.number == self._held:
                painter.setBrush(Qt.BrushStyle.NoBrush)
                draw_brackets(painter, place, 7)
        painter.end()

    def _place(self, index: int) -> QRectF:
        return QRectF(2 + index * (SIDE + GAP), 2, SIDE, SIDE)

    def _at(self, event: QMouseEvent) -> Thing | None:
        index = int((event.position().x() - 2) // (SIDE + GAP))
        return self._things[index] if 0 <= index < len(self._things) else None


def things_to_place(project: Project, level: Level | None, in_tray: str) -> list[Thing]:
    """The first piece of each sheet that is no tileset and does not lie in the tray; what stands in
    the level already comes first."""
    used = {prop.piece for layer in (level.layers if level else ()) for prop in layer.props}
    found = [
        (sheet, sheet.pieces[0])
        for sheet in project.sheets
        if sheet.pieces and sheet.kind != "tileset" and sheet.name != in_tray
    ]
    found.sort(key=lambda thing: all(piece.number not in used for piece in thing[0].pieces))
    return found[:MOST]
