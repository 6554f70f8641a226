"""Making the desktop know Rushweed: its entry in the menus, its icon and its type of file, for
those who installed it as a Python package."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path
from typing import Annotated

import typer

from rushweed.core.values import Refusal

SHARED = ("applications", "icons", "mime", "metainfo", "man")
TELL = (("update-desktop-database", "applications"), ("update-mime-database", "mime"))
"""Programs that, where there are any, read the folders anew."""


def install_desktop(
    install: Annotated[
        bool, typer.Option("--install", help="Put entry, icon, file type and manual page there.")
    ] = False,
    remove: Annotated[bool, typer.Option("--remove", help="Take them away again.")] = False,
) -> None:
    """Tell the desktop of Rushweed, in the user's own data folder."""
    if install == remove:
        raise Refusal("Say --install, or --remove to take it away again.")
    home = Path(os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share")
    for file in shared_files():
        target = home / file.relative_to(_shared())
        try:
            if install:
                target.parent.mkdir(parents=True, exist_ok=True)
                shutil.copyfile(file, target)
            else:
                target.unlink(missing_ok=True)
        except OSError as problem:
            why = problem.strerror
            raise Refusal("“{out}” cannot be written ({why}).", out=target, why=why) from None
        print(target)
    for program, folder in TELL:
        if shutil.which(program) and (home / folder).is_dir():
            subprocess.run([program, str(home / folder)], check=False, capture_output=True)


def shared_files() -> list[Path]:
    """What the desktop is to know, as it came along."""
    folders = [_shared() / name for name in SHARED]
    files = [path for folder in folders for path in folder.rglob("*rushweed*") if path.is_file()]
    if not files:
        raise Refusal("This installation came without its desktop entry. Install it anew.")
    return sorted(files)


def _shared() -> Path:
    """The shared files: beside the sources in a checkout, else where packages put them."""
    checkout = Path(__file__).parent.parent.parent / "share"
    return checkout if checkout.is_dir() else Path(sys.prefix) / "share"
