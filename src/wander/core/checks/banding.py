"""Findings about ridges and grooves."""

from __future__ import annotations

from wander.core.checks.places import spot
from wander.core.checks.refusals import refused
from wander.core.checks.repairs import skipping
from wander.core.document.document import Step
from wander.core.document.edits import Edit, SetParam
from wander.core.document.findings import Finding, Fix, Where
from wander.core.geometry.basis import Floats


def band_beside(step: Step, body: Step, band: tuple[float, float], ends: tuple[float, float]) -> Finding:
    where = f"from {band[0]:.6g} to {band[1]:.6g} mm"
    half = (ends[1] - ends[0]) / 4
    inside: list[Edit] = [
        SetParam(do="set-param", step=step.id, path=[name], value={"type": "place", "at": round(at, 3)})
        for name, at in (("first", ends[0] + half), ("last", ends[1] - half))
    ]
    return refused(
        step,
        "band-beside",
        f"{step.name} lies beside {body.name}",
        f"It goes {where}, and {body.name} from {ends[0]:.6g} to {ends[1]:.6g} mm, as the Run counts it.",
        ["first"],
        Where(),
        Fix(label="Put it on the middle half", edits=inside),
    )


def band_no_room(step: Step, room: float, shoulder: float) -> Finding:
    """room: mm that each shoulder may take at most."""
    fixes = []
    if room > 1e-3:
        narrow = SetParam(do="set-param", step=step.id, path=["shoulder"], value=float(f"{room * (1 - 1e-4):.4g}"))
        fixes = [Fix(label=f"Make the shoulders {narrow.value} mm", edits=[narrow])]
    why = "They have to have some length." if shoulder <= 0 else f"Between its ends there are {2 * room:.4g} mm for both of them."
    return refused(step, "band-no-room", f"The shoulders of {step.name} do not fit between its ends", why, ["shoulder"], Where(), *fixes)


def band_too_tight(step: Step, place: Floats, fits: float | None) -> Finding:
    """fits: the height up to which the skin does not fold there, mm, with its sign."""
    fixes = []
    if fits is not None:
        lower = SetParam(do="set-param", step=step.id, path=["height"], value=float(f"{0.95 * fits:.3g}"))
        fixes = [Fix(label=f"Make it {lower.value} mm", edits=[lower])]
    return refused(
        step,
        "band-too-tight",
        f"{step.name} goes further than the skin bends",
        "Where it is lit the skin would fold over itself at that height.",
        ["height"],
        Where(points=[spot(place)]),
        *fixes,
    )


def band_not_made(step: Step, body: Step, why: str) -> Finding:
    return refused(
        step,
        "band-not-made",
        f"{body.name} has no skin for a ridge or groove",
        f"It needs a body that goes from one flat end to the other, before anything else is done to it: {why}. Put it earlier in the Build.",
        ["body"],
        Where(),
        skipping(step),
    )
