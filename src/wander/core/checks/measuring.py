"""Findings about measures."""

from __future__ import annotations

from wander.core.bodies.filling import Spills
from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Finish, Step
from wander.core.document.edits import Edit, SetFinish, SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.document.materials import MATERIALS, Material

LEAST = 1e-3
"""mm: a rim that is no higher over the bottom holds nothing."""
OFFERED = 3
"""Materials that are held out where none is chosen."""
WORDS = {"parts": "a face, an edge or a body", "edges": "an edge", "faces": "a face"}
SHOWN = {"mm": ("mm", 1.0), "deg": ("°", 1.0), "mm2": ("cm²", 100.0), "mm3": ("cm³", 1000.0), "g": ("g", 1.0)}


def pick_more(step: Step, missing: int, path: str) -> Finding:
    """It is not said what is measured."""
    more = f"{WORDS[path]}" if missing == 1 else f"{missing} things: faces, edges or bodies"
    return refused(step, "measure-of-nothing", f"{step.name} waits for {more}", "Pick in the scene.", ["of", path], Where())


def within_negative(step: Step) -> Finding:
    """A tolerance below nought."""
    return refused(step, "aim-within-nothing", f"{step.name} may be off by less than nothing", "Make it 0 or more.", ["of", "aim", "within"], Where())


def nothing_bends(step: Step, error: Exception) -> Finding:
    """A radius of what has none."""
    detail = f"{sentence(error)}, so it has no radius. Pick something round, or measure something else."
    return refused(step, "measure-no-radius", f"{step.name} finds no radius", detail, ["of", "parts"], Where(), skipping(step))


def nothing_held(step: Step, body: Step) -> Finding:
    """A volume of what encloses nothing."""
    detail = "It is open and encloses nothing. Measure its area, or make it thick."
    return refused(step, "measure-of-sheet", f"{body.name} holds nothing", detail, ["of", "body"], Where(names=[body.id]), skipping(step))


def nothing_weighed(step: Step, body: Step) -> Finding:
    """A mass of what is made of nothing that is known."""
    detail = "It is not said what it is made of, so there is a volume and no mass. Choose its material in its sheet."
    fixes = [Fix(label=f"Of {material.name}", edits=[_made_of(body, material)]) for material in MATERIALS[:OFFERED]]
    return refused(step, "mass-of-unknown", f"{body.name} has no material", detail, ["of", "body"], Where(names=[body.id]), *fixes)


def _made_of(body: Step, material: Material) -> SetFinish:
    finish = (body.finish or Finish()).model_copy(update={"material": material.name, "density": material.density})
    return SetFinish(do="set-finish", step=body.id, finish=finish)


def beyond_rim(step: Step, body: Step, error: Spills) -> Finding:
    """A level above the lowest place of the rim."""
    goes = float(f"{error.rim:.6g}")
    edits: list[Edit] = [SetParam(do="set-param", step=step.id, path=["of", "level"], value=goes)]
    fixes = [Fix(label=f"Up to the rim, {goes:g} mm", edits=edits)] if goes > LEAST else []
    detail = f"Its rim is {error.rim:.4g} mm over the lowest place inside: at the marked place it runs over."
    return refused(step, "filled-over-rim", f"{body.name} runs over", detail, ["of", "level"], Where(points=[spot(error.place)]), *fixes)


def aim_missed(step: Step, unit: str, value: float, target: float, off: float, at: tuple[float, float, float], level: float | None = None) -> Finding:
    """A number that is not what it should be. level: up to which a vessel holds what it should, mm."""
    goes = None if level is None else float(f"{level:.6g}")
    edits: list[Edit] = [SetParam(do="set-param", step=step.id, path=["of", "level"], value=goes)]
    fixes = [] if goes is None else [Fix(label=f"Fill it up to {goes:g} mm", edits=edits)]
    word, per = SHOWN[unit]
    title = f"{step.name} is {value / per:.4g} {word}, {abs(off) / per:.3g} {word} {'above' if off > 0 else 'below'} its aim"
    detail = f"It should be {target / per:.4g} {word}. Change the shape, or the aim."
    path, where = ["of", "aim", "target"], Where(points=[at])
    return Finding(code="aim-missed", severity=Severity.WARNING, step=step.id, title=title, detail=detail, path=list(path), where=where, fixes=fixes)
