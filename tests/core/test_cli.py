"""The verbs without a window, as a build script calls them."""

from __future__ import annotations

import json
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from sarif_pydantic import Sarif

from rushweed import __main__ as starter
from rushweed import __version__, cli
from rushweed.__main__ import open_window
from rushweed.cli import run_verb
from rushweed.core.gather.pictures import read_picture
from rushweed.core.project import files
from rushweed.core.project.project import with_sheet
from rushweed.ui import system_libraries
from rushweed.verbs.quick import fresh_build
from tests.conftest import DEMO, RAW, ROOT
from tests.samples import write_picture
from tools.write_man import TARGET, manual


def run(capsys: pytest.CaptureFixture[str], *words: object) -> tuple[int, str, str]:
    status = run_verb([str(word) for word in words])
    told = capsys.readouterr()
    return status, told.out, told.err


@pytest.mark.slow
def test_inspect_prints_json_alone_in_its_stable_form(capsys: pytest.CaptureFixture[str]) -> None:
    pictures = sorted(RAW.glob("*.png"))
    status, out, err = run(capsys, "inspect", *pictures, "--json")
    reports = json.loads(out)
    assert (status, err, len(reports)) == (0, "", len(pictures))
    keys = {"file", "width", "height", "alpha", "colour_key", "true_pixel", "kind", "grids"}
    assert all(report.keys() == keys | {"pieces", "seconds", "sure", "why"} for report in reports)
    assert all(0 < report["sure"] <= 1 and report["why"] for report in reports)
    by_name = {Path(report["file"]).stem: report for report in reports}
    grid = by_name["fen_ground"]["grids"][0]
    assert (grid["cell"], grid["margin"], grid["gap"]) == ([16, 16], [2, 2], [1, 1])
    assert grid.keys() == {"cell", "margin", "gap", "columns", "rows", "score", "why"}
    assert by_name["crab"]["true_pixel"] == 4 and by_name["crab"]["grids"][0]["cell"] == [64, 48]
    assert by_name["eel"]["colour_key"] == "#FF00FF" and len(by_name["eel"]["pieces"]) == 4
    status, out, _ = run(capsys, "inspect", RAW / "keeper.png")
    assert status == 0 and "19 × 24" in out


