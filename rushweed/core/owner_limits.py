"""Limits that the machine's owner sets: `limits.toml` under the user's XDG configuration folder.

Each line is a whole number: `largest_picture = 200` (millions of pixels), `memory = 1024` and
`found_on_disk = 64` (MiB).
An environment variable of the same meaning goes before the file.
"""

from __future__ import annotations

import os
import tomllib
from functools import cache
from pathlib import Path

from rushweed.core.own_files import own_text

FILE = "limits.toml"
PREFIX = "RUSHWEED_"
MOST_DIGITS = 9
"""No limit is larger than what has so many digits; what is counts as not set."""


def limit(name: str, usual: int) -> int:
    """What is set for a limit, or the usual: a number that is none, or below 1, counts as not
    set."""
    told = os.environ.get(f"{PREFIX}{name.upper()}", "")
    if told.isdecimal() and len(told) <= MOST_DIGITS and int(told) > 0:
        return int(told)
    return _told(limits_file(), name) or usual


def what_is_wrong() -> str:
    """Why the file of limits cannot be read, in the system's words; empty where it can, or where
    there is none."""
    try:
        tomllib.loads(own_text(limits_file()))
    except FileNotFoundError:
        return ""
    except (OSError, ValueError, RecursionError) as problem:
        return str(problem)
    return ""


def limits_file() -> Path:
    """Where the limits are written down; there need not be such a file."""
    from platformdirs import user_config_path

    return user_config_path("rushweed") / FILE


@cache
def _told(file: Path, name: str) -> int:
    try:
        value = tomllib.loads(own_text(file)).get(name)
    except (OSError, ValueError, RecursionError):
        return 0
    return value if type(value) is int and 0 < value < 10**MOST_DIGITS else 0
