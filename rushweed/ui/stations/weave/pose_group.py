"""How chosen props stand and move: what they do, their size, turn, tint and opacity, and what that
does to pixels."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from operator import attrgetter
from typing import Any, Literal

from rushweed.core.bound.written_notes import read_notes, written_notes
from rushweed.core.project.body import Body, BodyKind
from rushweed.core.project.level import Level, Prop, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.fitting_props import (
    checked_props,
    fill_gap,
    line_up_props,
    pose_props,
    uneven,
)
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.props import change_props
from rushweed.core.words import counted, said, say
from rushweed.ui.shell.binding import Bindings, Control
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import Check, Choice, Field, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.body_group import KINDS
from rushweed.ui.stations.weave.level_groups import notes_field
from rushweed.ui.stations.weave.parts import Parts
from rushweed.ui.stations.weave.things import PropsAt, Things
from rushweed.ui.stations.weave.tints import colour_or_none, hex_of

AS_DRAWN: dict[str, object] = {
    "across": 1.0,
    "down": 1.0,
    "angle": 0,
    "tint": None,
    "opacity": 1.0,
}
WORDS = (28, 42)
"""How wide the words before the two columns are."""
AS_PIECE = "as its piece"
BODIES = {AS_PIECE: "As its piece"} | KINDS


class PoseGroup(Group):
    """Sets how chosen props stand and move, and fits them to what is around."""

    def __init__(
        self,
        number: int,
        services: Services,
        things: Things,
        parts: Parts,
        level: Callable[[], Level | None],
    ) -> None:
        super().__init__(number, say("As it stands"))
        self._desk, self._level = services.desk, level
        self._things, self._parts = things, parts
        self._bound = Bindings(self._desk, self._props, things.called, at=things.at)
        body = Choice(say("What it does"), 150, said(BODIES))
        self._bound.bind(body, _kind_of, _with_kind, say("Said what {what} do"))
        path = button(
            say("Path"),
            things.begin_path,
            tip=say("Click its points, Enter ends; or drag from a prop with Ctrl"),
        )
        across = Stepper(say("Times as wide"), "", 1 / 64, 64, 1, whole=False, width=84)
        down = Stepper(say("Times as high"), "", 1 / 64, 64, 1, whole=False, width=84)
        angle = Stepper(say("Turned clockwise"), "°", -359, 359, 5, width=84)
        opacity = Stepper(say("Opacity of the prop"), "%", 0, 100, 5, width=84)
        tint = Field(say("Tint of the prop"), "#RRGGBB")
        tint.setFixedWidth(84)
        self._both = Check(say("Both sides"))
        self._both.setToolTip(say("Wide and high go together"))
        self._both.setChecked(True)
        self.beside_title(self._both)
        self._sides = Bindings(
            self._desk,
            self._props,
            things.called,
            at=lambda: (things.at(), self._both.isChecked()),
        )
        self._side(across, "across", "down")
        self._side(down, "down", "across")
        self._point(angle, "angle")
        self._point(opacity, "opacity", lambda share: round(share * 100), lambda n: n / 100)
        self._point(tint, "tint", hex_of, colour_or_none)
        notes = notes_field(say("Notes of the prop"))
        self._point(notes, "notes", written_notes, read_notes)
        fill = button(
            say("Fill this gap"), self._fill, tip=say("As large as the gap that it stands in")
        )
        along = button(
            say("Row"),
            self._line_up,
            tip=say("Edge to edge over the selected part, else over the whole level"),
        )
        plain = button(say("As drawn"), self._reset)
        for first, control, second, other in (
            (say("wide"), across, say("high"), down),
            (say("turn"), angle, say("opaque"), opacity),
        ):
            words = label(first, "caption"), label(second, "caption")
            for word, width in zip(words, WORDS, strict=True):
                word.setFixedWidth(width)
            self.add(row(words[0], control, words[1], other, None))
        word = label(say("tint"), "caption")
        word.setFixedWidth(WORDS[0])
        flip = command_button(services.commands, "props.flip", say("Flip"))
        turn = command_button(services.commands, "props.turn", say("Turn"))
        self.add(row(word, tint, None, flip, turn))
        self.add(row(fill, along, plain, None, spacing=4))
        self.add(row(label(say("It")), body, path, None))
        self.add(row(label(say("Notes")), notes))

    def refresh(self) -> None:
        """Show how the chosen props stand."""
        props = self._props()
        self._bound.show()
        self._sides.show()
        self.aside.setText(self._things.called() if props else "")
        self.result.tell(*self._told(props))

    def _told(self, props: list[Prop]) -> tuple[str, bool]:
        """What the chosen props look like, and whether that should worry."""
        project = self._desk.project
        odd = sum(uneven(project, prop) for prop in props)
        if odd:
            words = say("Pixels of {what} come out in several sizes; whole factors keep them even.")
            return words.format(what=counted(odd, "prop", "props")), True
        if len(props) != 1:
            return "", False
        width, height = prop_area(project, props[0]).size
        return say("Covers {w} × {h} px.", w=width, h=height), False

    def _props(self) -> list[Prop]:
        return self._things.props(self._level())

    def _point(
        self,
        control: Control,
        point: str,
        read: Callable[[Any], Any] = lambda value: value,
        write: Callable[[Any], Any] = lambda value: value,
    ) -> None:
        """Have a control show and set one point of how the chosen props stand."""
        take = attrgetter(point)

        def edit(project: Project, at: PropsAt, value: object) -> Project:
            return pose_props(project, *at, **{point: write(value)})

        words = say("Set how {what} stand")
        self._bound.bind(control, lambda prop: read(take(prop)), edit, words)

    def _side(self, control: Control, side: str, other: str) -> None:
        """Have a control show and set one side of the chosen props, and with it the other one."""

        def edit(project: Project, at: tuple[PropsAt, bool], value: float) -> Project:
            where, both = at

            def change(prop: Prop) -> Prop:
                times = value / getattr(prop, side)
                beside = {other: getattr(prop, other) * times} if both else {}
                return replace(prop, **{side: value, **beside})

            return checked_props(project, *where, change)

        self._sides.bind(control, attrgetter(side), edit, say("Set how {what} stand"))

    def _reset(self) -> None:
        at, chosen = self._desk.selection, self._things.chosen
        self._desk.do(
            say("Put {what} back as drawn", what=self._things.called()),
            lambda p: pose_props(p, at.level, at.layer, chosen, **AS_DRAWN),
        )

    def _fill(self) -> None:
        at, chosen = self._desk.selection, sorted(self._things.chosen)

        def edit(project: Project) -> Project:
            for place in chosen:
                project = fill_gap(project, at.level, at.layer, place)
            return project

        done = self._desk.do(say("Made {what} fill the gap", what=self._things.called()), edit)
        if done is not None and len(chosen) == 1:
            self._things.settle(at.level, at.layer, *chosen)

    def _line_up(self) -> None:
        at, chosen, reach = self._desk.selection, sorted(self._things.chosen), self._reach()

        def edit(project: Project) -> Project:
            for place in chosen:
                project = line_up_props(project, at.level, at.layer, place, reach)
            return project

        self._desk.do(say("Laid {what} in a row", what=self._things.called()), edit)

    def _reach(self) -> Rect:
        """The selected part of the level, else all of it, in pixels."""
        level = self._level()
        width, height = self._desk.project.rules.tile
        cells = self._parts.area
        if not cells.area and level is not None:
            cells = bounds(level)
        return Rect(cells.x * width, cells.y * height, cells.width * width, cells.height * height)


def _kind_of(prop: Prop) -> str:
    return prop.body.kind if prop.body else AS_PIECE


def _with_kind(project: Project, at: PropsAt, kind: BodyKind | Literal["as its piece"]) -> Project:
    def edit(prop: Prop) -> Prop:
        if kind == "as its piece":
            return replace(prop, body=None)
        return replace(prop, body=Body(kind, prop.body.path if prop.body else None))

    return change_props(project, *at, edit)
