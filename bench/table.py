"""Rows of the table, how they are measured, and how they are printed."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Any, TypeVar, cast

from rich.console import Console
from rich.table import Table

A = TypeVar("A")
B = TypeVar("B")


@dataclass(frozen=True)
class Row:
    """what: as in the table. found and bar in `unit`; a row holds when found <= bar. note: the numbers behind a ratio."""

    what: str
    found: float
    bar: float
    unit: str = ""
    note: str = ""

    @property
    def holds(self) -> bool:
        return self.found <= self.bar


def interleaved(
    first: Callable[[A], object], second: Callable[[B], object], rounds: int, for_first: Callable[[], A], for_second: Callable[[], B]
) -> tuple[float, float]:
    """Median seconds of two calls that take turns, so that whatever else the machine does falls on both.

    Each call gets something freshly made, whose making is not timed: nothing that was remembered from the round before helps.
    """
    spent: tuple[list[float], list[float]] = ([], [])
    for _ in range(rounds + 1):
        for work, make, times in ((first, for_first, spent[0]), (second, for_second, spent[1])):
            given: Any = make()
            begun = time.perf_counter()
            cast(Callable[[Any], object], work)(given)
            times.append(time.perf_counter() - begun)
    return statistics.median(spent[0][1:]), statistics.median(spent[1][1:])


def ratio(what: str, own: float, other: float, bar: float, *, names: tuple[str, str] = ("own", "kernel")) -> Row:
    note = f"{names[0]} {own * 1e3:.2f} ms, {names[1]} {other * 1e3:.1f} ms"
    return Row(what, own / other, bar, "", note)


def percentile(values: list[float], share: float) -> float:
    ordered = sorted(values)
    return ordered[min(len(ordered) - 1, round(share * (len(ordered) - 1)))]


def as_they_come(rows: Iterable[Row]) -> Iterator[Row]:
    """The same rows, each told in a line when it is there: the table comes only after the last of them, minutes later."""
    for row in rows:
        print(f"  {'holds ' if row.holds else 'MISSED'} {row.what}: {row.found:.4g} {row.unit}".rstrip(), flush=True)
        yield row


def show(rows: list[Row]) -> None:
    table = Table("what", "found", "bar", "", "measured", title="Speed and size")
    for row in rows:
        table.add_row(
            row.what,
            f"{row.found:.4g} {row.unit}".strip(),
            f"≤ {row.bar:g} {row.unit}".strip(),
            "holds" if row.holds else "MISSED",
            row.note,
            style="" if row.holds else "bold red",
        )
    Console(width=150).print(table)
