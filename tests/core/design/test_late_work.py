"""What is done to a body late, under early changes: the same edge, end or opening, or a finding; never another one.

Where it was done is told by geometry alone: a blend lies beside the corner that was drawn, an open end lets its plane be cut into a ring, a patch
goes through the line that was drawn, and has the area of the section where it closes that.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from hypothesis import HealthCheck, Phase, event, given, settings
from hypothesis import strategies as st

from tests.closeness import assert_close
from tests.core.design.test_late_references import CHANGES, LOFT, Drawn, assert_lost, before_and_after, changed, design, place_on, polygon
from tests.soak import times
from wander.core.bodies.body import Body
from wander.core.bodies.slices import area_across
from wander.core.design.exact import exact_ways
from wander.core.design.memory import Memory
from wander.core.design.rebuild import State, StepBuilt, rebuild
from wander.core.document.document import Document
from wander.core.geometry.feet import feet

NEXT_TO = 3.0
"""A blend lies within so many times its size of the corner that it goes along."""
KINDS = ("fillet", "chamfer", "wall", "patch")
MINE = {"step": LOFT}


def worked(kind: str, end: int, edge: tuple[str, list[float]] | None) -> list[dict[str, Any]]:
    """The late steps, numbered from 30 on."""
    at_end = {"step": LOFT, "part": f"{LOFT}/end:section-{(2, 4, 6)[end]}"}
    match kind:
        case "fillet" | "chamfer":
            assert edge is not None
            ref = {"step": LOFT, "part": edge[0], "hint": edge[1]}
            size = {"radius": 0.6} if kind == "fillet" else {"distance": 0.6}
            steps = [(kind, {"body": MINE, "sets": [{"edges": [ref], **size}]})]
        case "wall":
            steps = [("wall", {"body": MINE, "thickness": 1.0, "open": [at_end]})]
        case _:
            assert edge is not None
            # the edge between the end and a side: all round it the opening is closed again
            steps = [("patch", {"edges": [{"step": LOFT, "part": edge[0], "hint": edge[1]}]})]
    return [{"id": f"{name}-{n}", "kind": name, "name": f"Late {n}", "params": params} for n, (name, params) in enumerate(steps, start=30)]


def built(document: Document) -> dict[str, StepBuilt]:
    return {step.step: step for step in rebuild(document, Memory(), exact_ways())}


def shoelace(drawn: Drawn) -> float:
    following = dict(drawn.lines.values())
    chain = [next(iter(following))]
    while (after := following[chain[-1]]) != chain[0]:
        chain.append(after)
    x, y = np.array([drawn.points[p] for p in chain]).T
    return float(abs(np.sum(x * np.roll(y, -1) - y * np.roll(x, -1))) / 2)


@settings(max_examples=times(12, 300), deadline=None, suppress_health_check=list(HealthCheck), phases=(Phase.explicit, Phase.generate))
@given(
    counts=st.tuples(*[st.integers(3, 5)] * 3),
    turns=st.tuples(*[st.floats(0, 0.8)] * 3),
    between=st.sampled_from(["smooth", "straight"]),
    kind=st.sampled_from(KINDS),
    pick=st.integers(0, 5),
    end=st.sampled_from([0, 2]),
    change=st.sampled_from(CHANGES),
    which=st.integers(0, 2),
    amount=st.floats(0.05, 1.5),
)
def test_the_same_place_is_worked_on_or_a_finding_says_what_is_lost(
    counts: tuple[int, int, int],
    turns: tuple[float, float, float],
    between: str,
    kind: str,
    pick: int,
    end: int,
    change: str,
    which: int,
    amount: float,
) -> None:
    sections = [(offset, polygon(n, r, t)) for offset, n, r, t in zip((0.0, 20.0, 45.0), counts, (20.0, 16.0, 22.0), turns, strict=True)]
    offset, drawn = sections[end]
    line = list(drawn.lines)[pick % len(drawn.lines)]
    size = float(np.linalg.norm(np.subtract(*(drawn.points[p] for p in drawn.lines[line]))))
    first = built(design(sections, between, [], [0, 1, 2], {}))[LOFT].result
    if not isinstance(first, Body):
        event("no body to begin with")
        return
    edge = None
    if kind != "wall":
        target = "line" if kind == "patch" else "corner"
        edge = before_and_after("edge", target, first, place_on(offset, drawn, line, target), size)
        if edge is None:
            event("several edges there")
            return
    after_sections, order, starts = changed(sections, change, which, amount)
    late = worked(kind, end, edge)
    after = built(design(after_sections, between, late, order, starts))
    body, step = after[LOFT].result, after[late[-1]["id"]]
    if not isinstance(body, Body):
        event("the body itself says why")
        assert after[LOFT].findings
        return
    if step.state is State.FAILED:
        event(f"{kind}: a finding")
        assert all(finding.code != "unforeseen" and finding.detail for finding in step.findings)
        if step.findings[0].code == "broken-reference":
            assert_lost(step, body)
        return
    event(f"{kind}: done")
    assert isinstance(step.result, Body)
    new_offset, new_drawn = after_sections[end]
    assert line in new_drawn.lines or kind == "wall", "what it was made from is gone"
    scale = 10.0 if change == "scaled" else 1.0
    if kind == "wall":
        assert_open_there(step.result, body, after_sections, order, end, scale)
    elif kind == "patch":
        # where a side is flat as well, its outline may be the loop that is meant: the edge that was picked lies on it all the same
        there = place_on(new_offset, new_drawn, line, "line")
        assert min(np.linalg.norm(edge.curve.sampled(400)[1] - there, axis=1).min() for edge in step.result.edges) < 0.02 * size * scale
        if abs(float(step.result.measures.center[2]) - new_offset) < 1e-6 * scale:
            assert_close(step.result.measures.area, shoelace(new_drawn), within=1e-5, relative=True)
    else:
        corners = {p: np.array([*xy, new_offset]) for p, xy in new_drawn.points.items()}
        beside = {p for p, corner in corners.items() if blended_near(step.result, corner)}
        assert beside == {new_drawn.lines[line][0]}, "another edge is blended now"


def assert_open_there(walled: Body, body: Body, sections: list[tuple[float, Drawn]], order: list[int], end: int, scale: float) -> None:
    """Half a wall inside the end that is open a ring is cut, and at the other one all of it."""
    up = np.array([0.0, 0.0, 1.0])
    first, last = (sections[order[k]][0] for k in (0, -1))
    inwards = {order[0]: np.sign(last - first), order[-1]: np.sign(first - last)}
    for which, way in inwards.items():
        place = sections[which][0] + 0.5 * way
        share = area_across(walled, up, place) / area_across(body, up, place)
        assert share < 0.75 if which == end else share > 0.999, "another end is open now"


def blended_near(body: Body, corner: np.ndarray) -> bool:
    for face in body.faces:
        if "/along(" not in face.name:
            continue
        if face.surface is not None:
            u, v = feet(face.surface, corner[None], beside=True)
            places = face.surface.at(u, v, [(0, 0)])[0]
        else:
            assert face.frame is not None
            assert face.rims is not None
            # between the corners of a flat one as well
            rims = [face.frame.lift(rim) for rim in face.rims]
            share = np.linspace(0.0, 1.0, 200)[:, None, None]
            places = np.concatenate([(rim + share * (np.roll(rim, -1, axis=0) - rim)).reshape(-1, 3) for rim in rims])
        if np.linalg.norm(places - corner, axis=1).min() < NEXT_TO * 0.6:
            return True
    return False
