"""Section: an outline on a station."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.edge_runs import face_loops, plane_loop
from wander.core.bodies.rims import rim_of
from wander.core.checks.copies import needs_two_rails, rail_beside, rails_meet
from wander.core.checks.drawing import DrawingCheck
from wander.core.checks.faces import edges_askew, face_not_flat, no_outline
from wander.core.checks.numbers import shape_out_of_range
from wander.core.document.expressions import Scope
from wander.core.document.findings import Finding, Severity
from wander.core.drawing.areas.chains import open_run
from wander.core.drawing.curves.crossings import self_crossings
from wander.core.drawing.model import DrawnShape
from wander.core.drawing.outlines.area import Area, area_of, middle_of
from wander.core.drawing.outlines.loop import Loop
from wander.core.drawing.outlines.outline import Stretch
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.drawing.outlines.shapes import ShapeError
from wander.core.geometry.basis import Floats
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.geometry.interpolate import open_through
from wander.core.geometry.quadrature import length
from wander.core.results.drawn import Drawn
from wander.core.results.rails import Rail
from wander.core.results.summaries import FittedBetween, SectionSummary, vector
from wander.core.shaping.between_rails import Similar, about, ends_along, onto, passes
from wander.core.shaping.section import PlacedSection
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.on_rails import on_rails
from wander.core.steps.section.params import SectionParams
from wander.core.steps.section.shapes import Copied, OfEdges, OfFace, Point, Spline, Traced
from wander.core.steps.section.starters import as_drawing
from wander.core.steps.traces import OnSheet, with_traces

OUTLINE_POINTS = 96
FLAT = 1e-9
"""One less the cosine of the angle at which a face may lie to the station that its outline is seen from."""


def build(params: SectionParams, inputs: Inputs) -> Built:
    made = _made(params, inputs)
    if not made.result.areas:
        return made
    middle = _rounded(middle_of(made.result.areas)[None])[0]
    return made.saying(middle=middle)


def _made(params: SectionParams, inputs: Inputs) -> Built:
    frame: Frame = inputs.result(params.station)
    c, s = np.cos(params.turn), np.sin(params.turn)
    rotation, at = np.array([[c, -s], [s, c]]), np.array(params.at)
    if isinstance(params.shape, Point):
        return Built(Drawn(params.station.step, frame, PlacedSection(frame, None, at)), _summary(params, frame, at[None], np.zeros(1), 0.0, 0.0))
    if isinstance(params.shape, Spline) and not params.shape.closed:
        run = OpenRun((Stretch(open_through(np.array(params.shape.points)), False, False, "outline", "first"),), "last")
        return _open(run.transformed(rotation, at), params, frame, None)
    if isinstance(params.shape, DrawnShape):
        return _drawn(params.shape, params, inputs, frame, rotation, at)
    if isinstance(params.shape, Copied):
        return _copied(params.shape, params, inputs, frame, rotation, at)
    if isinstance(params.shape, OfFace):
        return _of_face(params.shape, params, inputs, frame, rotation, at)
    if isinstance(params.shape, OfEdges):
        return _of_edges(params.shape, params, inputs, frame, rotation, at)
    try:
        if isinstance(params.shape, Traced) and not params.shape.closed:
            return _open(params.shape.run().transformed(rotation, at), params, frame, None, traced=True)
        loop: Loop = params.shape.loop().transformed(rotation, at)
    except ShapeError as error:
        raise StepRefused([shape_out_of_range(inputs.step, error)]) from error
    girth = length(loop.curve)
    shares = _shares(loop)
    summary = _summary(params, frame, loop.curve(shares), shares, abs(loop.area), girth)
    if isinstance(params.shape, Spline):
        crossed = _crossed(params.shape, loop, inputs, frame, rotation, at)
        if crossed:
            raise StepRefused(crossed, summary)
    traced = isinstance(params.shape, Traced)
    return Built(Drawn(params.station.step, frame, PlacedSection(frame, loop.measured()), traced=traced, areas=(area_of(loop),)), summary)


def _crossed(shape: Spline, loop: Loop, inputs: Inputs, frame: Frame, rotation: Floats, at: Floats) -> list[Finding]:
    """A spline that crosses itself has no inside: what its drawing would say, as an error."""
    if not len(self_crossings(loop.curve)):
        return []
    found = inputs.draftings.of(DrawnShape.model_validate(as_drawing(shape.model_dump(mode="json"), Scope({}))))
    told = DrawingCheck(inputs.step, found.drawing, frame, rotation, at, inputs.named).ailments(
        [a for a in found.ailments if a.kind == "crosses-itself"]
    )
    return [finding.model_copy(update={"severity": Severity.ERROR}) for finding in told[:1]]


def _copied(shape: Copied, params: SectionParams, inputs: Inputs, frame: Frame, rotation: Floats, at: Floats) -> Built:
    """The same outline on another station: scaled, turned and moved from the place where it is drawn, or between two rails."""
    original: Drawn = inputs.result(shape.section)
    if original.placed is None:
        assert original.run is not None
        laid = _laid(shape, original.run.ends, params, inputs, frame, at)
        made = _open(original.run.transformed(laid.matrix, laid.at), params, frame, None)
        assert isinstance(made.summary, SectionSummary)
        return Built(made.result, made.summary.model_copy(update={"fitted": _fitted(shape, laid)}), made.findings)
    if original.placed.loop is None:
        point = original.placed.point
        center = at if point is None else rotation @ point + at
        return Built(
            Drawn(params.station.step, frame, PlacedSection(frame, None, center)), _summary(params, frame, center[None], np.zeros(1), 0.0, 0.0)
        )
    ends = ends_along(original.placed.loop.curve, 0 if shape.ends == "sideways" else 1)
    laid = _laid(shape, ends, params, inputs, frame, at)
    loop = original.placed.loop.transformed(laid.matrix, laid.at)
    areas = tuple(area.transformed(laid.matrix, laid.at) for area in original.areas)
    shares = _shares(loop)
    summary = _summary(params, frame, loop.curve(shares), shares, abs(loop.area), length(loop.curve)).model_copy(
        update={"fitted": _fitted(shape, laid)}
    )
    return Built(Drawn(params.station.step, frame, PlacedSection(frame, loop.measured()), areas=areas), summary)


def _fitted(shape: Copied, laid: Similar) -> FittedBetween | None:
    """The numbers of a copy that lies between rails."""
    if not shape.rails:
        return None
    return FittedBetween(scale=laid.scale, turn=float(np.degrees(laid.turn)), at=(float(laid.at[0]), float(laid.at[1])))


def _laid(shape: Copied, ends: Floats, params: SectionParams, inputs: Inputs, frame: Frame, at: Floats) -> Similar:
    """How a copy lies on its station: by its own numbers, or with its ends (2, 2) on two rails. Raises StepRefused."""
    if not shape.rails:
        return about(np.array(shape.about), shape.scale, params.turn, at)
    if len(shape.rails) < 2:
        raise StepRefused([needs_two_rails(inputs.step, inputs.named(shape.rails[0]))])
    places: list[Floats] = []
    for ref in shape.rails:
        rail: Rail = inputs.result(ref)
        passed = passes(rail.curve, frame)
        if not len(passed):
            raise StepRefused([rail_beside(inputs.step, inputs.named(ref), frame, rail.curve)])
        # of several places the one nearest to where the outline is as drawn
        places.append(passed[np.linalg.norm(passed - ends[len(places)], axis=1).argmin()])
    if np.linalg.norm(places[1] - places[0]) < inputs.tolerances.promised:
        raise StepRefused([rails_meet(inputs.step, [inputs.named(ref) for ref in shape.rails], frame.lift(np.array(places[:1]))[0])])
    return onto(ends, np.array(places))


def _of_face(shape: OfFace, params: SectionParams, inputs: Inputs, frame: Frame, rotation: Floats, at: Floats) -> Built:
    """The outline of a face, seen square on from the station."""
    face, body = inputs.face(shape.face, ["shape", "face"]), inputs.exact_body(shape.face)
    if face.frame is None or abs(float(face.frame.z @ frame.z)) < 1 - FLAT:
        raise StepRefused([face_not_flat(inputs.step, inputs.named(shape.face), flat=face.frame is not None)])
    try:
        rims = [rim_of(loop, frame, inputs.tolerances) for loop in face_loops(body, face.name)]
    except GeometryError as error:
        raise StepRefused([no_outline(inputs.step, error, "face")]) from error
    return _rimmed(rims, params, frame, rotation, at)


def _of_edges(shape: OfEdges, params: SectionParams, inputs: Inputs, frame: Frame, rotation: Floats, at: Floats) -> Built:
    """A loop of edges, seen square on from the station."""
    edge, body = inputs.edge(shape.edge, ["shape", "edge"]), inputs.exact_body(shape.edge)
    try:
        loop, plane = plane_loop(body, edge)
        if abs(float(plane.z @ frame.z)) < 1 - FLAT:
            raise StepRefused([edges_askew(inputs.step, inputs.named(shape.edge), shape.edge)])
        rim = rim_of(loop, frame, inputs.tolerances)
    except GeometryError as error:
        raise StepRefused([no_outline(inputs.step, error, "edge")]) from error
    return _rimmed([rim], params, frame, rotation, at)


def _rimmed(rims: list[Loop], params: SectionParams, frame: Frame, rotation: Floats, at: Floats) -> Built:
    """What lies within the largest of some outlines and outside the others."""
    rims.sort(key=lambda rim: -abs(rim.area))
    outer, *holes = (rim.transformed(rotation, at) for rim in rims)
    area = Area(outer if outer.area > 0 else outer.reversed(), tuple(hole if hole.area < 0 else hole.reversed() for hole in holes))
    shares = _shares(outer)
    beside = [_rounded(hole.curve(_shares(hole))) for hole in holes]
    summary = _summary(params, frame, outer.curve(shares), shares, area.size, length(outer.curve)).model_copy(update={"beside": beside})
    return Built(Drawn(params.station.step, frame, PlacedSection(frame, outer.measured()), areas=(area,)), summary)


def _drawn(shape: DrawnShape, params: SectionParams, inputs: Inputs, frame: Frame, rotation: Floats, at: Floats) -> Built:
    """The outline of a drawing. What is drawn is shown even where it makes no outline yet."""
    on_sheet = OnSheet(frame, rotation, at)
    shape, lost = with_traces(shape, inputs.exact_body, on_sheet)
    shape, missed = on_rails(shape, inputs.result, on_sheet)
    found = inputs.draftings.of(shape)
    inputs.penned(found.lines)
    for _ in found.piece_by_piece():
        inputs.pause()
    check = DrawingCheck(inputs.step, found.drawing, frame, rotation, at, inputs.named)
    findings = [*check.traces(lost), *check.missed(missed), *check.disputes(found.disputes), *check.ailments(found.ailments)]
    outlines = found.outlines if found.chosen else []
    shares = _shares(outlines[0]) if outlines else np.zeros(0)
    flat = outlines[0].curve(shares) if outlines else np.zeros((0, 2))
    area, girth = (sum(area.size for area in found.areas), length(outlines[0].curve)) if outlines else (0.0, 0.0)
    others = [loop for area in found.areas for loop in area.loops][1:]
    beside = [_rounded(loop.curve(_shares(loop)) @ rotation.T + at) for loop in others]
    changes = {"closed": bool(outlines), "drawing": found.summary(), "beside": beside}
    summary = _summary(params, frame, flat @ rotation.T + at, shares, area, girth).model_copy(update=changes)
    if not outlines:
        gaps = [a for a in found.ailments if a.kind == "gap"]
        run = None if gaps or found.graph.regions or found.missing else open_run(found.pieces)
        if run is not None and not any(f.severity is Severity.ERROR for f in findings):
            return _open(run.transformed(rotation, at), params, frame, summary, findings)
        findings.append(check.unclear(found.graph.regions, found.missing, gaps))
    if any(f.severity is Severity.ERROR for f in findings):
        raise StepRefused(findings, summary)
    loop = outlines[0].transformed(rotation, at)
    areas = tuple(area.transformed(rotation, at) for area in found.areas)
    return Built(Drawn(params.station.step, frame, PlacedSection(frame, loop.measured()), areas=areas), summary, findings)


def _open(
    run: OpenRun, params: SectionParams, frame: Frame, summary: SectionSummary | None, findings: Sequence[Finding] = (), *, traced: bool = False
) -> Built:
    """What was drawn from one end to another: half of a body, or of a sheet."""
    shares, flat = run.evenly(max(2, OUTLINE_POINTS // len(run.stretches)))
    told = _summary(params, frame, flat, shares, 0.0, run.length)
    drawn = {} if summary is None else {"drawing": summary.drawing}
    told = told.model_copy(update={"closed": False, **drawn})
    return Built(Drawn(params.station.step, frame, None, frame.lift(run.ends), traced=traced, run=run), told, list(findings))


def _shares(loop: Loop) -> Floats:
    """Places round an outline that show its shape, its corners among them: (n,)."""
    return np.union1d(np.arange(OUTLINE_POINTS) / OUTLINE_POINTS, loop.corners)


def _summary(params: SectionParams, frame: Frame, outline: Floats, shares: Floats, area: float, girth: float) -> SectionSummary:
    return SectionSummary(
        station=params.station.step,
        shape=params.shape.type,
        closed=True,
        origin=vector(frame.origin),
        x=vector(frame.x),
        y=vector(frame.y),
        outline=_rounded(outline),
        shares=np.round(shares, 9).tolist(),
        area=area,
        girth=girth,
    )


def _rounded(points: Floats) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in np.round(points, 4)]
