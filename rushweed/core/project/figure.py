"""A figure: a creature whose animations lie on any number of sheets, and how it is found."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace

from rushweed.core.project.sheet import Animation, Piece, Sheet


@dataclass(frozen=True, slots=True)
class Figure:
    """A creature that several sheets show, by their names, in the order of its animations."""

    name: str
    sheets: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Cast:
    """A figure, or a sheet that is one by itself, with what shows it.

    `animations` are those of all its sheets, each under a name that no other of them has; `origins`
    tells of each name the sheet and the name it has there.
    """

    name: str
    sheets: tuple[Sheet, ...]
    animations: tuple[Animation, ...]
    origins: dict[str, tuple[str, str]]

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """The frames of the sheet that it is shown with first."""
        return next((sheet.pieces for sheet in self.sheets if sheet.pieces), ())


def cast_of(sheets: Iterable[Sheet], figures: Iterable[Figure], name: str) -> Cast | None:
    """The figure of that name, else the sheet; None where there is neither. Sheets of a figure that
    are not there are passed over."""
    here = {sheet.name: sheet for sheet in sheets}
    figure = next((one for one in figures if one.name == name), None)
    names = figure.sheets if figure is not None else (name,)
    shown = tuple(here[one] for one in names if one in here)
    if not shown:
        return None
    named = dict(_named(shown))
    animations = tuple(
        replace(animation, name=label) if animation.name != label else animation
        for label, (_, animation) in named.items()
    )
    origins = {label: (sheet.name, animation.name) for label, (sheet, animation) in named.items()}
    return Cast(name, shown, animations, origins)


def _named(sheets: tuple[Sheet, ...]) -> Iterator[tuple[str, tuple[Sheet, Animation]]]:
    """Every animation of some sheets under its name; of those that share one, the later ones with
    numbers, as a sheet may be called otherwise any time."""
    own = {animation.name for sheet in sheets for animation in sheet.animations}
    taken: set[str] = set()
    for sheet in sheets:
        for animation in sheet.animations:
            label, count = animation.name, 2
            while label in taken or (count > 2 and label in own):
                label, count = f"{animation.name} {count}", count + 1
            taken.add(label)
            yield label, (sheet, animation)
