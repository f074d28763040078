"""Rail: a curve in space."""

from __future__ import annotations

from dataclasses import replace
from zlib import crc32

import numpy as np

from wander.core.bodies.copies import Alike, run_alike
from wander.core.bodies.edge_runs import as_curve, flat_loop, smooth_run
from wander.core.bodies.projection import BesideBody, laid_on
from wander.core.checks.combining import not_on_all_copies
from wander.core.checks.drawing import DrawingCheck
from wander.core.checks.rails import no_rail, no_station, not_flat, not_one_run
from wander.core.document.fields import RailRef
from wander.core.document.findings import Severity
from wander.core.drawing.areas.chains import chains
from wander.core.drawing.model import DrawnShape
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import GeometryError
from wander.core.geometry.frame import Frame
from wander.core.geometry.quadrature import length
from wander.core.results.drawn import Drawn
from wander.core.results.rails import Rail
from wander.core.results.summaries import RailSummary, vector
from wander.core.shaping.display import polyline
from wander.core.shaping.rails import Through, from_two_views, helix, spline_through
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.mirroring import mirroring
from wander.core.steps.on_rails import on_rails
from wander.core.steps.rail.params import RailEdges, RailFromViews, RailHelix, RailImage, RailLaid, RailParams, RailSpline
from wander.core.steps.traces import OnSheet, with_traces


def build(params: RailParams, inputs: Inputs) -> Built:
    shape = params.shape
    try:
        if isinstance(shape, DrawnShape):
            return _drawn(shape, params, inputs)
        through: list[Floats] = []
        strays = 0.0
        match shape:
            case RailSpline():
                points = [_through(shape, i, inputs) for i in range(len(shape.points))]
                through = [p.at for p in points]
                curve = spline_through(points, closed=shape.closed)
            case RailHelix():
                curve, strays = _helix(shape, _frame(params, inputs), inputs)
            case RailFromViews():
                (first, first_frame), (second, second_frame) = (_flat(ref, inputs) for ref in (shape.first, shape.second))
                curve, strays = from_two_views(first, first_frame, second, second_frame, inputs.tolerances)
            case RailLaid():
                curve, strays = _laid(shape, inputs)
            case RailImage():
                return _image(shape, inputs)
            case RailEdges():
                return _edges(shape, inputs)
    except BesideBody as error:
        raise StepRefused([no_rail(inputs.step, error, [vector(error.place)])]) from error
    except GeometryError as error:
        raise StepRefused([no_rail(inputs.step, error)]) from error
    rail = Rail(curve, _closes(curve, inputs))
    summary = _summary(rail, shape.type, inputs).model_copy(update={"through": [vector(p) for p in through], "strays": strays})
    return Built(rail, summary)


def _through(shape: RailSpline, number: int, inputs: Inputs) -> Through:
    point = shape.points[number]
    if point.on is not None:
        section: Drawn = inputs.result(point.on.section)
        placed = section.placed
        if placed is not None:
            at = placed.center if placed.loop is None else placed.in_space().curve(point.on.at % 1.0)
        else:
            assert section.run is not None
            at = section.frame.lift(section.run.place(point.on.at)[None])[0]
    else:
        at = np.array(point.at or (0.0, 0.0, 0.0))
    return Through(at, None if point.handle is None else np.array(point.handle), point.sharp)


def _helix(shape: RailHelix, frame: Frame, inputs: Inputs) -> tuple[Curve, float]:
    return helix(
        frame,
        np.array(shape.center),
        radius=shape.radius,
        end_radius=shape.radius + shape.widens,
        rise=shape.rise,
        turns=-shape.turns if shape.left else shape.turns,
        begins=shape.begins,
        tolerances=inputs.tolerances,
    )


def _laid(shape: RailLaid, inputs: Inputs) -> tuple[Curve, float]:
    flat, frame = _flat(shape.rail, inputs)
    along = Frame(frame.origin, -frame.x, frame.y) if shape.back else frame
    return laid_on(Curve(flat.space, frame.lift(flat.points)), along, inputs.exact_body(shape.body), inputs.tolerances)


