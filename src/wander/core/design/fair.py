"""Fair: the edits that smooth a rail, a spline of a drawing, or a row of sections within a tolerance, and what they move."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from wander.core.checks.places import spot
from wander.core.design.rebuild import StepBuilt
from wander.core.document.document import Document, Step
from wander.core.document.edits import Draw, Edit, SetParam
from wander.core.drawing.model import DrawnSpline
from wander.core.drawing.summary import DrawingSummary
from wander.core.geometry.basis import Floats
from wander.core.geometry.smoothing import Faired, faired
from wander.core.results.rails import Rail
from wander.core.results.summaries import BodySummary, RailSummary, SectionSummary
from wander.core.steps.section.params import SectionParams

FEWEST = 4
"""Places that a curve has to go through before there is anything to smooth."""
MOVED = 1e-6
"""mm below which nothing has moved."""
ACROSS = {"diameter": 2.0, "width": 2.0, "depth": 2.0, "length": 2.0, "across": 2.0, "radius": 1.0, "chord": 1.0}
"""Sizes of shapes, and how much each may change while the outline moves by 1: a width goes to both sides."""


class NothingToFair(ValueError):
    """There is nothing here that could be smoothed; the message says why."""


@dataclass(frozen=True)
class Proposal:
    """edits: that make it fair. moved: mm, the largest, at `where`, a place in space. share: of the change of curvature that is left.

    places: how many may move. limited: how many go as far as they may.
    """

    edits: list[Edit]
    moved: float
    where: tuple[float, float, float] | None
    share: float
    places: int
    limited: int


def fair_proposal(document: Document, built: Sequence[StepBuilt], step_id: str, within: float, things: Sequence[str] = ()) -> Proposal:
    """What fairs a step within so many mm. things: the spline of a drawing that is meant. Raises NothingToFair, GeometryError."""
    step, known = document.step(step_id), {b.step: b for b in built}
    if step is None or step_id not in known:
        raise NothingToFair("there is no such step")
    summary = known[step_id].summary
    if step.kind == "rail" and step.params["shape"]["type"] == "spline" and isinstance(summary, RailSummary):
        return _fair_rail(step, summary, known[step_id].result, within)
    drawing = getattr(summary, "drawing", None)
    if isinstance(drawing, DrawingSummary) and isinstance(summary, RailSummary | SectionSummary):
        return _fair_drawn(step, drawing, within, things, summary)
    if step.kind == "section" and step.params["shape"]["type"] == "spline" and isinstance(summary, SectionSummary):
        return _fair_points(step, summary, within)
    if step.kind == "loft" and isinstance(summary, BodySummary):
        return _fair_sections(document, known, step, within)
    raise NothingToFair("a rail through points, a spline, or a loft through four sections or more can be made fair")


def _along(points: Floats, *, closed: bool) -> Floats:
    """Parameters by chords; of a closed row with the way back to its first place."""
    run = np.vstack([points, points[:1]]) if closed else points
    return np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(run, axis=0), axis=1))])


def _smoothed(points: Floats, free: Sequence[bool], within: float, *, closed: bool) -> Faired:
    if len(points) < FEWEST:
        raise NothingToFair(f"it goes through {len(points)} places; with {FEWEST} or more there is something to smooth")
    may = np.array(free, dtype=bool)
    if not closed:
        may[[0, -1]] = False
    if not may.any():
        raise NothingToFair("all its places are held: on sections, by dimensions, or as ends")
    return faired(_along(points, closed=closed), points, np.where(may, within, 0.0), closed=closed)


def _told(found: Faired, edits: list[Edit], within: Floats | float, where: tuple[float, float, float] | None) -> Proposal:
    limits = np.broadcast_to(within, found.moved.shape)
    return Proposal(
        edits=edits,
        moved=float(found.moved.max()),
        where=where,
        share=found.after / found.before if found.before > 0 else 1.0,
        places=int((limits > 0).sum()),
        limited=int(((limits > 0) & (found.moved > 0.98 * limits)).sum()),
    )


def _fair_rail(step: Step, summary: RailSummary, rail: Rail, within: float) -> Proposal:
    written, points = step.params["shape"]["points"], np.array(summary.through)
    free = [p.get("on") is None and all(isinstance(c, int | float) for c in p.get("at") or ("",)) for p in written]
    found = _smoothed(points, free, within, closed=rail.closed)
    edits: list[Edit] = [
        SetParam(do="set-param", step=step.id, path=["shape", "points", i, "at"], value=np.round(found.points[i], 6).tolist())
        for i in np.flatnonzero(found.moved > MOVED).tolist()
    ]
    return _told(found, edits, np.where(free, within, 0.0), spot(found.points[found.moved.argmax()]))


def _in_space(summary: RailSummary | SectionSummary, place: Floats) -> tuple[float, float, float] | None:
    if summary.origin is None or summary.x is None or summary.y is None:
        return None
    return spot(np.array(summary.origin) + place[0] * np.array(summary.x) + place[1] * np.array(summary.y))


def _fair_drawn(step: Step, drawing: DrawingSummary, within: float, things: Sequence[str], summary: RailSummary | SectionSummary) -> Proposal:
    splines = [DrawnSpline.model_validate(c) for c in step.params["shape"].get("curves", []) if c["type"] == "spline"]
    meant = [s for s in splines if s.id in things] if things else splines
    if not meant:
        raise NothingToFair("there is no spline among what is meant")
    spline = max(meant, key=lambda s: len(s.through))
    points = np.array([drawing.points[p] for p in spline.through])
    # what other curves end on, or what is held, stays
    held = set(drawing.held) | {p for c in step.params["shape"]["curves"] if c["id"] != spline.id for p in _ends(c)}
    found = _smoothed(points, [p not in held for p in spline.through], within, closed=spline.closed)
    moved = np.flatnonzero(found.moved > MOVED).tolist()
    pulled = {spline.through[i]: [round(float(v), 6) for v in found.points[i]] for i in moved}
    edits: list[Edit] = [Draw.model_validate({"do": "draw", "step": step.id, "acts": [{"act": "pull", "points": pulled}]})] if pulled else []
    return _told(found, edits, within, _in_space(summary, found.points[found.moved.argmax()]))


def _ends(curve: dict[str, Any]) -> list[str]:
    return [v for k in ("start", "end", "center") if isinstance(v := curve.get(k), str)] + [p for p in curve.get("through", []) if isinstance(p, str)]


def _fair_points(step: Step, summary: SectionSummary, within: float) -> Proposal:
    shape = step.params["shape"]
    free = [all(isinstance(c, int | float) for c in p) for p in shape["points"]]
    if not all(free):
        raise NothingToFair("its places are expressions: what they come to is not to be overwritten")
    points = np.array(shape["points"], dtype=float)
    found = _smoothed(points, free, within, closed=shape.get("closed", True))
    edits: list[Edit] = [
        SetParam(do="set-param", step=step.id, path=["shape", "points", i], value=np.round(found.points[i], 6).tolist())
        for i in np.flatnonzero(found.moved > MOVED).tolist()
    ]
    return _told(found, edits, within, _in_space(summary, found.points[found.moved.argmax()]))


def _fair_sections(document: Document, known: dict[str, StepBuilt], loft: Step, within: float) -> Proposal:
    """Sizes, places and drawn points that all sections have, each as a curve along the body; its ends stay."""
    run = known[loft.id].summary
    assert isinstance(run, BodySummary)
    stands = [(stand.at, document.step(stand.section)) for stand in run.run or []]
    sections = [(at, step) for at, step in stands if step is not None]
    if len(sections) < FEWEST:
        raise NothingToFair(f"it goes through {len(sections)} sections; with {FEWEST} or more there is something to smooth")
    rows = [row for row in _rows(document, sections, known, within) if row is not None]
    if not rows:
        raise NothingToFair("its sections have no size or point in common that is a number of its own")
    edits: list[Edit] = []
    moved, furthest, before, after, places, limited = 0.0, "", 0.0, 0.0, 0, 0
    for row in rows:
        result = faired(row.parameters, row.points, row.within)
        before, after = before + result.before, after + result.after
        places += int((row.within > 0).sum())
        limited += int(((row.within > 0) & (result.moved > 0.98 * row.within)).sum())
        shift = result.moved / row.factor
        edits += [row.edit(i, result.points[i]) for i in np.flatnonzero(shift > MOVED).tolist()]
        if shift.max() > moved:
            moved, furthest = float(shift.max()), row.sections[int(shift.argmax())].id
    summary = known[furthest].summary if furthest else None
    place = spot(np.array(summary.origin)) if isinstance(summary, SectionSummary) else None
    return Proposal(_pulled_together(edits), moved, place, after / before if before > 0 else 1.0, places, limited)


def _pulled_together(edits: Sequence[Edit]) -> list[Edit]:
    """The edits, all points of a drawing pulled at once: its holds are to be kept with all of them where they go."""
    pulls: dict[str, dict[str, Any]] = {}
    found: list[Edit] = []
    for edit in edits:
        if isinstance(edit, Draw):
            pulls.setdefault(edit.step, {}).update(edit.model_dump(mode="json")["acts"][0]["points"])
        else:
            found.append(edit)
    return found + [Draw.model_validate({"do": "draw", "step": s, "acts": [{"act": "pull", "points": points}]}) for s, points in pulls.items()]


@dataclass(frozen=True)
class _Row:
    """A number, or a point, that all sections have, as a curve along the body. factor: by how much it may change while the outline moves by 1.

    parameters: (n,), mm along the body. points: (n, d). within: (n,). path: in the parameters of each section; point: of its drawing.
    """

    parameters: Floats
    points: Floats
    within: Floats
    sections: Sequence[Step]
    path: tuple[str, ...] = ()
    point: str | None = None
    factor: float = 1.0

    def edit(self, number: int, to: Floats) -> Edit:
        """What sets it in one section."""
        value = [round(float(v), 6) for v in to]
        section = self.sections[number].id
        if self.point is not None:
            return Draw.model_validate({"do": "draw", "step": section, "acts": [{"act": "pull", "points": {self.point: value}}]})
        return SetParam(do="set-param", step=section, path=list(self.path), value=value if len(value) > 1 else value[0])


def _rows(document: Document, sections: Sequence[tuple[float, Step]], known: dict[str, StepBuilt], within: float) -> list[_Row | None]:
    outlined = [(at, step) for at, step in sections if step.params["shape"]["type"] != "point"]
    types = {step.params["shape"]["type"] for _, step in outlined}
    found = [_numbers(document, sections, ("at",), within, 1.0)]
    if len(types) != 1:
        return found
    kind = types.pop()
    if kind == "drawing":
        drawings = [getattr(known[step.id].summary, "drawing", None) for _, step in outlined]
        names = [set(d.points) for d in drawings if isinstance(d, DrawingSummary)]
        if len(names) == len(outlined) and all(own == names[0] for own in names):
            found += [_drawn_points(outlined, [d for d in drawings if isinstance(d, DrawingSummary)], p, within) for p in sorted(names[0])]
        return found
    sizes = [name for name in ACROSS if all(name in step.params["shape"] for _, step in outlined)]
    return found + [_numbers(document, outlined, ("shape", name), within * ACROSS[name], ACROSS[name]) for name in sizes]


def _numbers(document: Document, sections: Sequence[tuple[float, Step]], path: tuple[str, ...], within: float, factor: float) -> _Row | None:
    """What is an expression stays as it is."""
    if len(sections) < FEWEST:
        return None
    values, free = [], []
    for _, step in sections:
        value: Any = SectionParams.model_validate(step.params, context=document.scope())
        raw: Any = step.params
        for name in path:
            value, raw = getattr(value, name), raw.get(name, 0.0) if isinstance(raw, dict) else raw
        values.append(np.atleast_1d(np.array(value, dtype=float)))
        free.append(all(isinstance(part, int | float) for part in (raw if isinstance(raw, list | tuple) else [raw])))
    return _row(sections, np.array(values), free, within, path=path, factor=factor)


def _drawn_points(sections: Sequence[tuple[float, Step]], drawings: Sequence[DrawingSummary], point: str, within: float) -> _Row | None:
    if len(sections) < FEWEST:
        return None
    points = np.array([drawing.points[point] for drawing in drawings])
    return _row(sections, points, [point not in drawing.held for drawing in drawings], within, point=point)


def _row(sections: Sequence[tuple[float, Step]], points: Floats, free: Sequence[bool], within: float, **more: Any) -> _Row | None:
    may = np.array(free, dtype=bool)
    may[[0, -1]] = False
    along = np.array([at for at, _ in sections])
    if not may.any() or np.any(np.diff(along) <= 0):
        return None
    return _Row(along, points, np.where(may, within, 0.0), sections=[step for _, step in sections], **more)
