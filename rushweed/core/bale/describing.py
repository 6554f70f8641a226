"""Saying in a manifest what a project holds."""

from __future__ import annotations

from dataclasses import fields

from rushweed.core.bale.credits import credit_entries
from rushweed.core.bale.manifest import (
    AnimationEntry,
    BordersEntry,
    LayerEntry,
    LevelEntry,
    Manifest,
    PageEntry,
    PieceEntry,
    PropEntry,
    ShapeEntry,
)
from rushweed.core.bale.pages import Page
from rushweed.core.cut.animations import holds_of
from rushweed.core.cut.naming import shown_name
from rushweed.core.gauge.treating import treatment_of
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Animation, Borders, Piece, Sheet
from rushweed.core.values import Point, Size

PAGE_FILE, NORMALS_FILE = "page-1.png", "page-1-normals.png"


def describe(project: Project, recipe: Recipe, page: Page) -> Manifest:
    """The manifest of a project whose pieces lie on that page."""
    height, width = page.picture.shape[:2]
    normals = NORMALS_FILE if page.normals is not None else ""
    return Manifest(
        name=project.name,
        recipe=recipe.name,
        y_up=recipe.y_up,
        tile=project.rules.tile,
        pixels_per_unit=project.rules.pixels_per_unit,
        resolution=project.rules.resolution,
        pages=(PageEntry(PAGE_FILE, Size(width, height), normals),),
        pieces=tuple(_piece(project, recipe, page, *found) for found in project.pieces()),
        animations=tuple(
            _animation(sheet, animation)
            for sheet in project.sheets
            for animation in sheet.animations
        ),
        levels=tuple(_level(project, recipe, level) for level in project.levels),
        credits=credit_entries(project),
    )


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
    )


def _piece(project: Project, recipe: Recipe, page: Page, sheet: Sheet, piece: Piece) -> PieceEntry:
    treatment = treatment_of(project, sheet)
    height = piece.rect.height if recipe.y_up else None
    shapes = None
    if piece.shapes is not None:
        shapes = tuple(
            ShapeEntry(shape.stops, tuple(_place(c, height) for c in shape.form.corners))
            for shape in piece.shapes
        )
    return PieceEntry(
        number=piece.number,
        name=shown_name(sheet, piece),
        sheet=sheet.name,
        page=0,
        rect=page.places[piece.number],
        pivot=_place(piece.standing, height),
        pixels_per_unit=treatment.pixels_per_unit,
        filter=treatment.filter,
        borders=_borders(piece.borders),
        shapes=shapes,
    )


def _borders(borders: Borders | None) -> BordersEntry | None:
    if borders is None:
        return None
    return BordersEntry(*(getattr(borders, field.name) for field in fields(Borders)))


def _level(project: Project, recipe: Recipe, level: Level) -> LevelEntry:
    background = level.background or project.rules.background
    floor = 0 if recipe.y_up else None
    return LevelEntry(
        name=level.name,
        view=level.view,
        background=(background.red, background.green, background.blue),
        start=_place(level.start, floor) if level.start else None,
        layers=tuple(_layer(layer, floor) for layer in level.layers),
    )


def _layer(layer: Layer, floor: int | None) -> LayerEntry:
    return LayerEntry(
        name=layer.name,
        opacity=layer.opacity,
        visible=layer.visible,
        parallax=layer.parallax,
        repeated=layer.repeated,
        cells=layer.cells.rows(),
        props=tuple(
            PropEntry(
                prop.piece, *_place(Point(prop.x, prop.y), floor), prop.orientation, prop.animation
            )
            for prop in layer.props
        ),
    )


def _place(point: Point, floor: int | None) -> Point:
    """The point as it is, or measured upwards from a floor."""
    return point if floor is None else Point(point.x, floor - point.y)