def _edges(shape: RailEdges, inputs: Inputs) -> Built:
    """Raises BadInput where they make no loop, StepRefused where one is gone."""
    runs: list[Rail] = []
    known: set[tuple[str, str]] = set()
    without = 0
    paths: list[list[str | int]] = [["shape", "edge"]]
    paths += [["shape", "more", i] for i in range(len(shape.more))]
    for ref, path in zip([shape.edge, *shape.more], paths, strict=True):
        edge, body = inputs.edge(ref, path), inputs.exact_body(ref)
        if (ref.step, edge.name) in known:
            continue  # it goes along already
        run = flat_loop(body, edge) if shape.loop else smooth_run(body, edge)
        alike = run_alike(body, edge, run) if shape.copies else Alike()
        curve = as_curve(run, inputs.tolerances)
        runs.append(Rail(curve, _closes(curve, inputs), places=alike.places, called=f"{crc32(edge.name.encode()):08x}"))
        known |= {(ref.step, name) for name in (*(each.name for each in run), *alike.found)}
        without = max(without, alike.without)
    rail = replace(runs[0], more=tuple(runs[1:]), called="")
    lacking = [not_on_all_copies(inputs.step, without, ["shape", "copies"])] if without else []
    return Built(rail, _summary(rail, shape.type, inputs), lacking)


def _closes(curve: Curve, inputs: Inputs) -> bool:
    return bool(np.linalg.norm(curve(0.0) - curve(1.0)) < inputs.tolerances.promised)


def _image(shape: RailImage, inputs: Inputs) -> Built:
    rail: Rail = inputs.result(shape.rail)
    rail = rail.moved(mirroring(shape, inputs))
    return Built(rail, _summary(rail, shape.type, inputs))


def _flat(ref: RailRef, inputs: Inputs) -> tuple[Curve, Frame]:
    """A drawn rail as it lies in its plane."""
    rail: Rail = inputs.result(ref)
    if rail.frame is None:
        raise StepRefused([not_flat(inputs.step, inputs.named(ref))])
    return Curve(rail.curve.space, rail.frame.drop(rail.curve.points)), rail.frame


def _frame(params: RailParams, inputs: Inputs) -> Frame:
    if params.station is None:
        raise StepRefused([no_station(inputs.step)])
    frame: Frame = inputs.result(params.station)
    return frame


def _drawn(shape: DrawnShape, params: RailParams, inputs: Inputs) -> Built:
    """The one run of curves that was drawn, open or closed. What is drawn is shown even where it makes no rail yet."""
    frame = _frame(params, inputs)
    on_sheet = OnSheet(frame, np.eye(2), np.zeros(2))
    shape, lost = with_traces(shape, inputs.exact_body, on_sheet)
    shape, missed = on_rails(shape, inputs.result, on_sheet)
    found = inputs.draftings.of(shape)
    check = DrawingCheck(inputs.step, found.drawing, frame, np.eye(2), np.zeros(2), inputs.named)
    runs = chains(found.pieces)
    findings = [*check.traces(lost), *check.missed(missed), *check.disputes(found.disputes), *check.ailments(found.ailments)]
    blank = RailSummary(shape=shape.type, points=[], through=[], length=0.0, closed=False, strays=0.0)
    drawn = {
        "station": params.station.step if params.station else None,
        "origin": vector(frame.origin),
        "x": vector(frame.x),
        "y": vector(frame.y),
        "drawing": found.summary(),
    }
    if len(runs) != 1:
        findings.append(not_one_run(inputs.step, [frame.lift(run.curve(np.array([0.0, 1.0]))) for run in runs]))
    if any(f.severity is Severity.ERROR for f in findings):
        raise StepRefused(findings, blank.model_copy(update=drawn))
    run = runs[0]
    rail = Rail(Curve(run.curve.space, frame.lift(run.curve.points)), run.closed, frame, run.spans)
    return Built(rail, _summary(rail, shape.type, inputs).model_copy(update=drawn), findings)


def _summary(rail: Rail, shape: str, inputs: Inputs) -> RailSummary:
    lines = [polyline(run.curve, inputs.tolerances.display) for run in rail.runs]
    copies = [line @ place.motion.matrix.T + place.motion.origin for line, run in zip(lines, rail.runs, strict=True) for place in run.places[1:]]
    points, *elsewhere = [[vector(p) for p in np.round(line, 5)] for line in (*lines, *copies)]
    return RailSummary(
        shape=shape,
        points=points,
        through=[],
        length=sum(length(run.curve) for run in rail.runs),
        closed=rail.closed,
        strays=0.0,
        elsewhere=elsewhere,
    )
