"""Saving and building in a process that is killed at a system call, with a reader beside it.

Run as a program, since only a process of one thread may be forked: `killing.py WHAT TRIES FOLDER`
prints how many tries left the old and how many the new, and fails where a mixture was read.
"""

from __future__ import annotations

import json
import os
import shutil
import sys
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np

from rushweed.core.bale.building import build_all
from rushweed.core.cut.gathering import by_best_guesses
from rushweed.core.folder.saving import PLAN
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import content_hash, encode_png
from rushweed.core.project import files
from rushweed.core.project.level import Layer, Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from tools.corpus.figures import creature, frame, palette

CALLS = ("open", "rename", "unlink", "rmdir", "mkdir", "fsync", "lstat", "close")
MOST_CALLS = 4000
LOOKS = 20


def small_project(folder: Path) -> Project:
    """Two sheets and two levels, saved in a folder."""
    picture = folder / "art" / "figure.png"
    picture.parent.mkdir(parents=True)
    draw = np.random.default_rng(5)
    drawn = frame(creature(draw, 24, 24), palette(draw), 0.3)
    picture.write_bytes(encode_png(drawn))
    project = by_best_guesses(Project("Old", recipes=(Recipe("all"),)), Art(folder), [[picture]])
    levels = tuple(Level(name, layers=(Layer("ground"),)) for name in ("pond", "bank"))
    project = replace(project, levels=levels)
    files.save(project, folder)
    return project


def changed(project: Project) -> Project:
    """Another state: one level gone, one new, all else under another name."""
    level = Level("island", layers=(Layer("ground"), Layer("reeds")))
    return replace(project, name="New", levels=(project.levels[0], level))


def die_at(stop: int, act: Callable[[], object]) -> bool:
    """Do something in a process of its own that is killed at the call of that number. Whether it
    got through."""
    child = os.fork()
    if child:
        return os.waitpid(child, 0)[1] == 0
    count = 0

    def dying(real: Callable[..., object]) -> Callable[..., object]:
        def call(*args: object, **kwargs: object) -> object:
            nonlocal count
            count += 1
            if count > stop:
                os._exit(9)
            return real(*args, **kwargs)

        return call

    for name in CALLS:
        setattr(os, name, dying(getattr(os, name)))
    act()
    os._exit(0)


def beside(read: Callable[[], object], known: list[object]) -> int:
    """Read again and again in a process of its own until it is killed."""
    child = os.fork()
    if child:
        return child
    while True:
        if read() not in known:
            os._exit(1)


def run(
    tries: int,
    folder: Path,
    reset: Callable[[], None],
    act: Callable[[], object],
    read: Callable[[], object],
    known: list[object],
) -> dict[str, int]:
    """Kill at every call, or at so many of them, evenly. `known` are the old and the new."""
    reset()
    last = next(stop for stop in range(0, MOST_CALLS, 20) if _resetting(reset, stop, act))
    outcomes = []
    for stop in (round(k * last / tries) for k in range(tries + 1)):
        reset()
        reader = beside(read, known)
        die_at(stop, act)
        found = read()
        assert found in known, f"a mixture after {stop} calls"
        os.kill(reader, 0)
        done, status = os.waitpid(reader, os.WNOHANG)
        assert not done, f"the reader beside saw a mixture, {stop} calls in ({status})"
        os.kill(reader, 9)
        os.waitpid(reader, 0)
        outcomes.append(known.index(found))
        assert die_at(MOST_CALLS, act) and read() == known[1], "the next one gets through"
        assert not (folder / PLAN).exists()
    return {"old": outcomes.count(0), "new": outcomes.count(1), "unfinished": outcomes.count(2)}


def _resetting(reset: Callable[[], None], stop: int, act: Callable[[], object]) -> bool:
    reset()
    return die_at(stop, act)


def save(tries: int, place: Path) -> dict[str, int]:
    folder, kept = place / "project", place / "kept"
    old = small_project(kept)
    new = changed(old)

    def reset() -> None:
        shutil.rmtree(folder, ignore_errors=True)
        shutil.copytree(kept, folder)

    return run(
        tries,
        folder,
        reset,
        lambda: files.save(new, folder),
        lambda: files.load(folder),
        [old, new],
    )


def build(tries: int, place: Path, lasting: bool = False) -> dict[str, int]:
    folder, out, kept = place / "project", place / "out", place / "kept"
    old = small_project(folder)
    new = changed(old)
    if lasting:
        old = replace(old, recipes=(Recipe("all", lasting=True),))
        new = replace(new, recipes=(Recipe("all", lasting=True, trimmed=True),))
    build_all(old, folder, kept)
    build_all(new, folder, place / "new")

    def reset() -> None:
        shutil.rmtree(out, ignore_errors=True)
        shutil.copytree(kept, out)

    act = partial(build_all, new, folder, out)
    if lasting:
        states: list[object] = [pages_of(kept), pages_of(place / "new")]
        return run(tries, out, reset, act, partial(pages_of, out), states)
    states = [bundle_of(kept), bundle_of(place / "new"), None]
    return run(tries, out, reset, act, partial(bundle_of, out), states)


def bundle_of(out: Path) -> dict[str, bytes] | None:
    """A bundle as a game reads it that looks whether all its files belong together; None as long
    as they do not, which they do again once the next build is through."""
    for _ in range(LOOKS):
        try:
            manifest = (out / "bundle.json").read_bytes()
            hashes = json.loads(manifest)["files"]
            found = {name: (out / name).read_bytes() for name in hashes}
        except FileNotFoundError:
            continue
        if all(content_hash(data) == hashes[name] for name, data in found.items()):
            return {"bundle.json": manifest, **found}
    return None


def pages_of(out: Path) -> dict[str, bytes]:
    """A bundle of lasting names as a game reads it that never looks twice."""
    manifest = (out / "bundle.json").read_bytes()
    pages = [entry["file"] for entry in json.loads(manifest)["pages"]]
    return {"bundle.json": manifest, **{name: (out / name).read_bytes() for name in pages}}


if __name__ == "__main__":
    ACTS: dict[str, Callable[[int, Path], object]] = {
        "save": save,
        "build": build,
        "lasting build": partial(build, lasting=True),
    }
    what, tries, place = sys.argv[1], int(sys.argv[2]), Path(sys.argv[3])
    print(json.dumps(ACTS[what](tries, place)))
