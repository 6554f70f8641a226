"""The project on disk: a folder of JSON files, read with care and written all at once.

`project.rushweed` holds what the whole project shares, `sheets/` and `levels/` one file each,
`art/` the pictures. The forms are described in docs/format/.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, fields, replace
from pathlib import Path
from typing import Any

from rushweed.core.bulk import in_bulk, in_short_turns
from rushweed.core.folder import saving
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import file_stems, parts_of, printable
from rushweed.core.project import checking
from rushweed.core.project.drawing_sets import Hem, Mix, Patch
from rushweed.core.project.dumping import dumped, dumped_briefly
from rushweed.core.project.figure import Figure
from rushweed.core.project.head import HEAD
from rushweed.core.project.known import Changed, Known
from rushweed.core.project.level import Level
from rushweed.core.project.migrations import FORMAT
from rushweed.core.project.project import Project
from rushweed.core.project.reading import adapter, read_part
from rushweed.core.project.rules import GroundRules, Recipe, Treatment, Walker
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.text import rendered, to_json
from rushweed.core.value_ranges import NextNumber
from rushweed.core.values import Refusal
from rushweed.core.words import say

TEMPLATES = "templates"
"""The folder of the project's own templates."""


@dataclass(frozen=True, slots=True)
class Head:
    """What `project.rushweed` holds. `sheets` and `levels` are file names without their endings."""

    name: str
    next_number: NextNumber
    rules: GroundRules
    treatments: tuple[Treatment, ...]
    recipes: tuple[Recipe, ...]
    walker: Walker
    hems: tuple[Hem, ...] = ()
    patches: tuple[Patch, ...] = ()
    mixes: tuple[Mix, ...] = ()
    figures: tuple[Figure, ...] = ()
    sheets: tuple[str, ...] = ()
    levels: tuple[str, ...] = ()


def load(folder: Path) -> Project:
    """Read a project's folder.

    Raises Refusal with one sentence when something is missing, broken, newer than this program,
    or points outside the folder.
    """
    return load_known(folder)[0]


def load_known(folder: Path) -> tuple[Project, Known]:
    """The same, with what its files held: who saves compares with that."""
    inside = _inside(folder)
    with saving.at_rest(inside, HEAD):
        saving.plan_of(inside)
        return _Loading(inside, None).project(), Known.listed(inside)


def load_what_is_whole(folder: Path) -> tuple[Project, list[str]]:
    """Read a project's folder without what is broken in it. Returns the project, and a sentence
    for each thing that was left out. Raises Refusal when not even its head can be read."""
    inside = _inside(folder)
    left_out: list[str] = []
    with saving.at_rest(inside, HEAD):
        try:
            saving.plan_of(inside)
        except Refusal as refusal:
            left_out.append(str(refusal))
        return _Loading(inside, left_out).project(), left_out


def _inside(folder: Path) -> Inside:
    try:
        return Inside(folder)
    except (OSError, RuntimeError, ValueError) as problem:
        raise Refusal(
            "“{printable}” cannot be opened. Check the path.", printable=printable(str(folder))
        ) from problem


class _Loading:
    """One reading of a folder: what is wrong is refused, or, with a list, told and left out."""

    def __init__(self, inside: Inside, left_out: list[str] | None) -> None:
        self._inside, self._left_out = inside, left_out
        self._taken: set[int] = set()

    def project(self) -> Project:
        head: Head = read_part(self._inside, HEAD, Head, self._left_out)
        rules = head.rules
        wrong = list(checking.breaches_of_head(rules, head.walker, head.next_number))
        if self._refuse(HEAD, wrong):
            rules = GroundRules(view=rules.view, y_up=rules.y_up, kinds=rules.kinds)
            head = replace(head, rules=rules, walker=replace(head.walker, body=None))
        sheets = self._all(head.sheets, "sheet", self._sheet)
        levels = self._all(head.levels, "level", self._level)
        highest = checking.highest_number(sheets)
        if highest >= head.next_number:
            what = say(
                "next_number is {next_number}, but there is a piece {highest} already",
                next_number=head.next_number,
                highest=highest,
            )
            self._refuse(HEAD, [what])
        shared = {field.name: getattr(head, field.name) for field in fields(Head)}
        number = max(head.next_number, highest + 1)
        made = {"sheets": sheets, "levels": levels, "next_number": number}
        return Project(**shared | made)

    def _all(self, stems: Sequence[str], kind: str, read: Callable[[str], Any]) -> tuple[Any, ...]:
        """Everything of a kind that is listed and whole, each name once."""
        found: dict[str, Any] = {}
        for stem in stems:
            file = f"{kind}s/{_stem(stem)}.{kind}.json"
            try:
                one = read(file)
            except Refusal as refusal:
                self._refuse("", [str(refusal)])
                continue
            if one.name in found:
                self._refuse(
                    file, [say("there is another {kind} called “{name}”", kind=kind, name=one.name)]
                )
            else:
                found[one.name] = one
        return tuple(found.values())

    def _sheet(self, file: str) -> Sheet:
        sheet: Sheet = read_part(self._inside, file, Sheet, self._left_out)
        for source in sheet.sources:
            check_inside(source.path, sheet.name)
        lost = checking.lost_picture(sheet)
        if lost:
            raise Refusal(checking.told(file, lost))
        if self._refuse(file, list(checking.breaches_of_sheet(sheet, self._taken))):
            sheet = checking.made_whole(sheet, self._taken)
        self._taken |= {piece.number for piece in checking.all_pieces(sheet)}
        return sheet

    def _level(self, file: str) -> Level:
        level: Level = read_part(self._inside, file, Level, self._left_out)
        for wrong in checking.breaches_of_level(level):
            raise Refusal(checking.told(file, wrong))
        return level

    def _refuse(self, file: str, wrong: list[str]) -> bool:
        """Refuse what is wrong in a file, or note it; whether anything is."""
        sentences = [checking.told(file, what) if file else what for what in wrong]
        if sentences and self._left_out is None:
            raise Refusal(sentences[0])
        if self._left_out is not None:
            self._left_out += sentences
        return bool(sentences)


