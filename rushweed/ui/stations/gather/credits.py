"""Credits: what the licences of the pictures ask for."""

from __future__ import annotations

from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from rushweed.core.project.project import Project
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import font
from rushweed.ui.shell.controls import label
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage


class CreditsFace(Face):
    """The credits as they are written beside every bundle."""

    name = say("Credits")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.table = self._make_table()
        self.slip = SlipPage([self._make_about()])

    def refresh(self) -> None:
        from rushweed.core.bale.credits import credits_text

        self._credits.setPlainText(credits_text(self.project))
        self._show_missing()

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _make_table(self) -> QWidget:
        self._credits = QPlainTextEdit()
        self._credits.setReadOnly(True)
        self._credits.setFont(font())
        self._credits.setAccessibleName(say("Credits"))
        holder = _Well()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(24, 20, 24, 20)
        layout.addWidget(self._credits)
        return holder

    def _make_about(self) -> Group:
        group = Group(1, say("Credits"))
        note = label(say("Written beside every bundle\nas credits.txt."), "caption")
        note.setWordWrap(True)
        group.add(note)
        self._missing = group.result
        return group

    def _show_missing(self) -> None:
        without = [sheet.name for sheet in self.project.sheets if not sheet.licence.identifier]
        if without:
            names = ", ".join(without[:3]) + (" …" if len(without) > 3 else "")
            self._missing.tell(say("No licence yet: {names}.", names=names), warns=True)
        else:
            self._missing.tell(say("Every sheet has its licence.") if self.project.sheets else "")


class _Well(QWidget):
    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.well)
        painter.end()
