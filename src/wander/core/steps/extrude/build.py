"""Extrude: an area moved along the normal of its station."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from math import pi, tan

import numpy as np

from wander.core.bodies.body import Along, Body, gathered, mesh_of, of_shells
from wander.core.bodies.combining import CombineFailed, How
from wander.core.bodies.kernel import KernelFailed
from wander.core.bodies.trimming import Kept, Misses, NothingKept
from wander.core.checks.areas import ends_meet, face_too_small, makes_no_body, thin_too_thick
from wander.core.checks.walls import no_thickness
from wander.core.document.edits import Edit, SetParam
from wander.core.document.findings import Finding, Fix
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.shaping.cut_ends import EndsMeet, Slope
from wander.core.shaping.extrusion import extruded
from wander.core.shaping.offset_skin import NotATube, TooTight, WallsMeet
from wander.core.shaping.shell import NamedFace, Shell
from wander.core.shaping.walled import walled
from wander.core.steps.areas import Outlines, outlines_of
from wander.core.steps.extrude.params import ByDistance, ExtrudeParams, Through, UpToFace
from wander.core.steps.extrude.reaching import PAST, Far, far_end
from wander.core.steps.inputs import Built, Inputs, NeedsExact, StepRefused
from wander.core.steps.lies import SHARES
from wander.core.steps.made import finished, left, put_together
from wander.core.steps.result import NewBody
from wander.core.steps.thick import thick

STEEPEST = 0.49 * pi
CLOSES = 1e-9
"""mm between both sides of a surface that runs round."""


def build(params: ExtrudeParams, inputs: Inputs) -> Built:
    if isinstance(params.reach, Through):
        # how far it goes is up to the body that it meets: what it was with another one says nothing
        inputs = replace(inputs, own=lambda make: make())
    drawn = outlines_of(params.section, inputs)
    far = far_end(params, drawn, inputs)
    skins = _skins(params, drawn, far, inputs)
    if params.wall < 0:
        raise StepRefused([no_thickness(inputs.step, ["wall"])])
    if params.wall and not all(skin.closed for skin in skins):
        return _made_thick(params, skins, drawn, inputs)
    hollow = _hollowed(params, skins, inputs)
    if far.surface is not None:
        return _cut_off(params, hollow, far, drawn, inputs)
    body, findings = finished(hollow, Along(drawn[1].z), params.result, inputs)
    if isinstance(params.reach, ByDistance):
        findings = [_turned_round(finding, params, drawn, inputs) if finding.code == "no-effect" else finding for finding in findings]
    return left(body, inputs, findings)


def _skins(params: ExtrudeParams, drawn: Outlines, far: Far, inputs: Inputs) -> tuple[Shell, ...]:
    """Raises StepRefused."""
    ends = {"far": far.at, "near": -params.other}
    low, high = sorted(ends, key=lambda end: ends[end])
    # each end is longer where its angle says so, whichever way it looks
    slopes = _slopes(params) if params.ends == "cut" else {"far": (0.0, 0.0), "near": (0.0, 0.0)}
    if far.slope is not None:
        slopes["far"] = far.slope
    try:
        if any(abs(slope) > tan(STEEPEST) for both in slopes.values() for slope in both):
            raise BadInput("an end is cut so steeply that it hardly crosses the section; cut it nearer to square")
        if abs(params.taper) > STEEPEST:
            raise BadInput("the sides lean so much that they hardly rise")
        return extruded(
            *drawn,
            low=ends[low],
            high=ends[high],
            taper=params.taper,
            name=inputs.step.id,
            section=params.section.step,
            ends=(low, high),
            slopes=(_negated(slopes[low]), slopes[high]),
            tolerances=inputs.tolerances,
        )
    except EndsMeet as error:
        raise StepRefused([ends_meet(inputs.step, error)]) from error
    except GeometryError as error:
        raise StepRefused([makes_no_body(inputs.step, error)]) from error


def _hollowed(params: ExtrudeParams, skins: tuple[Shell, ...], inputs: Inputs) -> tuple[Shell, ...]:
    """What is left of them where only a wall is wanted, open at both ends. Raises StepRefused."""
    if not params.wall:
        return skins
    share = SHARES[params.wall_lies]
    found = []
    for skin in skins:
        inwards, outwards = (dict.fromkeys(skin.names, part * params.wall) for part in share)
        try:
            found.append(walled(skin, inwards, outwards, [cap.name for cap in skin.caps], inputs.step.id)[0])
        except TooTight as error:
            raise StepRefused([thin_too_thick(inputs.step, error.place, error.fits / max(share))]) from error
        except WallsMeet as error:
            raise StepRefused([thin_too_thick(inputs.step, error.place, None)]) from error
        except NotATube as error:
            raise StepRefused([makes_no_body(inputs.step, BadInput("a drawing with holes in it has walls already"))]) from error
        except GeometryError as error:
            raise StepRefused([makes_no_body(inputs.step, error)]) from error
    return tuple(found)


def _made_thick(params: ExtrudeParams, skins: tuple[Shell, ...], drawn: Outlines, inputs: Inputs) -> Built:
    """A wall along open lines. Raises StepRefused, NeedsExact."""
    if inputs.kernel is None:
        raise NeedsExact
    try:
        made = [
            thick(of_shells((skin,), Along(drawn[1].z)), params.wall, SHARES[params.wall_lies], inputs.kernel, inputs.step.id)[0] for skin in skins
        ]
    except (KernelFailed, CombineFailed) as error:
        raise StepRefused([makes_no_body(inputs.step, BadInput(str(error)))]) from error
    return _of_kernel(params, made, inputs)


def _of_kernel(params: ExtrudeParams, made: Sequence[Body], inputs: Inputs) -> Built:
    """What the kernel made, kept apart or put together with another body. Raises StepRefused."""
    if isinstance(params.result, NewBody):
        body = gathered(made)
        return left(body, inputs)
    body, findings = put_together(How(params.result.type), params.result.body, made, [inputs.step.name] * len(made), inputs)
    return left(body, inputs, findings)


def _cut_off(params: ExtrudeParams, skins: Sequence[Shell], far: Far, drawn: Outlines, inputs: Inputs) -> Built:
    """What lies between the drawing and a curved face. Raises StepRefused, NeedsExact."""
    if inputs.kernel is None:
        raise NeedsExact
    assert isinstance(params.reach, UpToFace)
    assert far.surface is not None
    named = inputs.named(params.reach.face)
    across = bool(np.abs(far.surface.edge("u0").points - far.surface.edge("u1").points).max() < CLOSES)
    # the face takes the place of the flat end, which lies beyond it
    tool = of_shells((Shell((NamedFace(f"{inputs.step.id}/far", far.surface, across),), (), (), (), closed=False),))
    made = []
    for skin in skins:
        body = of_shells((skin,), Along(drawn[1].z))
        # the part that hangs together with the drawing: a place on its outline
        outline = np.concatenate([face.surface.edge(side).sampled(4)[1] for face in skin.faces for side in ("v0", "v1")])
        begin = outline[np.abs((outline - drawn[1].origin) @ drawn[1].z).argmin()]
        try:
            cut = inputs.kernel.trimmed(body, tool, Kept.PICKED, inputs.step.id, begin)
        except (Misses, NothingKept) as error:
            raise StepRefused([face_too_small(inputs.step, named)]) from error
        except KernelFailed as error:
            raise StepRefused([makes_no_body(inputs.step, BadInput(str(error)))]) from error
        heights = (mesh_of(cut, inputs.tolerances.display).positions - drawn[1].origin) @ drawn[1].z
        if float((np.sign(far.at) * heights).max()) > abs(far.at) - PAST / 2:
            raise StepRefused([face_too_small(inputs.step, named)])
        made.append(cut)
    return _of_kernel(params, made, inputs)


def _slopes(params: ExtrudeParams) -> dict[str, Slope]:
    return {"far": (tan(params.far_across), tan(params.far_upwards)), "near": (tan(params.near_across), tan(params.near_upwards))}


def _negated(slope: Slope) -> Slope:
    return -slope[0], -slope[1]


def _turned_round(finding: Finding, params: ExtrudeParams, drawn: Outlines, inputs: Inputs) -> Finding:
    """A tool drawn on a face and extruded away from the body reaches it the other way: offered where it is so."""
    assert not isinstance(params.result, NewBody)
    try:
        round_about = params.model_copy(update={"distance": -params.distance, "other": -params.other})
        tool = of_shells(_skins(round_about, drawn, far_end(round_about, drawn, inputs), inputs), Along(drawn[1].z))
        _, left = put_together(How(params.result.type), params.result.body, [tool], [inputs.step.name], inputs)
    except StepRefused:
        return finding
    if left:
        return finding
    raw = inputs.step.params
    edits: list[Edit] = [
        SetParam(do="set-param", step=inputs.step.id, path=[name], value=_negative(raw[name])) for name in ("distance", "other") if raw.get(name)
    ]
    return finding.model_copy(update={"fixes": [Fix(label="Extrude it the other way", edits=edits), *finding.fixes]})


def _negative(value: float | str) -> float | str:
    return f"-({value})" if isinstance(value, str) else -value
