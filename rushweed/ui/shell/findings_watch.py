"""Looks anew for what will hurt in the game, and shows it on trail, rack and list."""

from __future__ import annotations

from dataclasses import replace

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from rushweed.core.findings.finding import Finding
from rushweed.core.findings.grouping import FindingGroup
from rushweed.ui.desk import Desk
from rushweed.ui.shell.frame import Frame
from rushweed.ui.shell.router import Router
from rushweed.ui.text import counted, tr

DELAY = 250
"""Milliseconds of quiet before findings are looked for anew."""


class FindingsWatch(QObject):
    """Keeps the findings. `found` is told when they were looked for."""

    found = pyqtSignal()

    def __init__(self, desk: Desk, frame: Frame, router: Router) -> None:
        super().__init__(frame)
        self._desk, self._frame, self._router = desk, frame, router
        self.findings: list[Finding] = []
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.setInterval(DELAY)
        self._timer.timeout.connect(self.look)
        frame.findings_list.shown.connect(self.show)
        frame.findings_list.mended.connect(self.mend)
        frame.findings_list.closed.connect(self.toggle)
        frame.findings_button.clicked.connect(self.toggle)
        desk.previewed.connect(self.look_soon)

    def look_soon(self) -> None:
        """Look when it has been quiet for a while."""
        self._timer.start()

    def stop(self) -> None:
        """Look no more."""
        self._timer.stop()

    def look(self) -> None:
        """Look now."""
        from rushweed.core.findings.all import find_all

        self._timer.stop()
        self.findings = find_all(self._desk.project, self._desk.art)
        self._frame.rack.sheets.show_findings(self.findings)
        self._show_count()
        self.found.emit()
        if self._frame.findings_list.isVisible():
            self._list()

    def _show_count(self) -> None:
        count, button = len(self.findings), self._frame.findings_button
        words = "◆  " + counted(count, "finding", "findings") if count else tr("No findings")
        button.setText(words)
        button.setProperty("role", "findings" if count else "quiet")
        style = button.style()
        if style is not None:
            style.polish(button)
        self._frame.place_findings_button()

    def toggle(self) -> None:
        """Slide the list of findings up or down."""
        if self._frame.findings_list.isHidden():
            self._list()
            self._frame.findings_list.show()
        else:
            self._frame.findings_list.hide()

    def _list(self) -> None:
        self._frame.findings_list.show_findings(self.findings, self._router.station)

    def show(self, finding: Finding) -> None:
        """Go to where a finding is."""
        selection = self._desk.selection
        if finding.sheet:
            selection = replace(selection, sheets=finding.about, pieces=frozenset(finding.pieces))
        if finding.level:
            selection = replace(selection, level=finding.level)
        self._desk.select(selection)
        self._router.open(finding.station)

    def mend(self, group: FindingGroup) -> None:
        """Do what cures all findings of a kind, as one step of undo."""
        alone = len(group.findings) == 1
        words = f"{group.mend_words}, {group.first.place}" if alone else group.mend_words
        self._desk.do(words, group.mend)
        self.look()
