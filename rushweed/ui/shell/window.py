"""The window: trail, rack, faces, table, slip, lens, strip, findings, status line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QEvent, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QApplication,
    QGridLayout,
    QHBoxLayout,
    QMainWindow,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from rushweed.core.findings.finding import Finding
from rushweed.core.findings.grouping import FindingGroup
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.ui.canvas.canvas import Canvas
from rushweed.ui.canvas.sheet_picture import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.keys_file import read_own_keys
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.look.colours import look
from rushweed.ui.look.style import palette, style_sheet
from rushweed.ui.outside import Outside
from rushweed.ui.settings import Settings
from rushweed.ui.shell.controls import button
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.faces import FaceBar
from rushweed.ui.shell.facts import Facts
from rushweed.ui.shell.finder import Finder
from rushweed.ui.shell.findings_list import FindingsList
from rushweed.ui.shell.keys_sheet import KeysSheet
from rushweed.ui.shell.lens import Lens
from rushweed.ui.shell.menus import Menus
from rushweed.ui.shell.notice import Notice
from rushweed.ui.shell.pictures import PictureActs
from rushweed.ui.shell.places import all_places
from rushweed.ui.shell.progress import STATIONS, stages
from rushweed.ui.shell.projects import ProjectActs
from rushweed.ui.shell.rack import Rack
from rushweed.ui.shell.rules_page import RulesPage
from rushweed.ui.shell.sheet_acts import SheetActs
from rushweed.ui.shell.station import Services, Station, StationShelf
from rushweed.ui.shell.status import StatusLine
from rushweed.ui.shell.strip import Strip
from rushweed.ui.shell.tool_keys import ToolKeys
from rushweed.ui.shell.trail import Trail
from rushweed.ui.text import counted, tr

SLIP_WIDTH = 310
FINDINGS_DELAY = 250
"""Milliseconds of quiet before findings are looked for anew."""


class Window(QMainWindow):
    """One project's window."""

    def __init__(
        self,
        desk: Desk,
        settings: Settings,
        make_station: Callable[[int, Services], Station],
        dialogs: Dialogs | None = None,
    ) -> None:
        super().__init__()
        self.desk = desk
        self.settings = settings
        self.dialogs = dialogs or Dialogs(self)
        self.jobs = Jobs(self)
        self.images = Images(desk.art)
        self.commands, refused = _commands(settings)
        self.findings: list[Finding] = []
        self.station = 0
        self._tables: dict[tuple[int, int], QWidget] = {}
        self._slips: dict[tuple[int, int], QWidget] = {}
        self._tools: dict[tuple[int, int], QWidget | None] = {}
        self.setMinimumSize(1024, 680)
        self.setAcceptDrops(True)
        self._apply_theme()
        self._build()
        self.outside = Outside(desk, self.jobs, self)
        self.pictures = PictureActs(
            desk, self.jobs, self.outside, self.dialogs, self.notice, partial(self.open_station, 0)
        )
        self.rack.sheets.acts = SheetActs(desk, self.outside, self.dialogs, self.notice)
        self.services = Services(
            desk,
            self.commands,
            self.images,
            self.jobs,
            self.outside,
            self.dialogs,
            self.status.show_over,
            self.open_station,
            self.pictures.gather,
            lambda title, paint: self.lens.show_instead(title, paint),
            lambda: self.lens.picture.update(),
        )
        self.stations = StationShelf(make_station, self.services)
        self.projects = ProjectActs(desk, settings, self.dialogs, self.notice, self)
        self._make_menus()
        self._listen()
        self._tool_keys = ToolKeys(
            self, self.commands, self.rack, self._key_table, lambda: self._shown().key_place()
        )
        self.open_station(0)
        self._show_project()
        if refused:
            self.notice.tell(refused)

    # -- building ---------------------------------------------------------

    def _build(self) -> None:
        desk = self.desk
        self.trail = Trail(stages(desk.project, [], 0, 0))
        self.rack = Rack(desk, self.images)
        self.faces = FaceBar()
        self.table = QStackedWidget()
        self.slip = QStackedWidget()
        self.rules = RulesPage(desk)
        self.slip.addWidget(self.rules)
        self.lens = Lens(desk, self.images, self.jobs)
        self.strip = Strip(desk, self.images)
        self.findings_list = FindingsList()
        self.findings_list.hide()
        self.notice = Notice()
        self.status = StatusLine(desk, self.jobs)
        self.findings_button = button(tr("No findings"), self.toggle_findings, "findings")
        self.finder = Finder(
            self, lambda: all_places(self.desk, self.commands, self._shown().key_place())
        )
        middle = QVBoxLayout()
        middle.setSpacing(0)
        for part in (self.faces, self.notice):
            middle.addWidget(part)
        middle.addWidget(self.table, 1)
        upper = QHBoxLayout()
        upper.setSpacing(0)
        upper.addWidget(self.rack)
        upper.addLayout(middle, 1)
        left = QVBoxLayout()
        left.setSpacing(0)
        left.addLayout(upper, 1)
        left.addWidget(self.findings_list)
        left.addWidget(self.strip)
        right = _SlipColumn()
        right.setFixedWidth(SLIP_WIDTH)
        column = QVBoxLayout(right)
        column.setContentsMargins(1, 1, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.slip, 1)
        column.addWidget(self.lens)
        body = QWidget()
        grid = QGridLayout(body)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(0)
        grid.addWidget(self.trail, 0, 0, 1, 2)
        grid.addLayout(left, 1, 0)
        grid.addWidget(right, 1, 1)
        grid.addWidget(self.status, 2, 0, 1, 2)
        grid.setRowStretch(1, 1)
        self.setCentralWidget(body)
        self.findings_button.setParent(self.trail)

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        self._bind()
        words = {
            "edit.undo": lambda: f"{tr('Undo')} {_lower(self.desk.history.words)}".strip(),
            "edit.redo": lambda: f"{tr('Redo')} {_lower(self.desk.history.redo_words)}".strip(),
        }
        self.menus = Menus(bar, self, self.commands, words)
        self._facts = Facts(bar, self.toggle_rules)

    def _bind(self) -> None:
        """Say what the commands of the window do."""
        bind = self.commands.bind
        bind("edit.undo", self.desk.undo, lambda: self.desk.history.earlier is not None)
        bind("edit.redo", self.desk.redo, lambda: bool(self.desk.history.later))
        for name, act in (
            ("project.new", self.projects.begin),
            ("project.open", self.projects.ask_and_open),
            ("project.save", self.projects.save),
            ("project.save_elsewhere", self.projects.save_elsewhere),
            ("pictures.gather", self.pictures.ask_and_gather),
            ("pictures.folder", self.pictures.ask_and_gather_folder),
            ("pictures.paste", self.pictures.paste),
            ("edit.select_all", self.select_all),
            ("window.rules", self.toggle_rules),
            ("window.close", self.close),
            ("window.find", self.finder.open),
            ("window.findings", self.toggle_findings),
            ("window.theme", self.switch_theme),
            ("window.full", self._full_screen),
            ("window.keys", self.show_keys),
            ("view.all", lambda: self._on_canvas(Canvas.fit)),
            ("view.nearer", lambda: self._on_canvas(partial(Canvas.step, by=1))),
            ("view.farther", lambda: self._on_canvas(partial(Canvas.step, by=-1))),
            ("lens.play", self.lens.play.click),
        ):
            bind(name, act)
        for index, _ in enumerate(STATIONS):
            bind(f"station.{index + 1}", partial(self.open_station, index))
        self.rack.sheets.bind(self.commands)

    def _listen(self) -> None:
        self._findings_timer = QTimer(self)
        self._findings_timer.setSingleShot(True)
        self._findings_timer.setInterval(FINDINGS_DELAY)
        self._findings_timer.timeout.connect(self.look_for_findings)
        self.trail.opened.connect(self.open_station)
        self.faces.turned.connect(self.turn_face)
        self.desk.changed.connect(self._change)
        self.desk.selected.connect(lambda before, after: self.stations[self.station].refresh())
        self.desk.refused.connect(self.notice.refuse)
        self.desk.said.connect(partial(self.notice.tell, quiet=True))
        self.jobs.failed.connect(self.notice.tell)
        self.desk.saved_changed.connect(self._show_project)
        self.findings_list.shown.connect(self.show_finding)
        self.findings_list.mended.connect(self.mend)
        self.findings_list.closed.connect(self.toggle_findings)
        self.rules.closed.connect(self.toggle_rules)
        self.desk.previewed.connect(self._findings_timer.start)
        self._findings_timer.start()

    # -- stations -----------------------------------------------------------

    def open_station(self, index: int, face: int | None = None) -> None:
        """Show a station, on the face it was left on or on another."""
        self.desk.keep_drag()
        if index != self.station:
            self.stations[self.station].leave()
        self.station = index
        station = self.stations[index]
        self.rack.show_levels(station.uses_levels)
        self.strip.shows_shapes = station.shows_shapes
        self.lens.show_instead("", None)
        self.turn_face(station.face if face is None else face)
        self.strip.update()
        self._show_trail()

    def turn_face(self, face: int) -> None:
        """Show another face of the station."""
        station = self.stations[self.station]
        station.face = face
        key = (self.station, face)
        if key not in self._tables:
            self._tables[key] = station.make_table(face)
            self._slips[key] = station.make_slip(face)
            self._tools[key] = station.make_tools(face)
            self.table.addWidget(self._tables[key])
            self.slip.addWidget(self._slips[key])
        self.table.setCurrentWidget(self._tables[key])
        self.show_rules(False)
        self.faces.show_faces(station.faces, face, self._tools[key])
        station.enter()

    def toggle_rules(self) -> None:
        """Show the ground rules, or the slip again."""
        self.show_rules(self.slip.currentWidget() is not self.rules)

    def show_rules(self, shown: bool) -> None:
        """Show the ground rules in place of the slip, or the slip of the station."""
        face = self.stations[self.station].face
        self.slip.setCurrentWidget(self.rules if shown else self._slips[self.station, face])
        self.rules.refresh()
        self._facts.show_open(shown)

    def _change(self, before: Project, after: Project, live: bool) -> None:
        self.stations[self.station].change(before, after, live)
        self._findings_timer.start()
        if not live:
            self.notice.settle()

    # -- findings -------------------------------------------------------------

    def look_for_findings(self) -> None:
        """Find anew what will hurt, and show it on trail and rack."""
        from rushweed.core.findings.all import find_all

        self._findings_timer.stop()
        self.findings = find_all(self.desk.project, self.desk.art)
        self.rack.sheets.show_findings(self.findings)
        count = len(self.findings)
        self.findings_button.setText(
            "◆  " + counted(count, "finding", "findings") if count else tr("No findings")
        )
        self.findings_button.setProperty("role", "findings" if count else "quiet")
        style = self.findings_button.style()
        if style is not None:
            style.polish(self.findings_button)
        self._place_findings_button()
        self._show_trail()
        if self.findings_list.isVisible():
            self._list_findings()

    def toggle_findings(self) -> None:
        """Slide the list of findings up or down."""
        if self.findings_list.isHidden():
            self._list_findings()
            self.findings_list.show()
        else:
            self.findings_list.hide()

    def _list_findings(self) -> None:
        self.findings_list.show_findings(self.findings, STATIONS[self.station][0])

    def show_finding(self, finding: Finding) -> None:
        """Go to where a finding is."""
        selection = self.desk.selection
        if finding.sheet:
            selection = replace(selection, sheets=finding.about, pieces=frozenset(finding.pieces))
        if finding.level:
            selection = replace(selection, level=finding.level)
        self.desk.select(selection)
        self.open_station([name for name, _ in STATIONS].index(finding.station))

    def mend(self, group: FindingGroup) -> None:
        """Do what cures all findings of a kind, as one step of undo."""
        alone = len(group.findings) == 1
        words = f"{group.mend_words}, {group.first.place}" if alone else group.mend_words
        self.desk.do(words, group.mend)
        self.look_for_findings()

    # -- small things -------------------------------------------------------------

    def select_all(self) -> None:
        """Select every piece of the selected sheets."""
        selection = self.desk.selection
        pieces = frozenset(
            piece.number
            for sheet, piece in self.desk.project.pieces()
            if sheet.name in selection.sheets
        )
        self.desk.select(replace(selection, pieces=pieces))

    def switch_theme(self) -> None:
        """Light or dark."""
        look.theme = "Dusk" if look.theme == "Paper" else "Paper"
        self.settings.remember(theme=look.theme)
        self._apply_theme()

    def show_keys(self) -> None:
        sheet = KeysSheet(self, self.commands, self.settings.keys_file)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.open()

    def _apply_theme(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.setPalette(palette(look.colours))
        self.setStyleSheet(style_sheet(look.colours))
        for widget in self.findChildren(QWidget):
            widget.update()

    def _on_canvas(self, act: Callable[[Canvas], object]) -> None:
        canvas = self.stations[self.station].canvas()
        if canvas is not None:
            act(canvas)

    def _full_screen(self) -> None:
        if self.isFullScreen():
            self.showNormal()
        else:
            self.showFullScreen()

    def _show_trail(self) -> None:
        walked = sum(station.walked for station in self.stations.made())
        baled = sum(station.baled for station in self.stations.made())
        shown = stages(self.desk.project, self.findings, walked, baled)
        self.trail.show_stages(shown, self.station)

    def _show_project(self) -> None:
        project = self.desk.project
        self._facts.show_project(project, self.projects.state())
        star = " *" if self.desk.unsaved else ""
        self.setWindowTitle(f"{project.name}{star} – Rushweed")

    def _place_findings_button(self) -> None:
        self.findings_button.adjustSize()
        self.findings_button.move(self.trail.width() - self.findings_button.width() - 12, 10)

    def _shown(self) -> Station:
        return self.stations[self.station]

    def _key_table(self) -> QWidget | None:
        """Who knows the keys of the station that is shown."""
        return self.stations[self.station].key_table() or self.table.currentWidget()

    def resizeEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        super().resizeEvent(event)
        self._place_findings_button()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            self.outside.look_soon()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None:
            event.acceptProposedAction()
            self.pictures.gather(
                [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
            )

    def restore_place(self) -> None:
        """Put the window where it was left last."""
        if self.settings.values.geometry:
            self.restoreGeometry(QByteArray.fromBase64(self.settings.values.geometry.encode()))

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self.projects.may_leave():
            event.ignore()
            return
        self.let_go()
        self.settings.remember(geometry=self.saveGeometry().toBase64().data().decode())
        event.accept()

    def let_go(self) -> None:
        """Stop all that goes on, and let other windows have the project."""
        self._findings_timer.stop()
        self.lens.picture.play(False)
        for station in self.stations.made():
            station.leave()
        self.outside.close()
        self.jobs.stop_all()
        self.projects.recovery.close()
        self.desk.release()


def _commands(settings: Settings) -> tuple[Commands, str]:
    """The commands with the user's own keys, and what is wrong with these."""
    try:
        return Commands(read_own_keys(settings.keys_file)), ""
    except Refusal as refusal:
        return Commands(), str(refusal)


def _lower(words: str) -> str:
    return words[:1].lower() + words[1:]


class _SlipColumn(QWidget):
    """The ground of slip and lens."""

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), look.colours.raised)
        painter.fillRect(0, 0, self.width(), 1, look.colours.line)
        painter.fillRect(0, 0, 1, self.height(), look.colours.line)
        painter.end()
