"""A caret that goes from piece to piece: type a name, Enter, and on to the next."""

from __future__ import annotations

from dataclasses import replace
from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeyEvent

from rushweed.core.cut.naming import listed_names, name_pieces, shown_name
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.shell.controls import Field
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas


class NameCaret(Field):
    """Names the selected piece and selects the next in reading order. A list, typed or pasted,
    names as many: those that are selected, or from the selected one on."""

    goes_on = True

    def __init__(self, canvas: SheetCanvas) -> None:
        super().__init__(say("Names, piece after piece"))
        self._canvas, self._desk = canvas, canvas.desk
        self.setToolTip(say("Enter names a piece and goes on; commas part a list of names"))
        self.returnPressed.connect(self._enter)

    def begin(self) -> None:
        """Take the keys, at the selected piece or the first."""
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            self._desk.refused.emit(say("There is no piece to name yet. Cut the sheet first."))
            return
        if not self._canvas.selected_pieces():
            self._select(sheet, 0)
        self.setFocus()
        self.selectAll()

    def refresh(self) -> None:
        """Show what the selected piece is called."""
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        self.setEnabled(sheet is not None and bool(sheet.pieces))
        hint = say("a list for {what}", what=counted(len(chosen), "piece", "pieces"))
        if sheet is not None and len(chosen) == 1:
            hint = shown_name(sheet, chosen[0])
        self.show_value(chosen[0].name if len(chosen) == 1 else "")
        self.setPlaceholderText(hint if chosen else say("select a piece, or press F2"))

    def _enter(self) -> None:
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        if sheet is None or not chosen:
            self.begin()
            return
        numbers = frozenset(piece.number for piece in chosen)
        if self.isModified():
            try:
                names = listed_names(sheet, numbers, self.text())
            except Refusal as refusal:
                self._desk.refused.emit(str(refusal))
                return
            words = say(
                "Named {what} of {sheet}",
                what=counted(len(names), "piece", "pieces"),
                sheet=sheet.name,
            )
            self.setModified(False)
            self._desk.do(words, partial(name_pieces, names=names))
            numbers = frozenset(names) or numbers
        last = max(place for place, one in enumerate(sheet.pieces) if one.number in numbers)
        self._select(sheet, (last + 1) % len(sheet.pieces))
        self.selectAll()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self._canvas.setFocus()
        else:
            super().keyPressEvent(event)

    def _select(self, sheet: Sheet, place: int) -> None:
        number = sheet.pieces[place].number
        chosen = replace(
            self._desk.selection, sheets=(sheet.name,), pieces=frozenset({number}), animation=""
        )
        self._desk.select(chosen)
