"""Pixels as Qt's images, for the screen only: always copies, always with bytes per line."""

from __future__ import annotations

import time

import numpy as np
from PyQt6.QtGui import QImage, QPainter
from PyQt6.sip import voidptr

from rushweed.core.gather.pictures import Picture

PREMULTIPLIED = QImage.Format.Format_ARGB32_Premultiplied
AT_ONCE, TURN = 1 << 20, 0.0005
"""Qt lets no other thread go on while it converts: so many pixels at a time, and seconds between
them in which the window has its turn."""


def to_image(picture: Picture) -> QImage:
    """A picture of shape (height, width, 4) as an image that owns its pixels."""
    height, width = picture.shape[:2]
    if not height or not width:
        return QImage(1, 1, PREMULTIPLIED)
    image = QImage(width, height, PREMULTIPLIED)
    painter = QPainter(image)
    painter.setCompositionMode(QPainter.CompositionMode.CompositionMode_Source)
    step = max(1, AT_ONCE // width)
    for top in range(0, height, step):
        if top:
            time.sleep(TURN)
        rows = np.ascontiguousarray(picture[top : top + step])
        place = voidptr(rows.ctypes.data, rows.nbytes)
        borrowed = QImage(  # type: ignore[call-overload]
            place, width, len(rows), width * 4, QImage.Format.Format_RGBA8888
        )
        painter.drawImage(0, top, borrowed)
    painter.end()
    return image


def from_image(image: QImage) -> Picture:
    """An image's pixels, straight alpha, as an array that owns them."""
    image = image.convertToFormat(QImage.Format.Format_RGBA8888)
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    rows = np.frombuffer(bits.asstring(), np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4).copy()
