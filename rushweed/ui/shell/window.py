"""The window: a frame, a router, a watch over findings, and the commands that hold everywhere."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QByteArray, QEvent, Qt
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QMainWindow, QWidget

from rushweed.core.owner_limits import limits_file, what_is_wrong
from rushweed.core.project.project import Project
from rushweed.core.values import Refusal
from rushweed.core.words import language, say
from rushweed.ui.at_start import languages, sizes
from rushweed.ui.beside import Beside
from rushweed.ui.canvas.canvas import Canvas, step_nearer
from rushweed.ui.canvas.even import SuitsScreen
from rushweed.ui.canvas.scrolling import SCROLLS, Manner
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.commands.keys_file import read_own_keys
from rushweed.ui.commands.listed import STATIONS
from rushweed.ui.desk import Desk
from rushweed.ui.jobs import Jobs
from rushweed.ui.loading import Loading
from rushweed.ui.look.colours import look
from rushweed.ui.look.style import palette, style_sheet
from rushweed.ui.outside import Outside
from rushweed.ui.proposals import Proposals
from rushweed.ui.resemblances import Resemblances
from rushweed.ui.seeing import Sight
from rushweed.ui.settings import Settings
from rushweed.ui.shell.dialogs import Dialogs
from rushweed.ui.shell.facts import Facts
from rushweed.ui.shell.finder import Finder
from rushweed.ui.shell.findings_watch import FindingsWatch
from rushweed.ui.shell.frame import USUAL, Frame
from rushweed.ui.shell.hint import Hint
from rushweed.ui.shell.keys_sheet import KeysSheet
from rushweed.ui.shell.menus import Menus
from rushweed.ui.shell.opening import least_size
from rushweed.ui.shell.pack_sense import PackSense
from rushweed.ui.shell.pictures import PictureActs
from rushweed.ui.shell.places import all_places
from rushweed.ui.shell.progress import stages
from rushweed.ui.shell.projects import ProjectActs
from rushweed.ui.shell.router import MakeStation, Router
from rushweed.ui.shell.services import Services
from rushweed.ui.shell.sheet_acts import SheetActs
from rushweed.ui.shell.spoken import Spoken
from rushweed.ui.shell.their_changes import TheirChanges
from rushweed.ui.shell.tool_keys import ToolKeys

PARTS = ("slip", "lens", "strip")
"""What can be folded away, in the frame's order."""


LOOKED_AT = ("Weave", "Walk", "Templates")
"""Where the table has the room of the strip at first."""


