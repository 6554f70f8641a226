"""Where to begin in a level that does not say."""

from __future__ import annotations

import math

import numpy as np

from rushweed.core.arrays import Mask
from rushweed.core.project.ground_rules import walker_body
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Rect
from rushweed.core.weave.purposes import purpose_of

MOST_COLUMNS, MOST_ROWS = 512, 512
ENCLOSED = 0.5
"""In a level that has a roof over more than so many of its columns one begins below it."""


def first_standing(project: Project, level: Level) -> Point:
    """Where the feet of a walker begin: on the first ground from the left with room above it, below
    a roof where there mostly is one; seen from above, on the free cell nearest to the middle."""
    area = bounds(level)
    if not area.area:
        return Point(0, 0)
    area = Rect(area.x, area.y, min(area.width, MOST_COLUMNS), min(area.height, MOST_ROWS))
    solid, landing = _blocking(project, level, area)
    width, height = project.rules.tile
    if level.view == "top-down":
        column, row = _free_near_middle(solid)
        return Point((area.x + column + 0.5) * width, (area.y + row + 1) * height)
    headroom = max(1, math.ceil(walker_body(project).height / height))
    column, row = _standing(solid, landing, headroom)
    return Point((area.x + column + 0.5) * width, (area.y + row) * height)


def _blocking(project: Project, level: Level, area: Rect) -> tuple[Mask, Mask]:
    """Which cells of an area are solid, and which can be landed on, as arrays of its shape."""
    solid = np.zeros((area.height, area.width), bool)
    landing = np.zeros_like(solid)
    for layer in level.layers:
        if layer.parallax != 1 or not layer.solid:
            continue
        numbers, _ = layer.cells.window(area)
        for number in np.unique(numbers[numbers > 0]).tolist():
            purpose = purpose_of(project, number)
            if purpose != "decoration":
                there = numbers == number
                landing |= there
                solid |= there if purpose == "solid" else False
    return solid, landing


def _standing(solid: Mask, landing: Mask, headroom: int) -> tuple[int, int]:
    """Column and row of the cell one stands on; the middle of the top where there is none."""
    rows, columns = landing.shape
    free = ~np.vstack([np.zeros((headroom, columns), bool), solid])
    room = np.logical_and.reduce([free[i : i + rows] for i in range(headroom)])
    stands = landing & room
    roofed = np.vstack([np.zeros((1, columns), bool), np.logical_or.accumulate(solid)[:-1]])
    below_roof = stands & roofed
    if below_roof.any(axis=0).sum() > ENCLOSED * max(1, int(stands.any(axis=0).sum())):
        stands = below_roof
    found = np.argwhere(stands.T)
    return (int(found[0][0]), int(found[0][1])) if len(found) else (columns // 2, 0)


def _free_near_middle(solid: Mask) -> tuple[int, int]:
    free = np.argwhere(~solid)
    middle = np.array(solid.shape) / 2
    if not len(free):
        return solid.shape[1] // 2, 0
    row, column = free[np.abs(free + 0.5 - middle).sum(axis=1).argmin()]
    return int(column), int(row)
