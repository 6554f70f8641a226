"""The words of a template in colours: what is put in, what is done, what is only a comment."""

from __future__ import annotations

import re
from typing import Literal

from PyQt6.QtCore import QEvent
from PyQt6.QtGui import QColor, QFont, QSyntaxHighlighter, QTextCharFormat
from PyQt6.QtWidgets import QPlainTextEdit

from rushweed.ui.look.colours import look

Part = Literal["put in", "done", "comment"]
OPENING: dict[str, Part] = {"{{": "put in", "{%": "done", "{#": "comment"}
CLOSING: dict[Part, str] = {"put in": "}}", "done": "%}", "comment": "#}"}
ORDER: tuple[Part, ...] = ("put in", "done", "comment")
OPENS = re.compile(r"\{[{%#]")
TEXT = re.compile(r"\"[^\"\n]*\"|'[^'\n]*'")
WORD = re.compile(
    r"\b(?:for|in|endfor|if|elif|else|endif|set|endset|macro|endmacro|block|endblock|filter|"
    r"endfilter|and|or|not|is|true|false|none|loop)\b"
)


class TemplateEditor(QPlainTextEdit):
    """Colours a template while it is typed, in those of the theme."""

    def __init__(self) -> None:
        super().__init__()
        self._colours = _Colours(self.document())

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.PaletteChange:
            self._colours.rehighlight()


class _Colours(QSyntaxHighlighter):
    def highlightBlock(self, text: str | None) -> None:
        """One line; what it leaves open goes on in the next one."""
        line, at = text or "", 0
        state = self.previousBlockState()
        part: Part | None = ORDER[state] if 0 <= state < len(ORDER) else None
        while at < len(line) or part is not None:
            if part is None:
                found = OPENS.search(line, at)
                if found is None:
                    break
                at, part = found.start(), OPENING[found.group()]
            closes = line.find(CLOSING[part], at)
            end = closes + 2 if closes >= 0 else len(line)
            self._colour(line, at, end, part)
            at = end
            if closes < 0:
                break
            part = None
        self.setCurrentBlockState(-1 if part is None else ORDER.index(part))

    def _colour(self, line: str, start: int, end: int, part: Part) -> None:
        colours = look.colours
        whole = {"put in": colours.tide, "done": colours.rush, "comment": colours.soft_ink}
        self.setFormat(start, end - start, _form(whole[part], part == "comment"))
        if part == "comment":
            return
        for found in WORD.finditer(line, start, end):
            self.setFormat(found.start(), len(found.group()), _form(whole[part], bold=True))
        for found in TEXT.finditer(line, start, end):
            self.setFormat(found.start(), len(found.group()), _form(colours.red))


def _form(colour: QColor, slanted: bool = False, bold: bool = False) -> QTextCharFormat:
    form = QTextCharFormat()
    form.setForeground(colour)
    form.setFontItalic(slanted)
    form.setFontWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return form
