"""Sections between two rails as steps: closed forms from a document, and every finding with its repair."""

from __future__ import annotations

from functools import partial
from math import pi
from typing import Any

import numpy as np

from tests.closeness import assert_close
from tests.core.design.designs import findings, set_param
from tests.core.steps.test_sweep_step import BAR, HELIX, line, the
from tests.core.steps.test_sweep_step import measured as swept
from wander.core.design.apply import apply_edits
from wander.core.document.document import Document
from wander.core.document.findings import Severity


def between(first: dict[str, Any], second: dict[str, Any], shape: dict[str, Any] = BAR, **params: Any) -> Document:
    station = {"station": {"step": "station-1"}}
    refs = {"section": {"step": "section-2"}, "first": {"step": "rail-3"}, "second": {"step": "rail-4"}}
    steps = [
        {"id": "station-1", "kind": "station", "name": "Place", "params": {"plane": "top"}},
        {"id": "section-2", "kind": "section", "name": "Profile", "params": {**station, "shape": shape}},
        {"id": "rail-3", "kind": "rail", "name": "Inner", "params": {**station, "shape": first}},
        {"id": "rail-4", "kind": "rail", "name": "Outer", "params": {**station, "shape": second}},
        {"id": "between-5", "kind": "between", "name": "Rim", "params": {**refs, **params}},
    ]
    return Document.model_validate({"format": "wander-design/1", "name": "Trial", "steps": steps, "next": 6})


measured = partial(swept, step="between-5")

OPENING = line((0, -4, 0), (100, -12, 0)), line((0, 4, 0), (100, 12, 0))


def test_in_proportion_then_width_only_then_by_a_curve() -> None:
    document = between(*OPENING)
    assert_close(measured(document).volume, 48 * 100 * (64 + 192 + 576) / 192, within=1e-6, relative=True)
    level = apply_edits(document, [set_param("between-5", "grows", to="width")])
    assert_close(measured(level).volume, 48 * 100 * 2, within=1e-6, relative=True)
    falling = apply_edits(level, [set_param("between-5", "height", to={"type": "linear", "start": 1.0, "end": 0.5})])
    assert_close(measured(falling).volume, 48 * 100 * (1 + 3 / 4 - 1 / 3), within=1e-6, relative=True)
    # the Run is the line in the middle
    assert_close(measured(document).line[-1].at, 100.0, within=1e-6)


def test_a_rim_between_two_rings_follows_one_of_them() -> None:
    ring = {**HELIX, "radius": 36.0}
    document = between(ring, {**ring, "radius": 44.0})
    assert_close(measured(document).volume, 2 * pi * 40 * 48, within=1e-5, relative=True)
    wider = apply_edits(document, [set_param("rail-4", "shape", "radius", to=48.0)])
    # the width goes from 8 to 12, and the height with it: 12 by 9 at 42
    assert_close(measured(wider).volume, 2 * pi * 42 * 108, within=1e-5, relative=True)


def test_an_open_section_between_two_closed_rails_is_a_sheet_on_its_ends() -> None:
    flat: dict[str, Any] = {"type": "drawing", "points": {"p1": [-5, 0], "p2": [5, 0]}, "next": 9}
    flat["curves"] = [{"id": "c1", "type": "line", "start": "p1", "end": "p2"}]
    ring = {**HELIX, "radius": 30.0}
    summary = measured(between(ring, {**ring, "radius": 42.0}, flat))
    assert not summary.closed
    assert_close(summary.area, pi * (42**2 - 30**2), within=1e-5, relative=True)


def test_it_stands_on_chosen_feet() -> None:
    """The left half stands between the rails, the right half beyond the right one."""
    document = between(line((0, 0, 0), (50, 0, 0)), line((0, 8, 0), (50, 8, 0)), stands="feet", left=[-4, 0], right=[0, 0])
    assert_close(measured(document).volume, 48 * 4 * 50, within=1e-6, relative=True)


def test_what_can_not_be_carried_is_told() -> None:
    ring = {**HELIX, "radius": 36.0}
    assert the("one-rail-closed", between(ring, OPENING[0])).where is not None
    met = the("rails-come-together", between(line((0, -4, 0), (100, 0, 0)), line((0, 4, 0), (100, 0, 0))))
    assert_close(met.where.points[0], (100, 0, 0), within=1e-6)  # type: ignore[union-attr]
    behind = between(line((0, 0, 0), (50, 0, 0)), line((60, 0, 0), (110, 0, 0)))
    assert the("runs-sideways", behind).severity is Severity.ERROR


