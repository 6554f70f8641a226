"""Giving pieces their facts, and ground its kinds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from rushweed.core.bound.shaping import full_box
from rushweed.core.project.facts import SIDES, GroundKind, Note, Side
from rushweed.core.project.project import Project, with_pieces
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Colour, Refusal
from rushweed.core.words import say

LARGEST_KIND = 65535
COLOURS = (
    Colour(76, 107, 54),
    Colour(21, 99, 109),
    Colour(168, 69, 31),
    Colour(192, 138, 30),
    Colour(104, 74, 128),
    Colour(64, 92, 150),
    Colour(140, 60, 96),
    Colour(96, 96, 88),
)
"""New kinds of ground take these in turn."""


def change_facts(project: Project, numbers: frozenset[int], **changes: object) -> Project:
    """Set single facts of pieces; the others stay."""
    return with_pieces(
        project,
        numbers,
        lambda piece: replace(piece, facts=replace(piece.facts, **changes)),  # type: ignore[arg-type]
    )


def set_entry(project: Project, numbers: frozenset[int], side: Side, opened: bool) -> Project:
    """Open or shut one side of pieces."""

    def edit(piece: Piece) -> Piece:
        sides = {*piece.facts.entry, side} if opened else {*piece.facts.entry} - {side}
        entry = tuple(one for one in SIDES if one in sides)
        return replace(piece, facts=replace(piece.facts, entry=entry))

    return with_pieces(project, numbers, edit)


def set_note(project: Project, numbers: frozenset[int], note: Note | None, key: str) -> Project:
    """Give pieces a note in place of the one with that key, or take it away.

    Raises Refusal for a note without a key, or a number that is none.
    """
    if note is not None:
        note_value(note)

    def edit(piece: Piece) -> Piece:
        kept = tuple(one for one in piece.facts.notes if one.key != key)
        notes = kept if note is None else (*kept, note)
        return replace(piece, facts=replace(piece.facts, notes=notes))

    return with_pieces(project, numbers, edit)


def note_value(note: Note) -> str | float | bool:
    """What a note says, as what it is. Raises Refusal with a sentence when it is something else."""
    if not note.key.strip():
        raise Refusal("A note needs a key, by which the game asks for it. Type one.")
    if note.kind == "yes or no":
        if note.value not in ("yes", "no"):
            raise Refusal(
                "The note “{key}” says “{value}”. Write yes or no.", key=note.key, value=note.value
            )
        return note.value == "yes"
    if note.kind == "number":
        try:
            number = float(note.value)
        except ValueError as problem:
            raise Refusal(
                "The note “{key}” says “{value}”, which is no number.",
                key=note.key,
                value=note.value,
            ) from problem
        return int(number) if number.is_integer() else number
    return note.value


def stand_on_foot(project: Project, numbers: frozenset[int]) -> Project:
    """Make a block of tiles a tall thing: the lowest tile of each column blocks, those above it
    let pass and cover whoever stands behind.

    Raises Refusal when the pieces are not tiles of one sheet.
    """
    found = [pair for pair in map(project.find, sorted(numbers)) if pair is not None]
    if len({sheet.name for sheet, _ in found}) != 1:
        raise Refusal("Select a block of tiles of one sheet, such as a tower with its top.")
    foot = max(piece.row for _, piece in found)
    rows = {piece.number: foot - piece.row for _, piece in found}

    def edit(piece: Piece) -> Piece:
        above = rows[piece.number]
        shapes = () if above else piece.shapes or (Shape(full_box(piece.rect.size)),)
        return replace(piece, shapes=shapes, facts=replace(piece.facts, cover=above))

    return with_pieces(project, frozenset(rows), edit)


def kind_of(project: Project, number: int) -> GroundKind | None:
    """The kind of ground with that number, None when nobody named it."""
    return next((kind for kind in project.rules.kinds if kind.number == number), None)


def add_kind(project: Project, name: str) -> tuple[Project, GroundKind]:
    """A new kind of ground with the lowest free number and a letter of its own."""
    taken = {kind.number for kind in project.rules.kinds}
    number = next((n for n in range(1, LARGEST_KIND + 1) if n not in taken), None)
    if number is None:
        raise Refusal("All 65 535 numbers of ground kinds are taken. Take one away first.")
    letters = {kind.letter for kind in project.rules.kinds}
    wanted = [letter.upper() for letter in name if letter.isalnum()]
    wanted += [chr(code) for code in range(ord("A"), ord("Z") + 1)]
    letter = next((one for one in wanted if one not in letters), str(number))
    kind = GroundKind(number, name, letter, COLOURS[(number - 1) % len(COLOURS)])
    return with_kinds(project, (*project.rules.kinds, kind)), kind


def name_kinds(project: Project, numbers: Sequence[int]) -> Project:
    """Name kinds of ground that tiles have but nobody named."""
    for number in numbers:
        project, kind = add_kind(project, say("Ground {number}", number=number))
        project = change_kind(project, kind.number, replace(kind, number=number))
    return project


def change_kind(project: Project, number: int, kind: GroundKind | None) -> Project:
    """Give a kind of ground another name, number, letter or colour, or take it away. Tiles go
    along. Raises Refusal when its new number is taken or it has no name."""
    kinds = [one for one in project.rules.kinds if one.number != number]
    if kind is not None:
        if any(one.number == kind.number for one in kinds):
            raise Refusal(
                "Another kind of ground has the number {number}. Choose one more.",
                number=kind.number,
            )
        if not kind.name.strip():
            raise Refusal("A kind of ground needs a name. Type one.")
        place = [one.number for one in project.rules.kinds].index(number)
        kinds.insert(place, kind)
    project = with_kinds(project, kinds)
    new = kind.number if kind else None
    if new == number:
        return project
    used = frozenset(p.number for _, p in project.pieces() if p.facts.ground == number)
    return change_facts(project, used, ground=new) if used else project


def with_kinds(project: Project, kinds: Sequence[GroundKind]) -> Project:
    """The project with these kinds of ground."""
    return replace(project, rules=replace(project.rules, kinds=tuple(kinds)))
