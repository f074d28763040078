"""Runs of drawn curves, whatever the order and the direction in which they were drawn."""

from __future__ import annotations

from math import pi
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.closeness import assert_close
from wander.core.drawing.areas.chains import Chain, chains
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.model import Drawing
from wander.core.geometry.quadrature import length

POINTS = {"p1": [0, 0], "p2": [30, 0], "p3": [30, 20], "p4": [10, 30], "p5": [-5, 22], "p6": [60, 60], "p7": [70, 60]}


def drawn(*curves: dict[str, Any]) -> list[Chain]:
    numbered = [{"id": f"c{i + 1}", **curve} for i, curve in enumerate(curves)]
    return chains(pieces(Drawing.model_validate({"points": POINTS, "curves": numbered})))


def line(start: str, end: str, **more: Any) -> dict[str, Any]:
    return {"type": "line", "start": start, "end": end, **more}


SIDES = [("p1", "p2"), ("p2", "p3"), ("p3", "p4"), ("p4", "p5")]


@given(order=st.permutations(range(4)), turned=st.lists(st.booleans(), min_size=4, max_size=4))
def test_a_run_does_not_depend_on_how_it_was_drawn(order: list[int], turned: list[bool]) -> None:
    found = drawn(*(line(*(reversed(SIDES[i]) if turned[i] else SIDES[i])) for i in order))
    assert len(found) == 1
    run = found[0]
    assert not run.closed
    ends = sorted(np.round(run.curve(np.array([0.0, 1.0])), 9).tolist())
    assert ends == sorted([[0.0, 0.0], [-5.0, 22.0]])
    assert_close(length(run.curve), sum(np.hypot(*(np.array(POINTS[b]) - POINTS[a])) for a, b in SIDES), within=1e-9)


@given(order=st.permutations(range(5)))
def test_a_closed_run_comes_back_to_where_it_began(order: list[int]) -> None:
    ring = [*SIDES, ("p5", "p1")]
    found = drawn(*(line(*ring[i]) for i in order))
    assert [run.closed for run in found] == [True]
    assert len(found[0].curves) == 5


def test_lines_and_arcs_go_on_in_each_other() -> None:
    found = drawn(line("p6", "p7"), line("p1", "p2"), {"type": "circle", "center": "p4", "radius": 4.0})
    assert sorted(len(run.curves) for run in found) == [1, 1, 1]
    assert [run.closed for run in found].count(True) == 1
    assert_close(max(length(run.curve) for run in found if run.closed), 8 * pi, within=1e-4)


def test_runs_end_where_three_meet_and_construction_has_no_part_in_them() -> None:
    fork = [line("p1", "p2"), line("p2", "p3"), line("p2", "p6")]
    assert len(drawn(*fork)) == 3
    assert len(drawn(*fork[:2], {**fork[2], "construction": True})) == 1
    assert drawn({**fork[0], "construction": True}) == []
