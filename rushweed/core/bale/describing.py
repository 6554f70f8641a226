"""Saying in a manifest what a project holds."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import fields
from typing import Any

from rushweed.core.bale.credits import credit_entries
from rushweed.core.bale.levels_apart import are_apart
from rushweed.core.bale.manifest import (
    AnimationEntry,
    BodyEntry,
    BordersEntry,
    CastEntry,
    CircleEntry,
    CollisionEntry,
    FactsEntry,
    FigureEntry,
    HemEntry,
    KindEntry,
    LayerEntry,
    LevelEntry,
    Manifest,
    MarkEntry,
    MixEntry,
    PathEntry,
    PieceEntry,
    PointEntry,
    PropEntry,
    ShapeEntry,
    WalkerEntry,
)
from rushweed.core.bale.measure import Measure
from rushweed.core.bale.outline_entries import kept_outlines
from rushweed.core.bale.pages import Placed
from rushweed.core.bale.telling_cells import told_cells
from rushweed.core.bound.convex import convex_parts
from rushweed.core.bound.facts import note_value
from rushweed.core.cut.animations import holds_of
from rushweed.core.cut.naming import shown_name
from rushweed.core.gather.memory import Memory
from rushweed.core.project.body import Body
from rushweed.core.project.collision import met_by
from rushweed.core.project.facts import Facts, Note
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.level import Layer, Level, Prop, bounds
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.shape import Circle, Ring, Shape
from rushweed.core.project.sheet import Animation, Borders, Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Colour, Point
from rushweed.core.weave.walkers_place import front_of_walker


def describe(
    project: Project, memory: Memory, recipe: Recipe, placed: dict[int, Placed]
) -> Manifest:
    """The manifest of a project whose pieces lie at these places, without its pages and files.
    Outlines of levels are kept in `memory`."""
    return Manifest(
        name=project.name,
        recipe=recipe.name,
        y_up=recipe.y_up,
        units=recipe.units,
        tile=project.rules.tile,
        pixels_per_unit=project.rules.pixels_per_unit,
        resolution=project.rules.resolution,
        kinds=tuple(KindEntry(kind.number, kind.name) for kind in project.rules.kinds),
        collision=tuple(
            CollisionEntry(
                layer.number,
                layer.name,
                tuple(sorted(met_by(project.rules.collision, layer.number))),
            )
            for layer in project.rules.collision
        ),
        walker=_walker(project),
        pages=(),
        pieces=tuple(
            _piece(project, recipe, placed[piece.number], sheet, piece)
            for sheet, piece in project.pieces()
        ),
        animations=tuple(
            _animation(sheet, animation)
            for sheet in project.sheets
            for animation in sheet.animations
        ),
        hems=tuple(HemEntry(h.name, h.way, h.goes_on, h.meets, h.tiles) for h in project.hems),
        mixes=tuple(MixEntry(mix.name, mix.tiles) for mix in project.mixes),
        levels=tuple(_level(project, memory, recipe, level) for level in project.levels),
        credits=credit_entries(project),
        files={},
        figures=tuple(_figures(project)),
    )


def _figures(project: Project) -> Iterator[FigureEntry]:
    for figure in project.figures:
        cast = project.cast(figure.name)
        if cast is not None:
            entries = (CastEntry(name, *origin) for name, origin in cast.origins.items())
            yield FigureEntry(figure.name, tuple(entries))


def _animation(sheet: Sheet, animation: Animation) -> AnimationEntry:
    """An animation without the frames that are missing."""
    known = {piece.number for piece in sheet.pieces}
    pairs = zip(animation.frames, holds_of(animation), strict=True)
    shown = [(frame, hold) for frame, hold in pairs if frame in known]
    return AnimationEntry(
        animation.name,
        sheet.name,
        tuple(frame for frame, _ in shown),
        tuple(hold for _, hold in shown),
        animation.rate,
        animation.play,
        sheet.kind == "tileset",
    )


def _piece(
    project: Project, recipe: Recipe, placed: Placed, sheet: Sheet, piece: Piece
) -> PieceEntry:
    treatment = treatment_of(project, sheet)
    unit = treatment.pixels_per_unit if recipe.units == "units" else 1
    measure = Measure(piece.rect.height if recipe.y_up else None, unit)
    shapes = None
    if piece.shapes is not None:
        shapes = tuple(_shape(shape, measure, recipe.convex) for shape in piece.shapes)
    return PieceEntry(
        number=piece.number,
        name=shown_name(sheet, piece),
        sheet=sheet.name,
        page=placed.page,
        rect=placed.rect,
        turned=placed.turned,
        size=placed.size,
        offset=placed.offset,
        pivot=measure.place(piece.standing),
        pixels_per_unit=treatment.pixels_per_unit,
        filter=treatment.filter,
        borders=_borders(piece.borders),
        shapes=shapes,
        facts=_facts(piece.facts, measure),
        body=_body(piece.body, measure),
        points=tuple(PointEntry(p.name, *measure.place(Point(p.x, p.y))) for p in piece.points),
        events=piece.events,
    )


def _shape(shape: Shape, measure: Measure, most: int) -> ShapeEntry:
    form = shape.form
    circle = None
    if isinstance(form, Circle):
        middle = measure.place(Point(form.x, form.y))
        circle = CircleEntry(middle, measure.length(form.radius))
    outer, *holes = (_ring(ring, measure) for ring in form.rings)
    parts = convex_parts(form, max(most, 3)) if most else ()
    return ShapeEntry(
        shape.stops,
        shape.side if shape.stops == "one-way" else None,
        outer,
        tuple(holes),
        circle,
        tuple(_ring(part, measure) for part in parts),
        shape.layer,
        shape.note,
    )


def _ring(ring: Ring, measure: Measure) -> tuple[Point, ...]:
    return tuple(measure.place(corner) for corner in ring)


def _facts(facts: Facts, measure: Measure) -> FactsEntry:
    """Facts as they are, but for what is measured or is the game's own."""
    current = Measure(measure.floor).way(Point(facts.current.across, facts.current.down))
    changed = {"wade": measure.length(facts.wade), "notes": _notes(facts.notes), "current": current}
    return FactsEntry(**(_same(facts, FactsEntry) | changed))


