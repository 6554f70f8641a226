"""Probes in a process of their own: whoever sent them goes on meanwhile, and calls them off at
once."""

from __future__ import annotations

import os
from collections.abc import Generator, Iterator, Sequence
from dataclasses import replace
from itertools import islice
from multiprocessing import get_context
from multiprocessing.connection import Connection
from time import monotonic
from typing import NamedTuple

from rushweed.core.collecting import without_collecting
from rushweed.core.gather.art import Art
from rushweed.core.processes import end_with
from rushweed.core.project.project import Project
from rushweed.core.values import Point, Refusal
from rushweed.core.walk.floors import Cell
from rushweed.core.walk.probes import Off
from rushweed.core.walk.probing import (
    Probed,
    found_in,
    keep_probed,
    known_probed,
    off_in,
    probed_ground,
)
from rushweed.core.walk.walker import Ground

AGAIN = 0.05
"""Seconds after which the same is told again, so that whoever listens may stop."""
EVERY = 0.15
"""The other process tells of what it found after so many seconds."""
MOST = 4096
"""Places that it tells of at once, for reading them lets nobody else go on."""


class News(NamedTuple):
    """What the other process tells: some more places, or all else that it found by now."""

    found: Probed | None = None
    share: float = 0.0
    is_all: bool = False
    reached: Sequence[Cell] = ()
    unreached: Sequence[Cell] = ()


def probing_apart(
    project: Project, level: str, art: Art, near: Point | None = None
) -> Generator[tuple[float, Probed], None, None]:
    """What `probing` tells, found by another process, which ends as soon as nobody listens to this
    any more. Raises Refusal as `probe` does, and when that process ends early."""
    known = known_probed(project, level, art)
    if known is not None:
        yield 1.0, known
        return
    off = off_in(probed_ground(project, level), art)
    alone = replace(project, levels=(project.level(level),))
    context = get_context("spawn")  # a process with several threads is not to be forked
    here, there = context.Pipe(duplex=False)
    asked = there, os.getpid(), alone, level, off, near
    process = context.Process(target=_tell, args=asked, daemon=True)
    process.start()
    there.close()
    share, found, is_all = 0.0, Probed(off=off), False
    reached, unreached = set[Cell](), set[Cell]()
    try:
        while not is_all:
            if here.poll(AGAIN):
                news: News = here.recv()
                reached.update(news.reached)
                unreached.update(news.unreached)
                if news.found is None:
                    continue
                share, is_all = news.share, news.is_all
                unreached -= reached
                places = frozenset(reached), frozenset(unreached)
                found = replace(news.found, reached=places[0], unreached=places[1])
            yield share, found
    except (EOFError, OSError):  # OSError: it ended amid a message
        raise Refusal("The probes ended before they were done. Send them again.") from None
    finally:
        process.kill()
        process.join()
        here.close()
    keep_probed(project, level, art, found)


def _tell(
    there: Connection,
    parent: int,
    project: Project,
    level: str,
    off: tuple[Off, ...],
    near: Point | None,
) -> None:
    """Send what is found, in the other process."""
    end_with(parent)
    share, found, known, told = 0.0, Probed(), Probed(), 0.0
    with without_collecting():
        for share, found in found_in(Ground(project, level), off, near):
            if monotonic() - told > EVERY:
                told = monotonic()
                _send(there, known, found, share)
                known = found
    _send(there, known, found, share, is_all=True)


def _send(
    there: Connection, known: Probed, found: Probed, share: float, is_all: bool = False
) -> None:
    """Send what is not known yet: first its places, in parts that are read in a moment."""
    reached, unreached = found.reached - known.reached, found.unreached - known.unreached
    for part in _parts(reached):
        there.send(News(reached=part))
    for part in _parts(unreached):
        there.send(News(unreached=part))
    rest = replace(found, reached=frozenset(), unreached=frozenset())
    there.send(News(rest, share, is_all))


def _parts(cells: frozenset[Cell]) -> Iterator[list[Cell]]:
    rest = iter(cells)
    while part := list(islice(rest, MOST)):
        yield part
