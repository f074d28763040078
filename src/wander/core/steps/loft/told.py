"""What is told of a loft: its Run with the sections that it goes through, what is read along it, its connecting lines."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from wander.core.bodies.body import Body
from wander.core.checks.sections import Entry
from wander.core.geometry.basis import Floats
from wander.core.geometry.curve import Curve
from wander.core.geometry.law import Law
from wander.core.results.bodies import READINGS, body_summary
from wander.core.results.summaries import BodySummary, Connecting, RunLanes, RunStation, Vector, vector
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.lanes import Lanes, lanes, lanes_along
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Lofted
from wander.core.shaping.shell import NamedFace
from wander.core.shaping.strays import strays
from wander.core.shaping.ties import Tie
from wander.core.steps.inputs import Inputs
from wander.core.steps.loft.centre import along_axis, along_line, told_of

FLOWS = 12
ALONG_TIE = 49


def loft_summary(
    entries: list[Entry],
    off: dict[int, float],
    lofted: Lofted,
    inner: list[Lofted],
    laws: Laws,
    line: CentreLine | None,
    rails: list[Curve],
    body: Body,
    inputs: Inputs,
) -> BodySummary:
    """The length is that of the loft itself, whatever it was joined to or cut from. off: of sections that are passed over, by their numbers. rails:
    those of a half without their images.
    """
    report, axis = lofted.report, lofted.plain.axis
    ring = line if line is not None and line.closed else None
    wring = [0.0, *report.wring.tolist()] if ring is None else np.roll(report.wring, 1).tolist()
    rings = {ring.name: ring.curves[0] for ring in lofted.shell.rings}
    through = [i for i in range(len(entries)) if i not in off]
    told_of_each = dict(zip(through, zip(wring, report.deviation.tolist(), report.starts, strict=True), strict=True))
    at, rates = along_axis(entries, axis) if line is None else along_line(entries, line)
    run = [
        RunStation(
            section=e.section.id,
            station=e.station.id,
            at=place,
            rate=rate,
            wring=w,
            deviation=d,
            start=start,
            **(_begun(rings[e.section.id]) if i in told_of_each and e.section.id in rings else {}),
        )
        for i, (e, place, rate) in enumerate(zip(entries, at, rates, strict=True))
        for w, d, start in [told_of_each.get(i, (0.0, off.get(i, 0.0), None))]
    ]
    if ring is not None:
        # told as the designer has them, wherever the ring begins
        told = [item["section"]["step"] for item in inputs.step.params["sections"]]
        run.sort(key=lambda one: told.index(one.section))
    ends = at if ring is None else [*at, ring.length]
    lanes = _lanes(ends, axis, lofted, inner, laws, line, rails)
    ties = [_connecting(tie, lofted.plain.places, through, len(entries)) for tie in report.ties]
    counted = [] if line is None else told_of(line)
    return body_summary(
        body, inputs.tolerances, run=run, axis=axis, line=counted, lanes=lanes, ties=ties, exact=report.exact, folds=len(report.folds)
    )


def _connecting(tie: Tie, places: Floats, through: list[int], count: int) -> Connecting:
    """places: parameters along the body of the sections that it goes through, those with these numbers of so many."""
    points = np.concatenate([curve(np.linspace(*curve.domain, ALONG_TIE)) for curve in tie.line])
    met = [next(c for c in tie.line if v <= c.domain[1] + 1e-12)(np.array([v]))[0] for v in places]
    at: list[float | None] = [None] * count
    on: list[Vector | None] = [None] * count
    for number, share, place in zip(through, tie.at, met, strict=False):
        at[number], on[number] = share, None if share is None else vector(place)
    return Connecting(at=at, places=on, line=[vector(p) for p in points])


def _begun(ring: Curve) -> dict[str, Vector]:
    """Where a ring of the skin begins, and which way it goes."""
    place, way = ring.derivatives(0.0, 1)
    return {"mark": vector(place), "way": vector(way / max(float(np.linalg.norm(way)), 1e-300))}


def _lanes(
    stations: list[float], axis: Floats, lofted: Lofted, inner: list[Lofted], laws: Laws, line: CentreLine | None, rails: list[Curve]
) -> RunLanes:
    fair = lofted.plain.lines is not None
    share, places, bends = _places(stations, laws, parts=3 if fair else 1)
    holes = [hole.shell.faces for hole in inner]

    across = (places[:, None] * axis, np.tile(axis, (len(places), 1))) if line is None else line.places_on(places)

    def read(faces: Sequence[NamedFace], flows: int) -> Lanes:
        return lanes(faces, axis, places, flows) if line is None else lanes_along(faces, *across, places / line.length, flows)

    skin = lofted.shell.faces[: len(lofted.shell.faces) - sum(map(len, holes))]
    outer = read(skin, FLOWS)
    area = outer.area - sum(read(faces, 0).area for faces in holes)
    if not lofted.shell.closed:
        area = np.full(len(places), np.nan)  # what crosses a sheet encloses nothing

    def values(law: Law | None, otherwise: float) -> list[float]:
        return (law(share) if law is not None else np.full(len(share), otherwise)).tolist()

    return RunLanes(
        at=places.tolist(),
        bends=bends.tolist(),
        area=_readable(area),
        curvature=[_readable(flow) for flow in outer.curvature],
        twist=np.degrees(values(laws.twist, 0.0)).tolist(),
        width=values(laws.width, 1.0),
        height=values(laws.height, 1.0),
        rails=[_readable(off) for off in strays(rails, skin, *across)],
    )


def _places(stations: list[float], laws: Laws, *, parts: int) -> tuple[Floats, Floats, Floats]:
    """Where a body is read: shares of its length and mm along it, (m,) each; and where what is read may bend, mm (b,).

    parts: in which a line of the skin falls between two stations. It is read at every station and every point of a law, and evenly in between.
    """
    low, high = stations[0], stations[-1]
    points = [law.space.breaks for law in laws.all]
    at = np.array(stations)
    bends = np.append((at[:-1, None] + np.diff(at)[:, None] * (np.arange(parts) / parts)).ravel(), high)
    met = np.unique(np.clip(np.concatenate([(bends - low) / (high - low), *points]), 0.0, 1.0))
    bounds = met[np.append(np.diff(met) > 1e-6, True)]
    each = max(5 if parts > 1 else 2, -(-(READINGS - 1) // (len(bounds) - 1)))
    share = np.append((bounds[:-1, None] + np.diff(bounds)[:, None] * (np.arange(each) / each)).ravel(), 1.0)
    return share, low + (high - low) * np.clip(share, 1e-9, 1 - 1e-9), low + (high - low) * bounds


def _readable(values: Floats) -> list[float | None]:
    """JSON knows no nan."""
    return [float(f"{v:.9g}") if np.isfinite(v) else None for v in values]
