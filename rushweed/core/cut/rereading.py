"""Taking in a picture that was saved outside: what was decided follows its pieces."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from rushweed.core.arrays import Mask, Words
from rushweed.core.cut.cutting import (
    Cut,
    covered,
    cut_anew,
    cuts_for,
    in_reading_order,
    new_piece,
)
from rushweed.core.cut.following import Follower, drift, grid_shifts, moved_within
from rushweed.core.cut.likeness import Pieces, part, shown
from rushweed.core.cut.matching import How, Match, match_pieces
from rushweed.core.cut.places import SAME_ENOUGH, sameness
from rushweed.core.cut.rescaling import is_enlarged, scale_between
from rushweed.core.cut.reshaping import scaled
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.saving import explain
from rushweed.core.gather.art import Art
from rushweed.core.gather.changes import Saved
from rushweed.core.gather.origins import Origins
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import solid
from rushweed.core.project.project import Project, with_sheet
from rushweed.core.project.sheet import Animation, EvenCells, Layout, Missing, Piece, Sheet
from rushweed.core.values import Rect, Refusal, Size

FOUND_AGAIN = 0.6
"""When fewer of the pieces than this part are found by their content, the grid may have moved."""


@dataclass(frozen=True, slots=True, eq=False)
class Step:
    """What became of one piece: `old` is None for a new one, `new` is None for one that is gone.

    A piece that was missing and is there again has both, and `how` says “back”.
    """

    old: Piece | None
    new: Cut | None
    how: How


@dataclass(frozen=True, slots=True, eq=False)
class Reread:
    """A sheet before and after its picture was saved outside, with its pieces matched.

    `known` says whether the pixels from before were at hand; without them places alone count. A
    picture that was only saved larger or smaller is `scaled` by that factor, with all its pieces;
    `pixel` is how many stored pixels one drawn pixel takes then.
    """

    sheet: Sheet
    saved: Saved
    before: Picture
    after: Picture
    layout: Layout | None
    steps: tuple[Step, ...]
    left_out: tuple[Rect, ...]
    known: bool
    scale: Fraction = Fraction(1)
    pixel: int = 1

    def count(self, how: How) -> int:
        """How many pieces went that way."""
        return sum(step.how == how for step in self.steps)


def reread(sheet: Sheet, art: Art, saved: Saved) -> Reread:
    """Match the pieces of a sheet with those of its picture as it is saved now.

    Raises Refusal when the old layout cannot be cut from the new picture at all.
    """
    after = art.picture(replace(sheet, sources=saved.sources))
    known = all(art.has(source) for source in sheet.sources)
    before = art.picture(sheet) if known else after
    scale = scale_between(before, after) if known else Fraction(1)
    if scale != 1:
        return _rescaled(sheet, saved, before, after, scale)
    if sheet.layout is None:
        return _bare(sheet, saved, before, after, known)
    evenly = [piece for piece in sheet.pieces if not piece.by_hand]
    was, now = shown(before), shown(after)
    old = Pieces(was, [piece.rect for piece in evenly])
    before_size = (before.shape[1], before.shape[0])
    layout, cuts = _lay_out(sheet.layout, old, before_size, after)
    new = Pieces(now, [cut.rect for cut in cuts])
    matches = match_pieces(old, new, in_cells=moved_within(old, new, now))
    if layout.kind == "one picture" and len(evenly) == 1:
        matches = [Match(0, 0, "same" if old.content(0) == new.content(0) else "redrawn")]
    follower = Follower(was, now, [(old.rects[a], new.rects[b]) for a, b in _pairs(matches)])
    by_hand = [_follow(piece, follower) for piece in sheet.pieces if piece.by_hand]
    left_out = [rect for rect in map(follower.place, sheet.left_out) if rect is not None]
    steps = [
        Step(
            None if match.old is None else evenly[match.old],
            None if match.new is None else cuts[match.new],
            match.how,
        )
        for match in matches
    ]
    hidden = [step.new.rect for step in by_hand if step.new is not None]
    steps = [step for step in steps if step.how != "new" or _stays(step.new, hidden, left_out)]
    steps = _brought_back(sheet, steps, now)
    all_steps = (*steps, *by_hand)
    return Reread(
        sheet, saved, before, after, layout, all_steps, tuple(left_out), known, pixel=sheet.pixel
    )


def _bare(sheet: Sheet, saved: Saved, before: Picture, after: Picture, known: bool) -> Reread:
    """A sheet that was not cut yet."""
    return Reread(sheet, saved, before, after, None, (), sheet.left_out, known, pixel=sheet.pixel)


def _rescaled(
    sheet: Sheet, saved: Saved, before: Picture, after: Picture, scale: Fraction
) -> Reread:
    """A picture that was only saved larger or smaller: where its pixels are the drawn ones, only
    that changes how many stored pixels one takes; else all pieces are scaled."""
    pixel = sheet.pixel * scale
    small, large = (before, after) if scale > 1 else (after, before)
    factor = max(scale, 1 / scale)
    if pixel.denominator == 1 and is_enlarged(small, large, int(factor)):
        steps = tuple(Step(p, Cut(p.rect, p.row, p.column), "same") for p in sheet.pieces)
        return Reread(
            sheet, saved, before, after, sheet.layout, steps, sheet.left_out, True,
            pixel=int(pixel),
        )  # fmt: skip
    larger = scaled(sheet, scale)
    steps = tuple(
        Step(old, Cut(new.rect, new.row, new.column), "scaled")
        for old, new in zip(sheet.pieces, larger.pieces, strict=True)
    )
    return Reread(
        sheet, saved, before, after, larger.layout, steps, larger.left_out, True, scale, sheet.pixel
    )


def joined(reread: Reread, old: int, new: Rect) -> Reread:
    """The same with the old piece of that number going on as what lies in that new rectangle."""
    first = next(step for step in reread.steps if step.old and step.old.number == old)
    second = next(step for step in reread.steps if step.new and step.new.rect == new)
    if first is second:
        return reread
    rest = [step for step in reread.steps if step not in (first, second)]
    rest.append(Step(first.old, second.new, "changed"))
    if first.new is not None:
        rest.append(Step(None, first.new, "new"))
    if second.old is not None:
        rest.append(Step(second.old, None, "gone"))
    return replace(reread, steps=tuple(rest))


def parted(reread: Reread, old: int) -> Reread:
    """The same with the old piece of that number gone, and what it became taken for a new one."""
    step = next(step for step in reread.steps if step.old and step.old.number == old)
    if step.new is None:
        return reread
    rest = [other for other in reread.steps if other is not step]
    apart = [Step(step.old, None, "gone"), Step(None, step.new, "new")]
    return replace(reread, steps=(*rest, *apart))


def take_changes(project: Project, art: Art, reread: Reread) -> Project:
    """The project with the picture as it is now. Levels and animations need no change, for they
    name pieces by their numbers.

    Raises Refusal when the picture cannot be copied into the project.
    """
    _copy(art, reread.saved)
    if reread.scale != 1 or reread.pixel != reread.sheet.pixel:
        return with_sheet(
            project,
            reread.saved.sheet,
            lambda old: replace(
                scaled(old, reread.scale), sources=reread.saved.sources, pixel=reread.pixel
            ),
        )
    number = project.next_number
    was, now = shown(reread.before), shown(reread.after)
    pieces: list[Piece] = []
    missing: list[Missing] = []
    for step in reread.steps:
        if step.new is None:
            assert step.old is not None
            missing.append(Missing(step.old, _hash(was, step.old.rect)))
        elif step.old is None:
            pieces.append(new_piece(number, step.new))
            number += 1
        else:
            move = drift(was, step.old.rect, now, step.new.rect)
            pieces.append(cut_anew(step.old, step.new, move))
    back = {piece.number for piece in pieces}

    def edit(old: Sheet) -> Sheet:
        waiting = [gone for gone in old.missing if gone.piece.number not in back]
        new = replace(
            old,
            sources=reread.saved.sources,
            layout=reread.layout,
            left_out=reread.left_out,
            pieces=tuple(in_reading_order(pieces)),
            missing=(*waiting, *missing),
        )
        return _with_whole_animations(old, new)

    project = with_sheet(project, reread.saved.sheet, edit)
    return project if number == project.next_number else replace(project, next_number=number)


def _with_whole_animations(old: Sheet, new: Sheet) -> Sheet:
    """A sheet of numbered pictures, of which some came or went: the animation that was all of its
    frames in their order is so again; each holds as it did."""
    was, now = (tuple(piece.number for piece in sheet.pieces) for sheet in (old, new))
    if len(old.sources) < 2 or was == now:
        return new

    def grown(animation: Animation) -> Animation:
        if animation.frames != was:
            return animation
        held = dict(zip(was, animation.holds, strict=False))
        holds = tuple(held.get(number, 1) for number in now) if held else ()
        return replace(animation, frames=now, holds=holds)

    return replace(new, animations=tuple(map(grown, new.animations)))


def _lay_out(
    layout: Layout, old: Pieces, before_size: tuple[int, int], after: Picture
) -> tuple[Layout, list[Cut]]:
    """The layout for the new picture: the old one, unless the cells were found to have moved. On a
    canvas of the same size what was drawn has moved within them instead, unless it went far."""
    mask, now = solid(after), shown(after)
    cuts = _cuts(layout, mask)
    if not isinstance(layout, EvenCells):
        return layout, cuts
    best = _found(old, now, cuts)
    if best >= FOUND_AGAIN * len(old.rects):
        return layout, cuts
    choice: tuple[Layout, list[Cut]] = (layout, cuts)
    same_canvas = before_size == (after.shape[1], after.shape[0])
    for shift in grid_shifts(old, now):
        moved = _shifted(layout, shift)
        others = _cuts(moved, mask)
        count = _found(old, now, others)
        if count > best and not (same_canvas and _is_within(layout.cell, shift, count, old)):
            best, choice = count, (moved, others)
    return choice


def _is_within(cell: Size, shift: tuple[int, int], found: int, old: Pieces) -> bool:
    """Whether pictures rather moved a little within their cells than the cells with them."""
    near = all(4 * abs(by) <= side for by, side in zip(shift, cell, strict=True))
    return near or found < len(old.rects)


def _cuts(layout: Layout, mask: Mask) -> list[Cut]:
    """The cuts of a layout; none where the picture became too small for even one."""
    try:
        return cuts_for(layout, mask)
    except Refusal:
        return []


def _shifted(layout: EvenCells, shift: tuple[int, int]) -> EvenCells:
    """The same cells on a picture whose content moved by so many pixels across and down."""
    across = (layout.margin.width + shift[0]) % (layout.cell.width + layout.gap.width)
    down = (layout.margin.height + shift[1]) % (layout.cell.height + layout.gap.height)
    return replace(layout, margin=Size(across, down))


def _found(old: Pieces, after: Words, cuts: Sequence[Cut]) -> int:
    """How many of the old pieces are among the new cuts, by content."""
    new = Pieces(after, [cut.rect for cut in cuts])
    held = Counter(new.content(index) for index in range(len(cuts)))
    shared = Counter(old.content(index) for index in range(len(old.rects))) & held
    return shared.total()


def _pairs(matches: Sequence[Match]) -> list[tuple[int, int]]:
    return [(m.old, m.new) for m in matches if m.old is not None and m.new is not None]


def _follow(piece: Piece, follower: Follower) -> Step:
    """What became of a piece that was cut by hand."""
    rect = follower.place(piece.rect)
    if rect is None:
        return Step(piece, None, "gone")
    alike = follower.same(piece.rect, rect)
    how: How = "changed" if not alike else "same" if rect == piece.rect else "moved"
    return Step(piece, Cut(rect, piece.row, piece.column), how)


def _stays(cut: Cut | None, by_hand: Sequence[Rect], left_out: Sequence[Rect]) -> bool:
    """Whether a new cut is neither under one made by hand nor left out."""
    assert cut is not None
    return not covered(cut.rect, by_hand) and not any(
        sameness(rect, cut.rect) > SAME_ENOUGH for rect in left_out
    )


def _brought_back(sheet: Sheet, steps: list[Step], after: Words) -> list[Step]:
    """New cuts that show exactly what was missing are that piece again."""
    waiting = {missing.content: missing.piece for missing in sheet.missing if missing.content}
    result = []
    for step in steps:
        if waiting and step.how == "new" and step.new is not None:
            piece = waiting.pop(_hash(after, step.new.rect), None)
            if piece is not None:
                step = Step(piece, step.new, "back")
        result.append(step)
    return result


def _hash(words: Words, rect: Rect) -> str:
    content = part(words, rect)
    return hashlib.sha256(repr(content.shape).encode() + content.tobytes()).hexdigest()[:32]


def _copy(art: Art, saved: Saved) -> None:
    """Bring what was saved outside into the project's folder."""
    for path, data in saved.copies.items():
        try:
            Inside(art.folder).write(path, data)
        except OSError as problem:
            raise Refusal(explain(problem, art.folder / path)) from problem
    Origins(art.folder).remember(saved.origins)
