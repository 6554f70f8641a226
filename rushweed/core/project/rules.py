"""What holds for the whole project: ground rules, treatments, recipes, and who walks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from rushweed.core.project.collision import CollisionLayer, LayerNumber
from rushweed.core.project.facts import GroundKind
from rushweed.core.project.feel import Feel, Following
from rushweed.core.value_ranges import Density, NotNegative, Positive, Rate, Seconds, within
from rushweed.core.values import Colour, Size

View = Literal["side", "top-down"]
Filter = Literal["nearest", "linear"]
Form = Literal["lossless", "palette", "lossless WebP", "lossy WebP", "BC1", "BC3", "BC7"]
Sides = Literal["any", "multiple of four", "power of two"]
PictureForm = Literal["PNG", "WebP", "KTX 2", "DDS"]


@dataclass(frozen=True, slots=True)
class GroundRules:
    """Choices that every sheet, level and bundle of the project shares. `kinds` are the kinds of
    ground that tiles may be of, `collision` the layers that shapes may be on. As long as nobody has
    `chosen` tile size or pixels per unit, the first tileset that is cut says what they are."""

    pixels_per_unit: Positive = 16
    tile: Size = Size(16, 16)
    view: View = "side"
    y_up: bool = True
    resolution: Size = Size(256, 144)
    background: Colour = Colour(35, 32, 53)
    kinds: tuple[GroundKind, ...] = ()
    chosen: bool = False
    collision: tuple[CollisionLayer, ...] = ()


@dataclass(frozen=True, slots=True)
class Compression:
    """The form in which pixels reach the game. `colours` and `dithered` tell of a palette,
    `quality` from 1 to 100 of lossy WebP."""

    form: Form = "lossless"
    colours: Annotated[int, within(2, 256)] = 256
    dithered: bool = False
    quality: Annotated[int, within(1, 100)] = 80


@dataclass(frozen=True, slots=True)
class Treatment:
    """A named set of choices that sheets share.

    Padding and repeated edges are in pixels of the page. `multiplied` has colours multiplied by
    alpha before they are stored. `sides` says which widths and heights textures may have.
    """

    name: str
    pixels_per_unit: Positive = 16
    filter: Filter = "nearest"
    mipmaps: bool = False
    compression: Compression = Compression()
    multiplied: bool = False
    padding: NotNegative = 2
    extrude: NotNegative = 1
    sides: Sides = "any"


@dataclass(frozen=True, slots=True)
class Differences:
    """The single points in which a sheet departs from its treatment; None where it does not."""

    pixels_per_unit: Positive | None = None
    filter: Filter | None = None
    mipmaps: bool | None = None
    compression: Compression | None = None
    multiplied: bool | None = None
    padding: NotNegative | None = None
    extrude: NotNegative | None = None
    sides: Sides | None = None


@dataclass(frozen=True, slots=True)
class Recipe:
    """A named way to make a bundle.

    Places are told y down or `y_up`, in pixels or in units. Pages are pictures of one form, as
    the treatments say; `densities` are the sizes they are made in. A page's sides are at most
    `largest`, of the kind that `sides` says, and equal when `square`. Pieces on it may be `turned`
    by a quarter and `trimmed` of what is empty around them; tilesets may be kept as `grids`.
    Pieces of different treatments lie `apart`. `convex` parts of shapes have at most so many
    corners, 0 for none. `rows` of cells are told as runs, plain, cell by cell, or packed. In a
    `single_file` there are no line breaks and no spaces. With `lasting` names every page's file
    has its content in its name, and stays until the build after next. `levels_apart` writes each
    level into a file of its own, `chunk` its cells into squares of so many a side, 0 for none.
    Without `outlines`, nobody waits for the merged ones of levels: a game goes by the shapes of
    tiles. Named in `only_sheets` and `only_levels` is what goes in, with the sheets that those
    levels show; all, where nothing is named. `most_kib`, `most_pages` and `most_memory` (KiB in
    graphics memory) are budgets, 0 for none. `templates` names files of the project's `templates/`,
    or shipped ones, that write more files.
    """

    name: str
    y_up: bool = False
    units: Literal["pixels", "units"] = "pixels"
    picture: PictureForm = "PNG"
    densities: tuple[Density, ...] = (1,)
    largest: Annotated[int, within(16, 16384)] = 4096
    sides: Sides = "any"
    square: bool = False
    turned: bool = False
    trimmed: bool = False
    grids: bool = False
    apart: bool = False
    convex: Annotated[int, within(0, 1024)] = 0
    rows: Literal["runs", "plain", "packed"] = "runs"
    single_file: bool = False
    lasting: bool = False
    levels_apart: bool = False
    chunk: Annotated[int, within(0, 4096)] = 0
    outlines: bool = True
    only_sheets: tuple[str, ...] = ()
    only_levels: tuple[str, ...] = ()
    most_kib: NotNegative = 0
    most_pages: NotNegative = 0
    most_memory: NotNegative = 0
    templates: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class States:
    """The animations a walker shows, by name; an empty one is shown as the nearest that is there.

    `up` and `down` are for moving away and towards in levels seen from above, `climb` and `swim`
    for ladders and water in those seen from the side.
    """

    stand: str = ""
    move: str = ""
    rise: str = ""
    fall: str = ""
    up: str = ""
    down: str = ""
    climb: str = ""
    swim: str = ""


@dataclass(frozen=True, slots=True)
class Walker:
    """The figure one walks with: body in pixels (None for the usual one of the figure that is
    shown, else of the ground rules), speeds in units per second, jump in units.

    `figure` names the figure, or the sheet, whose animations it shows; empty for a plain one.
    `coyote_time` is
    how many seconds after a ledge one may still jump, `jump_buffer` how many before landing; with
    `variable_jump_height`, a jump ends when its key is let go. Seen from above it moves in 4 or 8
    `ways`. `layer` is the collision layer that it is of. `faces` says which way the figure looks
    as it is drawn, where its animations are not named for ways.
    """

    body: Size | None = None
    speed: Rate = 4.0
    jump: Rate = 2.2
    gravity: Rate = 22.0
    figure: str = ""
    coyote_time: Seconds = 0.0
    jump_buffer: Seconds = 0.0
    variable_jump_height: bool = False
    ways: Literal[4, 8] = 8
    states: States = States()
    feel: Feel = Feel()
    following: Following = Following()
    layer: LayerNumber = 0
    faces: Literal["right", "left"] = "right"

    @property
    def drawn_way(self) -> int:
        """Which way it looks as it is drawn: 1 for right, -1 for left."""
        return -1 if self.faces == "left" else 1


CRISP_PIXELS = Treatment("Crisp pixels", 16, "nearest")
PAINTED = Treatment("Painted", 100, "linear")


def default_treatments() -> tuple[Treatment, ...]:
    """The two treatments every new project starts with."""
    return (CRISP_PIXELS, PAINTED)
