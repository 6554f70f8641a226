"""What is kept for the newest versions of something, and for their parts."""

from __future__ import annotations

from typing import NamedTuple

from hypothesis import given
from hypothesis import strategies as st

from rushweed.core.newest import KEPT, for_newest, for_newest_parts


class Part(NamedTuple):
    name: str
    value: int


VERSIONS = [[number] for number in range(KEPT + 2)]
PARTS = [Part(name, value) for name in "ab" for value in range(2)]
asked = st.lists(st.tuples(st.sampled_from(VERSIONS), st.sampled_from(PARTS)), max_size=30)


@given(asked)
def test_what_is_kept_is_what_would_be_made(pairs) -> None:
    whole = for_newest(lambda version: (version[0],))
    part = for_newest_parts(lambda version, part: (version[0], part))
    for version, one in pairs:
        assert whole(version) == (version[0],)
        assert part(version, one) == (version[0], one)


def test_only_a_part_that_became_another_is_made_anew() -> None:
    made: list[Part] = []
    tell = for_newest_parts(lambda version, part: made.append(part))
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
