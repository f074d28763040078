"""What listeners of a design hear, as it goes over the live channel."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, TypeAdapter

from wander.core.document.findings import Finding
from wander.core.drawing.summary import DrawnLines
from wander.core.results.summaries import CombOut, Summary


class StepStatus(BaseModel):
    """How a step stands. mesh: key of its mesh; last_good: key of the mesh before it failed.

    values: what the expressions among its parameters come to, by path, in mm, degrees or as counts. rough: a body that is only a mesh as yet, its
    numbers with it; the exact one follows. uses: the steps that it names; changes: those of the bodies that it uses up once it is ready, the one
    that its result replaces first.
    """

    id: str
    state: Literal["ready", "waiting", "failed", "skipped", "beyond", "working"]
    key: str = ""
    ms: float = 0.0
    mesh: str | None = None
    last_good: str | None = None
    summary: Summary | None = None
    findings: list[Finding] = []
    values: dict[str, float] = {}
    rough: bool = False
    uses: list[str] = []
    changes: list[str] = []


class StepUpdate(BaseModel):
    """A step differs from what was told last, be it for a kept revision or for a preview."""

    type: Literal["step"] = "step"
    revision: int
    preview: int | None
    step: StepStatus


class StepShaped(BaseModel):
    """The mesh of a body is there; its numbers follow with the step."""

    type: Literal["shaped"] = "shaped"
    revision: int
    preview: int | None
    step: str
    mesh: str


class StepPenned(BaseModel):
    """Where the lines of a drawing are in a preview; its areas and its health follow with the step."""

    type: Literal["penned"] = "penned"
    revision: int
    preview: int
    step: str
    lines: DrawnLines


COMBS = TypeAdapter(list[CombOut])


class StepCombed(BaseModel):
    """How much the lines of a body bend as it is in a preview."""

    type: Literal["combed"] = "combed"
    revision: int
    preview: int
    step: str
    combs: list[CombOut]


class WorkingOn(BaseModel):
    """A step has been computed for so long that it is worth saying."""

    type: Literal["working"] = "working"
    revision: int
    preview: int | None
    step: str
    seconds: float


class BuildDone(BaseModel):
    """standing: the steps whose bodies are there now. exact: nothing rough is left, or it is a preview; otherwise the exact bodies follow."""

    type: Literal["done"] = "done"
    revision: int
    preview: int | None
    ms: float
    findings: list[Finding]
    standing: list[str]
    exact: bool


class SolidState(BaseModel):
    """The kernel's opinion of the body with this key. volume in mm3. findings: about its skin, beside those that came with the step."""

    type: Literal["solid"] = "solid"
    step: str
    key: str
    valid: bool
    volume: float | None
    problem: str | None
    findings: list[Finding] = []

    def of(self, step: str) -> SolidState:
        """The same of another step that has the same body."""
        return self.model_copy(update={"step": step, "findings": [finding.model_copy(update={"step": step}) for finding in self.findings]})


class Revised(BaseModel):
    """The design has a new head. document: as in the open format."""

    type: Literal["revised"] = "revised"
    revision: int
    undo: str | None
    redo: str | None
    changed: float
    document: dict[str, Any]


class Snapshot(BaseModel):
    """Everything there is to know when a listener arrives."""

    type: Literal["snapshot"] = "snapshot"
    revision: int
    steps: list[StepStatus]
    findings: list[Finding]
    solids: list[SolidState]
    standing: list[str]
    complete: bool


class PreviewRefused(BaseModel):
    type: Literal["preview-refused"] = "preview-refused"
    preview: int
    detail: str


LiveEvent = StepUpdate | StepShaped | StepPenned | StepCombed | WorkingOn | BuildDone | SolidState | Revised | Snapshot | PreviewRefused
