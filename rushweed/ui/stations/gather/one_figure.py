"""Sheets that are one figure: what it is called, and which they are."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.gather.figures import (
    figure_of,
    let_figure_go,
    make_figure,
    rename_figure,
    shared_name,
    shows_frames,
)
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Field, button, label, row
from rushweed.ui.stations.common.shared import sheets_words


class OneFigure(QWidget):
    """Makes the selected sheets one figure, names it, or lets it go; shown where that can be."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._called = Field(say("Name of the figure"))
        self._called.entered.connect(self._rename)
        self._make = button(
            say("Make them one figure"),
            self._make_figure,
            tip=say("Their animations are one creature's: Walk shows it, and the game is told"),
        )
        self._apart = button(say("No figure any more"), self._let_go)
        self._caption, self._told = label(say("Figure")), label("", "caption")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row(self._caption, self._called, self._told))
        layout.addLayout(row(self._make, self._apart, None))

    def show_sheets(self, sheets: list[Sheet]) -> None:
        """Show the figure that these sheets are of, or that they may be one; else nothing."""
        figure = figure_of(self._desk.project, self._desk.selection.sheets)
        able = len(sheets) > 1 and all(map(shows_frames, sheets))
        self.setVisible(able or figure is not None)
        self._make.setVisible(able and (figure is None or len(figure.sheets) > len(sheets)))
        self._apart.setVisible(figure is not None)
        for part in (self._caption, self._called, self._told):
            part.setVisible(figure is not None)
        if figure is not None:
            self._called.show_value(figure.name)
            self._told.setText(counted(len(figure.sheets), "sheet", "sheets"))

    def _make_figure(self) -> None:
        names = self._desk.selection.sheets
        name = shared_name(names)
        words = say("Made {what} one figure", what=sheets_words(names))
        if self._desk.do(words, lambda project: make_figure(project, name, names)):
            told = say("“{name}” is one figure now, of {count} sheets: walk as it in Walk.")
            made = self._desk.project.figures[-1]
            self._desk.said.emit(told.format(name=made.name, count=len(made.sheets)))

    def _let_go(self) -> None:
        figure = figure_of(self._desk.project, self._desk.selection.sheets)
        if figure is not None:
            words = say("{name} is no figure any more", name=figure.name)
            self._desk.do(words, lambda project: let_figure_go(project, figure.name))

    def _rename(self, new: str) -> None:
        figure = figure_of(self._desk.project, self._desk.selection.sheets)
        if figure is not None and new.strip() != figure.name:
            words = say("Called {name} {new}", name=figure.name, new=new.strip())
            self._desk.do(words, lambda project: rename_figure(project, figure.name, new))
            self.show_sheets(self._desk.selection.chosen(self._desk.project))
