"""Findings of Weave."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from functools import partial

from rushweed.core.cut.rules_from_art import choose_tile, tile_words
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gauge.units import figure
from rushweed.core.project.level import Level, Prop, bounds
from rushweed.core.project.own_size import in_levels
from rushweed.core.project.project import Project, numbers_in, piece_index
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Point
from rushweed.core.walk.starting import first_standing
from rushweed.core.weave.fitting_props import evened, uneven
from rushweed.core.weave.levels import set_start
from rushweed.core.weave.props import change_props
from rushweed.core.words import say, say_of, some


def missing_pieces(project: Project, art: Art) -> Iterator[Finding]:
    """Levels that name pieces which are gone."""
    known = set(piece_index(project))
    known |= {gone.piece.number for sheet in project.sheets for gone in sheet.missing}
    for level in project.levels:
        lost = numbers_in(level) - known
        if lost:
            yield Finding(
                "missing-pieces",
                "Weave",
                say_of(
                    len(lost),
                    "{name} uses 1 piece that is gone.",
                    "{name} uses {count} pieces that are gone.",
                    name=level.name,
                ),
                say("They are drawn as red squares here, and not at all in the game."),
                level.name,
                level=level.name,
            )


def misfitting_tiles(project: Project, art: Art) -> Iterator[Finding]:
    """Layers of whose tiles most are not as large as a cell; some may be, as tall trees are."""
    index, tile = piece_index(in_levels(project)), project.rules.tile
    for level in project.levels:
        for layer in level.layers:
            sizes = Counter(index[n][1].rect.size for n in layer.cells.used() if n in index)
            if 2 * sizes[tile] >= sizes.total() or not sizes:
                continue
            most = max(sizes, key=lambda size: sizes[size])
            yield Finding(
                "misfitting-tiles",
                "Weave",
                say(
                    "Most tiles on {layer} of {level} are {most} px; its cells are {tile}.",
                    layer=layer.name,
                    level=level.name,
                    most=most,
                    tile=tile,
                ),
                say("They overlap, or leave gaps between them."),
                level.name,
                level=level.name,
                mend_words=say("Make {size} the rule", size=tile_words(most)),
                mend=partial(choose_tile, tile=most),
            )


def no_start(project: Project, art: Art) -> Iterator[Finding]:
    """Painted levels that do not say where the walker starts."""
    for level in project.levels:
        if level.start is None and bounds(level).area:
            above = first_standing(project, level)

            def mend(old: Project, name: str = level.name, start: Point = above) -> Project:
                return set_start(old, name, start)

            yield Finding(
                "no-start",
                "Weave",
                say("{name} does not say where the walker starts.", name=level.name),
                say("The game has to guess where to put the player."),
                level.name,
                level=level.name,
                mend_words=say("Start on the first ground"),
                mend=mend,
            )


def uneven_props(project: Project, art: Art) -> Iterator[Finding]:
    """Props that are drawn with nearest pixels at a factor or an angle at which these differ."""
    for level in project.levels:
        found = _posed_props(level, partial(uneven, project), project)
        if not found:
            continue
        yield Finding(
            "uneven-props",
            "Weave",
            say_of(
                len(found),
                "In {name}, 1 prop is drawn with pixels of several sizes.",
                "In {name}, {count} props are drawn with pixels of several sizes.",
                name=level.name,
            ),
            say("A factor that is not whole, or a turn, makes some pixels wider than others."),
            level.name,
            level=level.name,
            mend_words=say("Make the factors whole"),
            mend=partial(_with_props, level=level.name, at=found, edit=evened),
        )


def enlarged_props(project: Project, art: Art) -> Iterator[Finding]:
    """Props the pixels of which are larger, each as large as the others, than those around."""
    for level in project.levels:
        found = _posed_props(level, partial(_is_enlarged, project), project)
        if not found:
            continue
        props = [level.layers[index].props[place] for index, place in sorted(found)]
        factors = sorted({figure(max(prop.across, prop.down)) for prop in props})
        yield Finding(
            "enlarged-props",
            "Weave",
            say_of(
                len(found),
                "In {name}, 1 prop is drawn with pixels {factors} times as large as those around.",
                "In {name}, {count} props are drawn with pixels {factors} times as large as those "
                "around.",
                name=level.name,
                factors=some(factors),
            ),
            say("Pixels of two sizes beside each other look like art of two games."),
            level.name,
            level=level.name,
            mend_words=say("Draw them as large as they are"),
            mend=partial(_with_props, level=level.name, at=found, edit=_as_large_as_drawn),
        )


Places = frozenset[tuple[int, int]]
"""Props of a level, each by its layer and its place there."""


def _posed_props(level: Level, meant: Callable[[Prop], bool], project: Project) -> Places:
    """The props of a level that are turned or enlarged, are meant, and are drawn with nearest
    pixels."""
    return frozenset(
        (index, place)
        for index, layer in enumerate(level.layers)
        for place, prop in enumerate(layer.props)
        if (prop.across, prop.down, prop.angle) != (1, 1, 0)
        and meant(prop)
        and _is_nearest(project, prop)
    )


def _with_props(project: Project, level: str, at: Places, edit: Callable[[Prop], Prop]) -> Project:
    for index in sorted({index for index, _ in at}):
        places = {place for where, place in at if where == index}
        project = change_props(project, level, index, places, edit)
    return project


def _is_enlarged(project: Project, prop: Prop) -> bool:
    """Whether whole factors make a prop larger than it was drawn; a surround is of any size."""
    found = project.find(prop.piece)
    plain = found is not None and found[1].borders is None
    return plain and max(prop.across, prop.down) > 1 and not uneven(project, prop)


def _as_large_as_drawn(prop: Prop) -> Prop:
    return replace(prop, across=1.0, down=1.0)


def _is_nearest(project: Project, prop: Prop) -> bool:
    found = project.find(prop.piece)
    return found is not None and treatment_of(project, found[0]).filter == "nearest"
