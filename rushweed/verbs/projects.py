"""`new`, `check`, `build`, `serve`, `diff` and `demo`: whole projects."""

from __future__ import annotations

import json
import sys
import time
from dataclasses import asdict
from functools import cache
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.bale.building import build_each, recipe_folders
from rushweed.core.bale.comparing import compare, read_manifest
from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.bale.serving import BundleServer
from rushweed.core.bale.stamp import fingerprint
from rushweed.core.bale.templates import read_templates
from rushweed.core.cut.gathering import accept_all, gather_and_see
from rushweed.core.findings.all import find_all
from rushweed.core.findings.walk import send_probes
from rushweed.core.folder import saving
from rushweed.core.gather.art import Art
from rushweed.core.gather.pictures import encode_png
from rushweed.core.gather.sequences import expand
from rushweed.core.gauge.compression.treated import work_out
from rushweed.core.project import files
from rushweed.core.project.level import bounds
from rushweed.core.project.project import Project
from rushweed.core.values import Rect, Refusal
from rushweed.core.weave.drawing import Moment, Scene
from rushweed.core.words import counted, say
from rushweed.verbs.ruling import (
    Background,
    PixelsPerUnit,
    Resolution,
    Tile,
    View,
    YGrows,
    with_rules,
)
from rushweed.verbs.sarif import sarif
from rushweed.verbs.shared import (
    AsJson,
    LevelName,
    ProjectFolder,
    RecipeNames,
    progress,
    recipe_names,
)

LARGEST_PICTURE, FARTHEST = 1 << 28, 1 << 30


def make_new(
    folder: Annotated[
        Path, typer.Argument(help="A new folder for the project.", show_default=False)
    ],
    images: Annotated[
        list[Path], typer.Argument(help="Pictures, or folders of them.", show_default=False)
    ],
    pixels_per_unit: PixelsPerUnit = None,
    tile: Tile = None,
    view: View = None,
    y: YGrows = None,
    resolution: Resolution = None,
    background: Background = None,
) -> None:
    """Make a project of pictures, cut by best guesses. Its tileset says how large tiles are, unless
    you do."""
    if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
        raise Refusal(
            "“{folder}” is not empty. Choose a new folder for the project.", folder=folder
        )
    groups = expand(images)
    if not groups:
        raise Refusal("There is no picture among those. Name PNG files, or folders of them.")
    project = Project(name=folder.resolve().name)
    project = with_rules(project, pixels_per_unit, tile, view, y, resolution, background)
    folder.mkdir(parents=True, exist_ok=True)
    art = Art(folder)
    refused = []
    with progress("Gathering", groups) as steps:
        for group in steps:
            try:
                project = gather_and_see(project, art, group)
            except Refusal as refusal:
                refused.append(str(refusal))
    for sentence in refused:
        print(sentence, file=sys.stderr)
    if not project.sheets:
        raise Refusal("None of those could be gathered, so there is no project.")
    *_, project = accept_all(project, art, [sheet.name for sheet in project.sheets])
    files.save(project, folder)
    pieces = counted(sum(1 for _ in project.pieces()), "piece", "pieces")
    print(f"{folder}: {counted(len(project.sheets), 'sheet', 'sheets')}, {pieces}")


def check_project(
    project: ProjectFolder,
    as_json: AsJson = False,
    as_sarif: Annotated[
        bool, typer.Option("--sarif", help="Print SARIF 2.1.0, for code hosts.")
    ] = False,
    probes: Annotated[
        bool, typer.Option("--probes/--no-probes", help="Send a walker through every level.")
    ] = True,
) -> None:
    """List what will hurt in the game. Status 1 when there is anything."""
    loaded, art = files.load(project), Art(project)
    work_out(loaded, art)
    for name in send_probes(loaded, art) if probes else ():
        told = say(
            "“{name}” is large and was not walked through; “rushweed probe” does that.", name=name
        )
        print(told, file=sys.stderr)
    findings = find_all(loaded, art, slow=True)
    if as_sarif:
        print(json.dumps(sarif(loaded, findings, project), ensure_ascii=False))
    elif as_json:
        print(json.dumps([_finding(finding) for finding in findings], ensure_ascii=False))
    else:
        for finding in findings:
            print(f"{finding.station}: {finding.what} {finding.why}")
        print(counted(len(findings), "finding", "findings"))
    raise typer.Exit(1 if findings else 0)


def build_bundle(
    project: ProjectFolder,
    out: Annotated[
        Path, typer.Option("--out", help="A folder for the bundle.", show_default=False)
    ],
    recipe: RecipeNames = None,
    jobs: Annotated[int, typer.Option("--jobs", help="Processes to work with.", min=1)] = 1,
) -> None:
    """Build the project's recipes: one into the folder itself, several into a folder each. Status 1
    when one is more than its budget allows."""
    over = False
    for built in build_each(files.load(project), project, out, recipe or (), jobs):
        if built.fresh:
            print(say("{folder}: up to date", folder=built.folder))
        else:
            print(f"{built.folder}: {', '.join(built.written) or 'nothing changed'}")
        for sentence in built.over_budget:
            over = True
            print(f"{built.recipe}: {sentence}", file=sys.stderr)
    if over:
        raise typer.Exit(1)


