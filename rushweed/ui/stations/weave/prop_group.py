"""Chosen props: what they are called, what they do, how they move, and where they go."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from operator import attrgetter
from typing import Any

from PyQt6.QtWidgets import QWidget

from rushweed.core.project.body import Body, Path
from rushweed.core.project.history import History
from rushweed.core.project.level import Level, Prop, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.props import (
    add_props,
    animations_of,
    change_props,
    duplicate_props,
    flip_props,
    order_props,
    out_of_step,
    play_props,
    remove_props,
    scatter,
    turn_props,
)
from rushweed.core.words import counted, said, say
from rushweed.ui.shell.binding import Bindings, Control
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Chips, Choice, Field, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.body_group import EASINGS, WAYS
from rushweed.ui.stations.weave.parts import Parts
from rushweed.ui.stations.weave.things import PropsAt, Snap, Things

SNAPS: dict[Snap, str] = {"pixel": "Pixel", "grid": "Grid", "edges": "Edges"}


class PropGroup(Group):
    """Chosen props turned, ordered, named, grouped and scattered."""

    def __init__(
        self,
        number: int,
        services: Services,
        things: Things,
        parts: Parts,
        level: Callable[[], Level | None],
        pieces: Callable[[], list[int]],
    ) -> None:
        super().__init__(number, say("Props"))
        self._desk, self._things, self._parts = services.desk, things, parts
        self._level, self._pieces = level, pieces
        self._scattered: History | None = None
        snap = Chips(said(SNAPS), name=say("Snap to"))
        snap.show_value(things.snap)
        snap.entered.connect(self._set_snap)
        self._bound = Bindings(self._desk, self._props, things.called, at=things.at)
        self._name = Field(say("Name of the prop"), say("name"))
        group = Field(say("Group of props"), say("group"))
        self._point(self._name, attrgetter("name"), _with_name, say("Named {what}"))
        self._point(group, attrgetter("group"), _with_group, say("Grouped {what}"))
        self._plays: Choice[str] = Choice(say("Animation of the prop"))
        self._bound.bind(
            self._plays,
            attrgetter("animation"),
            _playing,
            say("Had {what} play"),
        )
        self.add(row(label(say("Snap to")), snap, None))
        commands = services.commands
        front = button(say("To front"), lambda: self._order(True))
        back = button(say("To back"), lambda: self._order(False))
        twice = command_button(commands, "props.duplicate", say("Duplicate"))
        remove = button(say("Remove"), self.remove, tip=say("Delete"))
        self.add(row(front, back, None, spacing=4))
        self.add(row(twice, remove, None, spacing=4))
        self.add(row(self._name, group))
        self._phase = Stepper(say("Ahead by"), say("s"), 0, 3600, 0.1, whole=False, width=84)
        self._point(self._phase, attrgetter("phase"), _with_phase, say("Set {what} out of step"))
        self._ahead = QWidget()
        self._ahead.setLayout(row(self._plays, label(say("ahead"), "caption"), self._phase))
        self.add(self._ahead)
        self._moving = Bindings(self._desk, self._travelling, things.called, at=things.at)
        seconds = Stepper(say("One way in"), say("s"), 0.1, 60, 0.1, whole=False, width=92)
        easing = Chips(said(EASINGS), name=say("Speed along the path"))
        way = Chips(said(WAYS), name=say("Way back"))
        for point, control in (("seconds", seconds), ("easing", easing), ("way", way)):
            self._bind_path(control, point)
        self._path_rows = [seconds, easing, way]
        self.add(row(seconds, None))
        self.add(row(easing, way, None, spacing=4))
        self._count = Stepper(say("How many"), "", 1, 20000, width=78)
        self._count.show_value(12)
        self._apart = Stepper(say("Least distance"), say("px"), 0, 4096, width=92)
        self._apart.show_value(16)
        self._seed = Stepper(say("Seed"), "", 0, 9999, width=78)
        spread = button(
            say("Scatter"),
            self._scatter,
            tip=say("The brush's pieces over the selected part, else the level"),
        )
        self.add(row(spread, self._count, self._seed, None, spacing=4))
        self.add(row(label(say("apart by at least"), "caption"), self._apart, None))

    def refresh(self) -> None:
        """Show the chosen props."""
        props = self._props()
        count = len(props)
        self.aside.setText(counted(count, "chosen", "chosen") if count else "")
        names = animations_of(self._desk.project, props)
        self._ahead.setVisible(bool(names))
        self._plays.offer({"": say("plays nothing")} | {name: name for name in names})
        self._bound.show()
        self._name.setEnabled(count == 1)
        travelling = self._travelling()
        for part in self._path_rows:
            part.setVisible(bool(travelling))
        self._moving.show()

    def remove(self) -> None:
        """Take the chosen props away."""
        if self._do(say("Removed {what}"), remove_props):
            self._things.choose(())

    def _props(self) -> list[Prop]:
        return self._things.props(self._level())

    def _travelling(self) -> list[Prop]:
        """The chosen props that travel by a path of their own or of their piece; none where another
        one is chosen too."""
        props = self._props()
        paths = [path_of(self._desk.project, prop) for prop in props]
        return props if props and all(paths) else []

    def _bind_path(self, control: Control, point: str) -> None:
        """Have a control show and set one point of the chosen props' paths; a prop that moves as
        its piece does has a body of its own from then on."""

        def edit(project: Project, at: PropsAt, value: Any) -> Project:
            def change(prop: Prop) -> Prop:
                path = replace(path_of(project, prop) or Path(()), **{point: value})
                return replace(prop, body=Body("travels", path))

            return change_props(project, *at, change)

        words = say("Changed the path of {what}")
        self._moving.bind(
            control,
            lambda prop: getattr(path_of(self._desk.project, prop), point, None),
            edit,
            words,
        )

    def _set_snap(self, snap: Snap) -> None:
        self._things.snap = snap

    def _point(
        self,
        control: Control,
        read: Callable[[Prop], object],
        change: Callable[[Prop, Any], Prop],
        words: str,
    ) -> None:
        """Have a control show and set one point of the chosen props."""

        def edit(project: Project, at: PropsAt, value: object) -> Project:
            return change_props(project, *at, lambda prop: change(prop, value))

        self._bound.bind(control, read, edit, words)

    def _order(self, to_front: bool) -> None:
        words = say("Brought {what} to the front") if to_front else say("Put {what} behind")
        count = len(self._things.chosen)
        if self._do(words, partial(order_props, to_front=to_front)):
            first = self._whole() - count if to_front else 0
            self._things.choose(range(first, first + count))

    def _whole(self) -> int:
        """How many props the active layer has."""
        level = self._level()
        return len(level.layers[self._desk.selection.layer].props) if level else 0

    def flip(self) -> None:
        """Flip the chosen props across."""
        self._do(say("Flipped {what}"), flip_props)

    def turn(self) -> None:
        """Turn the chosen props by a quarter."""
        self._do(say("Turned {what}"), turn_props)

    def duplicate(self) -> None:
        """Put the chosen props down once more, beside themselves."""
        width = self._desk.project.rules.tile.width
        count = len(self._things.chosen)
        if self._do(say("Duplicated {what}"), partial(duplicate_props, across=width, down=0)):
            self._things.choose(range(self._whole() - count, self._whole()))

    def _do(self, words: str, verb: Callable[..., Project]) -> bool:
        """Make an edit of the chosen props. False when it was refused."""
        level, places = self._desk.selection.level, self._things.chosen
        layer = self._desk.selection.layer
        if not places:
            self._desk.refused.emit(say("Choose props first: take the tool Props and click one."))
            return False
        told = words.format(what=self._things.called())
        done = self._desk.do(told, lambda p: verb(p, level, layer, places))
        self.refresh()
        return done is not None

    def _scatter(self) -> None:
        level = self._level()
        if level is None:
            return
        width, height = self._desk.project.rules.tile
        cells = self._parts.area if self._parts.area.area else bounds(level)
        area = Rect(cells.x * width, cells.y * height, cells.width * width, cells.height * height)
        layer, pieces = self._desk.selection.layer, self._pieces()
        count, seed = int(self._count.value or 1), int(self._seed.value or 0)
        apart = float(self._apart.value or 0)

        def edit(project: Project) -> Project:
            spread = scatter(area, pieces, count, apart, seed)
            return add_props(project, level.name, layer, out_of_step(project, spread, seed))

        if self._desk.history is self._scattered:  # another try takes the place of the last
            self._desk.undo()
        if self._desk.do(say("Scattered props"), edit):
            self._scattered = self._desk.history


def _playing(project: Project, at: PropsAt, name: str) -> Project:
    level, layer, places = at
    return play_props(project, level, layer, places, name)


def _with_phase(prop: Prop, phase: float) -> Prop:
    return replace(prop, phase=phase)


def path_of(project: Project, prop: Prop) -> Path | None:
    """The path by which a prop travels, its own or its piece's; None where it does not."""
    found = project.find(prop.piece)
    body = prop.body or (found[1].body if found else None)
    return (body.path or Path(())) if body and body.kind == "travels" else None


def _with_name(prop: Prop, name: str) -> Prop:
    return replace(prop, name=name.strip())


def _with_group(prop: Prop, group: str) -> Prop:
    return replace(prop, group=group.strip())
