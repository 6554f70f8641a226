"""What is remembered between sittings: recent projects, theme, the window's place."""

from __future__ import annotations

import json
from pathlib import Path
from typing import NamedTuple


class Remembered(NamedTuple):
    """The remembered values. `others` is what becomes of tiles of another kind under a stroke."""

    theme: str = "Paper"
    recent: tuple[str, ...] = ()
    geometry: str = ""
    folds: tuple[str, ...] = ()
    arranged: tuple[tuple[str, int, int, int], ...] = ()
    others: str = "stay"


class Settings:
    """Reads and writes one small file under the XDG folders; failing to is never in the way."""

    def __init__(self, file: Path | None = None) -> None:
        self._file = file or default_file()
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
        except OSError:
            pass

    def remember_project(self, folder: Path) -> None:
        """Put a project at the head of the recent ones."""
        others = [path for path in self.values.recent if path != str(folder)]
        self.remember(recent=(str(folder), *others)[:8])

    def _read(self) -> Remembered:
        try:
            stored = json.loads(self._file.read_text())
            known = Remembered()
            return known._replace(
                theme=str(stored.get("theme", known.theme)),
                recent=tuple(map(str, stored.get("recent", ()))),
                geometry=str(stored.get("geometry", "")),
                folds=tuple(map(str, stored.get("folds", ()))),
                others=str(stored.get("others", known.others)),
                arranged=tuple(
                    (str(name), int(slip), int(lens), int(strip))
                    for name, slip, lens, strip in stored.get("arranged", ())
                ),
            )
        except (OSError, ValueError, AttributeError, TypeError):
            return Remembered()


def state_folder() -> Path:
    """The user's XDG state folder: drafts and recovery copies."""
    from platformdirs import user_state_path

    return user_state_path("rushweed")


def default_file() -> Path:
    """The settings file under the user's XDG configuration folder."""
    from platformdirs import user_config_path

    return user_config_path("rushweed") / "settings.json"
