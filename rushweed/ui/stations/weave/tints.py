"""Colours as they are typed."""

from __future__ import annotations

from rushweed.core.values import Colour


def hex_of(colour: Colour | None) -> str:
    """A colour as it is typed; nothing for none."""
    return colour.hex if colour else ""


def colour_or_none(text: str) -> Colour | None:
    """What was typed as a colour. Raises Refusal for what is none."""
    return Colour.parse(text) if text.strip() else None
