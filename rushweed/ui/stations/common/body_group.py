"""How pieces move when they stand in a level: kind, path, time, way."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from PyQt6.QtGui import QPainter

from rushweed.core.project.body import Body, BodyKind, Easing, Path, Way
from rushweed.core.project.project import NUMBER, Project, with_pieces
from rushweed.core.project.sheet import Piece
from rushweed.core.values import Point
from rushweed.core.words import counted, said, say
from rushweed.ui.desk import Desk
from rushweed.ui.shell.binding import Bindings, Control, common
from rushweed.ui.shell.controls import Chips, Choice, button, label, row
from rushweed.ui.shell.slip import Group
from rushweed.ui.shell.stepper import Stepper
from rushweed.ui.stations.common.shape_marks import draw_open_polygon
from rushweed.ui.stations.common.sheet_canvas import SheetCanvas

KINDS: dict[BodyKind, str] = {
    "fixed": "Fixed",
    "pushed": "Can be pushed",
    "falls": "Falls",
    "hinged": "Turns about its pivot",
    "travels": "Travels along a path",
}
EASINGS: dict[Easing, str] = {"even": "Even", "eased": "Eased"}
WAYS: dict[Way, str] = {"there and back": "There and back", "round": "Round"}


class BodyGroup(Group):
    """Sets the body of the selected pieces; a path is drawn on the canvas."""

    def __init__(
        self, number: int, desk: Desk, canvas: SheetCanvas, draw: Callable[[], None]
    ) -> None:
        super().__init__(number, say("As a prop"))
        self._desk, self._canvas = desk, canvas
        self._bound = Bindings(
            desk,
            canvas.selected_pieces,
            self._named,
            at=lambda: frozenset(map(NUMBER, canvas.selected_pieces())),
        )
        kind = Choice(say("What it does"), 170, said(KINDS))
        words = say("Set {what} to: {value}")
        self._bound.bind(kind, lambda piece: piece.body.kind, _edit_of(_of_kind), words)
        self._draw = button(say("Draw its path"), draw, tip=say("Click points, Enter ends"))
        seconds = Stepper(say("One way in"), say("s"), 0.1, 60, 0.1, whole=False, width=92)
        easing = Chips(said(EASINGS), name=say("Speed along the path"))
        way = Chips(said(WAYS), name=say("Way back"))
        for point, control in (("seconds", seconds), ("easing", easing), ("way", way)):
            self._bind_path(control, point)
        self._path_parts = [self._draw, seconds, easing, way]
        self.add(row(label(say("It")), kind, None))
        self.add(row(self._draw, seconds, None))
        self.add(row(easing, way, None, spacing=4))

    def refresh(self) -> None:
        """Show what the selected pieces do."""
        pieces = self._canvas.selected_pieces()
        self._bound.show()
        travels = common(piece.body.kind for piece in pieces) == "travels"
        for part in self._path_parts:
            part.setVisible(travels)
        path = common(piece.body.path for piece in pieces)
        points = len(path.points) if path else 0
        self.result.tell(
            say("No path yet: draw it from where the piece stands.")
            if travels and not points
            else say(
                "Through {points}; the lens shows it.", points=counted(points, "point", "points")
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

    def _bind_path(self, control: Control, point: str) -> None:
        def read(piece: Piece) -> object:
            return getattr(piece.body.path or Path(()), point)

        def body_of(piece: Piece, value: object) -> Body:
            path = replace(piece.body.path or Path(()), **{point: value})  # type: ignore[arg-type]
            return Body(piece.body.kind, path)

        self._bound.bind(control, read, _edit_of(body_of), say("Changed the path of {what}"))

    def _named(self) -> str:
        return counted(len(self._canvas.selected_pieces()), "piece", "pieces")


def _of_kind(piece: Piece, kind: BodyKind) -> Body:
    """Its body of another kind; the path stays, and one that travels gets one."""
    return Body(kind, piece.body.path or (Path(()) if kind == "travels" else None))


def _edit_of(body_of: Callable[[Piece, Any], Body]) -> Callable[..., Project]:
    """The edit that gives pieces other bodies."""

    def edit(project: Project, numbers: frozenset[int], value: Any) -> Project:
        return with_pieces(
            project, numbers, lambda piece: replace(piece, body=body_of(piece, value))
        )

    return edit


def _on_piece(piece: Piece) -> list[Point]:
    """The path's points in pixels of the piece, from where it stands."""
    assert piece.body.path is not None
    stands = piece.standing
    points = [Point(0, 0), *piece.body.path.points]
    return [Point(stands.x + point.x, stands.y + point.y) for point in points]
