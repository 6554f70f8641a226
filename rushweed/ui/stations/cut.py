"""Cut: frames and tiles."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from typing import Any

from PyQt6.QtCore import QRect, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QHBoxLayout, QWidget

from rushweed.core.cut.cutting import count_cells, cut, cuts_for
from rushweed.core.cut.gathering import accept, see
from rushweed.core.cut.grid import GridGuess
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, Layout, LoosePieces, OnePicture, Sheet
from rushweed.core.values import Refusal, Size
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.marks import draw_checker, draw_stitches
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.controls import Check, Chips, label, row
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Station
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.sheet_canvas import SheetCanvas
from rushweed.ui.text import counted, tr

LAYOUTS = {"Even cells": "even cells", "Loose pieces": "loose pieces", "One picture": "one picture"}
GUESSES = 3


class CutStation(Station):
    """The sheet with its cuts, and how it is laid out."""

    faces = ("Pieces",)

    def make_table(self, face: int) -> QWidget:
        self._canvas = SheetCanvas(self.services)
        return self._canvas

    def make_tools(self, face: int) -> QWidget:
        self._numbers = Check(tr("Numbers"), self._show_numbers)
        self._numbers.setChecked(True)
        return tools_row(ZoomChips(self._canvas), self._numbers)

    def make_slip(self, face: int) -> QWidget:
        self._even = _EvenControls(self._set_even)
        self._loose = _LooseControls(self._set_loose)
        group = self._group = Group(1, tr("How it is laid out"))
        self._layouts = Chips(list(LAYOUTS), name=tr("Layout"))
        self._layouts.chosen.connect(self._choose_layout)
        self._guesses = [_Guess() for _ in range(GUESSES)]
        pictures = QHBoxLayout()
        pictures.setSpacing(4)
        for guess in self._guesses:
            pictures.addWidget(guess)
            guess.clicked.connect(partial(self._take_guess, guess))
        pictures.addStretch(1)
        for part in (self._layouts, pictures, self._even, self._loose):
            group.add(part)
        return SlipPage([group])

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        sheet = self._canvas.sheet
        self._group.setEnabled(sheet is not None)
        if sheet is None:
            self._group.result.tell("")
            return
        layout = self._shown_layout(sheet)
        kind = layout.kind if sheet.layout else ""
        self._layouts.show_choice(next((n for n, k in LAYOUTS.items() if k == kind), ""))
        self._even.setVisible(isinstance(layout, EvenCells))
        self._loose.setVisible(isinstance(layout, LoosePieces))
        if isinstance(layout, EvenCells):
            self._even.show_layout(layout)
        if isinstance(layout, LoosePieces):
            self._loose.show_layout(layout)
        self._show_guesses(sheet, isinstance(layout, EvenCells))
        self._tell_result(sheet)

    def change(self, before: Project, after: Project) -> None:
        if before.sheets is not after.sheets:
            self.refresh()

    def _shown_layout(self, sheet: Sheet) -> Layout:
        """The sheet's layout, else the one that was seen in it."""
        if sheet.layout is not None:
            return sheet.layout
        try:
            return see(self.desk.art, sheet).layout
        except Refusal:
            return OnePicture()

    def _show_guesses(self, sheet: Sheet, wanted: bool) -> None:
        try:
            grids = see(self.desk.art, sheet).grids[:GUESSES] if wanted else ()
        except Refusal:
            grids = ()
        chosen = sheet.layout
        for index, widget in enumerate(self._guesses):
            shown = grids[index] if index < len(grids) else None
            image = self.services.images.sheet(sheet)
            widget.show_guess(shown, image, shown is not None and shown.grid == chosen)

    def _tell_result(self, sheet: Sheet) -> None:
        result = self._group.result
        if sheet.layout is None:
            result.tell(tr("Not cut yet. Click a guess, or type the cell."), warns=True)
            return
        pieces = counted(len(sheet.pieces), "piece", "pieces")
        if not isinstance(sheet.layout, EvenCells):
            result.tell(f"{pieces}.")
            return
        count = count_cells(sheet.layout, sheet.size)
        empty = count.columns * count.rows - len(sheet.pieces)
        left_out = counted(empty, "empty cell", "empty cells")
        tail = tr(", {what} left out").format(what=left_out) if empty else ""
        result.tell(f"{count.columns} × {count.rows} cells: {pieces}{tail}.")

    # -- acts ----------------------------------------------------------------------

    def _choose_layout(self, text: str) -> None:
        sheet = self._canvas.sheet
        if sheet is None:
            return
        kind = LAYOUTS[text]
        if kind == "even cells":
            grids = see(self.desk.art, sheet).grids
            size = Size(min(16, sheet.size.width), min(16, sheet.size.height))
            self._cut(grids[0].grid if grids else EvenCells(size))
        else:
            self._cut(LoosePieces() if kind == "loose pieces" else OnePicture())

    def _take_guess(self, widget: _Guess) -> None:
        if widget.guess is not None:
            self._cut(widget.guess.grid)

    def _set_even(self, layout: EvenCells) -> None:
        self._cut(layout)

    def _set_loose(self, layout: LoosePieces) -> None:
        self._cut(layout)

    def _cut(self, layout: Layout) -> None:
        sheet = self._canvas.sheet
        if sheet is None:
            return
        words = tr("Cut {name} into {what}").format(name=sheet.name, what=_words(layout))
        if not self.desk.do(words, lambda project: self._edit(project, sheet.name, layout)):
            self.refresh()

    def _edit(self, project: Project, name: str, layout: Layout) -> Project:
        """Cut; a sheet that is cut for the first time is taken as seen in all other points."""
        if project.sheet(name).layout is None:
            project = accept(project, self.desk.art, name)
        mask = solid(self.desk.art.picture(project.sheet(name)))
        cuts_for(layout, mask)
        return cut(project, name, layout, mask)

    def _show_numbers(self, shown: bool) -> None:
        self._canvas.numbers = shown
        self._canvas.update()


