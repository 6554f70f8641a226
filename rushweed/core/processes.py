"""Processes beside this one: how many the machine bears, and that none outlives it."""

from __future__ import annotations

import ctypes
import os
import signal
import sys

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
