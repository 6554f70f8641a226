"""The active layer, a selected part of the level, and the level as a whole."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from operator import attrgetter
from typing import Any

from rushweed.core.bound.written_notes import read_notes, written_notes
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project, with_level
from rushweed.core.project.rules import View
from rushweed.core.values import Rect
from rushweed.core.weave.levels import (
    add_layer,
    change_layer,
    move_layer,
    remove_layer,
    remove_level,
    rename_level,
    spread_level,
)
from rushweed.core.words import counted, said, say
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindings, Control
from rushweed.ui.shell.controls import Check, Chips, Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.weave.parts import Parts
from rushweed.ui.stations.weave.tints import colour_or_none, hex_of

VIEWS: dict[View, str] = {"side": "Side view", "top-down": "Top-down"}


def notes_field(name: str) -> Field:
    """A line with the game's own notes."""
    field = Field(name, say("gold = 5; locked"))
    field.setToolTip(say("The game's own keys and values, such as gold = 5; locked; says = hello"))
    return field


class LayerGroup(Group):
    """Name, order and look of the active layer."""

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("Layer"))
        self._desk = desk
        self._bound = Bindings(
            desk,
            self._layers,
            self._called,
            at=lambda: (desk.selection.level, desk.selection.layer),
        )
        name = Field(say("Name of the layer"))
        locked = Check(say("Locked"))
        across, down = Check(say("Repeated across")), Check(say("And down"))
        down.setAccessibleName(say("Repeated down"))
        solid = Check(say("Stops walkers"))
        solid.setToolTip(say("Off for what is only looked at, such as a wall behind the walker"))
        opacity = Stepper(say("Opacity"), "%", 0, 100, 5, width=92)
        parallax = Stepper(say("Moves with the view"), "×", 0, 4, 0.05, whole=False, width=92)
        tint = Field(say("Tint"), "#RRGGBB")
        tint.setFixedWidth(84)
        group = Field(say("Group of layers"), say("none"))
        group.setFixedWidth(92)
        self._point(name, "name", write=str.strip)
        self._point(locked, "locked")
        self._point(opacity, "opacity", lambda share: round(share * 100), lambda n: n / 100)
        self._point(parallax, "parallax")
        self._point(tint, "tint", hex_of, colour_or_none)
        self._point(across, "repeated")
        self._point(down, "repeated_down")
        self._point(solid, "solid")
        self._point(group, "group", write=str.strip)
        notes = notes_field(say("Notes of the layer"))
        self._point(notes, "notes", written_notes, read_notes)
        add = button(say("Add"), self._add, tip=say("An empty layer in front of this one"))
        forward = button(say("Forward"), lambda: self._move(1), tip=say("One nearer to the front"))
        back = button(say("Back"), lambda: self._move(-1), tip=say("One nearer to the back"))
        remove = button(say("Remove"), self._remove)
        self.add(row(name, locked))
        self.add(row(label(say("Opacity")), None, opacity))
        self.add(row(label(say("Parallax")), None, parallax))
        self.add(row(across, 12, down, None))
        self.add(row(label(say("Tint")), None, tint))
        self.add(row(label(say("Group")), group, None, solid))
        self.add(row(label(say("Notes")), notes))
        self.add(row(add, forward, back, remove, None, spacing=4))

    def refresh(self) -> None:
        """Show the active layer."""
        self._bound.show()

    def _layer(self) -> Layer | None:
        selection = self._desk.selection
        if not selection.level:
            return None
        return self._desk.project.level(selection.level).layers[selection.layer]

    def _layers(self) -> list[Layer]:
        layer = self._layer()
        return [layer] if layer else []

    def _called(self) -> str:
        return ", ".join(layer.name for layer in self._layers())

    def _point(
        self,
        control: Control,
        point: str,
        read: Callable[[Any], object] = lambda value: value,
        write: Callable[[Any], object] = lambda value: value,
    ) -> None:
        """Have a control show and set one point of the layer; `read` and `write` are between what
        the layer says and what the control shows."""

        def edit(project: Project, at: tuple[str, int], value: object) -> Project:
            level, layer = at
            return change_layer(project, level, layer, **{point: write(value)})

        words = say("Changed the layer {what}")
        self._bound.bind(control, lambda layer: read(getattr(layer, point)), edit, words)

    def _add(self) -> None:
        level, index = self._desk.selection.level, self._desk.selection.layer
        if level and self._desk.do(say("Added a layer"), lambda p: add_layer(p, level, index)):
            self._desk.select(replace(self._desk.selection, layer=index + 1))

    def _move(self, by: int) -> None:
        level, index = self._desk.selection.level, self._desk.selection.layer
        count = len(self._desk.project.level(level).layers) if level else 0
        to = min(max(index + by, 0), count - 1)
        if to != index and self._desk.do(
            say("Moved a layer"), lambda p: move_layer(p, level, index, to)
        ):
            self._desk.select(replace(self._desk.selection, layer=to))

    def _remove(self) -> None:
        level, index, layer = self._desk.selection.level, self._desk.selection.layer, self._layer()
        if layer is not None:
            words = say("Removed the layer {name}", name=layer.name)
            self._desk.do(words, lambda p: remove_layer(p, level, index))


