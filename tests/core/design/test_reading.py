"""Documents from files: what is read, what is refused and how that is said; the published schema."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from tests.core.design.designs import circle, lofted
from wander.core.design.errors import UnreadableDocument
from wander.core.design.reading import LARGEST, document_schema, read_document, write_document
from wander.core.steps import REGISTRY

GOOD = json.loads(write_document(lofted((0.0, circle(20.0)), (10.0, circle("20 mm / 2")))))


def changed(*path: str | int, to: Any) -> bytes:
    copy = json.loads(json.dumps(GOOD))
    here = copy
    for part in path[:-1]:
        here = here[part]
    here[path[-1]] = to
    return json.dumps(copy).encode()


def test_reading_gives_back_what_was_written() -> None:
    document = read_document(json.dumps(GOOD).encode())
    assert read_document(write_document(document)) == document


@pytest.mark.parametrize("name", ["tarn", "bailer", "merganser", "plover", "skua"])
def test_the_demo_designs_are_written_as_wander_writes_them(samples: Path, name: str) -> None:
    document = read_document((samples / f"{name}.json").read_bytes())
    assert read_document(write_document(document)) == document


@pytest.mark.parametrize(
    ("data", "told"),
    [
        (b"", "not JSON"),
        (b"{", "not JSON"),
        (b"\xff\xfe\x00", "not JSON"),
        (b"[]", "expected a design of format"),
        (b"{}", "got none"),
        (b'{"format": "other/3"}', "other/3"),
        (b" " * (LARGEST + 1), "larger than a design can be"),
        (changed("name", to=""), "name"),
        (changed("name", to=7), "name"),
        (changed("unit", to="furlong"), "unit"),
        (changed("extra", to=1), "extra"),
        (changed("next", to=2), "at least 6"),
        (changed("steps", 0, "id", to="../../etc"), "no step id"),
        (changed("steps", 1, "id", to="station-1"), "stands twice"),
        (changed("steps", 0, "kind", to="warp"), "no kind of step called “warp”"),
        (changed("steps", 0, "params", "offset", to=None), "station-1: offset"),
        (changed("steps", 1, "params", "shape", "diameter", to="__import__('os')"), "section-2: .*more than a number"),
        (changed("steps", 1, "params", "shape", "type", to="hexagram"), "section-2: shape"),
        (changed("steps", 4, "params", "sections", to="all"), "loft-5: sections"),
        (changed("dimensions", to=[{"name": "a", "value": 1.0}, {"name": "a", "value": 2.0}]), "“a” stands twice"),
        (changed("dimensions", to=[{"name": "a", "value": "import"}]), "can't be read"),
    ],
)
def test_what_is_wrong_is_named(data: bytes, told: str) -> None:
    with pytest.raises(UnreadableDocument, match=told):
        read_document(data)


def test_deep_nesting_is_refused_without_a_fall() -> None:
    with pytest.raises(UnreadableDocument):
        read_document(b'{"format":' * 2000 + b"1" + b"}" * 2000)


def test_the_schema_knows_every_kind_of_step() -> None:
    schema = document_schema()
    assert schema["$id"] == "wander-design/1"
    for kind in REGISTRY:
        assert f"{kind.name}-params" in schema["$defs"]
        assert kind.schema["title"]
    assert schema["$defs"]["Step"]["properties"]["kind"]["enum"] == [kind.name for kind in REGISTRY]
    assert "x-quantity" in json.dumps(schema["$defs"]["Circle"])


def references(schema: Any) -> set[str]:
    if isinstance(schema, dict):
        own = {schema["$ref"]} if isinstance(schema.get("$ref"), str) else set()
        return own.union(*(references(v) for v in schema.values()))
    if isinstance(schema, list):
        return set().union(*(references(v) for v in schema)) if schema else set()
    return set()


def test_every_reference_in_the_schema_leads_somewhere() -> None:
    schema = document_schema()
    for reference in references(schema):
        assert reference.removeprefix("#/$defs/") in schema["$defs"], reference
