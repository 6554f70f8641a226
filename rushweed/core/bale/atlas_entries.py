"""What is put on pages: pictures of pieces, each once, with what is empty around them cut off, or
whole tilesets as grids."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from rushweed.core.bale.trimming import Inside, Trim, digest, trims_of
from rushweed.core.bulk import in_bulk
from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.art import Art, cut_out
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.true_pixel import enlarged
from rushweed.core.gauge.lighting import companions, normals_of
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe, Treatment
from rushweed.core.project.sheet import EvenCells, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Rect, Size


@dataclass(slots=True, eq=False)
class AtlasEntry:
    """Pixels that are put on a page once, for all pieces that have them. `spaced` entries get the
    space and edges of their treatment around them; grids have them inside."""

    picture: Picture
    normals: Picture | None
    treatment: Treatment
    pieces: dict[int, Inside]
    name: str = ""
    spaced: bool = True
    dense: dict[int, Picture] | None = None

    @property
    def edge(self) -> int:
        """How far its edge pixels are repeated around it."""
        return self.treatment.extrude if self.spaced else 0

    @property
    def room(self) -> Size:
        """What it takes on a page, with half of the space to its neighbours on each side."""
        extra = 2 * self.edge + self.treatment.padding
        return Size(self.picture.shape[1] + extra, self.picture.shape[0] + extra)


@in_bulk()
def make_entries(project: Project, art: Art, recipe: Recipe) -> list[AtlasEntry]:
    """The entries of all sheets, in their order."""
    shared: dict[tuple[object, ...], AtlasEntry] = {}
    kinds: dict[Treatment, int] = {}
    maps = companions(project)
    dense = {
        (sheet.belongs.to, sheet.belongs.factor): sheet
        for sheet in project.sheets
        if sheet.belongs and sheet.belongs.kind == "density"
    }
    for sheet in project.sheets:
        if not sheet.pieces:
            continue
        treatment = treatment_of(project, sheet)
        companion = maps.get(sheet.name)
        lit_by = normals_of(art, sheet, companion) if companion else None
        finer = {
            density: art.picture(dense[sheet.name, density])
            for density in recipe.densities
            if (sheet.name, density) in dense
            and _is_finer(sheet, dense[sheet.name, density], density)
        }
        if recipe.grids and sheet.kind == "tileset" and isinstance(sheet.layout, EvenCells):
            entry = _grid(art, sheet, treatment, lit_by)
            shared["grid", sheet.name] = entry
            continue
        look = treatment if recipe.apart else _nameless(treatment)
        kind = kinds.setdefault(look, len(kinds))
        own = _Own(sheet, art.picture(sheet), treatment, kind, lit_by, finer)
        for piece, trim in zip(sheet.pieces, trims_of(art, sheet, recipe.trimmed), strict=True):
            _add(shared, own, piece, trim)
    return list(shared.values())


@dataclass(frozen=True, slots=True, eq=False)
class _Own:
    """What the entries of a sheet share: its pixels, how they are treated and of which kind that
    is, its normal map, and what was drawn more finely."""

    sheet: Sheet
    picture: Picture
    treatment: Treatment
    kind: int
    lit_by: Picture | None
    finer: dict[int, Picture]


def _add(shared: dict[tuple[object, ...], AtlasEntry], own: _Own, piece: Piece, trim: Trim) -> None:
    """Put a piece to the entry that has its pixels."""
    box = trim.box
    normals = None if own.lit_by is None else cut_out(own.lit_by, box)
    dense = {
        density: cut_out(finer, Rect(*(side * density for side in box)))
        for density, finer in own.finer.items()
    }
    key = (
        (box.width, box.height),
        own.kind,
        trim.digest,
        b"" if normals is None else digest(normals),
        tuple((density, digest(one)) for density, one in dense.items()),
    )
    entry = shared.get(key)
    if entry is None:
        picture = cut_out(own.picture, box)
        name = f"{shown_name(own.sheet, piece)} of {own.sheet.name}"
        entry = shared[key] = AtlasEntry(picture, normals, own.treatment, {}, name, dense=dense)
    entry.pieces[piece.number] = trim.inside


@lru_cache(maxsize=256)
def _nameless(treatment: Treatment) -> Treatment:
    return replace(treatment, name="")


def _is_finer(sheet: Sheet, other: Sheet, density: int) -> bool:
    """Whether a sheet, as it is drawn, is so many times as large as another."""
    return other.size == Size(sheet.size.width * density, sheet.size.height * density)


def _grid(art: Art, sheet: Sheet, treatment: Treatment, lit_by: Picture | None) -> AtlasEntry:
    """A tileset in rows and columns as it was cut, each cell with its space around it."""
    assert isinstance(sheet.layout, EvenCells)
    cell = sheet.layout.cell
    edge = treatment.extrude
    pitch = Size(
        cell.width + 2 * edge + treatment.padding, cell.height + 2 * edge + treatment.padding
    )
    columns = max(piece.column for piece in sheet.pieces) + 1
    rows = max(piece.row for piece in sheet.pieces) + 1
    shape = (rows * pitch.height, columns * pitch.width, 4)
    picture = np.zeros(shape, np.uint8)
    normals = None if lit_by is None else np.zeros(shape, np.uint8)
    pieces = {}
    for piece in sheet.pieces:
        x, y = piece.column * pitch.width, piece.row * pitch.height
        pixels = art.piece(sheet, piece)
        rect = draw_edged(picture, pixels, x, y, edge)
        if normals is not None and lit_by is not None:
            draw_edged(normals, cut_out(lit_by, piece.rect), x, y, edge)
        pieces[piece.number] = Inside(rect, Size(pixels.shape[1], pixels.shape[0]))
    return AtlasEntry(picture, normals, treatment, pieces, sheet.name, spaced=False)


def draw_edged(page: Picture, picture: Picture, x: int, y: int, edge: int) -> Rect:
    """Draw a picture with its edges repeated; returns where the picture itself lies."""
    height, width = picture.shape[:2]
    left, top, right, bottom = x + edge, y + edge, x + edge + width, y + edge + height
    page[top:bottom, left:right] = picture
    if edge:
        page[top:bottom, x:left] = picture[:, :1]
        page[top:bottom, right : right + edge] = picture[:, -1:]
        page[y:top, x : right + edge] = page[top, x : right + edge]
        page[bottom : bottom + edge, x : right + edge] = page[bottom - 1, x : right + edge]
    return Rect(left, top, width, height)


def at_density(entry: AtlasEntry, density: int) -> Picture:
    """A picture at so many times its size: as it was supplied, else each pixel repeated."""
    if density > 1 and entry.dense and density in entry.dense:
        return entry.dense[density]
    return enlarged(entry.picture, density)
