"""The one application of a process, and whether there is a display for it."""

from __future__ import annotations

import os
import sys

from PyQt6.QtCore import QLibraryInfo, Qt, QTranslator
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication

from rushweed.core.words import language
from rushweed.ui.look.fonts import font


def has_display() -> bool:
    """Whether a window can be opened at all."""
    names = ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    return any(os.environ.get(name) for name in names)


def make_application() -> QApplication:
    """The one application of this process."""
    application = QApplication.instance()
    if isinstance(application, QApplication):
        return application
    policy = Qt.HighDpiScaleFactorRoundingPolicy.PassThrough
    QGuiApplication.setHighDpiScaleFactorRoundingPolicy(policy)
    QApplication.setStyle("Fusion")  # before there is one, or another is made first
    application = QApplication(sys.argv[:1])
    application.setApplicationName("rushweed")
    application.setApplicationDisplayName("Rushweed")
    application.setDesktopFileName("org.rushweed.Rushweed")
    application.setFont(font())
    _teach(application)
    return application


def _teach(application: QApplication) -> None:
    """Have the toolkit's own texts, of menus of text and of dialogs, in the language that is
    spoken."""
    texts = QTranslator(application)
    folder = QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath)
    if texts.load(f"qtbase_{language()}", folder):
        application.installTranslator(texts)
