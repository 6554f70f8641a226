"""Writing several files as one: killed at any instant, the folder holds the old or the new.

New files are first written beside the old ones into a hidden folder; a plan is then renamed into
place, which is the moment the save counts; only after that are the files moved. Whoever writes or
reads next finishes the moves. This is write-ahead logging in the sense of Mohan et al., "ARIES",
ACM Transactions on Database Systems 17 (1992), reduced to whole files. A lock lets many read or one
write (Courtois, Heymans, Parnas, "Concurrent control with readers and writers", Communications of
the ACM 14, 1971), so that a reader sees the state before a save or after it.

What lies in the hidden folder is input like any other: a plan that is not right is refused.
"""

from __future__ import annotations

import errno
import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path

from rushweed.core.folder.inside import Inside
from rushweed.core.folder.locks import Held, Lock, locked
from rushweed.core.folder.names import parts_of
from rushweed.core.values import Refusal
from rushweed.core.words import say

HIDDEN = ".rushweed"
STAGE = f"{HIDDEN}/saving"
PLAN = f"{STAGE}/plan.json"
LOCK = f"{HIDDEN}/files.lock"
IGNORED = f"{HIDDEN}/.gitignore"
PATIENCE = 10.0
"""Seconds that a save waits for readers, and they for it."""
LARGEST_PLAN = 64 << 20


@dataclass(frozen=True, slots=True)
class Plan:
    """What a save that counts has to do: files to move into place, by the number they are staged
    under, and files to remove."""

    write: Mapping[str, str]
    remove: tuple[str, ...]


def write_all(inside: Inside, files: Mapping[str, bytes], gone: Iterable[str] = ()) -> None:
    """Write `files` (path inside the folder to bytes) and remove `gone`, all or nothing.

    Raises Refusal when the disk is full or the folder cannot be written; it is then as before.
    """
    write_anew(inside, lambda: (files, gone))


def write_anew(
    inside: Inside, changes: Callable[[], tuple[Mapping[str, bytes], Iterable[str]]]
) -> None:
    """The same, with what there is to write and to remove told by a function that is asked once
    nobody else reads or writes, and the last save is finished."""
    staged = False
    try:
        hidden_folder(inside)
        with locked(inside, LOCK, patience=PATIENCE):
            _finish_or_forget(inside)
            files, gone = changes()
            if files or gone:
                staged = True
                _stage(inside, files, list(gone))
                _finish(inside)
    except Held as problem:
        raise Refusal(
            "“{folder}” is being read or written by another program. Try again.",
            folder=inside.folder,
        ) from problem
    except OSError as problem:
        if staged and not inside.holds(PLAN):
            inside.remove_folder(STAGE)
        raise Refusal(explain(problem, inside.folder)) from problem


@contextmanager
def at_rest(inside: Inside, mark: str) -> Iterator[None]:
    """Keep the folder as one save left it while it is read; one that was cut short is finished
    first. Where nothing may be written there is no lock, and `read` shows what would be there. A
    folder without the file `mark` was never saved into, and is left alone. Raises Refusal while
    another program does not end to write."""
    lock = Lock(inside, LOCK)
    if inside.holds(mark) or inside.holds(PLAN):
        with suppress(Refusal):  # whoever wants to know asks for the plan
            finish(inside)
        try:
            hidden_folder(inside)
            lock.acquire(shared=True, patience=PATIENCE)
        except Held as problem:
            raise Refusal(
                "“{folder}” is being written by another program. Try again.", folder=inside.folder
            ) from problem
        except (OSError, Refusal):
            pass
    try:
        yield
    finally:
        lock.release()


def read(inside: Inside, name: str) -> bytes:
    """A file of the folder as the last whole save left it, even when its moves were cut short."""
    try:
        plan = plan_of(inside)
    except Refusal:
        plan = None
    if plan and name in plan.write:
        staged = f"{STAGE}/{plan.write[name]}"
        if inside.holds(staged):
            return inside.read(staged)
    return inside.read(name)


def finish(inside: Inside) -> None:
    """Carry out what an interrupted save had left to do. Raises Refusal for a plan that is not
    right; where nothing may be written, nothing is done."""
    if plan_of(inside) is None:
        return
    try:
        with locked(inside, LOCK, patience=PATIENCE):
            _finish(inside)
    except Held as problem:
        raise Refusal(
            "“{folder}” is used by another program. Try again.", folder=inside.folder
        ) from problem
    except OSError:
        return


def plan_of(inside: Inside) -> Plan | None:
    """What the last save has still to do. Raises Refusal when its plan is not right."""
    if not inside.holds(PLAN):
        return None
    try:
        body = json.loads(inside.read(PLAN, LARGEST_PLAN))
        plan = Plan(body["write"], tuple(body["remove"]))
        for name in (*plan.write, *plan.remove):
            parts_of(name)
        numbered = all(type(n) is str and n.isdecimal() for n in plan.write.values())
        if numbered and type(body["remove"]) is list:
            return plan
    except FileNotFoundError:
        return None
    except (ValueError, KeyError, TypeError, AttributeError, RecursionError):
        pass
    raise Refusal(
        "{plan} is not right, so an unfinished save cannot be finished. Remove it.", plan=PLAN
    )


def explain(problem: OSError, place: Path) -> str:
    """One sentence about a failed write and what to do."""
    if problem.errno in (errno.ENOSPC, errno.EDQUOT):
        return say("The disk is full, nothing was changed. Free some space, then try again.")
    if problem.errno in (errno.EACCES, errno.EROFS, errno.EPERM):
        return say("“{place}” may not be written. Choose another folder.", place=place)
    reason = problem.strerror or str(problem)
    return say(
        "“{place}” could not be written ({reason}). Choose another folder.",
        place=place,
        reason=reason,
    )


def write_file(target: Path, data: bytes) -> None:
    """Write one file anywhere so that it is there whole or not at all. Its folder is not made."""
    target.parent.stat()
    Inside(target.parent).write(target.name, data)


def hidden_folder(inside: Inside) -> None:
    """Make the folder that version control leaves alone, if it is not there yet."""
    if not inside.holds(IGNORED):
        try:
            inside.write(IGNORED, b"*\n", replaces=False)
        except FileExistsError:
            return


def _finish_or_forget(inside: Inside) -> None:
    """Finish the last save; one that is not right can never be, and its remains are removed."""
    try:
        _finish(inside)
    except Refusal:
        inside.remove_folder(STAGE)


def _finish(inside: Inside) -> None:
    plan = plan_of(inside)
    if plan is None:
        inside.remove_folder(STAGE)
        return
    for name, staged in plan.write.items():
        if inside.holds(f"{STAGE}/{staged}"):
            inside.move(f"{STAGE}/{staged}", name)
    for name in plan.remove:
        inside.remove(name)
    inside.remove(PLAN)
    inside.sync(STAGE)
    inside.remove_folder(STAGE)


def _stage(inside: Inside, files: Mapping[str, bytes], gone: list[str]) -> None:
    inside.make_folder(STAGE)
    places = {name: str(index) for index, name in enumerate(files)}
    for name, data in files.items():
        inside.write(f"{STAGE}/{places[name]}", data)
    inside.write(PLAN, json.dumps({"write": places, "remove": gone}).encode())
