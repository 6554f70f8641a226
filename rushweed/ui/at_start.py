"""What is chosen for the whole window and holds from its next start: its language, and how large
its type is. Everything grows with the type, so that nothing is cut off; art keeps to whole pixels
of the screen (`canvas/view.py`)."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Callable

from rushweed.core.words import come_along, say, speak
from rushweed.ui.settings import Settings

FACTOR = "QT_SCALE_FACTOR"
SIZES = (100, 110, 125, 150, 175, 200)
"""Sizes of type, in percent, that can be chosen."""
GNOME = {"GNOME", "X-Cinnamon", "Budgie"}
ASKING = ("gsettings", "get", "org.gnome.desktop.interface", "text-scaling-factor")


def settle(settings: Settings) -> None:
    """Take what was chosen. Before any module with texts is brought in, and before there is an
    application."""
    if settings.values.language:
        os.environ["LANGUAGE"] = settings.values.language  # for processes beside this one
        speak(settings.values.language)
    percent = settings.values.type_size or system_size()
    if percent != 100 and FACTOR not in os.environ:
        os.environ[FACTOR] = f"{percent / 100:g}"


def system_size(ask: Callable[[], str] | None = None) -> int:
    """How large the desktop wants type, in percent: desktops of one family keep it apart from the
    scale of the screen. Within what can be chosen; 100 where nothing is told."""
    if not GNOME & {*os.environ.get("XDG_CURRENT_DESKTOP", "").split(":")}:
        return 100
    try:
        percent = round(100 * float((ask or _desktop_says)()))
    except (OSError, ValueError, OverflowError, subprocess.SubprocessError):
        return 100
    return min(SIZES, key=lambda size: abs(size - percent))


def _desktop_says() -> str:
    done = subprocess.run(ASKING, capture_output=True, text=True, timeout=1, check=True)
    return done.stdout


def languages() -> dict[str, str]:
    """What can be chosen, each language by its own name."""
    from PyQt6.QtCore import QLocale

    own = {code: QLocale(code).nativeLanguageName() for code in come_along()}
    return {"": say("As the system says"), "en": "English", **own}


def sizes() -> dict[int, str]:
    """What can be chosen for the size of type."""
    return {0: say("As the system says"), **{size: f"{size} %" for size in SIZES}}
