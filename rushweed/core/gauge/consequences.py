"""What each ground rule leads to, in words."""

from __future__ import annotations

from rushweed.core.cut.rules_from_art import tile_sizes, tile_words
from rushweed.core.gauge.units import figure, size_sentence, units
from rushweed.core.project.ground_rules import is_painted
from rushweed.core.project.project import Project
from rushweed.core.values import Size
from rushweed.core.words import say, say_of


def of_scale(project: Project) -> str:
    """What the number of pixels per unit makes of a tile and of a pixel."""
    return size_sentence(project, project.rules.pixels_per_unit)


def of_tile(project: Project) -> str:
    """How large a level's cells are, and what becomes of painted ones when that changes."""
    rules = project.rules
    across, down = (figure(side / rules.pixels_per_unit) for side in rules.tile)
    sentence = say(
        "A level's cells lie {tile} px apart, {across} × {down} units.",
        tile=rules.tile,
        across=across,
        down=down,
    )
    if not is_painted(project):
        return sentence
    painted = sum(any(layer.cells.chunks for layer in level.layers) for level in project.levels)
    kept = say_of(
        painted,
        "1 level is painted: with another tile its cells keep their tiles and only lie closer or "
        "further apart; props, marks and starts stay where they are.",
        "{count} levels are painted: with another tile their cells keep their tiles and only lie "
        "closer or further apart; props, marks and starts stay where they are.",
    )
    return f"{sentence} {kept}"


def of_resolution(project: Project) -> str:
    """How much of a level the game shows at once."""
    rules = project.rules
    across = figure(rules.resolution.width / rules.tile.width, 1)
    down = figure(rules.resolution.height / rules.tile.height, 1)
    height = units(rules.resolution.height / rules.pixels_per_unit)
    return say(
        "The game shows {across} × {down} tiles at once, {height} high.",
        across=across,
        down=down,
        height=height,
    )


def of_view(project: Project) -> str:
    """What new levels begin as."""
    if project.rules.view == "side":
        return say(
            "New levels are seen from the side: things fall, and one walks, jumps and lands."
        )
    return say(
        "New levels are seen from above: nothing falls, what stands lower is drawn in front."
    )


def of_y(project: Project) -> str:
    """Which way heights count in what the game is handed."""
    if project.rules.y_up:
        return say("One tile above the origin is at y = +1 in units, as in a graph.")
    return say("One tile above the origin is at y = −1 in units, as on a screen.")


def of_art(project: Project) -> tuple[Size, str] | None:
    """The tile that most tilesets are drawn for, with how many they are; None when it is the rule
    or there is none."""
    sizes = tile_sizes(project.sheets)
    if not sizes:
        return None
    tile, count = sizes.most_common(1)[0]
    if (tile, tile.width) == (project.rules.tile, project.rules.pixels_per_unit):
        return None
    return tile, say_of(
        count,
        "1 tileset is drawn for {tile_words} px tiles.",
        "{count} tilesets are drawn for {tile_words} px tiles.",
        tile_words=tile_words(tile),
    )
