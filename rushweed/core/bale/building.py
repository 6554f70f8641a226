"""Building the recipes of a project on disk, with as many processes as one likes."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from rushweed.core.bale.atlas_entries import make_entries
from rushweed.core.bale.bundle import Bundle, assemble, make_bundle, page_files, told_of
from rushweed.core.bale.pages import atlas_of, draw_page, plan_pages
from rushweed.core.bale.reading_ahead import read_ahead
from rushweed.core.bale.stamp import fingerprint, is_fresh, read_stamp
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.bale.templates import read_templates
from rushweed.core.bale.writing import check_target, write_bundle
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import file_stems
from rushweed.core.gather.art import Art
from rushweed.core.processes import share_out
from rushweed.core.project.files import TEMPLATES, to_files
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Recipe
from rushweed.core.values import Refusal


@dataclass(frozen=True, slots=True)
class Built:
    """What became of a recipe: its folder, the files that were written, and whether it was fresh
    already; and what of it is more than the recipe allows."""

    recipe: str
    folder: Path
    written: tuple[str, ...] = ()
    fresh: bool = False
    over_budget: tuple[str, ...] = ()


def build_all(
    project: Project, folder: Path, out: Path, names: Sequence[str] = (), jobs: int = 1
) -> list[Built]:
    """What `build_each` does, once it is done."""
    return list(build_each(project, folder, out, names, jobs))


def build_each(
    project: Project,
    folder: Path,
    out: Path,
    names: Sequence[str] = (),
    jobs: int = 1,
    art: Art | None = None,
) -> Iterator[Built]:
    """Build the named recipes of a project, or all of them, one after the other. One goes into
    `out` itself, several into a folder each. The project may be held in memory, saved or not.

    Raises Refusal when all are done that could be; bundles that were there are whole.
    """
    art = art or Art(folder)
    targets = recipe_folders(project, out, names)
    for target in targets.values():
        check_target(target)
    held, refused = to_files(project), []
    for recipe, target in targets.items():
        try:
            key = fingerprint(folder, recipe.name, held)
            if is_fresh(target, key):
                over_budget = read_stamp(Inside(target)).over
                yield Built(recipe.name, target, fresh=True, over_budget=over_budget)
                continue
            own = read_templates(folder / TEMPLATES)
            if jobs > 1:
                bundle = _make_with_jobs(chosen_subset(project, recipe), art, recipe, own, jobs)
            else:
                bundle = make_bundle(project, art, recipe, own)
            over = bundle.over_budget(recipe)
            written = write_bundle(bundle, target, key, over)
            yield Built(recipe.name, target, tuple(written), over_budget=tuple(over))
        except Refusal as refusal:
            refused.append(f"{recipe.name}: {refusal}" if len(targets) > 1 else str(refusal))
    if refused:
        raise Refusal("\n".join(refused))


def recipe_folders(project: Project, out: Path, names: Sequence[str] = ()) -> dict[Recipe, Path]:
    """Where each recipe is built. Raises Refusal for a recipe that is not there."""
    if not project.recipes:
        raise Refusal("The project has no recipe. Add one in Bale, or to project.rushweed.")
    known = {recipe.name: recipe for recipe in project.recipes}
    for name in names:
        if name not in known:
            raise Refusal(
                "There is no recipe “{name}”. There are: {names}.",
                name=name,
                names=", ".join(known),
            )
    chosen = [known[name] for name in names] or list(project.recipes)
    if len(project.recipes) == 1 or len(names) == 1:
        return {chosen[0]: out}
    stems = file_stems([recipe.name for recipe in project.recipes])
    places = dict(zip(project.recipes, stems, strict=True))
    return {recipe: out / places[recipe] for recipe in chosen}


def _make_with_jobs(
    project: Project, art: Art, recipe: Recipe, own: dict[str, str], jobs: int
) -> Bundle:
    """Read pictures, then draw and compress pages, in so many processes."""
    if not any(sheet.pieces for sheet in project.sheets) or not recipe.densities:
        return make_bundle(project, art, recipe, own)
    read_ahead(art, [one for one in project.sheets if one.pieces or one.belongs], jobs)
    plans = plan_pages(make_entries(project, art, recipe), recipe)

    def page_of(number: int) -> dict[str, bytes]:
        return page_files(draw_page(plans[number], recipe), number, recipe)

    atlas, told = atlas_of(plans, recipe), dict[str, Any]()

    def tell() -> None:
        told.update(told_of(project, art, recipe, atlas))

    pictures = share_out(page_of, len(plans), jobs, tell)
    return assemble(project, recipe, atlas, told, pictures, own)