def _words(layout: Layout) -> str:
    if isinstance(layout, EvenCells):
        return tr("cells of {size} px").format(size=layout.cell)
    return tr("loose pieces") if isinstance(layout, LoosePieces) else tr("one picture")


class _EvenControls(QWidget):
    """Cell, margin and gap, across and down."""

    def __init__(self, tell) -> None:  # type: ignore[no-untyped-def]
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


class _LooseControls(QWidget):
    """How near bits belong together, and how small a piece may be."""

    def __init__(self, tell) -> None:  # type: ignore[no-untyped-def]
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


class _Guess(QAbstractButton):
    """A guessed grid as a small live picture; a click takes it."""

    PICTURE = QSize(80, 60)

    def __init__(self) -> None:
        super().__init__()
        self.guess: GridGuess | None = None
        self._image = QImage()
        self._chosen = False
        self.setFixedSize(82, 96)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def show_guess(self, guess: GridGuess | None, image: QImage, chosen: bool) -> None:
        self.guess, self._image, self._chosen = guess, image, chosen
        self.setVisible(guess is not None)
        if guess is not None:
            self.setAccessibleName(tr("Guess: {size} px").format(size=guess.grid.cell))
            self.setToolTip(f"{guess.grid.cell} px, {guess.why}")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self.guess is None:
            return
        colours = look.colours
        painter = QPainter(self)
        frame = QRect(1, 1, self.PICTURE.width(), self.PICTURE.height())
        painter.save()
        painter.setClipRect(frame)
        draw_checker(painter, QRectF(frame), 5)
        scale = self._scale()
        target = QRectF(
            frame.x(), frame.y(), self._image.width() * scale, self._image.height() * scale
        )
        painter.drawImage(target, self._image, QRectF(self._image.rect()))
        self._paint_cuts(painter, frame, scale)
        painter.restore()
        strong = self._chosen or self.hasFocus()
        edge = (
            colours.tide
            if strong
            else colours.soft_ink
            if self.underMouse()
            else colours.strong_line
        )
        painter.setPen(QPen(edge, 2 if strong else 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRoundedRect(QRectF(frame), 2, 2)
        painter.setFont(font(BODY, 600 if self._chosen else 400))
        painter.setPen(colours.tide if self._chosen else colours.ink)
        painter.drawText(
            QRect(0, 63, 82, 17), Qt.AlignmentFlag.AlignVCenter, str(self.guess.grid.cell)
        )
        painter.setFont(font(CAPTION))
        painter.setPen(colours.soft_ink)
        count = f"{self.guess.columns} × {self.guess.rows}"
        painter.drawText(
            QRect(0, 79, 82, 15), Qt.AlignmentFlag.AlignVCenter, tr("{n} cells").format(n=count)
        )
        painter.end()

    def _scale(self) -> float:
        """So large that a few cells are seen."""
        assert self.guess is not None
        cell = self.guess.grid.cell
        wanted = min(
            self.PICTURE.width() / (cell.width * 2.4), self.PICTURE.height() / (cell.height * 1.8)
        )
        return wanted if wanted < 1 else float(min(int(wanted), 3))

    def _paint_cuts(self, painter: QPainter, frame: QRect, scale: float) -> None:
        assert self.guess is not None
        grid = self.guess.grid
        upright, level = [], []
        for index in range(40):
            for side in (0, grid.cell.width):
                x = grid.margin.width + index * (grid.cell.width + grid.gap.width) + side
                upright.append(QRect(round(frame.x() + x * scale), frame.y(), 1, frame.height()))
            for side in (0, grid.cell.height):
                y = grid.margin.height + index * (grid.cell.height + grid.gap.height) + side
                level.append(QRect(frame.x(), round(frame.y() + y * scale), frame.width(), 1))
        draw_stitches(painter, upright, level)
