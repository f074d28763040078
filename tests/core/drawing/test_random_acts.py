"""Acts drawn at random on everything that can be drawn, at the places that people draw at most: each is carried out, or refused in words."""

from __future__ import annotations

import copy
import random
from typing import Any

import pytest
from pydantic import TypeAdapter, ValidationError

from tests.core.drawing.drawings import SCOPE, Raw
from tests.soak import times
from wander.core.document.acts import Act
from wander.core.document.expressions import ExpressionError
from wander.core.drawing.curves.pieces import pieces
from wander.core.drawing.edits.acts import perform
from wander.core.drawing.holding.solver import solve
from wander.core.drawing.holds import HOLD_WORDS
from wander.core.drawing.model import Drawing
from wander.core.geometry.errors import BadInput

ROUNDS = 30
POINTS = [
    *((0, 0), (40, 0), (20, 30), (60, 10), (75, 10), (60, 25), (-30, 20), (-30, 55), (-60, -20), (-15, -20)),
    *((0, 40), (10, 50), (25, 45), (40, 55), (50, -10), (60, -20), (70, -10), (80, -20), (90, 40), (100, 50), (90, 60), (80, 50)),
]
CURVES: list[Raw] = [
    *({"type": "line", "start": a, "end": b} for a, b in (("p1", "p2"), ("p2", "p3"), ("p3", "p1"))),
    {"type": "arc", "center": "p4", "start": "p5", "end": "p6"},
    {"type": "circle", "center": "p7", "radius": 9.0},
    {"type": "ellipse", "center": "p8", "width": 30.0, "depth": 14.0},
    {"type": "foil", "start": "p9", "end": "p10", "thickness": 0.14, "camber": 0.03, "crest": 0.4},
    {"type": "spline", "through": ["p11", "p12", "p13", "p14"]},
    {"type": "poles", "poles": ["p15", "p16", "p17", "p18"]},
    {"type": "spline", "through": ["p19", "p20", "p21", "p22"], "closed": True},
]
_ACT: TypeAdapter[Act] = TypeAdapter(Act)


def one_of_each() -> Raw:
    points = {f"p{i}": [float(x), float(y)] for i, (x, y) in enumerate(POINTS, start=1)}
    return {
        "points": points,
        "curves": [{"id": f"c{i}", **curve} for i, curve in enumerate(copy.deepcopy(CURVES), start=1)],
        "holds": [],
        "next": 100,
    }


