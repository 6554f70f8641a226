"""Small values that everything else is made of: immutable, hashable, compared by value."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from rushweed.core.value_ranges import Place, Positive, Whole, within
from rushweed.core.words import say

Byte = Annotated[int, within(0, 255)]


class Point(NamedTuple):
    """A place in pixels, x to the right and y down. Whole numbers unless the user asks for less."""

    x: Place
    y: Place


class Size(NamedTuple):
    """Width and height in pixels."""

    width: Whole
    height: Whole

    @property
    def area(self) -> int:
        """How many pixels that is."""
        return self.width * self.height

    def __str__(self) -> str:
        return f"{self.width} × {self.height}"


class Colour(NamedTuple):
    """Red, green, blue and alpha from 0 to 255, alpha straight (not multiplied in)."""

    red: Byte
    green: Byte
    blue: Byte
    alpha: Byte = 255

    @property
    def hex(self) -> str:
        """The colour as #RRGGBB, without its alpha."""
        return f"#{self.red:02X}{self.green:02X}{self.blue:02X}"

    @classmethod
    def parse(cls, text: str) -> Colour:
        """Read #RRGGBB. Raises Refusal with a sentence when the text is anything else."""
        digits = text.strip().removeprefix("#")
        if len(digits) != 6 or any(digit not in "0123456789abcdefABCDEF" for digit in digits):
            raise Refusal(
                "“{text}” is not a colour; write it as #RRGGBB, such as #FF00FF.", text=text
            )
        return cls(*bytes.fromhex(digits))


class Rect(NamedTuple):
    """A rectangle in whole pixels; its right and bottom edges lie outside it."""

    x: Whole
    y: Whole
    width: Positive
    height: Positive

    def moved(self, dx: int, dy: int) -> Rect:
        """The rectangle so many pixels to the right and down."""
        return Rect(self.x + dx, self.y + dy, self.width, self.height)

    @property
    def right(self) -> int:
        return self.x + self.width

    @property
    def bottom(self) -> int:
        return self.y + self.height

    @property
    def size(self) -> Size:
        return Size(self.width, self.height)

    @property
    def area(self) -> int:
        return max(self.width, 0) * max(self.height, 0)

    def grown(self, by: int) -> Rect:
        """So many pixels larger on every side."""
        return Rect(self.x - by, self.y - by, self.width + 2 * by, self.height + 2 * by)

    def contains(self, x: float, y: float) -> bool:
        """Whether the point lies inside; the left and top edges belong to the rectangle."""
        return self.x <= x < self.right and self.y <= y < self.bottom

    def intersection(self, other: Rect) -> Rect:
        """The part both share; of width or height 0 where they do not meet."""
        x, y = max(self.x, other.x), max(self.y, other.y)
        width = max(0, min(self.right, other.right) - x)
        height = max(0, min(self.bottom, other.bottom) - y)
        return Rect(x, y, width, height)

    def union(self, other: Rect) -> Rect:
        """The smallest rectangle around both; an empty one does not count."""
        if not self.area:
            return other
        if not other.area:
            return self
        x, y = min(self.x, other.x), min(self.y, other.y)
        return Rect(x, y, max(self.right, other.right) - x, max(self.bottom, other.bottom) - y)

    @classmethod
    def between(cls, first: Point, second: Point) -> Rect:
        """The rectangle with these two opposite corners, in any order."""
        left, right = sorted((int(first.x), int(second.x)))
        top, bottom = sorted((int(first.y), int(second.y)))
        return cls(left, top, right - left, bottom - top)


class Refusal(ValueError):  # noqa: N818 - a refusal is an answer to the user, not a fault
    """Something asked for cannot be done; the message is one sentence that says what to do, in the
    user's language, with values in the places that are named in it."""

    def __init__(self, text: str, /, **values: object) -> None:
        super().__init__(say(text, **values))
