"""The heron of the pool, in 24 × 32 cells: a row of standing and a row of flying."""

from __future__ import annotations

from drawing.pix import Pix

CELL = (24, 32)
SHORT_LEGS = 20
POSES = {
    "stand": [
        "........................",
        "...............000......",
        "..............0PPP0.....",
        ".............SSSPP00....",
        "...........SS0PPP0DEE0..",
        "..........S...0PP00DDEE0",
        "..............0PQ0..000.",
        ".............0PQ0.......",
        "............0PQ0........",
        "............0PQ0........",
        "............0PPQ0.......",
        ".......00000.0PPQ0......",
        ".....00RRRRQ00PPQ0......",
        "....0RRRRQQQQQPPPQ0.....",
        "...0SRRRRRQQQQQPPQ0.....",
        "..0SSRRRRRRQQQQPP0......",
        ".0SS0SSRRRRRQQQP0.......",
        ".000.00SSRRRRQ00........",
        "........00S0000.........",
        "..........0.E0..........",
        "..........D..E..........",
        "..........D..E..........",
        "..........D..E..........",
        ".........DD.DEE.........",
    ],
    "stoop": [
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        ".............0000.......",
        "............0PPPQ00.....",
        ".......00000.0QQPPP0....",
        ".....00RRRRQ00PPQ0QP0...",
        "....0RRRRQQQQQPPQ00PP0..",
        "...0SRRRRRQQQQQPQ0SPP0..",
        "..0SSRRRRRRQQQQP0.SPP00.",
        ".0SS0SSRRRRRQQQ0.S.0PD0.",
        ".000.00SSRRRRQ0.....0DE0",
        "........00S000.......0E0",
        "..........0.E0........0E",
        "..........D..E..........",
        "..........D..E..........",
        "..........D..E..........",
        ".........DD.DEE.........",
    ],
    "fly": [
        "........................",
        ".....00.................",
        "....0SS00...............",
        "....0SSRR00.............",
        ".....0SRRRR0............",
        ".....0SSRRRR0...........",
        "......0SRRRRQ0..........",
        "......0SSRRRQQ0.........",
        ".......0SRRRQQ0..000....",
        ".......0SSRRQQQ00PPP0...",
        "....0000SSRRQQQPPPQPP00.",
        "DD00SSSRRRRRQQQQPQ00DDE0",
        "..DDDDSSSRRRRQQPP0..0000",
        "......0000SSRRQ00.......",
        "..........00000.........",
        "........................",
    ],
    "flyd": [
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        "........................",
        ".................000....",
        ".........00000.00PPP0...",
        ".......00RRRQQQPPPPP00..",
        "DD00000RRRRQQQQQPQ0DDE0.",
        "..DDDSSSRRRRRQQPP0.000..",
        "......00SSRRRRQ00.......",
        "........0SSRRR0.........",
        "........0SSRRRR0........",
        ".........0SSRRR0........",
        ".........0SSSRR0........",
        "..........0SSR0.........",
        "...........000..........",
    ],
}


def pose(name: str, dx: int = 0, dy: int = 0) -> Pix:
    return Pix(*CELL).map(_rows(name), dx, dy)


def looking_back() -> Pix:
    """The standing heron with its neck drawn in."""
    standing = _rows("stand")
    return Pix(*CELL).map(standing[10:], 0, 10).map(standing[:10], -1, 1)


def rows() -> list[tuple[str, list[Pix]]]:
    stoop = pose("stoop")
    return [
        ("stand", [pose("stand"), looking_back(), stoop, stoop, pose("stand")]),
        ("fly", [pose("fly"), pose("flyd"), pose("fly", 0, 1), pose("flyd", 0, -1)]),
    ]


def sheet() -> Pix:
    picture = Pix(5 * CELL[0], 2 * CELL[1])
    for row, (_, frames) in enumerate(rows()):
        for column, frame in enumerate(frames):
            picture.blit(frame, column * CELL[0], row * CELL[1])
    return picture


def _rows(name: str) -> list[str]:
    """The pose's pixel map; standing birds get the long legs of a wader."""
    drawn = POSES[name]
    if name not in ("stand", "stoop"):
        return drawn
    shank = "..........D..E.........."
    knee = "..........C..C.........."
    return [*drawn[:SHORT_LEGS], *[shank] * 3, knee, *[shank] * 4, *drawn[SHORT_LEGS:]]
