"""Props found by place without asking each one."""

from __future__ import annotations

import numpy as np

from rushweed.core.cut.animations import find_animation
from rushweed.core.project.level import Prop
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project
from rushweed.core.values import Rect
from rushweed.core.weave.posing import prop_area

KEPT = 16


class PropIndex:
    """Keeps the rectangles of the layers that were asked for last."""

    def __init__(self) -> None:
        self._known: list[tuple[object, object, np.ndarray]] = []

    def within(
        self, project: Project, props: tuple[Prop, ...], area: Rect, least: float = 0
    ) -> list[int]:
        """The places, in their order, of props that share pixels with an area and are at least so
        many pixels wide or high."""
        x0, y0, x1, y1 = self._rects(project, props).T
        seen = (x0 < area.right) & (x1 > area.x) & (y0 < area.bottom) & (y1 > area.y)
        seen &= np.maximum(x1 - x0, y1 - y0) >= least
        return [int(place) for place in np.flatnonzero(seen)]

    def _rects(self, project: Project, props: tuple[Prop, ...]) -> np.ndarray:
        project = in_levels(project)
        for known, sheets, rects in self._known:
            if known is props and sheets is project.sheets:
                return rects
        rects = _rects_of(project, props)
        self._known.insert(0, (props, project.sheets, rects))
        del self._known[KEPT:]
        return rects


def _rects_of(project: Project, props: tuple[Prop, ...]) -> np.ndarray:
    """The left, top, right and bottom of what each prop shows, whichever of its frames. Props of
    one piece, one animation and one pose lie alike about their places."""
    kinds = [(p.piece, p.animation, p.orientation, p.across, p.down, p.angle) for p in props]
    numbers = {kind: number for number, kind in enumerate(dict.fromkeys(kinds))}
    about = []
    for piece, animation, orientation, across, down, angle in numbers:
        area = Rect(0, 0, 0, 0)
        for frame in _frames(project, piece, animation):
            pose = Prop(frame, 0, 0, orientation, across=across, down=down, angle=angle)
            area = area.union(prop_area(project, pose))
        about.append((area.x, area.y, area.right, area.bottom))
    places = np.array([(prop.x, prop.y) for prop in props], np.float64).reshape(-1, 2)
    corners = np.tile(np.floor(places), 2)
    rects: np.ndarray = corners + np.array(about).reshape(-1, 4)[[numbers[kind] for kind in kinds]]
    return rects


def _frames(project: Project, piece: int, name: str) -> tuple[int, ...]:
    """Every piece that a prop may show."""
    found = project.find(piece)
    animation = find_animation(found[0], name) if found and name else None
    return (piece, *animation.frames) if animation else (piece,)
