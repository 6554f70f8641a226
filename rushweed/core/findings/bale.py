"""Findings of Bale."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.templates import read_templates
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.project.files import TEMPLATES
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.words import say


def over_budget(project: Project, art: Art) -> Iterator[Finding]:
    """Recipes whose bundle is more than they allow; those that cannot be built, too."""
    for recipe in project.recipes:
        if not (recipe.most_kib or recipe.most_pages or recipe.most_memory):
            continue
        try:
            own = read_templates(Path(art.folder) / TEMPLATES)
            told = make_bundle(project, art, recipe, own).over_budget(recipe)
        except Refusal as refusal:
            told = [str(refusal)]
        for sentence in told:
            yield Finding(
                "over-budget",
                "Bale",
                say("Recipe {name}: {sentence}", name=recipe.name, sentence=sentence),
                say("A build of it ends with status 1."),
                recipe.name,
            )