class PartGroup(Group):
    """What can be done with a selected part of the level."""

    def __init__(
        self,
        number: int,
        desk: Desk,
        parts: Parts,
        level: Callable[[], Level | None],
        take: Callable[[], None],
    ) -> None:
        super().__init__(number, say("Selected part"))
        self._desk, self._parts, self._level = desk, parts, level
        copy = button(say("Take as brush"), take, tip=say("Paint with what is selected  C"))
        clear = button(say("Clear"), self._clear, tip=say("Delete"))
        crop = button(say("Cut level to it"), self._crop)
        self._count = Stepper(say("How many rows or columns"), "", 1, 500, width=70)
        rows = button(say("Rows"), lambda: self._spread(True, 1), tip=say("Empty rows above it"))
        columns = button(
            say("Columns"), lambda: self._spread(False, 1), tip=say("Empty columns before it")
        )
        self._take_out = Check(say("take out"))
        self.add(row(copy, clear, None))
        self.add(row(crop, None))
        self.add(row(label(say("Put in")), self._count, rows, columns, None, spacing=4))
        self.add(row(self._take_out, None))

    def _clear(self) -> None:
        level = self._level()
        if level is not None:
            self._parts.clear(level)

    def _crop(self) -> None:
        level = self._level()
        if level is not None:
            self._parts.crop(level)

    def _spread(self, rows: bool, sign: int) -> None:
        level, area = self._level(), self._parts.area
        if level is None or not area.area:
            self._desk.refused.emit(say("Drag over a part of the level first."))
            return
        count = int(self._count.value or 1) * (-1 if self._take_out.isChecked() else sign)
        at = area.y if rows else area.x
        nouns = ("row", "rows") if rows else ("column", "columns")
        verb = say("Took out {what}") if count < 0 else say("Put in {what}")
        words = verb.format(what=counted(abs(count), *nouns))
        self._desk.do(words, lambda p: spread_level(p, level.name, at, count, rows))


class LevelGroup(Group):
    """The level as a whole: its name in the game's colours, and which way it is seen."""

    def __init__(self, number: int, desk: Desk, canvas: Canvas) -> None:
        super().__init__(number, say("Level"))
        self._desk, self._canvas = desk, canvas
        self._bound = Bindings(desk, self._levels, self._open, at=self._open)
        self._name = Field(say("Name of the level"))
        self._name.entered.connect(self._rename)
        remove = button(say("Remove level"), self._take_away)
        self.add(row(self._name, remove))
        view = Chips(said(VIEWS), name=say("Seen"))
        background = Field(say("Background colour"), say("as the project"))
        background.setFixedWidth(110)
        self._bound.bind(
            view,
            attrgetter("view"),
            lambda project, name, seen: _changed(project, name, view=seen),
            say("Set how {what} is seen"),
        )
        self._bound.bind(
            background,
            lambda level: hex_of(level.background),
            lambda project, name, text: _changed(project, name, background=colour_or_none(text)),
            say("Set the background of {what}"),
        )
        notes = notes_field(say("Notes of the level"))
        self._bound.bind(
            notes,
            lambda level: written_notes(level.notes),
            lambda project, name, line: _changed(project, name, notes=read_notes(line)),
            say("Set the notes of {what}"),
        )
        self._column = Stepper(say("Column to go to"), "", -99999, 99999, width=84)
        self._row = Stepper(say("Row to go to"), "", -99999, 99999, width=84)
        go = button(
            say("Go to"),
            lambda: self.go_to(int(self._column.value or 0), int(self._row.value or 0)),
        )
        self.add(row(view, None))
        self.add(row(label(say("Background")), None, background))
        self.add(row(label(say("Notes")), notes))
        for stepper in (self._column, self._row):
            stepper.show_value(0)
        self.add(row(go, self._column, self._row, None, spacing=4))

    def refresh(self) -> None:
        """Show the open level."""
        level = self._level()
        if level is not None:
            self._name.show_value(level.name)
        self._bound.show()

    def _open(self) -> str:
        """The name of the open level."""
        return self._desk.selection.level

    def _level(self) -> Level | None:
        name = self._open()
        return self._desk.project.level(name) if name else None

    def _rename(self, text: str) -> None:
        old, new = self._desk.selection.level, text.strip()
        words = say("Renamed the level to {name}", name=new)
        if old and self._desk.do(words, lambda p: rename_level(p, old, new)):
            layer = self._desk.selection.layer
            self._desk.select(replace(self._desk.selection, level=new, layer=layer))
        self.refresh()

    def _take_away(self) -> None:
        name = self._desk.selection.level
        words = say("Removed the level {name}", name=name)
        self._desk.do(words, lambda p: remove_level(p, name))

    def go_to(self, column: int, row: int) -> None:
        """Show a cell in the middle of the lens."""
        width, height = self._desk.project.rules.tile
        self._canvas.centre_on(Rect(column * width, row * height, width, height))

    def _levels(self) -> list[Level]:
        level = self._level()
        return [level] if level else []


def _changed(project: Project, level: str, /, **changes: object) -> Project:
    return with_level(project, level, lambda old: replace(old, **changes))  # type: ignore[arg-type]
