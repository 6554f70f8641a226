"""A sheet: one gathered picture (or a row of numbered ones) with all that was decided about it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

from rushweed.core.orientation import SWAPPED
from rushweed.core.project.body import Body
from rushweed.core.project.facts import Facts
from rushweed.core.project.rules import Differences
from rushweed.core.project.shape import Shape
from rushweed.core.value_ranges import (
    Factor,
    Nearby,
    NotNegative,
    Number,
    Orientation,
    Positive,
    Rate,
    Steps,
    Whole,
    one_of,
    within,
)
from rushweed.core.values import Colour, Point, Rect, Size

Kernel = Literal["nearest", "linear", "cubic"]
Kind = Literal["picture", "sheet", "tileset", "loose"]
Play = Literal["loop", "once", "back and forth"]
Decision = Literal["kind", "colour key", "pixel"]
"""What somebody said about a picture; no guess changes it any more."""


@dataclass(frozen=True, slots=True)
class Frames:
    """The frames of an animated picture: how large one is, how many, and how many a second."""

    size: Size
    count: Positive
    rate: Rate


@dataclass(frozen=True, slots=True)
class Source:
    """A picture file: its path inside the project's folder, what it held, and how large it is.

    `content` is the SHA-256 of the file's bytes in hexadecimal. The frames of an animated
    picture lie side by side, in rows.
    """

    path: str
    content: str
    size: Size
    frames: Frames | None = None


@dataclass(frozen=True, slots=True)
class Licence:
    """Where a picture came from. `identifier` is an SPDX licence expression, empty if unknown."""

    identifier: str = ""
    author: str = ""
    source: str = ""
    credit: str = ""


@dataclass(frozen=True, slots=True)
class ColourKey:
    """The flat colour that stands for nothing, and how far a pixel may lie from it, 0 to 255.

    Pixels up to `fringe` pixels from nothing are freed of what is mixed into them of the colour.
    """

    colour: Colour
    tolerance: NotNegative = 0
    fringe: NotNegative = 0


@dataclass(frozen=True, slots=True)
class Redrawn:
    """The pixels a picture was drawn with before it was enlarged badly, and by what kernel that
    was done: its picture is brought back to that size, and its source stays as it is. Where it is
    a part of something larger, as a picture of a screen is, its pixels are `factor` wide and high,
    and so much of the first ones is `cut` off at the left and at the top; else `factor` is 0."""

    size: Size
    kernel: Kernel = "nearest"
    factor: Annotated[int, within(0, 64)] = 0
    cut: Size = Size(0, 0)

    def fits(self, whole: Size) -> bool:
        """Whether it can be of a picture of that size."""
        if not self.factor:
            return 1 <= self.size.width <= whole.width and 1 <= self.size.height <= whole.height
        begun = 0 <= min(self.cut) <= max(self.cut) < self.factor
        return begun and self.size == size_of_part(whole, self.factor, self.cut)


def frames_share(sheet: Sheet, redrawn: Redrawn) -> bool:
    """Whether each of a sheet's pictures can be brought back by itself to its part of that: one is
    the whole, numbered frames are of one size and share it evenly."""
    count = len(sheet.sources)
    alike = len({source.size for source in sheet.sources}) == 1
    return count == 1 or (alike and not redrawn.factor and redrawn.size.width % count == 0)


def size_of_part(whole: Size, factor: int, cut: Size) -> Size:
    """How many pixels a picture shows that are `factor` wide and high, begun ones too, when the
    first ones have so much cut off."""
    return Size(*(-(-(side + off) // factor) for side, off in zip(whole, cut, strict=True)))


@dataclass(frozen=True, slots=True)
class EvenCells:
    """Cells of one size in rows and columns. Margin and gap are across and down, in pixels."""

    cell: Size
    margin: Size = Size(0, 0)
    gap: Size = Size(0, 0)
    kind: Literal["even cells"] = "even cells"


@dataclass(frozen=True, slots=True)
class LoosePieces:
    """Pieces told apart by empty space: bits nearer than `distance` pixels belong together.

    With `shadows`, a flat piece belongs to what stands just above it; with `bits`, a small one to
    what it lies within the rectangle of. Figures that touch are
    `parted` where they hang together by little, or where a silhouette comes again. `within` are
    cells that hold one piece each, however many bits that has; where they cut too much, they do
    not count.
    """

    distance: NotNegative = 1
    least: NotNegative = 4
    shadows: bool = False
    bits: bool = False
    parted: bool = False
    within: EvenCells | None = None
    kind: Literal["loose pieces"] = "loose pieces"


@dataclass(frozen=True, slots=True)
class OnePicture:
    """The whole picture is one piece."""

    kind: Literal["one picture"] = "one picture"


Layout = Annotated[EvenCells | LoosePieces | OnePicture, one_of()]


@dataclass(frozen=True, slots=True)
class Borders:
    """How many pixels at each side of a surround keep their size while the rest stretches."""

    left: NotNegative = 0
    top: NotNegative = 0
    right: NotNegative = 0
    bottom: NotNegative = 0
    middle: Literal["stretched", "tiled"] = "stretched"


@dataclass(frozen=True, slots=True)
class FramePoint:
    """A named place on a frame, such as a hand or a muzzle, in pixels of the piece."""

    name: str
    x: Nearby
    y: Nearby


@dataclass(frozen=True, slots=True)
class Piece:
    """One rectangle cut from a sheet, serving as a frame or a tile.

    `number` is unique in the project and never given again. `pivot` and shapes are in pixels of
    the piece, y down, from its upper left corner. `shapes` is None until somebody decided:
    an empty tuple means that nothing of the piece is solid. `row` is the row of cells it lies in.
    `by_hand` marks a rectangle that somebody corrected; it survives a new layout. A frame is drawn
    `offset` whole pixels to the right of and below where its pivot alone would put it. `points`
    are named places on it, `events` what it tells the game whenever it is shown. `pivot_set` says
    that somebody put the pivot there, even where it would be anyway.
    """

    number: Number
    rect: Rect
    pivot: Point
    name: str = ""
    row: Whole = 0
    column: Whole = 0
    shapes: tuple[Shape, ...] | None = None
    by_hand: bool = False
    offset: Point = Point(0, 0)
    borders: Borders | None = None
    facts: Facts = Facts()
    body: Body = Body()
    points: tuple[FramePoint, ...] = ()
    events: tuple[str, ...] = ()
    pivot_set: bool = False

    def points_moved(self, move: Callable[[Point], Point]) -> tuple[FramePoint, ...]:
        """Its points at other places."""
        return tuple(FramePoint(p.name, *move(Point(p.x, p.y))) for p in self.points)

    @property
    def foot(self) -> Point:
        """The middle of its lower edge, where a piece stands that nobody said more about."""
        return Point(self.rect.width // 2, self.rect.height)

    @property
    def has_pivot(self) -> bool:
        """Whether it was said, or found out, where it stands."""
        return self.pivot_set or self.pivot != self.foot or self.offset != Point(0, 0)

    @property
    def standing(self) -> Point:
        """Where the piece stands: its pivot, with the offset taken into account."""
        return Point(self.pivot.x - self.offset.x, self.pivot.y - self.offset.y)


@dataclass(frozen=True, slots=True)
class Missing:
    """A piece that its picture does not show any more, kept until somebody decides.

    `content` is a hash of its pixels in hexadecimal, by which it is known when it comes back.
    """

    piece: Piece
    content: str = ""


@dataclass(frozen=True, slots=True)
class Animation:
    """Pieces shown one after the other, by number, at `rate` steps per second.

    `holds` says for how many steps each frame is shown; it is empty when that is one for all.
    """

    name: str
    frames: tuple[int, ...]
    rate: Rate = 8.0
    play: Play = "loop"
    holds: tuple[Steps, ...] = ()


@dataclass(frozen=True, slots=True)
class Belonging:
    """What a picture is to another: the same at `factor` times its density, its normal map, or
    the same in other colours.

    `to` is the other sheet's name. The picture is cut as that one is, its rectangles `factor`
    times as large.
    """

    kind: Literal["density", "normal map", "recolouring"]
    to: str
    factor: Positive = 1


@dataclass(frozen=True, slots=True)
class Recolouring:
    """Colours changed: the hue turned by so many degrees, saturation and lightness by so many
    hundredths of what they could grow or shrink by, and before that single colours swapped for
    others."""

    hue: Annotated[int, within(-180, 180)] = 0
    saturation: Annotated[int, within(-100, 100)] = 0
    lightness: Annotated[int, within(-100, 100)] = 0
    swaps: tuple[tuple[Colour, Colour], ...] = ()


FitWay = Literal["nearest", "smoothed"]


@dataclass(frozen=True, slots=True)
class Fitted:
    """What is `drawn` so large, a cell or the whole picture, is `shown` in that size instead."""

    drawn: Size
    shown: Size
    way: FitWay = "nearest"

    def sized(self, size: Size) -> Size:
        """How large a picture becomes; in pixels, halves rounded up."""
        return Size(
            _share(size.width, self.shown.width, self.drawn.width),
            _share(size.height, self.shown.height, self.drawn.height),
        )


def _share(side: int, shown: int, drawn: int) -> int:
    return max(1, (2 * side * shown + drawn) // (2 * drawn))


@dataclass(frozen=True, slots=True)
class Sheet:
    """All that was decided about one gathered picture.

    Several sources are numbered frames and stand side by side, left to right, as one picture. One
    that was enlarged badly is `redrawn` first. `pixel` is how many stored pixels one drawn pixel
    takes; the sheet's picture is that much smaller than its sources. It is then turned and flipped
    by `orientation`, one of the eight of a square, each of its pixels made `enlarged` wide and
    high, `recoloured`, and made to fit another size. A layout cuts nothing that is about one of
    `left_out`. Animations and levels may name pieces that are `missing`. Pieces of `earlier`
    layouts that are used or were given something are known again when they are cut where they
    were. What was `decided` by somebody is not guessed any more.
    """

    name: str
    sources: tuple[Source, ...]
    kind: Kind = "picture"
    belongs: Belonging | None = None
    licence: Licence = Licence()
    colour_key: ColourKey | None = None
    pixel: Factor = 1
    orientation: Orientation = 0
    enlarged: Factor = 1
    layout: Layout | None = None
    left_out: tuple[Rect, ...] = ()
    pieces: tuple[Piece, ...] = ()
    missing: tuple[Missing, ...] = ()
    earlier: tuple[Piece, ...] = ()
    animations: tuple[Animation, ...] = ()
    treatment: str = "Crisp pixels"
    differences: Differences = Differences()
    recoloured: Recolouring | None = None
    decided: tuple[Decision, ...] = ()
    redrawn: Redrawn | None = None
    fitted: Fitted | None = None

    def deciding(self, decision: Decision) -> tuple[Decision, ...]:
        """What is decided once that is, too."""
        return self.decided if decision in self.decided else (*self.decided, decision)

    @property
    def stored_size(self) -> Size:
        """The sheet's picture before anything but bringing it back is done to it."""
        if self.redrawn is not None:
            return self.redrawn.size
        if len(self.sources) == 1:
            return self.sources[0].size
        width = sum(source.size.width for source in self.sources)
        return Size(width, max(source.size.height for source in self.sources))

    @property
    def size(self) -> Size:
        """The sheet's picture as it is cut."""
        width, height = (side // self.pixel for side in self.stored_size)
        if self.orientation & SWAPPED:
            width, height = height, width
        size = Size(width * self.enlarged, height * self.enlarged)
        return self.fitted.sized(size) if self.fitted else size
