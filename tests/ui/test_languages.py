"""What is shown comes from one catalogue; a language of longer words breaks nothing."""

from __future__ import annotations

import ast
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo

from tests.ui.made_up_language import made_up
from tools.write_catalogue import (
    CODE,
    COUNTING,
    PLACES,
    SAYING,
    TEMPLATE,
    as_read,
    as_text,
    said_in,
    template,
    texts,
    translations,
)

LANGUAGE = "qaa"
"""Of those that no language has (ISO 639-2)."""


def write_language(data: Path) -> None:
    """The whole catalogue in the made-up language, where a user's own would lie."""
    catalogue = Catalog()
    for text in texts():
        pair = text if isinstance(text, tuple) else None
        said = tuple(map(made_up, pair)) if pair else made_up(str(text))
        catalogue.add(text, said)
    place = data / "rushweed" / "languages" / LANGUAGE / "LC_MESSAGES"
    place.mkdir(parents=True)
    with (place / "rushweed.mo").open("wb") as file:
        write_mo(file, catalogue)


def test_the_catalogue_holds_all_that_the_code_says() -> None:
    told = "run tools/write_catalogue.py"
    assert TEMPLATE.read_text(encoding="utf-8") == as_text(template()), told
    for path, catalogue in translations().items():
        assert path.read_text(encoding="utf-8") == as_text(catalogue), told
        assert path.with_suffix(".mo").read_bytes() == as_read(catalogue), told


def test_every_text_is_translated_with_its_values_at_their_places() -> None:
    assert {path.parent.parent.name for path in translations()} == {"de", "ja"}
    for path, catalogue in translations().items():
        for message in filter(lambda message: message.id, catalogue):
            assert said_in(message), f"{path.parent.parent.name} lacks {message.id}"
            wanted, said = _forms(message.id), _forms(message.string)
            places = set(PLACES.findall("".join(wanted)))
            assert all(set(PLACES.findall(text)) <= places for text in said), message.id
            assert set(PLACES.findall(said[-1])) == set(PLACES.findall(wanted[-1])), message.id


def _forms(text: object) -> tuple[str, ...]:
    return tuple(map(str, text)) if isinstance(text, tuple | list) else (str(text),)


def test_no_text_is_put_together_before_it_is_said() -> None:
    """A sentence with its values in it already is in no catalogue."""
    for path in CODE.rglob("*.py"):
        for call in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(call, ast.Call) and ast.unparse(call.func) in {*SAYING, *COUNTING}:
                mixed = [arg for arg in call.args if isinstance(arg, ast.JoinedStr | ast.BinOp)]
                assert not mixed, f"{path}:{call.lineno}"


@pytest.mark.parametrize(("language", "larger"), [(LANGUAGE, "1"), ("de", "1.5"), ("ja", "1")])
def test_every_face_speaks_another_language_and_nothing_is_cut_off(
    demo: Path, tmp_path: Path, language: str, larger: str
) -> None:
    write_language(tmp_path)
    speaking = {"LANGUAGE": language, "LC_ALL": "C.UTF-8", "XDG_DATA_HOME": str(tmp_path)}
    done = subprocess.run(
        [sys.executable, "-m", "tests.ui.made_up_language", str(demo)],
        env={
            **os.environ,
            **speaking,
            "QT_QPA_PLATFORM": "offscreen",
            "QT_SCALE_FACTOR": larger,
        },
        capture_output=True,
        text=True,
        check=True,
    )
    assert json.loads(done.stdout) == []


def spoken(data: Path, code: str) -> str:
    """What a new process prints, in the language of catalogues that lie there."""
    speaking = {"LANGUAGE": LANGUAGE, "LC_ALL": "C.UTF-8", "XDG_DATA_HOME": str(data)}
    command = [sys.executable, "-c", f"from rushweed.core.words import *; print({code})"]
    done = subprocess.run(
        command, env={**os.environ, **speaking}, capture_output=True, text=True, check=True
    )
    return done.stdout.strip()


def test_a_slip_in_a_catalogue_stops_nobody(tmp_path: Path) -> None:
    place = tmp_path / "rushweed" / "languages" / LANGUAGE / "LC_MESSAGES"
    place.mkdir(parents=True)
    catalogue = Catalog()
    catalogue.add("right {one}", "{one} droite")
    for slip in ("{other}", "{one", "{one:q}", "{one.real}", "{}"):
        catalogue.add(f"wrong {{one}} for {slip[1:].strip('}')}", f"faux {slip}")
    catalogue.add(("{count} one", "{count} many"), ("{cuont} un", "{cuont} plusieurs"))
    with (place / "rushweed.mo").open("wb") as file:
        write_mo(file, catalogue)
    assert spoken(tmp_path, "say('right {one}', one=3)") == "3 droite"
    for slip in ("other", "one", "one:q", "one.real", ""):
        text = f"wrong {{one}} for {slip}"
        assert spoken(tmp_path, f"say({text!r}, one=3)") == f"wrong 3 for {slip}".strip()
        assert spoken(tmp_path, f"say({text!r}).format(one=3)") == f"wrong 3 for {slip}".strip()
    assert spoken(tmp_path, "say_of(2, '{count} one', '{count} many')") == "2 many"
    (place / "rushweed.mo").write_bytes(b"no catalogue at all")
    assert spoken(tmp_path, "say('right {one}', one=3)") == "right 3"
    (place / "rushweed.mo").write_bytes((0x950412DE).to_bytes(4, "little") + b"cut")
    assert spoken(tmp_path, "say('right {one}', one=3)") == "right 3"
