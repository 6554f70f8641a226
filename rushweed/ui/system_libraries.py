"""Libraries of the system that the window's toolkit wants, and what to type where one is missing;
without them it ends in an abort."""

from __future__ import annotations

import ctypes
import os

WINDOWS = {
    "libEGL.so.1": "libegl1",
    "libGL.so.1": "libgl1",
    "libfontconfig.so.1": "libfontconfig1",
    "libfreetype.so.6": "libfreetype6",
    "libglib-2.0.so.0": "libglib2.0-0",
}
X_WINDOWS = {
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxcb-xkb.so.1": "libxcb-xkb1",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
}
"""The packages of Debian and Ubuntu that hold each."""


def missing() -> dict[str, str]:
    """The libraries that cannot be loaded, with their packages."""
    plain_x = os.environ.get("DISPLAY") and not os.environ.get("WAYLAND_DISPLAY")
    asked = os.environ.get("QT_QPA_PLATFORM", "xcb" if plain_x else "")
    wanted = WINDOWS | (X_WINDOWS if asked == "xcb" else {})
    return {name: package for name, package in wanted.items() if not _loads(name)}


def told(lost: dict[str, str]) -> str:
    """What is missing and what to type, in a sentence."""
    from rushweed.core.words import say, some

    return say(
        "The system lacks {names}, which windows need. Install it: sudo apt-get install {packages}",
        names=some(list(lost)),
        packages=" ".join(dict.fromkeys(lost.values())),
    )


def _loads(name: str) -> bool:
    try:
        ctypes.CDLL(name)
    except OSError:
        return False
    return True
