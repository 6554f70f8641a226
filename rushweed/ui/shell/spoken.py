"""What is selected, for who hears the window: it is part of the table's name, since screen readers
speak the name of what has the focus, and speak it again when it changes."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece
from rushweed.core.words import counted, said, say, some
from rushweed.ui.desk import Desk
from rushweed.ui.selection import Selection
from rushweed.ui.soon import soon

SOLID = said({"all sides": "solid", "one-way": "one-way", "sensor": "sensor"})


class Spoken(QObject):
    """Keeps the name of the table that is shown; `table` gives it, `face` what it is called."""

    def __init__(
        self,
        parent: QWidget,
        desk: Desk,
        table: Callable[[], QWidget | None],
        face: Callable[[], str],
    ) -> None:
        super().__init__(parent)
        self._desk, self._table, self._face = desk, table, face
        self._soon = soon(self, 0, self.tell)
        desk.selected.connect(self._later)
        desk.changed.connect(self._later)

    def _later(self, _before: object, _after: object, live: bool = False) -> None:
        if not live:  # nobody wants to hear every step of a drag
            self._soon.start()

    def tell(self) -> None:
        """Name the table, with what is selected."""
        table = self._table()
        if table is None:
            return
        own = table.property("name of its own")
        if own is None:
            own = table.accessibleName()
            table.setProperty("name of its own", own)
        words = [own or self._face(), selected_words(self._desk.project, self._desk.selection)]
        name = ": ".join(filter(None, words))
        if name != table.accessibleName():
            table.setAccessibleName(name)


def selected_words(project: Project, selection: Selection) -> str:
    """What is selected, as one says it."""
    picked = {name: pieces for name, pieces in selection.picked(project).items() if pieces}
    many = sum(map(len, picked.values()))
    if many == 1:
        [(name, [piece])] = picked.items()
        numbers = [one.number for one in project.sheet(name).pieces]
        return say(
            "piece {place} of {count}, {name}, {solid}",
            place=numbers.index(piece.number) + 1,
            count=len(numbers),
            name=piece.name,
            solid=solid_words(piece),
        )
    if many:
        told = counted(many, "piece", "pieces")
        return say("{pieces} of {sheets}", pieces=told, sheets=some(list(picked)))
    return some(list(selection.sheets))


def solid_words(piece: Piece) -> str:
    """How a piece stops walkers."""
    if piece.shapes is None:
        return say("undecided")
    return ", ".join(sorted({SOLID[shape.stops] for shape in piece.shapes})) or say("nothing solid")
