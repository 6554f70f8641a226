"""The tools that draw shapes, and forms that are given at once."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from itertools import chain
from typing import Literal

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton

from rushweed.core.bound.editing import FORMS
from rushweed.core.bound.shaping import full_box
from rushweed.core.project.project import with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.words import counted, say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk
from rushweed.ui.look.icons import icon
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.bound.shape_groups import CommonForms

Tool = Literal["select", "edit", "box", "circle", "polygon", "path"]
DRAWN = ("box", "polygon", "circle")


class ShapeTools(Group):
    """`tool` is the one in hand; `took` tells of another. `pieces` gives those that forms are given
    to."""

    took = pyqtSignal(str)

    def __init__(
        self,
        number: int,
        desk: Desk,
        commands: Commands,
        pieces: Callable[[], Sequence[Piece]],
    ) -> None:
        super().__init__(number, say("Shape"))
        self._desk, self._pieces = desk, pieces
        self.tool: Tool = "select"
        self._chips: dict[str, QPushButton] = {
            name: command_button(commands, f"bound.{name}", text, "tool")
            for name, text in (
                ("select", say("Select")),
                ("edit", say("Edit")),
                ("box", say("Box")),
                ("polygon", say("Polygon")),
                ("circle", say("Circle")),
            )
        }
        for name in DRAWN:
            self._chips[name].setIcon(icon(name, "soft_ink"))
        nothing = command_button(commands, "bound.nothing", say("Nothing solid"))
        self.add(row(self._chips["select"], self._chips["edit"], nothing, None, spacing=4))
        self.add(row(*(self._chips[name] for name in DRAWN), None, spacing=4))
        self._forms = CommonForms(commands, self._give)
        self.add(self._forms)
        self._bind(commands)

    def take(self, tool: Tool) -> None:
        """Take a tool in hand."""
        self.tool = tool
        for other, chip in self._chips.items():
            chip.setChecked(other == tool)
        self.took.emit(tool)

    def refresh(self, sheet: Sheet | None) -> None:
        """Say how many pieces of the sheet are decided."""
        known = [piece.shapes for piece in sheet.pieces] if sheet else []
        left = known.count(None)
        told = say(
            "{n} of {all} have a shape, {left} undecided.",
            n=len(known) - left - known.count(()),
            all=len(known),
            left=left,
        )
        self.result.tell(told if known else "", warns=left > 0)

    def _bind(self, commands: Commands) -> None:
        tools: tuple[Tool, ...] = ("select", "edit", "box", "polygon", "circle")
        for tool in tools:
            commands.bind(f"bound.{tool}", partial(self.take, tool))
        commands.bind("bound.whole", self._give_whole)
        commands.bind("bound.nothing", self._give_nothing)
        commands.bind_stepped("bound.form", lambda place: self._forms.take(FORMS[place]))

    def _give_whole(self) -> None:
        self._give(say("Made {what} solid"), lambda piece: (Shape(full_box(piece.rect.size)),))

    def _give_nothing(self) -> None:
        self._give(say("Decided that nothing of {what} is solid"), lambda piece: ())

    def _give(self, words: str, shapes_for: Callable[[Piece], tuple[Shape, ...]]) -> None:
        """To the selected pieces, else to all of the sheets that nobody decided about."""
        numbers = frozenset(piece.number for piece in self._pieces())
        if not numbers:
            every = chain.from_iterable(self._desk.selection.meant(self._desk.project).values())
            numbers = frozenset(piece.number for piece in every if piece.shapes is None)
        if not numbers:
            told = say("Every piece is decided about. Select those that should be otherwise.")
            self._desk.refused.emit(told)
            return
        self._desk.do(
            words.format(what=counted(len(numbers), "piece", "pieces")),
            lambda p: with_pieces(
                p, numbers, lambda piece: replace(piece, shapes=shapes_for(piece))
            ),
        )
