"""What is remembered between sittings: recent projects, theme, the window's place."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

from rushweed.core.own_files import own_text
from rushweed.core.words import come_along, say


class Remembered(NamedTuple):
    """The remembered values. `others` is what becomes of tiles of another kind under a stroke,
    `scrolls` what scrolling over a picture does. `language` is a code such as “de” and `type_size`
    in percent; empty and 0 leave them to the system. `hints` names the stations whose hint was
    understood."""

    theme: str = "Paper"
    recent: tuple[str, ...] = ()
    geometry: str = ""
    folds: tuple[str, ...] = ()
    arranged: tuple[tuple[str, int, int, int], ...] = ()
    others: str = "stay"
    scrolls: str = "by device"
    language: str = ""
    type_size: int = 0
    hints: tuple[str, ...] = ()


class Settings:
    """Reads and writes one small file under the XDG folders; failing to is never in the way."""

    def __init__(self, file: Path | None = None) -> None:
        self._file = file or default_file()
        self.problem = ""
        """What of the file could not be read, in a sentence."""
        self.values = self._read()

    @property
    def keys_file(self) -> Path:
        """Where the user's own keys are read from."""
        return self._file.with_name("keys.toml")

    def remember(self, **changes: object) -> None:
        """Change some values and write them down."""
        self.values = self.values._replace(**changes)  # type: ignore[arg-type]
        try:
            self._file.parent.mkdir(parents=True, exist_ok=True)
            self._file.write_text(json.dumps(self.values._asdict()))
        except (OSError, ValueError):
            pass

    def remember_project(self, folder: Path) -> None:
        """Put a project at the head of the recent ones."""
        others = [path for path in self.values.recent if path != str(folder)]
        self.remember(recent=(str(folder), *others)[:8])

    def _read(self) -> Remembered:
        """What is written down, and of what makes no sense, or cannot be read, the usual."""
        usual = Remembered()
        try:
            stored = json.loads(own_text(self._file))
            known = {name: stored[name] for name in stored.keys() & {*usual._fields}}
        except FileNotFoundError:
            return usual
        except (OSError, ValueError, TypeError, AttributeError, RecursionError):
            self.problem = say("{file} cannot be read. The usual settings hold.", file=self._file)
            return usual
        good = {}
        for name, value in known.items():
            try:
                good[name] = READ[name](value)
            except (ValueError, TypeError, OverflowError, LookupError, RecursionError):
                told = say("{name} in {file} is not right. The usual holds.")
                self.problem = told.format(name=name, file=self._file)
        return usual._replace(**good)


def _one_of(*known: str) -> Callable[[Any], str]:
    def read(value: Any) -> str:
        if value not in known:
            raise ValueError(value)
        return str(value)

    return read


def _names(value: Any) -> tuple[str, ...]:
    if not isinstance(value, list):
        raise TypeError(value)
    return tuple(map(str, value))


def _arranged(value: Any) -> tuple[tuple[str, int, int, int], ...]:
    return tuple(
        (str(name), _room(slip), _room(lens), _room(strip)) for name, slip, lens, strip in value
    )


def _room(value: Any) -> int:
    """Screen pixels of a part of the window."""
    return min(max(int(value), 0), WIDEST)


WIDEST = 1 << 16
READ: dict[str, Callable[[Any], Any]] = {
    "theme": _one_of("Paper", "Dusk"),
    "recent": _names,
    "geometry": str,
    "folds": _names,
    "hints": _names,
    "arranged": _arranged,
    "others": _one_of("stay", "aside", "replaced"),
    "scrolls": _one_of("by device", "pans", "zooms"),
    "language": _one_of("", "en", *come_along()),
    "type_size": lambda value: min(max(int(value), 100), 200) if value else 0,
}
"""How each remembered value is read from what is written down."""


def state_folder() -> Path:
    """The user's XDG state folder: drafts and recovery copies."""
    from platformdirs import user_state_path

    return user_state_path("rushweed")


def default_file() -> Path:
    """The settings file under the user's XDG configuration folder."""
    from platformdirs import user_config_path

    return user_config_path("rushweed") / "settings.json"
