"""The list of sheets: their names, their order, and which pictures make one sheet."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace
from pathlib import PurePosixPath

from rushweed.core.gather.sequences import stem_of_names
from rushweed.core.project.attached import taken_along
from rushweed.core.project.named import SHEETS
from rushweed.core.project.project import Project, free_name, taken_names
from rushweed.core.project.references import Reference, renamed
from rushweed.core.project.sheet import Animation, OnePicture, Piece, Sheet
from rushweed.core.values import Rect, Refusal


def rename_sheet(project: Project, name: str, new: str) -> Project:
    """Give a sheet another name, everywhere. Raises Refusal for one that is empty or taken."""
    return SHEETS.renamed(project, name, new)


def move_sheets(project: Project, names: Collection[str], by: int) -> Project:
    """Put sheets so many places further down the list, or up for a negative number; they stay in
    their own order, and stop at the ends."""
    sheets = list(project.sheets)
    places = [place for place, sheet in enumerate(sheets) if sheet.name in names]
    for place in sorted(places, reverse=by > 0):
        for step in range(abs(by)):
            here = place + step * (1 if by > 0 else -1)
            there = here + (1 if by > 0 else -1)
            if not 0 <= there < len(sheets) or sheets[there].name in names:
                break
            sheets[here], sheets[there] = sheets[there], sheets[here]
    moved = tuple(sheets)
    return project if moved == project.sheets else replace(project, sheets=moved)


def keep_apart(project: Project, name: str) -> tuple[Project, tuple[str, ...]]:
    """Make each picture of a sheet of several a sheet of its own; pieces go with the picture that
    they lie on. Returns the project and their names. Raises Refusal for a sheet of one picture."""
    sheet = project.sheet(name)
    if len(sheet.sources) < 2:
        raise Refusal("“{name}” is one picture already.", name=name)
    taken = taken_names(project) - {name}
    apart: list[Sheet] = []
    for source, place in zip(sheet.sources, places_of_sources(sheet), strict=True):
        own = free_name(PurePosixPath(source.path).stem, taken)
        taken.add(own)
        inside = (one for one in sheet.pieces if one.rect.intersection(place) == one.rect)
        pieces = tuple(
            replace(piece, row=0, column=0) for piece in taken_along(inside, -place.x, -place.y)
        )
        whole = len(pieces) == 1 and pieces[0].rect.size == source.size
        layout = OnePicture() if whole else None
        made = replace(
            sheet,
            name=own,
            sources=(source,),
            kind="picture",
            layout=layout,
            pieces=pieces,
            left_out=(),
            missing=(),
            earlier=(),
            animations=(),
        )
        apart.append(made)
    place_in = project.sheets.index(sheet)
    sheets = (*project.sheets[:place_in], *apart, *project.sheets[place_in + 1 :])
    names = tuple(one.name for one in apart)
    return renamed(replace(project, sheets=sheets), Reference("sheet", name), *names), names


def join_sheets(project: Project, names: Collection[str]) -> tuple[Project, str]:
    """Make sheets one, their pictures side by side as numbered frames; their pieces come along,
    and are known again when it is cut. Returns the project and its name. Raises Refusal for what
    cannot be one."""
    from natsort import natsorted

    chosen = [sheet for sheet in project.sheets if sheet.name in names]
    if len(chosen) < 2:
        raise Refusal("Select two sheets or more to join them into one.")
    if any(source.frames for sheet in chosen for source in sheet.sources):
        raise Refusal("An animated picture has its frames already. Join still pictures alone.")
    if len({(s.pixel, s.orientation, s.enlarged, s.recoloured, s.colour_key) for s in chosen}) > 1:
        raise Refusal("They are keyed, sized or turned in different ways. Make them alike first.")
    if any(sheet.belongs for sheet in chosen):
        raise Refusal("A sheet that belongs to another cannot be joined. Let it stand alone first.")
    first = chosen[0]
    ordered = natsorted(chosen, key=lambda sheet: sheet.sources[0].path)
    sources = tuple(source for sheet in ordered for source in sheet.sources)
    taken = taken_names(project).difference(names)
    stem = stem_of_names([PurePosixPath(source.path).stem for source in sources])
    bare = replace(
        first,
        name=free_name(stem or first.name, taken),
        sources=sources,
        kind="sheet",
        layout=None,
        pieces=(),
        left_out=(),
        missing=(),
        earlier=(),
        animations=(),
    )
    height, left = bare.size.height, 0
    pieces: list[Piece] = []
    animations: dict[str, Animation] = {}
    for sheet in ordered:
        down = height - sheet.size.height
        pieces += taken_along(sheet.pieces, left, down)
        left += sheet.size.width
        for animation in sheet.animations:
            own = free_name(animation.name, set(animations))
            animations[own] = replace(animation, name=own)
            project = renamed(project, Reference("animation", animation.name, sheet.name), own)
    joined = replace(bare, pieces=tuple(pieces), animations=tuple(animations.values()))
    kept = [sheet for sheet in project.sheets if sheet.name not in names or sheet is first]
    kept[kept.index(first)] = joined
    project = replace(project, sheets=tuple(kept))
    for sheet in chosen:
        project = renamed(project, Reference("sheet", sheet.name), joined.name)
    return project, joined.name


def places_of_sources(sheet: Sheet) -> list[Rect]:
    """Where each picture of a sheet lies on it, standing on the common lower edge."""
    places, left = [], 0
    for source in sheet.sources:
        size = sheet.redrawn.size if sheet.redrawn else source.size
        width, height = size.width // sheet.pixel, size.height // sheet.pixel
        scale = sheet.enlarged
        top = sheet.size.height - height * scale
        places.append(Rect(left, top, width * scale, height * scale))
        left += width * scale
    return places
