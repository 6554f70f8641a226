"""Findings as SARIF 2.1.0 (OASIS Static Analysis Results Interchange Format), for code hosts."""

from __future__ import annotations

import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any
from urllib.parse import quote

from rushweed import __version__
from rushweed.core.findings.finding import Finding
from rushweed.core.folder.names import file_stems
from rushweed.core.project.head import HEAD
from rushweed.core.project.project import Project

SCHEMA = "https://json.schemastore.org/sarif-2.1.0.json"


def sarif(project: Project, findings: Sequence[Finding], folder: Path) -> dict[str, Any]:
    """One run with a rule for each kind of finding and a result for each. Paths are relative to the
    repository that the project's folder lies in, else to the folder."""
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
                "results": [_result(project, one, codes, folder) for one in findings],
            }
        ],
    }


def _result(project: Project, finding: Finding, codes: list[str], folder: Path) -> dict[str, Any]:
    name = _file_of(project, finding)
    place = {
        "physicalLocation": {
            "artifactLocation": {"uri": quote(f"{_within_repository(folder)}{name}")},
            "region": {"startLine": _line_of(folder / name, finding)},
        }
    }
    return {
        "ruleId": finding.code,
        "ruleIndex": codes.index(finding.code),
        "level": "warning",
        "message": {"text": f"{finding.what} {finding.why}"},
        "locations": [place],
    }


def _within_repository(folder: Path) -> str:
    """Where a folder lies in its repository, with a slash at the end; empty without one."""
    whole = folder.resolve()
    for above in (whole, *whole.parents):
        if (above / ".git").exists():
            inside = whole.relative_to(above).as_posix()
            return "" if inside == "." else f"{inside}/"
    return ""


def _line_of(path: Path, finding: Finding) -> int:
    """The line of a file on which the first piece of a finding stands; the first for none."""
    if not finding.pieces:
        return 1
    wanted = re.compile(rf'"number": {finding.pieces[0]}\b')
    try:
        lines = path.read_text(encoding="utf-8").splitlines()
    except (OSError, ValueError):
        return 1
    return next((place for place, line in enumerate(lines, 1) if wanted.search(line)), 1)


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
