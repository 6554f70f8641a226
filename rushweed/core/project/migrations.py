"""From older forms of the files to today's: one small step a version, and why."""

from __future__ import annotations

from typing import Any

from rushweed.core.values import Refusal

FORMAT = 1


def migrate(body: Any, name: str) -> dict[str, Any]:
    """The file's content in today's form, without its format number.

    Raises Refusal for a file of a newer Rushweed, or one that is no file of ours.
    """
    if not isinstance(body, dict) or not isinstance(body.get("format"), int):
        raise Refusal(f"{name} has no format number, so it is not a file of Rushweed.")
    version = body.pop("format")
    if version > FORMAT:
        raise Refusal(
            f"{name} was written by a newer Rushweed (format {version}, this one knows {FORMAT}). "
            "Open it with a newer version; nothing was changed."
        )
    return body
