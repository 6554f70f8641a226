"""A picture that was enlarged badly, brought back to its pixels: the act, before and after."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.cut.reshaping import bring_back
from rushweed.core.gather.enlargement import Enlargement, enlargement_of
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.shell.controls import button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.stations.gather.two_pictures import TwoPictures, busiest


class BroughtBack(QWidget):
    """Brings the selected sheet back, or lets it be as it was gathered; shows both."""

    def __init__(self, services: Services) -> None:
        super().__init__()
        self._services, self._desk = services, services.desk
        self._sheet: Sheet | None = None
        self._shown: object = None
        self._bring = button(
            say("Bring it back to its pixels"),
            self._look,
            tip=say("For pictures that were enlarged unevenly or smoothed"),
        )
        self._leave = button(say("As it was gathered"), self._take_back)
        self._both = TwoPictures(say("Before and after"), (say("as gathered"), say("as drawn")))
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row(self._bring, self._leave, None))
        layout.addWidget(self._both)

    def show_sheets(self, sheets: list[Sheet]) -> None:
        """Show the sheet, if it is only one."""
        self._sheet = sheet = sheets[0] if len(sheets) == 1 else None
        back = sheet is not None and sheet.redrawn is not None
        self._bring.setVisible(sheet is not None and not back)
        self._leave.setVisible(back)
        self._both.setVisible(back)
        if sheet is not None and back and (sheet.sources, sheet.redrawn) != self._shown:
            self._shown = (sheet.sources, sheet.redrawn)
            try:
                art = self._desk.art
                before, after = art.gathered(sheet), art.stored(sheet)
            except Refusal:
                self._shown = None
                self._both.hide()
                return
            self._both.show_pictures(to_image(before), to_image(after), busiest(after))

    def _look(self) -> None:
        """Find out how the picture was enlarged while the window goes on, and bring it back."""
        sheet, art = self._sheet, self._desk.art
        if sheet is None:
            return
        words = say("Looking how {name} was enlarged", name=sheet.name)

        def work() -> Iterator[tuple[float, str, Enlargement | None]]:
            yield 0.0, words, None
            found = enlargement_of(art, sheet)
            yield 0.9, words, found
            if found is not None:
                art.stored_as(sheet, found.redrawn)
            yield 1.0, words, found

        def done(found: Enlargement | None) -> None:
            if found is None:
                self._desk.said.emit(say("It seems to be drawn at its size."))
                return
            told = say("Brought {name} back to {size} px")
            self._desk.do(
                told.format(name=sheet.name, size=found.redrawn.size),
                lambda p: bring_back(p, sheet.name, found.redrawn),
            )

        self._services.jobs.start(work, done)

    def _take_back(self) -> None:
        if self._sheet is not None:
            name = self._sheet.name
            words = say("Left {name} as it was gathered", name=name)
            self._desk.do(words, lambda p: bring_back(p, name, None))
