"""A piece as the game may come to draw it: sizes, turns, fractions of pixels, neighbours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, cos, hypot, radians, sin

import numpy as np

from rushweed.core.gather.pictures import Picture
from rushweed.core.gauge.alpha import spread_colours
from rushweed.core.gauge.sampling import Placing, Sampler, drawn, enlarged_afterwards
from rushweed.core.project.rules import Treatment
from rushweed.core.values import Point, Rect, Size

SLOW, SWAY = 6.0, 12.0
"""Screen pixels a second of something that moves slowly, and how far it goes to either side."""
LARGEST_NEIGHBOUR = 64
"""Of larger neighbours the upper left corner is drawn."""
APART = 8
"""How far the pieces of the art lie from others where padding is looked at, in pixels."""


@dataclass(frozen=True, slots=True)
class Way:
    """One way to draw a piece: its name, where it lies, and the factor by which the whole screen
    is enlarged afterwards (1 for none)."""

    name: str
    placing: Placing
    afterwards: int = 1
    moving: bool = False


WAYS = (
    Way("1×", Placing(1)),
    Way("2×", Placing(2)),
    Way("3×", Placing(3)),
    Way("1.5×", Placing(1.5)),
    Way("0.5×", Placing(0.5)),
    Way("half a pixel off", Placing(3, 0, Point(1.5, 0))),
    Way("turned by 20°", Placing(3, 20)),
    Way("moving slowly", Placing(3), moving=True),
    Way("turned, drawn small", Placing(3, 20), afterwards=3),
    Way("moving, drawn small", Placing(3), afterwards=3, moving=True),
)


def sampler_of(treatment: Treatment) -> Sampler:
    """How a treatment has its textures read."""
    return Sampler(treatment.filter, treatment.mipmaps, treatment.multiplied)


def view(
    piece: Picture, way: Way, treatment: Treatment, screen: Size, seconds: float = 0.0
) -> Picture:
    """A piece drawn one way on a screen of some size, after some seconds if it moves."""
    seen = ceil(hypot(*screen) / way.placing.scale) + 2 * ceil(SWAY)
    texture = np.pad(_middle(piece, seen), ((1, 1), (1, 1), (0, 0)))
    if treatment.filter == "linear" and not treatment.multiplied:
        texture = spread_colours(texture)
    placing = way.placing
    if way.moving:
        shift = Point((seconds * SLOW) % (2 * SWAY) - SWAY, placing.shift.y)
        placing = Placing(placing.scale, placing.turn, shift)
    sampler = sampler_of(treatment)
    if way.afterwards > 1:
        return enlarged_afterwards(texture, screen, placing, sampler, way.afterwards)
    return drawn(texture, screen, placing, sampler)


def turned_about(
    piece: Picture,
    pivot: Point,
    degrees: float,
    scale: float,
    treatment: Treatment,
    screen: Size,
    foot: Point,
) -> Picture:
    """A piece so many times as large and turned clockwise about its pivot, which lies at `foot`
    on the screen."""
    angle = radians(degrees)
    across = (piece.shape[1] / 2 - pivot.x) * scale
    down = (piece.shape[0] / 2 - pivot.y) * scale
    middle = Point(
        foot.x + across * cos(angle) - down * sin(angle) - screen.width / 2,
        foot.y + across * sin(angle) + down * cos(angle) - screen.height / 2,
    )
    return drawn(piece, screen, Placing(scale, degrees, middle), sampler_of(treatment))


def side_by_side(
    pieces: Sequence[Picture], treatment: Treatment, spaced: bool, scale: float, across: float
) -> Picture:
    """Pieces next to each other in the game, drawn from a page at a fractional place.

    On the page they lie between other colours, with the treatment's padding and repeated edges if
    `spaced`, else right beside each other. Each is drawn `scale` times as large; the whole begins
    `across` screen pixels off.
    """
    pieces = [piece[:LARGEST_NEIGHBOUR, :LARGEST_NEIGHBOUR] for piece in pieces]
    edge, gap = (treatment.extrude, treatment.padding) if spaced else (0, 0)
    page, places = _page(pieces, edge, gap)
    height = round(max(place.height for place in places) * scale)
    width = round(sum(place.width for place in places) * scale)
    screen = Size(width, height)
    result = np.zeros((height, width, 4), np.uint8)
    x = 0.0
    for place in places:
        middle = x + place.width * scale / 2 + across - width / 2
        part = drawn(
            page, screen, Placing(scale, 0, Point(middle, across)), sampler_of(treatment), place
        )
        np.copyto(result, part, where=part[..., 3:] > 0)
        x += place.width * scale
    return result


def _middle(piece: Picture, side: int) -> Picture:
    """The middle of a piece, at most so many pixels wide and high."""
    top, left = (max(0, (size - side) // 2) for size in piece.shape[:2])
    return piece[top : piece.shape[0] - top, left : piece.shape[1] - left]


def _page(pieces: Sequence[Picture], edge: int, gap: int) -> tuple[Picture, list[Rect]]:
    """Pieces below each other on a page, and where each lies; between them what a full page has:
    other pieces, here one bright colour."""
    width = max(piece.shape[1] for piece in pieces) + 2 * (edge + gap) + 2 * APART
    height = sum(piece.shape[0] + 2 * (edge + gap) + APART for piece in pieces) + APART
    page = np.full((height, width, 4), (255, 0, 255, 255), np.uint8)
    places = []
    y = APART
    for piece in pieces:
        tall, wide = piece.shape[:2]
        around = np.pad(piece, ((edge, edge), (edge, edge), (0, 0)), mode="edge")
        around = np.pad(around, ((gap, gap), (gap, gap), (0, 0)))
        page[y : y + around.shape[0], APART : APART + around.shape[1]] = around
        places.append(Rect(APART + edge + gap, y + edge + gap, wide, tall))
        y += around.shape[0] + APART
    return page, places
