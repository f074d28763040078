"""Rebuild: from a document to results, computing only what changed.

Every step's result is kept under a key made of its parameters as numbers, the keys of its inputs and the version of the code. A key
that is known is not computed again.
"""

from __future__ import annotations

import hashlib
import time
from collections import OrderedDict
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from difflib import get_close_matches
from enum import Enum
from typing import Any

import orjson
from pydantic import BaseModel, ValidationError

from wander.core.checks.numbers import dimensions_wrong, params_wrong
from wander.core.design.step_reading import StepReading, StepReadings
from wander.core.document.document import Document, Step
from wander.core.document.edits import SetParam
from wander.core.document.expressions import Scope
from wander.core.document.fields import Ref
from wander.core.document.findings import Finding, Fix, Severity
from wander.core.shaping.shell import Shell
from wander.core.steps import REGISTRY
from wander.core.steps.registry import Built, Inputs, StepKind, StepRefused

CODE_VERSION = "3"
"""Part of every key: raise it when a build gives another result for the same input."""

Starting = Callable[[Step, str], None]
Shaped = Callable[[Step, str, Shell], None]


class State(Enum):
    """How a step stands after a rebuild."""

    READY = "ready"
    WAITING = "waiting"
    """It needs a step that could not be built."""
    FAILED = "failed"
    SKIPPED = "skipped"
    BEYOND = "beyond"
    """It comes after the step that the design is built up to."""


@dataclass(frozen=True)
class StepBuilt:
    """A step has been dealt with. key: of its result, empty when there is none. ms: time spent now, 0 when it was known.

    values: what the expressions among the parameters come to, by path (`shape.diameter`), in mm, degrees or as counts.
    """

    step: str
    state: State
    key: str = ""
    ms: float = 0.0
    summary: BaseModel | None = None
    findings: list[Finding] = field(default_factory=list)
    result: Any = None
    values: dict[str, float] = field(default_factory=dict)


class Cache:
    """Results by key, the least recently used ones dropped first, and the readings of steps that led to them."""

    def __init__(self, most: int = 4000) -> None:
        self._most = most
        self.readings = StepReadings()
        self._kept: OrderedDict[str, Built | StepRefused] = OrderedDict()

    def get(self, key: str) -> Built | StepRefused | None:
        found = self._kept.get(key)
        if found is not None:
            self._kept.move_to_end(key)
        return found

    def put(self, key: str, value: Built | StepRefused) -> None:
        self._kept[key] = value
        if len(self._kept) > self._most:
            self._kept.popitem(last=False)


def design_findings(document: Document) -> list[Finding]:
    """Findings that belong to no step: the table of dimensions."""
    return dimensions_wrong(document)


def rebuild(
    document: Document,
    cache: Cache,
    starting: Starting = lambda step, key: None,
    shaped: Shaped = lambda step, key, shell: None,
) -> Iterator[StepBuilt]:
    """Deal with every step in order.

    `starting` is told of each step that has to be computed, before its build begins, and may refuse it by raising StepRefused; such a
    refusal is not remembered. `shaped` is told of a new body's skin before its numbers are known: the shape first, then the numbers.
    """
    work = _Work(document, document.scope(), _table(document), cache, starting, shaped)
    beyond = False
    for step in document.steps:
        outcome = StepBuilt(step.id, State.BEYOND) if beyond else _deal_with(step, work)
        work.done[step.id] = outcome
        yield outcome
        beyond = beyond or step.id == document.until


@dataclass(frozen=True)
class _Work:
    """One rebuild under way. dimensions: the table of named dimensions as bytes."""

    document: Document
    scope: Scope
    dimensions: bytes
    cache: Cache
    starting: Starting
    shaped: Shaped
    done: dict[str, StepBuilt] = field(default_factory=dict)


def _table(document: Document) -> bytes:
    return orjson.dumps([[d.name, d.value, d.kind.value] for d in document.dimensions])


