"""The collision shapes of Lanternfen's tiles, by the tile's name."""

from __future__ import annotations

from rushweed.core.bound.shaping import polygon
from rushweed.core.project.shape import Box, Shape, Stops
from rushweed.core.values import Point


def box(
    x: int = 0, y: int = 0, width: int = 16, height: int = 16, stops: Stops = "all sides"
) -> tuple[Shape, ...]:
    return (Shape(Box(x, y, width, height), stops),)


def corners(*places: tuple[int, int]) -> tuple[Shape, ...]:
    return (Shape(polygon([Point(*place) for place in places])),)


FULL = (
    "bank_left bank_top bank_top_shell bank_right bank_face_left bank_face_right mud mud_stone "
    "bank_foot bank_foot_left bank_foot_right sluice_left sluice_top sluice_right stone "
    "stone_moss grate block willow_nw willow_ne willow_sw willow_se boulder_above stump fence "
    "pool pool_nw pool_n pool_ne pool_w pool_e pool_sw pool_s pool_se pool_deep pool_deep_b "
    "pool_lily"
)

TILE_SHAPES: dict[str, tuple[Shape, ...]] = {
    **{name: box() for name in FULL.split()},
    "slope_up": corners((0, 16), (16, 0), (16, 16)),
    "slope_down": corners((0, 0), (16, 16), (0, 16)),
    "rise_a": corners((0, 16), (16, 8), (16, 16)),
    "rise_b": corners((0, 8), (16, 0), (16, 16), (0, 16)),
    "ledge_left": box(1, 0, 15, 7, "one-way"),
    "ledge": box(0, 0, 16, 7, "one-way"),
    "ledge_right": box(0, 0, 15, 7, "one-way"),
    **{
        name: box(0, 0, 16, 5, "one-way")
        for name in (
            "plank_left",
            "plank",
            "plank_b",
            "plank_post",
            "plank_right",
            "floor",
            "floor_post",
        )
    },
    "boulder": corners((1, 16), (2, 12), (5, 10), (10, 10), (13, 12), (14, 16)),
    "crate": box(2, 5, 12, 11),
}
