"""A walk handed out: one HTML file in which anybody walks a level in a browser.

It holds the level and what it shows as a bundle in one file, what is solid as slabs, and a walker
that takes the very same steps as the bench's; nothing is fetched from anywhere.
"""

from __future__ import annotations

import html
import json
import re
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

from rushweed.core.bale.bundle import MANIFEST_FILE, make_bundle
from rushweed.core.bale.credits import credits_text
from rushweed.core.bale.subset import chosen_part
from rushweed.core.gather.art import Art
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.shape import WAYS
from rushweed.core.values import Rect, Refusal
from rushweed.core.walk.following import area_of
from rushweed.core.walk.picturing import front_of_walker, walker_frame
from rushweed.core.walk.showing import named_states
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.posing import prop_area
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
    bundle = make_bundle(project, art, recipe).files[MANIFEST_FILE].decode()
    page = (PARTS / "page.html").read_text(encoding="utf-8")
    told = say("Arrows or A, D, W, S walk, Space jumps, Shift runs, R begins again.")
    thanks = credits_text(chosen_part(project, recipe))
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
    sheet = next((one for one in project.sheets if one.name == project.walker.sheet), None)
    numbers = ("speed", "jump", "gravity", "late", "early", "short_jumps")
    area = _area(project, ground.level)
    following = project.walker.following
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
        "solids": list(_solids(ground, area)),
        "mediums": [(column, row, *medium) for column, row, medium in ground.mediums.cells()],
        "front": front_of_walker(ground.level),
        "free": (following.free_across, following.free_down),
        "sheet": project.walker.sheet,
        "shows": named_states(sheet, project.walker) if sheet else {},
        "still": walker_frame(ground, begin),
    }


def _solids(ground: Ground, area: Rect) -> Iterator[tuple[float, ...]]:
    """Every slab of a level, those of bodies where they are at the start."""
    found = ground.solids.near(area.x, area.y, area.right, area.bottom)
    for slab in (*found, *ground.moving.slabs(ground.moving.begin())):
        if slab.stops != "sensor":
            ends = (slab.left, slab.right, slab.top_left, slab.top_right)
            under = (slab.bottom_left, slab.bottom_right)
            yield *ends, *under, WAYS.index(slab.stopping), slab.piece


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
    parts = (reader, PARTS / "walker.js", PARTS / "page.js")
    whole = "\n".join(part.read_text(encoding="utf-8") for part in parts)
    return re.sub(r"^export ", "", whole, flags=re.MULTILINE)


def _script(text: str) -> str:
    """JSON that may stand in a script of a page."""
    return text.replace("<", "\\u003c")
