"""Findings of Gauge."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from functools import partial

import numpy as np

from rushweed.core.arrays import Whole
from rushweed.core.cut.rules_from_art import choose_tile, tile_of, tile_sizes, tile_words
from rushweed.core.cut.steadying import unrest
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art, picture_key
from rushweed.core.gather.banded import banded
from rushweed.core.gather.pictures import Picture
from rushweed.core.gather.solid import solid
from rushweed.core.gauge.compression.costs import LOSSLESS, Loss, cost_key, known_treated
from rushweed.core.gauge.compression.palette import fits_palette
from rushweed.core.gauge.compression.treated import loss_of
from rushweed.core.gauge.lighting import companions, normals_of
from rushweed.core.gauge.pivots import align_pivots, from_foot, round_pivots
from rushweed.core.gauge.sides import allowed_size, needed_sides
from rushweed.core.gauge.treating import set_filter, set_pixels_per_unit, set_point
from rushweed.core.project.project import Project
from rushweed.core.project.rules import Compression, Treatment
from rushweed.core.project.sheet import Piece, Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Refusal
from rushweed.core.words import say, say_of, some

FEW_COLOURS, MANY_COLOURS = 64, 1500
SOFT = 12
"""Neighbours in painted art mostly differ by no more than this, of 255."""


def other_pixel_size(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose art pixels are not as large as the ground rules say."""
    usual = project.rules.pixels_per_unit
    owns = {sheet.name: treatment_of(project, sheet).pixels_per_unit for sheet in project.sheets}
    larger = tuple(name for name, own in owns.items() if own < usual)
    smaller = tuple(name for name, own in owns.items() if own > usual)
    for names in filter(None, (larger, smaller)):
        numbers = some([str(number) for number in sorted({owns[name] for name in names})])
        yield Finding(
            "other-pixel-size",
            "Gauge",
            _other_size(names, names is larger).format(
                name=names[0], count=len(names), some=numbers, usual=usual
            ),
            say("The art pixels of a game should be of one size on the screen."),
            some(names),
            names[0],
            mend_words=say("Set {usual}", usual=usual),
            mend=partial(set_pixels_per_unit, sheets=names, number=usual),
            sheets=names,
        )


def _other_size(names: Sequence[str], larger: bool) -> str:
    if larger and len(names) == 1:
        return say("{name} has larger pixels than the rules say: {some} px per unit, not {usual}.")
    if larger:
        return say(
            "{count} sheets have larger pixels than the rules say: {some} px per unit, not {usual}."
        )
    if len(names) == 1:
        return say("{name} has smaller pixels than the rules say: {some} px per unit, not {usual}.")
    return say(
        "{count} sheets have smaller pixels than the rules say: {some} px per unit, not {usual}."
    )


def other_tile_size(project: Project, art: Art) -> Iterator[Finding]:
    """Most tilesets drawn for other tiles than those of the ground rules."""
    tile = project.rules.tile
    sizes = tile_sizes(project.sheets)
    most, count = max(sizes.items(), key=lambda pair: pair[1], default=(tile, 0))
    if most == tile or count <= sizes[tile]:
        return
    names = tuple(sheet.name for sheet in project.sheets if tile_of(sheet) == most)
    shown = tile_words(most)
    yield Finding(
        "other-tile-size",
        "Gauge",
        say_of(
            count,
            "1 sheet is drawn for {shown} px tiles; the project says {other}.",
            "{count} sheets are drawn for {shown} px tiles; the project says {other}.",
            shown=shown,
            other=tile_words(tile),
        ),
        say("Painted side by side they overlap, or leave gaps between them."),
        some(names),
        names[0],
        mend_words=say("Make {size} the rule", size=shown),
        mend=partial(choose_tile, tile=most),
        sheets=names,
    )


def blurred_pixels(project: Project, art: Art) -> Iterator[Finding]:
    """Pixel art that would be drawn with linear filtering."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter == "linear" and is_pixel_art(art, sheet):
            yield Finding(
                "blurred-pixels",
                "Gauge",
                say("{name} is pixel art, but is drawn with linear filtering.", name=sheet.name),
                say("Its pixels will look blurred in the game."),
                sheet.name,
                sheet.name,
                mend_words=say("Draw it nearest"),
                mend=partial(set_filter, sheets=(sheet.name,), choice="nearest"),
            )


def jagged_paint(project: Project, art: Art) -> Iterator[Finding]:
    """Painted art that would be drawn with nearest sampling."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter == "nearest" and is_painted(art, sheet):
            yield Finding(
                "jagged-paint",
                "Gauge",
                say(
                    "{name} is painted softly, but is drawn with nearest sampling.", name=sheet.name
                ),
                say("Wherever the game draws it larger, smaller or turned, it will look jagged."),
                sheet.name,
                sheet.name,
                mend_words=say("Draw it linear"),
                mend=partial(set_filter, sheets=(sheet.name,), choice="linear"),
            )


