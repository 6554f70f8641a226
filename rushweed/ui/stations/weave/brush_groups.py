"""What one draws with: the brush and its turns, mixes, patches and hems."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from operator import attrgetter

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QWidget

from rushweed.core.gather.art import picture_key
from rushweed.core.project.drawing_sets import Hem, HemTile, HemWay, Mix
from rushweed.core.project.project import Project, free_name
from rushweed.core.project.sheet import Sheet
from rushweed.core.values import Refusal
from rushweed.core.weave.finding_hems import find_hems, is_new
from rushweed.core.weave.hems import propose_hem, with_hem, without_hem
from rushweed.core.weave.painting import Brush
from rushweed.ui.canvas.marks import draw_checker
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.desk import Desk
from rushweed.ui.look.colours import MARKS, look
from rushweed.ui.shell.binding import Bindings
from rushweed.ui.shell.controls import Check, Chips, Choice, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.station import Services
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.weave.held import Held
from rushweed.ui.text import counted, tr, translated

WAYS: dict[HemWay, str] = {"all around": "All around", "sides": "Sides", "corners": "Corners"}
WAY_TIPS = (
    "By all eight neighbours",
    "By the four sides alone",
    "By the area at the four corners of each tile",
)
TILE, COLUMNS = 44, 5


class SetsGroup(Group):
    """Mixes and patches: what is kept to draw with. `taken` tells of another brush."""

    taken = pyqtSignal(object)

    def __init__(self, number: int, desk: Desk, held: Held, keep: Callable[[], str]) -> None:
        super().__init__(number, tr("Patches and mixes"))
        self._desk, self._held = desk, held
        self._patches: Choice[str] = Choice(tr("Patch"), 124)
        self._patches.entered.connect(self._take_patch)
        keep_patch = button(tr("Keep selected"), keep, tip=tr("Select a part of the level first"))
        self._mixes: Choice[str] = Choice(tr("Mix"), 124)
        self._mixes.entered.connect(self._take_mix)
        mix = button(
            tr("Mix the brush"),
            self._mix,
            tip=tr("One of the brush's tiles at random in each cell"),
        )
        self._weight = Stepper(tr("Weight"), tr("times"), 1, 99, width=92)
        self._weight.entered.connect(self._set_weight)
        self._weighed: Choice[int] = Choice(tr("Tile of the mix"), 90)
        self._weighed.entered.connect(lambda _: self.refresh())
        self.add(row(self._patches, keep_patch, None))
        self.add(row(self._mixes, mix, None))
        self.add(row(self._weighed, self._weight, None))

    def refresh(self) -> None:
        """Show what the project keeps."""
        project, brush = self._desk.project, self._held.brush
        mix = brush.mix if brush else None
        self._patches.offer({patch.name: patch.name for patch in project.patches})
        self._patches.show_value(None, tr("a patch"))
        self._mixes.offer({"": tr("none")} | {one.name: one.name for one in project.mixes})
        self._mixes.show_value(mix.name if mix else None, tr("a mix"))
        tiles = dict(mix.tiles) if mix else {}
        self._weighed.offer({number: str(number) for number in tiles})
        if self._weighed.value is None:
            self._weighed.show_value(next(iter(tiles), None))
        for part in (self._weighed, self._weight):
            part.setVisible(bool(tiles))
        if tiles:
            self._weight.show_value(tiles.get(self._weighed.value or 0, 1))
        self.result.tell(tr("Draws {n} tiles at random.").format(n=len(tiles)) if mix else "")

    def _take_patch(self, name: str) -> None:
        patch = next((one for one in self._desk.project.patches if one.name == name), None)
        if patch is not None:
            self.taken.emit(Brush(patch.rows))

    def _take_mix(self, name: str) -> None:
        mix = next((one for one in self._desk.project.mixes if one.name == name), None)
        brush = self._held.brush
        if mix is not None:
            self.taken.emit(Brush((((mix.tiles[0][0], 0),),), mix))
        elif brush is not None:
            self.taken.emit(Brush(brush.rows))

    def _mix(self) -> None:
        brush = self._held.brush
        numbers = sorted(brush.numbers()) if brush else []
        if len(numbers) < 2:
            self._desk.refused.emit(tr("Drag over several tiles in the tray first, then mix them."))
            return
        name = free_name(tr("Mix"), {one.name for one in self._desk.project.mixes})
        mix = Mix(name, tuple((number, 1) for number in numbers))
        words = tr("Made the {name} of {n} tiles").format(name=name, n=len(numbers))
        if self._desk.do(words, lambda p: replace(p, mixes=(*p.mixes, mix))):
            self.taken.emit(Brush((((numbers[0], 0),),), mix))

    def _set_weight(self, value: int) -> None:
        brush = self._held.brush
        if brush is None or brush.mix is None:
            return
        number, mix = self._weighed.value, brush.mix
        tiles = tuple((n, value if n == number else weight) for n, weight in mix.tiles)
        changed = replace(mix, tiles=tiles)

        def edit(project: Project) -> Project:
            mixes = tuple(changed if one.name == mix.name else one for one in project.mixes)
            return replace(project, mixes=mixes)

        self._desk.do(tr("Changed the weights of {name}").format(name=mix.name), edit)
        self.taken.emit(replace(brush, mix=changed))


class HemGroup(Group):
    """Hems: taken to draw with, made of the brush's tiles, their marks put right."""

    taken = pyqtSignal(str)

    def __init__(self, number: int, services: Services, held: Held) -> None:
        super().__init__(number, tr("Hem"))
        self._desk, self._jobs, self._held = services.desk, services.jobs, held
        self._found: dict[object, list[tuple[int, ...]]] = {}
        self._looked_at: object = None
        self._hems: Choice[str] = Choice(tr("Hem to draw with"), 140)
        self._hems.entered.connect(self._take)
        self.beside_title(self._hems)
        make = button(
            tr("Make one of the brush"),
            self._make,
            tip=tr("Its tiles finish the edges of an area; marks are proposed from the pixels"),
        )
        self._take_found = button(tr("Take what was found"), self._make_found)
        self._remove = button(tr("Take away"), self._take_away, "small")
        tips = [tr(tip) for tip in WAY_TIPS]
        way = Chips(translated(WAYS), tips=tips, name=tr("Chosen by"))
        goes_on = Check(tr("Goes on past the end"))
        self._meets: Choice[str] = Choice(tr("Hem that it joins"), 110)
        self._bound = Bindings(self._desk, self._in_hand, lambda: self._held.hem)
        for control, point in ((way, "way"), (goes_on, "goes_on")):
            self._bound.bind(control, attrgetter(point), self._edit(point), tr("Changed {what}"))
        self._bound.bind(
            self._meets,
            lambda hem: next(iter(hem.meets), ""),
            lambda project, name: self._with(project, meets=(name,) if name else ()),
            tr("Changed {what}"),
        )
        self.marks = HemMarks(services.desk, services.images)
        self.marks.marked.connect(self._mark)
        self._parts = [way, goes_on, self._meets, self.marks, self._remove]
        self._joins = label(tr("Joins"))
        self._parts.append(self._joins)
        self.add(row(self._take_found, None))
        self.add(row(make, None, self._remove))
        self.add(self.marks)
        self.add(row(way, None))
        self.add(row(goes_on, None))
        self.add(row(self._joins, self._meets, None))

    def refresh(self, lacking: int = 0) -> None:
        """Show the hem in hand."""
        hems = self._desk.project.hems
        hem = self._hem()
        if hem is None and self._held.hem:
            self._held.hem = ""
        self._hems.offer({"": tr("none")} | {one.name: one.name for one in hems})
        self._hems.show_value(hem.name if hem else "")
        for part in self._parts:
            part.setVisible(hem is not None)
        self.marks.show_hem(hem)
        offered = self._offered() if hem is None else ()
        self._take_found.setVisible(bool(offered))
        if hem is None:
            told = tr("This tileset has what looks like a hem of {n}.").format(n=len(offered))
            self.result.tell(told if offered else "")
            return
        others = {one.name: one.name for one in hems if one.name != hem.name}
        self._meets.offer({"": tr("none")} | others)
        self._bound.show()
        what = counted(len(hem.tiles), "tile", "tiles")
        told = tr("{what}; click a part of a tile to mark it.").format(what=what)
        if lacking:
            spots = counted(lacking, "spot", "spots")
            told = tr("No tile for {spots}: the nearest stands there.").format(spots=spots)
        self.result.tell(told, warns=lacking > 0)

    def _hem(self) -> Hem | None:
        return next((one for one in self._desk.project.hems if one.name == self._held.hem), None)

    def _take(self, name: str) -> None:
        self._held.hem = name
        self.refresh()
        self.taken.emit(self._held.hem)

    def look_at(self, sheet: Sheet | None) -> None:
        """Look in the background whether hems lie in a tileset, once for each picture and cut."""
        if sheet is None or sheet.kind != "tileset":
            self._looked_at = None
            return
        key = (picture_key(sheet), tuple(piece.rect for piece in sheet.pieces))
        self._looked_at = key
        if key in self._found:
            return
        self._found[key] = []
        try:
            picture = self._desk.art.picture(sheet)
        except Refusal:
            return

        def work() -> Iterator[tuple[float, str, list[tuple[int, ...]]]]:
            hems: list[tuple[int, ...]] = []
            for found in find_hems(sheet, picture):
                hems = [*hems, found] if found else hems
                yield 0.0, "", hems

        def arrived(hems: list[tuple[int, ...]] | None) -> None:
            if hems and hems != self._found[key]:
                self._found[key] = hems
                self.refresh()

        self._jobs.start(work, arrived, lambda _: None, arrived, quiet=True)

    def _offered(self) -> tuple[int, ...]:
        """The pieces of a hem that was found and that nobody has made yet."""
        found = self._found.get(self._looked_at, [])
        return next((one for one in found if is_new(one, self._desk.project)), ())

    def _make_found(self) -> None:
        self._make_of(self._offered())

    def _make(self) -> None:
        self._make_of(sorted(self._held.brush.numbers()) if self._held.brush else [])

    def _make_of(self, numbers: Sequence[int]) -> None:
        project, art = self._desk.project, self._desk.art
        name = free_name(tr("Hem"), {one.name for one in project.hems})
        try:
            found = [pair for pair in map(project.find, numbers) if pair]
            hem = propose_hem(name, {pair[1].number: art.piece(*pair) for pair in found})
        except Refusal as refusal:
            self._desk.refused.emit(str(refusal))
            return
        words = tr("Made {name} of {n} tiles").format(name=name, n=len(hem.tiles))
        if self._desk.do(words, lambda p: with_hem(p, hem)):
            self._take(name)

    def _take_away(self) -> None:
        name = self._held.hem
        self._desk.do(tr("Took {name} away").format(name=name), lambda p: without_hem(p, name))
        self._take("")

    def _mark(self, piece: int, parts: int) -> None:
        hem = self._hem()
        if hem is not None:
            tiles = tuple(
                HemTile(t.piece, parts if t.piece == piece else t.parts, t.weight)
                for t in hem.tiles
            )
            words = tr("Changed {name}").format(name=hem.name)
            self._desk.do(words, lambda p: self._with(p, tiles=tiles))

    def _in_hand(self) -> list[Hem]:
        hem = self._hem()
        return [hem] if hem else []

    def _edit(self, point: str) -> Callable[[Project, object], Project]:
        return lambda project, value: self._with(project, **{point: value})

    def _with(self, project: Project, **changes: object) -> Project:
        """The project with the hem in hand changed."""
        hem = self._hem()
        return with_hem(project, replace(hem, **changes)) if hem else project  # type: ignore[arg-type]


