"""The three levels of Lanternfen: a boardwalk at dusk, the sluice house, the heron's pool."""

from __future__ import annotations

import math
from collections.abc import Iterable

from rushweed.core.orientation import FLIPPED
from rushweed.core.project.cells import Cells, Key
from rushweed.core.project.level import Layer, Level, Prop
from rushweed.core.project.project import Project
from rushweed.core.values import Colour, Point
from rushweed.core.weave.drawing import view_around

HEIGHTS = (
    *(9, 9, 9, 9, 9, 10, 11, 12, 13, 15, 16, 16, 15, 15, 16, 16, 16, 15, 14, 13, 11, 10),
    *(9, 9, 9, 9, 9, 8, 8, 8, 8, 8, 8, 9, 9, 9, 10, 10, 9, 9, 9, 9),
    *(10, 11, 12, 14, 16, 16, 15, 15, 16, 16, 15, 14, 12, 11, 10, 9, 8, 7, 7, 7, 7, 7, 7, 7),
)
"""The row in which the bank's turf lies, column by column."""
DEPTH = 22
WATER = 12
POOLS = ((6, 21), (42, 56))
STONES = (
    (2, 12),
    (4, 14),
    (22, 13),
    (24, 15),
    (20, 16),
    (1, 16),
    (27, 12),
    (34, 12),
    (39, 14),
    (61, 12),
)


class Painter:
    """Collects cells by the names of tiles."""

    def __init__(self, project: Project) -> None:
        self.numbers = {p.name or s.name: p.number for s, p in reversed(list(project.pieces()))}
        self.cells: dict[Key, tuple[int, int]] = {}
        self.names: dict[Key, str] = {}

    def put(self, column: int, row: int, name: str, orientation: int = 0) -> None:
        self.names[column, row] = name
        self.cells[column, row] = (self.numbers[name], orientation)

    def rows(self, column: int, row: int, rows: Iterable[str], legend: dict[str, str]) -> None:
        """Tiles as a drawing of letters."""
        for y, letters in enumerate(rows):
            for x, letter in enumerate(letters):
                if letter in legend:
                    self.put(column + x, row + y, legend[letter])

    def layer(self, name: str) -> Layer:
        return Layer(name, Cells().painted(self.cells))


def long_boardwalk(project: Project) -> Level:
    """Across two pools to the beacon."""
    start = Point(176, 144)
    ground, water, walk, small = (Painter(project) for _ in range(4))
    paint_ground(ground)
    paint_sluice(ground)
    for first, last in POOLS:
        paint_water(water, ground, first, last)
    paint_boardwalk(walk)
    paint_beacon(ground)
    paint_small_things(small)
    backdrop = [
        far_layer(project, "Sky", "high_sky", start, 0.0, 0, -54, locked=True, repeated=True),
        far_layer(project, "Sun", "low_sun", start, 0.04, 172, 72, locked=True),
        far_layer(project, "Far fen", "far_fen", start, 0.25, 40, 50, locked=True, repeated=True),
        far_layer(project, "Near fen", "near_fen", start, 0.5, 60, 78, locked=True, repeated=True),
    ]
    layers = [
        *backdrop,
        water.layer("Water"),
        Layer("Waders", props=waders(project)),
        ground.layer("Ground"),
        walk.layer("Boardwalk"),
        small.layer("Small things"),
        Layer("Props", props=props(project)),
        Layer("Lamplight", props=lamplight(project), opacity=0.5),
        Layer("Front reeds", props=front_reeds(project)),
    ]
    return Level("Long boardwalk", tuple(layers), start, background=Colour(35, 32, 53))


