"""The same verbs without a window. Exit status 0 fine, 1 findings or refused input, 2 wrong use."""

from __future__ import annotations

import json
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.bale.bundle import make_bundle, write_bundle
from rushweed.core.bound.outline import trace
from rushweed.core.bound.simplify import Promise, filled, simplified
from rushweed.core.cut.gathering import by_best_guesses
from rushweed.core.cut.inspect import Seen, inspect
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.findings.all import find_all
from rushweed.core.gather.art import Art
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.pictures import Picture, read_picture
from rushweed.core.gather.sequences import expand
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.compression.treated import work_out
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import LoosePieces
from rushweed.core.values import Rect, Refusal

app = typer.Typer(
    help="The bench between the art and the game. Without a verb, opens the window.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
)

Images = Annotated[list[Path], typer.Argument(help="Pictures.", show_default=False)]
AsJson = Annotated[bool, typer.Option("--json", help="Print JSON alone.")]
ProjectFolder = Annotated[Path, typer.Argument(help="A project's folder.", show_default=False)]


def run_verb(words: list[str]) -> int:
    """Run one verb. Returns the exit status."""
    try:
        app(words, prog_name="rushweed")
    except Refusal as refusal:
        print(refusal, file=sys.stderr)
        return 1
    except SystemExit as end:
        return end.code if isinstance(end.code, int) else 1
    return 0


@app.command("new")
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
    with _progress("Gathering", groups) as steps:
        for group in steps:
            project = by_best_guesses(project, art, [group])
    files.save(project, folder)
    print(f"{folder}: {len(project.sheets)} sheets, {sum(1 for _ in project.pieces())} pieces")


@app.command("inspect")
def inspect_images(images: Images, as_json: AsJson = False) -> None:
    """Say what is seen in pictures: kind, grids, loose pieces, colour key, true pixel size."""
    reports, status = [], 0
    for path in images:
        try:
            began = time.perf_counter()
            seen = inspect(read_picture(path), path.stem)
            reports.append(_report(path, seen, time.perf_counter() - began))
        except Refusal as refusal:
            print(refusal, file=sys.stderr)
            status = 1
    if as_json:
        print(json.dumps(reports, ensure_ascii=False))
    else:
        for report in reports:
            _print_report(report)
    raise typer.Exit(status)


@app.command("check")
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


@app.command("build")
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


class PromiseName(StrEnum):
    """On which side of the pixels an outline stays."""

    never_outside = "never-outside"
    never_inside = "never-inside"
    nearest = "nearest"


PROMISES: dict[PromiseName, Promise] = {
    PromiseName.never_outside: "never outside",
    PromiseName.never_inside: "never inside",
    PromiseName.nearest: "nearest",
}


class HolesName(StrEnum):
    """What becomes of holes."""

    keep = "keep"
    fill = "fill"


@app.command("outline")
def outline_image(
    image: Annotated[Path, typer.Argument(help="A picture.", show_default=False)],
    as_json: AsJson = False,
    closeness: Annotated[
        float, typer.Option(help="How far they may be from the pixels, in pixels.")
    ] = 0,
    promise: Annotated[
        PromiseName, typer.Option(help="On which side of the pixels they stay.")
    ] = PromiseName.nearest,
    holes: Annotated[HolesName, typer.Option(help="What becomes of holes.")] = HolesName.keep,
    whole: Annotated[bool, typer.Option("--whole", help="Take the picture as one piece.")] = False,
) -> None:
    """Trace the outlines of a picture's loose pieces along their pixels."""
    began = time.perf_counter()
    picture = read_picture(image)
    mask = solid(apply_key(picture, guess_key(picture)))
    pieces: list[dict[str, Any]] = []
    everything = Rect(0, 0, picture.shape[1], picture.shape[0])
    for rect in [everything] if whole else loose_pieces(mask, LoosePieces(least=1)):
        shapes = trace(mask[rect.y : rect.bottom, rect.x : rect.right])
        if holes is HolesName.fill:
            shapes = filled(shapes)
        shapes = simplified(shapes, closeness, PROMISES[promise])
        moved: list[dict[str, Any]] = [
            {"outer": _moved(shape.outer, rect), "holes": [_moved(h, rect) for h in shape.holes]}
            for shape in shapes
        ]
        pieces.append({"rect": list(rect), "shapes": moved})
    if as_json:
        report = {**_picture_facts(image, picture), "pieces": pieces}
        print(
            json.dumps(
                {**report, "seconds": round(time.perf_counter() - began, 4)}, ensure_ascii=False
            )
        )
    else:
        for piece in pieces:
            corners = sum(len(shape["outer"]) for shape in piece["shapes"])
            print(f"{piece['rect']}: {corners} corners")


@app.command("demo")
def copy_demo(
    folder: Annotated[Path, typer.Argument(help="A new folder for the demo.", show_default=False)],
) -> None:
    """Copy the demo project, Lanternfen, to a folder."""
    from rushweed.demo import copy_to

    copy_to(folder)
    print(folder)


def _picture_facts(path: Path, picture: Picture) -> dict[str, Any]:
    return {"file": str(path), "width": picture.shape[1], "height": picture.shape[0]}


def _report(path: Path, seen: Seen, seconds: float) -> dict[str, Any]:
    return {
        "file": str(path),
        "width": seen.size.width,
        "height": seen.size.height,
        "alpha": seen.alpha,
        "colour_key": seen.colour_key.colour.hex if seen.colour_key else None,
        "true_pixel": seen.pixel,
        "kind": seen.kind,
        "grids": [
            {
                "cell": [side * seen.pixel for side in guess.grid.cell],
                "margin": [side * seen.pixel for side in guess.grid.margin],
                "gap": [side * seen.pixel for side in guess.grid.gap],
                "columns": guess.columns,
                "rows": guess.rows,
                "score": guess.score,
                "why": guess.why,
            }
            for guess in seen.grids
        ],
        "pieces": [[side * seen.pixel for side in rect] for rect in seen.loose],
        "seconds": round(seconds, 4),
    }


def _print_report(report: dict[str, Any]) -> None:
    print(f"{report['file']}: {report['width']} × {report['height']} px, {report['kind']}")
    if report["colour_key"]:
        print(f"  {report['colour_key']} stands for nothing")
    if report["true_pixel"] > 1:
        print(f"  drawn at {report['true_pixel']}× its pixels")
    for grid in report["grids"][:3]:
        cell, gap = grid["cell"], grid["gap"]
        print(f"  cells of {cell[0]} × {cell[1]} px, gaps {gap[0]}, {gap[1]}: {grid['why']}")
    print(f"  {len(report['pieces'])} loose pieces")


def _finding(finding: Any) -> dict[str, Any]:
    names = ("code", "station", "what", "why", "place", "sheet", "level")
    entry = {name: getattr(finding, name) for name in names}
    return {**entry, "pieces": list(finding.pieces), "can_be_mended": finding.mend is not None}


def _moved(ring: tuple[Any, ...], rect: Rect) -> list[list[int]]:
    return [[int(corner.x) + rect.x, int(corner.y) + rect.y] for corner in ring]


@contextmanager
def _progress(words: str, items: list[Any]) -> Iterator[Iterator[Any]]:
    """A progress bar on standard error, only where somebody looks at it."""
    from rich.console import Console
    from rich.progress import Progress

    console = Console(stderr=True)
    with Progress(console=console, disable=not console.is_terminal, transient=True) as progress:
        yield iter(progress.track(items, description=words))
