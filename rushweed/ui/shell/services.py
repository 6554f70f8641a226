"""What the window gives every station."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QRect
from PyQt6.QtGui import QPainter

from rushweed.core.project.sheet import Animation
from rushweed.ui.beside import Beside
from rushweed.ui.canvas.sheet_images import Images
from rushweed.ui.commands.commands import Commands
from rushweed.ui.desk import Desk, Offer
from rushweed.ui.jobs import Jobs
from rushweed.ui.outside import Outside
from rushweed.ui.proposals import Proposals
from rushweed.ui.resemblances import Resemblances
from rushweed.ui.seeing import Sight
from rushweed.ui.settings import Settings
from rushweed.ui.shell.dialogs import Dialogs

LensPainting = Callable[[QPainter, QRect], None]


@dataclass(slots=True)
class Services:
    """What stations share. `sight` knows what is seen in sheets. `beside` makes edits that may take
    long, `proposals` those that the art tells, `resemblances` knows what new pieces could take
    over. `status` shows what the pointer is over; `lens_instead` lets a station paint the lens for
    a while, `lens_update` has it painted again, `lens_plays` has it play something of its own.
    `offer` says something and puts a button beside it."""

    desk: Desk
    commands: Commands
    images: Images
    sight: Sight
    jobs: Jobs
    beside: Beside
    proposals: Proposals
    resemblances: Resemblances
    outside: Outside
    dialogs: Dialogs
    settings: Settings
    status: Callable[[str, str], None]
    open_station: Callable[[str], None]
    open_project: Callable[[Path], None]
    gather: Callable[[list[Path]], None]
    lens_instead: Callable[[str, LensPainting | None], None]
    lens_update: Callable[[], None]
    lens_plays: Callable[[Animation | None], None]
    offer: Offer
