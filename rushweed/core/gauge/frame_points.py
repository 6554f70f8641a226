"""Places on frames that have a name, such as a hand, and what a frame tells when it is shown."""

from __future__ import annotations

from dataclasses import replace

from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.sheet import FramePoint, Piece
from rushweed.core.values import Refusal

LONGEST_NAME = 200


def put_point(
    project: Project,
    numbers: frozenset[int],
    name: str,
    x: float | None = None,
    y: float | None = None,
) -> Project:
    """Put the point of that name of pieces at a place of the piece; a coordinate that is left out
    stays, or is the pivot's for a new point. Raises Refusal for a name that is none."""
    name = _checked(name)

    def edit(piece: Piece) -> Piece:
        old = point_of(piece, name) or FramePoint(name, piece.pivot.x, piece.pivot.y)
        new = FramePoint(name, old.x if x is None else x, old.y if y is None else y)
        others = [point for point in piece.points if point.name != name]
        place = next((i for i, one in enumerate(piece.points) if one.name == name), len(others))
        return replace(piece, points=(*others[:place], new, *others[place:]))

    return with_pieces(project, numbers, edit)


def drop_point(project: Project, numbers: frozenset[int], name: str) -> Project:
    """Take the point of that name from pieces."""

    def edit(piece: Piece) -> Piece:
        return replace(piece, points=tuple(one for one in piece.points if one.name != name))

    return with_pieces(project, numbers, edit)


def rename_point(project: Project, numbers: frozenset[int], old: str, new: str) -> Project:
    """Call a point of pieces something else. Raises Refusal for a name that is none or taken."""
    new = _checked(new)

    def edit(piece: Piece) -> Piece:
        if new != old and point_of(piece, old) and point_of(piece, new):
            raise Refusal("There is a point “{new}” already. Choose another name.", new=new)
        points = (replace(p, name=new) if p.name == old else p for p in piece.points)
        return replace(piece, points=tuple(points))

    return with_pieces(project, numbers, edit)


def set_events(project: Project, numbers: frozenset[int], text: str) -> Project:
    """What pieces tell the game whenever they are shown: names with commas between."""
    names = tuple(dict.fromkeys(_checked(part) for part in text.split(",") if part.strip()))
    return with_pieces(project, numbers, lambda piece: replace(piece, events=names))


def point_of(piece: Piece, name: str) -> FramePoint | None:
    """A piece's point of that name."""
    return next((point for point in piece.points if point.name == name), None)


def _checked(name: str) -> str:
    name = name.strip()
    if not name or "," in name:
        raise Refusal("A name is needed, without a comma. Type one.")
    if len(name) > LONGEST_NAME:
        raise Refusal(
            "Names have at most {longest_name} letters. Type a shorter one.",
            longest_name=LONGEST_NAME,
        )
    return name
