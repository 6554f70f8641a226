"""A walk handed out: one HTML file in which anybody walks a level in a browser.

It holds the level and what it shows as a bundle in one file, what is solid as slabs, and a walker
that takes the very same steps as the bench's; nothing is fetched from anywhere.
"""

from __future__ import annotations

import html
import json
import math
import re
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from rushweed.core.bale.bundle import MANIFEST_FILE, make_bundle
from rushweed.core.bale.credits import credits_text
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.bound.bodies import stops_of
from rushweed.core.bound.slabs import Slab
from rushweed.core.gather.art import Art
from rushweed.core.project.body import Path as BodyPath
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.shape import WAYS
from rushweed.core.values import Rect, Refusal
from rushweed.core.walk.bodies import TILT, BodyState
from rushweed.core.walk.following import area_of
from rushweed.core.walk.picturing import PLAIN, walker_frame
from rushweed.core.walk.showing import named_states, way_of
from rushweed.core.walk.underfoot import tiles_at
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.posing import prop_area
from rushweed.core.weave.walkers_place import front_of_walker
from rushweed.core.words import say

PARTS = Path(__file__).parent.parent.parent / "handout"
READERS = (
    PARTS.parent / "browser" / "bundle.js",
    PARTS.parent.parent / "examples" / "browser" / "bundle.js",
)
"""Where the reader of bundles is: beside the package when installed, in the checkout otherwise."""
BELOW = 600
"""So many pixels below the level a fall ends at the start."""


def walk_page(project: Project, level: str, art: Art) -> bytes:
    """The HTML file. Raises Refusal for a level that is not there, or is seen from above."""
    if project.level(level).view != "side":
        raise Refusal(
            "“{level}” is seen from above. Only levels that are seen from the side are handed out.",
            level=level,
        )
    recipe = Recipe("Walk", single_file=True, only_levels=(level,), trimmed=True)
    project = chosen_subset(project, recipe)
    bundle = make_bundle(project, art, recipe).files[MANIFEST_FILE].decode()
    page = (PARTS / "page.html").read_text(encoding="utf-8")
    told = say("Arrows or A, D, W, S walk, Space jumps, Shift runs, R begins again.")
    thanks = credits_text(project)
    made = page.format(
        title=html.escape(f"{level} · {project.name}"),
        told=html.escape(told),
        jump=html.escape(say("Jump")),
        credits=html.escape(thanks),
        bundle=_script(bundle),
        world=_script(json.dumps(world(project, level), ensure_ascii=False)),
        code=_code(),
    )
    return made.encode()


def world(project: Project, level: str) -> dict[str, Any]:
    """All that the page's walker has to know of a level, in pixels, y down."""
    ground = Ground(project, level)
    begin = ground.begin()
    cast = project.cast(project.walker.figure)
    numbers = ("speed", "jump", "gravity", "coyote_time", "jump_buffer", "variable_jump_height")
    area = _area(project, ground.level)
    following, drawn = project.walker.following, project.walker.drawn_way
    return {
        "level": level,
        "resolution": tuple(project.rules.resolution),
        "tile": tuple(project.rules.tile),
        "unit": ground.unit,
        "start": (begin.x, begin.y),
        "bottom": area.bottom + BELOW,
        "body": (2 * ground.half, ground.height),
        "walker": {
            **{name: getattr(project.walker, name) for name in numbers},
            **asdict(project.walker.feel),
        },
        "solids": list(map(_row, ground.solids.near(area.x, area.y, area.right, area.bottom))),
        "bodies": list(_bodies(ground)),
        "wades": list(_wades(ground.project, ground.level)),
        "mediums": [(column, row, *medium) for column, row, medium in ground.mediums.cells()],
        "front": front_of_walker(project, ground.level),
        "plain": tuple(PLAIN),
        "free": (following.free_across, following.free_down),
        "stays": _ends(area_of(ground.level, project.rules.tile)) if following.stays else None,
        "origins": cast.origins if cast else {},
        "shows": named_states(cast, project.walker) if cast else {},
        "ways": {one.name: way_of(one.name) or drawn for one in cast.animations} if cast else {},
        "looks": drawn,
        "still": walker_frame(ground, begin),
    }


def _ends(area: Rect) -> tuple[int, int, int, int]:
    return area.x, area.y, area.right, area.bottom


def _row(slab: Slab) -> tuple[float, ...]:
    """A slab as the page takes it."""
    ends = (slab.left, slab.right, slab.top_left, slab.top_right)
    under = (slab.bottom_left, slab.bottom_right)
    return (*ends, *under, WAYS.index(slab.stopping), slab.piece)


def _bodies(ground: Ground) -> Iterator[dict[str, Any]]:
    """The bodies that move, each with where its prop is among layers, and its slabs about its pivot
    by every angle it may have."""
    spots = {number: spot for spot, number in ground.moving.props.items()}
    for number, body in enumerate(ground.moving.bodies):
        angles = range(-TILT, TILT + 1) if body.kind == "hinged" else (0,)
        turned = {angle: body.slabs(BodyState(0, 0, angle=angle), number) for angle in angles}
        yield {
            "kind": body.kind,
            "start": tuple(body.start),
            "box": body.box,
            "path": _path(body.path),
            "spot": spots[number],
            "slabs": {angle: list(map(_row, slabs)) for angle, slabs in turned.items()},
        }


def _wades(project: Project, level: Level) -> Iterator[tuple[int, int, int]]:
    """Column, row, and how many pixels of the feet are hidden, of each cell that hides any."""
    hides = frozenset(piece.number for _, piece in project.pieces() if piece.facts.wade)
    places = {place for layer in level.layers for place in layer.cells.places_of(hides)}
    for place in sorted(places):
        wade = max((piece.facts.wade for piece, _ in tiles_at(project, level, place)), default=0)
        if wade:
            yield *place, wade


def _path(path: BodyPath | None) -> dict[str, Any] | None:
    """A path with its lengths, which the page would find other by a bit; None for one that leads
    nowhere."""
    if path is None or path.seconds <= 0:
        return None
    stops, lengths = stops_of(path)
    whole = math.fsum(lengths)
    told = {"seconds": path.seconds, "way": path.way, "easing": path.easing}
    return {**told, "stops": stops, "lengths": lengths, "whole": whole} if whole > 0 else None


def _area(project: Project, level: Level) -> Rect:
    """The pixels that a level's cells and props cover."""
    area = area_of(level, project.rules.tile)
    for layer in level.layers:
        for prop in layer.props:
            area = area.union(prop_area(project, prop))
    return area


def _code() -> str:
    """The reader of bundles, the walker and the page as one script."""
    reader = next((path for path in READERS if path.exists()), READERS[0])
    parts = (reader, *(PARTS / name for name in ("walker.js", "bodies.js", "page.js")))
    whole = "\n".join(part.read_text(encoding="utf-8") for part in parts)
    return re.sub(r"^export ", "", whole, flags=re.MULTILINE)


def _script(text: str) -> str:
    """JSON that may stand in a script of a page."""
    return text.replace("<", "\\u003c")
