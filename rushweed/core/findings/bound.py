"""Findings of Bound."""

from __future__ import annotations

from collections.abc import Iterator

from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.project.project import Project, piece_index


def undecided_in_level(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets with painted tiles of which nobody said whether they are solid."""
    index = piece_index(project)
    used: set[int] = set()
    for level in project.levels:
        for layer in level.layers:
            used |= layer.cells.used()
    undecided: dict[str, list[int]] = {}
    for number in sorted(used & index.keys()):
        sheet, piece = index[number]
        if piece.shapes is None:
            undecided.setdefault(sheet.name, []).append(number)
    for name, numbers in undecided.items():
        count = "1 painted tile" if len(numbers) == 1 else f"{len(numbers)} painted tiles"
        yield Finding(
            "undecided",
            "Bound",
            f"{count} of {name} have no decision on what is solid.",
            "A walker goes through them as if they were not there.",
            name,
            name,
            tuple(numbers),
        )
