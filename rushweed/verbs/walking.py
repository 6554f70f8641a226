"""`walk` and `probe`: trying a level without hands."""

from __future__ import annotations

import json
from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any

import typer

from rushweed.core.bale.handing_out import walk_page
from rushweed.core.cut.naming import shown_name
from rushweed.core.folder import saving
from rushweed.core.folder.inside import read_anywhere
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.walk.acting import acts_on
from rushweed.core.walk.motion import Motion
from rushweed.core.walk.probing import Probed, probe
from rushweed.core.walk.replay import read_walk, replay
from rushweed.core.walk.troubles import troubles
from rushweed.core.walk.underfoot import ground_at, touching, wade_at
from rushweed.core.walk.walker import Ground
from rushweed.core.words import say
from rushweed.verbs.shared import AsJson, LevelName, ProjectFolder

LARGEST_WALK = 16 << 20


def hand_out(
    project: ProjectFolder,
    level: LevelName,
    out: Annotated[Path, typer.Option("--out", help="An HTML file.", show_default=False)],
) -> None:
    """Write one HTML file in which anybody walks a level in a browser."""
    page = walk_page(files.load(project), level, Art(project))
    try:
        saving.write_file(out, page)
    except OSError as problem:
        raise Refusal(saving.explain(problem, out)) from problem
    print(say("{out}: {size} KiB", out=out, size=len(page) // 1024))


def walk_level(
    project: ProjectFolder,
    level: LevelName,
    keys: Annotated[
        Path,
        typer.Option("--keys", help="A recorded walk: lines of a count and the keys held."),
    ],
    as_json: AsJson = False,
) -> None:
    """Replay a recorded walk: where the walker is, how fast, and what it meets, step by step."""
    loaded = files.load(project)
    ground = Ground(loaded, level)
    try:
        text = read_anywhere(keys, LARGEST_WALK).decode()
    except (OSError, UnicodeDecodeError) as problem:
        raise Refusal("“{keys}” cannot be read as text. Check the path.", keys=keys) from problem
    path = replay(ground, read_walk(text))
    if as_json:
        steps = [_step(ground, motion) for motion in path]
        print(json.dumps({"level": level, "steps": steps}, ensure_ascii=False))
        return
    last = path[-1]
    print(
        say(
            "{level}: {number} steps, ends at {x:g}, {y:g} px",
            level=level,
            number=len(path) - 1,
            x=last.x,
            y=last.y,
        )
    )
    print(say("  stands on {what}", what=_name(loaded, last.on) if last.on else say("the air")))


def probe_level(project: ProjectFolder, level: LevelName, as_json: AsJson = False) -> None:
    """Send a walker through a level: snags, floats, sinks, narrow gaps, where it cannot get.
    Status 1 when there is any snag, float, sink or narrow gap."""
    loaded = files.load(project)
    found = probe(loaded, level, Art(project))
    if as_json:
        print(json.dumps({"level": level, **_probed(found)}, ensure_ascii=False))
    else:
        for line in lines_of(loaded, level, found):
            print(line)
    raise typer.Exit(1 if any(troubles(loaded, level, found)) else 0)


def lines_of(project: Project, level: str, found: Probed) -> list[str]:
    """What probes found, in sentences."""
    width, height = project.rules.tile
    lines = []
    for trouble in troubles(project, level, found):
        x, y = trouble.place
        cell = say("cell {column}, {row}", column=int(x // width), row=int((y - 1e-6) // height))
        lines.append(say("{words}, in {cell}.", words=trouble.words.rstrip("."), cell=cell))
    lines.append(
        say(
            "{reached} cells are reached, {others} are not.",
            reached=len(found.reached),
            others=len(found.unreached),
        )
    )
    return lines


def _step(ground: Ground, motion: Motion) -> dict[str, Any]:
    project, level = ground.project, ground.level
    return {
        "step": motion.steps,
        "x": motion.x,
        "y": motion.y,
        "speed_x": motion.speed_x,
        "speed_y": motion.speed_y,
        "facing": motion.facing,
        "on": motion.on,
        "blocked": motion.blocked,
        "head": motion.bumped,
        "touches": list(touching(ground, motion)),
        "acts_on": acts_on(ground, motion),
        "ground": ground_at(project, level, motion.x, motion.y + (1 if motion.on else 0)),
        "wade": wade_at(project, level, motion.x, motion.y),
        "bodies": [[body.x, body.y, body.angle] for body in motion.bodies],
    }


def _probed(found: Probed) -> dict[str, Any]:
    return {
        "snags": [{**asdict(snag), "cell": list(snag.cell)} for snag in found.snags],
        "floats": [_off(off) for off in found.off if off.pixels > 0],
        "sinks": [_off(off) for off in found.off if off.pixels < 0],
        "narrow": [{**asdict(gap), "cell": list(gap.cell)} for gap in found.narrow],
        "reached": [list(cell) for cell in sorted(found.reached)],
        "unreached": [list(cell) for cell in sorted(found.unreached)],
        "starts_inside": found.starts_inside,
    }


def _off(off: Any) -> dict[str, Any]:
    return {"piece": off.piece, "pixels": abs(off.pixels), "cell": list(off.cell)}


def _name(project: Project, number: int) -> str:
    found = project.find(number)
    return shown_name(*found) if found else say("piece {number}", number=number)
