"""The group of the slip that names pieces."""

from __future__ import annotations

from dataclasses import replace
from itertools import islice

from rushweed.core.cut.naming import name_by_pattern, pattern_names, row_names
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.shell.controls import Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.stations.cut.name_caret import NameCaret

USUAL = "{sheet}_{row}_{n:2}"
SHOWN = 3
MANY = 1000
"""So many of a sheet's names are looked at while they are typed."""


class Names(Group):
    """A pattern for all pieces of the selected sheets, and names for rows, which are animated."""

    def __init__(self, number: int, canvas: SheetCanvas) -> None:
        super().__init__(number, say("Names"))
        self._canvas = canvas
        self._previewed: object = None
        self._desk = canvas.desk
        self._row_names = Field(say("Row names"))
        self._row_names.setToolTip(
            say("Rows from the top, parted by commas; each becomes an animation")
        )
        self._pattern = Field(say("Name pattern"))
        self._pattern.setText(USUAL)
        self._pattern.setToolTip(
            say(
                "{sheet}, {row}, {n} along the row, {i} through all, {name} as it is; "
                "{n:2} has two digits"
            )
        )
        for field in (self._row_names, self._pattern):
            field.setFixedWidth(200)
            field.textEdited.connect(lambda text: self._preview())
            field.returnPressed.connect(self._name)
        self._button = button(say("Name all"), self._name, tip=say("Name all pieces of the sheet"))
        self.beside_title(self._button)
        self.caret = NameCaret(canvas)
        self.caret.setFixedWidth(200)
        self.add(row(label(say("Each")), None, self.caret))
        self.add(row(label(say("Rows")), None, self._row_names))
        self.add(row(label(say("Pattern")), None, self._pattern))

    def refresh(self) -> None:
        """Show the rows of the sheet on the table."""
        sheet = self._canvas.sheet
        self.caret.refresh()
        self._button.setEnabled(sheet is not None and bool(sheet.pieces))
        only = self._only(sheet) if sheet else frozenset()
        self._button.setText(say("Name {n}", n=len(only)) if only else say("Name all"))
        told = say("Name the selected pieces") if only else say("Name all pieces of the sheet")
        self._button.setToolTip(told)
        self._row_names.setEnabled(sheet is not None and sheet.layout is not None)
        known = row_names(sheet) if sheet else []
        hint = say("a name for each of {n}", n=counted(len(known), "row", "rows"))
        self._row_names.show_value(", ".join(known) if any(known) else "")
        self._row_names.setPlaceholderText(hint if known else "")
        self._preview()

    def _typed_rows(self) -> list[str]:
        return [name.strip() for name in self._row_names.text().split(",")]

    def _preview(self) -> None:
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            self._previewed = None
            self.result.tell("")
            return
        rows = tuple(piece.row for piece in sheet.pieces)
        only = self._only(sheet)
        asked = (sheet.name, rows, only, self._pattern.text(), self._row_names.text())
        if asked == self._previewed:
            return
        self._previewed = asked
        try:
            self._typed_rows_fit(sheet)
            meant = (piece for piece in sheet.pieces if not only or piece.number in only)
            tried = replace(sheet, pieces=tuple(islice(meant, MANY)))
            names = pattern_names(tried, self._pattern.text(), self._typed_rows())
        except Refusal as refusal:
            self.result.tell(str(refusal), warns=True)
            return
        first = ", ".join(list(names.values())[:SHOWN])
        twice = len(names) - len(set(names.values()))
        if twice:
            told = say("{n} would share a name: {first} …", n=twice + 1, first=first)
            self.result.tell(told, warns=True)
            return
        self.result.tell(f"{first}{' …' if len(names) > SHOWN else ''}")

    def _typed_rows_fit(self, sheet: Sheet) -> None:
        rows = 1 + max(piece.row for piece in sheet.pieces)
        typed = self._typed_rows()
        if len(typed) > rows:
            raise Refusal(
                "{names} for {rows}: take some away.",
                names=counted(len(typed), "name", "names"),
                rows=counted(rows, "row", "rows"),
            )

    def _name(self) -> None:
        sheet, pattern, rows = self._canvas.sheet, self._pattern.text(), self._typed_rows()
        if sheet is None:
            return
        if not sheet.pieces:
            self._desk.refused.emit(say("There is no piece to name yet. Cut the sheet first."))
            return
        try:
            self._typed_rows_fit(sheet)
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        self._row_names.setModified(False)
        only = self._only(sheet)
        chosen = self._desk.selection.chosen(self._desk.project)
        sheets = [sheet] if only else [one for one in chosen if one.pieces]
        count = len(only) or sum(len(one.pieces) for one in sheets)
        words = say(
            "Named {what} of {sheet}",
            what=counted(count, "piece", "pieces"),
            sheet=sheets_words(tuple(one.name for one in sheets)),
        )

        def edit(project: Project) -> Project:
            for one in sheets:
                rows_here = rows[: 1 + max(piece.row for piece in one.pieces)]
                project = name_by_pattern(project, one.name, pattern, rows_here, only)
            return project

        self._desk.do(words, edit)

    def _only(self, sheet: Sheet) -> frozenset[int]:
        """The selected pieces when there are some but not all; else none, which means all."""
        chosen = frozenset(piece.number for piece in self._canvas.selected_pieces())
        return chosen if len(chosen) < len(sheet.pieces) else frozenset()
