"""Pieces under other numbers: one goes on as another, or many are numbered anew."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace

from rushweed.core.orientation import turned_point
from rushweed.core.project.drawing_sets import HemTile
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project, mapped, with_sheet
from rushweed.core.project.sheet import Animation, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point, Size


def joined_numbers(project: Project, sheet: str, into: int, moved: Mapping[int, Point]) -> Project:
    """The project with pieces of a sheet, by number, gone on as the piece `into`.

    `moved` says by how many pixels of the picture each stands elsewhere then; props are put so that
    what they show stays where it is, at the size that the sheet has in levels. An animation shows
    once what it showed in parts.
    """

    own = treatment_of(project, project.sheet(sheet)).pixels_per_unit
    larger = project.rules.pixels_per_unit / own

    def animation(old: Animation) -> Animation:
        if (moved.keys() - {into}).isdisjoint(old.frames):
            return old
        frames = [into if frame in moved else frame for frame in old.frames]
        shown = [
            place
            for place, frame in enumerate(frames)
            if frame != into or place == 0 or frames[place - 1] != into
        ]
        return replace(
            old,
            frames=tuple(frames[place] for place in shown),
            holds=tuple(old.holds[place] for place in shown) if old.holds else (),
        )

    def layer(old: Layer) -> Layer:
        if moved.keys().isdisjoint(prop.piece for prop in old.props):
            return old
        return replace(old, props=tuple(map(placed, old.props)))

    def placed(prop: Prop) -> Prop:
        by = moved.get(prop.piece)
        if by is None:
            return prop
        x, y = _as_posed(Point(by.x * larger, by.y * larger), prop)
        return replace(prop, piece=into, x=prop.x + x, y=prop.y + y)

    def level(old: Level) -> Level:
        layers = mapped(old.layers, layer)
        return old if layers is old.layers else replace(old, layers=layers)

    project = with_sheet(
        project, sheet, lambda s: replace(s, animations=tuple(map(animation, s.animations)))
    )
    return replace(project, levels=mapped(project.levels, level))


def _as_posed(by: Point, prop: Prop) -> Point:
    """A way on the picture as a way in the level: stretched, turned, then rotated as the prop."""
    stretched = Point(by.x * prop.across, by.y * prop.down)
    x, y = turned_point(stretched, Size(0, 0), prop.orientation)
    angle = math.radians(prop.angle)
    return Point(
        round(x * math.cos(angle) - y * math.sin(angle), 3),
        round(x * math.sin(angle) + y * math.cos(angle), 3),
    )


def renumbered(project: Project, numbers: Mapping[int, int]) -> Project:
    """The project with pieces of other numbers, wherever they are named: on sheets, in animations,
    levels and what these are drawn with."""
    if not numbers:
        return project

    def new(number: int) -> int:
        return numbers.get(number, number)

    def piece(old: Piece) -> Piece:
        return replace(old, number=new(old.number)) if old.number in numbers else old

    def sheet(old: Sheet) -> Sheet:
        return replace(
            old,
            pieces=mapped(old.pieces, piece),
            earlier=mapped(old.earlier, piece),
            missing=tuple(replace(one, piece=piece(one.piece)) for one in old.missing),
            animations=tuple(
                replace(one, frames=tuple(map(new, one.frames))) for one in old.animations
            ),
        )

    def layer(old: Layer) -> Layer:
        props = tuple(replace(prop, piece=new(prop.piece)) for prop in old.props)
        return replace(old, cells=old.cells.renumbered(numbers), props=props)

    def tile(old: HemTile) -> HemTile:
        return replace(old, piece=new(old.piece))

    def pairs(old: tuple[tuple[int, int], ...]) -> tuple[tuple[int, int], ...]:
        return tuple((new(number), other) for number, other in old)

    return replace(
        project,
        sheets=tuple(map(sheet, project.sheets)),
        levels=tuple(
            replace(level, layers=tuple(map(layer, level.layers))) for level in project.levels
        ),
        hems=tuple(replace(hem, tiles=tuple(map(tile, hem.tiles))) for hem in project.hems),
        patches=tuple(replace(one, rows=tuple(map(pairs, one.rows))) for one in project.patches),
        mixes=tuple(replace(mix, tiles=pairs(mix.tiles)) for mix in project.mixes),
    )
