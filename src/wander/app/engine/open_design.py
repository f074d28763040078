"""What the engine knows of a design that it builds."""

from __future__ import annotations

from dataclasses import dataclass, field

from wander.app.engine.live import SolidState, StepStatus
from wander.core.document.document import Document
from wander.core.document.findings import Finding


@dataclass(frozen=True)
class Moment:
    """A revision that a design stands at, and since when (seconds since 1970): an undo comes back to a revision, never to a moment."""

    revision: int
    since: float = 0.0


@dataclass
class OpenDesign:
    """What the engine knows of a design: its document at a moment and how each step stands there.

    standing: the steps whose bodies are there. told: what can be built without the kernel was; complete: all of it was.
    """

    document: Document
    at: Moment
    body: bytes
    steps: dict[str, StepStatus] = field(default_factory=dict)
    findings: list[Finding] = field(default_factory=list)
    solids: dict[str, SolidState] = field(default_factory=dict)
    standing: list[str] = field(default_factory=list)
    told: bool = False
    complete: bool = False

    @property
    def revision(self) -> int:
        return self.at.revision
