"""What one draws with: mixes and patches that are kept."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

from PyQt6.QtCore import pyqtSignal

from rushweed.core.project.drawing_sets import Mix
from rushweed.core.project.project import Project, free_name
from rushweed.core.weave.painting import Brush
from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Choice, button, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.weave.held import Held


class SetsGroup(Group):
    """Mixes and patches: what is kept to draw with. `taken` tells of another brush."""

    taken = pyqtSignal(object)

    def __init__(self, number: int, desk: Desk, held: Held, keep: Callable[[], str]) -> None:
        super().__init__(number, say("Patches and mixes"))
        self._desk, self._held = desk, held
        self._patches: Choice[str] = Choice(say("Patch"), 124)
        self._patches.entered.connect(self._take_patch)
        keep_patch = button(say("Keep selected"), keep, tip=say("Select a part of the level first"))
        self._mixes: Choice[str] = Choice(say("Mix"), 124)
        self._mixes.entered.connect(self._take_mix)
        mix = button(
            say("Mix the brush"),
            self._mix,
            tip=say("One of the brush's tiles at random in each cell"),
        )
        self._weight = Stepper(say("Weight"), say("times"), 1, 99, width=92)
        self._weight.entered.connect(self._set_weight)
        self._weighed: Choice[int] = Choice(say("Tile of the mix"), 90)
        self._weighed.entered.connect(lambda _: self.refresh())
        self.add(row(self._patches, keep_patch, None))
        self.add(row(self._mixes, mix, None))
        self.add(row(self._weighed, self._weight, None))

    def refresh(self) -> None:
        """Show what the project keeps."""
        project, brush = self._desk.project, self._held.brush
        mix = brush.mix if brush else None
        self._patches.offer({patch.name: patch.name for patch in project.patches})
        self._patches.show_value(None, say("a patch"))
        self._mixes.offer({"": say("none")} | {one.name: one.name for one in project.mixes})
        self._mixes.show_value(mix.name if mix else None, say("a mix"))
        tiles = dict(mix.tiles) if mix else {}
        self._weighed.offer({number: str(number) for number in tiles})
        if self._weighed.value is None:
            self._weighed.show_value(next(iter(tiles), None))
        for part in (self._weighed, self._weight):
            part.setVisible(bool(tiles))
        if tiles:
            self._weight.show_value(tiles.get(self._weighed.value or 0, 1))
        self.result.tell(say("Draws {n} tiles at random.", n=len(tiles)) if mix else "")

    def _take_patch(self, name: str) -> None:
        patch = next((one for one in self._desk.project.patches if one.name == name), None)
        if patch is not None:
            self.taken.emit(Brush(patch.rows))

    def _take_mix(self, name: str) -> None:
        mix = next((one for one in self._desk.project.mixes if one.name == name), None)
        brush = self._held.brush
        if mix is not None:
            self.taken.emit(Brush((((mix.tiles[0][0], 0),),), mix))
        elif brush is not None:
            self.taken.emit(Brush(brush.rows))

    def _mix(self) -> None:
        brush = self._held.brush
        numbers = sorted(brush.numbers()) if brush else []
        if len(numbers) < 2:
            self._desk.refused.emit(
                say("Drag over several tiles in the tray first, then mix them.")
            )
            return
        name = free_name(say("Mix"), {one.name for one in self._desk.project.mixes})
        mix = Mix(name, tuple((number, 1) for number in numbers))
        words = say("Made the {name} of {n} tiles", name=name, n=len(numbers))
        if self._desk.do(words, lambda p: replace(p, mixes=(*p.mixes, mix))):
            self.taken.emit(Brush((((numbers[0], 0),),), mix))

    def _set_weight(self, value: int) -> None:
        brush = self._held.brush
        if brush is None or brush.mix is None:
            return
        number, mix = self._weighed.value, brush.mix
        tiles = tuple((n, value if n == number else weight) for n, weight in mix.tiles)
        changed = replace(mix, tiles=tiles)

        def edit(project: Project) -> Project:
            mixes = tuple(changed if one.name == mix.name else one for one in project.mixes)
            return replace(project, mixes=mixes)

        self._desk.do(say("Changed the weights of {name}", name=mix.name), edit)
        self.taken.emit(replace(brush, mix=changed))
