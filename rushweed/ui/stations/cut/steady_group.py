"""The group of the slip that steadies animations: one, those of picked frames, or all together."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial
from itertools import chain
from typing import Any, Literal

from rushweed.core.arrays import Mask
from rushweed.core.cut import steadying
from rushweed.core.cut.steady_together import (
    SWAY,
    Unrest,
    frames_of,
    is_off_the_ground,
    steady_together,
    unrest_of,
)
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import NUMBER, Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Chips, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.cut.lanes import Lanes

BOXES: dict[steadying.Box, str] = {
    "all that is drawn": "All that is drawn",
    "feet and middle": "Feet and middle",
}
Scope = Literal["one", "picked", "all"]
SCOPES: dict[Scope, str] = {"one": "This one", "picked": "Picked", "all": "All"}
TOLD = 3


class SteadyGroup(Group):
    """Says how much feet and middles wander, and brings them to rest."""

    def __init__(self, number: int, desk: Desk, lanes: Lanes) -> None:
        super().__init__(number, say("Steady"))
        self._desk, self._lanes = desk, lanes
        self._steady_all = button("", self._steady_together, "small")
        self.beside_title(self._steady_all)
        self._scope: Chips[Scope] = Chips(said(SCOPES), name=say("What is steadied"))
        self._scope.show_value("all")
        self._scope.entered.connect(lambda _: self.refresh())
        feet = button(say("Feet"), self._level, tip=say("Bring all feet to where most of them are"))
        middle = button(
            say("Middle"),
            self._steady_middle,
            tip=say("Bring the middle of what is drawn to one place"),
        )
        body = button(
            say("Body"), self._steady_body, tip=say("Lay bodies on each other; limbs swing")
        )
        self._forget_button = button(
            say("As drawn"), self._forget_offsets, tip=say("Forget all that frames were moved by")
        )
        self._boxes = Chips(said(BOXES), name=say("Common box around"))
        self._boxes.entered.connect(self._box)
        self.add(row(self._scope, None))
        self.add(row(feet, middle, body, self._forget_button, None, spacing=4))
        self.add(row(label(say("Box"), "caption"), self._boxes, None))

    def refresh(self) -> None:
        """Say how much feet and middles wander, and offer to steady what does."""
        scope, found, moved = self._scope_names(), list[Unrest](), False
        for sheet, names in scope:
            mask = self._drawn(sheet)
            if mask is not None:
                found += [one for one in unrest_of(sheet, mask) if one.name in names]
                moved = moved or any(any(piece.offset) for piece in frames_of(sheet, names))
        self._forget_button.setEnabled(moved)
        what = found[0].name if len(found) == 1 else say("all {n}", n=len(found))
        self._steady_all.setVisible(bool(found))
        self._steady_all.setText(say("Steady {what}", what=_short(what)))
        self._steady_all.setToolTip(say("Feet on one line, bodies over each other"))
        if not scope:
            self.result.tell("")
        elif found:
            told = ", ".join(_wanders(one) for one in found[:TOLD])
            more = say(", {n} more", n=len(found) - TOLD) if len(found) > TOLD else ""
            self.result.tell(f"{told}{more}.", any(one.feet for one in found))
        else:
            self.result.tell(say("Feet and middles stand still."))

    def _scope_names(self) -> list[tuple[Sheet, list[str]]]:
        """The animations that steadying works on, of each selected sheet: the one that is worked on
        and its namesakes, those of the picked frames, or all."""
        selection, scope = self._desk.selection, self._scope.value
        animation = self._lanes.animation()
        by_name = scope == "one" or (scope == "picked" and not selection.pieces)
        found = []
        for sheet in selection.chosen(self._desk.project):
            names = [
                one.name
                for one in sheet.animations
                if (
                    (animation is not None and one.name == animation.name)
                    if by_name
                    else scope == "all" or selection.pieces & {*one.frames}
                )
            ]
            if names:
                found.append((sheet, names))
        return found

    def _steady_together(self) -> None:
        scope, art = self._scope_names(), self._desk.art
        still = {
            sheet.name: [
                one.name
                for one in sheet.animations
                if one.name in names and not is_off_the_ground(one)
            ]
            for sheet, names in scope
        }

        def edit(project: Project) -> Project:
            for name, names in still.items():
                picture = art.picture(project.sheet(name))
                project = steady_together(project, name, names, picture) if names else project
            return project

        self._desk.do(say("Steadied {what}", what=_scope_words(still.values())), edit)

    def drawn(self) -> Mask | None:
        """What is drawn on the sheet whose lanes are shown; None where it cannot be read."""
        sheet = self._lanes.sheet
        return self._drawn(sheet) if sheet else None

    def _drawn(self, sheet: Sheet) -> Mask | None:
        try:
            return solid(self._desk.art.picture(sheet))
        except Refusal:
            return None

    def _level(self) -> None:
        self._move(say("Levelled the feet of {name}"), steadying.level_feet, solid)

    def _steady_middle(self) -> None:
        self._move(say("Steadied the middle of {name}"), steadying.steady_middle, solid)

    def _steady_body(self) -> None:
        self._move(say("Steadied the body of {name}"), steadying.steady_body, lambda seen: seen)

    def _box(self, box: steadying.Box) -> None:
        edit = partial(steadying.common_box, box=box)
        self._move(say("Cut {name} to one box"), edit, solid)
        self._boxes.show_value(None)

    def _forget_offsets(self) -> None:
        self._move(
            say("Put the frames of {name} back"),
            lambda p, frames, _: steadying.forget_offsets(p, frozenset(map(NUMBER, frames))),
            lambda seen: seen,
        )

    def _move(
        self, words: str, verb: Callable[..., Project], seen: Callable[[Picture], Any]
    ) -> None:
        """Edit the frames of what is steadied, those of several animations of a sheet together, by
        what is `seen` in its picture."""
        scope, art = self._scope_names(), self._desk.art

        def edit(project: Project) -> Project:
            for old, names in scope:
                sheet = project.sheet(old.name)
                frames = frames_of(sheet, names)
                project = verb(project, frames, seen(art.picture(sheet))) if frames else project
            return project

        if scope:
            self._desk.do(words.format(name=_scope_words(names for _, names in scope)), edit)


def _scope_words(scope: Iterable[list[str]]) -> str:
    names = list(chain.from_iterable(scope))
    return names[0] if len(names) == 1 else counted(len(names), "animation", "animations")


def _wanders(one: Unrest) -> str:
    """“walk: feet 3 px, middle 2 px”."""
    parts = [say("feet {n} px", n=one.feet)] if one.feet else []
    if one.middle > SWAY:
        parts.append(say("middle {n} px", n=one.middle))
    return f"{one.name}: {', '.join(parts)}"


def _short(words: str) -> str:
    return words if len(words) <= 12 else f"{words[:11]}…"
