"""Getting pictures from the window: opened, dropped, pasted, or saved anew outside."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication

from rushweed.core.gather.pictures import encode_png
from rushweed.core.values import Refusal
from rushweed.core.words import say, some
from rushweed.ui.canvas.images import from_image
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.outside import Outside, banner_words
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.notice import Notice

SOURCES, CHANGES = 0, 2
"""Faces of Gather."""

if TYPE_CHECKING:
    from rushweed.core.cut.rereading import Reread


class PictureActs(QObject):
    """What brings pictures in. `open_gather` shows a face of Gather."""

    def __init__(
        self,
        desk: Desk,
        jobs: Jobs,
        outside: Outside,
        dialogs: Dialogs,
        notice: Notice,
        open_gather: Callable[[int], object],
    ) -> None:
        super().__init__(jobs)
        self._desk, self._jobs, self._outside = desk, jobs, outside
        self._dialogs, self._notice = dialogs, notice
        self._open_gather = open_gather
        outside.found.connect(self._tell_outside)
        outside.failed.connect(notice.tell)

    def ask_and_gather(self) -> None:
        """Ask for pictures and gather them."""
        self.gather(self._dialogs.ask_pictures())

    def gather(self, paths: list[Path]) -> None:
        """Gather files and folders; each that cannot be read is told, the others come in."""
        from rushweed.ui.gathering import Gathered, gather_work

        def add(gathered: Gathered) -> None:
            before = tuple(gathered.names)
            if not gathered.add_to(self._desk):
                return
            if not self._desk.busy and (not before or self._desk.selection.sheets == before):
                names = tuple(gathered.names)
                self._desk.select(replace(self._desk.selection, sheets=names, pieces=frozenset()))

        def finish(gathered: Gathered) -> None:
            add(gathered)
            if gathered.known:
                self._outside.look()
                what = some(gathered.known)
                self._notice.tell(say("{what}: here already. What changed is told.", what=what))
            if gathered.refusals:
                self._notice.tell(gathered.tell_refusals())

        if paths:
            if not self._desk.busy:
                self._open_gather(SOURCES)
            desk = self._desk
            work = partial(gather_work, desk.project, desk.art, paths)
            self._jobs.start(work, finish, arrived=add)

    def ask_and_gather_folder(self) -> None:
        """Ask for a folder and gather all pictures in it."""
        folder = self._dialogs.ask_picture_folder()
        if folder is not None:
            self.gather([folder])

    def paste(self) -> None:
        """Gather the picture on the clipboard, or the files that were copied in a file manager."""
        from rushweed.core.cut.gathering import place_in_art

        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        urls = data.urls() if data is not None and data.hasUrls() else []
        files = [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]
        if files:
            self.gather(files)
            return
        image = clipboard.image() if clipboard is not None else None
        if image is None or image.isNull():
            self._notice.tell(say("There is no picture on the clipboard. Copy one first."))
            return
        try:
            picture = encode_png(from_image(image))
            place = place_in_art(self._desk.folder, "art/pasted.png", picture)
        except Refusal as refusal:
            self._notice.tell(str(refusal))
            return
        self.gather([self._desk.folder / place])

    def _tell_outside(self, changes: list[Reread]) -> None:
        if changes:
            self._notice.tell(
                banner_words(changes),
                (say("See what changed"), lambda: self._show_changes(changes)),
                (say("Take it in"), lambda: self._outside.take(changes)),
                quiet=True,
            )

    def _show_changes(self, changes: list[Reread]) -> None:
        names = (changes[0].saved.sheet,)
        self._desk.select(replace(self._desk.selection, sheets=names, pieces=frozenset()))
        self._open_gather(CHANGES)
