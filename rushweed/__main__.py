"""`rushweed [PROJECT]` opens the window; `rushweed VERB …` works without one."""

from __future__ import annotations

import os
import sys
from pathlib import Path

from rushweed import __version__

VERBS = frozenset(
    {
        "new",
        "rules",
        "inspect",
        "outline",
        "check",
        "walk",
        "probe",
        "handout",
        "build",
        "render",
        "strip",
        "merge",
        "watch",
        "serve",
        "diff",
        "demo",
        "desktop",
        "schema",
    }
)


COMPLETING = "_RUSHWEED_COMPLETE"
"""Set by the shell when it asks how a command line may go on."""


def main() -> int:
    """Run what the command line asks for. Returns the exit status: 0 fine, 1 findings or refused
    input, 2 wrong use."""
    words = sys.argv[1:]
    if words == ["--version"]:  # before anything large is brought in
        print(f"rushweed {__version__}")
        return 0
    if COMPLETING in os.environ or (words and (words[0] in VERBS or words[0].startswith("-"))):
        return _run_verb(words)
    if len(words) > 1:
        print("rushweed takes one project, or a verb. See rushweed --help.", file=sys.stderr)
        return 2
    return open_window(Path(words[0]) if words else None)


def _run_verb(words: list[str]) -> int:
    from rushweed.verbs.quick import fresh_build

    told = fresh_build(words)
    if told is not None:
        print(told)
        return 0
    from rushweed.cli import run_verb

    return run_verb(words)


def open_window(folder: Path | None) -> int:
    """Open the window on a project, else on the demo."""
    from rushweed.core.bulk import in_bulk
    from rushweed.ui import system_libraries
    from rushweed.ui.at_start import settle
    from rushweed.ui.settings import Settings

    lost = system_libraries.missing()
    if lost:
        print(system_libraries.told(lost), file=sys.stderr)
        return 1
    settings = Settings()
    settle(settings)
    with in_bulk():  # nothing of what is brought in is garbage
        from rushweed.ui.app import run

    if folder is not None and folder.name == "project.rushweed":
        folder = folder.parent
    return run(folder, settings)


if __name__ == "__main__":
    sys.exit(main())