def wrong_colours(project: Project, art: Art) -> Iterator[Finding]:
    """Pixel art in a form that changes its pixels; how many, where that was worked out."""
    for sheet in project.sheets:
        treatment = treatment_of(project, sheet)
        if treatment.compression.form in LOSSLESS or not is_pixel_art(art, sheet):
            continue
        loss = _loss(art, sheet, treatment)
        fits = treatment.compression.form == "palette" and _fits(art, sheet, treatment)
        if fits or (loss is not None and not loss.changed):
            continue
        form = treatment.compression.form
        what = say(
            "{name} is pixel art, but {form} changes its colours.", name=sheet.name, form=form
        )
        if loss is not None:
            count = say_of(loss.changed, "1 pixel", "{count} pixels")
            share = f"{loss.share * 100:.0f} %"
            what = say(
                "{name} is pixel art, and {form} changes {count} of it, {share}.",
                name=sheet.name,
                form=form,
                count=count,
                share=share,
            )
        yield Finding(
            "wrong-colours",
            "Gauge",
            what,
            say("Squares of wrong colours will be seen in the game."),
            sheet.name,
            sheet.name,
            mend_words=say("Keep it lossless"),
            mend=partial(set_point, sheets=(sheet.name,), point="compression", value=Compression()),
        )


