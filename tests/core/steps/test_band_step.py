"""Ridges and grooves: by quadrature of their law, at stations, under early changes, and what is said where they don't go."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from tests.closeness import assert_close
from tests.core.design.designs import circle, exactly, lofted, only_refusal, repaired, set_param
from tests.core.solids.kernel_count import counted_by_kernel
from tests.core.steps.test_blend_steps import rectangle, volume
from tests.core.steps.test_surface_steps import and_then
from wander.core.design.apply import apply_edits
from wander.core.design.rebuild import State
from wander.core.document.document import Document
from wander.core.solids.assemble import assemble

ROD = lofted((0.0, circle(40.0)), (100.0, circle(40.0)))
BLOCK = lofted((0.0, rectangle(40.0, 30.0)), (100.0, rectangle(40.0, 30.0)))


def place(at: float) -> dict[str, Any]:
    return {"type": "place", "at": at}


def banded(document: Document, **params: Any) -> Document:
    return and_then(document, ("band", {"body": {"step": "loft-5"}, "first": place(30.0), "last": place(60.0), "shoulder": 6.0, **params}))


def out(z: float, height: float, first: float = 30.0, last: float = 60.0, shoulder: float = 6.0) -> float:
    """How far the band stands out at a height."""
    x = np.clip(min(z - first, last - z) / shoulder, 0.0, 1.0)
    return float(height * x**3 * (10 - 15 * x + 6 * x * x))


def held(area: Any, height: float) -> float:
    return float(quad(lambda z: area(out(z, height)), 0, 100, points=[30, 36, 54, 60], epsabs=1e-10, limit=300)[0])


@pytest.mark.parametrize("height", [2.0, -1.5, 0.0])
def test_round_a_rod_and_a_block_by_quadrature(height: float) -> None:
    rod = exactly(banded(ROD, height=height), "band-30")
    assert_close(volume(rod), held(lambda d: pi * (20 + d) ** 2, height), within=1e-6, relative=True)
    block = exactly(banded(BLOCK, height=height), "band-30")
    # neighbours meet in a mitre
    assert_close(volume(block), held(lambda d: (40 + 2 * d) * (30 + 2 * d), height), within=1e-6, relative=True)
    for built in (rod, block):
        assert_close(counted_by_kernel(built.result), volume(built), within=1e-6, relative=True)
        # it keeps what its faces are called, and its ends
        assert {face.name for face in built.result.faces} == {
            face.name for face in exactly(banded(ROD if built is rod else BLOCK), "loft-5").result.faces
        }
    assert assemble(rod.result.skins[0]).volume > 0


def test_it_lies_between_stations_and_moves_with_them() -> None:
    ends = {
        "first": {"type": "station", "station": {"step": "station-20"}, "past": -5.0},
        "last": {"type": "station", "station": {"step": "station-21"}},
    }
    raw = ROD.model_dump(mode="json")
    raw["steps"] += [
        {"id": f"station-{n}", "kind": "station", "name": f"At {at}", "params": {"plane": "top", "offset": at}} for n, at in ((20, 35.0), (21, 60.0))
    ]
    document = banded(Document.model_validate({**raw, "next": 40}), **ends, height=2.0)
    expected = held(lambda d: pi * (20 + d) ** 2, 2.0)
    assert_close(volume(exactly(document, "band-30")), expected, within=1e-6, relative=True)
    # elsewhere on a rod it holds as much; the two may also stand the other way round
    moved = apply_edits(document, [set_param("station-20", "offset", to=75.0), set_param("station-21", "offset", to=40.0)])
    assert_close(volume(exactly(moved, "band-30")), expected, within=1e-6, relative=True)


@given(st.floats(20.0, 60.0), st.floats(80.0, 140.0), st.floats(-3.0, 3.0))
def test_it_follows_early_changes(diameter: float, long: float, height: float) -> None:
    edits = [set_param("section-2", "shape", "diameter", to=diameter), set_param("section-4", "shape", "diameter", to=diameter)]
    document = apply_edits(banded(ROD, height=height), [*edits, set_param("station-3", "offset", to=long)])
    expected = held(lambda d: pi * (diameter / 2 + d) ** 2, height) + pi * diameter**2 / 4 * (long - 100)
    assert_close(volume(exactly(document, "band-30")), expected, within=2e-6, relative=True)


def test_a_wall_behind_it_is_even() -> None:
    raw = banded(ROD, height=2.0).model_dump(mode="json")
    ends = [{"step": "band-30", "part": f"loft-5/end:section-{n}"} for n in (2, 4)]
    raw["steps"].append({"id": "wall-31", "kind": "wall", "name": "Wall", "params": {"body": {"step": "band-30"}, "thickness": 1.0, "open": ends}})
    wall = exactly(Document.model_validate(raw), "wall-31")
    assert wall.state is State.READY, wall.findings
    told = wall.summary.model_dump()["wall"]  # type: ignore[union-attr]
    assert told["least"] > 0.99
    assert told["largest"] < 1.01


def test_what_does_not_go_is_told_with_what_does() -> None:
    narrow = only_refusal(banded(ROD, shoulder=20.0), "band-30")
    assert narrow.code == "band-no-room"
    assert repaired(banded(ROD, shoulder=20.0), narrow, "Make the shoulders").state is State.READY
    beside = only_refusal(banded(ROD, first=place(120.0), last=place(150.0)), "band-30")
    assert beside.code == "band-beside"
    assert repaired(banded(ROD, first=place(120.0), last=place(150.0)), beside, "Put it on").state is State.READY
    deep = only_refusal(banded(ROD, height=-25.0), "band-30")
    assert deep.code == "band-too-tight"
    assert repaired(banded(ROD, height=-25.0), deep, "Make it").state is State.READY
    point = lofted((0.0, circle(40.0)), (100.0, {"type": "point"}))
    assert only_refusal(banded(point), "band-30").code == "band-not-made"
    fillet = {"body": {"step": "loft-5"}, "sets": [{"edges": [{"step": "loft-5", "part": "loft-5/end:section-4|loft-5/side"}], "radius": 2.0}]}
    late = and_then(ROD, ("fillet", fillet), ("band", {"body": {"step": "fillet-30"}, "first": place(30.0), "last": place(60.0)}))
    assert only_refusal(late, "band-31").code == "band-not-made"