def paint_ground(ground: Painter) -> None:
    width = len(HEIGHTS)
    for x, top in enumerate(HEIGHTS):
        left_low = x > 0 and HEIGHTS[x - 1] > top
        right_low = x < width - 1 and HEIGHTS[x + 1] > top
        ground.put(x, top, "bank_top")
        for y in range(top + 1, DEPTH):
            left = x == 0 or HEIGHTS[x - 1] <= y
            right = x == width - 1 or HEIGHTS[x + 1] <= y
            ground.put(
                x, y, "mud" if left and right else "bank_face_left" if right else "bank_face_right"
            )
        if left_low and HEIGHTS[x - 1] > top + 1:
            ground.put(x, top, "bank_left")
        if right_low and HEIGHTS[x + 1] > top + 1:
            ground.put(x, top, "bank_right")
    for x, top in enumerate(HEIGHTS):
        if x < width - 1 and HEIGHTS[x + 1] == top + 1:
            ground.put(x + 1, top, "slope_down")
            ground.put(x + 1, top + 1, "mud")
        if x > 0 and HEIGHTS[x - 1] == top + 1:
            ground.put(x - 1, top, "slope_up")
            ground.put(x - 1, top + 1, "mud")
    for x, y in STONES:
        if ground.names.get((x, y)) == "mud":
            ground.put(x, y, "mud_stone")
    ground.put(2, 9, "bank_top_shell")


def paint_sluice(ground: Painter) -> None:
    """The sluice's wall with its gate; one climbs it by the planks beside it."""
    ground.rows(22, 5, ("<==>", "mGGs", "sggm", "sggs"), {
        "<": "sluice_left", "=": "sluice_top", ">": "sluice_right",
        "s": "stone", "m": "stone_moss", "G": "gate_top", "g": "gate",
    })  # fmt: skip
    for x in range(22, 26):
        ground.put(x, 9, "mud")


def paint_water(water: Painter, ground: Painter, first: int, last: int) -> None:
    for x in range(first, last):
        for y in range(WATER, DEPTH):
            lies = ground.names.get((x, y))
            if lies is not None and not lies.startswith("slope"):
                continue
            if y == WATER:
                water.put(x, y, f"water_{x % 4 + 1}")
            elif y == WATER + 1:
                water.put(x, y, "water_body" if x % 3 else "water_body_b")
            elif y == WATER + 2:
                water.put(x, y, "water_body_b")
            else:
                water.put(x, y, "water_deep" if x % 4 else "water_deep_b")


def paint_boardwalk(walk: Painter) -> None:
    deck(walk, 4, 22, 9, posts=(11, 15, 19))
    deck(walk, 20, 21, 7)
    deck(walk, 41, 46, 9, posts=(44,))
    deck(walk, 49, 51, 9, posts=(50,))
    deck(walk, 54, 56, 9)
    deck(walk, 59, 60, 5)
    walk.put(26, 7, "ledge_left")
    walk.put(27, 7, "ledge_right")


def deck(walk: Painter, first: int, last: int, row: int, posts: tuple[int, ...] = ()) -> None:
    """Planks from one column to another, on piles that stand in the water."""
    for x in range(first, last + 1):
        plain = "plank_b" if x % 3 == 0 else "plank"
        name = "plank_left" if x == first else "plank_right" if x == last else plain
        walk.put(x, row, "plank_post" if x in posts else name)
    for x in posts:
        walk.put(x, row + 1, "pile")
        walk.put(x, row + 2, "pile_bound")
        walk.put(x, row + 3, "pile_water")


def paint_beacon(ground: Painter) -> None:
    ground.rows(61, 4, ("<=>", "sms", "sss"), {
        "<": "sluice_left", "=": "sluice_top", ">": "sluice_right", "s": "stone", "m": "stone_moss",
    })  # fmt: skip


def paint_small_things(small: Painter) -> None:
    small.put(9, 8, "rail_left")
    for x in range(10, 14):
        small.put(x, 8, "rail")
    small.put(14, 8, "rail_right")
    for y in range(5, 9):
        small.put(21, y, "ladder")
    spots = {
        (0, 8): "tuft", (1, 8): "tuft_b", (3, 8): "marsh_flower", (2, 8): "boulder",
        (26, 8): "tuft", (29, 7): "marsh_flower", (30, 7): "tuft", (32, 7): "tuft_b",
        (34, 8): "tuft", (36, 8): "crate", (38, 8): "marsh_flower", (40, 8): "tuft",
        (59, 6): "tuft_b", (60, 6): "marsh_flower", (58, 6): "tuft",
        (36, 9): "tuft_b",
    }  # fmt: skip
    for place, name in spots.items():
        small.put(*place, name)
    for x in (41, 45):
        small.put(x, 8, "rail_left" if x == 41 else "rail_right")
    for x in range(42, 45):
        small.put(x, 8, "rail")


