"""The JSON Schemas of everything that is written for others to read (JSON Schema 2020-12)."""

from __future__ import annotations

from typing import Any

from rushweed.core.bale import manifest
from rushweed.core.project import files
from rushweed.core.project.migrations import FORMAT

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def all_schemas() -> dict[str, dict[str, Any]]:
    """The schemas by what they are of: the bundle's manifest, and a project's three kinds of file.
    Each has an identity, and wants the number of its format."""
    plain = {**files.schemas(), "bundle": manifest.schema()}
    return {name: _whole(name, body) for name, body in plain.items()}


def _whole(name: str, body: dict[str, Any]) -> dict[str, Any]:
    properties = {"format": {"const": FORMAT, "type": "integer"}, **body["properties"]}
    required = list(dict.fromkeys(("format", *body.get("required", ()))))
    number = properties["format"]["const"]
    head = {"$schema": DIALECT, "$id": f"urn:rushweed:{name}:{number}"}
    return head | body | {"properties": properties, "required": required}
