"""The numbers of a layout."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtWidgets import QGridLayout, QWidget

from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces
from rushweed.core.values import Size
from rushweed.ui.shell.controls import label, row
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.text import tr

Tell = Callable[[Layout], None]


class EvenControls(QWidget):
    """Cell, margin and gap, across and down."""

    def __init__(self, tell: Tell) -> None:
        super().__init__()
        self._tell = tell
        self._layout: EvenCells | None = None
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        self.steppers: dict[tuple[str, int], Stepper] = {}
        for line, (field, name, low) in enumerate(
            (("cell", tr("Cell"), 1), ("margin", tr("Margin"), 0), ("gap", tr("Gap"), 0))
        ):
            grid.addWidget(label(name), line, 0)
            for axis, way in enumerate((tr("across"), tr("down"))):
                stepper = Stepper(f"{name} {way}", tr("px"), low, 16384, width=94)
                stepper.stepped.connect(partial(self._change, field, axis))
                grid.addWidget(stepper, line, 1 + axis)
                self.steppers[field, axis] = stepper

    def show_layout(self, layout: EvenCells) -> None:
        self._layout = layout
        for (field, axis), stepper in self.steppers.items():
            stepper.show_value(getattr(layout, field)[axis])

    def _change(self, field: str, axis: int, value: float) -> None:
        if self._layout is None:
            return
        old = getattr(self._layout, field)
        size = Size(int(value), old.height) if axis == 0 else Size(old.width, int(value))
        changed: dict[str, Any] = {field: size}
        self._tell(replace(self._layout, **changed))


class LooseControls(QWidget):
    """How near bits belong together, and how small a piece may be."""

    def __init__(self, tell: Tell) -> None:
        super().__init__()
        self._tell = tell
        self._layout = LoosePieces()
        self._distance = Stepper(tr("Distance"), tr("px"), 1, 64)
        self._least = Stepper(tr("Least size"), tr("px"), 1, 4096)
        self._distance.stepped.connect(
            lambda v: self._tell(LoosePieces(int(v), self._layout.least))
        )
        self._least.stepped.connect(
            lambda v: self._tell(LoosePieces(self._layout.distance, int(v)))
        )
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 4, 0, 0)
        grid.setVerticalSpacing(4)
        grid.addLayout(row(label(tr("Bits nearer than this are one")), None, self._distance), 0, 0)
        grid.addLayout(row(label(tr("Leave out what is smaller")), None, self._least), 1, 0)

    def show_layout(self, layout: LoosePieces) -> None:
        self._layout = layout
        self._distance.show_value(layout.distance)
        self._least.show_value(layout.least)
