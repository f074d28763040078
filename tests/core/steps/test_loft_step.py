"""What a loft step tells of its body: the Run, its lanes, and where its stations stand along it."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest

from tests.closeness import assert_close
from tests.core.design.designs import built, circle, lofted, set_param
from wander.core.design.apply import apply_edits
from wander.core.results.bodies import READINGS
from wander.core.results.summaries import BodySummary
from wander.core.steps.loft.build import FLOWS


def summary(*stands: tuple[float, float], **more: object) -> BodySummary:
    document = lofted(*((z, circle(d)) for z, d in stands), between="straight")
    document = apply_edits(document, [set_param(document.steps[-1].id, name, to=value) for name, value in more.items()])
    found = built(document)[document.steps[-1].id].summary
    assert isinstance(found, BodySummary)
    return found


def test_the_lanes_of_a_cone_with_laws() -> None:
    told = summary((0.0, 40.0), (60.0, 10.0), twist={"type": "smooth", "start": 0.0, "end": 30.0}, width={"type": "linear", "start": 1.0, "end": 0.5})
    lanes = told.lanes
    share = np.linspace(0, 1, READINGS)
    assert_close(lanes.at, 60 * share, within=1e-6)
    radius = (20 - 15 * share) * (1 - 0.5 * share)
    assert_close(np.array(lanes.area, dtype=float), pi * radius**2, within=5e-2)  # twisted: fitted
    assert_close(lanes.twist, 30 * share**2 * (3 - 2 * share), within=1e-9)
    assert lanes.width == lanes.height
    assert len(lanes.curvature) == FLOWS


@pytest.mark.parametrize("down", [False, True])
def test_stations_stand_along_the_run_whichever_way_it_goes(down: bool) -> None:
    places = [0.0, 25.0, 70.0]
    told = summary(*((-z if down else z, 30.0) for z in places))
    assert_close([station.at for station in told.run], places, within=1e-9)
    assert_close([station.rate for station in told.run], -1.0 if down else 1.0, within=1e-12)
    assert_close(told.axis, [0, 0, -1.0 if down else 1.0], within=1e-12)
    assert_close(np.array(told.lanes.area, dtype=float), pi * 15**2, within=1e-4)


def test_a_tilted_station_goes_along_the_run_by_the_cosine() -> None:
    document = lofted((0.0, circle(30.0)), (40.0, circle(30.0)))
    tilted = {"type": "turned", "station": {"step": "station-1"}, "angle": 20.0}
    document = apply_edits(document, [set_param("station-3", "place", to=tilted)])
    told = built(document)["loft-5"].summary
    assert_close(told.run[1].rate, np.cos(np.radians(20)), within=1e-9)
    assert_close(told.run[1].at, 40 * np.cos(np.radians(20)), within=1e-9)
    assert told.lanes.area[-1] is None, "beyond the low side of the tilted end there is no whole section"
