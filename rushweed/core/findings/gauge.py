"""Findings of Gauge."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gauge.pivots import align_pivots, from_foot, round_pivots
from rushweed.core.gauge.treating import set_filter, set_pixels_per_unit, treatment_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal

FEW_COLOURS, MANY_COLOURS = 64, 1500
SOFT = 12
"""Neighbours in painted art mostly differ by no more than this, of 255."""


def other_pixel_size(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose art pixels are not as large as the ground rules say."""
    usual = project.rules.pixels_per_unit
    for sheet in project.sheets:
        own = treatment_of(project, sheet).pixels_per_unit
        if own != usual:
            size = "larger" if own < usual else "smaller"
            yield Finding(
                "other-pixel-size",
                "Gauge",
                f"{sheet.name} has {size} pixels than the rest: {own} px per unit, not {usual}.",
                "Its pixels differ in size on the screen from all others.",
                sheet.name,
                sheet.name,
                mend_words=f"Set {usual}",
                mend=partial(set_pixels_per_unit, sheets=(sheet.name,), number=usual),
            )


def blurred_pixels(project: Project, art: Art) -> Iterator[Finding]:
    """Pixel art that would be drawn with linear filtering."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter == "linear" and is_pixel_art(art, sheet):
            yield Finding(
                "blurred-pixels",
                "Gauge",
                f"{sheet.name} is pixel art, but is drawn with linear filtering.",
                "Its pixels will look blurred in the game.",
                sheet.name,
                sheet.name,
                mend_words="Draw it nearest",
                mend=partial(set_filter, sheets=(sheet.name,), choice="nearest"),
            )


def jagged_paint(project: Project, art: Art) -> Iterator[Finding]:
    """Painted art that would be drawn with nearest sampling."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter == "nearest" and is_painted(art, sheet):
            yield Finding(
                "jagged-paint",
                "Gauge",
                f"{sheet.name} is painted softly, but is drawn with nearest sampling.",
                "Wherever the game draws it larger, smaller or turned, it will look jagged.",
                sheet.name,
                sheet.name,
                mend_words="Draw it linear",
                mend=partial(set_filter, sheets=(sheet.name,), choice="linear"),
            )


def wandering_pivots(project: Project, art: Art) -> Iterator[Finding]:
    """Animations whose frames do not stand on one point."""
    for sheet in project.sheets:
        pieces = {piece.number: piece for piece in sheet.pieces}
        for animation in sheet.animations:
            frames = [pieces[frame] for frame in animation.frames if frame in pieces]
            if len({from_foot(piece) for piece in frames}) > 1:
                numbers = frozenset(piece.number for piece in frames)
                yield Finding(
                    "wandering-pivot",
                    "Gauge",
                    f"The pivots of {animation.name} in {sheet.name} differ from frame to frame.",
                    "The figure will jump about while it plays.",
                    sheet.name,
                    sheet.name,
                    tuple(sorted(numbers)),
                    mend_words="Put all where most are",
                    mend=partial(align_pivots, numbers=numbers),
                )


def fractional_pivots(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces of pixel art that stand between pixels."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter != "nearest":
            continue
        between = [p.number for p in sheet.pieces if any(side % 1 for side in p.pivot)]
        if between:
            count = "1 piece stands" if len(between) == 1 else f"{len(between)} pieces stand"
            yield Finding(
                "fractional-pivot",
                "Gauge",
                f"{count} between pixels in {sheet.name}.",
                "Its pixels will shimmer, or be drawn a pixel beside their place.",
                sheet.name,
                sheet.name,
                tuple(between),
                mend_words="Round the pivots",
                mend=partial(round_pivots, numbers=frozenset(between)),
            )


def is_pixel_art(art: Art, sheet: Sheet) -> bool:
    """Whether a picture has few colours and hard edges of its alpha."""
    try:
        picture = art.picture(sheet)
    except Refusal:
        return False

    def look() -> bool:
        alpha = picture[..., 3]
        hard = bool(np.isin(alpha, (0, 255)).all())
        words = np.ascontiguousarray(picture).view(np.uint32)
        return hard and len(np.unique(words)) <= FEW_COLOURS

    key = ("pixel art", tuple(s.content for s in sheet.sources), sheet.pixel, sheet.colour_key)
    return art.memory.get(key, look)


def is_painted(art: Art, sheet: Sheet) -> bool:
    """Whether a picture has very many colours that mostly differ little from their neighbours."""
    try:
        picture = art.picture(sheet)
    except Refusal:
        return False

    def look() -> bool:
        words = np.ascontiguousarray(picture).view(np.uint32)[..., 0]
        if min(words.shape) < 2 or len(np.unique(words)) < MANY_COLOURS:
            return False
        step = np.abs(picture[:, 1:].astype(np.int16) - picture[:, :-1]).max(axis=2)
        moved = step[step > 0]
        return bool(len(moved) > 0 and np.median(moved) <= SOFT)

    contents = tuple(source.content for source in sheet.sources)
    return art.memory.get(("painted", contents, sheet.pixel, sheet.colour_key), look)
