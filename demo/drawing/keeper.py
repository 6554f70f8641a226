"""The keeper of the lamps, in 19 × 24 cells: idle, walk, raise, sit."""

from __future__ import annotations

from typing import NamedTuple

from drawing.pix import Pix

CELL = (19, 24)
BODY = [
    "......0000......",
    ".....0vww0......",
    "....0uvvww0.....",
    "..000uuvvv000...",
    ".0uvvvvwwwwww0..",
    "..0stttuuuut0...",
    "...0KKLLMM0.....",
    "...0KLLM0M0.....",
    "...0KLLMMM0.....",
    "..0bbKLLL00.....",
    "..0bccddde0.....",
    ".0H0bcccd0J0....",
    ".0HIIbbcIJJ0....",
    ".0HIIIIIIJJ0....",
    ".0HIIIIIIIJ0....",
    ".0HHIIIIIIJ0....",
    ".0HHIIIIIIJ0....",
    "..0HHIIIIIJ0....",
    "..0HHHIIII0.....",
]
LEGS = {
    "stand": [
        "..0HHHIIIIJ0....",
        "...0ss00tt0.....",
        "...0ss0.0tu0....",
        "...0sst00tuu0...",
        "...0000.00000...",
    ],
    "c1": [
        "..0HHHIIIIJ0....",
        "..0ss0..0tt0....",
        ".0sss0...0tu0...",
        ".0st0....0tuu0..",
        ".000.....00000..",
    ],
    "p1": [
        "..0HHHIIIIJ0....",
        "...0s00tt0......",
        "..0ss0.0tu0.....",
        "..0s0..0tuu0....",
        "..00....0000....",
    ],
    "u1": [
        "..0HHHIIIIJ0....",
        "...0sttu0.......",
        "....0stu0.......",
        "....0tuuu0......",
        "....00000.......",
    ],
    "c2": [
        "..0HHHIIIIJ0....",
        "..0tt0..0ss0....",
        ".0ttu0...0ss0...",
        ".0tu0....0sst0..",
        ".000.....00000..",
    ],
    "p2": [
        "..0HHHIIIIJ0....",
        "...0tt0ss0......",
        "..0tu0.0ss0.....",
        "..0tuu00sst0....",
        "..0000..0000....",
    ],
    "u2": [
        "..0HHHIIIIJ0....",
        "...0tts0........",
        "...0tus0........",
        "...0tuuu0.......",
        "...000000.......",
    ],
}
SITTING_LEGS = ["..0HHHIIIIIJJ0..", "...0tttttttuu0..", "....0000000tu0..", "...........0tuu0"]
LAMP = ["..0..", ".0y0.", "0yzy0", "0FGF0", "0FGF0", "0EFE0", ".000."]


class Arm(NamedTuple):
    """An arm, where it begins, and where the lamp hangs from it."""

    rows: list[str]
    x: int
    y: int
    lamp_x: int
    lamp_y: int


ARMS = {
    "low": Arm(
        ["0HI0....", ".0IJ00..", "..0JLL0.", "...00..."],
        7,
        12,
        11,
        15,
    ),
    "fwd": Arm(
        ["0HI0....", ".0IJJ00.", "..00ILL0", "....000."],
        7,
        12,
        12,
        14,
    ),
    "back": Arm(
        ["0HI0..", "0IIJ0.", ".0JLL0", "..000."],
        7,
        12,
        10,
        16,
    ),
    "mid": Arm(
        ["0HI000..", "0IIJJLL0", ".000000."],
        7,
        11,
        12,
        12,
    ),
    "up1": Arm(
        ["....0LL0", "..00IJ0.", "0HIIJ0..", ".000...."],
        7,
        9,
        12,
        9,
    ),
    "up2": Arm(
        ["....0L0.", "...0LL0.", "..0IJ0..", "0HIJ0...", ".000...."],
        7,
        8,
        11,
        4,
    ),
    "up3": Arm(
        ["...0L0", "..0LL0", ".0IJ0.", "0HIJ0.", "0HI0..", ".00..."],
        7,
        6,
        10,
        0,
    ),
}


def figure(legs: str, arm: str, bob: int = 0, drift: int = 0, lamp: int = 0) -> Pix:
    """One frame; `bob` lowers the body, `drift` moves all to the right, `lamp` lowers the lamp."""
    frame, x = Pix(*CELL), 1 + drift
    frame.map(LEGS[legs], x, 19)
    frame.map(BODY, x, 1 + bob)
    held = ARMS[arm]
    frame.map(held.rows, x + held.x, held.y + 1 + bob)
    return frame.map(LAMP, x + held.lamp_x - 1, held.lamp_y + 1 + bob + lamp)


def sitting(index: int) -> Pix:
    """One frame of sitting, breathing slowly."""
    breath, swing = int(index in (2, 3)), int(index in (1, 4))
    frame = Pix(*CELL)
    frame.map(BODY[:17], 1, 5 + breath)
    frame.map(SITTING_LEGS, 1, 20)
    frame.map(ARMS["mid"].rows, 8, 17 + breath)
    return frame.map(LAMP, 13, 12 + swing + breath)


def rows() -> list[tuple[str, list[Pix]]]:
    """Every animation with its frames. The walk's last frame strays a pixel to the right."""
    idle = [(0, 0), (0, 1), (1, 0), (1, 0), (1, 1), (0, 0)]
    walk = [
        figure("c1", "fwd", 1),
        figure("p1", "low"),
        figure("u1", "low"),
        figure("c2", "back", 1),
        figure("p2", "low", lamp=0, drift=1),
        figure("u2", "low"),
        figure("stand", "fwd", drift=1),
    ]
    lift = [("low", 0, 0), ("mid", 0, 0), ("mid", 1, 0), ("up1", 0, 0), ("up2", 0, 0)]
    lift += [("up2", 0, -1), ("up2", 1, 0)]
    return [
        ("idle", [figure("stand", "low", bob, lamp=lamp) for bob, lamp in idle]),
        ("walk", walk),
        ("raise", [figure("stand", arm, bob, lamp=lamp) for arm, bob, lamp in lift]),
        ("sit", [sitting(index) for index in range(5)]),
    ]


def sheet() -> Pix:
    picture = Pix(7 * CELL[0], 4 * CELL[1])
    for row, (_, frames) in enumerate(rows()):
        for column, frame in enumerate(frames):
            picture.blit(frame, column * CELL[0], row * CELL[1])
    return picture
