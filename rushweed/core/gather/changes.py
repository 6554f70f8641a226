"""Noticing that a picture was saved outside."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath

from rushweed.core.folder.names import file_stems
from rushweed.core.gather.art import Art
from rushweed.core.gather.origins import Origin, Origins
from rushweed.core.gather.picture_limits import check_area
from rushweed.core.gather.pictures import content_hash, decode_frames, read_bytes, read_inside
from rushweed.core.gather.sequences import siblings
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet, Source
from rushweed.core.values import Refusal, Size


@dataclass(frozen=True, slots=True, eq=False)
class Saved:
    """A sheet whose files hold something else than what was taken in.

    `sources` are as they are now. `copies` are the bytes that still have to be written into the
    project, by path, and `origins` what is to be remembered then.
    """

    sheet: str
    sources: tuple[Source, ...]
    copies: dict[str, bytes]
    origins: dict[str, Origin]


class Stamps:
    """When files were last seen, so that only those that were touched need to be read."""

    def __init__(self) -> None:
        self._seen: dict[str, tuple[int, int] | None] = {}

    def touched(self, path: str) -> bool:
        """Whether a file was touched since it was last asked about, or was never."""
        try:
            status = Path(path).stat()
            stamp = (status.st_mtime_ns, status.st_size)
        except OSError:
            stamp = None
        known = path in self._seen
        before = self._seen.get(path)
        self._seen[path] = stamp
        return not known or before != stamp


def watched(project: Project, folder: Path, origins: Mapping[str, Origin]) -> dict[str, list[str]]:
    """The files each sheet is made from: those in the project, and where they came from."""
    files: dict[str, list[str]] = {}
    for sheet in project.sheets:
        paths = files[sheet.name] = [str(folder / s.path) for s in sheet.sources]
        paths += [origins[s.path].path for s in sheet.sources if s.path in origins]
        if len(sheet.sources) > 1:  # a folder that frames come to, or go from
            paths += sorted({str(Path(path).parent) for path in paths})
    return files


def sequences_by_file(project: Project, folder: Path) -> dict[Path, str]:
    """The sheets of numbered pictures, by each file that they were gathered from."""
    origins = Origins(folder).all()
    return {
        file.resolve(): sheet.name
        for sheet in project.sheets
        if len(sheet.sources) > 1
        for file in _places(sheet, folder, origins)
    }


def _places(sheet: Sheet, folder: Path, origins: Mapping[str, Origin]) -> dict[Path, Source]:
    """The sources of a sheet by the files that they are gathered from."""
    return {
        Path(origins[s.path].path) if s.path in origins else folder / s.path: s
        for s in sheet.sources
    }


def saved_outside(sheet: Sheet, art: Art, origins: Mapping[str, Origin]) -> Saved | None:
    """What the sheet's files hold now; None when they hold what was taken in. `origins` says
    where pictures came from, by their path in the project. Numbered pictures are those that lie
    there now: one that came since is a new frame, one that is gone is none any more.

    Raises Refusal, with one sentence, when a file is gone or is no picture any more.
    """
    saved = Saved(sheet.name, (), {}, {})
    files = _files_now(sheet, art.folder, origins)
    sources = tuple(
        _new_frame(file, sheet, art, saved)
        if source is None
        else _as_it_is(source, art, origins.get(source.path), saved)
        for file, source in files
    )
    if [one.content for one in sources] == [one.content for one in sheet.sources]:
        return None
    check_area(
        Size(sum(s.size.width for s in sources), max(s.size.height for s in sources)), sheet.name
    )
    return Saved(sheet.name, sources, saved.copies, saved.origins)


def _files_now(
    sheet: Sheet, folder: Path, origins: Mapping[str, Origin]
) -> list[tuple[Path, Source | None]]:
    """The files of a sheet as they lie there now, each with the source that it was so far."""
    known = _places(sheet, folder, origins)
    beside = siblings(next(iter(known))) if len(known) > 1 else []
    left = [path for path in known if path in beside]
    joined = any(path not in beside and path.is_file() for path in known)
    if not left or joined or left != [path for path in beside if path in known]:
        return list(known.items())  # no folder of frames, but what somebody joined in this order
    gathered = max(_touched(folder / source.path) for source in sheet.sources)
    there = [path for path in beside if path in known or _touched(path) > gathered]
    return [(path, known.get(path)) for path in there]


def _touched(path: Path) -> int:
    """When a file was written or came where it lies, in nanoseconds; 0 for one that is gone."""
    try:
        status = path.stat()
    except OSError:
        return 0
    return max(status.st_mtime_ns, status.st_ctime_ns)


def _new_frame(path: Path, sheet: Sheet, art: Art, saved: Saved) -> Source:
    """A numbered picture that came since the others were taken in."""
    data = read_bytes(path)
    picture, frames = decode_frames(data, path.name)
    content = content_hash(data)
    art.put(data, picture)
    size = Size(picture.shape[1], picture.shape[0])
    if path.is_relative_to(art.folder):
        return Source(path.relative_to(art.folder).as_posix(), content, size, frames)
    stem, ending = file_stems([path.stem])[0], path.suffix.lower()
    inside = str(PurePosixPath(sheet.sources[0].path).parent / f"{stem}-{content[:8]}{ending}")
    saved.copies[inside] = data
    saved.origins[inside] = Origin(str(path.resolve()), content)
    return Source(inside, content, size, frames)


def replaced(sheet: Sheet, art: Art, path: Path) -> Saved:
    """The sheet with the picture of another file in place of its own, as if it was saved outside.
    Raises Refusal for a sheet of several pictures, or what is no picture."""
    if len(sheet.sources) > 1:
        raise Refusal(
            "“{name}” is made of several pictures. Keep them apart first.", name=sheet.name
        )
    data = read_bytes(path)
    picture, frames = decode_frames(data, path.name)
    art.put(data, picture)
    content = content_hash(data)
    inside = f"art/{PurePosixPath(sheet.sources[0].path).stem}-{content[:8]}{path.suffix.lower()}"
    source = Source(inside, content, Size(picture.shape[1], picture.shape[0]), frames)
    origin = Origin(str(path.resolve()), content)
    return Saved(sheet.name, (source,), {inside: data}, {inside: origin})


def _as_it_is(source: Source, art: Art, origin: Origin | None, saved: Saved) -> Source:
    outside = _saved_at_origin(origin)
    data = outside or read_inside(art.folder, source.path)
    content = content_hash(data)
    if content == source.content:
        return source
    picture, frames = decode_frames(data, Path(source.path).name)
    if origin is not None and outside is not None:
        saved.copies[source.path] = data
        saved.origins[source.path] = Origin(origin.path, content)
    art.put(data, picture)
    return Source(source.path, content, Size(picture.shape[1], picture.shape[0]), frames)


def _saved_at_origin(origin: Origin | None) -> bytes | None:
    """What the original holds where it was drawn, if it was saved since it was taken in."""
    if origin is None:
        return None
    try:
        data = read_bytes(Path(origin.path))
    except Refusal:
        return None
    return data if data and content_hash(data) != origin.content else None
