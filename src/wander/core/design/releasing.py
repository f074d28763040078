"""Letting linked things go: the edits that keep what they look like now and cut what they follow."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.design.rebuild import State, StepBuilt
from wander.core.document.document import Document, Step
from wander.core.document.edits import Edit, SetParam
from wander.core.drawing.edits.offset import let_go, let_go_of
from wander.core.drawing.edits.sheet import Sheet
from wander.core.drawing.edits.splines import add_like
from wander.core.drawing.model import DrawnBeside, DrawnShape, DrawnTrace
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.curve_edits import split
from wander.core.geometry.frame import Frame
from wander.core.geometry.space import SplineSpace
from wander.core.steps.section.params import SectionParams
from wander.core.steps.section.starters import is_drawn_on
from wander.core.steps.traces import OnSheet, with_traces

STRAIGHT = 1e-6
"""A curve whose control points leave its chord by less is a line, mm."""


class NothingToRelease(ValueError):
    """Nothing here follows anything, or what it looks like is not known; the message says which."""


def release_edits(document: Document, built: Sequence[StepBuilt], step_id: str, things: Sequence[str]) -> list[Edit]:
    """The edits that let things of a drawing go from all that they follow. Raises NothingToRelease.

    Traces and offsets become curves of their own, and holds that tie the things to others are dropped, except where ends share a point.
    """
    step = document.step(step_id)
    if step is None or not is_drawn_on(step) or step.params["shape"].get("type") != "drawing":
        raise NothingToRelease("there is no drawing in which anything could be let go")
    sheet = Sheet(step.params["shape"], document.scope())
    wanted = {thing for thing in things if thing in sheet.curves or thing in sheet.points}
    inside = wanted | {p for thing in wanted if thing in sheet.curves for p in sheet.curves[thing].points()}
    tied = [i for i, hold in sheet.holds.items() if hold["type"] != "coincident" and 0 < sum(o in inside for o in hold["of"]) < len(hold["of"])]
    traces = [c for c in wanted if isinstance(sheet.curves.get(c), DrawnTrace)]
    offsets = [curve for c in wanted if isinstance(curve := sheet.curves.get(c), DrawnBeside)]
    if not traces and not tied and not offsets:
        raise NothingToRelease("nothing of this follows anything else, so it is free already")
    for name in tied:
        del sheet.holds[name]
    on_edges = any(isinstance(sheet.curves[offset.of], DrawnTrace) for offset in offsets)
    known = _as_they_run(document, built, step) if traces or on_edges else {}
    sheet.curves |= known
    let_go_of(sheet, traces, staying=[offset.id for offset in offsets])
    for offset in offsets:
        if not sheet.has_shape(offset):
            raise NothingToRelease(
                f"{offset.id} is nowhere now: what it follows is gone, or bends too tightly. "
                "Change its distance, let that follow another edge, or take it away"
            )
        let_go(sheet, offset)
    if traces:
        for name in traces:
            trace = known.get(name)
            if trace is None or not trace.poles:
                raise NothingToRelease(
                    "the edge that it follows is gone, so what it looks like is not known. Let it follow another edge first, or take it away"
                )
            sheet.drop([name])
            _draw(sheet, Curve(SplineSpace(trace.degree, np.array(trace.knots)), np.array(trace.poles)), trace.construction)
    return [SetParam(do="set-param", step=step.id, path=["shape"], value={"type": "drawing", **sheet.raw()})]


def _as_they_run(document: Document, built: Sequence[StepBuilt], step: Step) -> dict[str, DrawnTrace]:
    """The traces of a drawing as they run now, by id."""
    results = {b.step: b.result for b in built if b.state is State.READY}
    frame = results.get(step.params["station"]["step"])
    if not isinstance(frame, Frame):
        raise NothingToRelease("its station has no place yet: settle that first")
    scope = document.scope()
    followed = [curve["of"]["step"] for curve in step.params["shape"].get("curves", []) if curve["type"] == "trace"]
    if any(body not in results for body in followed):
        raise NothingToRelease("a body whose edges it follows is not built now: settle that first")
    shape = DrawnShape.model_validate(step.params["shape"], context=scope)
    turn, at = 0.0, (0.0, 0.0)
    if step.kind == "section":
        params = SectionParams.model_validate(step.params, context=scope)
        turn, at = params.turn, params.at
    c, s = np.cos(turn), np.sin(turn)
    following, _ = with_traces(shape, lambda ref: results[ref.step], OnSheet(frame, np.array([[c, -s], [s, c]]), np.array(at)))
    return {curve.id: curve for curve in following.curves if isinstance(curve, DrawnTrace)}


def _draw(sheet: Sheet, curve: Curve, construction: bool) -> None:
    """A curve as lines and splines of its own, parted where it bends."""
    space = curve.space
    bends = space.breaks[1:-1][space.multiplicities[1:-1] >= space.degree]
    closed = bool(np.linalg.norm(curve.points[0] - curve.points[-1]) < 1e-6)
    stops = bends if len(bends) or not closed else np.array([np.mean(space.knots[[0, -1]])])
    pieces, rest = [], curve
    for stop in stops:
        first, rest = split(rest, float(stop))
        pieces.append(first)
    pieces.append(rest)
    ends = [sheet.add_point(piece.points[0]) for piece in pieces]
    ends.append(ends[0] if closed else sheet.add_point(curve.points[-1]))
    for piece, start, end in zip(pieces, ends, ends[1:], strict=False):
        if _is_straight(piece.points):
            sheet.add_curve(type="line", start=start, end=end, construction=construction)
        else:
            add_like(sheet, Curve(piece.space.mapped(0.0, 1.0), piece.points), start, end, construction)


def _is_straight(points: Floats) -> bool:
    way = points[-1] - points[0]
    size = float(np.linalg.norm(way))
    if size < STRAIGHT:
        return False
    off = points - points[0]
    return bool(np.abs(off[:, 0] * way[1] - off[:, 1] * way[0]).max() / size < STRAIGHT)
