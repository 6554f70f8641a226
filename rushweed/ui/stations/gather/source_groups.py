"""The groups of Gather's slip: what a picture is, its key, its size, its licence."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import asdict, replace
from functools import partial

from rushweed.core.cut.gathering import (
    accept_all,
    accept_sure,
    cut_again,
    cut_as,
    cut_as_kind,
    doubtful,
    is_laid_out_as,
    see,
    seen_before,
    waits,
)
from rushweed.core.cut.reshaping import LARGEST_FACTOR, Turn, set_enlarged, set_pixel, turn_sheets
from rushweed.core.cut.seeing.ranked import Reading
from rushweed.core.gather.licences import duties, identifiers, spdx
from rushweed.core.gather.relatives import release_relative
from rushweed.core.gather.sources import set_colour_key, set_licence
from rushweed.core.project.project import Project
from rushweed.core.project.sheet import Kind, Sheet
from rushweed.core.project.sitting import Edit, Outcome
from rushweed.core.values import Colour, Refusal
from rushweed.core.words import said, say
from rushweed.ui.shell.binding import Bindings, common
from rushweed.ui.shell.controls import Choice, Field, button, label, row
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.shell.swatch import Swatch
from rushweed.ui.stations.common.kin import offer_kin
from rushweed.ui.stations.common.shared import sheets_words
from rushweed.ui.stations.gather.brought_back import BroughtBack
from rushweed.ui.stations.gather.made_to_fit import MadeToFit
from rushweed.ui.stations.gather.one_figure import OneFigure

KINDS: dict[Kind, str] = {
    "picture": "One picture",
    "sheet": "Even sheet of frames",
    "tileset": "Tileset",
    "loose": "Loose pieces",
}
NO_KEY = say("none")
PickColour = Callable[[Callable[[str, Colour], None]], None]
"""Lets the user click a colour on a picture, and tells the sheet and the colour."""


class SourceGroup(Group):
    """A group that works on the selected sheets."""

    def __init__(self, number: int, title: str, services: Services) -> None:
        super().__init__(number, title)
        self.services, self.desk = services, services.desk
        self.bound = Bindings(
            self.desk, self.selected, lambda: sheets_words(self.names), at=lambda: self.names
        )

    def do(self, words: str, edit: Edit) -> None:
        """Make an edit of the selected sheets, beside the window where they are large."""

        def told(outcome: Outcome | None) -> None:
            if outcome is None:
                self.show_sheets(self.selected())

        self.services.beside.do(words, edit, self.names, told)

    @property
    def names(self) -> tuple[str, ...]:
        return self.desk.selection.sheets

    def selected(self) -> list[Sheet]:
        return self.desk.selection.chosen(self.desk.project)

    def show_sheets(self, sheets: list[Sheet]) -> None:
        """Show what these sheets have in common."""
        raise NotImplementedError


class KindGroup(SourceGroup):
    """What pictures are, and taking them as they were seen."""

    def __init__(self, number: int, services: Services) -> None:
        super().__init__(number, say("What it is"), services)
        self._kind = Choice(say("Kind of picture"), choices=said(KINDS))
        self._kind.entered.connect(self._set_kind)
        self._as_seen = button(say("Take all as seen"), self._accept_selected)
        self._alone = button(say("Let it stand alone"), self._release)
        self.add(self._kind)
        self._next = button(
            say("Next to look at"), self.go_to_next, tip=services.commands.tip("gather.next")
        )
        self._likeliest = button(
            say("Take the likeliest"),
            self.take_likeliest,
            tip=say("The first reading of all that are to be looked at; N then leads to each"),
        )
        self._taken: list[str] = []
        self.add(row(self._as_seen, self._next, self._alone, None))
        self.add(row(self._likeliest, None))
        self._figure = OneFigure(self.desk)
        self.add(self._figure)

    def show_sheets(self, sheets: list[Sheet]) -> None:
        kind = common(sheet.kind for sheet in sheets)
        waiting = any(waits(sheet) for sheet in sheets)
        self._doubtful = self._to_look_at()
        if len(sheets) == 1:  # and is seen by whoever selected it
            self._taken = [name for name in self._taken if name != sheets[0].name]
        told = say("not said yet") if waiting else "" if sheets else " "
        self._kind.show_value(None if waiting else kind, told)
        belongs = common(sheet.belongs for sheet in sheets)
        self._as_seen.setVisible(waiting)
        self._next.setVisible(bool(self._doubtful or self._taken))
        self._likeliest.setVisible(bool(self._doubtful))
        self._alone.setVisible(belongs is not None)
        self._figure.show_sheets(sheets)
        told = say("Not cut yet. Take it as seen, or open Cut.") if waiting else ""
        if self._doubtful:
            told = say(
                "{n} to look at: 1, 2 or 3 takes what stands below the picture, 0 opens Cut.",
                n=len(self._doubtful),
            )
        elif self._taken:
            told = say("{n} taken as likeliest: N leads to each.", n=len(self._taken))
        if belongs is not None:
            told = say("It is cut as {what} is.", what=belongs.to)
        self.result.tell(told, warns=waiting or bool(self._doubtful or self._taken))

    def accept(self, names: list[str]) -> None:
        """Take sheets as they were seen, as one step of undo; many or large ones while the window
        goes on."""
        words = say("Took {what} as seen", what=sheets_words(tuple(names)))
        art = self.desk.art
        self.services.beside.do_stepwise(words, lambda p: accept_all(p, art, names), names)

    def _accept_selected(self) -> None:
        """Take what is plain to see; one sheet alone is taken as likeliest."""
        names = [sheet.name for sheet in self.selected() if waits(sheet)]
        if len(names) > 1:
            self._accept_sure(names)
        elif names:
            self.accept(names)
        else:
            self.go_to_next()

    def _accept_sure(self, names: list[str]) -> None:
        """Take those that are plain to see, also of those that nobody looked at yet."""
        left = set(self._to_look_at())
        if left.issuperset(names):
            self.go_to_next()
            return
        words = say("Took {what} as seen", what=sheets_words(tuple(names)))
        art, project = self.desk.art, self.desk.project
        unknown = any(seen_before(art, project.sheet(name)) is None for name in names)
        if unknown or left.intersection(names):  # nobody knows how many: each makes others plain
            words = say("Took what is plain to see")

        def sure(before: Project) -> Iterator[Project]:
            for after in accept_sure(before, art, names):
                yield before if after == before else after  # nothing taken is no step of undo

        self.services.beside.do_stepwise(words, sure, names, takes_long=unknown)

    def _to_look_at(self) -> list[str]:
        return doubtful(self.desk.project, self.services.sight.seen)

    def take(self, name: str, reading: Reading) -> None:
        """Cut a sheet as one of its readings says."""
        art = self.desk.art
        layout = see(art, self.desk.project.sheet(name)).offered(reading.layout)
        words = say("Chose how {name} is cut", name=name)

        def told(outcome: Outcome | None) -> None:
            if outcome is not None:
                self.go_to_next()
                offer_kin(self.services, name)

        self.services.beside.do(
            words, lambda project: cut_as(project, art, name, layout), (name,), told
        )

    def take_reading(self, place: int) -> None:
        """Cut the one sheet that is looked at as its reading in that place says."""
        name = self.names[0] if len(self.names) == 1 else ""
        looked_at = self.selected()[0] if name in self._to_look_at() else None
        seen = self.services.sight.in_pack(self.desk.project, looked_at) if looked_at else None
        if seen is None:
            self.go_to_next()
        elif place < len(seen.readings):
            self.take(name, seen.readings[place])

    def cut_by_hand(self) -> None:
        """None of its readings is right: cut the selected sheet by hand."""
        self.services.open_station("Cut")

    def take_likeliest(self) -> None:
        """Take the first reading of all that are to be looked at; `go_to_next` leads to each."""
        names = self._to_look_at()
        words, art = say("Took {what} as likeliest", what=sheets_words(tuple(names))), self.desk.art
        self._taken = names
        self.services.beside.do_stepwise(words, lambda p: accept_all(p, art, names), names)

    def go_to_next(self) -> None:
        """Select the next sheet that should be looked at, if there is one; those that were taken as
        likeliest come last, each once."""
        known = {sheet.name for sheet in self.desk.project.sheets}
        self._taken = [name for name in self._taken if name in known]
        names = self._to_look_at() or self._taken
        order = self.desk.project.sheets
        places = {sheet.name: place for place, sheet in enumerate(order)}
        here = max((places.get(name, -1) for name in self.names), default=-1)
        later = [name for name in names if places[name] > here] or names
        if later:
            chosen = replace(self.desk.selection, sheets=(later[0],), pieces=frozenset())
            self.desk.select(chosen)
        else:
            self.desk.said.emit(say("Nothing waits to be looked at."))

    def _release(self) -> None:
        sheets = self.names

        def edit(project: Project) -> Project:
            for name in sheets:
                project = release_relative(project, name)
            return project

        self.desk.do(say("Let {what} stand alone", what=sheets_words(sheets)), edit)

    def _set_kind(self, kind: Kind) -> None:
        """Say what the selected sheets are; they are cut as such, where they are not."""
        names, art = self.names, self.desk.art
        words = say("Set {what} to {kind}", what=sheets_words(names), kind=say(KINDS[kind]).lower())
        edit = partial(cut_as_kind, art=art, names=names, kind=kind)
        cut = [sheet.name for sheet in self.selected() if not is_laid_out_as(sheet, kind)]
        looks = sum(waits(sheet) for sheet in self.selected()) > 1  # at each of them anew
        self.services.beside.do_stepwise(words, edit, cut, takes_long=looks)


class KeyGroup(SourceGroup):
    """The flat colour that stands for nothing."""

    def __init__(self, number: int, services: Services, pick: PickColour) -> None:
        super().__init__(number, say("What stands for nothing"), services)
        self._pick = pick
        self._keyed = Bindings(
            self.desk,
            self._with_key,
            do=self.do,
            at=lambda: tuple(sheet.name for sheet in self._with_key()),
        )
        self._swatch = Swatch()
        self.key = Field(say("Colour that stands for nothing"), NO_KEY)
        self.key.setFixedWidth(84)
        self.key.entered.connect(self._set_key)
        tolerance = Stepper(say("Tolerance"), say("of 255"), 0, 255, width=110)
        self._point(tolerance, "tolerance", say("Set the tolerance to {value}"))
        self.add(
            row(
                self._swatch,
                self.key,
                button(say("Pick"), self._pick_key, tip=say("Click the colour on a picture")),
                button(say("None"), partial(self._set_key, "")),
                None,
            )
        )
        fringe = Stepper(say("Fringe cleaned"), say("px"), 0, 4, width=110)
        self._point(fringe, "fringe", say("Cleaned a fringe of {value} px"))
        self.add(row(label(say("Tolerance")), None, tolerance))
        self.add(row(label(say("Clean the fringe")), None, fringe))

    def show_sheets(self, sheets: list[Sheet]) -> None:
        keys = {sheet.colour_key for sheet in sheets}
        key = next(iter(keys)) if len(keys) == 1 else None
        self.aside.setText(say("differs") if len(keys) > 1 else "")
        self._swatch.show_colour(key.colour if key else None)
        self.key.show_value(None if len(keys) > 1 else key.colour.hex if key else "")
        self._keyed.show()

    def _set_key(self, text: str) -> None:
        sheets, art = self.names, self.desk.art
        try:
            colour = Colour.parse(text) if text.strip() and text != NO_KEY else None
        except Refusal as refusal:
            self.desk.refused.emit(str(refusal))
            self.show_sheets(self.selected())
            return
        what = colour.hex if colour else say("nothing")
        words = say("Made {colour} stand for nothing", colour=what)

        def edit(project: Project) -> Project:
            return cut_again(set_colour_key(project, sheets, colour), art, sheets)

        self.do(words, edit)

    def _pick_key(self) -> None:
        def told(sheet: str, colour: Colour) -> None:
            if sheet not in self.names:
                self.desk.select(replace(self.desk.selection, sheets=(sheet,), pieces=frozenset()))
            self._set_key(colour.hex)

        self._pick(told)

    def _with_key(self) -> list[Sheet]:
        return [sheet for sheet in self.selected() if sheet.colour_key is not None]

    def _point(self, stepper: Stepper, point: str, words: str) -> None:
        """Have a number show and set one point of the keys, each of which keeps its colour."""

        art = self.desk.art

        def edit(project: Project, names: tuple[str, ...], value: int) -> Project:
            for name in names:
                key = project.sheet(name).colour_key
                points = {"tolerance": key.tolerance, "fringe": key.fringe} if key else {}
                colour = key.colour if key else None
                project = set_colour_key(project, (name,), colour, **points | {point: value})
            return cut_again(project, art, names)

        self._keyed.bind(stepper, lambda sheet: getattr(sheet.colour_key, point), edit, words)


class SizeGroup(SourceGroup):
    """True pixel size, enlarging, flipping and turning."""

    def __init__(self, number: int, services: Services) -> None:
        super().__init__(number, say("Size and turn"), services)
        bind = self.bound.bind
        pixel = bind(
            Stepper(say("One drawn pixel"), say("px"), 1, 64, width=110),
            lambda sheet: sheet.pixel,
            set_pixel,
            say("Drew {what} at {value} px a pixel"),
        )
        enlarged = bind(
            Stepper(say("Enlarge"), say("times"), 1, LARGEST_FACTOR, width=110),
            lambda sheet: sheet.enlarged,
            set_enlarged,
            say("Enlarged {what} {value} times"),
        )
        turns: tuple[tuple[Turn, str], ...] = (
            ("across", say("Flip across")),
            ("down", say("Flip down")),
            ("quarter", say("Turn")),
        )
        self.add(row(label(say("One drawn pixel is")), None, pixel))
        self.add(row(label(say("Enlarge it")), None, enlarged))
        self.add(row(*(button(name, partial(self._turn, turn)) for turn, name in turns), None))
        self._fit = MadeToFit(services, self.bound, lambda: self.names)
        self.add(self._fit)
        self._back = BroughtBack(services)
        self.add(self._back)

    def show_sheets(self, sheets: list[Sheet]) -> None:
        self.bound.show()
        self._back.show_sheets(sheets)
        cost = self._fit.show_sheets(sheets)
        plain = _size_words(sheets[0]) if len(sheets) == 1 else ""
        self.result.tell(cost or plain, warns=bool(cost))

    def _turn(self, turn: Turn) -> None:
        sheets = self.names
        words = {"across": say("Flipped {what} across"), "down": say("Flipped {what} down")}
        text = words.get(turn, say("Turned {what}")).format(what=sheets_words(sheets))
        self.desk.do(text, lambda p: turn_sheets(p, sheets, turn))


class LicenceGroup(SourceGroup):
    """Where pictures came from, and what their licence asks for."""

    def __init__(self, number: int, services: Services) -> None:
        super().__init__(number, say("Licence and credit"), services)
        self.fields: dict[str, Field] = {}
        points = (
            ("identifier", say("Licence"), "CC-BY-4.0"),
            ("author", say("Author"), ""),
            ("source", say("Source"), ""),
            ("credit", say("Credit"), ""),
        )
        wide = max(label(name).sizeHint().width() for _, name, _ in points)
        for point, name, hint in points:
            field = Field(name, hint)
            words = say("Set the {point} of {what}", point=name.lower(), what="{what}")
            edit = partial(_with_licence, point)
            self.bound.bind(field, partial(_licence_point, point), edit, words)
            caption = label(name)
            caption.setFixedWidth(wide + 4)
            self.add(row(caption, field))
            self.fields[point] = field
        self.fields["identifier"].completed_from(identifiers)
        self.fields["credit"].setToolTip(say("The very words of the credit, if it must be so"))
        self.beside_title(
            button(say("For all"), self._license_all, "small", say("This licence for every sheet"))
        )

    def show_sheets(self, sheets: list[Sheet]) -> None:
        self.bound.show()
        licences = {sheet.licence for sheet in sheets}
        self.aside.setText(say("differs") if len(licences) > 1 else "")
        asked = {text for licence in licences for text in duties(licence.identifier)}
        unknown = [
            one.identifier for one in licences if one.identifier and not spdx(one.identifier)
        ]
        if unknown:
            told = say("“{name}” is no SPDX identifier; it is kept as it stands.")
            self.result.tell(told.format(name=unknown[0]), warns=True)
        else:
            self.result.tell(" ".join(sorted(asked)))

    def _license_all(self) -> None:
        """Give every sheet the licence of the selected ones."""
        licence = common(sheet.licence for sheet in self.selected())
        if licence is None:
            self.desk.refused.emit(say("Select one sheet whose licence holds for all of them."))
            return
        names = tuple(sheet.name for sheet in self.desk.project.sheets)
        words = say("Gave {what} one licence", what=sheets_words(names))
        self.desk.do(words, lambda p: set_licence(p, names, **asdict(licence)))


def _with_licence(point: str, project: Project, sheets: tuple[str, ...], text: str) -> Project:
    return set_licence(project, sheets, **{point: text})


def _licence_point(point: str, sheet: Sheet) -> str:
    return str(getattr(sheet.licence, point))


def _size_words(sheet: Sheet) -> str:
    """How large a sheet is as it is cut, and whether hardware likes that."""
    power = all(side & (side - 1) == 0 for side in sheet.size)
    tail = say("powers of two") if power else say("not powers of two")
    return say("{size} px, {tail}.", size=sheet.size, tail=tail)