def render_level(
    project: ProjectFolder,
    level: LevelName,
    out: Annotated[Path, typer.Option("--out", help="A PNG file.", show_default=False)],
    area: Annotated[
        tuple[int, int, int, int] | None,
        typer.Option("--area", help="x, y, width and height in pixels; all of it without."),
    ] = None,
    seconds: Annotated[
        float,
        typer.Option("--seconds", help="How long it has run.", min=0, max=1e6),
    ] = 0.0,
) -> None:
    """Draw a level to a PNG, as the game should."""
    loaded = files.load(project)
    shown = loaded.level(level)
    width, height = loaded.rules.tile
    cells = bounds(shown)
    whole = Rect(cells.x * width, cells.y * height, cells.width * width, cells.height * height)
    wanted = Rect(*area) if area else whole
    if wanted.width < 1 or wanted.height < 1:
        raise Refusal(
            "There is nothing to draw of “{level}”. Paint it, or give an area.", level=level
        )
    if max(map(abs, wanted)) > FARTHEST:
        raise Refusal("No level reaches so far. Give an area nearer to its origin.")
    if wanted.area > LARGEST_PICTURE:
        raise Refusal(
            "{size} px are too many for one picture. Give a smaller area.", size=wanted.size
        )
    picture = Scene(loaded, Art(project)).level(shown, wanted, Moment(seconds))
    try:
        saving.write_file(out, encode_png(picture))
    except OSError as problem:
        raise Refusal(
            "“{out}” cannot be written ({strerror}).", out=out, strerror=problem.strerror
        ) from problem
    print(say("{out}: {size} px", out=out, size=wanted.size))


def watch_project(
    project: ProjectFolder,
    out: Annotated[
        Path, typer.Option("--out", help="A folder for the bundle.", show_default=False)
    ],
    recipe: RecipeNames = None,
    every: Annotated[
        float,
        typer.Option("--every", help="Seconds between two looks.", min=0.05, max=3600),
    ] = 0.5,
    builds: Annotated[
        int, typer.Option("--builds", help="End after so many builds; 0 goes on.", min=0)
    ] = 0,
) -> None:
    """Build whenever a file of the project changes, until it is stopped."""
    seen, count = "", 0
    try:
        while not builds or count < builds:
            now = fingerprint(project, "")
            if now != seen:
                seen, count = now, count + 1
                try:
                    build_bundle(project, out, recipe)
                except Refusal as refusal:
                    print(refusal, file=sys.stderr)
            sys.stdout.flush()
            if not builds or count < builds:
                time.sleep(every)
    except KeyboardInterrupt:
        return


def serve_project(
    project: ProjectFolder,
    recipe: Annotated[
        str,
        typer.Option(
            "--recipe", help="The recipe; the first one without.", autocompletion=recipe_names
        ),
    ] = "",
    page: Annotated[
        Path | None, typer.Option("--page", help="A folder of the game's own to serve as well.")
    ] = None,
    port: Annotated[int, typer.Option("--port", help="0 takes a free one.", min=0, max=65535)] = 0,
    every: Annotated[
        float, typer.Option("--every", help="Seconds between two looks.", min=0.02, max=3600)
    ] = 0.1,
    editions: Annotated[
        int, typer.Option("--editions", help="End after so many editions; 0 goes on.", min=0)
    ] = 0,
) -> None:
    """Serve the bundle on this machine, anew whenever the project is saved, and tell what changed.
    It lies under /bundle/, its news under /events."""
    fresh, seen = FreshBundle(), ""
    server = BundleServer(fresh, port, page)
    print(server.address, flush=True)
    try:
        while not editions or fresh.edition.number < editions:
            now = fingerprint(project, "")
            if now != seen:
                seen = now
                _serve_edition(project, recipe, fresh)
            time.sleep(every)
    except KeyboardInterrupt:
        return
    finally:
        server.close()


def _serve_edition(project: Path, name: str, fresh: FreshBundle) -> None:
    """Publish the project as it is saved now; what is refused is told, and the last one stays."""
    number = fresh.edition.number
    try:
        loaded = files.load(project)
        [chosen, *_] = recipe_folders(loaded, project, [name] if name else ())
        art = _served_art(project)
        edition = fresh.follow(loaded, art, chosen, read_templates(project / files.TEMPLATES))
    except Refusal as refusal:
        print(refusal, file=sys.stderr, flush=True)
        return
    if edition.number != number:
        told = [one.words for one in edition.differences] or ["The bundle is there."]
        print("\n".join(told), flush=True)


@cache
def _served_art(project: Path) -> Art:
    """The art of a project that is served, kept from edition to edition."""
    return Art(project)


def compare_bundles(
    before: Annotated[Path, typer.Argument(help="A bundle's folder.", show_default=False)],
    after: Annotated[Path, typer.Argument(help="Another one's.", show_default=False)],
    as_json: AsJson = False,
) -> None:
    """Tell what a game would notice between two bundles. Status 1 when there is anything."""
    found = list(compare(read_manifest(before), read_manifest(after)))
    if as_json:
        print(json.dumps([asdict(one) for one in found], ensure_ascii=False))
    else:
        for one in found:
            print(one.words)
        print(counted(len(found), "difference", "differences"))
    raise typer.Exit(1 if found else 0)


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
