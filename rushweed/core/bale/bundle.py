"""Writing a bundle: the same project gives the same bytes, whole or not at all."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rushweed.core.bale.credits import credits_text
from rushweed.core.bale.describing import NORMALS_FILE, PAGE_FILE, describe
from rushweed.core.bale.manifest import Manifest
from rushweed.core.bale.pages import Page, make_page
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import encode_png
from rushweed.core.project import saving
from rushweed.core.project.files import HEAD
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.text import to_json
from rushweed.core.values import Refusal

MANIFEST_FILE = "bundle.json"
CREDITS_FILE = "credits.txt"


@dataclass(frozen=True, slots=True, eq=False)
class Bundle:
    """A bundle that is ready to be written: its files, and the page they were made from."""

    files: dict[str, bytes]
    page: Page


def make_bundle(project: Project, art: Art, recipe: Recipe) -> Bundle:
    """Make the files of a bundle. Raises Refusal when there is nothing to pack."""
    if not any(sheet.pieces for sheet in project.sheets):
        raise Refusal("There is no piece to pack yet. Cut a sheet first.")
    page = make_page(project, art)
    manifest = describe(project, recipe, page)
    files = {
        MANIFEST_FILE: to_json(_as_json(manifest)),
        PAGE_FILE: encode_png(page.picture),
        CREDITS_FILE: credits_text(project).encode(),
    }
    if page.normals is not None:
        files[NORMALS_FILE] = encode_png(page.normals)
    return Bundle(files, page)


def write_bundle(bundle: Bundle, target: Path) -> None:
    """Write a bundle's files into a folder. Raises Refusal when that cannot be."""
    if (target / HEAD).exists():
        raise Refusal(f"“{target}” is a project's own folder. Choose another one for the bundle.")
    if target.exists() and not target.is_dir():
        raise Refusal(f"“{target}” is a file. Choose a folder for the bundle.")
    saving.write_all(target, bundle.files)


def _as_json(manifest: Manifest) -> Any:
    from pydantic import TypeAdapter

    body = TypeAdapter(Manifest).dump_python(manifest, mode="json")
    return {"format": body.pop("format"), **body}
