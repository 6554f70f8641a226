"""What holds for the whole project: ground rules, treatments, recipes, and who walks."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from rushweed.core.values import Colour, Size

View = Literal["side", "top-down"]
Filter = Literal["nearest", "linear"]
Form = Literal["lossless", "palette", "lossless WebP", "lossy WebP", "BC1", "BC3", "BC7"]
Sides = Literal["any", "multiple of four", "power of two"]


class _Within:
    """Bounds that files are checked against when they are read."""

    def __init__(self, low: int, high: int | None = None) -> None:
        self.bounds = {"ge": low} if high is None else {"ge": low, "le": high}

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        return {**handler(source), **self.bounds}


Positive = Annotated[int, _Within(1)]
NotNegative = Annotated[int, _Within(0)]


@dataclass(frozen=True, slots=True)
class GroundRules:
    """Choices that every sheet, level and bundle of the project shares."""

    pixels_per_unit: Positive = 16
    tile: Size = Size(16, 16)
    view: View = "side"
    y_up: bool = True
    resolution: Size = Size(256, 144)
    background: Colour = Colour(35, 32, 53)


@dataclass(frozen=True, slots=True)
class Compression:
    """The form in which pixels reach the game. `colours` and `dithered` tell of a palette,
    `quality` from 1 to 100 of lossy WebP."""

    form: Form = "lossless"
    colours: Annotated[int, _Within(2, 256)] = 256
    dithered: bool = False
    quality: Annotated[int, _Within(1, 100)] = 80


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
    repeat_edge: NotNegative = 1
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
    repeat_edge: NotNegative | None = None
    sides: Sides | None = None


@dataclass(frozen=True, slots=True)
class Recipe:
    """A named way to make a bundle."""

    name: str
    y_up: bool = False


@dataclass(frozen=True, slots=True)
class Walker:
    """The figure one walks with: body in pixels, speeds in units per second, jump in units.

    `sheet` names the sheet whose animations `idle` and `walk` it shows; empty for a plain figure.
    """

    body: Size = Size(10, 21)
    speed: float = 4.0
    jump: float = 2.2
    gravity: float = 22.0
    sheet: str = ""


CRISP_PIXELS = Treatment("Crisp pixels", 16, "nearest")
PAINTED = Treatment("Painted", 100, "linear")


def default_treatments() -> tuple[Treatment, ...]:
    """The two treatments every new project starts with."""
    return (CRISP_PIXELS, PAINTED)
