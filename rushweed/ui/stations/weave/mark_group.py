"""Marks: named places for the game's code, with notes of their own."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from rushweed.core.bound.written_notes import read_notes, written_notes
from rushweed.core.project.level import Level, Mark
from rushweed.core.values import Refusal
from rushweed.core.weave.props import add_mark, remove_mark
from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Field, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.stations.weave.level_groups import notes_field
from rushweed.ui.stations.weave.things import Things


class MarkGroup(Group):
    """The name that the next mark gets, and the notes of the one that has it."""

    def __init__(
        self, number: int, desk: Desk, things: Things, level: Callable[[], Level | None]
    ) -> None:
        super().__init__(number, say("Marks"))
        self._desk, self._things, self._level = desk, things, level
        self._name = Field(say("Name of the mark"), say("name of the mark"))
        self._name.textEdited.connect(self._choose)
        self._notes = notes_field(say("Notes of the mark"))
        self._notes.entered.connect(self._write_notes)
        self._remove = button(say("Remove"), self._take_away)
        self.add(row(self._name, self._remove))
        self.add(row(label(say("Notes")), self._notes))

    def refresh(self) -> None:
        """Show the mark whose name is chosen."""
        mark = self._mark()
        if self._things.mark_name != self._name.text().strip():
            self._name.show_value(self._things.mark_name)
        self._notes.show_value(written_notes(mark.notes) if mark else "")
        self._notes.setEnabled(mark is not None)
        self._remove.setEnabled(mark is not None)

    def _mark(self) -> Mark | None:
        level, name = self._level(), self._things.mark_name
        return next((mark for mark in level.marks if mark.name == name), None) if level else None

    def _choose(self, text: str) -> None:
        self._things.mark_name = text.strip()
        self.refresh()

    def _write_notes(self, line: str) -> None:
        level, mark = self._level(), self._mark()
        if level is None or mark is None:
            return
        try:
            noted = replace(mark, notes=read_notes(line))
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        words = say("Set the notes of {what}", what=mark.name)
        self._desk.do(words, lambda project: add_mark(project, level.name, noted))

    def _take_away(self) -> None:
        level, mark = self._level(), self._mark()
        if level is not None and mark is not None:
            words = say("Removed the mark {name}", name=mark.name)
            self._desk.do(words, lambda project: remove_mark(project, level.name, mark.name))
