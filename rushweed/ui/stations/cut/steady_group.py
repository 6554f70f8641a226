"""The group of the slip that steadies animations: one, those of picked frames, or all together."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any, Literal

from rushweed.core.cut import steadying
from rushweed.core.cut.loose import Mask
from rushweed.core.cut.steady_together import (
    SWAY,
    Unrest,
    frames_of,
    is_off_the_ground,
    steady_together,
    unrest_of,
)
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
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
        sheet, mask, names = self._lanes.sheet, self.drawn(), self._scope_names()
        found: list[Unrest] = []
        if sheet is not None and mask is not None:
            found = [one for one in unrest_of(sheet, mask) if one.name in names]
            frames = frames_of(sheet, names)
            self._forget_button.setEnabled(any(any(piece.offset) for piece in frames))
        what = found[0].name if len(found) == 1 else say("all {n}", n=len(found))
        self._steady_all.setVisible(bool(found))
        self._steady_all.setText(say("Steady {what}", what=_short(what)))
        self._steady_all.setToolTip(say("Feet on one line, bodies over each other"))
        if not names:
            self.result.tell("")
        elif found:
            told = ", ".join(_wanders(one) for one in found[:TOLD])
            more = say(", {n} more", n=len(found) - TOLD) if len(found) > TOLD else ""
            self.result.tell(f"{told}{more}.", any(one.feet for one in found))
        else:
            self.result.tell(say("Feet and middles stand still."))

    def _scope_names(self) -> list[str]:
        """The animations that steadying works on: one, those of the picked frames, or all."""
        sheet, animation = self._lanes.sheet, self._lanes.animation()
        picked, scope = self._desk.selection.pieces, self._scope.value
        if sheet is None or animation is None:
            return []
        if scope == "one" or (scope == "picked" and not picked):
            return [animation.name]
        return [a.name for a in sheet.animations if scope == "all" or picked & {*a.frames}]

    def _steady_together(self) -> None:
        sheet, mask, scope = self._lanes.sheet, self.drawn(), self._scope_names()
        if sheet is None or mask is None:
            return
        names = [a.name for a in sheet.animations if a.name in scope and not is_off_the_ground(a)]
        picture = self._desk.art.picture(sheet)
        self._desk.do(
            say("Steadied {what}", what=self._scope_words(names)),
            lambda p: steady_together(p, sheet.name, names, picture),
        )

    def _scope_words(self, names: list[str]) -> str:
        return names[0] if len(names) == 1 else counted(len(names), "animation", "animations")

    def drawn(self) -> Mask | None:
        """What is drawn on the sheet; None where its picture cannot be read."""
        sheet = self._lanes.sheet
        try:
            return solid(self._desk.art.picture(sheet)) if sheet else None
        except Refusal:
            return None

    def _level(self) -> None:
        self._move(say("Levelled the feet of {name}"), steadying.level_feet, self.drawn())

    def _steady_middle(self) -> None:
        self._move(say("Steadied the middle of {name}"), steadying.steady_middle, self.drawn())

    def _steady_body(self) -> None:
        sheet = self._lanes.sheet
        if sheet is not None:
            picture = self._desk.art.picture(sheet)
            self._move(say("Steadied the body of {name}"), steadying.steady_body, picture)

    def _box(self, box: steadying.Box) -> None:
        edit = partial(steadying.common_box, box=box)
        self._move(say("Cut {name} to one box"), edit, self.drawn())
        self._boxes.show_value(None)

    def _move(self, words: str, edit: Callable[..., Project], seen: Any) -> None:
        """Edit the frames of what is steadied, those of several animations together."""
        sheet, names = self._lanes.sheet, self._scope_names()
        frames = frames_of(sheet, names) if sheet is not None else []
        if frames and seen is not None:
            self._desk.do(
                words.format(name=self._scope_words(names)), lambda p: edit(p, frames, seen)
            )

    def _forget_offsets(self) -> None:
        self._move(
            say("Put the frames of {name} back"),
            lambda p, frames, _: steadying.forget_offsets(p, frozenset(f.number for f in frames)),
            True,
        )


def _wanders(one: Unrest) -> str:
    """“walk: feet 3 px, middle 2 px”."""
    parts = [say("feet {n} px", n=one.feet)] if one.feet else []
    if one.middle > SWAY:
        parts.append(say("middle {n} px", n=one.middle))
    return f"{one.name}: {', '.join(parts)}"


def _short(words: str) -> str:
    return words if len(words) <= 12 else f"{words[:11]}…"
