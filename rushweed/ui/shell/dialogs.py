"""The few questions that need a dialog, in one place so that tests can answer them."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from rushweed.core.gather.sequences import WANTED
from rushweed.core.words import say

PICTURES = " ".join(f"*{ending}" for ending in sorted(WANTED))
Answer = Literal["save", "discard", "stay"]


class Dialogs:
    """Asks the user; every method returns None or “stay” when the user thinks better of it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        self.parent = parent

    def ask_pictures(self) -> list[Path]:
        names, _ = QFileDialog.getOpenFileNames(
            self.parent, say("Gather pictures"), "", say("Pictures ({kinds})", kinds=PICTURES)
        )
        return [Path(name) for name in names]

    def ask_picture_folder(self) -> Path | None:
        return self._folder(say("Gather a folder of pictures"))

    def ask_project(self) -> Path | None:
        return self._folder(say("Open a project's folder"))

    def ask_save_folder(self, suggested: str) -> Path | None:
        return self._folder(say("Choose a folder for {name}", name=suggested))

    def ask_bundle_folder(self) -> Path | None:
        return self._folder(say("Choose a folder for the bundle"))

    def ask_film_file(self, suggested: str) -> Path | None:
        name, _ = QFileDialog.getSaveFileName(self.parent, say("Write the animation to"), suggested)
        return Path(name) if name else None

    def ask_page_file(self, suggested: str) -> Path | None:
        name, _ = QFileDialog.getSaveFileName(self.parent, say("Hand the walk out as"), suggested)
        return Path(name) if name else None

    def ask_about_changes(self, name: str) -> Answer:
        """Whether to save a project that has changes before leaving it."""
        box = QMessageBox(self.parent)
        box.setText(say("{name} has changes that are not saved.", name=name))
        save = box.addButton(say("Save"), QMessageBox.ButtonRole.AcceptRole)
        discard = box.addButton(say("Leave them"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(say("Stay"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            return "save"
        return "discard" if box.clickedButton() is discard else "stay"

    def _folder(self, title: str) -> Path | None:
        name = QFileDialog.getExistingDirectory(self.parent, title)
        return Path(name) if name else None
