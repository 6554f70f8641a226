"""The Templates face: text files that the game wants, edited beside what they write."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QWidget

from rushweed.core.bale.building import TEMPLATES
from rushweed.core.bale.templates import (
    ENDING,
    check_name,
    read_templates,
    render,
    shipped_templates,
)
from rushweed.core.project import saving
from rushweed.core.project.project import free_name
from rushweed.core.values import Refusal
from rushweed.ui.look.fonts import fixed_font
from rushweed.ui.shell.controls import Check, Choice, Field, button, row
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.shell.station import Services
from rushweed.ui.stations.recipe_groups import RecipeGroup
from rushweed.ui.text import tr

SOON = 250
"""Milliseconds after the last key before the output is written anew."""
MOST_SHOWN = 60_000


class TemplateFace:
    """An editor, its output, and a slip that chooses the template."""

    def __init__(
        self, services: Services, recipes: RecipeGroup, body: Callable[[], Any | None]
    ) -> None:
        self._desk, self._recipes, self._body = services.desk, recipes, body
        self._shown = ""
        self.editor, self.output = QPlainTextEdit(), QPlainTextEdit()
        self.editor.setAccessibleName(tr("Template"))
        self.output.setAccessibleName(tr("What it writes"))
        self.output.setReadOnly(True)
        self.table = QWidget()
        layout = QHBoxLayout(self.table)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.setSpacing(8)
        for part in (self.editor, self.output):
            part.setFont(fixed_font())
            part.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
            layout.addWidget(part)
        self._soon = QTimer(self.table)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON)
        self._soon.timeout.connect(self.preview)
        self.editor.textChanged.connect(self._soon.start)
        self._group = Group(1, tr("Template"))
        self._names = Choice(tr("Template to look at"), 150)
        self._names.picked.connect(self.show_template)
        self._group.beside_title(self._names)
        self._file = Field(tr("File it writes"), tr("such as level.txt"))
        new = button(tr("New"), self._new, tip=tr("A template of your own with the name above"))
        self._save = button(tr("Save it"), self.save, "main", tr("Into the project's templates/"))
        self._remove = button(tr("Remove"), self._take_away)
        self._used = Check(tr("Part of this recipe"), self._use)
        self._group.add(row(self._file, new))
        self._group.add(row(self._save, self._remove, None))
        self._group.add(row(self._used, None))
        self._output_group = Group(2, tr("What it writes"))
        self.slip = SlipPage([self._group, self._output_group])

    def refresh(self) -> None:
        """Show the templates there are."""
        known = self._known()
        if self._shown not in known:
            self._shown = ""
        self._names.show_choices(list(known), self._shown)
        if not self._shown and known:
            self.show_template(next(iter(known)))
        own = self._shown in self._own()
        self._remove.setEnabled(own)
        self._used.setChecked(self._shown in self._recipes.recipe.templates)
        told = tr("Yours, in templates/{name}.").format(name=f"{self._shown}{ENDING}")
        self._group.result.tell(told if own else tr("It came along; saving makes it yours."))
        self.preview()

    def show_template(self, name: str) -> None:
        """Edit another template."""
        self._shown = name
        self.editor.setPlainText(self._known().get(name, ""))
        self.refresh()

    def preview(self) -> None:
        """Write the output anew, or say what is wrong and where."""
        body = self._body()
        if body is None or not self._shown:
            self.output.setPlainText("")
            return
        try:
            known = {**self._known(), self._shown: self.editor.toPlainText()}
            text = render(self._shown, known, body)
        except Refusal as refusal:
            self._output_group.result.tell(str(refusal), warns=True)
            return
        self.output.setPlainText(text[:MOST_SHOWN])
        lines = text.count("\n")
        self._output_group.result.tell(
            tr("{name}: {lines} lines, {size} bytes.").format(
                name=self._shown, lines=lines, size=len(text.encode())
            )
        )

    def save(self) -> None:
        """Keep the template in the project's folder."""
        self._write(self._shown, self.editor.toPlainText())

    def _new(self) -> None:
        name = self._file.text().strip() or free_name("own.txt", set(self._known()))
        try:
            check_name(name)
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        if self._write(name, "{% for piece in bundle.pieces %}\n{{ piece.name }}\n{% endfor %}\n"):
            self.show_template(name)

    def _write(self, name: str, text: str) -> bool:
        folder = self._folder()
        try:
            folder.mkdir(parents=True, exist_ok=True)
            saving.write_file(folder / f"{name}{ENDING}", text.encode())
        except OSError as problem:
            self._desk.refused.emit(saving.explain(problem, folder))
            return False
        self.refresh()
        return True

    def _take_away(self) -> None:
        (self._folder() / f"{self._shown}{ENDING}").unlink(missing_ok=True)
        self.show_template(self._shown)

    def _use(self, on: bool) -> None:
        used = [name for name in self._recipes.recipe.templates if name != self._shown]
        self._recipes.change(templates=(*used, self._shown) if on else tuple(used))

    def _folder(self) -> Path:
        return self._desk.folder / TEMPLATES

    def _own(self) -> dict[str, str]:
        try:
            return read_templates(self._folder())
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return {}

    def _known(self) -> dict[str, str]:
        return {**shipped_templates(), **self._own()}
