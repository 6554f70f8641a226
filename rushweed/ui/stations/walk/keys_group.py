"""The keys of a walk, and what becomes of one: copied as keys, or handed out as a page."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from pathlib import Path

from PyQt6.QtWidgets import QApplication

from rushweed.core.bale.handing_out import walk_page
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain, write_file
from rushweed.core.values import Refusal
from rushweed.core.walk.course import Course
from rushweed.core.walk.replay import write_walk
from rushweed.core.words import counted, say
from rushweed.ui.commands.listed import WALK
from rushweed.ui.shell.controls import button, label, row
from rushweed.ui.shell.keys_sheet import keys_of
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group


class KeysGroup(Group):
    """Lists the keys, and hands the walk on."""

    def __init__(self, number: int, services: Services, course: Course) -> None:
        super().__init__(number, say("Keys"))
        self._services, self._desk, self._course = services, services.desk, course
        lines = keys_of(services.commands, WALK)
        listed = label("\n".join(f"{keys}    {words}" for keys, words in lines), "caption")
        listed.setWordWrap(True)
        self.add(listed)
        copy = button(
            say("Copy the walk"),
            self._copy_walk,
            tip=say("The keys since the start, as the command line replays them"),
        )
        hand_out = button(
            say("Hand it out …"),
            self._hand_out,
            tip=say("One file, in which anybody walks this level in a browser"),
        )
        self.add(row(copy, hand_out, None))

    def _copy_walk(self) -> None:
        """Put the keys since the start on the clipboard, as a recorded walk."""
        clipboard = QApplication.clipboard()
        recorded = self._course.recorded
        if clipboard is not None:
            clipboard.setText(write_walk(recorded))
        steps = counted(len(recorded), "step", "steps")
        self.result.tell(say("Copied {steps}.", steps=steps))

    def _hand_out(self) -> None:
        """Write a page in which anybody walks the level."""
        level = self._desk.selection.level
        stem = file_stems([level])[0]
        target = self._services.dialogs.ask_page_file(f"{stem}.html") if level else None
        if target is None:
            return
        project, art = self._desk.project, self._desk.art

        def work() -> Iterator[tuple[float, str, str]]:
            yield 0.0, say("Handing the walk out"), ""
            try:
                write_file(target, walk_page(project, level, art))
            except Refusal as refusal:
                yield 1.0, "", str(refusal)
            except OSError as problem:
                yield 1.0, "", explain(problem, target)

        self._services.jobs.start(work, partial(self._tell_handed_out, target))

    def _tell_handed_out(self, target: Path, problem: str) -> None:
        if problem:
            self._desk.refused.emit(problem)
            return
        told = say("Wrote {file}: open it in a browser, or send it.", file=target.name)
        self.result.tell(told)
