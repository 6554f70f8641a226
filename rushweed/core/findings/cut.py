"""Findings of Cut."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.cut.naming import shown_name
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.project.project import Project
from rushweed.core.values import Rect


def past_the_edge(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces that reach past their picture."""
    for sheet in project.sheets:
        whole = Rect(0, 0, *sheet.size)
        over = [p for p in sheet.pieces if p.rect.intersection(whole) != p.rect]
        if over:
            names = ", ".join(shown_name(sheet, piece) for piece in over[:3])
            yield Finding(
                "past-the-edge",
                "Cut",
                f"{len(over)} pieces reach past the edge of the picture: {names}.",
                "What lies outside is empty; the frame will look cut off.",
                sheet.name,
                sheet.name,
                tuple(piece.number for piece in over),
            )


def not_cut(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets without a single piece."""
    for sheet in project.sheets:
        if not sheet.pieces:
            yield Finding(
                "not-cut",
                "Cut",
                f"{sheet.name} is not cut yet.",
                "The game gets nothing of it: only pieces are handed over.",
                sheet.name,
                sheet.name,
            )
