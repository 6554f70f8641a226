"""Processes beside this one: work shared out to them, how many the machine bears, and that none
outlives it."""

from __future__ import annotations

import ctypes
import os
import signal
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor, as_completed
from itertools import islice
from multiprocessing import get_context
from threading import Lock
from typing import Any, TypeVar

Result = TypeVar("Result")

PR_SET_PDEATHSIG = 1
"""prctl(2): the signal that a process gets when the one that began it ends."""


def at_most(wanted: int) -> int:
    """So many processes as are wanted, but no more than may run at once on this machine."""
    return max(1, min(wanted, len(os.sched_getaffinity(0))))


def end_with(parent: int) -> None:
    """End this process when its parent, of that number, does, however that ends."""
    ctypes.CDLL(None, use_errno=True).prctl(PR_SET_PDEATHSIG, signal.SIGKILL)
    if os.getppid() != parent:  # it ended before it could be asked
        sys.exit(1)


_sharing = Lock()
_work: Callable[[int], Any] | None = None


def share_out(
    work: Callable[[int], Result],
    count: int,
    jobs: int,
    meanwhile: Callable[[], object] | None = None,
) -> list[Result]:
    """What `work` gives for each number below `count`, done by at most so many processes. They
    begin with all that this one knows; only numbers and results go between. `meanwhile` is done
    here once there is not enough left for all of them."""
    global _work
    with _sharing:
        _work = work
        workers = max(1, min(at_most(jobs), count))
        try:
            with ProcessPoolExecutor(
                workers,
                mp_context=get_context("fork"),
                initializer=end_with,
                initargs=(os.getpid(),),
            ) as pool:
                begun = [pool.submit(_do, number) for number in range(count)]
                if meanwhile is not None:
                    next(islice(as_completed(begun), count - workers, None), None)
                    meanwhile()
                return [one.result() for one in begun]
        finally:
            _work = None


def _do(number: int) -> Any:
    assert _work is not None
    return _work(number)
