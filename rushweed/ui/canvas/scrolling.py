"""What wheels, touchpads and fingers do to a view: they pan by pixels, or zoom.

A wheel with notches sends 120 for each; a fine wheel sends the same in parts, which are added up.
Two fingers on a touchpad send many small ways, in pixels where the system knows them. While a
gesture zooms, the scale goes along smoothly; at its end it settles at the nearest of the usual
steps, so that pixels are even again.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

from PyQt6.QtCore import QEvent, QObject, QPointF, Qt
from PyQt6.QtGui import QEventPoint, QInputDevice, QNativeGestureEvent, QTouchEvent, QWheelEvent

from rushweed.core.values import Point
from rushweed.core.words import said
from rushweed.ui.canvas.view import STEPS, View, nearest_step, next_step
from rushweed.ui.soon import soon

Scrolls = Literal["by device", "pans", "zooms"]
"""Touchpads pan and wheels zoom, or both do one of these; with Ctrl both zoom."""
SCROLLS: dict[Scrolls, str] = said(
    {
        "by device": "Touchpads pan, wheels zoom; with Ctrl both zoom.",
        "pans": "Scrolling pans; with Ctrl it zooms.",
        "zooms": "Scrolling zooms.",
    }
)
NOTCH, LINE = 120, 48
"""What a wheel sends for a notch, and how many pixels that pans."""
TWICE = 160
"""Pixels that two fingers go to see things twice as large."""
REST = 180
"""Milliseconds after which a gesture that does not say so has ended."""
NEAR = 6
"""Screen pixels that a finger may tremble."""


class Manner:
    """How this user's scrolling is meant; one for all canvases."""

    scrolls: Scrolls = "by device"


def is_touchpad(event: QWheelEvent) -> bool:
    """Whether fingers on a touchpad scroll, not a wheel."""
    device = event.pointingDevice()
    known = device is not None and device.type() == QInputDevice.DeviceType.TouchPad
    return known or event.phase() != Qt.ScrollPhase.NoScrollPhase or not event.pixelDelta().isNull()


class Notches:
    """Adds up what fine wheels send in parts to whole notches."""

    def __init__(self) -> None:
        self._left = 0

    def add(self, turned: int) -> int:
        """The whole notches that are full now, negative ones towards oneself."""
        if turned * self._left < 0:
            self._left = 0
        whole = int((self._left + turned) / NOTCH)
        self._left += turned - whole * NOTCH
        return whole


class Scrolling(QObject):
    """Turns the events of one widget into views. `view` gives the one that is shown, `show` takes
    another one, `ratio` tells that of the screen."""

    def __init__(
        self,
        parent: QObject,
        view: Callable[[], View],
        show: Callable[[View], object],
        ratio: Callable[[], float],
    ) -> None:
        super().__init__(parent)
        self._view, self._show, self._ratio = view, show, ratio
        self._notches = Notches()
        self._about = self._over = QPointF()
        self._fixed = Point(0, 0)
        self._soon = soon(parent, REST, self.settle)

    def wheel(self, event: QWheelEvent) -> None:
        """Take an event of a wheel or a touchpad."""
        fine, angle = is_touchpad(event), event.angleDelta()
        zooms = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if Manner.scrolls == "by device":
            zooms |= not fine
        else:
            zooms |= Manner.scrolls == "zooms"
        sideways = angle.y() == 0 and event.pixelDelta().y() == 0
        if not zooms or (sideways and not fine):
            self.pan(ways(event))
        elif fine:
            self.zoom(2 ** (ways(event).y() / TWICE), event.position())
        else:
            for _ in range(abs(notches := self._notches.add(angle.y()))):
                scale = next_step(self._view().scale, 1 if notches > 0 else -1, self._ratio())
                place = event.position()
                self._show(self._view().zoomed(scale, place.x(), place.y()))
        if event.phase() == Qt.ScrollPhase.ScrollEnd:
            self.settle()

    def gesture(self, event: QNativeGestureEvent) -> bool:
        """Take a gesture that the system has understood; whether it was one of ours."""
        kind = event.gestureType()
        if kind == Qt.NativeGestureType.ZoomNativeGesture:
            self.zoom(1 + event.value(), event.position())
        elif kind == Qt.NativeGestureType.PanNativeGesture:
            self.pan(event.delta())
        elif kind == Qt.NativeGestureType.EndNativeGesture:
            self.settle()
        else:
            return kind == Qt.NativeGestureType.BeginNativeGesture
        return True

    def pan(self, way: QPointF) -> None:
        """Move the view by whole pixels; what is left over goes along with the next move."""
        self._over += way
        whole = self._over.toPoint()
        self._over -= QPointF(whole)
        self._show(self._view().moved(whole.x(), whole.y()))

    def zoom(self, factor: float, about: QPointF) -> None:
        """Show things so many times as large, smoothly; what lies at a place of the widget stays
        there, however long it goes on."""
        view = self._view()
        if about != self._about or not self._soon.isActive():
            self._about, self._fixed = about, view.to_picture(about.x(), about.y())
        least, most = STEPS[0] / self._ratio(), STEPS[-1] / self._ratio()
        self._scale_to(min(max(view.scale * max(factor, 0.01), least), most))
        self._soon.start()

    def settle(self) -> None:
        """A gesture has ended: take the nearest step."""
        self._soon.stop()
        scale = nearest_step(self._view().scale, self._ratio())
        if scale != self._view().scale:
            self._scale_to(scale)

    def _scale_to(self, scale: float) -> None:
        left = self._about.x() - self._fixed.x * scale
        top = self._about.y() - self._fixed.y * scale
        self._show(View(scale, round(left), round(top)))


