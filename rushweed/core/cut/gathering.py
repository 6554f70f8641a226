"""Taking pictures into a project, and accepting what was seen in them."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import replace
from functools import lru_cache, partial
from itertools import pairwise
from pathlib import Path, PurePosixPath

from rushweed.core.arrays import Mask
from rushweed.core.cut.animations import set_animation
from rushweed.core.cut.cutting import cut, cut_at
from rushweed.core.cut.inspect import LAYOUTS, Seen, enlarged, inspect, kind_of, known_of, list_of
from rushweed.core.cut.rules_from_art import follow_art
from rushweed.core.cut.seeing.packs import Pack, pack_of, seen_in_pack
from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.cut.steadying import stand_on_one_line
from rushweed.core.folder.inside import Inside
from rushweed.core.folder.names import file_stems
from rushweed.core.folder.saving import explain
from rushweed.core.gather.art import Art
from rushweed.core.gather.lists_beside import texts_beside
from rushweed.core.gather.open_raster import ENDING, layers_of
from rushweed.core.gather.origins import Origin, Origins
from rushweed.core.gather.picture_limits import check_area
from rushweed.core.gather.pictures import content_hash, decode, decode_frames, read_bytes
from rushweed.core.gather.relatives import join_relative, relatives
from rushweed.core.gather.sequences import are_counted, stem_of
from rushweed.core.gather.sheet_list import places_of_sources
from rushweed.core.gather.solid import solid
from rushweed.core.gather.sources import set_kind
from rushweed.core.orientation import turned
from rushweed.core.project.project import Project, free_name, taken_names, with_pieces, with_sheet
from rushweed.core.project.sheet import EvenCells, Kind, Layout, Piece, Sheet, Source
from rushweed.core.values import Refusal, Size
from rushweed.core.words import say

MOST_UNLIKE = 2.5
"""Frames of one animation are at most so many times as wide or high as those next to them."""
LOOKED_AT = 64
"""Of so many numbered pictures it is looked whether they are alike."""
USUAL_RATE = 10.0
"""Frames per second of numbered pictures, until somebody says otherwise."""


def take_in(art: Art, group: list[Path]) -> Sheet:
    """A sheet made of these files, which are copied into the project's folder.

    Raises Refusal when a file cannot be read or copied.
    """
    name = stem_of(group)
    sources = tuple(_take_in(art, path, name, len(group) > 1) for path in group)
    width, height = sum(s.size.width for s in sources), max(s.size.height for s in sources)
    check_area(Size(width, height), name)
    return Sheet(name, sources)


def add_sheets(project: Project, sheets: Sequence[Sheet]) -> tuple[Project, tuple[str, ...]]:
    """Add sheets under names that are free. Returns the project and those names."""
    taken = taken_names(project)
    added = []
    for sheet in sheets:
        added.append(replace(sheet, name=free_name(sheet.name, taken)))
        taken.add(added[-1].name)
    project = replace(project, sheets=(*project.sheets, *added))
    return project, tuple(sheet.name for sheet in added)


def as_sheets(art: Art, group: list[Path]) -> list[list[Path]]:
    """The files of a group, sheet by sheet: numbered pictures that are alike in size and kind are
    one sheet, others one each; so is each layer of an OpenRaster picture, which is unpacked into
    the project's art."""
    if len(group) > 1:
        return [group] if _are_frames(group) else [[path] for path in group]
    if group[0].suffix.lower() != ENDING:
        return [group]
    path = group[0]
    within = file_stems([path.stem])[0]
    layers = layers_of(read_bytes(path), path.name)
    places = [place_in_art(art.folder, f"art/{within}/{name}.png", data) for name, data in layers]
    return [[art.folder / place] for place in places]


