"""What goes through the pipe between the server and a worker."""

from __future__ import annotations

from dataclasses import dataclass, field

from pydantic import BaseModel

from wander.core.design.bodies import FileFormat
from wander.core.design.bringing import DrawingFormat
from wander.core.document.findings import Finding
from wander.core.exchange.curves import Placing


@dataclass(frozen=True)
class BuildRequest:
    """Build a design. avoid: keys of results that brought a worker down, with what happened."""

    job: int
    design: str
    document: bytes
    preview: bool
    avoid: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class SolidRequest:
    """Make the kernel's solid of a body. body: its skin, pickled."""

    job: int
    design: str
    step: str
    key: str
    body: bytes


@dataclass(frozen=True)
class ExportRequest:
    job: int
    document: bytes
    file_format: FileFormat
    tolerance: float


@dataclass(frozen=True)
class CutRequest:
    """Find the edits that add the section of a body at a place along its Run, mm."""

    job: int
    design: str
    document: bytes
    step: str
    at: float


@dataclass(frozen=True)
class BodiesRequest:
    """Build a design that is not the current one, and say what its bodies are."""

    job: int
    design: str
    document: bytes


@dataclass(frozen=True)
class BringRequest:
    """Read the curves of a file that somebody brought along."""

    job: int
    design: str
    data: bytes
    file_name: str
    placing: Placing
    tolerance: float


@dataclass(frozen=True)
class ReleaseRequest:
    """The edits that let things of a drawing go from what they follow. document: as bytes."""

    job: int
    design: str
    document: bytes
    step: str
    things: tuple[str, ...]


@dataclass(frozen=True)
class PictureRequest:
    """Make a picture that somebody brought along small and harmless."""

    job: int
    design: str
    data: bytes


@dataclass(frozen=True)
class DrawingRequest:
    """Write the drawing of a section to a file."""

    job: int
    design: str
    document: bytes
    step: str
    file_format: DrawingFormat


Question = ExportRequest | CutRequest | BodiesRequest | BringRequest | ReleaseRequest | PictureRequest | DrawingRequest
"""What is answered once, with bytes or the reason why there are none."""
Request = BuildRequest | SolidRequest | Question


@dataclass(frozen=True)
class StepDone:
    """How one step came out. mesh: key of its display mesh, if it has one. body: pickled, for the kernel, when it is new."""

    step: str
    state: str
    key: str
    ms: float
    summary: BaseModel | None
    findings: list[Finding]
    mesh: str | None = None
    body: bytes | None = None
    values: dict[str, float] = field(default_factory=dict)


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
class Finished:
    """The job is done. done: the last steps of a build. data: the file of an export, or edits as JSON. error: why there is none.

    findings: of the design as a whole.
    """

    job: int
    ms: float
    done: list[StepDone] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    data: bytes | None = None
    error: str | None = None


@dataclass(frozen=True)
class SolidDone:
    """The kernel's opinion of a body. problem: None when it is one valid solid."""

    job: int
    design: str
    step: str
    key: str
    volume: float | None
    problem: str | None


Answer = Started | Shaped | Finished | SolidDone
