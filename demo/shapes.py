"""The collision shapes of Lanternfen's tiles, by the tile's name."""

from __future__ import annotations

from rushweed.core.bound.shaping import polygon
from rushweed.core.project.body import Body, Path
from rushweed.core.project.facts import Facts, GroundKind, Note
from rushweed.core.project.shape import Box, Shape, Stops
from rushweed.core.values import Colour, Point


def box(
    x: int = 0, y: int = 0, width: int = 16, height: int = 16, stops: Stops = "all sides"
) -> tuple[Shape, ...]:
    return (Shape(Box(x, y, width, height), stops),)


def corners(*places: tuple[int, int]) -> tuple[Shape, ...]:
    return (Shape(polygon([Point(*place) for place in places])),)


FULL = (
    "bank_left bank_top bank_top_shell bank_right bank_face_left bank_face_right mud mud_stone "
    "bank_foot bank_foot_left bank_foot_right sluice_left sluice_top sluice_right stone "
    "stone_moss grate block willow_sw willow_se boulder_above stump fence "
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


KINDS = (
    GroundKind(1, "bank", "B", Colour(86, 120, 62)),
    GroundKind(2, "mud", "M", Colour(121, 85, 58)),
    GroundKind(3, "planks", "P", Colour(192, 138, 30)),
    GroundKind(4, "stone", "S", Colour(120, 120, 132)),
    GroundKind(5, "water", "W", Colour(21, 99, 109)),
    GroundKind(6, "reeds", "R", Colour(150, 160, 60)),
)

_GROUNDS = {
    1: "bank_left bank_top bank_top_shell bank_right slope_up slope_down rise_a rise_b turf turf_b "
    "turf_flowers ledge_left ledge ledge_right",
    2: "mud mud_stone bank_face_left bank_face_right bank_foot bank_foot_left bank_foot_right path "
    "path_b",
    3: "plank_left plank plank_b plank_post plank_right plank_broken floor floor_post boards "
    "boards_end boards_across crate",
    4: "sluice_left sluice_top sluice_right stone stone_moss stepping_stone boulder block",
    5: "water_1 water_2 water_3 water_4 water_body water_body_b pool pool_lily pool_n pool_w "
    "pool_e pool_s",
    6: "reed_foot reed_foot_b reed_stem reed_stem_b reed_tip reed_tip_b reed_clump tuft tuft_b",
}

_WATER = "water_1 water_2 water_3 water_4 water_body water_body_b water_deep water_deep_b"
TILE_FACTS: dict[str, Facts] = {
    **{name: Facts(ground=kind) for kind, names in _GROUNDS.items() for name in names.split()},
    **{name: Facts(ground=5, moves="swims") for name in _WATER.split()},
    "ladder": Facts(moves="climbs"),
    "reed_clump": Facts(wade=6, ground=6),
    "boards_end": Facts(entry=("left", "right", "below"), ground=3),
    "willow_nw": Facts(cover=1),
    "willow_ne": Facts(cover=1),
    "fence": Facts(reach=True),
    "crate": Facts(ground=3, notes=(Note("sound", "wood"), Note("weight", "3.5", "number"))),
    "plank_broken": Facts(ground=3, notes=(Note("breaks", "yes", "yes or no"),)),
}

TILE_BODIES: dict[str, Body] = {
    "crate": Body("pushed"),
    "float": Body("travels", Path((Point(24, 0),), 3.0, "eased")),
    "bucket": Body("falls"),
    "lamp_post": Body("fixed"),
}
