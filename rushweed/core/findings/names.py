"""Findings about names and numbers of things: what refers to nothing, and what is there twice, as
after two versions of a file were put together by hand."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

from rushweed.core.findings.finding import Finding
from rushweed.core.folder.inside import Inside
from rushweed.core.gather.art import Art
from rushweed.core.project.head import HEAD
from rushweed.core.project.known import unlisted_in
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project, free_name, with_level
from rushweed.core.project.references import Kind, Reference, lost_references, renamed
from rushweed.core.words import say

KINDS: dict[Kind, tuple[str, str, str]] = {
    "sheet": ("Gather", "There is no sheet {name}, but something refers to it.", "no sheet"),
    "level": ("Bale", "There is no level {name}, but a recipe names it.", "no level"),
    "animation": ("Cut", "{sheet} has no animation {name}, but something plays it.", "standing"),
    "treatment": ("Gauge", "There is no treatment {name}, but sheets share it.", "Crisp pixels"),
    "hem": ("Weave", "There is no hem {name}, but another joins it.", "no hem"),
}
"""By what is referred to: the station, a sentence, and what it is taken for."""


def lost_names(project: Project, art: Art) -> Iterator[Finding]:
    """References to what is not there."""
    for lost in lost_references(project):
        station, sentence, taken_for = KINDS[lost.kind]
        usual = (project.treatments[0].name,) if lost.kind == "treatment" else ()
        yield Finding(
            "lost-name",
            station,
            say(sentence, name=lost.name, sheet=lost.sheet or say("nothing")),
            say("It is taken for “{what}” here, and a build may refuse it.", what=say(taken_for)),
            lost.name,
            mend_words=say("Refer to what is there"),
            mend=partial(_dropped, lost=lost, usual=usual),
        )


def _dropped(project: Project, lost: Reference, usual: tuple[str, ...]) -> Project:
    return renamed(project, lost, *usual)


def unlisted_files(project: Project, art: Art) -> Iterator[Finding]:
    """Files of sheets and levels in the project's folder that belong to nothing."""
    for name in unlisted_in(Inside(art.folder)):
        yield Finding(
            "unlisted-file",
            "Gather" if name.startswith("sheets/") else "Weave",
            say("{name} lies in the folder, but the project does not list it.", name=name),
            say("It is not opened and not removed. List it in {head}, or move it away.", head=HEAD),
            name,
        )


@dataclass(frozen=True, slots=True)
class _List:
    """A list of the project whose things are known by one of their fields."""

    station: str
    words: str
    field: str
    read: Callable[[Project], Sequence[Any]]
    write: Callable[[Project, tuple[Any, ...]], Project]
    level: str = ""


def _lists(project: Project) -> Iterator[_List]:
    """All such lists of a project."""
    for station, words, name in (
        ("Gauge", "treatments", "treatments"),
        ("Bale", "recipes", "recipes"),
        ("Weave", "hems", "hems"),
        ("Weave", "patches", "patches"),
        ("Weave", "mixes", "mixes"),
    ):
        yield _List(
            station,
            words,
            "name",
            lambda p, name=name: getattr(p, name),  # type: ignore[misc]
            lambda p, things, name=name: replace(p, **{name: things}),  # type: ignore[misc]
        )
    for words, name in (("kinds of ground", "kinds"), ("collision layers", "collision")):
        yield _List(
            "Bound",
            words,
            "number",
            lambda p, name=name: getattr(p.rules, name),  # type: ignore[misc]
            lambda p, things, name=name: replace(p, rules=replace(p.rules, **{name: things})),  # type: ignore[misc]
        )
    for level in project.levels:
        for words, name in (("layers", "layers"), ("marks", "marks")):
            yield _List(
                "Weave",
                words,
                "name",
                partial(_of_level, level=level.name, name=name),
                partial(_with_level, level=level.name, name=name),
                level.name,
            )


def _of_level(project: Project, level: str, name: str) -> Sequence[Any]:
    things: Sequence[Any] = getattr(project.level(level), name)
    return things


def _with_level(project: Project, things: tuple[Any, ...], level: str, name: str) -> Project:
    def edit(old: Level) -> Level:
        return replace(old, **{name: things})  # type: ignore[arg-type]

    return with_level(project, level, edit)


def doubled_names(project: Project, art: Art) -> Iterator[Finding]:
    """Things of one list that have one name, or one number."""
    for one in _lists(project):
        counted = Counter(getattr(thing, one.field) for thing in one.read(project))
        twice = [value for value, count in counted.items() if count > 1]
        if twice:
            where = say(" of {level}", level=one.level) if one.level else ""
            yield Finding(
                "doubled-name",
                one.station,
                say(
                    "Two {things}{where} have the {field} {value}.",
                    things=say(one.words),
                    where=where,
                    field=say(one.field),
                    value=twice[0],
                ),
                say("Whoever asks for it gets the first of them."),
                one.level or str(twice[0]),
                level=one.level,
                mend_words=say("Tell them apart"),
                mend=partial(_told_apart, one),
            )


def _told_apart(one: _List, project: Project) -> Project:
    return one.write(project, tuple(_apart(one.read(project), one.field)))


def _apart(things: Iterable[Any], field: str) -> Iterator[Any]:
    """The things, of which the second and later ones get names or numbers of their own."""
    things = list(things)
    taken = {getattr(thing, field) for thing in things}
    seen: set[Any] = set()
    for thing in things:
        value = getattr(thing, field)
        if value in seen:
            value = free_name(value, taken) if field == "name" else max(taken) + 1
            thing = replace(thing, **{field: value})
            taken.add(value)
        seen.add(value)
        yield thing
