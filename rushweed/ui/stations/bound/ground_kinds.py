"""The kinds of ground of a project: a list to choose from, and what one of them is called."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtCore import QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter

from rushweed.core.bound.facts import add_kind, change_kind
from rushweed.core.project.facts import GroundKind, NoteKind
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Edit, Made
from rushweed.core.values import Colour
from rushweed.core.words import said, say
from rushweed.ui.canvas.fact_marks import draw_badge
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.binding import Bindings, Control
from rushweed.ui.shell.controls import Chips, Field, button, label, row
from rushweed.ui.shell.rows import Rows
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper

ROW, MOST_SHOWN = 28, 6
NOTE_KINDS: dict[NoteKind, str] = {"text": "text", "number": "number", "yes or no": "yes or no"}


class GroundKinds(Group):
    """Tells `taken` when another kind is to be painted with."""

    taken = pyqtSignal(int)

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Kinds of ground"))
        self._desk = desk
        self.chosen: int | None = None
        self.list = Rows(
            say("Kinds of ground"), self._paint_kind, lambda kind: ROW, lambda kind: kind.name
        )
        self.list.picked.connect(self._pick)
        self.add(self.list)
        self._bound = Bindings(
            desk,
            self._kinds,
            lambda: self.kind.name if self.kind else "",
            self._do,
            at=lambda: self.chosen,
        )
        self._name = Field(say("Name of the kind"), say("such as mud"))
        letter = Field(say("Letter"), say("letter"))
        letter.setFixedWidth(44)
        letter.setMaxLength(2)
        numbered = Stepper(say("Number"), "", 0, 65535, width=92)
        colour = Field(say("Colour"), "#RRGGBB")
        colour.setFixedWidth(78)
        self._point(self._name, "name", str.strip)
        self._point(letter, "letter", str.strip)
        self._point(numbered, "number", int)
        self._point(colour, "colour", Colour.parse)
        self._remove = button(say("Take away"), self._take_away, "small")
        self.add(row(self._name, letter))
        self.add(row(numbered, colour, None))
        add = button(say("Add a kind"), self._add)
        self.add(row(add, None, self._remove))

    @property
    def kind(self) -> GroundKind | None:
        """The kind that is chosen."""
        kinds = self._desk.project.rules.kinds
        return next((kind for kind in kinds if kind.number == self.chosen), None)

    def refresh(self) -> None:
        """Show the project's kinds."""
        kinds = self._desk.project.rules.kinds
        if self.kind is None:
            self.chosen = kinds[0].number if kinds else None
        self.list.show_items(kinds, lambda one: one.number == self.chosen)
        self.list.setFixedHeight(ROW * min(max(len(kinds), 1), MOST_SHOWN) + 2)
        self.list.setVisible(bool(kinds))
        self._remove.setEnabled(self.kind is not None)
        self._bound.show()
        self.aside.setText(say("the game asks by number") if kinds else "")

    def choose(self, place: int) -> None:
        """Choose a kind by its place in the list."""
        kinds = self._desk.project.rules.kinds
        if place < len(kinds):
            self._take(kinds[place].number)

    def _pick(self, kinds: list[GroundKind]) -> None:
        if kinds:
            self._take(kinds[0].number)

    def _take(self, number: int) -> None:
        self.chosen = number
        self.refresh()
        self.taken.emit(number)

    def _add(self) -> None:
        def edit(project: Project) -> Made[int]:
            name = say("Ground {n}", n=len(project.rules.kinds) + 1)
            project, kind = add_kind(project, name)
            return Made(project, kind.number)

        if self._do(say("Added a kind of ground"), edit):
            self._name.setFocus()
            self._name.selectAll()

    def _kinds(self) -> list[GroundKind]:
        return [self.kind] if self.kind else []

    def _point(self, control: Control, point: str, read: Callable[[Any], object]) -> None:
        """Have a control show and set one point of the kind; `read` takes what was entered."""

        def shown(kind: GroundKind) -> object:
            value = getattr(kind, point)
            return value.hex if isinstance(value, Colour) else value

        def edit(project: Project, number: int, entered: object) -> Made[int]:
            kind = next(kind for kind in project.rules.kinds if kind.number == number)
            new = replace(kind, **{point: read(entered)})  # type: ignore[arg-type]
            return Made(change_kind(project, number, new), new.number)

        self._bound.bind(control, shown, edit, say("Changed the ground {what}"))

    def _do(self, words: str, edit: Edit) -> bool:
        """Make an edit that tells by which number a kind is known then, and take that kind."""
        outcome = self._desk.do(words, edit)
        if isinstance(outcome, Made):
            self._take(outcome.made)
        return outcome is not None

    def _take_away(self) -> None:
        kind = self.kind
        if kind is not None:
            words = say("Took the ground {name} away", name=kind.name)
            self._desk.do(words, lambda p: change_kind(p, kind.number, None))

    def _paint_kind(
        self, painter: QPainter, rect: QRect, kind: GroundKind, selected: bool, hovered: bool
    ) -> None:
        colours = look.colours
        if selected or hovered:
            painter.fillRect(rect, colours.tide_wash if selected else colours.paper)
        badge = QRectF(rect.left() + 4, rect.top() + 4, 30, rect.height() - 8)
        draw_badge(painter, badge, kind)
        painter.setPen(colours.ink)
        painter.setFont(font(BODY, 600 if selected else 400))
        name = painter.fontMetrics().elidedText(kind.name, Qt.TextElideMode.ElideRight, 140)
        painter.drawText(rect.adjusted(42, 0, -60, 0), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setPen(colours.soft_ink)
        painter.setFont(font(CAPTION))
        flags = Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight
        painter.drawText(rect.adjusted(0, 0, -8, 0), flags, str(kind.number))


class NoteFields(Group):
    """The key, kind and value of the note that is painted."""

    changed = pyqtSignal()

    def __init__(self, number: int) -> None:
        super().__init__(number, say("Note"))
        self.key = Field(say("Key"), say("such as sound"))
        self.value = Field(say("Value"), say("such as splash"))
        self.kinds: Chips[NoteKind] = Chips(said(NOTE_KINDS), name=say("Kind of value"))
        self.kinds.show_value("text")
        self.kinds.entered.connect(lambda _: self.changed.emit())
        for field in (self.key, self.value):
            field.textChanged.connect(lambda _: self.changed.emit())
        self.add(row(label(say("Key")), self.key))
        self.add(row(label(say("Value")), self.value))
        self.add(row(self.kinds, None))
