"""Findings about edges that are to be rounded or cut off."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.bodies.blending import Fades, NotBlended
from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Where, sentence

OF_A_KIND = {
    "outer": "nowhere stands out at an edge",
    "inner": "nowhere goes in at an edge",
    "meeting": "has no edge at which what several steps made meets",
}
SAFE = 0.95
"""Of the largest size that was found to go: what the repair offers."""


def radius_not_positive(step: Step, path: Sequence[str | int]) -> Finding:
    """A size of 0 or less."""
    return refused(step, "blend-too-small", f"{step.name} has a size of nothing", "It has to be more than 0 mm.", path, Where())


def nothing_chosen(step: Step, body: Step, path: Sequence[str | int]) -> Finding:
    """A set without an edge."""
    return refused(step, "nothing-picked", f"{step.name} waits for an edge of {body.name}", "Pick edges in the scene.", path, Where())


def no_such_edges(step: Step, body: Step, among: str, path: Sequence[str | int]) -> Finding:
    """All edges of a kind, of which there is none."""
    said = OF_A_KIND.get(among, "has no such edge")
    return refused(step, "no-such-edges", f"{body.name} {said}", "Pick the edges that are meant.", path, Where(names=[body.id]), skipping(step))


def edge_fades(step: Step, body: Step, error: Fades) -> Finding:
    """An edge whose faces come to lie in one."""
    detail = (
        "The faces beside it come to lie in one at the marked place, so there is nothing left to go round. Leave this edge out, and draw the "
        "rounding into the sections instead: it then runs out as they do."
    )
    where = Where(points=[spot(error.at)], names=[error.edge])
    return refused(step, "edge-fades", f"An edge of {body.name} fades out", detail, ["sets", error.number, "edges"], where, skipping(step))


def not_blended(step: Step, body: Step, error: NotBlended, size: str) -> Finding:
    """An edge at which it does not go, with what would."""
    fixes, said = [], ""
    if error.fits is not None:
        fits = float(f"{SAFE * error.fits:.2g}")
        said = f" Up to about {error.fits:.3g} mm was found to go."
        fixes.append(Fix(label=f"Make it {fits:g} mm", edits=[_set(step, error.number, size, fits)], names=[error.edge]))
    detail = f"{sentence(error)}.{said}"
    where = Where(points=[spot(error.at)], names=[error.edge])
    return refused(
        step, "not-blended", f"{step.name} does not go at an edge of {body.name}", detail, ["sets", error.number, size], where, *fixes, skipping(step)
    )


def _set(step: Step, number: int, size: str, value: float) -> SetParam:
    """One size for the whole set: what varies along its edges is scaled as a whole."""
    places = step.params["sets"][number].get("along") or []
    numbers = [place["radius"] for place in places]
    if not numbers or any(isinstance(each, str) for each in numbers):
        return SetParam(do="set-param", step=step.id, path=["sets", number, size], value=value)
    factor = value / max(numbers)
    scaled = [{**place, "radius": float(f"{factor * place['radius']:.3g}")} for place in places]
    return SetParam(do="set-param", step=step.id, path=["sets", number, "along"], value=scaled)


def kernel_gave_nothing(step: Step, body: Step, error: Exception) -> Finding:
    """The kernel's answer was not usable."""
    detail = f"{sentence(error)}. Take a smaller size, or leave out the edges that meet others at a slant."
    return refused(step, "not-blended", f"{step.name} does not go on {body.name}", detail, ["sets"], Where(names=[body.id]), skipping(step))
