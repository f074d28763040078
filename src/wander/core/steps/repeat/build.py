"""Repeat: copies of a body along a line or round an axis."""

from __future__ import annotations

from itertools import combinations
from math import pi

import numpy as np

from wander.core.bodies.body import Body, gathered, image
from wander.core.checks.combining import run_into_each_other
from wander.core.checks.numbers import count_out_of_range
from wander.core.geometry.motions import Motion, shift, turn_about
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.made import elsewhere
from wander.core.steps.move.build import AXES
from wander.core.steps.repeat.params import AlongLine, RepeatParams, RoundAxis

MOST = 200
FULL = 1e-9


def build(params: RepeatParams, inputs: Inputs) -> Built:
    if not 1 <= params.count <= MOST:
        raise StepRefused([count_out_of_range(inputs.step, params.count, 1, MOST)])
    original = inputs.body(params.body)
    copies = [original]
    for number in range(1, params.count):
        copies.append(image(original, f"{inputs.step.id}.{number + 1}", _motion(params.way, number, params.count)))
    body = gathered(copies)
    near = _overlapping(copies)
    return elsewhere(body, inputs, [run_into_each_other(inputs.step, near)] if near else [])


def _motion(way: AlongLine | RoundAxis, number: int, count: int) -> Motion:
    if isinstance(way, AlongLine):
        return shift(number * np.array(way.by))
    full = abs(abs(way.angle) - 2 * pi) < FULL
    return turn_about(np.array(way.about), AXES[way.axis], way.angle * number / (count if full else max(count - 1, 1)))


def _overlapping(copies: list[Body]) -> list[tuple[int, int]]:
    """Neighbours whose boxes overlap as much as if they lay on each other."""
    found = []
    for (i, a), (j, b) in combinations(enumerate(copies), 2):
        common = np.minimum(a.measures.high, b.measures.high) - np.maximum(a.measures.low, b.measures.low)
        if np.all(common > 0.5 * np.minimum(a.measures.high - a.measures.low, b.measures.high - b.measures.low)):
            found.append((i, j))
    return found
