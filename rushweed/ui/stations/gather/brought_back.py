"""A picture that was enlarged badly, brought back to its pixels: the act, before and after."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.cut.reshaping import bring_back
from rushweed.core.gather.enlargement import Enlargement, how_enlarged
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.ui.canvas.images import to_image
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.station import Services
from rushweed.ui.text import tr

SHOWN = 24
"""So many drawn pixels a side are shown before and after."""
HEIGHT = 116
PLACES = 24
"""At most about so many places a side are looked at for the busiest one."""


class BroughtBack(QWidget):
    """Brings the selected sheet back, or lets it be as it was gathered; shows both."""

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services, self._desk = services, services.desk
        self._sheet: Sheet | None = None
        self._shown: object = None
        self._bring = button(
            tr("Bring it back to its pixels"),
            self._look,
            tip=tr("For pictures that were enlarged unevenly or smoothed"),
        )
        self._leave = button(tr("As it was gathered"), self._take_back)
        self._both = _Both()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row(self._bring, self._leave, None))
        layout.addWidget(self._both)

    def show_sheets(self, sheets: list[Sheet]) -> None:
        """Show the sheet, if it is only one."""
        self._sheet = sheet = sheets[0] if len(sheets) == 1 else None
        back = sheet is not None and sheet.redrawn is not None
        self._bring.setVisible(sheet is not None and not back)
        self._leave.setVisible(back)
        self._both.setVisible(back)
        if sheet is not None and back and (sheet.sources, sheet.redrawn) != self._shown:
            self._shown = (sheet.sources, sheet.redrawn)
            try:
                art = self._desk.art
                before, after = art.gathered(sheet), art.stored(sheet)
            except Refusal:
                self._shown = None
                self._both.hide()
                return
            self._both.show_pictures(to_image(before), to_image(after), _busiest(after))

    def _look(self) -> None:
        """Find out how the picture was enlarged while the window goes on, and bring it back."""
        sheet, art = self._sheet, self._desk.art
        if sheet is None:
            return
        words = tr("Looking how {name} was enlarged").format(name=sheet.name)

        def work() -> Iterator[tuple[float, str, Enlargement | None]]:
            yield 0.0, words, None
            found = how_enlarged(art.gathered(sheet))
            yield 0.9, words, found
            if found is not None:
                art.stored_as(sheet, found.redrawn)
            yield 1.0, words, found

        def done(found: Enlargement | None) -> None:
            if found is None:
                self._desk.said.emit(tr("It seems to be drawn at its size."))
                return
            told = tr("Brought {name} back to {size} px")
            self._desk.do(
                told.format(name=sheet.name, size=found.redrawn.size),
                lambda p: bring_back(p, sheet.name, found.redrawn),
            )

        self._services.jobs.start(work, done)

    def _take_back(self) -> None:
        if self._sheet is not None:
            name = self._sheet.name
            words = tr("Left {name} as it was gathered").format(name=name)
            self._desk.do(words, lambda p: bring_back(p, name, None))


class _Both(QWidget):
    """A part of a picture before and after, equally large."""

    def __init__(self) -> None:
        super().__init__()
        self._pictures: tuple[QImage, ...] = ()
        self._place = QRectF()
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName(tr("Before and after"))

    def show_pictures(self, before: QImage, after: QImage, place: QRectF) -> None:
        """Show other pictures of the same thing, there where `place` is in the second one."""
        self._pictures, self._place = (before, after), place
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, HEIGHT)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(font(CAPTION))
        side = HEIGHT - 18
        for place, image in enumerate(self._pictures):
            factor = image.width() / max(1, self._pictures[1].width())
            part = self._place
            area = QRectF(*(factor * v for v in (part.x(), part.y(), part.width(), part.height())))
            scale = side / max(part.width(), part.height(), 1)
            spot = QRectF(place * (side + 8), 0, part.width() * scale, part.height() * scale)
            draw_checker(painter, spot, 6)
            painter.drawImage(spot, image, area)
            painter.setPen(look.colours.soft_ink)
            words = tr("as gathered") if place == 0 else tr("as drawn")
            painter.drawText(QRectF(spot.left(), side, side, 18), 0, words)
        painter.end()


def _busiest(picture: Picture) -> QRectF:
    """The part of a picture where most neighbours differ."""
    height, width = picture.shape[:2]
    wide, high = min(SHOWN, width), min(SHOWN, height)
    differs = (picture[:, 1:] != picture[:, :-1]).any(axis=2)
    corners = [
        (y, x)
        for y in range(0, height - high + 1, max(1, high // 2, height // PLACES))
        for x in range(0, width - wide + 1, max(1, wide // 2, width // PLACES))
    ]
    y, x = max(corners, key=lambda at: int(differs[at[0] :, at[1] :][:high, :wide].sum()))
    return QRectF(x, y, wide, high)
