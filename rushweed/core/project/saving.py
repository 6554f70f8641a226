"""Writing several files as one: killed at any instant, the folder holds the old or the new.

New files are first written beside the old ones into a hidden folder; a plan is then renamed into
place, which is the moment the save counts; only after that are the files moved. Opening a folder
with a plan finishes the moves. This is write-ahead logging in the sense of Mohan et al., "ARIES",
ACM Transactions on Database Systems 17 (1992), reduced to whole files.
"""

from __future__ import annotations

import errno
import json
import os
import shutil
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

from rushweed.core.values import Refusal

HIDDEN = ".rushweed"


def write_all(folder: Path, files: Mapping[str, bytes], gone: Iterable[str] = ()) -> None:
    """Write `files` (path inside the folder to bytes) and remove `gone`, all or nothing.

    Raises Refusal when the disk is full or the folder cannot be written; it is then as before.
    """
    try:
        hidden_folder(folder)
        finish(folder)
        _stage(folder, files, list(gone))
    except OSError as problem:
        shutil.rmtree(_stage_folder(folder), ignore_errors=True)
        raise Refusal(explain(problem, folder)) from problem
    finish(folder)


def read(folder: Path, name: str) -> bytes:
    """A file of the folder as the last whole save left it, even when its moves were cut short."""
    plan = _plan(folder)
    if plan and name in plan["write"]:
        staged = _stage_folder(folder) / str(plan["write"][name])
        if staged.exists():
            return staged.read_bytes()
    return (folder / name).read_bytes()


def finish(folder: Path) -> None:
    """Carry out what an interrupted save had left to do."""
    stage = _stage_folder(folder)
    plan = _plan(folder)
    if plan is None:
        shutil.rmtree(stage, ignore_errors=True)
        return
    for name, staged_name in plan["write"].items():
        staged = stage / staged_name
        if staged.exists():
            target = folder / name
            target.parent.mkdir(parents=True, exist_ok=True)
            staged.replace(target)
            _sync_folder(target.parent)
    for name in plan["remove"]:
        (folder / name).unlink(missing_ok=True)
    (stage / "plan.json").unlink()
    _sync_folder(stage)
    shutil.rmtree(stage, ignore_errors=True)


def explain(problem: OSError, place: Path) -> str:
    """One sentence about a failed write and what to do."""
    if problem.errno in (errno.ENOSPC, errno.EDQUOT):
        return "The disk is full, nothing was changed. Free some space, then save again."
    if problem.errno in (errno.EACCES, errno.EROFS, errno.EPERM):
        return f"“{place}” may not be written. Save the project to another folder."
    reason = problem.strerror or str(problem)
    return f"“{place}” could not be written ({reason}). Save the project to another folder."


def write_file(target: Path, data: bytes) -> None:
    """Write one file so that it is there whole or not at all."""
    beside = target.with_name(f".{target.name}.new")
    try:
        _write_synced(beside, data)
        beside.replace(target)
    except OSError:
        beside.unlink(missing_ok=True)
        raise


def _stage_folder(folder: Path) -> Path:
    return folder / HIDDEN / "saving"


def hidden_folder(folder: Path) -> None:
    """Make the folder that version control leaves alone, if it is not there yet."""
    hidden = folder / HIDDEN
    hidden.mkdir(parents=True, exist_ok=True)
    ignore = hidden / ".gitignore"
    if not ignore.exists():
        ignore.write_text("*\n")


def _stage(folder: Path, files: Mapping[str, bytes], gone: list[str]) -> None:
    stage = _stage_folder(folder)
    stage.mkdir(parents=True)
    plan: dict[str, Any] = {"write": {}, "remove": gone}
    for index, (name, data) in enumerate(files.items()):
        _write_synced(stage / str(index), data)
        plan["write"][name] = str(index)
    _write_synced(stage / "plan.new", json.dumps(plan).encode())
    _sync_folder(stage)
    (stage / "plan.new").replace(stage / "plan.json")
    _sync_folder(stage)


def _plan(folder: Path) -> dict[str, Any] | None:
    try:
        plan: dict[str, Any] = json.loads((_stage_folder(folder) / "plan.json").read_bytes())
    except FileNotFoundError:
        return None
    return plan


def _write_synced(path: Path, data: bytes) -> None:
    with path.open("wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())


def _sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
