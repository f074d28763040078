"""Solving a drawing: the positions nearest to where things are in which everything holds, and what is still free.

Newton steps of least length: of all corrections that satisfy the linearised equations the shortest is taken, so what is not concerned does
not move. The normal matrix is sparse, so the cost grows about linearly with a drawing whose holds are local.
Source: Nocedal & Wright 2006, section 11.1 (nonlinear equations), with minimum-norm steps and Levenberg's damping.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from math import sqrt

import numpy as np

from wander.core.drawing.holding.equations import Equations
from wander.core.drawing.holding.rows import Linearised
from wander.core.drawing.model import Drawing
from wander.core.geometry.basis import Floats, Ints

SOLVED = 1e-12
"""Largest error left in any equation, relative to the size of the drawing."""
TRUE = 1e-7
"""The same from which on holds count as true."""
ROUGHLY = 1e-3
QUICK = 0.05
"""A step that leaves no more than this share of the largest error is near the end."""
DEPENDENT = 1e-7
MOST_STEPS = 60
VANISHED = 1e-3
"""A line that keeps no more than this share of its length through one pull is gone."""
PORTIONS = (1.0, 0.5, 0.25)
"""Of a correction that is too long by itself."""
BLOCK = 32
"""Rows whose dependence on those before them is worked out at once."""
MOST_LEFT = 0.7
"""Share of the length of a row."""


@dataclass(frozen=True)
class Dispute:
    """Holds of which one has to go. conflict: they contradict each other; otherwise one of them merely says what the others say already.

    last: the one that was put on last.
    """

    holds: tuple[str, ...]
    last: str
    conflict: bool


@dataclass(frozen=True)
class Solved:
    """drawing: with its solved positions. error: mm that the worst hold is off by. steps: Newton steps that were needed."""

    drawing: Drawing
    error: float
    steps: int
    _equations: Equations

    @property
    def holds_true(self) -> bool:
        return self.error <= TRUE * max(self._equations.size, 1.0)

    @property
    def final(self) -> bool:
        """Solved again it would stay as it is."""
        return self.error <= SOLVED * max(self._equations.size, 1.0)

    @cached_property
    def measures(self) -> dict[str, float]:
        """What each measure comes to, mm or radians."""
        return self._equations.measured(self.drawing.holds)

    @cached_property
    def standing(self) -> Standing:
        found = _standing(self._equations)
        disputes = tuple(_narrowed(self.drawing, dispute) if dispute.conflict else dispute for dispute in found.disputes)
        return Standing(found.freedoms, found.held, tuple({frozenset(d.holds): d for d in disputes}.values()))


@dataclass(frozen=True)
class Standing:
    """freedoms: how many numbers are still free. held: points and curves that can't move. disputes: holds that are one too many."""

    freedoms: int
    held: frozenset[str]
    disputes: tuple[Dispute, ...]


def solve(drawing: Drawing, pulled: Mapping[str, tuple[float, float]] | None = None, *, known: Equations | None = None) -> Solved:
    """The drawing with everything held, as near to its positions as can be.

    pulled: points that are dragged, and where to; they give way only to what holds them. known: the equations of the drawing, which stay as they are.
    """
    equations = Equations(drawing) if known is None else known.afresh()
    pulled = pulled or {}
    weights = equations.weights(pulled)
    begun = equations.values.copy()
    steps = _follow(equations, pulled, weights) if pulled else 0
    error, more = _newton(equations, weights)
    steps += more
    if pulled:
        error, more = _close_in(equations, pulled, weights, error)
        steps += more
        error, more = _unless_stuck(equations, pulled, begun, error)
        steps += more
    return Solved(equations.drawing(), error, steps, equations)


def _unless_stuck(equations: Equations, pulled: Mapping[str, tuple[float, float]], begun: Floats, error: float) -> tuple[float, int]:
    """What is pulled may come to a place from which nothing leads to what holds it, or only by a line that vanishes: holds go before the hand.

    Then it is set down where it was pulled to and moves as easily as all the rest, and else it is not pulled.
    """
    goal = TRUE * max(equations.size, 1.0)
    if error <= goal and not _vanished(equations, pulled, begun):
        return error, 0
    stuck, steps = equations.values.copy(), 0
    for targets in (pulled, {}):
        equations.values = begun.copy()
        for point, (x, y) in targets.items():
            equations.place(point, x, y)
        found, more = _newton(equations, equations.weights(()))
        steps += more
        if found <= goal and not _vanished(equations, pulled, begun):
            return found, steps
    equations.values = stuck
    return error, steps


