"""Numbered pictures that belong together as the frames of one animation."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable
from itertools import islice
from pathlib import Path

from rushweed.core.gather.open_raster import ENDING
from rushweed.core.gather.pictures import ENDINGS

WANTED = ENDINGS | {ENDING}
NUMBERED = re.compile(r"^(?P<stem>.*?)[ _.-]?\(?(?P<number>\d+)\)?$")


def expand(paths: Iterable[Path]) -> list[list[Path]]:
    """Group files and folders into sheets, in natural order.

    A file named by itself is a sheet. Inside a folder, pictures that share a stem and differ
    in their number (`run_1 … run_12`) are one sheet; so is each other picture.
    """
    from natsort import natsorted

    groups: list[list[Path]] = []
    for path in paths:
        if path.is_dir():
            found = (p for p in path.rglob("*") if p.suffix.lower() in WANTED and p.is_file())
            groups.extend(_sequences(natsorted(found, key=str)))
        else:
            groups.append([path])
    return groups


def siblings(path: Path) -> list[Path]:
    """The pictures beside one that differ from it in their number alone, and itself, in natural
    order; none where its folder is gone or its name has no number."""
    from natsort import natsorted

    match = NUMBERED.match(path.stem)
    if match is None or not path.parent.is_dir():
        return []
    beside = (p for p in path.parent.iterdir() if p.suffix.lower() in ENDINGS)
    alike = [p for p in beside if (m := NUMBERED.match(p.stem)) and m["stem"] == match["stem"]]
    return natsorted(filter(Path.is_file, alike), key=str)


def stem_of(group: list[Path]) -> str:
    """The name a sheet gets: the file's own, or what numbered files share; of frames that are
    called as their folder is, or nothing, that folder's, after the one of the creature where
    others of its animations lie beside it."""
    first, folder = group[0].stem, group[0].parent
    if len(group) == 1:
        return first
    match = NUMBERED.match(first)
    stem = match["stem"] if match else first
    if stem.lower() not in ("", folder.name.lower()):
        return stem
    return f"{folder.parent.name} {folder.name}" if _is_of_creature(folder) else folder.name


def _is_of_creature(folder: Path) -> bool:
    """Whether folders of numbered pictures lie beside one, as one for each animation does."""
    try:
        beside = (one for one in folder.parent.iterdir() if one != folder and one.is_dir())
        return folder.parent.name != "" and any(map(_holds_sequence, beside))
    except OSError:
        return False


def _holds_sequence(folder: Path) -> bool:
    pictures = (p for p in folder.iterdir() if p.suffix.lower() in ENDINGS)
    numbered = (p for p in pictures if NUMBERED.match(p.stem))
    return len(list(islice(numbered, 2))) == 2


def are_counted(names: list[str]) -> bool:
    """Whether names are numbered one by one.

    >>> are_counted(["run_1", "run_2"]), are_counted(["run_01", "run_03"]), are_counted(["run"])
    (True, False, False)
    """
    matches = [NUMBERED.match(name) for name in names]
    numbers = [int(match["number"]) for match in matches if match]
    first = numbers[0] if numbers else 0
    return numbers == list(range(first, first + len(names)))


def stem_of_names(names: list[str]) -> str:
    """What numbered names share; the first of others."""
    stems = {match["stem"] if (match := NUMBERED.match(name)) else name for name in names}
    return stems.pop() if len(stems) == 1 else names[0]


def _sequences(paths: list[Path]) -> list[list[Path]]:
    groups: dict[tuple[Path, str], list[Path]] = defaultdict(list)
    for path in paths:
        match = NUMBERED.match(path.stem)
        groups[path.parent, match["stem"] if match else f"{path.stem}/"].append(path)
    return list(groups.values())
