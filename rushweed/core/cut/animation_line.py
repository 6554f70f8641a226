"""The animations of a sheet in one line, as one would write them on a slip of paper:

    walk 1-4 at 10, turn 5-8 at 6 once

Entries stand apart by commas, semicolons or lines. Each is a name, then frames counted from 1 in
reading order (`1-4`, `4-1`, `1 3 5`), or whole rows or columns (`row 2`, `columns 2-3`); without
any it is the next row. `at 10` (also `@10`, `10 fps`, `10/s`) is the rate, and `once` or
`back and forth` the way it plays, which is a loop else. A name of which a part could be read
otherwise stands in quotes. An entry without a name goes on with the frames before it, an empty one
leaves a row out.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rushweed.core.cut.animations import FASTEST
from rushweed.core.project.sheet import Animation, Piece, Play, Sheet
from rushweed.core.values import Point, Rect, Refusal
from rushweed.core.words import say, say_of

USUAL_RATE, USUAL_PLAY = 8.0, "loop"
LONGEST_NAME = 200
ENTRY = re.compile(r'(?:"[^"]*"|“[^”]*”|[^,;\n"“]|["“])*')
QUOTED = re.compile(r'^\s*(?:"([^"]*)"|“([^”]*)”)')
NUMBER = r"\d+(?:\.\d+)?"
RATE = re.compile(
    rf"(?:\bat\s+|@\s*)({NUMBER})(?:\s*(?:fps|frames/s|/\s*s|a second))?(?!\S)"
    rf"|(?<!\S)({NUMBER})\s*(?:fps|frames/s|/\s*s|a second)(?!\S)",
    re.IGNORECASE,
)
WAYS: tuple[tuple[str, Play], ...] = (
    (r"back and forth|there and back|forth and back", "back and forth"),
    (r"once", "once"),
    (r"loops?|looped|for ever|forever", "loop"),
)
SPAN = r"(\d+)(?:\s*(?:-|–|—|−|…|\.\.\.?|to)\s*(\d+))?"
NO_FRAME = (
    "There is no frame {number}: {sheet} has one frame.",
    "There is no frame {number}: {sheet} has {count} frames.",
)
NO_ROW = (
    "There is no row {number}: {sheet} has one row.",
    "There is no row {number}: {sheet} has {count} rows.",
)
NO_COLUMN = (
    "There is no column {number}: {sheet} has one column.",
    "There is no column {number}: {sheet} has {count} columns.",
)
ROWS = re.compile(rf"(?<!\S)rows?\s+{SPAN}(?!\S)", re.IGNORECASE)
COLUMNS = re.compile(rf"(?<!\S)columns?\s+{SPAN}(?!\S)", re.IGNORECASE)
FRAMES = re.compile(rf"(?<!\S){SPAN}(?!\S)")
WORD = re.compile(r"\S+")


class Misread(Refusal):
    """A line that cannot be read; `start` and `end` are the place in it."""

    def __init__(self, sentence: str, start: int, end: int) -> None:
        super().__init__(sentence)
        self.start, self.end = start, end


@dataclass(frozen=True, slots=True)
class Written:
    """One animation as it was written: frames by number of piece, and where it stands."""

    name: str
    frames: tuple[int, ...]
    rate: float
    play: Play
    start: int
    end: int


def read_line(text: str, sheet: Sheet) -> list[Written]:
    """The animations that a line means on a sheet. Raises Misread, with the place in the line."""
    written: list[Written] = []
    row = 0
    for start, entry in _entries(text):
        reader = _Entry(entry, start, sheet)
        if not entry:
            row += 1
            continue
        frames = reader.frames()
        if not reader.name and written and frames:
            last = written[-1]
            written[-1] = replace(last, frames=last.frames + frames, end=reader.end)
            continue
        if not frames:
            frames = reader.row(row, alone=text.strip(" ,;\n") == entry)
        row = max(piece.row for piece in sheet.pieces if piece.number in frames) + 1
        written.append(reader.finish(frames))
    _refuse_twice(written)
    return written


def _entries(text: str) -> Iterator[tuple[int, str]]:
    """The parts between commas, semicolons and lines, with where they begin; not what is empty
    at the end."""
    place, whole = 0, len(text.rstrip(" ,;\n"))
    while place < whole:
        found = ENTRY.match(text, place, whole)
        assert found is not None
        entry = found[0].strip()
        yield place + found[0].find(entry), entry
        place = found.end() + 1


class _Entry:
    """One entry on its way from text to frames; what was understood is blanked out."""

    def __init__(self, entry: str, start: int, sheet: Sheet) -> None:
        self._start, self._sheet = start, sheet
        self._rest = entry
        self.end = start + len(entry)
        quoted = QUOTED.match(entry)
        self.name = (quoted[1] or quoted[2] or "").strip() if quoted else ""
        if quoted:
            self._blank(quoted.start(), quoted.end())
        self.rate, self.play = self._read_rate(), self._read_play(bool(quoted))
        self._spans = self._read_spans()
        if not quoted:
            self.name = self._read_name()
        self._rest = self._rest.replace("\x00", " ")
        unknown = WORD.search(self._rest)
        if unknown:
            self._misread(
                say(
                    "“{word}” is not understood. Write it as walk 1-4 at 10 once.", word=unknown[0]
                ),
                unknown.start(),
                unknown.end(),
            )

    def frames(self) -> tuple[int, ...]:
        """The frames that are written, in their order."""
        return tuple(number for span in self._spans for number in span)

    def row(self, index: int, alone: bool) -> tuple[int, ...]:
        """The frames of a row; all there are, for the only entry of a sheet with one row."""
        rows = 1 + max((piece.row for piece in self._sheet.pieces), default=-1)
        found = tuple(piece.number for piece in self._sheet.pieces if piece.row == index)
        if not found or (rows == 1 and not alone):
            count = len(self._sheet.pieces)
            told = say_of(
                rows,
                "{sheet} has one row: say which of its {frames} frames “{name}” has, as in "
                "{like} 1-{last}.",
                "{sheet} has {count} rows: say which of its {frames} frames “{name}” has, as in "
                "{like} 1-{last}.",
                sheet=self._sheet.name,
                frames=count,
                name=self.name,
                like=self.name or "walk",
                last=max(count, 1),
            )
            self._misread(told)
        return found

    def finish(self, frames: tuple[int, ...]) -> Written:
        """The animation."""
        if not self.name:
            self._misread(say("An animation needs a name before its frames, as in walk 1-4."))
        if len(self.name) > LONGEST_NAME:
            self._misread(say("A name has at most {most} letters. Shorten it.", most=LONGEST_NAME))
        return Written(self.name, frames, self.rate, self.play, self._start, self.end)

    def _read_rate(self) -> float:
        found = RATE.search(self._rest)
        if not found:
            return USUAL_RATE
        rate = float(found[1] or found[2])
        if not 0 < rate <= FASTEST:
            self._misread(
                say("A rate lies between 0 and {most:g} frames/s.", most=FASTEST),
                found.start(),
                found.end(),
            )
        self._blank(found.start(), found.end())
        return rate

    def _read_play(self, named: bool) -> Play:
        first = WORD.search(self._rest)
        after = 0 if named or first is None else first.end()
        for words, play in WAYS:
            found = re.compile(rf"(?<!\S)(?:{words})(?!\S)", re.IGNORECASE).search(
                self._rest, after
            )
            if found:
                self._blank(found.start(), found.end())
                return play
        return "loop"

    def _read_spans(self) -> list[tuple[int, ...]]:
        pieces = self._sheet.pieces
        numbers = [piece.number for piece in pieces]
        found: list[tuple[int, tuple[int, ...]]] = []
        for lines, places, none in (
            (ROWS, [piece.row for piece in pieces], NO_ROW),
            (COLUMNS, [piece.column for piece in pieces], NO_COLUMN),
        ):
            for match in [*lines.finditer(self._rest)]:
                chosen = self._chosen(match, 1 + max(places, default=-1), none)
                span = [
                    n
                    for line in chosen
                    for n, at in zip(numbers, places, strict=True)
                    if at == line
                ]
                found.append((match.start(), tuple(span)))
                self._blank(match.start(), match.end())
        for match in [*FRAMES.finditer(self._rest)]:
            chosen = self._chosen(match, len(numbers), NO_FRAME)
            found.append((match.start(), tuple(numbers[place] for place in chosen)))
            self._blank(match.start(), match.end(), "\x00")
        return [span for _, span in sorted(found)]

    def _chosen(self, match: re.Match[str], most: int, none: tuple[str, str]) -> Sequence[int]:
        first = int(match[1][:9])
        last = int(match[2][:9]) if match[2] else first
        for number in (first, last):
            if not 1 <= number <= most:
                told = say_of(most, *none, number=number, sheet=self._sheet.name)
                self._misread(told, match.start(), match.end())
        return range(first - 1, last) if last >= first else range(first - 1, last - 2, -1)

    def _read_name(self) -> str:
        """What stands before the frames."""
        name, _, numbers = self._rest.partition("\x00")
        self._rest = " " * (len(self._rest) - len(numbers)) + numbers
        return " ".join(name.split())

    def _blank(self, start: int, end: int, sign: str = " ") -> None:
        self._rest = self._rest[:start] + sign * (end - start) + self._rest[end:]

    def _misread(self, sentence: str, start: int = 0, end: int | None = None) -> None:
        stop = self.end if end is None else self._start + end
        raise Misread(sentence, self._start + start, stop)


def _refuse_twice(written: Sequence[Written]) -> None:
    names: set[str] = set()
    for one in written:
        if one.name in names:
            told = say("Two animations cannot both be called “{name}”.", name=one.name)
            raise Misread(told, one.start, one.end)
        names.add(one.name)


def written_line(sheet: Sheet) -> str:
    """The line that means the animations a sheet has."""
    places = {piece.number: place for place, piece in enumerate(sheet.pieces, 1)}
    columns: dict[int, list[int]] = {}
    for piece in sheet.pieces:
        columns.setdefault(piece.column, []).append(piece.number)
    names = {
        tuple(frames): f"column {n + 1}"
        for n, frames in columns.items()
        if len(frames) > 2 and len(columns) > 1
    }
    return ", ".join(
        _entry_of(animation, places, names.get(animation.frames))
        for animation in sheet.animations
        if all(frame in places for frame in animation.frames)
    )


def _entry_of(animation: Animation, places: dict[int, int], column: str | None) -> str:
    spans = _spans([places[frame] for frame in animation.frames])
    parts = [_as_read(animation.name), *([column] if column else spans)]
    if animation.rate != USUAL_RATE:
        parts.append("at " + f"{animation.rate:.9f}".rstrip("0").rstrip("."))
    if animation.play != USUAL_PLAY:
        parts.append(animation.play)
    return " ".join(parts)


def _as_read(name: str) -> str:
    """A name as it is read again, in quotes where it has to be."""
    if _is_plain(name):
        return name
    return f"“{name}”" if '"' in name else f'"{name}"'


def _is_plain(name: str) -> bool:
    """Whether a name is read as itself without quotes, with frames after it."""
    sheet = Sheet("x", (), pieces=(Piece(1, Rect(0, 0, 1, 1), Point(0, 0)),))
    try:
        read = _Entry(f"{name} 1", 0, sheet)
    except Refusal:
        return False
    return read.name == name and read.frames() == (1,) and not re.search(r'[,;"“”]', name)


def _spans(places: Sequence[int]) -> Iterator[str]:
    """Frames as ranges where they follow each other, up or down."""
    start = 0
    while start < len(places):
        end = start
        step = places[start + 1] - places[start] if start + 1 < len(places) else 0
        while step in (1, -1) and end + 1 < len(places) and places[end + 1] - places[end] == step:
            end += 1
        yield f"{places[start]}-{places[end]}" if end > start else str(places[start])
        start = end + 1


USUAL_WAYS: dict[str, Play] = {
    **dict.fromkeys(("attack", "hit", "hurt", "die", "death", "jump", "land", "open"), "once"),
    **dict.fromkeys(("idle", "stand", "walk", "run", "fall", "climb", "swim", "fly"), "loop"),
}
"""Words that say how an animation of that name usually plays."""


def proposed_line(sheet: Sheet) -> str:
    """A line for a sheet without animations, from the names of its pieces and its own; empty where
    they say nothing."""
    from natsort import natsorted

    stems: dict[str, list[tuple[str, int]]] = {}
    for place, piece in enumerate(sheet.pieces, 1):
        found = re.match(r"^(.*?[^\W\d_].*?)[ _.-]*(\d+)$", piece.name)
        if found:
            stems.setdefault(found[1], []).append((piece.name, place))
    groups = {stem: natsorted(frames) for stem, frames in stems.items() if len(frames) > 1}
    if groups:
        return ", ".join(
            _proposed(stem, " ".join(_spans([place for _, place in frames])))
            for stem, frames in groups.items()
        )
    words = re.split(r"[\W_\d]+", sheet.name.lower())
    word = next((word for word in reversed(words) if word in USUAL_WAYS), "")
    rows = {piece.row for piece in sheet.pieces}
    if word and len(rows) == 1 and len(sheet.pieces) > 1:
        return _proposed(word, f"1-{len(sheet.pieces)}")
    return ""


def _proposed(name: str, frames: str) -> str:
    """One entry; a stem such as `hero_attack` is told by its last word how it plays."""
    words = re.split(r"[\W_\d]+", name.lower())
    play = USUAL_WAYS.get(words[-1] if words else "", "loop")
    return f"{_as_read(name)} {frames}" + ("" if play == "loop" else f" {play}")
