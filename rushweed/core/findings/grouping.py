"""Findings of one kind as one, in the order in which they hurt."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rushweed.core.findings.finding import Finding
from rushweed.core.project.project import Project
from rushweed.core.words import say

REMINDERS = frozenset({"no-licence", "no-author", "unknown-licence"})
"""Kinds that do not break the game: they come last."""


@dataclass(frozen=True, slots=True)
class FindingGroup:
    """All findings of one kind."""

    findings: tuple[Finding, ...]

    @property
    def first(self) -> Finding:
        return self.findings[0]

    @property
    def what(self) -> str:
        """The first one's sentence, and how many more there are like it."""
        more, what = len(self.findings) - 1, self.first.what
        return (
            say("{what}, and {more} more like it.", what=what.rstrip("."), more=more)
            if more
            else what
        )

    @property
    def can_be_mended(self) -> bool:
        return any(finding.mend for finding in self.findings)

    @property
    def mend_words(self) -> str:
        """What mending all of them does."""
        words = [finding.mend_words for finding in self.findings if finding.mend]
        if not words:
            return ""
        count = len(words)
        alike = words[0] if len(set(words)) == 1 else say("all of them")
        return say("{alike}, {count} places", alike=alike, count=count) if count > 1 else words[0]

    def mend(self, project: Project) -> Project:
        """Cure all of them that can be cured."""
        for finding in self.findings:
            if finding.mend is not None:
                project = finding.mend(project)
        return project


def grouped(findings: Sequence[Finding], station: str = "") -> list[FindingGroup]:
    """Findings by kind: those of the station that is open first, reminders last."""
    kinds: dict[str, list[Finding]] = {}
    for finding in findings:
        kinds.setdefault(finding.code, []).append(finding)
    groups = [FindingGroup(tuple(found)) for found in kinds.values()]
    return sorted(groups, key=lambda g: (g.first.code in REMINDERS, g.first.station != station))
