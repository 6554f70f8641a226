"""Probes in a process of their own."""

from __future__ import annotations

import os
import signal
from multiprocessing import active_children

import pytest

from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.values import Refusal
from rushweed.core.walk import probing
from rushweed.core.walk.probing_apart import probing_apart
from tests.conftest import DEMO

pytestmark = pytest.mark.slow
LEVEL = "Long boardwalk"


def test_another_process_finds_the_very_same_and_it_is_kept() -> None:
    project, art = files.load(DEMO), Art(DEMO)
    told = list(probing_apart(project, LEVEL, art))
    assert told[-1][1] == probing.probe(project, LEVEL, Art(DEMO))
    assert [share for share, _ in told] == sorted(share for share, _ in told)
    assert list(probing_apart(project, LEVEL, art)) == [(1.0, told[-1][1])], "at once"
    assert not active_children()


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
