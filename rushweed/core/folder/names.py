"""Names of files: those that may be followed inside a folder, and those that may leave it."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import PurePosixPath

from rushweed.core.values import Refusal

LONGEST = 255
"""Bytes of a file's name, on all usual file systems."""
LONGEST_STEM = 60
MOST_PRINTED = 200
DEVICES = frozenset(
    {"con", "prn", "aux", "nul", "conin$", "conout$"}
    | {f"{port}{number}" for port in ("com", "lpt") for number in "0123456789¹²³"}
)
"""Names that some systems keep for devices, whatever their ending."""


def parts_of(path: str) -> tuple[str, ...]:
    """The parts of a relative path with forward slashes. Raises Refusal for one that is absolute,
    climbs, or that no file can have."""
    parts = PurePosixPath(path).parts
    whole = bool(parts) and not path.startswith("/") and "\\" not in path and ".." not in parts
    if not whole or not all(map(_can_be, parts)):
        raise Refusal(
            "“{printable}” is no path inside the folder. Put it right.", printable=printable(path)
        )
    return parts


def check_leaving(names: Iterable[str]) -> None:
    """Raise Refusal for names of files that some system cannot take: those of devices, those with
    a dot or a space at their end, or two that differ in case alone."""
    seen: dict[str, str] = {}
    for name in names:
        for part in parts_of(name):
            if not leaves_well(part):
                raise Refusal(
                    "“{printable}” is no name that every system can take. Change it.",
                    printable=printable(name),
                )
        other = seen.setdefault(name.casefold(), name)
        if other != name:
            raise Refusal(
                "“{other}” and “{name}” differ in case alone, and some systems do not tell "
                "them apart. Change one of them.",
                other=other,
                name=name,
            )


def leaves_well(part: str) -> bool:
    """Whether every usual system can take a file of that name."""
    if part.split(".")[0].strip().casefold() in DEVICES or part[-1] in ". ":
        return False
    return not re.search(r'[<>:"|?*\x00-\x1f\x7f]', part)


def file_stems(names: Iterable[str], lower: bool = True) -> list[str]:
    """A file name for each name: readable, safe on any system, and each one different, in more
    than case."""
    stems: dict[str, str] = {}
    for name in names:
        wanted = name.strip().lower() if lower else name.strip()
        base = re.sub(r"[^\w.-]+", "-", wanted).strip("-.") or "unnamed"
        while len(base.encode()) > LONGEST_STEM:
            base = base[:-1].rstrip("-.")
        if base.split(".")[0].casefold() in DEVICES:
            base = base.replace(".", "-") if "." in base else f"{base}-"
        stem, count = base, 2
        while stem.casefold() in stems:
            stem, count = f"{base}-{count}", count + 1
        stems[stem.casefold()] = stem
    return list(stems.values())


def _can_be(part: str) -> bool:
    try:
        encoded = part.encode()
    except UnicodeEncodeError:
        return False
    return len(encoded) <= LONGEST and not re.search(r"[\x00-\x1f\x7f]", part)


def printable(text: str, most: int = MOST_PRINTED) -> str:
    """A text as it can be printed, whatever is in it; of a very long one both ends."""
    safe = "".join(c if c.isprintable() or c == "\n" else ascii(c)[1:-1] for c in text)
    half = most // 2
    return f"{safe[:half]}…{safe[-half:]}" if len(safe) > most else safe
