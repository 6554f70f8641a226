"""Pictures of another size made to fit: the size typed, both ways shown, and what each costs."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from rushweed.core.cut.reshaping import fit_sheets, unfitted, unit_of
from rushweed.core.gather.art import cut_out, picture_key
from rushweed.core.gather.fitting import fitted, uneven_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import EvenCells, FitWay, Sheet
from rushweed.core.values import Rect, Refusal, Size
from rushweed.core.words import said, say
from rushweed.ui.canvas.images import to_image
from rushweed.ui.shell.binding import Bindings
from rushweed.ui.shell.controls import Chips, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.gather.two_pictures import TwoPictures, busiest

WAYS: dict[FitWay, str] = {"nearest": "Nearest", "smoothed": "Smoothed"}
LARGEST = 4096


class MadeToFit(QWidget):
    """Sets in which size the cells of the selected sheets, or whole pictures, are shown."""

    def __init__(
        self, services: Services, bound: Bindings[Sheet], names: Callable[[], tuple[str, ...]]
    ) -> None:
        super().__init__()
        self._desk, self._names = services.desk, names
        self._what = label(say("Make it fit"))
        self._width = Stepper(say("Shown width"), say("px"), 1, LARGEST, width=94)
        self._height = Stepper(say("Shown height"), say("px"), 1, LARGEST, width=94)
        self._way = Chips(said(WAYS), name=say("Fitted by"))
        words = say("Made {what} fit")
        bound.bind(self._width, lambda sheet: unit_of(sheet).width, _with_width, words)
        bound.bind(self._height, lambda sheet: unit_of(sheet).height, _with_height, words)
        bound.bind(
            self._way,
            lambda sheet: sheet.fitted.way if sheet.fitted else None,
            _with_way,
            words,
        )
        tile = button(say("One tile"), self._to_tile, tip=say("As large as the tile of the rules"))
        self._plain = button(say("As drawn"), self._as_drawn)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addLayout(row(self._what, None, self._plain, tile, spacing=4))
        layout.addLayout(row(None, self._width, label("×", "caption"), self._height))
        layout.addLayout(row(self._way, None))
        self._both = TwoPictures(say("Both ways"), (say("nearest"), say("smoothed")))
        self._shown: object = None
        layout.addWidget(self._both)

    def show_sheets(self, sheets: list[Sheet]) -> str:
        """Show how the sheets are fitted. Gives back what that does to pixels, in words."""
        cells = bool(sheets) and all(isinstance(s.layout, EvenCells) for s in sheets)
        self._what.setText(say("Fit a cell") if cells else say("Make it fit"))
        others = [sheet for sheet in sheets if sheet.fitted is not None]
        self._way.setVisible(bool(others))
        self._plain.setVisible(bool(others))
        alone = others[0] if len(sheets) == 1 and others else None
        self._both.setVisible(alone is not None and self._show_both(alone))
        return cost_of(alone) if alone else ""

    def _show_both(self, sheet: Sheet) -> bool:
        """Show a cell, or the busiest part of a whole picture, in both ways."""
        fit, drawn = sheet.fitted, unfitted(sheet)
        assert fit is not None
        asked = picture_key(drawn), fit.drawn, fit.shown
        if asked == self._shown:
            return True
        try:
            picture = self._desk.art.picture(drawn)
        except Refusal:
            return False
        by_cells = isinstance(sheet.layout, EvenCells) and drawn.pieces
        rect = drawn.pieces[0].rect if by_cells else Rect(*map(int, busiest(picture).getRect()))
        cut = cut_out(picture, rect)
        size = fit.sized(rect.size)
        images = [to_image(fitted(cut, size, way)) for way in WAYS]
        self._both.show_pictures(images[0], images[1], QRectF(0, 0, *size))
        self._shown = asked
        return True

    def _to_tile(self) -> None:
        tile, names = self._desk.project.rules.tile, self._names()
        words = say("Made cells as large as a tile")
        self._desk.do(words, lambda p: _each(p, names, lambda _: tile))

    def _as_drawn(self) -> None:
        words, names = say("Left sheets as large as they are drawn"), self._names()
        self._desk.do(words, lambda p: _each(p, names, lambda sheet: unit_of(unfitted(sheet))))


def _with_width(project: Project, names: tuple[str, ...], width: int) -> Project:
    """Another width; the height keeps the proportion in which it is drawn."""

    def shown(sheet: Sheet) -> Size:
        drawn = unit_of(unfitted(sheet))
        high = (2 * drawn.height * width + drawn.width) // (2 * drawn.width)
        return Size(width, max(1, high))

    return _each(project, names, shown)


def _with_height(project: Project, names: tuple[str, ...], height: int) -> Project:
    """Another height alone."""
    return _each(project, names, lambda sheet: Size(unit_of(sheet).width, height))


def _with_way(project: Project, names: tuple[str, ...], way: FitWay) -> Project:
    return _each(project, names, unit_of, way)


def _each(
    project: Project,
    names: tuple[str, ...],
    shown: Callable[[Sheet], Size],
    way: FitWay | None = None,
) -> Project:
    """Show each sheet's cells, or its whole picture, in a size of its own; its way stays as it is
    unless another one is given."""
    for name in names:
        sheet = project.sheet(name)
        known = sheet.fitted.way if sheet.fitted else "nearest"
        project = fit_sheets(project, (name,), shown(sheet), way or known)
    return project


def cost_of(sheet: Sheet) -> str:
    """What fitting does to a sheet's pixels."""
    fit = sheet.fitted
    if fit is None:
        return ""
    if fit.way == "smoothed":
        return say(
            "{drawn} shown in {shown} px, smoothed: edges go soft.",
            drawn=fit.drawn,
            shown=fit.shown,
        )
    columns = uneven_of(fit.drawn.width, fit.shown.width)
    rows = uneven_of(fit.drawn.height, fit.shown.height)
    words = say("{drawn} shown in {shown} px: {c} of {w} columns, {r} of {h} rows come out uneven.")
    return words.format(
        drawn=fit.drawn, shown=fit.shown, c=columns, w=fit.drawn.width, r=rows, h=fit.drawn.height
    )