def ways(event: QWheelEvent) -> QPointF:
    """How far an event goes, in pixels."""
    if not event.pixelDelta().isNull():
        return QPointF(event.pixelDelta())
    return QPointF(event.angleDelta()) * (LINE / NOTCH)


class Fingers:
    """Fingers on a touch screen: one works as the pointer does, two pan and pinch. `press`, `move`
    and `release` hear of the one, `abort` that it was two all along; `place` says where on the
    widget a place of the screen is."""

    def __init__(
        self,
        scrolling: Scrolling,
        place: Callable[[QPointF], QPointF],
        press: Callable[[QPointF], object],
        move: Callable[[QPointF], object],
        release: Callable[[QPointF], object],
        abort: Callable[[], object],
    ) -> None:
        self._scrolling, self._place = scrolling, place
        self._press, self._move, self._release, self._abort = press, move, release, abort
        self._begun: QPointF | None = None
        self._last: tuple[QPointF, ...] = ()
        self._pressed = self._pinched = False

    def take(self, event: QTouchEvent) -> None:
        """Take an event of all fingers."""
        points = [p for p in event.points() if p.state() != QEventPoint.State.Released]
        if event.type() == QEvent.Type.TouchCancel:
            self._leave()
        elif len(points) >= 2:
            self._pinch(points[0], points[1])
        elif not self._pinched:
            self._follow(event.points()[0], ended=not points)
        if not points:
            if self._pinched:
                self._scrolling.settle()
            self._begun, self._pressed, self._pinched = None, False, False
            self._last = ()

    def _follow(self, point: QEventPoint, ended: bool) -> None:
        """One finger: the press waits until it is plain that no second one comes."""
        place = self._place(point.globalPosition())
        self._begun = self._begun or place
        moved = math.dist((place.x(), place.y()), (self._begun.x(), self._begun.y())) >= NEAR
        if not self._pressed and (moved or ended):
            self._pressed = True
            self._press(self._begun)
        if self._pressed:
            (self._release if ended else self._move)(place)

    def _pinch(self, first: QEventPoint, second: QEventPoint) -> None:
        if not self._pinched:
            self._leave()
            self._pinched = True
        now = self._place(first.globalPosition()), self._place(second.globalPosition())
        before = self._last if len(self._last) == 2 else now
        self._last = now
        middle, was = (now[0] + now[1]) / 2, (before[0] + before[1]) / 2
        self._scrolling.pan(middle - was)
        apart, then = (math.hypot((b - a).x(), (b - a).y()) for a, b in (now, before))
        if then > 0 and apart > 0:
            self._scrolling.zoom(apart / then, middle)

    def _leave(self) -> None:
        if self._pressed:
            self._abort()
        self._begun, self._pressed = None, False
