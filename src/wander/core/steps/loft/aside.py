"""Sections of a loft that were cut from its skin where no line of it is flat, or rails say how it goes: while they lie in it, it passes them over."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.sections import Entry
from wander.core.shaping.cut import lies_in
from wander.core.shaping.loft import Plain
from wander.core.shaping.meeting import MET


def aside(entries: Sequence[Entry]) -> set[int]:
    """Numbers of the sections that may be passed over: none, where too few would be left."""
    found = {i for i, entry in enumerate(entries) if entry.aside}
    return found if len(entries) - len(found) > 1 else set()


def distances_off(entries: Sequence[Entry], through: Sequence[int], plain: Plain) -> dict[int, float]:
    """How far each of the sections that was passed over is off the skin through the others, mm, by its number."""
    leads = [j for j, follower in enumerate(plain.followers) if not follower]
    found = {}
    for number in sorted(set(range(len(entries))) - set(through)):
        entry = entries[number]
        before = [j for j in leads if j < len(through) and through[j] < number]
        behind = [j for j in leads if j >= len(through) or through[j] > number]
        if entry.placed is None or entry.share is None or not before or not behind:
            found[number] = float("inf")
        else:
            found[number] = lies_in(plain, entry.placed, entry.share, before[-1], behind[0])
    return found


def left(off: dict[int, float]) -> set[int]:
    """Numbers of those that lie in the skin no more."""
    return {number for number, distance in off.items() if distance > MET}
