"""Findings about the sections of a loft: missing outlines, shared planes, wrong order, opposed directions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from wander.core.checks.places import spot
from wander.core.document.document import Step
from wander.core.document.edits import AddStep, Draw, Edit, SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, listed
from wander.core.drawing.outlines.area import Area
from wander.core.drawing.outlines.runs import OpenRun
from wander.core.geometry.basis import Floats
from wander.core.geometry.frame import BASE_FRAMES, Frame
from wander.core.shaping.section import PlacedSection

WRUNG = 5.0
"""Degrees of needless turning that are worth a word."""


@dataclass(frozen=True)
class Entry:
    """One section of a loft: its step, its station's step and plane; placed is None while the outline is open between `gap`.

    areas: what it encloses, with its holes. run: of an open one, in the plane. whole: it was cut from the body, and has no hole: those of
    the others pass it by. share: its place in the skin of the loft while it is just as it was cut; aside: it is passed over while it lies there.
    """

    section: Step
    station: Step
    frame: Frame
    placed: PlacedSection | None
    gap: Floats | None
    areas: tuple[Area, ...] = ()
    run: OpenRun | None = None
    whole: bool = False
    share: float | None = None
    aside: bool = False

    @property
    def follows(self) -> float | None:
        """Its place between the sections round it, where the skin goes through it without its having a say."""
        return None if self.aside else self.share

    @property
    def center(self) -> Floats:
        return self.frame.origin if self.placed is None else self.placed.center


def check_sections(loft: Step, entries: Sequence[Entry], *, lined: bool = False) -> list[Finding]:
    """Everything that keeps these sections from carrying a body, first things first. lined: it is a centre line that says how they follow."""
    found = [*_open_outlines(loft, entries), *_points_between(loft, entries)]
    if found or lined:
        return found
    return _same_plane(loft, entries) or _out_of_order(loft, entries)


def wrung(loft: Step, entries: Sequence[Entry], needless: Floats) -> list[Finding]:
    """Sections whose own start turns the body more than their shapes ask for. needless: degrees in each bay, (k - 1,)."""
    found: dict[int, float] = {}
    for bay, degrees in enumerate(needless.tolist()):
        own = [i for i in ((bay + 1) % len(entries), bay) if (placed := entries[i].placed) is not None and placed.start is not None]
        if degrees > WRUNG and own:
            found[own[0]] = max(found.get(own[0], 0.0), degrees)
    return [
        Finding(
            code="wrung",
            severity=Severity.WARNING,
            step=loft.id,
            title=f"The start of {entries[i].section.name} wrings the body by {degrees:.0f}°",
            detail="Its outline is made to start where the others don't, so that the skin turns on its way there more than the shapes ask for.",
            path=["sections", _number(loft, entries[i]), "start"],
            where=Where(points=[spot(entries[i].center)], names=[entries[i].section.id]),
            fixes=[
                Fix(
                    label="Let it start where the body is wrung least",
                    edits=[SetParam(do="set-param", step=loft.id, path=["sections", _number(loft, entries[i]), "start"], value=None)],
                )
            ],
        )
        for i, degrees in found.items()
    ]


def _number(loft: Step, entry: Entry) -> int:
    """Which of the sections of the loft it is: a ring may begin elsewhere."""
    return next(i for i, item in enumerate(loft.params["sections"]) if item["section"]["step"] == entry.section.id)


def uneven_holes(entries: Sequence[Entry]) -> bool:
    """Whether some sections have more holes than others, so that no hole can go through the whole body."""
    return len({len(entry.areas[0].holes) if entry.areas else 0 for entry in entries if not entry.whole}) > 1


def left_out(loft: Step, entries: Sequence[Entry]) -> list[Finding]:
    """What the sections have and the body has not: holes that don't go through it, and areas beside the outline."""
    found = []
    if uneven_holes(entries):
        entries = [entry for entry in entries if not entry.whole]
        counts = [len(entry.areas[0].holes) if entry.areas else 0 for entry in entries]
        fewest = min(counts)
        lacking = [entry.section.name for entry, count in zip(entries, counts, strict=True) if count == fewest]
        found.append(
            Finding(
                code="holes-left-out",
                severity=Severity.WARNING,
                step=loft.id,
                title="It is not hollow",
                detail=f"A hole goes through a loft where every section has it. {listed(lacking)} {'has' if len(lacking) == 1 else 'have'} "
                f"{'none' if fewest == 0 else 'fewer than the others'}, so the holes of the others are left out.",
                path=["sections"],
                where=Where(
                    points=[spot(e.frame.lift(hole.centroid)) for e in entries if e.areas for hole in e.areas[0].holes],
                    names=[entry.section.id for entry, count in zip(entries, counts, strict=True) if count == fewest],
                ),
            )
        )
    for entry in entries:
        if len(entry.areas) > 1:
            found.append(
                Finding(
                    code="areas-left-out",
                    severity=Severity.WARNING,
                    step=loft.id,
                    title=f"Only the largest area of {entry.section.name} is used",
                    detail="A loft goes from outline to outline. The other areas stay in the drawing; a body of their own can be made of them.",
                    where=Where(points=[spot(entry.frame.lift(area.outer.centroid)) for area in entry.areas[1:]], names=[entry.section.id]),
                )
            )
    return found


