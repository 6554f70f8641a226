"""The same verbs without a window. Exit status 0 fine, 1 findings or refused input, 2 wrong use."""

from __future__ import annotations

import sys
from collections.abc import Callable
from contextlib import redirect_stdout

import typer

from rushweed.core.folder.names import printable
from rushweed.core.values import Refusal
from rushweed.verbs import desktop, looking, merging, projects, ruling, stripping, walking
from rushweed.verbs.harmless import Harmless

app = typer.Typer(
    help="The bench between the art and the game. Without a verb, opens the window; "
    "--version tells which one it is.",
    no_args_is_help=True,
    add_completion=True,
    pretty_exceptions_enable=False,
)

VERBS: dict[str, Callable[..., None]] = {
    "new": projects.make_new,
    "rules": ruling.show_rules,
    "inspect": looking.inspect_images,
    "outline": looking.outline_image,
    "check": projects.check_project,
    "walk": walking.walk_level,
    "probe": walking.probe_level,
    "handout": walking.hand_out,
    "build": projects.build_bundle,
    "render": projects.render_level,
    "strip": stripping.write_strip,
    "merge": merging.merge_projects,
    "watch": projects.watch_project,
    "serve": projects.serve_project,
    "diff": projects.compare_bundles,
    "demo": projects.copy_demo,
    "desktop": desktop.install_desktop,
    "schema": looking.print_schema,
}
LONGEST_SENTENCE = 4000
for name, verb in VERBS.items():
    app.command(name)(verb)


def run_verb(words: list[str]) -> int:
    """Run one verb. Returns the exit status."""
    try:
        with redirect_stdout(Harmless(sys.stdout)):
            app(words, prog_name="rushweed")
    except Refusal as refusal:
        print(printable(str(refusal), LONGEST_SENTENCE), file=sys.stderr)
        return 1
    except OSError as problem:
        place = printable(str(problem.filename or "That"))
        print(f"“{place}” cannot be used ({problem.strerror}). Check the path.", file=sys.stderr)
        return 1
    except MemoryError:
        print("There is not enough memory for that. Do it in smaller parts.", file=sys.stderr)
        return 1
    except SystemExit as end:
        return end.code if isinstance(end.code, int) else 1
    return 0
