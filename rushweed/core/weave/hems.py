"""Hems: tiles that finish the edges and corners of an area, chosen by what lies around each cell.

A tile's nine parts are bits, three for each row from the upper left. Where a hem goes by corners,
only the four corner parts count, and the area lies on the corners of cells.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.cells import Key
from rushweed.core.project.drawing_sets import Hem, HemTile, HemWay
from rushweed.core.project.named import HEMS
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.chance import chosen
from rushweed.core.weave.hem_marks import read_marks

MIDDLE, FULL = 16, 511
CORNERS = {(-1, -1): 1, (1, -1): 4, (-1, 1): 64, (1, 1): 256}
SIDES = {(0, -1): 2, (-1, 0): 8, (1, 0): 32, (0, 1): 128}
ALL_CORNERS = sum(CORNERS.values())
SIDE_COUNTS = 3
"""A side that is wrong is as bad as this many corners."""


@dataclass(frozen=True, slots=True)
class Around:
    """What a hem is drawn among: all hems of the project, and the level's end, None for none."""

    hems: Mapping[str, Hem]
    end: Rect | None = None


def around(project: Project, end: Rect | None = None) -> Around:
    """The surroundings of hems in a project."""
    return Around({hem.name: hem for hem in project.hems}, end)


def parts_of_piece(hem: Hem) -> dict[int, int]:
    """The parts of each of a hem's tiles by piece number."""
    return {tile.piece: tile.parts for tile in hem.tiles}


def met_by(hem: Hem, among: Around) -> frozenset[int]:
    """The pieces that a hem takes for itself: its own, and those of the hems it meets."""
    hems = (hem, *(among.hems[name] for name in hem.meets if name in among.hems))
    return frozenset(tile.piece for one in hems for tile in one.tiles)


def tile_for(hem: Hem, wanted: int, place: Key) -> tuple[int, bool]:
    """A tile with these parts, or the one that comes nearest and that it does not fit."""
    known = by_parts(hem)
    fitting = known.get(wanted)
    if fitting is not None:
        return chosen(fitting, *place), True
    nearest = min(known, key=lambda parts: (_apart(parts, wanted), -parts))
    return chosen(known[nearest], *place), False


@lru_cache(maxsize=64)
def by_parts(hem: Hem) -> dict[int, tuple[tuple[int, int], ...]]:
    """A hem's tiles with their weights by the parts that count."""
    found: dict[int, list[tuple[int, int]]] = {}
    for tile in hem.tiles:
        parts = tile.parts & ALL_CORNERS if hem.way == "corners" else counting(tile.parts, hem.way)
        found.setdefault(parts, []).append((tile.piece, tile.weight))
    return {parts: tuple(tiles) for parts, tiles in found.items()}


def counting(parts: int, way: HemWay) -> int:
    """A tile's parts as cells ask for them: corners only between joined sides."""
    sides = {to: bool(parts & bit) for to, bit in SIDES.items()}
    result = MIDDLE | (parts & sum(SIDES.values()))
    for (dx, dy), bit in CORNERS.items():
        if sides[dx, 0] and sides[0, dy] and (way == "sides" or parts & bit):
            result |= bit
    return result


def _apart(one: int, other: int) -> int:
    different = one ^ other
    sides = (different & sum(SIDES.values())).bit_count()
    return SIDE_COUNTS * sides + (different & ALL_CORNERS).bit_count()


# -- making hems ---------------------------------------------------------------------


def with_hem(project: Project, hem: Hem) -> Project:
    """The project with a hem in place of the one of that name, or added."""
    names = [one.name for one in project.hems]
    if hem.name in names:
        hems = tuple(hem if one.name == hem.name else one for one in project.hems)
    else:
        hems = (*project.hems, hem)
    return replace(project, hems=hems)


def without_hem(project: Project, name: str) -> Project:
    """The project without a hem; what it drew stays."""
    return HEMS.without(project, name)


def propose_hem(name: str, pictures: Mapping[int, Picture]) -> Hem:
    """A hem of tiles, marked by their pixels. Pictures are straight alpha, of shape
    (height, width, 4). Raises Refusal for no tile."""
    if not pictures:
        raise Refusal("Select the tiles of the hem in the tray first.")
    tiles = tuple(HemTile(number, parts) for number, parts in read_marks(pictures).items())
    return Hem(name, tiles, _likely_way(tiles))


def with_tiles(hem: Hem, pictures: Mapping[int, Picture], new: Iterable[int]) -> Hem:
    """A hem with more tiles, marked by their pixels among those that it has, whose marks stay.
    `pictures` are of all of them. Raises Refusal where none is new."""
    known = {tile.piece for tile in hem.tiles}
    added = [number for number in dict.fromkeys(new) if number not in known]
    if not added:
        raise Refusal("“{name}” has these tiles already. Take others in the tray.", name=hem.name)
    marks = read_marks({number: pictures[number] for number in (*known, *added)})
    return replace(hem, tiles=(*hem.tiles, *(HemTile(n, marks[n]) for n in added)))


def without_tile(hem: Hem, piece: int) -> Hem:
    """A hem without one of its tiles. Raises Refusal for the last one."""
    kept = tuple(tile for tile in hem.tiles if tile.piece != piece)
    if not kept:
        raise Refusal("It is the last tile of “{name}”. Take the hem away instead.", name=hem.name)
    return replace(hem, tiles=kept)


def _likely_way(tiles: tuple[HemTile, ...]) -> HemWay:
    """Corners where middles are empty in many tiles, else sides where few tiles tell corners."""
    empty = sum(not tile.parts & MIDDLE for tile in tiles)
    if empty * 4 > len(tiles):
        return "corners"
    tells = any(
        tile.parts & MIDDLE and counting(tile.parts, "sides") != tile.parts for tile in tiles
    )
    return "all around" if tells else "sides"