def props(project: Project) -> tuple[Prop, ...]:
    n = Painter(project).numbers
    posts = [Prop(n["lamp_post"], x, y) for x, y in LAMPS]
    crab = project.sheet("crab").pieces[0].number
    wheel = project.sheet("wheel").pieces[0].number
    return (
        *posts,
        Prop(crab, 62, 144, animation="snap"),
        Prop(n["bucket"], 212, 144),
        Prop(wheel, 384, 116, animation="wheel"),
        Prop(n["net"], 332, 143),
        Prop(n["lantern_1"], 552, 133),
        Prop(crab, 476, 128, orientation=FLIPPED, animation="snap"),
        Prop(n["bucket"], 700, 144),
        Prop(n["lantern_2"], 912, 112),
    )


LAMPS = ((84, 144), (264, 144), (388, 80), (600, 144), (1000, 64))
LAMP_HEAD = (9, -31)
"""Where the light of a lamp post is, from its foot."""


def lamplight(project: Project) -> tuple[Prop, ...]:
    glow = project.sheet("lamp_glow").pieces[0].number
    return tuple(Prop(glow, x + LAMP_HEAD[0], y + LAMP_HEAD[1]) for x, y in LAMPS)


def waders(project: Project) -> tuple[Prop, ...]:
    n = Painter(project).numbers
    heron = n["heron_stand_1"]
    eel = project.sheet("eel").pieces[0].number
    return (
        Prop(n["boat"], 216, 203),
        Prop(n["float"], 170, 202),
        Prop(heron, 132, 209, animation="stand"),
        Prop(eel, 250, 240, animation="swim"),
        Prop(heron, 792, 214, orientation=FLIPPED, animation="stand"),
        Prop(n["float"], 742, 202),
        Prop(eel, 760, 246, orientation=FLIPPED, animation="swim"),
    )


def front_reeds(project: Project) -> tuple[Prop, ...]:
    stands = [piece.number for piece in project.sheet("front_reeds").pieces]
    tall, taller, low = stands[0], stands[1], stands[2]
    places = (
        (low, 12, 146),
        (tall, 178, 256),
        (taller, 252, 256),
        (low, 450, 131),
        (low, 622, 147),
        (taller, 726, 256),
        (tall, 792, 256),
        (low, 946, 115),
    )
    return tuple(Prop(*place) for place in places)


def far_layer(
    project: Project,
    name: str,
    sheet: str,
    start: Point,
    parallax: float,
    x: int,
    y: int,
    locked: bool = False,
    repeated: bool = False,
) -> Layer:
    """A backdrop whose picture's upper left corner is seen at (x, y) from the level's start."""
    view = view_around(start, project.rules.resolution)
    piece = project.sheet(sheet).pieces[0]
    prop = Prop(
        piece.number,
        math.floor(view.x * parallax) + x + piece.pivot.x,
        math.floor(view.y * parallax) + y + piece.pivot.y,
    )
    return Layer(name, props=(prop,), parallax=parallax, locked=locked, repeated=repeated)


def sluice_house(project: Project) -> Level:
    """Indoors: two floors, a wheel behind, crates to jump on."""
    wall, solid, small = Painter(project), Painter(project), Painter(project)
    for y in range(14):
        for x in range(26):
            wall.put(x, y, "wall")
    for x in range(26):
        for y in (2, 8):
            wall.put(x, y, "wall_beam")
    for x, y in ((4, 4), (5, 4), (18, 4), (19, 4), (10, 10), (20, 10), (21, 10)):
        wall.put(x, y, "wall_window")
    for x, y in ((8, 5), (9, 5), (14, 11), (15, 11), (3, 11)):
        wall.put(x, y, "wall_shelf")
    for x in range(26):
        for y in (0, 1, 14, 15):
            solid.put(x, y, "block")
    for y in range(2, 14):
        for x in (0, 25):
            solid.put(x, y, "block")
    for x in (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24):
        solid.put(x, 7, "floor_post" if x in (4, 9, 16, 21) else "floor")
    for x in (11, 12):
        solid.put(x, 9, "floor")
        solid.put(x, 11, "floor")
    for x, y in ((5, 13), (6, 13), (6, 12), (18, 13), (22, 6), (23, 6), (3, 6)):
        small.put(x, y, "crate")
    for y in range(7, 14):
        small.put(11, y, "ladder")
    n = small.numbers
    wheel = project.sheet("wheel").pieces[0].number
    things = (
        Prop(wheel, 264, 190, animation="wheel"),
        Prop(n["lantern_1"], 60, 79),
        Prop(n["lantern_2"], 232, 79),
        Prop(n["lantern_1"], 340, 191),
        Prop(n["bucket"], 150, 224),
        Prop(n["net"], 180, 52),
        Prop(n["bottle"], 132, 112),
    )
    glow = project.sheet("lamp_glow").pieces[0].number
    light = tuple(Prop(glow, x, y) for x, y in ((60, 72), (232, 72), (340, 184)))
    layers = (
        wall.layer("Wall"),
        Layer("Wheel and things", props=things),
        solid.layer("Floors and walls"),
        small.layer("Crates"),
        Layer("Lamplight", props=light, opacity=0.4),
    )
    return Level("Sluice house", layers, Point(40, 224), background=Colour(21, 20, 29))


