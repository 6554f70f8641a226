"""What `bundle.json` says. These classes are its one definition; its JSON Schema is made of them.

Rectangles on pages are in pixels, y down, from the upper left. All other places are in pixels or
units, as `units` says, y down from the upper left of the piece or the level's origin; with `y_up`
true they are y up instead, those of pieces from the lower left corner of the untrimmed piece.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from rushweed.core.project.body import BodyKind
from rushweed.core.project.drawing_sets import HemTile, HemWay
from rushweed.core.project.facts import Moves, Side
from rushweed.core.project.feel import Feel, Following
from rushweed.core.project.rules import States
from rushweed.core.project.sheet import Play
from rushweed.core.value_ranges import Degrees, NotNegative, Orientation, Phase, Share, Times
from rushweed.core.values import Byte, Point, Rect, Size

Number = int | float


@dataclass(frozen=True, slots=True)
class DensityEntry:
    """A page at so many times its size, and its normal map, empty when it has none."""

    density: int
    file: str
    normals: str


@dataclass(frozen=True, slots=True)
class PageEntry:
    """A picture of the bundle, beside this file or within it as a data URL, and its normal map,
    empty when it has none. `form` is the kind of file, `stored` how it holds pixels; `multiplied`
    when alpha is in its colours. `densities` has the page once more in every size of the recipe;
    `file` is the first of them, and `size` that of density 1."""

    file: str
    size: Size
    normals: str
    form: Literal["PNG", "WebP", "KTX 2", "DDS"]
    stored: str
    multiplied: bool
    mipmaps: bool
    densities: tuple[DensityEntry, ...]


@dataclass(frozen=True, slots=True)
class BordersEntry:
    """How many pixels at each side keep their size while the rest is stretched or tiled."""

    left: int
    top: int
    right: int
    bottom: int
    middle: Literal["stretched", "tiled"]


@dataclass(frozen=True, slots=True)
class CircleEntry:
    """The circle that a shape's corners stand for."""

    middle: Point
    radius: Number


@dataclass(frozen=True, slots=True)
class ShapeEntry:
    """A solid part of a piece, counter-clockwise as seen on the screen; holes run clockwise. A
    one-way part stops what comes from its `side`, null for others; it turns with the piece.
    `convex` are parts without holes or dents, when the recipe asks for them. `layer` is its
    collision layer, `note` what a sensor tells the game."""

    stops: Literal["all sides", "one-way", "sensor"]
    side: Literal["above", "below", "left", "right"] | None
    corners: tuple[Point, ...]
    holes: tuple[tuple[Point, ...], ...]
    circle: CircleEntry | None
    convex: tuple[tuple[Point, ...], ...]
    layer: int
    note: str


@dataclass(frozen=True, slots=True)
class PathEntry:
    """Where a body travels: places from where it stands, one way in so many seconds."""

    points: tuple[Point, ...]
    seconds: float
    easing: Literal["even", "eased"]
    way: Literal["there and back", "round"]


@dataclass(frozen=True, slots=True)
class BodyEntry:
    """How a piece moves as a prop."""

    kind: BodyKind
    path: PathEntry | None


@dataclass(frozen=True, slots=True)
class FactsEntry:
    """What a tile is beyond its shape: the sides one may come in from, how many tiles high it is
    drawn over somebody behind it, how much of the feet it hides, whether one can act across it,
    the number of its kind of ground, the game's own notes, how one gets on in it, and how fast one
    is carried there, in units per second to the right and, as `y_up` says, up or down."""

    entry: tuple[Side, ...]
    cover: int
    wade: Number
    reach: bool
    ground: int | None
    notes: dict[str, str | int | float | bool]
    moves: Moves
    current: Point


@dataclass(frozen=True, slots=True)
class PointEntry:
    """A named place on a frame, such as a hand."""

    name: str
    x: Number
    y: Number


