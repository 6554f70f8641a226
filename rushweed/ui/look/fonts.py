"""One family, three sizes, figures that line up."""

from __future__ import annotations

from functools import cache

from PyQt6.QtGui import QFont, QFontDatabase

CAPTION, BODY, READ_OUT = 11, 13, 16
FAMILIES = ("Inter", "DejaVu Sans")


@cache
def family() -> str:
    """Inter where the system has it, else the system's own."""
    known = set(QFontDatabase.families())
    return next((name for name in FAMILIES if name in known), QFont().family())


@cache
def font(size: int = BODY, weight: int = 400) -> QFont:
    """The typeface at a size in pixels. Weights are 400, 500 and 600."""
    face = QFont(family())
    face.setPixelSize(size)
    face.setWeight(QFont.Weight(weight))
    face.setFeature(QFont.Tag("tnum"), 1)
    if size == READ_OUT:
        face.setLetterSpacing(QFont.SpacingType.AbsoluteSpacing, -0.2)
    return face


@cache
def fixed_font(size: int = 12) -> QFont:
    """The system's typeface in which all letters are equally wide, at a size in pixels."""
    face = QFontDatabase.systemFont(QFontDatabase.SystemFont.FixedFont)
    face.setPixelSize(size)
    return face
