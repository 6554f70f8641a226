"""Every finding of a project."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import suppress

from rushweed.core.findings import bale, bound, cut, gather, gauge, names, walk, weave
from rushweed.core.findings.finding import Finding
from rushweed.core.gather.art import Art
from rushweed.core.gather.enlargement import enlargement_of
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import treatment_of
from rushweed.core.values import Refusal

CHECKS = (
    gather.picture_unreadable,
    gather.picture_gone,
    gather.badly_enlarged,
    gather.no_licence,
    gather.no_author,
    gather.unknown_licence,
    cut.not_cut,
    cut.equal_names,
    cut.past_the_edge,
    cut.overlaps,
    cut.empty_pieces,
    cut.missing_pieces,
    gauge.other_tile_size,
    gauge.other_pixel_size,
    gauge.blurred_pixels,
    gauge.jagged_paint,
    gauge.wrong_colours,
    gauge.wrong_sides,
    gauge.bleeding_edges,
    gauge.companion_sizes,
    gauge.wandering_pivots,
    gauge.fractional_pivots,
    bound.undecided_in_level,
    bound.floats_and_sinks,
    bound.doubtful_shapes,
    bound.unknown_kinds,
    bound.still_paths,
    bound.small_steps_in_levels,
    weave.missing_pieces,
    weave.misfitting_tiles,
    weave.no_start,
    weave.uneven_props,
    weave.enlarged_props,
    walk.walking_troubles,
    walk.feet_beside_the_ground,
    names.lost_names,
    names.doubled_names,
    names.unlisted_files,
)


SLOW_CHECKS = (bale.over_budget,)
"""Those that make bundles; nobody waits for them in the window, where Bale tells the same."""


def find_all(project: Project, art: Art, slow: bool = False) -> list[Finding]:
    """All findings, in the order of the stations; the slow ones as well where they are wanted."""
    found = [finding for found in find_each(project, art) for finding in found]
    checks = SLOW_CHECKS if slow else ()
    return [*found, *(finding for check in checks for finding in check(project, art))]


def find_each(project: Project, art: Art) -> Iterator[list[Finding]]:
    """The findings of one check after the other. Before that each sheet is looked at by itself,
    which finds nothing yet: one can stop between sheets, and each picture is read once."""
    for sheet in project.sheets:
        _look_at(project, art, sheet)
        yield []
    for check in CHECKS:
        yield list(check(project, art))


def _look_at(project: Project, art: Art, sheet: Sheet) -> None:
    """Have at hand what checks ask of a sheet's pixels."""
    with suppress(Refusal):
        art.check(sheet)
        enlargement_of(art, sheet)
        linear = treatment_of(project, sheet).filter == "linear"
        (gauge.is_pixel_art if linear else gauge.is_painted)(art, sheet)
