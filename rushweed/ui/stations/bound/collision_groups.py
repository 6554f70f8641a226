"""Whom shapes stop: all sides or one, on which collision layer, and which layers meet."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from rushweed.core.bound.collision_layers import (
    add_collision_layer,
    change_collision_layer,
    meets,
    set_layer,
    set_meeting,
    set_sensor_note,
)
from rushweed.core.bound.shaping import set_side, set_stops
from rushweed.core.project.collision import CollisionLayer
from rushweed.core.project.facts import Side
from rushweed.core.project.project import Project
from rushweed.core.project.shape import Stopping, Stops
from rushweed.core.project.sheet import Piece
from rushweed.core.project.sitting import Edit, Made
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import BODY, CAPTION, font
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Chips, Choice, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper

STOPS: dict[Stops, str] = {"all sides": "All sides", "one-way": "One-way", "sensor": "Sensor"}
COMING: dict[Side, str] = {"above": "Above", "below": "Below", "left": "Left", "right": "Right"}
SENTENCES: dict[Stopping, str] = {
    Stopping("one-way", "above"): "Stops what comes down on it; lets pass from below.",
    Stopping("one-way", "below"): "Stops what comes up against it; lets fall through.",
    Stopping("one-way", "left"): "Stops what comes from the left; lets pass from the right.",
    Stopping("one-way", "right"): "Stops what comes from the right; lets pass from the left.",
    Stopping("sensor"): "Stops nobody; the game is told who touches it.",
}
CELL, NAME, HEAD = 19, 96, 18


class StopsGroup(Group):
    """What the shapes of the selected pieces stop, and on which layer."""

    def __init__(self, number: int, desk: Desk, pieces: Callable[[], list[Piece]]) -> None:
        super().__init__(number, say("Who it stops"))
        self._desk, self._pieces = desk, pieces
        self._bound = Bindings(
            desk,
            self._shaped,
            lambda: counted(len(pieces()), "piece", "pieces"),
            at=lambda: frozenset(piece.number for piece in pieces()),
        )
        self._bound.bind(
            chips := Chips(said(STOPS), name=say("Who it stops")),
            lambda piece: common(shape.stops for shape in piece.shapes or ()),
            set_stops,
            say("Set {what} to {value}"),
        )
        sides = Chips(said(COMING), name=say("Stops what comes from"))
        self._bound.bind(
            sides,
            lambda piece: common(s.side for s in piece.shapes or () if s.stops == "one-way"),
            set_side,
            say("Had {what} stop what comes from {value}"),
        )
        self._layer: Choice[int] = Choice(say("Collision layer"), 132)
        self._bound.bind(
            self._layer,
            lambda piece: common(shape.layer for shape in piece.shapes or ()),
            set_layer,
            say("Put {what} on the layer {value}"),
        )
        self._note = Field(say("What the sensor tells"), say("such as door"))
        self._bound.bind(
            self._note,
            lambda piece: common(s.note for s in piece.shapes or () if s.stops == "sensor"),
            lambda project, numbers, note: set_sensor_note(project, numbers, note.strip()),
            say("Noted {value} on the sensors of {what}"),
        )
        self.add(row(chips, None))
        self._side_row = QWidget()
        self._side_row.setLayout(row(label(say("From")), sides, None))
        self.add(self._side_row)
        self.add(row(label(say("Collision layer")), None, self._layer))
        self._note_row = QWidget()
        self._note_row.setLayout(row(label(say("It tells")), self._note))
        self.add(self._note_row)
        self._layers = LayersEditor(desk)
        self.add_further(self._layers)

    def refresh(self) -> None:
        """Show the selected pieces and the project's layers."""
        layers = self._desk.project.rules.collision
        known = {layer.number: f"{layer.number}  {layer.name}" for layer in layers}
        used = {shape.layer for piece in self._shaped() for shape in piece.shapes or ()}
        unnamed = say("{n}  meets all")
        numbers = sorted({0, *known, *used})
        self._layer.offer({n: known.get(n, unnamed.format(n=n)) for n in numbers})
        self._bound.show()
        self._layers.refresh()
        ways = {shape.stopping for piece in self._pieces() for shape in piece.shapes or ()}
        self._note_row.setVisible(any(way.stops == "sensor" for way in ways))
        self._side_row.setVisible(any(way.stops == "one-way" for way in ways))
        self.result.tell(say(SENTENCES.get(ways.pop(), "")) if len(ways) == 1 else "")

    def _shaped(self) -> list[Piece]:
        return [piece for piece in self._pieces() if piece.shapes]


