"""The heart that beats in every test of the window: it stops nobody who is quick."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication, QWidget

from tests.driving import LEFT
from tests.hands import QTest
from tests.heartbeat import MOST, MOST_HELD, STEPS, BeatingApplication


class Slow(QWidget):
    """Works on for as long as so many plain loops when it is asked to."""

    def __init__(self, loops: float) -> None:
        super().__init__()
        self.loops = loops

    def customEvent(self, event: QEvent | None) -> None:
        whole = 0
        for step in range(round(self.loops * STEPS)):
            whole += step


def test_it_tells_what_took_too_long_and_only_that(qtbot) -> None:
    application = QApplication.instance()
    assert isinstance(application, BeatingApplication)
    widget = Slow(0.1)
    qtbot.addWidget(widget)
    for loops, held, told in ((0.1, False, 0), (3 * MOST, False, 1), (3 * MOST_HELD, True, 1)):
        application.forget()
        widget.loops = loops
        if held:
            QTest.mousePress(widget, LEFT)
        application.sendEvent(widget, QEvent(QEvent.Type.User))
        assert len(application.too_long()) == told, application.longest
        QTest.mouseRelease(widget, LEFT)
    application.forget()


class Leaving:
    """Takes long when it is collected, and then tells a widget."""

    def __init__(self, widget: Slow) -> None:
        self.me, self.widget = self, widget

    def __del__(self) -> None:
        sum(range(round(4 * MOST * STEPS)))
        QApplication.sendEvent(self.widget, QEvent(QEvent.Type.ParentChange))


class Dropping(QWidget):
    """Lets the collector run within an event."""

    def customEvent(self, event: QEvent | None) -> None:
        gc.collect()


def test_what_is_collected_meanwhile_does_not_count(qtbot) -> None:
    application = QApplication.instance()
    assert isinstance(application, BeatingApplication)
    told, dropping = Slow(0.1), Dropping()
    qtbot.addWidget(told)
    qtbot.addWidget(dropping)
    gc.collect()
    Leaving(told)
    application.forget()
    application.sendEvent(dropping, QEvent(QEvent.Type.User))
    assert not application.too_long(), application.longest
