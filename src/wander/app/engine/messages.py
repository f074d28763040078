"""What goes through the pipe between the server and a worker."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, field
from typing import Any

from pydantic import BaseModel

from wander.core.document.findings import Finding
from wander.core.drawing.summary import DrawnLines


@dataclass(frozen=True)
class BuildRequest:
    """Build a design.

    exact: with the kernel. combed: of a preview, the step whose combs are wanted with its shape; penned: those whose lines were told already.
    barred: keys of results that brought a worker down, with what happened.
    """

    job: int
    design: str
    document: bytes
    preview: bool
    exact: bool = False
    combed: str = ""
    penned: Set[str] = frozenset()
    barred: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class SolidRequest:
    """Make the kernel's solid of a body whose result has this key."""

    job: int
    design: str
    step: str
    key: str


@dataclass(frozen=True)
class Question:
    """What is answered once, with bytes or the reason why there are none. name: in the table of questions, which says who answers."""

    job: int
    design: str
    name: str
    arguments: dict[str, Any]


Request = BuildRequest | SolidRequest | Question


@dataclass(frozen=True)
class Overtaken:
    """The build under way is not wanted any more: it ends at its next step.

    by_preview: another preview waits, so that of this one the shape is wanted still, and what is told after it is not.
    """

    by_preview: bool = False


@dataclass(frozen=True)
class StepDone:
    """How one step came out. mesh: key of its display mesh, if it has one. rough: a body that is only a mesh as yet.

    uses: the steps that it names; changes: those of the bodies it uses up once it is ready. checked: the kernel made the body, so it is a solid.
    """

    step: str
    state: str
    key: str
    ms: float
    summary: BaseModel | None
    findings: list[Finding]
    mesh: str | None = None
    values: dict[str, float] = field(default_factory=dict)
    rough: bool = False
    uses: tuple[str, ...] = ()
    changes: tuple[str, ...] = ()
    checked: bool = False


@dataclass(frozen=True)
class Started:
    """A step's computation begins; if nothing more is heard of the worker, it is the one to blame. done: what was dealt with before it."""

    job: int
    step: str
    key: str
    done: list[StepDone] = field(default_factory=list)


@dataclass(frozen=True)
class Shaped:
    """The mesh of a body is there; its numbers are not yet. done: what was dealt with before it and not told yet."""

    job: int
    step: str
    mesh: str
    done: list[StepDone] = field(default_factory=list)


@dataclass(frozen=True)
class Penned:
    """The lines of a drawing in a preview are there; its areas and its health are not yet. done: what was dealt with before it and not told yet."""

    job: int
    step: str
    lines: DrawnLines
    done: list[StepDone] = field(default_factory=list)


@dataclass(frozen=True)
class Combed:
    """The combs of a body in a preview, as told, in JSON."""

    job: int
    step: str
    combs: bytes


@dataclass(frozen=True)
class Finished:
    """The job is done. done: the last steps of a build. data: the answer to a question. error: why there is none.

    findings: of the design as a whole. standing: the steps whose bodies are there. overtaken: it ended early, something newer being wanted.
    """

    job: int
    ms: float
    done: list[StepDone] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    data: bytes | None = None
    error: str | None = None
    standing: list[str] = field(default_factory=list)
    overtaken: bool = False


@dataclass(frozen=True)
class SolidDone:
    """The kernel's opinion of a body. problem: None when it is one valid solid, or when there is no opinion (volume None as well).

    findings: what is wrong with its own surfaces.
    """

    job: int
    design: str
    step: str
    key: str
    volume: float | None
    problem: str | None
    findings: list[Finding] = field(default_factory=list)


Answer = Started | Shaped | Penned | Combed | Finished | SolidDone
