"""The trail: a cord across the window with a knot for each station."""

from __future__ import annotations

from typing import NamedTuple

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPixmap,
)
from PyQt6.QtWidgets import QWidget

from rushweed.core.words import say
from rushweed.ui.canvas.even import ratio_of
from rushweed.ui.look.colours import look
from rushweed.ui.look.cord import draw_cord, draw_knot, draw_tassel, dyed, raw
from rushweed.ui.look.fonts import BODY, CAPTION, font

HEIGHT = 76
CORD_Y = 18
FIRST, LAST_GAP = 92, 222
NARROW, NARROW_FIRST, NARROW_GAP = 1180, 74, 196
"""In a narrow window the knots lie nearer to its edges."""
TAG = (156, 39)
KNOT = 36
"""Pixels of a square that holds a knot."""
STATIONS = (
    ("Gather", say("sources and licences")),
    ("Cut", say("frames and tiles")),
    ("Gauge", say("size, pivot and look")),
    ("Bound", say("collision and tile facts")),
    ("Weave", say("levels")),
    ("Walk", say("try it")),
    ("Bale", say("export")),
)
"""The stations and what is done there, in the trail's order."""


class Stage(NamedTuple):
    """One station as the trail shows it: how many of how many are done, and its findings."""

    name: str
    subtitle: str
    done: int = 0
    total: int = 0
    findings: int = 0

    @property
    def share(self) -> float:
        return self.done / self.total if self.total else 0.0


