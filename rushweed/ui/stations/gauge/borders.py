"""The Borders face: four lines on the picture, and beside it the surround at any size."""

from __future__ import annotations

from functools import reduce
from typing import Any

from PyQt6.QtCore import QRect, QRectF
from PyQt6.QtGui import QColor, QPainter
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.borders import change_borders, guess_borders, set_borders, smallest
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Borders, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Rect, Refusal, Size
from rushweed.core.words import counted, said, say, some
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.even import even_scale, ratio_of
from rushweed.ui.canvas.images import to_image
from rushweed.ui.shell.binding import Bindable, Bindings
from rushweed.ui.shell.controls import Chips, button, label, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.faces import tools_row
from rushweed.ui.shell.lens_scale import USUAL_UNIT
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SelectionHead, SlipPage
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.zoom import ZoomChips
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.stations.gauge.border_lines import BorderLines
from rushweed.ui.stations.gauge.stretched import Stretched

TITLES = said({"left": "Left", "top": "Top", "right": "Right", "bottom": "Bottom"})
MIDDLES = {"stretched": "Stretched", "tiled": "Tiled"}


class BordersFace(Face):
    """A surround's borders, by numbers and by dragging their lines."""

    name = say("Borders")

    def __init__(self, services: Services) -> None:
        super().__init__(services)
        self._canvas = SheetCanvas(services)
        self._canvas.numbers = self._canvas.tags = False
        BorderLines(self._canvas, lambda: next(iter(self._pieces()), None), self._numbers)
        self._stretched = Stretched()
        self.table = QWidget()
        layout = QHBoxLayout(self.table)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(1)
        layout.addWidget(self._canvas, 1)
        layout.addWidget(self._stretched, 1)
        self.tools = tools_row(ZoomChips(self._canvas))
        self._head = SelectionHead()
        self._bound = Bindings(self.desk, self._bordered, self._named, at=self._numbers)
        self.slip = SlipPage(
            [self._make_borders(), self._make_middle(), self._make_try()], self._head
        )
        self._fitted: tuple[str, Rect] | None = None

    def canvas(self) -> Canvas:
        return self._canvas

    def refresh(self) -> None:
        self._canvas.refresh()
        self._show_piece_large()
        pieces = self._pieces()
        sheet = self._canvas.sheet
        names = ", ".join(shown_name(sheet, piece) for piece in pieces[:3]) if sheet else ""
        self._head.tell(counted(len(pieces), "piece", "pieces"), names)
        self.slip.set_usable(bool(pieces))
        self._bound.show()
        self._show_result(pieces)
        self._show_stretched(pieces)
        self._show_in_lens(pieces)

    def leave(self) -> None:
        self.services.lens_instead("", None)

    # -- the slip ----------------------------------------------------------------------

    def _make_borders(self) -> Group:
        group = self._borders_group = Group(1, say("Borders that keep their size"))
        for pair in (("left", "right"), ("top", "bottom")):
            parts: list[Any] = []
            for side in pair:
                stepper = Stepper(say("Border at {side}", side=say(side)), say("px"), 0, 4096)
                stepper.setFixedWidth(84)
                self._point(stepper, side)
                parts += [label(TITLES[side]), None, stepper]
            for start in (0, 3):
                group.add(row(*parts[start : start + 3]))
        guess = button(say("Guess"), self._guess, tip=say("Around the part that repeats"))
        none = button(say("None"), self._clear, tip=say("No borders: the picture is drawn whole"))
        group.add(row(guess, none, None))
        return group

    def _make_middle(self) -> Group:
        group = Group(2, say("Sides and middle"))
        middle = self._point(Chips(said(MIDDLES), name=say("Sides and middle")), "middle")
        group.add(row(middle, None))
        return group

    def _make_try(self) -> Group:
        group = Group(3, say("Try a size"))
        group.aside.setText(say("or drag its corner"))
        self._wide = Stepper(say("Width tried"), say("px"), 1, 2048)
        self._tall = Stepper(say("Height tried"), say("px"), 1, 2048)
        for text, stepper in ((say("Wide"), self._wide), (say("High"), self._tall)):
            stepper.entered.connect(lambda _: self._try())
            group.add(row(label(text), None, stepper))
        self._stretched.resized.append(self._show_tried)
        self._wide.show_value(self._stretched.size_tried.width)
        self._tall.show_value(self._stretched.size_tried.height)
        return group

    # -- showing ------------------------------------------------------------------------

    def _pieces(self) -> list[Piece]:
        """The selected pieces, else the only one of the sheet."""
        sheet = self._canvas.sheet
        chosen = self._canvas.selected_pieces()
        return chosen or list(sheet.pieces[:1] if sheet and len(sheet.pieces) == 1 else ())

    def _show_piece_large(self) -> None:
        sheet, pieces = self._canvas.sheet, self._pieces()
        shown = (sheet.name, pieces[0].rect) if sheet and pieces else None
        if shown is not None and shown != self._fitted:
            self._fitted = shown
            rect = shown[1].grown(2)
            self._canvas.show_content(Rect(0, 0, *sheet.size) if sheet else rect, keep_view=True)
            room = min(self._canvas.width() / rect.width, self._canvas.height() / rect.height)
            self._canvas.show_close(rect, min(16, room * 0.8))

    def _show_result(self, pieces: list[Piece]) -> None:
        result = self._borders_group.result
        if not pieces:
            result.tell(say("Select the piece of a surround that is to stretch."))
        elif any(piece.borders is None for piece in pieces):
            result.tell(say("No borders yet: it is drawn as it is."))
        else:
            least = smallest(pieces[0].borders or Borders())
            text = say("It may be drawn from {least} px up.", least=str(least))
            result.tell(text)

    def _show_stretched(self, pieces: list[Piece]) -> None:
        sheet = self._canvas.sheet
        piece = pieces[0] if pieces else None
        if sheet is None or piece is None:
            self._stretched.show_surround(None, None, "nearest")
            return
        try:
            picture = self.desk.art.piece(sheet, piece)
        except Refusal:
            picture = None
        filtering = treatment_of(self.project, sheet).filter
        self._stretched.show_surround(picture, piece.borders, filtering)

    def _show_in_lens(self, pieces: list[Piece]) -> None:
        """Have the lens draw the surround at the size that is tried."""
        if pieces and pieces[0].borders is not None:
            self.services.lens_instead(str(self._stretched.size_tried) + " px", self._paint_lens)
        else:
            self.services.lens_instead("", None)

    def _paint_lens(self, painter: QPainter, area: QRect) -> None:
        """The surround at the game's scale, on its background, as large as there is room."""
        painter.fillRect(area, QColor(*self.project.rules.background[:3]))
        sheet, shown = self._canvas.sheet, self._stretched.drawn()
        if sheet is None or shown is None:
            return
        scale = USUAL_UNIT / treatment_of(self.project, sheet).pixels_per_unit
        rows, columns = shown.shape[:2]
        scale = min(scale, area.width() / columns, area.height() / rows)
        scale = even_scale(scale, ratio_of(painter.device()))
        place = QRectF(0, 0, columns * scale, rows * scale)
        place.moveCenter(QRectF(area).center())
        painter.drawImage(place, to_image(shown))

    def _show_tried(self, size: Size) -> None:
        self._show_in_lens(self._pieces())
        self._wide.show_value(size.width)
        self._tall.show_value(size.height)

    def _try(self) -> None:
        if self._wide.value and self._tall.value:
            self._stretched.try_size(Size(int(self._wide.value), int(self._tall.value)))

    # -- changing -----------------------------------------------------------------------

    def _targets(self) -> list[tuple[Sheet, Piece]]:
        """The selected pieces of all sheets; without any, of every selected sheet its only one."""
        project, selection = self.project, self.selection
        picked = selection.picked(project)
        chosen = picked or {
            sheet.name: list(sheet.pieces)
            for sheet in selection.chosen(project)
            if len(sheet.pieces) == 1
        }
        return [(project.sheet(name), piece) for name, found in chosen.items() for piece in found]

    def _numbers(self) -> frozenset[int]:
        return frozenset(piece.number for _, piece in self._targets())

    def _bordered(self) -> list[Piece]:
        return [piece for _, piece in self._targets()]

    def _named(self) -> str:
        return counted(len(self._targets()), "piece", "pieces")

    def _point(self, control: Bindable, point: str) -> Bindable:
        """Have a control show and set one side's border, or what becomes of the middle."""
        return self._bound.bind(
            control,
            lambda piece: getattr(piece.borders or Borders(), point),
            lambda project, numbers, value: change_borders(project, numbers, point, value),
            say("Set the borders of {what}"),
        )

    def _guess(self) -> None:
        """Guess the borders of each piece; what cannot be guessed is told."""
        targets, found = self._targets(), {}
        for sheet, piece in targets:
            borders = guess_borders(self.desk.art.piece(sheet, piece))
            if borders is not None:
                found[piece.number] = borders
        lost = [shown_name(sheet, piece) for sheet, piece in targets if piece.number not in found]
        if found:
            what = counted(len(found), "piece", "pieces")
            words = say("Guessed the borders of {what}", what=what)
            self.desk.do(words, lambda p: reduce(_set_one, found.items(), p))
        if lost:
            told = say("Nothing in {names} repeats. Drag its four lines to where the corners end.")
            self.desk.refused.emit(told.format(names=some(lost, 3)))

    def _clear(self) -> None:
        words, numbers = say("Took the borders away"), self._numbers()
        self.desk.do(words, lambda p: set_borders(p, numbers, None))


def _set_one(project: Project, found: tuple[int, Borders]) -> Project:
    return set_borders(project, frozenset({found[0]}), found[1])
