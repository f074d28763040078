"""A step's parameters as a build needs them: numbers worked out, references found, and remembered as long as nothing in them changes."""

from __future__ import annotations

import hashlib
import math
from collections import OrderedDict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import orjson

from wander.core.document.document import Step
from wander.core.document.expressions import Scope
from wander.core.document.fields import Ref
from wander.core.steps.quantities import Place
from wander.core.steps.registry import StepKind, refs_in

_MOST = 4000


@dataclass(frozen=True)
class StepReading:
    """params: validated, in mm and radians. refs: paths and references. digest: of everything of the step's own that a result depends on. apart:
    the same without what becomes of the body that it makes.

    values: what the expressions among the parameters come to, by path (`shape.diameter`), in mm, degrees or as counts.
    """

    params: Any
    refs: list[tuple[Place, Ref]]
    digest: bytes
    apart: bytes
    values: dict[str, float]


class StepReadings:
    """Readings by content. Steps that hold no expression are read once, whatever becomes of the named dimensions."""

    def __init__(self) -> None:
        self._kept: OrderedDict[tuple[bytes, bytes], StepReading] = OrderedDict()

    def read(self, step: Step, kind: StepKind, scope: Scope, dimensions: bytes) -> StepReading:
        """dimensions: the table that `scope` was made of, as bytes. Raises ValidationError, which is not remembered."""
        own = orjson.dumps([step.id, step.kind, step.params])
        for table in (b"", dimensions):
            known = self._kept.get((own, table))
            if known is not None:
                self._kept.move_to_end((own, table))
                return known
        fresh = _read(step, kind, scope, own)
        self._kept[own, dimensions if fresh.values else b""] = fresh
        if len(self._kept) > _MOST:
            self._kept.popitem(last=False)
        return fresh


def _read(step: Step, kind: StepKind, scope: Scope, own: bytes) -> StepReading:
    params = kind.params.model_validate(step.params, context=scope)
    worked_out = params.model_dump(mode="json")
    values = {
        ".".join(map(str, path)): math.degrees(found) if text in scope.angles else found for path, text, found in _texts(step.params, worked_out)
    }
    digest = hashlib.sha256(own + orjson.dumps(worked_out, option=orjson.OPT_SORT_KEYS)).digest()
    worked_out.pop("result", None)
    apart = hashlib.sha256(orjson.dumps([step.id, step.kind, worked_out], option=orjson.OPT_SORT_KEYS)).digest()
    return StepReading(params, list(refs_in(params)), digest, apart, values)


def _texts(raw: Any, worked_out: Any, path: Place = ()) -> Iterator[tuple[Place, str, float]]:
    """Every text that came to a number, with its path and that number.

    What a text means is told by what became of it: to ask the schema of the kind instead would take longer than a first build.
    """
    if isinstance(raw, str) and isinstance(worked_out, int | float):
        yield path, raw, worked_out
    elif isinstance(raw, dict) and isinstance(worked_out, dict):
        for name, value in raw.items():
            if not isinstance(value, float | int):
                yield from _texts(value, worked_out.get(name), (*path, name))
    elif isinstance(raw, list) and isinstance(worked_out, list):
        for i, (value, found) in enumerate(zip(raw, worked_out, strict=True)):
            if not isinstance(value, float | int):
                yield from _texts(value, found, (*path, i))