class Trail(QWidget):
    """Tells `opened` with the name of the station that was asked for."""

    opened = pyqtSignal(str)

    def __init__(self, stages: list[Stage]) -> None:
        super().__init__()
        self.stages = stages
        self.active = 0
        self._hovered = -1
        self._cord: QPixmap | None = None
        self._strands: QPixmap | None = None
        self._cord_key: object = None
        self._strands_key: object = None
        self.tips: dict[str, str] = {}
        self.setFixedHeight(HEIGHT)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self.setAccessibleName(say("Trail"))

    def show_stages(self, stages: list[Stage], active: int) -> None:
        if stages != self.stages or active != self.active:
            self.stages, self.active = stages, active
            self.update()

    def knot_x(self, index: int) -> float:
        """Where a station's knot hangs."""
        narrow = self.width() < NARROW
        first, gap = (NARROW_FIRST, NARROW_GAP) if narrow else (FIRST, LAST_GAP)
        return first + index * min((self.width() - first - gap) / 6, 240)

    def tag_rect(self, index: int) -> QRectF:
        """The place of a station's name, apart from those beside it."""
        width = min(TAG[0], self.knot_x(1) - self.knot_x(0) - 5)
        return QRectF(round(self.knot_x(index) - width / 2), 33, width, TAG[1])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.paper)
        painter.drawPixmap(0, 0, self._painted_cord())
        for index, stage in enumerate(self.stages):
            self._paint_name(painter, index, stage)
            if stage.findings:
                self._paint_count(painter, self.knot_x(index) + 23, 10, stage.findings)
        painter.end()

    def _painted_cord(self) -> QPixmap:
        """The cord with its knots; painted anew only when something of it changed."""
        key = (*self._strands_told(), self.active)
        if self._cord is None or key != self._cord_key:
            self._cord = QPixmap(self._painted_strands())
            painter = QPainter(self._cord)
            self._paint_knots(painter)
            painter.end()
            self._cord_key = key
        return self._cord

    def _strands_told(self) -> tuple[object, ...]:
        shares = tuple(round(stage.share, 3) for stage in self.stages)
        return self.width(), ratio_of(self), shares, look.theme

    def _painted_strands(self) -> QPixmap:
        """The cord alone, which is the same at every station."""
        key = self._strands_told()
        if self._strands is None or key != self._strands_key:
            ratio = ratio_of(self)
            self._strands = QPixmap(round(self.width() * ratio), round(40 * ratio))
            self._strands.setDevicePixelRatio(ratio)
            self._strands.fill(look.colours.paper)
            painter = QPainter(self._strands)
            self._paint_strands(painter)
            painter.end()
            self._strands_key = key
        return self._strands

    def _paint_strands(self, painter: QPainter) -> None:
        done, to_come = dyed(look.colours), raw(look.colours)
        places = [-20.0, *(self.knot_x(i) for i in range(7)), self.knot_x(6) + 58]
        for index in range(8):
            a, b = places[index], places[index + 1]
            sag = 3 if index == 0 else 1.5 if index == 7 else 4.5
            points = [
                (a + (b - a) * t / 40, CORD_Y + sag * 4 * (t / 40) * (1 - t / 40))
                for t in range(41)
            ]
            share = 1.0 if index == 0 else self.stages[index - 1].share
            first, last = (-99.0 if index == 0 else a + 12), (b if index == 7 else b - 12)
            edge = (first + (last - first) * share - a) / (b - a) if share else 0.0
            draw_cord(painter, points, 5.2, [(min(edge, 1.0), done), (1.0, to_come)])
        draw_tassel(painter, places[8], CORD_Y, look.colours)

    def _paint_knots(self, painter: QPainter) -> None:
        colours = look.colours
        x = self.knot_x(self.active)
        painter.setPen(QPen(colours.tide, 1.5))
        painter.drawLines(*(QLineF(x + dx, CORD_Y + 8, x + dx, 40) for dx in (-4, 4)))
        ratio = ratio_of(self)
        knots: dict[tuple[bool, bool], QPixmap] = {}
        for index, stage in enumerate(self.stages):
            kind = stage.share > 0, index == self.active
            if kind not in knots:
                knots[kind] = _knot(*kind, ratio)
            place = QPointF(self.knot_x(index) - KNOT / 2, CORD_Y - KNOT / 2)
            painter.drawPixmap(place, knots[kind])

    def _paint_name(self, painter: QPainter, index: int, stage: Stage) -> None:
        colours = look.colours
        rect = self.tag_rect(index)
        active = index == self.active
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if active or index == self._hovered or (active and self.hasFocus()):
            painter.setPen(
                QPen(
                    colours.tide if active else colours.strong_line,
                    2 if active and self.hasFocus() else 1,
                )
            )
            painter.setBrush(colours.raised if active else QColor(Qt.GlobalColor.transparent))
            painter.drawRoundedRect(rect.adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        count = say("{done} of {total}", done=stage.done, total=stage.total) if stage.total else ""
        ink = colours.tide if active else colours.ink
        self._paint_pair(painter, rect, say(stage.name), count, ink)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.ink if active else colours.soft_ink)
        under = QRectF(rect.left() + 3, rect.top() + 20, rect.width() - 6, 15)
        text = painter.fontMetrics().elidedText(
            stage.subtitle, Qt.TextElideMode.ElideRight, int(under.width())
        )
        painter.drawText(under, Qt.AlignmentFlag.AlignCenter, text)

    def _paint_pair(
        self, painter: QPainter, rect: QRectF, name: str, count: str, ink: QColor
    ) -> None:
        painter.setFont(font(BODY, 600))
        name_width = painter.fontMetrics().horizontalAdvance(name)
        painter.setFont(font(CAPTION))
        gap = 6 if count else 0
        room = int(rect.width()) - name_width - gap - 6
        count = painter.fontMetrics().elidedText(count, Qt.TextElideMode.ElideRight, room)
        count_width = painter.fontMetrics().horizontalAdvance(count)
        x = rect.center().x() - (name_width + gap + count_width) / 2
        base = rect.top() + 16
        painter.setPen(look.colours.soft_ink)
        painter.drawText(QPointF(x + name_width + gap, base), count)
        painter.setFont(font(BODY, 600))
        painter.setPen(ink)
        painter.drawText(QPointF(x, base), name)

    def _paint_count(self, painter: QPainter, x: float, y: float, count: int) -> None:
        colours = look.colours
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colours.paper)
        painter.drawEllipse(QPointF(x, y), 9.2, 9.2)
        painter.setBrush(colours.ochre)
        painter.drawEllipse(QPointF(x, y), 7.6, 7.6)
        painter.setPen(colours.on_ochre)
        painter.setFont(font(CAPTION, 600))
        text = str(count) if count < 100 else "99"
        painter.drawText(QRectF(x - 9, y - 8, 18, 16), Qt.AlignmentFlag.AlignCenter, text)

    def _at(self, x: float) -> int:
        return next(
            (i for i in range(7) if abs(x - self.knot_x(i)) <= self.tag_rect(i).width() / 2), -1
        )

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        hovered = self._at(event.position().x())
        if hovered != self._hovered:
            self._hovered = hovered
            self.setToolTip(self.tips.get(self.stages[hovered].name, "") if hovered >= 0 else "")
            self.update()

    def leaveEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        self._hovered = -1
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        index = self._at(event.position().x())
        if index >= 0:
            self.opened.emit(self.stages[index].name)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self.opened.emit(self.stages[(self.active + step) % len(self.stages)].name)
        else:
            super().keyPressEvent(event)


def _knot(begun: bool, active: bool, ratio: float) -> QPixmap:
    """A picture of a knot; many are alike."""
    side = round(KNOT * ratio)
    picture = QPixmap(side, side)
    picture.setDevicePixelRatio(ratio)
    picture.fill(QColor(Qt.GlobalColor.transparent))
    painter = QPainter(picture)
    dye = dyed(look.colours) if begun else raw(look.colours)
    draw_knot(painter, KNOT / 2, KNOT / 2, dye, 1.22 if active else 1.1)
    painter.end()
    return picture
