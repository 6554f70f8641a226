"""The group of the slip in which a sheet's animations are written in one line."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFocusEvent, QKeyEvent, QTextCharFormat, QTextCursor
from PyQt6.QtWidgets import QPlainTextEdit, QTextEdit

from rushweed.core.cut.animation_line import (
    Misread,
    Written,
    proposed_line,
    read_line,
    written_line,
)
from rushweed.core.cut.written_animations import animate_as_written
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import look
from rushweed.ui.look.fonts import font
from rushweed.ui.shell.binding import common
from rushweed.ui.shell.controls import button
from rushweed.ui.shell.slip import Group

HEIGHT = 62
TOLD = 3


class AnimationLine(Group):
    """Shows the animations of the selected sheets as a line, and makes those that are written."""

    def __init__(self, number: int, desk: Desk) -> None:
        super().__init__(number, say("In one line"))
        self._desk = desk
        self._of: tuple[str, ...] = ()
        self.paper = _Paper()
        self.paper.textChanged.connect(self._preview)
        self.paper.entered.connect(self._write)
        self.paper.left.connect(self.refresh)
        self._propose = button(say("As proposed"), self._take_proposal, "small")
        self.beside_title(self._propose)
        self.add(self.paper)

    def refresh(self) -> None:
        """Show what is there, unless somebody is writing."""
        sheets = self._sheets()
        names = tuple(sheet.name for sheet in sheets)
        if names != self._of:  # what was being written was meant for others
            self._of, self.paper.written = names, True
        proposal = proposed_line(sheets[0]) if sheets and not sheets[0].animations else ""
        self._propose.setVisible(bool(proposal))
        self._propose.setToolTip(proposal)
        line = common(written_line(sheet) for sheet in sheets) if sheets else ""
        hint = proposal or say("walk 1-4 at 10, turn 5-8 at 6 once")
        self.paper.setPlaceholderText(say("They differ.") if line is None else hint)
        self.paper.show_line(line or "")
        self._preview()

    def _sheets(self) -> list[Sheet]:
        chosen = self._desk.selection.chosen(self._desk.project)
        return [sheet for sheet in chosen if sheet.pieces]

    def _preview(self) -> None:
        """Say what the line would make, or where it cannot be read."""
        sheets, line = self._sheets(), self.paper.toPlainText()
        self.paper.mark(0, 0)
        if not sheets or not line.strip():
            self.result.tell("")
            return
        try:
            self.result.tell(_told(read_line(line, sheets[0]), sheets[0]))
        except Misread as misread:
            self.paper.mark(misread.start, misread.end)
            self.result.tell(str(misread), warns=True)

    def _take_proposal(self) -> None:
        self.paper.setPlainText(self._propose.toolTip())
        self._write()

    def _write(self) -> None:
        """Make the animations, on every selected sheet that the line fits."""
        sheets, line = self._sheets(), self.paper.toPlainText()
        fits, misread = [], []
        for sheet in sheets:
            try:
                read_line(line, sheet)
                fits.append(sheet.name)
            except Misread as problem:
                misread.append((sheet.name, problem))
        if not fits:
            if misread:
                self.paper.point_at(misread[0][1])
                self._desk.refused.emit(str(misread[0][1]))
            return

        def edit(project: Project) -> Project:
            for name in fits:
                project = animate_as_written(project, name, line)
            return project

        self.paper.written = True
        what = fits[0] if len(fits) == 1 else counted(len(fits), "sheet", "sheets")
        self._desk.do(say("Wrote the animations of {what}", what=what), edit)
        self.refresh()
        if misread:
            told = say("Not in {sheet}: {why}")
            self._desk.refused.emit(told.format(sheet=misread[0][0], why=misread[0][1]))


def _told(written: Sequence[Written], sheet: Sheet) -> str:
    """What a line makes of a sheet."""
    parts = [f"{one.name} {counted(len(one.frames), 'frame', 'frames')}" for one in written[:TOLD]]
    if len(written) > TOLD:
        parts.append(say("{n} more", n=len(written) - TOLD))
    used = {frame for one in written for frame in one.frames}
    left = len(sheet.pieces) - len(used)
    rest = say("{n} left out", n=left) if left else say("none left out")
    return f"{', '.join(parts)}; {rest}."


class _Paper(QPlainTextEdit):
    """A few lines of writing. Enter is `entered`, Shift and Enter goes to the next line."""

    entered = pyqtSignal()
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.written = True
        self.setFont(font())
        self.setFixedHeight(HEIGHT)
        self.setTabChangesFocus(True)
        self.setAccessibleName(say("Animations in one line"))
        self.setToolTip(
            say(
                "Name, frames or rows, rate, and once or back and forth: walk 1-4 at 10, "
                "turn row 2 once. Without frames it is the next row. Enter makes them."
            )
        )

    def show_line(self, line: str) -> None:
        """Show what is there; what is being written stays."""
        if self.written and line != self.toPlainText():
            self.setPlainText(line)

    def mark(self, start: int, end: int) -> None:
        """Underline a place that cannot be read; none where it is empty."""
        selection = QTextEdit.ExtraSelection()
        if end > start:
            selection.cursor = self._cursor(start, end)
            form = QTextCharFormat()
            form.setUnderlineStyle(QTextCharFormat.UnderlineStyle.WaveUnderline)
            form.setUnderlineColor(QColor(look.colours.rust))
            selection.format = form
        self.setExtraSelections([selection] if end > start else [])

    def point_at(self, misread: Misread) -> None:
        """Select a place that cannot be read, to be typed over."""
        self.setTextCursor(self._cursor(misread.start, misread.end))
        self.setFocus()

    def _cursor(self, start: int, end: int) -> QTextCursor:
        cursor = self.textCursor()
        cursor.setPosition(start)
        cursor.setPosition(end, QTextCursor.MoveMode.KeepAnchor)
        return cursor

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        enters = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enters and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.entered.emit()
        elif event.key() == Qt.Key.Key_Escape:
            self.written = True
            self.left.emit()
        else:
            self.written = False
            super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if not self.toPlainText().strip():
            self.written = True
            self.left.emit()