def wrong_sides(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets whose form needs sides that they are not given."""
    for sheet in project.sheets:
        treatment = treatment_of(project, sheet)
        needed = needed_sides(treatment)
        if needed == "any" or allowed_size(sheet.size, treatment.sides) == allowed_size(
            allowed_size(sheet.size, treatment.sides), needed
        ):
            continue
        kind = say("powers of two") if needed == "power of two" else say("multiples of four")
        form = treatment.compression.form + (say(" with mipmaps") if treatment.mipmaps else "")
        yield Finding(
            "wrong-sides",
            "Gauge",
            say(
                "{name} is {size} px; {form} wants sides that are {kind}.",
                name=sheet.name,
                size=sheet.size,
                form=form,
                kind=kind,
            ),
            say("Some graphics hardware will not load it, or will stretch it."),
            sheet.name,
            sheet.name,
            mend_words=say("Pad it"),
            mend=partial(set_point, sheets=(sheet.name,), point="sides", value=needed),
        )


def bleeding_edges(project: Project, art: Art) -> Iterator[Finding]:
    """Sheets drawn with linear filtering whose pieces lie right beside each other on the page."""
    for sheet in project.sheets:
        treatment = treatment_of(project, sheet)
        if treatment.filter == "linear" and not treatment.extrude and len(sheet.pieces) > 1:
            yield Finding(
                "bleeding-edges",
                "Gauge",
                say(
                    "{name} is drawn with linear filtering, but its edges are not repeated.",
                    name=sheet.name,
                ),
                say("Lines of what lies beside a piece on the page will show at its edges."),
                sheet.name,
                sheet.name,
                mend_words=say("Repeat 1 px"),
                mend=partial(set_point, sheets=(sheet.name,), point="extrude", value=1),
            )


def companion_sizes(project: Project, art: Art) -> Iterator[Finding]:
    """Normal maps that do not fit what they light."""
    for name, companion in companions(project).items():
        sheet = next((sheet for sheet in project.sheets if sheet.name == name), None)
        if sheet is None:
            continue
        try:
            normals_of(art, sheet, companion)
        except Refusal as refusal:
            yield Finding(
                "companion-size",
                "Gauge",
                str(refusal),
                say("It would light other pixels than it was drawn for."),
                companion.name,
                companion.name,
            )


def wandering_pivots(project: Project, art: Art) -> Iterator[Finding]:
    """Animations whose frames would stand steadier with their pivots at one place."""
    for sheet in project.sheets:
        pieces = {piece.number: piece for piece in sheet.pieces}
        for animation in sheet.animations:
            frames = tuple(pieces[frame] for frame in animation.frames if frame in pieces)
            if len({from_foot(piece) for piece in frames}) > 1 and _would_rest(art, sheet, frames):
                numbers = frozenset(piece.number for piece in frames)
                yield Finding(
                    "wandering-pivot",
                    "Gauge",
                    say(
                        "The pivots of {animation} in {name} differ from frame to frame.",
                        animation=animation.name,
                        name=sheet.name,
                    ),
                    say("The figure will jump about while it plays."),
                    sheet.name,
                    sheet.name,
                    tuple(sorted(numbers)),
                    mend_words=say("Put all where most are"),
                    mend=partial(align_pivots, numbers=numbers),
                )


def _would_rest(art: Art, sheet: Sheet, frames: tuple[Piece, ...]) -> bool:
    """Whether frames shake less with aligned pivots, and neither feet nor middles more."""

    def look() -> bool:
        mask = solid(art.picture(sheet))
        alone = Project(sheets=(replace(sheet, pieces=frames),))
        aligned = align_pivots(alone, frozenset(piece.number for piece in frames))
        now, then = unrest(frames, mask), unrest(aligned.sheets[0].pieces, mask)
        return then != now and then[0] <= now[0] and then[1] <= now[1]

    try:
        key = ("rest", picture_key(sheet), tuple((p.rect, p.standing) for p in frames))
        return art.found(sheet, bool, key, look)
    except Refusal:
        return False


def fractional_pivots(project: Project, art: Art) -> Iterator[Finding]:
    """Pieces of pixel art that stand between pixels."""
    for sheet in project.sheets:
        if treatment_of(project, sheet).filter != "nearest":
            continue
        between = [p.number for p in sheet.pieces if any(side % 1 for side in p.pivot)]
        if between:
            count = say_of(len(between), "1 piece stands", "{count} pieces stand")
            yield Finding(
                "fractional-pivot",
                "Gauge",
                say("{count} between pixels in {name}.", count=count, name=sheet.name),
                say("Its pixels will shimmer, or be drawn a pixel beside their place."),
                sheet.name,
                sheet.name,
                tuple(between),
                mend_words=say("Round the pivots"),
                mend=partial(round_pivots, numbers=frozenset(between)),
            )


def _fits(art: Art, sheet: Sheet, treatment: Treatment) -> bool:
    """Whether the palette of a sheet's treatment holds it exactly."""
    colours = treatment.compression.colours
    key = ("fits", picture_key(sheet), colours)
    return art.found(sheet, bool, key, lambda: fits_palette(art.picture(sheet), colours))


def _loss(art: Art, sheet: Sheet, treatment: Treatment) -> Loss | None:
    """What the form of a sheet does to it, if that was worked out before."""
    known = known_treated(art, sheet, treatment)
    if known is None:
        return None
    return art.memory.get(
        ("loss", *cost_key(sheet, treatment)),
        lambda: loss_of(art.picture(sheet), known.picture),
    )


def is_pixel_art(art: Art, sheet: Sheet) -> bool:
    """Whether a picture has few colours and hard edges of its alpha."""

    def look() -> bool:
        picture = art.picture(sheet)
        hard = bool(np.isin(picture[..., 3], (0, 255)).all())
        return hard and _colours(picture, FEW_COLOURS) <= FEW_COLOURS

    return _is(art, sheet, "pixel art", look)


def is_painted(art: Art, sheet: Sheet) -> bool:
    """Whether a picture has very many colours that mostly differ little from their neighbours."""

    def look() -> bool:
        picture = art.picture(sheet)
        if min(picture.shape[:2]) < 2 or _colours(picture, MANY_COLOURS) < MANY_COLOURS:
            return False
        moved = _steps(picture)[1:]
        return bool(moved.any() and 2 * moved[: SOFT + 1].sum() >= moved.sum())

    return _is(art, sheet, "painted", look)


def _steps(picture: Picture) -> Whole:
    """How many pixels differ by 0, 1, … 255 from the one to their right, in what differs most."""
    counts = np.zeros(256, np.int64)
    for band in banded(picture):
        here, there = band[:, :-1], band[:, 1:]
        apart = np.maximum(here, there) - np.minimum(here, there)
        step = np.maximum.reduce([apart[..., channel] for channel in range(4)])
        counts += np.bincount(step.ravel(), minlength=256)
    return counts


def _is(art: Art, sheet: Sheet, what: str, look: Callable[[], bool]) -> bool:
    """Whether a sheet's picture is something; what cannot be read is not."""
    try:
        return art.found(sheet, bool, (what, picture_key(sheet)), look)
    except Refusal:
        return False


def _colours(picture: Picture, most: int) -> int:
    """How many colours a picture has, or one more than `most` where there are more."""
    found = np.empty(0, np.uint32)
    for band in banded(np.ascontiguousarray(picture)):
        found = np.union1d(found, band.view(np.uint32))
        if len(found) > most:
            return most + 1
    return len(found)
