"""Loft: a body through sections."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field

from wander.core.checks.sections import Entry, check_sections, turned_over
from wander.core.document.fields import Model, SectionRef, Share
from wander.core.document.findings import Finding, Severity, Where
from wander.core.geometry.errors import GeometryError
from wander.core.shaping.loft import Between, LoftReport, loft
from wander.core.shaping.mass import MassProperties, mass_properties
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.shell import Shell
from wander.core.steps.registry import Built, Inputs, StepKind, StepRefused
from wander.core.steps.section import Drawn
from wander.core.steps.station import Vector, vector


class LoftSection(Model):
    """One section of the loft. start: the designer's own start on the outline, 0 to 1 from its first point."""

    section: SectionRef = Field(title="Section")
    start: Share | None = Field(default=None, title="Start")


class LoftParams(Model):
    """A closed body through sections in their order."""

    sections: list[LoftSection] = Field(title="Sections", max_length=400)
    between: Literal["smooth", "straight"] = Field(default="smooth", title="Between sections")


class RunStation(Model):
    """A section on the Run: its step and its station's, the place along the body in mm, twist against the one before in degrees."""

    section: str
    station: str
    at: float
    wring: float
    deviation: float


class BodySummary(Model):
    """volume mm3, area mm2, center and box in mm. axis: direction of the Run; stations stand along it."""

    result: Literal["body"] = "body"
    volume: float
    area: float
    center: Vector
    low: Vector
    high: Vector
    axis: Vector
    run: list[RunStation]
    exact: bool
    folds: int


@dataclass(frozen=True)
class Body:
    """A body before the kernel has seen it."""

    shell: Shell
    mass: MassProperties


def build(params: LoftParams, inputs: Inputs) -> Built:
    entries = [_entry(item, inputs) for item in params.sections]
    if len(entries) < 2:
        raise StepRefused([_too_few(inputs, len(entries))])
    wrong = check_sections(inputs.step, entries)
    if wrong:
        raise StepRefused(wrong)
    placed = [entry.placed for entry in entries if entry.placed is not None]
    try:
        lofted = loft(
            placed,
            [entry.section.id for entry in entries],
            name=inputs.step.id,
            between=Between(params.between),
            tolerances=inputs.tolerances,
        )
    except GeometryError as error:
        raise StepRefused([_failed(inputs, error)]) from error
    mass = mass_properties(lofted.shell)
    findings = turned_over(inputs.step, entries, lofted.report.turned) + _quality(inputs, lofted.report)
    return Built(Body(lofted.shell, mass), _summary(entries, placed, lofted.report, mass), findings)


def _entry(item: LoftSection, inputs: Inputs) -> Entry:
    drawn: Drawn = inputs.result(item.section)
    placed = drawn.placed
    if placed is not None and item.start is not None:
        placed = PlacedSection(placed.frame, placed.loop, placed.point, item.start % 1.0)
    return Entry(inputs.named(item.section), inputs.steps[drawn.station], drawn.frame, placed, drawn.gap)


def _summary(entries: list[Entry], placed: list[PlacedSection], report: LoftReport, mass: MassProperties) -> BodySummary:
    centers = np.array([section.center for section in placed])
    normal = placed[0].frame.z
    axis = normal if float((centers[-1] - centers[0]) @ normal) >= 0 else -normal
    wring = [0.0, *report.wring.tolist()]
    return BodySummary(
        volume=mass.volume,
        area=mass.area,
        center=vector(mass.center),
        low=vector(mass.low),
        high=vector(mass.high),
        axis=vector(axis),
        run=[
            RunStation(section=e.section.id, station=e.station.id, at=float(e.frame.origin @ axis), wring=w, deviation=float(d))
            for e, w, d in zip(entries, wring, report.deviation, strict=True)
        ],
        exact=report.exact,
        folds=len(report.folds),
    )


def _too_few(inputs: Inputs, count: int) -> Finding:
    return Finding(
        code="too-few-sections",
        severity=Severity.ERROR,
        step=inputs.step.id,
        title=f"{inputs.step.name} needs a second section" if count else f"{inputs.step.name} has no sections",
        detail="A loft goes through two sections or more. Draw another on a station of its own and add it here.",
        path=["sections"],
    )


def _failed(inputs: Inputs, error: GeometryError) -> Finding:
    return Finding(
        code="no-skin",
        severity=Severity.ERROR,
        step=inputs.step.id,
        title=f"{inputs.step.name} has no skin through these sections",
        detail=f"{str(error)[0].upper()}{str(error)[1:]}.",
    )


def _quality(inputs: Inputs, report: LoftReport) -> list[Finding]:
    found = []
    if not report.exact:
        worst = float(report.deviation.max())
        loose = worst > inputs.tolerances.promised
        found.append(
            Finding(
                code="refitted",
                severity=Severity.WARNING if loose else Severity.NOTE,
                step=inputs.step.id,
                title=f"Sections met within {max(worst, 1e-6):.1g} mm",
                detail="The sections have too little in common for one exact skin, so they were refitted. "
                + ("That is further off than it should be: fewer points in the splines would help." if loose else "That is inside the tolerance."),
            )
        )
    if len(report.folds):
        found.append(
            Finding(
                code="folded",
                severity=Severity.WARNING,
                step=inputs.step.id,
                title="The skin folds over itself",
                detail="Between the marked places the surface turns back. Stations further apart, or sections more alike, would open it.",
                where=Where(points=[vector(p) for p in report.folds]),
            )
        )
    return found


KIND = StepKind("loft", "Loft", "body", LoftParams, build)
