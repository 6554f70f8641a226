"""Findings of Gauge."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

import numpy as np

from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gauge.treating import set_filter, set_pixels_per_unit, treatment_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal

FEW_COLOURS = 64


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
