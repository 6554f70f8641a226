"""What is kept for the newest versions of something, and for their parts."""

from __future__ import annotations

import gc
import weakref
from typing import NamedTuple

from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.newest import KEPT, for_newest, for_newest_parts, forget


class Part(NamedTuple):
    name: str
    value: int


VERSIONS = [[number] for number in range(KEPT + 2)]
PARTS = [Part(name, value) for name in "ab" for value in range(2)]
asked = st.lists(st.tuples(st.sampled_from(VERSIONS), st.sampled_from(PARTS)), max_size=30)


def whole_of(version: list[int]) -> tuple[int]:
    return (version[0],)


def part_of(version: list[int], part: Part) -> tuple[int, Part]:
    return version[0], part


@given(asked)
def test_what_is_kept_is_what_would_be_made(pairs) -> None:
    whole = for_newest(whole_of)
    part = for_newest_parts(part_of)
    for version, one in pairs:
        assert whole(version) == whole_of(version)
        assert part(version, one) == part_of(version, one)


def test_only_a_part_that_became_another_is_made_anew() -> None:
    made: list[Part] = []

    @for_newest_parts
    def tell(version: list[int], part: Part) -> None:
        made.append(part)

    version, again = [1], [1]
    first, other, edited = Part("a", 1), Part("b", 1), Part("a", 2)
    for part in (first, other, first, other):
        tell(version, part)
    assert made == [first, other]
    tell(version, edited)
    tell(version, other)
    assert made == [first, other, edited]
    tell(again, other)
    assert made[-1] is other and len(made) == 4, "an equal version is another one"


class Version:
    pass


def test_nothing_is_held_once_all_is_forgotten() -> None:
    part = for_newest_parts(lambda version, part: (version, part))
    version = Version()
    gone = weakref.ref(version)
    assert part(version, PARTS[0])[0] is version
    del version
    gc.collect()
    assert gone() is not None, "it is kept for whoever asks next"
    forget()
    gc.collect()
    assert gone() is None
