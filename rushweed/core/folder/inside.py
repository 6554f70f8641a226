"""The one way to files inside a folder, whoever filled it.

A path is resolved, compared with the folder, and then opened part by part without following any
link, so that nothing outside is read or written even when links are changed in between. What is
no plain file, such as a pipe or a device, is refused.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from rushweed.core.folder.names import parts_of
from rushweed.core.values import Refusal

FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC
READ = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
NEW = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
LARGEST = 2 << 30
"""Bytes of one file that are read at most."""


class Inside:
    """The files of one folder, by relative paths with forward slashes. All methods raise Refusal
    for a path that leaves the folder, and OSError for what the system refuses."""

    def __init__(self, folder: Path, private: bool = False) -> None:
        """What is `private` can be read by its owner only."""
        self.folder = folder
        self._root = folder.resolve()
        self._modes = (0o700, 0o600) if private else (0o777, 0o666)

    def read(self, name: str, most: int = LARGEST) -> bytes:
        """The bytes of a plain file. Raises Refusal when there are more than `most`."""
        *above, last = self._true_parts(name)
        with self._opened(above) as place:
            handle = os.open(last, READ, dir_fd=place)
        with os.fdopen(handle, "rb") as file:
            status = self._plain(os.fstat(handle), name)
            if status.st_size > most:
                raise Refusal(
                    "“{name}” is larger than {number} MiB. Make it smaller.",
                    name=name,
                    number=most >> 20,
                )
            return file.read()

    def find(self, name: str) -> bytes | None:
        """The bytes of a plain file; None where there is none that can be read."""
        try:
            return self.read(name)
        except (OSError, Refusal):
            return None

    def holds(self, name: str) -> bool:
        """Whether there is a plain file that may be read."""
        try:
            status = self.folder.joinpath(*self._true_parts(name)).lstat()
        except (OSError, Refusal):
            return False
        return stat.S_ISREG(status.st_mode)

    def names(self, folder: str, ending: str = "", deep: bool = False) -> list[str]:
        """The plain files in a folder inside, and with `deep` those below it, sorted. Links are
        left out where they lead out of the folder."""
        try:
            top = self.folder.joinpath(*self._true_parts(folder))
        except Refusal:
            return []
        found = []
        for place, folders, files in os.walk(top):
            if not deep:
                folders.clear()
            inner = Path(place).relative_to(top)
            found += [(folder / inner / file).as_posix() for file in files if file.endswith(ending)]
        return [name for name in sorted(found) if self.holds(name)]

    def write(self, name: str, data: bytes, replaces: bool = True) -> None:
        """Write one file so that it is there whole or not at all. Raises FileExistsError when it
        may not replace what is there."""
        *above, last = self._true_parts(name)
        beside = f".{last[:40]}.new"
        with self._opened(above, make=True) as place:
            if not replaces:  # the name is taken before anything is written
                os.close(os.open(last, NEW, self._modes[1], dir_fd=place))
            _unlink(beside, place)
            try:
                self._write_synced(beside, place, data)
                os.rename(beside, last, src_dir_fd=place, dst_dir_fd=place)
            finally:
                _unlink(beside, place)
            os.fsync(place)

    def add_to(self, name: str, data: bytes) -> None:
        """Write at the end of a plain file."""
        *above, last = self._true_parts(name)
        flags = os.O_WRONLY | os.O_CREAT | os.O_APPEND | os.O_NOFOLLOW | os.O_NONBLOCK
        with self._opened(above, make=True) as place:
            handle = os.open(last, flags | os.O_CLOEXEC, self._modes[1], dir_fd=place)
        with os.fdopen(handle, "ab") as file:
            self._plain(os.fstat(handle), name)
            file.write(data)

    def move(self, name: str, to: str) -> None:
        """Put a plain file in the place of another, at once."""
        *above, last = self._true_parts(name)
        *other, target = self._true_parts(to)
        with self._opened(above) as source, self._opened(other, make=True) as place:
            self._plain(os.lstat(last, dir_fd=source), name)
            os.rename(last, target, src_dir_fd=source, dst_dir_fd=place)
            os.fsync(place)

    def remove(self, name: str) -> None:
        """Remove a file, or a link itself; it is well when there is none."""
        *above, last = self._linked_parts(name)
        try:
            with self._opened(above) as place:
                _unlink(last, place)
        except (FileNotFoundError, NotADirectoryError):
            return

    def remove_folder(self, name: str) -> None:
        """Remove a folder with all that it holds, or whatever else is there, following no link."""
        *above, last = self._linked_parts(name)
        try:
            with self._opened(above) as place:
                if stat.S_ISDIR(os.lstat(last, dir_fd=place).st_mode):
                    import shutil

                    shutil.rmtree(last, dir_fd=place, ignore_errors=True)
                else:
                    os.unlink(last, dir_fd=place)
        except (FileNotFoundError, NotADirectoryError):
            return

    def make_folder(self, name: str) -> None:
        """Have a folder inside, with all above it."""
        with self._opened(self._true_parts(name), make=True):
            return

    def sync(self, name: str) -> None:
        """Wait until the disk has what a folder lists."""
        with self._opened(self._true_parts(name)) as place:
            os.fsync(place)

    def lock_file(self, name: str, shared: bool) -> int:
        """A handle to a plain file that is there to be locked. One that is to be `shared` may be
        one for reading, where nothing can be written."""
        *above, last = self._true_parts(name)
        try:
            with self._opened(above, make=True) as place:
                flags = os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
                return os.open(last, flags, self._modes[1], dir_fd=place)
        except OSError:
            if not shared:
                raise
            with self._opened(above) as place:
                return os.open(last, READ, dir_fd=place)

    @contextmanager
    def _opened(self, parts: list[str] | tuple[str, ...], make: bool = False) -> Iterator[int]:
        """A handle to the folder at a path without links."""
        if make:
            self.folder.mkdir(self._modes[0], parents=True, exist_ok=True)
        place = os.open(self.folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            for part in parts:
                if make:
                    _make_folder(part, place, self._modes[0])
                inner = os.open(part, FOLDER, dir_fd=place)
                os.close(place)
                place = inner
            yield place
        finally:
            os.close(place)

    def _true_parts(self, name: str) -> tuple[str, ...]:
        """The parts of a path with all links followed. Raises Refusal when they lead out."""
        parts, root = parts_of(name), self._root
        try:
            true = root.joinpath(*parts).resolve()
        except (OSError, RuntimeError) as problem:
            raise Refusal("“{name}” leads nowhere. Take that link away.", name=name) from problem
        if true == root or not true.is_relative_to(root):
            raise Refusal(
                "“{name}” leads out of “{folder}”. Put the file itself in its place.",
                name=name,
                folder=self.folder.name,
            )
        return true.relative_to(root).parts

    def _linked_parts(self, name: str) -> tuple[str, ...]:
        """The same, but the last part is taken as it is, be it a link or not."""
        *above, last = parts_of(name)
        return (*(self._true_parts("/".join(above)) if above else ()), last)

    def _plain(self, status: os.stat_result, name: str) -> os.stat_result:
        """What the system says of a plain file. Raises Refusal for anything else."""
        if not stat.S_ISREG(status.st_mode):
            raise Refusal(
                "“{name}” is no plain file. Take it out of “{folder}”.",
                name=name,
                folder=self.folder,
            )
        return status

    def _write_synced(self, name: str, place: int, data: bytes) -> None:
        handle = os.open(name, NEW, self._modes[1], dir_fd=place)
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(handle)


def read_anywhere(path: Path, most: int = LARGEST) -> bytes:
    """The bytes of a plain file that somebody named, wherever it lies; see `Inside.read`."""
    true = path.resolve()
    return Inside(true.parent).read(true.name, most)


def _make_folder(name: str, place: int, mode: int) -> None:
    try:
        os.mkdir(name, mode, dir_fd=place)
    except FileExistsError:
        return


def _unlink(name: str, place: int) -> None:
    try:
        os.unlink(name, dir_fd=place)
    except FileNotFoundError:
        return
