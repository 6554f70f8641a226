"""The game's picture with a walker in it: what is drawn before it, and what behind."""

from __future__ import annotations

from dataclasses import replace
from math import floor

import numpy as np

from rushweed.core.cut.animations import frame_at
from rushweed.core.gather.pictures import Picture
from rushweed.core.orientation import FLIPPED, turned
from rushweed.core.project.figure import Cast
from rushweed.core.project.sheet import Animation
from rushweed.core.values import Colour, Rect, Size
from rushweed.core.walk.bodies import STEP
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.showing import is_flipped, shown_animation
from rushweed.core.walk.underfoot import wade_at
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.blending import blend
from rushweed.core.weave.drawing import Moment, Scene
from rushweed.core.weave.walkers_place import front_of_walker

PLAIN = Colour(31, 110, 120)
"""A plain figure."""


def picture_with_walker(scene: Scene, ground: Ground, motion: Motion, view: Rect) -> Picture:
    """The part of a level that a game shows, of the view's size, opaque.

    The walker stands among the layers as `walkers_place` says, and behind what covers it or, seen
    from above, stands before it.
    """
    level = ground.level
    bodies = {
        spot: (state.x, state.y, state.angle)
        for spot, number in ground.moving.props.items()
        for state in (motion.bodies[number],)
    }
    behind = Moment(motion.steps * STEP, bodies, "behind", motion.y)
    before = replace(behind, half="before")
    pixels = scene.background(level, view.size)
    shown = [index for index, layer in enumerate(level.layers) if layer.visible]
    front = front_of_walker(ground.project, level)
    for index in (i for i in shown if i < front):
        scene.layer(pixels, level, index, view, behind)
    _blend_walker(scene, ground, motion, view, pixels)
    for index in (i for i in shown if i < front):
        scene.layer(pixels, level, index, view, before)
    for index in (i for i in shown if i >= front):
        scene.layer(pixels, level, index, view, replace(behind, half="all"))
    return pixels


def walker_frame(ground: Ground, motion: Motion) -> int:
    """The piece that shows the walker now; 0 for a plain figure."""
    cast = ground.project.cast(ground.project.walker.figure)
    if cast is None:
        return 0
    animation = _animation(ground, motion, cast)
    if animation is None:
        return cast.pieces[0].number if cast.pieces else 0
    return frame_at(animation, motion.steps * STEP)


def _animation(ground: Ground, motion: Motion, cast: Cast) -> Animation | None:
    return shown_animation(cast, ground.project.walker, motion, ground.level.view == "side")


def _blend_walker(
    scene: Scene, ground: Ground, motion: Motion, view: Rect, pixels: Picture
) -> None:
    """Draw the walker's frame, or a plain figure as large as its body, where its feet are, without
    what the ground hides of them."""
    found = ground.project.find(walker_frame(ground, motion))
    cast = ground.project.cast(ground.project.walker.figure)
    if found is None or cast is None:
        tile = plain_figure(ground.body)
        pivot_x, pivot_y = float(ground.body.width // 2), float(ground.body.height)
    else:
        flipped = is_flipped(_animation(ground, motion, cast), motion, ground.project.walker)
        tile = turned(scene.art.piece(*found), FLIPPED if flipped else 0)
        pivot_x, pivot_y = found[1].standing
        if flipped:
            pivot_x = tile.shape[1] - pivot_x
    x = round(motion.x) - floor(pivot_x) - view.x
    y = round(motion.y) - floor(pivot_y) - view.y
    hidden = wade_at(ground.project, ground.level, motion.x, motion.y)
    tile = tile[: max(0, min(tile.shape[0], floor(pivot_y) - hidden))] if hidden else tile
    blend(pixels, tile, x, y)


def plain_figure(body: Size) -> Picture:
    """What is drawn of a walker that no sheet shows: its body, in one colour."""
    figure = np.empty((body.height, body.width, 4), np.uint8)
    figure[:] = PLAIN
    return figure