def test_inspect_goes_on_after_a_picture_it_cannot_read(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    (tmp_path / "bad.png").write_bytes(b"not a picture")
    status, out, err = run(capsys, "inspect", tmp_path / "bad.png", RAW / "crab.png", "--json")
    assert status == 1 and len(json.loads(out)) == 1
    assert err.count("\n") == 1 and "“bad.png”" in err


def test_outline_prints_rings_that_hold_the_pixels(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    picture = np.zeros((8, 9, 4), np.uint8)
    picture[1:6, 2:7] = 255
    picture[3, 4] = 0
    path = write_picture(tmp_path / "ring.png", picture)
    status, out, _ = run(capsys, "outline", path, "--json")
    report = json.loads(out)
    assert status == 0 and report.keys() == {"file", "width", "height", "pieces", "seconds"}
    assert (report["width"], report["height"]) == (9, 8)
    [piece] = report["pieces"]
    assert piece["rect"] == [2, 1, 5, 5]
    [shape] = piece["shapes"]
    assert sorted(shape["outer"]) == [[2, 1], [2, 6], [7, 1], [7, 6]]
    assert [sorted(hole) for hole in shape["holes"]] == [[[4, 3], [4, 4], [5, 3], [5, 4]]]
    assert run(capsys, "outline", path)[1].startswith("[2, 1, 5, 5]")


@pytest.mark.slow
def test_new_check_build_and_demo(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    project = tmp_path / "fen"
    status, out, _ = run(capsys, "new", project, RAW / "keeper.png", RAW / "wheel")
    assert status == 0 and "2 sheets, 33 pieces" in out
    assert [s.name for s in files.load(project).sheets] == ["keeper", "wheel"]
    status, out, _ = run(capsys, "check", project, "--json")
    codes = [finding["code"] for finding in json.loads(out)]
    assert status == 1 and codes == ["no-licence", "no-licence"]
    assert run(capsys, "check", DEMO)[0] == 0
    assert run(capsys, "build", project, "--out", tmp_path / "bundle")[0] == 0
    assert {
        p["name"] for p in json.loads((tmp_path / "bundle/bundle.json").read_text())["pieces"]
    } >= {"keeper_1"}
    assert run(capsys, "demo", tmp_path / "demo")[0] == 0
    assert files.load(tmp_path / "demo") == files.load(DEMO)


@pytest.mark.parametrize(
    ("words", "status", "sentence"),
    [
        (("check", "nowhere"), 1, "no folder"),
        (("new", ".", "x.png"), 1, "not empty"),
        (("new", "made"), 2, "Missing argument"),
        (("build", str(DEMO), "--out", str(DEMO)), 1, "project's own folder"),
        (("demo", str(DEMO)), 1, "not empty"),
        (("outline",), 2, "Missing argument"),
        (("inspect", "--wrong"), 2, "No such option"),
    ],
)
def test_refusals_are_one_sentence_and_a_status(
    capsys, tmp_path, monkeypatch, words, status, sentence
) -> None:
    (tmp_path / "here").write_text("")
    monkeypatch.chdir(tmp_path)
    found, out, err = run(capsys, *words)
    assert (found, out) == (status, "") and sentence in err


def test_a_missing_library_of_the_system_is_a_sentence_with_what_to_type(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setitem(system_libraries.WINDOWS, "libnowhere.so.9", "libnowhere9")
    assert open_window(None) == 1
    told = capsys.readouterr().err
    assert "libnowhere.so.9" in told and "sudo apt-get install libnowhere9" in told
    monkeypatch.setenv("QT_QPA_PLATFORM", "xcb")
    monkeypatch.setitem(system_libraries.X_WINDOWS, "libnothere.so.9", "libnothere9")
    assert set(system_libraries.missing()) == {"libnowhere.so.9", "libnothere.so.9"}


def test_without_a_display_it_says_what_to_do() -> None:
    environment = {"PATH": "", "HOME": "/nowhere"}
    command = [sys.executable, "-m", "rushweed", str(DEMO)]
    done = subprocess.run(command, env=environment, cwd=ROOT, capture_output=True, text=True)
    assert done.returncode == 1 and "no display" in done.stderr and "--help" in done.stderr
    done = subprocess.run(
        [*command, "two"], env=environment, cwd=ROOT, capture_output=True, text=True
    )
    assert done.returncode == 2 and not done.stdout


def test_the_core_needs_no_interface() -> None:
    """Every module of the core is imported with the toolkit out of reach."""
    modules = [
        ".".join(path.relative_to(ROOT).with_suffix("").parts)
        for path in sorted((ROOT / "rushweed" / "core").rglob("*.py"))
    ]
    code = "import sys; sys.modules['PyQt6'] = None\n" + "\n".join(f"import {m}" for m in modules)
    subprocess.run([sys.executable, "-c", code], check=True, cwd=ROOT)


@pytest.mark.slow
def test_levels_are_walked_probed_and_drawn_without_a_window(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    level = "Long boardwalk"
    recorded = DEMO.parent / "walks" / "to-the-beacon.txt"
    status, out, err = run(capsys, "walk", DEMO, level, "--keys", recorded, "--json")
    told = json.loads(out)
    assert (status, err, told["level"]) == (0, "", level) and len(told["steps"]) == 962
    last = told["steps"][-1]
    assert last.keys() >= {"x", "y", "speed_x", "speed_y", "on", "blocked", "head", "touches"}
    assert last["on"] and last["ground"] == 4
    again = run(capsys, "walk", DEMO, level, "--keys", recorded, "--json")[1]
    assert again == out, "bit for bit"
    (tmp_path / "bad.txt").write_text("3 sideways")
    status, out, err = run(capsys, "walk", DEMO, level, "--keys", tmp_path / "bad.txt")
    assert (status, out) == (1, "") and "Line 1" in err
    status, out, _ = run(capsys, "probe", DEMO, "Sluice house", "--json")
    found = json.loads(out)
    assert status == 1 and found["narrow"] and not found["snags"] and found["reached"]
    assert run(capsys, "probe", DEMO, "No such level")[0] == 1
    picture = tmp_path / "level.png"
    assert run(capsys, "render", DEMO, level, "--out", picture)[0] == 0
    strip = tmp_path / "strip.png"
    wanted = ("strip", DEMO, "keeper", "--out", strip)
    assert run(capsys, *wanted, "--animation", "walk", "--columns", 2, "--flip")[0] == 0
    assert json.loads(strip.with_suffix(".json").read_text())["columns"] == 2
    assert "It has: " in run(capsys, *wanted, "--animation", "flying")[2]
    strip.with_suffix(".json").write_text('{"mine": 1}')
    assert "Choose another name" in run(capsys, *wanted)[2]
    assert json.loads(strip.with_suffix(".json").read_text()) == {"mine": 1}
    assert read_picture(picture).shape == (288, 1056, 4)
    status, _, err = run(capsys, "render", DEMO, level, "--out", picture, "--area", 0, 0, 0, 5)
    assert status == 1 and "nothing to draw" in err


@pytest.mark.slow
def test_check_speaks_sarif_and_watch_builds_what_changed(
    capsys: pytest.CaptureFixture[str], demo: Path, tmp_path: Path
) -> None:
    project = files.load(demo)
    body = replace(project.sheets[0].licence, identifier="")
    files.save(with_sheet(project, "fen_ground", lambda s: replace(s, licence=body)), demo)
    status, out, _ = run(capsys, "check", demo, "--sarif")
    told = json.loads(out)
    assert len(Sarif.model_validate(told).runs[0].results or ()) == len(told["runs"][0]["results"])
    result = told["runs"][0]["results"][0]
    assert status == 1 and told["version"] == "2.1.0" and result["ruleId"] == "no-licence"
    place = result["locations"][0]["physicalLocation"]["artifactLocation"]["uri"]
    assert (demo / place).exists()
    (demo.parent / ".git").mkdir()
    inside = json.loads(run(capsys, "check", demo, "--sarif")[1])["runs"][0]["results"][0]
    found = inside["locations"][0]["physicalLocation"]
    assert found["artifactLocation"]["uri"] == f"{demo.name}/{place}"
    assert found["region"]["startLine"] >= 1
    out_folder = tmp_path / "out"
    assert run(capsys, "watch", demo, "--out", out_folder, "--builds", 1)[0] == 0
    assert "up to date" in run(capsys, "build", demo, "--out", out_folder)[1]
    assert fresh_build(["build", str(demo), "--out", str(out_folder)]) is not None
    assert fresh_build(["build", "--out", str(out_folder), str(demo)]) is not None
    (out_folder / "credits.txt").write_text("half")
    assert fresh_build(["build", str(demo), "--out", str(out_folder)]) is None
    assert run(capsys, "build", demo, "--out", out_folder)[1].endswith("credits.txt\n")
    for target in (demo, DEMO / "project.rushweed"):
        status, _, err = run(capsys, "build", demo, "--out", target)
        assert status == 1 and "folder" in err
    assert run(capsys, "build", demo, "--out", out_folder, "--recipe", "None")[0] == 1


def test_what_desktops_read_is_as_they_want_it() -> None:
    for check, place in (
        (["appstreamcli", "validate", "--no-net"], "metainfo/*.xml"),
        (["desktop-file-validate"], "applications/*.desktop"),
    ):
        [file] = (ROOT / "share").glob(place)
        told = subprocess.run([*check, file], capture_output=True, text=True, check=False)
        assert told.returncode == 0, told.stdout
    desktop = (ROOT / "share/applications/org.rushweed.Rushweed.desktop").read_text()
    assert "Categories=Graphics;2DGraphics;\n" in desktop, "one main category"


def test_every_verb_is_known_to_the_starter_and_the_manual() -> None:

    assert set(cli.VERBS) == set(starter.VERBS)
    assert manual() == TARGET.read_text(encoding="utf-8"), "made by tools/write_man.py"


def test_the_version_is_told_before_anything_large_is_brought_in() -> None:
    command = [sys.executable, "-X", "importtime", "-m", "rushweed", "--version"]
    told = subprocess.run(command, capture_output=True, text=True, check=True)
    assert told.stdout == f"rushweed {__version__}\n"
    brought = {line.rsplit("|", 1)[-1].strip() for line in told.stderr.splitlines()}
    assert not {"numpy", "scipy", "typer", "PyQt6"} & brought


@pytest.mark.parametrize("name", ["bundle", "project", "sheet", "level"])
def test_schemas_are_printed_and_hold_what_is_written(
    name: str, capsys: pytest.CaptureFixture[str], demo: Path, tmp_path: Path
) -> None:
    status, out, _ = run(capsys, "schema", name)
    schema = json.loads(out)
    assert status == 0 and schema["$schema"].endswith("2020-12/schema")
    assert schema["$id"].startswith(f"urn:rushweed:{name}:") and "format" in schema["required"]
    written = Path(__file__).parents[2] / "docs" / "format" / f"{name}.schema.json"
    assert json.loads(written.read_text()) == schema, "tools/write_schemas.py writes it"
    assert run(capsys, "build", demo, "--out", tmp_path / "out")[0] == 0
    files_of = {
        "bundle": (tmp_path / "out").rglob("bundle.json"),
        "project": [demo / "project.rushweed"],
        "sheet": (demo / "sheets").glob("*.json"),
        "level": (demo / "levels").glob("*.json"),
    }
    validator = jsonschema.Draft202012Validator(schema)
    paths = list(files_of[name])
    assert paths
    for path in paths:
        validator.validate(json.loads(path.read_text()))


def test_the_desktop_is_told_and_forgets_again(
    capsys: pytest.CaptureFixture[str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert run(capsys, "desktop", "--install")[0] == 0
    put = {path.relative_to(tmp_path).parts[0] for path in tmp_path.rglob("*rushweed*")}
    assert put >= {"applications", "icons", "mime", "metainfo", "man"}
    assert run(capsys, "desktop", "--remove")[0] == 0
    assert not list(tmp_path.rglob("*rushweed*.*"))
    status, told, wrong = run(capsys, "desktop")
    assert status == 1 and "--install" in told + wrong
