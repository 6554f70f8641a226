"""Naming collision layers, saying who meets whom, and giving shapes theirs."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace

from rushweed.core.project.collision import MOST_LAYERS, CollisionLayer, meet
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Refusal


def add_collision_layer(project: Project, name: str) -> tuple[Project, CollisionLayer]:
    """A new layer with the lowest free number, which meets all; the first one names what shapes
    are of already. Raises Refusal when all are named."""
    layers = project.rules.collision
    taken = {layer.number for layer in layers}
    number = next((n for n in range(MOST_LAYERS) if n not in taken), None)
    if number is None:
        raise Refusal(
            "All {most_layers} collision layers are named. Take one away first.",
            most_layers=MOST_LAYERS,
        )
    made = CollisionLayer(number, name, (*sorted(taken), number))
    return _with(project, (*layers, made)), made


def change_collision_layer(
    project: Project, number: int, changed: CollisionLayer | None
) -> Project:
    """Give a layer another name or number, or take it away; shapes, walker and other layers go
    along, those of one that is taken away to layer 0. Raises Refusal for a number that is taken
    and a layer without a name."""
    others = [layer for layer in project.rules.collision if layer.number != number]
    if changed is not None:
        if any(layer.number == changed.number for layer in others):
            raise Refusal(
                "Another layer has the number {number}. Choose one more.", number=changed.number
            )
        if not changed.name.strip():
            raise Refusal("A collision layer needs a name. Type one.")
    new = changed.number if changed else 0
    gone = {number} if changed is None else set()

    def known(layer: CollisionLayer) -> CollisionLayer:
        kept = sorted({new if one == number else one for one in layer.meets if one not in gone})
        return replace(layer, meets=tuple(kept))

    layers = [known(layer) for layer in others] + ([known(changed)] if changed else [])
    project = _with(project, sorted(layers, key=lambda layer: layer.number))
    if new == number:
        return project
    used = frozenset(
        piece.number
        for _, piece in project.pieces()
        if any(shape.layer == number for shape in piece.shapes or ())
    )
    if project.walker.layer == number:
        project = replace(project, walker=replace(project.walker, layer=new))
    return _each_shape(project, used, lambda s: replace(s, layer=new) if s.layer == number else s)


def set_meeting(project: Project, one: int, other: int, meets: bool) -> Project:
    """Say whether two named layers meet."""

    def edit(layer: CollisionLayer) -> CollisionLayer:
        pair = {one: other, other: one}
        if layer.number not in pair:
            return layer
        rest = set(layer.meets) - {pair[layer.number]}
        kept = rest | {pair[layer.number]} if meets else rest
        return replace(layer, meets=tuple(sorted(kept)))

    return _with(project, [edit(layer) for layer in project.rules.collision])


def meets(project: Project, one: int, other: int) -> bool:
    """Whether two layers of a project meet."""
    return meet(project.rules.collision, one, other)


def set_layer(project: Project, numbers: frozenset[int], layer: int) -> Project:
    """Put all shapes of pieces on a collision layer."""
    return _each_shape(project, numbers, lambda shape: replace(shape, layer=layer))


def set_sensor_note(project: Project, numbers: frozenset[int], note: str) -> Project:
    """What the sensors of pieces tell the game."""
    return _each_shape(
        project, numbers, lambda s: replace(s, note=note) if s.stops == "sensor" else s
    )


def _each_shape(
    project: Project, numbers: frozenset[int], change: Callable[[Shape], Shape]
) -> Project:
    """Change the shapes of pieces; those that have none keep none."""

    def changed(piece: Piece) -> Piece:
        return replace(piece, shapes=piece.shapes and tuple(map(change, piece.shapes)))

    return with_pieces(project, numbers, changed) if numbers else project


def _with(project: Project, layers: Sequence[CollisionLayer]) -> Project:
    return replace(project, rules=replace(project.rules, collision=tuple(layers)))