def _vanished(equations: Equations, pulled: Mapping[str, tuple[float, float]], begun: Floats) -> bool:
    """Whether a line whose direction is held has none left, though neither end of it is pulled."""
    ends = equations.directed
    own = [equations.place_of(point) for point in pulled]
    ends = ends[~np.isin(ends, own).any(axis=1)]
    before, after = (np.hypot(*(values[ends[:, 1] + i] - values[ends[:, 0] + i] for i in (0, 1))) for values in (begun, equations.values))
    return bool((after < VANISHED * before).any())


def _close_in(equations: Equations, pulled: Mapping[str, tuple[float, float]], weights: Floats, kept: float) -> tuple[float, int]:
    """Where there is room the point that is pulled goes all the way; one linear step after another only nearly does.

    kept: the largest error before. Returns the one after, and the number of steps.
    """
    steps = 0
    gap = _gap(equations, pulled)
    while gap > 1e-5 * equations.size and steps < MOST_STEPS:
        before = equations.values.copy()
        for point, (x, y) in pulled.items():
            equations.place(point, x, y)
        error, more = _newton(equations, weights)
        steps += more
        left = _gap(equations, pulled)
        if left > gap:
            equations.values = before
            break
        kept = error
        if left > 0.5 * gap or error > 1e-9 * equations.size:
            break
        gap = left
    return kept, steps


def _gap(equations: Equations, pulled: Mapping[str, tuple[float, float]]) -> float:
    return max(float(np.hypot(*np.subtract(equations.position(p), to))) for p, to in pulled.items())


def _follow(equations: Equations, pulled: Mapping[str, tuple[float, float]], weights: Floats) -> int:
    """Move what is pulled in strides short enough that the rest can follow without turning over."""
    begun = {point: equations.position(point) for point in pulled}
    far = max(float(np.hypot(x - begun[p][0], y - begun[p][1])) for p, (x, y) in pulled.items())
    strides = int(np.clip(np.ceil(far / (0.2 * equations.size)), 1, 24))
    steps = 0
    for i in range(1, strides + 1):
        share = i / strides
        for point, (x, y) in pulled.items():
            x0, y0 = begun[point]
            equations.place(point, x0 + share * (x - x0), y0 + share * (y - y0))
        if i < strides:
            # on the way it is enough not to turn over
            steps += _newton(equations, weights, ROUGHLY)[1]
    return steps


def _newton(equations: Equations, weights: Floats, tolerance: float = SOLVED) -> tuple[float, int]:
    """Bring all equations to zero; returns the largest error and the number of steps."""
    goal = tolerance * max(equations.size, 1.0)
    rows = equations.linearised()
    error = rows.largest
    damping, quick = 1e-13, False
    for step in range(MOST_STEPS):
        if error <= goal:
            return error, step
        start = equations.values.copy()
        # close to where it ends the slopes hardly change: those of the step before do for the next
        tried = _again(equations, start, rows, goal) if quick else None
        while tried is None:
            tried = _along(equations, start, equations.shortest(rows, weights, damping), rows, goal)
            if tried is None:
                damping = max(damping * 30, 1e-8)
                if damping > 1e4:
                    equations.values = start
                    return error, step
        damping = max(damping / 10, 1e-13)
        gained = rows.square - tried.square
        quick = tried.largest < QUICK * rows.largest
        rows, error = tried, tried.largest
        if gained <= 1e-14 * rows.square:
            return error, step + 1
    return error, MOST_STEPS


def _again(equations: Equations, start: Floats, before: Linearised, goal: float) -> Linearised | None:
    """A step with the slopes of the one before, as long as that makes things much better. Source: the chord method, Kelley 1995, section 5.4."""
    correction = equations.shortest.again(before)
    if correction is None:
        return None
    equations.values = start + correction
    tried = equations.linearised()
    if tried.largest <= max(QUICK * before.largest, goal):
        return tried
    equations.values = start
    return None


def _along(equations: Equations, start: Floats, correction: Floats, before: Linearised, goal: float) -> Linearised | None:
    """Take a correction, or as much of it as makes things better: a share of it costs less to try than another one to work out."""
    for share in PORTIONS:
        equations.values = start + share * correction
        tried = equations.linearised()
        if tried.square < before.square or tried.largest <= goal:
            return tried
    return None


def _narrowed(drawing: Drawing, dispute: Dispute) -> Dispute:
    """The smallest part of a conflict that is one by itself: what the rest agrees without is left out of it.

    Where equations don't hold, their slopes only point about the right way, and may name holds that have no part in it.
    Source: the deletion filter of Chinneck & Dravnieks 1991.
    """
    names = list(dispute.holds)
    if not _contradict(drawing, names):
        names = [hold.id for hold in drawing.holds]
    for name in list(names):
        fewer = [n for n in names if n != name]
        if name != dispute.last and fewer and _contradict(drawing, fewer):
            names = fewer
    return Dispute(tuple(names), dispute.last, True)


