"""Readers that others wrote, or that know the format pages alone, take what is written here."""

from __future__ import annotations

import io
import json
import os
import random
import shutil
import subprocess
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.gather.art import Art
from rushweed.core.gauge.compression.ktx2 import ktx2_file
from rushweed.core.gauge.compression.texture import TextureForm, make_texture
from rushweed.core.project import files
from rushweed.core.project.rules import Recipe
from tests.conftest import DEMO, ROOT
from tests.core.test_examples import CASES

pytestmark = pytest.mark.slow

SANITIZED = ("-fsanitize=address,undefined", "-fno-sanitize-recover=all")
STRICT = ("-std=c99", "-O1", "-g", "-Wall", "-Wextra", "-Wpedantic", "-Werror")
BROKEN: tuple[object, ...] = (None, -1, 0, 1e9, 2**40, "x", True, [], {}, 0.5, -3.7, 70_000)
PARSER = "ktx-parse@2.0.0"


@pytest.fixture(scope="module")
def draw(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The reader in C, compiled so that it stops at whatever is not defined."""
    program = tmp_path_factory.mktemp("c") / "draw"
    source = ROOT / "examples" / "c" / "draw.c"
    subprocess.run(["cc", *STRICT, *SANITIZED, str(source), "-o", str(program), "-lm"], check=True)
    return program


def drawn_in_c(draw: Path, folder: Path) -> subprocess.CompletedProcess[bytes]:
    asked = json.loads((folder / "asked.json").read_text())
    words = [asked["level"], *map(str, asked["area"]), str(asked["seconds"])]
    return subprocess.run([draw, folder, *words], capture_output=True, check=False, timeout=120)


@pytest.mark.parametrize("case", CASES, ids=lambda case: case.name)
def test_the_c_reader_draws_the_conformance_bundles(draw: Path, case: Path) -> None:
    done = drawn_in_c(draw, case)
    assert done.returncode == 0, done.stderr.decode()
    drawn = np.array(Image.open(io.BytesIO(done.stdout)))
    np.testing.assert_array_equal(drawn, np.array(Image.open(case / "expected.png").convert("RGB")))


@pytest.mark.parametrize("seed", range(40))
def test_the_c_reader_says_what_is_wrong_with_a_broken_bundle(
    draw: Path, seed: int, tmp_path: Path
) -> None:
    dice = random.Random(seed)
    folder = shutil.copytree(CASES[seed % len(CASES)], tmp_path / "bundle")
    for path in sorted(folder.glob("*")):
        if path.suffix == ".json" and path.name != "asked.json" and dice.random() < 0.6:
            path.write_text(json.dumps(broken(json.loads(path.read_text()), dice)))
        elif path.name.startswith("page") and dice.random() < 0.6:
            data = bytearray(path.read_bytes())
            for _ in range(4):
                data[dice.randrange(len(data))] = dice.randrange(256)
            path.write_bytes(data[: dice.randrange(1, len(data))] if dice.random() < 0.2 else data)
    done = drawn_in_c(draw, folder)
    assert done.returncode in (0, 1), done.stderr.decode()
    assert (done.returncode == 0) != bool(done.stderr), "it draws, or says in a line why not"
    assert done.stderr.count(b"\n") <= 1


def broken(value: object, dice: random.Random) -> object:
    """JSON with a few values of another kind, and a few that are gone."""
    if isinstance(value, dict):
        kept = {k: v for k, v in value.items() if dice.random() > 0.002}
        return {key: broken(one, dice) for key, one in kept.items()}
    if isinstance(value, list):
        return [broken(one, dice) for one in value if dice.random() > 0.002]
    return dice.choice(BROKEN) if dice.random() < 0.002 else value


@pytest.fixture(scope="module")
def parser(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A parser of KTX 2 that others wrote, fetched as a package."""
    if shutil.which("npm") is None:
        pytest.skip("wants Node.js")
    folder = tmp_path_factory.mktemp("ktx")
    install = ["npm", "install", "--silent", "--no-package-lock", "--prefix", str(folder), PARSER]
    subprocess.run(install, check=True, env={**os.environ, "HOME": str(folder)})
    (folder / "read.mjs").write_text(
        """import { read } from "ktx-parse";
        import { readFileSync } from "fs";
        const found = read(new Uint8Array(readFileSync(process.argv[2])));
        found.levels = found.levels.map((level) => level.uncompressedByteLength);
        console.log(JSON.stringify(found));"""
    )
    return folder


@pytest.mark.parametrize("form", ["RGBA8", "BC1", "BC3", "BC7"])
@pytest.mark.parametrize("multiplied", [False, True])
def test_a_strangers_parser_takes_our_ktx2(
    parser: Path, form: TextureForm, multiplied: bool, tmp_path: Path
) -> None:
    dice = np.random.default_rng(3)
    picture = dice.integers(0, 256, (20, 36, 4)).astype(np.uint8)
    texture = make_texture(picture, form, mipmaps=True, multiplied=multiplied)
    path = tmp_path / "page.ktx2"
    path.write_bytes(ktx2_file(texture))
    command = ["node", str(parser / "read.mjs"), str(path)]
    done = subprocess.run(command, capture_output=True, check=True, cwd=parser)
    found = json.loads(done.stdout)
    assert (found["pixelWidth"], found["pixelHeight"]) == (36, 20)
    assert found["levels"] == list(map(len, texture.levels))
    [described] = found["dataFormatDescriptor"]
    assert described["flags"] == int(multiplied) and described["transferFunction"] == 2
    assert found["supercompressionScheme"] == 2
    assert len(described["samples"]) == {"RGBA8": 4, "BC3": 2}.get(form, 1)


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
