"""What is computed once, kept for the newest, done beside, and rests while somebody works."""

from __future__ import annotations

import gc
import os
import signal
import threading
import weakref
from concurrent.futures import ThreadPoolExecutor
from multiprocessing import active_children
from typing import NamedTuple

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rushweed.core import resting
from rushweed.core.gather.art import Art
from rushweed.core.gather.banded import banded
from rushweed.core.gather.memory import Memory
from rushweed.core.newest import KEPT, for_newest, for_newest_parts, forget
from rushweed.core.project import files
from rushweed.core.values import Refusal
from rushweed.core.walk import probing
from rushweed.core.walk.probing_apart import probing_apart
from tests.conftest import DEMO


@pytest.mark.parametrize("size", [1, 1 << 20])
def test_threads_that_ask_for_the_same_wait_for_the_one_that_computes_it(size: int) -> None:
    memory, begun, goes_on = Memory(), threading.Event(), threading.Event()
    computed: list[int] = []

    def slowly() -> np.ndarray:
        begun.set()
        assert goes_on.wait(5)
        computed.append(threading.get_ident())
        return np.zeros(size, np.uint8)

    with ThreadPoolExecutor(4) as threads:
        first = threads.submit(memory.get, "key", slowly)
        assert begun.wait(5)
        others = [threads.submit(memory.get, "key", slowly) for _ in range(3)]
        assert memory.get("another", lambda: 7) == 7, "nobody else waits"
        goes_on.set()
        assert all(other.result(5) is first.result(5) for other in others)
    assert len(computed) == 1


def test_a_thread_that_waited_for_one_that_failed_computes_it_itself() -> None:
    memory, begun, goes_on = Memory(), threading.Event(), threading.Event()

    def in_vain() -> int:
        begun.set()
        assert goes_on.wait(5)
        raise Refusal("There is nothing.")

    with ThreadPoolExecutor(2) as threads:
        first = threads.submit(memory.get, "key", in_vain)
        assert begun.wait(5)
        other = threads.submit(memory.get, "key", lambda: 3)
        goes_on.set()
        with pytest.raises(Refusal):
            first.result(5)
        assert other.result(5) == 3


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


PICTURE = np.arange(3000 * 200 * 4, dtype=np.uint32).astype(np.uint8).reshape(3000, 200, 4)


LEVEL = "Long boardwalk"


@pytest.mark.slow
def test_another_process_finds_the_very_same_and_it_is_kept() -> None:
    project, art = files.load(DEMO), Art(DEMO)
    told = list(probing_apart(project, LEVEL, art))
    assert told[-1][1] == probing.probe(project, LEVEL, Art(DEMO))
    assert [share for share, _ in told] == sorted(share for share, _ in told)
    assert list(probing_apart(project, LEVEL, art)) == [(1.0, told[-1][1])], "at once"
    assert not active_children()


@pytest.mark.slow
def test_probes_that_are_called_off_or_killed_leave_no_process_and_keep_nothing() -> None:
    project, art = files.load(DEMO), Art(DEMO)
    told = probing_apart(project, LEVEL, art)
    next(told)
    [process] = active_children()
    told.close()
    assert not active_children() and not process.is_alive()
    told = probing_apart(project, LEVEL, art)
    next(told)
    [process] = active_children()
    assert process.pid is not None
    os.kill(process.pid, signal.SIGKILL)
    with pytest.raises(Refusal, match="Send them again"):
        list(told)
    assert probing.known_probed(project, LEVEL, art) is None
