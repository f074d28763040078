"""Rebuild: from a document to results, computing only what changed.

Every step's result is kept under a key made of its parameters as numbers, the keys of its inputs and the version of the code. A key
that is known is not computed again. The same code runs with the kernel and without: what only the kernel can give comes as a rough body without it,
and a step that needs more than that is left for who has the kernel.
"""

from __future__ import annotations

import hashlib
import logging
import re
import time
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import Enum
from functools import partial
from typing import Any
from uuid import uuid4

import orjson
from pydantic import BaseModel, ValidationError

from wander.core.bodies.body import Body
from wander.core.bodies.copies import kept_on
from wander.core.bodies.kernel import Kernel
from wander.core.checks.engine import gave_up, unforeseen
from wander.core.checks.numbers import dimensions_wrong, params_wrong
from wander.core.design.astray import astray, waiting_for
from wander.core.design.code import code_version
from wander.core.design.finishes import finish_of
from wander.core.design.memory import Memory
from wander.core.design.step_reading import StepReading
from wander.core.document.document import Document, Step
from wander.core.document.expressions import Scope
from wander.core.document.fields import Ref
from wander.core.document.findings import Finding, Severity
from wander.core.drawing.summary import DrawnLines
from wander.core.results.summaries import BodySummary
from wander.core.shaping.shell import Shell
from wander.core.steps import REGISTRY
from wander.core.steps.inputs import Built, Inputs, LeftOff, NeedsExact, StepRefused, Weighed
from wander.core.steps.registry import StepKind

log = logging.getLogger(__name__)

WORST_FIRST = (Severity.ERROR, Severity.WARNING, Severity.NOTE)
MARK = "\u2063"
"""Stands on both sides of a step's id where its name will stand; it can't be typed by accident."""
_MARKED = re.compile(f"{MARK}([^{MARK}]*){MARK}")

Starting = Callable[[Step, str], None]
Shaped = Callable[[Step, str, tuple[Shell, ...]], None]
Penned = Callable[[Step, DrawnLines], None]


class State(Enum):
    """How a step stands after a rebuild."""

    READY = "ready"
    WORKING = "working"
    """It needs more than a rough body, which only who has the kernel can give."""
    WAITING = "waiting"
    """It needs a step that could not be built."""
    FAILED = "failed"
    SKIPPED = "skipped"
    BEYOND = "beyond"
    """It comes after the step that the design is built up to."""


@dataclass(frozen=True)
class StepBuilt:
    """A step has been dealt with. key: of its result, empty when there is none. ms: time spent now, 0 when it was known.

    values: what the expressions among the parameters come to, by path (`shape.diameter`), in mm, degrees or as counts. rough: a body that is only
    a mesh as yet. uses: the steps that it names. changes: those of the bodies that it uses up once it is ready, the one that its result replaces
    first; a skipped step hands that one through, and its result is that body's. later: gives it with its numbers, which are still to come.
    """

    step: str
    state: State
    key: str = ""
    ms: float = 0.0
    summary: BaseModel | None = None
    findings: list[Finding] = field(default_factory=list)
    result: Any = None
    values: dict[str, float] = field(default_factory=dict)
    rough: bool = False
    uses: tuple[str, ...] = ()
    changes: tuple[str, ...] = ()
    later: Callable[[], StepBuilt] | None = None

    def complete(self) -> StepBuilt:
        """With its numbers, where they were still to come."""
        return self if self.later is None else replace(self.later(), changes=self.changes)

    @property
    def usable(self) -> bool:
        """Whether later steps can build on it: it is ready, or hands a body through."""
        return self.result is not None


def design_findings(document: Document) -> list[Finding]:
    """Findings that belong to no step: the table of dimensions."""
    return dimensions_wrong(document)


@dataclass(frozen=True)
class Ways:
    """How a rebuild goes about it.

    starting: told of each step that has to be computed, before its build begins.
    shaped: told of a new body's skins before its numbers are known: the shape first, then the numbers. penned: of the lines of a drawing, likewise
    before its areas. pause: called between those; it and the others may raise LeftOff, with which the rebuild ends. kernel: where it is at hand.
    lasting: whether results are worth keeping beyond this process. numbers_wait: whether the numbers of a step may come when all else is there; who
    asks for that completes what comes without.
    """

    starting: Starting = lambda step, key: None
    shaped: Shaped = lambda step, key, skins: None
    penned: Penned = lambda step, lines: None
    pause: Callable[[], None] = lambda: None
    kernel: Kernel | None = None
    lasting: bool = True
    numbers_wait: Callable[[str], bool] = lambda step: False
    barred: Mapping[str, str] = field(default_factory=dict)
    """Keys of results that are not to be tried, with the reason."""


def rebuild(document: Document, memory: Memory, ways: Ways | None = None) -> Iterator[StepBuilt]:
    """Deal with every step in order; those that read what stands at the end come last."""
    work = _Work(document, document.scope(), dimension_table(document), memory, ways or Ways())
    beyond, last = False, []
    for step in document.steps:
        kind = REGISTRY.get(step.kind)
        if kind is not None and kind.last and not beyond:
            last.append(step)
        else:
            outcome = StepBuilt(step.id, State.BEYOND) if beyond else _deal_with(step, work)
            work.done[step.id] = outcome
            yield outcome
        beyond = beyond or step.id == document.until
    if last:
        work = replace(work, done=_as_they_stand(work.done))
        for step in last:
            yield _deal_with(step, work)


