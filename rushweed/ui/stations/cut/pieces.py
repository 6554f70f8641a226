"""Pieces: the sheet with its cuts, and how it is laid out."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import prod

from PyQt6.QtGui import QImage

from rushweed.core.cut.correcting import make_even
from rushweed.core.cut.cutting import check_cells, count_cells, cuts_for
from rushweed.core.cut.gathering import cut_as, see
from rushweed.core.cut.inspect import Seen
from rushweed.core.cut.seeing.hints import Field, cells_around, likeliest_with, with_number
from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture, Sheet
from rushweed.core.project.sitting import Made, Outcome
from rushweed.core.values import Rect, Refusal, Size
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.commands.listed import PIECES
from rushweed.ui.shell.binding import common
from rushweed.ui.shell.controls import Check, Chips, button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.kin import offer_kin
from rushweed.ui.stations.common.reading_row import ReadingRow, image_as_seen
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas, only_changed
from rushweed.ui.stations.cut.corrections import Corrections
from rushweed.ui.stations.cut.layouts import EvenControls, LooseControls
from rushweed.ui.stations.cut.names import Names

LAYOUTS = {"even cells": "Even cells", "loose pieces": "Loose pieces", "one picture": "One picture"}
MANY_CELLS, ABSURD = 5_000, 100_000
"""More cells than this are cut beside the window, and when somebody says that they are meant."""
LARGEST_LIVE = 4_000_000
"""A sheet of more pixels is cut when the slider is let go, not while it moves."""

QUICK = 400_000
"""A picture of no more pixels is looked at while one waits: readings that come later would move
what lies below them."""


class PiecesFace(Face):
    """The sheet with its cuts, and a slip that lays it out, names its pieces and corrects them."""

    name = say("Pieces")
    keys = PIECES

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._canvas = SheetCanvas(services)
        self._numbers = Check(say("Numbers"), self._show_numbers)
        self._numbers.setChecked(True)
        self.tools = tools_row(ZoomChips(self._canvas), self._numbers)
        self._even = EvenControls(self._change_cells)
        self._loose = LooseControls(self._cut, self._try_out, self._make_even)
        self.readings = ReadingRow(self._take_reading)
        group = self._make_layout()
        self._corrections = Corrections(3, self._canvas, services.commands)
        self.table = BarredTable(self._corrections.bar, self._canvas)
        self._corrections.hand.show_cell = self._cut_around
        self._corrections.took.connect(lambda tool: self._one.setChecked(tool == "cell"))
        self._names = Names(2, self._canvas)
        services.commands.bind("cut.name", self._begin_naming)
        self.slip = SlipPage([group, self._names, self._corrections])

    def _begin_naming(self) -> None:
        self.slip.ensureWidgetVisible(self._names.caret)
        self._names.caret.begin()

    def _make_layout(self) -> Group:
        group = self._group = Group(1, say("How it is laid out"))
        self._layouts = Chips(said(LAYOUTS), name=say("Layout"))
        self._layouts.entered.connect(self._choose_layout)
        group.add(row(self._layouts, None))
        group.add(self.readings)
        tip = self.services.commands.tip("cut.cell")
        self._one = button(say("Drag over one cell"), self._take_cell_tool, "tool", tip)
        group.beside_title(self._one)
        group.add(self._even)
        group.add(self._loose)
        self._further = group.add_further(self._loose.further)
        return group

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        sheet = self._canvas.sheet
        for group in (self._group, self._corrections, self._names):
            group.setEnabled(sheet is not None)
        self._corrections.refresh()
        self._names.refresh()
        if sheet is None:
            self._group.result.tell("")
            return
        sheets = self.selection.chosen(self.project)
        layout = self._shown_layout(sheet)
        kind = common(one.layout.kind if one.layout else "" for one in sheets) or ""
        self._layouts.show_value(kind)
        self._group.aside.setText(
            say("differs")
            if len(sheets) > 1 and common(one.layout for one in sheets) is None
            else ""
        )
        self._loose.setVisible(isinstance(layout, LoosePieces))
        self._further.setVisible(isinstance(layout, LoosePieces))
        even = isinstance(layout, EvenCells)
        shown = [self._shown_layout(one) for one in sheets] if even else []
        guessed = any(one.layout is None for one in sheets)
        self._even.show_layouts([one for one in shown if isinstance(one, EvenCells)], guessed)
        if isinstance(layout, LoosePieces):
            self._loose.show_layout(layout, guessed)
        self._show_readings(sheet)
        self._tell_result(sheet)

    def change(self, before: Project, after: Project, live: bool) -> None:
        if before.sheets is after.sheets:
            return
        sheet = self._canvas.sheet
        if not live or sheet is None or self._loose.isVisible():
            self.refresh()
            return
        change = only_changed(before, after, sheet.name)  # while something is dragged, only what
        if change is None or not self._canvas.show_changed(*change):  # follows the pointer
            self._canvas.refresh()
        self._corrections.refresh()
        self._tell_result(self._canvas.sheet or sheet)

    def _shown_layout(self, sheet: Sheet) -> Layout:
        """The sheet's layout, else the one that was seen in it."""
        if sheet.layout is not None:
            return sheet.layout
        seen = self._seen_so_far(sheet)
        return seen.layout if seen else OnePicture()

    def _seen(self, sheet: Sheet) -> Seen | None:
        """What is seen in a sheet; None where it cannot be read."""
        try:
            see(self.desk.art, sheet)
            return self.services.sight.in_pack(self.project, sheet)
        except Refusal:
            return None

    def _seen_so_far(self, sheet: Sheet) -> Seen | None:
        """The same, but None as long as it would have to be waited for."""
        if sheet.stored_size.area <= QUICK:
            return self._seen(sheet)
        try:
            return self.services.sight.in_pack(self.project, sheet)
        except Refusal:
            return None

    def _show_readings(self, sheet: Sheet) -> None:
        seen = self._seen_so_far(sheet)
        image = image_as_seen(self.services.images, sheet, seen) if seen else QImage()
        self.readings.show_readings(seen, image, sheet, sheet.layout)

    def _tell_result(self, sheet: Sheet) -> None:
        result = self._group.result
        if sheet.layout is None:
            result.tell(say("Not cut yet. Click a guess, or type the cell."), warns=True)
            return
        pieces = counted(len(sheet.pieces), "piece", "pieces")
        if not isinstance(sheet.layout, EvenCells):
            result.tell(f"{pieces}.")
            return
        count = count_cells(sheet.layout, sheet.size)
        empty = count.columns * count.rows - len(sheet.pieces)
        left_out = counted(empty, "empty cell", "empty cells")
        tail = say(", {what} left out", what=left_out) if empty else ""
        result.tell(
            say(
                "{columns} × {rows} cells: {pieces}{tail}.",
                columns=count.columns,
                rows=count.rows,
                pieces=pieces,
                tail=tail,
            )
        )

    # -- acts ----------------------------------------------------------------------

    def _choose_layout(self, kind: str) -> None:
        sheet = self._canvas.sheet
        if sheet is None:
            return
        if kind == "even cells":
            self._cut_each(self._each(self._likeliest_cells), say("even cells"))
        elif kind == "loose pieces":
            self._cut_each(self._each(self._loose_as_seen), say("loose pieces"))
        else:
            self._cut(OnePicture())

    def _likeliest_cells(self, sheet: Sheet) -> Layout:
        seen = self._seen(sheet)
        size = Size(min(16, sheet.size.width), min(16, sheet.size.height))
        return seen.grids[0].layout if seen and seen.grids else EvenCells(size)

    def _loose_as_seen(self, sheet: Sheet) -> Layout:
        seen = self._seen(sheet)
        return seen.loose_layout if seen else LoosePieces()

    def _take_cell_tool(self) -> None:
        self._corrections.take("cell")

    def _cut_around(self, rect: Rect) -> None:
        """Cut so that one of the cells is where somebody dragged."""

        readings = self._readings()

        def found(sheet: Sheet) -> Layout:
            return cells_around(readings.get(sheet.name, ()), sheet.size, rect)

        sheet = self._canvas.sheet
        self._corrections.take("select")
        if sheet is not None:
            self._cut_each(found, _words(found(sheet)))

    def _take_reading(self, reading: Reading) -> None:
        """Cut as a reading says; loose pieces are told apart as is best for each sheet."""
        sheet = self._canvas.sheet
        if sheet is None:
            return
        layout = reading.layout
        loose = isinstance(layout, LoosePieces)
        layout_of = self._each(self._loose_as_seen) if loose else lambda one: layout
        self._cut_each(layout_of, _words(layout), lambda: offer_kin(self.services, sheet.name))

    def _cut(self, layout: Layout) -> None:
        """Cut all selected sheets like that."""
        self._cut_each(lambda sheet: layout, _words(layout))

    def _change_cells(self, field: Field, axis: int, value: int) -> None:
        """Change one number of the cells of all selected sheets. Those that are cut into cells keep
        the other numbers; of others this is a hint, and the likeliest cells with it are taken."""

        readings = self._readings()

        def changed(sheet: Sheet) -> Layout:
            if isinstance(sheet.layout, EvenCells):
                return with_number(sheet.layout, field, axis, value)
            return likeliest_with(readings.get(sheet.name, ()), sheet.size, field, axis, value)

        sheet = self._canvas.sheet
        if sheet is not None:
            self._cut_each(changed, _words(changed(sheet)))

    def _each(self, layout_of: Callable[[Sheet], Layout]) -> Callable[[Sheet], Layout]:
        """How each of the selected sheets is to be laid out, found out now."""
        layouts = {one.name: layout_of(one) for one in self.selection.chosen(self.project)}
        return lambda sheet: layouts[sheet.name]

    def _readings(self) -> dict[str, tuple[Reading, ...]]:
        """What is seen in each of the selected sheets, as far as that is known."""
        chosen = self.selection.chosen(self.project)
        return {sheet.name: seen.readings for sheet in chosen if (seen := self._seen(sheet))}

    def _cut_each(
        self,
        layout_of: Callable[[Sheet], Layout],
        what: str,
        then: Callable[[], object] = lambda: None,
    ) -> None:
        """Cut each selected sheet, `then` go on; those that cannot be cut so stay as they are, and
        are told."""
        sheets = self.selection.chosen(self.project)
        sheets = [sheet for sheet in sheets if sheet.belongs is None] or sheets[:1]
        self.desk.abandon_drag()
        cells = sum(_count(sheet, layout_of) for sheet in sheets)
        if cells > ABSURD:
            self.services.offer(
                say("That makes {n} cells. Are they meant to be so small?", n=cells),
                say("Cut them"),
                lambda: self._cut_sheets(sheets, layout_of, what, then),
            )
            self.refresh()
        else:
            self._cut_sheets(sheets, layout_of, what, then)

    def _cut_sheets(
        self,
        sheets: list[Sheet],
        layout_of: Callable[[Sheet], Layout],
        what: str,
        then: Callable[[], object],
    ) -> None:
        art = self.desk.art

        def edit(project: Project) -> Made[list[str]]:
            refused: list[str] = []
            for sheet in sheets:
                try:
                    now = project.sheet(sheet.name)  # what was done to it since is kept
                    project = _cut_so(project, art, sheet.name, layout_of(now))
                except Refusal as refusal:
                    refused.append(f"{sheet.name}: {refusal}" if len(sheets) > 1 else str(refusal))
            if len(refused) == len(sheets):
                raise Refusal(refused[0])
            return Made(project, refused)

        def told(outcome: Outcome | None) -> None:
            if not isinstance(outcome, Made):
                self.refresh()
                return
            if outcome.made:
                self.desk.refused.emit("\n".join(outcome.made[:3]))
            then()

        names = tuple(sheet.name for sheet in sheets)
        words = say("Cut {name} into {what}", name=sheets_words(names), what=what)
        if sheets:
            many = sum(_count(sheet, layout_of) for sheet in sheets) > MANY_CELLS
            self.services.beside.do(words, edit, names, told, many)
        else:
            self.refresh()

    def _try_out(self, layout: Layout) -> None:
        """Show a layout while a slider is moved; `_cut` makes it stay."""
        sheet = self._canvas.sheet
        if sheet is None or sheet.size.width * sheet.size.height > LARGEST_LIVE:
            return
        try:
            edit = partial(_cut_so, art=self.desk.art, name=sheet.name, layout=layout)
            self.desk.drag("").to(edit)
        except Refusal as refusal:
            self.desk.abandon_drag()
            self.desk.refused.emit(str(refusal))

    def _make_even(self) -> None:
        sheet = self._canvas.sheet
        if sheet is not None:
            chosen = frozenset(piece.number for piece in self._canvas.selected_pieces())
            numbers = chosen or frozenset(piece.number for piece in sheet.pieces)
            words, name = say("Made the pieces of {name} even", name=sheet.name), sheet.name
            self.services.beside.do(words, lambda p: make_even(p, name, numbers), (name,))

    def _show_numbers(self, shown: bool) -> None:
        self._canvas.numbers = shown
        self._canvas.update()


def _cut_so(project: Project, art: Art, name: str, layout: Layout) -> Project:
    """Cut; a layout that cannot be is refused before anything else is done."""
    cuts_for(layout, solid(art.picture(project.sheet(name))))
    return cut_as(project, art, name, layout)


def _count(sheet: Sheet, layout_of: Callable[[Sheet], Layout]) -> int:
    """How many cells that would be; 0 where it cannot be, which is told when it is cut."""
    try:
        layout = layout_of(sheet)
        if not isinstance(layout, EvenCells):
            return 0
        check_cells(layout, sheet.size)
        return prod(count_cells(layout, sheet.size))
    except Refusal:
        return 0


def _words(layout: Layout) -> str:
    if isinstance(layout, EvenCells):
        return say("cells of {size} px", size=layout.cell)
    return say("loose pieces") if isinstance(layout, LoosePieces) else say("one picture")
