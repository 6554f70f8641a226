"""Art with pixels of one size: each a whole number of the screen's own, at any ratio.

A screen's `ratio` is how many of its own pixels are one of the window system's, such as 1.25.
"""

from __future__ import annotations

from typing import Protocol, runtime_checkable

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPaintDevice, QPainter


def ratio_of(device: QPaintDevice | None) -> float:
    """The ratio of what is painted on."""
    return (device.devicePixelRatioF() if device is not None else 1.0) or 1.0


@runtime_checkable
class SuitsScreen(Protocol):
    """A widget that is laid out for the screen's ratio, and again when the window comes to a screen
    of another one."""

    def suit_screen(self) -> None: ...


def even_scale(scale: float, ratio: float) -> float:
    """The largest scale not above another at which a pixel of the picture is a whole number of the
    screen's; the scale itself where it is less than one of them."""
    own = scale * ratio * 1.001
    return int(own) / ratio if own >= 1 else scale


def draw_fitted(painter: QPainter, place: QRectF, image: QImage) -> None:
    """An image in the middle of a place, as large as it can be there and be even; one that is
    larger is made smaller, smoothly."""
    ratio = ratio_of(painter.device())
    room = min(place.width() / image.width(), place.height() / image.height())
    scale = even_scale(room, ratio)
    width, height = image.width() * scale, image.height() * scale
    left = round((place.center().x() - width / 2) * ratio) / ratio
    top = round((place.center().y() - height / 2) * ratio) / ratio
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, scale * ratio < 1)
    painter.drawImage(QRectF(left, top, width, height), image, QRectF(image.rect()))
