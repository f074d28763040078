"""Loft: a body through sections."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from wander.core.bodies.body import Along
from wander.core.bodies.touching import OffBody, Touching
from wander.core.checks.ends import end_off_body, needs_fair_skin, nothing_to_go_on_from
from wander.core.checks.halves import half_twisted
from wander.core.checks.rails import rail_closed, rail_missed, rail_open, rail_turns_back, rails_go_smooth
from wander.core.checks.sections import Entry, check_sections, is_sheet, left_out, turned_over, uneven_holes, wrung
from wander.core.checks.ties import ties_crossed
from wander.core.document.edits import SetParam
from wander.core.document.findings import Finding, Fix, Severity, Where, sentence
from wander.core.drawing.outlines.loop import Loop
from wander.core.geometry.curve import Curve
from wander.core.geometry.errors import GeometryError
from wander.core.results.drawn import Drawn
from wander.core.results.rails import Rail
from wander.core.results.summaries import vector
from wander.core.shaping.centre_line import CentreLine
from wander.core.shaping.end_rows import OneBatten
from wander.core.shaping.ends import FREE, EndShape
from wander.core.shaping.halves import with_images
from wander.core.shaping.hollow import holes_along, hollowed
from wander.core.shaping.laws import Laws
from wander.core.shaping.loft import Between, Inside, Lofted, loft
from wander.core.shaping.loft_report import LoftReport
from wander.core.shaping.meeting import Missed, TurnsBack
from wander.core.shaping.panels import Crossed
from wander.core.shaping.section import PlacedSection
from wander.core.shaping.skin import Skin
from wander.core.steps.halves import made_whole
from wander.core.steps.inputs import Built, Inputs, StepRefused
from wander.core.steps.loft.aside import aside, left, passed_over, with_rings
from wander.core.steps.loft.centre import idle_beside, line_through, no_ring
from wander.core.steps.loft.params import LoftParams, LoftSection
from wander.core.steps.loft.sheets import made_open
from wander.core.steps.loft.skins import about_skin
from wander.core.steps.loft.told import loft_summary
from wander.core.steps.made import finished

LEAST_SCALE = 0.01


def build(params: LoftParams, inputs: Inputs) -> Built:
    params = _from_its_crease(params)
    entries = [_entry(item, inputs) for item in params.sections]
    if len(entries) < 2:
        raise StepRefused([_too_few(inputs, len(entries))])
    leaning: list[Finding] = []
    if params.mirrored is not None:
        entries, leaning = made_whole(entries, inputs.result(params.mirrored), inputs)
    else:
        entries = made_open(entries, params.sections)
    try:
        laws = params.laws()
    except GeometryError as error:
        raise StepRefused([_failed(inputs, error)]) from error
    lined = params.centre is not None or params.closed
    wrong = no_ring(params, entries, inputs) or check_sections(inputs.step, entries, lined=lined) or _vanishing(inputs, laws)
    if wrong:
        raise StepRefused(wrong)
    areas = [entry.areas[0] for entry in entries if entry.areas and not entry.whole]
    holes = [] if uneven_holes(entries) or not areas else holes_along(areas)
    rails = _rails(params, inputs)
    try:
        line = line_through(params, entries, inputs)
        lofted, inner, over = _lofted(params, entries, holes, laws, rails, line, inputs)
    except Crossed as crossing:
        raise StepRefused([ties_crossed(inputs.step, crossing, len(params.ties))]) from crossing
    except OneBatten as error:
        raise StepRefused([needs_fair_skin(inputs.step)]) from error
    except OffBody as off:
        raise StepRefused([end_off_body(inputs.step, off, [side for side in ("start", "end") if getattr(params, side).goes_on])]) from off
    except GeometryError as error:
        raise StepRefused([_failed(inputs, error)]) from error
    through = [entry for i, entry in enumerate(entries) if i not in over]
    try:
        mirror = None if params.mirrored is None else (params.mirrored.step, inputs.result(params.mirrored))
        along = Along(lofted.plain.axis, lofted.plain, mirror)
        body, findings = finished((lofted.shell,), along, params.result, inputs)
    except StepRefused as refused:
        # where the skin folds is where to look
        told = [*about_skin(params, through, lofted, inputs), *_quality(inputs, lofted.report)]
        raise StepRefused([*refused.findings, *told], refused.summary) from None
    if not lofted.shell.closed:
        findings.append(is_sheet(inputs.step, entries))
    findings += turned_over(inputs.step, through, lofted.report.turned) + wrung(inputs.step, through, lofted.report.needless)
    if rails and params.between == "straight":
        findings.append(rails_go_smooth(inputs.step))
    if params.mirrored is not None and params.twist is not None:
        findings.append(half_twisted(inputs.step))
    findings += (
        idle_beside(params, inputs)
        + leaning
        + left_out(inputs.step, entries)
        + about_skin(params, through, lofted, inputs)
        + _quality(inputs, lofted.report)
    )
    guides = [curve for _, curve in rails[: len(params.rails)]]
    return Built.measured(body, lambda: (loft_summary(entries, over, lofted, inner, laws, line, guides, body, inputs), findings), inputs)


def _from_its_crease(params: LoftParams) -> LoftParams:
    """Of a ring that bends anew somewhere, the sections from there on: a skin is smooth from one crease to the next."""
    first = next((i for i, item in enumerate(params.sections) if item.crease), 0) if params.closed and params.between == "smooth" else 0
    return params.model_copy(update={"sections": [*params.sections[first:], *params.sections[:first]]}) if first else params


def _rails(params: LoftParams, inputs: Inputs) -> list[tuple[int, Curve]]:
    """Curves, each with the number of its rail: of a half their mirror images come on top."""
    found = []
    for number, ref in enumerate(params.rails):
        rail: Rail = inputs.result(ref)
        if rail.closed != params.closed:
            raise StepRefused([(rail_closed if rail.closed else rail_open)(inputs.step, number, inputs.named(ref))])
        found.append(rail.curve)
    return list(enumerate(found)) if params.mirrored is None else with_images(found, inputs.result(params.mirrored))


def _lofted(
    params: LoftParams,
    entries: list[Entry],
    holes: list[list[Loop]],
    laws: Laws,
    rails: list[tuple[int, Curve]],
    line: CentreLine | None,
    inputs: Inputs,
) -> tuple[Lofted, list[Lofted], dict[int, float]]:
    """The body with its holes, the skins of the holes by themselves, and how far sections that it passes over are off it, mm, by their numbers."""
    over = aside(entries, ring=params.closed)
    while True:
        through = [i for i in range(len(entries)) if i not in over]
        own = params.model_copy(update={"sections": [params.sections[i] for i in through]})
        own_line = line if line is None or not over else line.through(through)
        try:
            lofted, inner = _led(own, [entries[i] for i in through], holes, laws, rails, own_line, inputs)
        except (Missed, TurnsBack) as wrong:
            raise StepRefused([_rail_amiss(params, wrong, rails, [entries[i] for i in through], inputs)]) from wrong
        outside = lofted.shell.faces[: len(lofted.shell.faces) - sum(len(hole.shell.faces) for hole in inner)]
        found = passed_over(entries, through, lofted.plain, outside)
        if not (away := left(found)):
            return replace(lofted, shell=with_rings(lofted.shell, entries, found)), inner, {number: one.off for number, one in found.items()}
        over -= away


def _rail_amiss(params: LoftParams, wrong: Missed | TurnsBack, rails: list[tuple[int, Curve]], entries: list[Entry], inputs: Inputs) -> Finding:
    number, curve = rails[wrong.rail]
    rail = inputs.named(params.rails[number])
    if isinstance(wrong, Missed):
        return rail_missed(inputs.step, number, rail, curve, entries[wrong.section], wrong)
    between = (entries[wrong.section], entries[(wrong.section + 1) % len(entries)])
    return rail_turns_back(inputs.step, number, rail, between, wrong)


def _led(
    params: LoftParams,
    entries: list[Entry],
    holes: list[list[Loop]],
    laws: Laws,
    rails: list[tuple[int, Curve]],
    line: CentreLine | None,
    inputs: Inputs,
) -> tuple[Lofted, list[Lofted]]:
    """The same of the sections that it goes through."""

    def through(which: list[Entry], sections: list[PlacedSection], line: CentreLine | None, inside: Inside | None = None) -> Lofted:
        own = [item for item, entry in zip(params.sections, entries, strict=True) if entry in which]
        return loft(
            sections,
            [entry.section.id for entry in which],
            name=inputs.step.id,
            between=Between(params.between),
            skin=Skin(params.skin),
            slack=[item.slack for item in own],
            creases=[number for number, item in enumerate(own) if item.crease],
            ties=[] if inside is not None else _ties(params, [entry.section.id for entry in which]),
            rails=[curve for _, curve in rails] if inside is None and params.between == "smooth" else (),
            whole=params.carries == "sections",
            line=line,
            ends=(FREE, FREE)
            if params.closed
            else _ends(params, which, inputs)
            if inside is None and line is None
            else (params.start.end(), params.end.end()),
            laws=laws,
            tolerances=inputs.tolerances,
            inside=inside,
        )

    outer = through(entries, [entry.placed for entry in entries if entry.placed is not None], line)
    if not holes:
        return outer, []
    # what was cut from the body has its outline alone: holes pass it by until one is drawn in it
    own = [(i, entry, entry.placed) for i, entry in enumerate(entries) if entry.placed is not None and not entry.whole]
    which = [i for i, _, _ in own]
    inside = Inside([placed for _, _, placed in own], outer.plain.places[which], outer.plain.lines, outer.plain.led)
    rings, inner_line = [entry for _, entry, _ in own], None if line is None else line.through(which)
    inner = [
        through(rings, [PlacedSection(entry.frame, loop) for entry, loop in zip(rings, track, strict=True)], inner_line, inside) for track in holes
    ]
    return hollowed(outer, inner), inner


def _ends(params: LoftParams, entries: list[Entry], inputs: Inputs) -> tuple[EndShape, EndShape]:
    """Raises BadInput where an end is to go on from a body that is only a mesh."""
    found = []
    for side, end, entry in (("start", params.start, entries[0]), ("end", params.end, entries[-1])):
        point = entry.placed is not None and entry.placed.is_point
        if not end.goes_on or params.between == "straight" or point:
            found.append(end.end())
            continue
        if end.onto is None:
            raise StepRefused([nothing_to_go_on_from(inputs.step, side)])
        found.append(end.end(Touching.of(inputs.result(end.onto), entry.frame)))
    return found[0], found[1]


def _ties(params: LoftParams, sections: Sequence[str]) -> list[dict[int, float]]:
    """By the number of the section; places on sections that the loft does not go through say nothing."""
    number = {section: i for i, section in enumerate(sections)}
    return [{number[place.section.step]: place.at for place in tie.places if place.section.step in number} for tie in params.ties]


def _entry(item: LoftSection, inputs: Inputs) -> Entry:
    drawn: Drawn = inputs.result(item.section)
    placed = drawn.placed
    # once it is drawn anew, a section that was cut leads like any other
    share = item.share if drawn.traced else None
    if placed is not None:
        start = item.start % 1.0 if item.start is not None else None
        placed = PlacedSection(placed.frame, placed.loop, placed.point, start, None if item.aside else share)
    hollow = bool(drawn.areas) and bool(drawn.areas[0].holes)
    return Entry(
        inputs.named(item.section),
        inputs.steps[drawn.station],
        drawn.frame,
        placed,
        drawn.gap,
        drawn.areas,
        drawn.run,
        whole=item.share is not None and not hollow,
        share=share,
        aside=item.aside and share is not None,
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


def _vanishing(inputs: Inputs, laws: Laws) -> list[Finding]:
    """A body can't be scaled to nothing, or beyond it."""
    found = []
    for name, law in (("width", laws.width), ("height", laws.height)):
        if law is None or (name == "height" and law is laws.width) or law(np.linspace(0.0, 1.0, 401)).min() >= LEAST_SCALE:
            continue
        away = SetParam(do="set-param", step=inputs.step.id, path=[name], value=None)
        found.append(
            Finding(
                code="scale-vanishes",
                severity=Severity.ERROR,
                step=inputs.step.id,
                title=f"{inputs.step.name} is scaled to nothing",
                detail=f"Its scale ({name}) comes below {LEAST_SCALE:g} somewhere along it. End the body in a point where it should close.",
                path=[name],
                fixes=[Fix(label="Take this scale away", edits=[away])],
            )
        )
    return found


def _failed(inputs: Inputs, error: GeometryError) -> Finding:
    return Finding(
        code="no-skin",
        severity=Severity.ERROR,
        step=inputs.step.id,
        title=f"{inputs.step.name} has no skin through these sections",
        detail=f"{sentence(error)}.",
    )


def _quality(inputs: Inputs, report: LoftReport) -> list[Finding]:
    found = []
    worst = float(report.deviation.max())
    if worst > inputs.tolerances.fit:
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
    if report.law_deviation > inputs.tolerances.promised:
        found.append(
            Finding(
                code="law-missed",
                severity=Severity.WARNING,
                step=inputs.step.id,
                title=f"Twist and scale are met within {report.law_deviation:.1g} mm",
                detail="They change faster than the skin can follow to its tolerance. Points further apart on their lanes would help.",
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
