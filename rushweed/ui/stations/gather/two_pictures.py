"""Two pictures of one thing side by side, equally large."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize
from PyQt6.QtGui import QImage, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from rushweed.core.gather.pictures import Picture
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import CAPTION, font

SHOWN = 24
"""So many drawn pixels a side are shown before and after."""
HEIGHT = 116
PLACES = 24
"""At most about so many places a side are looked at for the busiest one."""


class TwoPictures(QWidget):
    """A part of a picture in two ways, with a word below each."""

    def __init__(self, name: str, words: tuple[str, str]) -> None:
        super().__init__()
        self._words = words
        self._pictures: tuple[QImage, ...] = ()
        self._place = QRectF()
        self.setFixedHeight(HEIGHT)
        self.setAccessibleName(name)

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
            scale = even_scale(scale, ratio_of(painter.device()))
            spot = QRectF(place * (side + 8), 0, part.width() * scale, part.height() * scale)
            draw_checker(painter, spot, 6)
            painter.drawImage(spot, image, area)
            painter.setPen(look.colours.soft_ink)
            painter.drawText(QRectF(spot.left(), side, side, 18), 0, self._words[place])
        painter.end()


def busiest(picture: Picture) -> QRectF:
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
