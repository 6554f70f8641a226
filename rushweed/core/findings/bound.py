"""Findings of Bound."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from rushweed.core.bound.bodies import is_still
from rushweed.core.bound.doubtful import clip_shapes, doubt_about
from rushweed.core.bound.facts import name_kinds
from rushweed.core.bound.geometry import MOST_CORNERS
from rushweed.core.bound.ground import decide, undecided
from rushweed.core.bound.joining import small_steps
from rushweed.core.bound.standing import stand_on_drawn, standing_error
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Refusal
from rushweed.core.words import say, say_of


def floats_and_sinks(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces whose shapes lie above or below what is drawn of them."""
    for sheet in project.sheets:
        errors = _standing_errors(art, sheet)
        for floats in (True, False):
            off = {n: by for n, by in errors.items() if (by > 0) is floats}
            if not off:
                continue
            count = say_of(len(off), "1 piece", "{count} pieces")
            most = max(abs(by) for by in off.values())
            where = "above" if floats else "below"
            yield Finding(
                "floats" if floats else "sinks",
                "Bound",
                say(
                    "The shapes of {count} of {name} begin {where} what is drawn, by up to "
                    "{most} px.",
                    count=count,
                    name=sheet.name,
                    where=where,
                    most=most,
                ),
                say(
                    "A walker will float over the ground."
                    if floats
                    else "A walker will sink into the ground."
                ),
                sheet.name,
                sheet.name,
                tuple(off),
                mend_words=say("Bring them together"),
                mend=partial(stand_on_drawn, errors=off),
            )


def _standing_errors(art: Art, sheet: Sheet) -> dict[int, int]:
    """By how much the shapes of each piece are off; only of those that are."""
    found: dict[int, int] = {}
    picture = picture_key(sheet)
    for piece in sheet.pieces:
        if not piece.shapes:
            continue
        try:
            key = ("standing", picture, piece.rect, piece.shapes)
            found[piece.number] = art.memory.get(key, partial(_standing_error, art, sheet, piece))
        except Refusal:
            return {}
    return {number: by for number, by in found.items() if by}


def _standing_error(art: Art, sheet: Sheet, piece: Piece) -> int:
    return standing_error(solid(art.piece(sheet, piece)), piece.shapes or ())


def undecided_in_level(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets with painted tiles of which nobody said whether they are solid."""
    found: dict[str, set[int]] = {}
    for level in project.levels:
        for name, numbers in undecided(project, level).items():
            found[name] = found.get(name, set()) | numbers
    for name, numbers in found.items():
        count = say_of(len(numbers), "1 painted tile", "{count} painted tiles")
        yield Finding(
            "undecided",
            "Bound",
            say("{count} of {name} have no decision on what is solid.", count=count, name=name),
            say("A walker goes through them as if they were not there."),
            name,
            name,
            tuple(sorted(numbers)),
            mend_words=say("Take them as the art says"),
            mend=partial(decide, art=art, wanted={name: numbers}),
        )


def _doubtful(doubt: str, count: int, name: str) -> tuple[str, str]:
    """What is to be said of so many pieces the shapes of which are in doubt, and why it matters."""
    if doubt == "no area":
        return say_of(
            count,
            "Shapes of a piece of {name} have no area.",
            "Shapes of {count} pieces of {name} have no area.",
            name=name,
        ), say("The game cannot use them.")
    if doubt == "too many corners":
        return say_of(
            count,
            "Shapes of a piece of {name} have more than {most} corners.",
            "Shapes of {count} pieces of {name} have more than {most} corners.",
            name=name,
            most=MOST_CORNERS,
        ), say("Most games refuse them or slow down.")
    if doubt == "crosses itself":
        return say_of(
            count,
            "Shapes of a piece of {name} cross themselves.",
            "Shapes of {count} pieces of {name} cross themselves.",
            name=name,
        ), say("Each game makes something else of them.")
    if doubt == "outside":
        return say_of(
            count,
            "Shapes of a piece of {name} lie wholly outside.",
            "Shapes of {count} pieces of {name} lie wholly outside.",
            name=name,
        ), say("A walker stops where nothing is drawn.")
    return say_of(
        count,
        "Shapes of a piece of {name} reach past the edge.",
        "Shapes of {count} pieces of {name} reach past the edge.",
        name=name,
    ), say("Neighbouring tiles become solid there.")


def doubtful_shapes(project: Project, art: Art) -> Iterator[Finding]:
    """Shapes that no game can use, or that reach past their piece."""
    for sheet in project.sheets:
        found: dict[str, list[int]] = {}
        for piece in sheet.pieces:
            for shape in piece.shapes or ():
                doubt = doubt_about(shape.form, piece.rect.size)
                if doubt is not None:
                    found.setdefault(doubt, []).append(piece.number)
        for told, numbers in found.items():
            what, why = _doubtful(told, len(numbers), sheet.name)
            chosen = frozenset(numbers)
            yield Finding(
                f"shape-{told.replace(' ', '-')}",
                "Bound",
                what,
                why,
                sheet.name,
                sheet.name,
                tuple(numbers),
                mend_words=say("Clip them to the piece"),
                mend=partial(clip_shapes, numbers=chosen),
            )


def unknown_kinds(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces of a ground kind that nobody named."""
    known = {kind.number for kind in project.rules.kinds}
    for sheet in project.sheets:
        lost = [
            p for p in sheet.pieces if p.facts.ground not in known and p.facts.ground is not None
        ]
        if lost:
            numbers = sorted({p.facts.ground for p in lost if p.facts.ground is not None})
            listed = ", ".join(map(str, numbers))
            yield Finding(
                "unknown-ground",
                "Bound",
                say(
                    "{name} has ground of the kind {listed}, which the project does not name.",
                    name=sheet.name,
                    listed=listed,
                ),
                say("The game is told a number that nobody knows the meaning of."),
                sheet.name,
                sheet.name,
                tuple(piece.number for piece in lost),
                mend_words=say("Name it"),
                mend=partial(name_kinds, numbers=tuple(numbers)),
            )


def still_paths(project: Project, art: Art) -> Iterator[Finding]:
    """Bodies that travel, but have no way to go."""
    for sheet in project.sheets:
        still = [p.number for p in sheet.pieces if is_still(p.body)]
        if still:
            count = say_of(len(still), "A piece", "{count} pieces")
            yield Finding(
                "still-path",
                "Bound",
                say(
                    "{count} of {name} should travel, but the path leads nowhere.",
                    count=count,
                    name=sheet.name,
                ),
                say("In the game it stays where it is."),
                sheet.name,
                sheet.name,
                tuple(still),
            )


def small_steps_in_levels(project: Project, art: Art) -> Iterator[Finding]:
    """Tiles side by side in a level whose tops differ by a pixel or two."""
    for level in project.levels:
        steps = list(small_steps(project, level))
        if steps:
            worst = max(abs(step.pixels) for step in steps)
            count = say_of(len(steps), "1 pair", "{count} pairs")
            numbers = dict.fromkeys(n for step in steps for n in (step.left, step.right))
            yield Finding(
                "small-steps",
                "Bound",
                say(
                    "{count} of joining tiles in {name} differ in height by up to {worst:g} px.",
                    count=count,
                    name=level.name,
                    worst=worst,
                ),
                say("A walker catches on the edge, though the ground looks even."),
                level.name,
                level=level.name,
                pieces=tuple(numbers),
            )
