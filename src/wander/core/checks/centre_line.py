"""Findings about the centre line of a loft."""

from __future__ import annotations

from collections.abc import Sequence

from wander.core.checks.places import spot
from wander.core.checks.sections import Entry, sections_edit
from wander.core.document.document import Step
from wander.core.document.edits import Edit, SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, listed
from wander.core.shaping.centre_line import LineBeside, LineCorner, LineOrder


def centre_short(loft: Step, line: Step, entries: Sequence[Entry], beside: LineBeside) -> Finding:
    """The line ends before one of the sections that are to swing along it."""
    entry = entries[beside.section]
    left = [e for e in entries if e is not entry]
    without = [Fix(label=f"Leave {entry.section.name} out", edits=[sections_edit(loft, left)])] if len(left) > 1 else []
    return Finding(
        code="centre-short",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{line.name} does not come to {entry.section.name}",
        detail=f"A centre line passes the planes of all sections. It ends {beside.distance:.3g} mm before this one. "
        "Make it longer, or leave one of the two out.",
        path=["centre"],
        where=Where(points=[spot(beside.place), spot(entry.center)], names=[entry.section.id, line.id]),
        fixes=[_unlined(loft, line), *without],
    )


def centre_order(loft: Step, line: Step, entries: Sequence[Entry], order: LineOrder) -> Finding:
    """Sections follow each other in another order than the line passes them."""
    sorted_ = [entries[i] for i in order.order]
    moved = [entry for entry, other in zip(entries, sorted_, strict=True) if entry is not other] or list(entries)
    fixes = [Fix(label=f"Put the sections in the order of {line.name}", edits=[sections_edit(loft, sorted_)])] if sorted_ != list(entries) else []
    return Finding(
        code="centre-order",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{line.name} passes the sections in another order",
        detail=f"The body would have to turn back on itself at {listed([entry.section.name for entry in moved])}.",
        path=["centre"],
        where=Where(points=[spot(entry.center) for entry in moved], names=[entry.section.id for entry in moved]),
        fixes=[*fixes, _unlined(loft, line)],
    )


def centre_corner(loft: Step, line: Step, corner: LineCorner) -> Finding:
    """Nothing can swing round a corner."""
    return Finding(
        code="centre-corner",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{line.name} has a corner",
        detail="Sections swing along a centre line, and at a corner they would have to jump. Round it, or use a spline.",
        path=["centre"],
        where=Where(points=[spot(corner.place)], names=[line.id]),
        fixes=[_unlined(loft, line)],
    )


def centre_closed(loft: Step, line: Step) -> Finding:
    """A body with two ends has no use for a line without."""
    return Finding(
        code="centre-closed",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{line.name} runs back into itself",
        detail="The centre line of a body with two ends goes from one to the other. Open it, or leave it out.",
        path=["centre"],
        where=Where(names=[line.id]),
        fixes=[_unlined(loft, line)],
    )


def centre_open(loft: Step, line: Step, *, alone: bool) -> Finding:
    """A ring has no use for a line with two ends. alone: it goes round without a line of its own."""
    undone = Fix(label="Give the body two ends", edits=[SetParam(do="set-param", step=loft.id, path=["closed"], value=False)])
    return Finding(
        code="centre-open",
        severity=Severity.ERROR,
        step=loft.id,
        title=f"{line.name} has two ends, and {loft.name} is a ring",
        detail="The centre line of a ring runs back into itself. Close it, leave it out, or give the body two ends.",
        path=["centre"],
        where=Where(names=[line.id]),
        fixes=[_unlined(loft, line), undone] if alone else [undone],
    )


def centre_alone(loft: Step, line: Step, ends: Sequence[str]) -> Finding:
    """Ends that go on from a body have no say beside a centre line. ends: which of them are to."""
    free: list[Edit] = [SetParam(do="set-param", step=loft.id, path=[side, "shape"], value="free") for side in ends]
    return Finding(
        code="centre-alone",
        severity=Severity.WARNING,
        step=loft.id,
        title=f"Beside {line.name}, what an end goes on from has no say",
        detail="Along a centre line the skin leaves its ends as the sections swing there.",
        path=[ends[0], "shape"],
        fixes=[Fix(label="Leave the ends free", edits=free), _unlined(loft, line)],
    )


def _unlined(loft: Step, line: Step) -> Fix:
    return Fix(label=f"Leave {line.name} out", edits=[SetParam(do="set-param", step=loft.id, path=["centre"], value=None)])