def turned_over(loft: Step, entries: Sequence[Entry], turned: Sequence[bool]) -> list[Finding]:
    """The note of C2: sections that ran against the others and were turned."""
    ringed = [i for i, entry in enumerate(entries) if entry.placed is not None and not entry.placed.is_point]
    against = [i for i in ringed if turned[i]]
    if not against or len(against) == len(ringed):
        return []
    if len(against) * 2 > len(ringed):
        against = [i for i in ringed if not turned[i]]
    found = []
    for i in against:
        entry = entries[i]
        found.append(
            Finding(
                code="opposed-direction",
                severity=Severity.NOTE,
                step=loft.id,
                title=f"{entry.section.name} ran the other way round",
                detail="Its outline is drawn against the direction of the others. Wander follows it backwards, so the body is not wrung.",
                where=Where(points=[spot(entry.center)], names=[entry.section.id]),
            )
        )
    return found


def is_sheet(loft: Step, entries: Sequence[Entry]) -> Finding:
    """All sections are open. That may be what is wanted; if not, they are closed or made whole in one click."""
    open_ = [entry for entry in entries if entry.run is not None]
    closing = [fix for entry in open_ for fix in _closing(entry)]
    fixes = [Fix(label="Close the outlines", edits=[edit for fix in closing for edit in fix.edits])] if len(closing) == len(open_) else []
    return Finding(
        code="sheet",
        severity=Severity.NOTE,
        step=loft.id,
        title=f"{loft.name} is a sheet",
        detail="Its sections are open, so it has area and encloses nothing. Closed outlines, or halves that are mirrored, make a solid body.",
        path=["sections"],
        where=Where(names=[entry.section.id for entry in open_]),
        fixes=[*_mirroring(loft, open_), *fixes],
    )


def _open_outlines(loft: Step, entries: Sequence[Entry]) -> list[Finding]:
    found = []
    mirror = _mirroring(loft, entries)
    for entry in entries:
        if entry.gap is None:
            continue
        width = float(np.linalg.norm(entry.gap[1] - entry.gap[0]))
        found.append(
            Finding(
                code="open-outline",
                severity=Severity.ERROR,
                step=loft.id,
                title=f"{entry.section.name} is not closed",
                detail=f"A solid body needs closed outlines, or halves that are mirrored. Between the ends of this one is a gap of {width:.3g} mm.",
                where=Where(points=[spot(p) for p in entry.gap], names=[entry.section.id]),
                fixes=[*_closing(entry), *mirror],
            )
        )
    return found


def _mirroring(loft: Step, entries: Sequence[Entry]) -> list[Fix]:
    """Where all open sections begin and end in one plane of the world, they may be halves of a body that is mirrored in it."""
    ends = np.array([entry.frame.lift(entry.run.ends) for entry in entries if entry.run is not None]).reshape(-1, 3)
    if not all(entry.run is not None or (entry.placed is not None and entry.placed.is_point) for entry in entries):
        return []
    for name, frame in BASE_FRAMES.items():
        level = (ends - frame.origin) @ frame.z
        square = all(abs(float(entry.frame.z @ frame.z)) < 1e-9 for entry in entries)
        if not square or np.ptp(level) > 1e-3:
            continue
        plane = AddStep(
            do="add-step",
            kind="station",
            name=f"Mirror plane of {loft.name}",
            params={"plane": name, "offset": round(float(level.mean()), 6)},
            before=loft.id,
            alias="$mirror",
        )
        mirrored = SetParam(do="set-param", step=loft.id, path=["mirrored"], value={"step": "$mirror"})
        return [Fix(label="Make it whole with its mirror image", edits=[plane, mirrored])]
    return []


def _closing(entry: Entry) -> list[Fix]:
    """A spline goes on to where it began; between the ends of what is drawn goes a straight line."""
    section, run = entry.section, entry.run
    kind = section.params["shape"]["type"]
    if kind == "spline":
        closed = SetParam(do="set-param", step=section.id, path=["shape", "closed"], value=True)
        return [Fix(label="Close the outline", edits=[closed])]
    if kind != "drawing" or run is None:
        return []
    line = {"type": "line", "start": run.last, "end": run.stretches[0].corner}
    drawn = Draw.model_validate({"do": "draw", "step": section.id, "acts": [{"act": "add", "curves": [line]}]})
    return [Fix(label="Close it with a straight line", edits=[drawn])]


def _points_between(loft: Step, entries: Sequence[Entry]) -> list[Finding]:
    found = []
    for i, entry in enumerate(entries):
        if 0 < i < len(entries) - 1 and entry.placed is not None and entry.placed.is_point:
            found.append(
                Finding(
                    code="point-between",
                    severity=Severity.ERROR,
                    step=loft.id,
                    title=f"{entry.section.name} is a point in the middle of the body",
                    detail="A body can come to a point only at one of its ends.",
                    where=Where(points=[spot(entry.center)], names=[entry.section.id]),
                    fixes=[Fix(label="Leave it out", edits=[sections_edit(loft, [e for e in entries if e is not entry])])],
                )
            )
    return found


