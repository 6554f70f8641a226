"""Named points on frames, and what frames tell the game: typed, dragged, shown on the sheet."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QWidget

from rushweed.core.gauge.frame_points import (
    drop_point,
    point_of,
    put_point,
    rename_point,
    set_events,
)
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit, Made
from rushweed.core.words import counted, say
from rushweed.ui.canvas.dragging import following
from rushweed.ui.canvas.marks import draw_lozenge, draw_tag
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS
from rushweed.ui.shell.binding import Bindings, unlike
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

NEAR = 7
"""Screen pixels around a point at which it is taken."""


class FramePointsGroup(Group):
    """Points by name and events of the pieces that are meant."""

    def __init__(
        self, number: int, desk: Desk, canvas: SheetCanvas, pieces: Callable[[], list[Piece]]
    ) -> None:
        super().__init__(number, say("Points and events"))
        self._desk, self._canvas, self._pieces = desk, canvas, pieces
        self._name = ""
        self._bound = Bindings(
            desk, lambda: unlike(pieces(), "events"), self._named, at=self._numbers
        )
        events = self._bound.bind(
            Field(say("Events of the frame"), say("such as step, splash")),
            lambda piece: ", ".join(piece.events),
            set_events,
            say("Let {what} tell {value}"),
        )
        self._names: Choice[str] = Choice(say("Point"), 112)
        self._names.entered.connect(self._take)
        add = button(
            say("Add a point"), self._add, "small", say("At the pivot; drag it from there")
        )
        self._of_point = Bindings(
            desk,
            self._with_point,
            self._named,
            do=self._do,
            at=lambda: (self._numbers(), self._name),
        )
        name = self._of_point.bind(
            Field(say("Name of the point"), say("such as hand")),
            lambda piece: self._name,
            lambda project, at, text: Made(rename_point(project, at[0], at[1], text), text.strip()),
            say("Called the point of {what} {value}"),
        )
        across, down = (
            self._coordinate(say("Point across"), "x"),
            self._coordinate(say("Point down"), "y"),
        )
        remove = button(say("Drop it"), self._remove, "small", say("Take the point away"))
        self.add(row(label(say("Tells")), events))
        self.add(row(self._names, None, add))
        self._fields = QWidget()
        self._fields.setLayout(row(name, remove))
        self._places = QWidget()
        self._places.setLayout(row(label(say("At")), None, across, down))
        self.add(self._fields)
        self.add(self._places)

    def refresh(self) -> None:
        """Show the points of what is selected."""
        differing = unlike(self._pieces(), "points")
        names = list(dict.fromkeys(point.name for piece in differing for point in piece.points))
        if self._name not in names:
            self._name = names[0] if names else ""
        self._names.offer({name: name for name in names})
        self._names.show_value(self._name or None, say("no point yet"))
        self._fields.setVisible(bool(names))
        self._places.setVisible(bool(names))
        self._bound.show()
        self._of_point.show()
        told = counted(len(names), "point", "points") if names else ""
        self.aside.setText(told)

    def press(self, press: Pointer) -> Stroke | None:
        """Take hold of a point of a selected piece; None where there is none."""
        chosen = self._canvas.selected_pieces()
        for piece in chosen:
            for point in piece.points:
                place = self._canvas.view.to_screen(piece.rect.x + point.x, piece.rect.y + point.y)
                at = self._canvas.view.to_screen(press.place.x, press.place.y)
                if max(abs(place.x - at.x), abs(place.y - at.y)) <= NEAR:
                    self._take(point.name)
                    return self._drag(piece, point.name)
        return None

    def paint(self, painter: QPainter) -> None:
        """The points of the selected pieces with their names."""
        pieces = self._canvas.selected_pieces()
        for piece in pieces[:60]:
            for point in piece.points:
                place = self._canvas.view.to_screen(piece.rect.x + point.x, piece.rect.y + point.y)
                held = point.name == self._name
                fill = MARKS.ochre if held else MARKS.paper
                draw_lozenge(painter, place.x, place.y, 5, fill, MARKS.ink)
                if len(pieces) == 1:
                    draw_tag(painter, place.x + 9, place.y - 8, point.name, fill, MARKS.ink)

    def _drag(self, piece: Piece, name: str) -> Stroke:
        numbers = frozenset({piece.number})

        def at(event: Pointer) -> Edit:
            x, y = event.corner.x - piece.rect.x, event.corner.y - piece.rect.y
            return partial(put_point, numbers=numbers, name=name, x=x, y=y)

        return following(self._desk.drag(say("Moved the point {name}", name=name)), at)

    def _coordinate(self, title: str, axis: str) -> Stepper:
        def read(piece: Piece) -> float | None:
            point = point_of(piece, self._name)
            return getattr(point, axis) if point else None

        return self._of_point.bind(
            Stepper(title, say("px"), -4096, 4096, width=78),
            read,
            lambda project, at, value: put_point(project, at[0], at[1], **{axis: float(value)}),
            say("Moved the point of {what}"),
        )

    def _with_point(self) -> list[Piece]:
        differing = unlike(self._pieces(), "points")
        return [piece for piece in differing if point_of(piece, self._name)]

    def _numbers(self) -> frozenset[int]:
        return frozenset(piece.number for piece in self._pieces())

    def _named(self) -> str:
        return counted(len(self._pieces()), "piece", "pieces")

    def _take(self, name: str) -> None:
        self._name = name
        self.refresh()
        self._canvas.update()

    def _add(self) -> None:
        taken = {point.name for piece in self._pieces() for point in piece.points}
        name = next(
            name for n in range(1, len(taken) + 2) if (name := say("point {n}", n=n)) not in taken
        )
        words, numbers = say("Added a point to {what}", what=self._named()), self._numbers()
        if self._desk.do(words, lambda p: put_point(p, numbers, name)):
            self._take(name)

    def _do(self, words: str, edit: Edit) -> None:
        """Make an edit of the point that is held; it goes on under the name that it has then."""
        outcome = self._desk.do(words, edit)
        if isinstance(outcome, Made):
            self._name = outcome.made

    def _remove(self) -> None:
        name, numbers = self._name, self._numbers()
        words = say("Took the point {name} away", name=name)
        self._desk.do(words, lambda p: drop_point(p, numbers, name))