def _are_frames(paths: list[Path]) -> bool:
    """Whether numbered pictures may be frames of one thing: each of nearly the size of the next,
    and not tilesets each."""
    pictures = [decode(read_bytes(path), path.name) for path in paths[:LOOKED_AT]]
    for side in (0, 1):
        lengths = [picture.shape[side] for picture in pictures]
        if any(max(two) > MOST_UNLIKE * min(two) for two in pairwise(lengths)):
            return False
    tilesets = sum(inspect(picture, "").kind == "tileset" for picture in pictures[:3])
    return 2 * tilesets < len(pictures[:3])


def gather(project: Project, art: Art, group: list[Path]) -> tuple[Project, str]:
    """Take in one sheet and add it. Returns the project and the new sheet's name."""
    project, names = add_sheets(project, [take_in(art, group)])
    return project, names[0]


def see(art: Art, sheet: Sheet) -> Seen:
    """What a sheet's stored picture seems to be. Kept, as long as the picture is the same."""
    key = sight_key(art, sheet)
    if len(sheet.sources) > 1 or sheet.sources[0].frames:
        return art.found(sheet, Seen, key, lambda: _see_frames(art, sheet))

    def look() -> Seen:
        picture, name = turned(art.stored(sheet), sheet.orientation), _first_stem(sheet)
        text = _list_of(art, sheet)
        return enlarged(inspect(picture, name, known_of(sheet), text), sheet.enlarged)

    return art.found(sheet, Seen, key, look)


def seen_before(art: Art, sheet: Sheet) -> Seen | None:
    """What was seen in a sheet's picture, if it was looked at already."""
    found: Seen | None = art.memory.find(sight_key(art, sheet))
    return found


def sight_key(art: Art, sheet: Sheet) -> Hashable:
    """All that decides what is seen in a sheet."""
    contents = tuple(source.content for source in sheet.sources)
    turn, name, text = sheet.orientation, _first_stem(sheet), _list_of(art, sheet)
    listed = _hash_of(text) if text else ""
    return ("seen", contents, listed, sheet.redrawn, name, turn, sheet.enlarged, known_of(sheet))


@lru_cache(maxsize=256)
def _hash_of(text: bytes) -> str:
    """The hash of a list, which is asked for whenever a card is looked at."""
    return content_hash(text)


def _list_of(art: Art, sheet: Sheet) -> bytes:
    """The text that lists what is on a sheet's picture, as long as that is as it was gathered."""
    as_gathered = (len(sheet.sources), sheet.orientation, sheet.enlarged) == (1, 0, 1)
    return art.list_of(sheet.sources[0].content) if as_gathered and not sheet.redrawn else b""


def _first_stem(sheet: Sheet) -> str:
    return _stem(sheet.sources[0].path)


@lru_cache(maxsize=4096)
def _stem(path: str) -> str:
    return PurePosixPath(path).stem


def see_in_pack(project: Project, art: Art, sheet: Sheet) -> Seen:
    """What a sheet seems to be, next to the others of its project, as far as these are known."""
    return seen_in_pack(see(art, sheet), sheet, pack_of(project.sheets, partial(seen_before, art)))


def waits(sheet: Sheet) -> bool:
    """Whether nobody said yet how a sheet is cut."""
    return sheet.layout is None and sheet.belongs is None


def doubtful(project: Project, seen: Callable[[Sheet], Seen | None]) -> list[str]:
    """The names of sheets that wait and should be looked at before what is seen in them is taken,
    as far as that is known; `seen` tells it. What belongs to another by its name and size is not
    among them."""
    related = relatives(project)
    alone = [sheet for sheet in project.sheets if waits(sheet) and sheet.name not in related]
    pack = pack_of(project.sheets, seen)
    return [sheet.name for sheet in alone if not _is_sure(seen, sheet, pack)]


def _is_sure(seen: Callable[[Sheet], Seen | None], sheet: Sheet, pack: Pack) -> bool:
    """Whether a sheet is plain to see next to the others, or nobody knows yet."""
    try:
        found = seen(sheet)
    except Refusal:
        return False
    return found is None or seen_in_pack(found, sheet, pack).is_sure


