"""What only a compositor can do: its pointer and keys reach the window, menus open at their place,
files are dropped, and what is copied goes both ways. `tools/under_wayland` gives the seat."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from PIL import ImageGrab
from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from rushweed.core.gather.pictures import Picture
from tests.conftest import RAW
from tests.driving import Driver
from tests.hands import QTest

pytestmark = pytest.mark.under_wayland
MAGENTA = (255, 0, 255)
WIDTH, MARGIN = 1600, 40
"""Of the compositor's screen, and of what lies beside it: its pointer knows where it is once it
has come in from there."""
DRAG_FROM = """
import sys
from PyQt6.QtCore import QMimeData, Qt, QUrl
from PyQt6.QtGui import QDrag
from PyQt6.QtWidgets import QApplication, QWidget
class Source(QWidget):
    def mousePressEvent(self, event):
        drag, data = QDrag(self), QMimeData()
        data.setUrls([QUrl.fromLocalFile(sys.argv[1])])
        drag.setMimeData(data)
        drag.exec(Qt.DropAction.CopyAction)
application = QApplication(sys.argv[:1])
source = Source()
source.setStyleSheet("background: #ff00ff")
source.resize(120, 120)
source.show()
application.exec()
"""


class Seat:
    """The pointer and the keys of the compositor, and what it shows. The window fills its screen,
    so places of the window are places of the screen."""

    def __init__(self, drive: Driver) -> None:
        self.drive = drive
        drive.window.showFullScreen()
        self.act("mousemove", WIDTH + MARGIN - 1, 0, "sleep", 0.2, "mousemove", 0, 0)
        size = self.shown().shape[1::-1]
        drive.wait_for(lambda: (drive.window.width(), drive.window.height()) == size)

    def shown(self) -> Picture:
        """The compositor's screen."""
        grabbed = ImageGrab.grab(xdisplay=os.environ["DISPLAY"]).convert("RGBA")
        seen: Picture = np.asarray(grabbed)[:, :WIDTH]
        return seen

    def act(self, *words: object) -> None:
        """Have the seat do something, in the words of xdotool."""
        subprocess.run(["xdotool", *map(str, words)], check=True)

    def place(self, widget: QWidget, at: QPoint | None = None) -> tuple[int, int]:
        there = widget.mapTo(self.drive.window, at or widget.rect().center())
        return there.x(), there.y()

    def go(self, x: int, y: int) -> None:
        """Move the pointer."""
        self.act("mousemove", x, y, "sleep", 0.05)

    def click(self, x: int, y: int) -> None:
        self.go(x, y)
        self.act("click", 1)

    def still(self) -> Picture:
        """The compositor's screen, once it has come to rest."""
        last = [self.shown()]

        def rests() -> bool:
            QTest.qWait(50)
            now = self.shown()
            last[:] = [*last, now] if (last[0] == now).all() else [now]
            return len(last) > 5

        self.drive.settle()
        self.until(rests)
        return last[0]

    def until(self, condition: Callable[[], object]) -> None:
        self.drive.wait_for(condition)


@pytest.fixture
def seat(open_window, demo: Path) -> Iterator[Seat]:
    yield Seat(open_window(demo))


def visible_menu() -> QMenu | None:
    return next((one for one in QApplication.topLevelWidgets() if is_open_menu(one)), None)  # type: ignore[return-value]


def is_open_menu(widget: QWidget) -> bool:
    return isinstance(widget, QMenu) and widget.isVisible()


