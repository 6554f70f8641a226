"""The Look face: filtering, compression and padding, seen before they are chosen."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFrame, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from rushweed.core.gauge.compression.treated import choices
from rushweed.core.gauge.treating import set_point
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.binding import common
from rushweed.ui.shell.controls import Chips, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import BarredTable, tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.table_head import TableHead
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.soon import soon
from rushweed.ui.stations.gauge.cost_table import HEAD, CostTable, cost_titles
from rushweed.ui.stations.gauge.looked_at import LookedAt
from rushweed.ui.stations.gauge.sampling_wall import SamplingWall
from rushweed.ui.stations.gauge.treated_canvas import TreatedCanvas
from rushweed.ui.stations.gauge.treatment_groups import TreatmentSlip
from rushweed.ui.stations.gauge.trials import Trials

View = Literal["divider", "difference", "sampling"]
VIEWS: dict[View, str] = {
    "divider": "Divider",
    "difference": "Difference",
    "sampling": "Sampling",
}
TIPS = (
    "As drawn beside as it will be",
    "Only what differs",
    "Sizes, turns and fractions of pixels",
)
TABLE_HEIGHT = 176
RESTING = 120
"""Milliseconds for which the view stands still before its part is tried."""
MOST_NEIGHBOURS = 6


class LookFace(Face):
    """The art as drawn and as it will be, above a table of choices and what each costs."""

    name = say("Look")
    slip: TreatmentSlip

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._trials = Trials(services)
        self._looked_at = LookedAt(services, self._trials)
        self._canvas = TreatedCanvas(services)
        self.wall = SamplingWall()
        self.costs = CostTable(self._picture_of)
        self._asking = AskTrials(self._trials)
        self.table = BarredTable(self._make_views(), self._make_table())
        self.tools = tools_row(ZoomChips(self._canvas))
        self.slip = TreatmentSlip(self.desk)
        self._listen()

    def _make_table(self) -> QWidget:
        self._pictures = QStackedWidget()
        self._pictures.addWidget(self._canvas)
        self._pictures.addWidget(self.wall)
        self._scroll = QScrollArea()
        self._scroll.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        self._scroll.setWidgetResizable(True)
        self._scroll.setFixedHeight(TABLE_HEIGHT)
        self._scroll.setWidget(self.costs)
        table = QWidget()
        layout = QVBoxLayout(table)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._pictures, 1)
        for part in (self._asking, TableHead(HEAD, cost_titles), self._scroll):
            layout.addWidget(part)
        return table

    def _make_views(self) -> QWidget:
        views = Chips(said(VIEWS), tips=[say(tip) for tip in TIPS], name=say("View"))
        views.show_value("divider")
        views.entered.connect(self._show_view)
        return views

    def _listen(self) -> None:
        resting = soon(self._canvas, RESTING, self._try_part)
        self._begin_resting = resting.start
        self._canvas.view_changed.connect(lambda view: resting.start())
        self._canvas.hovered.connect(self._tell_pixel)
        self.costs.looked_at.connect(self._look_at)
        self.costs.chosen.connect(self._set_compression)
        self.costs.worst_wanted.connect(self._look_close)
        self._trials.found.connect(self._show_costs)
        self._looked_at.part.found.connect(self._show_seen)
        self.slip.compression.chosen.connect(self._choose)

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        self.slip.refresh()
        self._show_rows(self.slip.points.treatments())
        self._asking.refresh(len(self.sheets()))
        self._begin_resting()
        self._show_seen()
        self._show_wall()

    def leave(self) -> None:
        self._trials.stop()
        self._looked_at.forget()

    # -- showing ---------------------------------------------------------------------

    def _show_rows(self, treatments: list[Treatment]) -> None:
        """List the choices, and begin to work out what each costs, the looked-at one first."""
        current = common(treatment.compression for treatment in treatments)
        rows = choices(current or Compression()) if treatments else []
        self._looked_at.keep(rows, current)
        seen = self._looked_at.choice
        self.costs.show_rows(self.project, rows, current, seen)
        first = [seen] if seen else []
        order = [*first, *(choice for choice in rows if choice not in first)]
        self._trials.want(self.sheets(), treatments, order)
        self.costs.show_costs(self._trials.costs)

    def _show_seen(self) -> None:
        """Show what the looked-at choice makes of the sheet, as far as it is known."""
        words, current = self._looked_at.words, self.costs.current
        self.slip.compression.aside.setText(say("you look at {what}", what=words) if words else "")
        sight = self._looked_at.sight(self._canvas.sheet)
        self._canvas.show_treated(sight.picture, sight.words, sight.worst, sight.corner)
        self.slip.compression.tell_cost(self._trials.costs.get(current) if current else None)

    def _show_costs(self) -> None:
        self.costs.show_costs(self._trials.costs)
        self._asking.refresh(len(self.sheets()))
        self._show_seen()
        self.desk.previewed.emit()

    def _show_wall(self) -> None:
        if self._pictures.currentWidget() is not self.wall:
            return
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            self.wall.show_piece(None, [], Treatment(""))
            return
        pieces = self._canvas.selected_pieces() or list(sheet.pieces[:1])
        art = self.desk.art
        try:
            shown = art.piece(sheet, pieces[0])
            beside = [art.piece(sheet, p) for p in (pieces * MOST_NEIGHBOURS)[:MOST_NEIGHBOURS]]
        except Refusal:
            return
        self.wall.show_piece(shown, beside, treatment_of(self.project, sheet))

    def _show_view(self, view: View) -> None:
        self._canvas.difference = view == "difference"
        self._pictures.setCurrentWidget(self.wall if view == "sampling" else self._canvas)
        self._show_seen()
        self._show_wall()

    def _tell_pixel(self, place: Point | None) -> None:
        if place is not None:
            self.services.status(self._canvas.pixel_words(place), "")

    def _picture_of(self, number: int) -> QImage | None:
        found = self.project.find(number)
        return self.services.images.piece(*found) if found else None

    # -- choosing ----------------------------------------------------------------------

    def _try_part(self) -> None:
        if self._looked_at.try_part(self._canvas.sheet, self._canvas.visible()):
            self._show_seen()

    def _look_at(self, choice: Compression) -> None:
        self._looked_at.choice = choice
        self.desk.preview(choice)
        self.costs.show_rows(self.project, self.costs.rows, self.costs.current, choice)
        rect = self.costs.row_rect(choice)
        self._scroll.ensureVisible(0, rect.center().y(), 0, rect.height())
        self._try_part()
        self._show_seen()

    def _look_close(self, number: int) -> None:
        """Show the piece that a choice does worst to, large."""
        found = self.project.find(number)
        if found is not None:
            pieces = frozenset({number})
            self.desk.select(replace(self.selection, sheets=(found[0].name,), pieces=pieces))
            self._canvas.look_close(found[1].rect)

    def _choose(self, choice: Compression) -> None:
        self._looked_at.choice = choice
        self._set_compression(choice)

    def _set_compression(self, choice: Compression) -> None:
        sheets = self.selection.sheets
        words = say("Set the compression of {what}", what=self.slip.points.named())
        self.desk.do(words, lambda p: set_point(p, sheets, "compression", choice))


class AskTrials(QWidget):
    """Offers to try all choices, where that waits for being asked."""

    def __init__(self, trials: Trials) -> None:
        super().__init__()
        self._trials = trials
        self._words = label("")
        asking = row(self._words, None, button(say("Try all"), self._begin, "main"))
        asking.setContentsMargins(12, 4, 12, 4)
        self.setLayout(asking)

    def refresh(self, sheets: int) -> None:
        """Be there when something is to be asked about so many sheets."""
        self.setVisible(self._trials.asking)
        words = say("Tried is what you see. All {n} million pixels of {what} take a while.")
        told = counted(sheets, "sheet", "sheets")
        self._words.setText(words.format(what=told, n=round(self._trials.pixels / 1e6)))

    def _begin(self) -> None:
        self._trials.begin()
        self.setVisible(self._trials.asking)
