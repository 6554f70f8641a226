"""Pictures that belong to others: the same at another density, or a map of the same layout."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.sheet import Belonging, Sheet
from rushweed.core.values import Refusal, Size
from rushweed.core.words import say

DENSE = re.compile(r"^(?P<base>.+?)[@_ -]?(?P<factor>[2-4])x$", re.IGNORECASE)
PLAIN = re.compile(r"^(?P<base>.+?)[@_ -]1x$", re.IGNORECASE)
NORMAL = re.compile(r"^(?P<base>.+?)[_ -](n|nrm|normals?|normal[_ -]?map)$", re.IGNORECASE)


def relatives(project: Project) -> dict[str, Belonging]:
    """What each undecided sheet seems to belong to, told by its name and its size."""
    waiting = [
        sheet
        for sheet in project.sheets
        if sheet.belongs is None and sheet.layout is None and _speaks(sheet.name)
    ]
    if not waiting:
        return {}
    bases = {_base_name(sheet): sheet for sheet in project.sheets if sheet.belongs is None}
    return {s.name: belonging for s in waiting for belonging in _proposals(s, bases)}


def possible_belongings(project: Project, name: str) -> list[Belonging]:
    """What a sheet could be to others, as far as sizes tell: any of them, whatever it is called."""
    sheet = project.sheet(name)
    found = []
    for base in project.sheets:
        if base.name == name or base.belongs is not None:
            continue
        for factor in (2, 3, 4):
            if _stored(sheet) == _times(_stored(base), factor):
                found.append(Belonging("density", base.name, factor))
        if _stored(sheet) == _stored(base):
            found.append(Belonging("normal map", base.name))
    return found


def join_relative(project: Project, name: str, belonging: Belonging) -> Project:
    """Say that a sheet belongs to another. It is not cut by itself: it has the other's pieces.

    Raises Refusal where the sizes do not allow it.
    """
    base, sheet = project.sheet(belonging.to), project.sheet(name)
    if base.name == name or base.belongs is not None:
        raise Refusal(
            "“{name}” cannot belong to “{other}”, which belongs elsewhere itself.",
            name=name,
            other=base.name,
        )
    if _stored(sheet) != _times(_stored(base), belonging.factor):
        raise Refusal(
            "“{name}” is {size} px and “{other}” {other_size} px: their sizes do not "
            "fit each other. Export both from one picture.",
            name=name,
            size=_stored(sheet),
            other=base.name,
            other_size=_stored(base),
        )

    def edit(old: Sheet) -> Sheet:
        licence = old.licence if old.licence.identifier else base.licence
        return replace(
            old,
            belongs=belonging,
            licence=licence,
            layout=None,
            pieces=(),
            animations=(),
            colour_key=base.colour_key if belonging.kind == "density" else None,
        )

    return with_sheet(project, name, edit)


def release_relative(project: Project, name: str) -> Project:
    """Let a sheet stand on its own again."""
    return with_sheet(project, name, lambda sheet: replace(sheet, belongs=None))


def belonging_words(belonging: Belonging) -> str:
    """“fen_ground at 2×” or “normal map of fen_ground”."""
    if belonging.kind == "density":
        return say("{to} at {factor}×", to=belonging.to, factor=belonging.factor)
    return say("normal map of {to}", to=belonging.to)


def _proposals(sheet: Sheet, bases: dict[str, Sheet]) -> Iterator[Belonging]:
    dense, normal = DENSE.match(sheet.name), NORMAL.match(sheet.name)
    if dense is not None:
        base, factor = bases.get(dense["base"].lower()), int(dense["factor"])
        if base is not None and _stored(sheet) == _times(_stored(base), factor):
            yield Belonging("density", base.name, factor)
    if normal is not None:
        base = bases.get(normal["base"].lower())
        if base is not None and _stored(sheet) == _stored(base):
            yield Belonging("normal map", base.name)


def _speaks(name: str) -> bool:
    """Whether a name speaks of another picture."""
    return DENSE.match(name) is not None or NORMAL.match(name) is not None


def _base_name(sheet: Sheet) -> str:
    match = PLAIN.match(sheet.name)
    return (match["base"] if match else sheet.name).lower()


def _stored(sheet: Sheet) -> Size:
    return Size(
        sum(source.size.width for source in sheet.sources),
        max(source.size.height for source in sheet.sources),
    )


def _times(size: Size, factor: int) -> Size:
    return Size(size.width * factor, size.height * factor)