def _as_they_stand(done: Mapping[str, StepBuilt]) -> dict[str, StepBuilt]:
    """For every step what became of its body in the end: that of the last step which changed it."""
    changed = {used: step.step for step in done.values() if step.state in (State.READY, State.WORKING) for used in step.changes}
    found = {}
    for step in done:
        at = step
        while at in changed:
            at = changed[at]
        found[step] = done[at]
    return found


@dataclass(frozen=True)
class _Work:
    """One rebuild under way. dimensions: the table of named dimensions as bytes."""

    document: Document
    scope: Scope
    dimensions: bytes
    memory: Memory
    ways: Ways
    done: dict[str, StepBuilt] = field(default_factory=dict)


def dimension_table(document: Document) -> bytes:
    """The table of named dimensions as bytes: what readings of expressions depend on."""
    return orjson.dumps([[d.name, d.value, d.kind.value] for d in document.dimensions])


def _deal_with(step: Step, work: _Work) -> StepBuilt:
    kind = REGISTRY.get(step.kind)
    assert kind is not None, "documents are checked when they are read"
    try:
        reading = work.memory.readings.read(step, kind, work.scope, work.dimensions)
    except ValidationError as error:
        return StepBuilt(step.id, State.SKIPPED if step.skip else State.FAILED, findings=[] if step.skip else params_wrong(step, error))
    uses = tuple(dict.fromkeys(ref.step for _, ref in reading.refs))
    return replace(_read(step, kind, reading, uses, work), changes=tuple(dict.fromkeys(ref.step for ref in kind.changed(reading.params))))


def _read(step: Step, kind: StepKind, reading: StepReading, uses: tuple[str, ...], work: _Work) -> StepBuilt:
    """Deal with a step whose parameters make sense."""
    if step.skip:
        return _handed_through(step, kind, reading, uses, work)
    wrong = [finding for path, ref in reading.refs for finding in astray(step, list(path), ref, work.document, work.done)]
    if wrong:
        return StepBuilt(step.id, State.FAILED, findings=wrong, uses=uses)
    missing = [ref.step for _, ref in reading.refs if not work.done[ref.step].usable]
    if missing and all(work.done[m].state is State.WORKING for m in missing):
        return StepBuilt(step.id, State.WORKING, uses=uses)
    if missing:
        skipped = all(work.done[m].state is State.SKIPPED for m in missing)
        return StepBuilt(step.id, State.WAITING, findings=waiting_for(step, missing, work.document, skipped=skipped), uses=uses)
    return _build(step, kind, reading, uses, work)


def _handed_through(step: Step, kind: StepKind, reading: StepReading, uses: tuple[str, ...], work: _Work) -> StepBuilt:
    """A skipped step that would have changed a body gives that body as it is."""
    ref = kind.changes(reading.params)
    behind = work.done.get(ref.step) if ref is not None else None
    if behind is None or not isinstance(behind.result, Body):
        return StepBuilt(step.id, State.SKIPPED, uses=uses)
    return StepBuilt(step.id, State.SKIPPED, behind.key, result=behind.result, rough=behind.rough, uses=uses)


def _build(step: Step, kind: StepKind, reading: StepReading, uses: tuple[str, ...], work: _Work) -> StepBuilt:
    weighed = _weighed(kind.weighs(reading.params), work)
    made_of = [] if weighed is None else [repr((weighed.step.id, weighed.step.finish, weighed.density))]
    key = _key(reading.digest, [work.done[ref.step].key for _, ref in reading.refs] + made_of)
    rough_key = _rough(key)
    known = work.memory.get(key, lasting=work.ways.lasting and not any(work.done[u].rough for u in uses))
    if known is None and work.ways.kernel is None:
        known = work.memory.get(rough_key)
    spent, fresh = 0.0, known is None
    only_kernel = work.ways.kernel is None and kind.kernel(reading.params)
    refused = work.memory.refusal(key) if known is None and not only_kernel else None
    if refused is not None:
        return _refused(step, refused, 0.0, reading, uses, work)
    if known is None:
        begun = time.perf_counter()
        try:
            if key in work.ways.barred:
                raise StepRefused([gave_up(step, work.ways.barred[key])])
            work.ways.starting(step, key)
            known = _call(step, kind, key, reading, weighed, work)
        except NeedsExact:
            return StepBuilt(step.id, State.WORKING, uses=uses)
        except StepRefused as refusal:
            if only_kernel and key not in work.ways.barred:
                # what meshes can't do the kernel may
                return StepBuilt(step.id, State.WORKING, uses=uses)
            return _refused(step, refusal, (time.perf_counter() - begun) * 1e3, reading, uses, work)
        spent = (time.perf_counter() - begun) * 1e3
    rough = known.rough or any(work.done[u].rough for u in uses)

    bare = StepBuilt(step.id, State.READY, rough_key if rough else key, spent, None, [], known.result, reading.values, rough, uses)

    def ready(built: Built) -> StepBuilt:
        if fresh:
            work.memory.put(rough_key if built.rough else key, built, lasting=work.ways.lasting and not rough)
        return replace(bare, summary=built.summary, findings=spoken(built.findings, work.document))

    def completed(built: Built) -> StepBuilt:
        try:
            return ready(_guarded(_nameless(step), key, work, built.complete))
        except StepRefused as refusal:
            return _refused(step, refusal, spent, reading, uses, work)

    if known.numbers is None:
        return ready(known)
    # what has no numbers yet is not kept: nobody could make them later on
    return replace(bare, later=partial(completed, known))


