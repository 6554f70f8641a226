"""All that holds for a sheet in one line: size, filtering, compression, pivot, space."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import NamedTuple

from rushweed.core.gauge.pivots import ANCHORS, anchor_words, anchored
from rushweed.core.gauge.units import figure
from rushweed.core.newest import for_newest_parts
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.treatments import ALIKE, holding
from rushweed.core.words import said, say

COLUMNS = said(
    {
        "size": "Size",
        "filter": "Filtering",
        "compression": "Compression",
        "pivot": "Pivot",
        "space": "Space",
        "treatment": "Treatment",
    }
)
FILTERS = said({"nearest": "nearest", "linear": "linear"})


class SheetLine(NamedTuple):
    """What holds for a sheet, in words."""

    size: str
    filter: str
    compression: str
    pivot: str
    space: str
    treatment: str


def sheet_lines(project: Project) -> list[SheetLine]:
    """One line for each sheet."""
    return [_line(project.treatments, sheet) for sheet in project.sheets]


@for_newest_parts
def _line(treatments: tuple[Treatment, ...], sheet: Sheet) -> SheetLine:
    size, sampling, stored, space = treatment_parts(holding(treatments, sheet))
    own = "" if sheet.differences == ALIKE else " *"
    pivot = pivot_words(sheet.pieces)
    return SheetLine(size, sampling, stored, pivot, space, sheet.treatment + own)


def usual_line(lines: Sequence[SheetLine]) -> SheetLine:
    """What most sheets have in each point."""
    return SheetLine(*(Counter(column).most_common(1)[0][0] for column in zip(*lines, strict=True)))


def treatment_words(treatment: Treatment) -> str:
    """All that a treatment says, in one sentence."""
    size, sampling, stored, space = treatment_parts(treatment)
    return say(
        "{size}; {sampling} sampling; {stored}; {space} of space.",
        size=size,
        sampling=sampling,
        stored=stored,
        space=space,
    )


def treatment_parts(treatment: Treatment) -> tuple[str, str, str, str]:
    """Size, filtering, compression and space of a treatment, in words."""
    sampling = FILTERS[treatment.filter]
    if treatment.mipmaps:
        sampling = say("{filter}, mipmaps", filter=sampling)
    return (
        say("{n} px a unit", n=treatment.pixels_per_unit),
        sampling,
        " ".join(compression_words(treatment.compression)),
        say("{padding} + {extrude} px", padding=treatment.padding, extrude=treatment.extrude),
    )


def compression_words(choice: Compression) -> tuple[str, str]:
    """The name of a compression and what it says of itself."""
    if choice.form == "palette":
        dithered = say(", dithered") if choice.dithered else ""
        return say("Palette"), say("{n} colours", n=choice.colours) + dithered
    if choice.form == "lossless":
        return say("Lossless"), "PNG"
    if choice.form == "lossless WebP":
        return say("Lossless"), "WebP"
    if choice.form == "lossy WebP":
        return say("Lossy"), say("WebP, quality {n}", n=choice.quality)
    return choice.form, say("4 × 4 blocks")


def pivot_words(pieces: Sequence[Piece]) -> str:
    """Where the pivots of pieces are: at one anchor, on one pixel, or not alike."""
    if not pieces:
        return say("not cut")
    for anchor in ANCHORS:
        if all(piece.pivot == anchored(piece, anchor) for piece in pieces):
            return anchor_words(anchor)
    places = {piece.pivot for piece in pieces}
    if len(places) > 1:
        return say("differs")
    (place,) = places
    return say("{x}, {y} px", x=figure(place.x), y=figure(place.y))
