"""How far the work on each sheet and level has come."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from itertools import repeat
from operator import attrgetter, is_not, itemgetter

from rushweed.core.findings.finding import Finding
from rushweed.core.newest import for_newest_parts
from rushweed.core.project.project import NUMBER, Project, used_numbers
from rushweed.core.project.sheet import Sheet
from rushweed.core.project.treatments import ALIKE
from rushweed.ui.shell.trail import STATIONS, Stage

TICKS = ("Gather", "Cut", "Gauge", "Bound", "Weave")


@dataclass(frozen=True, slots=True)
class Tally:
    """The five ticks of a sheet: licence, cut, gauged, bound, used. None is a finding."""

    ticks: tuple[bool | None, ...]


def flagged_stations(findings: list[Finding]) -> dict[str, frozenset[str]]:
    """For each sheet the stations in which a finding waits."""
    flagged: dict[str, set[str]] = defaultdict(set)
    for finding in findings:
        for name in finding.about:
            flagged[name].add(finding.station)
    return {name: frozenset(stations) for name, stations in flagged.items()}


def tally(sheet: Sheet, flagged: frozenset[str], used: frozenset[int]) -> Tally:
    """What is done of a sheet, and where a finding waits: in the `flagged` stations."""
    done = _done(used, sheet)
    if not flagged:
        return Tally(done)
    pairs = zip(TICKS, done, strict=True)
    return Tally(tuple(None if name in flagged else tick for name, tick in pairs))


@for_newest_parts
def _done(used: frozenset[int], sheet: Sheet) -> tuple[bool, ...]:
    """What is done of a sheet, by the numbers of the pieces that levels use."""
    follows = sheet.belongs is not None
    return (
        bool(sheet.licence.identifier),
        follows or bool(sheet.pieces),
        follows or (bool(sheet.pieces) and sheet.differences == ALIKE),
        follows or any(map(is_not, map(attrgetter("shapes"), sheet.pieces), repeat(None))),
        bool(used) and not used.isdisjoint(map(NUMBER, sheet.pieces)),
    )


def stages(project: Project, findings: list[Finding], walked: int, baled: int) -> list[Stage]:
    """Every station as the trail shows it."""
    used = used_numbers(project)
    tallies = [_done(used, sheet) for sheet in project.sheets]
    sheets, levels = len(project.sheets), len(project.levels)
    done = [sum(map(itemgetter(place), tallies)) for place in range(4)]
    painted = sum(any(layer.cells.chunks for layer in lv.layers) for lv in project.levels)
    counts = [*((count, sheets) for count in done), (painted, levels), (walked, levels)]
    counts.append((baled, len(project.recipes)))
    waiting = [sum(f.station == name for f in findings) for name, _ in STATIONS]
    return [
        Stage(name, subtitle, count, total, waits)
        for (name, subtitle), (count, total), waits in zip(STATIONS, counts, waiting, strict=True)
    ]