def _walker(project: Project) -> WalkerEntry:
    told = {field.name for field in fields(WalkerEntry)} - {"body", "sheet"}
    same = {name: getattr(project.walker, name) for name in told}
    cast = project.cast(project.walker.figure)
    sheet = cast.sheets[0].name if cast else ""
    return WalkerEntry(body=walker_body(project), sheet=sheet, **same)


def _notes(notes: Sequence[Note]) -> dict[str, str | int | float | bool]:
    return {note.key: note_value(note) for note in notes}


def _body(body: Body, measure: Measure) -> BodyEntry:
    path = body.path if body.kind == "travels" else None
    if path is None:
        return BodyEntry(body.kind, None)
    points = tuple(measure.way(point) for point in path.points)
    return BodyEntry(body.kind, PathEntry(points, path.seconds, path.easing, path.way))


def _borders(borders: Borders | None) -> BordersEntry | None:
    if borders is None:
        return None
    return BordersEntry(*(getattr(borders, field.name) for field in fields(Borders)))


def _level(project: Project, memory: Memory, recipe: Recipe, level: Level) -> LevelEntry:
    background = level.background or project.rules.background
    unit = project.rules.pixels_per_unit if recipe.units == "units" else 1
    measure = Measure(0 if recipe.y_up else None, unit)
    return LevelEntry(
        name=level.name,
        extent=bounds(level),
        view=level.view,
        background=(background.red, background.green, background.blue),
        start=measure.place(level.start) if level.start else None,
        layers=tuple(_layer(layer, measure, recipe) for layer in level.layers),
        front=front_of_walker(project, level),
        marks=tuple(
            MarkEntry(mark.name, *measure.place(Point(mark.x, mark.y)), _notes(mark.notes))
            for mark in level.marks
        ),
        outlines=kept_outlines(memory, project, level, measure, recipe.convex)
        if recipe.outlines
        else (),
        notes=_notes(level.notes),
        chunk=0,
        chunks=(),
    )


def _same(thing: object, entry: type[Any]) -> dict[str, Any]:
    """What an entry tells of a thing by the same name; a new property comes into bundles so."""
    return {one.name: getattr(thing, one.name) for one in fields(entry)}


def _layer(layer: Layer, measure: Measure, recipe: Recipe) -> LayerEntry:
    """A layer as it is, but for what stands on it or is the game's own."""
    in_chunks = recipe.chunk > 0 and are_apart(recipe)
    changed: dict[str, Any] = {
        "tint": _tint(layer.tint),
        "notes": _notes(layer.notes),
        "cells": [] if in_chunks else told_cells(layer.cells, recipe.rows),
        "props": tuple(_prop(prop, measure) for prop in layer.props),
    }
    return LayerEntry(**(_same(layer, LayerEntry) | changed))


def _prop(prop: Prop, measure: Measure) -> PropEntry:
    """A prop as it is, but for what is measured or is the game's own."""
    place = measure.place(Point(prop.x, prop.y))
    changed: dict[str, Any] = {
        "x": place.x,
        "y": place.y,
        "body": _body(prop.body, measure) if prop.body else None,
        "notes": _notes(prop.notes),
        "tint": _tint(prop.tint),
    }
    return PropEntry(**(_same(prop, PropEntry) | changed))


def _tint(colour: Colour | None) -> tuple[int, int, int] | None:
    return (colour.red, colour.green, colour.blue) if colour else None
