"""Where the numbers stand in a step's raw parameters: a walk along the schema of its kind."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

Place = tuple[str | int, ...]
Change = Callable[[str, str, Place], Any]
"""What becomes of a text in a number field: the text, what it measures ('length', 'angle', 'count', 'number'), and its path."""


def with_expressions_changed(params: Any, schema: dict[str, Any], change: Change) -> Any:
    """A copy of the parameters in which every text that stands where a number may stand has been passed through `change`."""
    return _walk(params, schema, schema.get("$defs", {}), change, ())


def field_title(params: Any, schema: dict[str, Any], location: Sequence[str | int]) -> str | None:
    """What the field at a location of validated parameters is called on screen; names of union members may stand in it. None: it has no title."""
    definitions, here, title = schema.get("$defs", {}), schema, None
    for part in location:
        here = _resolved(params, here, definitions)
        if isinstance(part, int):
            first, rest = here.get("prefixItems") or [], here.get("items") or {}
            here = first[part] if part < len(first) else rest
            params = params[part] if isinstance(params, list) and part < len(params) else None
        elif isinstance(params, dict) and part not in params and params.get("type") == part:
            continue
        else:
            here = here.get("properties", {}).get(part, {})
            params = params.get(part) if isinstance(params, dict) else None
        title = here.get("title", title)
    return title


def _resolved(value: Any, schema: dict[str, Any], definitions: dict[str, Any]) -> dict[str, Any]:
    """The schema without references, the member of a union that the value belongs to."""
    while "$ref" in schema or "oneOf" in schema or "anyOf" in schema:
        schema = definitions.get(schema["$ref"].rsplit("/", 1)[1], {}) if "$ref" in schema else _branch(value, schema)
    return schema


def _walk(value: Any, schema: dict[str, Any], definitions: dict[str, Any], change: Change, path: Place) -> Any:
    while "$ref" in schema:
        schema = definitions.get(schema["$ref"].rsplit("/", 1)[1], {})
    if isinstance(value, str) and "x-quantity" in schema:
        return change(value, schema["x-quantity"], path)
    if "oneOf" in schema or "anyOf" in schema:
        return _walk(value, _branch(value, schema), definitions, change, path)
    if isinstance(value, dict):
        properties = schema.get("properties", {})
        return {k: v if _is_number(v) else _walk(v, properties.get(k, {}), definitions, change, (*path, k)) for k, v in value.items()}
    if isinstance(value, list):
        first, rest = schema.get("prefixItems") or [], schema.get("items") or {}
        return [v if _is_number(v) else _walk(v, first[i] if i < len(first) else rest, definitions, change, (*path, i)) for i, v in enumerate(value)]
    return value


def _is_number(value: Any) -> bool:
    """Most of a drawing is: there is no text in it to walk to."""
    return isinstance(value, float | int)


def _branch(value: Any, schema: dict[str, Any]) -> dict[str, Any]:
    """The member of a union that the value belongs to: by its `type`, or the first that is not null."""
    mapping = schema.get("discriminator", {}).get("mapping", {})
    if mapping:
        chosen = mapping.get(value.get("type")) if isinstance(value, dict) else None
        return {"$ref": chosen} if chosen else {}
    options: list[dict[str, Any]] = schema.get("anyOf") or schema.get("oneOf") or []
    return next((option for option in options if option.get("type") != "null"), {})
