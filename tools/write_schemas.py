"""Writes the JSON Schemas of the project's files and of the bundle to docs/format/."""

from __future__ import annotations

import json
from pathlib import Path

from rushweed.core.schemas import all_schemas

FORMAT = Path(__file__).parent.parent / "docs" / "format"


def main() -> None:
    for name, body in all_schemas().items():
        text = json.dumps(body, indent=2, ensure_ascii=False) + "\n"
        (FORMAT / f"{name}.schema.json").write_text(text, encoding="utf-8")


if __name__ == "__main__":
    main()
