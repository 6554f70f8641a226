"""The rack of sheets: pictures, sizes, and ticks for what is done."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial

from PyQt6.QtCore import QPoint, QRect, QRectF, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from rushweed.core.findings.finding import Finding
from rushweed.core.project.project import Project, used_numbers
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_brackets
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.selection import Selection
from rushweed.ui.shell.controls import label
from rushweed.ui.shell.progress import Tally, flagged_stations, tally
from rushweed.ui.shell.rack_marks import (
    THUMB,
    paint_row_ground,
    paint_tally,
    paint_thumbnail,
    rack_column,
    rack_head,
    shortened,
)
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.sheet_acts import SheetActs

SHEET_ROW = 54


@dataclass(frozen=True, slots=True)
class _SheetItem:
    """A sheet with what is ticked of it, and what that was told by."""

    sheet: Sheet
    tally: Tally
    flags: frozenset[str]
    used: frozenset[int]

    def tells(self, sheet: Sheet, flags: frozenset[str], used: frozenset[int]) -> bool:
        """Whether nothing of that is other by now."""
        return self.sheet is sheet and self.flags == flags and self.used is used


class SheetRack(QWidget):
    """Sheets by name, many of which can be selected."""

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self._findings: list[Finding] = []
        self._used: frozenset[int] = frozenset()
        self._count = label("", "caption")
        self.rows = Rows(
            say("Sheets"),
            self._paint,
            lambda item: SHEET_ROW,
            lambda item: item.sheet.name,
            many=True,
        )
        self.rows.picked.connect(self._pick)
        self.rows.named.connect(self._rename)
        self.rows.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.rows.customContextMenuRequested.connect(self._open_menu)
        self.acts: SheetActs | None = None
        legend = label(say("Ticks: licence, cut, gauged,\nbound, used in a level"), "caption")
        legend.setWordWrap(True)
        legend.setContentsMargins(12, 5, 8, 6)
        layout = rack_column(self)
        layout.addLayout(rack_head(say("Sheets"), self._count))
        layout.addWidget(self.rows, 1)
        layout.addWidget(legend)
        desk.changed.connect(self._change)
        desk.selected.connect(self._reselect)
        self._used = used_numbers(desk.project)
        self.refresh()

    def show_findings(self, findings: list[Finding]) -> None:
        self._findings = findings
        self._used = used_numbers(self._desk.project)
        self.refresh()

    def refresh(self) -> None:
        project, selection = self._desk.project, self._desk.selection
        shown = {item.sheet.name: item for item in self.rows.items}
        flagged = flagged_stations(self._findings)
        items = []
        for sheet in project.sheets:
            flags, item = flagged.get(sheet.name, frozenset()), shown.get(sheet.name)
            if item is None or not item.tells(sheet, flags, self._used):
                item = _SheetItem(sheet, tally(sheet, flags, self._used), flags, self._used)
            items.append(item)
        self._count.setText(str(len(items)))
        names = set(selection.sheets)
        self.rows.show_items(items, lambda item: item.sheet.name in names)

    def _change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _reselect(self, before: Selection, after: Selection) -> None:
        if before.sheets != after.sheets:
            self.refresh()

    def _pick(self, items: list[_SheetItem]) -> None:
        names = tuple(item.sheet.name for item in items)
        if names:
            self._desk.select(replace(self._desk.selection, sheets=names, pieces=frozenset()))

    def _rename(self, item: _SheetItem, new: str) -> None:
        if self.acts is not None:
            self.acts.rename(item.sheet.name, new)

    def _open_menu(self, place: QPoint) -> None:
        if self.acts is not None and self._desk.selection.sheets:
            viewport = self.rows.viewport()
            assert viewport is not None
            self.acts.open_menu(self, viewport.mapToGlobal(place), self._commands)

    def bind(self, commands: Commands) -> None:
        """Say what is done with the selected sheets."""
        assert self.acts is not None
        chosen = lambda: bool(self._desk.selection.sheets)  # noqa: E731
        self._commands = commands
        commands.bind("sheet.rename", self.rows.type_name, chosen)
        commands.bind("sheet.remove", self.acts.remove, chosen)
        commands.bind("sheet.up", partial(self.acts.move, -1), chosen)
        commands.bind("sheet.down", partial(self.acts.move, 1), chosen)

    def _paint(
        self, painter: QPainter, rect: QRect, item: _SheetItem, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        paint_row_ground(painter, rect, selected, hovered)
        thumb = QRect(rect.left() + 12, rect.top() + 7, THUMB + 2, THUMB + 2)
        paint_thumbnail(painter, thumb, self._images, item.sheet)
        if selected:
            draw_brackets(painter, QRectF(thumb).adjusted(-2, -2, 2, 2), 8, colours.tide)
        left = thumb.right() + 10
        room = rect.right() - left - 6
        painter.setFont(font(BODY, 600 if selected else 500))
        painter.setPen(colours.tide_text if selected else colours.ink)
        name = painter.fontMetrics().elidedText(item.sheet.name, Qt.TextElideMode.ElideMiddle, room)
        painter.drawText(left, rect.top() + 18, name)
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        told = shortened(describe_sheet(item.sheet), painter.fontMetrics(), room)
        painter.drawText(left, rect.top() + 32, told)
        paint_tally(painter, left, rect.top() + 42, item.tally)


def describe_sheet(sheet: Sheet) -> str:
    """Size and number of pieces, such as “133 × 96 · 25 frames”."""
    if sheet.belongs is not None:
        dense = sheet.belongs.kind == "density"
        if sheet.recoloured:
            return f"{counted(len(sheet.pieces), 'piece', 'pieces')} {say('recoloured')}"
        what = f"{sheet.belongs.factor}×" if dense else say("normal map")
        return f"{sheet.size} · {what}"
    if not sheet.pieces:
        return f"{sheet.size} · {say('not cut')}"
    nouns = {"tileset": ("tile", "tiles"), "sheet": ("frame", "frames")}
    one, many = nouns.get(sheet.kind, ("piece", "pieces"))
    if sheet.kind == "picture" and len(sheet.pieces) == 1:
        return f"{sheet.size} · {say('1 picture')}"
    return f"{sheet.size} · {counted(len(sheet.pieces), one, many)}"
