"""The header of levels that a template writes compiles, and tells what the bundle tells."""

from __future__ import annotations

import json
import subprocess
from dataclasses import replace
from pathlib import Path

import pytest

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.gather.art import Art
from rushweed.core.project import files
from rushweed.core.project.rules import Recipe
from tests.conftest import DEMO

pytestmark = pytest.mark.slow

PROGRAM = r"""
#include <stdio.h>
#include "levels.h"
int main(void) {
    printf("%d %d\n", ANIMATION_COUNT, LEVEL_COUNT);
    for (int i = 0; i < ANIMATION_COUNT; i++)
        printf("%s %d\n", animations[i].name, animations[i].frames[0]);
    for (int i = 0; i < LEVEL_COUNT; i++) {
        const level_t *level = &levels[i];
        printf("%s\n", level->name);
        for (int k = 0; k < level->layer_count; k++) {
            const layer_t *layer = &level->layers[k];
            long cells = 0, sum = 0;
            for (int n = 0; n < layer->run_count; n++) {
                const run_t *run = &layer->runs[n];
                cells += run->count;
                sum += (long)run->count
                    * (run->piece + 3 * run->orientation + 5 * run->x + 7 * run->y);
            }
            printf("%ld %ld %d\n", cells, sum, layer->prop_count);
        }
        double corners = 0;
        for (int k = 0; k < level->ring_count; k++)
            for (int n = 0; n < level->rings[k].count; n++)
                corners += level->rings[k].corners[n][0] + 1;
        printf("%d %.3f\n", level->ring_count, corners);
    }
    return 0;
}
"""


def expected(told: dict, runs: bool) -> str:
    lines = [f"{len(told['animations'])} {len(told['levels'])}"]
    lines += [f"{one['name']} {one['frames'][0]}" for one in told["animations"]]
    for level in told["levels"]:
        lines.append(level["name"])
        for layer in level["layers"]:
            cells = total = 0
            for row in layer["cells"]:
                x = row["x"]
                held = (
                    row["cells"] if runs else zip(row["numbers"], row["orientations"], strict=True)
                )
                for run in held:
                    number, count, turn = (*run, 0)[:3] if runs else (run[0], 1, run[1])
                    cells += count if number else 0
                    total += count * (number + 3 * turn + 5 * x + 7 * row["y"]) if number else 0
                    x += count
            lines.append(f"{cells} {total} {len(layer['props'])}")
        rings = [r for o in level["outlines"] for r in (o["outer"], *o["holes"])]
        corners = sum(place[0] + 1 for ring in rings for place in ring["corners"])
        lines.append(f"{len(rings)} {corners:.3f}")
    return "\n".join(lines) + "\n"


@pytest.mark.parametrize("rows", ["runs", "plain"])
@pytest.mark.parametrize("empty", [False, True])
def test_the_header_of_levels_is_what_the_bundle_is(rows: str, empty: bool, tmp_path: Path) -> None:
    project = files.load(DEMO)
    if empty:
        bare = tuple(replace(sheet, animations=()) for sheet in project.sheets)
        project = replace(project, levels=(), sheets=bare)
    recipe = Recipe("Game", rows=rows, templates=("levels.h",))  # type: ignore[arg-type]
    made = make_bundle(project, Art(DEMO), recipe).files
    (tmp_path / "levels.h").write_bytes(made["levels.h"])
    (tmp_path / "main.c").write_text(PROGRAM)
    strict = ["-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", "-fsanitize=address"]
    command = ["cc", *strict, "main.c", "-o", "main"]
    subprocess.run(command, cwd=tmp_path, check=True)
    done = subprocess.run([tmp_path / "main"], capture_output=True, text=True, check=True)
    assert done.stdout == expected(json.loads(made["bundle.json"]), rows == "runs")
