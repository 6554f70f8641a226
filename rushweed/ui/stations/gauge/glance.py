"""The All sheets face: one line for each, with all that holds for it; what most have is faint."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import NamedTuple

from PyQt6.QtCore import QRect, Qt
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.gauge.glance import COLUMNS, SheetLine, sheet_lines, usual_line
from rushweed.core.gauge.treating import set_point
from rushweed.core.project.rules import Compression
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, font
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.rack_marks import paint_row_ground, paint_thumbnail
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.table_head import TableHead, Title
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gauge.shared_treatment import TreatmentGroup
from rushweed.ui.stations.gauge.size_groups import SizeGroup
from rushweed.ui.stations.gauge.treatment_groups import TreatmentSlip

HEAD, ROW, THUMB = 30, 32, 22
NAME, GAP = 46, 12
SHARES = (0.22, 0.13, 0.11, 0.17, 0.11, 0.11, 0.15)
"""How much of the width the name and each of the columns have."""


class _Row(NamedTuple):
    sheet: Sheet
    line: SheetLine
    usual: SheetLine


class GlanceFace(Face):
    """A table of all sheets; every choice holds for those that are selected in it."""

    name = say("All sheets")
    slip: TreatmentSlip

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self.rows = Rows(
            say("All sheets"), self._paint, lambda row: ROW, lambda row: row.sheet.name, many=True
        )
        self.rows.picked.connect(self._pick)
        self.table = QWidget()
        layout = QVBoxLayout(self.table)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(TableHead(HEAD, self._titles))
        layout.addWidget(self.rows, 1)
        self.tools = QWidget()
        self._size, self._treatment = SizeGroup(1, self.desk), TreatmentGroup(5, self.desk)
        self.slip = TreatmentSlip(self.desk, self._size, self._treatment)
        self.slip.compression.chosen.connect(self._set_compression)

    def refresh(self) -> None:
        lines = sheet_lines(self.project)
        usual = usual_line(lines) if lines else SheetLine(*[""] * len(COLUMNS))
        pairs = zip(self.project.sheets, lines, strict=True)
        shown = {row.sheet.name: row for row in self.rows.items}
        new = [_Row(sheet, line, usual) for sheet, line in pairs]
        kept = [old if (old := shown.get(row.sheet.name)) == row else row for row in new]
        names = set(self.selection.sheets)
        self.rows.show_items(kept, lambda row: row.sheet.name in names)
        self.slip.refresh()
        self._size.refresh()
        self._treatment.refresh()

    def _pick(self, rows: list[_Row]) -> None:
        if rows:
            names = tuple(row.sheet.name for row in rows)
            self.desk.select(replace(self.selection, sheets=names, pieces=frozenset()))

    def _set_compression(self, choice: Compression) -> None:
        names = self.selection.sheets
        words = say("Set the compression of {what}", what=sheets_words(names))
        self.desk.do(words, lambda p: set_point(p, names, "compression", choice))

    def _titles(self, head: QRect) -> Iterator[Title]:
        """The titles, as wide as the lines are beside their scroll bar."""
        viewport = self.rows.viewport()
        lines = viewport.rect() if viewport is not None else head
        titles = (say("Sheet"), *COLUMNS.values())
        for (left, width), title in zip(_columns(lines), titles, strict=True):
            yield QRect(left, 0, width, HEAD), Qt.AlignmentFlag.AlignVCenter, title

    def _paint(
        self, painter: QPainter, rect: QRect, row: _Row, selected: bool, hovered: bool
    ) -> None:
        paint_row_ground(painter, rect, selected, hovered)
        thumb = QRect(rect.left() + 14, rect.top() + (ROW - THUMB) // 2, THUMB, THUMB)
        paint_thumbnail(painter, thumb, self.services.images, row.sheet)
        colours = look.colours
        texts = (row.sheet.name, *row.line)
        odd = (True, *(one != usual for one, usual in zip(row.line, row.usual, strict=True)))
        for (left, width), text, stands_out in zip(_columns(rect), texts, odd, strict=True):
            painter.setFont(font(BODY, 600 if stands_out else 400))
            painter.setPen(colours.ink if stands_out else colours.soft_ink)
            told = painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, width)
            painter.drawText(left, rect.top(), width, ROW, Qt.AlignmentFlag.AlignVCenter, told)


def _columns(rect: QRect) -> list[tuple[int, int]]:
    """Where the name and the columns begin, and how wide they are."""
    room, left, found = rect.width() - NAME - GAP, float(rect.left() + NAME), []
    for share in SHARES:
        found.append((round(left), round(share * room) - GAP))
        left += share * room
    return found
