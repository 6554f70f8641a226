"""`new`, `check`, `build` and `demo`: whole projects."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.bale.bundle import make_bundle, write_bundle
from rushweed.core.cut.gathering import by_best_guesses
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.sequences import expand
from rushweed.core.gauge.compression.treated import work_out
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.verbs.shared import AsJson, ProjectFolder, progress


def make_new(
    folder: Annotated[
        Path, typer.Argument(help="A new folder for the project.", show_default=False)
    ],
    images: Annotated[
        list[Path], typer.Argument(help="Pictures, or folders of them.", show_default=False)
    ],
) -> None:
    """Make a project of pictures, cut by best guesses."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise Refusal(f"“{folder}” is not empty. Choose a new folder for the project.")
    groups = expand(images)
    if not groups:
        raise Refusal("There is no picture among those. Name PNG files, or folders of them.")
    folder.mkdir(parents=True, exist_ok=True)
    project, art = Project(name=folder.resolve().name), Art(folder)
    with progress("Gathering", groups) as steps:
        for group in steps:
            project = by_best_guesses(project, art, [group])
    files.save(project, folder)
    print(f"{folder}: {len(project.sheets)} sheets, {sum(1 for _ in project.pieces())} pieces")


def check_project(project: ProjectFolder, as_json: AsJson = False) -> None:
    """List what will hurt in the game. Status 1 when there is anything."""
    loaded, art = files.load(project), Art(project)
    work_out(loaded, art)
    findings = find_all(loaded, art)
    if as_json:
        print(json.dumps([_finding(finding) for finding in findings], ensure_ascii=False))
    else:
        for finding in findings:
            print(f"{finding.station}: {finding.what} {finding.why}")
        print(f"{len(findings)} findings")
    raise typer.Exit(1 if findings else 0)


def build_bundle(
    project: ProjectFolder,
    out: Annotated[
        Path, typer.Option("--out", help="A folder for the bundle.", show_default=False)
    ],
) -> None:
    """Write the project's bundle."""
    loaded = files.load(project)
    if not loaded.recipes:
        raise Refusal("The project has no recipe. Add one to project.rushweed.")
    bundle = make_bundle(loaded, Art(project), loaded.recipes[0])
    write_bundle(bundle, out)
    print(f"{out}: {', '.join(bundle.files)}")


def copy_demo(
    folder: Annotated[Path, typer.Argument(help="A new folder for the demo.", show_default=False)],
) -> None:
    """Copy the demo project, Lanternfen, to a folder."""
    from rushweed.demo import copy_to

    copy_to(folder)
    print(folder)


def _finding(finding: Any) -> dict[str, Any]:
    names = ("code", "station", "what", "why", "place", "sheet", "level")
    entry = {name: getattr(finding, name) for name in names}
    return {**entry, "pieces": list(finding.pieces), "can_be_mended": finding.mend is not None}
