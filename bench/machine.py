"""How fast the machine runs at the moment: it may share its cores with others. Rows in seconds count while it runs at its own speed."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import replace

from bench.table import Row

TRIES = 4
STEADY = 1.15
"""A machine that takes no longer than this many times its best for the same work runs at its own speed."""


def _once() -> float:
    begun = time.perf_counter()
    sum(i * i for i in range(400_000))
    return time.perf_counter() - begun


class Machine:
    """The best time for a fixed piece of work that was seen so far, against which every other is held."""

    def __init__(self) -> None:
        self._best = min(_once() for _ in range(20))

    def slowness(self) -> float:
        """How many times its best the machine takes now, at the least 1."""
        now = min(_once() for _ in range(3))
        self._best = min(self._best, now)
        return now / self._best

    def at_its_speed(self, measure: Callable[[], Iterable[Row]]) -> list[Row]:
        """The rows, measured again while the machine is slow; in the end those taken at its best speed, which is said where it was not full."""
        tries: list[tuple[float, list[Row]]] = []
        while len(tries) < TRIES:
            before = self.slowness()
            rows = list(measure())
            slow = max(before, self.slowness())
            tries.append((slow, rows))
            if slow <= STEADY:
                return rows
        slow, rows = min(tries, key=lambda found: found[0])
        return [replace(row, note=f"{row.note}; the machine at {1 / slow:.0%} of its speed".lstrip("; ")) for row in rows]