class LayersEditor(QWidget):
    """The project's collision layers: named, numbered, and who meets whom."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self._desk = desk
        self._chosen: int | None = None
        self.grid = MeetingGrid()
        self.grid.picked.connect(self._pick)
        self.grid.toggled.connect(self._toggle)
        self._bound = Bindings(
            desk,
            self._layer,
            lambda: self._name_of(self._chosen),
            self._do,
            at=lambda: self._chosen,
        )
        name = self._bound.bind(
            Field(say("Name of the layer"), say("such as walls")),
            lambda layer: layer.name,
            lambda project, number, text: _changed(project, number, name=text.strip()),
            say("Called the layer {value}"),
        )
        number = self._bound.bind(
            Stepper(say("Number of the layer"), "", 0, 31, width=72),
            lambda layer: layer.number,
            lambda project, number, value: _changed(project, number, number=int(value)),
            say("Gave the layer {what} the number {value}"),
        )
        add = button(say("Add a layer"), self._add)
        self._remove = button(say("Take it away"), self._take_away, "small")
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(4)
        layout.addWidget(self.grid)
        self._fields = QWidget()
        self._fields.setLayout(row(name, number))
        layout.addWidget(self._fields)
        layout.addLayout(row(add, None, self._remove))

    def refresh(self) -> None:
        """Show the project's layers."""
        layers = self._desk.project.rules.collision
        if not self._layer():
            self._chosen = layers[0].number if layers else None
        self.grid.show_layers(self._desk.project, self._chosen)
        self._fields.setVisible(bool(layers))
        self._remove.setVisible(bool(layers))
        self._bound.show()

    def _layer(self) -> list[CollisionLayer]:
        layers = self._desk.project.rules.collision
        return [layer for layer in layers if layer.number == self._chosen]

    def _name_of(self, number: int | None) -> str:
        layers = self._desk.project.rules.collision
        return next((layer.name for layer in layers if layer.number == number), "")

    def _do(self, words: str, edit: Edit) -> None:
        """Make an edit that tells by which number a layer is known then, and choose that layer."""
        outcome = self._desk.do(words, edit)
        if isinstance(outcome, Made):
            self._pick(outcome.made)

    def _pick(self, number: int) -> None:
        self._chosen = number
        self.refresh()

    def _toggle(self, one: int, other: int) -> None:
        together = not meets(self._desk.project, one, other)
        words = (
            say("Let {one} and {other} meet") if together else say("Kept {one} and {other} apart")
        )
        told = words.format(one=self._name_of(one), other=self._name_of(other))
        self._desk.do(told, lambda project: set_meeting(project, one, other, together))

    def _add(self) -> None:
        def edit(project: Project) -> Made[int]:
            name = say("Layer {n}", n=len(project.rules.collision))
            project, layer = add_collision_layer(project, name)
            return Made(project, layer.number)

        self._do(say("Added a collision layer"), edit)

    def _take_away(self) -> None:
        number = self._chosen
        if number is not None:
            words = say("Took the layer {name} away", name=self._name_of(number))
            self._desk.do(words, lambda p: change_collision_layer(p, number, None))


def _changed(project: Project, number: int, /, **changes: object) -> Made[int]:
    """A collision layer changed, with the number that it has then."""
    layer = next(layer for layer in project.rules.collision if layer.number == number)
    changed = replace(layer, **changes)  # type: ignore[arg-type]
    return Made(change_collision_layer(project, number, changed), changed.number)


class MeetingGrid(QWidget):
    """A cell for every two layers; a click lets them meet or keeps them apart. A click on a name
    chooses that layer."""

    picked = pyqtSignal(int)
    toggled = pyqtSignal(int, int)

    def __init__(self) -> None:
        super().__init__()
        self._project = Project()
        self._chosen: int | None = None
        self.setAccessibleName(say("Which collision layers meet"))
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)

    def show_layers(self, project: Project, chosen: int | None) -> None:
        """Show a project's layers, one of them chosen."""
        self._project, self._chosen = project, chosen
        self.setVisible(bool(self._layers))
        self.setFixedSize(self.sizeHint())
        self.update()

    def sizeHint(self) -> QSize:
        count = len(self._layers)
        return QSize(NAME + int(count * self._cell) + 1, HEAD + count * CELL + 1)

    def cell_rect(self, one: int, other: int) -> QRectF:
        """The cell of two layers, by their places."""
        return QRectF(NAME + other * self._cell, HEAD + one * CELL, self._cell, CELL)

    @property
    def _layers(self) -> tuple[CollisionLayer, ...]:
        return self._project.rules.collision

    @property
    def _cell(self) -> float:
        """How wide a cell is: many have to share the slip's width."""
        return min(float(CELL), 168 / max(len(self._layers), 1))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        place = event.position()
        line = int((place.y() - HEAD) // CELL)
        column = int((place.x() - NAME) // self._cell)
        if 0 <= line < len(self._layers):
            if place.x() < NAME:
                self.picked.emit(self._layers[line].number)
            elif column < len(self._layers):
                self.toggled.emit(self._layers[line].number, self._layers[column].number)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        for line, layer in enumerate(self._layers):
            top = HEAD + line * CELL
            if layer.number == self._chosen:
                wash = QRectF(0, top, self.width(), CELL)
                painter.fillRect(wash, colours.tide_wash)
            painter.setFont(font(BODY))
            painter.setPen(colours.ink)
            name = painter.fontMetrics().elidedText(
                f"{layer.number}  {layer.name}", Qt.TextElideMode.ElideRight, NAME - 8
            )
            area = QRectF(2, top, NAME - 4, CELL)
            painter.drawText(area, Qt.AlignmentFlag.AlignVCenter, name)
            painter.setFont(font(CAPTION))
            painter.setPen(colours.soft_ink)
            over = QRectF(NAME + line * self._cell, 0, self._cell, HEAD)
            painter.drawText(over, Qt.AlignmentFlag.AlignCenter, str(layer.number))
            for column, other in enumerate(self._layers):
                self._paint_cell(painter, line, column, layer.number, other.number)
        painter.end()

    def _paint_cell(self, painter: QPainter, line: int, column: int, one: int, other: int) -> None:
        colours = look.colours
        cell = self.cell_rect(line, column).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setPen(colours.line)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(cell)
        if meets(self._project, one, other):
            painter.save()
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(colours.tide)
            reach = min(cell.width(), cell.height()) / 2 - 3
            ways = (QPointF(0, -reach), QPointF(reach, 0), QPointF(0, reach), QPointF(-reach, 0))
            painter.drawPolygon(QPolygonF([cell.center() + way for way in ways]))
            painter.restore()
