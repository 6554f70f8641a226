"""Pixels as Qt's images, for the screen only: always copies, always with bytes per line."""

from __future__ import annotations

import time

import numpy as np
from PyQt6.QtGui import QImage, QPainter
from PyQt6.sip import voidptr

from rushweed.core.gather.pictures import Picture

PREMULTIPLIED = QImage.Format.Format_ARGB32_Premultiplied
AT_ONCE, IN_PARTS, TURN = 1 << 24, 1 << 20, 0.0005
"""Qt lets no other thread go on while it converts: up to so many pixels are converted at once, more
of them in parts, and seconds between them in which the window has its turn."""


def to_image(picture: Picture) -> QImage:
    """A picture of shape (height, width, 4) as an image that owns its pixels."""
    height, width = picture.shape[:2]
    if not height or not width:
        return QImage(1, 1, PREMULTIPLIED)
    if height * width <= AT_ONCE:
        rows = np.ascontiguousarray(picture)
        return _borrowed(rows).convertToFormat(PREMULTIPLIED)
    image = QImage(width, height, PREMULTIPLIED)
    painter = QPainter(image)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
    step = max(1, IN_PARTS // width)
    for top in range(0, height, step):
        rows = np.ascontiguousarray(picture[top : top + step])
        painter.drawImage(0, top, _borrowed(rows))
        time.sleep(TURN)
    painter.end()
    return image


def _borrowed(rows: Picture) -> QImage:
    """An image of pixels that lie in one piece, and have to stay as long as it does."""
    height, width = rows.shape[:2]
    place = voidptr(rows.ctypes.data, rows.nbytes)
    form = QImage.Format.Format_RGBA8888
    return QImage(place, width, height, width * 4, form)  # type: ignore[call-overload,no-any-return]


def from_image(image: QImage) -> Picture:
    """An image's pixels, straight alpha, as an array that owns them."""
    image = image.convertToFormat(QImage.Format.Format_RGBA8888)
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    rows = np.frombuffer(bits.asstring(), np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4).copy()
