"""Gathering many pictures in the background."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from rushweed.core.cut.gathering import add_sheets, as_sheets, see, take_in
from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import sequences_by_file
from rushweed.core.gather.enlargement import enlargement_of
from rushweed.core.gather.sequences import expand
from rushweed.core.project.history import History
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk

MOST_TOLD = 3


@dataclass(slots=True)
class Gathered:
    """Sheets that were taken in, and the sentences of those that could not be."""

    sheets: list[Sheet] = field(default_factory=list)
    refusals: list[str] = field(default_factory=list)
    names: list[str] = field(default_factory=list)
    known: list[str] = field(default_factory=list)
    """Sheets that are what was gathered once more: numbered pictures of the same folder."""
    _led_to: History | None = None

    def add_to(self, desk: Desk) -> bool:
        """Add the sheets that arrived since the last time; all of them are one step of undo.
        False when there are none. `names` then tells all their names."""
        fresh = self.sheets[len(self.names) :]
        if not fresh:
            return False
        count = len(self.sheets)
        what = fresh[0].name if count == 1 else counted(count, "picture", "pictures")
        words = say("Gathered {what}", what=what)
        last = self._led_to or History(desk.project)
        self._led_to = desk.amend(last, words, lambda project: add_sheets(project, fresh)[0])
        self.names += [sheet.name for sheet in desk.project.sheets[-len(fresh) :]]
        return True

    def tell_refusals(self) -> str:
        """The first few sentences, and how many more there are."""
        more = len(self.refusals) - MOST_TOLD
        tail = [say("And {n} more.", n=more)] if more > 0 else []
        return "\n".join([*self.refusals[:MOST_TOLD], *tail])


def gather_work(
    project: Project, art: Art, paths: list[Path]
) -> Iterator[tuple[float, str, Gathered]]:
    """Read, copy and look at every picture, one after the other; numbered ones that the project has
    from just there are not taken in twice."""
    gathered = Gathered()
    whose = sequences_by_file(project, art.folder)
    groups = expand(paths)
    if not groups:
        gathered.refusals.append(
            say("There is no picture among those. Drop pictures or folders of them.")
        )
    for index, group in enumerate(groups):
        yield index / len(groups), group[0].name, gathered
        before = {whose.get(path.resolve()) for path in group} - {None}
        if len(group) > 1 and len(before) == 1:
            gathered.known += filter(None, before)
            continue
        try:
            for part in as_sheets(art, group):
                sheet = take_in(art, part)
                see(art, sheet)
                enlargement_of(art, sheet)
                gathered.sheets.append(sheet)
        except Refusal as refusal:
            gathered.refusals.append(str(refusal))
    yield 1.0, "", gathered
