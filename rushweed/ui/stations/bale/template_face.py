"""The Templates face: text files that the game wants, edited beside what they write."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from PyQt6.QtWidgets import QHBoxLayout, QPlainTextEdit, QWidget

from rushweed.core.bale.rendering import ENDING
from rushweed.core.bale.templates import (
    Rendering,
    check_name,
    read_templates,
    shipped_templates,
)
from rushweed.core.folder.inside import Inside
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.project import free_name
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.ui.look.fonts import fixed_font
from rushweed.ui.shell.controls import Check, Choice, Field, button, row
from rushweed.ui.shell.face import Face
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group, SlipPage
from rushweed.ui.soon import soon
from rushweed.ui.stations.bale.pages_face import PagesFace
from rushweed.ui.stations.bale.template_colours import TemplateEditor

SOON = 250
"""Milliseconds after the last key before the output is written anew."""
MOST_SHOWN = 60_000


class TemplateFace(Face):
    """An editor, its output, and a slip that chooses the template."""

    name = say("Templates")
    arranged_as = "Templates"

    def __init__(self, services: Services, pages: PagesFace) -> None:
        super().__init__(services)
        self._pages = pages
        self._written_from: object = None
        """The bundle whose manifest was written last."""
        pages.making.made.connect(self._follow)
        self._shown = ""
        self._writing: Rendering | None = None
        self.editor, self.output = TemplateEditor(), QPlainTextEdit()
        for text in (self.editor, self.output):
            text.setTabChangesFocus(True)  # or the keys would not get away from it
        self.editor.setAccessibleName(say("Template"))
        self.output.setAccessibleName(say("What it writes"))
        self.output.setReadOnly(True)
        self.table = QWidget()
        layout = QHBoxLayout(self.table)
        layout.setContentsMargins(8, 8, 8, 8)
        layout.setSpacing(8)
        for part in (self.editor, self.output):
            part.setFont(fixed_font())
            part.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
            layout.addWidget(part)
        self._soon = soon(self.table, SOON, self.preview)
        self.editor.textChanged.connect(self._take_note)
        self._group = Group(1, say("Template"))
        self._names: Choice[str] = Choice(say("Template to look at"), 150)
        self._names.entered.connect(self.show_template)
        self._group.beside_title(self._names)
        self._file = Field(say("File it writes"), say("such as level.txt"))
        new = button(say("New"), self._new, tip=say("A template of your own with the name above"))
        self._save = button(say("Save it"), self.save, "main", say("Into the project's templates/"))
        self._remove = button(say("Remove"), self._take_away)
        self._used = Check(say("Part of this recipe"), self._use)
        self._group.add(row(self._file, new))
        self._group.add(row(self._save, self._remove, None))
        self._group.add(row(self._used, None))
        self._output_group = Group(2, say("What it writes"))
        self.slip = SlipPage([self._group, self._output_group])

    def refresh(self) -> None:
        """Show the templates there are."""
        self._pages.make_bundle()
        known = self._known()
        if self._shown not in known:
            self._shown = ""
        self._names.offer({name: name for name in known})
        self._names.show_value(self._shown)
        if not self._shown and known:
            self.show_template(next(iter(known)))
        own = self._shown in self._own()
        self._remove.setEnabled(own)
        self._used.show_value(self._shown in self._pages.recipes.recipe.templates)
        self._tell_state()
        self.preview()

    def _tell_state(self) -> None:
        """Say whose the template is, and whether its text was written."""
        if self._path(self._shown) in self.desk.drafts:
            told = say("Changed, and not written yet. Builds use the text in the file.")
        elif self._shown in self._own():
            told = say("Yours, in templates/{name}.", name=f"{self._shown}{ENDING}")
        else:
            told = say("It came along; saving makes it yours.")
        changed = self._path(self._shown) in self.desk.drafts
        self._save.setEnabled(changed or self._shown not in self._own())
        self._group.result.tell(told, changed)

    def _take_note(self) -> None:
        """Keep what was typed as a draft, until it is written."""
        self._soon.start()
        text, path = self.editor.toPlainText(), self._path(self._shown)
        if not self._shown or text == self._stored().get(self._shown):
            self.desk.drafts.pop(path, None)
        else:
            self.desk.drafts[path] = text
        self._tell_state()
        self.desk.saved_changed.emit()

    def show_template(self, name: str) -> None:
        """Edit another template."""
        self._shown = ""
        self.editor.setPlainText(self._known().get(name, ""))
        self._shown = name
        self.refresh()

    def preview(self) -> None:
        """Write the output anew, or say what is wrong and where."""
        self._stop_writing()
        self._written_from = self._pages.making.bundle
        manifest = self._pages.manifest()
        if manifest is None or not self._shown:
            self.output.setPlainText("")
            self._output_group.result.tell(say("It is written once the pages are made."))
            return
        name, known = self._shown, {**self._known(), self._shown: self.editor.toPlainText()}
        writing = self._writing = Rendering([name], known, manifest)

        def work() -> Iterator[tuple[float, str, str | Refusal]]:
            try:
                yield 1.0, say("Writing"), writing.texts()[name]
            except Refusal as refusal:
                yield 1.0, say("Writing"), refusal

        def done(result: str | Refusal) -> None:
            if self._writing is writing:
                self._writing = None
                self._show_output(name, result)

        self._output_group.result.tell(say("Writing {name} …", name=name))
        self.services.jobs.start(work, done, quiet=True, ending=writing.stop)

    def _follow(self) -> None:
        """Write anew what another bundle makes of it."""
        if self.table.isVisible() and self._written_from is not self._pages.making.bundle:
            self.preview()

    def _stop_writing(self) -> None:
        """End what is being written, for it is not wanted any more."""
        if self._writing is not None:
            self._writing.stop()
            self._writing = None

    def _show_output(self, name: str, result: str | Refusal) -> None:
        if isinstance(result, Refusal):
            self._output_group.result.tell(str(result), warns=True)
            return
        self.output.setPlainText(result[:MOST_SHOWN])
        self._output_group.result.tell(
            say(
                "{name}: {lines} lines, {size} bytes.",
                name=name,
                lines=result.count("\n"),
                size=len(result.encode()),
            )
        )

    def save(self) -> None:
        """Keep the template in the project's folder."""
        self._write(self._shown, self.editor.toPlainText())
        self._pages.make_bundle()

    def _new(self) -> None:
        name = self._file.text().strip() or free_name("own.txt", set(self._known()))
        try:
            check_name(name)
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            return
        if self._write(name, "{% for piece in bundle.pieces %}\n{{ piece.name }}\n{% endfor %}\n"):
            self.show_template(name)

    def _write(self, name: str, text: str) -> bool:
        self.desk.drafts[self._path(name)] = text
        try:
            self.desk.write_draft(self._path(name))
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            return False
        self.refresh()
        return True

    def _take_away(self) -> None:
        """Take the file away; its text stays here as a draft, so that it can be written again."""
        name, text = self._shown, self.editor.toPlainText()
        try:
            Inside(self.desk.folder).remove(self._path(name))
        except (OSError, Refusal) as problem:
            self.desk.refused.emit(str(problem))
            return
        self.desk.drafts[self._path(name)] = text
        self.refresh()
        self._group.result.tell(
            say("The file is gone. Its text is still here: “Save it” brings it back."), warns=True
        )
        self._pages.make_bundle()

    def _use(self, on: bool) -> None:
        used = [name for name in self._pages.recipes.recipe.templates if name != self._shown]
        self._pages.recipes.change(templates=(*used, self._shown) if on else tuple(used))

    def _folder(self) -> Path:
        return self.desk.folder / TEMPLATES

    def _own(self) -> dict[str, str]:
        try:
            return read_templates(self._folder())
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            return {}

    def _stored(self) -> dict[str, str]:
        """The templates as they are on disk."""
        return {**shipped_templates(), **self._own()}

    def _known(self) -> dict[str, str]:
        """The templates with what was typed since."""
        names = {path: Path(path).name.removesuffix(ENDING) for path in self.desk.drafts}
        drafts = {name: self.desk.drafts[path] for path, name in names.items()}
        return {**self._stored(), **drafts}

    def _path(self, name: str) -> str:
        return f"{TEMPLATES}/{name}{ENDING}"