def _same_plane(loft: Step, entries: Sequence[Entry]) -> list[Finding]:
    for i in range(len(entries) - 1):
        before, after = entries[i], entries[i + 1]
        parallel = float(np.linalg.norm(np.cross(before.frame.z, after.frame.z))) < 1e-9
        # planes that lean against each other share a line; what counts there is whether the sections themselves have moved on
        beyond = after.frame.origin - before.frame.origin if parallel else after.center - before.center
        if abs(float(before.frame.z @ beyond)) > 1e-6:
            continue
        return [
            Finding(
                code="same-plane",
                severity=Severity.ERROR,
                step=loft.id,
                title=f"{before.section.name} and {after.section.name} " + ("lie on the same plane" if parallel else "stand at the same place"),
                detail="Two sections that follow each other need a distance between their stations.",
                where=Where(points=[spot(before.center), spot(after.center)], names=[before.section.id, after.section.id]),
                fixes=_part(loft, entries, i),
            )
        ]
    return []


def _part(loft: Step, entries: Sequence[Entry], i: int) -> list[Fix]:
    """Ways to get two sections off one plane: give the later one a place of its own, or leave it out."""
    before, after = entries[i], entries[i + 1]
    leave = Fix(label=f"Leave {after.section.name} out", edits=[sections_edit(loft, [e for e in entries if e is not after])])
    offset = _own_offset(after)
    if offset is None or len(entries) < 2:
        return [leave]
    if i + 2 < len(entries):
        gap = float(after.frame.z @ (entries[i + 2].frame.origin - after.frame.origin)) / 2
    else:
        gap = float(after.frame.z @ (after.frame.origin - entries[i - 1].frame.origin)) / 2 if i else 20.0
    target = round(offset + (gap or 20.0), 6)
    if after.station.id != before.station.id:
        edits: list[Edit] = [SetParam(do="set-param", step=after.station.id, path=["offset"], value=target)]
    else:
        params = {**after.station.params, "offset": target}
        edits = [
            AddStep(do="add-step", kind="station", name=f"{after.section.name} station", params=params, alias="$own", before=after.section.id),
            SetParam(do="set-param", step=after.section.id, path=["station"], value={"step": "$own"}),
        ]
    return [Fix(label=f"Move {after.section.name} to {target:g} mm", edits=edits), leave]


def _own_offset(entry: Entry) -> float | None:
    """Offset of the station from its base plane, mm, when the station is of that kind."""
    params = entry.station.params
    return float(entry.frame.z @ entry.frame.origin) if "offset" in params and params.get("place") is None else None


def _out_of_order(loft: Step, entries: Sequence[Entry]) -> list[Finding]:
    """C1: along the line from the first section to the last, every section lies beyond the one before."""
    centers = np.array([entry.center for entry in entries])
    axis = _main_direction(centers, entries)
    along = centers @ axis
    steps = np.diff(along)
    if np.all(steps > 1e-9):
        return []
    order = np.argsort(along, kind="stable")
    lost = _fewest_out_of_place(along)
    names = [entries[i].section.name for i in lost]
    spoken = names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]
    return [
        Finding(
            code="out-of-order",
            severity=Severity.ERROR,
            step=loft.id,
            title=f"{spoken} {'is' if len(names) == 1 else 'are'} out of order along the body",
            detail="The body would have to turn back on itself to meet the sections in this order.",
            where=Where(points=[spot(entries[i].center) for i in lost], names=[entries[i].section.id for i in lost]),
            fixes=[Fix(label="Put the sections in order", edits=[sections_edit(loft, [entries[i] for i in order])])],
        )
    ]


def _main_direction(centers: Floats, entries: Sequence[Entry]) -> Floats:
    """Direction along the stations in which most of the sections follow each other."""
    axis = entries[0].frame.z
    steps = np.diff(centers @ axis)
    forwards = int(np.count_nonzero(steps > 0))
    backwards = int(np.count_nonzero(steps < 0))
    return axis if forwards >= backwards else -axis


def _fewest_out_of_place(along: Floats) -> list[int]:
    """Indices outside a longest rising run: the fewest sections that would have to move."""
    best = [1] * len(along)
    back = [-1] * len(along)
    for i in range(len(along)):
        for j in range(i):
            if along[j] + 1e-9 < along[i] and best[j] + 1 > best[i]:
                best[i], back[i] = best[j] + 1, j
    keep = set()
    i = int(np.argmax(best))
    while i >= 0:
        keep.add(i)
        i = back[i]
    return [i for i in range(len(along)) if i not in keep]


def sections_edit(loft: Step, entries: Sequence[Entry]) -> Edit:
    """The edit that gives the loft these sections in this order, keeping what was set on each."""
    own = {item["section"]["step"]: item for item in loft.params["sections"]}
    return SetParam(do="set-param", step=loft.id, path=["sections"], value=[own[entry.section.id] for entry in entries])
