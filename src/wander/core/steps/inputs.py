"""What a build may look at, and what it gives."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from pydantic import BaseModel

from wander.core.bodies.body import Body, Face
from wander.core.bodies.brought import NoFile
from wander.core.bodies.combining import How
from wander.core.bodies.kernel import Kernel
from wander.core.bodies.references import Lost, edge_of, face_of
from wander.core.checks.references import lost_part
from wander.core.document.document import Step
from wander.core.document.fields import BodyRef, Ref
from wander.core.document.findings import Finding
from wander.core.drawing.drafted import Draftings
from wander.core.drawing.summary import DrawnLines
from wander.core.geometry.tolerances import DEFAULT, Tolerances
from wander.core.shaping.edges import Edge
from wander.core.shaping.shell import Shell


class StepRefused(Exception):
    """The step can't be built; the findings say why and hold the repairs. summary: what can be shown of it all the same.

    passing: it may go another time, though nothing that the step is made of has changed.
    """

    def __init__(self, findings: list[Finding], summary: BaseModel | None = None, *, passing: bool = False) -> None:
        self.passing = passing
        super().__init__("; ".join(f.title for f in findings))
        self.findings = findings
        self.summary = summary


class NeedsExact(Exception):
    """The step reads faces or edges of a body that is only a mesh as yet: it is built once the exact body is there."""


Combine = Callable[[How, Body, Sequence[Body]], Body]
"""Joins, cuts or overlaps bodies: exactly where the kernel is at hand, on their meshes otherwise. Raises CombineFailed."""


class LeftOff(Exception):
    """Something newer is wanted: the build ends where it is, and nothing is said of it."""


@dataclass(frozen=True)
class Weighed:
    """step: the last that changed the body. density: g/cm3, where it is known what it is made of."""

    step: Step
    density: float | None


Numbers = Callable[[], tuple[BaseModel, list[Finding]]]
"""Gives a summary and findings."""


@dataclass(frozen=True)
class Inputs:
    """The step itself, the steps it names and their results.

    shaped: to be told of a body's skins as soon as they are there; penned: of where the lines of a drawing are. pause: to be called in long work
    after that, which may be left off there. own: gives the body that the step makes by itself, before it meets another one, where it is known
    from before. kernel: where it is at hand. files: data that was brought in, by its key. passing: it is built for one picture of a drag: what
    is not exact then has to be rough, for what is made is kept by what it was made of. numbers_wait: what is made of it is to be seen first.
    weighed: the body that is weighed, as it stands.
    """

    step: Step
    steps: Mapping[str, Step]
    results: Mapping[str, Any]
    combine: Combine
    draftings: Draftings = field(default_factory=Draftings)
    tolerances: Tolerances = DEFAULT
    shaped: Callable[[tuple[Shell, ...]], None] = lambda skins: None
    penned: Callable[[DrawnLines], None] = lambda lines: None
    pause: Callable[[], None] = lambda: None
    own: Callable[[Callable[[], Body]], Body] = lambda make: make()
    kernel: Kernel | None = None
    files: Callable[[str], bytes | None] = lambda key: None
    passing: bool = False
    numbers_wait: bool = False
    weighed: Weighed | None = None

    def file(self, key: str) -> bytes:
        """The data that was brought in under a key. Raises NoFile."""
        found = self.files(key)
        if found is None:
            raise NoFile(key)
        return found

    def result(self, ref: Ref) -> Any:
        return self.results[ref.step]

    def named(self, ref: Ref) -> Step:
        return self.steps[ref.step]

    def body(self, ref: BodyRef) -> Body:
        """A body to be taken as a whole; it may be a mesh alone."""
        body: Body = self.results[ref.step]
        return body

    def exact_body(self, ref: BodyRef) -> Body:
        """A body whose faces and edges are there. Raises NeedsExact while they are not."""
        body = self.body(ref)
        if body.rough is not None:
            raise NeedsExact
        return body

    def face(self, ref: BodyRef, path: Sequence[str | int]) -> Face:
        """The face that the reference at the path of this step means. Raises StepRefused where it is gone, NeedsExact."""
        body = self.exact_body(ref)
        try:
            return face_of(body, ref.part or "", ref.hint)
        except Lost as lost:
            raise StepRefused([lost_part(self.step, self.named(ref), path, ref.part or "", "face", body, lost)]) from None

    def edge(self, ref: BodyRef, path: Sequence[str | int]) -> Edge:
        """The edge that the reference at the path of this step means. Raises StepRefused where it is gone, NeedsExact."""
        body = self.exact_body(ref)
        try:
            return edge_of(body, ref.part or "", ref.hint)
        except Lost as lost:
            raise StepRefused([lost_part(self.step, self.named(ref), path, ref.part or "", "edge", body, lost)]) from None


@dataclass(frozen=True)
class Built:
    """What a build gives: the result that later steps use, what the screen says of it, and findings that don't stop it."""

    result: Any
    summary: BaseModel | None
    findings: list[Finding] = field(default_factory=list)
    numbers: Numbers | None = None
    """What gives the other two, where they are still to come."""

    @classmethod
    def measured(cls, result: Any, numbers: Numbers, inputs: Inputs) -> Built:
        """A result with numbers that take a while: they come after what is made of it, where that is waited for."""
        return cls(result, None, numbers=numbers) if inputs.numbers_wait else cls(result, *numbers())

    def saying(self, **more: Any) -> Built:
        """With more in its summary."""
        return self if self.summary is None else replace(self, summary=self.summary.model_copy(update=more))

    def complete(self) -> Built:
        return self if self.numbers is None else Built(self.result, *self.numbers())

    @property
    def rough(self) -> bool:
        """A body that is only a mesh as yet."""
        return isinstance(self.result, Body) and self.result.rough is not None
