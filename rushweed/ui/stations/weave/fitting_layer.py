"""The layer that fits what is drawn, made where it belongs if there is none."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from rushweed.core.weave.guarding import belongs_behind
from rushweed.core.weave.levels import add_layer
from rushweed.core.words import say
from rushweed.ui.desk import Desk

GUARDED = {
    "solid": "solid tiles",
    "one-way": "one-way tiles",
    "decoration": "decoration",
    "ground": "ground",
    "things": "things",
}
Guard = tuple[str, str, int | None]
"""What would be replaced and what by, by their purposes, and the place of the layer that fits."""


def go_to_fitting_layer(desk: Desk, guard: Guard, numbers: Collection[int]) -> bool:
    """Draw on the layer that fits pieces from now on; a new one lies before the active layer, or
    behind it where it would hide it. False where it cannot be made."""
    selection, index = desk.selection, guard[2]
    if index is None:
        behind = guard[1] == "ground" or belongs_behind(desk.project, desk.art, numbers)
        below = selection.layer - 1 if behind else selection.layer
        name = say("Background") if behind else guard[1].capitalize()
        level, index = selection.level, below + 1
        if not desk.do(say("Added a layer"), lambda p: add_layer(p, level, below, name)):
            return False
    desk.select(replace(desk.selection, layer=index))
    return True
