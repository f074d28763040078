"""What a kind of step is, and the list of all of them."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Any, Protocol

from pydantic import BaseModel

from wander.core.document.fields import Model, Ref

if TYPE_CHECKING:
    from wander.core.steps.inputs import Built, Inputs


class Build(Protocol):
    """From parameters and inputs to a result. Raises StepRefused."""

    def __call__(self, params: Any, inputs: Inputs) -> Built: ...


def nothing(params: Any) -> Ref | None:
    return None


def nothing_more(params: Any) -> Sequence[Ref]:
    return ()


@dataclass(frozen=True)
class StepKind:
    """name: as in documents and ids. result: what it makes ('station', 'section', 'rail', 'picture', 'body').

    build: module and name of the function, loaded when it is first needed: who only reads documents loads no geometry. changes: the body that
    the result replaces, which is handed through where the step is skipped; uses_up: further bodies that are gone after it. kernel: whether,
    with these parameters, only the kernel can give the exact result. weighs: the body whose density it reads.
    last: it reads bodies as they stand when all is made: what it names may have been changed since. waits: while something is dragged it leaves the
    body that it changes as it was.
    """

    name: str
    title: str
    result: str
    params: type[Model]
    build: str
    changes: Callable[[Any], Ref | None] = nothing
    uses_up: Callable[[Any], Sequence[Ref]] = nothing_more
    kernel: Callable[[Any], bool] = lambda params: False
    weighs: Callable[[Any], Ref | None] = nothing
    last: bool = False
    waits: bool = False

    def changed(self, params: Any) -> list[Ref]:
        """The bodies that a step with these parameters uses up, the one that its result replaces first."""
        first = self.changes(params)
        return [*([first] if first is not None else []), *self.uses_up(params)]

    @cached_property
    def schema(self) -> dict[str, Any]:
        """JSON Schema of the parameters."""
        return self.params.model_json_schema(ref_template="#/$defs/{model}")

    @cached_property
    def builder(self) -> Build:
        module, _, name = self.build.partition(":")
        found: Build = getattr(importlib.import_module(module), name)
        return found


class Registry:
    def __init__(self, kinds: Iterable[StepKind]) -> None:
        self._kinds = {kind.name: kind for kind in kinds}

    def __iter__(self) -> Iterator[StepKind]:
        return iter(self._kinds.values())

    def get(self, name: str) -> StepKind | None:
        return self._kinds.get(name)


def found_in(package: str, path: Iterable[str]) -> Registry:
    """The kinds of all packages in a package: each has its KIND."""
    names = sorted(module.name for module in pkgutil.iter_modules(path) if module.ispkg)
    return Registry(importlib.import_module(f"{package}.{name}").KIND for name in names)


def refs_in(value: object) -> Iterator[tuple[tuple[str | int, ...], Ref]]:
    """Every reference inside validated parameters, with its path."""
    if isinstance(value, Ref):
        yield (), value
    elif isinstance(value, BaseModel):
        for name in type(value).model_fields:
            if isinstance(inner := getattr(value, name), BaseModel | list | tuple):
                yield from (((name, *path), ref) for path, ref in refs_in(inner))
    elif isinstance(value, list | tuple):
        for i, item in enumerate(value):
            if isinstance(item, BaseModel | list | tuple):
                yield from (((i, *path), ref) for path, ref in refs_in(item))
