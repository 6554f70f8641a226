"""A banner over the table: what could not be done or what is new, and what to do."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QWidget

from rushweed.core.words import say
from rushweed.ui.look.colours import look
from rushweed.ui.shell.controls import button, flowing

Act = tuple[str, Callable[[], object]]
"""The words of a button and what it does."""


MOST_ACTS = 3


class Notice(QWidget):
    """Hidden until there is something to tell. A question waits below whatever else is told until
    it is answered."""

    def __init__(self) -> None:
        super().__init__()
        self._text = flowing()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(24, 12, 20, 12)
        layout.setSpacing(10)
        layout.addWidget(self._text, 1)
        self._acts = [button("", partial(self._do, index)) for index in range(MOST_ACTS)]
        self._actions: tuple[Act, ...] = ()
        self._questions: dict[str, tuple[str, tuple[Act, ...]]] = {}
        """Those that wait for an answer, by what they are about, the newest last."""
        self._quiet = self._refusal = self._passed = False
        for act in self._acts:
            layout.addWidget(act)
        self._good = button(say("Good"), self._close)
        layout.addWidget(self._good)
        self.hide()

    @property
    def text(self) -> str:
        return self._text.text() if self.isVisible() else ""

    def tell(self, sentence: str, *acts: Act, quiet: bool = False) -> None:
        """Show a sentence, with up to three buttons that do something about it; a quiet one is only
        news."""
        self._show(sentence, acts, quiet)
        self._good.setVisible(True)

    def ask(self, about: str, sentence: str, *acts: Act) -> None:
        """Ask something with up to three answers. It stays, or comes back, until one is given, or
        something else is asked about the same."""
        self._questions.pop(about, None)
        self._questions[about] = sentence, acts
        self._show(sentence, acts, quiet=False)
        self._good.setVisible(False)

    def refuse(self, sentence: str) -> None:
        """Say why something cannot be done; gone with the next thing that can."""
        self.tell(sentence)
        self._refusal = True

    def settle(self) -> None:
        """Something was done: what was refused before it is of no interest any more."""
        if self._refusal:
            self._close()

    def pass_by(self) -> None:
        """Another station was opened: news belongs to the last, what was offered there goes with
        the next one."""
        if self._quiet and (self._passed or not self._actions):
            self._close()
        self._passed = True

    def _show(self, sentence: str, acts: tuple[Act, ...], quiet: bool) -> None:
        self._text.setText(sentence)
        self._actions, self._quiet, self._refusal, self._passed = acts, quiet, False, False
        for index, shown in enumerate(self._acts):
            shown.setVisible(index < len(acts))
            shown.setText(acts[index][0] if index < len(acts) else "")
        self.show()
        self.update()

    def _close(self) -> None:
        """Hide what was told; what was asked before it is there again."""
        self._refusal = False
        if self._questions:
            about, (sentence, acts) = next(reversed(self._questions.items()))
            self.ask(about, sentence, *acts)
        else:
            self.hide()

    def _do(self, index: int) -> None:
        act = self._actions[index][1]
        waiting = self._questions.items()
        self._questions = {about: one for about, one in waiting if one[1] is not self._actions}
        self._close()
        act()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        colours = look.colours
        painter = QPainter(self)
        painter.fillRect(self.rect(), colours.well)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(colours.tide if self._quiet else colours.red, 1))
        painter.setBrush(colours.raised)
        frame = QRectF(self.rect()).adjusted(12.5, 6.5, -12.5, -6.5)
        painter.drawRoundedRect(frame, 4, 4)
        painter.end()
