"""What the rows of the rack are made of: thumbnails, ticks, heads and grounds."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QFontMetrics, QPainter, QPen
from PyQt6.QtWidgets import QLayout, QVBoxLayout, QWidget

from rushweed.core.project.sheet import Sheet
from rushweed.ui.canvas.even import draw_fitted
from rushweed.ui.canvas.marks import draw_checker, draw_lozenge
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import label, row
from rushweed.ui.shell.progress import Tally

THUMB = 38


def shortened(text: str, metrics: QFontMetrics, room: int) -> str:
    """A description of a sheet that fits: closer, then without its last word, then cut short."""
    for shorter in (text, text.replace(" × ", "×"), text.replace(" × ", "×").rsplit(" ", 1)[0]):
        if metrics.horizontalAdvance(shorter) <= room:
            return shorter
    return metrics.elidedText(text, Qt.TextElideMode.ElideRight, room)


def paint_thumbnail(painter: QPainter, rect: QRect, images: Images, sheet: Sheet) -> None:
    """What stands for a sheet in a framed square of checker, smaller where it is larger."""
    inner = QRectF(rect.adjusted(1, 1, -1, -1))
    draw_checker(painter, inner, 6)
    draw_fitted(painter, inner, images.thumbnail(sheet, THUMB))
    painter.setPen(QPen(look.colours.strong_line, 1))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRoundedRect(QRectF(rect).adjusted(0.5, 0.5, -0.5, -0.5), 2, 2)


def paint_tally(painter: QPainter, x: float, y: float, ticks: Tally) -> None:
    """Five slanted strokes: done, not yet, or an ochre lozenge for a finding."""
    colours = look.colours
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    for tick in ticks.ticks:
        if tick is None:
            draw_lozenge(painter, x + 2, y, 4, colours.ochre, colours.ochre_ink)
        elif tick:
            painter.setPen(QPen(colours.rush, 2.5, cap=Qt.PenCapStyle.FlatCap))
            painter.drawLine(QPointF(x + 2.2, y - 4.5), QPointF(x + 0.3, y + 4.5))
        else:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colours.strong_line)
            painter.drawEllipse(QPointF(x + 1.5, y), 1.5, 1.5)
        x += 8


def rack_column(widget: QWidget) -> QVBoxLayout:
    layout = QVBoxLayout(widget)
    layout.setContentsMargins(0, 0, 1, 0)
    layout.setSpacing(0)
    return layout


def rack_head(title: str, aside: QWidget, act: QWidget | None = None) -> QLayout:
    name = label(title, "heading")
    name.setMinimumHeight(24)
    layout = row(name, None, aside) if act is None else row(name, 6, aside, None, act)
    layout.setContentsMargins(12, 6, 10, 6)
    return layout


def paint_row_ground(painter: QPainter, rect: QRect, selected: bool, hovered: bool) -> None:
    colours = look.colours
    if selected:
        painter.fillRect(rect, colours.tide_wash)
    elif hovered:
        painter.fillRect(rect, colours.raised)
    painter.fillRect(rect.left(), rect.top(), rect.width(), 1, colours.inner_line)


def paint_ground(widget: QWidget) -> None:
    painter = QPainter(widget)
    painter.fillRect(widget.rect(), look.colours.paper)
    painter.fillRect(0, 0, widget.width(), 1, look.colours.line)
    painter.fillRect(widget.width() - 1, 0, 1, widget.height(), look.colours.line)
    painter.end()
