"""Atlas pages: all pieces of a project on one picture, with space and repeated edges between."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rushweed.core.bale.packing import pack
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import Picture
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Rect, Size


@dataclass(frozen=True, slots=True, eq=False)
class Page:
    """One atlas page: its pixels, and each piece's rectangle on it by piece number."""

    picture: Picture
    places: dict[int, Rect]

    @property
    def fill(self) -> float:
        """The share of the page that pieces cover, 0 to 1."""
        used = {place: place.area for place in self.places.values()}
        return sum(used.values()) / int(self.picture.shape[0] * self.picture.shape[1])


def make_page(project: Project, art: Art, recipe: Recipe) -> Page:
    """Put every piece of every sheet on one page; equal pieces share a place."""
    pictures: dict[int, Picture] = {}
    shared: dict[tuple[tuple[int, ...], bytes], list[int]] = {}
    for sheet, piece in project.pieces():
        picture = art.piece(sheet, piece)
        pictures[piece.number] = picture
        shared.setdefault((picture.shape, picture.tobytes()), []).append(piece.number)
    groups = list(shared.values())
    edge = 2 * recipe.repeat_edge
    sizes = [_size(pictures[group[0]], edge + recipe.padding) for group in groups]
    page_size, corners = pack(sizes)
    page = np.zeros((page_size.height, page_size.width, 4), np.uint8)
    places: dict[int, Rect] = {}
    for group, corner in zip(groups, corners, strict=True):
        place = _draw(page, pictures[group[0]], int(corner.x), int(corner.y), recipe.repeat_edge)
        places.update(dict.fromkeys(group, place))
    return Page(_trimmed(page, recipe.padding), places)


def _size(picture: Picture, extra: int) -> Size:
    return Size(picture.shape[1] + extra, picture.shape[0] + extra)


def _draw(page: Picture, picture: Picture, x: int, y: int, edge: int) -> Rect:
    around = np.pad(picture, ((edge, edge), (edge, edge), (0, 0)), mode="edge")
    page[y : y + around.shape[0], x : x + around.shape[1]] = around
    return Rect(x + edge, y + edge, picture.shape[1], picture.shape[0])


def _trimmed(page: Picture, padding: int) -> Picture:
    """Padding lies between pieces; the page's far rim needs none."""
    height, width = page.shape[:2]
    return page[: max(1, height - padding), : max(1, width - padding)]
