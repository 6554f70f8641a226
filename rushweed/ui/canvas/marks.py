"""Overlays on art: every line twice, ink under and paper over, a device pixel wide."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import cache, lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetrics, QImage, QPainter, QPen, QPixmap, QPolygonF

from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.look.fonts import CAPTION, font


@cache
def checker_brush(cell: int = 8) -> QBrush:
    """The neutral ground behind art."""
    tile = QPixmap(cell * 2, cell * 2)
    tile.fill(MARKS.checker)
    painter = QPainter(tile)
    painter.fillRect(cell, 0, cell, cell, MARKS.checker_other)
    painter.fillRect(0, cell, cell, cell, MARKS.checker_other)
    painter.end()
    return QBrush(tile)


def draw_checker(painter: QPainter, rect: QRectF, cell: int = 8) -> None:
    painter.save()
    painter.setBrushOrigin(rect.topLeft())
    painter.fillRect(rect, checker_brush(cell))
    painter.restore()


STITCH = 3
"""Screen pixels of a stitch; the one beside it is as long."""
LONGEST = 4096
"""Screen pixels of a line that are drawn at once."""


@cache
def _stitch_brush() -> QBrush:
    tile = QPixmap(2 * STITCH, 1)
    tile.fill(MARKS.paper)
    painter = QPainter(tile)
    painter.fillRect(0, 0, STITCH, 1, MARKS.ink)
    painter.end()
    return QBrush(tile)


@cache
def _upright_stitches() -> QImage:
    """One pixel wide: many such lines are drawn twice as fast from a picture as with a brush."""
    image = QImage(1, LONGEST, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(MARKS.paper)
    painter = QPainter(image)
    for y in range(0, LONGEST, 2 * STITCH):
        painter.fillRect(0, y, 1, STITCH, MARKS.ink)
    painter.end()
    return image


def draw_stitches(painter: QPainter, upright: Sequence[QRect], level: Sequence[QRect]) -> None:
    """Cut lines, given as rectangles one pixel thick, or a few."""
    painter.save()
    for rect in upright:
        for x in range(rect.x(), rect.x() + rect.width()):
            _draw_upright(painter, x, rect.y(), rect.height())
    if level:
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(_stitch_brush())
        painter.drawRects(*level)
    painter.restore()


def _draw_upright(painter: QPainter, x: int, y: int, length: int) -> None:
    """A line whose stitches lie where those of all others lie."""
    while length > 0:
        phase = y % (2 * STITCH)
        part = min(length, LONGEST - phase)
        painter.drawImage(x, y, _upright_stitches(), 0, phase, 1, part)
        y, length = y + part, length - part


def draw_stitched_box(painter: QPainter, rect: QRect) -> None:
    """A rectangle in cut lines, its right and bottom lines on its far edge."""
    x, y, w, h = rect.x(), rect.y(), rect.width(), rect.height()
    upright = [QRect(x, y, 1, h + 1), QRect(x + w, y, 1, h + 1)]
    draw_stitches(painter, upright, [QRect(x, y, w + 1, 1), QRect(x, y + h, w + 1, 1)])


def draw_brackets(
    painter: QPainter,
    rect: QRectF,
    arm: float = 9,
    colour: QColor | None = None,
    fine: bool = False,
) -> None:
    """Four corners around what is selected."""
    draw_all_brackets(painter, [rect], arm, colour, fine)


def draw_all_brackets(
    painter: QPainter,
    rects: Sequence[QRectF],
    arm: float = 9,
    colour: QColor | None = None,
    fine: bool = False,
) -> None:
    """Four corners around each of what is selected; finer where there are many."""
    lines = [line for rect in rects for line in _corners(rect, arm)]
    if not lines:
        return
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
    for shade, width in ((MARKS.paper, 3 if fine else 4), (colour or MARKS.tide, 1 if fine else 2)):
        painter.setPen(QPen(shade, width, cap=Qt.PenCapStyle.SquareCap))
        painter.drawLines(*lines)
    painter.restore()


def _corners(rect: QRectF, arm: float) -> Iterator[QLineF]:
    arm = min(arm, rect.width() / 2.4, rect.height() / 2.4)
    left, top, right, bottom = rect.left(), rect.top(), rect.right(), rect.bottom()
    for x, inward in ((left, arm), (right, -arm)):
        for y, down in ((top, arm), (bottom, -arm)):
            yield QLineF(x, y, x + inward, y)
            yield QLineF(x, y, x, y + down)


def draw_doubt(painter: QPainter, right: float, top: float) -> QRectF:
    """A question mark in the upper right corner of what could as well be otherwise; gives back
    where it is."""
    colours = look.colours
    wash, edge = colours.ochre_pale, colours.ochre_edge
    return draw_tag(painter, right - 1, top + 1, "?", wash, colours.ink, edge, 600, "right")


def draw_tag(
    painter: QPainter,
    x: float,
    y: float,
    text: str,
    fill: QColor | None = None,
    ink: QColor | None = None,
    edge: QColor | None = None,
    weight: int = 500,
    align: str = "left",
) -> QRectF:
    """A small label 16 px high with a ring; x is its left, middle or right."""
    face = font(CAPTION, weight)
    width = QFontMetrics(face).horizontalAdvance(text) + 10
    left = {"left": x, "middle": round(x - width / 2), "right": x - width}[align]
    rect = QRectF(left, y, width, 16)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(edge or MARKS.paper)
    painter.drawRoundedRect(rect.adjusted(-1, -1, 1, 1), 4, 4)
    painter.setBrush(fill or MARKS.tide)
    painter.drawRoundedRect(rect, 3, 3)
    painter.setPen(ink or MARKS.on_tide)
    painter.setFont(face)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)
    painter.restore()
    return rect


def draw_number(painter: QPainter, x: float, y: float, text: str, selected: bool) -> None:
    """The number of a piece on a small plate."""
    plate = _number_plate(text, selected, ratio_of(painter.device()))
    painter.drawPixmap(QPointF(round(x), round(y)), plate)


@lru_cache(maxsize=2048)
def _number_plate(text: str, selected: bool, ratio: float) -> QPixmap:
    face = font(CAPTION, 500)
    width = QFontMetrics(face).horizontalAdvance(text) + 7
    plate = QPixmap(round(width * ratio), round(14 * ratio))
    plate.setDevicePixelRatio(ratio)
    plate.fill(Qt.GlobalColor.transparent)
    ground = QColor(MARKS.tide if selected else MARKS.paper)
    ground.setAlphaF(1.0 if selected else 0.92)
    painter = QPainter(plate)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(ground)
    rect = QRectF(0, 0, width, 14)
    painter.drawRoundedRect(rect, 2, 2)
    painter.setPen(MARKS.on_tide if selected else MARKS.ink)
    painter.setFont(face)
    painter.drawText(rect, Qt.AlignmentFlag.AlignCenter, text)
    painter.end()
    return plate


def draw_odd_box(painter: QPainter, rect: QRectF, dash: float = 7, gap: float = 5) -> None:
    """The ochre dashes around what is odd."""
    painter.save()
    painter.setBrush(Qt.BrushStyle.NoBrush)
    strokes = (
        (MARKS.ochre_halo, 5, (dash + 2, gap - 2), 1.0),
        (MARKS.ochre_edge, 3, (dash, gap), 0.0),
        (MARKS.ochre, 2, (dash, gap), 0.0),
    )
    for colour, width, pattern, offset in strokes:
        pen = QPen(colour, width, cap=Qt.PenCapStyle.FlatCap, join=Qt.PenJoinStyle.MiterJoin)
        pen.setDashPattern([part / width for part in pattern])
        pen.setDashOffset(offset / width)
        painter.setPen(pen)
        painter.drawRect(rect)
    painter.restore()


def draw_lozenge(
    painter: QPainter, x: float, y: float, reach: float, fill: QColor, edge: QColor | None = None
) -> None:
    """A small square on its corner, with a paper rim."""

    def around(r: float) -> QPolygonF:
        return QPolygonF(
            [QPointF(x, y - r), QPointF(x + r, y), QPointF(x, y + r), QPointF(x - r, y)]
        )

    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(MARKS.paper)
    painter.drawPolygon(around(reach + 1.5))
    painter.setPen(QPen(edge, 1.2) if edge else Qt.PenStyle.NoPen)
    painter.setBrush(fill)
    painter.drawPolygon(around(reach))
    painter.restore()


def draw_plumb_line(painter: QPainter, x: float, top: float, head: float, foot: float) -> None:
    """A line down to the head of the piece, so that it does not cross its face, and a foot bar
    with a lozenge at the pivot."""
    x, foot = round(x), round(foot)
    painter.fillRect(QRectF(x - 1, top, 3, head - top), MARKS.ink)
    painter.fillRect(QRectF(x, top, 1, head - top), MARKS.paper)
    painter.fillRect(QRectF(x - 13, foot - 1, 27, 3), MARKS.ink)
    painter.fillRect(QRectF(x - 12, foot, 25, 1), MARKS.paper)
    draw_lozenge(painter, x + 0.5, foot + 0.5, 4.5, MARKS.ink)


def draw_unit_post(painter: QPainter, x: float, foot: float, height: float) -> None:
    """A post one unit high, in four bands."""
    for band in range(4):
        colour = MARKS.paper if band % 2 else MARKS.ink
        painter.fillRect(QRectF(x, foot - height + band * height / 4, 8, height / 4), colour)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(QPen(MARKS.ink, 1))
    painter.drawRect(QRectF(x - 0.5, foot - height - 0.5, 9, height + 1))
    painter.setPen(QPen(MARKS.paper, 1))
    painter.drawRect(QRectF(x - 1.5, foot - height - 1.5, 11, height + 2))


def draw_pixel_grid(painter: QPainter, rect: QRectF, scale: float) -> None:
    """Faint lines between pixels."""
    colour = QColor(MARKS.ink)
    colour.setAlpha(26)
    painter.setPen(QPen(colour, 1))
    columns = int(rect.width() / scale + 0.5)
    rows = int(rect.height() / scale + 0.5)
    lines = [
        QLineF(rect.left() + i * scale, rect.top(), rect.left() + i * scale, rect.bottom())
        for i in range(1, columns)
    ]
    lines += [
        QLineF(rect.left(), rect.top() + i * scale, rect.right(), rect.top() + i * scale)
        for i in range(1, rows)
    ]
    if lines:
        painter.drawLines(*lines)


def draw_nick(painter: QPainter, right: float, top: float) -> None:
    """The ink corner of a piece that was corrected by hand."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(MARKS.paper, 1))
    painter.setBrush(MARKS.ink)
    corner = [QPointF(right, top), QPointF(right - 9, top), QPointF(right, top + 9)]
    painter.drawPolygon(QPolygonF(corner))
    painter.restore()