def test_the_pointer_and_the_keys_work_and_a_menu_opens_below_its_title(seat: Seat) -> None:
    drive, window = seat.drive, seat.drive.window
    assert QApplication.platformName() == "wayland"
    seat.until(window.isActiveWindow)
    seat.act("key", "ctrl+5")
    seat.until(lambda: window.router.station == "Weave")
    bar = window.menuBar()
    assert bar is not None
    edit = bar.actionGeometry(bar.actions()[1])
    before = seat.still()
    seat.click(*seat.place(bar, edit.center()))
    seat.until(visible_menu)
    menu = visible_menu()
    assert menu is not None
    changed: list[np.ndarray] = []

    def is_painted() -> bool:
        below = (seat.shown() != before).any(axis=2)[edit.bottom() + 4 :]
        changed[:] = np.nonzero(below)
        return len(changed[0]) > menu.width() * menu.height() / 2

    seat.until(is_painted)
    assert abs(changed[1].min() - edit.left()) <= 12 and changed[0].min() <= 12
    undo = menu.actionGeometry(menu.actions()[-1]).center()
    seat.click(changed[1].min() + undo.x(), edit.bottom() + 4 + changed[0].min() + undo.y())
    seat.until(lambda: drive.window.finder.isVisible())
    assert visible_menu() is None


def test_the_cursor_says_what_the_tool_does(seat: Seat) -> None:
    """Seen on the compositor's screen, where it lies over a picture that is the same."""
    seat.drive.station(2)
    seat.until(seat.drive.window.isActiveWindow)
    drawn: dict[str, Picture] = {}
    beside: dict[str, Picture] = {}
    for tool in ("Select", "Draw"):
        seat.drive.press(tool)
        x, y = seat.place(seat.drive.canvas)
        for places, at in ((drawn, (x, y)), (beside, (x, y + 200))):
            seat.go(*at)
            places[tool] = seat.still()[y - 24 : y + 24, x - 24 : x + 24]
    assert (beside["Select"] == beside["Draw"]).all()
    assert all((drawn[tool] != beside[tool]).any() for tool in drawn)
    assert (drawn["Select"] != drawn["Draw"]).any()


def test_a_file_is_dropped_from_another_window(seat: Seat) -> None:
    drive = seat.drive
    before = len(drive.project.sheets)
    seat.still()
    source = subprocess.Popen([sys.executable, "-c", DRAG_FROM, str(RAW / "crab.png")])
    try:
        magenta = [*MAGENTA, 255]
        seat.until(lambda: (seat.shown() == magenta).all(axis=2).sum() > 10_000)
        rows, columns = np.nonzero((seat.shown() == magenta).all(axis=2))
        free = columns.min() > 320
        target = (columns.min() - 160 if free else columns.max() + 160), rows.mean()
        seat.go(int(columns.mean()), int(rows.mean()))
        seat.act("mousedown", 1)
        for step in range(1, 9):
            x = columns.mean() + (target[0] - columns.mean()) * step / 8
            seat.act("sleep", 0.05, "mousemove", int(x), int(target[1]))
            QApplication.processEvents()
        seat.act("mouseup", 1)
        seat.until(lambda: len(drive.project.sheets) > before)
    finally:
        source.kill()
        source.wait()
    assert drive.project.sheets[-1].name.startswith("crab")


def test_what_is_copied_goes_to_others_and_comes_from_them(seat: Seat) -> None:
    drive = seat.drive
    seat.until(drive.window.isActiveWindow)
    drive.station(3)
    drive.settle()
    seat.still()
    seat.click(*seat.place(drive.button("Copy")))
    clipboard = QApplication.clipboard()
    assert clipboard is not None
    seat.until(clipboard.text)
    asking = subprocess.Popen(["wl-paste", "-n"], stdout=subprocess.PIPE, text=True)
    seat.until(lambda: asking.poll() is not None)  # it asks this process
    told = asking.communicate()[0]
    assert float(told) == 1 / drive.project.rules.pixels_per_unit
    before = len(drive.project.sheets)
    with (RAW / "crab.png").open("rb") as picture:
        subprocess.run(["wl-copy", "-t", "image/png"], stdin=picture, check=True)
    seat.until(lambda: clipboard.mimeData().hasImage())
    seat.until(drive.window.isActiveWindow)
    seat.act("key", "ctrl+v")
    seat.until(lambda: len(drive.project.sheets) > before)
