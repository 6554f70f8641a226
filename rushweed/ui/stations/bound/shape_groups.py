"""Bound's groups for many tiles: common forms in one click, copies, mirrors, twins."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from itertools import zip_longest

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QGridLayout, QWidget

from rushweed.core.bound.editing import FORMS, common_forms, form_words
from rushweed.core.bound.twins import Twin, find_twins, give_to_twins, mirror_shapes
from rushweed.core.cut.likeness import shown
from rushweed.core.project.project import with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Refusal, Size
from rushweed.core.words import counted, say
from rushweed.ui.canvas.marks import draw_odd_box
from rushweed.ui.commands.commands import Commands
from rushweed.ui.look.colours import look
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import FAINT, button, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

COLUMNS = 6
MANY = 2000
"""Twins among more pieces are looked for while the window goes on."""


class CommonForms(QWidget):
    """A button for each of the forms that most tiles have."""

    def __init__(
        self, commands: Commands, give: Callable[[str, Callable[[Piece], tuple[Shape, ...]]], None]
    ) -> None:
        super().__init__()
        self._give = give
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        keys = commands.keys("bound.form")
        for place, (name, key) in enumerate(zip_longest(FORMS, keys[: len(FORMS)], fillvalue="")):
            one = _FormButton(name, key)
            one.clicked.connect(lambda _=False, name=name: self.take(name))
            grid.addWidget(one, place // COLUMNS, place % COLUMNS)
        grid.setColumnStretch(COLUMNS, 1)

    def take(self, name: str) -> None:
        """Give the selected pieces a form."""
        form = form_words(name).lower()
        words = say("Gave {what} the form: {form}", form=form, what="{what}")
        self._give(words, lambda piece: (Shape(common_forms(piece.rect.size)[name]),))


class _FormButton(QAbstractButton):
    """Shows its form on a tile."""

    def __init__(self, name: str, key: str) -> None:
        super().__init__()
        self.setFixedSize(34, 26)
        self.setAccessibleName(form_words(name))
        self.setToolTip(f"{form_words(name)}  {key}")
        self._form = common_forms(Size(14, 14))[name]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setOpacity(1.0 if self.isEnabled() else FAINT)
        strong = self.hasFocus() or self.underMouse()
        painter.setPen(QPen(colours.tide if strong else colours.strong_line, 1))
        painter.setBrush(colours.field)
        painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 4, 4)
        painter.translate(10, 6)
        painter.setPen(QPen(colours.line, 1))
        painter.drawRect(QRectF(0, 0, 14, 14))
        painter.setPen(QPen(colours.rust, 1.2))
        wash = QColor(colours.rust)
        wash.setAlpha(90)
        painter.setBrush(wash)
        painter.drawPolygon(QPolygonF([QPointF(*corner) for corner in self._form.corners]))
        painter.end()


class ForMany(Group):
    """Shapes copied, mirrored, and given to all tiles that are drawn alike."""

    def __init__(self, number: int, services: Services, canvas: SheetCanvas) -> None:
        super().__init__(number, say("For many"))
        self._desk, self._jobs, self._canvas = services.desk, services.jobs, canvas
        self._copied: tuple[Shape, ...] | None = None
        self.twins: list[Twin] = []
        commands = services.commands
        copy = command_button(commands, "bound.copy", say("Copy"))
        self._paste = command_button(commands, "bound.paste", say("Paste"))
        mirror = command_button(commands, "bound.mirror", say("Mirror"))
        self._find = command_button(commands, "bound.twins", say("Find twins"))
        self._do = button(say("Give them the shapes"), self.give_twins)
        self.add(row(copy, self._paste, mirror, None))
        self.add(row(self._find, self._do, None))
        self.refresh()

    def refresh(self) -> None:
        """Forget twins that were found for another selection."""
        chosen = self._desk.selection.pieces
        if any(twin.of not in chosen for twin in self.twins):
            self.twins = []
        self._paste.setEnabled(self._copied is not None)
        self._do.setEnabled(bool(self.twins))
        if not self.twins:
            self.result.tell("")

    def copy(self) -> None:
        """Keep the shapes of the first selected piece."""
        pieces = self._canvas.selected_pieces()
        if pieces and pieces[0].shapes is not None:
            self._copied = pieces[0].shapes
            self.refresh()
            shapes = counted(len(self._copied), "shape", "shapes")
            self.result.tell(say("Holds {shapes}.", shapes=shapes))

    def paste(self) -> None:
        """Give the kept shapes to all selected pieces."""
        numbers, shapes = self._numbers(), self._copied
        if numbers and shapes is not None:
            words = say("Pasted shapes onto {what}", what=counted(len(numbers), "piece", "pieces"))
            self._desk.do(
                words,
                lambda p: with_pieces(p, numbers, lambda piece: replace(piece, shapes=shapes)),
            )

    def mirror(self) -> None:
        """Mirror the shapes of all selected pieces."""
        numbers = self._numbers()
        if numbers:
            words = say(
                "Mirrored the shapes of {what}", what=counted(len(numbers), "piece", "pieces")
            )
            self._desk.do(words, lambda p: mirror_shapes(p, numbers))

    def find_twins(self) -> None:
        """Look for tiles drawn like the selected ones, and mark them; nothing is changed yet."""
        sheet = self._canvas.sheet
        pieces = [p for p in self._canvas.selected_pieces() if p.shapes is not None]
        if sheet is None or not pieces:
            self._desk.refused.emit(say("Select a tile that has its shapes, then find its twins."))
            return
        art, numbers = self._desk.art, [piece.number for piece in pieces]
        words = say("Looking for twins on {name}", name=sheet.name)

        def work() -> Iterator[tuple[float, str, list[Twin]]]:
            yield 0.0, words, []
            yield 1.0, words, find_twins(shown(art.picture(sheet)), sheet, numbers)

        def done(found: list[Twin]) -> None:
            if self._canvas.sheet is not None and self._canvas.sheet.name == sheet.name:
                self._mark_twins(found)

        if len(sheet.pieces) > MANY:
            self._jobs.start(work, done)
            return
        try:
            *_, (_, _, found) = work()
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        self._mark_twins(found)

    def _mark_twins(self, found: list[Twin]) -> None:
        self.twins = found
        self.refresh()
        kinds = Counter(say(twin.kind) for twin in self.twins)
        told = ", ".join(f"{count} {kind}" for kind, count in kinds.items())
        what = counted(len(self.twins), "twin", "twins")
        self.result.tell(f"{what}: {told}." if told else say("No twin on this sheet."), not told)
        self._canvas.update()

    def give_twins(self) -> None:
        """Give the twins that were found the shapes, turned as they are drawn."""
        twins = self.twins
        words = say("Gave shapes to {what}", what=counted(len(twins), "twin", "twins"))
        self._desk.do(words, lambda p: give_to_twins(p, twins))
        self.twins = []
        self.refresh()
        self._canvas.update()

    def paint(self, painter: QPainter) -> None:
        """Mark the twins that were found."""
        marked = {twin.number for twin in self.twins}
        for _, piece in self._canvas.seen_pieces() if marked else ():
            if piece.number in marked:
                draw_odd_box(painter, self._canvas.to_screen(piece.rect).adjusted(1, 1, -1, -1))

    def _numbers(self) -> frozenset[int]:
        return frozenset(piece.number for piece in self._canvas.selected_pieces())
