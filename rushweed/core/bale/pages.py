"""Atlas pages: all pieces of a project on one picture, with space and repeated edges between."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rushweed.core.bale.packing import pack
from rushweed.core.gather.art import Art, cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.lighting import FLAT, companions, normals_of
from rushweed.core.gauge.sides import allowed_size, padded
from rushweed.core.gauge.treating import treatment_of
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Treatment
from rushweed.core.values import Rect, Size


@dataclass(frozen=True, slots=True, eq=False)
class Page:
    """One atlas page: its pixels, each piece's rectangle on it by piece number, and the normal
    maps of the pieces at the same places when any sheet has one."""

    picture: Picture
    places: dict[int, Rect]
    normals: Picture | None = None

    @property
    def fill(self) -> float:
        """The share of the page that pieces cover, 0 to 1."""
        used = {place: place.area for place in self.places.values()}
        return sum(used.values()) / int(self.picture.shape[0] * self.picture.shape[1])


@dataclass(slots=True, eq=False)
class _Part:
    """Pixels that are put on the page once, for all pieces that have them."""

    picture: Picture
    normals: Picture | None
    treatment: Treatment
    numbers: list[int]


def make_page(project: Project, art: Art) -> Page:
    """Put every piece of every sheet on one page, with the space around it that its treatment
    asks for; equal pieces share a place."""
    parts = _parts(project, art)
    sizes = [_size(p.picture, 2 * p.treatment.repeat_edge + p.treatment.padding) for p in parts]
    page_size, corners = pack(sizes)
    page = np.zeros((page_size.height, page_size.width, 4), np.uint8)
    normals = np.full(page.shape, FLAT, np.uint8)
    places: dict[int, Rect] = {}
    far = Size(1, 1)
    for part, corner in zip(parts, corners, strict=True):
        edge = part.treatment.repeat_edge
        place = _draw(page, part.picture, int(corner.x), int(corner.y), edge)
        if part.normals is not None:
            _draw(normals, part.normals, int(corner.x), int(corner.y), edge)
        far = Size(max(far.width, place.right + edge), max(far.height, place.bottom + edge))
        places.update(dict.fromkeys(part.numbers, place))
    for sides in dict.fromkeys(part.treatment.sides for part in parts):
        far = allowed_size(far, sides)
    has_normals = any(part.normals is not None for part in parts)
    whole = padded(page[: far.height, : far.width], far)
    return Page(whole, places, _fitted(normals, far) if has_normals else None)


def _parts(project: Project, art: Art) -> list[_Part]:
    shared: dict[tuple[object, ...], _Part] = {}
    maps = companions(project)
    for sheet in project.sheets:
        treatment = treatment_of(project, sheet)
        companion = maps.get(sheet.name) if sheet.pieces else None
        map_of_sheet = normals_of(art, sheet, companion) if companion else None
        for piece in sheet.pieces:
            picture = art.piece(sheet, piece)
            normals = None if map_of_sheet is None else cut_out(map_of_sheet, piece.rect)
            lit_by = b"" if normals is None else normals.tobytes()
            space = (treatment.repeat_edge, treatment.padding)
            key = (picture.shape, space, picture.tobytes(), lit_by)
            part = shared.setdefault(key, _Part(picture, normals, treatment, []))
            part.numbers.append(piece.number)
    return list(shared.values())


def _fitted(normals: Picture, size: Size) -> Picture:
    """A page of normals cut or grown to a size; what is new faces the viewer."""
    result = np.full((size.height, size.width, 4), FLAT, np.uint8)
    part = normals[: size.height, : size.width]
    result[: part.shape[0], : part.shape[1]] = part
    return result


def _size(picture: Picture, extra: int) -> Size:
    return Size(picture.shape[1] + extra, picture.shape[0] + extra)


def _draw(page: Picture, picture: Picture, x: int, y: int, edge: int) -> Rect:
    around = np.pad(picture, ((edge, edge), (edge, edge), (0, 0)), mode="edge")
    page[y : y + around.shape[0], x : x + around.shape[1]] = around
    return Rect(x + edge, y + edge, picture.shape[1], picture.shape[0])
