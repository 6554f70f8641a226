"""What must hold between the parts of a project, whatever its files say one by one."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import replace

from rushweed.core.project.ground_rules import check_rules
from rushweed.core.project.level import Level
from rushweed.core.project.rules import GroundRules, Walker
from rushweed.core.project.sheet import Animation, EvenCells, Piece, Sheet, frames_share
from rushweed.core.value_ranges import LARGEST_SIDE
from rushweed.core.values import Rect, Refusal
from rushweed.core.words import say

LARGEST_AREA, LARGEST_BODY = 1 << 28, 4096
"""Pixels that a sheet or a piece has in all, and that a walker is high."""


def told(file: str, what: str) -> str:
    """The sentence about something wrong in a file."""
    return say("{file}: {what}. Put it right or bring back an older copy.", file=file, what=what)


def breaches_of_head(rules: GroundRules, walker: Walker, next_number: int) -> Iterator[str]:
    """What is wrong with what the whole project shares."""
    try:
        check_rules(rules)
    except Refusal as refusal:
        yield say("rules are not right ({str})", str=str(refusal).rstrip(".").lower())
    if walker.body is not None and not 0 <= min(walker.body) <= max(walker.body) <= LARGEST_BODY:
        yield say(
            "walker › body is not from 0 to {LARGEST_BODY} px wide and high",
            LARGEST_BODY=LARGEST_BODY,
        )
    if next_number < 1:
        yield say("next_number is {next_number}; numbers begin with 1", next_number=next_number)


def lost_picture(sheet: Sheet) -> str:
    """Why a sheet shows nothing at all; empty when it does."""
    for source in sheet.sources:
        if not 1 <= min(source.size) <= max(source.size) <= LARGEST_SIDE:
            return say("the picture {path} is {size} px large", path=source.path, size=source.size)
    if not sheet.sources:
        return say("it has no picture")
    whole = replace(sheet, redrawn=None).stored_size
    back = sheet.redrawn
    if back is not None and not (back.fits(whole) and frames_share(sheet, back)):
        return say("it would be brought back to {size} px", size=back.size)
    fit = sheet.fitted
    if fit is not None and min(*fit.drawn, *fit.shown) < 1:
        return say("it would fit nothing")
    if min(sheet.size) < 1 or sheet.size.width * sheet.size.height > LARGEST_AREA:
        return say("it would be {size} px large", size=sheet.size)
    return ""


def breaches_of_sheet(sheet: Sheet, taken: Collection[int]) -> Iterator[str]:
    """What is wrong with a sheet; `taken` are the numbers of pieces of the sheets before it."""
    layout = sheet.layout
    if isinstance(layout, EvenCells):
        sides = (*layout.margin, *layout.gap)
        if min(layout.cell) < 1 or min(sides) < 0:
            yield say("layout has cells, margins or gaps that cannot be")
    for piece in all_pieces(sheet):
        if not fits_in_memory(piece.rect):
            yield say(
                "the piece {number} is {size} px large", number=piece.number, size=piece.rect.size
            )
        for corners in few_cornered(piece):
            yield say(
                "the piece {number} has a shape of {corners} corners",
                number=piece.number,
                corners=corners,
            )
        if reaches_too_far(piece):
            yield say(
                "the piece {number} has a shape farther from it than {LARGEST_SIDE} px",
                number=piece.number,
                LARGEST_SIDE=LARGEST_SIDE,
            )
    seen: set[int] = set()
    for number in (piece.number for piece in all_pieces(sheet)):
        if number in seen or number in taken:
            yield say("two pieces have the number {number}", number=number)
        seen.add(number)
    for animation in sheet.animations:
        if not animation.frames:
            yield say("the animation {name} has no frame", name=animation.name)
        lost = sorted(set(animation.frames) - seen)
        if lost:
            yield say(
                "the animation {name} shows the piece {lost}, which is not there",
                name=animation.name,
                lost=lost[0],
            )
        if animation.holds and len(animation.holds) != len(animation.frames):
            yield say(
                "the animation {name} holds {count} frames of others",
                name=animation.name,
                count=len(animation.holds),
            )


def breaches_of_level(level: Level) -> Iterator[str]:
    """What is wrong with a level."""
    if not level.layers:
        yield say("it has no layer")


def fits_in_memory(rect: Rect) -> bool:
    """Whether pixels can be held for a rectangle, be there any or not."""
    return max(rect.size) <= LARGEST_SIDE and rect.area <= LARGEST_AREA


def few_cornered(piece: Piece) -> Iterator[int]:
    """The counts of corners of those rings of its shapes that enclose nothing."""
    for shape in piece.shapes or ():
        yield from (len(ring) for ring in shape.form.rings if len(ring) < 3)


def reaches_too_far(piece: Piece) -> bool:
    """Whether a shape lies farther from its piece than the largest picture is wide: nobody draws
    one, and all that is between would have to be looked through."""
    rings = (ring for shape in piece.shapes or () for ring in shape.form.rings)
    return any(max(abs(c.x), abs(c.y)) > LARGEST_SIDE for ring in rings for c in ring)


def all_pieces(sheet: Sheet) -> Iterator[Piece]:
    """Every piece that a sheet has or had."""
    yield from sheet.pieces
    yield from (missing.piece for missing in sheet.missing)
    yield from sheet.earlier


def highest_number(sheets: Sequence[Sheet]) -> int:
    """The highest number that a piece has; 0 when there is none."""
    return max((piece.number for sheet in sheets for piece in all_pieces(sheet)), default=0)


def made_whole(sheet: Sheet, taken: Collection[int]) -> Sheet:
    """A sheet without those of its parts that cannot be."""
    seen = set(taken)

    def fresh(piece: Piece) -> bool:
        new = piece.number not in seen and fits_in_memory(piece.rect)
        seen.add(piece.number)
        return new

    def sound(piece: Piece) -> Piece:
        few = list(few_cornered(piece))  # of a shape without any corner it tells 0
        unsound = bool(few) or reaches_too_far(piece)
        return replace(piece, shapes=None) if unsound else piece

    pieces = tuple(map(sound, filter(fresh, sheet.pieces)))
    missing = tuple(
        replace(gone, piece=sound(gone.piece)) for gone in sheet.missing if fresh(gone.piece)
    )
    earlier = tuple(map(sound, filter(fresh, sheet.earlier)))
    kept = {piece.number for piece in pieces} | {gone.piece.number for gone in missing}
    layout = sheet.layout
    if isinstance(layout, EvenCells) and (
        min(layout.cell) < 1 or min((*layout.margin, *layout.gap)) < 0
    ):
        layout = None
    animations = (_with_known(animation, kept) for animation in sheet.animations)
    return replace(
        sheet,
        layout=layout,
        pieces=pieces,
        missing=missing,
        earlier=earlier,
        animations=tuple(animation for animation in animations if animation.frames),
    )


def _with_known(animation: Animation, known: Collection[int]) -> Animation:
    """An animation of those frames alone that there are."""
    frames = tuple(frame for frame in animation.frames if frame in known)
    return (
        animation
        if frames == animation.frames and not animation.holds
        else replace(animation, frames=frames, holds=())
    )