def accept(project: Project, art: Art, name: str) -> Project:
    """Set colour key, true pixel size and cuts of a sheet to what was seen in its picture, save
    what somebody decided; one that belongs to another by its name and size joins that. The first
    tileset says what the ground rules are."""
    relative = relatives(project).get(name)
    if relative is not None:
        return join_relative(project, name, relative)
    seen = see_in_pack(project, art, project.sheet(name))
    return follow_art(_accept_alone(project, art, name, seen), (name,))


def cut_again(project: Project, art: Art, names: Sequence[str]) -> Project:
    """Cut sheets as they are cut after a change of what is clear in them; one that waits, and one
    whose picture cannot be read, stays as it is."""
    for name in names:
        sheet = project.sheet(name)
        if sheet.layout is not None:
            try:
                project = cut(project, name, sheet.layout, solid(art.picture(sheet)))
            except Refusal:
                continue
    return project


def cut_as(project: Project, art: Art, name: str, layout: Layout) -> Project:
    """Cut a sheet like that because somebody said so. In all other points one that is cut for the
    first time is taken as seen; it is of the kind that such cuts make of it."""
    sheet = project.sheet(name)
    is_first = sheet.layout is None
    joins = is_first and name in relatives(project)
    if joins:
        project = accept(project, art, name)
    elif is_first:
        project = _with_seen_points(project, name, see(art, sheet))
    mask = solid(art.picture(project.sheet(name)))
    if "kind" not in sheet.decided:
        kind = kind_of(layout, mask)
        project = with_sheet(project, name, lambda old: replace(old, kind=kind))
    seen = see(art, sheet) if is_first or _list_of(art, sheet) else None
    if seen is not None and seen.listed:
        project = _cut_as_seen(_without_list(project, name, seen), name, seen, layout, mask)
    else:
        project = cut(project, name, layout, mask)
    if is_first and not joins:
        project = _animate_frames(project, name)
    if is_first:
        project = stand_on_one_line(project, name, mask)
    return follow_art(project, (name,))


def is_laid_out_as(sheet: Sheet, kind: Kind) -> bool:
    """Whether a sheet is cut, and so as pictures of a kind are."""
    return sheet.layout is not None and sheet.layout.kind == LAYOUTS[kind]


def cut_as_kind(project: Project, art: Art, names: Sequence[str], kind: Kind) -> Iterator[Project]:
    """Say what kind of picture sheets are, and cut those that are not laid out so as what is seen
    then tells. The last project has them all."""
    said = follow_art(set_kind(project, tuple(names), kind), names)
    sheets = [sheet for sheet in said.sheets if sheet.name in set(names)]
    pack = pack_of(said.sheets, partial(seen_before, art))
    for project in accept_all(said, art, [sheet.name for sheet in sheets if waits(sheet)]):
        yield project
    for sheet in sheets:
        if not waits(sheet) and not is_laid_out_as(sheet, kind):
            seen = seen_in_pack(see(art, sheet), sheet, pack)
            project = cut_as(project, art, sheet.name, seen.layout)
            yield project


def accept_sure(project: Project, art: Art, names: Sequence[str]) -> Iterator[Project]:
    """Accept what is plain to see in sheets, as `accept_all` does; what is not stays open."""
    for sheet in project.sheets:
        if waits(sheet):  # all are heard, be they taken or not
            with suppress(Refusal):
                see(art, sheet)
            yield project
    meant, taken = frozenset(names), project
    while True:  # what was taken may make others plain
        project = taken
        left = doubtful(project, partial(_see_those, art, meant))
        open_ones = (sheet.name for sheet in project.sheets if waits(sheet))
        plain = [name for name in open_ones if name in meant.difference(left)]
        if not plain:
            return
        for taken in accept_all(project, art, plain):
            yield taken


