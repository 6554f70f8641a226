"""Hems: tiles that finish the edges and corners of an area, chosen by what lies around each cell.

A tile's nine parts are bits, three for each row from the upper left. Where a hem goes by corners,
only the four corner parts count, and the area lies on the corners of cells.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

from rushweed.core.gather.pictures import Picture
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.drawing_sets import Hem, HemTile, HemWay
from rushweed.core.project.project import Project
from rushweed.core.project.references import Reference, renamed
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
class HemChange:
    """Cells after drawing with a hem, and the places for which it has no fitting tile: the
    nearest one stands there."""

    cells: Cells
    lacking: frozenset[Key]


@dataclass(frozen=True, slots=True)
class Around:
    """What a hem is drawn among: all hems of the project, and the level's end, None for none."""

    hems: Mapping[str, Hem]
    end: Rect | None = None


def around(project: Project, end: Rect | None = None) -> Around:
    """The surroundings of hems in a project."""
    return Around({hem.name: hem for hem in project.hems}, end)


def draw_hem(
    cells: Cells, hem: Hem, among: Around, places: Iterable[Key], rub_out: bool = False
) -> HemChange:
    """Add places to a hem's area, or take them from it; only they and their neighbours change.

    Raises Refusal when the hem has no tile.
    """
    if not hem.tiles:
        raise Refusal(
            "The hem “{name}” has no tile yet. Mark tiles for it in the tray.", name=hem.name
        )
    spots = set(places)
    if hem.way == "corners":
        return _draw_by_corners(cells, hem, among, spots, rub_out)
    return _draw_by_cells(cells, hem, among, spots, rub_out)


def parts_of_piece(hem: Hem) -> dict[int, int]:
    """The parts of each of a hem's tiles by piece number."""
    return {tile.piece: tile.parts for tile in hem.tiles}


def met_by(hem: Hem, among: Around) -> frozenset[int]:
    """The pieces that a hem takes for itself: its own, and those of the hems it meets."""
    hems = (hem, *(among.hems[name] for name in hem.meets if name in among.hems))
    return frozenset(tile.piece for one in hems for tile in one.tiles)


def _draw_by_cells(
    cells: Cells, hem: Hem, among: Around, spots: set[Key], rub_out: bool
) -> HemChange:
    own, met = frozenset(parts_of_piece(hem)), met_by(hem, among)

    def belongs(place: Key) -> bool:
        if place in spots:
            return not rub_out
        if among.end is not None and not among.end.contains(*place):
            return hem.goes_on
        return cells.at(*place)[0] in met

    near = {(x + dx, y + dy) for x, y in spots for dx in (-1, 0, 1) for dy in (-1, 0, 1)}
    changes: dict[Key, tuple[int, int]] = {}
    lacking = set()
    for place in near:
        if place in spots and rub_out:
            changes[place] = (0, 0)
        elif place in spots or cells.at(*place)[0] in own:
            tile, fits = tile_for(hem, _wanted(place, hem.way, belongs), place)
            changes[place] = (tile, 0)
            if not fits:
                lacking.add(place)
    return _changed(cells, changes, lacking)


def _wanted(place: Key, way: HemWay, belongs: Callable[[Key], bool]) -> int:
    """The parts that a tile should have in an area's cell."""
    x, y = place
    parts = MIDDLE
    joined = {way_to: belongs((x + way_to[0], y + way_to[1])) for way_to in SIDES}
    for way_to, bit in SIDES.items():
        if joined[way_to]:
            parts |= bit
    for (dx, dy), bit in CORNERS.items():
        both = joined[dx, 0] and joined[0, dy]
        if both and (way == "sides" or belongs((x + dx, y + dy))):
            parts |= bit
    return parts


def _draw_by_corners(
    cells: Cells, hem: Hem, among: Around, spots: set[Key], rub_out: bool
) -> HemChange:
    parts = parts_of_piece(hem)
    changed = {(x + dx, y + dy) for x, y in spots for dx in (0, 1) for dy in (0, 1)}

    def in_area(corner: Key) -> bool:
        if corner in changed:
            return not rub_out
        x, y = corner
        beyond = False
        for (dx, dy), bit in CORNERS.items():
            place = x - (dx > 0), y - (dy > 0)
            if among.end is not None and not among.end.contains(*place):
                beyond = True
            elif parts.get(cells.at(*place)[0], 0) & bit:
                return True
        return beyond and hem.goes_on and _any_hem_beside(cells, corner, parts)

    near = {(x - dx, y - dy) for x, y in changed for dx in (0, 1) for dy in (0, 1)}
    changes: dict[Key, tuple[int, int]] = {}
    lacking = set()
    for place in near:
        wanted = sum(
            bit
            for (dx, dy), bit in CORNERS.items()
            if in_area((place[0] + (dx > 0), place[1] + (dy > 0)))
        )
        if not wanted and 0 not in _by_parts(hem):
            if cells.at(*place)[0] in parts:
                changes[place] = (0, 0)
            continue
        if not wanted and cells.at(*place)[0] not in parts:
            continue
        tile, fits = tile_for(hem, wanted, place)
        changes[place] = (tile, 0)
        if not fits:
            lacking.add(place)
    return _changed(cells, changes, lacking)


def _any_hem_beside(cells: Cells, corner: Key, parts: Mapping[int, int]) -> bool:
    x, y = corner
    return any(cells.at(x - dx, y - dy)[0] in parts for dx in (0, 1) for dy in (0, 1))


def tile_for(hem: Hem, wanted: int, place: Key) -> tuple[int, bool]:
    """A tile with these parts, or the one that comes nearest and that it does not fit."""
    known = _by_parts(hem)
    fitting = known.get(wanted)
    if fitting is not None:
        return chosen(fitting, *place), True
    nearest = min(known, key=lambda parts: (_apart(parts, wanted), -parts))
    return chosen(known[nearest], *place), False


@lru_cache(maxsize=64)
def _by_parts(hem: Hem) -> dict[int, tuple[tuple[int, int], ...]]:
    """The tiles with their weights by the parts that count."""
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


def _changed(cells: Cells, changes: dict[Key, tuple[int, int]], lacking: set[Key]) -> HemChange:
    different = {place: tile for place, tile in changes.items() if cells.at(*place) != tile}
    return HemChange(cells.painted(different) if different else cells, frozenset(lacking))


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
    kept = tuple(hem for hem in project.hems if hem.name != name)
    return renamed(replace(project, hems=kept), Reference("hem", name))


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
