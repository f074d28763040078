"""Sections of a body that is one half and its mirror image."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from wander.core.checks.halves import half_askew, half_beyond, half_closed, half_leans, half_off_plane, point_off_plane
from wander.core.checks.sections import Entry
from wander.core.document.findings import Finding, Severity
from wander.core.drawing.outlines.area import area_of
from wander.core.geometry.errors import BadInput
from wander.core.geometry.frame import Frame
from wander.core.shaping.halves import ON, Askew, BothSides, MirrorLine, OffPlane, leans, mirror_line, whole
from wander.core.shaping.section import PlacedSection
from wander.core.steps.inputs import Inputs, StepRefused


def made_whole(entries: Sequence[Entry], plane: Frame, inputs: Inputs) -> tuple[list[Entry], list[Finding]]:
    """The sections with their mirror images, and what is to be said of how they leave the plane. Raises StepRefused where one is no half."""
    found, leaning, wrong = [], [], []
    for entry in entries:
        try:
            line = mirror_line(entry.frame, plane)
        except Askew:
            wrong.append(half_askew(inputs.step, entry))
            continue
        if entry.placed is not None:
            wrong += _no_half(entry, line, inputs)
            found.append(entry)
            continue
        made, told = _whole(entry, line, inputs)
        found.append(made)
        wrong += [finding for finding in told if finding.severity is Severity.ERROR]
        leaning += [finding for finding in told if finding.severity is not Severity.ERROR]
    if wrong:
        raise StepRefused(wrong)
    return found, leaning


def _no_half(entry: Entry, line: MirrorLine, inputs: Inputs) -> list[Finding]:
    """Of a section that has an outline already, or is a point."""
    placed = entry.placed
    if entry.section.params["shape"]["type"] == "traced":
        return []  # it was cut from the whole skin
    if placed is None or placed.loop is not None:
        return [half_closed(inputs.step, entry, line)]
    assert placed.point is not None
    off = abs(float(line.height(placed.point[None])[0]))
    return [point_off_plane(inputs.step, entry, off)] if off > ON else []


def _whole(entry: Entry, line: MirrorLine, inputs: Inputs) -> tuple[Entry, list[Finding]]:
    run = entry.run
    assert run is not None
    try:
        loop = whole(run, line)
    except OffPlane as off:
        return entry, [half_off_plane(inputs.step, entry, run, line, off)]
    except BothSides as both:
        return entry, [half_beyond(inputs.step, entry, both)]
    except BadInput:
        return entry, [half_closed(inputs.step, entry, line)]
    # without a corner of its own it begins on the plane, so that both halves are cut alike
    placed = PlacedSection(entry.frame, loop.measured(), start=None if loop.corners else 0.0)
    told = half_leans(inputs.step, entry, run, line, leans(run, line))
    return replace(entry, placed=placed, gap=None, areas=(area_of(loop),)), [told] if told is not None else []