def _see_those(art: Art, names: frozenset[str], sheet: Sheet) -> Seen | None:
    """What is seen in a sheet, of other sheets than those only if they were looked at already."""
    return see(art, sheet) if sheet.name in names else seen_before(art, sheet)


def accept_all(project: Project, art: Art, names: Sequence[str]) -> Iterator[Project]:
    """Accept what was seen in many sheets, one after the other; the last project has them all.
    Those that are gone by now are passed over."""
    names = [sheet.name for sheet in project.sheets if sheet.name in set(names)]
    related = relatives(project)
    alone = frozenset(name for name in names if name not in related)
    pack = pack_of(project.sheets, partial(_see_those, art, alone))
    done: dict[str, Sheet] = {}
    number = project.next_number
    for name in names:
        if name not in related:
            sheet = project.sheet(name)
            seen = seen_in_pack(see(art, sheet), sheet, pack)
            part = Project(sheets=(sheet,), next_number=number)
            part = _accept_alone(part, art, name, seen)
            done[name], number = part.sheets[0], part.next_number
        yield project
    sheets = tuple(done.get(sheet.name, sheet) for sheet in project.sheets)
    project = replace(project, sheets=sheets, next_number=number)
    for name in names:
        if name in related:
            project = join_relative(project, name, related[name])
    yield follow_art(project, names)


def _accept_alone(project: Project, art: Art, name: str, seen: Seen) -> Project:
    project = _take_as_seen(project, art, name, seen)
    return stand_on_one_line(project, name, solid(art.picture(project.sheet(name))))


def _with_seen_points(project: Project, name: str, seen: Seen) -> Project:
    """What was seen in a sheet, save its cuts."""
    return with_sheet(
        project,
        name,
        lambda s: replace(s, kind=seen.kind, colour_key=seen.colour_key, pixel=seen.pixel),
    )


def _take_as_seen(project: Project, art: Art, name: str, seen: Seen) -> Project:
    project = _with_seen_points(project, name, seen)
    sheet = project.sheet(name)
    mask = solid(art.picture(sheet))
    if len({source.size for source in sheet.sources}) > 1:
        project = cut_at(project, name, places_of_sources(sheet), mask)
    else:
        project = _cut_as_seen(project, name, seen, seen.layout, mask)
    return _animate_frames(project, name)


def _cut_as_seen(project: Project, name: str, seen: Seen, layout: Layout, mask: Mask) -> Project:
    """Cut a sheet by one of the layouts that were seen in it; where a text beside the picture lists
    pieces, loose ones are these, as if each was put right by hand, and all have their names."""
    names = {one.rect: one.name for one in seen.listed}
    if not names or layout not in (seen.layout, seen.loose_layout):
        return cut(project, name, layout, mask)
    if isinstance(layout, EvenCells):
        project = cut(project, name, layout, mask)
    else:
        project = cut_at(project, name, list(names), mask)

    def edit(piece: Piece) -> Piece:
        by_hand = piece.by_hand or layout.kind == "loose pieces"
        return replace(piece, name=names.get(piece.rect, piece.name), by_hand=by_hand)

    numbers = frozenset(piece.number for piece in project.sheet(name).pieces)
    return with_pieces(project, numbers, edit)


def _without_list(project: Project, name: str, seen: Seen) -> Project:
    """The project with pieces that lie just where a list has them free to be cut otherwise."""
    places = {one.rect for one in seen.listed}
    pieces = project.sheet(name).pieces
    numbers = frozenset(piece.number for piece in pieces if piece.rect in places)
    return with_pieces(project, numbers, lambda piece: replace(piece, by_hand=False))


def _animate_frames(project: Project, name: str) -> Project:
    """Numbered pictures, and the frames of an animated one, are an animation of their own; where
    numbers are left out between, they may be anything."""
    sheet = project.sheet(name)
    frames = sheet.sources[0].frames
    if (len(sheet.sources) == 1 and frames is None) or len(sheet.pieces) < 2:
        return project
    if frames is None and not are_counted([_stem(source.path) for source in sheet.sources]):
        return project
    numbers = [piece.number for piece in sheet.pieces]
    rate = frames.rate if frames else USUAL_RATE
    return set_animation(project, name, sheet.name, numbers, rate)


