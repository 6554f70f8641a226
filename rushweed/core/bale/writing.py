"""Writing a bundle: whole or not at all, one build at a time, nothing when nothing changed."""

from __future__ import annotations

from pathlib import Path

from filelock import FileLock, Timeout

from rushweed.core.bale.bundle import Bundle
from rushweed.core.bale.stamp import STAMP, read_stamp, stamp_of
from rushweed.core.project import saving
from rushweed.core.project.reading import HEAD
from rushweed.core.values import Refusal

LOCK = "building.lock"


def write_bundle(bundle: Bundle, target: Path, key: str = "") -> list[str]:
    """Write a bundle's files into a folder; those of the last build that are no more are removed.
    `key` is the fingerprint of what it was made of. Returns the names of files that changed.

    Raises Refusal when that cannot be, or while another build writes there; the old bundle is then
    whole.
    """
    check_target(target)
    try:
        saving.hidden_folder(target)
        lock = FileLock(target / saving.HIDDEN / LOCK, timeout=0)
        with lock:
            return _write(bundle, target, key)
    except Timeout as problem:
        raise Refusal(
            f"Another build is writing into “{target}”. Wait until it is done."
        ) from problem
    except OSError as problem:
        told = saving.explain(problem, target).replace("Save the project to", "Build into")
        raise Refusal(told) from problem


def check_target(target: Path) -> None:
    """Raise Refusal for a folder that a bundle may not be written into."""
    if (target / HEAD).exists():
        raise Refusal(f"“{target}” is a project's own folder. Choose another one for the bundle.")
    if target.exists() and not target.is_dir():
        raise Refusal(f"“{target}” is a file. Choose a folder for the bundle.")


def _write(bundle: Bundle, target: Path, key: str) -> list[str]:
    saving.finish(target)
    before = read_stamp(target).get("files")
    known = before if isinstance(before, dict) else {}
    changed = {name: data for name, data in bundle.files.items() if _stored(target / name) != data}
    gone = [name for name in known if name not in bundle.files and (target / name).exists()]
    stamp = stamp_of(key, bundle.files)
    if changed or gone or _stored(target / STAMP) != stamp:
        saving.write_all(target, {**changed, STAMP: stamp}, gone)
    return list(changed)


def _stored(path: Path) -> bytes | None:
    try:
        return path.read_bytes()
    except OSError:
        return None