class HemMarks(QWidget):
    """The tiles of a hem, each with its nine parts; a click marks a part. `marked` carries the
    piece and its parts."""

    marked = pyqtSignal(int, int)

    def __init__(self, desk: Desk, images: Images) -> None:
        super().__init__()
        self._desk, self._images = desk, images
        self._hem: Hem | None = None
        self.setAccessibleName(tr("Parts of the hem's tiles that belong to the area"))

    def show_hem(self, hem: Hem | None) -> None:
        """Show another hem."""
        self._hem = hem
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def sizeHint(self) -> QSize:
        count = len(self._hem.tiles) if self._hem else 0
        return QSize(COLUMNS * (TILE + 4), -(-count // COLUMNS) * (TILE + 4))

    def place_of(self, index: int, part: int = 4) -> QRectF:
        """Where a part of a tile is."""
        line, column = divmod(index, COLUMNS)
        down, across = divmod(part, 3)
        side = TILE / 3
        return QRectF(
            column * (TILE + 4) + across * side, line * (TILE + 4) + down * side, side, side
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        for index, tile in enumerate(self._hem.tiles if self._hem else ()):
            for part in range(9):
                if self.place_of(index, part).contains(event.position()):
                    self.marked.emit(tile.piece, tile.parts ^ (1 << part))
                    return

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        wash = QColor(MARKS.tide)
        wash.setAlpha(120)
        for index, tile in enumerate(self._hem.tiles if self._hem else ()):
            whole = self.place_of(index, 0)
            whole.setSize(whole.size() * 3)
            draw_checker(painter, whole, 5)
            painter.drawImage(whole, self._images.number(self._desk.project, tile.piece))
            for part in range(9):
                place = self.place_of(index, part)
                if tile.parts >> part & 1:
                    painter.fillRect(place.adjusted(1.5, 1.5, -1.5, -1.5), wash)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(look.colours.strong_line, 1))
            painter.drawRect(whole)
        painter.end()
