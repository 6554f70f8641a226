"""What the guide promises, checked after every act whoever does it: see docs/promises.md."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from runpy import run_path
from tempfile import TemporaryDirectory
from types import SimpleNamespace

import numpy as np

from rushweed.core.bale.bundle import make_bundle
from rushweed.core.bale.subset import chosen_subset
from rushweed.core.bale.writing import write_bundle
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.project import files
from rushweed.core.project.level import Level, bounds
from rushweed.core.project.project import Project
from rushweed.core.project.references import lost_references
from rushweed.core.project.rules import Recipe
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.values import Point, Rect
from rushweed.core.walk.picturing import picture_with_walker
from rushweed.core.walk.walker import Ground
from rushweed.core.weave.drawing import Scene, view_around
from rushweed.core.weave.purposes import Purposes
from tests.conftest import ROOT

READER = SimpleNamespace(**run_path(str(ROOT / "examples" / "read_bundle.py")))
"""The reader of bundles that knows nothing of Rushweed."""
FAR = 100_000
STROKES = ("Painted on", "Drew a", "Filled", "Repeated", "Moved a part", "Copied a part")
STANDS_ANEW = ("Cut", "Stood", "Put the pivot", "Copied a pivot", "Moved the pivot", "Took")
"""Words of acts that say where pieces stand."""


def broken(before: Project, after: Project, art: Art, words: str, guards: bool) -> Iterator[str]:
    """The promises that one act broke, in a sentence each."""
    yield from _moved_off_their_pixels(before, after, words)
    yield from _given_again(before, after)
    lost = set(lost_references(after)) - set(lost_references(before))
    if lost:
        yield f"something refers to what is not there: {lost}"
    if guards and words.startswith(STROKES):
        yield from _replaced(before, after, art)


def broken_on_disk(project: Project) -> Iterator[str]:
    """Saved and opened again it is equal."""
    with TemporaryDirectory() as folder:
        files.save(project, Path(folder))
        if files.load(Path(folder)) != project:
            yield "saved and opened it is another project"


def broken_pictures(project: Project, art: Art) -> Iterator[str]:
    """What Weave shows, Walk shows, and so does a stranger's reader of the bundle; of pieces that
    are gone there is nothing in it."""
    project = chosen_subset(project, Recipe("Game"))
    for level in project.levels[:2]:
        if not bounds(level).area or not project.sheets:
            continue
        view = _view(project, level)
        shown = Scene(project, art).level(level, view)
        at = Ground(project, level.name)
        away = replace(at.begin(), x=view.x - FAR, y=view.bottom + FAR)
        walked = picture_with_walker(Scene(project, art), at, away, view)
        if not np.array_equal(walked, shown):
            yield f"Walk shows {level.name} otherwise than Weave"
        with TemporaryDirectory() as folder:
            place = Path(folder)
            write_bundle(make_bundle(project, art, Recipe("Game"), effort=0), place)
            bundle = READER.Bundle(place)
            entry = next(one for one in bundle.manifest["levels"] if one["name"] == level.name)
            read = np.asarray(READER.View(bundle, entry, tuple(view)).draw())
            if not np.array_equal(read, shown[..., :3]):
                yield f"the bundle shows {level.name} otherwise than Weave"


def _view(project: Project, level: Level) -> Rect:
    area, (width, height) = bounds(level), project.rules.tile
    middle = Point((area.x + area.width / 2) * width, (area.y + area.height / 2) * height)
    return view_around(level.start or middle, project.rules.resolution)


def _moved_off_their_pixels(before: Project, after: Project, words: str) -> Iterator[str]:
    """On a picture that is the same, what was set on a pixel stays there when cuts change."""
    old = {sheet.name: sheet for sheet in before.sheets}
    for sheet in after.sheets:
        known = old.get(sheet.name)
        if known is None or known is sheet or _geometry(known) != _geometry(sheet):
            continue
        pieces = {piece.number: piece for piece in known.pieces}
        for piece in sheet.pieces:
            one = pieces.get(piece.number)
            if one is None or one.rect == piece.rect:
                continue
            same_stand = not one.pivot_set or _stands(one) == _stands(piece)
            if not same_stand and not words.startswith(STANDS_ANEW):
                yield f"the pivot of {sheet.name} {piece.number} went off its pixel: {words}"
            both = one.shapes and piece.shapes and len(one.shapes) == len(piece.shapes)
            if both and _corners(one) != _corners(piece):
                yield f"a shape of {sheet.name} {piece.number} went off its pixels: {words}"


def _geometry(sheet: Sheet) -> object:
    return picture_key(sheet)


def _stands(piece: Piece) -> tuple[float, float]:
    return piece.rect.x + piece.pivot.x, piece.rect.y + piece.pivot.y


def _corners(piece: Piece) -> list[tuple[float, float]]:
    rings = (ring for shape in piece.shapes or () for ring in shape.form.rings)
    x, y = piece.rect.x, piece.rect.y
    return [(round(x + c.x, 3), round(y + c.y, 3)) for ring in rings for c in ring]


def _given_again(before: Project, after: Project) -> Iterator[str]:
    """A number is never given to another piece."""
    if after.next_number < before.next_number:
        yield "a number may be given again"
    known = {piece.number for _, piece in before.pieces()}
    known |= {piece.number for sheet in before.sheets for piece in sheet.earlier}
    known |= {gone.piece.number for sheet in before.sheets for gone in sheet.missing}
    for _, piece in after.pieces():
        if piece.number not in known and piece.number < before.next_number:
            yield f"the number {piece.number} was given again"


def _replaced(before: Project, after: Project, art: Art) -> Iterator[str]:
    """No cell is taken by what serves another purpose."""
    old = {level.name: level for level in before.levels}
    for level in after.levels:
        known = old.get(level.name)
        if known is None or len(known.layers) != len(level.layers):
            continue
        purposes = Purposes(before, art, known)
        for was, now in zip(known.layers, level.layers, strict=True):
            if was.cells is now.cells:
                continue
            area = was.cells.bounds()
            if not area.area:
                continue
            olds, news = was.cells.window(area)[0], now.cells.window(area)[0]
            hems = {tile.piece for hem in before.hems for tile in hem.tiles}
            pairs = np.unique(np.stack([olds.ravel(), news.ravel()]), axis=1).T.tolist()
            for one, other in pairs:
                if one and other and one != other and not {one, other} <= hems:
                    served = {purposes.known(one), purposes.known(other)} - {""}
                    if len(served) == 2:
                        yield f"{other} replaced {one}, which serves another purpose"
