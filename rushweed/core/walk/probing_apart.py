"""Probes in a process of their own: whoever sent them goes on meanwhile, and calls them off at
once."""

from __future__ import annotations

import os
from collections.abc import Generator, Iterable, Iterator, Sequence
from dataclasses import replace
from itertools import islice
from multiprocessing import get_context
from multiprocessing.connection import Connection
from time import monotonic
from typing import NamedTuple

from rushweed.core.bulk import in_bulk
from rushweed.core.gather.art import Art
from rushweed.core.processes import end_with
from rushweed.core.project.cells import Cells, Chunk, Key
from rushweed.core.project.level import Level
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
MOST, CHUNKS = 4096, 64
"""Places that it tells of at once, and chunks of cells that it is told of, for nobody else goes on
while they are read or written."""


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
    whole = project.level(level)
    off = off_in(probed_ground(project, level), art)
    alone = replace(project, levels=(_with_cells(whole, [Cells()] * len(whole.layers)),))
    context = get_context("spawn")  # a process with several threads is not to be forked
    here, there = context.Pipe()
    asked = there, os.getpid(), alone, level, off, near
    process = context.Process(target=_tell, args=asked, daemon=True)
    process.start()
    there.close()
    share, found, is_all = 0.0, Probed(off=off), False
    reached, unreached = set[Cell](), set[Cell]()
    try:
        for _ in _hand_over(here, whole):
            yield share, found
        while not is_all:
            if here.poll(AGAIN):
                news: News = here.recv()
                reached.update(news.reached)
                unreached.update(news.unreached)
                unreached.difference_update(news.reached)
                if news.found is None:
                    continue
                share, is_all = news.share, news.is_all
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


def _hand_over(here: Connection, level: Level) -> Iterator[None]:
    """Send a level's cells, in parts that are written in a moment, once somebody takes them."""
    while not here.poll(AGAIN):
        yield
    here.recv()
    for place, layer in enumerate(level.layers):
        rest = iter(layer.cells.chunks.items())
        while part := dict(islice(rest, CHUNKS)):
            here.send((place, part))
            yield
    here.send(None)


def _taken_over(there: Connection, level: Level) -> Level:
    """The level with the cells that `_hand_over` sends."""
    chunks: list[dict[Key, Chunk]] = [{} for _ in level.layers]
    there.send(None)
    while (part := there.recv()) is not None:
        place, some = part
        chunks[place].update(some)
    return _with_cells(level, map(Cells, chunks))


def _with_cells(level: Level, cells: Iterable[Cells]) -> Level:
    pairs = zip(level.layers, cells, strict=True)
    return replace(level, layers=tuple(replace(layer, cells=its) for layer, its in pairs))


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
    project = replace(project, levels=(_taken_over(there, project.level(level)),))
    share, found, known, told = 0.0, Probed(), Probed(), 0.0
    with in_bulk():
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
