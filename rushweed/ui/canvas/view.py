"""Where a picture's pixels lie on the screen: a scale and a place, as pure functions.

A screen's `ratio` is how many of its own pixels are one of the window system's, such as 1.25. The
usual steps are told in the screen's own, so that one pixel of the picture is a whole number of
them; places and scales are in those of the window system.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from rushweed.core.values import Point, Rect, Size

STEPS = (
    1 / 8,
    1 / 6,
    1 / 4,
    1 / 3,
    1 / 2,
    2 / 3,
    1,
    2,
    3,
    4,
    5,
    6,
    8,
    10,
    12,
    16,
    20,
    24,
    28,
    32,
    40,
    48,
    64,
)


@dataclass(frozen=True, slots=True)
class View:
    """`scale` screen pixels for a pixel of the picture, whose origin lies at (left, top)."""

    scale: float = 1.0
    left: float = 0.0
    top: float = 0.0

    def to_screen(self, x: float, y: float) -> Point:
        return Point(self.left + x * self.scale, self.top + y * self.scale)

    def to_picture(self, x: float, y: float) -> Point:
        return Point((x - self.left) / self.scale, (y - self.top) / self.scale)

    def moved(self, dx: float, dy: float) -> View:
        return replace(self, left=self.left + dx, top=self.top + dy)

    def zoomed(self, scale: float, x: float, y: float) -> View:
        """At another scale, with the picture's point under screen point (x, y) staying there."""
        fixed = self.to_picture(x, y)
        return View(scale, round(x - fixed.x * scale), round(y - fixed.y * scale))

    def visible(self, width: int, height: int) -> Rect:
        """The whole pixels of the picture that a widget of that size shows, even in part."""
        first = self.to_picture(0, 0)
        last = self.to_picture(width, height)
        x, y = int(first.x // 1), int(first.y // 1)
        return Rect(x, y, int(last.x // 1) - x + 1, int(last.y // 1) - y + 1)


def next_step(scale: float, direction: int, ratio: float = 1.0) -> float:
    """The next larger or smaller of the zoom steps."""
    own = scale * ratio
    if direction > 0:
        return next((step for step in STEPS if step > own * 1.001), STEPS[-1]) / ratio
    return next((step for step in reversed(STEPS) if step < own * 0.999), STEPS[0]) / ratio


def nearest_step(scale: float, ratio: float = 1.0) -> float:
    """The zoom step that a scale is nearest to, in times."""
    own = scale * ratio
    return min(STEPS, key=lambda step: max(step / own, own / step)) / ratio


def largest_step(scale: float, ratio: float = 1.0) -> float:
    """The largest of the zoom steps that is not above a scale."""
    own = scale * ratio * 1.001
    return max((step for step in STEPS if step <= own), default=STEPS[0]) / ratio


FRACTIONS = {1 / 8: "⅛", 1 / 6: "⅙", 1 / 4: "¼", 1 / 3: "⅓", 1 / 2: "½", 2 / 3: "⅔"}


def zoom_words(scale: float) -> str:
    """“×2” or “×⅔”: the scale as people write it."""
    return f"×{FRACTIONS.get(scale) or f'{round(scale, 2):g}'}"


MARGIN, LEAST_MARGIN = 36, 6
"""Pixels that a fitted picture leaves free around it, and those it leaves where more would make it
much smaller: 256 px stand twice as large in a window 800 px high."""


def fitted(content: Rect, size: Size, ratio: float = 1.0) -> View:
    """The largest zoom step at which all of the content is seen, in the middle; for none, true
    to size."""
    if not content.area:
        return centred(content, size, 1.0 / ratio)
    scale, largest = (_step(content, size, edge, ratio) for edge in (MARGIN, LEAST_MARGIN))
    return centred(content, size, largest if largest >= 1.5 * scale else scale)


def _step(content: Rect, size: Size, margin: int, ratio: float) -> float:
    room_x, room_y = max(size.width - 2 * margin, 16), max(size.height - 2 * margin, 16)
    most = min(room_x / max(content.width, 1), room_y / max(content.height, 1))
    return largest_step(most, ratio)


def opened(
    content: Rect, start: Point | None, size: Size, ratio: float = 1.0, largest: float = 2.0
) -> View:
    """What a level is first seen at: all of it, or, when it is much wider than high, its whole
    height with its start (else its left end) in view, and likewise for a tall one."""
    whole = fitted(content, size, ratio).scale
    across = fitted(Rect(0, 0, content.width, 1), size, ratio).scale
    down = fitted(Rect(0, 0, 1, content.height), size, ratio).scale
    one = 1.0 / ratio
    scale = min(whole, largest * one) if whole >= one else min(max(across, down), one)
    view = centred(content, size, scale)
    at = start or Point(content.x, content.bottom)
    seen_x, seen_y = size.width / scale, size.height / scale
    left, top = view.left, view.top
    if content.width > seen_x:
        first = min(max(at.x - seen_x / 2.6, content.x), content.right - seen_x)
        left = round(-first * scale)
    if content.height > seen_y:
        first = min(max(at.y - seen_y * 0.55, content.y), content.bottom - seen_y)
        top = round(-first * scale)
    return View(scale, left, top)


def centred(content: Rect, size: Size, scale: float) -> View:
    """The content in the middle, at that scale."""
    left = (size.width - content.width * scale) / 2 - content.x * scale
    top = (size.height - content.height * scale) / 2 - content.y * scale
    return View(scale, round(left), round(top))
