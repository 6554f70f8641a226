"""What went wrong in a sitting, written down for whoever has to find out why."""

from __future__ import annotations

import logging
import os
from logging.handlers import RotatingFileHandler
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
        os.close(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600))
        handler = RotatingFileHandler(file, maxBytes=LARGEST, backupCount=KEPT, encoding="utf-8")
    except OSError:
        return
    handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
    logger.addHandler(handler)
    logger.setLevel(logging.INFO)
    logger.propagate = False
    qInstallMessageHandler(_tell_qt)


def _tell_qt(level: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
    logger.getChild("qt").log(LEVELS.get(level, logging.WARNING), "%s", message)
