"""Equations that are sums of a few kinds of terms, worked out all at once: a drawing of hundreds of things has hundreds of them, and few kinds.

Each equation is a sum of numbers that vary, distances between points, distances of points from lines, and the like, less what it is to come to.
Slopes leave out terms that vanish where an equation holds; Newton's method does not need them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats

Ints = npt.NDArray[np.int32]
Kind = Callable[[Floats, Ints], tuple[Floats, Ints, Floats]]
"""Takes the values of all variables and the numbers of those that each term is of (k, n): gives what the terms come to (n,), and slopes by the
variables with the numbers, (m, n) each."""
TINY = 1e-12


@dataclass
class Family:
    """Terms of one kind: the equation that each is part of, how often it counts there, and the variables it is of, (n,) and (n, k)."""

    equations: list[int] = field(default_factory=list)
    times: list[float] = field(default_factory=list)
    of: list[tuple[int, ...]] = field(default_factory=list)

    def add(self, equation: int, times: float, of: tuple[int, ...]) -> None:
        self.equations.append(equation)
        self.times.append(times)
        self.of.append(of)

    def closed(self) -> tuple[Ints, Floats, Ints]:
        return np.array(self.equations, dtype=np.int32), np.array(self.times), np.array(self.of, dtype=np.int32).T


@dataclass(frozen=True)
class Worked:
    """residual: (r,). slopes (s,) at (row, column)."""

    residual: Floats
    row: Ints
    column: Ints
    slopes: Floats


class Sums:
    """Equations are begun one by one, and terms added to the last that was; points are told by the number of their x, y comes after it."""

    def __init__(self) -> None:
        self.owners: list[str | None] = []
        self.ranks: list[int] = []
        self._wanted: list[float] = []
        self._terms = {kind: Family() for kind in KINDS}
        self._kinds: list[tuple[Kind, Ints, Floats, Ints]] | None = None

    def begin(self, owner: str | None, rank: int, wanted: float = 0.0) -> None:
        """One more equation: of a hold, or of what a curve is by itself. rank: where it stands among all."""
        self.owners.append(owner)
        self.ranks.append(rank)
        self._wanted.append(wanted)

    def term(self, kind: Kind, times: float, *of: int) -> None:
        self._terms[kind].add(len(self.owners) - 1, times, of)

    def worked(self, values: Floats) -> Worked:
        """At values of all variables, those that never vary behind the others."""
        if self._kinds is None:
            self._kinds = [(kind, *family.closed()) for kind, family in self._terms.items() if family.equations]
        residual = -np.array(self._wanted)
        rows, columns, slopes = [], [], []
        for kind, equations, times, of in self._kinds:
            found, at, slope = kind(values, of)
            residual += np.bincount(equations, times * found, minlength=len(residual))
            rows.append(np.tile(equations, len(at)))
            columns.append(at.ravel())
            slopes.append((times * slope).ravel())
        if not rows:
            none = np.zeros(0, dtype=np.int32)
            return Worked(residual, none, none, np.zeros(0))
        return Worked(residual, np.concatenate(rows), np.concatenate(columns), np.concatenate(slopes))


def number(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """A number that varies."""
    return v[of[0]], of, np.ones((1, of.shape[1]))


def distance(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """From one point to another."""
    i, j = of
    dx, dy = v[i] - v[j], v[i + 1] - v[j + 1]
    r = _lengths(dx, dy)
    ex, ey = dx / r, dy / r
    return r, np.stack([i, i + 1, j, j + 1]), np.stack([ex, ey, -ex, -ey])


def away(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """Of a point from the line through two others, positive on its left."""
    k, i, j = of
    dx, dy, wx, wy = v[j] - v[i], v[j + 1] - v[i + 1], v[k] - v[i], v[k + 1] - v[i + 1]
    size = _lengths(dx, dy)
    ex, ey = dx / size, dy / size
    # turning the line moves the foot of the point by its share of the length
    share = (ex * wx + ey * wy) / size
    near, far = share - 1, -share
    slopes = np.stack([-ey, ex, -ey * near, ex * near, -ey * far, ex * far])
    return ex * wy - ey * wx, np.stack([k, k + 1, i, i + 1, j, j + 1]), slopes


def along(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """How far it is along a line, through the first two points, from the fourth to the third."""
    a, b, p, c = of
    dx, dy, rx, ry = v[b] - v[a], v[b + 1] - v[a + 1], v[p] - v[c], v[p + 1] - v[c + 1]
    size = _lengths(dx, dy)
    ex, ey, rx, ry = dx / size, dy / size, rx / size, ry / size
    columns = np.stack([a, a + 1, b, b + 1, p, p + 1, c, c + 1])
    return dx * rx + dy * ry, columns, np.stack([-rx, -ry, rx, ry, ex, ey, -ex, -ey])


def sine(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """Of the angle from one line, through two points, to another."""
    ax, ay, bx, by, size, columns = _two(v, of)
    return (ax * by - ay * bx) / size, columns, np.stack([-by, bx, by, -bx, ay, -ax, -ay, ax]) / size


def cosine(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    ax, ay, bx, by, size, columns = _two(v, of)
    return (ax * bx + ay * by) / size, columns, np.stack([-bx, -by, bx, by, -ax, -ay, ax, ay]) / size


def level(v: Floats, of: Ints) -> tuple[Floats, Ints, Floats]:
    """How much a line, through two points, rises along an axis for each of its lengths: the last two are the coordinates along that."""
    i, j, low, high = of
    size = _lengths(v[j] - v[i], v[j + 1] - v[i + 1])
    return (v[high] - v[low]) / size, np.stack([low, high]), np.stack([-1 / size, 1 / size])


def _lengths(dx: Floats, dy: Floats) -> Floats:
    size = np.hypot(dx, dy)
    return np.asarray(np.where(size > 0, size, TINY), dtype=np.float64)


def _two(v: Floats, of: Ints) -> tuple[Floats, Floats, Floats, Floats, Floats, Ints]:
    """Two directions, the product of their lengths, and the columns of their ends."""
    a, b, c, d = of
    ax, ay, bx, by = v[b] - v[a], v[b + 1] - v[a + 1], v[d] - v[c], v[d + 1] - v[c + 1]
    return ax, ay, bx, by, _lengths(ax, ay) * _lengths(bx, by), np.stack([a, a + 1, b, b + 1, c, c + 1, d, d + 1])


KINDS: tuple[Kind, ...] = (number, distance, away, along, sine, cosine, level)
