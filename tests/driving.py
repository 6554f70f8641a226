"""Driving the real window with real events."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QColor, QDropEvent
from PyQt6.QtWidgets import QAbstractButton, QLineEdit, QWidget

from rushweed.core.project.project import Project
from rushweed.ui.application import make_application
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.session import Session
from rushweed.ui.settings import Settings
from rushweed.ui.shell.controls import Choice, Field
from rushweed.ui.shell.dialogs import Answer, Dialogs
from rushweed.ui.shell.hint import HINTS
from rushweed.ui.shell.slip import SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.window import Window
from tests.hands import LEFT, NONE, QTest, drag_over

PATIENCE = 900_000
"""Milliseconds after which something waited for will never be."""

Seen = TypeVar("Seen", bound=QWidget)


def type_into(field: QLineEdit, text: str) -> None:
    """Type into a field in place of what stands there, and leave it with Enter."""
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


class Answers(Dialogs):
    """Answers every question as the test has prepared."""

    def __init__(self) -> None:
        super().__init__()
        self.pictures: list[Path] = []
        self.folder: Path | None = None
        self.about_changes: Answer = "discard"
        self.asked: list[str] = []

    def ask_pictures(self) -> list[Path]:
        self.asked.append("ask_pictures")
        return self.pictures

    def ask_picture_folder(self) -> Path | None:
        self.asked.append("ask_picture_folder")
        return self.folder

    def ask_project(self) -> Path | None:
        self.asked.append("ask_project")
        return self.folder

    def ask_save_folder(self, suggested: str) -> Path | None:
        self.asked.append("ask_save_folder")
        return self.folder

    def ask_bundle_folder(self) -> Path | None:
        return self.folder

    def ask_page_file(self, suggested: str) -> Path | None:
        self.asked.append("ask_page_file")
        return self.folder / suggested if self.folder else None

    def ask_film_file(self, suggested: str) -> Path | None:
        return self.folder / suggested if self.folder else None

    def ask_about_changes(self, name: str) -> Answer:
        self.asked.append("ask_about_changes")
        return self.about_changes


class Driver:
    """One window and the hands on it."""

    def __init__(self, qtbot, folder: Path | None, settings: Path, answers: Answers) -> None:
        make_application()
        self.qtbot = qtbot
        self.answers = answers
        remembered = Settings(settings)
        if not settings.exists():  # who drives knows his way about
            remembered.remember(hints=tuple(HINTS))
        self.session = Session(remembered, answers)
        if folder is None:
            self.session.open_new()
        else:
            self.session.open_folder(folder)
        self.window.resize(1280, 800)
        qtbot.waitExposed(self.window)

    @property
    def window(self) -> Window:
        assert self.session.window is not None
        return self.session.window

    @property
    def project(self) -> Project:
        return self.window.desk.project

    @property
    def table(self) -> QWidget:
        table = self.window.frame.table.currentWidget()
        assert table is not None
        return table

    @property
    def canvas(self) -> Canvas:
        canvas = self.window.router.shown.canvas()
        assert canvas is not None
        return canvas

    def at(self, name: str, face: int = 0) -> Any:
        """A face of the station of that name."""
        return self.window.router.stations[name].at(face)

    def close(self) -> None:
        self.answers.about_changes = "discard"
        window = self.session.window
        if window is not None:
            window.close()
            window.deleteLater()
            self.session.window = None
            self.qtbot.wait(1)

    def station(self, number: int) -> None:
        """Open a station with its shortcut's action."""
        self.window.frame.trail.opened.emit(STATIONS[number - 1])
        self.qtbot.wait(5)
        if STATIONS[number - 1] == "Bale":
            self.settle()

    def drop(self, *paths: Path) -> None:
        """Drop files on the window."""
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
        event = QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, data, LEFT, NONE)
        self.window.dropEvent(event)
        self.settle()

    def assert_slip_fits(self) -> None:
        """Nothing in the slip that is shown is cut off at its side."""
        self.qtbot.wait(5)
        page = self.window.frame.slip.currentWidget()
        assert isinstance(page, SlipPage)
        body, viewport = page.widget(), page.viewport()
        assert body is not None and viewport is not None
        assert body.minimumSizeHint().width() <= viewport.width()

    def wait_for(self, condition: Callable[[], object]) -> None:
        """Wait until that is so, however busy the machine is."""
        self.qtbot.waitUntil(lambda: bool(condition()), timeout=PATIENCE)

    def settle(self) -> None:
        """Wait until no work is going on in the background."""
        self.wait_for(lambda: not self.window.jobs.running)

    def button(self, name: str, within: QWidget | None = None) -> QAbstractButton:
        """The visible button with that accessible name."""
        found = [
            b
            for b in (within or self.window).findChildren(QAbstractButton)
            if name in (b.accessibleName(), b.text()) and b.isVisible()
        ]
        assert found, f"no button “{name}” to be seen"
        return found[0]

    def press(self, name: str, within: QWidget | None = None) -> None:
        QTest.mouseClick(self.button(name, within), LEFT)
        self.settle()

    def type_number(self, name: str, text: str) -> None:
        """Type into the visible number field of that name, and leave it with Enter."""
        type_into(self.seen(Stepper, name).edit, text)

    def type_text(self, name: str, text: str) -> None:
        """Type into the visible field of that name, and leave it with Enter."""
        type_into(self.seen(Field, name), text)

    def choose(self, name: str, text: str) -> None:
        """Choose what has that text in the visible list of that name."""
        choice = self.seen(Choice, name)
        index = choice.findText(text)
        assert index >= 0, f"no “{text}” in the list “{name}”"
        choice.showPopup()
        choice.view().setCurrentIndex(choice.model().index(index, 0))
        QTest.keyClick(choice.view(), Qt.Key.Key_Return)
        self.settle()

    def seen(self, kind: type[Seen], name: str) -> Seen:
        """The visible control of a kind, by its accessible name."""
        controls = self.window.findChildren(kind)
        found = [c for c in controls if c.accessibleName() == name and c.isVisible()]
        assert found, f"no {kind.__name__} “{name}” to be seen"
        return found[0]

    def spot(self, x: float, y: float) -> QPoint:
        """A place of the canvas's picture as a place on the widget."""
        place = self.canvas.view.to_screen(x, y)
        return QPoint(round(place.x), round(place.y))

    def click(self, x: float, y: float, held: Qt.KeyboardModifier = NONE, button=LEFT) -> None:
        """Click a place of the picture."""
        QTest.mouseClick(self.canvas, button, held, self.spot(x, y))

    def drag(self, *places: tuple[float, float], held: Qt.KeyboardModifier = NONE) -> None:
        """Drag from place to place of the picture."""
        drag_over(self.canvas, *(self.spot(*place) for place in places), held=held)

    def key(self, key: Qt.Key, held: Qt.KeyboardModifier = NONE) -> None:
        """Press a key on the table."""
        QTest.keyClick(self.window.focusWidget() or self.table, key, held)

    def colour_at(self, x: float, y: float) -> QColor:
        """The colour the canvas shows at a place of its picture."""
        place = self.spot(x, y)
        return self.canvas.grab().toImage().pixelColor(place)

    def undo_all(self) -> int:
        """Undo until nothing is left to undo; how many steps that took."""
        steps = 0
        while self.window.desk.history.earlier is not None:
            self.window.menus.actions["edit.undo"].trigger()
            steps += 1
        return steps