@dataclass(frozen=True, slots=True)
class PieceEntry:
    """A frame or tile: where it lies, how large a unit is in it, where it stands.

    `rect` lies on the page; when `turned`, the piece was turned by a quarter clockwise there.
    `size` is that of the whole piece, `offset` where the part on the page begins in it, both in
    pixels, y down. `borders` is null for what is drawn whole. `shapes` is null while nobody
    decided, and empty when nothing of the piece is solid.
    """

    number: int
    name: str
    sheet: str
    page: NotNegative
    rect: Rect
    turned: bool
    size: Size
    offset: Point
    pivot: Point
    pixels_per_unit: int
    filter: Literal["nearest", "linear"]
    borders: BordersEntry | None
    shapes: tuple[ShapeEntry, ...] | None
    facts: FactsEntry
    body: BodyEntry
    points: tuple[PointEntry, ...]
    events: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class AnimationEntry:
    """Pieces shown one after the other, by number, at `rate` steps per second; each for as many
    steps as `holds` says. With `in_cells`, cells that hold its first frame play it."""

    name: str
    sheet: str
    frames: tuple[int, ...]
    holds: tuple[int, ...]
    rate: float
    play: Play
    in_cells: bool


@dataclass(frozen=True, slots=True)
class CastEntry:
    """An animation of a figure: what it is called there, and what it is called on its sheet."""

    name: str
    sheet: str
    animation: str


@dataclass(frozen=True, slots=True)
class FigureEntry:
    """A creature that several sheets show, with all its animations under names of its own."""

    name: str
    animations: tuple[CastEntry, ...]


@dataclass(frozen=True, slots=True)
class PropEntry:
    """A piece placed freely, its pivot at (x, y), drawn `across` times as wide and `down` times as
    high, turned and flipped about it, then turned by `angle` degrees clockwise. `animation` is
    empty for a still one, and `phase` seconds ahead; `body` is null for one that moves as its piece
    does."""

    piece: int
    x: Number
    y: Number
    orientation: Orientation
    animation: str
    phase: Phase
    name: str
    group: str
    body: BodyEntry | None
    across: Times
    down: Times
    angle: Degrees
    tint: tuple[Byte, Byte, Byte] | None
    opacity: Share
    notes: dict[str, str | int | float | bool]


@dataclass(frozen=True, slots=True)
class LayerEntry:
    """Painted cells as rows, and props. A row has y, the x it begins at, and either runs `cells`
    of [number, count] or [number, count, orientation], or plain `numbers` and `orientations`; a
    `packed` block has `width` and `height`, too."""

    name: str
    group: str
    opacity: Share
    tint: tuple[Byte, Byte, Byte] | None
    visible: bool
    parallax: float
    repeated: bool
    repeated_down: bool
    solid: bool
    notes: dict[str, str | int | float | bool]
    cells: list[dict[str, Any]]
    props: tuple[PropEntry, ...]


@dataclass(frozen=True, slots=True)
class MarkEntry:
    """A named place."""

    name: str
    x: Number
    y: Number
    notes: dict[str, str | int | float | bool]


@dataclass(frozen=True, slots=True)
class RingEntry:
    """A ring, and for each of its corners the number of the kind of ground of the edge that begins
    there, null for no kind; `grounds` is empty where no edge has one."""

    corners: tuple[Point, ...]
    grounds: tuple[int | None, ...]


@dataclass(frozen=True, slots=True)
class OutlineEntry:
    """What stops walkers in a level's cells, without inner seams: an outer ring, counter-clockwise
    as seen on the screen, and the clockwise ones of its holes. One that is one-way stops what
    comes from its `side`, null for others. `layer` is its collision layer. `convex` lists convex
    parts with at most as many corners as the recipe says, or nothing."""

    stops: Literal["all sides", "one-way"]
    side: Literal["above", "below", "left", "right"] | None
    layer: int
    outer: RingEntry
    holes: tuple[RingEntry, ...]
    convex: tuple[tuple[Point, ...], ...]


@dataclass(frozen=True, slots=True)
class ChunkEntry:
    """A square of cells that lies in a file of its own, by its column and row among chunks."""

    x: int
    y: int
    file: str


