"""What went wrong in a sitting, written down for whoever has to find out why."""

from __future__ import annotations

import logging
import os
from functools import cached_property
from pathlib import Path

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler

logger = logging.getLogger("rushweed")
LARGEST, KEPT = 1 << 20, 2
"""Bytes of a file, and how many older ones are kept."""
LEVELS = {
    QtMsgType.QtDebugMsg: logging.DEBUG,
    QtMsgType.QtInfoMsg: logging.INFO,
    QtMsgType.QtWarningMsg: logging.WARNING,
    QtMsgType.QtCriticalMsg: logging.ERROR,
    QtMsgType.QtFatalMsg: logging.CRITICAL,
}


def log_file(state: Path) -> Path:
    """Where the log lies below a state folder."""
    return state / "rushweed.log"


def keep_log(state: Path) -> None:
    """Write what is logged, and what Qt says, into a file that only its owner can read. A disk
    that cannot take it is not in the way of the work."""
    file = log_file(state)
    try:
        file.parent.mkdir(parents=True, exist_ok=True)
        _make(file)
    except OSError:
        return
    logger.addHandler(Rotated(file))
    logger.setLevel(logging.INFO)
    logger.propagate = False
    qInstallMessageHandler(_tell_qt)


class Rotated(logging.Handler):
    """Writes into a file that does not grow for ever; what that needs is brought in with the first
    line, since most sittings have nothing to tell."""

    def __init__(self, file: Path) -> None:
        super().__init__()
        self._file = file

    def emit(self, record: logging.LogRecord) -> None:
        self._into.emit(record)

    def close(self) -> None:
        super().close()
        if "_into" in self.__dict__:
            self._into.close()

    @cached_property
    def _into(self) -> logging.Handler:
        from logging.handlers import RotatingFileHandler

        into = RotatingFileHandler(self._file, "a", LARGEST, KEPT, "utf-8", delay=True)
        into.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
        into.rotator = _rotate
        return into


def _make(file: str | Path) -> None:
    os.close(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600))


def _rotate(file: str, older: str) -> None:
    Path(file).replace(older)
    _make(file)


def _tell_qt(level: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
    logger.getChild("qt").log(LEVELS.get(level, logging.WARNING), "%s", message)
