"""`merge`: what two made of one project, by value; of three folders, or where git is merging."""

from __future__ import annotations

import io
import subprocess
import tarfile
import tempfile
from pathlib import Path, PurePosixPath
from typing import Annotated

import typer

from rushweed.core.folder.inside import Inside
from rushweed.core.project import files
from rushweed.core.project.head import HEAD
from rushweed.core.project.known import Known
from rushweed.core.project.merging import merged
from rushweed.core.project.project import Project
from rushweed.core.project.sitting import Made
from rushweed.core.values import Refusal
from rushweed.core.words import say

DRIVER = "rushweed"
ATTRIBUTES = ".gitattributes"
OWN = (HEAD, "sheets/*.sheet.json", "levels/*.level.json")
"""A project's own files, as patterns of git."""


def merge_projects(
    places: Annotated[
        list[Path] | None,
        typer.Argument(help="BASE OURS THEIRS, or the project in which git merges."),
    ] = None,
    out: Annotated[
        Path | None, typer.Option("--out", help="A folder for the result, else OURS.")
    ] = None,
    set_up: Annotated[
        bool, typer.Option("--set-up", help="Have git leave a project's files to this verb.")
    ] = False,
) -> None:
    """Merge what two made of a project; exit status 1 where both changed the same."""
    given = places or [Path()]
    if set_up:
        _set_up(given[0])
    elif len(given) == 3:
        base, mine, theirs = map(files.load, given)
        result = merged(base, mine, theirs)
        _write(result, out or given[1])
        _tell(result.made)
    elif len(given) == 1:
        _merge_with_git(given[0])
    else:
        raise Refusal("Name three folders: BASE, OURS and THEIRS; or the one in which git merges.")


def _write(result: Made[list[str]], folder: Path) -> None:
    """Write what was merged over what lies there."""
    known = Known.lying(Inside(folder)) if folder.exists() else None
    files.save(result.project, folder, known)


def _tell(met: list[str]) -> None:
    """Tell what met; exit status 1 where anything did."""
    for words in met:
        print(say("Both changed {what}: it is as it was in ours.", what=words))
    if met:
        raise typer.Exit(1)
    print(say("Merged."))


def _merge_with_git(folder: Path) -> None:
    """Merge the project of a folder as git is merging it; where nothing met, add the result."""
    theirs = _git(folder, "rev-parse", "--verify", "--quiet", "MERGE_HEAD", fails=True).strip()
    if not theirs:
        raise Refusal(
            "Git is not merging here. Run “git merge BRANCH” first, then this in the project; or "
            "name three folders: BASE, OURS and THEIRS."
        )
    base = _git(folder, "merge-base", "HEAD", theirs).strip()
    result = merged(*(_at(folder, revision) for revision in (base, "HEAD", theirs)))
    _write(result, folder)
    if not result.made:
        _git(folder, "add", "--all", "--", *_tracked(folder))
    _tell(result.made)


def _at(folder: Path, revision: str) -> Project:
    """The project as it was at a revision."""
    listed = _git(folder, "ls-tree", "-r", "-z", "--name-only", revision, "--", ".").split("\0")
    own = [name for name in listed if any(map(PurePosixPath(name).match, OWN))]
    if HEAD not in own:
        raise Refusal("There was no project here at {revision}.", revision=revision[:12])
    packed = _git_bytes(folder, "archive", "--format=tar", revision, "--", *own)
    with tempfile.TemporaryDirectory() as place:
        with tarfile.open(fileobj=io.BytesIO(packed)) as archive:
            archive.extractall(place, filter="data")
        return files.load(Path(place))


def _tracked(folder: Path) -> list[str]:
    """Of the patterns of a project's own files, those that there are files of."""
    return [one for one in OWN if _git(folder, "ls-files", "-co", "--", one, fails=True)]


def _set_up(folder: Path) -> None:
    """Let git keep ours of every project file that both changed, whole, until it is merged here."""
    files.load(folder)
    inside = Inside(folder)
    text = (inside.find(ATTRIBUTES) or b"").decode()
    wanted = [f"{pattern} merge={DRIVER}" for pattern in OWN]
    missing = [line for line in wanted if line not in text.splitlines()]
    if missing:
        begun = text if text.endswith("\n") or not text else f"{text}\n"
        inside.write(ATTRIBUTES, (begun + "\n".join(missing) + "\n").encode())
    _git(folder, "config", f"merge.{DRIVER}.name", "left to rushweed merge")
    _git(folder, "config", f"merge.{DRIVER}.driver", "false")
    print(
        say(
            "Git leaves the project's files to Rushweed now. After “git merge BRANCH”, run "
            "“rushweed merge” here, look at it, and commit. Commit {file} too.",
            file=ATTRIBUTES,
        )
    )


def _git(folder: Path, *words: str, fails: bool = False) -> str:
    return _git_bytes(folder, *words, fails=fails).decode()


def _git_bytes(folder: Path, *words: str, fails: bool = False) -> bytes:
    """What git says to some words in a folder. Raises Refusal where it refuses, unless it may."""
    try:
        done = subprocess.run(["git", "-C", str(folder), *words], capture_output=True, check=False)
    except FileNotFoundError as problem:
        raise Refusal("Git is not installed. Name three folders to merge instead.") from problem
    if done.returncode and not fails:
        said = done.stderr.decode(errors="replace").strip().splitlines()
        raise Refusal("Git refuses: {said}.", said=said[-1].rstrip(".") if said else "?")
    return done.stdout
