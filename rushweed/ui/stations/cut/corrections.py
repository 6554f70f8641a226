"""The group of the slip that corrects pieces by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from operator import attrgetter
from typing import get_args

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QPushButton, QWidget

from rushweed.core.arrays import Mask
from rushweed.core.cut.correcting import (
    bring_back,
    common_size,
    duplicate,
    join,
    leave_out,
    pad,
    set_rect,
    split,
    split_by_cells,
    thinnest,
    trim,
)
from rushweed.core.cut.cutting import cut
from rushweed.core.cut.likeness import alike_pieces, shown
from rushweed.core.cut.naming import piece_index
from rushweed.core.cut.repeating import Repeat, best_repeat
from rushweed.core.gather.art import Art
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import NUMBER, Project
from rushweed.core.project.sitting import Edit, Made, Outcome
from rushweed.core.values import Refusal, Size
from rushweed.core.words import counted, say
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.listed import STEPS
from rushweed.ui.shell.command_buttons import command_button
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.stations.cut.hand_cuts import HandCuts, HandTool

Verb = Callable[[Project, str, frozenset[int]], Project]
NUMBERS_WIDTH, NUMBERS_HEIGHT = 130, 26
"""A label of fixed size does not lay the window out anew when its text changes in a drag."""
SEEN = 12
"""A mismatch of edges above this is seen in the game."""


class Corrections(Group):
    """Tools for the table, in a `bar` above it, and buttons that work on the selected pieces."""

    took = pyqtSignal(str)

    def __init__(self, number: int, canvas: SheetCanvas, commands: Commands) -> None:
        super().__init__(number, say("Correct by hand"))
        self._canvas = canvas
        self._desk = canvas.desk
        self._commands = commands
        self._offered: list[tuple[QPushButton, int]] = []
        self.hand = HandCuts(canvas)
        self._bind(commands)
        self._make_tools()
        self._make_buttons()
        self._make_border()
        self.take("select")
        self.aside.setFixedSize(NUMBERS_WIDTH, NUMBERS_HEIGHT)
        self.aside.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)

    def _make_tools(self) -> None:
        texts: dict[HandTool, str] = {
            "select": say("Select"),
            "edges": say("Edges"),
            "piece": say("Draw"),
            "split": say("Split"),
        }
        self.tools = {
            name: command_button(self._commands, f"cut.{name}", text, "tool")
            for name, text in texts.items()
        }
        self.bar = QWidget()
        self.bar.setLayout(row(*self.tools.values(), None, spacing=4))

    def _make_buttons(self) -> None:
        commands, offer = self._commands, self._offered_for
        joins = offer(command_button(commands, "cut.join", say("Join")), 2)
        leaves = offer(command_button(commands, "cut.leave_out", say("Leave out")))
        self._thin = command_button(commands, "cut.thin", say("Split where thin"))
        self._alike = command_button(commands, "cut.alike", say("Look-alikes"))
        tip = say("Cut empty borders off")
        trims = offer(button(say("Trim"), self._do_trim, tip=tip))
        tip = say("As large as the largest, each on its own foot")
        evens = offer(button(say("One size"), self._do_common_size, tip=tip), 2)
        tip = say("Cut again what was left out")
        self._back = button(say("Bring back"), self._do_bring_back, tip=tip)
        tip = say("Cut the same once more, as another piece")
        twice = offer(button(say("Duplicate"), self._do_duplicate, tip=tip))
        tip = say("Trim so that it repeats: cut off the rim until opposite edges meet")
        repeats = offer(button(say("Repeat"), self._do_repeat, tip=tip))
        self.add(row(joins, self._thin, trims, None, spacing=4))
        self.add(row(evens, leaves, self._back, None, spacing=4))
        self.add(row(twice, self._alike, repeats, None, spacing=4))

    def _make_border(self) -> None:
        offer, tip = self._offered_for, say("By so many pixels on all sides")
        self._border = Stepper(say("Border"), say("px"), 1, 1024, width=84)
        self._border.show_value(1)
        wider = offer(button(say("Grow"), partial(self._do_pad, 1), tip=tip))
        tighter = offer(button(say("Shrink"), partial(self._do_pad, -1), tip=tip))
        self.add(row(label(say("Border")), self._border, wider, tighter, None))
        self._cell = [Stepper(name, "", 1, 4096, width=74) for name in (say("Wide"), say("High"))]
        for stepper in self._cell:
            stepper.show_value(16)
        tip = say("Cut the selected pieces into cells of this size")
        cells = offer(button(say("Cut up"), self._do_cells, tip=tip))
        cells.setAccessibleName(say("Cut up into cells"))
        self.add(row(label(say("Cells")), *self._cell, cells, None))

    def _offered_for(self, act: QPushButton, least: int = 1) -> QPushButton:
        """Offer an act while at least so many pieces are selected."""
        self._offered.append((act, least))
        return act

    def refresh(self) -> None:
        """Offer what can be done with what is selected."""
        sheet = self._canvas.sheet
        count = len(self._canvas.selected_pieces())
        for act, least in self._offered:
            act.setEnabled(count >= least)
        self._thin.setEnabled(count == 1)
        self._alike.setEnabled(count == 1)
        self.aside.setText(self._numbers())
        gone = len(sheet.left_out) if sheet else 0
        self._back.setEnabled(gone > 0)
        by_hand = sum(map(attrgetter("by_hand"), sheet.pieces)) if sheet else 0
        told = [say("{n} by hand, kept by a new layout", n=by_hand)] if by_hand else []
        told += [say("{n} left out", n=gone)] if gone else []
        self.result.tell("; ".join(told) + "." if told else "")

    def _numbers(self) -> str:
        """Index, row, column and rectangle of the one selected piece."""
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        if sheet is None or len(chosen) != 1:
            return ""
        x, y, width, height = chosen[0].rect
        place = piece_index(sheet, chosen[0]) + 1
        where = say(
            "row {row}, column {column}", row=chosen[0].row + 1, column=chosen[0].column + 1
        )
        return f"{place}: {where}\n{x}, {y}, {width} × {height} px"

    # -- acts ---------------------------------------------------------------------

    def take(self, tool: HandTool) -> None:
        self.hand.take(tool)
        self.took.emit(tool)
        for name, chip in self.tools.items():
            chip.setChecked(name == tool)

    def _do_join(self) -> None:
        self._do(say("Joined {what}"), join)

    def _do_trim(self) -> None:
        self._do(say("Trimmed {what}"), partial(_trimmed, self._desk.art))

    def _do_common_size(self) -> None:
        self._do(say("Gave {what} one size"), common_size)

    def _do_leave_out(self) -> None:
        self._do(say("Left out {what}"), leave_out)

    def _do_duplicate(self) -> None:
        self._do(say("Duplicated {what}"), duplicate)

    def _do_cells(self) -> None:
        cell = Size(*(int(stepper.value or 1) for stepper in self._cell))
        words = say("Split {what} into cells")
        self._do(words, partial(_in_cells, self._desk.art, cell))

    def _do_repeat(self) -> None:
        """Trim the selected pieces so that they repeat, and say how well."""
        picked, art = self._picked(), self._desk.art

        def edit(project: Project) -> Made[list[Repeat]]:
            found = []
            for name, numbers in picked.items():
                sheet = project.sheet(name)
                for piece in sheet.pieces:
                    if piece.number in numbers:
                        best = best_repeat(art.piece(sheet, piece), piece.rect)
                        found.append(best)
                        if best.rect != piece.rect:
                            project = set_rect(project, name, piece.number, best.rect)
            return Made(project, found)

        outcome = self._make(say("Trimmed {what} to repeat"), edit)
        if isinstance(outcome, Made) and outcome.made:
            self._tell_repeat(outcome.made)

    def _tell_repeat(self, found: list[Repeat]) -> None:
        worst = max(found, key=lambda repeat: sum(repeat.after))
        told = say("Edges were apart by {a} across and {b} down; now by {c} and {d}, of 255.")
        figures = (*worst.before, *worst.after)
        self.result.tell(
            told.format(**{k: f"{v:.0f}" for k, v in zip("abcd", figures, strict=True)}),
            warns=sum(worst.after) > SEEN,
        )

    def _select_alike(self) -> None:
        sheet, chosen = self._canvas.sheet, self._canvas.selected_pieces()
        if sheet is None or len(chosen) != 1:
            return
        words = shown(self._desk.art.picture(sheet))
        rects = [piece.rect for piece in sheet.pieces]
        places = alike_pieces(words, rects, chosen[0].rect)
        numbers = frozenset(sheet.pieces[place].number for place in places)
        self._desk.select(replace(self._desk.selection, pieces=numbers))

    def _do_pad(self, sign: int) -> None:
        by = sign * int(self._border.value or 1)
        words = say("Added a border to {what}") if by > 0 else say("Took a border off {what}")
        self._do(words, lambda p, s, n: pad(p, s, n, by))

    def _do_thin(self) -> None:
        self._do(say("Split {what} where it is thin"), partial(_thinly_split, self._desk.art))

    def _do_bring_back(self) -> None:
        art, names = self._desk.art, self._desk.selection.sheets

        def edit(project: Project) -> Project:
            for name in names:
                project = bring_back(project, name)
                layout = project.sheet(name).layout
                if layout is not None:
                    project = cut(project, name, layout, _mask(art, project, name))
            return project

        self._desk.do(say("Brought back what was left out"), edit)

    def _do(self, words: str, verb: Verb) -> None:
        """Do something to the selected pieces of each sheet, on every sheet that has any."""
        picked = self._picked()

        def edit(project: Project) -> Project:
            for name, numbers in picked.items():
                project = verb(project, name, numbers)
            return project

        self._make(words, edit)

    def _make(self, words: str, edit: Edit) -> Outcome | None:
        """Make an edit of the selected pieces, named in its words."""
        count = sum(map(len, self._picked().values()))
        if not count:
            self._desk.refused.emit(
                say("Select the pieces first: click one, or drag over several.")
            )
            return None
        return self._desk.do(words.format(what=counted(count, "piece", "pieces")), edit)

    def _picked(self) -> dict[str, frozenset[int]]:
        """The numbers of the selected pieces by their sheets."""
        picked = self._desk.selection.picked(self._desk.project)
        return {name: frozenset(map(NUMBER, pieces)) for name, pieces in picked.items()}

    def _bind(self, commands: Commands) -> None:
        for tool in get_args(HandTool):
            commands.bind(f"cut.{tool}", partial(self.take, tool))
        commands.bind("cut.turn_line", self.hand.turn_line)
        commands.bind("cut.join", self._do_join)
        commands.bind("cut.thin", self._do_thin)
        commands.bind("cut.alike", self._select_alike)
        commands.bind("cut.leave_out", self._do_leave_out)
        commands.bind_stepped(
            "cut.nudge", lambda way: self.hand.nudge(*STEPS[way]), lambda: self.hand.tool == "edges"
        )


def _mask(art: Art, project: Project, name: str) -> Mask:
    return solid(art.picture(project.sheet(name)))


def _trimmed(art: Art, project: Project, name: str, numbers: frozenset[int]) -> Project:
    return trim(project, name, numbers, _mask(art, project, name))


def _in_cells(
    art: Art, cell: Size, project: Project, name: str, numbers: frozenset[int]
) -> Project:
    return split_by_cells(project, name, numbers, cell, _mask(art, project, name))


def _thinly_split(art: Art, project: Project, name: str, numbers: frozenset[int]) -> Project:
    if len(numbers) != 1:
        raise Refusal("Select the one piece that is to be split.")
    piece = next(p for p in project.sheet(name).pieces if p.number in numbers)
    way, at = thinnest(_mask(art, project, name), piece.rect)
    return split(project, name, piece.number, way, at)
