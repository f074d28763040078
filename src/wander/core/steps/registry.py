"""What a kind of step is, and the list of all of them."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

from pydantic import BaseModel

from wander.core.document.document import Step
from wander.core.document.fields import Model, Ref
from wander.core.document.findings import Finding
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.shaping.shell import Shell


class StepRefused(Exception):
    """The step can't be built; the findings say why and hold the repairs. summary: what can be shown of it all the same."""

    def __init__(self, findings: list[Finding], summary: BaseModel | None = None) -> None:
        super().__init__("; ".join(f.title for f in findings))
        self.findings = findings
        self.summary = summary


@dataclass(frozen=True)
class Inputs:
    """What a build may look at: the step itself, the steps it names and their results. shaped: to be told of a body's skin as soon as it is there."""

    step: Step
    steps: Mapping[str, Step]
    results: Mapping[str, Any]
    tolerances: Tolerances = DEFAULT
    shaped: Callable[[Shell], None] = lambda shell: None

    def result(self, ref: Ref) -> Any:
        return self.results[ref.step]

    def named(self, ref: Ref) -> Step:
        return self.steps[ref.step]


@dataclass(frozen=True)
class Built:
    """What a build gives: the result that later steps use, what the screen says of it, and findings that don't stop it."""

    result: Any
    summary: BaseModel
    findings: list[Finding] = field(default_factory=list)


@dataclass(frozen=True)
class StepKind:
    """name: as in documents and ids. result: what it makes ('station', 'section', 'body'). build: parameters and inputs to result."""

    name: str
    title: str
    result: str
    params: type[Model]
    build: Callable[[Any, Inputs], Built]

    @cached_property
    def schema(self) -> dict[str, Any]:
        """JSON Schema of the parameters."""
        return self.params.model_json_schema(ref_template="#/$defs/{model}")


class Registry:
    def __init__(self, kinds: Iterable[StepKind]) -> None:
        self._kinds = {kind.name: kind for kind in kinds}

    def __iter__(self) -> Iterator[StepKind]:
        return iter(self._kinds.values())

    def get(self, name: str) -> StepKind | None:
        return self._kinds.get(name)


def refs_in(value: object) -> Iterator[tuple[tuple[str | int, ...], Ref]]:
    """Every reference inside validated parameters, with its path."""
    if isinstance(value, Ref):
        yield (), value
    elif isinstance(value, BaseModel):
        for name in type(value).model_fields:
            yield from (((name, *path), ref) for path, ref in refs_in(getattr(value, name)))
    elif isinstance(value, list | tuple):
        for i, item in enumerate(value):
            yield from (((i, *path), ref) for path, ref in refs_in(item))
