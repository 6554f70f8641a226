"""Work that rests while somebody is at something."""

from __future__ import annotations

import numpy as np
import pytest

from rushweed.core import resting
from rushweed.core.gather.banded import banded
from rushweed.core.gather.memory import Memory


class Clock:
    """Goes on only while somebody naps; touches come as long as there are some."""

    def __init__(self) -> None:
        self.now, self.naps, self.touches = 1000.0, 0, 0

    def nap(self, seconds: float) -> None:
        self.now += seconds
        self.naps += 1
        if self.touches:
            self.touches -= 1
            resting.touch()


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> Clock:
    clock = Clock()
    monkeypatch.setattr(resting, "monotonic", lambda: clock.now)
    monkeypatch.setattr(resting, "sleep", clock.nap)
    monkeypatch.setattr(resting, "_touched", [0.0])
    return clock


def test_only_what_gives_way_rests_and_only_while_somebody_is_at_something(clock: Clock) -> None:
    for act in (resting.rest, lambda: Memory().get(1, int), lambda: list(banded(PICTURE))):
        resting.touch()
        act()
        assert not clock.naps, "somebody waits for it"
        clock.now += 1
        with resting.giving_way():
            act()
            assert not clock.naps, "nobody is at anything"
            resting.touch()
            clock.touches = 30
            act()
        assert clock.naps >= 30 and not clock.touches
        clock.naps, clock.now = 0, clock.now + 1


def test_what_is_known_is_told_without_a_rest(clock: Clock) -> None:
    memory = Memory()
    memory.keep("known", 5)
    resting.touch()
    with resting.giving_way():
        assert memory.get("known", int) == 5 and not clock.naps


PICTURE = np.arange(3000 * 200 * 4, dtype=np.uint32).astype(np.uint8).reshape(3000, 200, 4)


def test_bands_are_all_of_a_picture() -> None:
    bands = list(banded(PICTURE))
    assert len(bands) > 1
    np.testing.assert_array_equal(np.concatenate(bands), PICTURE)
    assert len(list(banded(PICTURE[:0]))) == 0
