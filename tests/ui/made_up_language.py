"""Looks at every face of the window in the language of the environment, and prints what is wrong:
texts that went past the catalogue, and texts that are cut off.

    python -m tests.ui.made_up_language DEMO
"""

from __future__ import annotations

import json
import re
import sys
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLabel, QLineEdit, QWidget

from rushweed.core.project.project import Project
from rushweed.core.words import language, say
from rushweed.ui.application import make_application
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.session import Session
from rushweed.ui.settings import Settings
from rushweed.ui.shell.window import Window
from tests.hands import QTest

FIRST, LAST = "⟦", "⟧"
LONGER = 0.4
WORD = re.compile(r"[^\W\d_]{2,}")
TERMS = (
    "PNG WebP DDS KTX #RRGGBB CC-BY page bundle.json credits.txt credits.html outlines.svg",
    "levels.h pieces.csv pieces.h pieces.py thanks.txt normals KiB",
    "css js html json png txt",
)
Wrong = tuple[str, str, str]


def made_up(text: str) -> str:
    """A text as the made-up language says it: in brackets, and longer by two fifths."""
    return FIRST + text + "~" * round(LONGER * len(text)) + LAST


def main() -> None:
    application = make_application()
    folder = Path(sys.argv[1])
    session = Session(Settings(folder.parent / "settings.json"))
    window = session.open_folder(folder)
    window.resize(1280, 800)
    found: list[Wrong] = []
    for station in STATIONS:
        window.router.open(station)
        for face in range(max(1, len(window.router.stations[window.router.station].names))):
            window.router.turn_face(face)
            for chosen in ("nothing", "sheet", "pieces"):
                _select(window, chosen)
                _settle(window)
                place = f"{station} {face} {chosen}"
                found += [(place, *wrong) for wrong in _wrong_in(window, window.desk.project)]
    print(json.dumps(sorted(set(found))))
    session.end()
    application.quit()


def _select(window: Window, chosen: str) -> None:
    desk = window.desk
    sheet = desk.project.sheet("keeper")
    numbers = frozenset(piece.number for piece in sheet.pieces[:2])
    sheets = () if chosen == "nothing" else (sheet.name,)
    desk.select(
        replace(
            desk.selection, sheets=sheets, pieces=numbers if chosen == "pieces" else frozenset()
        )
    )


def _settle(window: Window) -> None:
    window.watch.look()
    QTest.qWait(30)
    while window.jobs.running:
        QTest.qWait(10)
    for _ in range(4):  # a wrapped text that grows asks those around it, one after the other
        QApplication.sendPostedEvents()
        QTest.qWait(10)


def _wrong_in(window: Window, project: Project) -> Iterator[tuple[str, str]]:
    names = _names_in(project)
    for widget in window.findChildren(QWidget):
        if not widget.isVisible():
            continue
        for text in _texts(widget):
            if not _was_said(text) and set(WORD.findall(text)) - names:
                yield "past the catalogue", text
        if isinstance(widget, QAbstractButton | QLabel) and _is_cut_off(widget):
            yield "cut off", widget.text()


def _was_said(text: str) -> bool:
    """Whether a text came through the catalogue: the made-up language shows it, in another one no
    text that has a translation is shown in English."""
    if language() == "en":  # the made-up one does not say what it is
        return FIRST in text
    return say(text) == text


def _names_in(project: Project) -> set[str]:
    """The words of names that somebody gave, and of terms that are the same in every language."""
    given = [*TERMS, *(sheet.name for sheet in project.sheets)]
    for sheet in project.sheets:
        given += [piece.name for piece in sheet.pieces] + [one.name for one in sheet.animations]
    for level in project.levels:
        given += [level.name, *(layer.name for layer in level.layers)]
    given += [treatment.name for treatment in project.treatments]
    given += [recipe.name for recipe in project.recipes]
    return {word for name in given for word in WORD.findall(name)}


def _texts(widget: QWidget) -> Iterator[str]:
    if isinstance(widget, QAbstractButton | QLabel):
        yield widget.text()
    if isinstance(widget, QLineEdit):
        yield widget.placeholderText()
    if isinstance(widget, QComboBox):
        yield from (widget.itemText(place) for place in range(widget.count()))
    yield widget.toolTip()
    yield widget.accessibleName()


def _is_cut_off(widget: QAbstractButton | QLabel) -> bool:
    """Whether a text wants more room than there is, and does not wrap."""
    if isinstance(widget, QLabel) and widget.wordWrap():
        return widget.heightForWidth(widget.width()) > widget.height() + 1
    if widget.toolTip() == widget.text():
        return False
    wanted = max(map(widget.fontMetrics().horizontalAdvance, widget.text().split("\n")))
    return wanted > widget.width() + 1 and (FIRST in widget.text() or language() != "en")


if __name__ == "__main__":
    main()
