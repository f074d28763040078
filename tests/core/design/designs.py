"""Designs for tests: documents from a few words."""

from __future__ import annotations

from typing import Any

from wander.core.design.apply import apply_edits
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, Ways, rebuild
from wander.core.document.document import Document
from wander.core.document.edits import Edit, SetParam
from wander.core.document.findings import Finding


def circle(diameter: Any) -> dict[str, Any]:
    return {"type": "circle", "diameter": diameter}


def lofted(*stands: tuple[Any, dict[str, Any]], dimensions: tuple[tuple[str, Any], ...] = (), between: str = "smooth", **more: Any) -> Document:
    """A document with a station and a section for each (offset, shape), and a loft through them."""
    steps: list[dict[str, Any]] = []
    sections = []
    for i, (offset, shape) in enumerate(stands):
        station, section = f"station-{2 * i + 1}", f"section-{2 * i + 2}"
        steps.append({"id": station, "kind": "station", "name": f"Place {i + 1}", "params": {"plane": "top", "offset": offset}})
        steps.append({"id": section, "kind": "section", "name": f"Rib {i + 1}", "params": {"station": {"step": station}, "shape": shape}})
        sections.append({"section": {"step": section}})
    number = 2 * len(stands) + 1
    steps.append({"id": f"loft-{number}", "kind": "loft", "name": "Hull", "params": {"sections": sections, "between": between}})
    table = [{"name": name, "value": value, "kind": "length"} for name, value in dimensions]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "dimensions": table, "steps": steps, "next": number + 1, **more})


def built(document: Document, cache: Memory | None = None) -> dict[str, StepBuilt]:
    return {b.step: b for b in rebuild(document, cache or Memory())}


def findings(document: Document) -> list[Finding]:
    return [finding for b in built(document).values() for finding in b.findings]


def set_param(step: str, *path: str | int, to: Any) -> Edit:
    return SetParam(do="set-param", step=step, path=list(path), value=to)


def wedged() -> Document:
    """A disc 10 mm over another, turned until its low side lies far below that: the body between them runs through itself."""
    document = lofted((0.0, circle(60.0)), (10.0, circle(60.0)), between="straight")
    place = {"type": "turned", "station": {"step": "station-1"}, "direction": 0.0, "angle": 60.0}
    return apply_edits(document, [set_param("station-3", "place", to=place), set_param("station-3", "offset", to=12.0)])


def exactly(document: Document, step: str, ways: Ways | None = None) -> StepBuilt:
    """A step as it is built with the kernel at hand, or in other ways."""
    return next(b for b in rebuild(document, Memory(), ways or exact_ways()) if b.step == step)


def only_refusal(document: Document, step: str) -> Finding:
    """The one finding of a step that is refused."""
    built_ = exactly(document, step)
    assert built_.state is State.FAILED
    (finding,) = built_.findings
    return finding


def repaired(document: Document, finding: Finding, label: str) -> StepBuilt:
    """The step after the repair whose label begins so."""
    fix = next(fix for fix in finding.fixes if fix.label.startswith(label))
    return exactly(apply_edits(document, fix.edits), finding.step)
