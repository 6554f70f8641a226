"""Levels in files of their own, and their cells in chunks, for games that load what they need."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from rushweed.core.bale.lasting import lasting_name
from rushweed.core.bale.telling_cells import chunks_of
from rushweed.core.folder.names import file_stems
from rushweed.core.project.level import Level
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.text import to_json


def are_apart(recipe: Recipe) -> bool:
    """Whether a bundle's levels lie in files of their own."""
    return not recipe.single_file and (recipe.levels_apart or recipe.chunk > 0)


def put_apart(project: Project, body: Any, recipe: Recipe) -> tuple[Any, dict[str, bytes]]:
    """What the manifest says of levels that lie in files of their own, and those files."""
    stems = file_stems([level["name"] for level in body["levels"]])
    entries, files = [], dict[str, bytes]()
    for level, stem in zip(body["levels"], stems, strict=True):
        if recipe.chunk:
            made = _chunks(project.level(level["name"]), stem, recipe)
            files |= {entry["file"]: data for entry, data in made}
            level = {**level, "chunk": recipe.chunk, "chunks": [entry for entry, _ in made]}
        name, data = _named(f"level-{stem}.json", level, recipe)
        files[name] = data
        entries.append({"name": level["name"], "extent": level["extent"], "file": name})
    return entries, files


def joined(body: Mapping[str, Any], read: Callable[[str], Any]) -> dict[str, Any]:
    """A manifest with its levels whole, wherever they and their cells lie. `read` gives the JSON of
    a file of the bundle."""
    levels = [read(level["file"]) if "file" in level else level for level in body["levels"]]
    return {**body, "levels": [_whole(level, read) for level in levels]}


def _whole(level: dict[str, Any], read: Callable[[str], Any]) -> dict[str, Any]:
    if not level.get("chunks"):
        return level
    layers = [{**layer, "cells": list(layer["cells"])} for layer in level["layers"]]
    for entry in level["chunks"]:
        for layer, rows in zip(layers, read(entry["file"])["layers"], strict=True):
            layer["cells"] += rows
    return {**level, "layers": layers, "chunks": []}


def _chunks(level: Level, stem: str, recipe: Recipe) -> list[tuple[dict[str, Any], bytes]]:
    """What a level says of each of its chunks, and the chunk's file."""
    made = []
    for column, row, layers in chunks_of(level, recipe.chunk, recipe.rows):
        body = {"x": column, "y": row, "layers": layers}
        name, data = _named(f"level-{stem}-{column}-{row}.json", body, recipe)
        made.append(({"x": column, "y": row, "file": name}, data))
    return made


def _named(name: str, body: Any, recipe: Recipe) -> tuple[str, bytes]:
    data = to_json(body)
    return (lasting_name(name, data) if recipe.lasting else name), data
