"""The Look face: filtering, compression and padding, seen before they are chosen."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, Literal

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QImage
from PyQt6.QtWidgets import QFrame, QScrollArea, QStackedWidget, QVBoxLayout, QWidget

from rushweed.core.gauge.compression.treated import choices, known_treated
from rushweed.core.gauge.treating import set_point, treatment_of
from rushweed.core.project.rules import (
    CRISP_PIXELS,
    Compression,
    Filter,
    Form,
    Sides,
    Treatment,
)
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Point, Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.shell.binding import Bindable, Bindings, common
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gauge.cost_table import CostHead, CostTable, choice_words, kibibytes
from rushweed.ui.stations.gauge.sampling_wall import SamplingWall
from rushweed.ui.stations.gauge.treated_canvas import ORIGIN, TreatedCanvas
from rushweed.ui.stations.gauge.trials import PartTrial, Trials

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
FILTERS: dict[Filter, str] = {"nearest": "Nearest", "linear": "Linear"}
FORMS: dict[Form, str] = {
    "lossless": "Lossless (PNG)",
    "palette": "Palette",
    "lossless WebP": "Lossless (WebP)",
    "lossy WebP": "Lossy (WebP)",
    "BC1": "BC1",
    "BC3": "BC3",
    "BC7": "BC7",
}
SIDES: dict[Sides, str] = {
    "any": "Any",
    "multiple of four": "Of four",
    "power of two": "Power of two",
}
TABLE_HEIGHT = 176
RESTING = 120
"""Milliseconds for which the view stands still before its part is tried."""
MOST_NEIGHBOURS = 6


class LookFace(Face):
    """The art as drawn and as it will be, above a table of choices and what each costs."""

    name = say("Look")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._canvas = TreatedCanvas(services)
        self._canvas.hovered.connect(self._tell_pixel)
        self._wall = SamplingWall()
        self.costs = CostTable(self._picture_of)
        self.costs.looked_at.connect(self._look_at)
        self.costs.chosen.connect(self._set_compression)
        self.costs.worst_wanted.connect(self._look_close)
        self._seen: Compression | None = None
        self._shown: object = None
        self._trials = Trials(services)
        self._trials.found.connect(self._show_costs)
        self._part = PartTrial(services)
        self._part.found.connect(self._show_seen)
        self._resting = QTimer(self._canvas)
        self._resting.setSingleShot(True)
        self._resting.setInterval(RESTING)
        self._resting.timeout.connect(self._try_part)
        self._canvas.view_changed.connect(lambda view: self._resting.start())
        self.table = self._make_table()
        self._views = Chips(said(VIEWS), tips=[say(tip) for tip in TIPS], name=say("View"))
        self._views.show_value("divider")
        self._views.entered.connect(self._show_view)
        zoom = ZoomChips(self._canvas)
        self.tools = tools_row(self._views, zoom, optional=(zoom,))
        self._head = SelectionHead()
        self._bound = Bindings(self.desk, self._treatments, self._named)
        groups = [self._make_filter(), self._make_compression(), self._make_padding()]
        self.slip = SlipPage(groups, self._head)

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        sheets = self.sheets()
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        treatments = self._treatments()
        self.slip.setEnabled(bool(sheets))
        self._show_slip(treatments or [CRISP_PIXELS])
        current = common(t.compression for t in treatments)
        rows = choices(current or Compression()) if sheets else []
        shown = (self.selection.sheets, current)
        if self._seen not in rows or shown != self._shown:
            self._seen = current or (rows[0] if rows else None)
        self._shown = shown
        self.desk.preview(self._seen if self._seen != current else None)
        self.costs.show_rows(self.project, rows, current, self._seen)
        first = [self._seen] if self._seen else []
        order = [*first, *(choice for choice in rows if choice not in first)]
        self._trials.want(sheets, treatments, order)
        self.costs.show_costs(self._trials.costs)
        self._show_ask()
        self._resting.start()
        self._show_seen()
        self._show_wall()

    def _treatments(self) -> list[Treatment]:
        return [treatment_of(self.project, sheet) for sheet in self.sheets()]

    def _named(self) -> str:
        return sheets_words(self.selection.sheets)

    def _point(self, control: Bindable, point: str, words: str) -> Bindable:
        """Have a control show and set one point of the sheets' treatments."""
        return self._bound.bind(
            control,
            lambda treatment: getattr(treatment, point),
            lambda project, value: set_point(project, self.selection.sheets, point, value),
            words,
        )

    def leave(self) -> None:
        self._trials.stop()
        self._seen = None
        self.desk.preview(None)

    # -- making the parts ------------------------------------------------------------

    def _make_table(self) -> QWidget:
        self._pictures = QStackedWidget()
        self._pictures.addWidget(self._canvas)
        self._pictures.addWidget(self._wall)
        scroll = QScrollArea()
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setWidgetResizable(True)
        scroll.setFixedHeight(TABLE_HEIGHT)
        scroll.setWidget(self.costs)
        self._scroll = scroll
        table = QWidget()
        layout = QVBoxLayout(table)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self._pictures, 1)
        self._ask = button(say("Try all"), self._begin_trials, "main")
        self._ask_words = label("")
        self._asking = QWidget()
        asking = row(self._ask_words, None, self._ask)
        asking.setContentsMargins(12, 4, 12, 4)
        self._asking.setLayout(asking)
        layout.addWidget(self._asking)
        layout.addWidget(CostHead())
        layout.addWidget(scroll)
        return table

    def _make_filter(self) -> Group:
        group = self._filter_group = Group(1, say("Filtering"))
        chips = Chips(said(FILTERS), name=say("Filtering"))
        filtering = self._point(chips, "filter", say("Set the filtering of {what}"))
        check = Check(say("Mipmaps"))
        mipmaps = self._point(check, "mipmaps", say("Set the mipmaps of {what}"))
        group.add(row(filtering, None, mipmaps))
        return group

    def _make_compression(self) -> Group:
        group = self._compression_group = Group(2, say("Compression"))
        self._form = Choice(say("Compression"), choices=said(FORMS))
        self._form.entered.connect(self._set_form)
        self._colours = Stepper(say("Colours"), "", 2, 256)
        self._colours.entered.connect(lambda n: self._adjust(colours=n))
        self._dithered = Check(say("Dithered"), lambda on: self._adjust(dithered=on))
        self._quality = Stepper(say("Quality"), "", 1, 100)
        self._quality.entered.connect(lambda n: self._adjust(quality=n))
        check = Check(say("Multiply colours by alpha"))
        check.setToolTip(say("For games that blend premultiplied pictures"))
        multiplied = self._point(check, "multiplied", say("Set how alpha is stored for {what}"))
        self._palette_row, self._quality_row = QWidget(), QWidget()
        self._palette_row.setLayout(row(label(say("Colours")), self._colours, None, self._dithered))
        self._quality_row.setLayout(row(label(say("Quality")), None, self._quality))
        for part in (self._form, self._palette_row, self._quality_row):
            group.add(part)
        group.add(row(multiplied, None))
        return group

    def _make_padding(self) -> Group:
        group = self._padding_group = Group(3, say("Space on the page"))
        stepper = Stepper(say("Padding"), say("px"), 0, 64)
        padding = self._point(stepper, "padding", say("Set the padding of {what}"))
        stepper = Stepper(say("Repeated edge pixels"), say("px"), 0, 64)
        edge = self._point(stepper, "repeat_edge", say("Set the repeated edges of {what}"))
        chips = Chips(said(SIDES), name=say("Width and height"))
        sides = self._point(chips, "sides", say("Set the sides of {what}"))
        group.add(row(label(say("Padding")), None, padding))
        group.add(row(label(say("Repeat edge pixels")), None, edge))
        group.add(label(say("Width and height"), "caption"))
        group.add(row(sides, None))
        return group

    # -- showing ---------------------------------------------------------------------

    def _show_slip(self, treatments: list[Treatment]) -> None:
        self._bound.show()
        chosen = common(t.filter for t in treatments)
        sentences = {
            "nearest": say("Every drawn pixel keeps its edges."),
            "linear": say("Pixels melt into each other: right for painted art."),
        }
        self._filter_group.result.tell(sentences.get(chosen or "", say("Filtering differs.")))
        current = common(t.compression for t in treatments)
        self._form.show_value(common(t.compression.form for t in treatments))
        self._palette_row.setVisible(current is not None and current.form == "palette")
        self._quality_row.setVisible(current is not None and current.form == "lossy WebP")
        if current is not None:
            self._colours.show_value(current.colours)
            self._dithered.show_value(current.dithered)
            self._quality.show_value(current.quality)
        bleeds = any(t.filter == "linear" and not t.padding + t.repeat_edge for t in treatments)
        sentence = say("Linear filtering mixes neighbours in: leave at least 1 px.")
        self._padding_group.result.tell(sentence if bleeds else "", True)

    def _show_seen(self) -> None:
        """Show what the looked-at choice makes of the sheet, as far as it is known."""
        sheet, cost = self._canvas.sheet, self._trials.costs.get(self._seen or Compression())
        words = " ".join(choice_words(self._seen)) if self._seen else ""
        looking = say("you look at {what}", what=words) if words else ""
        self._compression_group.aside.setText(looking)
        picture, worst = None, None
        if sheet is not None and self._seen is not None:
            picture = self._treated_of(sheet, self._seen)
        if cost is not None and sheet is not None:
            found = next((p for p in sheet.pieces if p.number == cost.loss.worst), None)
            if found is not None:
                text = say("worst piece, {n} dB", n=f"{cost.loss.worst_noise:.1f}")
                worst = (found.rect, text)
        corner = ORIGIN
        if picture is None and sheet is not None and self._trials.is_large:
            picture, corner = self._part.found_of(sheet, self._seen_treatment(sheet))
        if picture is None:
            far = self._part.is_too_large and self._trials.asking
            words = say("zoom in to see it") if far else say("working …")
        self._canvas.show_treated(picture, words, worst, corner)
        self._show_result()

    def _treated_of(self, sheet: Sheet, choice: Compression) -> Any:
        """The sheet's pixels after a choice, as far as they are known."""
        art = self.desk.art
        treatment = replace(treatment_of(self.project, sheet), compression=choice)
        try:
            if choice.form in ("lossless", "lossless WebP"):
                return art.picture(sheet)
        except Refusal:
            return None
        found = known_treated(art, sheet, treatment)
        if found is not None:
            return found.picture
        cost = self._trials.costs.get(choice)
        return cost.treated.picture if cost and len(self.sheets()) == 1 else None

    def _show_wall(self) -> None:
        if self._pictures.currentWidget() is not self._wall:
            return
        sheet = self._canvas.sheet
        if sheet is None or not sheet.pieces:
            self._wall.show_piece(None, [], Treatment(""))
            return
        pieces = self._canvas.selected_pieces() or list(sheet.pieces[:1])
        art = self.desk.art
        try:
            shown = art.piece(sheet, pieces[0])
            beside = [art.piece(sheet, p) for p in (pieces * MOST_NEIGHBOURS)[:MOST_NEIGHBOURS]]
        except Refusal:
            return
        self._wall.show_piece(shown, beside, treatment_of(self.project, sheet))

    def _show_result(self) -> None:
        current = self.costs.current
        cost = self._trials.costs.get(current) if current else None
        if cost is None:
            self._compression_group.result.tell("")
            return
        size = kibibytes(cost.treated.in_memory)
        share = cost.loss.share * 100
        text = say("{size} KiB in graphics memory. No pixel changes.", size=size)
        if cost.loss.error:
            text = say(
                "{size} KiB in graphics memory. {share} % of the pixels change.",
                size=size,
                share=f"{share:.1f}",
            )
        self._compression_group.result.tell(text, bool(cost.loss.error) and share > 1)

    def _show_view(self, view: View) -> None:
        self._canvas.difference = view == "difference"
        self._pictures.setCurrentWidget(self._wall if view == "sampling" else self._canvas)
        self._show_seen()
        self._show_wall()

    def _tell_pixel(self, place: Point | None) -> None:
        if place is not None:
            self.services.status(self._canvas.pixel_words(place), "")

    def _picture_of(self, number: int) -> QImage | None:
        found = self.project.find(number)
        return self.services.images.piece(*found) if found else None

    # -- what is not known yet -----------------------------------------------------------

    def _try_part(self) -> None:
        """Try what is looked at on the part that is on the screen, while the whole is large and
        not known."""
        sheet, choice = self._canvas.sheet, self._seen
        if sheet is None or choice is None or self._treated_of(sheet, choice) is not None:
            return
        if self._trials.is_large:
            self._part.look(sheet, self._seen_treatment(sheet), self._canvas.visible())
            self._show_seen()

    def _seen_treatment(self, sheet: Sheet) -> Treatment:
        own = treatment_of(self.project, sheet)
        return replace(own, compression=self._seen or own.compression)

    def _show_costs(self) -> None:
        self.costs.show_costs(self._trials.costs)
        self._show_ask()
        self._show_seen()
        self.desk.previewed.emit()

    def _begin_trials(self) -> None:
        self._trials.begin()
        self._show_ask()

    def _show_ask(self) -> None:
        """Offer to try all choices, where that waits for being asked."""
        self._asking.setVisible(self._trials.asking)
        words = say("Tried is what you see. All {n} million pixels of {what} take a while.")
        sheets = counted(len(self.sheets()), "sheet", "sheets")
        self._ask_words.setText(words.format(what=sheets, n=round(self._trials.pixels / 1e6)))

    # -- choosing ----------------------------------------------------------------------

    def _look_at(self, choice: Compression) -> None:
        self._seen = choice
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

    def _set_compression(self, choice: Compression) -> None:
        sheets = self.selection.sheets
        words = say("Set the compression of {what}", what=self._named())
        self.desk.do(words, lambda p: set_point(p, sheets, "compression", choice))

    def _set_form(self, form: Form) -> None:
        self._seen = Compression(form)
        self._set_compression(self._seen)

    def _adjust(self, **changes: Any) -> None:
        if self.costs.current is not None:
            self._seen = replace(self.costs.current, **changes)
            self._set_compression(self._seen)
