"""What a game would notice between two bundles: art, pieces, animations, levels, the walker."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rushweed.core.bale.bundle import MANIFEST_FILE
from rushweed.core.bale.levels_apart import joined
from rushweed.core.folder.inside import Inside
from rushweed.core.values import Refusal
from rushweed.core.words import said, say

LAYOUT = ("page", "rect", "turned", "offset")
"""Where a piece lies on its page: what moves there when others do, and no game sees."""
RULES = said(
    {
        "tile": "size of tiles",
        "pixels_per_unit": "number of pixels per unit",
        "resolution": "resolution",
        "kinds": "list of ground kinds",
        "collision": "list of collision layers",
        "walker": "walker",
        "hems": "list of hems",
        "mixes": "list of mixes",
    }
)
WORDS = said(
    {
        "rect": "its place",
        "size": "its size",
        "pivot": "its pivot",
        "shapes": "its shapes",
        "facts": "its facts",
        "body": "how it moves",
        "borders": "its borders",
        "name": "its name",
        "filter": "its filtering",
        "pixels_per_unit": "its pixels per unit",
    }
)


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing that is other than it was: of what `kind`, which, how, and in words."""

    kind: str
    name: str
    how: str
    words: str


def read_manifest(folder: Path) -> dict[str, Any]:
    """The manifest of a bundle in a folder, with its levels wherever they lie there. Raises Refusal
    for what is none."""
    try:
        inside = Inside(folder)
        body = json.loads(inside.read(MANIFEST_FILE))
        return joined(body, lambda name: json.loads(inside.read(name)))
    except (OSError, ValueError, KeyError, TypeError, RecursionError) as problem:
        raise Refusal("“{folder}” holds no bundle that can be read.", folder=folder) from problem


def compare(old: Mapping[str, Any], new: Mapping[str, Any]) -> Iterator[Difference]:
    """What differs between two manifests, pieces by their numbers, everything else by name."""
    yield from _art(old, new)
    for kind, plural, key in (
        ("piece", "pieces", "number"),
        ("animation", "animations", "name"),
        ("level", "levels", "name"),
    ):
        yield from _listed(kind, _by(old[plural], key), _by(new[plural], key))
    for name, told in RULES.items():
        if old.get(name) != new.get(name):
            yield Difference("rules", name, "changed", say("The {told} changed.", told=told))


def _art(old: Mapping[str, Any], new: Mapping[str, Any]) -> Iterator[Difference]:
    """Pages whose picture is another one."""
    before, after = old.get("files", {}), new.get("files", {})
    contents = set(before.values())
    for page in new["pages"]:
        for entry in page["densities"]:
            for name in filter(None, (entry["file"], entry["normals"])):
                known = after[name] in contents if name in after else name in _inline(old)
                if not known:
                    shown = "a page" if name.startswith("data:") else name
                    yield Difference(
                        "page", shown, "changed", say("The picture {shown} changed.", shown=shown)
                    )


def _inline(manifest: Mapping[str, Any]) -> set[str]:
    return {
        name
        for page in manifest["pages"]
        for entry in page["densities"]
        for name in (entry["file"], entry["normals"])
    }


def _listed(
    kind: str, old: Mapping[Any, dict[str, Any]], new: Mapping[Any, dict[str, Any]]
) -> Iterator[Difference]:
    for key, entry in new.items():
        name = _name(kind, entry)
        if key not in old:
            yield Difference(kind, name, "added", say("{title} is new.", title=_title(kind, name)))
            continue
        parts = [
            part
            for part, value in entry.items()
            if value != old[key].get(part) and not (kind == "piece" and part in LAYOUT)
        ]
        if parts:
            told = HOW[kind](old[key], entry, parts)
            yield Difference(kind, name, "changed", f"{_title(kind, name)}: {told}.")
    for key, entry in old.items():
        if key not in new:
            name = _name(kind, entry)
            yield Difference(kind, name, "gone", say("{title} is gone.", title=_title(kind, name)))


def _piece_words(old: dict[str, Any], new: dict[str, Any], parts: list[str]) -> str:
    return say(
        "{names} changed",
        names=", ".join(WORDS.get(part, part.replace("_", " ")) for part in parts),
    )


def _animation_words(old: dict[str, Any], new: dict[str, Any], parts: list[str]) -> str:
    if "frames" in parts and len(old["frames"]) != len(new["frames"]):
        return say("{count} frames are {now} now", count=len(old["frames"]), now=len(new["frames"]))
    return say("{names} changed", names=", ".join(part.replace("_", " ") for part in parts))


def _level_words(old: dict[str, Any], new: dict[str, Any], parts: list[str]) -> str:
    told = [part for part in parts if part not in ("layers", "extent", "outlines")]
    before, after = ({layer["name"]: layer for layer in body["layers"]} for body in (old, new))
    told += [
        say("the layer {name}", name=name)
        for name, layer in after.items()
        if before.get(name) != layer
    ]
    told += [say("the layer {name} is gone", name=name) for name in before if name not in after]
    if not told:
        told = [say("its outlines")] if "outlines" in parts else [say("the order of its layers")]
    return say("{names} changed", names=", ".join(told))


Words = Callable[[dict[str, Any], dict[str, Any], list[str]], str]
HOW: dict[str, Words] = {
    "piece": _piece_words,
    "animation": _animation_words,
    "level": _level_words,
}


def _by(entries: list[dict[str, Any]], key: str) -> dict[Any, dict[str, Any]]:
    """Entries by what names them; animations by sheet as well."""
    return {(entry.get("sheet") if key == "name" else None, entry[key]): entry for entry in entries}


def _name(kind: str, entry: Mapping[str, Any]) -> str:
    if kind == "level":
        return str(entry["name"])
    return f"{entry['sheet']}/{entry['name'] or entry.get('number')}"


def _title(kind: str, name: str) -> str:
    return say("The {kind} {name}", kind=kind, name=name)
