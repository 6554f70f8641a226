"""Writing a bundle: whole or not at all, one build at a time, nothing when nothing changed."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from rushweed.core.bale.bundle import MANIFEST_FILE, Bundle
from rushweed.core.bale.lasting import lasting_among
from rushweed.core.bale.stamp import STAMP, read_stamp, stamp_of
from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.locks import Held, locked
from rushweed.core.folder.names import check_leaving
from rushweed.core.project.head import HEAD
from rushweed.core.values import Refusal

LOCK = f"{saving.HIDDEN}/building.lock"


def write_bundle(
    bundle: Bundle, target: Path, key: str = "", over: Iterable[str] = ()
) -> list[str]:
    """Write a bundle's files into a folder; those of the last build that are no more are removed.
    `key` is the fingerprint of what it was made of, `over` what of it is over its budget. Returns
    the names of files that changed.

    Raises Refusal when that cannot be, or while another build writes there; the old bundle is then
    whole.
    """
    check_target(target)
    check_leaving(bundle.files)
    with in_words_of_building(target):
        inside = Inside(target)
        saving.hidden_folder(inside)
        with locked(inside, LOCK):
            return _write(bundle, inside, key, over)


def check_target(target: Path) -> None:
    """Raise Refusal for a folder that a bundle may not be written into."""
    with in_words_of_building(target):
        if (target / HEAD).exists():
            raise Refusal(
                "“{target}” is a project's own folder. Choose another one for the bundle.",
                target=target,
            )
        if target.exists() and not target.is_dir():
            raise Refusal("“{target}” is a file. Choose a folder for the bundle.", target=target)


@contextmanager
def in_words_of_building(target: Path) -> Iterator[None]:
    """Turn what the system refuses into a sentence about the bundle's folder."""
    try:
        yield
    except Held as problem:
        raise Refusal(
            "Another build is writing into “{target}”. Wait until it is done.", target=target
        ) from problem
    except OSError as problem:
        raise Refusal(saving.explain(problem, target)) from problem


def _write(bundle: Bundle, inside: Inside, key: str, over: Iterable[str]) -> list[str]:
    changed: dict[str, bytes] = {}

    def changes() -> tuple[dict[str, bytes], list[str]]:
        _refuse_foreign(inside, bundle)
        files, last = bundle.files, read_stamp(inside)
        changed.update({name: files[name] for name in files if inside.find(name) != files[name]})
        gone = [name for name in last.files if name not in files]
        before = last.before
        if changed or gone:
            before = tuple(name for name in lasting_among(last.files) if name not in files)
            gone = [name for name in (*gone, *last.before) if name not in (*files, *before)]
        gone = [name for name in gone if inside.holds(name)]
        stamp = stamp_of(key, files, before, over).to_bytes()
        if not changed and not gone and inside.find(STAMP) == stamp:
            return {}, []
        last_of_all = sorted(changed, key=lambda name: name == MANIFEST_FILE)
        return {STAMP: stamp, **{name: changed[name] for name in last_of_all}}, gone

    saving.write_anew(inside, changes)
    return list(changed)


def _refuse_foreign(inside: Inside, bundle: Bundle) -> None:
    """Raise Refusal where a file would be replaced that no build has written. A bundle that was
    brought here without its stamp, as version control does, is known by its manifest."""
    if read_stamp(inside).files or _is_ours(inside.find(MANIFEST_FILE)):
        return
    for name, data in bundle.files.items():
        if inside.find(name) not in (None, data):
            raise Refusal(
                "“{folder}” holds a {name} that no build has written. Choose another "
                "folder for the bundle, or take that file away.",
                folder=inside.folder,
                name=name,
            )


def _is_ours(manifest: bytes | None) -> bool:
    try:
        body = json.loads(manifest or b"")
    except (ValueError, RecursionError):
        return False
    return isinstance(body, dict) and {"format", "recipe", "pages", "pieces"} <= body.keys()
