"""Merging values three ways: as both had them, as one made them, and as the other did.

        base ──► mine
          │        │
          ▼        ▼
        theirs ─► both      what one alone changed is as that one made it

Things are merged field by field, lists of named or numbered things by these, other lists of things
by neighbours (three-way merge of sequences, as in Khanna, Kunal and Pierce, "A formal investigation
of diff3", FSTTCS 2007), cells by place. What both changed, each in another way, meets: it stays as
it is in `mine`, and its place is told.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable, Sequence
from dataclasses import dataclass, fields, is_dataclass, replace
from difflib import SequenceMatcher
from typing import Any

from rushweed.core.arrays import Bytes, Numbers
from rushweed.core.project.cells import CHUNK, Cells, Key, empty_chunk
from rushweed.core.project.level import Prop
from rushweed.core.project.shape import Shape
from rushweed.core.project.sheet import Animation, Missing, Piece, Sheet
from rushweed.core.values import Rect

Where = tuple[str, ...]
"""The place of a value, from the outermost to the innermost."""
Group = tuple[tuple[str, ...], tuple[str, ...]]
TOGETHER: dict[type, tuple[Group, ...]] = {
    Animation: ((("frames",), ("holds",)),),
    Piece: ((("rect",), ("pivot", "pivot_set", "shapes", "points", "borders")),),
    Sheet: (
        (
            ("pixel", "orientation", "enlarged", "redrawn", "fitted"),
            ("layout", "left_out", "pieces", "missing", "earlier"),
        ),
    ),
    Prop: ((("piece",), ("animation",)), (("x", "y"), ())),
}
"""Where any of the first fields changed, the others say something only with them: all of them are
as the same one made them."""


@dataclass(slots=True)
class Merging:
    """Merges, and gathers the places of what met in `met`."""

    met: list[Where]

    def of(self, base: Any, mine: Any, theirs: Any, where: Where = ()) -> Any:
        """What both made of a value."""
        if mine is theirs or mine == theirs or theirs == base:
            return mine
        if mine == base:
            return theirs
        if isinstance(mine, Cells) and isinstance(theirs, Cells):
            return self._cells(base if isinstance(base, Cells) else Cells(), mine, theirs, where)
        if type(base) is type(mine) is type(theirs):
            if is_dataclass(mine):
                return self._thing(base, mine, theirs, where)
            if _is_list_of_things(base, mine, theirs):
                return self._list(base, mine, theirs, where)
        self.met.append(where)
        return mine

    def _thing(self, base: Any, mine: Any, theirs: Any, where: Where) -> Any:
        values: dict[str, Any] = {}
        for leading, others in TOGETHER.get(type(mine), ()):
            if len({_values(one, leading) for one in (base, mine, theirs)}) > 1:
                names = (*leading, *others)
                was, here, there = (_values(one, names) for one in (base, mine, theirs))
                if was not in (here, there) and here != there:
                    self.met.append((*where, leading[0]))
                values |= zip(names, there if here == was else here, strict=True)
        for name in (field.name for field in fields(mine)):
            if name not in values:
                was, here, there = (getattr(one, name) for one in (base, mine, theirs))
                values[name] = self.of(was, here, there, (*where, name))
        return replace(mine, **values)

    def _cells(self, base: Cells, mine: Cells, theirs: Cells, where: Where) -> Cells:
        met = 0
        for key in theirs.chunks.keys() | base.chunks.keys():
            was, here, there = (_chunk(cells, key) for cells in (base, mine, theirs))
            if there is was:
                continue
            changed = [(one[0] != was[0]) | (one[1] != was[1]) for one in (here, there)]
            apart = (here[0] != there[0]) | (here[1] != there[1])
            met += int((changed[0] & changed[1] & apart).sum())
            place = Rect(key[0] * CHUNK, key[1] * CHUNK, CHUNK, CHUNK)
            mine = mine.overlaid(place, *there, where=changed[1] & ~changed[0])
        if met:
            self.met.append((*where, str(met)))
        return mine

    def _list(self, base: Any, mine: Any, theirs: Any, where: Where) -> tuple[Any, ...]:
        key = _key_of(base, mine, theirs)
        if key is None:
            return self._sequence(base, mine, theirs, where)
        was, here, there = ({key(one): one for one in of} for of in (base, mine, theirs))
        found = {}
        for name in {**here, **there}:
            place = (*where, str(name))
            found[name] = self._kept(was.get(name), here.get(name), there.get(name), place)
        kept = {name: one for name, one in found.items() if one is not None}
        return tuple(kept[name] for name in _order(kept, [*was], [*here], [*there]))

    def _kept(self, base: Any, mine: Any, theirs: Any, where: Where) -> Any:
        """What becomes of one of a list; None stands for one that is not there."""
        if mine is not None and theirs is not None:
            return self.of(base, mine, theirs, where)
        left = theirs if mine is None else mine
        if base is not None and left != base:  # removed by one, changed by the other
            self.met.append(where)
            return left
        return left if base is None else None

    def _sequence(
        self, base: Sequence[Any], mine: Sequence[Any], theirs: Sequence[Any], where: Where
    ) -> tuple[Any, ...]:
        (here, new_here), (there, new_there) = _aligned(base, mine), _aligned(base, theirs)
        result: list[Any] = []
        for place in range(len(base) + 1):
            ours = new_here[place]
            result += ours
            result += [one for one in new_there[place] if one not in ours]
            if place < len(base):
                one = self._kept(base[place], here[place], there[place], (*where, str(place + 1)))
                result += [] if one is None else [one]
        return tuple(result)


def _is_list_of_things(*lists: Any) -> bool:
    """Whether these are lists of things or of names; those of numbers, and of shapes, are whole."""
    if not all(isinstance(one, tuple) and not hasattr(one, "_fields") for one in lists):
        return False
    whole = [one for each in lists for one in each]
    return all(
        isinstance(one, str) or (is_dataclass(one) and type(one) is not Shape) for one in whole
    )


def _key_of(base: Any, mine: Any, theirs: Any) -> Callable[[Any], Hashable] | None:
    """By what the things of three lists are told apart: a number, a name or a key, if each has one
    of its own, and none that two gave to different new things."""
    lists = base, mine, theirs
    kind = type(next(one for each in lists for one in each))
    if kind is Missing:
        return lambda one: one.piece.number
    for name in ("number", "name", "key"):
        if name in {field.name for field in (fields(kind) if is_dataclass(kind) else ())}:
            was, here, there = ({getattr(one, name): one for one in each} for each in lists)
            counts = [len(was), len(here), len(there)]
            new = (here.keys() & there.keys()) - was.keys()
            alike = all(here[key] == there[key] for key in new)
            if counts == [*map(len, lists)] and alike and "" not in {**was, **here, **there}:
                return lambda one: getattr(one, name)
    return None


def _order(
    kept: Iterable[Hashable], base: list[Any], mine: list[Any], theirs: list[Any]
) -> list[Any]:
    """The order of what is kept: that of whoever changed it, with what the other added after what
    it stands after there."""
    known = {*kept}
    was, here = {*base}, {*mine}
    moved = [one for one in mine if one in was] != [one for one in base if one in here]
    first, second = (mine, theirs) if moved else (theirs, mine)
    result = [one for one in first if one in known]
    placed, new = {*result}, {*first} - was
    before: Any = None
    for one in second:
        if one in known and one not in placed:
            at = result.index(before) + 1 if before is not None else 0
            while at < len(result) and result[at] in new and str(result[at]) < str(one):
                at += 1
            result.insert(at, one)
            placed.add(one)
        if one in placed:
            before = one
    return result


def _aligned(
    base: Sequence[Any], side: Sequence[Any]
) -> tuple[list[Any], defaultdict[int, list[Any]]]:
    """What each of a list became, None where it is gone; and what is new before each place."""
    became: list[Any] = [None] * len(base)
    new: defaultdict[int, list[Any]] = defaultdict(list)
    matcher = SequenceMatcher(None, base, side, autojunk=False)
    for what, first, last, begin, end in matcher.get_opcodes():
        old, found = range(first, last), list(side[begin:end])
        if what == "replace":
            for place in old:
                if found and _is_same_thing(base[place], found[0]):
                    became[place] = found.pop(0)
            new[last] += found
        elif what == "insert":
            new[first] += found
        else:
            for place, one in zip(old, found, strict=False):
                became[place] = one
    return became, new


def _is_same_thing(one: Any, other: Any) -> bool:
    """Whether one may have become the other: most of what it says is the same."""
    if type(one) is not type(other) or not is_dataclass(one):
        return False
    names = [field.name for field in fields(one)]
    same = [name for name in names if getattr(one, name) == getattr(other, name)]
    return 2 * len(same) > len(names)


def _chunk(cells: Cells, key: Key) -> tuple[Numbers, Bytes]:
    return cells.chunks.get(key) or empty_chunk()


def _values(thing: Any, names: Sequence[str]) -> tuple[Any, ...]:
    return tuple(getattr(thing, name) for name in names)
