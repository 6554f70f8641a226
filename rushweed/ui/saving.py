"""Saving large projects while the window goes on."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from rushweed.core.project import files
from rushweed.core.project.cells import CHUNK
from rushweed.core.project.known import Changed, Known
from rushweed.core.project.project import Project
from rushweed.core.words import say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs, Turn

MANY_CELLS, MANY_PIECES = 300_000, 10_000
"""Projects of more cells or pieces than this are saved beside the window."""


class Saving:
    """Writes the project as it is now to its folder; what is done meanwhile is saved the next
    time."""

    def __init__(self, desk: Desk, jobs: Jobs, told: Callable[[], object]) -> None:
        """`told` hears that it was written."""
        self._desk, self._jobs, self._told = desk, jobs, told
        self._turn = Turn(self._begin)
        self.begin = self._turn.ask

    def wait(self) -> None:
        """Let what is being written end."""
        if self._turn.job is not None:
            self._turn.job.wait()

    def _begin(self) -> None:
        desk, words = self._desk, say("Saving")
        project, folder, known = desk.history.project, desk.folder, desk.known

        def work() -> Iterator[tuple[float, str, Known | Changed]]:
            result: Known | Changed = known
            yield 0.0, words, result
            try:
                result = files.save(project, folder, known)
            except Changed as changed:
                result = changed
            yield 1.0, words, result

        def done(result: Known | Changed) -> None:
            if isinstance(result, Changed):
                desk.refused.emit(str(result))
                desk.elsewhere.emit()
                return
            desk.note_saved(project, result)
            self._told()

        self._turn.start(self._jobs, work, done)


def is_much(project: Project) -> bool:
    """Whether it takes so long to write a project that nobody should wait for it."""
    layers = [layer for level in project.levels for layer in level.layers]
    cells = sum(len(layer.cells.chunks) for layer in layers) * CHUNK * CHUNK
    return cells > MANY_CELLS or sum(len(s.pieces) for s in project.sheets) > MANY_PIECES
