"""`build` of what has not changed: told before anything large is brought in."""

from __future__ import annotations

import json
from pathlib import Path

from rushweed.core.bale.stamp import fingerprint, is_fresh, read_stamp
from rushweed.core.folder.inside import Inside
from rushweed.core.words import say


def fresh_build(words: list[str]) -> str | None:
    """What to say when `build PROJECT --out DIR` has nothing to do; None when it may have, or when
    more is asked for."""
    if len(words) != 4 or words[0] != "build" or "--out" not in words[1:3]:
        return None
    place = words.index("--out")
    if place not in (1, 2) or place + 1 >= len(words):
        return None
    out = Path(words[place + 1])
    project = Path(words[1] if place == 2 else words[3])
    try:
        head = json.loads((project / "project.rushweed").read_bytes())
        [recipe] = head["recipes"]
        fresh = is_fresh(out, fingerprint(project, recipe["name"]))
        fresh = fresh and not read_stamp(Inside(out)).over
    except (OSError, ValueError, KeyError, TypeError):
        return None
    return say("{out}: up to date", out=out) if fresh else None
