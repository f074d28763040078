"""Documents from and to bytes, and the published schema."""

from __future__ import annotations

from typing import Any

import orjson
from pydantic import ValidationError

from wander.core.design.attached import Attached, attached_in
from wander.core.design.errors import TooLarge, UnreadableDocument
from wander.core.document.document import FORMAT, Document, Step
from wander.core.steps import REGISTRY
from wander.core.steps.quantities import field_title
from wander.core.steps.registry import StepKind

LARGEST = 16 * 1024 * 1024


def read_document(data: bytes) -> Document:
    """A document from a file, its pictures left aside. Raises UnreadableDocument that names the place of the first thing wrong."""
    return read_file(data)[0]


def read_file(data: bytes) -> tuple[Document, Attached]:
    """A document and what its file carries beside it. Raises UnreadableDocument."""
    if len(data) > LARGEST:
        raise UnreadableDocument(f"the file is larger than a design can be ({LARGEST // 2**20} MB)")
    try:
        raw = orjson.loads(data)
    except orjson.JSONDecodeError as error:
        raise UnreadableDocument(f"the file is not JSON: {error}") from None
    if not isinstance(raw, dict) or raw.get("format") != FORMAT:
        found = raw.get("format") if isinstance(raw, dict) else None
        raise UnreadableDocument(f"expected a design of format “{FORMAT}”, got {'none' if found is None else repr(found)[:60]}")
    attached = attached_in(raw)
    try:
        document = Document.model_validate(raw)
        for step in document.steps:
            check_step(step)
    except ValidationError as error:
        raise UnreadableDocument(first_complaint(error)) from None
    return document, attached


def read_kept(data: bytes) -> Document:
    """A document that was checked when it was written, as the store and the workers hold it: read without checking every step again."""
    return Document.model_validate(orjson.loads(data))


def check_step(step: Step) -> None:
    """Raises UnreadableDocument or ValidationError when the step's kind or the form of its parameters is unknown."""
    kind = REGISTRY.get(step.kind)
    if kind is None:
        known = ", ".join(k.name for k in REGISTRY)
        raise UnreadableDocument(f"{step.id}: there is no kind of step called “{step.kind}”; known are {known}")
    try:
        kind.params.model_validate(step.params)
    except ValidationError as error:
        raise UnreadableDocument(f"{step.id}: {first_complaint(error)}", _in_words(step, kind, error)) from None


def first_complaint(error: ValidationError) -> str:
    """Where and what, in one sentence, for the first of the errors."""
    item = error.errors(include_url=False)[0]
    place = ".".join(str(part) for part in item["loc"])
    cause = item.get("ctx", {}).get("error")
    said = str(cause) if cause is not None else item["msg"]
    return f"{place}: {said}" if place else said


def _in_words(step: Step, kind: StepKind, error: ValidationError) -> str:
    item = error.errors(include_url=False)[0]
    cause = item.get("ctx", {}).get("error")
    if item["type"] == "extra_forbidden":
        return f"{step.name} has no “{item['loc'][-1]}”"
    title = field_title(step.params, kind.schema, item["loc"])
    said = str(cause) if cause is not None else item["msg"]
    return f"{step.name}, {title}: {said}" if title else f"{step.name}: {said}"


def write_document(document: Document) -> bytes:
    """The file, indented, keys in their order: made to be read and compared."""
    return orjson.dumps(document.model_dump(mode="json"), option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)


def checked(document: Document) -> bytes:
    """The file, which the reader has been shown to take. Raises TooLarge, UnreadableDocument."""
    data = write_document(document)
    if len(data) > LARGEST:
        raise TooLarge(
            f"the design would be {len(data) / 2**20:.0f} MB, and one may have {LARGEST // 2**20} MB. Take something away, or go back a step"
        )
    read_document(data)
    return data


def write_file(document: Document, attached: Attached) -> bytes:
    """The file with what belongs to the document. Raises TooLarge when it could not be opened again."""
    if not attached:
        return write_document(document)
    raw = document.model_dump(mode="json") | attached.raw()
    data = orjson.dumps(raw, option=orjson.OPT_INDENT_2 | orjson.OPT_APPEND_NEWLINE)
    if len(data) > LARGEST:
        raise TooLarge(
            f"with its pictures and brought-in parts the design is {len(data) / 2**20:.0f} MB, and a file may have {LARGEST // 2**20} MB. "
            "Take one of them away, or bring it in with fewer pixels or faces"
        )
    return data


def document_schema() -> dict[str, Any]:
    """The JSON Schema of documents, the parameters of every kind of step included."""
    schema = Document.model_json_schema(ref_template="#/$defs/{model}")
    definitions = schema["$defs"]
    branches = []
    for kind in REGISTRY:
        definitions.update(kind.schema.get("$defs", {}))
        definitions[f"{kind.name}-params"] = {k: v for k, v in kind.schema.items() if k != "$defs"}
        branches.append(
            {
                "if": {"properties": {"kind": {"const": kind.name}}},
                "then": {"properties": {"params": {"$ref": f"#/$defs/{kind.name}-params"}}},
            }
        )
    definitions["Step"]["properties"]["kind"]["enum"] = [kind.name for kind in REGISTRY]
    definitions["Step"]["allOf"] = branches
    schema["properties"]["pictures"] = {
        "type": "object",
        "additionalProperties": {"type": "string", "contentEncoding": "base64"},
        "description": "Data of reference pictures, PNG or JPEG, by the key that steps name them by.",
    }
    schema["properties"]["parts"] = {
        "type": "object",
        "additionalProperties": {"type": "string", "contentEncoding": "base64"},
        "description": "Data of files with bodies in them, STEP or STL, packed as zlib does (RFC 1950), by the key that steps name them by.",
    }
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": FORMAT, **schema}