class Window(QMainWindow):
    """One project's window."""

    def __init__(
        self,
        desk: Desk,
        settings: Settings,
        make_station: MakeStation,
        dialogs: Dialogs | None = None,
    ) -> None:
        super().__init__()
        self.desk, self.settings = desk, settings
        dialogs = dialogs or Dialogs(self)
        self.jobs, images = Jobs(self), Images(desk.art)
        Loading(images, self.jobs).arrived.connect(self._show_arrived)
        self.commands, refused = _commands(settings)
        self.setMinimumSize(least_size())
        self.setAcceptDrops(True)
        Manner.scrolls = next(way for way in SCROLLS if way == settings.values.scrolls)
        self._apply_theme()
        frame = self.frame = Frame(desk, images, self.jobs)
        self.setCentralWidget(frame)
        self.router = Router(desk, frame, make_station)
        self.watch = FindingsWatch(desk, self.jobs, frame, self.router)
        self.outside = Outside(desk, self.jobs, self)
        opens_gather = partial(self.router.open, STATIONS[0])
        self.pictures = PictureActs(
            desk, self.jobs, self.outside, dialogs, frame.notice, opens_gather
        )
        frame.rack.sheets.acts = SheetActs(desk, self.outside, dialogs, frame.notice)
        self._sight = Sight(desk.art, self.jobs)
        self._sight.arrived.connect(lambda: self.router.shown.refresh())
        services = self._make_services(images, dialogs)
        self.router.begin(services)
        PackSense(desk, self.jobs, services.offer, self)
        self.projects = ProjectActs(desk, self.jobs, settings, dialogs, frame.notice, self)
        self.theirs = TheirChanges(desk, self.jobs, frame.notice, self)
        self._make_menus()
        self._listen()
        key_place = lambda: self.router.shown.key_place()  # noqa: E731
        ToolKeys(self, self.commands, frame.rack, self.router.key_table, key_place)
        hint = Hint(settings)
        frame.middle.addWidget(hint)
        self.router.turned.connect(lambda: hint.show_for(self.router.station))
        spoken = Spoken(self, desk, self.router.key_table, lambda: self.router.shown.name)
        self.router.turned.connect(spoken.tell)
        self.router.open(STATIONS[0])
        self._show_project()
        wrong = [text for text in (refused, settings.problem, _limits_problem()) if text]
        if wrong:
            frame.notice.tell("\n".join(wrong))

    def _make_services(self, images: Images, dialogs: Dialogs) -> Services:
        lens = self.frame.lens
        beside, bound = Beside(self.desk, self.jobs, images), partial(self.router.open, "Bound")

        def offer(told: str, words: str, act: Callable[[], object]) -> None:
            self.frame.notice.tell(told, (words, act), quiet=True)

        return Services(
            desk=self.desk,
            commands=self.commands,
            images=images,
            sight=self._sight,
            jobs=self.jobs,
            beside=beside,
            proposals=Proposals(self.desk, beside, offer, bound),
            resemblances=Resemblances(self.desk, self.jobs, offer, bound),
            outside=self.outside,
            dialogs=dialogs,
            settings=self.settings,
            status=self.frame.status.show_over,
            open_station=self.router.open,
            open_project=lambda folder: self.projects.open(folder),
            gather=self.pictures.gather,
            lens_instead=lens.show_instead,
            lens_update=lens.picture.update,
            lens_plays=lens.play_own,
            offer=offer,
        )

    def look_ahead(self) -> None:
        """Look at the selected sheet, for Cut shows what is seen in it."""
        name = self.desk.selection.sheet
        if name:
            self._sight.look_ahead(self.desk.project.sheet(name))

    def _make_menus(self) -> None:
        bar = self.menuBar()
        assert bar is not None
        self.finder = Finder(
            self, lambda: all_places(self.desk, self.commands, self.router.shown.key_place())
        )
        self._bind()
        words = {
            "edit.undo": lambda: _with(say("Undo"), self.desk.history.words),
            "edit.redo": lambda: _with(say("Redo"), self.desk.history.redo_words),
        }
        self.menus = Menus(bar, self, self.commands, words)
        chosen, choose = self.settings.values, self._choose_for_next_time
        own, choices = partial(choose, "language"), languages()
        self.menus.add_choices(say("Language"), choices, chosen.language, own)
        own = partial(choose, "type_size")
        self.menus.add_choices(say("Size of type"), sizes(), chosen.type_size, own)
        self._facts = Facts(bar, self.router.toggle_rules)
        self.router.rules_shown.connect(self._facts.show_open)

    def _bind(self) -> None:
        """Say what the commands of the window do."""
        bind = self.commands.bind
        bind("edit.undo", self.desk.undo, lambda: self.desk.can_undo)
        bind("edit.redo", self.desk.redo, lambda: bool(self.desk.history.later))
        for name, act in (
            ("project.new", self.projects.begin),
            ("project.open", self.projects.ask_and_open),
            ("project.save", self.projects.begin_saving),
            ("project.save_elsewhere", self.projects.save_elsewhere),
            ("pictures.gather", self.pictures.ask_and_gather),
            ("pictures.folder", self.pictures.ask_and_gather_folder),
            ("pictures.paste", self.paste),
            ("edit.select_all", self.select_all),
            ("window.rules", self.router.toggle_rules),
            ("window.close", self.close),
            ("window.find", self.finder.open),
            ("window.findings", self.watch.toggle),
            ("window.theme", self.switch_theme),
            ("window.full", self._full_screen),
            ("window.scrolls", self.switch_scrolling),
            ("window.keys", self.show_keys),
            ("view.all", lambda: self._on_canvas(Canvas.fit)),
            ("view.nearer", lambda: self._on_canvas(partial(step_nearer, by=1))),
            ("view.farther", lambda: self._on_canvas(partial(step_nearer, by=-1))),
            ("lens.play", self.frame.play_in_lens),
        ):
            bind(name, act)
        for number, part in enumerate(PARTS):
            bind(f"view.{part}", partial(self.frame.fold, number))
        for name in STATIONS:
            bind(f"station.{name.lower()}", partial(self.router.open, name))
            self.frame.trail.tips[name] = self.commands.tip(f"station.{name.lower()}")
        self.frame.rack.sheets.bind(self.commands)

    def _listen(self) -> None:
        desk, frame = self.desk, self.frame
        frame.trail.opened.connect(self.router.open)
        frame.faces.turned.connect(self.router.turn_face)
        frame.rules.closed.connect(self.router.toggle_rules)
        self.router.opened.connect(self._show_trail)
        self.router.turned.connect(self._arrange)
        self.router.opened.connect(self.frame.notice.pass_by)
        frame.arranged.connect(self._remember_arrangement)
        self.watch.found.connect(self._show_trail)
        desk.changed.connect(self._change)
        desk.selected.connect(lambda before, after: self.router.shown.refresh())
        desk.refused.connect(frame.notice.refuse)
        desk.said.connect(partial(frame.notice.tell, quiet=True))
        desk.saved_changed.connect(self._show_project)
        self.jobs.failed.connect(frame.notice.tell)
        self.watch.look_soon()

    def _change(self, before: Project, after: Project, live: bool) -> None:
        self.router.change(before, after, live)
        self.watch.look_soon()
        if not live:
            self.frame.notice.settle()

    def _arrange(self) -> None:
        """Slip, lens and strip as they were left at this station."""
        known = {name: rest for name, *rest in self.settings.values.arranged}
        usual = (*USUAL[:2], 0) if self._place() in LOOKED_AT else USUAL
        slip, lens, strip = known.get(self._place(), usual)
        self.frame.arrange_as_left((slip, lens, strip))

    def _place(self) -> str:
        """What is arranged on its own."""
        return self.router.shown.arranged_as or self.router.station

    def _remember_arrangement(self) -> None:
        name = self._place()
        others = [one for one in self.settings.values.arranged if one[0] != name]
        self.settings.remember(arranged=(*others, (name, *self.frame.left())))

    def _show_trail(self) -> None:
        made = self.router.stations.made()
        faces = [face for station in made for face in station.made]
        walked, baled = sum(one.walked for one in faces), sum(one.baled for one in faces)
        shown = stages(self.desk.project, self.watch.findings, walked, baled)
        self.frame.trail.show_stages(shown, STATIONS.index(self.router.station))

    def _show_project(self) -> None:
        project = self.desk.project
        self._facts.show_project(project, self.projects.state())
        star = " *" if self.desk.unsaved else ""
        self.setWindowTitle(f"{project.name}{star} – Rushweed")

    # -- acts ---------------------------------------------------------------

    def select_all(self) -> None:
        """Select every piece of the selected sheets, or what the shown face has in their place;
        every sheet, where the list of sheets has the focus."""
        selection = self.desk.selection
        if self.frame.rack.sheets.isAncestorOf(self.focusWidget() or self):
            self.desk.select(selection.of_all_sheets(self.desk.project))
            return
        if self.router.shown.select_all():
            return
        chosen = selection.chosen(self.desk.project)
        pieces = frozenset(piece.number for sheet in chosen for piece in sheet.pieces)
        self.desk.select(replace(selection, pieces=pieces))

    def paste(self) -> None:
        """Put down what was copied on the shown face, else gather copied pictures."""
        if not self.router.shown.paste():
            self.pictures.paste()

    def switch_theme(self) -> None:
        """Light or dark."""
        look.theme = "Dusk" if look.theme == "Paper" else "Paper"
        self.settings.remember(theme=look.theme)
        self._apply_theme()

    def switch_scrolling(self) -> None:
        """What scrolling over a picture does: the next of the three."""
        ways = list(SCROLLS)
        Manner.scrolls = ways[(ways.index(Manner.scrolls) + 1) % len(ways)]
        self.settings.remember(scrolls=Manner.scrolls)
        self.desk.said.emit(SCROLLS[Manner.scrolls])

    def _choose_for_next_time(self, name: str, value: object) -> None:
        self.settings.remember(**{name: value})
        self.desk.said.emit(say("It holds from the next start on."))

    def show_keys(self) -> None:
        sheet = KeysSheet(self, self.commands, self.settings.keys_file)
        sheet.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        sheet.open()

    def _apply_theme(self) -> None:
        application = QApplication.instance()
        assert isinstance(application, QApplication)
        application.setPalette(palette(look.colours))
        self.setStyleSheet(style_sheet(look.colours))
        self._repaint()

    def _show_arrived(self) -> None:
        self.router.shown.refresh()
        self._repaint()

    def _repaint(self) -> None:
        _update_visible(self)

    def _on_canvas(self, act: Callable[[Canvas], object]) -> None:
        canvas = self.router.shown.canvas()
        if canvas is not None:
            act(canvas)

    def _full_screen(self) -> None:
        if self.isFullScreen():
            self.showNormal()
        else:
            self.showFullScreen()

    def event(self, event: QEvent | None) -> bool:
        done = super().event(event)
        if event is not None and event.type() == QEvent.Type.DevicePixelRatioChange:
            self.suit_screen()
        return done

    def suit_screen(self) -> None:
        """Show all art anew on a screen of another ratio."""
        for widget in self.findChildren(QWidget):
            if isinstance(widget, SuitsScreen):
                widget.suit_screen()

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            self.outside.look_soon()
            self.theirs.look_soon()

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
        self.hide()  # nobody waits for what is still ending
        self.let_go()
        self.settings.remember(geometry=self.saveGeometry().toBase64().data().decode())
        event.accept()

    def let_go(self) -> None:
        """Stop all that goes on, and let other windows have the project."""
        self.watch.stop()
        self.frame.lens.picture.play(False)
        self.router.leave()
        self.outside.close()
        self.theirs.close()
        self.jobs.stop_all()
        self.projects.recovery.close()
        self.desk.release()


def _commands(settings: Settings) -> tuple[Commands, str]:
    """The commands with the user's own keys, and what is wrong with these."""
    try:
        return Commands(read_own_keys(settings.keys_file)), ""
    except Refusal as refusal:
        return Commands(), str(refusal)


def _limits_problem() -> str:
    why = what_is_wrong()
    told = say("{file} cannot be read ({why}). The usual limits hold.")
    return told.format(file=limits_file(), why=why) if why else ""


def _update_visible(parent: QWidget) -> None:
    """Have all that is seen below a widget painted again; what is hidden is when it is shown."""
    for child in parent.children():
        if isinstance(child, QWidget) and child.isVisible():
            child.update()
            _update_visible(child)


def _with(verb: str, words: str) -> str:
    """What is undone or done again; in English as one sentence."""
    if not words:
        return verb
    return f"{verb} {words[:1].lower()}{words[1:]}" if language() == "en" else f"{verb}: {words}"
