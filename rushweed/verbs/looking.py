"""`inspect`, `outline` and `schema`: what is seen in pictures, and the form of what is written."""

from __future__ import annotations

import json
import sys
import time
from enum import StrEnum
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.bound.outline import trace
from rushweed.core.bound.simplify import Promise, filled, simplified
from rushweed.core.cut.inspect import Seen, inspect, list_of
from rushweed.core.cut.loose import loose_pieces
from rushweed.core.gather.colour_key import apply_key, guess_key
from rushweed.core.gather.lists_beside import texts_beside
from rushweed.core.gather.pictures import Picture, read_picture
from rushweed.core.gather.solid import solid
from rushweed.core.project.sheet import EvenCells, LoosePieces
from rushweed.core.schemas import all_schemas
from rushweed.core.values import Rect, Refusal
from rushweed.core.words import counted, say
from rushweed.verbs.shared import AsJson


class SchemaName(StrEnum):
    """What there are schemas of."""

    BUNDLE = "bundle"
    PROJECT = "project"
    SHEET = "sheet"
    LEVEL = "level"


Images = Annotated[list[Path], typer.Argument(help="Pictures.", show_default=False)]


def print_schema(
    name: Annotated[
        SchemaName, typer.Argument(help="Of the bundle's manifest, or a kind of project file.")
    ] = SchemaName.BUNDLE,
) -> None:
    """Print a JSON Schema of what is written: bundle, project, sheet, level."""
    print(json.dumps(all_schemas()[name], indent=2, ensure_ascii=False))


def inspect_images(images: Images, as_json: AsJson = False) -> None:
    """Say what is seen in pictures: kind, grids, loose pieces, colour key, true pixel size."""
    reports, status = [], 0
    for path in images:
        try:
            began = time.perf_counter()
            picture = read_picture(path)
            text = list_of(picture, texts_beside(path))
            seen = inspect(picture, path.stem, text=text)
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


def outline_image(
    image: Annotated[Path, typer.Argument(help="A picture.", show_default=False)],
    as_json: AsJson = False,
    closeness: Annotated[
        float, typer.Option(help="How far they may be from the pixels, in pixels.", min=0, max=1000)
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
            print(say("{piece}: {corners} corners", piece=piece["rect"], corners=corners))


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
        "sure": round(seen.sure, 3),
        "why": seen.readings[0].why if seen.readings else "",
        "grids": [
            {
                "cell": [side * seen.pixel for side in layout.cell],
                "margin": [side * seen.pixel for side in layout.margin],
                "gap": [side * seen.pixel for side in layout.gap],
                "columns": reading.columns,
                "rows": reading.rows,
                "score": round(reading.share, 4),
                "why": reading.why,
            }
            for reading in seen.grids
            if isinstance(layout := reading.layout, EvenCells)
        ],
        "pieces": [[side * seen.pixel for side in rect] for rect in seen.loose],
        "seconds": round(seconds, 4),
    }


def _print_report(report: dict[str, Any]) -> None:
    print(
        say(
            "{file}: {width} × {height} px, {kind}",
            file=report["file"],
            width=report["width"],
            height=report["height"],
            kind=report["kind"],
        )
    )
    if report["colour_key"]:
        print(say("  {colour} stands for nothing", colour=report["colour_key"]))
    if report["true_pixel"] > 1:
        print(say("  drawn at {pixel}× its pixels", pixel=report["true_pixel"]))
    for grid in report["grids"][:3]:
        cell, gap = grid["cell"], grid["gap"]
        print(
            say(
                "  cells of {width} × {height} px, gaps {across}, {down}: {why}",
                width=cell[0],
                height=cell[1],
                across=gap[0],
                down=gap[1],
                why=grid["why"],
            )
        )
    print(f"  {counted(len(report['pieces']), 'loose piece', 'loose pieces')}")


def _moved(ring: tuple[Any, ...], rect: Rect) -> list[list[int]]:
    return [[int(corner.x) + rect.x, int(corner.y) + rect.y] for corner in ring]
