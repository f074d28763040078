"""Sections of a loft that are all open: what goes through them is a sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from wander.core.checks.sections import Entry
from wander.core.drawing.outlines.runs import there_and_back
from wander.core.shaping.section import PlacedSection
from wander.core.steps.loft.params import LoftSection


def made_open(entries: Sequence[Entry], items: Sequence[LoftSection]) -> list[Entry]:
    """The sections as the skin takes them, where every one that has an outline has an open one; any others as they are."""
    if not all(entry.run is not None or (entry.placed is not None and entry.placed.is_point) for entry in entries):
        return list(entries)
    return [
        entry
        if entry.run is None
        else replace(
            entry,
            placed=PlacedSection(entry.frame, there_and_back(entry.run).measured(), start=item.start, share=entry.follows),
            gap=None,
        )
        for entry, item in zip(entries, items, strict=True)
    ]
