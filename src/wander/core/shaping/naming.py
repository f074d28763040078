"""What the sides of a skin are called: by the curves they were made from, never by their place in a count.

A side lies between two corners of every section. Each section says what it was drawn as there; the oldest section that tells two sides apart
names them, so that a section put in later, a start turned or another order renames nothing.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Sequence

from wander.core.drawing.loop import Loop, by_age

NEAR = 1e-6
"""A corner lies where an outline has one within this share of its girth."""


def curve_between(loop: Loop, start: float, extent: float, *, starts: bool, ends: bool) -> str:
    """What the outline was drawn as over `extent` from `start`. starts, ends: whether it has a corner of its own there."""
    spans = loop.spans
    if not spans:
        return "outline"
    if starts != ends:
        # between its own corner and one that it only borrows, what lies at its own tells more
        at = start + NEAR if starts else start + extent - NEAR
        return _over(loop, at % 1.0)
    return min(_met(loop, start, extent), key=by_age)


def corner_at(loop: Loop, position: float) -> str:
    """The corner that an outline has at a place of its parameter, empty where it has none."""
    near = [span for span in loop.spans if abs((span.at - position + 0.5) % 1.0 - 0.5) < NEAR]
    return near[0].corner if near else ""


def _over(loop: Loop, at: float) -> str:
    before = [span for span in loop.spans if span.at <= at]
    return (before or loop.spans)[-1].curve


def _met(loop: Loop, start: float, extent: float) -> list[str]:
    inside = [span.curve for span in loop.spans if NEAR < (span.at - start) % 1.0 < extent - NEAR]
    return [_over(loop, (start + NEAR) % 1.0), *inside]


def told_apart(labels: Sequence[Sequence[str]], sections: Sequence[str]) -> list[str]:
    """One name for each side, from what each section calls it: labels (sides, sections); sections in the order in which they are asked."""
    found = [""] * len(labels)

    def name(sides: list[int], asked: int) -> None:
        if len(sides) == 1 and (found[sides[0]] or asked == len(sections)):
            return
        if asked == len(sections):
            for k, side in enumerate(sides, start=1):
                found[side] += f"~{k}of{len(sides)}"
            return
        groups: dict[str, list[int]] = defaultdict(list)
        for side in sides:
            groups[labels[side][asked]].append(side)
        tells = len(groups) > 1 or len(sides) == 1
        for label, group in groups.items():
            if tells:
                for side in group:
                    found[side] += f"{'/' if found[side] else ''}{sections[asked]}.{label}"
            name(group, asked + 1)

    name(list(range(len(labels))), 0)
    return found


def oldest_first(sections: Sequence[str], bent: Sequence[bool]) -> list[int]:
    """The order in which sections are asked: those with corners first, among them the older ones."""
    return sorted(range(len(sections)), key=lambda i: (not bent[i], by_age(sections[i].rsplit("-", 1)[-1])))


def unless_alone(name: str, names: Sequence[str], further: Callable[[], str]) -> str:
    """The name, and something further where it stands several times."""
    return name if names.count(name) == 1 else f"{name}#{further()}"