def save(project: Project, folder: Path, known: Known | None = None) -> Known:
    """Write the project, all or nothing; only files whose content changed are touched, and only
    those are removed that are `known` to be its own. Returns what the folder holds then.

    Raises Changed, and writes nothing, where somebody else changed a file that is known; Refusal
    when the folder cannot be written: what it held is then still there.
    """
    inside, files = Inside(folder), to_files(project)

    def changes() -> tuple[dict[str, bytes], list[str]]:
        before = known if known is not None else Known.listed(inside)
        elsewhere = before.changed(inside, files)
        if elsewhere:
            raise Changed(elsewhere)
        changed = {name: data for name, data in files.items() if inside.find(name) != data}
        return changed, [name for name in before.digests if name not in files]

    saving.write_anew(inside, changes)
    return Known.of(files)


class _Written:
    """What was written last, by the sheet or level it was made of, which never changes."""

    def __init__(self) -> None:
        self._kept: dict[int, tuple[Any, bytes]] = {}

    def all(self, values: Sequence[Any]) -> list[bytes]:
        """The files of sheets or levels, in their order; those of others are forgotten."""
        known = self._kept
        found = [known.get(id(value)) for value in values]
        files = [pair[1] if pair else _dump(one) for pair, one in zip(found, values, strict=True)]
        pairs = zip(values, files, strict=True)
        self._kept = {id(value): (value, data) for value, data in pairs}
        return files


_sheets, _levels = _Written(), _Written()


@in_bulk()
@in_short_turns()
def to_files(project: Project) -> dict[str, bytes]:
    """The project as path inside its folder → bytes; the same project gives the same bytes."""
    stems = file_stems([sheet.name for sheet in project.sheets])
    level_stems = file_stems([level.name for level in project.levels])
    shared = {
        field.name: getattr(project, field.name)
        for field in fields(Head)
        if field.name not in ("sheets", "levels")
    }
    head = Head(**shared, sheets=tuple(stems), levels=tuple(level_stems))
    files = {HEAD: _dump(head)}
    for stem, data in zip(stems, _sheets.all(project.sheets), strict=True):
        files[f"sheets/{stem}.sheet.json"] = data
    for stem, data in zip(level_stems, _levels.all(project.levels), strict=True):
        files[f"levels/{stem}.level.json"] = data
    return files


def check_inside(path: str, owner: str) -> None:
    """Raise Refusal when a stored path is absolute or leaves the project's folder."""
    try:
        parts_of(path)
    except Refusal as problem:
        raise Refusal(
            "“{owner}” names the picture “{printable}”, which lies outside the "
            "project's folder. Move the picture into art/ and put the path right.",
            owner=owner,
            printable=printable(path),
        ) from problem


def schemas() -> dict[str, dict[str, Any]]:
    """JSON Schemas of the three kinds of file, by the name of their ending."""
    kinds: Mapping[str, type] = {"project": Head, "sheet": Sheet, "level": Level}
    return {name: adapter(kind).json_schema() for name, kind in kinds.items()}


def _stem(name: str) -> str:
    if "/" in name or "\\" in name or name in ("", ".", "..") or not name.isprintable():
        raise Refusal(
            "{head} lists “{printable}”, which is not a file name. Put it right.",
            head=HEAD,
            printable=printable(name),
        )
    return name


def _dump(value: Any) -> bytes:
    if isinstance(value, Head):
        return to_json({"format": FORMAT, **dumped(value)})
    return rendered({"format": FORMAT, **dumped_briefly(value)})
