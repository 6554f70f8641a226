"""The demo project, Lanternfen: where it is, and copies of it to try things on."""

from __future__ import annotations

import shutil
from pathlib import Path

from rushweed.core.project.head import HEAD
from rushweed.core.values import Refusal

NAME = "lanternfen"


def original() -> Path:
    """The demo as it ships: beside the package when installed, in the checkout otherwise."""
    package = Path(__file__).parent
    for folder in (package / NAME, package.parent / "demo" / NAME):
        if (folder / HEAD).exists():
            return folder
    raise Refusal("The demo is not part of this installation. Open a project of your own.")


def copy_to(folder: Path) -> None:
    """Copy the demo into a new or empty folder."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise Refusal("“{folder}” is not empty. Choose a new folder for the demo.", folder=folder)
    try:
        shutil.copytree(
            original(), folder, dirs_exist_ok=True, ignore=shutil.ignore_patterns(".rushweed")
        )
    except OSError as problem:
        raise Refusal(
            "The demo could not be copied to “{folder}” ({strerror}).",
            folder=folder,
            strerror=problem.strerror,
        ) from problem


def own_copy() -> Path:
    """The user's own copy of the demo, made the first time it is asked for."""
    from platformdirs import user_data_path

    folder = user_data_path("rushweed") / NAME
    if not (folder / HEAD).exists():
        shutil.rmtree(folder, ignore_errors=True)
        folder.parent.mkdir(parents=True, exist_ok=True)
        copy_to(folder)
    return folder