def _contradict(drawing: Drawing, names: list[str]) -> bool:
    alone = drawing.model_copy(update={"holds": [hold for hold in drawing.holds if hold.id in names]})
    return not solve(alone).holds_true


def _standing(equations: Equations) -> Standing:
    """Rank analysis in the order in which the holds were put on: a row that the earlier ones span is one too many.

    A variable that no motion left free can change lies in the span of the rows.
    """
    rows = equations.linearised()
    count = len(equations.values)
    dense = np.zeros((len(rows.residual), count))
    np.add.at(dense, (rows.row, rows.column), rows.slopes)
    lengths = np.linalg.norm(dense, axis=1)
    dense /= np.where(lengths > 0, lengths, 1.0)[:, None]
    accepted: list[int] = []
    settled = np.zeros(count, dtype=np.bool_)
    for own, columns in _apart(rows, count):
        found, basis = _independent(dense[np.ix_(own, columns)])
        accepted += own[found].tolist()
        settled[columns] = (basis**2).sum(axis=0) > 1 - 1e-6
    accepted.sort()
    disputes = _disputes(rows, dense, accepted, 1e-7 * max(equations.size, 1.0))
    # a hold of several equations earns its place with any one of them
    useful = {rows.owner[i] for i in accepted}
    disputes = {name: d for name, d in disputes.items() if d.conflict or name not in useful}
    return Standing(count - len(accepted), equations.settled(settled), tuple(disputes.values()))


def _apart(rows: Linearised, count: int) -> list[tuple[Ints, Ints]]:
    """Rows that have to do with each other, with the variables that they are about; rows that are about none are left out."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    number = len(rows.residual)
    links = coo_matrix((np.ones(len(rows.row)), (rows.row, number + rows.column)), shape=(number + count, number + count))
    parts, of = connected_components(links, directed=False)
    found = [(np.flatnonzero(of[:number] == part), np.flatnonzero(of[number:] == part)) for part in range(parts)]
    return [(own, columns) for own, columns in found if len(own) and len(columns)]


def _independent(dense: Floats) -> tuple[list[int], Floats]:
    """The rows (r, n) of length 1 or 0 that none before them span, and an orthonormal basis of what they span.

    Gram and Schmidt, twice over for accuracy, against what came before a block of rows for the whole block at once. Where most of a row is left, once
    is enough (Parlett 1998, section 6.9).
    """
    count = dense.shape[1]
    basis = np.zeros((min(count, len(dense)), count))
    accepted: list[int] = []
    for begin in range(0, len(dense), BLOCK):
        before = basis[: len(accepted)]
        block = dense[begin : begin + BLOCK].copy()
        block -= (block @ before.T) @ before
        short = np.einsum("rc,rc->r", block, block) < MOST_LEFT**2
        block[short] -= (block[short] @ before.T) @ before
        first = len(accepted)
        for i, rest in enumerate(block, begin):
            own = basis[first : len(accepted)]
            size = sqrt(rest @ rest)
            rest -= (own @ rest) @ own
            if sqrt(rest @ rest) < MOST_LEFT * size:
                rest -= (own @ rest) @ own
            size = sqrt(rest @ rest)
            if size > DEPENDENT and len(accepted) < count:
                basis[len(accepted)] = rest / size
                accepted.append(i)
    return accepted, basis[: len(accepted)]


def _disputes(rows: Linearised, dense: Floats, accepted: list[int], goal: float) -> dict[str, Dispute]:
    """Holds of which a row is spanned by rows before it, by the name of the later one."""
    disputes: dict[str, Dispute] = {}
    spanned = [i for i in sorted(set(range(len(dense))) - set(accepted)) if rows.owner[i] is not None]
    if spanned:
        # each in the rows that span it, and no other: they are independent
        shares = np.linalg.lstsq(dense[accepted].T, dense[spanned].T, rcond=None)[0] if accepted else np.zeros((0, len(spanned)))
        for column, i in enumerate(spanned):
            owner = rows.owner[i]
            if owner is None or owner in disputes:
                continue
            others = [accepted[k] for k in np.flatnonzero(np.abs(shares[:, column]) > 1e-6)]
            names = tuple(dict.fromkeys([name for name in [*(rows.owner[j] for j in others), owner] if name is not None]))
            conflict = bool(max(abs(float(rows.residual[j])) for j in [i, *others]) > goal)
            disputes[owner] = Dispute(names, owner, conflict)
    if rows.largest > goal and not any(d.conflict for d in disputes.values()):
        # nothing depends on anything, and yet it can't be: sizes that no position can give
        bad = np.flatnonzero(np.abs(rows.residual) > max(goal, 1e-3 * rows.largest))
        names = tuple(dict.fromkeys(name for name in (rows.owner[i] for i in bad) if name is not None))
        if names:
            disputes[names[-1]] = Dispute(names, names[-1], True)
    return disputes
