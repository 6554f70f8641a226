"""Findings as SARIF 2.1.0 (OASIS Static Analysis Results Interchange Format), for code hosts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from rushweed import __version__
from rushweed.core.findings.finding import Finding
from rushweed.core.folder.names import file_stems
from rushweed.core.project.project import Project
from rushweed.core.project.reading import HEAD

SCHEMA = "https://json.schemastore.org/sarif-2.1.0.json"


def sarif(project: Project, findings: Sequence[Finding]) -> dict[str, Any]:
    """One run with a rule for each kind of finding and a result for each."""
    codes = sorted({finding.code for finding in findings})
    rules = [
        {
            "id": code,
            "shortDescription": {"text": next(f.why for f in findings if f.code == code)},
        }
        for code in codes
    ]
    return {
        "$schema": SCHEMA,
        "version": "2.1.0",
        "runs": [
            {
                "tool": {"driver": {"name": "Rushweed", "version": __version__, "rules": rules}},
                "results": [_result(project, finding, codes) for finding in findings],
            }
        ],
    }


def _result(project: Project, finding: Finding, codes: list[str]) -> dict[str, Any]:
    place = {"physicalLocation": {"artifactLocation": {"uri": _file_of(project, finding)}}}
    return {
        "ruleId": finding.code,
        "ruleIndex": codes.index(finding.code),
        "level": "warning",
        "message": {"text": f"{finding.what} {finding.why}"},
        "locations": [place],
    }


def _file_of(project: Project, finding: Finding) -> str:
    """The project's file that a finding is about."""
    sheets = [sheet.name for sheet in project.sheets]
    levels = [level.name for level in project.levels]
    if finding.level in levels:
        stem = file_stems(levels)[levels.index(finding.level)]
        return f"levels/{stem}.level.json"
    if finding.sheet in sheets:
        stem = file_stems(sheets)[sheets.index(finding.sheet)]
        return f"sheets/{stem}.sheet.json"
    return HEAD
