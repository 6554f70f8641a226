"""From older forms of the files to today's: one small step a version, and why."""

from __future__ import annotations

from typing import Any

from rushweed.core.values import Refusal

FORMAT = 6


def migrate(body: Any, name: str) -> dict[str, Any]:
    """The file's content in today's form, without its format number.

    Raises Refusal for a file of a newer Rushweed, or one that is no file of ours.
    """
    if not isinstance(body, dict) or not isinstance(body.get("format"), int):
        raise Refusal("{name} has no format number, so it is not a file of Rushweed.", name=name)
    version = body.pop("format")
    if version > FORMAT:
        raise Refusal(
            "{name} was written by a newer Rushweed (format {version}, this one knows "
            "{format}). Open it with a newer version; nothing was changed.",
            name=name,
            version=version,
            format=FORMAT,
        )
    if version < 1:
        raise Refusal(
            "{name} says it is of format {version}, which never was. Put it right.",
            name=name,
            version=version,
        )
    content: dict[str, Any] = body
    try:
        for step in range(version, FORMAT):
            content = STEPS[step](content)
    except (TypeError, AttributeError, LookupError, ValueError) as problem:
        raise Refusal(
            "{name} is not what a file of format {version} is. Bring back an older copy.",
            name=name,
            version=version,
        ) from problem
    return content


def _padding_to_treatments(body: dict[str, Any]) -> dict[str, Any]:
    """Space around pieces is chosen with their look: the first recipe's goes to all treatments."""
    recipes = body.get("recipes")
    if not isinstance(recipes, list):
        return body
    points = ("padding", "repeat_edge")
    first = {point: recipes[0][point] for point in points if recipes and point in recipes[0]}
    kept = [{k: v for k, v in recipe.items() if k not in points} for recipe in recipes]
    treatments = [{**first, **treatment} for treatment in body.get("treatments", [])]
    return {**body, "recipes": kept, "treatments": treatments}


def _flips_to_orientations(body: dict[str, Any]) -> dict[str, Any]:
    """Props can be turned by quarters, so a flip is one of eight orientations."""
    if not isinstance(body.get("layers"), list):
        return body

    def turned(prop: dict[str, Any]) -> dict[str, Any]:
        flipped = prop.pop("flipped", False)
        return {**prop, "orientation": 1} if flipped else prop

    layers = [
        {**layer, "props": [turned(dict(prop)) for prop in layer["props"]]}
        if layer.get("props")
        else layer
        for layer in body["layers"]
    ]
    return {**body, "layers": layers}


def _chosen_rules(body: dict[str, Any]) -> dict[str, Any]:
    """Ground rules that differ from the usual ones were chosen: the art must not change them. A
    walker's usual body comes from its figure or the ground rules now."""
    rules, walker = body.get("rules"), body.get("walker")
    if isinstance(walker, dict) and walker.get("body") == [10, 21]:
        body = {**body, "walker": {**walker, "body": None}}
    if not isinstance(rules, dict):
        return body
    usual = rules.get("pixels_per_unit", 16) == 16 and rules.get("tile", [16, 16]) == [16, 16]
    return {**body, "rules": {**rules, "chosen": not usual}}


def _names_of_the_trade(body: dict[str, Any]) -> dict[str, Any]:
    """What the trade has a name for is called so."""

    def named(part: dict[str, Any], names: dict[str, str]) -> dict[str, Any]:
        return {names.get(key, key): value for key, value in part.items()}

    edge = {"repeat_edge": "extrude"}
    if isinstance(body.get("treatments"), list):
        body = {**body, "treatments": [named(one, edge) for one in body["treatments"]]}
    if isinstance(body.get("differences"), dict):
        body = {**body, "differences": named(body["differences"], edge)}
    if isinstance(body.get("walker"), dict):
        walker = named(body["walker"], WALKERS)
        if isinstance(walker.get("feel"), dict):
            walker["feel"] = named(walker["feel"], {"corner": "corner_correction"})
        body = {**body, "walker": walker}
    return body


def _sheet_to_figure(body: dict[str, Any]) -> dict[str, Any]:
    """A walker shows a figure, which may be of several sheets; a sheet is one by itself."""
    walker = body.get("walker")
    if not isinstance(walker, dict) or "sheet" not in walker:
        return body
    named = {"figure" if key == "sheet" else key: value for key, value in walker.items()}
    return {**body, "walker": named}


WALKERS = {
    "late": "coyote_time",
    "early": "jump_buffer",
    "short_jumps": "variable_jump_height",
}
STEPS = {
    1: _padding_to_treatments,
    2: _flips_to_orientations,
    3: _chosen_rules,
    4: _names_of_the_trade,
    5: _sheet_to_figure,
}
