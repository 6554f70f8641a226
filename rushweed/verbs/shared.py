"""What several verbs ask for alike."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Any

import typer

AsJson = Annotated[bool, typer.Option("--json", help="Print JSON alone.")]
ProjectFolder = Annotated[Path, typer.Argument(help="A project's folder.", show_default=False)]


def counted(count: int, one: str) -> str:
    """“1 finding” or “4 findings”."""
    return f"{count} {one if count == 1 else f'{one}s'}"


@contextmanager
def progress(words: str, items: list[Any]) -> Iterator[Iterator[Any]]:
    """A progress bar on standard error, only where somebody looks at it."""
    from rich.console import Console
    from rich.progress import Progress

    console = Console(stderr=True)
    with Progress(console=console, disable=not console.is_terminal, transient=True) as bar:
        yield iter(bar.track(items, description=words))
