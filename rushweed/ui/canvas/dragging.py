"""Edits that follow the pointer."""

from __future__ import annotations

from collections.abc import Callable

from rushweed.core.project.sitting import Edit
from rushweed.ui.canvas.tools import Pointer, Stroke
from rushweed.ui.desk import Drag


def following(
    drag: Drag,
    edit_at: Callable[[Pointer], Edit | None],
    first: Pointer | None = None,
    kept: Callable[[], object] = lambda: None,
) -> Stroke:
    """A stroke that shows the edit for where the pointer is and keeps the last one as one step of
    undo; where `edit_at` gives none, what was shown stays. A drag that came to nothing, was undone
    meanwhile, or is left, leaves nothing behind. `first` is the press, where it begins with an
    edit; `kept` is called when there is something to keep.
    """
    try:
        while True:
            event, first = first or (yield), None
            edit = edit_at(event)
            if edit is not None:
                drag.to(edit)
            if event.released:
                if drag.changed:
                    drag.end()
                    kept()
                return
    finally:
        drag.abandon()
