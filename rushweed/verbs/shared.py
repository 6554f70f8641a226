"""What several verbs ask for alike."""

from __future__ import annotations

import os
import shlex
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.project import files
from rushweed.core.project.head import HEAD
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON alone.")]
ProjectFolder = Annotated[Path, typer.Argument(help="A project's folder.", show_default=False)]


def level_names(context: typer.Context) -> list[str]:
    """The levels of the project that stands on the command line before, for whoever goes on."""
    project = _named(context)
    return [level.name for level in project.levels] if project else []


def recipe_names(context: typer.Context) -> list[str]:
    """The recipes of the project that stands on the command line before."""
    project = _named(context)
    return [recipe.name for recipe in project.recipes] if project else []


def _named(context: typer.Context) -> Project | None:
    folder = context.params.get("project") or _typed_folder()
    try:
        return files.load(Path(folder)) if folder else None
    except (OSError, Refusal):
        return None


def _typed_folder() -> str:
    """The project among the words typed so far, where an option still wants its value."""
    try:
        words = shlex.split(os.environ.get("COMP_WORDS", ""))
    except ValueError:
        return ""
    return next((word for word in words if (Path(word).expanduser() / HEAD).is_file()), "")


LevelName = Annotated[
    str,
    typer.Argument(help="The name of a level.", show_default=False, autocompletion=level_names),
]
RecipeNames = Annotated[
    list[str] | None,
    typer.Option(
        "--recipe", help="Only this recipe; may be repeated.", autocompletion=recipe_names
    ),
]


@contextmanager
def progress(words: str, items: list[Any]) -> Iterator[Iterator[Any]]:
    """A progress bar on standard error, only where somebody looks at it."""
    from rich.console import Console
    from rich.progress import Progress

    console = Console(stderr=True)
    with Progress(console=console, disable=not console.is_terminal, transient=True) as bar:
        yield iter(bar.track(items, description=words))
