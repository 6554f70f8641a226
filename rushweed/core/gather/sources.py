"""Saying what a sheet is, what stands for nothing in it, and where it came from."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.gather.licences import spdx
from rushweed.core.project.project import Project, with_sheets
from rushweed.core.project.sheet import ColourKey, Kind
from rushweed.core.values import Colour


def set_kind(project: Project, sheets: tuple[str, ...], kind: Kind) -> Project:
    """Say what kind of picture sheets are."""
    return with_sheets(project, sheets, lambda s: replace(s, kind=kind, decided=s.deciding("kind")))


def set_colour_key(
    project: Project,
    sheets: tuple[str, ...],
    colour: Colour | None,
    tolerance: int = 0,
    fringe: int = 0,
) -> Project:
    """Make a flat colour of sheets stand for nothing; None for no colour."""
    key = ColourKey(colour, tolerance, fringe) if colour else None
    return with_sheets(
        project,
        sheets,
        lambda s: replace(s, colour_key=key, decided=s.deciding("colour key")),
    )


def set_licence(project: Project, sheets: tuple[str, ...], **points: str) -> Project:
    """Set points of the licence of sheets: identifier, author, source or credit. An identifier in
    a shorter or older form is written as SPDX does; one that is none is kept as it was typed."""
    clean = {name: text.strip() for name, text in points.items()}
    if clean.get("identifier"):
        clean["identifier"] = spdx(clean["identifier"]) or clean["identifier"]
    return with_sheets(project, sheets, lambda s: replace(s, licence=replace(s.licence, **clean)))