def _deal_with(step: Step, work: _Work) -> StepBuilt:
    if step.skip:
        return StepBuilt(step.id, State.SKIPPED)
    kind = REGISTRY.get(step.kind)
    assert kind is not None, "documents are checked when they are read"
    try:
        reading = work.cache.readings.read(step, kind, work.scope, work.dimensions)
    except ValidationError as error:
        return StepBuilt(step.id, State.FAILED, findings=params_wrong(step, error))
    astray = [finding for path, ref in reading.refs for finding in _astray(step, list(path), ref, work.document, work.done)]
    if astray:
        return StepBuilt(step.id, State.FAILED, findings=astray)
    missing = [ref.step for _, ref in reading.refs if work.done[ref.step].state is not State.READY]
    if missing:
        return StepBuilt(step.id, State.WAITING, findings=_waiting_for(step, missing, work.document, work.done))
    return _build(step, kind, reading, work)


def _build(step: Step, kind: StepKind, reading: StepReading, work: _Work) -> StepBuilt:
    key = _key(reading, [work.done[ref.step].key for _, ref in reading.refs])
    known = work.cache.get(key)
    spent = 0.0
    if known is None:
        try:
            work.starting(step, key)
        except StepRefused as refused:
            return StepBuilt(step.id, State.FAILED, findings=refused.findings)
        begun = time.perf_counter()
        known = _call(step, kind, key, reading.params, work)
        spent = (time.perf_counter() - begun) * 1e3
        work.cache.put(key, known)
    if isinstance(known, StepRefused):
        return StepBuilt(step.id, State.FAILED, ms=spent, summary=known.summary, findings=known.findings, values=reading.values)
    return StepBuilt(step.id, State.READY, key, spent, known.summary, known.findings, known.result, reading.values)


def _call(step: Step, kind: StepKind, key: str, params: Any, work: _Work) -> Built | StepRefused:
    inputs = Inputs(
        step=step,
        steps={s.id: s for s in work.document.steps},
        results={step_id: built.result for step_id, built in work.done.items() if built.state is State.READY},
        shaped=lambda shell: work.shaped(step, key, shell),
    )
    try:
        return kind.build(params, inputs)
    except StepRefused as refused:
        return refused


def _key(reading: StepReading, inputs: list[str]) -> str:
    told = hashlib.sha256(CODE_VERSION.encode() + reading.digest)
    for key in inputs:
        told.update(key.encode())
    return told.hexdigest()[:32]


def _astray(step: Step, path: list[str | int], ref: Ref, document: Document, done: dict[str, StepBuilt]) -> list[Finding]:
    """A reference must lead to an earlier step of the right kind; the repair is the nearest one that would do."""
    target = document.step(ref.step)
    wanted = ref.refers
    if target is not None and ref.step in done and _result_of(target) == wanted:
        return []
    if target is None:
        title, why = f"{step.name} refers to a step that is gone", f"There is no step “{ref.step}” in this design."
    elif ref.step not in done:
        title, why = f"{step.name} refers to a later step", f"{target.name} comes after it; a step can only use what is made before it."
    else:
        title, why = f"{step.name} needs a {wanted}", f"{target.name} is a {_result_of(target)}."
    candidates = [s for s in document.steps if s.id in done and _result_of(s) == wanted]
    near = get_close_matches(ref.step, [s.id for s in candidates], n=1, cutoff=0.0)
    fixes = [
        Fix(label=f"Use {s.name}", edits=[SetParam(do="set-param", step=step.id, path=[*path, "step"], value=s.id)])
        for s in candidates
        if s.id in near
    ]
    return [Finding(code="broken-reference", severity=Severity.ERROR, step=step.id, title=title, detail=why, path=path, fixes=fixes)]


def _result_of(step: Step) -> str:
    kind = REGISTRY.get(step.kind)
    return kind.result if kind else ""


def _waiting_for(step: Step, missing: list[str], document: Document, done: dict[str, StepBuilt]) -> list[Finding]:
    names = [s.name for s in document.steps if s.id in missing]
    skipped = all(done[m].state is State.SKIPPED for m in missing)
    spoken = " and ".join(names[:2]) + (" and others" if len(names) > 2 else "")
    return [
        Finding(
            code="waiting",
            severity=Severity.NOTE,
            step=step.id,
            title=f"Waiting for {spoken}",
            detail="It builds by itself as soon as that is no longer skipped." if skipped else "It builds by itself as soon as that is settled.",
        )
    ]
