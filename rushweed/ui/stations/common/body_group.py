"""How pieces move when they stand in a level: kind, path, time, way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PyQt6.QtGui import QPainter

from rushweed.core.project.body import Body, BodyKind, Path
from rushweed.core.project.project import with_pieces
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point
from rushweed.ui.desk import Desk
from rushweed.ui.shell.controls import Chips, Choice, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shape_marks import draw_open_polygon
from rushweed.ui.stations.common.shared import common
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas
from rushweed.ui.text import counted, tr

KINDS: dict[str, BodyKind] = {
    "Fixed": "fixed",
    "Can be pushed": "pushed",
    "Falls": "falls",
    "Turns about its pivot": "hinged",
    "Travels along a path": "travels",
}
EASINGS = {"Even": "even", "Eased": "eased"}
WAYS = {"There and back": "there and back", "Round": "round"}


class BodyGroup(Group):
    """Sets the body of the selected pieces; a path is drawn on the canvas."""

    def __init__(
        self, number: int, desk: Desk, canvas: SheetCanvas, draw: Callable[[], None]
    ) -> None:
        super().__init__(number, tr("As a prop"))
        self._desk, self._canvas = desk, canvas
        self._kind = Choice(tr("What it does"), 170)
        self._kind.picked.connect(self._set_kind)
        self._draw = button(tr("Draw its path"), draw, tip=tr("Click points, Enter ends"))
        self._seconds = Stepper(tr("One way in"), tr("s"), 0.1, 60, 0.1, whole=False, width=92)
        self._seconds.stepped.connect(lambda value: self._set_path(seconds=value))
        self._easing = Chips(list(EASINGS), name=tr("Speed along the path"))
        self._easing.chosen.connect(lambda text: self._set_path(easing=EASINGS[text]))
        self._way = Chips(list(WAYS), name=tr("Way back"))
        self._way.chosen.connect(lambda text: self._set_path(way=WAYS[text]))
        self._path_parts = [self._draw, self._seconds, self._easing, self._way]
        self.add(row(label(tr("It")), self._kind, None))
        self.add(row(self._draw, self._seconds, None))
        self.add(row(self._easing, self._way, None, spacing=4))

    def refresh(self) -> None:
        """Show what the selected pieces do."""
        pieces = self._canvas.selected_pieces()
        bodies = {piece.body for piece in pieces}
        kind = common(body.kind for body in bodies)
        names = {value: name for name, value in KINDS.items()}
        shown = names[kind] if kind else tr("differs") if pieces else ""
        self._kind.show_choices(list(KINDS), shown)
        self._kind.setEnabled(bool(pieces))
        travels = kind == "travels"
        for part in self._path_parts:
            part.setVisible(travels)
        body = next(iter(bodies)) if len(bodies) == 1 else None
        path = body.path if body else None
        if travels:
            self._seconds.show_value(path.seconds if path else None)
            shown_path = path or Path(())
            self._easing.show_choice("Eased" if shown_path.easing == "eased" else "Even")
            self._way.show_choice("Round" if shown_path.way == "round" else "There and back")
        points = len(path.points) if path else 0
        self.result.tell(
            tr("No path yet: draw it from where the piece stands.")
            if travels and not points
            else tr("Through {points}; the lens shows it.").format(
                points=counted(points, "point", "points")
            )
            if travels
            else "",
            warns=travels and not points,
        )

    def paint(self, painter: QPainter) -> None:
        """Draw the path of the selected piece."""
        pieces = self._canvas.selected_pieces()
        if len(pieces) == 1 and pieces[0].body.path is not None:
            draw_open_polygon(painter, self._canvas, pieces[0].rect, _on_piece(pieces[0]))

    def _set_kind(self, text: str) -> None:
        kind = KINDS[text]

        def body_of(piece: Piece) -> Body:
            path = piece.body.path or (Path(()) if kind == "travels" else None)
            return Body(kind, path)

        self._change(tr("Set {what} to: {kind}").replace("{kind}", text.lower()), body_of)

    def _set_path(self, **changes: object) -> None:
        def body_of(piece: Piece) -> Body:
            path = replace(piece.body.path or Path(()), **changes)  # type: ignore[arg-type]
            return Body(piece.body.kind, path)

        self._change(tr("Changed the path of {what}"), body_of)

    def _change(self, words: str, body_of: Callable[[Piece], Body]) -> None:
        pieces = self._canvas.selected_pieces()
        told = words.format(what=counted(len(pieces), "piece", "pieces"))
        numbers = frozenset(piece.number for piece in pieces)
        if numbers:
            edit = partial(replace_body, body_of=body_of)
            self._desk.do(told, lambda project: with_pieces(project, numbers, edit))


def replace_body(piece: Piece, body_of: Callable[[Piece], Body]) -> Piece:
    """The piece with the body that a function gives it."""
    return replace(piece, body=body_of(piece))


def _on_piece(piece: Piece) -> list[Point]:
    """The path's points in pixels of the piece, from where it stands."""
    assert piece.body.path is not None
    stands = piece.standing
    points = [Point(0, 0), *piece.body.path.points]
    return [Point(stands.x + point.x, stands.y + point.y) for point in points]
