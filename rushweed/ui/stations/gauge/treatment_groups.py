"""The slip of Look: filtering, compression and the space on the page of the chosen sheets."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from rushweed.core.gauge.compression.costs import Cost
from rushweed.core.gauge.treating import set_point
from rushweed.core.project.rules import CRISP_PIXELS, Compression, Filter, Form, Sides, Treatment
from rushweed.core.project.treatments import treatment_of
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindable, Bindings, common
from rushweed.ui.shell.controls import Check, Chips, Choice, label, row
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gauge.cost_table import kibibytes

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


class TreatmentPoints:
    """The treatments of the chosen sheets, and controls that show and set one point of them."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._bound = Bindings(desk, self.treatments, self.named, at=lambda: desk.selection.sheets)
        self.show = self._bound.show

    def treatments(self) -> list[Treatment]:
        """One for each chosen sheet."""
        project = self._desk.project
        return [treatment_of(project, sheet) for sheet in self._desk.selection.chosen(project)]

    def named(self) -> str:
        """What the chosen sheets are called in the words of an edit."""
        return sheets_words(self._desk.selection.sheets)

    def bind(self, control: Bindable, point: str, words: str) -> Bindable:
        """Have a control show and set one point."""
        return self._bound.bind(
            control,
            lambda treatment: getattr(treatment, point),
            lambda project, sheets, value: set_point(project, sheets, point, value),
            words,
        )


class FilterGroup(Group):
    """How pixels are sampled."""

    def __init__(self, number: int, points: TreatmentPoints) -> None:
        super().__init__(number, say("Filtering"))
        chips = Chips(said(FILTERS), name=say("Filtering"))
        mipmaps = Check(say("Mipmaps"))
        points.bind(chips, "filter", say("Set the filtering of {what}"))
        points.bind(mipmaps, "mipmaps", say("Set the mipmaps of {what}"))
        self.add(row(chips, None, mipmaps))

    def refresh(self, treatments: list[Treatment]) -> None:
        """Say what the filtering means."""
        sentences = {
            "nearest": say("Every drawn pixel keeps its edges."),
            "linear": say("Pixels melt into each other: right for painted art."),
        }
        chosen = common(treatment.filter for treatment in treatments)
        self.result.tell(sentences.get(chosen or "", say("Filtering differs.")))


class CompressionGroup(Group):
    """In what form pages are stored; `chosen` tells another compression."""

    chosen = pyqtSignal(object)

    def __init__(self, number: int, points: TreatmentPoints) -> None:
        super().__init__(number, say("Compression"))
        self._current: Compression | None = None
        self._form = Choice(say("Compression"), choices=said(FORMS))
        self._form.entered.connect(lambda form: self.chosen.emit(Compression(form)))
        self._colours = Stepper(say("Colours"), "", 2, 256)
        self._colours.entered.connect(lambda count: self._adjust(colours=count))
        self._dithered = Check(say("Dithered"), lambda on: self._adjust(dithered=on))
        self._quality = Stepper(say("Quality"), "", 1, 100)
        self._quality.entered.connect(lambda quality: self._adjust(quality=quality))
        multiplied = Check(say("Multiply colours by alpha"))
        multiplied.setToolTip(say("For games that blend premultiplied pictures"))
        points.bind(multiplied, "multiplied", say("Set how alpha is stored for {what}"))
        self._palette_row, self._quality_row = QWidget(), QWidget()
        self._palette_row.setLayout(row(label(say("Colours")), self._colours, None, self._dithered))
        self._quality_row.setLayout(row(label(say("Quality")), None, self._quality))
        for part in (self._form, self._palette_row, self._quality_row, row(multiplied, None)):
            self.add(part)

    def refresh(self, treatments: list[Treatment]) -> None:
        """Show the compression that all have, with what can be tuned of it."""
        self._current = current = common(treatment.compression for treatment in treatments)
        self._form.show_value(common(treatment.compression.form for treatment in treatments))
        self._palette_row.setVisible(current is not None and current.form == "palette")
        self._quality_row.setVisible(current is not None and current.form == "lossy WebP")
        if current is not None:
            self._colours.show_value(current.colours)
            self._dithered.show_value(current.dithered)
            self._quality.show_value(current.quality)

    def tell_cost(self, cost: Cost | None) -> None:
        """Say what the chosen compression costs, None while that is not known."""
        if cost is None:
            self.result.tell("")
            return
        size, share = kibibytes(cost.treated.in_memory), cost.loss.share * 100
        text = say("{size} KiB in graphics memory. No pixel changes.", size=size)
        if cost.loss.error:
            text = say(
                "{size} KiB in graphics memory. {share} % of the pixels change.",
                size=size,
                share=f"{share:.1f}",
            )
        self.result.tell(text, bool(cost.loss.error) and share > 1)

    def _adjust(self, **changes: Any) -> None:
        if self._current is not None:
            self.chosen.emit(replace(self._current, **changes))


class SpaceGroup(Group):
    """What is left free around pieces, and what sides a page may have."""

    def __init__(self, number: int, points: TreatmentPoints) -> None:
        super().__init__(number, say("Space on the page"))
        padding = Stepper(say("Padding"), say("px"), 0, 64)
        edge = Stepper(say("Repeated edge pixels"), say("px"), 0, 64)
        sides = Chips(said(SIDES), name=say("Width and height"))
        points.bind(padding, "padding", say("Set the padding of {what}"))
        points.bind(edge, "extrude", say("Set the repeated edges of {what}"))
        points.bind(sides, "sides", say("Set the sides of {what}"))
        self.add(row(label(say("Padding")), None, padding))
        self.add(row(label(say("Repeat edge pixels")), None, edge))
        self.add(label(say("Width and height"), "caption"))
        self.add(row(sides, None))

    def refresh(self, treatments: list[Treatment]) -> None:
        """Warn where neighbours bleed in."""
        bleeds = any(t.filter == "linear" and not t.padding + t.extrude for t in treatments)
        sentence = say("Linear filtering mixes neighbours in: leave at least 1 px.")
        self.result.tell(sentence if bleeds else "", True)


class TreatmentSlip(SlipPage):
    """All three groups, perhaps with one before and one after them, under the names of the chosen
    sheets."""

    def __init__(self, desk: Desk, *around: Group) -> None:
        self._desk, self._head = desk, SelectionHead()
        self.points = TreatmentPoints(desk)
        before, after = around[:1], around[1:]
        self.filtering = FilterGroup(len(before) + 1, self.points)
        self.compression = CompressionGroup(len(before) + 2, self.points)
        self.space = SpaceGroup(len(before) + 3, self.points)
        own = (self.filtering, self.compression, self.space)
        super().__init__([*before, *own, *after], self._head)

    def refresh(self) -> None:
        """Show the treatments of the chosen sheets."""
        sheets = self._desk.selection.chosen(self._desk.project)
        treatments = self.points.treatments() or [CRISP_PIXELS]
        self._head.tell(counted(len(sheets), "sheet", "sheets"), ", ".join(s.name for s in sheets))
        self.setEnabled(bool(sheets))
        self.points.show()
        self.filtering.refresh(treatments)
        self.compression.refresh(treatments)
        self.space.refresh(treatments)
