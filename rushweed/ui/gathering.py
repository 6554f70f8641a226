"""Gathering many pictures in the background."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path

from rushweed.core.cut.gathering import add_sheets, see, take_in, with_layers
from rushweed.core.gather.art import Art
from rushweed.core.gather.enlargement import warning_of
from rushweed.core.gather.sequences import expand
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.ui.desk import Desk
from rushweed.ui.text import counted, tr

MOST_TOLD = 3


@dataclass(slots=True)
class Gathered:
    """Sheets that were taken in, and the sentences of those that could not be."""

    sheets: list[Sheet] = field(default_factory=list)
    refusals: list[str] = field(default_factory=list)

    def add_to(self, desk: Desk) -> tuple[str, ...]:
        """Add the sheets as one step of undo. Returns their names."""
        if not self.sheets:
            return ()
        project, names = add_sheets(desk.project, self.sheets)
        what = names[0] if len(names) == 1 else counted(len(names), "picture", "pictures")
        desk.do(tr("Gathered {what}").format(what=what), lambda old: project)
        return names

    def tell_refusals(self) -> str:
        """The first few sentences, and how many more there are."""
        more = len(self.refusals) - MOST_TOLD
        tail = [tr("And {n} more.").format(n=more)] if more > 0 else []
        return "\n".join([*self.refusals[:MOST_TOLD], *tail])


def gather_work(art: Art, paths: list[Path]) -> Iterator[tuple[float, str, Gathered]]:
    """Read, copy and look at every picture, one after the other."""
    gathered = Gathered()
    groups = expand(paths)
    if not groups:
        gathered.refusals.append(
            tr("There is no picture among those. Drop pictures or folders of them.")
        )
    for index, group in enumerate(groups):
        yield index / len(groups), group[0].name, gathered
        try:
            for part in with_layers(art, group):
                sheet = take_in(art, part)
                see(art, sheet)
                warning_of(art, sheet)
                gathered.sheets.append(sheet)
        except Refusal as refusal:
            gathered.refusals.append(str(refusal))
    yield 1.0, "", gathered