def test_corners_are_paired_or_not() -> None:
    first = line((0, 0, 0), (60, 0, 0), (60, 60, 0), sharp=True)
    uneven = between(first, line((0, -8, 0), (90, -8, 0)), pairing="corners")
    after = apply_edits(uneven, the("corners-uneven", uneven).fixes[0].edits)
    assert "corners-uneven" not in {f.code for f in findings(after)}
    climbing, beside = (line((0, y, 0), (60, y, 0), (120, y, 60), sharp=True) for y in (0, 8))
    assert_close(measured(between(climbing, beside)).volume, 48 * 60 * (1 + 2**0.5), within=1e-6, relative=True)


def test_a_corner_that_climbs_beside_a_bend() -> None:
    bent = [
        {"type": "spline", "points": [{"at": [0, y, 20]}, {"at": [30, y, 5]}, {"at": [60, y, 0], "sharp": True}, {"at": [80, y, 60]}]} for y in (0, 8)
    ]
    finding = the("corner-askew", between(bent[0], bent[1]))
    assert_close(finding.where.points[0], (60, 0, 0), within=1e-6)  # type: ignore[union-attr]


def spined(spine: dict[str, Any], first: dict[str, Any] = OPENING[0], second: dict[str, Any] = OPENING[1], *, picked: bool = True) -> Document:
    document = between(first, second, pairing="spine")
    rail = {"id": "rail-6", "kind": "rail", "name": "Spine", "params": {"station": {"step": "station-1"}, "shape": spine}}
    steps = [step.model_dump() for step in document.steps]
    if picked:
        steps[-1]["params"]["spine"] = {"step": "rail-6"}
    return Document.model_validate({**document.model_dump(), "steps": [*steps[:-1], rail, steps[-1]], "next": 7})


def test_planes_stay_square_to_a_spine_and_ends_that_these_do_not_reach_are_told() -> None:
    whole = spined(line((0, 0, 0), (100, 0, 0)))
    assert findings(whole) == []
    assert_close(measured(whole).volume, 48 * 100 * (64 + 192 + 576) / 192, within=1e-6, relative=True)
    # from 20 to 80 the rails are 11.2 and 20.8 apart
    part = spined(line((20, 0, 0), (80, 0, 0)))
    assert_close(measured(part).volume, 48 * 60 * (11.2**2 + 11.2 * 20.8 + 20.8**2) / 192, within=1e-6, relative=True)
    told = the("spine-ends-unreached", part)
    assert told.severity is Severity.NOTE
    assert len(told.where.points) == 4  # type: ignore[union-attr]
    # along the rail, which opens by 8 over 100
    assert f"{20 * (1 + 0.08**2) ** 0.5:.3g} mm" in told.detail
    assert findings(apply_edits(part, told.fixes[0].edits)) == []


def test_a_spine_that_pairs_nothing_is_told_and_by_length_it_goes() -> None:
    back = line((0, -4, 0), (60, -4, 0), (40, -8, 0), (100, -8, 0), sharp=True)
    cases = {
        "no-spine": spined(line((0, 0, 0), (100, 0, 0)), picked=False),
        "spine-bent": spined(line((0, 0, 0), (50, 0, 0), (90, 30, 0), sharp=True)),
        "spine-astray": spined(line((0, 0, 0), (100, 0, 0)), first=back),
        "spine-misses": spined(line((200, 0, 0), (300, 0, 0))),
    }
    for code, document in cases.items():
        finding = the(code, document)
        after = apply_edits(document, finding.fixes[0].edits)
        assert code not in {f.code for f in findings(after)}


def test_how_rails_belong_together_is_told_and_turned() -> None:
    ring = {**HELIX, "radius": 36.0}
    document = between(ring, {**ring, "radius": 44.0})
    told = measured(document).paired
    assert told.closed
    assert_close([np.linalg.norm(np.subtract(*rung)) for rung in told.rungs], 8.0, within=1e-5)
    assert_close(told.ways[0], told.ways[1], within=1e-9)
    turned = measured(apply_edits(document, [set_param("between-5", "start", to=0.02)])).paired
    # a chord between both rings that leans by a fiftieth of a turn
    lean = np.sqrt(36**2 + 44**2 - 2 * 36 * 44 * np.cos(0.04 * pi))
    assert_close([np.linalg.norm(np.subtract(*rung)) for rung in turned.rungs], lean, within=1e-5)
    against = measured(apply_edits(document, [set_param("between-5", "against", to=True)])).paired
    assert_close(against.ways[1], -np.array(told.ways[1]), within=1e-3)


def test_a_shape_is_kept_or_simplified_and_the_deviation_is_told() -> None:
    ring = {**HELIX, "radius": 36.0}
    document = between(ring, {**ring, "radius": 44.0})
    assert measured(document).simplified is None
    simple = apply_edits(document, [set_param("between-5", "kept", to="simplified"), set_param("between-5", "within", to=0.2)])
    told = measured(simple)
    assert told.simplified.rows < 40
    assert 1e-4 < told.simplified.off <= 0.3
    assert_close(told.volume, 2 * pi * 40 * 48, within=0.01, relative=True)
