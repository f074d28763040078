"""Bridge."""

from __future__ import annotations

from typing import Literal

import numpy as np

from wander.core.bodies.body import Along, Body, Face
from wander.core.bodies.bridged_runs import Choice, NoFace, choices, run_of
from wander.core.bodies.continuity import between, look_at
from wander.core.bodies.edge_runs import chain_of, smooth_run
from wander.core.checks.bridging import end_not_flat, no_bridge, no_edges, no_face_behind, one_closes, run_apart, runs_touch
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import BadInput, GeometryError
from wander.core.results.bodies import body_summary
from wander.core.results.continuity import bridged_out
from wander.core.results.summaries import BridgedOut, RunBegins, vector
from wander.core.shaping.bridging import Bank, Meets, NotFlat, RunsTouch, bridge
from wander.core.shaping.edges import Edge
from wander.core.shaping.runs_paired import OneCloses, Run, aligned
from wander.core.shaping.shell import Shell
from wander.core.steps.bridge.params import BridgeEnd, BridgeParams
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import finished

Side = Literal["first", "second"]
TOLD = 96
"""Steps in which a run is told."""
MIDDLES = 64
"""Places along a run, all as far apart, whose middle is its own."""


def build(params: BridgeParams, inputs: Inputs) -> Built:
    picked = {side: _picked(end, side, inputs) for side, end in _ends(params)}
    found = {side: _choices(end, side, picked[side], inputs) for side, end in _ends(params)}
    middles = {side: np.mean([choice.curve.sampled(4)[1].mean(axis=0) for choice in found[side]], axis=0) for side in found}
    runs, faces = {}, {}
    for side, end in _ends(params):
        towards = middles["second" if side == "first" else "first"]
        runs[side], faces[side] = run_of(picked[side][1], found[side], towards, other=end.other_face)
    try:
        first, second = aligned(runs["first"], runs["second"], start=params.start, against=params.against)
        made = bridge(Bank(first, *_asked(params.first)), Bank(second, *_asked(params.second)), inputs.step.id, ends=params.ends == "closed")
    except OneCloses as error:
        raise StepRefused([one_closes(inputs.step, [edge.name for side in picked.values() for edge in side[1]])]) from error
    except RunsTouch as error:
        raise StepRefused([runs_touch(inputs.step, error.place)]) from error
    except NotFlat as error:
        raise StepRefused([end_not_flat(inputs.step, error)]) from error
    except GeometryError as error:
        raise StepRefused([no_bridge(inputs.step, error)]) from error
    body, findings = finished((made,), _along(first, second), params.result, inputs)
    told = [
        _measured(side, made, faces[side]).model_copy(update={"begins": _begins(side, made, run)})
        for (side, _), run in zip(_ends(params), (first, second), strict=True)
    ]
    summary = body_summary(body, inputs.tolerances).model_copy(update={"bridged": told})
    return Built(body, summary, findings)


def _ends(params: BridgeParams) -> tuple[tuple[Side, BridgeEnd], tuple[Side, BridgeEnd]]:
    return ("first", params.first), ("second", params.second)


def _asked(end: BridgeEnd) -> tuple[Meets, float]:
    return Meets(end.meets), end.fullness


def _along(first: Run, second: Run) -> Along | None:
    """From the middle of one run to that of the other."""
    even = (np.arange(MIDDLES) + 0.5) / MIDDLES
    way = second.everywhere(even).mean(axis=0) - first.everywhere(even).mean(axis=0)
    size = float(np.linalg.norm(way))
    return Along(way / size) if size > 1e-9 else None


def _picked(end: BridgeEnd, side: Side, inputs: Inputs) -> tuple[Body, list[Edge]]:
    """The edges of one end, one after the other, with what goes on smoothly from them. Raises StepRefused."""
    if not end.edges:
        raise StepRefused([no_edges(inputs.step, side)])
    body = inputs.exact_body(end.edges[0])
    if any(ref.step != end.edges[0].step for ref in end.edges):
        raise StepRefused([run_apart(inputs.step, side, [ref.part or "" for ref in end.edges])])
    found: dict[str, Edge] = {}
    for number, ref in enumerate(end.edges):
        edge = inputs.edge(ref, [side, "edges", number])
        found |= {each.name: each for each in smooth_run(body, edge)}
    try:
        return body, chain_of(list(found.values()))
    except BadInput as error:
        raise StepRefused([run_apart(inputs.step, side, list(found))]) from error


def _choices(end: BridgeEnd, side: Side, picked: tuple[Body, list[Edge]], inputs: Inputs) -> list[Choice]:
    try:
        return choices(*picked, inputs.tolerances)
    except NoFace as error:
        raise StepRefused([no_face_behind(inputs.step, side, error.edge)]) from error


def _measured(side: Side, made: Shell, faces: tuple[Face, ...]) -> BridgedOut:
    """How the bridge meets what lies behind a run, on the surfaces as they are: the worst of all places."""
    where = "v0" if side == "first" else "v1"
    size = made.size
    seams = []
    for face in made.faces:
        edge = face.surface.edge(where)
        middle = edge(np.array([0.5]))
        # what lies behind a stretch is what its middle lies on
        behind = min(faces, key=lambda other: _off(other, middle))
        seams.append(between(Face(face.name, face.surface, None), behind, edge, size=size))
    return bridged_out(side, seams)


def _begins(side: Side, made: Shell, run: Run) -> RunBegins:
    """Both runs begin where the first face of the bridge does."""
    places = run.everywhere(np.linspace(0.0, 1.0, TOLD + 1))
    surface = made.faces[0].surface
    v = np.array(surface.v.domain if side == "first" else surface.v.domain[::-1])
    here, _, along = surface.tangents(np.array(surface.u.domain[:1]), v)
    way = along[0, 0] * (1 if side == "first" else -1)
    across = float(np.linalg.norm(here[0, 1] - here[0, 0]))
    return RunBegins(
        places=[vector(place) for place in places], closed=run.closed, leaves=vector(way / (float(np.linalg.norm(way)) or 1.0)), reach=across / 3
    )


def _off(face: Face, place: Floats) -> float:
    look = look_at(face, place)
    return float("inf") if look is None else float(np.linalg.norm(look.points - place))
