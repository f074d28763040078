"""Equations that are sums of a few kinds of terms, worked out all at once: a drawing of hundreds of things has hundreds of them, and few kinds.

Each equation is a sum of numbers that vary, distances between points, distances of points from lines, and the like, less what it is to come to.
Slopes leave out terms that vanish where an equation holds; Newton's method does not need them. They are only worked out where they are asked for.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from wander.core.geometry.basis import Floats

Ints = npt.NDArray[np.int32]
Slopes = Callable[[], Floats]
TINY = 1e-12
MANY = 6
"""Equations that share a term from which on they are told from each other rather than from it."""


@dataclass(frozen=True, eq=False)
class Kind:
    """How terms of a kind are worked out.

    needs: takes the numbers that terms are told by, (k, n), to those of the variables that they are worked out from, (g, n).
    by: how many of these, from the first on, they have slopes by. worked: takes their values (g, n) to what the terms come to, (n,), and to their
    slopes, (by, n).
    """

    needs: Callable[[Ints], Ints]
    by: int
    worked: Callable[[Floats], tuple[Floats, Slopes]]


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


@dataclass(frozen=True)
class Shared:
    """Equations that share a term with one before them: `times` that one taken from them they are without it.

    later, before: which, (c,) each. of_term: (s,) whether a slope is of the term that its equation shares.
    """

    later: Ints
    before: Ints
    times: Floats
    of_term: npt.NDArray[np.bool_]


@dataclass(frozen=True)
class Layout:
    """Where everything stands in equations that are sums, which is the same at all values.

    kinds: with the variables needed, (g, n), and how often terms count. equations: (t,) of all terms. slopes stand at (row, column), (s,) each.
    """

    kinds: tuple[tuple[Kind, Ints, Floats], ...]
    equations: Ints
    wanted: Floats
    row: Ints
    column: Ints
    shared: Shared

    def worked(self, values: Floats) -> tuple[Floats, Slopes]:
        """The residual (r,), and what gives the slopes (s,), at values of all variables, those that never vary behind the others."""
        found = [(times, *kind.worked(values[needs])) for kind, needs, times in self.kinds]
        if not found:
            return -self.wanted, lambda: np.zeros(0)
        terms = np.concatenate([times * worth for times, worth, _ in found])
        residual = np.bincount(self.equations, terms, minlength=len(self.wanted)) - self.wanted
        return residual, lambda: np.concatenate([(times * slopes()).ravel() for times, _, slopes in found])


class Sums:
    """Equations are begun one by one, and terms added to the last that was; points are told by the number of their x, y comes after it."""

    def __init__(self) -> None:
        self.owners: list[str | None] = []
        self.ranks: list[int] = []
        self._wanted: list[float] = []
        self._terms = {kind: Family() for kind in KINDS}

    def begin(self, owner: str | None, rank: int, wanted: float = 0.0) -> None:
        """One more equation: of a hold, or of what a curve is by itself. rank: where it stands among all."""
        self.owners.append(owner)
        self.ranks.append(rank)
        self._wanted.append(wanted)

    def term(self, kind: Kind, times: float, *of: int) -> None:
        self._terms[kind].add(len(self.owners) - 1, times, of)

    def laid(self) -> Layout:
        """All that were begun."""
        shares, of_term = self._shares()
        kinds, row, column, shared = [], [], [], []
        for kind, family in self._terms.items():
            if family.equations:
                needs = kind.needs(np.array(family.of, dtype=np.int32).T)
                kinds.append((kind, needs, np.array(family.times)))
                row.append(np.tile(np.array(family.equations, dtype=np.int32), kind.by))
                column.append(needs[: kind.by].ravel())
                shared.append(np.tile(of_term[kind], kind.by))
        equations = [equation for family in self._terms.values() for equation in family.equations]
        none = np.zeros(0, dtype=np.int32)
        later, before, times = zip(*shares, strict=True) if shares else ((), (), ())
        return Layout(
            tuple(kinds),
            np.array(equations, dtype=np.int32),
            np.array(self._wanted),
            np.concatenate([none, *row]),
            np.concatenate([none, *column]),
            Shared(
                np.array(later, dtype=np.int32),
                np.array(before, dtype=np.int32),
                np.array(times, dtype=np.float64),
                np.concatenate([np.zeros(0, dtype=np.bool_), *shared]),
            ),
        )

    def _shares(self) -> tuple[list[tuple[int, int, float]], dict[Kind, npt.NDArray[np.bool_]]]:
        """Equations that share a term with one before them, that one, and how often it is to be taken; and which terms of each kind are shared so.

        Where one thing is compared with many, as all holes of a plate with the first, each of these equations has to do with each other through it.
        Neighbours compared with each other say the same, and each has to do with two.
        """
        terms = [(kind, i) for kind, family in self._terms.items() for i in range(len(family.equations))]
        alike: dict[tuple[Kind, tuple[int, ...]], list[int]] = {}
        for kind, i in terms:
            alike.setdefault((kind, self._terms[kind].of[i]), []).append(i)
        # an equation is told from others by the term that most share; and by no other
        chosen: dict[int, tuple[int, Kind, int]] = {}
        for (kind, _), members in alike.items():
            if len(members) >= MANY:
                for i in members:
                    equation = self._terms[kind].equations[i]
                    if equation not in chosen or len(members) > chosen[equation][0]:
                        chosen[equation] = len(members), kind, i
        of_term = {kind: np.zeros(len(family.equations), dtype=np.bool_) for kind, family in self._terms.items()}
        shares: list[tuple[int, int, float]] = []
        last: dict[tuple[Kind, tuple[int, ...]], tuple[int, float]] = {}
        for equation, (_, kind, i) in sorted(chosen.items()):
            family = self._terms[kind]
            of_term[kind][i] = True
            before, times = last.get((kind, family.of[i]), (None, 0.0))
            if before is not None:
                shares.append((equation, before, family.times[i] / times))
            last[kind, family.of[i]] = equation, family.times[i]
        return shares, of_term


def _themselves(of: Ints) -> Ints:
    return of


def _points(of: Ints) -> Ints:
    """x and y of points in turn."""
    return np.stack([of, of + 1], axis=1).reshape(2 * len(of), -1)


def _both_ends(of: Ints) -> Ints:
    """The coordinates that are compared, and both points."""
    i, j, low, high = of
    return np.stack([low, high, i, i + 1, j, j + 1])


def _number(x: Floats) -> tuple[Floats, Slopes]:
    return x[0], lambda: np.ones_like(x)


def _distance(x: Floats) -> tuple[Floats, Slopes]:
    way = x[:2] - x[2:]
    size = _lengths(way)

    def slopes() -> Floats:
        unit = way / size
        return np.concatenate([unit, -unit])

    return size, slopes


def _away(x: Floats) -> tuple[Floats, Slopes]:
    way, wx, wy = x[4:] - x[2:4], x[0] - x[2], x[1] - x[3]
    size = _lengths(way)
    ex, ey = unit = way / size

    def slopes() -> Floats:
        # turning the line moves the foot of the point by its share of the length
        share = (ex * wx + ey * wy) / size
        across = np.stack([-ey, ex])
        return np.concatenate([across, across * (share - 1), across * -share])

    return unit[0] * wy - unit[1] * wx, slopes


def _along(x: Floats) -> tuple[Floats, Slopes]:
    size = _lengths(x[2:4] - x[:2])
    way, to = (x[2:4] - x[:2]) / size, x[4:6] - x[6:]

    def slopes() -> Floats:
        turned = to / size
        return np.concatenate([-turned, turned, way, -way])

    return way[0] * to[0] + way[1] * to[1], slopes


def _sine(x: Floats) -> tuple[Floats, Slopes]:
    (ax, ay), (bx, by), size = _two(x)
    return (ax * by - ay * bx) / size, lambda: np.stack([-by, bx, by, -bx, ay, -ax, -ay, ax]) / size


def _cosine(x: Floats) -> tuple[Floats, Slopes]:
    (ax, ay), (bx, by), size = _two(x)
    return (ax * bx + ay * by) / size, lambda: np.stack([-bx, -by, bx, by, -ax, -ay, ax, ay]) / size


def _level(x: Floats) -> tuple[Floats, Slopes]:
    size = _lengths(x[4:] - x[2:4])
    return (x[1] - x[0]) / size, lambda: np.stack([-1 / size, 1 / size])


def _lengths(way: Floats) -> Floats:
    size = np.hypot(way[0], way[1])
    return np.asarray(np.where(size > 0, size, TINY), dtype=np.float64)


def _two(x: Floats) -> tuple[Floats, Floats, Floats]:
    """Two directions, and the product of their lengths."""
    first, second = x[2:4] - x[:2], x[6:] - x[4:6]
    return first, second, _lengths(first) * _lengths(second)


number = Kind(_themselves, 1, _number)
"""A number that varies."""
distance = Kind(_points, 4, _distance)
"""From one point to another."""
away = Kind(_points, 6, _away)
"""Of a point from the line through two others, positive on its left."""
along = Kind(_points, 8, _along)
"""How far it is along a line, through the first two points, from the fourth to the third."""
sine = Kind(_points, 8, _sine)
"""Of the angle from one line, through two points, to another."""
cosine = Kind(_points, 8, _cosine)
level = Kind(_both_ends, 2, _level)
"""How much a line, through two points, rises along an axis for each of its lengths: the last two are the coordinates along that."""

KINDS: tuple[Kind, ...] = (number, distance, away, along, sine, cosine, level)
