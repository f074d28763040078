"""What belongs to a design and lies beside its document: the data of reference pictures and of files with bodies in them, by key."""

from __future__ import annotations

import base64
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from wander.core.design.errors import UnreadableDocument
from wander.core.document.document import Document, Step

NAMED_BY = {"picture": "picture", "part": "file", "reference": "file"}
"""The parameter by which steps of these kinds name their data."""
LARGEST_PART = 64 * 1024 * 1024
"""Bytes of a file with bodies in it, unpacked."""


@dataclass(frozen=True)
class Attached:
    """pictures: PNG or JPEG. parts: STEP or STL."""

    pictures: Mapping[str, bytes] = field(default_factory=dict)
    parts: Mapping[str, bytes] = field(default_factory=dict)

    def __bool__(self) -> bool:
        return bool(self.pictures or self.parts)

    def raw(self) -> dict[str, dict[str, str]]:
        """As a file of a design has it: in base64, parts packed."""
        found = {
            "pictures": {key: base64.b64encode(data).decode() for key, data in self.pictures.items()},
            "parts": {key: base64.b64encode(zlib.compress(data)).decode() for key, data in self.parts.items()},
        }
        return {name: held for name, held in found.items() if held}


def attached_in(raw: dict[str, Any]) -> Attached:
    """Taken out of what a file says. Raises UnreadableDocument."""
    pictures = _decoded(raw.pop("pictures", {}), "pictures")
    parts = {key: _unpacked(data) for key, data in _decoded(raw.pop("parts", {}), "parts").items()}
    return Attached(pictures, parts)


def _decoded(raw: Any, name: str) -> dict[str, bytes]:
    if not isinstance(raw, dict):
        raise UnreadableDocument(f"{name}: expected their data by key")
    try:
        return {str(key): base64.b64decode(data, validate=True) for key, data in raw.items()}
    except (TypeError, ValueError):
        raise UnreadableDocument(f"{name}: expected data in base64") from None


def _unpacked(data: bytes) -> bytes:
    packed = zlib.decompressobj()
    try:
        found = packed.decompress(data, LARGEST_PART)
    except zlib.error:
        raise UnreadableDocument("parts: expected packed data (zlib)") from None
    if not packed.eof:
        raise UnreadableDocument(f"parts: one is broken off, or larger than a part can be ({LARGEST_PART // 2**20} MB)")
    return found


def keys_of(document: Document, *kinds: str) -> list[str]:
    """Keys of the data that steps of these kinds name, each once."""
    return list(dict.fromkeys(str(step.params[NAMED_BY[step.kind]]) for step in document.steps if step.kind in kinds))


def pictures_of(document: Document) -> list[str]:
    return keys_of(document, "picture")


def parts_of(document: Document) -> list[str]:
    return keys_of(document, "part", "reference")


def with_keys(document: Document, keys: Mapping[str, str]) -> Document:
    """The document with its data under other keys."""

    def renamed(step: Step) -> Step:
        name = NAMED_BY.get(step.kind)
        if name is None:
            return step
        return step.model_copy(update={"params": {**step.params, name: keys.get(step.params[name], step.params[name])}})

    return document.model_copy(update={"steps": tuple(map(renamed, document.steps))})
