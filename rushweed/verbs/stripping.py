"""`strip`: frames as one even picture, with their numbers beside it."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from rushweed.core.bale.strip_out import MOST_TIMES, files_of, strip_out
from rushweed.core.cut.animations import find_animation
from rushweed.core.folder import saving
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.values import Refusal
from rushweed.core.words import say
from rushweed.verbs.shared import ProjectFolder


def write_strip(
    project: ProjectFolder,
    sheet: Annotated[str, typer.Argument(help="The name of a sheet.", show_default=False)],
    out: Annotated[Path, typer.Option("--out", help="A PNG file.", show_default=False)],
    animation: Annotated[
        str, typer.Option("--animation", help="Only its frames.", show_default=False)
    ] = "",
    columns: Annotated[int, typer.Option("--columns", help="0 for one row.", min=0)] = 0,
    scale: Annotated[
        int, typer.Option("--scale", help="Each pixel so large.", min=1, max=MOST_TIMES)
    ] = 1,
    flip: Annotated[bool, typer.Option("--flip", help="Mirror each frame.")] = False,
) -> None:
    """Write frames of a sheet as one even PNG on one stand, with a JSON file of its numbers."""
    loaded = files.load(project).sheet(sheet)
    frames = list(loaded.pieces)
    if animation:
        found = find_animation(loaded, animation)
        if found is None:
            raise Refusal(
                "“{sheet}” has no animation “{name}”. It has: {names}.",
                sheet=sheet,
                name=animation,
                names=", ".join(one.name for one in loaded.animations) or say("none"),
            )
        pieces = {piece.number: piece for piece in loaded.pieces}
        frames = [pieces[frame] for frame in dict.fromkeys(found.frames) if frame in pieces]
    picture, told = strip_out(Art(project), loaded, frames, columns, scale, flip)
    for path, data in files_of(out, picture, told).items():
        try:
            saving.write_file(path, data)
        except OSError as problem:
            raise Refusal(
                "“{out}” cannot be written ({strerror}).", out=path, strerror=problem.strerror
            ) from problem
    print(say("{out}: {n} frames", out=out, n=len(frames)))