SHORE = {
    2: (14, 21), 3: (12, 23), 4: (12, 25), 5: (11, 27), 6: (11, 28), 7: (12, 28), 8: (13, 28),
    9: (14, 26), 10: (16, 24),
}  # fmt: skip
"""Row by row the first and the last column of the pool."""
BELOW = {(16, 5): "pool_deep", (17, 5): "pool_deep_b", (22, 6): "pool_deep", (19, 4): "pool_lily",
         (24, 8): "pool_lily", (15, 8): "pool_lily", (20, 8): "pool_deep_b", (21, 8): "pool_deep"}  # fmt: skip
MEADOW = (
    "T,..,....r...,.......,....,..r...T",
    "T..........r.............,.......T",
    "T.Ww....,................,..Ww...T",
    "T.Vv..f......................Vv..T",
    "T.......,....................,...T",
    "T---------.......................T",
    "T.,...,............... ......f...T",
    "T....r..........................rT",
    "T..,.....,...................,...T",
    "T....Ww......................,...T",
    "T.f..Vv..,.................Ww....T",
    "T........,..=..........,...Vv..,.T",
    "T,...,......=...,..f.......,.....T",
    "T..r....S...=........,...S....f..T",
)


def heron_pool(project: Project) -> Level:
    """The pool from above: banks, a landing of boards, willows to walk around."""
    ground, things = Painter(project), Painter(project)
    ground.numbers["boulder"] = next(
        p.number for p in project.sheet("fen_above").pieces if p.name == "boulder"
    )
    legend = {
        ",": "turf_b",
        "f": "turf_flowers",
        "-": "path",
        "=": "path_b",
        "T": "fence",
        "S": "stump",
    }
    rows = ("T" * 34, *MEADOW, "T" * 34)
    for y, letters in enumerate(rows):
        for x in range(len(letters)):
            ground.put(x, y, "turf_b" if (x * 7 + y * 5) % 11 == 0 else "turf")
    ground.rows(0, 0, rows, legend)
    paint_pool(ground)
    trees = {
        "W": "willow_nw",
        "w": "willow_ne",
        "V": "willow_sw",
        "v": "willow_se",
        "r": "reed_clump",
    }
    things.rows(0, 0, rows, trees)
    heron = things.numbers["heron_stand_1"]
    waders = (
        Prop(heron, 300, 96, animation="stand"),
        Prop(heron, 250, 150, orientation=FLIPPED, animation="stand"),
        Prop(project.sheet("eel").pieces[0].number, 330, 132, animation="swim"),
    )
    layers = (
        ground.layer("Ground"),
        things.layer("Willows and reeds"),
        Layer("Birds", props=waders),
    )
    return Level("Heron pool", layers, Point(40, 100), "top-down", Colour(72, 101, 61))


def paint_pool(ground: Painter) -> None:
    """Water with its banks, and a landing of boards from the left shore."""
    wet = {(x, y) for y, (first, last) in SHORE.items() for x in range(first, last + 1)}
    for x, y in wet:
        down = "n" if (x, y - 1) not in wet else "s" if (x, y + 1) not in wet else ""
        across = "w" if (x - 1, y) not in wet else "e" if (x + 1, y) not in wet else ""
        side = down + across
        ground.put(x, y, f"pool_{side}" if side else BELOW.get((x, y), "pool"))
    for x in range(10, 21):
        ground.put(x, 6, "boards_across" if x > 10 else "path")
