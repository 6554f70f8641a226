"""What was found in pixels, kept on disk by content, so that the next sitting need not look again.

It lies in the user's cache folder and may be lost at any time: what is not there is found anew.
"""

from __future__ import annotations

import hashlib
import math
import os
from collections.abc import Callable, Hashable, Iterator
from contextlib import suppress
from functools import cache
from pathlib import Path
from threading import RLock
from time import monotonic, time
from typing import TYPE_CHECKING, Any, Self, TypeVar

from rushweed.core.owner_limits import limit

if TYPE_CHECKING:
    import sqlite3

Value = TypeVar("Value")

USUAL = 256
"""MiB of the disk that are used where the limits do not say otherwise."""
DAY = 24 * 60 * 60
"""Seconds after which it is noted again that something was asked for."""
OFTEN = 256
"""After so many new values is looked whether there is room for more."""
SHARE = 8
"""Where there is none, one in so many goes."""
RESTED = 10.0
"""Seconds after which is asked again where another window kept the file to itself."""
CORE = Path(__file__).parent.parent
TABLE = """CREATE TABLE IF NOT EXISTS found
    (name BLOB PRIMARY KEY, value BLOB NOT NULL, used INTEGER NOT NULL) WITHOUT ROWID"""
IN_USE = """SELECT (page_count - freelist_count) * page_size
    FROM pragma_page_count, pragma_freelist_count, pragma_page_size"""
LET_GO = """DELETE FROM found WHERE name IN
    (SELECT name FROM found ORDER BY used LIMIT (SELECT count(*) / ? + 1 FROM found))"""


class Archive:
    """A store of bytes, or of values that can be told in JSON. A disk that cannot keep them, or
    another window that is just writing, is not in the way."""

    def __init__(self, file: Path, most: int = 0) -> None:
        """Without `most` the file grows to what `found_on_disk` in the limits says, in MiB, else to
        what is usual; then what nobody asked for the longest goes."""
        self._file = file
        self._most = (most or limit("found_on_disk", USUAL)) << 20
        self._store: sqlite3.Connection | None = None
        self._new = 0
        self._rests_until = 0.0
        self._lock = RLock()

    @classmethod
    def of_user(cls) -> Archive:
        """The one of all of a user's projects."""
        from platformdirs import user_cache_path

        return cls(user_cache_path("rushweed") / "found.sqlite")

    def get(
        self, form: Any, key: Hashable, compute: Callable[[], Value], keeps: Callable[[], bool]
    ) -> Value:
        """The kept value of a type, or a new one, which is kept if it is worth it when it is there.
        `key` must say in its `repr` all that the value depends on, beyond the code itself."""
        data = self.find(key)
        if data is not None:
            try:
                value: Value = _told_as(form).validate_json(data)
                return value
            except ValueError:
                pass
        value = compute()
        if keeps():
            self.keep(key, _told_as(form).dump_json(value))
        return value

    def find(self, key: Hashable) -> bytes | None:
        """The kept bytes, or None."""
        name, now = _named(key), int(time())
        rows = self._do("SELECT value, used FROM found WHERE name = ?", name)
        if not rows:
            return None
        data, used = rows[0]
        if not isinstance(used, int) or now - used > DAY:
            self._do("UPDATE found SET used = ? WHERE name = ?", now, name)
        return data if isinstance(data, bytes) else None

    def keep(self, key: Hashable, data: bytes) -> None:
        """Keep bytes that were found."""
        self._do("INSERT OR REPLACE INTO found VALUES (?, ?, ?)", _named(key), data, int(time()))
        if self._new % OFTEN == 0:
            self._make_room()
        self._new += 1

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *fault: object) -> None:
        self.close()

    def close(self) -> None:
        """Let go of the file until something is asked for again."""
        with self._lock:
            if self._store is not None:
                self._store.close()
                self._store = None

    def _do(self, words: str, *values: bytes | int) -> list[tuple[Any, ...]]:
        import sqlite3

        with self._lock:
            if monotonic() < self._rests_until:
                return []
            try:
                self._store = self._store or self._opened()
                return self._store.execute(words, values).fetchall()
            except OSError:
                self._rest(math.inf)
            except sqlite3.Error as problem:
                code = problem.sqlite_errorcode & 0xFF  # the kind, without the cause
                self._rest(monotonic() + RESTED if code == sqlite3.SQLITE_BUSY else math.inf)
                if code in (sqlite3.SQLITE_ERROR, sqlite3.SQLITE_CORRUPT, sqlite3.SQLITE_NOTADB):
                    self._remove()  # damaged, or of another make: the next sitting begins afresh
            return []

    def _opened(self) -> sqlite3.Connection:
        import sqlite3

        self._file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        store = sqlite3.connect(
            self._file, timeout=0.05, isolation_level=None, check_same_thread=False
        )
        try:
            store.execute("PRAGMA journal_mode = WAL")
            store.execute("PRAGMA synchronous = OFF")  # what a power cut takes is found anew
            store.execute(TABLE)
        except sqlite3.Error:
            store.close()
            raise
        return store

    def _make_room(self) -> None:
        """Let what nobody asked for the longest go until there is not too much. The file stays as
        large as it is: its room is filled again."""
        size = self._size()
        while size > self._most:
            self._do(LET_GO, SHARE)
            before, size = size, self._size()
            if size >= before:  # nothing goes
                return

    def _size(self) -> int:
        """The bytes that are in use; 0 where that cannot be told."""
        sizes = [size for (size,) in self._do(IN_USE) if isinstance(size, int)]
        return sizes[0] if sizes else 0

    def _rest(self, until: float) -> None:
        """Keep nothing more until then."""
        self._rests_until = until
        self.close()

    def _remove(self) -> None:
        for ending in ("", "-wal", "-shm"):
            with suppress(OSError):  # on a disk that cannot be written
                Path(f"{self._file}{ending}").unlink(missing_ok=True)


def _named(key: Hashable) -> bytes:
    return hashlib.sha256(f"{_code()} {key!r}".encode()).digest()


@cache
def _told_as(form: Any) -> Any:
    from pydantic import TypeAdapter

    return TypeAdapter(form)


@cache
def _code() -> str:
    """Tells apart what other code found: names, sizes and times of all files of the core."""
    return hashlib.sha256("\n".join(sorted(_files(CORE))).encode()).hexdigest()


def _files(folder: Path | str) -> Iterator[str]:
    with os.scandir(folder) as entries:
        for entry in entries:
            if entry.is_dir():
                if entry.name != "__pycache__":
                    yield from _files(entry.path)
            else:
                status = entry.stat()
                yield f"{entry.path} {status.st_size} {status.st_mtime_ns}"
