"""Saying what a sheet is, what stands for nothing in it, and where it came from."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.project.project import Project, with_sheets
from rushweed.core.project.sheet import ColourKey, Kind
from rushweed.core.values import Colour, Refusal


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
    """Set points of the licence of sheets: identifier, author, source or credit.

    Raises Refusal when the identifier is not an SPDX expression.
    """
    clean = {name: text.strip() for name, text in points.items()}
    if clean.get("identifier"):
        clean["identifier"] = spdx(clean["identifier"])
    return with_sheets(project, sheets, lambda s: replace(s, licence=replace(s.licence, **clean)))


def spdx(text: str) -> str:
    """An SPDX licence expression in its usual spelling (SPDX specification 2.3, annex D)."""
    from license_expression import ExpressionError, get_spdx_licensing

    try:
        expression = get_spdx_licensing().parse(text, validate=True)
    except ExpressionError as problem:
        raise Refusal(
            f"“{text}” is not an SPDX licence. Write one such as CC0-1.0, CC-BY-4.0 or MIT."
        ) from problem
    return str(expression)
