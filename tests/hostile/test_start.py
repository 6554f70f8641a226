"""Whatever lies where the user's own files are, the program starts, says so, and goes on."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Callable
from http.client import HTTPConnection
from pathlib import Path
from urllib.parse import urlsplit

import pytest

from rushweed.core import owner_limits
from rushweed.core.bale.freshening import FreshBundle
from rushweed.core.bale.serving import BundleServer
from rushweed.core.bale.templates import render_all
from rushweed.core.gather.archive import Archive
from rushweed.core.project import files
from rushweed.core.values import Refusal
from rushweed.core.words import own_catalogues
from rushweed.ui.settings import Settings
from tests.conftest import ROOT

DEEP = "[" * 100_000
ODD_SETTINGS = {
    "a theme that is not there": json.dumps({"theme": "Neon", "others": "nobody"}),
    "infinite": '{"arranged": [["Cut", Infinity, 1, 1]], "recent": 3}',
    "of other kinds": '{"theme": ["Dusk"], "folds": {"a": 1}, "geometry": null, "arranged": 7}',
    "deeply nested": DEEP,
    "a list": "[1, 2]",
    "no text": "\udcff",
}


@pytest.mark.parametrize("text", ODD_SETTINGS.values(), ids=ODD_SETTINGS)
def test_odd_settings_are_told(open_window, demo: Path, tmp_path: Path, text: str) -> None:
    file = tmp_path / "settings.json"
    file.write_bytes(text.encode("utf-8", "surrogateescape"))
    drive = open_window(demo)
    assert "settings.json" in drive.window.frame.notice.text
    drive.window.switch_theme()
    assert Settings(file).values.theme in ("Paper", "Dusk") and Settings(file).problem == ""


def piped(file: Path) -> None:
    file.parent.mkdir(parents=True, exist_ok=True)
    os.mkfifo(file)


@pytest.mark.parametrize("text", ["", "memory = " + DEEP, "memory = 9" + "9" * 5000, "x = ["])
def test_odd_limits_are_told(open_window, demo: Path, text: str) -> None:
    file = owner_limits.limits_file()
    owner_limits._told.cache_clear()
    file.parent.mkdir(parents=True, exist_ok=True)
    if text:
        file.write_text(text)
    else:
        piped(file)
    assert owner_limits.limit("memory", 512) == 512
    told = open_window(demo).window.frame.notice.text
    assert "limits.toml" in told or owner_limits.what_is_wrong() == ""
    owner_limits._told.cache_clear()


def started(*words: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "rushweed", *words],
        capture_output=True,
        text=True,
        cwd=ROOT,
        env={**os.environ, **environment},
        stdin=subprocess.DEVNULL,
    )


def catalogue(plural: str) -> bytes:
    """A catalogue of no texts that counts by this formula."""
    head = f"Content-Type: text/plain; charset=UTF-8\nPlural-Forms: {plural}\n".encode()
    numbers = [0x950412DE, 0, 1, 28, 36, 0, 44, 0, 44, len(head), 45]
    return b"".join(n.to_bytes(4, "little") for n in numbers) + b"\0" + head + b"\0"


@pytest.mark.parametrize("plural", ["nplurals=2; plural=n/0;", "nplurals=2; plural=1%n;", ""])
def test_odd_catalogues_are_passed_over(tmp_path: Path, plural: str) -> None:
    place = tmp_path / "rushweed" / "languages" / "de" / "LC_MESSAGES" / "rushweed.mo"
    if plural:
        place.parent.mkdir(parents=True)
        place.write_bytes(catalogue(plural))
    else:
        piped(place)
    done = started("schema", "--help", LANGUAGE="de", XDG_DATA_HOME=str(tmp_path))
    assert done.returncode == 0 and "Usage" in done.stdout, done.stderr
    assert own_catalogues().name == "languages"


@pytest.mark.parametrize(
    "spoil",
    [
        lambda store: store.execute("UPDATE found SET used = 'never'"),
        lambda store: store.execute("UPDATE found SET value = 7, used = x'00'"),
        lambda store: store.execute("UPDATE found SET used = 1e300"),
    ],
)
def test_a_store_of_other_kinds_is_not_in_the_way(tmp_path: Path, spoil: Callable) -> None:
    file = tmp_path / "found.sqlite"
    with Archive(file) as archive:
        archive.keep("key", b"value")
    store = sqlite3.connect(file, isolation_level=None)
    spoil(store)
    store.close()
    with Archive(file) as archive:
        assert archive.find("key") in (b"value", None)
        archive.keep("key", b"newer")
        archive._make_room()
        assert archive.find("key") == b"newer"


def test_a_damaged_store_that_cannot_be_removed_is_not_in_the_way(tmp_path, monkeypatch) -> None:
    file = tmp_path / "found.sqlite"
    file.write_bytes(b"no store" * 1000)

    def refuse(*_: object, **__: object) -> None:
        raise OSError(30, "Read-only file system")

    monkeypatch.setattr(Path, "unlink", refuse)
    with Archive(file) as archive:
        archive.keep("key", b"value")
        assert archive.find("key") is None


def test_a_folder_whose_name_is_no_text_is_opened_and_saved(open_window, demo: Path) -> None:
    odd = Path(os.fsdecode(os.fsencode(demo.parent) + b"/f\xffn"))
    shutil.move(demo, odd)
    drive = open_window(odd)
    saved = drive.project
    drive.window.desk.do("A word", lambda project: project)
    drive.window.projects.recovery.keep()
    assert drive.window.projects.save()
    drive.answers.folder = odd.with_name(os.fsdecode(b"m\xffor"))
    assert drive.window.projects.save_elsewhere()
    assert files.load(drive.answers.folder) == saved == drive.project
    assert Settings(drive.session.settings._file).values.recent


def test_half_a_character_of_a_template_is_refused() -> None:
    own = {"half.txt": '{{ "\\ud83d" }}'}
    with pytest.raises(Refusal, match="half of a character"):
        render_all(["half.txt"], {}, own)


def test_what_is_no_address_and_no_folder_is_told(tmp_path: Path) -> None:
    with pytest.raises(Refusal, match="no folder"):
        BundleServer(FreshBundle(), page=tmp_path / "none")
    server = BundleServer(FreshBundle())
    try:
        place = urlsplit(server.address)
        connection = HTTPConnection(place.hostname or "", place.port)
        connection.putrequest("GET", "http://[", skip_host=True)
        connection.putheader("Host", place.netloc)
        connection.endheaders()
        assert connection.getresponse().status == 400
        connection.close()
    finally:
        server.close()


def test_a_project_that_is_open_elsewhere_is_not_called_broken(open_window, demo: Path) -> None:
    first = open_window(demo)
    second = open_window()
    second.session.open_folder(demo)
    assert "open in another window" in second.window.frame.notice.text
    with pytest.raises(AssertionError, match="Open what is whole"):
        second.button("Open what is whole")
    assert first.project.sheets


def test_no_control_characters_are_echoed() -> None:
    done = started("f\x1b[31moo")
    assert done.returncode == 1 and "\x1b" not in done.stderr + done.stdout and "oo" in done.stderr
