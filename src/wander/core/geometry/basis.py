"""B-spline basis functions for whole arrays of parameters.

Source: Piegl & Tiller, The NURBS Book, chapter 2 (A2.1 to A2.3), rearranged so that the recurrence runs over
degrees once while numpy runs over parameters.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Ints = npt.NDArray[np.intp]


def find_spans(knots: Floats, degree: int, parameters: Floats) -> Ints:
    """Index s of the knot span [t_s, t_s+1) that holds each parameter; the last span is closed.

    knots: (n + degree + 1,), non-decreasing. parameters: (m,). Returns (m,).
    """
    last = len(knots) - degree - 2
    spans = np.searchsorted(knots, parameters, side="right") - 1
    # the end of the domain belongs to the last span that is not empty
    last = int(np.searchsorted(knots, knots[last + 1], side="left")) - 1
    return np.clip(spans, degree, last)


def basis_functions(knots: Floats, degree: int, parameters: Floats, derivative: int = 0) -> tuple[Ints, Floats]:
    """The degree + 1 basis functions that are not zero at each parameter, or a derivative of them.

    parameters: (m,). Returns spans (m,) and values (m, degree + 1); column j belongs to function span - degree + j.
    """
    spans = find_spans(knots, degree, parameters)
    values = np.ones((1, len(parameters)))
    # all knots that have a say, a row for each: the first degree of them stand before the parameter
    near = knots[spans + np.arange(1 - degree, degree + 1)[:, None]]
    ahead, gone = near[degree:] - parameters, parameters - near[:degree]
    for q in range(1, degree + 1):
        upper, lower = ahead[:q], gone[degree - q :]
        ratio = values / (upper + lower)
        raised = np.zeros((q + 1, len(parameters)))
        if q <= degree - derivative:
            raised[1:] += lower * ratio
            raised[:-1] += upper * ratio
        else:
            raised[1:] += q * ratio
            raised[:-1] -= q * ratio
        values = raised
    if derivative > degree:
        values = np.zeros_like(values)
    return spans, values.T