def by_best_guesses(project: Project, art: Art, groups: Iterable[list[Path]]) -> Project:
    """Gather all groups of files and accept what is seen in each next to the others."""
    before = {sheet.name for sheet in project.sheets}
    for group in groups:
        project = gather_and_see(project, art, group)
    *_, project = accept_all(project, art, [s.name for s in project.sheets if s.name not in before])
    return project


def gather_and_see(project: Project, art: Art, group: list[Path]) -> Project:
    """Gather the sheets of a group of files and look at each, so that what cannot be read is
    refused before it is a part of the project."""
    for part in as_sheets(art, group):
        project, name = gather(project, art, part)
        see(art, project.sheet(name))
    return project


def _take_in(art: Art, path: Path, sheet: str, in_folder: bool) -> Source:
    data = read_bytes(path)
    picture, frames = decode_frames(data, path.name)
    art.put(data, picture)
    if not in_folder and frames is None:
        art.put_list(content_hash(data), list_of(picture, texts_beside(path)))
    size = Size(picture.shape[1], picture.shape[0])
    inside = _inside(path, art.folder)
    if inside is None:
        stem, ending = file_stems([sheet])[0], path.suffix.lower()
        named = f"{file_stems([path.stem])[0]}{ending}"
        inside = f"art/{stem}/{named}" if in_folder else f"art/{stem}{ending}"
        inside = place_in_art(art.folder, inside, data)
        Origins(art.folder).remember({inside: Origin(str(path.resolve()), content_hash(data))})
    return Source(inside, content_hash(data), size, frames)


def place_in_art(folder: Path, wanted: str, data: bytes) -> str:
    """Copy into the project under the wanted path, or the next free one if it holds other art.
    Returns the path. Raises Refusal when it cannot be written; nothing is ever written over."""
    inside, path, count = Inside(folder), PurePosixPath(wanted), 2
    try:
        while True:
            try:
                if not inside.holds(str(path)) or inside.read(str(path)) != data:
                    inside.write(str(path), data, replaces=False)
                return str(path)
            except FileExistsError:
                path = path.with_stem(f"{PurePosixPath(wanted).stem}-{count}")
                count += 1
    except OSError as problem:
        raise Refusal(explain(problem, folder / wanted)) from problem


def _inside(path: Path, folder: Path) -> str | None:
    resolved, root = path.resolve(), folder.resolve()
    return resolved.relative_to(root).as_posix() if resolved.is_relative_to(root) else None


def _see_frames(art: Art, sheet: Sheet) -> Seen:
    """Frames of one size are cells, side by side; a key must hold for all of them."""
    seen = inspect(art.stored(sheet))
    one = sheet.sources[0]
    if any(source.size != one.size for source in sheet.sources):
        sentence = say(
            "{count} numbered frames of several sizes, on one foot line", count=len(sheet.sources)
        )
        return replace(seen, kind="sheet", readings=(), sure=1.0, sentences=(sentence,))
    size, count = (
        (one.frames.size, one.frames.count) if one.frames else (one.size, len(sheet.sources))
    )
    cell = Size(size.width // seen.pixel, size.height // seen.pixel)
    columns = seen.size.width // size.width
    why = say("each frame is one")
    reading = Reading(EvenCells(cell), columns, -(-count // columns), 1.0, why)
    many = (
        "{count} frames, {cell} px each"
        if one.frames
        else "{count} numbered frames, {cell} px each"
    )
    sentence = say(many, count=count, cell=cell)
    readings = (reading, *seen.readings)
    return replace(seen, kind="sheet", readings=readings, sure=1.0, sentences=(sentence,))
