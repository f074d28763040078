"""Sections of a loft that were cut from its skin where no line of it is flat, or rails say how it goes: while they lie in it, it passes them over."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from wander.core.checks.sections import Entry
from wander.core.shaping.cut import NOWHERE, Lying, lying
from wander.core.shaping.loft import Plain
from wander.core.shaping.meeting import MET
from wander.core.shaping.shell import NamedFace, Ring, Shell


def aside(entries: Sequence[Entry], *, ring: bool) -> set[int]:
    """Numbers of the sections that may be passed over: not where the body begins or ends, and none, where too few would be left."""
    between = range(1, len(entries) if ring else len(entries) - 1)
    found = {i for i in between if entries[i].aside}
    return found if len(entries) - len(found) > 1 else set()


def passed_over(entries: Sequence[Entry], through: Sequence[int], plain: Plain, faces: Sequence[NamedFace]) -> dict[int, Lying]:
    """The sections that were passed over, by their numbers, on the skin through the others. faces: of the body without its holes."""
    leads = [j for j, follower in enumerate(plain.followers) if not follower]
    found = {}
    for number in sorted(set(range(len(entries))) - set(through)):
        entry = entries[number]
        before = [j for j in leads if j < len(through) and through[j] < number]
        behind = [j for j in leads if j >= len(through) or through[j] > number]
        if entry.placed is None or entry.share is None or not before or not behind:
            found[number] = NOWHERE
        else:
            found[number] = lying(plain, faces, entry.placed, entry.share, before[-1], behind[0])
    return found


def left(over: Mapping[int, Lying]) -> set[int]:
    """Numbers of those that lie in the skin no more."""
    return {number for number, found in over.items() if found.off > MET}


def with_rings(shell: Shell, entries: Sequence[Entry], over: Mapping[int, Lying]) -> Shell:
    """The body with rings where it passes sections over, so that they are seen and picked on it as the others are."""
    return replace(shell, rings=(*shell.rings, *(Ring(entries[number].section.id, found.ring) for number, found in over.items())))
