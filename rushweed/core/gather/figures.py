"""Figures: creatures that several sheets show, proposed by what these are called."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import replace
from itertools import takewhile

from rushweed.core.project.figure import Figure
from rushweed.core.project.named import FIGURES
from rushweed.core.project.project import Project, free_name, taken_names
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal

_ACTIONS = """
idle stand stands standing wait move walk walking run running dash sneak crouch duck roll jump
jumping leap hop rise fall falling land landing climb climbing swim swimming fly flying glide
hang push pull lift carry throw attack hit hurt slash stab shoot cast block die death dead
sleep sit talk eat turn spin sway wade hover blink
"""
ACTIONS = frozenset(_ACTIONS.split())
"""Words for what a creature does."""


def proposed_figures(project: Project) -> list[Figure]:
    """Sheets that seem to show one creature each: with frames, names that begin alike, and what
    follows says what it does in one of them at least. What is of a figure is not asked about."""
    taken = {name for figure in project.figures for name in figure.sheets}
    found: dict[tuple[str, ...], list[str]] = defaultdict(list)
    acting: set[tuple[str, ...]] = set()
    for sheet in project.sheets:
        words = _words(sheet.name)
        if sheet.name in taken or not shows_frames(sheet) or len(words) < 2:
            continue
        at = next((n for n, word in enumerate(words[1:], 1) if word in ACTIONS), 0)
        begins = words[: at or -1]
        found[begins].append(sheet.name)
        if at:
            acting.add(begins)
    return [
        Figure(" ".join(begins), tuple(names))
        for begins, names in found.items()
        if len(names) > 1 and begins in acting
    ]


def make_figure(project: Project, name: str, sheets: Sequence[str]) -> Project:
    """Let sheets be one figure, in their order in the project; they leave those that they were of.
    Its name gets a number where a figure or a sheet has it. Raises Refusal for fewer than two."""
    order = tuple(sheet.name for sheet in project.sheets if sheet.name in set(sheets))
    if len(order) < 2:
        raise Refusal("A figure is shown by two sheets or more. Select them, and try again.")
    for figure in project.figures:
        left = tuple(one for one in figure.sheets if one not in order)
        if not left:
            project = let_figure_go(project, figure.name)
        elif left != figure.sheets:
            project = _with(project, Figure(figure.name, left))
    made = Figure(free_name(name.strip() or order[0], taken_names(project)), order)
    return replace(project, figures=(*project.figures, made))


def walk_as(project: Project, name: str) -> Project:
    """Show the walker as a figure or a sheet, be the figure proposed only; plainly for no name."""
    meant = next((one for one in proposed_figures(project) if one.name == name), None)
    if meant is not None and name not in taken_names(project):
        project = make_figure(project, name, meant.sheets)
    return replace(project, walker=replace(project.walker, figure=name))


def rename_figure(project: Project, name: str, new: str) -> Project:
    """Call a figure otherwise; who walks as it goes on doing so. Raises Refusal where that is no
    name, or that of another figure or a sheet."""
    return FIGURES.renamed(project, name, new)


def let_figure_go(project: Project, name: str) -> Project:
    """Let the sheets of a figure stand alone; who showed it shows the first of them."""
    figure = next((one for one in project.figures if one.name == name), None)
    if figure is None:
        return project
    walker = project.walker
    if walker.figure == name:
        walker = replace(walker, figure=figure.sheets[0])
    left = tuple(one for one in project.figures if one.name != name)
    return replace(project, figures=left, walker=walker)


def figure_of(project: Project, sheets: Sequence[str]) -> Figure | None:
    """The figure that all of some sheets show, or None."""
    return next((one for one in project.figures if sheets and set(sheets) <= set(one.sheets)), None)


def shared_name(sheets: Sequence[str]) -> str:
    """What a figure of some sheets may be called: the words that their names begin with.

    >>> shared_name(["fen_hero_idle", "fen_hero_run"]), shared_name(["hop", "sit"])
    ('fen hero', '')
    """
    alike = takewhile(lambda words: len(set(words)) == 1, zip(*map(_words, sheets), strict=False))
    return " ".join(words[0] for words in alike)


def _with(project: Project, figure: Figure) -> Project:
    figures = (figure if one.name == figure.name else one for one in project.figures)
    return replace(project, figures=tuple(figures))


def shows_frames(sheet: Sheet) -> bool:
    """Whether a sheet seems to hold frames of something."""
    many = len(sheet.sources) > 1 or any(source.frames for source in sheet.sources)
    return sheet.belongs is None and (many or bool(sheet.animations) or sheet.kind == "sheet")


def _words(name: str) -> tuple[str, ...]:
    """The words of a name, without numbers.

    >>> _words("Hero_idle 2"), _words("heroRun")
    (('hero', 'idle'), ('hero', 'run'))
    """
    parted = re.sub(r"(?<=[a-zäöü])(?=[A-Z])", " ", name)
    return tuple(word for word in re.split(r"[\W_\d]+", parted.lower()) if word)