def _weighed(ref: Ref | None, work: _Work) -> Weighed | None:
    """The body that a reference means, as it stands."""
    if ref is None:
        return None
    steps = {step.id: step for step in work.document.steps}
    at = work.done[ref.step].step
    finish = finish_of(at, steps, {built.step: built.changes for built in work.done.values()})
    return Weighed(_nameless(steps[at]), None if finish is None else finish.density)


def _refused(step: Step, refused: StepRefused, spent: float, reading: StepReading, uses: tuple[str, ...], work: _Work) -> StepBuilt:
    findings = spoken(refused.findings, work.document)
    return StepBuilt(step.id, State.FAILED, "", spent, refused.summary, findings, None, reading.values, uses=uses)


def _call(step: Step, kind: StepKind, key: str, reading: StepReading, weighed: Weighed | None, work: _Work) -> Built:
    """Raises StepRefused, also where the build fails in a way that nobody foresaw."""
    steps = {s.id: _nameless(s) for s in work.document.steps}
    own_key = _key(reading.apart, [work.done[ref.step].key for path, ref in reading.refs if path[0] != "result"])
    inputs = Inputs(
        step=steps[step.id],
        steps=steps,
        results={step_id: built.result for step_id, built in work.done.items() if built.usable},
        combine=work.memory.tools.combined if work.ways.kernel is None else work.ways.kernel.combined,
        kernel=work.ways.kernel,
        files=work.memory.files,
        passing=not work.ways.lasting,
        numbers_wait=work.ways.numbers_wait(step.id),
        weighed=weighed,
        draftings=work.memory.draftings,
        shaped=lambda skins: work.ways.shaped(step, key, skins),
        penned=lambda lines: work.ways.penned(step, lines),
        pause=work.ways.pause,
        own=lambda make: work.memory.tools.body(own_key, make),
    )
    made_of = [inputs.result(ref) for _, ref in reading.refs]
    return _guarded(steps[step.id], key, work, lambda: _with_copies(kind.builder(reading.params, inputs), made_of))


def _guarded(step: Step, key: str, work: _Work, make: Callable[[], Built]) -> Built:
    """step: without its name. Raises StepRefused, also where it fails in a way that nobody foresaw."""
    try:
        return make()
    except StepRefused as refused:
        if not refused.passing:
            work.memory.refuse(key, refused)
        raise
    except (NeedsExact, LeftOff, MemoryError):
        raise
    except Exception as error:
        number = uuid4().hex[:8]
        log.exception("step %s (%s) failed, reference %s", step.id, step.kind, number)
        raise StepRefused([unforeseen(step, error, number)]) from error


def _with_copies(built: Built, made_of: Sequence[Any]) -> Built:
    """A body knows of the copies in those that it was made of."""
    if not isinstance(built.result, Body):
        return built
    body = kept_on(built.result, [each for each in made_of if isinstance(each, Body)])
    count = len(body.copies)
    if (numbers := built.numbers) is None:
        found = replace(built, result=body)
        return found.saying(copies=count) if isinstance(built.summary, BodySummary) else found

    def counted() -> tuple[BaseModel, list[Finding]]:
        summary, findings = numbers()
        return summary.model_copy(update={"copies": count}), findings

    return replace(built, result=body, numbers=counted)


def _nameless(step: Step) -> Step:
    """The step under a mark in place of its name. Results are kept whatever steps are called, so what is said in them is named when it is told."""
    return step.model_copy(update={"name": f"{MARK}{step.id}{MARK}"})


def spoken(findings: list[Finding], document: Document) -> list[Finding]:
    """Findings as they are told: with the names that steps have now, the worst first."""
    names = {step.id: step.name for step in document.steps}
    found = []
    for finding in findings:
        text = finding.model_dump_json()
        if MARK in text:
            named = _MARKED.sub(lambda match: orjson.dumps(names.get(match[1], match[1])).decode()[1:-1], text)
            finding = Finding.model_validate_json(named)
        found.append(finding)
    return sorted(found, key=lambda finding: WORST_FIRST.index(finding.severity))


def _key(digest: bytes, inputs: list[str]) -> str:
    told = hashlib.sha256(code_version() + digest)
    for key in inputs:
        told.update(key.encode())
    return told.hexdigest()[:32]


def _rough(key: str) -> str:
    """The key of what is shown until the exact result is there: as good as the other, the first digit turned round."""
    return f"{15 - int(key[0], 16):x}{key[1:]}"