@dataclass(frozen=True, slots=True)
class LevelEntry:
    """Layers from back to front on a background of red, green, blue; those from number `front` on,
    counted from 0, are drawn over whoever walks there. `extent` is the rectangle of
    cells, y down, around all that is painted. The cells of a level with a `chunk` of so many cells
    a side lie in its `chunks`; it is 0 where they lie in the layers."""

    name: str
    extent: Rect
    view: Literal["side", "top-down"]
    background: tuple[int, int, int]
    start: Point | None
    layers: tuple[LayerEntry, ...]
    front: NotNegative
    marks: tuple[MarkEntry, ...]
    outlines: tuple[OutlineEntry, ...]
    notes: dict[str, str | int | float | bool]
    chunk: NotNegative
    chunks: tuple[ChunkEntry, ...]


@dataclass(frozen=True, slots=True)
class LevelFileEntry:
    """A level that lies in a file of its own."""

    name: str
    extent: Rect
    file: str


@dataclass(frozen=True, slots=True)
class KindEntry:
    """A kind of ground by its number."""

    number: int
    name: str


@dataclass(frozen=True, slots=True)
class CollisionEntry:
    """A collision layer by its number, 0 to 31, and the numbers of all that it meets. Numbers that
    are not listed meet all."""

    number: int
    name: str
    meets: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class CreditEntry:
    """Whom to thank for a sheet, under which licence (an SPDX expression), what that asks for, in
    English, and where the texts of its licences are."""

    sheet: str
    author: str
    licence: str
    source: str
    credit: str
    asks: tuple[str, ...] = ()
    texts: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class HemEntry:
    """Tiles that finish the edges of an area, for terrain that changes in play, as the project's
    format tells: of each piece its nine parts as bits, and how often it is drawn."""

    name: str
    way: HemWay
    goes_on: bool
    meets: tuple[str, ...]
    tiles: tuple[HemTile, ...]


@dataclass(frozen=True, slots=True)
class MixEntry:
    """Pieces of which one is drawn at random, with the weight of each."""

    name: str
    tiles: tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True)
class WalkerEntry:
    """The walker that was tried in the levels: its `body` in pixels, in units per second its
    `speed`, and the rest as ground rules and `feel` have it, in units and seconds. Its figure
    `faces` that way as it is drawn, where animations are not named for ways. `figure` is the name
    of one of `figures`, or of a sheet that is one by itself; `sheet` is the first sheet of it."""

    body: Size
    speed: float
    jump: float
    gravity: float
    coyote_time: float
    jump_buffer: float
    variable_jump_height: bool
    ways: Literal[4, 8]
    sheet: str
    layer: int
    states: States
    feel: Feel
    following: Following
    faces: Literal["right", "left"]
    figure: str = ""


@dataclass(frozen=True, slots=True)
class Manifest:
    """All of a bundle but its pictures. `files` has the SHA-256, in hexadecimal, of every other
    file of the bundle, so that whoever reads while a new one is being written can tell."""

    name: str
    recipe: str
    y_up: bool
    units: Literal["pixels", "units"]
    tile: Size
    pixels_per_unit: int
    resolution: Size
    kinds: tuple[KindEntry, ...]
    collision: tuple[CollisionEntry, ...]
    walker: WalkerEntry
    pages: tuple[PageEntry, ...]
    pieces: tuple[PieceEntry, ...]
    animations: tuple[AnimationEntry, ...]
    hems: tuple[HemEntry, ...]
    mixes: tuple[MixEntry, ...]
    levels: tuple[LevelEntry | LevelFileEntry, ...]
    credits: tuple[CreditEntry, ...]
    files: dict[str, str]
    format: Literal[4] = 4
    figures: tuple[FigureEntry, ...] = ()


def schema() -> dict[str, Any]:
    """The JSON Schema of `bundle.json`."""
    from pydantic import TypeAdapter

    return TypeAdapter(Manifest).json_schema()
