"""What the sides of a skin are called: by the curves they were made from, never by their place in a count.

A side lies between two corners of every section, and each section says what it was drawn as there.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Protocol

from wander.core.drawing.outlines.loop import Span, by_age

NEAR = 1e-6
"""A corner lies where an outline has one within this share of its girth."""


class Spanned(Protocol):
    """An outline that tells what it was drawn as."""

    @property
    def spans(self) -> tuple[Span, ...]: ...


def curve_between(loop: Spanned, start: float, extent: float, *, starts: bool, ends: bool) -> str:
    """What the outline was drawn as over `extent` from `start`. starts, ends: whether it has a corner of its own there."""
    spans = loop.spans
    if not spans:
        return "outline"
    if starts != ends:
        # between its own corner and one that it only borrows, what lies at its own tells more
        at = start + NEAR if starts else start + extent - NEAR
        return _over(loop, at % 1.0)
    return min(_met(loop, start, extent), key=by_age)


def corner_at(loop: Spanned, position: float) -> str:
    """The corner that an outline has at a place of its parameter, empty where it has none."""
    near = [span for span in loop.spans if abs((span.at - position + 0.5) % 1.0 - 0.5) < NEAR]
    return near[0].corner if near else ""


def _over(loop: Spanned, at: float) -> str:
    before = [span for span in loop.spans if span.at <= at]
    return (before or loop.spans)[-1].curve


def _met(loop: Spanned, start: float, extent: float) -> list[str]:
    inside = [span.curve for span in loop.spans if NEAR < (span.at - start) % 1.0 < extent - NEAR]
    return [_over(loop, (start + NEAR) % 1.0), *inside]


def side_name(sections: Sequence[str], labels: Sequence[str]) -> str:
    """What a side is called: by what every section that has a corner at it was drawn as there. `2.c7+6.right`: curve c7 of section-2, and so on.

    Sections are ids, labels empty where a section has no say. A side is the same one as long as no two sections say different things of it, so that
    a section put in between, or taken away, changes nothing.
    """
    said = [f"{number_of(section)}.{label}" for section, label in zip(sections, labels, strict=True) if label]
    return "+".join(sorted(said, key=by_age)) or "side"


def number_of(step: str) -> str:
    """The number in the id of a step."""
    return step.rsplit("-", 1)[-1]


def counted(names: Sequence[str]) -> list[str]:
    """The names, those that stand several times with their number: nothing tells them apart."""
    count, seen = Counter(names), Counter[str]()
    found = []
    for name in names:
        seen[name] += 1
        found.append(name if count[name] == 1 else f"{name}~{seen[name]}of{count[name]}")
    return found
