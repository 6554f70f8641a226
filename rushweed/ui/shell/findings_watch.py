"""Looks anew for what will hurt in the game, and shows it on trail, rack and list."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from PyQt6.QtCore import QObject, pyqtSignal

from rushweed.core.findings.finding import Finding
from rushweed.core.findings.grouping import FindingGroup
from rushweed.core.project.project import Project
from rushweed.core.words import counted, say
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs, Turn
from rushweed.ui.shell.frame import Frame
from rushweed.ui.shell.router import Router
from rushweed.ui.soon import soon

DELAY = 250
"""Milliseconds of quiet before findings are looked for anew."""


class FindingsWatch(QObject):
    """Keeps the findings. `found` is told when they were looked for, which is done beside the
    window: of a project that changed meanwhile they are looked for again."""

    found = pyqtSignal()

    def __init__(self, desk: Desk, jobs: Jobs, frame: Frame, router: Router) -> None:
        super().__init__(frame)
        self._jobs = jobs
        self._turn = Turn(self._look_beside)
        self._looked_at: Project | None = None
        self._desk, self._frame, self._router = desk, frame, router
        self.findings: list[Finding] = []
        self._timer = soon(self, DELAY, self._look_anew)
        frame.findings_list.shown.connect(self.show)
        frame.findings_list.mended.connect(self.mend)
        frame.findings_list.closed.connect(self.toggle)
        frame.findings_button.clicked.connect(self.toggle)
        desk.previewed.connect(self.look_soon)

    @property
    def waits(self) -> bool:
        """Whether something was done a moment ago, after which is looked again."""
        return self._timer.isActive()

    def look_soon(self) -> None:
        """Look when it has been quiet for a while, and no more at what is no more as it was."""
        if self._looked_at is not self._desk.project:
            self._turn.stop()
        self._timer.start()

    def stop(self) -> None:
        """Look no more."""
        self._timer.stop()
        self._turn.stop()

    def look(self) -> None:
        """Look now, and wait for it."""
        from rushweed.core.findings.all import find_all

        self.stop()
        self._show(find_all(self._desk.project, self._desk.art))

    def _look_anew(self) -> None:
        self.stop()
        self._turn.ask()  # two at a time would read every picture twice

    def _look_beside(self) -> None:
        project, art = self._desk.project, self._desk.art
        self._looked_at = project

        def work() -> Iterator[tuple[float, str, list[Finding]]]:
            from rushweed.core.findings.all import find_each

            findings: list[Finding] = []
            for found in find_each(project, art):
                findings = [*findings, *found]
                yield 0.0, "", findings

        def done(findings: list[Finding]) -> None:
            if project is self._desk.project:
                self._show(findings)
            else:
                self.look_soon()

        self._turn.start(self._jobs, work, done, quiet=True, gives_way=True)

    def _show(self, findings: list[Finding]) -> None:
        self.findings = findings
        self._frame.rack.sheets.show_findings(self.findings)
        self._show_count()
        self.found.emit()
        if self._frame.findings_list.isVisible():
            self._list()

    def _show_count(self) -> None:
        count, button = len(self.findings), self._frame.findings_button
        words = "◆  " + counted(count, "finding", "findings") if count else say("No findings")
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
        if finding.spot is not None:
            self._router.shown.show_spot(finding.spot)

    def mend(self, group: FindingGroup) -> None:
        """Do what cures all findings of a kind, as one step of undo."""
        alone = len(group.findings) == 1
        words = f"{group.mend_words}, {group.first.place}" if alone else group.mend_words
        if self._desk.do(words, group.mend):
            self._look_anew()