class Hand:
    """Somebody who does anything to a drawing, mostly where something is already."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance

    def acts_on(self, drawn: Raw) -> Raw:
        choose = self._chance.choice
        points, holds = list(drawn["points"]) or ["p1"], [hold["id"] for hold in drawn["holds"]] or ["h1"]
        curves = [curve["id"] for curve in drawn["curves"]] or ["c1"]
        things = [*points, *curves, "origin", "x-axis", "y-axis"]

        def several(among: list[str], *counts: int) -> list[str]:
            return [choose(among) for _ in range(choose(counts))]

        def place() -> list[float]:
            kind = self._chance.random()
            if kind < 0.4 and drawn["points"]:
                return [float(v) for v in drawn["points"][choose(points)]]
            if kind < 0.8:
                return [5.0 * self._chance.randint(-18, 20), 5.0 * self._chance.randint(-6, 12)]
            return [self._chance.uniform(-90, 100), self._chance.uniform(-30, 60)]

        number = choose([0, 1, 5, 10, -3, 7.5, 1e-3, 1e-9, 250, "wide", "wide/4"])
        at, curve, span = place(), choose(curves), self._chance.randint(0, 4)
        asked: dict[str, dict[str, Any]] = {
            "add": {"points": {"$a": at, "$b": place()}, "curves": [{"type": "line", "start": choose(["$a", *points]), "end": "$b"}]},
            "pull": {"points": {p: place() for p in several(points, 1, 1, 2, 5)}},
            "resize": {"curve": curve, "radius": choose([1, 5, 1e-3, 100])},
            "move": {"things": several(things, 1, 2, 4), "by": choose([[0, 0], [10, 0], at]), "copy": choose([True, False])},
            "turn": {"things": several(things, 1, 2, 4), "about": at, "angle": choose([0, 90, 180, 37]), "scale": choose([1, 2, 0.5, 1e-3])},
            "hold": {"type": choose(list(HOLD_WORDS)), "of": several(things, 1, 2, 2, 2, 3), "value": choose([None, number])},
            "measure": {"hold": choose(holds), "value": number},
            "reading": {"hold": choose(holds), "on": choose([True, False])},
            "aside": {"hold": choose(holds), "by": at},
            "drop": {"things": several([*things, *holds], 1, 1, 3)},
            "construction": {"curves": [curve], "on": choose([True, False])},
            "trim": {"curve": curve, "at": at},
            "extend": {"curve": curve, "at": at},
            "split": choose([{"curve": curve, "at": at}, {"curve": curve, "parts": choose([2, 3, 7])}]),
            "divide": {"curve": curve, "parts": choose([2, 3, 5])},
            "join": {"curves": [curve, choose(curves)]},
            "fillet": {"point": choose(points), "radius": number},
            "chamfer": {"point": choose(points), "length": number},
            "offset": {"curves": several(curves, 1, 3), "distance": number},
            "mirror": {"curves": several(curves, 1, 2, 3), "about": choose([choose(curves), "x-axis", "y-axis"])},
            "spline-point": {"curve": curve, "after": span, "at": choose([None, at])},
            "spline-handle": {
                "curve": curve,
                "at": span,
                "angle": choose([None, 0, 90, -170]),
                "pull": choose([1, 0.2, 3]),
                "bend": choose([None, 0.05]),
            },
            "spline-sharp": {"curve": curve, "at": span, "on": choose([True, False])},
            "spline-straight": {"curve": curve, "span": span, "on": choose([True, False])},
            "as-spline": {"curve": curve, "points": choose([4, 8, 20])},
        }
        kind = choose([*asked, "pull", "pull", "hold", "hold", "hold", "hold", "hold"])
        return {"act": kind, **asked[kind]}


def carried_out(drawn: Raw, asked: Raw) -> tuple[Raw | None, str]:
    """What comes of an act, or why it is refused; nothing else may go wrong."""
    try:
        return perform(drawn, [_ACT.validate_python(asked)], SCOPE), ""
    except (BadInput, ValidationError, ExpressionError) as refused:
        return None, str(refused)


@pytest.mark.parametrize("seed", range(times(12, 300)))
def test_whatever_is_done_is_carried_out_or_refused_in_words(seed: int) -> None:
    drawn, hand = one_of_each(), Hand(random.Random(seed))
    for _ in range(ROUNDS):
        asked, before = hand.acts_on(drawn), copy.deepcopy(drawn)
        after, refused = carried_out(drawn, asked)
        assert drawn == before, f"{asked} changed what it was asked of"
        if after is None:
            assert refused.strip(), asked
            continue
        drawn = after
        made = Drawing.model_validate({k: v for k, v in drawn.items() if k != "type"}, context=SCOPE)
        assert {piece.id for piece in pieces(made)} <= {curve.id for curve in made.curves}, "what is left can be drawn"
        found = solve(made)
        if found.holds_true:
            # what holds stays where it is
            again = solve(found.drawing).drawing
            moved = max((abs(a - b) for p, at in again.points.items() for a, b in zip(at, found.drawing.points[p], strict=True)), default=0.0)
            assert moved < 1e-6, asked


@pytest.mark.parametrize("kind", sorted(HOLD_WORDS))
@pytest.mark.parametrize("of", [["p1"], ["c4"], ["p1", "p2", "p3"], ["c4", "p1", "c9"], ["p5", "p5"], ["origin", "x-axis"]])
def test_a_hold_on_what_it_does_not_go_with_is_refused(kind: str, of: list[str]) -> None:
    """Or put on it, where it does."""
    asked = {"act": "hold", "type": kind, "of": of, "rail": {"step": "rail-9"} if kind == "passes" else None}
    after, refused = carried_out(one_of_each(), asked)
    if after is None:
        assert len(refused) > 10
    else:
        assert all(hold["type"] == kind for hold in after["holds"])
