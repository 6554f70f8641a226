"""Making a bundle: the same project gives the same bytes."""

from __future__ import annotations

import base64
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import partial
from typing import Any

from rushweed.core.bale.credits import credits_text
from rushweed.core.bale.describing import describe
from rushweed.core.bale.forms import ENDINGS, MEDIA, data_file, page_file, stored_form
from rushweed.core.bale.lasting import lasting_name
from rushweed.core.bale.levels_apart import are_apart, put_apart
from rushweed.core.bale.manifest import DensityEntry, PageEntry
from rushweed.core.bale.pages import Atlas, Page, make_atlas
from rushweed.core.bale.subset import chosen_subset, over_budget
from rushweed.core.bale.templates import render_all
from rushweed.core.bulk import in_bulk
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import MOST_EFFORT, Picture, content_hash
from rushweed.core.project.dumping import dumped
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.project.text import to_compact_json, to_json
from rushweed.core.values import Refusal

MANIFEST_FILE = "bundle.json"
CREDITS_FILE = "credits.txt"


@dataclass(frozen=True, slots=True, eq=False)
class Bundle:
    """A bundle that is ready to be written: its files, the pages they were made from, and the
    manifest as it stands in its file."""

    files: dict[str, bytes]
    atlas: Atlas
    manifest: dict[str, Any]

    def over_budget(self, recipe: Recipe) -> list[str]:
        """What of it is more than its recipe allows, in a sentence each."""
        return list(over_budget(recipe, self.files, self.atlas))

    @property
    def page(self) -> Page:
        """The first page."""
        return self.atlas.pages[0]


def make_bundle(
    project: Project,
    art: Art,
    recipe: Recipe,
    templates: Mapping[str, str] | None = None,
    effort: int = MOST_EFFORT,
) -> Bundle:
    """Make the files of a bundle. `templates` are the project's own, by name; `effort` is how hard
    PNG files are made small.

    Raises Refusal when there is nothing to pack, for a form that the pages cannot have, and for a
    template that fails.
    """
    project = chosen_subset(project, recipe)
    if not any(sheet.pieces for sheet in project.sheets):
        raise Refusal("There is no piece to pack yet. Cut a sheet first.")
    if not recipe.densities:
        raise Refusal("The recipe “{name}” has no density. Give it at least 1.", name=recipe.name)
    atlas = make_atlas(project, art, recipe)
    pictures = []
    for number, page in enumerate(atlas.pages):
        pictures.append(kept_page_files(art, page, number, recipe, effort))
        page.forget_pictures()
    body = told_of(project, art, recipe, atlas)
    return assemble(project, recipe, atlas, body, pictures, templates or {})


@in_bulk()
def told_of(project: Project, art: Art, recipe: Recipe, atlas: Atlas) -> dict[str, Any]:
    """The manifest as plain JSON, its format first, but for its pages and files: as far as it can
    be told before there is any picture."""
    body = dumped(describe(project, art.memory, recipe, atlas.placed))
    return {"format": body.pop("format"), **body}


@in_bulk()
def assemble(
    project: Project,
    recipe: Recipe,
    atlas: Atlas,
    body: dict[str, Any],
    pictures: list[dict[str, bytes]],
    templates: Mapping[str, str],
) -> Bundle:
    """Put manifest, pictures, credits and templates together; `body` is what `told_of` told."""
    body["pages"] = [
        dumped(_page_entry(page, number, recipe, pictures[number]))
        for number, page in enumerate(atlas.pages)
    ]
    files: dict[str, bytes] = {}
    if not recipe.single_file:
        files = {_file(name, part, recipe): part[name] for part in pictures for name in part}
    files[CREDITS_FILE] = credits_text(project).encode()
    files.update(render_all(recipe.templates, body, templates))
    if are_apart(recipe):
        body["levels"], apart = put_apart(project, body, recipe)
        files |= apart
    body["files"] = {name: content_hash(data) for name, data in files.items()}
    written = to_compact_json(body) if recipe.single_file else to_json(body)
    return Bundle({MANIFEST_FILE: written, **files}, atlas, body)


def kept_page_files(
    art: Art, page: Page, number: int, recipe: Recipe, effort: int = MOST_EFFORT
) -> dict[str, bytes]:
    """The picture files of a page; each made anew only when its pixels, its treatment or its form
    are other ones."""

    def kept(picture: Picture, lights: bool) -> bytes:
        pixels = picture.shape, hash(picture.tobytes())
        key = ("page", pixels, lights, page.treatment, recipe.picture, effort)
        made = art.memory.get(key, lambda: _File(_made(picture, lights, page, recipe, effort)))
        return made.data

    return _page_files(page, number, recipe, kept)


@dataclass(frozen=True, slots=True)
class _File:
    """A file, and how many bytes it takes where it is kept."""

    data: bytes

    @property
    def nbytes(self) -> int:
        return len(self.data)


def page_files(
    page: Page, number: int, recipe: Recipe, effort: int = MOST_EFFORT
) -> dict[str, bytes]:
    """The picture files of a page, by name: each density, and its normal map."""
    return _page_files(
        page, number, recipe, partial(_made, page=page, recipe=recipe, effort=effort)
    )


def _page_files(
    page: Page, number: int, recipe: Recipe, make: Callable[[Picture, bool], bytes]
) -> dict[str, bytes]:
    files = {}
    for density, picture in page.pictures.items():
        name, normals = page_names(number, density, recipe)
        files[name] = make(picture, False)
        if page.normals is not None:
            files[normals] = make(page.normals[density], True)
    return files


def _made(picture: Picture, lights: bool, page: Page, recipe: Recipe, effort: int) -> bytes:
    """The file of a page's picture, or of its normal map."""
    if lights:
        return data_file(picture, page.treatment.mipmaps, recipe.picture, effort)
    return page_file(picture, page.treatment, recipe.picture, effort)


def page_names(number: int, density: int, recipe: Recipe) -> tuple[str, str]:
    """The names of a page's picture and of its normal map."""
    dense = f"@{density}x" if density != recipe.densities[0] or density != 1 else ""
    ending = ENDINGS[recipe.picture]
    stem = f"page-{number + 1}"
    return f"{stem}{dense}.{ending}", f"{stem}-normals{dense}.{ending}"


def _file(name: str, pictures: Mapping[str, bytes], recipe: Recipe) -> str:
    """What a picture's file is called in the bundle."""
    return lasting_name(name, pictures[name]) if recipe.lasting else name


def _page_entry(page: Page, number: int, recipe: Recipe, files: Mapping[str, bytes]) -> PageEntry:
    entries = []
    address = _data_url if recipe.single_file else _file
    for density in page.densities:
        name, normals = page_names(number, density, recipe)
        normals = normals if page.is_lit else ""
        told = [address(one, files, recipe) if one else "" for one in (name, normals)]
        entries.append(DensityEntry(density, *told))
    first = entries[0]
    return PageEntry(
        file=first.file,
        size=page.plan.size,
        normals=first.normals,
        form=recipe.picture,
        stored=stored_form(page.treatment, recipe.picture),
        multiplied=page.treatment.multiplied,
        mipmaps=page.treatment.mipmaps and recipe.picture in ("KTX 2", "DDS"),
        densities=tuple(entries),
    )


def _data_url(name: str, pictures: Mapping[str, bytes], recipe: Recipe) -> str:
    return f"data:{MEDIA[recipe.picture]};base64,{base64.b64encode(pictures[name]).decode()}"
